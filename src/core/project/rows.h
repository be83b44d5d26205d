#pragma once

#include "core/changes/comparison.h"
#include "core/issues/issue.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <string>
#include <vector>

/// Between rows and values; for the project's own files.
namespace wendrix::project {

inline void bindOne(SQLite::Statement& q, int at, const std::string& v) { q.bind(at, v); }
inline void bindOne(SQLite::Statement& q, int at, double v) { q.bind(at, v); }
inline void bindOne(SQLite::Statement& q, int at, int v) { q.bind(at, v); }
inline void bindOne(SQLite::Statement& q, int at, std::int64_t v) { q.bind(at, v); }

/// A statement once more, with these parameters in order: for what is written a hundred thousand times.
template <class... Values>
void runAgain(SQLite::Statement& q, const Values&... values)
{
    q.reset();
    int at = 0;
    (bindOne(q, ++at, values), ...);
    q.exec();
}

/// One statement with its parameters in order.
template <class... Values>
void run(SQLite::Database& db, const char* sql, const Values&... values)
{
    SQLite::Statement q(db, sql);
    runAgain(q, values...);
}

[[nodiscard]] inline std::string text(SQLite::Statement& q, int column) { return q.getColumn(column).getString(); }

/// The first column of the first row, or nothing.
template <class... Values>
[[nodiscard]] std::string textOr(SQLite::Database& db, const char* sql, const Values&... values)
{
    SQLite::Statement q(db, sql);
    int at = 0;
    (bindOne(q, ++at, values), ...);
    return q.executeStep() ? q.getColumn(0).getString() : std::string();
}

[[nodiscard]] std::string fieldsToJson(const std::vector<changes::FieldChange>& fields);
[[nodiscard]] std::vector<changes::FieldChange> fieldsFromJson(const std::string& json);
[[nodiscard]] std::string labelsToJson(const std::vector<std::string>& labels);
[[nodiscard]] std::vector<std::string> labelsFromJson(const std::string& json);
/// All of a viewpoint but its snapshot.
[[nodiscard]] std::string viewToJson(const issues::Viewpoint& viewpoint);
[[nodiscard]] issues::Viewpoint viewFromJson(const std::string& uuid, const std::string& json);

} // namespace wendrix::project
