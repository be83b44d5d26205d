#include "core/coordinates/hand_fit.h"

#include "core/base/number.h"
#include "core/federation/grid_fit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wendrix::coordinates {

using federation::Fit;

namespace {

constexpr double kUpright = 0.999; // of a direction's height, from which on it counts as upright
constexpr double kLevel = 0.02;    // below which it counts as level
constexpr double kLeastLength = 0.1;

enum class Meaning { Place, Line, Height }; // what a thing fixes

/// @return nothing where it slopes
std::optional<Meaning> meaningOf(const Held& held)
{
    const double up = std::abs(held.direction.z);
    switch (held.kind) {
    case Held::Kind::Place:
        return Meaning::Place;
    case Held::Kind::Line:
        return up > kUpright ? Meaning::Place : Meaning::Line;
    case Held::Kind::Face:
        return up > kUpright ? std::optional(Meaning::Height)
               : up < kLevel ? std::optional(Meaning::Line)
                             : std::nullopt;
    }
    return {};
}

/// The direction of a line or upright face in plan, unit.
Vector2 alongOf(const Held& held)
{
    const Vector3 d = held.kind == Held::Kind::Face ? Vector3{-held.direction.y, held.direction.x, 0} : held.direction;
    const double n = std::hypot(d.x, d.y);
    return {d.x / n, d.y / n};
}

bool tellsHeight(const Held& held, Meaning meaning)
{
    if (meaning == Meaning::Height)
        return true;
    // An upright line reaches through all heights, an upright face too.
    return held.hasHeight &&
           (held.kind == Held::Kind::Place || (held.kind == Held::Kind::Line && std::abs(held.direction.z) < kLevel));
}

/// One thing that is to be so in plan: a place of the member on a place, or across a line through one.
struct Row {
    Vector2 moving, reference;     ///< about the middle of each side's
    std::optional<Vector2> across; ///< unit, of the reference; nothing: in both directions
    double weight = 1;
};

Vector2 turned(Vector2 v, double angle)
{
    const double c = std::cos(angle), s = std::sin(angle);
    return {c * v.x - s * v.y, s * v.x + c * v.y};
}

/// The plan of the pairs as equations, solved for a turn about the middle of the moving side and a shift.
class PlanEquations {
public:
    PlanEquations(std::vector<Row> rows, double scale) : rows_(std::move(rows)), scale_(scale) {}

