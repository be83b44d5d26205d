#include "measure.h"

#include "core/federation/member_cache.h"
#include "core/step/file.h"

#include <fmt/format.h>

#include <atomic>
#include <thread>

namespace {

/// How long a call goes on after it was cancelled, at worst, cancelling it at several times on its way.
double longestAfterCancel(const char* file, double wholeMilliseconds)
{
    double longest = 0;
    for (int part = 1; part <= 8; ++part) {
        wendrix::Progress progress;
        std::atomic<std::chrono::steady_clock::time_point> asked{};
        std::thread waiter([&] {
            std::this_thread::sleep_for(std::chrono::duration<double, std::milli>(wholeMilliseconds * part / 9));
            asked = std::chrono::steady_clock::now();
            progress.cancel();
        });
        (void)wendrix::federation::openMember(file, progress);
        const auto ended = std::chrono::steady_clock::now();
        waiter.join();
        if (asked.load() < ended)
            longest = std::max(longest, std::chrono::duration<double, std::milli>(ended - asked.load()).count());
    }
    return longest;
}

} // namespace

/// Measures the way of one file from its bytes to its shapes: what each part takes, and the most memory held.
using namespace wendrix;

int main(int argc, char** argv)
{
    if (argc != 2) {
        fmt::print(stderr, "usage: wendrix-bench-read FILE.ifc\n");
        return 2;
    }
    Progress progress;
    const double megabytes = static_cast<double>(std::filesystem::file_size(argv[1])) / 1e6;
    double scan = 0;
    {
        const double first = bench::milliseconds(1, [&] { (void)step::File::open(argv[1], progress).value(); });
        scan = std::min(first, bench::milliseconds(2, [&] { (void)step::File::open(argv[1], progress).value(); }));
    }
    std::size_t instances = 0;
    const double parse = bench::milliseconds(1, [&] {
        const auto file = step::File::open(argv[1], progress).value();
        for (const step::Entry& entry : file.entities().all())
            instances += file.read(entry).nodes.size() > 0 ? 1 : 0;
    });
    const double before = bench::peakMegabytes();
    std::shared_ptr<const ifc::Model> model;
    std::shared_ptr<const geometry::MemberGeometry> geometry;
    const double read = bench::milliseconds(1, [&] { model = ifc::Model::open(argv[1], progress).value(); });
    const double build =
        bench::milliseconds(1, [&] { geometry = geometry::MemberGeometry::build(*model, progress).value(); });
    fmt::print("{} MB, {} instances, {} elements, {} triangles in {} shapes\n", static_cast<int>(megabytes), instances,
               model->elements().size(), geometry->triangleCount(), geometry->shapes().size());
    fmt::print("index {:.0f} ms ({:.0f} MB/s), index and parse every argument on one core {:.0f} ms ({:.0f} MB/s)\n",
               scan, 1000 * megabytes / scan, parse, 1000 * megabytes / parse);
    fmt::print("model {:.0f} ms, geometry {:.0f} ms, together {:.0f} ms\n", read, build, read + build);
    fmt::print("peak memory {:.0f} MB, {:.2f} times the file ({:.0f} MB before the model)\n", bench::peakMegabytes(),
               bench::peakMegabytes() * 1.048576 / megabytes, before);
    fmt::print("longest wait after a cancel {:.0f} ms\n", longestAfterCancel(argv[1], read + build));
    const std::filesystem::path folder = std::filesystem::temp_directory_path() / "wendrix-bench-cache";
    std::filesystem::create_directories(folder);
    const federation::MemberCache cache(folder);
    federation::Member member;
    member.model = model;
    member.geometry = geometry;
    const double keep = bench::milliseconds(1, [&] { cache.keep(member, "bench"); });
    const double again = bench::milliseconds(3, [&] { member = cache.find(argv[1], "bench").value(); });
    fmt::print("cache of {:.0f} MB: kept in {:.0f} ms, opened again in {:.0f} ms, {:.3f} of the first time\n",
               static_cast<double>(std::filesystem::file_size(cache.fileOf("bench"))) / 1e6, keep, again,
               again / (read + build));
    std::filesystem::remove_all(folder);
    return 0;
}
