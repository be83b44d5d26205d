#include "core/base/progress.h"

#include "core/base/text.h"

#include <algorithm>

namespace wendrix {

bool Progress::isNews(const std::string& what, double done)
{
    const int percent = std::clamp(static_cast<int>(done * 100.0), 0, 100);
    if (percent == percent_ && what == what_)
        return false;
    what_ = what;
    percent_ = percent;
    return true;
}

void Progress::report(const std::string& what, double done)
{
    if (!listener_)
        return;
    const std::lock_guard lock(mutex_);
    if (isNews(what, done))
        listener_(what, percent_);
}

void Progress::report(const std::string& what, std::uint64_t done, std::uint64_t total, std::string_view unit)
{
    if (!listener_)
        return;
    const std::lock_guard lock(mutex_);
    if (isNews(what, static_cast<double>(done) / static_cast<double>(std::max<std::uint64_t>(total, 1))))
        listener_(what + ": " + grouped(done) + " of " + grouped(total) + " " + std::string(unit), percent_);
}

void Progress::reportBytes(const std::string& what, std::uint64_t done, std::uint64_t total)
{
    constexpr std::uint64_t kMegabyte = 1'000'000;
    if (total >= 10 * kMegabyte)
        report(what, done / kMegabyte, total / kMegabyte, "MB");
    else
        report(what, done / 1000, total / 1000, "kB");
}

void Progress::tell(const std::string& words, int percent) const
{
    if (listener_)
        listener_(words, percent);
}

} // namespace wendrix
