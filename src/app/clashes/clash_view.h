#pragma once

#include "core/clash/conflict.h"
#include "core/project/records.h"
#include "scene/scene_view.h"

/// How pairs stand in the scene.
namespace wendrix::app {

struct ClashView {
    view::Subject subject;
    Box3 box;      ///< of the places where they clash
    Point3 middle; ///< of those places
};
/// @param grid  of the storey it is on
[[nodiscard]] ClashView viewOf(const SceneView& scene, const std::vector<project::Pair>& pairs,
                               std::vector<view::GridLine> grid);
/// From where the place can be seen, as near as it can be told.
[[nodiscard]] view::Camera cameraFor(SceneView& scene, const ClashView& view, double aspect);

/// What conflicts are worked out of: values, for another thread.
struct ConflictOrder {
    std::vector<federation::Member> members;
    struct Item {
        clash::Part left, right;
        clash::Question question;
        Point3 point;
    };
    std::vector<Item> items;

    static constexpr std::size_t kMost = 40; ///< pairs; of more than that nobody tells the bodies apart
};
[[nodiscard]] ConflictOrder orderFor(const SceneView& scene, const std::vector<project::Pair>& pairs);
/// Until `isVoid` says so.
[[nodiscard]] std::vector<clash::Conflict> conflictsOf(const ConflictOrder& order, const std::function<bool()>& isVoid);

/// Bodies, gaps and holes of them; and a plane that opens the one there is, where it is buried.
[[nodiscard]] view::Illustration illustrationOf(SceneView& scene, const ClashView& view,
                                                const std::vector<clash::Conflict>& conflicts, Vector3 from);
/// What is said of them besides: "No hole is provided near by; 620 x 370 mm pass through."; empty where there is
/// nothing to say.
[[nodiscard]] QString inWords(const std::vector<clash::Conflict>& conflicts);

} // namespace wendrix::app
