#include "core/project/issue_making.h"

#include "core/project/clash_cause.h"

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
