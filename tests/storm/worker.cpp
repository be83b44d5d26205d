#include "storm/worker.h"

#include "core/base/file.h"
#include "core/project/issue_making.h"
#include "core/project/receiving.h"
#include "core/project/taking_in.h"
#include "core/project/workspace.h"
#include "support/made_project.h"
#include "support/must.h"
#include "support/read_everything.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <unistd.h>

#include <random>

namespace wendrix::storm {

namespace fs = std::filesystem;
using namespace project;
using test::must;

namespace {

constexpr int kMostFailures = 40;
constexpr std::uint32_t kPairs = 60;

void say(int to, const std::string& line)
{
    const std::string whole = line + "\n";
    if (::write(to, whole.data(), whole.size()) < 0)
        _exit(3);
}

std::string inOneLine(std::string text)
{
    std::replace(text.begin(), text.end(), '\n', ' ');
    return text;
}

/// One window: a person with a project open.
class Worker {
public:
    Worker(Project& project, fs::path folder, int number, unsigned seed, int said)
        : project_(project), folder_(std::move(folder)), number_(number), random_(seed),
          said_(said), who_{"Person " + std::to_string(number), "2026-11-18T09:00:00Z"}
    {
    }

    /// @return false where it failed
    bool step()
    {
        const std::string marker = fmt::format("S-{}-{}-{}", number_, ::getpid(), next_++);
        switch (random_() % 8) {
        case 0:
        case 1:
            return issue(marker);
        case 2:
        case 3:
            return tell("comment " + marker, project_.issues().addComment(firstIssue(), marker, who_), marker);
        case 4:
        case 5:
            return decide(marker);
        case 6:
            return receive(marker);
        default:
            return undo();
        }
    }

private:
    template <class T>
    bool tell(const std::string& what, const Result<T>& result, const std::string& marker)
    {
        if (!result) {
            say(said_, fmt::format("failed {} {}", result.error().code.name, inOneLine(result.error().inWords())));
            return false;
        }
        done_.push_back(marker);
        say(said_, "done " + what);
        return true;
    }
    void trying(const std::string& what) { say(said_, "trying " + what); }

    bool issue(const std::string& marker)
    {
        trying("issue " + marker);
        issues::Issue made;
        made.title = marker;
        // As one that was made of a finding: rows of more than one table.
        const issues::Requirement wanted{1, "guid.twice", marker, {{1, "P01", 3, 0, 0}}};
        return tell("issue " + marker, makeIssues(project_, {{made, {}, issues::made_from::kCheck, wanted}}, who_),
                    marker);
    }
    /// Pairs of its own, so that what it said last is what has to be there.
    bool decide(const std::string& marker)
    {
        const auto pairs = project_.clashes().all();
        if (!pairs || pairs->empty())
            return tell("decide", pairs, marker);
        const PairId pair = (*pairs)[(random_() % (pairs->size() / 2)) * 2 + static_cast<std::size_t>(number_ % 2)].id;
        const std::string what = fmt::format("decide {} {}", marker, pair);
        trying(what);
        return tell(
            what,
            project_.clashes().decide(std::span(&pair, 1), random_() % 2 == 0 ? "let stand" : "later", marker, who_),
            marker);
    }
    bool receive(const std::string& marker)
    {
        const fs::path file = folder_.parent_path() / (marker + ".ifc");
        trying("delivery " + marker);
        if (const auto written =
                writeFileWhole(file, "ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('IFC4'));\nENDSEC;\nDATA;\n#1=IFCPROJECT('" +
                                         std::string(22 - std::min<std::size_t>(22, marker.size()), '0') +
                                         marker.substr(0, 22) + "',$,$,$,$,$,$,$,$);\nENDSEC;\nEND-ISO-10303-21;\n");
            !written)
            return tell("delivery " + marker, written, marker);
        NewDelivery d;
        d.discipline = number_ % 2 == 0 ? "Structure" : "Ventilation";
        d.revision = marker;
        d.title = marker;
        d.models = {{file, {}, {}, 0}};
        Progress progress;
        return tell("delivery " + marker,
                    receiveDelivery(
                        folder_, d, [&](const NewDelivery& x) { return project_.deliveries().add(x, who_); }, progress),
                    marker);
    }
    bool undo()
    {
        if (done_.empty())
            return true;
        const std::string marker = done_.back();
        trying("undo " + marker);
        const auto label = project_.log().undoable(who_.person);
        if (!label || label->empty())
            return true;
        if (const auto undone = project_.undo(who_); !undone) {
            say(said_, fmt::format("failed {} {}", undone.error().code.name, inOneLine(undone.error().inWords())));
            return false;
        }
        done_.pop_back();
        say(said_, "done undo " + marker);
        return true;
    }
    std::string firstIssue()
    {
        if (issue_.empty())
            if (const auto all = project_.issues().keys(); all && !all->empty())
                issue_ = all->front().uuid;
        return issue_;
    }

    Project& project_;
    fs::path folder_;
    int number_;
    std::mt19937 random_;
    int said_;
    WhoAndWhen who_;
    int next_ = 0;
    std::vector<std::string> done_;
    std::string issue_;
};

} // namespace

void work(const fs::path& folder, int number, unsigned seed, int said, int asked, Pace pace)
{
    auto project = Project::open(folder);
    if (!project) {
        say(said, fmt::format("failed {} {}", project.error().code.name, inOneLine(project.error().inWords())));
        _exit(0);
    }
    say(said, "open");
    Worker worker(**project, folder, number, seed, said);
    for (int failures = 0; failures < kMostFailures;) {
        char byte = 0;
        if (pace == Pace::OneByOne && ::read(asked, &byte, 1) != 1)
            break;
        failures += worker.step() ? 0 : 1;
        if (pace == Pace::OneByOne)
            say(said, "asked");
    }
    project->reset();
    _exit(0);
}

void readAll(const fs::path& folder, int said)
{
    const auto note = [&](const auto& result) {
        if (!result)
            say(said, fmt::format("failed {} {}", result.error().code.name, inOneLine(result.error().inWords())));
    };
    auto opened = Project::open(folder);
    note(opened);
    if (opened) {
        Project& p = **opened;
        test::readEverything(p, {"Person 0", "2026-11-18T09:00:00Z"}, note);
        Progress progress;
        const auto order = orderOf(p);
        note(order);
        if (order)
            note(load(*order, {}, progress));
    }
    say(said, "read");
    _exit(0);
}

void makeProject(const fs::path& folder)
{
    const auto project = test::madeProject(folder, {"Architecture", "Structure", "Ventilation"});
    for (const char* discipline : {"Architecture", "Structure", "Ventilation"}) {
        const DeliveryId id = test::received(*project, discipline, "P01");
        (void)must(takeIn(*project, {id, {}, {}}, test::kInes));
    }
    test::MadeRun run(*project, {"Structure", "Ventilation"});
    for (std::uint32_t i = 0; i < kPairs; ++i)
        run.pair(run.ref("Structure", "S" + std::to_string(i)), run.ref("Ventilation", "V" + std::to_string(i)));
    (void)must(recordRun(*project, run.run, test::kInes));
    issues::Issue issue;
    issue.title = kFirstIssue;
    (void)must(makeIssue(*project, issue, {}, test::kInes));
}

} // namespace wendrix::storm
