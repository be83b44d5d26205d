#include "core/project/log.h"
#include "core/project/rows.h"

#include <algorithm>
#include <map>
#include <set>

namespace wendrix::project {

namespace {

/// A column that holds the number of another table's row.
struct Reference {
    const char *table, *column, *to;
};

constexpr Reference kReferences[] = {
    {"documents", "delivery", "deliveries"},
    {"moreModels", "delivery", "deliveries"},
    {"taken", "delivery", "deliveries"},
    {"composition", "delivery", "deliveries"},
    {"fits", "delivery", "deliveries"},
    {"runMembers", "delivery", "deliveries"},
    {"runMembers", "run", "runs"},
    {"runTests", "run", "runs"},
    {"findings", "run", "runs"},
    {"findings", "pair", "pairs"},
    {"decisions", "pair", "pairs"},
    {"pairs", "first", "elements"},
    {"pairs", "second", "elements"},
    {"findings", "leftElement", "elements"},
    {"findings", "rightElement", "elements"},
    {"comparisons", "fromDelivery", "deliveries"},
    {"comparisons", "toDelivery", "deliveries"},
    {"changes", "comparison", "comparisons"},
    {"continuations", "comparison", "comparisons"},
    {"reviews", "comparison", "comparisons"},
    {"elements", "discipline", "disciplines"},
    {"runMembers", "disciplineId", "disciplines"},
    {"comparisons", "discipline", "disciplines"},
    {"issueElements", "discipline", "disciplines"},
};

const std::string* textIn(const Cells& cells, const std::string& column)
{
    const auto at = cells.find(column);
    return at == cells.end() ? nullptr : std::get_if<std::string>(&at->second);
}

/// Rows that a step made which was left out: whoever speaks of their numbers would speak of other ones.
class LeftOut {
public:
    void note(const std::vector<RowChange>& changes)
    {
        for (const RowChange& change : changes) {
            rows_[change.table->name].insert(change.keyAfter());
            if (const auto id = change.after.find("id"); id != change.after.end()) // of a discipline beside its name
                rows_[change.table->name].insert({{"id", id->second}});
        }
    }
    [[nodiscard]] bool isSpokenOfBy(const std::vector<RowChange>& changes) const
    {
        return !rows_.empty() && std::any_of(changes.begin(), changes.end(), [&](const RowChange& change) {
            return has(change.table->name, change.key) ||
                   std::any_of(std::begin(kReferences), std::end(kReferences), [&](const Reference& r) {
                       return r.table == change.table->name && (refersTo(r, change.key) || refersTo(r, change.after));
                   });
        });
    }

private:
    [[nodiscard]] bool has(const std::string& table, const Cells& key) const
    {
        const auto rows = rows_.find(table);
        return rows != rows_.end() && rows->second.contains(key);
    }
    [[nodiscard]] bool refersTo(const Reference& r, const Cells& cells) const
    {
        const auto value = cells.find(r.column);
        return value != cells.end() && has(r.to, {{"id", value->second}});
    }
    std::map<std::string, std::set<Cells>> rows_;
};

/// Somebody may have given the number of an issue to another one meanwhile: it gets one that is free.
void renumberIssues(SQLite::Database& db, std::vector<RowChange>& changes)
{
    for (RowChange& change : changes) {
        if (change.table->name != "issues" || !change.isNew())
            continue;
        auto& number = change.after["number"];
        const auto* value = std::get_if<std::int64_t>(&number);
        const std::string* prefix = textIn(change.after, "prefix");
        if (value != nullptr && prefix != nullptr &&
            numberOr(db, "SELECT COUNT(*) FROM issues WHERE number=? AND prefix=?", *value, *prefix) > 0)
            number = nextNumber(db, "issue");
    }
}

using EventKey = std::tuple<std::string, std::string, std::string, std::string>;
EventKey keyOf(const KeptEvent& e) { return {e.by.time, e.by.person, e.what, e.subject}; }

} // namespace

Result<std::vector<KeptStep>> Log::missing(std::vector<KeptStep> steps) const
{
    if (steps.empty())
        return steps;
    Timestamp first = steps.front().events.front().by.time;
    for (const KeptStep& step : steps)
        for (const KeptEvent& e : step.events)
            first = std::min(first, e.by.time);
    return store_.read([&](SQLite::Database& db) {
        std::map<EventKey, int> there;
        SQLite::Statement q(db, "SELECT time, person, what, subject FROM events WHERE time>=?");
        q.bind(1, first);
        while (q.executeStep())
            ++there[{text(q, 0), text(q, 1), text(q, 2), text(q, 3)}];
        std::erase_if(steps, [&](const KeptStep& step) {
            bool isThere = true;
            for (const KeptEvent& e : step.events)
                if (const auto known = there.find(keyOf(e)); known == there.end() || known->second-- <= 0)
                    isThere = false;
            return isThere;
        });
        return steps;
    });
}

Result<Log::BroughtIn> Log::bringIn(const std::vector<KeptStep>& steps, const WhoAndWhen& who, const Settle& settle)
{
    if (!store_.readOnly_.empty())
        return fail({kReadOnly, store_.readOnly_});
    BroughtIn brought;
    const auto done = store_.transact([&]() -> Result<void> {
        SQLite::Database& db = store_.database_;
        const std::int64_t stepId = nextNumber(db, "step");
        std::vector<RowChange> all;
        LeftOut leftOut;
        for (const KeptStep& step : steps) {
            const auto leave = [&](const std::string& why) {
                brought.leftOut.push_back(step.events.front().what + ": " + why);
            };
            const auto text = changesOf(step);
            auto changes = text ? changesFromJson(*text, store_.tables_, Keeping::Fact) : fail(text.error());
            if (!changes) {
                leave("its record is damaged");
                continue;
            }
            if (leftOut.isSpokenOfBy(*changes)) {
                leave("it builds on one that does not fit");
                leftOut.note(*changes);
                continue;
            }
            db.exec("SAVEPOINT one");
            renumberIssues(db, *changes);
            if (auto applied = applyChanges(db, *changes); !applied) {
                db.exec("ROLLBACK TO one");
                db.exec("RELEASE one");
                (void)store_.watch_->take();
                leave("something else stands there now");
                leftOut.note(*changes);
                continue;
            }
            db.exec("RELEASE one");
            for (const auto& [name, value] : step.counters)
                skipNumbers(db, name, value);
            RowWatch::Seen seen = store_.watch_->take();
            for (const KeptEvent& e : step.events) {
                const Deed deed{static_cast<Book>(e.books), e.what, e.subject};
                store_.noteChanged(seen, writeEvent(db, deed, e.by, seen.books, stepId, 0));
            }
            std::move(seen.rows.begin(), seen.rows.end(), std::back_inserter(all));
            ++brought.steps;
        }
        if (brought.steps == 0)
            return {};
        settle(db, all); // before the rows are merged: a run that went is settled too
        const Deed line{Book::Setup, "Brought in: " + std::to_string(brought.steps) +
                                         (brought.steps == 1 ? " step that was" : " steps that were") +
                                         " kept beside the project"};
        const RowWatch::Seen seen = store_.watch_->take();
        store_.noteEvent(seen, writeEvent(db, line, who, seen.books, stepId, 0), line, who);
        // Their own file has what they did; the new one that they were brought in.
        (void)writeStep(db, stepId, line.what, who, toJson(coalesced(std::move(all))));
        return {};
    });
    if (!done)
        return fail(done.error());
    return brought;
}

} // namespace wendrix::project
