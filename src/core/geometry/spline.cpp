#include "core/geometry/spline.h"

#include <algorithm>
#include <array>
#include <limits>

namespace wendrix::geometry {

namespace {

constexpr int kDeepestHalving = 12;
constexpr int kHighestDegree = 30;

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
        const double off = std::max({offChord(pm), offChord(spline.at(0.75 * a + 0.25 * b)),
                                     offChord(spline.at(0.25 * a + 0.75 * b))});
        // Sagitta s over half chord c: the radius is about c² / 2s, so s <= r * k where s² <= k c² / 2.
        const double halfChord = 0.5 * length(pb - pa);
        const double allowed =
            std::min(fineness.chordMetres, halfChord * std::sqrt(0.5 * fineness.chordOfRadius));
        if (depth < kDeepestHalving && off > std::max(allowed, 1e-9)) {
            halve(a, pa, middle, pm, depth + 1);
            halve(middle, pm, b, pb, depth + 1);
        } else {
            out.add(pb, b);
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

Point3 Spline::at(double t) const
{
    const auto p = static_cast<std::size_t>(degree);
    t = std::clamp(t, first(), last());
    const auto upper = std::upper_bound(knots.begin() + degree, knots.begin() + static_cast<std::ptrdiff_t>(poles.size()), t);
    const std::size_t span = std::min(static_cast<std::size_t>(upper - knots.begin()) - 1, poles.size() - 1);
    std::array<Vector3, kHighestDegree + 1> d;
    std::array<double, kHighestDegree + 1> w;
    for (std::size_t j = 0; j <= p; ++j) {
        const std::size_t i = span - p + j;
        w[j] = weights.empty() ? 1.0 : weights[i];
        d[j] = w[j] * poles[i];
    }
    for (std::size_t r = 1; r <= p; ++r)
        for (std::size_t j = p; j >= r; --j) {
            const double low = knots[span - p + j], high = knots[span + 1 + j - r];
            const double a = high > low ? (t - low) / (high - low) : 0;
            d[j] = (1 - a) * d[j - 1] + a * d[j];
            w[j] = (1 - a) * w[j - 1] + a * w[j];
        }
    return (1 / w[p]) * d[p];
}

Sampled sampled(const Spline& spline, double from, double to, const Fineness& fineness)
{
    Sampled out;
    out.add(spline.at(from), from);
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
    const auto at = [&](double t) {
        const auto& u = curve.parameters;
        const std::size_t i = static_cast<std::size_t>(
            std::clamp<std::ptrdiff_t>(std::upper_bound(u.begin(), u.end(), t) - u.begin(), 1,
                                       static_cast<std::ptrdiff_t>(u.size()) - 1));
        const double step = u[i] - u[i - 1];
        const double f = step > 0 ? std::clamp((t - u[i - 1]) / step, 0.0, 1.0) : 0;
        return curve.points[i - 1] + f * (curve.points[i] - curve.points[i - 1]);
    };
    if (curve.points.size() < 2)
        return curve;
    out.add(at(low), low);
    for (std::size_t i = 0; i < curve.points.size(); ++i)
        if (curve.parameters[i] > low && curve.parameters[i] < high)
            out.add(curve.points[i], curve.parameters[i]);
    out.add(at(high), high);
    if (!isForward) {
        std::reverse(out.points.begin(), out.points.end());
        std::reverse(out.parameters.begin(), out.parameters.end());
    }
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
