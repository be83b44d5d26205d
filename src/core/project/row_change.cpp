#include "core/project/row_change.h"

#include "core/project/rows.h"

#include <nlohmann/json.hpp>

#define SQLITE_ENABLE_PREUPDATE_HOOK
#include <sqlite3.h>

#include <algorithm>

namespace wendrix::project {

using Json = nlohmann::json;

namespace {

// Text straight away: a step may be of fifty thousand rows, each a dozen values.
std::string inJson(const Json& value) { return value.dump(-1, ' ', false, Json::error_handler_t::replace); }

void append(std::string& json, const std::string& column, const Cell& cell)
{
    json += json.back() == '{' ? "\"" : ",\"";
    json += column;
    json += "\":";
    json += std::visit(
        [](const auto& value) {
            using Value = std::decay_t<decltype(value)>;
            if constexpr (std::is_same_v<Value, std::monostate>)
                return std::string("null");
            else if constexpr (std::is_same_v<Value, std::int64_t>)
                return std::to_string(value);
            else
                return inJson(value);
        },
        cell);
}

void append(std::string& json, const Cells& cells)
{
    json += '{';
    for (const auto& [column, cell] : cells)
        append(json, column, cell);
    json += '}';
}

std::optional<Cells> cellsFrom(const Json& json, const TableShape& table)
{
    if (!json.is_object())
        return {};
    Cells cells;
    for (const auto& [column, value] : json.items()) {
        if (std::find(table.columns.begin(), table.columns.end(), column) == table.columns.end())
            return {};
        if (value.is_null())
            cells[column] = std::monostate();
        else if (value.is_number_integer())
            cells[column] = value.get<std::int64_t>();
        else if (value.is_number())
            cells[column] = value.get<double>();
        else if (value.is_string())
            cells[column] = value.get<std::string>();
        else
            return {};
    }
    return cells;
}

bool isWholeKey(const Cells& key, const TableShape& table)
{
    return key.size() == table.key.size() && std::all_of(table.key.begin(), table.key.end(),
                                                         [&](std::size_t c) { return key.contains(table.columns[c]); });
}

void bind(SQLite::Statement& q, int at, const Cell& cell)
{
    std::visit(
        [&](const auto& value) {
            if constexpr (std::is_same_v<std::decay_t<decltype(value)>, std::monostate>)
                q.bind(at);
            else
                q.bind(at, value);
        },
        cell);
}

Cell cellOf(const SQLite::Column& column)
{
    if (column.isNull())
        return std::monostate();
    if (column.isInteger())
        return column.getInt64();
    if (column.isFloat())
        return column.getDouble();
    return column.getString();
}

/// A whole number in a column of reals is told as either.
bool isSame(const Cell& a, const Cell& b)
{
    const auto number = [](const Cell& c) -> std::optional<double> {
        if (const auto* whole = std::get_if<std::int64_t>(&c))
            return static_cast<double>(*whole);
        const auto* real = std::get_if<double>(&c);
        return real != nullptr ? std::optional(*real) : std::nullopt;
    };
    return a == b || (a.index() != b.index() && number(a) && number(a) == number(b));
}

std::string joined(const Cells& cells, const char* between, const char* behind)
{
    std::string words;
    for (const auto& [column, cell] : cells)
        words += (words.empty() ? "" : between) + column + behind;
    return words;
}

/// Prepared once for all changes of one shape.
class Statements {
public:
    explicit Statements(SQLite::Database& db) : db_(db) {}
    SQLite::Statement& operator[](const std::string& sql)
    {
        auto& known = known_[sql];
        if (!known)
            known = std::make_unique<SQLite::Statement>(db_, sql);
        known->reset();
        return *known;
    }

private:
    SQLite::Database& db_;
    std::map<std::string, std::unique_ptr<SQLite::Statement>> known_;
};

Error changedSince(const RowChange& change)
{
    return {kChangedSince, "It was changed again since (" + change.table->name + "); nothing was taken back."};
}

/// The row of a key holds these.
bool isThere(Statements& statements, const TableShape& table, const Cells& key, const Cells& expected)
{
    SQLite::Statement& q = statements["SELECT " + joined(expected, ", ", "") + " FROM " + table.name + " WHERE " +
                                      joined(key, " AND ", "=?")];
    int at = 0;
    for (const auto& [column, cell] : key)
        bind(q, ++at, cell);
    if (!q.executeStep())
        return false;
    at = 0;
    for (const auto& [column, cell] : expected)
        if (!isSame(cellOf(q.getColumn(at++)), cell))
            return false;
    return true;
}

} // namespace

Cells RowChange::keyAfter() const
{
    Cells now = key;
    for (auto& [column, cell] : now)
        if (const auto changed = after.find(column); changed != after.end())
            cell = changed->second;
    return now;
}

RowChange inverse(const RowChange& change) { return {change.table, change.keyAfter(), change.after, change.before}; }

namespace {

/// Both as one; the later one follows the earlier one of the same row.
void follow(RowChange& earlier, RowChange later)
{
    if (earlier.isNew()) {
        if (later.isGone()) {
            earlier.after.clear(); // neither before nor after
            return;
        }
        for (auto& [column, cell] : later.after)
            earlier.after[column] = std::move(cell);
        return;
    }
    if (earlier.isGone()) { // and came back, whole: what differs is a change of it
        for (auto before = earlier.before.begin(); before != earlier.before.end();) {
            const auto now = later.after.find(before->first);
            const bool isAsBefore = now != later.after.end() && isSame(now->second, before->second);
            if (!isAsBefore && now != later.after.end())
                earlier.after[before->first] = std::move(now->second);
            before = isAsBefore ? earlier.before.erase(before) : std::next(before);
        }
        return;
    }
    if (later.isGone()) {
        for (auto& [column, cell] : later.before)
            if (!earlier.before.contains(column))
                earlier.before[column] = std::move(cell);
        earlier.after.clear();
        return;
    }
    for (auto& [column, cell] : later.before)
        earlier.before.try_emplace(column, std::move(cell));
    for (auto& [column, cell] : later.after)
        earlier.after[column] = std::move(cell);
    for (auto before = earlier.before.begin(); before != earlier.before.end();) {
        if (isSame(before->second, earlier.after[before->first])) {
            earlier.after.erase(before->first);
            before = earlier.before.erase(before);
        } else {
            ++before;
        }
    }
}

} // namespace

std::vector<RowChange> coalesced(std::vector<RowChange> changes)
{
    // A row that is called otherwise now is another one from there on; such commands are kept as they were done.
    for (const RowChange& change : changes)
        if (change.keyAfter() != change.key)
            return changes;
    std::vector<RowChange> merged;
    std::map<std::pair<const TableShape*, Cells>, std::size_t> places;
    for (RowChange& change : changes) {
        const auto [at, isFirst] = places.try_emplace({change.table, change.key}, merged.size());
        if (isFirst)
            merged.push_back(std::move(change));
        else if (merged[at->second].isNew() && merged[at->second].isGone())
            merged[at->second] = std::move(change); // it was as if nothing had been
        else
            follow(merged[at->second], std::move(change));
    }
    std::erase_if(merged, [](const RowChange& change) { return change.isNew() && change.isGone(); });
    return merged;
}

std::string toJson(const std::vector<RowChange>& changes)
{
    std::string json = "[";
    for (const RowChange& change : changes) {
        json += (json.size() > 1 ? ",[\"" : "[\"") + change.table->name + "\"";
        for (const Cells* cells : {&change.key, &change.before, &change.after}) {
            json += ',';
            append(json, *cells);
        }
        json += ']';
    }
    return json + "]";
}

Result<std::vector<RowChange>> changesFromJson(std::string_view text, const std::vector<TableShape>& tables,
                                               Keeping least)
{
    const Error damaged{kDamagedLog, "The record of this step is damaged; it can not be taken back."};
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_array())
        return fail(damaged);
    std::vector<RowChange> changes;
    for (const Json& one : json) {
        if (!one.is_array() || one.size() != 4 || !one[0].is_string())
            return fail(damaged);
        const auto table = std::find_if(tables.begin(), tables.end(),
                                        [&](const TableShape& t) { return t.name == one[0] && t.keeping <= least; });
        if (table == tables.end())
            return fail(damaged);
        auto key = cellsFrom(one[1], *table), before = cellsFrom(one[2], *table), after = cellsFrom(one[3], *table);
        if (!key || !before || !after || !isWholeKey(*key, *table) || (before->empty() && after->empty()))
            return fail(damaged);
        changes.push_back({&*table, std::move(*key), std::move(*before), std::move(*after)});
    }
    return changes;
}

