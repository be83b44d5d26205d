#include "core/project/issue_exchange.h"

#include "core/base/hashed_copy.h"
#include "core/base/text.h"
#include "core/project/issue_making.h"
#include "core/project/stored_files.h"

#include <algorithm>

namespace wendrix::project {

namespace fs = std::filesystem;

namespace {

using Verdict = issues::Difference::Verdict;

/// Another window may have left the same file meanwhile: then it is kept again.
Result<void> keepStill(const Project& project, const Incoming& incoming)
{
    std::error_code code;
    if (isPlainFile(project.issues().fileOf(incoming.sha256)))
        return {};
    HashedCopies copies(project.folder() / kExchanges);
    Progress progress;
    const auto sha256 = copies.add(incoming.file, ".bcf", progress);
    if (!sha256 || *sha256 != incoming.sha256)
        return fail({kUnknown, incoming.file.filename().string() + " is no longer what was compared; read it again."});
    copies.keep();
    return {};
}

} // namespace

bool isTheirs(const IncomingTopic& topic, std::size_t number, const Decisions& decisions)
{
    const auto key = std::pair(topic.theirs.uuid, number);
    if (decisions.theirs.contains(key))
        return true;
    return topic.merge.differences[number].verdict == Verdict::Theirs && !decisions.ours.contains(key);
}

Result<std::string> takeOver(Project& project, const Incoming& incoming, const Decisions& decisions,
                             const WhoAndWhen& who)
{
    if (auto there = keepStill(project, incoming); !there)
        return fail(there.error());
    std::size_t added = 0, changed = 0, comments = 0;
    const std::string name = incoming.file.filename().string(), prefix = issuePrefix(project);
    const auto done = project.store().act({Book::Issues, "BCF taken over: " + name}, who, [&](SQLite::Database& db) {
        added = changed = comments = 0;
        std::vector<std::string> topics;
        for (const IncomingTopic& t : incoming.topics) {
            if (decisions.leftOut.contains(t.theirs.uuid))
                continue;
            topics.push_back(t.theirs.uuid);
            const auto now = project.issues().issueIn(db, t.theirs.uuid);
            if (!now) {
                if (!t.isNew())
                    throw Refused{{kUnknown, t.number + " is not in this project any more; read the file again."}};
                KeptIssue kept{t.theirs, issues::made_from::kFile, t.origins, t.pictures};
                project.issues().insert(db, kept, prefix);
                ++added;
                continue;
            }
            issues::Issue after = t.isNew() ? t.theirs : t.merge.issue;
            for (std::size_t i = 0; i < t.merge.differences.size(); ++i)
                if (isTheirs(t, i, decisions))
                    issues::takeTheirs(after, t.merge.differences[i], t.theirs);
                else if (t.merge.differences[i].verdict == Verdict::Theirs)
                    issues::takeTheirs(after, t.merge.differences[i], t.ours);
            if (t.isNew() || !(*now == t.ours)) {
                // Somebody changed it here since it was compared: over that, in turn, as what was compared is what both
                // came from.
                const issues::Issue from = t.isNew() ? t.theirs : t.ours;
                after = issues::merged(*now, after, &from, issues::Deleted::StaysDeleted).issue;
            }
            after.number = now->number;
            comments += t.merge.newComments.size();
            changed += project.issues().replace(db, *now, after, who, name) ? 1 : 0;
            project.issues().setOrigins(db, after.uuid, t.origins);
            for (const auto& [viewpoint, picture] : t.pictures)
                if (std::find(t.merge.newViewpoints.begin(), t.merge.newViewpoints.end(), viewpoint) !=
                    t.merge.newViewpoints.end())
                    project.issues().setPicture(db, after.uuid, viewpoint, picture);
        }
        project.issues().writeExchange(
            db, {0, false, name, incoming.sha256, incoming.projectName, incoming.version, topics.size(), who}, topics);
    });
    if (!done)
        return fail(done.error());
    return counted(added, "new issue", "new issues") + ", " + std::to_string(changed) + " changed, " +
           counted(comments, "new comment", "new comments");
}

Result<void> offerValues(Project& project, const Incoming::Values& values, const WhoAndWhen& who)
{
    auto flow = project.issues().workflow();
    if (!flow)
        return fail(flow.error());
    const auto add = [](std::vector<std::string>& to, const std::vector<std::string>& from) {
        for (const std::string& value : from)
            if (std::find(to.begin(), to.end(), value) == to.end())
                to.push_back(value);
    };
    add(flow->types, values.types);
    add(flow->priorities, values.priorities);
    add(flow->stages, values.stages);
    add(flow->labels, values.labels);
    return project.issues().setWorkflow(*flow, who);
}

void leave(const Project& project, const Incoming& incoming)
{
    const auto isNamed = project.issues().isNamed(incoming.sha256);
    std::error_code code;
    if (isNamed && !*isNamed)
        removeFile(project.issues().fileOf(incoming.sha256)); // what can not be removed does no harm
}

} // namespace wendrix::project
