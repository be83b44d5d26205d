#include "core/coordinates/diagnosis.h"

#include "core/base/text.h"
#include "core/coordinates/common_motion.h"
#include "core/coordinates/contradiction.h"
#include "core/coordinates/correspondence.h"
#include "core/coordinates/crs.h"
#include "core/federation/grid_fit.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace wendrix::coordinates {

using federation::Fit;

namespace {

constexpr double kStandsRight = 0.005; // metres
constexpr double kNoticedDegrees = 0.001;
constexpr double kFar = 10'000; // metres from the origin, from which on coordinates lose digits in other programs
constexpr double kSurveyFoot = 1200.0 / 3937 / 0.3048; // 1.000002
constexpr double kSure = 0.97, kLikely = 0.9, kAlso = 0.6, kGuessed = 0.4;

std::string degreesInWords(double degrees) { return fmt::format("{:.2f}°", std::abs(degrees)); }
std::string away(double metres) { return lengthInWords(Metres{std::abs(metres)}); }

/// From the member's plan to the reference's, as one hypothesis has it.
using PlanMap = std::function<Point3(Point3)>;

double worstOf(const std::vector<Crossing>& crossings, const PlanMap& map)
{
    double worst = 0;
    for (const Crossing& c : crossings) {
        const Vector3 d = map(c.moving) - c.reference;
        worst = std::max(worst, std::hypot(d.x, d.y));
    }
    return worst;
}

/// The map coordinates of a place in the file's own, by its conversion.
PlanMap toMap(const ifc::Georeference& g)
{
    const Transform turn =
        Transform::rotationZ(g.rotation.value_or(Radians{})) * Transform::scaling(g.scale.value_or(1));
    return [turn, shift = Vector3{g.eastings.value_or(0), g.northings.value_or(0), 0}](Point3 p) {
        return turn.turn(p) + shift;
    };
}
PlanMap fromMap(const ifc::Georeference& g)
{
    const Transform back =
        (Transform::rotationZ(g.rotation.value_or(Radians{})) * Transform::scaling(g.scale.value_or(1))).inverse();
    return [back, shift = Vector3{g.eastings.value_or(0), g.northings.value_or(0), 0}](Point3 p) {
        return back.turn(p - shift);
    };
}

class Diagnostician {
public:
    Diagnostician(const Facts& reference, const Facts& moving, const ifc::Model* previous)
        : ref_(reference), mov_(moving), previous_(previous), r_(reference.model.georeference()),
          m_(moving.model.georeference()), shared_(sharedCrossings(reference.model, moving.model)),
          relation_(relationOf(shared_))
    {
    }

    Diagnosis made()
    {
        if (relation_)
            byRelation();
        else
            byExtents();
        if (result_.isAligned && result_.fit->fit == Fit{} && hasConversion(r_) && hasConversion(m_))
            result_.contradictions = contradictionsOf(r_, m_, placesShared());
        if (!result_.isAligned) {
            againstPrevious();
            farAway();
            std::stable_sort(result_.causes.begin(), result_.causes.end(),
                             [](const Cause& a, const Cause& b) { return a.confidence > b.confidence; });
        }
        return std::move(result_);
    }

private:
    /// Of the building, in coordinates that both have in common.
    [[nodiscard]] std::vector<Point3> placesShared() const
    {
        std::vector<Point3> places;
        if (relation_)
            for (const Crossing& c : relation_->kept)
                places.push_back(c.moving);
        else if (!mov_.bounds.isEmpty())
            places = {mov_.bounds.min, mov_.bounds.max};
        return places;
    }
    void add(CauseKind kind, double confidence, std::string sentence, std::string remedy,
             std::map<std::string, std::variant<double, std::string>> measure = {})
    {
        result_.causes.push_back({kind, confidence, std::move(sentence), std::move(remedy), std::move(measure)});
    }
    [[nodiscard]] bool hasConversion(const ifc::Georeference& g) const { return g.eastings && g.northings; }
    /// How much too high the member stands once it is scaled; nothing where no storey tells.
    [[nodiscard]] std::optional<double> tooHigh(double scale) const
    {
        const auto shift = storeyShift(ref_.model, mov_.model, scale);
        if (!shift)
            return {};
        // Of several the middle one: a single storey that stands elsewhere is not the whole building.
        std::vector<double> all;
        for (const auto& [i, j] : shift->pairs)
            all.push_back(scale * mov_.model.storeys()[i].height.value - ref_.model.storeys()[j].height.value);
        std::sort(all.begin(), all.end());
        return all[all.size() / 2];
    }
    [[nodiscard]] bool agreesInPlan(const PlanMap& map) const
    {
        return relation_ && worstOf(relation_->kept, map) <= kStandsRight;
    }
    void align(const Fit& fit)
    {
        result_.isAligned = true;
        result_.causes.clear();
        result_.fit = alignByValues(ref_.model, mov_.model, fit);
    }

