#pragma once

#include "core/project/records.h"
#include "core/project/rows.h"

/// Between rows of changes and comparisons and their values; for the project's own files.
namespace wendrix::project {

/// SELECT ... of whole changes, without a WHERE; c are changes, k their comparisons, d the disciplines.
extern const char* const kChangeColumns;
[[nodiscard]] ChangeRecord changeOf(SQLite::Statement& q);

/// The same of comparisons, k.
extern const char* const kComparisonColumns;
[[nodiscard]] ComparisonRecord comparisonOf(SQLite::Statement& q);
[[nodiscard]] std::string fitsToJson(const federation::Fit& from, const federation::Fit& to);

/// The comparisons that are in force, as a list of ids in brackets.
extern const char* const kComparisonsInForce;

} // namespace wendrix::project
