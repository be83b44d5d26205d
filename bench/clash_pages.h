#pragma once

#include "watched_window.h"

namespace wendrix::bench {

/// Turns the pages of the clashes, puts pairs together in every way, narrows them, scrolls, and goes from one to the
/// next; prints what each took. The window is at its clashes.
/// @param suffix  behind every line
/// @param discipline, against  that it is narrowed to
void turnClashPages(app::MainWindow& window, app::Session& session, WatchedApplication& application,
                    const std::string& suffix, const std::string& discipline, const std::string& against);

} // namespace wendrix::bench
