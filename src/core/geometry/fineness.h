#pragma once

namespace wendrix::geometry {

/// How finely curves are cut into chords. The default is what models are looked at and clashed with.
struct Fineness {
    double chordMetres = 1e-3;   ///< how far a chord may leave its curve
    double chordOfRadius = 0.01; ///< the same as a part of the radius
    int leastSegments = 24;      ///< of a full circle

    /// For bodies that are round twice, as a bend of a pipe: their outline and their way each lose half of what the
    /// outline of a straight one may.
    [[nodiscard]] constexpr Fineness ofBends() const
    {
        return {chordMetres, 0.5 * chordOfRadius, (leastSegments * 1415 + 999) / 1000};
    }
    /// A tenth of the default errors.
    [[nodiscard]] static constexpr Fineness fine() { return {1e-4, 1e-3, 72}; }
    friend bool operator==(const Fineness&, const Fineness&) = default;
};

/// Segments a full circle of this radius is cut into, a multiple of four.
[[nodiscard]] int segmentsOfCircle(double radiusMetres, const Fineness& fineness = {});

} // namespace wendrix::geometry
