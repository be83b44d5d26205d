#include "core/project/workspace.h"

#include "core/base/text.h"
#include "core/clash/engine.h"
#include "core/federation/standing.h"
#include "core/project/kept_files.h"
#include "core/project/test_memory.h"

#include <algorithm>
#include <map>

/// The tests run on a workspace: on which of its members, and what is not tested and why.
namespace wendrix::project {

using clash::Presence;
using clash::TestState;
using federation::Member;

namespace {

/// How elements that earlier runs spoke of stand in this one. Holds its members: asked long after the run.
struct Coverage {
    struct Seen {
        Member member;
        bool isTested;
        std::vector<std::string> leftOut;
    };
    std::vector<Seen> seen;

    [[nodiscard]] static bool isLeftOut(const Seen& s, const std::string& className)
    {
        const ifc::Schema& schema = s.member.model->source().schema();
        const ifc::TypeId type = schema.typeOfKeyword(upperCase(className));
        return std::any_of(s.leftOut.begin(), s.leftOut.end(), [&](const std::string& out) {
            const ifc::TypeId ancestor = schema.typeOfKeyword(upperCase(out));
            // What an older project kept without a class may be of one that is left out now.
            return className.empty() || (type != ifc::kUnknownType && schema.isA(type, ancestor));
        });
    }
    [[nodiscard]] Presence operator()(const ElementRef& ref, const std::string& className) const
    {
        const Seen* own = nullptr;
        bool isMember = false, isPartThere = false;
        for (const Seen& s : seen) {
            if (s.member.disciplineId != ref.discipline)
                continue;
            isMember = true;
            isPartThere = isPartThere || s.member.part == ref.part;
            if (own == nullptr || s.member.part == ref.part)
                own = &s;
        }
        if (!isMember)
            return Presence::NotMember;
        for (const Seen& s : seen) {
            if (s.member.disciplineId != ref.discipline || (isPartThere && s.member.part != ref.part))
                continue;
            if (const auto element = s.member.model->find(ref.guid, ref.ordinal))
                return !s.isTested                             ? Presence::OffPlace
                       : clash::isTestable(s.member, *element) ? Presence::Tested
                                                               : Presence::NotBuilt;
        }
        if (isLeftOut(*own, className))
            return Presence::LeftOut;
        return Presence::Removed;
    }
};

/// Gathers what the tests find, each element once.
class Gathering {
public:
    Gathering(NewRun& run, const Workspace& workspace, const federation::Locator& locator)
        : run_(run), workspace_(workspace), locator_(locator)
    {
    }
    void add(std::uint32_t test, const clash::Clash& c)
    {
        const federation::Location where = locator_.at(c.point);
        run_.findings.push_back(
            {test, number(c.left), number(c.right), c.depth, c.point, where.storey, where.bay, c.isApproximate});
    }

private:
    std::uint32_t number(clash::Part part)
    {
        const auto [at, isNew] = numbers_.try_emplace(part, static_cast<std::uint32_t>(run_.elements.size()));
        if (isNew) {
            const Member& member = workspace_.members[part.member];
            const ifc::Element& e = member.model->elements()[part.element];
            run_.elements.push_back(
                {member.refOf(part.element), member.model->displayName(e), std::string(member.model->className(e))});
        }
        return at->second;
    }
    NewRun& run_;
    const Workspace& workspace_;
    const federation::Locator& locator_;
    std::map<clash::Part, std::uint32_t> numbers_;
};

std::size_t elementsWithoutBody(const Member& member)
{
    std::size_t n = 0;
    for (const auto& shape : member.geometry->elements())
        n += shape.placed.empty() ? 1 : 0;
    return n;
}

/// Whether every member of the order is there, or known to be missing, where it should stand, and no other is.
bool isWhatIsAsked(const Workspace& workspace, const WorkspaceOrder& order)
{
    std::size_t next = 0;
    for (const WorkspaceOrder::Item& item : order.items) {
        if (next < workspace.members.size() && workspace.deliveries[next] == item.delivery.id &&
            workspace.members[next].part == item.part && workspace.members[next].fit == item.fit.fit)
            ++next;
        else if (workspace.findMissing(item.delivery.id, item.part) == nullptr)
            return false;
    }
    return next == workspace.members.size();
}

} // namespace

std::vector<ClashTest> usualTests(const WorkspaceOrder& order)
{
    std::vector<std::string> disciplines;
    for (const WorkspaceOrder::Item& item : order.items)
        if (std::find(disciplines.begin(), disciplines.end(), item.delivery.discipline) == disciplines.end())
            disciplines.push_back(item.delivery.discipline);
    std::vector<ClashTest> tests;
    for (std::size_t i = 0; i < disciplines.size(); ++i)
        for (std::size_t j = i + 1; j < disciplines.size(); ++j)
            tests.push_back({disciplines[i] + " × " + disciplines[j], disciplines[i], disciplines[j]});
    return tests;
}

Result<NewRun> runTests(const Workspace& workspace, const WorkspaceOrder& order, Progress& progress)
{
    const Member* reference = workspace.find(order.reference);
    if (reference == nullptr) {
        for (const RunMember& m : workspace.missing)
            if (m.discipline == order.reference)
                return fail({kNotSound, "Clashes can not be placed without the reference. " + m.title() +
                                            " is not there: " + m.why + "."});
        return fail({kUnknown, "The reference member is not taken in yet; clashes can not be placed without it."});
    }
    if (!isWhatIsAsked(workspace, order))
        return fail({kCompositionChanged,
                     "What is in use was changed, and the models that are open are not those yet. Run the tests again "
                     "when they are."});
    NewRun run;
    run.cycle = order.cycle;
    run.madeFor = order.inForce;
    Coverage coverage;
    std::vector<bool> isTested;
    for (std::size_t i = 0; i < workspace.members.size(); ++i) {
        const Member& member = workspace.members[i];
        const auto item = std::find_if(order.items.begin(), order.items.end(), [&](const auto& x) {
            return x.delivery.id == workspace.deliveries[i] && x.part == member.part;
        });
        const bool isAccepted = item != order.items.end() && item->fit.isAccepted;
        RunMember m{member.disciplineId,
                    member.discipline,
                    member.revision,
                    member.part,
                    workspace.deliveries[i],
                    member.fit,
                    true,
                    ""};
        if (member.discipline != order.reference && !isAccepted)
            m.why = federation::whyNotVerified(federation::standingOf(*reference->model, member, order.standsRight));
        m.isTested = m.why.empty();
        isTested.push_back(m.isTested);
        if (m.isTested)
            run.notBuilt += elementsWithoutBody(member);
        coverage.seen.push_back(
            {member, m.isTested, workspace.leftOut.size() > i ? workspace.leftOut[i] : std::vector<std::string>{}});
        run.members.push_back(std::move(m));
    }
    run.members.insert(run.members.end(), workspace.missing.begin(), workspace.missing.end());
    run.members.insert(run.members.end(), order.absent.begin(), order.absent.end());
    run.presence = std::move(coverage);

    const federation::Locator locator(*reference->model);
    Gathering gathering(run, workspace, locator);
    const std::vector<ClashTest> tests = order.tests.empty() ? usualTests(order) : order.tests;
    const auto remembering = workspace.memory != nullptr ? workspace.memory->lock() : std::unique_lock<std::mutex>();
    for (const ClashTest& test : tests) {
        const auto number = static_cast<std::uint32_t>(run.tests.size());
        RunTest& made = run.tests.emplace_back(RunTest{test, TestState::Run, 0, 0});
        const auto side = [&](const std::string& discipline) {
            std::vector<std::uint32_t> members = workspace.allOf(discipline);
            std::erase_if(members, [&](std::uint32_t m) { return !isTested[m]; });
            return members;
        };
        const auto left = side(test.left), right = side(test.right);
        if (left.empty() || right.empty()) {
            made.state = TestState::None; // the members say why
            continue;
        }
        const clash::Findings findings = clash::findClashes(
            workspace.members, clash::partsOf(workspace.members, left), clash::partsOf(workspace.members, right),
            {test.kind, test.tolerance}, progress, remembering ? &workspace.memory->of(test) : nullptr);
        if (findings.isPartial)
            made.state = TestState::Cancelled; // and so are the tests after it; what was found by then is kept
        made.pairsTested = findings.pairsTested;
        made.found = findings.clashes.size();
        for (const clash::Clash& c : findings.clashes)
            gathering.add(number, c);
    }
    if (remembering)
        workspace.memory->keepOnly(tests);
    const auto isDone = [](const RunTest& t) { return t.state == TestState::Run || t.found > 0; };
    if (progress.isCancelled() && std::none_of(run.tests.begin(), run.tests.end(), isDone))
        return fail({clash::kCancelled, "The clash test was cancelled; the earlier result stays."});
    return run;
}

} // namespace wendrix::project
