#pragma once

#include "core/base/result.h"
#include "core/base/vector3.h"

#include <memory>
#include <string>
#include <vector>

namespace wendrix::coordinates {

inline constexpr ErrorCode kUnknownCrs{"crs.unknown"};
inline constexpr ErrorCode kNoWayBetween{"crs.no-way"};

/// A coordinate reference system as a file names it.
struct Crs {
    std::string code; ///< "EPSG:25832"
    std::string name; ///< what the register calls it: "ETRS89 / UTM zone 32N"
};

/// Looks a name up that files write: "EPSG:25832", "urn:ogc:def:crs:EPSG::25832", "ETRS89 / UTM zone 32N", "25832".
/// @return kUnknownCrs where the register (PROJ's, offline) has none of it
[[nodiscard]] Result<Crs> findCrs(const std::string& name);

/// Takes places from one projected system to another. Eastings before northings in both, metres; heights are those
/// of the systems' own datum and are taken along unchanged.
class CrsTransform {
public:
    /// @return kUnknownCrs, kNoWayBetween
    [[nodiscard]] static Result<CrsTransform> between(const std::string& from, const std::string& to);
    /// From a projected system to longitude and latitude on WGS 84, degrees.
    [[nodiscard]] static Result<CrsTransform> toLongitudeLatitude(const std::string& from);

    /// Places that the systems do not reach come back as NaN.
    [[nodiscard]] Point3 apply(Point3 place) const;
    [[nodiscard]] Point3 applyBackwards(Point3 place) const;
    /// Whole sentences: grid files of the datum that are not on this machine, and how exact it is without them.
    [[nodiscard]] const std::vector<std::string>& warnings() const { return warnings_; }

private:
    struct Engine;
    static Result<CrsTransform> make(const std::string& from, const std::string& to);
    std::shared_ptr<Engine> engine_;
    std::vector<std::string> warnings_;
};

} // namespace wendrix::coordinates
