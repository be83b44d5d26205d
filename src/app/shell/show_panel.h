#pragma once

#include <string>
#include <vector>

namespace wendrix::app {

class Details;
class SceneView;
class Session;

/// Colours elements by the first of these sets that picks them.
void colourBySets(SceneView& scene, const Session& session, const std::vector<std::string>& lines);

/// Writes what is shown into the details panel: each member's look, what the colours say with their legend, and what
/// makes the members heavy. Changes take effect at once.
void showWhatIsShown(Details& details, SceneView& scene, Session& session);

} // namespace wendrix::app
