#include "changes/changes_stage.h"

#include "changes/change_look.h"
#include "core/base/text.h"
#include "shell/theme.h"

#include <algorithm>
#include <map>

namespace wendrix::app {

namespace {

QString idOf(const project::ChangeRecord& c) { return QString::number(c.to) + "/" + q(c.guid); }

} // namespace

ChangesStage::ChangesStage(const StageContext& context, QObject* parent) : ListStage("Changes", context, parent)
{
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) {
        filter_ = id.toUInt();
        fillList();
    });
}

int ChangesStage::waiting() const
{
    return at_.session.hasProject() ? static_cast<int>(at_.session.project().changesToReview()) : 0;
}

QMap<QString, int> ChangesStage::storeyCounts() const
{
    QMap<QString, int> counts;
    for (const project::ChangeRecord& c : changes_)
        ++counts[q(c.storey)];
    return counts;
}

void ChangesStage::setStorey(const QString& storey)
{
    Stage::setStorey(storey);
    if (!isStale_)
        fillList();
}

void ChangesStage::refresh()
{
    isStale_ = true;
    if (isFront())
        read();
}

void ChangesStage::read()
{
    if (!isStale_)
        return;
    isStale_ = false;
    changes_ = at_.session.hasProject() ? at_.session.project().currentChanges() : std::vector<project::ChangeRecord>{};
    std::stable_sort(changes_.begin(), changes_.end(),
                     [](const auto& a, const auto& b) { return a.mainKind() < b.mainKind(); });
    fillList();
}

void ChangesStage::fillList()
{
    QVector<Worklist::Chip> chips{{"0", "All " + QString::number(changes_.size()), filter_ == 0}};
    for (const auto kind : kChangeKinds) {
        const auto n = std::count_if(changes_.begin(), changes_.end(), [&](const auto& c) { return (c.kinds & kind) != 0; });
        if (n > 0)
            chips.append({QString::number(kind), QString("%1 %2 %3").arg(changeLook(kind).sign, changeLook(kind).words).arg(n), filter_ == kind});
    }
    list_->setChips(changes_.empty() ? QVector<Worklist::Chip>{} : chips);
    std::map<project::DeliveryId, QString> names;
    for (const project::ChangeRecord& c : changes_)
        if (!names.contains(c.to)) {
            const auto to = at_.session.project().delivery(c.to);
            names[c.to] = to ? q(to->name()) : QString();
        }
    QVector<Row> rows;
    for (const project::ChangeRecord& c : changes_) {
        if ((filter_ != 0 && (c.kinds & filter_) == 0) || (!storey_.isEmpty() && q(c.storey) != storey_))
            continue;
        const ChangeLook& kind = changeLook(c.mainKind());
        Row row;
        row.id = idOf(c);
        row.mark = Mark::Sign;
        row.markText = kind.sign;
        row.markColour = kind.colour;
        row.title = q(c.name);
        row.right = changeMeasure(c);
        row.subtitle = kindsInWords(c) + " · " + q(c.storey, "no storey") + " · " + names[c.to];
        if (!c.review.empty())
            row.subtitle += " · " + q(c.review);
        row.isStruck = (c.kinds & project::Removed) != 0;
        rows.append(row);
    }
    list_->setFigures(changes_.empty() ? QVector<Worklist::Figure>{}
                                       : QVector<Worklist::Figure>{{QString::number(rows.size()), "shown"},
                                                                   {QString::number(waiting()), "not looked at", waiting() > 0}});
    list_->setEmptyText(changes_.empty() ? "Nothing to compare yet: changes are listed here when a second revision is taken "
                                           "in under Deliveries."
                                         : "No change answers to this filter.");
    list_->setRows(rows);
}

const project::ChangeRecord* ChangesStage::chosen() const
{
    const QString id = list_->chosen();
    for (const project::ChangeRecord& c : changes_)
        if (idOf(c) == id)
            return &c;
    return nullptr;
}

std::optional<view::ElementKey> ChangesStage::findBefore(const project::ChangeRecord& c) const
{
    const auto& previous = at_.session.previous();
    const std::size_t first = at_.scene.members().size() - previous.members.size();
    for (std::uint32_t i = 0; i < previous.members.size(); ++i)
        if (previous.deliveries[i] == c.from)
            if (const auto element = previous.members[i].model->find(c.oldGuid.empty() ? c.guid : c.oldGuid))
                return view::ElementKey{static_cast<std::uint32_t>(first) + i, *element};
    return {};
}

void ChangesStage::enter()
{
    read();
    at_.session.loadPrevious();
    show(false);
}