    /// @param turn   to begin with
    /// @param shift  of the middle, to begin with; what the rows leave free stays so
    void solve(double& turn, Vector2& shift)
    {
        constexpr int kMostSteps = 30;
        for (int step = 0; step < kMostSteps; ++step) {
            const Vector2 by = bestShift([&](const Row& row) { return valueOf(row, turn, shift); });
            shift = {shift.x + by.x, shift.y + by.y};
            // How the rest changes with the turn once the shift has given way.
            const auto slope = [&](const Row& row) { return turned({-row.moving.y, row.moving.x}, turn); };
            const Vector2 giving = bestShift(slope);
            double gg = 0, gr = 0;
            for (const Row& row : rows_) {
                const Vector2 g = slope(row), r = valueOf(row, turn, shift);
                const auto add = [&](double a, double b) { gg += row.weight * a * a, gr += row.weight * a * b; };
                const Vector2 left{scale_ * g.x + giving.x, scale_ * g.y + giving.y};
                if (row.across) {
                    add(left.x * row.across->x + left.y * row.across->y, r.x * row.across->x + r.y * row.across->y);
                } else {
                    add(left.x, r.x);
                    add(left.y, r.y);
                }
            }
            tellsTurn_ = gg > 1e-6;
            if (!tellsTurn_)
                return;
            turn -= gr / gg;
            if (std::abs(gr / gg) < 1e-15)
                break;
        }
        const Vector2 by = bestShift([&](const Row& row) { return valueOf(row, turn, shift); });
        shift = {shift.x + by.x, shift.y + by.y};
    }
    [[nodiscard]] bool tellsTurn() const { return tellsTurn_; }
    [[nodiscard]] bool tellsPlace() const { return tellsPlace_; }

private:
    [[nodiscard]] Vector2 valueOf(const Row& row, double turn, Vector2 shift) const
    {
        const Vector2 at = turned(row.moving, turn);
        return {scale_ * at.x + shift.x - row.reference.x, scale_ * at.y + shift.y - row.reference.y};
    }
    /// The shortest shift that leaves least of the values.
    template <class Value>
    Vector2 bestShift(Value&& value)
    {
        double xx = 0, xy = 0, yy = 0, bx = 0, by = 0;
        for (const Row& row : rows_) {
            const Vector2 v = value(row);
            const auto add = [&](Vector2 n) {
                const double along = n.x * v.x + n.y * v.y;
                xx += row.weight * n.x * n.x, xy += row.weight * n.x * n.y, yy += row.weight * n.y * n.y;
                bx -= row.weight * n.x * along, by -= row.weight * n.y * along;
            };
            if (row.across) {
                add(*row.across);
            } else {
                add({1, 0});
                add({0, 1});
            }
        }
        // Eigenvectors of the symmetric 2 x 2: along one that nothing tells of, nothing is shifted.
        const double middle = (xx + yy) / 2, half = std::hypot((xx - yy) / 2, xy);
        const double angle = 0.5 * std::atan2(2 * xy, xx - yy);
        const Vector2 e{std::cos(angle), std::sin(angle)}, f{-e.y, e.x};
        tellsPlace_ = middle - half > 1e-6 * (middle + half);
        Vector2 shift{};
        if (middle + half > 0) {
            const double a = (bx * e.x + by * e.y) / (middle + half);
            shift = {a * e.x, a * e.y};
        }
        if (tellsPlace_) {
            const double b = (bx * f.x + by * f.y) / (middle - half);
            shift = {shift.x + b * f.x, shift.y + b * f.y};
        }
        return shift;
    }

    std::vector<Row> rows_;
    double scale_;
    bool tellsTurn_ = false, tellsPlace_ = false;
};

/// The angle with its multiples of half a turn taken off, so that it is nearest to another.
double nearestHalfTurn(double angle, double to) { return to + std::remainder(angle - to, std::numbers::pi); }

class Hand {
public:
    Hand(std::span<const HandPair> pairs, std::vector<Meaning> meanings, const Fit& present)
        : pairs_(pairs), meanings_(std::move(meanings)), present_(present)
    {
    }

    [[nodiscard]] bool isOfPlaces() const
    {
        return std::all_of(meanings_.begin(), meanings_.end(), [](Meaning m) { return m == Meaning::Place; });
    }

