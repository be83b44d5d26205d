#include "measure.h"

#include "core/base/guid.h"
#include "core/bcf/check.h"
#include "core/bcf/convert.h"
#include "core/bcf/writer.h"
#include "core/project/issue_exchange.h"
#include "core/project/issue_list.h"
#include "core/project/issue_making.h"
#include "core/project/setup.h"

#include <fmt/format.h>

#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <random>
#include <unistd.h>

using namespace wendrix;

/// Reading, writing, converting, merging and keeping BCF files: 10 000 topics with 50 000 comments, a viewpoint and a
/// picture each.
namespace {

class Stopwatch {
public:
    [[nodiscard]] double seconds() const
    {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - start_).count();
    }

private:
    std::chrono::steady_clock::time_point start_ = std::chrono::steady_clock::now();
};

issues::Issue topicOf(int n, int comments)
{
    static const std::string picture = [] { // of noise, as pictures of a model are nearly
        using namespace std::string_literals;
        std::string bytes = "\xff\xd8\xff\xc0\0\x0b\x08\0\x02\0\x02\x01\x01\x11\0\xff\xda\0\x08\x01\x01\0\0\x3f\0"s;
        std::mt19937 random(1);
        while (bytes.size() < 30'000)
            bytes += static_cast<char>(random());
        return bytes + "\xff\xd9";
    }();
    issues::Issue i;
    i.uuid = uuidFromText(fmt::format("topic {}", n));
    i.title = fmt::format("Duct {} meets beam {}", n, n % 97);
    i.description = "The supply main runs too high.";
    i.type = "Clash";
    i.status = n % 3 == 0 ? "Closed" : "Open";
    i.priority = "High";
    i.assignee = "Ventilation";
    i.createdAt = i.modifiedAt = "2026-11-01T08:00:00Z";
    i.createdBy = "Ines Varga";
    i.dueAt = fmt::format("2026-12-{:02}T00:00:00Z", 1 + n % 28);
    i.labels = {"Level 2", "Week 46"};
    issues::Viewpoint v;
    v.uuid = uuidFromText(fmt::format("view {}", n));
    v.camera = issues::Camera{{1.5 * n, 2, 3}, {0, 1, 0}, {0, 0, 1}, true, 50, 10, 1.5};
    for (int e = 0; e < 6; ++e)
        v.selection.push_back({0, "", "3rPX_Juz59peXXY6wDJl" + std::to_string(10 + e), 0});
    v.snapshot = picture;
    i.viewpoints = {v};
    for (int c = 0; c < comments; ++c)
        i.comments.push_back({uuidFromText(fmt::format("comment {} {}", n, c)),
                              fmt::format("2026-11-{:02}T09:00:00Z", 2 + c), "T. Okafor",
                              "Lowered by 120 mm, please look again.", v.uuid, "", ""});
    return i;
}

void say(const char* what, double seconds, const std::string& more = {})
{
    fmt::print("{:<44} {:7.2f} s   {:5.0f} MB{}{}\n", what, seconds, bench::peakMegabytes(), more.empty() ? "" : "   ",
               more);
}

} // namespace