    /// Whether declarations bring the two together.
    bool byDeclarations()
    {
        if (!hasConversion(r_) || !hasConversion(m_))
            return false; // a site's latitude is too coarse to say so
        const auto declared = alignByGeoreference(ref_.model, mov_.model);
        if (!declared || std::abs(declared->fit.scale - 1) > 1e-3)
            return false;
        const Transform map = declared->fit.transform();
        if (!relation_ || !relation_->dropped.empty() ||
            worstOf(relation_->kept, [&](Point3 p) { return map.apply(p); }) > kStandsRight)
            return false;
        if (const auto high = tooHigh(1); high && std::abs(*high + declared->fit.translation.z) > kStandsRight)
            return false;
        result_.isAligned = true;
        result_.fit = *declared;
        return true;
    }

    void byRelation()
    {
        const double scale = unitFactor().value_or(1), high = tooHigh(scale).value_or(0);
        if (agreesInPlan([](Point3 p) { return p; }) && relation_->dropped.empty() && std::abs(high) <= kStandsRight &&
            !areStoreysRenamed())
            return align({});
        if (byDeclarations())
            return;
        inPlan();
        inHeight(high);
        strayAxes();
        differentSystems();
        if (!relation_->isMirrored) {
            Fit fit{scale, relation_->turn, {relation_->shift.x, relation_->shift.y, -high}};
            result_.fit = alignByValues(ref_.model, mov_.model, fit);
            if (result_.fit->left.empty())
                result_.fit->rms = Metres{relation_->worst};
        }
    }

    void inPlan()
    {
        if (agreesInPlan([](Point3 p) { return p; }))
            return;
        if (asMapCoordinates() || asSwapped() || asMirrored() || asDeclaredWrongly())
            return;
        asUnitTurnAndShift();
    }

    /// Its own coordinates are map coordinates.
    bool asMapCoordinates()
    {
        if (!hasConversion(r_) || !agreesInPlan(fromMap(r_)))
            return false;
        isOnMap_ = true;
        if (hasConversion(m_) && std::hypot(*m_.eastings, *m_.northings) > 1)
            add(CauseKind::ConversionTwice, kSure,
                "Its coordinates are map coordinates already, and its map conversion moves them a second time.",
                "Ask the team to export with a map conversion of 0, or in local coordinates with the conversion of the "
                "reference.");
        else
            add(CauseKind::ConversionMissing, kSure,
                "It is written in map coordinates and has no map conversion; the reference has local ones with a "
                "conversion.",
                "Fit it by grids, and ask the team to export in local coordinates with the map conversion of the "
                "reference.");
        return true;
    }

