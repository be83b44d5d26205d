#include "core/project/issue_exchange.h"

#include "core/base/hashed_copy.h"
#include "core/base/text.h"
#include "core/bcf/convert.h"
#include "core/bcf/file.h"
#include "core/project/stored_files.h"

#include <algorithm>

namespace wendrix::project {

namespace {

using Verdict = issues::Difference::Verdict;

/// Topics of files that were sent, as both sides came from them.
class Bases {
public:
    explicit Bases(const Project& project) : project_(project) {}
    /// Nothing where the issue was never exchanged, or the file is gone. What came last and was taken over is known to
    /// both sides as well as what was sent.
    std::optional<issues::Issue> of(const std::string& uuid, const issues::Workflow& flow)
    {
        const auto exchange = project_.issues().lastExchanged(uuid);
        if (!exchange || !*exchange)
            return {};
        auto& file = files_[(*exchange)->sha256];
        if (file == nullptr)
            if (auto opened = bcf::File::open(project_.issues().fileOf((*exchange)->sha256)))
                file = std::move(*opened);
        const auto index = file != nullptr ? file->find(uuid) : std::nullopt;
        auto topic =
            index ? file->topic(*index) : Result<bcf::Topic>(tl::unexpected<Error>(Error{bcf::kBrokenTopic, ""}));
        if (!topic)
            return {};
        issues::fieldsFromLabels(topic->issue, flow);
        return std::move(topic->issue);
    }

private:
    const Project& project_;
    std::map<std::string, std::unique_ptr<bcf::File>> files_;
};

template <class T>
T* withUuid(std::vector<T>& list, const std::string& uuid)
{
    const auto found = std::find_if(list.begin(), list.end(), [&](const T& one) { return one.uuid == uuid; });
    return found == list.end() ? nullptr : &*found;
}

/// What a file can not say differently from us without meaning it: our viewpoints are kept in the project's coordinates
/// and with more than a file holds, and documents under names of our own. Where theirs is what was sent, ours counts.
void likenOurs(issues::Issue& theirs, issues::Issue* base, const issues::Issue& ours)
{
    for (const issues::Viewpoint& o : ours.viewpoints) {
        issues::Viewpoint* t = withUuid(theirs.viewpoints, o.uuid);
        issues::Viewpoint* b = base != nullptr ? withUuid(base->viewpoints, o.uuid) : nullptr;
        if (t == nullptr || (b != nullptr && !issues::showsTheSame(*t, *b)))
            continue;
        *t = o;
        if (b != nullptr)
            *b = o;
    }
    for (const issues::DocumentReference& o : ours.documents)
        for (issues::Issue* side : {&theirs, base})
            if (side != nullptr)
                for (issues::DocumentReference& d : side->documents)
                    if (!o.isExternal && !d.isExternal && (d.target == o.target || d.name == o.name))
                        d = o;
    // Which models it was written against is a note of whoever wrote it.
    theirs.files = ours.files;
    if (base != nullptr)
        base->files = ours.files;
}

/// In which coordinates a file's viewpoints are: those of the member it was written against, where it stands elsewhere
/// than it was delivered.
DisciplineId frameOf(const std::vector<issues::ModelFile>& files, const issues::Viewpoint& v,
                     const std::vector<Delivery>& used, const std::map<std::string, DisciplineId>& disciplines,
                     const FindElement& find)
{
    for (const ElementRef& e : v.selection)
        if (const auto found = find ? find(e.guid) : std::nullopt; found && found->discipline != 0)
            return found->discipline;
    const auto named = [&](const issues::ModelFile& file) -> DisciplineId {
        for (const Delivery& d : used)
            if (!file.project.empty() && file.project == d.projectGuid)
                return disciplines.contains(d.discipline) ? disciplines.at(d.discipline) : 0;
        return 0;
    };
    return files.size() == 1 ? named(files[0]) : 0;
}

} // namespace

std::size_t Incoming::conflicts() const
{
    std::size_t all = 0;
    for (const IncomingTopic& t : topics)
        all += t.merge.conflicts();
    return all;
}

Result<Incoming> readIncoming(const Project& project, const std::filesystem::path& file, const FindElement& find,
                              Progress& progress)
{
    auto opened = bcf::File::open(file);
    if (!opened)
        return fail(opened.error());
    Incoming incoming;
    incoming.file = file;
    incoming.version = bcf::nameOf((*opened)->version());
    incoming.projectName = (*opened)->projectName();
    HashedCopies copies(project.folder() / kExchanges);
    const auto sha256 = copies.add(file, ".bcf", progress);
    if (!sha256)
        return fail(sha256.error());
    copies.keep();
    incoming.sha256 = *sha256;
    const auto flow = project.issues().workflow();
    const auto used = project.deliveries().allInUse();
    const auto all = project.setup().disciplines();
    const auto refs = project.issues().elements();
    if (const auto error = firstError(flow, used, all, refs))
        return fail(*error);
    std::map<std::string, DisciplineId> disciplines, byElement;
    for (const Discipline& d : *all)
        disciplines[d.name] = d.id;
    for (const auto& [uuid, elements] : *refs)
        for (const ElementRef& e : elements)
            if (e.discipline != 0)
                byElement.emplace(e.guid, e.discipline);
    // The models say it; without them, what issues made here say of the same elements.
    const FindElement where = [&](const std::string& guid) -> std::optional<ElementWhere> {
        if (auto found = find ? find(guid) : std::nullopt)
            return found;
        const auto known = byElement.find(guid);
        return known == byElement.end() ? std::nullopt : std::optional(ElementWhere{known->second, {}});
    };
    Bases bases(project);
    std::vector<IncomingTopic> fresh;
    for (std::size_t i = 0; i < (*opened)->topicCount(); ++i) {
        progress.report("Comparing the issues", i, (*opened)->topicCount(), "issues");
        if (progress.isCancelled())
            return fail({kExchangeCancelled, "Cancelled; nothing was taken over."});
        auto topic = (*opened)->topic(i);
        if (!topic)
            continue; // among the faults
        IncomingTopic one;
        one.theirs = std::move(topic->issue);
        issues::fieldsFromLabels(one.theirs, *flow);
        const auto ours = project.issues().kept(one.theirs.uuid);
        if (!ours)
            return fail(ours.error());
        one.origins.push_back({*sha256, one.theirs.uuid});
        for (const issues::Viewpoint& v : one.theirs.viewpoints)
            if (const auto picture = topic->pictureEntries.find(v.uuid); picture != topic->pictureEntries.end())
                one.pictures.emplace_back(v.uuid, *sha256 + "/" + picture->second);
        const std::vector<issues::ModelFile> against = one.theirs.files;
        // Those that say what was sent are as we keep them; all others are in the coordinates of a file.
        const auto setFrames = [&] {
            if (flow->coordinates == issues::Coordinates::Delivered)
                for (issues::Viewpoint& v : one.theirs.viewpoints)
                    if (std::find(one.ours.viewpoints.begin(), one.ours.viewpoints.end(), v) ==
                        one.ours.viewpoints.end())
                        v.frame = frameOf(against, v, *used, disciplines, where);
        };
        if (!*ours) {
            // Where it is, the first element that has a place says.
            for (const issues::Viewpoint& v : one.theirs.viewpoints)
                for (const ElementRef& e : v.selection)
                    if (const auto found = one.theirs.location == issues::Location{} ? where(e.guid) : std::nullopt)
                        one.theirs.location = found->location;
            setFrames();
            fresh.push_back(std::move(one));
            continue;
        }
        one.number = (*ours)->issue.number;
        one.ours = (*ours)->issue;
        auto base = bases.of(one.theirs.uuid, *flow);
        one.hasBase = base.has_value();
        likenOurs(one.theirs, base ? &*base : nullptr, one.ours);
        setFrames();
        one.merge = issues::merged(one.ours, one.theirs, base ? &*base : nullptr, issues::Deleted::StaysDeleted);
        // What only we changed is no news.
        const bool bringsAnything = one.merge.tookTheirs() || one.merge.conflicts() > 0 || !one.merge.lacking.empty();
        if (!bringsAnything) {
            ++incoming.unchanged;
            continue;
        }
        // Earlier files are kept in mind only for what this one lacks.
        std::vector<KeptIssue::Origin> origins;
        for (const KeptIssue::Origin& o : (*ours)->origins)
            if (o.sha256 != *sha256)
                origins.push_back(o);
        constexpr std::size_t kMostOrigins = 8;
        if (origins.size() > kMostOrigins)
            origins.erase(origins.begin(), origins.end() - kMostOrigins);
        one.origins.insert(one.origins.begin(), origins.begin(), origins.end());
        incoming.topics.push_back(std::move(one));
    }
    incoming.topics.insert(incoming.topics.end(), std::make_move_iterator(fresh.begin()),
                           std::make_move_iterator(fresh.end()));
    incoming.faults = (*opened)->diagnostics();
    const bcf::Extensions& allowed = (*opened)->extensions();
    const auto lacking = [](const std::vector<std::string>& theirs, const std::vector<std::string>& ours) {
        std::vector<std::string> values;
        for (const std::string& value : theirs)
            if (!value.empty() && std::find(ours.begin(), ours.end(), value) == ours.end())
                values.push_back(value);
        return values;
    };
    incoming.values = {lacking(allowed.types, flow->types), lacking(allowed.priorities, flow->priorities),
                       lacking(allowed.stages, flow->stages), lacking(allowed.labels, flow->labels)};
    return incoming;
}

} // namespace wendrix::project
