#include "clash.h"
#include "measure.h"

#include "core/clash/engine.h"
#include "core/clash/memory.h"
#include "core/clash/side.h"
#include "core/geometry/primitives.h"
#include "core/geometry/sweep.h"
#include "core/sets/elements.h"

#include <chrono>
#include <fmt/format.h>

#include <filesystem>
#include <fstream>
#include <numbers>
#include <numeric>
#include <random>
#include <thread>

using namespace wendrix;

namespace {

/// A bend of a round duct, an I-beam, a round duct, a tank: what services and frames are made of. `fine` divides them.
geometry::Mesh bodyAtRandom(std::mt19937& random, int fine)
{
    const auto between = [&](double low, double high) { return std::uniform_real_distribution(low, high)(random); };
    const auto round = [&](double radius) {
        std::vector<Point2> outline;
        for (int i = 0; i < fine; ++i) {
            const double at = 2 * std::numbers::pi * i / fine;
            outline.push_back({radius * std::cos(at), radius * std::sin(at)});
        }
        return outline;
    };
    const int kind = std::uniform_int_distribution(0, 3)(random);
    geometry::Mesh mesh;
    if (kind == 0) {
        const double r = between(0.1, 0.3);
        std::vector<geometry::Area> sections(static_cast<std::size_t>(fine), geometry::Area{round(r), {}});
        std::vector<Transform> frames;
        for (int i = 0; i < fine; ++i) {
            const double a = 0.5 * std::numbers::pi * i / (fine - 1);
            frames.push_back({{std::cos(a), std::sin(a), 0},
                              {0, 0, 1},
                              {std::sin(a), -std::cos(a), 0},
                              {3 * r * std::cos(a), 3 * r * std::sin(a), 0}});
        }
        mesh = geometry::lofted(sections, frames).value();
    } else if (kind == 1) {
        const double w = between(0.1, 0.2), h = between(0.15, 0.3), t = 0.012, l = between(1, 3);
        const std::vector<Point2> i{{-w, -h}, {w, -h}, {w, -h + t}, {t, -h + t}, {t, h - t},   {w, h - t},
                                    {w, h},   {-w, h}, {-w, h - t}, {-t, h - t}, {-t, -h + t}, {-w, -h + t}};
        mesh = *geometry::extruded({i, {}}, {0, 0, l});
    } else if (kind == 2) {
        mesh = *geometry::extruded({round(between(0.05, 0.25)), {}}, {0, 0, between(1, 3)});
    } else {
        std::vector<Point2> half; // a tank with round ends
        const double r = between(0.2, 0.5);
        for (int i = 0; i <= fine; ++i) {
            const double at = std::numbers::pi * (static_cast<double>(i) / fine - 0.5);
            half.push_back({std::max(0.0, r * std::cos(at)), r * std::sin(at) + (i > fine / 2 ? r : 0)});
        }
        half.front().x = half.back().x = 0;
        geometry::Fineness fineness;
        mesh = geometry::revolved({half, {}}, {}, {0, 1, 0}, Radians{2 * std::numbers::pi}, fineness).value();
    }
    return mesh;
}

std::string textOf(const std::vector<geometry::Mesh>& meshes)
{
    std::string text =
        "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('','',(''),(''),'','','');\n"
        "FILE_SCHEMA(('IFC4'));\nENDSEC;\nDATA;\n"
        "#1=IFCPROJECT('0000000000000000000001',$,'Bench',$,$,$,$,(#3),#2);\n#2=IFCUNITASSIGNMENT((#4));\n"
        "#3=IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-09,#5,$);\n#4=IFCSIUNIT(*,.LENGTHUNIT.,$,."
        "METRE.);\n#5=IFCAXIS2PLACEMENT3D(#6,$,$);\n#6=IFCCARTESIANPOINT((0.,0.,0.));\n"
        "#7=IFCLOCALPLACEMENT($,#5);\n";
    std::size_t id = 10;
    for (std::size_t i = 0; i < meshes.size(); ++i) {
        std::string points, triangles;
        for (const Point3& p : meshes[i].points)
            points += fmt::format("{}({:.9f},{:.9f},{:.9f})", points.empty() ? "" : ",", p.x, p.y, p.z);
        for (const auto& t : meshes[i].triangles)
            triangles += fmt::format("{}({},{},{})", triangles.empty() ? "" : ",", t[0] + 1, t[1] + 1, t[2] + 1);
        text += fmt::format("#{}=IFCCARTESIANPOINTLIST3D(({}));\n#{}=IFCTRIANGULATEDFACESET(#{},$,.T.,({}),$);\n", id,
                            points, id + 1, id, triangles);
        text += fmt::format("#{}=IFCSHAPEREPRESENTATION(#3,'Body','Tessellation',(#{}));\n", id + 2, id + 1);
        text += fmt::format("#{}=IFCPRODUCTDEFINITIONSHAPE($,$,(#{}));\n", id + 3, id + 2);
        text +=
            fmt::format("#{}=IFCBUILDINGELEMENTPROXY('{:022}',$,'Body {}',$,$,#7,#{},$,$);\n", id + 4, id, i, id + 3);
        id += 5;
    }
    return text + "ENDSEC;\nEND-ISO-10303-21;\n";
}

federation::Member memberOf(const std::vector<geometry::Mesh>& meshes)
{
    const auto path = std::filesystem::temp_directory_path() / "wendrix-bench-clash.ifc";
    std::ofstream(path) << textOf(meshes);
    Progress progress;
    federation::Member member = federation::openMember(path, progress).value();
    std::filesystem::remove(path);
    return member;
}

/// The bodies of one side for the others, which share no shapes. Where that would not fit into memory, only those that
/// come near one of the other side: what is far from everything is left out for them, and not for us.
std::vector<geometry::Mesh> meshesOf(const std::vector<federation::Member>& members, std::span<const clash::Part> own,
                                     std::span<const clash::Part> others, const clash::Question& question,
                                     bool isNearOnly)
{
    const clash::Side a(members, others, {}), b(members, own, {});
    std::vector<std::uint32_t> allOthers(a.size()), all(b.size());
    std::iota(allOthers.begin(), allOthers.end(), 0u);
    std::iota(all.begin(), all.end(), 0u);
    std::vector<geometry::Mesh> meshes;
    for (const std::uint32_t i : isNearOnly ? clash::nearTo(a, clash::PartTree(a, allOthers), b, all, question) : all)
        meshes.push_back(members[own[i].member].geometry->meshOf(own[i].element));
    return meshes;
}

federation::Member atRandom(unsigned seed, std::size_t triangles, int fine, double side)
{
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> place(0, side), unit(-1, 1);
    std::vector<geometry::Mesh> meshes;
    for (std::size_t count = 0; count < triangles; count += meshes.back().triangles.size()) {
        const Vector3 z = normalised({unit(random), unit(random), unit(random)}), x = anyPerpendicular(z);
        meshes.push_back(geometry::transformed(bodyAtRandom(random, fine),
                                               {x, cross(z, x), z, {place(random), place(random), place(random)}}));
    }
    return memberOf(meshes);
}

void compare(const char* what, const std::vector<federation::Member>& members, const clash::Question& question,
             bool withOthers)
{
    const std::uint32_t l[] = {0}, r[] = {static_cast<std::uint32_t>(members.size() - 1)};
    const auto left = clash::partsOf(members, l), right = clash::partsOf(members, r);
    Progress progress;
    clash::Findings findings;
    const double first =
        bench::milliseconds(1, [&] { findings = clash::findClashes(members, left, right, question, progress); });
    const double again =
        bench::milliseconds(2, [&] { findings = clash::findClashes(members, left, right, question, progress); });
    clash::Question thorough = question;
    thorough.mostThorough = 1'000'000'000;
    const double deep =
        bench::milliseconds(1, [&] { findings = clash::findClashes(members, left, right, thorough, progress); });
    std::size_t triangles = 0, bytes = 0;
    for (const federation::Member& m : members) {
        triangles += m.geometry->triangleCount();
        bytes += clash::MemberIndex::of(m.geometry)->bytes();
    }
    fmt::print("{:<34}{:>9} elements {:>9} triangles {:>9} tested {:>8} found {:>9.1f} ms, again {:>9.1f} ms, with "
               "thorough depths {:>9.1f} ms, {:.0f} "
               "bytes a triangle\n",
               what, left.size() + right.size(), triangles, findings.pairsTested, findings.clashes.size(), first, again,
               deep, static_cast<double>(bytes) / static_cast<double>(triangles));
    // As after a revision with one element in a hundred new.
    clash::Memory memory;
    std::vector<clash::Part> before;
    std::mt19937 random(7); // models repeat themselves: every hundredth element may be of one kind
    for (const clash::Part part : left)
        if (random() % 100 != 0)
            before.push_back(part);
    (void)clash::findClashes(members, before, right, question, progress, &memory);
    const double after = bench::milliseconds(
        1, [&] { findings = clash::findClashes(members, left, right, question, progress, &memory); });
    fmt::print("    1 % of the left ones new: {:.1f} ms, {:.3f} of testing all again\n", after, after / again);
    // Cancelled at the beginning, in the middle and near the end: how long until it answers, and what it then has.
    for (const double share : {0.1, 0.5, 0.9}) {
        Progress stopped;
        std::chrono::steady_clock::time_point asked;
        std::thread canceller([&] {
            std::this_thread::sleep_for(std::chrono::duration<double, std::milli>(share * again));
            asked = std::chrono::steady_clock::now();
            stopped.cancel();
        });
        findings = clash::findClashes(members, left, right, question, stopped);
        const auto answered = std::chrono::steady_clock::now();
        canceller.join();
        fmt::print("    cancelled after {:.0f} ms: answers after {:.1f} ms more, {} found{}\n", share * again,
                   std::chrono::duration<double, std::milli>(answered - asked).count(), findings.clashes.size(),
                   findings.isPartial ? ", said to be part of it" : "");
    }
    std::fflush(stdout);
    if (!withOthers)
        return;
    constexpr std::size_t kMostForOthers = 60'000'000; // triangles
    const bool isNearOnly = triangles > kMostForOthers;
    if (isNearOnly)
        fmt::print("    the others get only what comes near something\n");
    const auto mine = meshesOf(members, left, right, question, isNearOnly),
               theirs = meshesOf(members, right, left, question, isNearOnly);
    std::vector<bench::Others> others;
#ifdef WENDRIX_HAS_FCL
    others.push_back(question.kind == clash::Kind::Hard ? bench::hardWithFcl(mine, theirs)
                                                        : bench::clearanceWithFcl(mine, theirs, question.clearance));
#endif
    if (question.kind == clash::Kind::Hard)
        others.push_back(bench::hardWithCgal(mine, theirs));
    for (const bench::Others& o : others)
        fmt::print("    {:<6}{:>8} found {:>9.1f} ms: ours is {:.1f} times as fast, kept trees {:.1f} times\n", o.name,
                   o.pairs, o.milliseconds, o.milliseconds / first, o.milliseconds / again);
    std::fflush(stdout);
}

} // namespace