    bool asSwapped()
    {
        const auto swapped = [](Point3 p) { return Point3{p.y, p.x, p.z}; };
        const char* remedy = "Ask the team to put eastings in the first place and northings in the second.";
        if (agreesInPlan(swapped)) {
            add(CauseKind::AxesSwapped, kSure, "Eastings and northings changed places in all of its coordinates.",
                remedy);
            return true;
        }
        if (hasConversion(r_) && agreesInPlan([&](Point3 p) { return fromMap(r_)(swapped(p)); })) {
            add(CauseKind::AxesSwapped, kSure,
                "It is written in map coordinates with eastings and northings in each other's place.", remedy);
            return true;
        }
        // The geometry is right, and only the place it was moved to has them swapped.
        const Vector2 t = relation_->shift;
        if (!relation_->isMirrored && std::abs(relation_->scale - 1) < 1e-9 && isUnturned() && length(t) > 100 &&
            std::abs(t.x + t.y) <= kStandsRight) {
            add(CauseKind::AxesSwapped, kLikely,
                "It stands at the reference's place with eastings and northings in each other's place.", remedy);
            add(CauseKind::OwnOrigin, kGuessed, "Or it has an origin of its own, " + away(length(t)) + " away.",
                "Fit it by grids.", {{"metres", length(t)}});
            return true;
        }
        if (hasConversion(r_) && hasConversion(m_)) {
            ifc::Georeference g = m_;
            std::swap(g.eastings, g.northings);
            if (agreesInPlan([&](Point3 p) { return fromMap(r_)(toMap(g)(p)); })) {
                add(CauseKind::AxesSwapped, kSure, "The eastings and northings of its map conversion changed places.",
                    remedy);
                return true;
            }
        }
        return false;
    }

    bool asMirrored()
    {
        if (!relation_->isMirrored)
            return false;
        // x changed its sign and the rest is turned; the same as y changed, turned by half a turn more.
        const double turn = toDegrees(relation_->turn);
        const bool isX = std::abs(std::remainder(turn, 360)) <= 90;
        add(CauseKind::Mirrored, kSure,
            std::string("It is mirrored: its ") + (isX ? "x" : "y") + " runs the other way.",
            "No fit can turn it round; ask the team for an export that is not mirrored.", {{"axis", isX ? "x" : "y"}});
        const double rest = std::remainder(isX ? turn : turn - 180, 360);
        if (std::abs(rest) > kNoticedDegrees)
            addTurn(rest, kAlso);
        if (std::abs(relation_->scale - 1) > 1e-9)
            addScale();
        if (length(relation_->shift) > kStandsRight && std::abs(rest) <= kNoticedDegrees)
            add(CauseKind::OwnOrigin, kAlso,
                "It has an origin of its own, " + away(length(relation_->shift)) + " away.",
                "Fit it once it is not mirrored any more.", {{"metres", length(relation_->shift)}});
        return true;
    }

    /// A declaration with one fault brings them together.
    bool asDeclaredWrongly()
    {
        if (!hasConversion(r_) || !hasConversion(m_) || !m_.rotation)
            return false;
        ifc::Georeference g = m_;
        g.rotation = -*m_.rotation;
        if (std::abs(toDegrees(*m_.rotation)) > kNoticedDegrees &&
            agreesInPlan([&](Point3 p) { return fromMap(r_)(toMap(g)(p)); })) {
            add(CauseKind::NorthReversed, kSure,
                "The turn of its map conversion has the wrong sign: with the other one it stands right.",
                "Ask the team to turn the X axis the other way in its map conversion.",
                {{"degrees", toDegrees(relation_->turn)}});
            return true;
        }
        return false;
    }

    [[nodiscard]] bool isUnturned() const { return std::abs(toDegrees(relation_->turn)) <= kNoticedDegrees; }