int main(int argc, char** argv)
{
    const int topics = argc > 1 ? std::atoi(argv[1]) : 10'000, comments = 5;
    const std::filesystem::path folder =
        std::filesystem::temp_directory_path() / fmt::format("wendrix-bench-bcf-{}", getpid());
    std::filesystem::create_directories(folder);
    const auto file = [&](const char* name) { return folder / name; };
    const auto must = [](const auto& result) {
        if (!result) {
            fmt::print(stderr, "{}\n", result.error().inWords());
            std::exit(1);
        }
    };
    fmt::print("{} topics, {} comments\n", topics, topics * comments);
    for (const bcf::Version version : {bcf::Version::V21, bcf::Version::V30}) {
        Stopwatch watch;
        bcf::Writer writer(version);
        writer.setProject("p", "Marrowfield Seed Store");
        for (int n = 0; n < topics; ++n) {
            bcf::Topic topic;
            topic.issue = topicOf(n, comments);
            const std::string picture = std::exchange(topic.issue.viewpoints[0].snapshot, {});
            static const bcf::Blob blob =
                bcf::Blob::of(picture); // one for all: what is measured is ours, not the disk's
            topic.pictures.emplace(topic.issue.viewpoints[0].uuid, blob);
            writer.add(topic);
        }
        must(writer.write(file(version == bcf::Version::V21 ? "a21.bcf" : "a30.bcf")));
        say(version == bcf::Version::V21 ? "written, 2.1" : "written, 3.0", watch.seconds(),
            fmt::format("{} MB",
                        std::filesystem::file_size(file(version == bcf::Version::V21 ? "a21.bcf" : "a30.bcf")) >> 20));
    }
    for (const char* name : {"a21.bcf", "a30.bcf"}) {
        Stopwatch watch;
        auto opened = bcf::File::open(file(name));
        must(opened);
        std::size_t read = 0;
        for (std::size_t i = 0; i < (*opened)->topicCount(); ++i)
            read += (*opened)->topic(i) ? 1 : 0;
        say(fmt::format("read, {}", name).c_str(), watch.seconds(), fmt::format("{} topics", read));
    }
    {
        Stopwatch watch;
        auto opened = bcf::File::open(file("a21.bcf"));
        must(opened);
        must(bcf::convert(**opened, bcf::Version::V30, file("c30.bcf"), {}));
        say("converted, 2.1 to 3.0", watch.seconds());
    }
    {
        Stopwatch watch;
        const auto checked = bcf::check(file("a21.bcf"));
        must(checked);
        say("held against the standard", watch.seconds(), fmt::format("{} problems", checked->problems.size()));
    }
    {
        Stopwatch watch;
        const auto merge = bcf::mergeFiles(file("a21.bcf"), file("a30.bcf"), file("a21.bcf"), file("m.bcf"), {});
        must(merge);
        say("merged, three-way, over both versions", watch.seconds(),
            fmt::format("{} conflicts", merge->conflicts.size()));
    }
    const WhoAndWhen who{"Ines Varga", "2026-11-29T08:00:00Z"};
    project::Setup setup;
    setup.disciplines.push_back({"Structure", "Tarnbeck Frames", "#5F7E9E", true, {}, {}, {}});
    auto project = project::createProject(folder / "project", "Marrowfield Seed Store", setup, who);
    must(project);
    Progress progress;
    {
        Stopwatch watch;
        const auto incoming = project::readIncoming(**project, file("a21.bcf"), {}, progress);
        must(incoming);
        say("compared with an empty project", watch.seconds());
        Stopwatch taking;
        must(project::takeOver(**project, *incoming, {}, who));
        say("taken over", taking.seconds());
    }
    {
        Stopwatch watch;
        const auto incoming = project::readIncoming(**project, file("a30.bcf"), {}, progress);
        must(incoming);
        say("compared with what is there, three-way", watch.seconds(),
            fmt::format("{} bring something", incoming->topics.size()));
    }
    {
        Stopwatch watch;
        project::IssueQuestion question;
        question.filter = project::IssueFilter::All;
        question.line = "status is Open and due < 2026-12-10 and not (label is Fire)";
        question.grouping = project::IssueGrouping::Due;
        auto known = project::issueKnowledge(**project, "lowered 120", who.person, who.time);
        must(known);
        const project::IssueList list(std::move(*known), question);
        say("searched, narrowed, grouped", watch.seconds(), fmt::format("{} of {}", list.issueCount(), list.total()));
    }
    {
        Stopwatch watch;
        project::SendOrder order;
        const auto keys = (*project)->issues().keys();
        must(keys);
        for (const project::IssueKey& k : *keys)
            order.uuids.push_back(k.uuid);
        order.file = file("sent.bcf");
        must(project::writeIssues(**project, order, who, progress));
        say("written from the project, over what came", watch.seconds());
    }
    std::filesystem::remove_all(folder);
    return 0;
}
