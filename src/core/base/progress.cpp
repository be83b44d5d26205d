#include "core/base/progress.h"

#include <algorithm>

namespace wendrix {

void Progress::report(const std::string& what, double done)
{
    if (!listener_)
        return;
    const int percent = std::clamp(static_cast<int>(done * 100.0), 0, 100);
    const std::lock_guard lock(mutex_);
    if (percent == percent_ && what == what_)
        return;
    what_ = what;
    percent_ = percent;
    listener_(what, percent);
}

} // namespace wendrix