    void addTurn(double degrees, double confidence)
    {
        const double north = toDegrees(m_.trueNorth.value_or(Radians{})),
                     ours = toDegrees(r_.trueNorth.value_or(Radians{}));
        const auto isAbout = [&](double other) { return std::abs(std::remainder(degrees - other, 360)) < 0.02; };
        const double declared = ours - north; // what brings its true north onto the reference's
        const char* remedy = "Fit it by grids; ask the team to set true north as the reference has it.";
        const bool isDeclared = std::abs(declared) > kNoticedDegrees && isAbout(declared);
        const bool isReversed =
            !isDeclared && ((std::abs(north) > kNoticedDegrees &&
                             (isAbout(2 * north) || isAbout(-2 * north) || isAbout(north) || isAbout(-north))) ||
                            (std::abs(declared) > kNoticedDegrees && isAbout(-declared)));
        if (isReversed) {
            add(CauseKind::NorthReversed, std::max(confidence, kLikely),
                fmt::format("It is turned by {} the wrong way: its true north of {} was applied with the wrong sign.",
                            degreesInWords(degrees),
                            degreesInWords(std::abs(north) > kNoticedDegrees ? north : declared)),
                remedy, {{"degrees", degrees}});
            add(CauseKind::Turned, kGuessed, fmt::format("It is turned by {}.", degreesInWords(degrees)), remedy,
                {{"degrees", degrees}});
            return;
        }
        add(CauseKind::Turned, confidence,
            isDeclared
                ? fmt::format("It is turned by {}, which is how its true north differs from the reference's: one is in "
                              "project north, the other not.",
                              degreesInWords(degrees))
                : fmt::format("It is turned by {} against the reference.", degreesInWords(degrees)),
            remedy, {{"degrees", degrees}});
    }

    /// The unit's factor that the relation's scale is; nothing where it is none, or 1.
    [[nodiscard]] std::optional<double> unitFactor() const
    {
        for (const double f : kUnitFactors)
            if (std::abs(relation_->scale / f - 1) < 1e-3)
                return f;
        return {};
    }

    void addScale()
    {
        const auto factor = unitFactor();
        if (!factor) {
            add(CauseKind::GridDiffers, kLikely,
                fmt::format(
                    "Its grid is {:.4f} times as wide as the reference's, which no unit explains: the grids do not "
                    "match even when laid over each other.",
                    1 / relation_->scale),
                "Ask the team which of the two grids is the agreed one; no fit can mend it.",
                {{"axis", "all"}, {"factor", relation_->scale}});
            return;
        }
        add(CauseKind::UnitFactor, kSure,
            fmt::format("Its lengths are to be multiplied by {:g}: its unit is not the one it was drawn in.", *factor),
            "Ask the team to export in the unit they draw in; until then fit it with that scale.",
            {{"factor", *factor}});
    }

    void asUnitTurnAndShift()
    {
        const Vector2 t = relation_->shift;
        const bool isScaled = std::abs(relation_->scale - 1) > 1e-9;
        if (isScaled)
            addScale();
        if (!isScaled && isUnturned() && asSurveyFoot())
            return;
        const bool isMissing = hasConversion(r_) && !hasConversion(m_);
        if (isMissing && !isScaled)
            add(CauseKind::ConversionMissing, kLikely,
                "It has no map conversion where the reference has one, so nothing in it says where its origin is.",
                "Fit it by grids, and ask the team to export with the map conversion of the reference.");
        const double confidence = isMissing && !isScaled ? kAlso : kLikely;
        if (!isUnturned())
            addTurn(toDegrees(relation_->turn), confidence);
        if (length(t) > kStandsRight)
            add(CauseKind::OwnOrigin, confidence,
                "It was exported from an origin of its own, " + away(length(t)) + " away.",
                "Fit it by grids; ask the team to export from the shared origin.", {{"metres", length(t)}});
    }

    /// Feet of one kind read as the other move what lies far from the origin, and leave distances as they are.
    bool asSurveyFoot()
    {
        for (const double f : {kSurveyFoot, 1 / kSurveyFoot})
            if (agreesInPlan([&](Point3 p) { return Point3{f * p.x, f * p.y, p.z}; })) {
                add(CauseKind::UsSurveyFoot, 0.95,
                    fmt::format(
                        "It stands {} away, which is what international and US survey feet make of its distance from "
                        "the origin.",
                        away(length(relation_->shift))),
                    "Ask the team which foot their project uses, and to export in it.",
                    {{"factor", f > 1 ? 1.000002 : 0.999998}});
                add(CauseKind::OwnOrigin, kGuessed,
                    "Or it has an origin of its own, " + away(length(relation_->shift)) + " away.", "Fit it by grids.",
                    {{"metres", length(relation_->shift)}});
                return true;
            }
        return false;
    }

