#include "core/issues/merge.h"

#include "core/base/date_time.h"

#include <algorithm>
#include <functional>
#include <set>

namespace wendrix::issues {

namespace {

using Verdict = Difference::Verdict;

template <std::string Issue::*member>
constexpr Field text(const char* name)
{
    return {name, [](const Issue& i) { return i.*member; },
            [](const Issue& a, const Issue& b) { return a.*member == b.*member; },
            [](Issue& to, const Issue& from) { to.*member = from.*member; }};
}

template <std::string Issue::*member>
constexpr Field moment(const char* name)
{
    Field field = text<member>(name);
    field.isSame = [](const Issue& a, const Issue& b) { return isSameMoment(a.*member, b.*member); };
    return field;
}

template <class T>
const T* withUuid(const std::vector<T>& list, const std::string& uuid)
{
    const auto found = std::find_if(list.begin(), list.end(), [&](const T& one) { return one.uuid == uuid; });
    return found == list.end() ? nullptr : &*found;
}

template <class T>
T* withUuid(std::vector<T>& list, const std::string& uuid)
{
    return const_cast<T*>(withUuid(std::as_const(list), uuid));
}

/// What one side changed against the base, the other one keeps.
Verdict verdictOf(bool hasBase, bool isOursAsBase, bool isTheirsAsBase)
{
    return !hasBase         ? Verdict::Conflict
           : isOursAsBase   ? Verdict::Theirs
           : isTheirsAsBase ? Verdict::Ours
                            : Verdict::Conflict;
}

/// Lists are sets: what either side added is in, what either took away is out.
template <class T>
void mergeSet(std::vector<T>& ours, const std::vector<T>& theirs, const std::vector<T>* base,
              const std::function<bool(const T&, const T&)>& isSame, const std::function<std::string(const T&)>& words,
              Merge& merge)
{
    const auto has = [&](const std::vector<T>& list, const T& one) {
        return std::any_of(list.begin(), list.end(), [&](const T& other) { return isSame(one, other); });
    };
    if (base != nullptr)
        std::erase_if(ours, [&](const T& one) {
            const bool isGone = has(*base, one) && !has(theirs, one);
            if (isGone)
                merge.goneFromLists.push_back(words(one));
            return isGone;
        });
    for (const T& one : theirs)
        if (!has(ours, one) && (base == nullptr || !has(*base, one))) {
            ours.push_back(one);
            merge.newInLists.push_back(words(one));
        }
}

bool isSameText(const std::string& a, const std::string& b) { return a == b; }

bool saysTheSame(const Comment& a, const Comment& b) { return a.text == b.text && a.viewpoint == b.viewpoint; }

std::string inWords(const Viewpoint& v)
{
    return std::to_string(v.selection.size()) + " selected, " + std::to_string(v.exceptions.size()) +
           (v.isDefaultVisible ? " hidden, " : " shown, ") + std::to_string(v.planes.size()) + " cuts, " +
           std::to_string(v.lines.size()) + " lines";
}

void takeLater(Timestamp& time, std::string& author, const Timestamp& theirTime, const std::string& theirAuthor)
{
    if (!isEarlier(time, theirTime))
        return;
    time = theirTime;
    author = theirAuthor;
}

void mergeComments(Merge& merge, const Issue& ours, const Issue& theirs, const Issue* base, Deleted deleted)
{
    for (const Comment& t : theirs.comments) {
        const Comment* before = base != nullptr ? withUuid(base->comments, t.uuid) : nullptr;
        const Comment* o = withUuid(ours.comments, t.uuid);
        if (o == nullptr) {
            if (before != nullptr && deleted == Deleted::StaysDeleted && saysTheSame(*before, t))
                continue;
            merge.issue.comments.push_back(t);
            merge.newComments.push_back(t.uuid);
            continue;
        }
        Comment& now = *withUuid(merge.issue.comments, t.uuid);
        if (saysTheSame(*o, t)) {
            takeLater(now.modifiedAt, now.modifiedBy, t.modifiedAt, t.modifiedBy);
            continue;
        }
        const Verdict verdict = verdictOf(before != nullptr, before != nullptr && saysTheSame(*before, *o),
                                          before != nullptr && saysTheSame(*before, t));
        merge.differences.push_back(
            {"Comment", t.uuid, before != nullptr ? before->text : "", o->text, t.text, verdict});
        if (verdict == Verdict::Theirs)
            now = t;
    }
    for (const Comment& o : ours.comments)
        if (base != nullptr && withUuid(base->comments, o.uuid) != nullptr &&
            withUuid(theirs.comments, o.uuid) == nullptr)
            merge.lacking.push_back(o.uuid);
}

void mergeViewpoints(Merge& merge, const Issue& ours, const Issue& theirs, const Issue* base, Deleted deleted)
{
    for (const Viewpoint& t : theirs.viewpoints) {
        const Viewpoint* before = base != nullptr ? withUuid(base->viewpoints, t.uuid) : nullptr;
        const Viewpoint* o = withUuid(ours.viewpoints, t.uuid);
        if (o == nullptr) {
            if (before != nullptr && deleted == Deleted::StaysDeleted && showsTheSame(*before, t))
                continue;
            merge.issue.viewpoints.push_back(t);
            merge.newViewpoints.push_back(t.uuid);
            continue;
        }
        if (showsTheSame(*o, t))
            continue;
        const Verdict verdict = verdictOf(before != nullptr, before != nullptr && showsTheSame(*before, *o),
                                          before != nullptr && showsTheSame(*before, t));
        merge.differences.push_back(
            {"Viewpoint", t.uuid, before != nullptr ? inWords(*before) : "", inWords(*o), inWords(t), verdict});
        if (verdict == Verdict::Theirs)
            *withUuid(merge.issue.viewpoints, t.uuid) = t;
    }
}

std::string customOf(const Issue& issue, const std::string& name)
{
    const auto found = issue.custom.find(name);
    return found == issue.custom.end() ? std::string() : found->second;
}

void setCustom(Issue& issue, const std::string& name, const std::string& value)
{
    if (value.empty())
        issue.custom.erase(name);
    else
        issue.custom[name] = value;
}

/// A project's own fields, each as any other.
void mergeCustom(Merge& merge, const Issue& ours, const Issue& theirs, const Issue* base)
{
    std::set<std::string> names;
    for (const Issue* side : {&ours, &theirs})
        for (const auto& [name, value] : side->custom)
            names.insert(name);
    for (const std::string& name : names) {
        const std::string o = customOf(ours, name), t = customOf(theirs, name),
                          b = base != nullptr ? customOf(*base, name) : std::string();
        if (o == t)
            continue;
        const Verdict verdict = verdictOf(base != nullptr, b == o, b == t);
        merge.differences.push_back({name, "", b, o, t, verdict});
        if (verdict == Verdict::Theirs)
            setCustom(merge.issue, name, t);
    }
}

} // namespace

const std::vector<Field>& fields()
{
    static const std::vector<Field> kFields{
        text<&Issue::title>("Title"),
        text<&Issue::type>("TopicType"),
        text<&Issue::status>("TopicStatus"),
        text<&Issue::priority>("Priority"),
        {"Index", [](const Issue& i) { return i.index ? std::to_string(*i.index) : std::string(); },
         [](const Issue& a, const Issue& b) { return a.index == b.index; },
         [](Issue& to, const Issue& from) { to.index = from.index; }},
        moment<&Issue::createdAt>("CreationDate"),
        text<&Issue::createdBy>("CreationAuthor"),
        moment<&Issue::dueAt>("DueDate"),
        text<&Issue::assignee>("AssignedTo"),
        text<&Issue::stage>("Stage"),
        text<&Issue::description>("Description"),
        text<&Issue::serverId>("ServerAssignedId"),
        {"BimSnippet",
         [](const Issue& i) { return i.snippet ? i.snippet->type + " " + i.snippet->reference : std::string(); },
         [](const Issue& a, const Issue& b) { return a.snippet == b.snippet; },
         [](Issue& to, const Issue& from) { to.snippet = from.snippet; }},
        // Those that the standard has no place for, where both sides know them.
        text<&Issue::cause>("Cause"),
        text<&Issue::requestedBy>("Requested by"),
        moment<&Issue::startAt>("Start"),
    };
    return kFields;
}

bool Merge::tookTheirs() const
{
    return !newComments.empty() || !newViewpoints.empty() || !newInLists.empty() || !goneFromLists.empty() ||
           std::any_of(differences.begin(), differences.end(),
                       [](const Difference& d) { return d.verdict == Verdict::Theirs; });
}

std::size_t Merge::conflicts() const
{
    return static_cast<std::size_t>(std::count_if(differences.begin(), differences.end(),
                                                  [](const Difference& d) { return d.verdict == Verdict::Conflict; }));
}

bool showsTheSame(const Viewpoint& a, const Viewpoint& b)
{
    Viewpoint like = b;
    like.snapshot = a.snapshot;
    like.index = a.index;
    // BCF 2.1 has no place for proportions: who says none has not changed them.
    const auto unsaid = [](std::optional<Camera>& camera, const std::optional<Camera>& other) {
        if (camera && other && (camera->aspect == 0 || other->aspect == 0))
            camera->aspect = other->aspect;
        if (camera && other) // nor has either version one for this
            camera->distanceMetres = other->distanceMetres;
    };
    unsaid(like.camera, a.camera);
    unsaid(like.second, a.second);
    return a == like;
}

Merge merged(const Issue& ours, const Issue& theirs, const Issue* base, Deleted deleted)
{
    Merge merge;
    merge.issue = ours;
    for (const Field& field : fields()) {
        if (field.isSame(ours, theirs))
            continue;
        const Verdict verdict = verdictOf(base != nullptr, base != nullptr && field.isSame(*base, ours),
                                          base != nullptr && field.isSame(*base, theirs));
        merge.differences.push_back({field.name, "", base != nullptr ? field.inWords(*base) : "", field.inWords(ours),
                                     field.inWords(theirs), verdict});
        if (verdict == Verdict::Theirs)
            field.take(merge.issue, theirs);
    }
    mergeCustom(merge, ours, theirs, base);
    const auto named = [](const char* what) {
        return std::function<std::string(const std::string&)>(
            [what](const std::string& text) { return what + (" " + text); });
    };
    mergeSet<std::string>(merge.issue.labels, theirs.labels, base != nullptr ? &base->labels : nullptr, isSameText,
                          named("label"), merge);
    mergeSet<std::string>(merge.issue.links, theirs.links, base != nullptr ? &base->links : nullptr, isSameText,
                          named("link"), merge);
    mergeSet<std::string>(merge.issue.related, theirs.related, base != nullptr ? &base->related : nullptr, isSameText,
                          named("related topic"), merge);
    mergeSet<DocumentReference>(
        merge.issue.documents, theirs.documents, base != nullptr ? &base->documents : nullptr,
        [](const DocumentReference& a, const DocumentReference& b) {
            return a.isExternal == b.isExternal && a.target == b.target;
        },
        [](const DocumentReference& d) { return "document " + (d.name.empty() ? d.target : d.name); }, merge);
    // Which models a topic was written against is a note of whoever wrote it; each side's stays.
    for (const ModelFile& file : theirs.files)
        if (std::find(merge.issue.files.begin(), merge.issue.files.end(), file) == merge.issue.files.end())
            merge.issue.files.push_back(file);
    mergeComments(merge, ours, theirs, base, deleted);
    mergeViewpoints(merge, ours, theirs, base, deleted);
    if (merge.tookTheirs())
        takeLater(merge.issue.modifiedAt, merge.issue.modifiedBy, theirs.modifiedAt, theirs.modifiedBy);
    return merge;
}

void takeTheirs(Issue& issue, const Difference& difference, const Issue& theirs)
{
    if (difference.field == "Comment") {
        Comment* mine = withUuid(issue.comments, difference.of);
        if (const Comment* other = withUuid(theirs.comments, difference.of); mine != nullptr && other != nullptr)
            *mine = *other;
        return;
    }
    if (difference.field == "Viewpoint") {
        Viewpoint* mine = withUuid(issue.viewpoints, difference.of);
        if (const Viewpoint* other = withUuid(theirs.viewpoints, difference.of); mine != nullptr && other != nullptr)
            *mine = *other;
        return;
    }
    for (const Field& field : fields())
        if (difference.field == field.name)
            return field.take(issue, theirs);
    setCustom(issue, difference.field, customOf(theirs, difference.field));
}

} // namespace wendrix::issues
