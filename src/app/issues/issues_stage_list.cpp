#include "issues/issues_stage.h"

#include "core/base/text.h"
#include "issues/agreed_page.h"
#include "issues/board_page.h"
#include "issues/calendar_page.h"
#include "issues/issue_rows.h"
#include "issues/issue_signs.h"
#include "issues/issues_bar.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QPushButton>

/// Issues: the list, what it is narrowed to, and what the models propose for it.
namespace wendrix::app {

namespace {

constexpr std::pair<const char*, project::IssueFilter> kFilters[] = {
    {"open", project::IssueFilter::Open},         {"mine", project::IssueFilter::Mine},
    {"overdue", project::IssueFilter::Overdue},   {"waiting", project::IssueFilter::Waiting},
    {"ready", project::IssueFilter::CanBeClosed}, {"back", project::IssueFilter::GoesBack},
    {"closed", project::IssueFilter::Closed},     {"all", project::IssueFilter::All}};

project::IssueFilter filterOf(const QString& id)
{
    for (const auto& [name, filter] : kFilters)
        if (id == name)
            return filter;
    return project::IssueFilter::Open;
}

const char* idOf(project::IssueFilter filter)
{
    for (const auto& [name, one] : kFilters)
        if (one == filter)
            return name;
    return "open";
}

} // namespace

void IssuesStage::makeList()
{
    list_->setBar(bar_);
    list_->view().setSelectionMode(QAbstractItemView::ExtendedSelection);
    settle_->setObjectName("settleIssues");
    settle_->setToolTip("Closes what is settled and sends back what was said to be done and is still there, each with "
                        "its evidence as a comment; one step to undo");
    connect(
        settle_, &QPushButton::clicked, this,
        [this] {
            QStringList all;
            for (std::size_t row = 0; row < issues_->rowCount(); ++row)
                if (const project::IssueRow r = issues_->row(row); r.canBeClosed || r.goesBack)
                    all << q(r.issue.uuid);
            settle(all);
        },
        Qt::QueuedConnection);
    auto* footer = new QWidget;
    auto* footerRow = new QHBoxLayout(footer);
    footerRow->setContentsMargins(14, 8, 14, 8);
    footerRow->addWidget(settle_);
    footerRow->addStretch();
    list_->setFooter(footer);
    footer->hide();
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) {
        filter_ = id;
        refresh();
    });
    connect(bar_, &IssuesBar::left, this, [this] { list_->view().setFocus(); });
    connect(bar_, &IssuesBar::changed, this, [this] { refresh(); });
    connect(bar_, &IssuesBar::filterChosen, this, [this](const QString& body) {
        const project::IssueQuestion kept = project::issueQuestionFrom(body.toStdString());
        filter_ = idOf(kept.filter);
        bar_->setQuestion(kept);
        refresh();
    });
    connect(bar_, &IssuesBar::keepWanted, this, [this](const QString& name) {
        project::IssueQuestion kept = question();
        kept.storey.clear(); // that is the ladder's
        at_.session.write([record = project::IssueFilterRecord{name.toStdString(), project::toJson(kept)},
                           who = at_.session.now()](project::Project& p) {
            return Session::saying(p.issues().keepFilter(record, who), "Filter kept: " + record.name);
        });
    });
    connect(bar_, &IssuesBar::removeWanted, this, [this](const QString& name) {
        at_.session.write([record = project::IssueFilterRecord{name.toStdString(), ""},
                           who = at_.session.now()](project::Project& p) {
            return Session::saying(p.issues().keepFilter(record, who), "Filter removed: " + record.name);
        });
    });
}

Stage::Counting IssuesStage::waiting() const
{
    return [](const project::Project& p) { return static_cast<int>(orNothing(p.issues().open())); };
}

QMap<QString, int> IssuesStage::storeyCounts() const
{
    QMap<QString, int> counts;
    for (const auto& [storey, n] : issues_->byStorey())
        counts[q(storey)] = static_cast<int>(n);
    return counts;
}

project::IssueQuestion IssuesStage::question() const
{
    project::IssueQuestion question = bar_->question();
    question.filter = filterOf(filter_);
    question.storey = storey_.toStdString();
    return question;
}

