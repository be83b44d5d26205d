#pragma once

#include "core/project/records.h"
#include "core/project/store.h"

namespace wendrix::project {

/// The history of a project: who did what and when, what each command did to rows, and taking it back.
///
/// Undo is an event like any other: it makes the inverse changes of the last step of the same person. What somebody
/// else changed on top of it since is never overwritten; the undo is refused then.
class Log {
public:
    explicit Log(Store& store) : store_(store) {}

    [[nodiscard]] Result<std::vector<HistoryLine>> last(int most) const;                 ///< newest first
    [[nodiscard]] Result<std::vector<HistoryLine>> of(const std::string& subject) const; ///< newest first
    /// What undo would take back for this person; empty if nothing.
    [[nodiscard]] Result<std::string> undoable(const std::string& person) const { return label(person, kDone); }
    [[nodiscard]] Result<std::string> redoable(const std::string& person) const { return label(person, kUndone); }
    /// The newest event, to learn of what others did since.
    [[nodiscard]] Result<std::int64_t> newest() const;
    /// Which books events after this one changed.
    [[nodiscard]] Result<Changed> since(std::int64_t event) const;

    /// @param settle  called inside the transaction with what changed, for what is worked out from it
    using Settle = std::function<void(SQLite::Database&, const std::vector<RowChange>&)>;
    /// @return kChangedSince where somebody changed it again; nothing to do is no error
    [[nodiscard]] Result<void> undo(const WhoAndWhen& who, const Settle& settle);
    [[nodiscard]] Result<void> redo(const WhoAndWhen& who, const Settle& settle);

    /// Those of the kept steps that this database does not have: it was put back, or another one stands in its place.
    [[nodiscard]] Result<std::vector<KeptStep>> missing(std::vector<KeptStep> steps) const;
    struct BroughtIn {
        std::size_t steps = 0;
        std::vector<std::string> leftOut; ///< what each of the others was, and why it does not fit
    };
    /// Makes them again, in their order and under who did them then, as one step of undo. One that does not fit what
    /// stands there now is left out, and so is each that builds on it.
    [[nodiscard]] Result<BroughtIn> bringIn(const std::vector<KeptStep>& steps, const WhoAndWhen& who,
                                            const Settle& settle);

private:
    friend class Store;
    enum Standing { kSettled = 0, kDone = 1, kUndone = 2 };
    static constexpr int kMostSteps = 500;
    static constexpr std::int64_t kMostBytes = 64 << 20;

    static std::int64_t writeEvent(SQLite::Database& db, const Deed& deed, const WhoAndWhen& who, unsigned books,
                                   std::int64_t step, std::int64_t reverts);
    /// @param changes  of rows, as toJson() gives them
    /// @return whether steps of this person that were undone are lost for good by it
    static bool writeStep(SQLite::Database& db, std::int64_t id, const std::string& what, const WhoAndWhen& who,
                          const std::string& changes);
    [[nodiscard]] Result<std::string> label(const std::string& person, Standing standing) const;
    [[nodiscard]] Result<void> stepBack(const WhoAndWhen& who, Standing from, const Settle& settle);

    Store& store_;
};

} // namespace wendrix::project