    /// @return what fitInPlan() refuses
    Result<HandFit> made(federation::Scale scale)
    {
        HandFit made;
        Fit& fit = made.alignment.fit;
        fit = present_;
        std::vector<federation::PlacePair> places;
        for (const HandPair& p : pairs_)
            places.push_back({p.moving.place, p.reference.place, p.weight});
        if (isOfPlaces() && places.size() >= 2) {
            const auto plan = federation::fitInPlan(places, scale);
            if (!plan)
                return fail(plan.error());
            fit = {plan->scale, plan->rotation, plan->translation};
            made.tellsTurn = made.tellsPlace = true;
        } else {
            inPlan(made);
        }
        inHeight(made);
        leave(made);
        return made;
    }

private:
    void inPlan(HandFit& made)
    {
        Fit& fit = made.alignment.fit;
        std::vector<std::size_t> all;
        for (std::size_t i = 0; i < pairs_.size(); ++i)
            if (meanings_[i] != Meaning::Height)
                all.push_back(i);
        if (all.empty())
            return;
        // Both sides about their middle: northings run to millions.
        Vector2 m{}, r{};
        const double n = static_cast<double>(all.size());
        const Point3 m0 = pairs_[all[0]].moving.place, r0 = pairs_[all[0]].reference.place;
        for (const std::size_t i : all) {
            const Vector3 a = pairs_[i].moving.place - m0, b = pairs_[i].reference.place - r0;
            m = {m.x + a.x / n, m.y + a.y / n};
            r = {r.x + b.x / n, r.y + b.y / n};
        }
        m = {m.x + m0.x, m.y + m0.y};
        r = {r.x + r0.x, r.y + r0.y};
        std::vector<Row> rows;
        double along = 0, across = 0; // of the turn to begin with
        const double now = present_.rotation.value;
        for (const std::size_t i : all) {
            const HandPair& p = pairs_[i];
            const Vector2 a{p.moving.place.x - m.x, p.moving.place.y - m.y},
                b{p.reference.place.x - r.x, p.reference.place.y - r.y};
            if (meanings_[i] == Meaning::Place) {
                rows.push_back({a, b, {}, p.weight});
                along += p.weight * (a.x * b.x + a.y * b.y);
                across += p.weight * (a.x * b.y - a.y * b.x);
                continue;
            }
            const Vector2 d = alongOf(p.moving), e = alongOf(p.reference);
            const double reach = std::max(p.moving.length, kLeastLength) / 2;
            for (const double end : {-reach, reach})
                rows.push_back({{a.x + end * d.x, a.y + end * d.y}, b, Vector2{-e.y, e.x}, p.weight / 2});
            const double turn = nearestHalfTurn(std::atan2(e.y, e.x) - std::atan2(d.y, d.x), now);
            along += p.weight * reach * reach * std::cos(turn);
            across += p.weight * reach * reach * std::sin(turn);
        }
        double turn = std::hypot(along, across) > 1e-9 ? std::atan2(across, along) : now;
        // Where the middle of the moving side lies now; what is left free stays there.
        const Point3 at = present_.transform().apply(Point3{m.x, m.y, 0});
        Vector2 shift{at.x - r.x, at.y - r.y};
        PlanEquations equations(std::move(rows), present_.scale);
        equations.solve(turn, shift);
        made.tellsTurn = equations.tellsTurn();
        made.tellsPlace = equations.tellsPlace();
        fit.rotation = Radians{std::remainder(turn, 2 * std::numbers::pi)};
        const Vector2 back = turned(m, turn);
        fit.translation.x = r.x + shift.x - fit.scale * back.x;
        fit.translation.y = r.y + shift.y - fit.scale * back.y;
    }

    void inHeight(HandFit& made)
    {
        double sum = 0, weights = 0;
        for (std::size_t i = 0; i < pairs_.size(); ++i)
            if (const HandPair& p = pairs_[i];
                tellsHeight(p.moving, meanings_[i]) && tellsHeight(p.reference, meanings_[i])) {
                sum += p.weight * (p.reference.place.z - made.alignment.fit.scale * p.moving.place.z);
                weights += p.weight;
            }
        made.tellsHeight = weights > 0;
        made.alignment.fit.translation.z = made.tellsHeight ? sum / weights : present_.translation.z;
    }

    void leave(HandFit& made)
    {
        made.alignment.left = leftAtPairs(pairs_, made.alignment.fit);
        double squares = 0, weights = 0;
        for (std::size_t i = 0; i < pairs_.size(); ++i) {
            const double left = made.alignment.left[i].distance.value;
            squares += pairs_[i].weight * left * left;
            weights += pairs_[i].weight;
        }
        made.alignment.rms = Metres{std::sqrt(squares / weights)};
        if (!made.tellsPlace)
            made.alignment.warnings.emplace_back(
                made.tellsTurn ? "It can still slide along what was taken; take something across it."
                               : "Nothing says yet where it lies in plan.");
        else if (!made.tellsTurn)
            made.alignment.warnings.emplace_back("One place moves and does not turn; take another one.");
        if (!made.tellsHeight)
            made.alignment.warnings.emplace_back("Nothing that was taken tells the height; it stays as it is.");
    }

    std::span<const HandPair> pairs_;
    std::vector<Meaning> meanings_;
    Fit present_;
};

} // namespace