/// How long sets take, the first time and when their columns are there.
void pickByRule(const std::vector<federation::Member>& members)
{
    const sets::Elements elements(members);
    for (const char* line : {"class is Wall, PipeSegment", "name has 7 and not type has DN50", "\"pipe 12\"",
                             "inside 0 0 0 to 50 50 50", "Pset_PipeSegmentTypeCommon.NominalDiameter > 80 mm"}) {
        const auto parsed = sets::parse(line);
        std::size_t count = 0;
        const auto ask = [&] { count = elements.in(*parsed.expression).count; };
        const double first = bench::milliseconds(1, ask), again = bench::milliseconds(3, ask);
        fmt::print("{:<50}{:>9} picked {:>9.1f} ms, again {:>7.1f} ms\n", line, count, first, again);
    }
    std::fflush(stdout);
}

/// Clashes beside FCL and CGAL on the same meshes, in one run: dense sets at random, or files given.
/// wendrix-bench-clash [hard|free|ours] [FILE...]
int main(int argc, char** argv)
{
    const std::string only = argc > 1 ? argv[1] : "";
    const bool isOnly = only == "hard" || only == "free" || only == "ours";
    const bool isHard = only != "free", isFree = only != "hard", withOthers = only != "ours";
    const std::vector<std::string> files(argv + (isOnly ? 2 : 1), argv + argc);
    clash::Question hard{clash::Kind::Hard, 0.001}, clearance{clash::Kind::Clearance, 0.001, 0.05};
    hard.mostThorough = 0; // as in runs of more clashes than anyone looks at
    if (files.empty()) {
        for (const auto& [name, triangles, side] :
             {std::tuple{"small", 20'000u, 4.0}, std::tuple{"dense, 2 x 0.9 million", 900'000u, 14.0},
              std::tuple{"dense, 2 x 3.5 million", 3'500'000u, 22.0}}) {
            if (isOnly && triangles > 1'000'000)
                break; // while something is worked on

            const std::vector<federation::Member> members{atRandom(1, triangles, 24, side),
                                                          atRandom(2, triangles, 24, side)};
            if (isHard)
                compare(fmt::format("{}, hard", name).c_str(), members, hard, withOthers);
            if (isFree)
                compare(fmt::format("{}, 50 mm free", name).c_str(), members, clearance, withOthers);
        }
        fmt::print("peak memory {:.0f} MB\n", bench::peakMegabytes());
        return 0;
    }
    std::vector<federation::Member> members;
    Progress progress;
    for (const std::string& file : files)
        members.push_back(federation::openMember(file, progress).value());
    pickByRule(members);
    if (isHard)
        compare("files, hard", members, hard, withOthers);
    if (isFree)
        compare("files, 50 mm free", members, clearance, withOthers);
    fmt::print("peak memory {:.0f} MB\n", bench::peakMegabytes());
    return 0;
}
