#pragma once

namespace wendrix::app {

class Details;
class SceneView;
class Session;

/// Writes what is shown into the details panel: each member's look, what the colours say with their legend, and what
/// makes the members heavy. Changes take effect at once.
void showWhatIsShown(Details& details, SceneView& scene, Session& session);

} // namespace wendrix::app
