#include "measure.h"

#include "core/coordinates/correction.h"
#include "core/coordinates/diagnosis.h"
#include "core/coordinates/grid_pattern.h"

#include <fmt/format.h>

#include <filesystem>
#include <random>

using namespace wendrix;

namespace {

/// Axes at uneven distances, turned and shifted.
ifc::Grid gridOf(int axes, double degrees, Vector3 shift, const std::string& prefix)
{
    std::mt19937 random(60);
    std::uniform_real_distribution<double> bay(4, 9);
    Transform map = Transform::rotationZ(fromDegrees(degrees));
    map.origin = shift;
    std::vector<double> x{0}, y{0};
    for (int i = 1; i < axes; ++i) {
        x.push_back(x.back() + bay(random));
        y.push_back(y.back() + bay(random));
    }
    ifc::Grid grid;
    for (int i = 0; i < axes; ++i) {
        const auto at = static_cast<std::size_t>(i);
        grid.axes.push_back({prefix + "A" + std::to_string(i),
                             'u',
                             map.apply(Point3{x[at], -5, 0}),
                             map.apply(Point3{x[at], y.back() + 5, 0}),
                             {}});
        grid.axes.push_back({prefix + std::to_string(i),
                             'v',
                             map.apply(Point3{-5, y[at], 0}),
                             map.apply(Point3{x.back() + 5, y[at], 0}),
                             {}});
    }
    return grid;
}

} // namespace

/// The ways to fit on one core: two grids of 60 x 60 by their pattern, the diagnosis of a large member, and its
/// corrected file beside a copy of it.
int main(int argc, char** argv)
{
    if (argc < 3) {
        std::fputs("usage: wendrix-bench-coordinates REFERENCE.ifc LARGE.ifc\n", stderr);
        return 2;
    }
    const std::vector mine{gridOf(60, 0, {}, "")}, theirs{gridOf(60, 37.7, {431'208.4, 5'410'977.15, 0}, "x")};
    std::size_t matched = 0;
    const double pattern = bench::milliseconds(5, [&] { matched = coordinates::matchPattern(mine, theirs)->matched; });
    fmt::print("pattern of two grids of 60 x 60: {:.1f} ms, {} axes\n", pattern, matched);

    Progress progress;
    const auto reference = ifc::Model::open(argv[1], progress).value(),
               moving = ifc::Model::open(argv[2], progress).value();
    coordinates::Diagnosis found;
    const double diagnosis = bench::milliseconds(3, [&] {
        found = coordinates::diagnose({*reference, {}}, {*moving, {}});
    });
    fmt::print("diagnosis of {} elements: {:.1f} ms, {} causes\n", moving->elements().size(), diagnosis,
               found.causes.size());

    const std::filesystem::path target = std::filesystem::path(argv[2]).parent_path() / "bench-corrected.ifc";
    const federation::Fit fit{1, fromDegrees(17.3), {100, 200, 3}};
    const double megabytes = static_cast<double>(std::filesystem::file_size(argv[2])) / 1e6;
    double corrected = 1e300, copied = 1e300;
    for (int round = 0; round < 3; ++round) { // one after the other, so that the disk is as busy for both
        const std::string copy = fmt::format("cp '{}' '{}' && sync '{}'", argv[2], target.string(), target.string());
        copied = std::min(copied, bench::milliseconds(1, [&] { (void)!std::system(copy.c_str()); }));
        std::filesystem::remove(target);
        corrected = std::min(corrected, bench::milliseconds(1, [&] {
                                 (void)coordinates::writeCorrected(*reference, *moving, fit, target, progress);
                             }));
        std::filesystem::remove(target);
    }
    fmt::print("corrected file of {:.0f} MB: {:.0f} ms, {:.2f} times a copy that reaches the disk\n", megabytes,
               corrected, corrected / copied);
    fmt::print("peak memory {:.0f} MB\n", bench::peakMegabytes());
    return 0;
}
