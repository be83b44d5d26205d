#include "changes/changes_stage.h"

#include "changes/change_look.h"
#include "core/base/text.h"
#include "core/project/change_report.h"
#include "core/project/change_words.h"
#include "shell/list_rows.h"
#include "shell/theme.h"

#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <map>

namespace wendrix::app {

namespace {

/// The rows of a list of changes.
class ChangeRows final : public ListRows<project::ChangeList> {
public:
    using ListRows::ListRows;
    [[nodiscard]] QVector<Row> page(int first, int number) const override
    {
        std::map<project::DeliveryId, QString> names;
        QVector<Row> rows;
        if (!session_.hasProject())
            return rows;
        for (const project::ChangeRow& line : orNothing(list_->page(
                 session_.project().changes(), static_cast<std::size_t>(first), static_cast<std::size_t>(number)))) {
            const project::ChangeRecord& c = line.first;
            if (!names.contains(c.to)) {
                const auto to = orNothing(session_.project().deliveries().find(c.to));
                names[c.to] = to ? q(to->name()) : QString();
            }
            const ChangeLook& kind = changeLook(c.mainKind());
            Row row;
            row.id = q(line.id);
            row.mark = Mark::Sign;
            row.markText = kind.sign;
            row.markColour = kind.colour;
            row.title = QString(!line.isGroup ? "" : line.isOpen ? "▾ " : "▸ ") + q(titleOf(line));
            // What is too long to stand beside the name stands below it.
            constexpr qsizetype kLongest = 22;
            const QString measure = q(measureInWords(c));
            row.right = measure.size() <= kLongest ? measure : QString();
            const QString more = measure.size() <= kLongest ? QString() : measure + " · ";
            if (line.isGroup)
                row.subtitle = more + names[c.to] +
                               (line.reviewed == line.count ? " · all looked at"
                                : line.reviewed > 0         ? QString(" · %1 looked at").arg(line.reviewed)
                                                            : QString());
            else
                row.subtitle = QString(line.isInGroup ? "↳ " : "") + more + q(project::kindsInWords(c.kinds)) + " · " +
                               q(c.storey, "no storey") + " · " + names[c.to] +
                               (c.review.empty() ? QString() : " · " + q(c.review));
            row.isStruck = !line.isGroup && (c.kinds & project::Removed) != 0;
            rows.append(row);
        }
        return rows;
    }
};

} // namespace

ChangesStage::ChangesStage(const StageContext& context, QObject* parent)
    : ListStage("Changes", context, parent), bar_(new ChangeBar), between_(new BetweenBar),
      explaining_(context.session), around_(context.session)
{
    list_->setBar(bar_);
    auto* foot = new QWidget;
    foot->setLayout(new QVBoxLayout);
    foot->layout()->setContentsMargins(14, 6, 14, 8);
    foot->layout()->addWidget(between_);
    list_->setFooter(foot);
    auto* compare = new QPushButton("Compare…");
    compare->setObjectName("compareChanges");
    compare->setToolTip("What is compared with what, and what counts as a change (V)");
    connect(compare, &QPushButton::clicked, this, &ChangesStage::openCompareMenu, Qt::QueuedConnection);
    list_->addButton(compare);
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) {
        filter_ = id.toUInt();
        refresh();
    });
    connect(list_, &Worklist::rowOpened, this, &ChangesStage::toggleGroup);
    connect(bar_, &ChangeBar::changed, this, [this] { refresh(); });
    connect(bar_, &ChangeBar::nearWanted, this, &ChangesStage::narrowToNear);
    connect(bar_, &ChangeBar::setWanted, this, &ChangesStage::showSetForm, Qt::QueuedConnection);
    connect(bar_, &ChangeBar::exportWanted, this, &ChangesStage::exportList, Qt::QueuedConnection);
    connect(&at_.scene, &SceneView::displayChanged, this, [this] {
        if (isFront() && !volumes_.empty() && volumesCutBy_ != at_.scene.document().cutPlanes())
            cutVolumes();
    });
    connect(between_, &BetweenBar::moved, this, &ChangesStage::showBetween);
    connect(between_, &BetweenBar::twoViewsWanted, this, [this](bool isOn) {
        if (isOn && side_ == nullptr)
            side_ = std::make_unique<SideBySide>(at_.scene, at_.scene.parentWidget());
        if (side_ != nullptr)
            side_->view().setProperty("isWanted", isOn);
        if (side_ != nullptr && !isOn)
            side_->end();
        emit layoutChanged();
        if (isFront())
            show(true);
    });
}

