#pragma once

#include "core/project/records.h"
#include "core/view/scene_state.h"

#include <QString>

namespace wendrix::app {

class Details;
class MeasureTool;
class SceneView;
class Session;

/// What keeping and opening views works with; all of it outlives the panel.
struct ViewsContext {
    Session& session;
    SceneView& scene;
    MeasureTool& measure;
};

/// Writes the kept views into the details panel: the newest version of each under its folder, one of them whole with
/// its older versions, and the fields to keep the view one is looking at.
void showKeptViews(Details& details, const ViewsContext& at, const QString& chosen = {});

/// The scene with its measurements and marks, and a small picture of it as PNG, as they are kept.
[[nodiscard]] view::SceneState stateToKeep(const ViewsContext& at);
[[nodiscard]] std::string pictureToKeep(const ViewsContext& at);
/// Puts back what was kept; says so under this name. Nothing changes where it is damaged.
void openState(const ViewsContext& at, const std::string& state, const QString& name);

/// Puts the scene and its measurements as they were when the view was kept.
void openView(const ViewsContext& at, const project::KeptView& view);

} // namespace wendrix::app
