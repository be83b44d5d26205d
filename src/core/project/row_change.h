#pragma once

#include "core/base/result.h"
#include "core/project/schema.h"

#include <map>
#include <memory>
#include <optional>
#include <variant>

/// What a command does to rows, as data: what is kept for undo, and what others are told.
namespace wendrix::project {

inline constexpr ErrorCode kChangedSince{"project.changed-since"};
inline constexpr ErrorCode kDamagedLog{"project.damaged-log"};

using Cell = std::variant<std::monostate, std::int64_t, double, std::string>;
using Cells = std::map<std::string, Cell>; ///< by column

/// One row that came, went or changed.
struct RowChange {
    const TableShape* table = nullptr;
    Cells key;    ///< before; after, where the row is new
    Cells before; ///< the columns that differ; the whole row where it went; empty where it is new
    Cells after;  ///< likewise

    [[nodiscard]] bool isNew() const { return before.empty(); }
    [[nodiscard]] bool isGone() const { return after.empty(); }
    [[nodiscard]] Cells keyAfter() const;
};

/// The change that takes this one back.
[[nodiscard]] RowChange inverse(const RowChange& change);

/// The same with each row told once: what a command did to a row and took back itself is nothing.
[[nodiscard]] std::vector<RowChange> coalesced(std::vector<RowChange> changes);

/// As JSON, numbers exact; text that is no UTF-8 loses the bytes that are none.
[[nodiscard]] std::string toJson(const std::vector<RowChange>& changes);
/// Only tables that are kept so, or more carefully, and their own columns are accepted: what stands in the log is data
/// and never executed.
/// @return kDamagedLog
[[nodiscard]] Result<std::vector<RowChange>>
changesFromJson(std::string_view json, const std::vector<TableShape>& tables, Keeping least = Keeping::Undoable);

/// Makes changes in their order, once each row still is as it was before.
/// @return kChangedSince where one is not; the caller's transaction goes back then
[[nodiscard]] Result<void> applyChanges(SQLite::Database& db, const std::vector<RowChange>& changes);

/// Watches what statements of one connection do to the rows of a project's tables.
///
/// SQLite tells it before each change (its preupdate hook), so that no command can forget to be undoable.
class RowWatch {
public:
    /// Both outlive the watch.
    RowWatch(SQLite::Database& db, const std::vector<TableShape>& tables);
    ~RowWatch();
    RowWatch(const RowWatch&) = delete;
    RowWatch& operator=(const RowWatch&) = delete;

    /// What was seen since the last time, in its order.
    struct Seen {
        std::vector<RowChange> rows; ///< but those of facts
        std::string facts;           ///< the same of facts, as toJson() writes them, without the brackets around all
        unsigned books = 0;          ///< of Book, of whatever table
    };
    [[nodiscard]] Seen take();

private:
    struct Hook;
    std::unique_ptr<Hook> hook_;
};

} // namespace wendrix::project
