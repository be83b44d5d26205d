#pragma once

#include <functional>

namespace wendrix::app {

class Details;
class Session;

inline constexpr const char* kFederationsPanel = "federations";

/// Fills the details with the project's federations: which members each has, retiring and bringing back, a new one.
void showFederations(Details& details, Session& session);

} // namespace wendrix::app
