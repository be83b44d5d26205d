#include "core/base/text.h"
#include "core/project/clashes_book.h"
#include "core/project/rows.h"

#include <algorithm>
#include <map>

/// What the runs said of pairs, one after the other.
namespace wendrix::project {

namespace {

constexpr const char* kMoments =
    "SELECT r.id, r.person, r.time, f.outcome, f.depth, f.isApproximate, f.distance, t.clearance, p.kind FROM findings "
    "f JOIN runs r ON r.id=f.run JOIN pairs p ON p.id=f.pair LEFT JOIN runTests t ON t.run=f.run AND t.place=f.test "
    "WHERE f.pair=? ORDER BY r.id";

PairMoment momentOf(SQLite::Statement& q)
{
    return {q.getColumn(0).getInt64(),
            {text(q, 1), text(q, 2)},
            static_cast<clash::Outcome>(q.getColumn(3).getInt()),
            {},
            {static_cast<clash::Kind>(q.getColumn(8).getInt()), q.getColumn(4).getDouble(),
             q.getColumn(5).getInt() != 0, q.getColumn(6).getDouble(), q.getColumn(7).getDouble()}};
}

/// Each moment with the state that it left the pair in.
void addStates(std::vector<PairMoment>& moments)
{
    std::optional<clash::PairState> state;
    for (PairMoment& m : moments) {
        state = clash::nextState(state, m.outcome);
        m.state = state.value_or(clash::PairState::New);
    }
}

} // namespace

std::string GroupMoment::inWords() const
{
    std::string words;
    for (const auto& [count, word] :
         {std::pair{isNew, "new"}, std::pair{stillThere, "still there"}, std::pair{back, "back"},
          std::pair{gone, "gone"}, std::pair{notTested, "not tested"}})
        if (count > 0)
            words += (words.empty() ? "" : ", ") + std::to_string(count) + " " + word;
    return words;
}

Result<RunId> ClashesBook::firstRunWith(DeliveryId delivery) const
{
    return store_.read([&](SQLite::Database& db) {
        return numberOr(
            db,
            "SELECT COALESCE(MIN(r.id), 0) FROM runs r JOIN runMembers m ON m.run=r.id WHERE m.delivery=? AND "
            "m.isTested=1",
            delivery);
    });
}

Result<std::vector<PairMoment>> ClashesBook::historyOf(PairId pair) const
{
    return store_.read([&](SQLite::Database& db) {
        auto moments = allRows(db, kMoments, momentOf, pair);
        addStates(moments);
        return moments;
    });
}

Result<std::vector<GroupMoment>> ClashesBook::historyOf(std::span<const PairId> pairs) const
{
    return store_.read([&](SQLite::Database& db) {
        std::map<RunId, GroupMoment> byRun;
        SQLite::Statement q(db, kMoments);
        for (const PairId pair : pairs) {
            q.reset();
            q.bind(1, pair);
            std::vector<PairMoment> moments;
            while (q.executeStep())
                moments.push_back(momentOf(q));
            addStates(moments);
            for (const PairMoment& m : moments) {
                GroupMoment& group = byRun[m.run];
                group.run = m.run;
                group.by = m.by;
                std::size_t& count = !clash::isTested(m.outcome)               ? group.notTested
                                     : m.state == clash::PairState::New        ? group.isNew
                                     : m.state == clash::PairState::StillThere ? group.stillThere
                                     : m.state == clash::PairState::Back       ? group.back
                                                                               : group.gone;
                ++count;
            }
        }
        std::vector<GroupMoment> history;
        for (auto& [run, moment] : byRun)
            history.push_back(std::move(moment));
        return history;
    });
}

} // namespace wendrix::project
