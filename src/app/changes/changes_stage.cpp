#include "changes/changes_stage.h"

#include "changes/change_look.h"
#include "core/base/text.h"
#include "shell/theme.h"

#include <algorithm>
#include <map>

namespace wendrix::app {

namespace {

constexpr std::size_t kMostPainted = 3000; // changes that are all painted while none is chosen

/// The rows of a list of changes.
class ChangeRows final : public RowSource {
public:
    ChangeRows(std::shared_ptr<const project::ChangeList> list, const Session& session)
        : list_(std::move(list)), session_(session)
    {
    }
    [[nodiscard]] int count() const override { return static_cast<int>(list_->rowCount()); }
    [[nodiscard]] QString idOf(int row) const override
    {
        return q(project::ChangeList::idOf(list_->keyOf(static_cast<std::size_t>(row))));
    }
    [[nodiscard]] int indexOf(const QString& id) const override
    {
        return static_cast<int>(list_->rowOf(id.toStdString()));
    }
    [[nodiscard]] QVector<Row> page(int first, int number) const override
    {
        std::map<project::DeliveryId, QString> names;
        QVector<Row> rows;
        if (!session_.hasProject())
            return rows;
        for (const project::ChangeRecord& c : orNothing(list_->page(
                 session_.project().changes(), static_cast<std::size_t>(first), static_cast<std::size_t>(number)))) {
            if (!names.contains(c.to)) {
                const auto to = orNothing(session_.project().deliveries().find(c.to));
                names[c.to] = to ? q(to->name()) : QString();
            }
            const ChangeLook& kind = changeLook(c.mainKind());
            Row row;
            row.id = q(project::ChangeList::idOf({c.comparison, c.number}));
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
        return rows;
    }

private:
    std::shared_ptr<const project::ChangeList> list_;
    const Session& session_; // outlives the rows; which project it has open may change
};

} // namespace

ChangesStage::ChangesStage(const StageContext& context, QObject* parent) : ListStage("Changes", context, parent)
{
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) {
        filter_ = id.toUInt();
        refresh();
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
    for (const auto& [storey, n] : changes_->byStorey())
        counts[q(storey)] = static_cast<int>(n);
    return counts;
}

void ChangesStage::setStorey(const QString& storey)
{
    if (storey_ == storey)
        return;
    Stage::setStorey(storey);
    becomeStale();
}

void ChangesStage::refresh()
{
    using List = std::shared_ptr<const project::ChangeList>;
    at_.session.ask<List>(
        this,
        [question = project::ChangeQuestion{filter_, storey_.toStdString()}](const project::Project& p) -> List {
            return std::make_shared<project::ChangeList>(orNothing(p.changes().briefs()), question);
        },
        [this](List list) {
            auto former = std::exchange(changes_, std::move(list));
            fillList();
            Session::letGo(std::move(former));
            emit countsChanged();
            if (isFront() && at_.details.owner().isEmpty())
                enter();
        });
}

void ChangesStage::fillList()
{
    const project::ChangeList& list = *changes_;
    QVector<Worklist::Chip> chips{{"0", "All " + QString::number(list.total()), filter_ == 0}};
    for (const auto kind : kChangeKinds)
        if (const std::size_t n = list.countOf(kind); n > 0)
            chips.append({QString::number(kind),
                          QString("%1 %2 %3").arg(changeLook(kind).sign, changeLook(kind).words).arg(n),
                          filter_ == kind});
    list_->setChips(list.total() == 0 ? QVector<Worklist::Chip>{} : chips);
    list_->setFigures(list.total() == 0 ? QVector<Worklist::Figure>{}
                                        : QVector<Worklist::Figure>{{QString::number(list.rowCount()), "shown"},
                                                                    {QString::number(list.toReview()), "not looked at",
                                                                     list.toReview() > 0}});
    QStringList compared;
    for (const project::ComparisonRecord& k : list.comparisons()) {
        const auto from = orNothing(at_.session.project().deliveries().find(k.from)),
                   to = orNothing(at_.session.project().deliveries().find(k.to));
        compared.append(q(k.discipline) + " " + (from ? q(from->revision) : QString("?")) + " with " +
                        (to ? q(to->revision) : QString("?")));
    }
    list_->setEmptyText(
        compared.isEmpty()
            ? "Nothing to compare yet: changes are listed here when a second revision is taken in under Deliveries."
        : list.total() == 0 ? "Compared: " + compared.join("; ") + ". Nothing changed."
                            : "No change answers to this filter.");
    list_->setSource(std::make_shared<ChangeRows>(changes_, at_.session));
}

std::optional<project::ChangeRecord> ChangesStage::chosen() const
{
    if (list_->chosen().isEmpty())
        return {};
    const project::ChangeKey key = project::ChangeList::keyFrom(list_->chosen().toStdString());
    auto found = orNothing(at_.session.project().changes().get(std::span(&key, 1)));
    return found.empty() ? std::nullopt : std::optional(std::move(found[0]));
}

std::optional<view::ElementKey> ChangesStage::findBefore(const project::ChangeRecord& c) const
{
    const auto& previous = at_.session.previous();
    const std::size_t first = at_.scene.members().size() - previous.members.size();
    for (std::uint32_t i = 0; i < previous.members.size(); ++i)
        if (previous.deliveries[i] == c.from)
            if (const auto element = previous.members[i].find(c.continues.value_or(c.element)))
                return view::ElementKey{static_cast<std::uint32_t>(first) + i, *element};
    return {};
}

void ChangesStage::enter()
{
    at_.session.loadPrevious();
    show(false);
}

view::Subject ChangesStage::subjectOf(const std::vector<project::ChangeRecord>& changes, bool isOne) const
{
    view::Subject subject;
    const auto put = [&](const std::optional<view::ElementKey>& key, const QColor& colour, float alpha = 1) {
        if (key)
            subject.painted[*key] = view::Colour{colour.redF(), colour.greenF(), colour.blueF(), alpha};
    };
    for (const project::ChangeRecord& c : changes) {
        const QColor colour = changeLook(c.mainKind()).colour;
        const auto before = findBefore(c);
        const auto after = (c.kinds & project::Removed) != 0 ? std::nullopt : at_.scene.find(c.element);
        put(after, colour);
        if ((c.kinds & project::Removed) != 0)
            put(before, colour);
        else if (isOne && (c.kinds & (project::Moved | project::Reshaped)) != 0)
            put(before, theme::kRemoved, 0.35f);
        if (after || before)
            subject.about.push_back(after ? *after : *before);
    }
    return subject;
}

void ChangesStage::show(bool movesView)
{
    const auto one = chosen();
    view::Subject subject;
    if (one)
        subject = subjectOf({*one}, true);
    else if (changes_->rowCount() > 0)
        subject = subjectOf(orNothing(changes_->page(at_.session.project().changes(), 0, kMostPainted)), false);
    subject.isRestFaded = changes_->total() > 0;
    if (one && !subject.about.empty())
        subject.place = view::boundsOf(at_.scene.members(), subject.about[0]);
    if (subject.place && (one->kinds & project::Moved) != 0) {
        const Point3 now = subject.place->centre();
        subject.arrows.push_back(
            {now - one->shift, now, lengthInWords(Metres{length(one->shift)}), toColour(theme::kMoved)});
    }
    subject.grid = gridOn(subject.place ? q(one->storey) : QString());
    const std::vector<view::ElementKey> about = subject.about;
    at_.scene.change([&](view::Scene& scene) { scene.show(std::move(subject)); });
    if (one) {
        showDetails(*one);
    } else {
        at_.details.clear();
        at_.details.addText(
            changes_->total() == 0 ? "No changes to show."
            : changes_->rowCount() <= kMostPainted
                ? "Every change is painted in the view. Choose one on the left to go to it."
                : QString(
                      "The first %1 changes of the list are painted in the view. Choose one on the left to go to it.")
                      .arg(kMostPainted));
        at_.details.finish();
    }
    if (movesView && one && !about.empty()) {
        const Box3 box = view::boundsOf(at_.scene.members(), about[0]);
        const Vector3 from =
            at_.scene.freeDirection(box.centre(), std::max(5.0, length(box.size())), {-0.55, -0.75, 0.5}, about);
        at_.scene.setCamera(view::lookingAt(box.grownBy(1.2), from, at_.scene.viewport().aspect()), true);
    }
}

void ChangesStage::showDetails(const project::ChangeRecord& c)
{
    Details& d = at_.details;
    d.clear();
    const auto from = orNothing(at_.session.project().deliveries().find(c.from)),
               to = orNothing(at_.session.project().deliveries().find(c.to));
    d.addCaption(q(c.discipline) + " · " + (from ? q(from->revision) : QString("?")) + " to " +
                 (to ? q(to->revision) : QString("?")));
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
            second = (c.continues ? q(c.continues->guid) : QString("?")) + " became " + q(c.element.guid);
        d.addFact("Kind", changeLook(kind).words, second, Mark::Sign, changeLook(kind).colour, changeLook(kind).sign);
    }
    d.addFact("Storey", q(c.storey, "none"));
    d.addFact("GlobalId", q(c.element.guid),
              c.element.ordinal == 0
                  ? QString()
                  : QString("number %1 of those that share it in the file").arg(c.element.ordinal + 1));
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
    std::vector<project::ChangeKey> keys;
    for (const QString& id : list_->chosenAll())
        keys.push_back(project::ChangeList::keyFrom(id.toStdString()));
    const auto one = chosen();
    if (keys.empty() || !one)
        return;
    const std::string name = keys.size() == 1 ? one->name : counted(keys.size(), "change", "changes");
    at_.session.write(
        [keys = std::move(keys), name, word = std::string(word), who = at_.session.now()](project::Project& p) {
            return Session::saying(p.changes().review(keys, word, name, who), word + ": " + name);
        });
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
