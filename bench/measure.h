#pragma once

#include <algorithm>
#include <chrono>
#include <fstream>
#include <string>

namespace wendrix::bench {

/// Best of several rounds, in milliseconds: the least disturbed one.
template <class Work>
double milliseconds(int rounds, Work work)
{
    double best = 1e300;
    for (int i = 0; i < rounds; ++i) {
        const auto start = std::chrono::steady_clock::now();
        work();
        best =
            std::min(best, std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
    }
    return best;
}

inline double megabytesOf(const char* field)
{
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);)
        if (line.starts_with(field))
            return std::stod(line.substr(line.find(':') + 1)) / 1024;
    return 0;
}
/// The most memory this process ever held.
inline double peakMegabytes() { return megabytesOf("VmHWM:"); }
/// What it holds now.
inline double heldMegabytes() { return megabytesOf("VmRSS:"); }

} // namespace wendrix::bench