std::vector<Left> leftAtPairs(std::span<const HandPair> pairs, const Fit& fit)
{
    const Transform map = fit.transform();
    std::vector<Left> all;
    for (const HandPair& p : pairs) {
        const auto meaning = meaningOf(p.moving).value_or(Meaning::Place);
        Vector3 off = map.apply(p.moving.place) - p.reference.place;
        if (!tellsHeight(p.moving, meaning) || !tellsHeight(p.reference, meaning))
            off.z = 0;
        double left = length(off);
        if (meaning == Meaning::Height) {
            left = std::abs(off.z);
        } else if (meaning == Meaning::Line) {
            const Vector2 d = alongOf(p.moving), e = alongOf(p.reference);
            const double reach = std::max(p.moving.length, kLeastLength) / 2;
            double most = 0;
            for (const double end : {-reach, reach}) {
                const Vector3 o = map.apply(p.moving.place + Vector3{end * d.x, end * d.y, 0}) - p.reference.place;
                most = std::max(most, std::abs(e.x * o.y - e.y * o.x));
            }
            left = std::hypot(most, off.z);
        }
        all.push_back({p.moving.name + " on " + p.reference.name, Metres{left}});
    }
    return all;
}

Result<HandFit> fitByHand(std::span<const HandPair> pairs, const Fit& present, federation::Scale scale)
{
    if (pairs.empty())
        return fail({kNoPair, "Take something in the member and what it is to lie on in the reference."});
    std::vector<Meaning> meanings;
    for (const HandPair& p : pairs) {
        const auto one = meaningOf(p.moving), other = meaningOf(p.reference);
        for (const auto& [meaning, held] : {std::pair{one, &p.moving}, std::pair{other, &p.reference}})
            if (!meaning)
                return fail({kUnlikePair, "The " + held->name + " slopes; take an upright or a level face."});
        if (*one != *other)
            return fail({kUnlikePair, p.moving.name + " can not lie on " + p.reference.name +
                                          "; take a place on a place, a line on a line, a face on a face."});
        if (!(p.weight > 0) || !std::isfinite(p.weight))
            return fail({kUnlikePair, "The weight of " + p.moving.name + " has to be over 0."});
        meanings.push_back(*one);
    }
    return Hand(pairs, std::move(meanings), present).made(scale);
}

Result<Held> heldByName(const ifc::Model& model, const std::string& words)
{
    const std::size_t from = words.find_first_not_of(" \t"), to = words.find_last_not_of(" \t");
    const std::string name = from == std::string::npos ? "" : words.substr(from, to - from + 1);
    for (const ifc::Grid& grid : model.grids())
        for (const ifc::GridAxis& axis : grid.axes)
            if (axis.tag == name && !axis.arc) {
                Held held{Held::Kind::Line, 0.5 * (axis.start + axis.end), {}, 0, false, "axis " + name};
                const Vector3 along = axis.end - axis.start;
                held.length = std::hypot(along.x, along.y);
                held.direction = {along.x / held.length, along.y / held.length, 0};
                return held;
            }
    for (const federation::GridCrossing& c : federation::gridCrossings(model.grids()))
        if (c.name() == name || c.second + "/" + c.first == name)
            return Held{Held::Kind::Place, c.place, {0, 0, 1}, 0, false, c.name()};
    for (const ifc::Storey& storey : model.storeys())
        if (storey.name == name)
            return Held{Held::Kind::Face, {0, 0, storey.height.value}, {0, 0, 1}, 0, true, name};
    std::vector<double> numbers;
    std::string_view rest = name;
    while (const auto number = leadingNumber(rest)) {
        numbers.push_back(number->value);
        rest.remove_prefix(number->length);
        while (!rest.empty() && (rest.front() == ' ' || rest.front() == ';' || rest.front() == ','))
            rest.remove_prefix(1);
    }
    if (rest.empty() && (numbers.size() == 2 || numbers.size() == 3))
        return Held{Held::Kind::Place,   {numbers[0], numbers[1], numbers.size() == 3 ? numbers[2] : 0},
                    {0, 0, 1},           0,
                    numbers.size() == 3, name};
    return fail({kNotNamed, "“" + name + "” is no axis, crossing or storey of " + model.source().file().name() +
                                ", nor a place as 12.5 3.0 0."});
}

} // namespace wendrix::coordinates
