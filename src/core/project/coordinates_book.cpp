#include "core/project/coordinates_book.h"

#include "core/base/number.h"
#include "core/base/text.h"
#include "core/federation/standing.h"
#include "core/project/rows.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace wendrix::project {

namespace {

constexpr Table kTables[] = {
    {"fits",
     "id INTEGER PRIMARY KEY, discipline TEXT, delivery INTEGER, scale REAL, rotation REAL, x REAL, y REAL, z REAL, "
     "locked INTEGER, accepted INTEGER, "
     "method TEXT, worst REAL, residuals TEXT, person TEXT, time TEXT",
     Book::Coordinates},
};
constexpr const char* kIndexes[] = {"CREATE INDEX fitsByDiscipline ON fits(discipline)"};

constexpr const char* kColumns = "SELECT f.id, f.delivery, f.scale, f.rotation, f.x, f.y, f.z, f.locked, f.accepted, "
                                 "f.method, f.worst, f.residuals, f.person, f.time FROM fits f ";

using Json = nlohmann::json;

Json toJson(const coordinates::Held& h)
{
    return {static_cast<int>(h.kind),
            h.place.x,
            h.place.y,
            h.place.z,
            h.direction.x,
            h.direction.y,
            h.direction.z,
            h.length,
            h.hasHeight,
            h.name};
}

/// What a fit was made of and what it left: an array of crossings, or an object of those and of pairs taken by hand.
std::string madeOfToJson(const StoredFit& fit)
{
    Json crossings = Json::array();
    for (const federation::Residual& r : fit.residuals)
        crossings.push_back({r.first, r.second, r.reference.x, r.reference.y, r.reference.z, r.fitted.x, r.fitted.y,
                             r.fitted.z, r.distance.value});
    Json json = crossings;
    if (!fit.pairs.empty()) {
        Json pairs = Json::array();
        for (const coordinates::HandPair& p : fit.pairs)
            pairs.push_back({toJson(p.moving), toJson(p.reference), p.weight});
        json = Json{{"crossings", std::move(crossings)}, {"pairs", std::move(pairs)}};
    }
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

double finite(const Json& number)
{
    const double value = number.is_number() ? number.get<double>() : 0;
    return std::isfinite(value) ? value : 0;
}

std::optional<coordinates::Held> heldFromJson(const Json& json)
{
    if (!json.is_array() || json.size() != 10 || !json[0].is_number_integer() || !json[8].is_boolean() ||
        !json[9].is_string())
        return {};
    const int kind = json[0].get<int>();
    if (kind < 0 || kind > static_cast<int>(coordinates::Held::Kind::Face))
        return {};
    return coordinates::Held{static_cast<coordinates::Held::Kind>(kind),
                             {finite(json[1]), finite(json[2]), finite(json[3])},
                             {finite(json[4]), finite(json[5]), finite(json[6])},
                             finite(json[7]),
                             json[8].get<bool>(),
                             json[9].get<std::string>()};
}

/// Odd entries are left out.
void madeOfFromJson(const std::string& text, StoredFit& fit)
{
    const Json json = Json::parse(text, nullptr, false);
    const auto listOf = [&](const char* name) -> const Json& {
        static const Json none = Json::array();
        const auto found = json.is_object() ? json.find(name) : json.end();
        return found != json.end() && found->is_array() ? *found : none;
    };
    for (const Json& r : json.is_array() ? json : listOf("crossings")) {
        if (!r.is_array() || r.size() != 9 || !r[0].is_string() || !r[1].is_string())
            continue;
        double n[7];
        for (std::size_t i = 0; i < 7; ++i)
            n[i] = finite(r[i + 2]);
        fit.residuals.push_back({r[0], r[1], {n[0], n[1], n[2]}, {n[3], n[4], n[5]}, Metres{n[6]}});
    }
    for (const Json& p : listOf("pairs")) {
        if (!p.is_array() || p.size() != 3 || !p[2].is_number())
            continue;
        const auto moving = heldFromJson(p[0]), reference = heldFromJson(p[1]);
        if (moving && reference)
            fit.pairs.push_back({*moving, *reference, finite(p[2])});
    }
}

StoredFit fitOf(SQLite::Statement& q)
{
    StoredFit f;
    f.id = q.getColumn(0).getInt64();
    f.delivery = q.getColumn(1).getInt64();
    f.fit = {q.getColumn(2).getDouble(), Radians{q.getColumn(3).getDouble()}, point(q, 4)};
    f.isLocked = q.getColumn(7).getInt() != 0;
    f.isAccepted = q.getColumn(8).getInt() != 0;
    f.method = text(q, 9);
    f.worst = q.getColumn(10).getDouble();
    madeOfFromJson(text(q, 11), f);
    f.by = {text(q, 12), text(q, 13)};
    return f;
}

constexpr const char *kPlace = "place", *kStandsRight = "standsRight"; // in the table of what the project says

template <class T>
Json numberOf(const std::optional<T>& value)
{
    if constexpr (std::is_same_v<T, double>)
        return value ? Json(*value) : Json();
    else
        return value ? Json(value->value) : Json();
}

std::string toJson(const AgreedPlace& place)
{
    const ifc::Georeference& g = place.says;
    return Json{{"crs", g.crs ? Json(*g.crs) : Json()},
                {"eastings", numberOf(g.eastings)},
                {"northings", numberOf(g.northings)},
                {"height", numberOf(g.height)},
                {"rotation", numberOf(g.rotation)},
                {"scale", numberOf(g.scale)},
                {"latitude", numberOf(g.latitudeDegrees)},
                {"longitude", numberOf(g.longitudeDegrees)},
                {"elevation", numberOf(g.siteElevation)},
                {"trueNorth", numberOf(g.trueNorth)},
                {"from", place.from},
                {"person", place.by.person},
                {"time", place.by.time}}
        .dump(-1, ' ', false, Json::error_handler_t::replace);
}

/// Nothing where the text is none; odd numbers are as if they were not said.
std::optional<AgreedPlace> agreedPlace(const std::string& text)
{
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object())
        return {};
    const auto number = [&](const char* name) -> std::optional<double> {
        const auto found = json.find(name);
        if (found == json.end() || !found->is_number())
            return {};
        const double value = found->get<double>();
        return std::isfinite(value) && std::abs(value) < 1e9 ? std::optional(value) : std::nullopt;
    };
    const auto words = [&](const char* name) {
        const auto found = json.find(name);
        return found != json.end() && found->is_string() ? found->get<std::string>() : std::string();
    };
    AgreedPlace place;
    ifc::Georeference& g = place.says;
    if (!words("crs").empty())
        g.crs = words("crs");
    g.eastings = number("eastings");
    g.northings = number("northings");
    g.height = number("height");
    if (const auto rotation = number("rotation"))
        g.rotation = Radians{*rotation};
    if (const auto scale = number("scale"); scale && *scale > 0)
        g.scale = scale;
    g.latitudeDegrees = number("latitude");
    g.longitudeDegrees = number("longitude");
    if (const auto elevation = number("elevation"))
        g.siteElevation = Metres{*elevation};
    if (const auto north = number("trueNorth"))
        g.trueNorth = Radians{*north};
    place.from = words("from");
    place.by = {words("person"), words("time")};
    return place;
}

bool isALimit(double metres) { return metres >= 0.0001 && metres <= 1; }

void keep(SQLite::Database& db, const char* key, const std::string& value)
{
    run(db, "INSERT INTO meta VALUES(?, ?) ON CONFLICT(key) DO UPDATE SET value=excluded.value", std::string(key),
        value);
}

StoredFit firstOf(std::vector<StoredFit> found) { return found.empty() ? StoredFit{} : std::move(found.front()); }

StoredFit inUseOf(SQLite::Database& db, const std::string& discipline)
{
    return firstOf(allRows(db,
                           std::string(kColumns) +
                               "JOIN composition c ON c.discipline=f.discipline JOIN deliveries u ON "
                               "u.id=c.delivery LEFT JOIN deliveries d ON d.id=f.delivery "
                               "WHERE f.discipline=? AND (f.delivery=u.id OR d.id IS NULL OR d.time<u.time OR "
                               "(d.time=u.time AND d.id<u.id)) "
                               "ORDER BY CASE WHEN f.delivery=u.id THEN 0 ELSE 1 END, f.id DESC LIMIT 1",
                           project::fitOf, discipline));
}

} // namespace

