#pragma once

#include "core/base/progress.h"

#include <functional>
#include <memory>

namespace wendrix {

/// Does work on a thread of its own and waits for it, but no longer than until `progress` is cancelled: the wait
/// ends within hundredths of a second however much the work still has to look at or to free. What was cancelled
/// winds down by itself, unseen; the process waits for it before it ends. What was cancelled before is not begun.
///
/// @param work  given a token of its own, which reports to `progress` and is cancelled with it; must own what it uses
/// @return true if the work was done to its end, false if it was left; what `work` throws is thrown on
bool runUntilCancelled(Progress& progress, std::function<void(Progress&)> work);

} // namespace wendrix
