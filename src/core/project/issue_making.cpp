#include "core/project/issue_making.h"

#include "core/project/clash_cause.h"

#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/clash/words.h"

#include <algorithm>
#include <set>

namespace wendrix::project {

namespace {

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

std::string issuePrefix(const Project& project) { return initials(project.name()); }

Result<std::vector<std::string>> makeIssues(Project& project, std::vector<IssueForPairs> several, const WhoAndWhen& who)
{
    for (IssueForPairs& one : several) {
        if (auto kept = project.issues().keepPictures(one.issue); !kept)
            return fail(kept.error());
        one.issue.uuid = one.issue.uuid.empty() ? newUuid() : one.issue.uuid;
    }
    const std::string prefix = issuePrefix(project);
    Deed made{Book::Issues, {}, several.size() == 1 ? "issue:" + several[0].issue.uuid : std::string()};
    std::vector<std::string> numbers;
    const auto done = project.store().act(made, who, [&](SQLite::Database& db) {
        for (IssueForPairs& one : several) {
            numbers.push_back(project.issues().write(db, one.issue, prefix, who, one.madeFrom));
            if (one.requirement)
                project.issues().writeRequirement(db, one.issue.uuid, *one.requirement, who);
            if (!one.pairs.empty())
                project.clashes().decideToFix(db, one.pairs, one.issue.uuid, who);
        }
        made.what = several.size() == 1 ? "Issue made: " + numbers[0] + " " + several[0].issue.title
                                        : counted(several.size(), "issue", "issues") + " made: " + numbers.front() +
                                              " to " + numbers.back();
    });
    if (!done)
        return fail(done.error());
    return numbers;
}

Result<std::string> makeIssue(Project& project, issues::Issue issue, std::span<const PairId> pairs,
                              const WhoAndWhen& who)
{
    auto numbers = makeIssues(project, {{std::move(issue), {pairs.begin(), pairs.end()}}}, who);
    if (!numbers)
        return fail(numbers.error());
    return numbers->front();
}

std::string alreadyAboutInWords(const Project& project, std::span<const std::vector<ElementRef>> several)
{
    constexpr std::size_t kMostNamed = 3, kMostAsked = 200;
    std::vector<IssueBrief> alike;
    for (const std::vector<ElementRef>& elements : several)
        for (IssueBrief& brief :
             orNothing(project.issues().openAbout(std::span(elements).first(std::min(elements.size(), kMostAsked)))))
            if (std::none_of(alike.begin(), alike.end(), [&](const IssueBrief& one) { return one.uuid == brief.uuid; }))
                alike.push_back(std::move(brief));
    if (alike.empty())
        return {};
    std::string words =
        counted(alike.size(), "open issue already concerns", "open issues already concern") + " these elements: ";
    for (std::size_t i = 0; i < std::min(kMostNamed, alike.size()); ++i)
        words += (i > 0 ? ", " : "") + alike[i].name();
    return words + (alike.size() > kMostNamed ? ", ..." : "");
}

Result<std::vector<ElementSaid>> elementsSaidOf(const Project& project, const std::string& issueUuid)
{
    constexpr std::size_t kMost = 200;
    const auto issue = project.issues().find(issueUuid, false);
    if (!issue)
        return fail(issue.error());
    std::vector<ElementSaid> said;
    std::set<ElementRef> seen;
    for (const issues::Viewpoint& v : *issue ? (*issue)->viewpoints : std::vector<issues::Viewpoint>{})
        for (const ElementRef& e : v.selection) {
            if (e.discipline == 0 || said.size() == kMost || !seen.insert(e).second)
                continue;
            const auto change = changeInWords(project, e);
            if (!change)
                return fail(change.error());
            said.push_back({e, *change});
        }
    return said;
}

Result<issues::Evidence> evidenceOf(const Project& project, const std::string& issueUuid)
{
    const auto list = project.clashes().ofIssue(issueUuid);
    auto requirement = project.issues().requirementOf(issueUuid);
    if (const auto error = firstError(list, requirement))
        return fail(*error);
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
    issues::Evidence all = issues::evidenceOf(std::move(evidence), std::move(elementEvidence));
    all.requirement = std::move(*requirement);
    return all;
}

} // namespace wendrix::project
