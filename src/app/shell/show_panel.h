#pragma once

namespace wendrix::app {

class Details;
class SceneView;

/// Writes what is shown into the details panel: each member's look, what the colours say with their legend, and what
/// makes the members heavy. Changes take effect at once.
void showWhatIsShown(Details& details, SceneView& scene);

} // namespace wendrix::app