    /// Storeys of the same name at different heights although the heights are the same: names moved up or down.
    [[nodiscard]] std::optional<int> renamedBy() const
    {
        const auto &mine = ref_.model.storeys(), &theirs = mov_.model.storeys();
        std::optional<int> by;
        std::size_t shared = 0;
        for (std::size_t i = 0; i < theirs.size(); ++i)
            for (std::size_t j = 0; j < mine.size(); ++j)
                if (!mine[j].name.empty() && mine[j].name == theirs[i].name) {
                    const auto at = std::find_if(mine.begin(), mine.end(), [&](const ifc::Storey& s) {
                        return std::abs(s.height.value - theirs[i].height.value) <= kStandsRight;
                    });
                    if (at == mine.end())
                        return {};
                    const int k = static_cast<int>(at - mine.begin()) - static_cast<int>(j);
                    if (by && *by != k)
                        return {};
                    by = k;
                    ++shared;
                }
        return shared >= 2 && by && *by != 0 ? by : std::nullopt;
    }
    [[nodiscard]] bool areStoreysRenamed() const { return renamedBy().has_value(); }

    void inHeight(double high)
    {
        const char* remedy = "Fit the height by storeys; ask the team to check the level their project starts from.";
        const auto &mine = ref_.model.storeys(), &theirs = mov_.model.storeys();
        if (const auto by = renamedBy(); by && std::abs(relation_ ? relation_->scale - 1 : 0) < 1e-9) {
            const double metres = std::abs(high) > kStandsRight ? high : 0;
            add(CauseKind::StoreyOffset, kSure,
                fmt::format("Its storeys stand {} too {}: each is where the reference has another one.",
                            counted(static_cast<std::size_t>(std::abs(*by)), "storey", "storeys"),
                            *by > 0 ? "high" : "low"),
                remedy, {{"storeys", static_cast<double>(*by)}, {"metres", metres}});
            return;
        }
        if (std::abs(high) <= kStandsRight)
            return;
        if (isOnMap_ && std::abs(high - r_.height.value_or(0)) <= kStandsRight)
            return; // map coordinates have the map's heights
        // As far as from one storey of the reference to another.
        int storeys = 0;
        for (std::size_t i = 0; i < mine.size(); ++i)
            for (std::size_t j = i + 1; j < mine.size(); ++j)
                if (std::abs(mine[j].height.value - mine[i].height.value - std::abs(high)) <= kStandsRight &&
                    (storeys == 0 || static_cast<int>(j - i) < storeys))
                    storeys = static_cast<int>(j - i);
        if (storeys > 0 && !theirs.empty())
            add(CauseKind::StoreyOffset, kLikely,
                fmt::format("It stands {} too {}, which is {} of the reference.", away(high), high > 0 ? "high" : "low",
                            counted(static_cast<std::size_t>(storeys), "storey", "storeys")),
                remedy, {{"storeys", static_cast<double>(high > 0 ? storeys : -storeys)}, {"metres", high}});
        else
            add(CauseKind::HeightOffset, kLikely,
                fmt::format("Its storeys stand {} too {}.", away(high), high > 0 ? "high" : "low"), remedy,
                {{"metres", high}});
    }

