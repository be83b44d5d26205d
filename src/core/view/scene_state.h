#pragma once

#include "core/base/result.h"
#include "core/view/colouring.h"
#include "core/view/cuts.h"
#include "core/view/marks.h"
#include "core/view/measure.h"

namespace wendrix::view {

inline constexpr ErrorCode kNoView{"view.damaged"};

/// Everything that a kept view restores. Elements stand in it by their lasting names, members by discipline, so that it
/// holds for the next revision too.
struct SceneState {
    Camera camera;
    Cuts cuts;
    ColourRule rule;
    std::map<std::string, MemberLook> looks; ///< by discipline
    std::vector<ElementRef> hidden, selected;
    std::optional<std::vector<ElementRef>> only;
    std::map<ElementRef, Colour> painted;
    bool isRestFaded = false;
    std::optional<Box3> focus; ///< the place that was in focus; what stands around it is found anew
    std::vector<Measurement> measurements;
    std::vector<Mark> marks; ///< drawn over this view
};

/// As JSON, numbers exact.
[[nodiscard]] std::string toJson(const SceneState& state);
/// @return kNoView where the text is no kept view; what it holds beyond this version is passed over
[[nodiscard]] Result<SceneState> fromJson(const std::string& json);

/// The display as lasting names, and back on the members of today; what is no longer there is passed over and counted.
/// A focus comes back as its place alone; Scene::setDisplay finds what stands around it.
void take(SceneState& state, const Display& display, std::span<const federation::Member> members);
[[nodiscard]] Display displayOf(const SceneState& state, std::span<const federation::Member> members,
                                std::size_t& missing);

} // namespace wendrix::view
