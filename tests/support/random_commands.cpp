#include "support/random_commands.h"

#include "core/project/issue_making.h"
#include "support/made_project.h"
#include "support/must.h"

namespace wendrix::test {

using namespace wendrix::project;

std::unique_ptr<Project> projectForCommands(const std::filesystem::path& folder)
{
    auto project = madeProject(folder, {"Structure", "Ventilation", "Piping"});
    for (const char* discipline : {"Structure", "Ventilation", "Piping"})
        for (const char* revision : {"P01", "P02"})
            received(*project, discipline, revision, std::string("2026-10-0") + revision[2] + "T09:00:00Z");
    return project;
}

AllCells cellsOf(Project& project, Keeping most)
{
    return must(project.store().read([&](SQLite::Database& db) {
        AllCells all;
        for (const TableShape& table : project.store().tables()) {
            if (table.keeping == Keeping::Fact && most != Keeping::Fact)
                continue;
            SQLite::Statement q(db, "SELECT * FROM " + table.name + " ORDER BY 1, 2");
            while (q.executeStep()) {
                std::string row;
                for (int c = 0; c < q.getColumnCount(); ++c)
                    row += q.getColumn(c).getString() + "|";
                all[table.name].push_back(std::move(row));
            }
        }
        return all;
    }));
}

bool randomCommand(Project& project, std::mt19937& random, const WhoAndWhen& who)
{
    const std::string disciplines[] = {"Structure", "Ventilation", "Piping"};
    const std::string discipline = disciplines[random() % 3], number = std::to_string(random() % 8);
    const auto deliveries = must(project.deliveries().all());
    const Delivery& delivery = deliveries[random() % deliveries.size()];
    switch (random() % 14) {
    case 0:
        return takeIn(project, {delivery.id, {}, {}}, who).has_value();
    case 1:
        return project.deliveries().decline(delivery.id, "reason " + number, "", who).has_value();
    case 2:
        return project.deliveries().describe(delivery.id, {"Title " + number, "", "S3", ""}, who).has_value();
    case 3:
        return project.deliveries().hold({discipline, "", "reason " + number, {}}, who).has_value();
    case 4:
        return project.deliveries().release(discipline, who).has_value();
    case 5: {
        StoredFit fit;
        fit.fit = {1,
                   Radians{0.1 * static_cast<double>(random() % 10)},
                   {1.0 / 3, static_cast<double>(random() % 5), 4'000'000.125}};
        fit.isLocked = random() % 2 == 0;
        if (const auto present = project.coordinates().fitInUse(discipline); present && present->isLocked)
            return project.coordinates().unlock(discipline, "Moved by the team " + number, who).has_value();
        return project.coordinates().setFit(discipline, fit, who).has_value();
    }
    case 6:
    case 7: {
        MadeRun run(project, {"Structure", "Ventilation", "Piping"});
        for (int i = 0; i < 6; ++i)
            run.pair(run.ref("Structure", "s" + std::to_string(random() % 4)),
                     run.ref("Piping", "p" + std::to_string(random() % 4)), 0.01 * static_cast<double>(random() % 9));
        return recordRun(project, run.run, who).has_value();
    }
    case 8:
    case 9: {
        std::vector<PairId> ids;
        for (const Pair& p : must(project.clashes().all()))
            if (random() % 2 == 0)
                ids.push_back(p.id);
        return !ids.empty() && project.clashes()
                                   .decide(ids, random() % 2 == 0 ? "later" : "let stand", "reason " + number, who)
                                   .has_value();
    }
    case 10: {
        std::vector<PairId> ids;
        for (const Pair& p : must(project.clashes().all()))
            ids.push_back(p.id);
        issues::Issue issue;
        issue.title = "Issue " + number;
        return makeIssue(project, issue, ids, who).has_value();
    }
    case 11: {
        const auto issues = must(project.issues().all());
        return !issues.empty() &&
               project.issues().addComment(issues[random() % issues.size()].uuid, "comment " + number, who).has_value();
    }
    case 12: {
        const auto issues = must(project.issues().all());
        return !issues.empty() &&
               project.issues()
                   .setStatus(issues[random() % issues.size()].uuid, random() % 2 == 0 ? "Closed" : "Open", "so", who)
                   .has_value();
    }
    default:
        return project.setup().setMemberGroup({"Group " + number, {discipline}}, who).has_value();
    }
}

} // namespace wendrix::test
