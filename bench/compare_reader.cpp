#include "measure.h"

#include "core/geometry/member_geometry.h"

#include <ifcpp/geometry/Carve/GeometryConverter.h>
#include <ifcpp/model/BuildingModel.h>
#include <ifcpp/reader/ReaderSTEP.h>

#include <fmt/format.h>

#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cstring>
#include <functional>

/// Reads and builds one file with ours and with libifcplusplus, each in a process of its own, and says how many times
/// as fast ours is and how much memory each held. Files that take less than some seconds are read several times, one
/// after the other with either, and the fastest of each is taken: a process that had to wait for others tells nothing.
/// Only built where that library is installed.
using namespace wendrix;

namespace {

struct Outcome {
    double milliseconds = 0, megabytes = 0;
    std::size_t elements = 0;
};

Outcome inOwnProcess(const std::function<std::size_t()>& work)
{
    int ends[2];
    if (pipe(ends) != 0)
        return {};
    if (const pid_t child = fork(); child == 0) {
        Outcome o;
        o.milliseconds = bench::milliseconds(1, [&] { o.elements = work(); });
        o.megabytes = bench::peakMegabytes();
        _exit(write(ends[1], &o, sizeof o) == sizeof o ? 0 : 1);
    } else {
        Outcome o;
        close(ends[1]);
        if (read(ends[0], &o, sizeof o) != sizeof o)
            fmt::print(stderr, "a process ended without an answer\n");
        close(ends[0]);
        waitpid(child, nullptr, 0);
        return o;
    }
}

std::size_t readWithOurs(const std::string& path)
{
    Progress progress;
    const auto model = ifc::Model::open(path, progress).value();
    return geometry::MemberGeometry::build(*model, progress).value()->elements().size();
}

std::size_t readWithTheirs(const std::string& path)
{
    auto model = std::make_shared<BuildingModel>();
    GeometryConverter converter(model);
    ReaderSTEP reader;
    reader.setMessageCallBack(nullptr, [](void*, std::shared_ptr<StatusCallback::Message> m) {
        if (m->m_message_type == StatusCallback::MESSAGE_TYPE_ERROR)
            fmt::print(stderr, "libifcplusplus: {}\n", std::string(m->m_message_text.begin(), m->m_message_text.end()));
    });
    std::ifstream in(path, std::ios::binary); // its own opening of files gives nothing here
    std::string content((std::istreambuf_iterator<char>(in)), {});
    reader.loadModelFromString(content, converter.getBuildingModel());
    converter.convertGeometry();
    return converter.getShapeInputData().size();
}

} // namespace

int main(int argc, char** argv)
{
    if (argc != 2) {
        fmt::print(stderr, "usage: wendrix-bench-compare FILE.ifc\n");
        return 2;
    }
    const std::string path = std::filesystem::absolute(argv[1]).string();
    Outcome ours, theirs;
    const auto take = [](Outcome& best, const Outcome& next) {
        if (best.elements == 0 || next.milliseconds < best.milliseconds)
            best = next;
    };
    constexpr int kMostRuns = 11;
    const auto began = std::chrono::steady_clock::now();
    for (int run = 0; run < kMostRuns && std::chrono::steady_clock::now() - began < std::chrono::seconds(15); ++run) {
        take(ours, inOwnProcess([&] { return readWithOurs(path); }));
        take(theirs, inOwnProcess([&] { return readWithTheirs(path); }));
    }
    fmt::print("ours:           {:>9.0f} ms, {:>6.0f} MB, {} elements\n", ours.milliseconds, ours.megabytes,
               ours.elements);
    fmt::print("libifcplusplus: {:>9.0f} ms, {:>6.0f} MB, {} products\n", theirs.milliseconds, theirs.megabytes,
               theirs.elements);
    fmt::print("ours is {:.1f} times as fast and holds {:.2f} of the memory\n", theirs.milliseconds / ours.milliseconds,
               ours.megabytes / theirs.megabytes);
    return 0;
}