Result<void> applyChanges(SQLite::Database& db, const std::vector<RowChange>& changes)
{
    Statements statements(db);
    for (const RowChange& change : changes) {
        const TableShape& table = *change.table;
        if (change.isNew()) {
            if (isThere(statements, table, change.key, change.key))
                return fail(changedSince(change));
            std::string places;
            for (std::size_t i = 0; i < change.after.size(); ++i)
                places += i > 0 ? ", ?" : "?";
            SQLite::Statement& q = statements["INSERT INTO " + table.name + "(" + joined(change.after, ", ", "") +
                                              ") VALUES(" + places + ")"];
            int at = 0;
            for (const auto& [column, cell] : change.after)
                bind(q, ++at, cell);
            q.exec();
            continue;
        }
        if (!isThere(statements, table, change.key, change.before))
            return fail(changedSince(change));
        SQLite::Statement& q =
            statements[(change.isGone() ? "DELETE FROM " + table.name
                                        : "UPDATE " + table.name + " SET " + joined(change.after, ", ", "=?")) +
                       " WHERE " + joined(change.key, " AND ", "=?")];
        int at = 0;
        for (const auto& [column, cell] : change.after)
            bind(q, ++at, cell);
        for (const auto& [column, cell] : change.key)
            bind(q, ++at, cell);
        q.exec();
    }
    return {};
}

