#include "changes/changes_stage.h"

#include "core/base/text.h"
#include "core/project/change_words.h"
#include "core/project/test_sheets.h"
#include "shell/form.h"
#include "shell/set_field.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QLineEdit>
#include <QMenu>
#include <QSpinBox>

#include <algorithm>
#include <map>

/// Changes: what is compared with what, what counts, and what the list is narrowed to by asking the models.
namespace wendrix::app {

void ChangesStage::compared(std::vector<std::int64_t> ids)
{
    if (!ids.empty())
        showComparisons(std::move(ids));
}

void ChangesStage::compare(project::DeliveryId from, project::DeliveryId to)
{
    const auto was = orNothing(at_.session.project().deliveries().find(from)),
               is = orNothing(at_.session.project().deliveries().find(to));
    if (!was || !is)
        return;
    const project::DeliveryPair pair{from, to};
    at_.session.compareDeliveries(
        "Comparing " + q(was->name()) + " with " + q(is->revision),
        [pair](const project::Project& p) {
            return project::askedComparisons(p, {&pair, 1});
        },
        [this](std::vector<std::int64_t> ids) { compared(std::move(ids)); });
}

void ChangesStage::compareCycles(int from, int to)
{
    at_.session.compareDeliveries(
        QString("Comparing cycle %1 with cycle %2").arg(from).arg(to),
        [from, to](const project::Project& p) -> Result<std::vector<project::AskedComparison>> {
            const auto pairs = project::betweenCycles(p, from, to);
            if (!pairs)
                return wendrix::fail(pairs.error());
            return project::askedComparisons(p, *pairs);
        },
        [this](std::vector<std::int64_t> ids) { compared(std::move(ids)); });
}

void ChangesStage::openCompareMenu()
{
    if (!at_.session.hasProject())
        return;
    auto* menu = new QMenu(list_);
    menu->setObjectName("compareMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto addBasis = [&](const QString& words, const std::vector<std::int64_t>& ids) {
        QAction* action = menu->addAction(words, this, [this, ids] { showComparisons(ids); });
        action->setCheckable(true);
        action->setChecked(ids == basis_);
    };
    addBasis("What is in use, with what it replaced", {});
    // What was asked for at once is one line.
    std::map<std::pair<std::string, std::string>, std::vector<project::ComparisonRecord>> asked;
    for (const project::ComparisonRecord& k : orNothing(at_.session.project().changes().asked()))
        asked[{k.by.time, k.by.person}].push_back(k);
    for (auto at = asked.rbegin(); at != asked.rend(); ++at) {
        const auto& together = at->second;
        std::vector<std::int64_t> ids;
        for (auto k = together.rbegin(); k != together.rend(); ++k)
            ids.push_back(k->id);
        const auto from = orNothing(at_.session.project().deliveries().find(together[0].from)),
                   to = orNothing(at_.session.project().deliveries().find(together[0].to));
        const QString what = together.size() == 1 ? (from ? q(from->name()) : QString("?")) + " with " +
                                                        (to ? q(to->revision) : QString("?"))
                                                  : q(counted(together.size(), "member", "members"));
        addBasis(what + ", asked for " + q(timeInWords(at->first.first)), ids);
    }
    menu->addSeparator();
    menu->addAction("Two revisions…", this, &ChangesStage::showCompareForm);
    menu->addAction("Two cycles…", this, &ChangesStage::showCyclesForm);
    menu->addAction("Volumes of whole members, listed now", this, &ChangesStage::showWholeVolumes)
        ->setEnabled(!changes().comparisons().empty());
    if (!basis_.empty())
        menu->addAction("Drop what is listed now", this, [this] {
            const auto ids = basis_;
            at_.session.write([ids, who = at_.session.now()](project::Project& p) {
                return Session::saying(p.changes().drop(ids, who), "The comparison was dropped.");
            });
        });
    menu->addSeparator();
    menu->addAction("What counts as a change…", this, &ChangesStage::showRuleForm);
    auto* button = list_->findChild<QWidget*>("compareChanges");
    menu->popup(button->mapToGlobal(QPoint(0, button->height())));
}

void ChangesStage::showWholeVolumes()
{
    struct Two {
        federation::Member before, after;
    };
    std::vector<Two> members;
    const RevisionFinder revisions(at_.session, at_.scene);
    for (const project::ComparisonRecord& k : changes().comparisons())
        for (const federation::Member* was : revisions.membersOf(k.from))
            for (const federation::Member* is : revisions.membersOf(k.to))
                if (was->part == is->part)
                    members.push_back({*was, *is});
    at_.session.run(
        Jobs::Lane::Comparing, "Comparing volumes",
        [this, members = std::move(members)](Progress& progress) -> Jobs::Finish {
            changes::VolumeChange all;
            std::size_t places[2] = {0, 0}, open = 0;
            for (const Two& two : members) {
                const auto found =
                    changes::volumesBetween(two.before, two.after, changes::ChangeRule{}.distance, progress);
                if (!found)
                    return [this] { at_.session.say("Comparing volumes was cancelled."); };
                const Transform fit = two.after.fit.transform();
                for (const auto& part : found->added) {
                    all.added.append(geometry::transformed(part.body, fit));
                    all.addedVolume += part.volume;
                }
                for (const auto& part : found->removed) {
                    all.removed.append(geometry::transformed(part.body, fit));
                    all.removedVolume += part.volume;
                }
                places[0] += found->added.size();
                places[1] += found->removed.size();
                open += found->notSolidAfter.size() + found->notSolidBefore.size();
            }
            return [this, all, added = places[0], removed = places[1], open] {
                if (!isFront())
                    return;
                list_->view().clearSelection();
                Details& d = at_.details;
                d.clear();
                volume_ = near_ = met_ = nullptr;
                d.addTitle("Volumes of whole members");
                d.addText("What no element of the other revision fills, whichever element it is of.");
                d.addFact("Added", q(project::volumeInWords(all.addedVolume)),
                          q(counted(added, "element", "elements")));
                d.addFact("Taken away", q(project::volumeInWords(all.removedVolume)),
                          q(counted(removed, "element", "elements")));
                if (open > 0)
                    d.addText(q(counted(open, "element has", "elements have")) + " no inside and could not be asked.");
                d.finish();
                view::Subject subject;
                subject.isRestFaded = true;
                subject.grid = gridOn({});
                at_.scene.change([&](view::Scene& scene) { scene.show(std::move(subject)); });
                volumes_ = {all};
                cutVolumes();
            };
        });
}

void ChangesStage::showCompareForm()
{
    QVector<QPair<QString, QString>> all;
    std::map<std::string, std::vector<project::Delivery>> byDiscipline;
    for (const project::Delivery& d : orNothing(at_.session.project().deliveries().all()))
        byDiscipline[d.discipline].push_back(d);
    QString used, before;
    for (auto& [discipline, deliveries] : byDiscipline) {
        std::sort(deliveries.begin(), deliveries.end(), [](const auto& a, const auto& b) { return a.id < b.id; });
        for (const project::Delivery& d : deliveries)
            all.append({q(d.name()) + (d.isUsed() ? " (in use)" : ""), QString::number(d.id)});
        if (deliveries.size() > 1 && used.isEmpty()) {
            before = QString::number(deliveries.front().id);
            used = QString::number(deliveries.back().id);
        }
    }
    Details& d = at_.details;
    d.clear();
    volume_ = near_ = met_ = nullptr;
    d.addTitle("Compare two revisions");
    auto* form = new Form;
    QComboBox* from = form->choice("compareFrom", "Before", all, before);
    QComboBox* to = form->choice("compareTo", "After", all, used);
    d.addWidget(form);
    d.addText("Both stand where the fits in force put them. The comparison is kept, and listed under Compare….");
    d.addButtons({{"compareNow", "Compare", "", true, true, [this, from, to] {
                       const auto was = from->currentData().toString().toLongLong(),
                                  is = to->currentData().toString().toLongLong();
                       const auto a = orNothing(at_.session.project().deliveries().find(was)),
                                  b = orNothing(at_.session.project().deliveries().find(is));
                       if (!a || !b || was == is)
                           return at_.session.fail({project::kUnknown, "Choose two different revisions."});
                       if (a->discipline != b->discipline)
                           return at_.session.fail(
                               {project::kUnknown, a->name() + " and " + b->name() +
                                                       " are of two disciplines; revisions of one are compared."});
                       compare(was, is);
                   }}});
    d.finish();
    from->setFocus();
}

void ChangesStage::showCyclesForm()
{
    int last = 1;
    for (const project::Delivery& delivery : orNothing(at_.session.project().deliveries().all()))
        last = std::max(last, delivery.cycle);
    Details& d = at_.details;
    d.clear();
    volume_ = near_ = met_ = nullptr;
    d.addTitle("Compare two cycles");
    auto* form = new Form;
    QSpinBox* from = form->number("cycleFrom", "What was in use in cycle", std::max(1, last - 1), 1, last);
    QSpinBox* to = form->number("cycleTo", "with what was in use in cycle", last, 1, last);
    d.addWidget(form);
    d.addText("Every member that was in use at the end of both, and is not the same.");
    d.addButtons({{"compareCyclesNow", "Compare", "", true, true,
                   [this, from, to] { compareCycles(from->value(), to->value()); }}});
    d.finish();
    from->setFocus();
}

void ChangesStage::showRuleForm()
{
    const auto rules = at_.session.project().changes().rules();
    if (!rules)
        return at_.session.fail(rules.error());
    const changes::ChangeRule& rule = rules->front().rule;
    Details& d = at_.details;
    d.clear();
    volume_ = near_ = met_ = nullptr;
    d.addTitle("What counts as a change");
    if (rules->size() > 1) {
        QVector<DetailsButton> others;
        for (std::size_t i = 1; i < std::min<std::size_t>(rules->size(), 6); ++i)
            others.append(
                {QString("rule%1").arg(i), "Use " + q((*rules)[i].name), "", false, true, [this, other = (*rules)[i]] {
                     at_.session.write(
                         [other, who = at_.session.now()](project::Project& p) {
                             return Session::saying(p.changes().useRule(other, who), "In use: " + other.name);
                         },
                         [this](bool isDone) {
                             if (isDone)
                                 showRuleForm();
                         });
                 }});
        d.addButtons(others);
    }
    auto* form = new Form;
    QLineEdit* name = form->line("ruleName", "Name", q(rules->front().name));
    QDoubleSpinBox* distance = form->decimal("ruleDistance", "Distance", rule.distance * 1000, 0.1, 1000, " mm");
    QDoubleSpinBox* angle = form->decimal("ruleAngle", "Turn", toDegrees(rule.angle), 0, 57, "°");
    QDoubleSpinBox* volume = form->decimal("ruleVolume", "Volume", rule.volume * 1000, 0, 1e6, " l");
    const bool isRounding = rule.number <= changes::ChangeRule{}.number;
    QLineEdit* number = form->line("ruleNumber", "Numbers", isRounding ? "0" : q(plainNumber(rule.number * 100)), "%");
    d.addWidget(form);
    d.addText("What moved, turned, gained and lost volume, or differs in a number (in %) by no more does not count.");
    d.addHeading("Elements that do not count");
    auto* elements = new SetField(at_.session, "ruleElements");
    elements->setEmptyWords("every element counts");
    elements->setLine(q(rule.elements));
    d.addWidget(elements);
    d.addHeading("Fields that do not count");
    auto* fields = new QLineEdit(q(rule.fields));
    fields->setObjectName("ruleFields");
    fields->setPlaceholderText("tag is given or \"Qto_*\".\"*\" is given");
    d.addWidget(fields);
    d.addText("As in sets: Pset_WallCommon.Status is given. A star in quotes stands for any letters, a word in quotes "
              "for every field that has it. What is in use is compared again; what was looked at stays so where it is "
              "the same change.");
    d.addButtons({{"ruleUse", "Save and compare again", "", true, true,
                   [this, name, distance, angle, volume, number, elements, fields] {
                       project::ChangesBook::NamedRule named;
                       named.name = name->text().trimmed().toStdString();
                       named.rule.distance = distance->value() / 1000;
                       named.rule.angle = fromDegrees(angle->value());
                       named.rule.volume = volume->value() / 1000;
                       bool isNumber = false;
                       named.rule.number = std::max(number->text().trimmed().remove('%').toDouble(&isNumber) / 100,
                                                    changes::ChangeRule{}.number);
                       named.rule.elements = elements->line().trimmed().toStdString();
                       named.rule.fields = fields->text().trimmed().toStdString();
                       if (!isNumber)
                           return at_.session.fail({project::kBadRule, "The difference of numbers is a number, in %."});
                       at_.session.write(
                           [named, who = at_.session.now()](project::Project& p) {
                               return Session::saying(p.changes().useRule(named, who), "In use: " + named.name);
                           },
                           [this](bool isDone) {
                               if (!isDone)
                                   return;
                               basis_.clear();
                               at_.session.compareDeliveries(
                                   "Comparing again",
                                   [](const project::Project& p) { return project::comparisonsInForceAnew(p); },
                                   [](const std::vector<std::int64_t>&) {});
                           });
                   }}});
    d.finish();
    name->setFocus();
}

void ChangesStage::showSetForm()
{
    Details& d = at_.details;
    d.clear();
    volume_ = near_ = met_ = nullptr;
    d.addTitle("Only changes of a set");
    auto* set = new SetField(at_.session, "changeSet");
    d.addWidget(set);
    d.addText("Elements as they are now or as they were: what was removed is found too.");
    d.addButtons({{"changeSetUse", "Show only these", "", true, true, [this, set] { narrowToSet(set->line()); }}});
    d.finish();
    set->setFocus();
}

void ChangesStage::narrowToSet(const QString& line)
{
    const sets::Parsed parsed = sets::parse(line.toStdString());
    if (!parsed.expression)
        return at_.session.fail({project::kBadRule, "The set is not well formed: " + parsed.mistake.message});
    using Among = std::set<project::ChangeKey>;
    at_.session.ask<Result<Among>>(
        this, "among",
        [list = read_->list, set = *parsed.expression, now = at_.session.workspace().members,
         elements = at_.session.elements(),
         before = at_.session.previous().members](const project::Project& p) -> Result<Among> {
            const auto knowledge = project::knowledgeFor(p, set);
            if (!knowledge)
                return wendrix::fail(knowledge.error());
            const sets::Elements earlier(before);
            const auto isNow = elements->in(set, *knowledge), wasBefore = earlier.in(set, *knowledge);
            if (!isNow.problem.empty())
                return wendrix::fail({project::kBadRule, isNow.problem});
            const auto isPicked = [](const std::vector<federation::Member>& members,
                                     const sets::Elements::Answer& answer, const ElementRef& ref) {
                for (std::size_t m = 0; m < members.size(); ++m)
                    if (const auto e = members[m].find(ref); e && answer.picked[m][*e] != 0)
                        return true;
                return false;
            };
            Among among;
            for (const project::ChangeBrief& c : list->briefs().changes)
                if (isPicked(now, isNow, c.element) || isPicked(before, wasBefore, c.element))
                    among.insert(c.key);
            return among;
        },
        [this, line](Result<Among> among) {
            if (!among)
                return at_.session.fail(among.error());
            bar_->setAmong(std::move(*among), line);
        });
}

void ChangesStage::narrowToNear(const QString& discipline, double metres)
{
    around_.ask([this, list = read_->list, around = surroundings(), discipline,
                 metres](const LatestAnswer::IsVoid& isVoid) -> std::function<void()> {
        auto near = project::changesNear(list->briefs(), *around, discipline.toStdString(), metres, isVoid);
        return [this, near = std::move(near), discipline, metres] {
            bar_->setAmong(near, "within " + q(lengthInWords(Metres{metres})) + " of " + discipline);
        };
    });
}

void ChangesStage::showDigestForm()
{
    constexpr double kUsual = 500; // mm
    Details& d = at_.details;
    d.clear();
    volume_ = near_ = met_ = nullptr;
    d.addTitle("What concerns a discipline");
    auto* form = new Form;
    QVector<QPair<QString, QString>> disciplines;
    for (const std::string& name : read_->disciplines)
        disciplines.append({q(name), q(name)});
    QComboBox* discipline = form->choice("digestFor", "For", disciplines);
    QDoubleSpinBox* metres = form->decimal("digestDistance", "Within", kUsual, 0, 10000, " mm");
    d.addWidget(form);
    d.addText("One page, read in two minutes: what of the listed changes is near its elements, caused or cured clashes "
              "with them, left its holes or supports behind, or touches its issues; the heaviest first.");
    d.addButtons({{"digestWrite", "Write…", "", true, true, [this, discipline, metres] {
                       QString chosen;
                       QString file = QFileDialog::getSaveFileName(
                           list_->window(), "Write what concerns " + discipline->currentText(),
                           "changes for " + discipline->currentText().toLower() + ".html",
                           "Page (*.html);;Page for print (*.pdf)", &chosen);
                       if (file.isEmpty())
                           return;
                       if (!file.endsWith(".html", Qt::CaseInsensitive) && !file.endsWith(".pdf", Qt::CaseInsensitive))
                           file += "." + chosen.section("*.", 1).section(')', 0, 0);
                       exportDigest(discipline->currentText(), metres->value() / 1000, file);
                   }}});
    d.finish();
    discipline->setFocus();
}

} // namespace wendrix::app
