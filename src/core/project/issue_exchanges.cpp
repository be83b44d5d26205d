#include "core/project/issue_exchange.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/bcf/file.h"
#include "core/project/rows.h"
#include "core/project/stored_files.h"

namespace wendrix::project {

namespace {

constexpr std::uint64_t kLargestDocument = 1ull << 30;

constexpr const char* kColumns = "SELECT e.place, e.isSent, e.fileName, e.sha256, e.partner, e.version, e.topics, "
                                 "e.person, e.time FROM exchanges e ";

Exchange exchangeOf(SQLite::Statement& q)
{
    return {q.getColumn(0).getInt64(),
            q.getColumn(1).getInt() != 0,
            text(q, 2),
            text(q, 3),
            text(q, 4),
            text(q, 5),
            count(q, 6),
            {text(q, 7), text(q, 8)}};
}

} // namespace

Result<std::vector<Exchange>> IssuesBook::exchanges() const
{
    return store_.read(
        [](SQLite::Database& db) { return allRows(db, std::string(kColumns) + "ORDER BY e.place DESC", exchangeOf); });
}

Result<std::optional<Exchange>> IssuesBook::lastExchanged(const std::string& uuid) const
{
    return store_.read([&](SQLite::Database& db) -> std::optional<Exchange> {
        auto found =
            allRows(db,
                    std::string(kColumns) +
                        "JOIN exchangedTopics t ON t.exchange=e.uuid WHERE t.issue=? ORDER BY e.place DESC LIMIT 1",
                    exchangeOf, uuid);
        return found.empty() ? std::nullopt : std::optional(std::move(found.front()));
    });
}

Result<bool> IssuesBook::isNamed(const std::string& sha256) const
{
    return store_.read([&](SQLite::Database& db) {
        return numberOr(db, "SELECT COUNT(*) FROM exchanges WHERE sha256=?", sha256) > 0 ||
               numberOr(db, "SELECT COUNT(*) FROM issues WHERE INSTR(origins, ?) > 0", sha256) > 0;
    });
}

std::filesystem::path IssuesBook::fileOf(const std::string& sha256) const { return exchangeFile(folder_, sha256); }

void IssuesBook::writeExchange(SQLite::Database& db, const Exchange& e, std::span<const std::string> topics) const
{
    const std::string uuid = newUuid();
    run(db, "INSERT INTO exchanges VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", uuid, nextNumber(db, "exchange"),
        e.isSent ? 1 : 0, e.fileName, e.sha256, e.partner, e.version, static_cast<std::int64_t>(topics.size()),
        e.by.person, e.by.time);
    for (const std::string& topic : topics)
        run(db, "INSERT INTO exchangedTopics VALUES(?, ?) ON CONFLICT DO NOTHING", topic, uuid);
}

Result<std::string> documentOf(const Project& project, std::span<const KeptIssue::Origin> origins,
                               const issues::DocumentReference& document)
{
    if (!document.kept.empty()) {
        const std::filesystem::path kept = attachmentFile(project.folder(), document.kept);
        return readFileWhole(kept, kLargestDocument);
    }
    for (auto origin = origins.rbegin(); origin != origins.rend(); ++origin) {
        const std::filesystem::path kept = exchangeFile(project.folder(), origin->sha256);
        const auto file =
            kept.empty() ? Result<std::unique_ptr<bcf::File>>(fail({kUnknown, ""})) : bcf::File::open(kept);
        const auto index = file ? (*file)->find(origin->uuid) : std::nullopt;
        const auto topic =
            index ? (*file)->topic(*index) : Result<bcf::Topic>(tl::unexpected<Error>(Error{bcf::kBrokenTopic, ""}));
        if (topic && topic->documents.contains(document.target))
            return topic->documents.at(document.target).read();
    }
    return fail({kUnknown, "The document " + document.name + " is in none of the files that came."});
}

std::string fileBeside(const Project& project, std::span<const KeptIssue::Origin> origins, const std::string& reference)
{
    if (!bcf::isPlainName(reference))
        return {};
    for (auto origin = origins.rbegin(); origin != origins.rend(); ++origin) {
        const std::filesystem::path kept = exchangeFile(project.folder(), origin->sha256);
        const auto archive =
            kept.empty() ? Result<std::shared_ptr<const bcf::Archive>>(fail({})) : bcf::Archive::open(kept);
        if (!archive)
            continue;
        // Nearly always a topic's folder is called as its GUID, and the other topics need not be read.
        if (const auto* entry = (*archive)->find(origin->uuid + "/" + reference))
            if (auto bytes = (*archive)->read(*entry))
                return std::move(*bytes);
        const auto file = bcf::File::open(kept);
        const auto index = file ? (*file)->find(origin->uuid) : std::nullopt;
        auto topic =
            index ? (*file)->topic(*index) : Result<bcf::Topic>(tl::unexpected<Error>(Error{bcf::kBrokenTopic, ""}));
        if (topic && topic->files.contains(reference))
            if (auto bytes = topic->files.at(reference).read())
                return std::move(*bytes);
    }
    return {};
}

} // namespace wendrix::project