struct RowWatch::Hook {
    sqlite3* handle;
    const std::vector<TableShape>& tables;
    Seen seen;

    static Cell cellOf(sqlite3_value* value)
    {
        switch (sqlite3_value_type(value)) {
        case SQLITE_NULL:
            return std::monostate();
        case SQLITE_INTEGER:
            return static_cast<std::int64_t>(sqlite3_value_int64(value));
        case SQLITE_FLOAT:
            return sqlite3_value_double(value);
        default:
            return std::string(reinterpret_cast<const char*>(sqlite3_value_text(value)),
                               static_cast<std::size_t>(sqlite3_value_bytes(value)));
        }
    }
    [[nodiscard]] Cell cell(std::size_t column, bool isOld) const
    {
        sqlite3_value* value = nullptr;
        const int at = static_cast<int>(column);
        if ((isOld ? sqlite3_preupdate_old(handle, at, &value) : sqlite3_preupdate_new(handle, at, &value)) !=
                SQLITE_OK ||
            value == nullptr)
            return std::monostate();
        return cellOf(value);
    }
    /// Of what a run finds there are a hundred thousand rows: their text is made straight away.
    void noteFact(const TableShape& table, int what)
    {
        const bool isNew = what == SQLITE_INSERT, isGone = what == SQLITE_DELETE;
        std::string before = "{", after = "{", key = "{";
        for (std::size_t c = 0; c < table.columns.size(); ++c) {
            const Cell old = isNew ? Cell() : cell(c, true), now = isGone ? Cell() : cell(c, false);
            if (!isNew && (isGone || old != now))
                append(before, table.columns[c], old);
            if (!isGone && (isNew || old != now))
                append(after, table.columns[c], now);
        }
        if (before.size() == 1 && after.size() == 1)
            return; // written over with the same
        for (const std::size_t c : table.key)
            append(key, table.columns[c], cell(c, !isNew));
        seen.facts +=
            (seen.facts.empty() ? "[\"" : ",[\"") + table.name + "\"," + key + "}," + before + "}," + after + "}]";
    }
    void note(int what, const char* name)
    {
        const auto table =
            std::find_if(tables.begin(), tables.end(), [&](const TableShape& t) { return t.name == name; });
        if (table == tables.end())
            return;
        seen.books |= static_cast<unsigned>(table->book);
        if (table->keeping == Keeping::Derived)
            return;
        if (table->keeping == Keeping::Fact)
            return noteFact(*table, what);
        const bool isNew = what == SQLITE_INSERT, isGone = what == SQLITE_DELETE;
        RowChange change{&*table, {}, {}, {}};
        for (std::size_t c = 0; c < table->columns.size(); ++c) {
            const std::string& column = table->columns[c];
            if (isNew) {
                change.after[column] = cell(c, false);
            } else if (isGone) {
                change.before[column] = cell(c, true);
            } else {
                Cell before = cell(c, true), after = cell(c, false);
                if (before != after) {
                    change.before[column] = std::move(before);
                    change.after[column] = std::move(after);
                }
            }
        }
        if (change.before.empty() && change.after.empty())
            return; // written over with the same
        for (const std::size_t c : table->key)
            change.key[table->columns[c]] = cell(c, !isNew);
        seen.rows.push_back(std::move(change));
    }
    static void called(void* self, sqlite3*, int what, const char*, const char* table, sqlite3_int64, sqlite3_int64)
    {
        static_cast<Hook*>(self)->note(what, table);
    }
};

RowWatch::RowWatch(SQLite::Database& db, const std::vector<TableShape>& tables)
    : hook_(new Hook{db.getHandle(), tables, {}})
{
    sqlite3_preupdate_hook(hook_->handle, &Hook::called, hook_.get());
}

RowWatch::~RowWatch() { sqlite3_preupdate_hook(hook_->handle, nullptr, nullptr); }

RowWatch::Seen RowWatch::take() { return std::exchange(hook_->seen, {}); }

} // namespace wendrix::project
