#pragma once

#include "core/changes/volume_change.h"
#include "core/project/records.h"
#include "scene/scene_view.h"
#include "shell/session.h"

/// How changes stand in the scene.
namespace wendrix::app {

/// Finds elements by name in the revision of one delivery, whether it is in use or laid under.
class RevisionFinder {
public:
    RevisionFinder(const Session& session, const SceneView& scene);
    [[nodiscard]] std::optional<view::ElementKey> find(project::DeliveryId delivery, const ElementRef& element) const;
    /// What an element was, and what it is; of what was added or removed one of them is missing, of what was cut up or
    /// joined one side has several.
    struct Sides {
        std::vector<view::ElementKey> before, after;
    };
    [[nodiscard]] Sides sidesOf(const project::ChangeRecord& change) const;
    [[nodiscard]] const std::vector<federation::Member>& members() const { return members_; }
    [[nodiscard]] std::vector<const federation::Member*> membersOf(project::DeliveryId delivery) const;

private:
    const std::vector<federation::Member>& members_; ///< of the scene
    std::vector<project::DeliveryId> deliveries_;    ///< of each of them
};

/// Between what was and what is: 0 only before, 0.5 both, 1 only after.
struct Between {
    double at = 0.5;
    [[nodiscard]] float before() const; ///< how opaque; a ghost while both are there
    [[nodiscard]] float after() const;
    friend bool operator==(const Between&, const Between&) = default;
};

struct ChangeSight {
    view::Subject subject;
    Box3 box; ///< of all that is shown, before and after
};
/// @param isChosen  these alone are looked at: with what they were, and where they came from
[[nodiscard]] ChangeSight sightOf(const RevisionFinder& revisions, const std::vector<project::ChangeRecord>& changes,
                                  bool isChosen, Between between, std::vector<view::GridLine> grid);
/// From where they can be seen.
[[nodiscard]] view::Camera cameraFor(SceneView& scene, const ChangeSight& sight, double aspect);

/// What volumes are worked out of: values, for another thread.
struct VolumeOrder {
    struct Item {
        std::vector<std::pair<federation::Member, ifc::ElementIndex>> before, after;
    };
    std::vector<Item> items;
    double tolerance = 0.001; ///< metres

    static constexpr std::size_t kMost = 20; ///< changes; of more than that nobody tells the bodies apart
};
[[nodiscard]] VolumeOrder orderFor(const RevisionFinder& revisions, const std::vector<project::ChangeRecord>& changes,
                                   double tolerance);
/// One of each item, in the reference frame, whole; until `isVoid` says so.
[[nodiscard]] std::vector<changes::VolumeChange> volumesOf(const VolumeOrder& order,
                                                           const std::function<bool()>& isVoid);
/// Their bodies in the colours of what was added and taken away, what was taken away with dashed edges.
/// @param cuts  they are cut open as the model is: what is before a plane is left out
[[nodiscard]] view::Illustration illustrationOf(const std::vector<changes::VolumeChange>& volumes,
                                                const std::vector<geometry::Plane>& cuts);
/// "0.90 m³ added, 0.12 m³ taken away"; that only surfaces could be compared, where it is so. Empty without any.
[[nodiscard]] QString inWords(const std::vector<changes::VolumeChange>& volumes);

} // namespace wendrix::app
