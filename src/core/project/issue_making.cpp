#include "core/project/issue_making.h"

#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/clash/words.h"

#include <algorithm>
#include <set>

namespace wendrix::project {

namespace {

constexpr int kDaysToFix = 7;

std::string joined(const std::set<std::string>& words, const char* between)
{
    std::string all;
    for (const std::string& word : words)
        all += (all.empty() ? "" : between) + word;
    return all;
}

/// "Marrowfield Seed Store" gives MSS.
std::string initials(const std::string& name)
{
    std::string letters;
    bool atStart = true;
    for (const char c : name) {
        if (atStart && std::isalpha(static_cast<unsigned char>(c)) != 0)
            letters += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
        atStart = c == ' ';
    }
    return letters.empty() ? "I" : letters;
}

} // namespace

Weight weightOf(double depth)
{
    return depth > 0.1 ? Weight{3, "High"} : depth > 0.02 ? Weight{2, "Normal"} : Weight{1, "Low"};
}

std::string whereInWords(std::span<const Pair> pairs)
{
    std::set<std::string> storeys, bays; // where the reference has no storeys or no grid there are none
    for (const Pair& p : pairs) {
        if (!p.storey.empty())
            storeys.insert(p.storey);
        if (!p.bay.empty())
            bays.insert(p.bay);
    }
    const std::string where = joined(storeys, ", ");
    if (bays.empty())
        return where;
    const std::string in = bays.size() == 1   ? "bay " + *bays.begin()
                           : bays.size() <= 3 ? "bays " + joined(bays, "; ")
                                              : std::to_string(bays.size()) + " bays";
    return where.empty() ? in : where + ", " + in;
}

issues::Issue draftIssue(const std::string& title, std::span<const Pair> pairs, const Timestamp& now)
{
    issues::Issue issue;
    issue.title = title;
    issue.type = "Clash";
    issue.priority = weightOf(pairs[0].extent().missing()).priority;
    issue.stage = "Design coordination";
    issue.assignee = pairs[0].right.discipline;
    issue.labels = {pairs[0].test};
    issue.dueAt = daysLater(now, kDaysToFix);
    if (const std::string where = whereInWords(pairs); !where.empty())
        issue.description = "Where: " + where + ".";
    for (const Pair& p : pairs)
        issue.description += (issue.description.empty() ? "" : "\n") + p.left.name + " and " + p.right.name + ": " +
                             clash::inWords(p.extent());
    return issue;
}

Result<std::string> makeIssue(Project& project, issues::Issue issue, std::span<const PairId> pairs,
                              const WhoAndWhen& who)
{
    if (auto kept = project.issues().keepPictures(issue); !kept)
        return fail(kept.error());
    const std::string prefix = initials(project.name());
    issue.uuid = issue.uuid.empty() ? newUuid() : issue.uuid;
    Deed made{Book::Issues, "Issue made: " + issue.title, "issue:" + issue.uuid};
    const auto done = project.store().act(made, who, [&](SQLite::Database& db) {
        made.what = "Issue made: " + project.issues().write(db, issue, prefix, who) + " " + issue.title;
        project.clashes().decideToFix(db, pairs, issue.uuid, who);
    });
    if (!done)
        return fail(done.error());
    return issue.number;
}

Result<std::string> takeOverIssues(Project& project, std::span<const issues::Issue> incoming, const WhoAndWhen& who)
{
    return project.issues().merge(incoming, initials(project.name()), who);
}

namespace {

/// "moved 205 mm in P02": what the delivery in use did to an element's body; empty where nothing.
Result<std::string> changeInWords(const Project& project, const ElementRef& element)
{
    using namespace changes;
    const auto all = project.changes().currentOf(element);
    if (!all)
        return fail(all.error());
    std::string words;
    for (const ChangeRecord& c : *all) {
        if ((c.kinds & (Added | Removed | Reshaped | Moved)) == 0)
            continue;
        const auto to = project.deliveries().find(c.to);
        const std::string in = to && *to ? " in " + (*to)->revision : "";
        words = (c.kinds & Removed) != 0    ? "was removed" + in
                : (c.kinds & Moved) != 0    ? "moved " + lengthInWords(Metres{length(c.shift)}) + in
                : (c.kinds & Reshaped) != 0 ? "was reshaped" + in
                                            : "was added" + in;
    }
    return words;
}

} // namespace

Result<std::string> causeOf(const Project& project, const Pair& pair)
{
    if (pair.state != clash::PairState::New && pair.state != clash::PairState::Back)
        return std::string();
    std::string words;
    for (const PairSide* side : {&pair.left, &pair.right}) {
        const auto change = changeInWords(project, side->element);
        if (!change)
            return fail(change.error());
        if (!change->empty())
            words += (words.empty() ? "" : "; ") + side->name + " " + *change;
    }
    if (!words.empty())
        return words;
    const auto history = project.clashes().historyOf(pair.id);
    if (!history)
        return fail(history.error());
    const bool isFirstRun = !history->empty() && history->front().run == 1 && history->size() == 1;
    return std::string(isFirstRun ? "found by the first run"
                                  : "neither element changed: a test or a fit did, or a member was not tested before");
}

Result<issues::Evidence> evidenceOf(const Project& project, const std::string& issueUuid)
{
    const auto list = project.clashes().ofIssue(issueUuid);
    if (!list)
        return fail(list.error());
    std::vector<issues::PairEvidence> evidence;
    std::vector<const PairSide*> elements; // each once
    const auto note = [&](const PairSide& side) {
        if (std::none_of(elements.begin(), elements.end(),
                         [&](const PairSide* e) { return e->element == side.element; }))
            elements.push_back(&side);
    };
    // The element all pairs share is said once, in the title; a pair is named by its other one.
    const bool isLeftShared = std::all_of(list->begin(), list->end(),
                                          [&](const Pair& p) { return p.left.element == list->front().left.element; });
    for (const Pair& p : *list) {
        issues::PairEvidence e{isLeftShared ? p.right.name : p.left.name, {}, clash::inWords(p.extent())};
        const auto history = project.clashes().historyOf(p.id);
        if (!history)
            return fail(history.error());
        for (const PairMoment& m : *history)
            e.moments.push_back({m.run, m.outcome});
        evidence.push_back(std::move(e));
        note(p.left);
        note(p.right);
    }
    std::vector<issues::ElementEvidence> elementEvidence;
    for (const PairSide* side : elements) {
        const auto change = changeInWords(project, side->element);
        if (!change)
            return fail(change.error());
        elementEvidence.push_back({side->name, !change->empty(), *change});
    }
    return issues::evidenceOf(std::move(evidence), std::move(elementEvidence));
}

} // namespace wendrix::project