unsigned ChangesStage::books() const { return app::books(project::Book::Changes, project::Book::Deliveries); }

Stage::Counting ChangesStage::waiting() const
{
    return [](const project::Project& p) { return static_cast<int>(orNothing(p.changes().toReview())); };
}

QMap<QString, int> ChangesStage::storeyCounts() const
{
    QMap<QString, int> counts;
    for (const auto& [storey, n] : changes().byStorey())
        counts[q(storey)] = static_cast<int>(n);
    return counts;
}

void ChangesStage::setStorey(const QString& storey)
{
    if (storey_ == storey)
        return;
    Stage::setStorey(storey);
    refresh();
}

QWidget* ChangesStage::beside() { return side_ != nullptr ? &side_->view() : nullptr; }

void ChangesStage::leave()
{
    explaining_.forget();
    around_.forget();
    volumes_.clear();
    if (side_ != nullptr)
        side_->end();
}

void ChangesStage::showComparisons(std::vector<std::int64_t> comparisons)
{
    basis_ = std::move(comparisons);
    filter_ = 0;
    opened_.clear();
    bar_->clear();
    refresh();
    if (isFront())
        at_.session.loadPrevious(basis_);
}

project::ChangeQuestion ChangesStage::question() const
{
    project::ChangeQuestion question = bar_->question();
    question.kinds = filter_;
    question.storey = storey_.toStdString();
    question.opened = opened_;
    return question;
}

Result<ChangesStage::Read> ChangesStage::readAll(const project::Project& p, const std::vector<std::int64_t>& basis,
                                                 const project::ChangeQuestion& question)
{
    auto briefs = p.changes().briefs(basis);
    const auto disciplines = p.setup().disciplines();
    const auto rules = p.changes().rules();
    if (const auto error = firstError(briefs, disciplines, rules))
        return wendrix::fail(*error);
    Read read;
    auto list = std::make_shared<project::ChangeList>(std::move(*briefs), question);
    auto compared = project::comparedInWords(p, *list, false);
    if (!compared)
        return wendrix::fail(compared.error());
    read.compared = std::move(*compared);
    read.list = std::move(list);
    for (const project::Discipline& d : *disciplines)
        read.disciplines.push_back(d.name);
    read.rule = rules->front().name;
    return read;
}

void ChangesStage::refresh()
{
    if (!at_.session.hasProject()) {
        basis_.clear();
        read_ = std::make_shared<const Read>(Read{std::make_shared<project::ChangeList>(), {}, {}, {}, {}});
        fillList();
        return;
    }
    at_.session.ask<std::shared_ptr<const Read>>(
        this, "list",
        [basis = basis_, question = question()](const project::Project& p) {
            auto read = readAll(p, basis, question);
            return std::make_shared<const Read>(
                read ? std::move(*read)
                     : Read{std::make_shared<project::ChangeList>(), {}, {}, {}, q(read.error().inWords())});
        },
        [this](std::shared_ptr<const Read> read) {
            Session::letGo(std::exchange(read_, std::move(read)));
            if (read_->problem.isEmpty() && !basis_.empty() &&
                changes().comparisons().empty()) { // taken back, or dropped
                basis_.clear();
                refresh();
                return;
            }
            bar_->setValues(changes().briefs(), read_->disciplines);
            fillList();
            emit countsChanged();
            if (isFront()) {
                at_.session.loadPrevious(basis_);
                show(false);
            }
        });
}

