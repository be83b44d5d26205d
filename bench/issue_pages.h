#pragma once

#include "watched_window.h"

namespace wendrix::bench {

/// Goes through the issues: words, lines, groups, the board, the days, one after the other, fields, comments, statuses
/// of one and of a thousand; prints what each took.
/// @param suffix  behind every line
void turnIssuePages(app::MainWindow& window, app::Session& session, WatchedApplication& application,
                    const std::string& suffix);

} // namespace wendrix::bench
