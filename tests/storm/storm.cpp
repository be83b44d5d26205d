#include "storm/worker.h"

#include "core/base/file.h"
#include "core/base/number.h"
#include "core/project/backups.h"
#include "core/project/kept_files.h"
#include "core/project/project.h"
#include "core/project/workspace.h"
#include "support/must.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <poll.h>
#include <signal.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <fstream>
#include <functional>
#include <map>
#include <random>
#include <set>
#include <sstream>
#include <thread>

/// Kills, fills, damages and doubles at random, and holds what was said against what is there. Ends with 1 at the first
/// thing that is wrong, and says with which seed it comes again.
using namespace wendrix;
using namespace wendrix::project;
using test::must;
namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

namespace {

constexpr int kLongestSeconds = 60;

[[noreturn]] void wrong(const std::string& what)
{
    fmt::print(stderr, "wrong: {}\n", what);
    throw std::runtime_error(what);
}

/// A process of its own, and the lines it says.
class Child {
public:
    explicit Child(const std::function<void(int said, int asked)>& run)
    {
        int said[2], asked[2];
        if (::pipe(said) != 0 || ::pipe(asked) != 0)
            wrong("no pipe");
        pid_ = ::fork();
        if (pid_ == 0) {
            ::close(said[0]);
            ::close(asked[1]);
            run(said[1], asked[0]);
            _exit(0);
        }
        ::close(said[1]);
        ::close(asked[0]);
        from_ = said[0];
        to_ = asked[1];
    }
    ~Child()
    {
        if (pid_ > 0) {
            ::kill(pid_, SIGKILL);
            ::waitpid(pid_, nullptr, 0);
        }
        ::close(from_);
        ::close(to_);
    }
    Child(const Child&) = delete;
    Child& operator=(const Child&) = delete;

    void ask() const
    {
        if (::write(to_, "x", 1) != 1)
            wrong("a process is not there to be asked");
    }
    /// Reads what it says until a line begins so, or it has ended.
    bool waitFor(const std::string& begin)
    {
        std::size_t next = lines.size();
        for (;;) {
            for (; next < lines.size(); ++next)
                if (lines[next].starts_with(begin))
                    return true;
            if (!readSome())
                return false;
        }
    }
    /// Kills it, or waits until it ends by itself. @return the signal that ended it, 0 for none
    int end(bool isKilled)
    {
        if (isKilled)
            ::kill(pid_, SIGKILL);
        while (readSome()) {
        }
        int status = 0;
        ::waitpid(pid_, &status, 0);
        pid_ = 0;
        return WIFSIGNALED(status) ? WTERMSIG(status) : 0;
    }

    std::vector<std::string> lines;

private:
    bool readSome()
    {
        pollfd wait{from_, POLLIN, 0};
        if (::poll(&wait, 1, kLongestSeconds * 1000) == 0)
            wrong(fmt::format("a process says nothing for {} s after \"{}\"", kLongestSeconds,
                              lines.empty() ? "" : lines.back()));
        char block[4096];
        const ssize_t got = ::read(from_, block, sizeof block);
        if (got <= 0)
            return false;
        for (ssize_t i = 0; i < got; ++i) {
            if (block[i] != '\n') {
                part_ += block[i];
                continue;
            }
            lines.push_back(std::exchange(part_, {}));
        }
        return true;
    }

    pid_t pid_ = 0;
    int from_ = -1, to_ = -1;
    std::string part_;
};

/// What one worker said that is done, and what was on its way when it ended.
struct Promises {
    std::set<std::string> there, gone, perhaps; ///< markers
    std::map<std::string, std::string> whatWas;
    std::map<PairId, std::string> decided;
    std::map<PairId, std::set<std::string>> perhapsDecided;