void IssuesStage::refresh()
{
    if (isAgreedInFront())
        agreed_->refresh();
    struct Read {
        std::shared_ptr<const project::IssueList> list;
        std::vector<project::IssueFilterRecord> filters;
    };
    using Answer = Result<Read>;
    const WhoAndWhen now = at_.session.now();
    at_.session.ask<Answer>(
        this, "list",
        [question = question(), now](const project::Project& p) -> Answer {
            auto known = project::issueKnowledge(p, question.words, now.person, now.time);
            auto filters = p.issues().filters();
            if (const auto error = firstError(known, filters))
                return wendrix::fail(*error);
            return Read{std::make_shared<project::IssueList>(std::move(*known), question), std::move(*filters)};
        },
        [this](Answer answer) {
            problem_ = answer ? QString() : q(answer.error().inWords());
            Read read = answer ? std::move(*answer) : Read{std::make_shared<project::IssueList>(), {}};
            auto former = std::exchange(issues_, std::move(read.list));
            bar_->setFilters(std::move(read.filters));
            fillList();
            Session::letGo(std::move(former));
            emit countsChanged();
            if (isFront() && at_.details.owner().isEmpty())
                show(false);
        });
}

void IssuesStage::fillList()
{
    const auto of = [this](project::IssueFilter filter) { return issues_->count(filter); };
    const auto number = [](std::size_t n) { return QString::number(n); };
    using project::IssueFilter;
    const std::size_t ready = of(IssueFilter::CanBeClosed), late = of(IssueFilter::Overdue);
    list_->setFigures({{number(of(IssueFilter::Open)), "open"},
                       {number(late), "overdue", late > 0},
                       {number(ready), "can be closed", ready > 0},
                       {number(of(IssueFilter::Closed)), "closed"}});
    QVector<Worklist::Chip> chips;
    // What the models propose is offered while they do.
    const auto isOffered = [&](const QString& id) {
        return (id != "back" && id != "ready") || id == filter_ || of(filterOf(id)) > 0;
    };
    for (const auto& [id, words] :
         {std::pair{"open", "Open"}, std::pair{"mine", "Mine"}, std::pair{"overdue", "Overdue"},
          std::pair{"waiting", "Done"}, std::pair{"ready", "Can be closed"}, std::pair{"back", "Still there"},
          std::pair{"closed", "Closed"}, std::pair{"all", "All"}})
        if (isOffered(id))
            chips.append({id, QString(words) + " " + number(of(filterOf(id))), filter_ == id});
    list_->setChips(chips);
    const bool isNarrowed = !bar_->question().words.empty() || !bar_->question().line.empty() || !storey_.isEmpty();
    list_->setCaption(
        isNarrowed
            ? QString("%1 of %2 answer to what is narrowed to").arg(issues_->issueCount()).arg(of(filterOf(filter_)))
            : QString());
    list_->setEmptyText(
        !problem_.isEmpty() ? "The issues could not be read. " + problem_
        : issues_->total() == 0
            ? "No issues yet. Choose a clash and press Fix (F), select something and press I, or import a BCF file."
            : "No issue answers to this filter. Choose another one above.");
    list_->setSource(std::make_shared<IssueRows>(issues_, at_.session));
    offerProposals();
    board_->view().setList(issues_);
    calendar_->view().setList(issues_, QDate::fromString(q(at_.session.now().time.substr(0, 10)), Qt::ISODate));
    signs_->setList(issues_);
    board_->setCaption(QString("%1 issues. Drag a card to another column, or choose it with the arrow keys and press "
                               "Shift with Left or Right. Enter opens it.")
                           .arg(issues_->issueCount()));
    if (!wanted_.isEmpty())
        list_->choose(std::exchange(wanted_, {}));
}

void IssuesStage::offerProposals()
{
    std::size_t toClose = 0, toSendBack = 0;
    for (std::size_t row = 0; row < issues_->rowCount(); ++row)
        if (const project::IssueRow r = issues_->row(row); !r.isHeader) {
            toClose += r.canBeClosed ? 1 : 0;
            toSendBack += r.goesBack ? 1 : 0;
        }
    QStringList steps;
    if (toClose > 0)
        steps << QString("close %1 on evidence").arg(toClose);
    if (toSendBack > 0)
        steps << QString("send back %1").arg(toSendBack);
    QString words = steps.join(", ");
    if (!words.isEmpty())
        words[0] = words[0].toUpper();
    settle_->setText(words);
    settle_->parentWidget()->setVisible(!words.isEmpty());
}

} // namespace wendrix::app