void ChangesStage::fillList()
{
    const project::ChangeList& list = changes();
    QVector<Worklist::Chip> chips{{"0", "All " + QString::number(list.countOfAll()), filter_ == 0}};
    for (const auto kind : project::kAllChangeKinds)
        if (const std::size_t n = list.countOf(kind); n > 0)
            chips.append({QString::number(kind),
                          QString("%1 %2 %3").arg(changeLook(kind).sign, changeLook(kind).words).arg(n),
                          filter_ == kind});
    list_->setChips(list.total() == 0 ? QVector<Worklist::Chip>{} : chips);
    std::size_t unchanged = 0;
    for (const project::ComparisonRecord& k : list.comparisons())
        unchanged += k.unchanged;
    list_->setFigures(list.total() == 0 ? QVector<Worklist::Figure>{}
                                        : QVector<Worklist::Figure>{
                                              {QString::number(list.shown()), "shown"},
                                              {QString::number(list.toReview()), "not looked at", list.toReview() > 0},
                                              {QString::number(unchanged), "unchanged"}});
    QStringList compared;
    for (const std::string& line : read_->compared)
        compared.append(q(line));
    list_->setCaption(compared.isEmpty() ? QString()
                                         : (basis_.empty() ? "" : "asked for: ") + compared.join(" · ") +
                                               (read_->rule == "Usual" ? QString() : " · rule " + q(read_->rule)));
    list_->setEmptyText(
        !read_->problem.isEmpty() ? "The changes could not be read. " + read_->problem
        : compared.isEmpty()
            ? "Nothing to compare yet: changes are listed here when a second revision is taken in under Deliveries, or "
              "when any two deliveries are compared (Compare…)."
        : list.total() == 0 ? "Compared: " + compared.join("; ") + ". Nothing changed."
                            : "No change answers to this filter.");
    list_->setSource(std::make_shared<ChangeRows>(read_->list, at_.session), std::exchange(isNextWanted_, false));
}

void ChangesStage::toggleGroup(const QString& id)
{
    if (!id.startsWith('g'))
        return;
    const std::string name = id.toStdString();
    if (!opened_.erase(name))
        opened_.insert(name);
    refresh();
}

void ChangesStage::choose(const QString& id) { list_->choose(id); }

void ChangesStage::enter()
{
    at_.session.loadPrevious(basis_);
    show(false);
}

bool ChangesStage::press(Qt::Key key)
{
    switch (key) {
    case Qt::Key_G:
        review("agreed");
        return true;
    case Qt::Key_S:
        review("seen");
        return true;
    case Qt::Key_Q:
        questionChosen(false);
        return true;
    case Qt::Key_1:
    case Qt::Key_2:
    case Qt::Key_3:
        between_->setAt((key - Qt::Key_1) / 2.0);
        return true;
    case Qt::Key_4:
        between_->findChild<QPushButton*>("betweenTwo")->toggle();
        return true;
    case Qt::Key_T:
        bar_->setGrouped(!bar_->question().isGrouped);
        return true;
    case Qt::Key_X:
        bar_->openMenu();
        return true;
    case Qt::Key_V:
        openCompareMenu();
        return true;
    case Qt::Key_D:
        copyRows();
        return true;
    default:
        return false;
    }
}

QVector<QPair<QString, QString>> ChangesStage::keys() const
{
    return {{"G", "agreed"},
            {"Q", "questioned: make an issue with what was and what is"},
            {"S", "seen"},
            {"1 2 3", "what was, both, what is"},
            {"4", "what was beside what is, seen from the same place"},
            {"Enter", "open a group, or close it"},
            {"T", "put alike ones together, or not"},
            {"X", "narrow to some"},
            {"V", "what is compared, and what counts"},
            {"D", "copy the chosen rows for a spreadsheet"}};
}

} // namespace wendrix::app
