#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

namespace wendrix::project {

/// Brings the database of an earlier version up to kSchemaVersion, inside the caller's transaction.
///
/// Everything that was kept is kept: history, decisions, issues, fits, runs. What could be undone then can not be
/// undone any more: those versions kept statements to be executed for it, and a project is data.
/// @param version  1 to 7
void migrate(SQLite::Database& db, int version);

} // namespace wendrix::project
