#pragma once

namespace wendrix::app {

class Details;
class Session;

inline constexpr const char* kHistoryPanel = "history";

/// Everything that was done in the project, the newest first, with who and when; words narrow it down.
void showHistory(Details& details, Session& session);

} // namespace wendrix::app