void ChangesStage::show(bool movesView)
{
    showPlain();
    const project::ChangeRecord* one = chosen();
    view::Display& display = at_.scene.display();
    display.isRestFaded = !changes_.empty();
    const auto paint = [&](const std::optional<view::ElementKey>& key, const QColor& colour, float alpha = 1) {
        if (key)
            display.painted[*key] = view::colourOf(colour.name().toStdString(), alpha);
    };
    std::vector<view::ElementKey> about;
    for (const project::ChangeRecord& c : changes_) {
        if (filter_ != 0 && (c.kinds & filter_) == 0)
            continue;
        const bool isOne = one == &c;
        const QColor colour = changeLook(c.mainKind()).colour;
        const auto before = findBefore(c);
        const auto after = (c.kinds & project::Removed) != 0 ? std::nullopt : at_.scene.find(c.guid);
        if (one == nullptr || isOne) {
            paint(after, colour);
            if ((c.kinds & project::Removed) != 0)
                paint(before, colour);
            else if (isOne && (c.kinds & (project::Moved | project::Reshaped)) != 0)
                paint(before, theme::kRemoved, 0.35f);
        }
        if (isOne && (after || before))
            about.push_back(after ? *after : *before);
    }
    if (one != nullptr && (one->kinds & project::Moved) != 0 && !about.empty()) {
        const Point3 now = view::boundsOf(at_.scene.members(), about[0]).centre();
        at_.scene.setArrows({{now - one->shift, now, q(lengthInWords(Metres{length(one->shift)})), theme::kMoved}});
    }
    at_.scene.updateDisplay();
    if (one != nullptr)
        showDetails(*one);
    else {
        at_.details.clear();
        at_.details.addText(changes_.empty() ? "No changes to show."
                                             : "Every change is painted in the view. Choose one on the left to go to it.");
        at_.details.finish();
    }
    if (movesView && !about.empty()) {
        const Box3 box = view::boundsOf(at_.scene.members(), about[0]);
        const Vector3 from = view::freeDirection(at_.scene.picker(), box.centre(), std::max(5.0, length(box.size())),
                                                 {-0.55, -0.75, 0.5}, about);
        at_.scene.setCamera(view::lookingAt(box.grownBy(1.2), from, at_.scene.viewport().aspect()), true);
    }
}

void ChangesStage::showDetails(const project::ChangeRecord& c)
{
    Details& d = at_.details;
    d.clear();
    const auto from = at_.session.project().delivery(c.from), to = at_.session.project().delivery(c.to);
    d.addCaption(q(c.discipline) + " · " + (from ? q(from->revision) : QString("?")) + " to " + (to ? q(to->revision) : QString("?")));
    d.addTitle(q(c.name));
    for (const auto kind : kChangeKinds) {
        if ((c.kinds & kind) == 0)
            continue;
        QString second;
        if (kind == project::Moved)
            second = shiftInWords(c.shift);
        if (kind == project::Reshaped)
            second = "+" + litres(c.addedVolume) + " added, −" + litres(c.removedVolume) + " taken away";
        if (kind == project::Rekeyed)
            second = q(c.oldGuid) + " became " + q(c.guid);
        d.addFact("Kind", changeLook(kind).words, second, Mark::Sign, changeLook(kind).colour, changeLook(kind).sign);
    }
    d.addFact("Storey", q(c.storey, "none"));
    d.addFact("GlobalId", q(c.guid));
    if (!c.review.empty())
        d.addFact("Review", q(c.review));
    d.addButtons({{"agreed", "Agreed", "G", false, true, [this] { review("agreed"); }},
                  {"questioned", "Questioned", "Q", false, true, [this] { review("questioned"); }},
                  {"seen", "Seen", "S", false, true, [this] { review("seen"); }}});
    if (!c.fields.empty()) {
        d.addHeading("What reads differently");
        for (const changes::FieldChange& f : c.fields)
            d.addFact(q(f.name), q(f.after, "–"), "was " + q(f.before, "–") + (f.set.empty() ? "" : " · " + q(f.set)));
    }
    d.finish();
}

void ChangesStage::review(const char* word)
{
    const QStringList ids = list_->chosenAll();
    std::vector<project::ChangeRecord> wanted;
    for (const project::ChangeRecord& c : changes_)
        if (ids.contains(idOf(c)))
            wanted.push_back(c);
    for (const project::ChangeRecord& c : wanted)
        if (!at_.session.apply(at_.session.project().review(c, word, at_.session.now())))
            return;
    show(false);
}

bool ChangesStage::press(Qt::Key key)
{
    if (key == Qt::Key_G)
        review("agreed");
    else if (key == Qt::Key_Q)
        review("questioned");
    else if (key == Qt::Key_S)
        review("seen");
    else
        return false;
    return true;
}

QVector<QPair<QString, QString>> ChangesStage::keys() const
{
    return {{"G", "agreed"}, {"Q", "questioned"}, {"S", "seen"}};
}

} // namespace wendrix::app