    /// Axes all of whose crossings were dropped.
    void strayAxes()
    {
        if (relation_->dropped.empty())
            return;
        std::map<std::string, std::pair<std::size_t, std::size_t>> kept; // by axis: kept, dropped
        for (const Crossing& c : relation_->kept)
            for (const std::string& axis : {c.first, c.second})
                ++kept[axis].first;
        for (const Crossing& c : relation_->dropped)
            for (const std::string& axis : {c.first, c.second})
                ++kept[axis].second;
        std::set<std::string> explained;
        for (const auto& [axis, counts] : kept) {
            if (counts.first > 0 || counts.second == 0)
                continue;
            Vector2 sum;
            for (const Crossing& c : relation_->dropped)
                if (c.first == axis || c.second == axis) {
                    const Vector3 d = relation_->apply(c.moving) - c.reference;
                    sum = sum + Vector2{d.x, d.y};
                }
            const double off = length(sum) / static_cast<double>(counts.second);
            if (off <= kStandsRight)
                continue; // its crossings were dropped for the other axes'
            add(CauseKind::GridDiffers, 0.95,
                fmt::format("Axis {} stands {} from where the reference has it; the rest of the grid fits.", axis,
                            away(off)),
                "Ask the team which of the two grids is the agreed one; no fit can mend it.",
                {{"axis", axis}, {"metres", off}});
            explained.insert(axis);
        }
        if (explained.empty())
            add(CauseKind::GridDiffers, kLikely,
                fmt::format("{} of the grid stand elsewhere although the rest fits.",
                            counted(relation_->dropped.size(), "crossing", "crossings")),
                "Ask the team which of the two grids is the agreed one; no fit can mend it.",
                {{"axis", relation_->dropped[0].first}});
    }

    void differentSystems()
    {
        if (!r_.crs || !m_.crs || !hasConversion(r_) || !hasConversion(m_))
            return;
        const auto mine = findCrs(*r_.crs), theirs = findCrs(*m_.crs);
        const std::string a = mine ? mine->code : *r_.crs, b = theirs ? theirs->code : *m_.crs;
        if (a == b)
            return;
        // The numbers are right, and only the name is another one's.
        const bool isNamedWrongly = agreesInPlan([&](Point3 p) { return fromMap(r_)(toMap(m_)(p)); });
        if (isNamedWrongly)
            for (Cause& cause : result_.causes)
                if (cause.kind == CauseKind::OwnOrigin || cause.kind == CauseKind::Turned)
                    cause.confidence = kGuessed;
        const auto called = [](const Result<Crs>& crs, const std::string& name) {
            return crs ? crs->code + " (" + crs->name + ")" : name;
        };
        add(CauseKind::CrsDiffers,
            isNamedWrongly           ? kSure
            : result_.causes.empty() ? kLikely
                                     : kAlso,
            "It names " + called(theirs, *m_.crs) + " where the reference names " + called(mine, *r_.crs) +
                (isNamedWrongly ? "; its numbers are those of the reference's." : "."),
            "Ask the team to export in the projected system of the reference.",
            {{"reference", *r_.crs}, {"moving", *m_.crs}});
    }

    void againstPrevious()
    {
        if (previous_ == nullptr)
            return;
        const auto places = placesInBoth({*previous_}, {mov_.model});
        const auto common = commonMotion(places);
        if (!common)
            return;
        // Where it stands, not at its origin: turned about one far away, that would be another place altogether.
        const Transform back = common->motion.transform();
        double metres = 0;
        for (const federation::PlacePair& p : places)
            metres += length(back.apply(p.moving) - p.moving) / static_cast<double>(places.size());
        const double turned = toDegrees(common->motion.rotation);
        if (metres <= kStandsRight)
            return;
        for (Cause& cause : result_.causes)
            if (cause.kind == CauseKind::OwnOrigin)
                cause.confidence = std::min(cause.confidence, kGuessed);
        add(CauseKind::OriginMoved, kSure,
            "Its origin moved by " + away(metres) +
                (std::abs(turned) > kNoticedDegrees ? ", turned by " + degreesInWords(turned) + "," : "") +
                " against the revision before; what is built did not.",
            "Ask the team to go back to the origin of the revision before; until then fit it anew.",
            {{"metres", metres}});
    }

    [[nodiscard]] double farOf(const Facts& facts) const
    {
        const auto fromOrigin = [](Point3 p) { return std::hypot(p.x, p.y); };
        if (!facts.bounds.isEmpty())
            return fromOrigin(facts.bounds.centre());
        double least = -1;
        for (const ifc::Grid& grid : facts.model.grids())
            for (const ifc::GridAxis& axis : grid.axes)
                least = least < 0 ? fromOrigin(axis.start) : std::min(least, fromOrigin(axis.start));
        for (std::size_t i = 0; least < 0 && i < facts.model.elements().size(); ++i)
            least = fromOrigin(facts.model.elements()[i].placement.origin);
        return std::max(least, 0.0);
    }

