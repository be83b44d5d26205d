#include "core/project/change_rows.h"

#include "core/base/element_ref_json.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace wendrix::project {

using Json = nlohmann::json;

const char* const kComparisonsInForce =
    "(SELECT MAX(k.id) FROM comparisons k JOIN composition u ON u.delivery=k.toDelivery WHERE k.isAsked=0 GROUP BY "
    "k.discipline)";

const char* const kChangeColumns =
    "SELECT c.comparison, c.guid, c.part, c.ordinal, c.oldGuid, c.oldPart, c.oldOrdinal, c.kinds, c.name, c.storey, "
    "c.sx, c.sy, c.sz, c.volumeBefore, c.volumeAfter, c.fields, COALESCE(r.review, ''), k.discipline, k.fromDelivery, "
    "k.toDelivery, d.name, c.number, c.className, c.type, c.system, c.zone, c.phase, c.turn, c.ax, c.ay, c.az, "
    "c.confidence, c.extents, c.lowX, c.lowY, c.lowZ, c.highX, c.highY, c.highZ, c.parts, c.alike FROM changes c JOIN "
    "comparisons k ON k.id=c.comparison LEFT JOIN disciplines d ON d.id=k.discipline "
    "LEFT JOIN reviews r ON r.comparison=c.comparison AND r.number=c.number ";

const char* const kComparisonColumns =
    "SELECT k.id, d.name, k.fromDelivery, k.toDelivery, k.rule, k.fits, k.total, k.unchanged, k.leftOut, k.isAsked, "
    "k.person, k.time FROM comparisons k LEFT JOIN disciplines d ON d.id=k.discipline ";

ChangeRecord changeOf(SQLite::Statement& q)
{
    ChangeRecord c;
    c.comparison = q.getColumn(0).getInt64();
    const DisciplineId discipline = q.getColumn(17).getInt64();
    const auto ref = [&](int guid) {
        return ElementRef{discipline, text(q, guid + 1), text(q, guid),
                          static_cast<std::uint32_t>(q.getColumn(guid + 2).getInt64())};
    };
    c.element = ref(1);
    if (!text(q, 4).empty())
        c.continues = ref(4);
    c.kinds = static_cast<unsigned>(q.getColumn(7).getInt());
    c.name = text(q, 8);
    c.storey = text(q, 9);
    c.shift = point(q, 10);
    c.volumeBefore = q.getColumn(13).getDouble();
    c.volumeAfter = q.getColumn(14).getDouble();
    c.fields = fieldsFromJson(text(q, 15));
    c.review = text(q, 16);
    c.from = q.getColumn(18).getInt64();
    c.to = q.getColumn(19).getInt64();
    c.discipline = text(q, 20);
    c.number = q.getColumn(21).getInt64();
    c.className = text(q, 22);
    c.type = text(q, 23);
    c.system = text(q, 24);
    c.zone = text(q, 25);
    c.phase = text(q, 26);
    c.turn = Radians{q.getColumn(27).getDouble()};
    c.turnAxis = point(q, 28);
    c.confidence = q.getColumn(31).getDouble();
    c.extents = text(q, 32);
    if (!q.getColumn(33).isNull()) {
        c.place.add(point(q, 33));
        c.place.add(point(q, 36));
    }
    if (const Json parts = Json::parse(text(q, 39), nullptr, false); parts.is_array())
        c.parts = elementRefsFrom(parts);
    c.alike = q.getColumn(40).getInt64();
    return c;
}

namespace {

Json jsonOf(const federation::Fit& f)
{
    return {f.scale, f.rotation.value, f.translation.x, f.translation.y, f.translation.z};
}

federation::Fit fitFrom(const Json& json)
{
    if (!json.is_array() || json.size() != 5 ||
        !std::all_of(json.begin(), json.end(), [](const Json& n) { return n.is_number(); }))
        return {};
    return {json[0], Radians{json[1].get<double>()}, {json[2], json[3], json[4]}};
}

} // namespace

std::string fitsToJson(const federation::Fit& from, const federation::Fit& to)
{
    return Json{jsonOf(from), jsonOf(to)}.dump();
}

ComparisonRecord comparisonOf(SQLite::Statement& q)
{
    ComparisonRecord k;
    k.id = q.getColumn(0).getInt64();
    k.discipline = text(q, 1);
    k.from = q.getColumn(2).getInt64();
    k.to = q.getColumn(3).getInt64();
    k.rule = changes::ruleFromJson(text(q, 4));
    if (const Json fits = Json::parse(text(q, 5), nullptr, false); fits.is_array() && fits.size() == 2) {
        k.fromFit = fitFrom(fits[0]);
        k.toFit = fitFrom(fits[1]);
    }
    k.total = count(q, 6);
    k.unchanged = count(q, 7);
    k.leftOut = count(q, 8);
    k.isAsked = q.getColumn(9).getInt() != 0;
    k.by = {text(q, 10), text(q, 11)};
    return k;
}

} // namespace wendrix::project