    void take(const std::vector<std::string>& lines)
    {
        std::string open;
        for (const std::string& line : lines) {
            std::istringstream words(line);
            std::string kind, what, marker;
            PairId pair = 0;
            words >> kind >> what >> marker >> pair;
            if (kind == "trying")
                open = line;
            else if (kind == "failed" || kind == "done")
                open.clear();
            if (kind == "failed" && line.find(' ', 7) == std::string::npos)
                wrong("a failure without words: " + line);
            if (kind != "done")
                continue;
            if (what == "decide") {
                decided[pair] = marker;
                kindOf_[marker] = pair;
            } else if (what == "undo" && kindOf_.contains(marker)) {
                forget(kindOf_[marker]);
            } else if (what == "undo") {
                there.erase(marker);
                gone.insert(marker);
            } else {
                there.insert(marker);
                whatWas[marker] = line;
            }
        }
        std::istringstream words(open);
        std::string kind, what, marker;
        PairId pair = 0;
        if (!(words >> kind >> what >> marker))
            return;
        words >> pair;
        if (what == "decide")
            perhapsDecided[pair].insert(marker);
        else if (what == "undo" && kindOf_.contains(marker))
            forget(kindOf_[marker]);
        else
            perhaps.insert(marker);
    }
    /// What an undone decision gave way to is not followed.
    void forget(PairId pair)
    {
        decided.erase(pair);
        perhapsDecided.erase(pair);
        unknown.insert(pair);
    }
    std::set<PairId> unknown;

private:
    std::map<std::string, PairId> kindOf_;
};

/// Holds what was said against what the project holds.
void check(const fs::path& folder, const std::vector<Promises>& all)
{
    const auto project = Project::open(folder);
    if (!project)
        wrong("the project does not open: " + project.error().inWords());
    std::set<std::string> found;
    for (const issues::Issue& issue : must((*project)->issues().all())) {
        found.insert(issue.title);
        for (const auto& comment : issue.comments)
            found.insert(comment.text);
    }
    for (const Delivery& d : must((*project)->deliveries().all())) {
        found.insert(d.title);
        for (const ModelFile& model : d.models())
            if (const std::string why = whyNotSound((*project)->deliveries().fileOf(model), model.sha256, Progress());
                !why.empty())
                wrong(d.name() + " " + why);
    }
    std::map<PairId, std::string> reasons;
    for (const Pair& p : must((*project)->clashes().all()))
        reasons[p.id] = p.reason;
    for (const Promises& said : all) {
        for (const std::string& marker : said.there)
            if (!found.contains(marker) && !said.perhaps.contains(marker))
                wrong("\"" + said.whatWas.at(marker) + "\" was said and is not there");
        for (const std::string& marker : said.gone)
            if (found.contains(marker))
                wrong(marker + " was said to be undone and is there");
        for (const auto& [pair, marker] : said.decided) {
            const auto perhaps = said.perhapsDecided.find(pair);
            if (reasons[pair] != marker && !said.unknown.contains(pair) &&
                (perhaps == said.perhapsDecided.end() || !perhaps->second.contains(reasons[pair])))
                wrong(fmt::format("pair {} was decided with {} and has \"{}\"", pair, marker, reasons[pair]));
        }
    }
}

void copyProject(const fs::path& from, const fs::path& to)
{
    fs::remove_all(to);
    fs::copy(from, to, fs::copy_options::recursive);
}

class Storm {
public:
    Storm(fs::path scratch, unsigned seed) : scratch_(std::move(scratch)), random_(seed)
    {
        base_ = scratch_ / "base";
        storm::makeProject(base_);
    }

    struct Scenario {
        const char* name;
        void (Storm::*run)();
    };

    /// @return the name of what was done
    std::string once()
    {
        static const Scenario kAll[] = {{"killed", &Storm::killed},
                                        {"filled", &Storm::filled},
                                        {"damaged", &Storm::damaged},
                                        {"taken away", &Storm::takenAway},
                                        {"doubled", &Storm::doubled}};
        const Scenario& chosen = kAll[random_() % std::size(kAll)];
        (this->*chosen.run)();
        return chosen.name;
    }

private:
    unsigned any(unsigned below) { return static_cast<unsigned>(random_() % below); }
    fs::path fresh()
    {
        const fs::path folder = scratch_ / "work";
        copyProject(base_, folder);
        return folder;
    }
    std::unique_ptr<Child> worker(const fs::path& folder, int number, storm::Pace pace = storm::Pace::AsFastAsItCan,
                                  std::function<void()> before = {})
    {
        const unsigned seed = static_cast<unsigned>(random_());
        return std::make_unique<Child>([=](int said, int asked) {
            if (before)
                before();
            storm::work(folder, number, seed, said, asked, pace);
        });
    }
    void wait(unsigned most) const { std::this_thread::sleep_for(std::chrono::milliseconds(most)); }

    /// One or two windows are killed in the middle of what they do, several times over.
    void killed()
    {
        const fs::path folder = fresh();
        std::vector<Promises> promises(2);
        for (unsigned round = 0, rounds = 1 + any(3); round < rounds; ++round) {
            std::vector<std::unique_ptr<Child>> children;
            for (unsigned i = 0, n = 1 + any(2); i < n; ++i)
                children.push_back(worker(folder, static_cast<int>(i)));
            for (auto& child : children)
                child->waitFor("open");
            wait(5 + any(150));
            for (std::size_t i = 0; i < children.size(); ++i) {
                (void)children[i]->end(true);
                promises[i].take(children[i]->lines);
            }
            check(folder, promises);
        }
    }