    void farAway()
    {
        const double theirs = farOf(mov_), mine = farOf(ref_);
        if (theirs <= kFar || mine > kFar)
            return;
        const bool isExplained = std::any_of(result_.causes.begin(), result_.causes.end(), [this](const Cause& c) {
            return c.confidence >= 0.5 && c.kind != CauseKind::OwnOrigin && c.kind != CauseKind::HeightOffset &&
                   c.kind != CauseKind::StoreyOffset && c.kind != CauseKind::Turned &&
                   (c.kind != CauseKind::ConversionMissing || isOnMap_);
        });
        for (Cause& cause : result_.causes)
            if (!isExplained && cause.kind == CauseKind::OwnOrigin)
                cause.confidence = std::min(cause.confidence, kAlso);
        add(CauseKind::FarFromOrigin, isExplained ? kGuessed : kLikely,
            "Its geometry lies " + fmt::format("{:.1f} km", theirs / 1000) + " from its own origin.",
            "Ask the team to export near the origin, with a map conversion that says where that is.",
            {{"metres", theirs}});
    }

    // Without a grid in common: where the two lie.
    [[nodiscard]] static double overlapOf(const Box3& a, const Box3& b)
    {
        const double x = std::min(a.max.x, b.max.x) - std::max(a.min.x, b.min.x),
                     y = std::min(a.max.y, b.max.y) - std::max(a.min.y, b.min.y);
        const auto area = [](const Box3& box) {
            return std::max(1e-6, (box.max.x - box.min.x) * (box.max.y - box.min.y));
        };
        return x <= 0 || y <= 0 ? 0 : x * y / std::min(area(a), area(b));
    }
    [[nodiscard]] static Box3 boundsOf(const Facts& facts)
    {
        Box3 box = facts.bounds;
        if (box.isEmpty())
            for (const ifc::Element& e : facts.model.elements())
                box.add(e.placement.origin);
        return box;
    }

