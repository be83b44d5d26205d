#include "measure.h"

#include "core/changes/comparison.h"

#include <fmt/format.h>

using namespace wendrix;

/// Compares two revisions of a model: what it takes beside reading them, what it found, and the most memory held.
int main(int argc, char** argv)
{
    if (argc < 3) {
        std::fputs("usage: wendrix-bench-changes BEFORE.ifc AFTER.ifc\n", stderr);
        return 2;
    }
    Progress progress;
    std::optional<Result<federation::Member>> before, after;
    const double reading = bench::milliseconds(1, [&] {
        before = federation::openMember(argv[1], progress);
        after = federation::openMember(argv[2], progress);
    });
    if (!*before || !*after) {
        std::fputs("a file could not be read\n", stderr);
        return 1;
    }
    const double held = bench::peakMegabytes();
    std::optional<Result<changes::Comparison>> found;
    const double first = bench::milliseconds(1, [&] { found = changes::compare(**before, **after, {}, progress); });
    const double again = bench::milliseconds(1, [&] { found = changes::compare(**before, **after, {}, progress); });
    const changes::Comparison& c = **found;
    fmt::print("{} elements against {}: read in {:.0f} ms, compared in {:.0f} ms, again in {:.0f} ms\n",
               (*before)->model->elements().size(), (*after)->model->elements().size(), reading, first, again);
    fmt::print(
        "{} added, {} removed, {} changed, {} renewed, {} unchanged; peak memory {:.0f} MB, {:.0f} of it for both "
        "models\n",
        c.added.size(), c.removed.size(), c.changed.size(), c.rekeyed.size(), c.unchanged, bench::peakMegabytes(),
        held);
}
