#include "measure.h"

#include "core/changes/comparison.h"
#include "core/clash/engine.h"
#include "core/federation/grid_fit.h"
#include "core/view/picking.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <fstream>
#include <string>
#include <vector>

/// Measures reading, building, clashing and comparing on a folder of sample deliveries. Ratios within one run
/// mean something; times on different machines do not.
using namespace wendrix;

using bench::milliseconds;
using bench::peakMegabytes;

int main(int argc, char** argv)
{
    if (argc < 2) {
        fmt::print(stderr, "usage: wendrix-bench DEMO-DATA\n");
        return 2;
    }
    const std::filesystem::path folder = argv[1];
    std::ifstream in(folder / "demo.json");
    const auto demo = nlohmann::json::parse(in, nullptr, false);
    if (!demo.is_object()) {
        fmt::print(stderr, "wendrix-bench: {} can not be read\n", (folder / "demo.json").string());
        return 3;
    }
    constexpr int kRounds = 5;
    Progress progress;
    std::vector<federation::Member> members;
    fmt::print("{:<28}{:>10}{:>10}{:>12}{:>12}{:>14}\n", "read and build", "elements", "triangles", "read ms",
               "build ms", "peak MB so far");
    for (const auto& delivery : demo["deliveries"]) {
        if (delivery["cycle"] == 3 ||
            demo["tests"].dump().find(delivery["discipline"].get<std::string>()) == std::string::npos)
            continue;
        const std::filesystem::path file = folder / delivery["models"][0].get<std::string>();
        std::shared_ptr<const ifc::Model> model;
        std::shared_ptr<const geometry::MemberGeometry> geometry;
        const double read = milliseconds(kRounds, [&] { model = ifc::Model::open(file, progress).value(); });
        const double build =
            milliseconds(kRounds, [&] { geometry = geometry::MemberGeometry::build(*model, progress).value(); });
        fmt::print("{:<28}{:>10}{:>10}{:>12.1f}{:>12.1f}{:>14.1f}\n", file.filename().string(),
                   model->elements().size(), geometry->triangleCount(), read, build, peakMegabytes());
        federation::Member member;
        member.discipline = delivery["discipline"];
        member.revision = delivery["revision"];
        member.model = model;
        member.geometry = geometry;
        members.push_back(std::move(member));
    }
    for (federation::Member& m : members)
        if (m.discipline != demo["reference"])
            m.fit = federation::fitByGrids(*members[0].model, *m.model).value().fit;

    fmt::print("\n{:<28}{:>10}{:>10}{:>12}{:>12}\n", "clash", "tested", "found", "ms", "µs a pair");
    for (const auto& sides : demo["tests"]) {
        std::vector<std::uint32_t> index;
        for (const auto& side : sides)
            for (std::uint32_t i = 0; i < members.size(); ++i)
                if (members[i].discipline == side && members[i].revision == "P01")
                    index.push_back(i);
        clash::Findings findings;
        const double ms = milliseconds(kRounds, [&] {
            findings = clash::findClashes(members, clash::partsOf(members, std::span(&index[0], 1)),
                                          clash::partsOf(members, std::span(&index[1], 1)),
                                          {clash::Kind::Hard, demo["clashTolerance"].get<double>()}, progress);
        });
        fmt::print("{:<28}{:>10}{:>10}{:>12.1f}{:>12.1f}\n",
                   sides[0].get<std::string>() + " x " + sides[1].get<std::string>(), findings.pairsTested,
                   findings.clashes.size(), ms,
                   1000 * ms / static_cast<double>(std::max<std::size_t>(1, findings.pairsTested)));
    }

    fmt::print("\n{:<28}{:>10}{:>12}\n", "compare", "changed", "ms");
    for (const federation::Member& after : members)
        for (const federation::Member& before : members)
            if (before.discipline == after.discipline && before.revision < after.revision) {
                std::size_t changed = 0;
                const double ms = milliseconds(
                    kRounds, [&] { changed = changes::compare(before, after, {}, progress).value().changed.size(); });
                fmt::print("{:<28}{:>10}{:>12.1f}\n", after.discipline + " " + before.revision + "-" + after.revision,
                           changed, ms);
            }

    view::Picker picker(members);
    const std::vector<view::MemberLook> looks(members.size());
    const auto colours = view::coloursOf({}, members, looks);
    Box3 box = members[0].geometry->bounds();
    const view::Camera camera = view::lookingAt(box, {-0.6, -0.8, 0.5}, 1.6);
    int hits = 0;
    const double picking = milliseconds(kRounds, [&] {
        for (int y = 0; y < 800; y += 40)
            for (int x = 0; x < 1280; x += 40)
                hits += picker.pick(view::rayThrough(camera, {1280, 800}, x, y), colours, {1, {}, {}}) ? 1 : 0;
    });
    fmt::print("\npicking: {:.1f} µs a ray, {} hits\npeak memory: {:.1f} MB\n", 1000 * picking / (20 * 32),
               hits / kRounds, peakMegabytes());
    return 0;
}
