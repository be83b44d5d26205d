#include "measure.h"

#include "core/base/hash.h"
#include "core/changes/comparison.h"
#include "core/federation/member_cache.h"

#include <fmt/format.h>

#include <cstdlib>
#include <fstream>
#include <string>

using namespace wendrix;

namespace {

Result<federation::Member> opened(const char* path, const federation::MemberCache& cache)
{
    Progress progress;
    const auto sha256 = sha256OfFile(path);
    return sha256 ? federation::openMember(path, *sha256, {}, cache, progress) : fail(sha256.error());
}

/// Megabytes of its own that the process holds now; what is mapped from files, and can be dropped, is not among them.
double ownMegabytes()
{
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);)
        if (line.starts_with("RssAnon:"))
            return std::stod(line.substr(8)) / 1024;
    return 0;
}

} // namespace

/// Compares two revisions of a model as the cache keeps them, as where they were read before: what opening them takes,
/// what comparing them takes for the first time and again, what it found, and the most memory held.
int main(int argc, char** argv)
{
    if (argc < 3) {
        std::fputs("usage: wendrix-bench-changes BEFORE.ifc AFTER.ifc\n", stderr);
        return 2;
    }
    char folder[] = "/tmp/wendrix-bench-XXXXXX";
    if (mkdtemp(folder) == nullptr)
        return 1;
    const federation::MemberCache cache{std::filesystem::path(folder)};
    const double reading = bench::milliseconds(1, [&] {
        for (const char* path : {argv[1], argv[2]})
            if (!opened(path, cache))
                std::exit(1);
    });
    std::optional<Result<federation::Member>> before, after;
    const double opening = bench::milliseconds(1, [&] {
        before = opened(argv[1], cache);
        after = opened(argv[2], cache);
    });
    const double held = ownMegabytes();
    std::optional<Result<changes::Comparison>> found;
    Progress progress;
    const double first = bench::milliseconds(1, [&] { found = changes::compare(**before, **after, {}, progress); });
    const double again = bench::milliseconds(1, [&] { found = changes::compare(**before, **after, {}, progress); });
    const changes::Comparison& c = **found;
    fmt::print("{} elements against {}: read in {:.0f} ms, opened from the cache in {:.0f} ms, compared in {:.0f} ms, "
               "again in {:.0f} ms\n",
               (*before)->model->elements().size(), (*after)->model->elements().size(), reading, opening, first, again);
    fmt::print("{} added, {} removed, {} changed, {} renewed, {} cut up, {} joined, {} unchanged; {:.0f} MB of its own "
               "for the "
               "models, {:.0f} MB after comparing, without what is mapped from files\n",
               c.added.size(), c.removed.size(), c.changed.size(), c.rekeyed.size(), c.splits.size(), c.merges.size(),
               c.unchanged, held, ownMegabytes());
    std::error_code ignored;
    std::filesystem::remove_all(folder, ignored);
}
