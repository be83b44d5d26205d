#pragma once

#include "core/project/records.h"

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

/// Writes the kept views into the details panel: the newest version of each under its folder, and the fields to keep
/// the view one is looking at.
void showKeptViews(Details& details, const ViewsContext& at);

/// Puts the scene and its measurements as they were when the view was kept.
void openView(const ViewsContext& at, const project::KeptView& view);

} // namespace wendrix::app
