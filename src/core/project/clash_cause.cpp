#include "core/project/clash_cause.h"

#include "core/base/text.h"

#include <algorithm>
#include <cmath>

namespace wendrix::project {

namespace {

const RunMember* memberOf(std::span<const RunMember> members, const PairSide& side)
{
    const auto at = std::find_if(members.begin(), members.end(), [&](const RunMember& m) {
        return m.disciplineId == side.element.discipline && m.part == side.element.part;
    });
    return at != members.end() ? &*at : nullptr;
}

/// What of the runs is another: a member that was not tested, a fit, the test. Empty where nothing is.
std::string settingInWords(const Pair& pair, const RunSetting& now, const Run& before)
{
    std::string words;
    const auto add = [&](const std::string& more) { words += (words.empty() ? "" : "; ") + more; };
    for (const PairSide* side : {&pair.left, &pair.right}) {
        const RunMember *own = memberOf(now.members, *side), *then = memberOf(before.members, *side);
        if (own == nullptr)
            continue;
        if (then == nullptr)
            add(own->title() + " was not there before");
        else if (!then->isTested)
            add(then->title() + " was not tested before: " + then->why);
        else if (!(then->fit == own->fit))
            add("the fit of " + own->discipline + " was changed");
    }
    if (now.test == nullptr)
        return words;
    const clash::Test& test = now.test->test;
    const RunTest* asked = nullptr;
    const RunTest* called = nullptr;
    for (const RunTest& t : before.tests) {
        asked = clash::asksTheSame(t.test, test) ? &t : asked;
        called = t.test.name == test.name ? &t : called;
    }
    if (asked == nullptr)
        add("the test " + test.name + (called != nullptr ? " was changed: " : " is new: ") + clash::inWords(test));
    else if (asked->state != clash::TestState::Run)
        add("the test " + test.name + " was not run before");
    return words;
}

} // namespace

std::string shiftInWords(Vector3 shift)
{
    const double far = length(shift);
    constexpr double kUpright = 0.99; // of its way
    if (far > 0 && std::abs(shift.z) >= kUpright * far)
        return (shift.z < 0 ? "was lowered by " : "was raised by ") + lengthInWords(Metres{far});
    return "moved " + lengthInWords(Metres{far});
}

Result<std::string> changeInWords(const Project& project, const ElementRef& element)
{
    const auto all = project.changes().currentOf(element);
    if (!all)
        return fail(all.error());
    std::string words;
    for (const ChangeRecord& c : *all) {
        if ((c.kinds & (Added | Removed | Reshaped | Moved)) == 0)
            continue;
        const auto to = project.deliveries().find(c.to);
        const std::string in = to && *to ? " in " + (*to)->revision : "";
        words = ((c.kinds & Removed) != 0    ? std::string("was removed")
                 : (c.kinds & Moved) != 0    ? shiftInWords(c.shift)
                 : (c.kinds & Reshaped) != 0 ? std::string("was reshaped")
                                             : std::string("was added")) +
                in;
    }
    return words;
}

Result<std::string> causeOf(const Project& project, const Pair& pair, const RunSetting& now, const Run* before)
{
    if (pair.state != clash::PairState::New && pair.state != clash::PairState::Back)
        return std::string();
    if (before == nullptr)
        return std::string("found by the first run");
    std::string words;
    for (const PairSide* side : {&pair.left, &pair.right}) {
        const auto change = changeInWords(project, side->element);
        if (!change)
            return fail(change.error());
        if (!change->empty())
            words += (words.empty() ? "" : "; ") + side->name + " " + *change;
    }
    if (words.empty())
        words = settingInWords(pair, now, *before);
    return words.empty() ? std::string("neither element's body changed: what the test's sets pick, or what is expected "
                                       "to meet, did")
                         : words;
}

Result<std::string> causeOf(const Project& project, const Pair& pair)
{
    if (pair.state != clash::PairState::New && pair.state != clash::PairState::Back)
        return std::string();
    const auto history = project.clashes().historyOf(pair.id);
    if (!history)
        return fail(history.error());
    // The run since which it is there without a break.
    RunId since = 0;
    for (const PairMoment& m : *history)
        if (m.outcome == clash::Outcome::Found &&
            (m.state == clash::PairState::New || m.state == clash::PairState::Back))
            since = m.run;
    const auto run = project.clashes().findRun(since), before = project.clashes().runBefore(since);
    if (const auto error = firstError(run, before))
        return fail(*error);
    RunSetting setting;
    if (*run) {
        setting.members = (*run)->members;
        for (const RunTest& t : (*run)->tests)
            if (t.test.name == pair.test && t.test.kind == pair.kind)
                setting.test = &t;
    }
    return causeOf(project, pair, setting, *before ? &**before : nullptr);
}

} // namespace wendrix::project
