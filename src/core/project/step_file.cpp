#include "core/project/step_file.h"

#include "core/base/file.h"
#include "core/base/folder_guard.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <fcntl.h>
#include <regex>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace wendrix::project {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

constexpr const char *kEnding = " steps.jsonl", *kAside = " set aside.jsonl";
constexpr std::uintmax_t kMostBytes = 1u << 30;
constexpr std::int64_t kMostNumber = 1'000'000'000'000; // nobody gave more; what is made up must not use numbers up

/// "2026-11-28T20-14-05Z steps.jsonl", where there is one already with "+1" after the time.
bool isStepFile(const fs::path& file, bool isSetAside)
{
    static const std::regex ours(R"(\d{4}-\d\d-\d\dT\d\d-\d\d-\d\dZ(\+\d{1,4})? (steps|set aside)\.jsonl)");
    const std::string name = file.filename().string();
    return name.size() < 80 && std::regex_match(name, ours) && name.ends_with(isSetAside ? kAside : kEnding) &&
           isPlainFile(file);
}

std::vector<fs::path> filesOf(const fs::path& project, bool isSetAside = false)
{
    std::vector<fs::path> files;
    for (const std::string& name : namesIn(project / "backups"))
        if (isStepFile(project / "backups" / name, isSetAside))
            files.push_back(project / "backups" / name);
    return files;
}

/// Lets go of the oldest beyond those that are kept; a file that somebody writes is locked, and stays.
void tidy(std::vector<fs::path> files)
{
    std::size_t tooMany = files.size() > kMostStepFiles ? files.size() - kMostStepFiles : 0;
    for (auto file = files.begin(); tooMany > 0 && file != files.end(); ++file) {
        const Descriptor one = openFile(*file, O_RDONLY | O_NOFOLLOW);
        if (one.isOpen() && flock(one.get(), LOCK_EX | LOCK_NB) == 0 && removeFile(*file))
            --tooMany;
    }
}

bool writeAll(int descriptor, std::string_view bytes)
{
    while (!bytes.empty()) {
        const ssize_t written = ::write(descriptor, bytes.data(), bytes.size());
        if (written < 0 && errno == EINTR)
            continue;
        if (written <= 0)
            return false;
        bytes.remove_prefix(static_cast<std::size_t>(written));
    }
    return true;
}

std::optional<KeptStep> stepFrom(std::string_view line)
{
    const Json json = Json::parse(line, nullptr, false);
    if (!json.is_object() || !json.contains("events") || !json["events"].is_array() || json["events"].empty())
        return {};
    KeptStep step;
    if (const auto id = json.find("id"); id != json.end() && id->is_number_integer())
        step.id = *id;
    for (const Json& one : json["events"]) {
        if (!one.is_array() || one.size() != 5 || !one[2].is_number_unsigned() ||
            !(one[0].is_string() && one[1].is_string() && one[3].is_string() && one[4].is_string()))
            return {};
        step.events.push_back({{one[0], one[1]}, one[2], one[3], one[4]});
    }
    if (const auto counters = json.find("counters"); counters != json.end() && counters->is_object())
        for (const auto& [name, value] : counters->items())
            if (value.is_number_integer() && value <= kMostNumber)
                step.counters[name] = value;
    return step;
}

} // namespace

StepFile::~StepFile()
{
    if (descriptor_ >= 0)
        ::close(descriptor_);
}

bool StepFile::open()
{
    if (descriptor_ >= 0)
        return true;
    const fs::path folder = project_ / "backups";
    makeFolder(folder); // only where the project's folder still is
    std::string time = currentTime();
    std::replace(time.begin(), time.end(), ':', '-');
    for (int more = 0; descriptor_ < 0 && more < 10'000; ++more) {
        file_ = folder / (time + (more > 0 ? "+" + std::to_string(more) : "") + kEnding);
        descriptor_ = openFile(file_, O_WRONLY | O_CREAT | O_EXCL | O_APPEND, 0666).release();
        if (descriptor_ < 0 && errno != EEXIST)
            return false;
    }
    if (descriptor_ >= 0) {
        (void)flock(descriptor_, LOCK_SH | LOCK_NB);
        tidy(filesOf(project_));
    }
    return descriptor_ >= 0;
}

