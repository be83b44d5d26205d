#include "core/project/taking_in.h"

#include "core/base/text.h"
#include "core/project/rows.h"

#include <algorithm>
#include <map>

namespace wendrix::project {

namespace {

std::string compositionInWords(const NewRun& run)
{
    std::string words;
    for (const RunMember& m : run.members)
        if (m.isTested)
            words += (words.empty() ? "" : ", ") + m.title();
    return words;
}

/// The first discipline that is not as it was when the run began, in words.
std::string changeInWords(const std::vector<InForce>& then, const std::vector<InForce>& now)
{
    std::map<std::string, std::pair<const InForce*, const InForce*>> byDiscipline;
    for (const InForce& one : then)
        byDiscipline[one.discipline].first = &one;
    for (const InForce& one : now)
        byDiscipline[one.discipline].second = &one;
    for (const auto& [discipline, both] : byDiscipline) {
        const auto& [before, after] = both;
        if (before != nullptr && after != nullptr && *before == *after)
            continue;
        if (before != nullptr && after != nullptr && before->delivery == after->delivery)
            return "The fit of " + discipline + " was changed";
        return after == nullptr    ? discipline + " was taken out"
               : before == nullptr ? discipline + " was taken in"
                                   : "Another delivery of " + discipline + " was taken in";
    }
    return "The composition was changed";
}

/// @throw Refused where the run was made for something else than what is in force in this transaction
void requireStillInForce(const Project& project, const NewRun& run)
{
    if (!run.madeFor)
        return;
    const auto now = inForce(project);
    if (!now)
        throw Refused{now.error()};
    if (*now != *run.madeFor)
        throw Refused{{kCompositionChanged, changeInWords(*run.madeFor, *now) +
                                                " while the tests ran, so what they found holds no more and is not "
                                                "recorded. Run them again."}};
}

RunSummary writeRun(Project& project, SQLite::Database& db, const NewRun& run, const WhoAndWhen& who)
{
    requireStillInForce(project, run);
    const auto continuations = project.changes().continuations(db);
    RunSummary summary = project.clashes().writeRun(db, run, continuations, who);
    summary.givenBack = ClashesBook::giveBack(db, summary.id, who.time);
    std::map<std::string, int> reopened;
    for (const PairId pair : summary.back)
        if (const std::string issue = textOr(db, "SELECT issue FROM decisions WHERE pair=?", pair); !issue.empty())
            ++reopened[issue];
    for (const auto& [issue, pairs] : reopened)
        project.issues().reopen(db, issue,
                                "Reopened: a clash of this issue is back in " + compositionInWords(run) + ".", who);
    return summary;
}

} // namespace

Result<std::vector<InForce>> inForce(const Project& project)
{
    const auto used = project.deliveries().allInUse();
    if (!used)
        return fail(used.error());
    std::vector<InForce> all;
    for (const Delivery& d : *used) {
        const auto fit = project.coordinates().fitOf(d);
        if (!fit)
            return fail(fit.error());
        all.push_back({d.discipline, d.id, fit->id});
    }
    std::sort(all.begin(), all.end());
    return all;
}

Result<RunSummary> takeIn(Project& project, const TakeIn& t, const WhoAndWhen& who)
{
    const auto d = project.deliveries().get(t.delivery);
    if (!d)
        return fail(d.error());
    RunSummary summary;
    const auto done = project.store().act(
        {Book::Deliveries, "Taken in: " + d->name(), DeliveriesBook::subjectOf(d->id)}, who, [&](SQLite::Database& db) {
            project.deliveries().use(db, *d, who);
            if (t.comparison)
                project.changes().write(db, *t.comparison, who);
            if (t.run)
                summary = writeRun(project, db, *t.run, who);
            for (const auto& [issue, moment] : t.requirements)
                project.issues().writeMoment(db, issue, moment, who);
            if (t.fit) // after the run, which was made for what was in force before
                CoordinatesBook::write(db, d->discipline, *t.fit, who);
        });
    if (!done)
        return fail(done.error());
    return summary;
}

Result<RunSummary> recordRun(Project& project, const NewRun& run, const WhoAndWhen& who)
{
    RunSummary summary;
    Deed ran{Book::Clashes, "Tests run", {}};
    const auto done = project.store().act(ran, who, [&](SQLite::Database& db) {
        summary = writeRun(project, db, run, who);
        ran.what = "Tests run: " + counted(summary.found, "pair", "pairs") + " found";
    });
    if (!done)
        return fail(done.error());
    return summary;
}

} // namespace wendrix::project
