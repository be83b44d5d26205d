#pragma once

#include "core/coordinates/crs.h"
#include "core/federation/fit.h"
#include "core/ifc/model.h"

#include <optional>
#include <string>
#include <vector>

namespace wendrix::coordinates {

/// What a member declares of its own frame, told of the reference's: the two are the same places on the map where the
/// fit is right.
/// @param fit  takes the member's file frame to the reference's
[[nodiscard]] ifc::Georeference seenFromReference(const ifc::Georeference& declared, const federation::Fit& fit);

struct LatitudeLongitude {
    double latitude = 0, longitude = 0; ///< degrees, WGS 84
};

/// From the federation's frame to the map and to the earth, as the project has agreed.
class ProjectPlace {
public:
    /// @param declared   of the reference's frame
    /// @param siteOrigin where the site stands whose latitude and longitude are declared; metres
    explicit ProjectPlace(ifc::Georeference declared, Point3 siteOrigin = {});

    [[nodiscard]] const ifc::Georeference& declared() const { return declared_; }
    /// Easting, northing and height; nothing where no map conversion is declared.
    [[nodiscard]] std::optional<Point3> onMap(Point3 place) const;
    /// By the projected system where the register knows it; else about the site's latitude and longitude, level and to
    /// true north, which is right to a millimetre in a hundred metres.
    /// Source: WGS 84's radii of curvature: NIMA TR8350.2, 2000.
    [[nodiscard]] std::optional<LatitudeLongitude> onEarth(Point3 place) const;
    /// Above sea level, where that is declared.
    [[nodiscard]] std::optional<Metres> elevation(Point3 place) const;
    [[nodiscard]] Point3 siteOrigin() const { return siteOrigin_; }

private:
    ifc::Georeference declared_;
    Point3 siteOrigin_;
    std::optional<CrsTransform> toEarth_;
};

/// Where a model's site stands in its file, which is where its latitude and longitude are; the origin where it has
/// none.
[[nodiscard]] Point3 siteOriginOf(const ifc::Model& model);

/// How a member's own declaration agrees with the project's, at a place of the member.
struct Agreement {
    bool isDeclared = false; ///< it says where on the map it is
    Metres inPlan, inHeight; ///< how far its declaration puts that place from where the project has it
    Radians turn;            ///< its grid north against the project's
    std::string words;       ///< a sentence
    [[nodiscard]] bool agrees() const;
};

/// @param place  in the federation's frame: the middle of the member
[[nodiscard]] Agreement agreementOf(const ifc::Georeference& project, const ifc::Georeference& declared,
                                    const federation::Fit& fit, Point3 place);

/// "48.137154° N 11.576124° E"
[[nodiscard]] std::string inWords(LatitudeLongitude place);

} // namespace wendrix::coordinates
