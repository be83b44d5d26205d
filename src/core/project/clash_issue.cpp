#include "core/project/clash_issue.h"

#include "core/base/text.h"

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

} // namespace

Weight weightOf(double depth)
{
    return depth > 0.1 ? Weight{3, "High"} : depth > 0.02 ? Weight{2, "Normal"} : Weight{1, "Low"};
}

std::string whereInWords(std::span<const Pair> pairs)
{
    std::set<std::string> storeys, bays;
    for (const Pair& p : pairs) {
        storeys.insert(p.storey);
        bays.insert(p.bay);
    }
    const std::string where = joined(storeys, ", ");
    return where + (bays.size() == 1   ? ", bay " + *bays.begin()
                    : bays.size() <= 3 ? ", bays " + joined(bays, "; ")
                                       : ", " + std::to_string(bays.size()) + " bays");
}

issues::Issue draftIssue(const std::string& title, std::span<const Pair> pairs, const Timestamp& now)
{
    issues::Issue issue;
    issue.title = title;
    issue.type = "Clash";
    issue.priority = weightOf(pairs[0].depth).priority;
    issue.stage = "Design coordination";
    issue.assignee = pairs[0].rightRevision.substr(0, pairs[0].rightRevision.find_last_of(' '));
    issue.labels = {pairs[0].test};
    issue.dueAt = daysLater(now, kDaysToFix);
    issue.description = "Where: " + whereInWords(pairs) + ".";
    for (const Pair& p : pairs)
        issue.description += "\n" + p.leftName + " and " + p.rightName + ": " + lengthInWords(Metres{p.depth}) + " deep";
    return issue;
}

} // namespace wendrix::project
