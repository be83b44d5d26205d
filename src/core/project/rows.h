#pragma once

#include "core/base/vector3.h"
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

/// The same of a number.
template <class... Values>
[[nodiscard]] std::int64_t numberOr(SQLite::Database& db, const char* sql, const Values&... values)
{
    SQLite::Statement q(db, sql);
    int at = 0;
    (bindOne(q, ++at, values), ...);
    return q.executeStep() ? q.getColumn(0).getInt64() : 0;
}

/// Every row, read by `read`.
template <class Read, class... Values>
[[nodiscard]] auto allRows(SQLite::Database& db, const std::string& sql, Read&& read, const Values&... values)
{
    SQLite::Statement q(db, sql);
    int at = 0;
    (bindOne(q, ++at, values), ...);
    std::vector<std::invoke_result_t<Read, SQLite::Statement&>> rows;
    while (q.executeStep())
        rows.push_back(read(q));
    return rows;
}

[[nodiscard]] inline std::size_t count(SQLite::Statement& q, int column)
{
    return static_cast<std::size_t>(q.getColumn(column).getInt64());
}
[[nodiscard]] inline Point3 point(SQLite::Statement& q, int first)
{
    return {q.getColumn(first).getDouble(), q.getColumn(first + 1).getDouble(), q.getColumn(first + 2).getDouble()};
}

/// For LIKE … ESCAPE '\': any text that holds these words, in lower case.
[[nodiscard]] std::string likePattern(const std::string& words);
[[nodiscard]] std::string fieldsToJson(const std::vector<changes::FieldChange>& fields);
[[nodiscard]] std::vector<changes::FieldChange> fieldsFromJson(const std::string& json);
[[nodiscard]] std::string labelsToJson(const std::vector<std::string>& labels);
[[nodiscard]] std::vector<std::string> labelsFromJson(const std::string& json);
/// All of a viewpoint but its snapshot.
[[nodiscard]] std::string viewToJson(const issues::Viewpoint& viewpoint);
[[nodiscard]] issues::Viewpoint viewFromJson(const std::string& uuid, const std::string& json);

} // namespace wendrix::project
