#include "core/base/element_ref_json.h"
#include "core/project/change_rows.h"
#include "core/project/changes_book.h"

/// How comparisons, reviews and rules are written.
namespace wendrix::project {

Result<void> ChangesBook::review(std::span<const ChangeKey> changes, const std::string& review, const std::string& name,
                                 const WhoAndWhen& who)
{
    return store_.act({Book::Changes, "Change " + review + ": " + name}, who, [&](SQLite::Database& db) {
        SQLite::Statement q(db, "INSERT INTO reviews VALUES(?, ?, ?, ?, ?) ON CONFLICT(comparison, number) DO UPDATE "
                                "SET review=excluded.review, person=excluded.person, time=excluded.time");
        for (const ChangeKey& key : changes)
            runAgain(q, key.comparison, key.number, review, who.person, who.time);
    });
}

std::int64_t ChangesBook::write(SQLite::Database& db, const NewComparison& n, const WhoAndWhen& who) const
{
    const std::int64_t id = nextNumber(db, "comparison");
    const ComparisonRecord& k = n.record;
    run(db, "INSERT INTO comparisons VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", id, n.discipline, k.from, k.to,
        changes::toJson(k.rule), fitsToJson(k.fromFit, k.toFit), static_cast<std::int64_t>(n.changes.size()),
        static_cast<std::int64_t>(k.unchanged), static_cast<std::int64_t>(k.leftOut), k.isAsked ? 1 : 0, who.person,
        who.time);
    SQLite::Statement q(db, "INSERT INTO changes VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, "
                            "?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
    std::int64_t number = 0;
    for (const ChangeRecord& c : n.changes) {
        const ElementRef was = c.continues.value_or(ElementRef{});
        q.reset();
        int at = 0;
        const auto put = [&](const auto&... values) { (bindOne(q, ++at, values), ...); };
        put(id, number++, c.element.guid, c.element.part, static_cast<std::int64_t>(c.element.ordinal), was.guid,
            was.part, static_cast<std::int64_t>(was.ordinal), c.parts.empty() ? std::string() : toJson(c.parts).dump(),
            static_cast<int>(c.kinds), c.name, c.className, c.type, c.system, c.zone, c.phase, c.storey, c.shift.x,
            c.shift.y, c.shift.z, c.turn.value, c.turnAxis.x, c.turnAxis.y, c.turnAxis.z, c.confidence, c.extents,
            c.volumeBefore, c.volumeAfter);
        for (const Point3& corner : {c.place.min, c.place.max})
            for (int axis = 0; axis < 3; ++axis)
                if (c.place.isEmpty())
                    q.bind(++at);
                else
                    q.bind(++at, corner[axis]);
        put(c.fields.empty() ? std::string() : fieldsToJson(c.fields), c.alike);
        q.exec();
    }
    SQLite::Statement goesOn(db, "INSERT INTO continuations VALUES(?, ?, ?, ?, ?, ?, ?)");
    for (const Continuation& c : n.continuations)
        runAgain(goesOn, id, c.element.guid, c.element.part, static_cast<std::int64_t>(c.element.ordinal),
                 c.before.guid, c.before.part, static_cast<std::int64_t>(c.before.ordinal));
    return id;
}

namespace {

/// What was said of the same elements when these two deliveries were compared last, where they changed the same way.
void carryReviews(SQLite::Database& db, std::int64_t to)
{
    run(db,
        "INSERT INTO reviews SELECT n.comparison, n.number, r.review, r.person, r.time FROM comparisons k JOIN "
        "comparisons o ON o.id=(SELECT MAX(p.id) FROM comparisons p WHERE p.fromDelivery=k.fromDelivery AND "
        "p.toDelivery=k.toDelivery AND p.discipline=k.discipline AND p.id<k.id) JOIN changes c ON c.comparison=o.id "
        "JOIN reviews r ON r.comparison=c.comparison AND r.number=c.number JOIN changes n ON n.comparison=k.id AND "
        "n.guid=c.guid AND n.part=c.part AND n.ordinal=c.ordinal AND n.kinds=c.kinds AND n.sx=c.sx AND n.sy=c.sy AND "
        "n.sz=c.sz AND n.extents=c.extents AND n.fields=c.fields WHERE k.id=?",
        to);
}

} // namespace

Result<std::vector<std::int64_t>> ChangesBook::keep(std::span<const NewComparison> comparisons, const std::string& what,
                                                    const WhoAndWhen& who)
{
    std::vector<std::int64_t> ids;
    auto done = store_.act({Book::Changes, what}, who, [&](SQLite::Database& db) {
        ids.clear();
        for (const NewComparison& one : comparisons) {
            ids.push_back(write(db, one, who));
            carryReviews(db, ids.back());
        }
    });
    if (!done)
        return fail(done.error());
    return ids;
}

Result<void> ChangesBook::drop(std::span<const std::int64_t> comparisons, const WhoAndWhen& who)
{
    return store_.act({Book::Changes, "Comparison dropped"}, who, [&](SQLite::Database& db) {
        for (const std::int64_t id : comparisons) {
            run(db,
                "DELETE FROM reviews WHERE comparison=? AND comparison IN (SELECT id FROM comparisons WHERE isAsked=1)",
                id);
            run(db, "DELETE FROM comparisons WHERE id=? AND isAsked=1", id);
        }
    });
}

Result<std::vector<ChangesBook::NamedRule>> ChangesBook::rules() const
{
    return store_.read([](SQLite::Database& db) {
        auto all =
            allRows(db, "SELECT name, rule FROM changeRules ORDER BY saved DESC, name", [](SQLite::Statement& q) {
                return NamedRule{text(q, 0), changes::ruleFromJson(text(q, 1))};
            });
        if (all.empty())
            all.push_back({"Usual", {}});
        return all;
    });
}

Result<void> ChangesBook::useRule(const NamedRule& rule, const WhoAndWhen& who)
{
    if (rule.name.empty())
        return fail({kBadRule, "A rule of what counts needs a name."});
    if (const auto mistake = mistakeIn(rule.rule))
        return fail({kBadRule, *mistake});
    return store_.act({Book::Changes, "What counts as a change: " + rule.name}, who, [&](SQLite::Database& db) {
        run(db,
            "INSERT INTO changeRules VALUES(?, ?, (SELECT COALESCE(MAX(saved), 0) + 1 FROM changeRules)) ON "
            "CONFLICT(name) DO UPDATE SET rule=excluded.rule, saved=excluded.saved",
            rule.name, changes::toJson(rule.rule));
    });
}

Result<void> ChangesBook::removeRule(const std::string& name, const WhoAndWhen& who)
{
    return store_.act({Book::Changes, "Rule of what counts removed: " + name}, who,
                      [&](SQLite::Database& db) { run(db, "DELETE FROM changeRules WHERE name=?", name); });
}

void ChangesBook::tidy(SQLite::Database& db)
{
    for (const std::string table : {"changes", "continuations"}) {
        // From one comparison that has rows to the next by the index, instead of over all rows: usually none is too
        // many.
        const std::string lost = "WITH RECURSIVE k(id) AS (SELECT MIN(comparison) FROM " + table +
                                 " UNION ALL SELECT (SELECT MIN(comparison) FROM " + table +
                                 " WHERE comparison>k.id) FROM k WHERE k.id IS NOT NULL) SELECT COUNT(*) FROM k WHERE "
                                 "id IS NOT NULL AND id NOT IN (SELECT id FROM comparisons)";
        if (numberOr(db, lost.c_str()) > 0)
            db.exec("DELETE FROM " + table + " WHERE comparison NOT IN (SELECT id FROM comparisons)");
    }
}

} // namespace wendrix::project
