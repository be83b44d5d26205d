#pragma once

#include <compare>
#include <numbers>

namespace wendrix {

/// A double with its unit: converts to nothing by itself, so a unit can not be forgotten.
template <class Tag>
struct Quantity {
    double value = 0;

    constexpr Quantity() = default;
    constexpr explicit Quantity(double v) : value(v) {}

    friend constexpr auto operator<=>(Quantity, Quantity) = default;
    friend constexpr Quantity operator+(Quantity a, Quantity b) { return Quantity{a.value + b.value}; }
    friend constexpr Quantity operator-(Quantity a, Quantity b) { return Quantity{a.value - b.value}; }
    friend constexpr Quantity operator-(Quantity a) { return Quantity{-a.value}; }
    friend constexpr Quantity operator*(double f, Quantity a) { return Quantity{f * a.value}; }
    friend constexpr double operator/(Quantity a, Quantity b) { return a.value / b.value; }
};

using Metres = Quantity<struct MetresTag>;
using Radians = Quantity<struct RadiansTag>;

[[nodiscard]] constexpr double toDegrees(Radians angle) { return angle.value * 180.0 / std::numbers::pi; }
[[nodiscard]] constexpr Radians fromDegrees(double degrees) { return Radians{degrees * std::numbers::pi / 180.0}; }
[[nodiscard]] constexpr double toMillimetres(Metres length) { return length.value * 1000.0; }

} // namespace wendrix
