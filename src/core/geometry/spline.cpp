#include "core/geometry/spline.h"

#include <algorithm>
#include <array>
#include <limits>

namespace wendrix::geometry {

namespace {

constexpr int kDeepestHalving = 12;
constexpr int kHighestDegree = 30;

void addPlace(Sampled& out, const Spline& spline, double t, Point3 p, bool isForward)
{
    const Vector3 arriving = spline.directionAt(t, isForward), leaving = spline.directionAt(t, !isForward);
    out.add(p, t, isForward ? arriving : -arriving, isForward ? leaving : -leaving);
}

struct Sampler {
    const Spline& spline;
    const Fineness& fineness;
    Sampled& out;

    /// Adds what lies behind `a` up to and with `b`.
    void halve(double a, Point3 pa, double b, Point3 pb, int depth)
    {
        const double middle = 0.5 * (a + b);
        const Point3 pm = spline.at(middle);
        const auto offChord = [&](Point3 p) {
            const Vector3 chord = pb - pa;
            const double l = length(chord);
            return l > 0 ? length(cross(p - pa, chord)) / l : length(p - pa);
        };
        const double off = std::max(
            {offChord(pm), offChord(spline.at(0.75 * a + 0.25 * b)), offChord(spline.at(0.25 * a + 0.75 * b))});
        // Sagitta s over half chord c: the radius is about c² / 2s, so s <= r * k where s² <= k c² / 2.
        const double halfChord = 0.5 * length(pb - pa);
        const double allowed = std::min(fineness.chordMetres, halfChord * std::sqrt(0.5 * fineness.chordOfRadius));
        if (depth < kDeepestHalving && off > std::max(allowed, 1e-9)) {
            halve(a, pa, middle, pm, depth + 1);
            halve(middle, pm, b, pb, depth + 1);
        } else {
            addPlace(out, spline, b, pb, a < b);
        }
    }
};

} // namespace

bool Spline::isWellFormed() const
{
    if (degree < 1 || degree > kHighestDegree || poles.size() < static_cast<std::size_t>(degree) + 1 ||
        knots.size() != poles.size() + static_cast<std::size_t>(degree) + 1 ||
        (!weights.empty() && weights.size() != poles.size()))
        return false;
    for (const double w : weights)
        if (!(w > 0) || !std::isfinite(w))
            return false;
    for (const double k : knots)
        if (!std::isfinite(k))
            return false;
    return std::is_sorted(knots.begin(), knots.end()) && first() < last();
}

Spline::Last Spline::scheme(double t, bool isArriving) const
{
    const auto p = static_cast<std::size_t>(degree);
    t = std::clamp(t, first(), last());
    const auto begin = knots.begin() + degree, end = knots.begin() + static_cast<std::ptrdiff_t>(poles.size());
    const auto upper = isArriving && t > first() ? std::lower_bound(begin, end, t) : std::upper_bound(begin, end, t);
    const std::size_t span = std::min(static_cast<std::size_t>(upper - knots.begin()) - 1, poles.size() - 1);
    std::array<Vector3, kHighestDegree + 1> d;
    std::array<double, kHighestDegree + 1> w;
    for (std::size_t j = 0; j <= p; ++j) {
        const std::size_t i = span - p + j;
        w[j] = weights.empty() ? 1.0 : weights[i];
        d[j] = w[j] * poles[i];
    }
    const auto share = [&](std::size_t r, std::size_t j) {
        const double low = knots[span - p + j], high = knots[span + 1 + j - r];
        return high > low ? (t - low) / (high - low) : 0;
    };
    for (std::size_t r = 1; r < p; ++r)
        for (std::size_t j = p; j >= r; --j) {
            const double a = share(r, j);
            d[j] = (1 - a) * d[j - 1] + a * d[j];
            w[j] = (1 - a) * w[j - 1] + a * w[j];
        }
    return {d[p - 1], d[p], w[p - 1], w[p], share(p, p)};
}

Point3 Spline::at(double t) const
{
    const Last l = scheme(t, false);
    return (1 / ((1 - l.share) * l.weightOfA + l.share * l.weightOfB)) * ((1 - l.share) * l.a + l.share * l.b);
}

Vector3 Spline::directionAt(double t, bool isArriving) const
{
    // C = A / w in homogeneous coordinates, so C' points along A' - w' C.
    const Last l = scheme(t, isArriving);
    const double w = (1 - l.share) * l.weightOfA + l.share * l.weightOfB;
    const Point3 place = (1 / w) * ((1 - l.share) * l.a + l.share * l.b);
    const Vector3 d = (l.b - l.a) - (l.weightOfB - l.weightOfA) * place;
    const double size = length(l.b) + length(l.a);
    return length(d) > 1e-12 * size ? normalised(d) : Vector3{};
}

Sampled sampled(const Spline& spline, double from, double to, const Fineness& fineness)
{
    Sampled out;
    addPlace(out, spline, from, spline.at(from), from <= to);
    Sampler sampler{spline, fineness, out};
    std::vector<double> stops;
    for (const double k : spline.knots)
        if (k > std::min(from, to) && k < std::max(from, to) && (stops.empty() || stops.back() != k))
            stops.push_back(k);
    if (from > to)
        std::reverse(stops.begin(), stops.end());
    stops.push_back(to);
    double a = from;
    for (const double b : stops) {
        const double middle = 0.5 * (a + b); // a whole bend may start and end at one point
        sampler.halve(a, spline.at(a), middle, spline.at(middle), 0);
        sampler.halve(middle, spline.at(middle), b, spline.at(b), 0);
        a = b;
    }
    return out;
}

Sampled cut(const Sampled& curve, double from, double to)
{
    Sampled out;
    const bool isForward = from <= to;
    const double low = std::min(from, to), high = std::max(from, to);
    const auto addAt = [&](double t) {
        const auto& u = curve.parameters;
        const std::size_t i = static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(
            std::upper_bound(u.begin(), u.end(), t) - u.begin(), 1, static_cast<std::ptrdiff_t>(u.size()) - 1));
        const double step = u[i] - u[i - 1];
        const double f = step > 0 ? std::clamp((t - u[i - 1]) / step, 0.0, 1.0) : 0;
        const Vector3 direction = normalised((1 - f) * curve.out[i - 1] + f * curve.in[i]);
        out.add(curve.points[i - 1] + f * (curve.points[i] - curve.points[i - 1]), t, direction, direction);
    };
    if (curve.points.size() < 2)
        return curve;
    addAt(low);
    for (std::size_t i = 0; i < curve.points.size(); ++i)
        if (curve.parameters[i] > low && curve.parameters[i] < high)
            out.add(curve.points[i], curve.parameters[i], curve.in[i], curve.out[i]);
    addAt(high);
    if (!isForward)
        out.reverse();
    return out;
}

double nearestParameter(const Sampled& curve, Point3 point)
{
    double best = std::numeric_limits<double>::max(), found = curve.parameters.empty() ? 0 : curve.parameters[0];
    for (std::size_t i = 1; i < curve.points.size(); ++i) {
        const Vector3 d = curve.points[i] - curve.points[i - 1];
        const double f = dot(d, d) > 0 ? std::clamp(dot(point - curve.points[i - 1], d) / dot(d, d), 0.0, 1.0) : 0;
        const double away = length(point - (curve.points[i - 1] + f * d));
        if (away < best) {
            best = away;
            found = curve.parameters[i - 1] + f * (curve.parameters[i] - curve.parameters[i - 1]);
        }
    }
    return found;
}

} // namespace wendrix::geometry