std::span<const Table> CoordinatesBook::tables() { return kTables; }
std::span<const char* const> CoordinatesBook::indexes() { return kIndexes; }

Result<StoredFit> CoordinatesBook::fitOf(const Delivery& d) const
{
    return store_.read([&](SQLite::Database& db) {
        // Those on this delivery first, then those on earlier ones; the newest of each. A delivery that is no longer
        // there (its receiving was undone) or an old project's unknown one is earlier than all.
        return firstOf(allRows(db,
                               std::string(kColumns) +
                                   "LEFT JOIN deliveries d ON d.id=f.delivery WHERE f.discipline=? AND (f.delivery=? "
                                   "OR d.id IS NULL OR d.time<? OR (d.time=? AND d.id<?)) "
                                   "ORDER BY CASE WHEN f.delivery=? THEN 0 ELSE 1 END, f.id DESC LIMIT 1",
                               project::fitOf, d.discipline, d.id, d.time, d.time, d.id, d.id));
    });
}

Result<StoredFit> CoordinatesBook::fitInUse(const std::string& discipline) const
{
    return store_.read([&](SQLite::Database& db) { return inUseOf(db, discipline); });
}

Result<std::vector<StoredFit>> CoordinatesBook::allOf(const std::string& discipline) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(db, std::string(kColumns) + "WHERE f.discipline=? ORDER BY f.id", project::fitOf, discipline);
    });
}

