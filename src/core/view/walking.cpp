#include "core/view/walking.h"

#include <algorithm>

namespace wendrix::view {

namespace {

constexpr double kBodyMetres = 0.25;  // one keeps so far from walls
constexpr double kStepMetres = 0.60;  // what one climbs without a thought
constexpr double kDeepestMetres = 60; // deeper there is no floor, but a hole in the model

} // namespace

Walker::Walker(Picker& picker, std::span<const federation::Member> members, std::vector<std::vector<Colour>> colours)
    : picker_(picker), colours_(std::move(colours))
{
    for (std::size_t m = 0; m < members.size() && m < colours_.size(); ++m)
        for (ifc::ElementIndex e = 0; e < colours_[m].size(); ++e)
            if (const std::string_view name = members[m].model->className(members[m].model->elements()[e]);
                name == "IfcDoor" || name == "IfcDoorStandardCase")
                colours_[m][e].alpha = 0;
}

std::optional<double> Walker::floorUnder(Point3 eye) const
{
    const auto floor = picker_.pick({eye, {0, 0, -1}}, colours_, {0.2f, {}, {}});
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
        const auto hit = picker_.pick({camera.eye - Vector3{0, 0, below}, normalised(way)}, colours_, {0.2f, {}, {}});
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
