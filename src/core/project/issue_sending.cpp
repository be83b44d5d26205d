#include "core/project/issue_exchange.h"

#include "core/base/file.h"
#include "core/base/hashed_copy.h"
#include "core/base/text.h"
#include "core/bcf/convert.h"
#include "core/bcf/writer.h"
#include "core/project/stored_files.h"

#include <algorithm>

namespace wendrix::project {

namespace {

/// Files that came, opened once while many topics are fetched from them.
class KeptFiles {
public:
    explicit KeptFiles(const IssuesBook& book) : book_(book) {}
    bcf::File* open(const std::string& sha256)
    {
        auto& file = files_[sha256];
        if (file == nullptr && !book_.fileOf(sha256).empty())
            if (auto opened = bcf::File::open(book_.fileOf(sha256)))
                file = std::move(*opened);
        return file.get();
    }

private:
    const IssuesBook& book_;
    std::map<std::string, std::unique_ptr<bcf::File>> files_;
};

/// The topic of an issue as it came last, with what earlier files held besides.
bcf::Topic topicOf(KeptFiles& files, const KeptIssue& kept)
{
    bcf::Topic topic;
    for (auto origin = kept.origins.rbegin(); origin != kept.origins.rend(); ++origin) {
        bcf::File* file = files.open(origin->sha256);
        const auto index = file != nullptr ? file->find(origin->uuid) : std::nullopt;
        auto came =
            index ? file->topic(*index) : Result<bcf::Topic>(tl::unexpected<Error>(Error{bcf::kBrokenTopic, ""}));
        if (!came)
            continue;
        if (topic.markup.empty())
            topic = std::move(*came);
        else
            bcf::carryOver(topic, *came);
    }
    return topic;
}

/// Where each discipline's files stand, for those that do not stand where they were delivered.
Result<std::map<DisciplineId, Transform>> fitsInUse(const Project& project)
{
    std::map<DisciplineId, Transform> fits;
    const auto disciplines = project.setup().disciplines();
    if (!disciplines)
        return fail(disciplines.error());
    for (const Discipline& d : *disciplines) {
        const auto fit = project.coordinates().fitInUse(d.name);
        if (fit && !(fit->fit == federation::Fit{}))
            fits.emplace(d.id, fit->fit.transform());
    }
    return fits;
}

/// Whose files' coordinates a viewpoint made here is written in.
DisciplineId frameFor(const issues::Viewpoint& v, DisciplineId assignee)
{
    const auto isOfAssignee = [&](const ElementRef& e) { return e.discipline == assignee && assignee != 0; };
    if (std::any_of(v.selection.begin(), v.selection.end(), isOfAssignee))
        return assignee;
    return v.selection.empty() ? 0 : v.selection.front().discipline;
}

} // namespace

Result<issues::Viewpoint> inProject(const Project& project, const issues::Viewpoint& viewpoint)
{
    if (viewpoint.frame == 0)
        return viewpoint;
    const auto fits = fitsInUse(project);
    if (!fits)
        return fail(fits.error());
    const auto fit = fits->find(viewpoint.frame);
    issues::Viewpoint v = fit == fits->end() ? viewpoint : issues::transformed(viewpoint, fit->second);
    v.frame = 0;
    return v;
}

Result<Sent> writeIssues(const Project& project, const SendOrder& order, const WhoAndWhen& who, Progress& progress)
{
    Sent sent;
    const auto flow = project.issues().workflow();
    const auto fits = fitsInUse(project);
    const auto deliveries = project.deliveries().allInUse();
    const auto disciplines = project.setup().disciplines();
    if (const auto error = firstError(flow, fits, deliveries, disciplines))
        return fail(*error);
    bcf::Writer writer(order.version, [&](const std::string& entry, const std::string& what) {
        sent.mapped.push_back(entry + ": " + what);
    });
    writer.setProject(project.id(), project.name());
    bcf::Extensions lists;
    lists.types = flow->types;
    for (const issues::Status& s : flow->statuses)
        lists.statuses.push_back(s.name);
    lists.priorities = flow->priorities;
    lists.stages = flow->stages;
    lists.labels = flow->labels;
    KeptFiles files(project.issues());
    std::set<std::string> came;
    for (const std::string& uuid : order.uuids) {
        progress.report("Writing the issues", sent.topics.size(), order.uuids.size(), "issues");
        if (progress.isCancelled())
            return fail({kExchangeCancelled, "Cancelled; no file was written."});
        const auto kept = project.issues().kept(uuid);
        if (!kept)
            return fail(kept.error());
        if (!*kept)
            continue;
        bcf::Topic topic = topicOf(files, **kept);
        issues::Issue asRead = topic.issue;
        for (const KeptIssue::Origin& origin : (*kept)->origins)
            came.insert(origin.sha256);
        topic.issue = (*kept)->issue;
        topic.issue.labels = issues::labelsWithFields(topic.issue, *flow);
        topic.issue.files = asRead.files; // whatever others wrote theirs against
        if (topic.markup.empty())
            for (const Delivery& d : *deliveries)
                topic.issue.files.push_back({d.projectGuid, "", d.fileName, d.time, "", true});
        const auto assignee = std::find_if(disciplines->begin(), disciplines->end(),
                                           [&](const Discipline& d) { return d.name == topic.issue.assignee; });
        for (issues::Viewpoint& v : topic.issue.viewpoints) {
            if (v.frame == 0 && flow->coordinates == issues::Coordinates::Delivered)
                if (const auto fit = fits->find(frameFor(v, assignee == disciplines->end() ? 0 : assignee->id));
                    fit != fits->end())
                    v = issues::transformed(v, fit->second.inverse());
            v.frame = 0;
        }
        for (const auto& [viewpoint, picture] : (*kept)->pictures)
            if (!topic.pictures.contains(viewpoint))
                if (const auto path = pictureFile(project.folder(), picture); !path.empty())
                    topic.pictures.emplace(viewpoint, bcf::Blob::of(path));
        for (issues::DocumentReference& d : topic.issue.documents)
            if (!d.isExternal && !d.kept.empty() && !topic.documents.contains(d.target))
                if (const auto path = attachmentFile(project.folder(), d.kept); !path.empty())
                    topic.documents.emplace(d.target, bcf::Blob::of(path));
        writer.add(topic, asRead);
        sent.topics.push_back(uuid);
    }
    for (const std::string& sha256 : came)
        if (const bcf::File* file = files.open(sha256)) {
            writer.addRest(*file);
            bcf::allow(lists, file->extensions()); // what they allow, they may go on with
        }
    writer.setExtensions(lists);
    if (auto done = writer.write(order.file); !done)
        return fail(done.error());
    HashedCopies copies(project.folder() / kExchanges);
    const auto sha256 = copies.add(order.file, ".bcf", progress);
    if (!sha256)
        return fail(sha256.error());
    copies.keep();
    sent.exchange = {0,
                     true,
                     order.file.filename().string(),
                     *sha256,
                     order.partner,
                     bcf::nameOf(order.version),
                     sent.topics.size(),
                     who};
    return sent;
}

Result<void> recordSent(Project& project, const Sent& sent, const WhoAndWhen& who)
{
    Deed deed{Book::Issues,
              "BCF written: " + sent.exchange.fileName + ", " + counted(sent.topics.size(), "issue", "issues")};
    deed.isUndoable = false;
    return project.store().act(
        deed, who, [&](SQLite::Database& db) { project.issues().writeExchange(db, sent.exchange, sent.topics); });
}

} // namespace wendrix::project