    /// No file may grow beyond some size, as on a disk that is full.
    void filled()
    {
        const fs::path folder = fresh();
        const auto most = static_cast<rlim_t>(fs::file_size(folder / "project.sqlite") + any(200'000));
        auto child = worker(folder, 0, storm::Pace::AsFastAsItCan, [most] {
            ::signal(SIGXFSZ, SIG_IGN);
            const rlimit limit{most, most};
            ::setrlimit(RLIMIT_FSIZE, &limit);
        });
        if (const int signal = child->end(false); signal != 0)
            wrong(fmt::format("a full disk ended the program by signal {}", signal));
        std::vector<Promises> promises(1);
        promises[0].take(child->lines);
        check(folder, promises);
    }

    /// A closed project is damaged somewhere: it is read, or it is said why not.
    void damaged()
    {
        const fs::path folder = fresh();
        std::vector<fs::path> files;
        for (const auto& entry : fs::recursive_directory_iterator(folder))
            if (entry.is_regular_file() && entry.file_size() > 0)
                files.push_back(entry.path());
        const fs::path file = any(3) > 0 ? folder / "project.sqlite" : files[any(static_cast<unsigned>(files.size()))];
        std::string bytes = must(readFileWhole(file));
        switch (any(5)) {
        case 0:
            bytes.resize(any(static_cast<unsigned>(bytes.size())));
            break;
        case 1:
            for (unsigned i = 0, n = 1 + any(40); i < n; ++i)
                bytes[any(static_cast<unsigned>(bytes.size()))] = static_cast<char>(any(256));
            break;
        case 2: { // a page
            const std::size_t at = any(static_cast<unsigned>(bytes.size())) / 4096 * 4096;
            for (std::size_t i = at; i < std::min(bytes.size(), at + 4096); ++i)
                bytes[i] = static_cast<char>(any(256));
            break;
        }
        case 3: { // a page of another place
            const std::size_t from = any(static_cast<unsigned>(bytes.size())) / 4096 * 4096,
                              to = any(static_cast<unsigned>(bytes.size())) / 4096 * 4096;
            bytes.replace(to, std::min<std::size_t>(4096, bytes.size() - to), std::string(bytes, from, 4096));
            break;
        }
        default:
            std::fill(bytes.begin() + static_cast<std::ptrdiff_t>(any(static_cast<unsigned>(bytes.size()))),
                      bytes.end(), '\0');
        }
        std::ofstream(file, std::ios::binary | std::ios::trunc) << bytes;
        Child child([&](int said, int) { storm::readAll(folder, said); });
        const int signal = child.end(false);
        if (signal != 0 || child.lines.empty() || child.lines.back() != "read") {
            const fs::path kept = scratch_.parent_path() / "storm-found";
            copyProject(folder, kept);
            wrong(fmt::format("{} damaged ended the program by signal {}; it is kept in {}", file.filename().string(),
                              signal, kept.string()));
        }
    }

    /// The database goes away, or becomes another, under an open window: nothing more is said to be done.
    void takenAway()
    {
        const fs::path folder = fresh();
        auto child = worker(folder, 0, storm::Pace::OneByOne);
        if (!child->waitFor("open"))
            wrong("the project does not open");
        const auto step = [&] {
            const std::size_t before = child->lines.size();
            child->ask();
            if (!child->waitFor("asked"))
                wrong("the program ended while it was asked");
            return std::vector<std::string>(child->lines.begin() + static_cast<std::ptrdiff_t>(before),
                                            child->lines.end());
        };
        for (unsigned i = 0, n = 1 + any(4); i < n; ++i)
            (void)step();
        const fs::path database = folder / "project.sqlite";
        switch (any(4)) {
        case 0:
            fs::remove(database);
            break;
        case 1:
            fs::rename(database, folder / "elsewhere");
            fs::copy_file(base_ / "project.sqlite", database);
            break;
        case 2:
            fs::resize_file(database, 0);
            break;
        default:
            fs::resize_file(database, fs::file_size(database) / 2);
        }
        for (int i = 0; i < 4; ++i)
            for (const std::string& line : step())
                if (line.starts_with("done"))
                    wrong("\"" + line + "\" was said of a project that is no longer there");
        if (const int signal = child->end(true); signal != SIGKILL)
            wrong("the program ended by itself");
    }

    /// Two windows of two persons, that both go on; then both receive what the other has just received.
    void doubled()
    {
        const fs::path folder = fresh();
        auto a = worker(folder, 0), b = worker(folder, 1);
        wait(100 + any(400));
        std::vector<Promises> promises(2);
        (void)a->end(true);
        (void)b->end(true);
        promises[0].take(a->lines);
        promises[1].take(b->lines);
        check(folder, promises);
    }

    fs::path scratch_, base_;
    std::mt19937 random_;
};

} // namespace

int main(int argc, char** argv)
{
    const double minutes = argc > 1 ? numberIn(argv[1]).value_or(2) : 2;
    unsigned seed = argc > 2 ? static_cast<unsigned>(numberIn(argv[2]).value_or(1)) : std::random_device{}();
    ::signal(SIGPIPE, SIG_IGN);
    const fs::path scratch = fs::temp_directory_path() / fmt::format("wendrix-storm-{}", ::getpid());
    std::map<std::string, int> done;
    int result = 0;
    const auto end = Clock::now() + std::chrono::duration<double>(60 * minutes);
    while (Clock::now() < end && result == 0) {
        fs::remove_all(scratch);
        fs::create_directories(scratch);
        try {
            Storm storm(scratch, seed);
            for (int i = 0; i < 20 && Clock::now() < end; ++i)
                ++done[storm.once()];
        } catch (const std::exception& failure) {
            fmt::print(stderr, "seed {}: {}\n", seed, failure.what());
            result = 1;
        }
        ++seed;
    }
    fs::remove_all(scratch);
    for (const auto& [name, times] : done)
        fmt::print("{} {} times\n", name, times);
    return result;
}
