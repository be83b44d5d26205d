#include "core/project/issue_making.h"

#include "core/project/clash_cause.h"

#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/clash/words.h"

#include <algorithm>
#include <set>

namespace wendrix::project {

namespace {

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

std::string issuePrefix(const Project& project) { return initials(project.name()); }

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

std::string elevationsInWords(std::span<const Pair> pairs)
{
    constexpr double kSame = 0.005; // metres
    const auto [low, high] = std::minmax_element(pairs.begin(), pairs.end(),
                                                 [](const Pair& a, const Pair& b) { return a.point.z < b.point.z; });
    return elevationInWords(Metres{low->point.z}) +
           (high->point.z - low->point.z > kSame ? " to " + elevationInWords(Metres{high->point.z}) : "");
}

issues::Issue draftIssue(const std::string& title, std::span<const Pair> pairs, const Timestamp& now,
                         const issues::IssueTemplate& with, const std::string& decider)
{
    const Pair& first = pairs[0];
    std::set<std::string> storeys, bays, revisions;
    std::string lines;
    for (const Pair& p : pairs) {
        if (!p.storey.empty())
            storeys.insert(p.storey);
        if (!p.bay.empty())
            bays.insert(p.bay);
        revisions.insert({p.left.memberTitle(), p.right.memberTitle()});
        lines += (lines.empty() ? "" : "\n") + p.left.name + " and " + p.right.name + ": " + clash::inWords(p.extent());
    }
    const auto side = [&](PairSide Pair::*of) {
        const bool isOne = std::all_of(pairs.begin(), pairs.end(),
                                       [&](const Pair& p) { return (p.*of).element == (first.*of).element; });
        return isOne ? (first.*of).name : std::to_string(pairs.size()) + " elements";
    };
    issues::Placeholders words{{"title", title},
                               {"left", side(&Pair::left)},
                               {"right", side(&Pair::right)},
                               {"where", whereInWords(pairs)},
                               {"storey", joined(storeys, ", ")},
                               {"bay", joined(bays, "; ")},
                               {"elevation", elevationsInWords(pairs)},
                               {"depth", clash::inWords(first.extent())},
                               {"test", first.test},
                               {"revisions", joined(revisions, ", ")},
                               {"count", std::to_string(pairs.size())},
                               {"pairs", lines},
                               {"decider", decider.empty() ? first.right.discipline : decider}};
    issues::Issue issue;
    issue.title = issues::filled(with.title, words);
    issue.description = issues::filled(with.description, words);
    issue.type = with.type;
    issue.priority = with.priority.empty() ? weightOf(first.extent().missing()).priority : with.priority;
    issue.stage = with.stage;
    issue.dueAt = daysLater(now, with.daysToFix);
    for (const std::string& label : with.labels)
        if (const std::string text = issues::filled(label, words); !text.empty())
            issue.labels.push_back(text);
    words["left"] = first.left.discipline;
    words["right"] = first.right.discipline;
    issue.assignee = issues::filled(with.assignee, words);
    issue.location = {joined(storeys, ", "), joined(bays, "; "), {}};
    return issue;
}

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

std::string alreadyAboutInWords(const Project& project, std::span<const ElementRef> elements)
{
    constexpr std::size_t kMostNamed = 3, kMostAsked = 200;
    const auto alike = orNothing(project.issues().openAbout(elements.first(std::min(elements.size(), kMostAsked))));
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
