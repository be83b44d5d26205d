#include "core/project/taking_in.h"

#include "core/base/text.h"
#include "core/project/rows.h"

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

RunSummary writeRun(Project& project, SQLite::Database& db, const NewRun& run, const WhoAndWhen& who)
{
    const auto continuations = project.changes().continuations(db);
    RunSummary summary = project.clashes().writeRun(db, run, continuations, who);
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