    void byExtents()
    {
        const Box3 mine = boundsOf(ref_), theirs = boundsOf(mov_);
        const double high = tooHigh(1).value_or(0);
        if (mine.isEmpty() || theirs.isEmpty())
            return inHeight(high);
        constexpr double kTogether = 0.3;
        const auto mapped = [&](const PlanMap& map) {
            Box3 box;
            for (const Point3 p : {theirs.min, theirs.max, Point3{theirs.min.x, theirs.max.y, theirs.min.z},
                                   Point3{theirs.max.x, theirs.min.y, theirs.max.z}})
                box.add(map(p));
            return box;
        };
        const bool haveGrids = !ref_.model.grids().empty() && !mov_.model.grids().empty();
        if (overlapOf(mine, theirs) >= kTogether && std::abs(high) <= kStandsRight && !haveGrids)
            return align({});
        if (const auto declared = hasConversion(r_) && hasConversion(m_)
                                      ? std::optional(alignByGeoreference(ref_.model, mov_.model))
                                      : std::nullopt;
            declared && *declared) {
            const Transform map = (*declared)->fit.transform();
            if (overlapOf(mine, mapped([&](Point3 p) { return map.apply(p); })) >= kTogether &&
                std::abs(high + map.origin.z) <= kStandsRight) {
                result_.isAligned = true;
                result_.fit = **declared;
                return;
            }
        }
        inHeight(high);
        if (overlapOf(mine, theirs) >= kTogether) {
            if (haveGrids)
                add(CauseKind::GridDiffers, kAlso,
                    "The two lie in the same place, but their grids have nothing in common that could prove it.",
                    "Ask the team which of the two grids is the agreed one, or compare two points that both know.",
                    {{"axis", "all"}});
            return;
        }
        std::size_t before = result_.causes.size();
        constexpr double kByExtent = 0.7;
        if (hasConversion(r_) && overlapOf(mine, mapped(fromMap(r_))) >= kTogether) {
            isOnMap_ = true;
            if (hasConversion(m_))
                add(CauseKind::ConversionTwice, kByExtent,
                    "Its coordinates are map coordinates already, and its map conversion moves them a second time.",
                    "Ask the team to export with a map conversion of 0, or in local coordinates.");
            else
                add(CauseKind::ConversionMissing, kByExtent,
                    "It is written in map coordinates and has no map conversion.",
                    "Ask the team to export in local coordinates with the map conversion of the reference.");
        }
        const auto sizeOf = [](const Box3& box) { return std::hypot(box.max.x - box.min.x, box.max.y - box.min.y); };
        const double ratio = sizeOf(theirs) > 0 ? sizeOf(mine) / sizeOf(theirs) : 1;
        for (const double f : kUnitFactors) // two buildings of one site are about as large
            if (ratio / f > 0.4 && ratio / f < 2.5 && std::abs(std::log(f)) > 1 &&
                overlapOf(mine, mapped([&](Point3 p) {
                              return Point3{f * p.x, f * p.y, p.z};
                          })) >= kTogether)
                add(CauseKind::UnitFactor, kByExtent,
                    fmt::format("Multiplied by {:g} it lies on the reference: its unit is not the one it was drawn in.",
                                f),
                    "Ask the team to export in the unit they draw in.", {{"factor", f}});
        if (overlapOf(mine, mapped([](Point3 p) { return Point3{p.y, p.x, p.z}; })) >= kTogether)
            add(CauseKind::AxesSwapped, kByExtent - 0.1,
                "With eastings and northings in each other's place it lies on the reference.",
                "Ask the team to put eastings in the first place and northings in the second.");
        if (result_.causes.size() != before)
            return;
        const Vector3 between = 0.5 * (theirs.min + theirs.max) - 0.5 * (mine.min + mine.max);
        const double metres = std::hypot(between.x, between.y);
        if (hasConversion(r_) && !hasConversion(m_))
            add(CauseKind::ConversionMissing, kAlso,
                "It has no map conversion where the reference has one, and shares no grid with it.",
                "Ask the team to export with the map conversion of the reference; until then fit it by points.");
        add(CauseKind::OwnOrigin, kAlso - 0.05,
            "The middles of the two lie " + away(metres) + " apart, and no grid in common says why.",
            "Fit it by points; ask the team for a grid in the model.", {{"metres", metres}});
        differentSystems();
    }

    const Facts &ref_, &mov_;
    const ifc::Model* previous_;
    const ifc::Georeference &r_, &m_;
    std::vector<Crossing> shared_;
    std::optional<Relation> relation_;
    bool isOnMap_ = false; ///< its own coordinates are the map's
    Diagnosis result_;
};

} // namespace

const char* nameOf(CauseKind kind)
{
    switch (kind) {
    case CauseKind::OwnOrigin:
        return "own-origin";
    case CauseKind::Turned:
        return "turned";
    case CauseKind::NorthReversed:
        return "north-reversed";
    case CauseKind::UnitFactor:
        return "unit-factor";
    case CauseKind::UsSurveyFoot:
        return "us-survey-foot";
    case CauseKind::AxesSwapped:
        return "axes-swapped";
    case CauseKind::HeightOffset:
        return "height-offset";
    case CauseKind::StoreyOffset:
        return "storey-offset";
    case CauseKind::Mirrored:
        return "mirrored";
    case CauseKind::ConversionMissing:
        return "conversion-missing";
    case CauseKind::ConversionTwice:
        return "conversion-twice";
    case CauseKind::CrsDiffers:
        return "crs-differs";
    case CauseKind::OriginMoved:
        return "origin-moved";
    case CauseKind::FarFromOrigin:
        return "far-from-origin";
    case CauseKind::GridDiffers:
        return "grid-differs";
    }
    return "";
}

Diagnosis diagnose(const Facts& reference, const Facts& moving, const ifc::Model* previous)
{
    return Diagnostician(reference, moving, previous).made();
}

} // namespace wendrix::coordinates
