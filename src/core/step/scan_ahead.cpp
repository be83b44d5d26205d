#include "core/step/scan_ahead.h"

#include "core/step/entity_table.h"
#include "core/step/parse.h"
#include "core/step/statement.h"

#include <tbb/task_arena.h>
#include <tbb/task_group.h>

#include <deque>

namespace wendrix::step {

namespace {

constexpr std::size_t kSmallestPartBytes = 1 << 20;
constexpr std::size_t kMostParts = 16;
// How far from where a part should begin a line that looks like an entity's is looked for.
constexpr std::size_t kSearchedBytes = 1 << 16;
// Beyond so many different keywords an index may not tell them apart.
constexpr std::size_t kMostKeywords = 60'000;

/// Where the line after a ';' begins with '#', from `at` on; npos if none does near.
std::size_t likelyEntity(std::string_view bytes, std::size_t at)
{
    const std::size_t end = std::min(bytes.size(), at + kSearchedBytes);
    for (at = bytes.find('\n', at); at < end; at = bytes.find('\n', at + 1)) {
        const std::size_t before = at > 0 && bytes[at - 1] == '\r' ? at - 1 : at;
        if (before > 0 && bytes[before - 1] == ';' && at + 1 < bytes.size() && bytes[at + 1] == '#')
            return at + 1;
    }
    return std::string_view::npos;
}

} // namespace

struct ScanAhead::Work {
    struct Part {
        std::size_t begin = 0, limit = 0;
        std::size_t end = 0; ///< of what was scanned: where the next statement begins
        EntityTable entities;
    };

    Work(std::string_view b, const Progress& p) : bytes(b), progress(p) {}

    /// Up to the first statement that is not a well formed entity, or that begins at or after the limit.
    void scan(Part& part) const
    {
        std::size_t at = part.begin;
        for (std::size_t statements = 0; at < part.limit; ++statements) {
            if ((statements & 0xFFF) == 0 && progress.isCancelled())
                break;
            const Statement statement = statementFrom(bytes, at);
            if (statement.end == std::string_view::npos || statement.isBroken)
                break;
            const std::string_view text = bytes.substr(at, statement.end - at);
            if (!text.starts_with('#') || !part.entities.add(at, text))
                break;
            at = skipBlank(bytes, statement.end + 1);
        }
        part.end = at;
    }

    std::string_view bytes;
    const Progress& progress;
    std::deque<Part> parts; ///< those that may still be taken over
    tbb::task_group group;
};

ScanAhead::ScanAhead(std::string_view bytes, const Progress& progress) : work_(std::make_unique<Work>(bytes, progress))
{
    const std::size_t wanted = std::min({static_cast<std::size_t>(tbb::this_task_arena::max_concurrency()),
                                         bytes.size() / kSmallestPartBytes, kMostParts});
    for (std::size_t i = 1; i < wanted; ++i)
        if (const std::size_t begin = likelyEntity(bytes, bytes.size() / wanted * i); begin != std::string_view::npos)
            work_->parts.push_back({begin, bytes.size(), begin, EntityTable(bytes)});
    for (std::size_t i = 0; i + 1 < work_->parts.size(); ++i)
        work_->parts[i].limit = work_->parts[i + 1].begin;
    for (Work::Part& part : work_->parts)
        work_->group.run([work = work_.get(), &part] { work->scan(part); });
}

ScanAhead::~ScanAhead()
{
    try {
        work_->group.wait();
    } catch (...) { // of parts that nobody takes over
    }
}

std::size_t ScanAhead::takeFrom(std::size_t at, EntityTable& entities)
{
    while (!work_->parts.empty() && work_->parts.front().begin <= at) {
        work_->group.wait();
        const Work::Part& part = work_->parts.front();
        if (part.begin == at && part.entities.table.keywords.size() < kMostKeywords) {
            entities.append(part.entities);
            at = part.end;
        }
        work_->parts.pop_front();
    }
    return at;
}

} // namespace wendrix::step
