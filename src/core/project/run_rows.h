#pragma once

#include "core/project/records.h"
#include "core/project/rows.h"

/// Between rows and values of pairs and runs; for the clashes book's own files.
namespace wendrix::project {

/// A pair with its two elements, what was decided, and the deliveries that the run which found it last had.
inline constexpr const char* kPairColumns =
    "SELECT p.pair, p.kind, p.test, p.state, p.outcome, p.depth, p.x, p.y, p.z, p.storey, p.bay, p.isApproximate, "
    "a.discipline, a.part, a.guid, a.ordinal, a.name, a.class, am.revision, ad.name, "
    "b.discipline, b.part, b.guid, b.ordinal, b.name, b.class, bm.revision, bd.name, "
    "d.decision, d.reason, d.person, d.time, d.issue, p.distance, p.clearance, p.isOpen, d.until, "
    "d.returned, a.type, a.system, b.type, b.system, p.direction FROM present p "
    "JOIN elements a ON a.id=p.leftElement JOIN elements b ON b.id=p.rightElement "
    "LEFT JOIN disciplines ad ON ad.id=a.discipline LEFT JOIN disciplines bd ON bd.id=b.discipline "
    "LEFT JOIN runMembers am ON am.run=p.foundRun AND am.disciplineId=a.discipline AND am.part=a.part "
    "LEFT JOIN runMembers bm ON bm.run=p.foundRun AND bm.disciplineId=b.discipline AND bm.part=b.part "
    "LEFT JOIN decisions d ON d.pair=p.pair ";
[[nodiscard]] Pair pairOf(SQLite::Statement& q);

inline constexpr const char* kRunColumns = "SELECT id, time, person, cycle, found, notTested, notBuilt FROM runs ";
[[nodiscard]] Run runOf(SQLite::Statement& q);
/// As a run's test keeps it.
[[nodiscard]] std::string toText(const std::map<clash::Meeting, std::size_t>& expected);
/// "1 4": of some disciplines, as a run's test keeps them.
[[nodiscard]] std::string toText(const std::vector<DisciplineId>& disciplines);
/// Its members and tests.
void fillRun(SQLite::Database& db, Run& run);

} // namespace wendrix::project