Result<void> CoordinatesBook::setFit(const std::string& discipline, const StoredFit& f, const WhoAndWhen& who)
{
    const std::string what = f.isAccepted ? "To be tested as it stands: "
                             : f.isLocked ? "Fit applied and locked: "
                                          : "Fit changed: ";
    return store_.act({Book::Coordinates, what + discipline, subjectOf(discipline)}, who, [&](SQLite::Database& db) {
        if (const StoredFit present = inUseOf(db, discipline);
            present.isLocked && !(f.isLocked && f.fit == present.fit))
            throw Refused{
                {kFitLocked,
                 "The fit of " + discipline + " is locked by " + present.by.person + ". Unlock it first, and say why.",
                 discipline}};
        write(db, discipline, f, who);
    });
}

Result<void> CoordinatesBook::unlock(const std::string& discipline, const std::string& reason, const WhoAndWhen& who)
{
    if (reason.find_first_not_of(" \t\r\n") == std::string::npos)
        return fail({kNoReason, "Say why " + discipline + " is unlocked; others build on where it stands."});
    return store_.act({Book::Coordinates, "Unlocked: " + discipline + ": " + reason, subjectOf(discipline)}, who,
                      [&](SQLite::Database& db) {
                          StoredFit present = inUseOf(db, discipline);
                          present.isLocked = false;
                          write(db, discipline, present, who);
                      });
}

Result<std::optional<AgreedPlace>> CoordinatesBook::place() const
{
    return store_.read([&](SQLite::Database& db) {
        return agreedPlace(textOr(db, "SELECT value FROM meta WHERE key=?", std::string(kPlace)));
    });
}

Result<void> CoordinatesBook::setPlace(const AgreedPlace& place, const WhoAndWhen& who)
{
    AgreedPlace kept = place;
    kept.by = who;
    return store_.act({Book::Coordinates, "Coordinates taken over from " + place.from, {}}, who,
                      [&](SQLite::Database& db) { keep(db, kPlace, toJson(kept)); });
}

Result<Metres> CoordinatesBook::standsRight() const
{
    return store_.read([&](SQLite::Database& db) {
        const auto limit = numberIn(textOr(db, "SELECT value FROM meta WHERE key=?", std::string(kStandsRight)));
        return limit && isALimit(*limit) ? Metres{*limit} : federation::kStandsRight;
    });
}

Result<void> CoordinatesBook::setStandsRight(Metres limit, const WhoAndWhen& who)
{
    if (!isALimit(limit.value))
        return fail({kOddLimit, "What stands right lies between 0.1 mm and 1 m."});
    return store_.act({Book::Coordinates, "A member stands right up to " + lengthInWords(limit), {}}, who,
                      [&](SQLite::Database& db) { keep(db, kStandsRight, exactNumber(limit.value)); });
}

void CoordinatesBook::write(SQLite::Database& db, const std::string& discipline, const StoredFit& f,
                            const WhoAndWhen& who)
{
    const Vector3 t = f.fit.translation;
    run(db, "INSERT INTO fits VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", nextNumber(db, "fit"), discipline,
        numberOr(db, "SELECT delivery FROM composition WHERE discipline=?", discipline), f.fit.scale,
        f.fit.rotation.value, t.x, t.y, t.z, f.isLocked ? 1 : 0, f.isAccepted ? 1 : 0, f.method, f.worst,
        madeOfToJson(f), who.person, who.time);
}

} // namespace wendrix::project
