#include "issues/issues_stage.h"

#include "core/base/text.h"
#include "core/project/issue_making.h"
#include "core/project/requirements.h"

#include <algorithm>
#include <set>

/// Issues: what the models say of one.
namespace wendrix::app {

void IssuesStage::addEvidence(const Item& item)
{
    Details& d = at_.details;
    if (item.evidence.requirement)
        addRequirement(item);
    if (item.evidence.pairs.empty()) {
        addElementsSaid(item);
        return;
    }
    d.addHeading("Evidence");
    // The latest few runs; the column that matters is the last.
    constexpr std::size_t kRuns = 3;
    std::set<std::int64_t> runs;
    for (const issues::PairEvidence& p : item.evidence.pairs)
        for (const issues::PairMoment& m : p.moments)
            runs.insert(m.run);
    while (runs.size() > kRuns)
        runs.erase(runs.begin());
    QStringList header{"run"};
    for (const std::int64_t run : runs)
        header.append(QString::number(run));
    QVector<QStringList> rows;
    for (const issues::PairEvidence& p : item.evidence.pairs) {
        QStringList row{q(p.title)};
        for (const std::int64_t run : runs) {
            const auto m = std::find_if(p.moments.begin(), p.moments.end(),
                                        [&](const issues::PairMoment& x) { return x.run == run; });
            const bool wasGone = std::any_of(p.moments.begin(), m, [&](const issues::PairMoment& x) {
                return clash::isGone(x.outcome) && x.run < run;
            });
            if (m == p.moments.end())
                row.append(wasGone ? QString("✓") : QString("–")); // what is gone is not asked again
            else if (clash::isGone(m->outcome))
                row.append(m->outcome == clash::Outcome::Removed ? QString("✓ removed") : QString("✓ gone"));
            else if (!clash::isTested(m->outcome))
                row.append("not tested");
            else
                row.append(m == std::prev(p.moments.end()) ? "● " + q(p.extent) : QString("●"));
        }
        rows.append(row);
    }
    d.addTable(header, rows, "evidence");
    d.addText(q(item.evidence.inWords()));
    // What became of it from run to run, where there is more than the table has.
    const std::vector<issues::Cycle> cycles = item.evidence.cycles();
    constexpr std::size_t kMostCycles = 12;
    if (cycles.size() < 2)
        return;
    QVector<QStringList> lines;
    const std::size_t first = cycles.size() > kMostCycles ? cycles.size() - kMostCycles : 0;
    const auto number = [](std::size_t n) { return n == 0 ? QString("–") : QString::number(n); };
    for (std::size_t i = cycles.size(); i-- > first;) {
        const auto run = orNothing(at_.session.project().clashes().findRun(cycles[i].run));
        lines.append({"run " + QString::number(cycles[i].run) + (run ? ", " + q(dayInWords(run->by.time)) : QString()),
                      number(cycles[i].gone), number(cycles[i].there), number(cycles[i].notTested)});
    }
    d.addTable({"cycle", "gone", "there", "not tested"}, lines, "cycles");
}

void IssuesStage::addRequirement(const Item& item)
{
    Details& d = at_.details;
    const issues::Requirement& wanted = *item.evidence.requirement;
    d.addHeading("What it wants to be met");
    QVector<QStringList> rows;
    for (auto m = wanted.moments.rbegin(); m != wanted.moments.rend(); ++m)
        rows.append({q(m->revision), m->isMet() ? QString("✓ met") : "● " + QString::number(m->failing),
                     m->its == 0  ? QString("–")
                     : m->isMet() ? QString("none")
                                  : QString("%1 of %2").arg(m->failingOfIts).arg(m->its)});
    d.addTable({"delivery", "fail it", "of its own"}, rows, "requirement");
    d.addText(q(item.evidence.inWords()));
    d.addButtons({{"checkAgain", "Check again", "", false, true, [this, id = wanted.discipline] { checkAgain(id); }}});
}

void IssuesStage::checkAgain(DisciplineId discipline)
{
    const project::Project& p = at_.session.project();
    std::optional<project::Delivery> delivery;
    for (const project::Discipline& d : orNothing(p.setup().disciplines()))
        for (const project::Delivery& used : orNothing(p.deliveries().allInUse()))
            if (d.id == discipline && used.discipline == d.name)
                delivery = used;
    if (!delivery)
        return at_.session.say("Nothing of that discipline is in use that could be checked.");
    auto order = project::requirementsOrderOf(p, *delivery);
    if (!order || !*order)
        return order ? at_.session.say("Nothing is asked of " + q(delivery->name()) +
                                       ": it was found in a delivery after it.")
                     : at_.session.fail(order.error());
    at_.session.run(Jobs::Lane::Checking, "Checking " + q(delivery->name()),
                    [this, order = std::move(**order), have = at_.session.workspace(),
                     write = at_.session.writerForJob(), who = at_.session.now()](Progress& progress) -> Jobs::Finish {
                        const auto met = project::checkRequirements(order, have, progress);
                        if (!met)
                            return [this, why = met.error()] { at_.session.fail(why); };
                        std::string words;
                        const auto done = write([&](project::Project& to) -> Result<void> {
                            auto said = project::recordRequirements(to, order.inside.delivery, *met, who);
                            if (!said)
                                return wendrix::fail(said.error());
                            words = std::move(*said);
                            return {};
                        });
                        return [this, done, words] {
                            done ? at_.session.say(q(words) + ".") : at_.session.fail(done.error());
                        };
                    });
}

void IssuesStage::settle(const QStringList& uuids)
{
    std::vector<std::string> all;
    for (const QString& uuid : uuids)
        all.push_back(uuid.toStdString());
    at_.session.write([all, who = at_.session.now()](project::Project& p) -> Result<std::string> {
        const auto done = project::settleOnEvidence(p, all, who);
        if (!done)
            return wendrix::fail(done.error());
        if (done->changed == 0 && done->refused.empty())
            return std::string("None of them can be closed or sent back: the models say nothing new of them.");
        return counted(done->changed, "issue", "issues") + " closed or sent back on evidence" +
               (done->refused.empty()
                    ? std::string()
                    : "; " + std::to_string(done->refused.size()) + " may not: " + done->refused.front());
    });
}

void IssuesStage::addElementsSaid(const Item& item)
{
    const auto said = orNothing(project::elementsSaidOf(at_.session.project(), item.issue.uuid));
    if (said.empty())
        return;
    QStringList changed, unchanged;
    for (const project::ElementSaid& one : said) {
        const auto key = at_.scene.find(one.element);
        const QString name = key ? q(at_.scene.members()[key->member].model->displayName(
                                       at_.scene.members()[key->member].model->elements()[key->element]))
                                 : q(one.element.guid) + " (gone)";
        if (one.change.empty())
            unchanged << name;
        else
            changed << name + " " + q(one.change);
    }
    Details& d = at_.details;
    d.addHeading("Evidence");
    constexpr int kMostNamed = 12;
    const auto list = [](const QStringList& names) {
        return names.mid(0, kMostNamed).join("; ") +
               (names.size() > kMostNamed ? QString("; and %1 more").arg(names.size() - kMostNamed) : QString());
    };
    if (!changed.isEmpty())
        d.addText(list(changed) + ".", false);
    if (!unchanged.isEmpty())
        d.addText((changed.isEmpty() ? QString("Nothing of it has changed: ") : QString("Not changed: ")) +
                  list(unchanged) + ".");
}

} // namespace wendrix::app