void StepFile::add(const KeptStep& step, const std::string& changes)
{
    if (!open())
        return;
    Json head{{"id", step.id}, {"events", Json::array()}, {"counters", step.counters}};
    for (const KeptEvent& e : step.events)
        head["events"].push_back({e.by.person, e.by.time, e.books, e.what, e.subject});
    std::string lines = head.dump(-1, ' ', false, Json::error_handler_t::replace) + "\n";
    lines += changes;
    lines += '\n';
    if (writeAll(descriptor_, lines))
        bytes_ += lines.size();
    else if (::ftruncate(descriptor_, static_cast<off_t>(bytes_)) != 0) // no half steps
        bytes_ = 0;
}

bool StepFile::isThere() const
{
    struct stat ours {};
    const auto there = statusOf(file_);
    return descriptor_ >= 0 && bytes_ > 0 && fstat(descriptor_, &ours) == 0 && there && ours.st_ino == there->st_ino &&
           ours.st_dev == there->st_dev;
}

std::vector<KeptStep> keptSteps(const fs::path& project)
{
    std::vector<KeptStep> steps;
    std::vector<std::pair<Timestamp, std::size_t>> order; // by when, clocks set back left aside
    for (const fs::path& file : filesOf(project)) {
        Timestamp latest;
        const auto mapped = MappedFile::open(file);
        if (!mapped || (*mapped)->bytes().size() > kMostBytes)
            continue;
        const std::string_view bytes = (*mapped)->bytes();
        for (std::size_t at = 0; at < bytes.size();) {
            const std::size_t headEnd = bytes.find('\n', at);
            const std::size_t bodyEnd = headEnd == bytes.npos ? bytes.npos : bytes.find('\n', headEnd + 1);
            if (bodyEnd == bytes.npos)
                break; // written half when the program ended
            if (auto step = stepFrom(bytes.substr(at, headEnd - at))) {
                step->file = file;
                step->at = headEnd + 1;
                step->bytes = bodyEnd - headEnd - 1;
                latest = std::max(latest, step->events.front().by.time);
                order.emplace_back(latest, steps.size());
                steps.push_back(std::move(*step));
            }
            at = bodyEnd + 1;
        }
    }
    std::stable_sort(order.begin(), order.end(), [&](const auto& a, const auto& b) {
        return std::tie(a.first, steps[a.second].id) < std::tie(b.first, steps[b.second].id);
    });
    std::vector<KeptStep> ordered;
    ordered.reserve(steps.size());
    for (const auto& [time, i] : order)
        ordered.push_back(std::move(steps[i]));
    return ordered;
}

Result<std::string> changesOf(const KeptStep& step)
{
    const auto mapped = MappedFile::open(step.file);
    if (!mapped)
        return fail(mapped.error());
    const std::string_view bytes = (*mapped)->bytes();
    if (step.at > bytes.size() || step.bytes > bytes.size() - step.at)
        return fail({kFileUnreadable, "The file of steps was cut short.", step.file.string()});
    return std::string(bytes.substr(step.at, step.bytes));
}

void setAside(const std::vector<KeptStep>& steps)
{
    for (const KeptStep& step : steps) {
        std::string name = step.file.string();
        if (!name.ends_with(kEnding) || !isPlainFile(step.file))
            continue;
        name.replace(name.size() - std::string_view(kEnding).size(), std::string::npos, kAside);
        if (!statusOf(name))
            renameFile(step.file, name);
        tidy(filesOf(step.file.parent_path().parent_path(), true));
    }
}

} // namespace wendrix::project
