#include "issues/issues_stage.h"

#include "core/base/text.h"
#include "core/project/issue_making.h"
#include "issues/agreed_page.h"
#include "issues/board_page.h"
#include "issues/calendar_page.h"
#include "issues/issue_rows.h"
#include "issues/issue_signs.h"
#include "issues/issues_bar.h"
#include "issues/merge_page.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QStackedWidget>

#include <algorithm>

/// Issues: the list, the board, and going from one to the other.
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

IssuesStage::IssuesStage(const StageContext& context, QObject* parent)
    : ListStage("Issues", context, parent), pages_(new QStackedWidget), bar_(new IssuesBar),
      merge_(new MergePage(context, this)), board_(new BoardPage), calendar_(new CalendarPage),
      agreed_(new AgreedPage(context, this)), signs_(new IssueSigns(context, this)), settle_(new QPushButton)
{
    pages_->addWidget(list_);
    pages_->addWidget(board_);
    pages_->addWidget(calendar_);
    pages_->addWidget(merge_->list());
    pages_->addWidget(agreed_->list());
    list_->setBar(bar_);
    list_->view().setSelectionMode(QAbstractItemView::ExtendedSelection);
    const auto button = [this](auto& on, const char* name, const QString& words, const QString& tip, auto press) {
        auto* made = new QPushButton(words);
        made->setObjectName(name);
        made->setToolTip(tip);
        connect(made, &QPushButton::clicked, this, press, Qt::QueuedConnection);
        on.addButton(made);
    };
    button(*list_, "showBoard", "Board", "Cards in a column for each status (V)", [this] { turnTo(board_); });
    button(*list_, "showCalendar", "Due", "What is due on which day (D)", [this] { turnTo(calendar_); });
    button(*list_, "importBcf", "Import", "Compare and take over a BCF file that came back", [this] { askImport(); });
    button(*list_, "exportBcf", "Export", "Write the issues that are shown as BCF", [this] { askExport(); });
    button(*board_, "boardCalendar", "Due", "What is due on which day (D)", [this] { turnTo(calendar_); });
    button(*board_, "showIssueList", "List", "The list, with the model (V)", [this] { turnTo(list_); });
    button(*calendar_, "calendarBoard", "Board", "Cards in a column for each status (V)", [this] { turnTo(board_); });
    button(*calendar_, "calendarList", "List", "The list, with the model (D)", [this] { turnTo(list_); });
    settle_->setObjectName("settleIssues");
    settle_->setToolTip("Closes what is settled and sends back what was said to be done and is still there, each with "
                        "its evidence as a comment; one step to undo");
    connect(
        settle_, &QPushButton::clicked, this,
        [this] {
            QStringList all;
            for (std::size_t row = 0; row < issues_->rowCount(); ++row)
                if (!issues_->idOf(row).empty())
                    all << q(issues_->idOf(row));
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
    connect(&calendar_->view(), &CalendarView::dayOpened, this, [this](const QDate& day) {
        filter_ = "all";
        project::IssueQuestion question = bar_->question();
        question.line = "due is " + day.toString(Qt::ISODate).toStdString();
        bar_->setQuestion(question);
        turnTo(list_);
        refresh();
    });
    connect(signs_, &IssueSigns::chosen, this, [this](const QString& uuid) { choose(uuid); });
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
    connect(bar_, &IssuesBar::agreedWanted, this, [this] { turnTo(agreed_->list()); });
    connect(agreed_, &AgreedPage::left, this, [this] { turnTo(list_); });
    BoardView& board = board_->view();
    board.setMoves([this](const QString& uuid) {
        const auto issue = orNothing(at_.session.project().issues().find(uuid.toStdString(), false));
        return issue ? issues::movesFor(issues_->workflow(), *issue, issues_->standing()) : std::vector<std::string>{};
    });
    connect(&board, &BoardView::cardChosen, this, [this](const QString& uuid) {
        list_->choose(uuid);
        show(true);
    });
    connect(&board, &BoardView::cardOpened, this, [this](const QString& uuid) {
        turnTo(list_);
        choose(uuid);
    });
    connect(&board, &BoardView::moveWanted, this,
            [this](const QString& uuid, const QString& status) { setStatus({uuid}, status.toStdString(), {}); });
    connect(merge_, &MergePage::ended, this, [this] { turnTo(list_); });
    connect(merge_, &MergePage::topicShown, this, [this](const project::IncomingTopic& topic) {
        Item item;
        item.issue = topic.theirs;
        item.origins = topic.origins;
        for (const issues::Viewpoint& v : topic.theirs.viewpoints)
            if (auto in = project::inProject(at_.session.project(), v))
                item.viewpoints.push_back(std::move(*in));
        viewpoint_ = 0;
        showViewpoint(item, true);
    });
}

QWidget* IssuesStage::list() { return pages_; }

bool IssuesStage::isRegister() const
{
    return pages_->currentWidget() == board_ || pages_->currentWidget() == calendar_;
}

unsigned IssuesStage::books() const
{
    return app::books(project::Book::Issues, project::Book::Clashes, project::Book::Changes, project::Book::Setup);
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

void IssuesStage::setStorey(const QString& storey)
{
    if (storey_ == storey)
        return;
    Stage::setStorey(storey);
    becomeStale();
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
    const WhoAndWhen now = at_.session.now();
    at_.session.ask<Read>(
        this,
        [question = question(), now](const project::Project& p) -> Read {
            auto known = project::issueKnowledge(p, question.words, now.person, now.time);
            return {std::make_shared<project::IssueList>(orNothing(std::move(known)), question),
                    orNothing(p.issues().filters())};
        },
        [this](Read read) {
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
        issues_->total() == 0
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

void IssuesStage::choose(const QString& id)
{
    if (merge_->isOpen())
        return; // what came back is looked at first
    if (isAgreedInFront())
        turnTo(list_);
    if (issues_->rowOf(id.toStdString()) >= 0) {
        list_->choose(id);
        board_->view().choose(id);
        return;
    }
    wanted_ = id;
    filter_ = "all"; // wherever it stands
    bar_->clear();
    refresh();
}

IssueForm::Choices IssuesStage::choices() const
{
    IssueForm::Choices choices;
    choices.workflow = issues_->workflow();
    choices.people = project::assigneesOf(at_.session.project());
    if (const federation::Member* reference = at_.session.reference())
        for (const ifc::Storey& storey : reference->model->storeys())
            choices.storeys.push_back(storey.name);
    const auto nameOf = [](const project::IssueKey& k) {
        return q(project::IssuesBook::numberInWords(k.prefix, k.number));
    };
    choices.nameOf = [list = issues_, nameOf](const std::string& uuid) {
        const auto at = std::find_if(list->issues().begin(), list->issues().end(),
                                     [&](const project::IssueKey& k) { return k.uuid == uuid; });
        return at == list->issues().end() ? QString() : nameOf(*at);
    };
    choices.findIssues = [list = issues_, nameOf](const QString& begun) {
        constexpr int kMost = 8;
        QStringList found;
        for (const project::IssueKey& k : list->issues())
            if (const QString words = nameOf(k) + " " + q(k.title); words.contains(begun, Qt::CaseInsensitive))
                if (found << words; found.size() == kMost)
                    break;
        return found;
    };
    return choices;
}

std::optional<IssuesStage::Item> IssuesStage::chosen() const
{
    const std::string uuid = list_->chosen().toStdString();
    const project::Project& p = at_.session.project();
    auto kept = uuid.empty() || uuid.starts_with("group:") ? std::nullopt : orNothing(p.issues().kept(uuid));
    if (!kept)
        return {};
    Item item{std::move(kept->issue),
              orNothing(project::evidenceOf(p, uuid)),
              orNothing(p.clashes().ofIssue(uuid)),
              orNothing(p.issues().history(uuid)),
              {},
              kept->madeFrom,
              kept->origins,
              kept->pictures};
    for (const issues::Viewpoint& v : item.issue.viewpoints)
        item.viewpoints.push_back(orNothing(project::inProject(p, v)));
    return item;
}

void IssuesStage::turnTo(QWidget* page)
{
    pages_->setCurrentWidget(page);
    agreed_->setFront(page == agreed_->list());
    emit layoutChanged();
    enter();
    if (page == board_) {
        board_->view().choose(list_->chosen());
        board_->view().setFocus();
    }
    if (page == calendar_) {
        calendar_->view().setDay(calendar_->view().day());
        calendar_->view().setFocus();
    }
}

void IssuesStage::enter()
{
    if (merge_->isOpen())
        merge_->showChosen();
    else if (isAgreedInFront())
        agreed_->show();
    else
        show(false);
}

void IssuesStage::step(int by)
{
    if (merge_->isOpen())
        merge_->list()->step(by);
    else if (isAgreedInFront())
        agreed_->list()->step(by);
    else if (pages_->currentWidget() == calendar_)
        calendar_->view().setDay(calendar_->view().day().addDays(by));
    else if (isRegister())
        board_->view().step(by);
    else
        list_->step(by);
}

void IssuesStage::focusFilter() { bar_->focusSearch(); }

bool IssuesStage::isAgreedInFront() const { return pages_->currentWidget() == agreed_->list(); }

void IssuesStage::show(bool movesView)
{
    if (merge_->isOpen() || isAgreedInFront())
        return;
    const QStringList all = list_->chosenAll();
    if (form_ != nullptr && form_->property("of").toStringList() != all)
        form_->keepBegun(); // another one is shown now
    if (all.size() > 1) {
        showSeveral(all);
        return;
    }
    const auto item = chosen();
    comment_ = nullptr;
    if (!item) {
        shown_.clear();
        form_ = nullptr;
        showSigns();
        at_.details.clear();
        at_.details.addText("Choose an issue on the left; the view goes back to where it was seen.");
        at_.details.finish();
        return;
    }
    if (shown_ != q(item->issue.uuid)) {
        viewpoint_ = 0;
        isHistoryShown_ = false;
        isEditing_ = std::exchange(isEditWanted_, false);
        editedComment_.clear();
    }
    if (board_->view().chosen() != q(item->issue.uuid))
        board_->view().choose(q(item->issue.uuid));
    showViewpoint(*item, movesView);
    const bool isBegun = isEditing_ && form_ == nullptr;
    showDetails(*item);
    if (isBegun && form_ != nullptr)
        if (auto* title = form_->findChild<QPlainTextEdit*>("field:title")) {
            title->setFocus();
            title->selectAll();
        }
}

bool IssuesStage::press(Qt::Key key)
{
    if (merge_->isOpen())
        return merge_->press(key);
    if (isAgreedInFront())
        return agreed_->press(key);
    if (key == Qt::Key_A) {
        turnTo(agreed_->list());
        return true;
    }
    if (key == Qt::Key_V) {
        turnTo(pages_->currentWidget() == board_ ? static_cast<QWidget*>(list_) : board_);
        return true;
    }
    if (key == Qt::Key_D) {
        turnTo(pages_->currentWidget() == calendar_ ? static_cast<QWidget*>(list_) : calendar_);
        return true;
    }
    const QStringList uuids = list_->chosenAll();
    const auto item = uuids.size() == 1 ? chosen() : std::nullopt;
    switch (key) {
    case Qt::Key_X:
        if (uuids.size() > 1) {
            settle(uuids);
            return true;
        }
        if (!item || issues_->workflow().isClosed(item->issue.status))
            return false;
        setStatus(uuids, issues_->workflow().first(issues::StatusShape::Ticked),
                  "Closed. " + q(item->evidence.inWords()));
        return true;
    case Qt::Key_E:
        if (uuids.isEmpty())
            return false;
        isEditing_ = !isEditing_;
        form_ = nullptr;
        show(false);
        return true;
    case Qt::Key_N:
        if (!item || item->viewpoints.size() < 2)
            return false;
        stepViewpoint(1);
        return true;
    default:
        return false;
    }
}

QVector<QPair<QString, QString>> IssuesStage::keys() const
{
    return {
        {"X",
         "close the issue, with the evidence as its comment; of several, close and send back as the models propose"},
        {"E", "change its fields, or those of all that are chosen"},
        {"N", "its next viewpoint"},
        {"V", "the board, and back to the list"},
        {"D", "what is due on which day, and back to the list"},
        {"A", "what is agreed: statuses, fields, templates; and back to the list"},
        {"Shift Left, Shift Right", "on the board: to the status before or after"}};
}

} // namespace wendrix::app
