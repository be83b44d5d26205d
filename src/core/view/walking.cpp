#include "core/view/walking.h"

#include <algorithm>

namespace wendrix::view {

namespace {

constexpr double kBodyMetres = 0.25;  // one keeps so far from walls
constexpr double kStepMetres = 0.60;  // what one climbs without a thought
constexpr double kDeepestMetres = 60; // deeper there is no floor, but a hole in the model

} // namespace

Walker::Walker(Picker& picker, std::span<const federation::Member> members, const Colours& colours)
    : picker_(picker), colours_(colours)
{
    solid_.leastAlpha = 0.2f;
    solid_.reachesThrough = [members](const ElementKey& key) {
        const ifc::Model& model = *members[key.member].model;
        const std::string_view name = model.className(model.elements()[key.element]);
        return name == "IfcDoor" || name == "IfcDoorStandardCase";
    };
}

std::optional<double> Walker::floorUnder(Point3 eye) const
{
    const auto floor = picker_.pick({eye, {0, 0, -1}}, colours_, solid_);
    return floor && eye.z - floor->place.z < kDeepestMetres ? std::optional(floor->place.z) : std::nullopt;
}

Camera Walker::onFloor(const Camera& camera) const
{
    const auto floor = floorUnder(camera.eye);
    return floor ? atHeight(camera, *floor + kEyeHeightMetres) : camera;
}

Camera Walker::step(const Camera& camera, double ahead, double aside, bool hasGravity) const
{
    const Camera there = walked(camera, ahead, aside, 0);
    const Vector3 way = there.eye - camera.eye;
    const double whole = length(way);
    if (!(whole > 0))
        return camera;
    // At the head and over what one can step on.
    for (const double below : {0.0, kEyeHeightMetres - kStepMetres - 0.05}) {
        const auto hit = picker_.pick({camera.eye - Vector3{0, 0, below}, normalised(way)}, colours_, solid_);
        if (hit && length(hit->place - (camera.eye - Vector3{0, 0, below})) < whole + kBodyMetres)
            return camera;
    }
    if (!hasGravity)
        return there;
    const auto floor = floorUnder(there.eye);
    if (!floor)
        return camera; // off the edge of the model
    if (*floor - (camera.eye.z - kEyeHeightMetres) > kStepMetres)
        return camera;
    return atHeight(there, *floor + kEyeHeightMetres);
}

} // namespace wendrix::view
