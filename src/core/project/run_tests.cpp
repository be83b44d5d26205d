#include "core/project/workspace.h"

#include "core/base/text.h"
#include "core/clash/engine.h"
#include "core/clash/untested.h"
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

/// Which elements the tests' sides picked. Holds its members, as Coverage does.
class PickedSides {
public:
    using Picked = sets::Elements::Picked;

    explicit PickedSides(std::span<const Member> members) : members_(members.begin(), members.end()) {}
    void add(std::shared_ptr<const Picked> left, std::shared_ptr<const Picked> right)
    {
        sides_.emplace_back(std::move(left), std::move(right));
    }
    TestSides operator()(const NewRun&, std::uint32_t test, const ElementRef& ref) const
    {
        const auto& [left, right] = sides_[test];
        for (std::size_t m = 0; left != nullptr && right != nullptr && m < members_.size(); ++m)
            if (members_[m].disciplineId == ref.discipline && members_[m].part == ref.part)
                if (const auto element = members_[m].model->find(ref.guid, ref.ordinal))
                    return {(*left)[m][*element] != 0, (*right)[m][*element] != 0};
        return {false, false};
    }

private:
    std::vector<Member> members_;
    std::vector<std::pair<std::shared_ptr<const Picked>, std::shared_ptr<const Picked>>> sides_; ///< by test
};

/// Sets of a workspace's elements, each line evaluated once.
class Sets {
public:
    Sets(std::span<const Member> members, std::shared_ptr<const ifc::Model> reference, const sets::Knowledge& knowledge)
        : elements_(members, std::move(reference)), knowledge_(knowledge)
    {
    }
    /// Nothing, and why, where the line is wrong.
    Result<std::shared_ptr<const sets::Elements::Picked>> of(const std::string& line)
    {
        if (const auto known = known_.find(line); known != known_.end())
            return known->second;
        const sets::Parsed parsed = sets::parse(line);
        if (!parsed.expression)
            return fail({clash::kBadSheet, parsed.mistake.message});
        auto answer = elements_.in(*parsed.expression, knowledge_);
        if (!answer.problem.empty())
            return fail({clash::kBadSheet, answer.problem});
        return known_[line] = std::make_shared<const sets::Elements::Picked>(std::move(answer.picked));
    }

private:
    sets::Elements elements_;
    const sets::Knowledge& knowledge_;
    std::map<std::string, std::shared_ptr<const sets::Elements::Picked>> known_;
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
        run_.findings.push_back({test, number(c.left), number(c.right), c.depth, c.point, where.storey, where.bay,
                                 c.isApproximate, c.distance, c.isOpen});
    }
    void add(std::uint32_t test, const clash::Expected& e)
    {
        run_.expected.push_back({test, e.rule, number(e.left), number(e.right)});
    }

private:
    std::uint32_t number(clash::Part part)
    {
        const auto [at, isNew] = numbers_.try_emplace(part, static_cast<std::uint32_t>(run_.elements.size()));
        if (isNew) {
            const Member& member = workspace_.members[part.member];
            const ifc::Element& e = member.model->elements()[part.element];
            run_.elements.push_back({member.refOf(part.element), member.model->displayName(e),
                                     std::string(member.model->className(e)), member.model->text(e.typeName),
                                     member.model->text(e.system)});
        }
        return at->second;
    }
    NewRun& run_;
    const Workspace& workspace_;
    const federation::Locator& locator_;
    std::map<clash::Part, std::uint32_t> numbers_;
};

/// Each once, in order.
std::vector<DisciplineId> disciplinesOf(const Workspace& workspace, std::span<const clash::Part> parts)
{
    std::vector<bool> hasParts(workspace.members.size(), false);
    for (const clash::Part& part : parts)
        hasParts[part.member] = true;
    std::vector<DisciplineId> disciplines;
    for (std::size_t m = 0; m < hasParts.size(); ++m)
        if (hasParts[m])
            disciplines.push_back(workspace.members[m].disciplineId);
    std::sort(disciplines.begin(), disciplines.end());
    disciplines.erase(std::unique(disciplines.begin(), disciplines.end()), disciplines.end());
    return disciplines;
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
            run.notBuilt += clash::notTestable(member).size();
        coverage.seen.push_back(
            {member, m.isTested, workspace.leftOut.size() > i ? workspace.leftOut[i] : std::vector<std::string>{}});
        run.members.push_back(std::move(m));
    }
    run.members.insert(run.members.end(), workspace.missing.begin(), workspace.missing.end());
    run.members.insert(run.members.end(), order.absent.begin(), order.absent.end());
    run.presence = std::move(coverage);

    const federation::Locator locator(*reference->model);
    Gathering gathering(run, workspace, locator);
    Sets sets(workspace.members, reference->model, order.knowledge);
    PickedSides sides(workspace.members);
    const auto remembering = workspace.memory != nullptr ? workspace.memory->lock() : std::unique_lock<std::mutex>();
    for (const RunTest& ordered : order.tests) {
        const auto number = static_cast<std::uint32_t>(run.tests.size());
        RunTest& made = run.tests.emplace_back(ordered);
        const clash::Test& test = made.test;
        std::shared_ptr<const PickedSides::Picked> left, right;
        if (made.isWanted && made.why.empty()) {
            const auto l = sets.of(test.left), r = sets.of(test.right.empty() ? test.left : test.right);
            if (l && r) {
                left = *l;
                right = *r;
            } else {
                made.why = (l ? r : l).error().message;
            }
        }
        sides.add(left, right);
        made.state = TestState::None;
        if (!made.isWanted || !made.why.empty())
            continue;
        const auto leftParts = clash::partsOf(workspace.members, isTested, *left),
                   rightParts = clash::partsOf(workspace.members, isTested, *right);
        made.leftOf = disciplinesOf(workspace, leftParts);
        made.rightOf = disciplinesOf(workspace, rightParts);
        if (leftParts.empty() || rightParts.empty())
            continue;
        clash::Question question;
        question.kind = test.kind;
        question.tolerance = test.tolerance;
        question.clearance = test.clearance;
        question.direction = test.direction;
        question.ignored = test.ignored;
        question.joint = test.joint;
        const clash::Findings findings =
            clash::findClashes(workspace.members, leftParts, rightParts, question, progress,
                               remembering ? &workspace.memory->of(order.tests, number) : nullptr);
        // Cancelled, and so are the tests after it; what was found by then is kept.
        made.state = findings.isPartial ? TestState::Cancelled : TestState::Run;
        made.pairsTested = findings.pairsTested;
        made.found = findings.clashes.size();
        for (const clash::Clash& c : findings.clashes)
            gathering.add(number, c);
        for (const clash::Expected& e : findings.expected) {
            gathering.add(number, e);
            ++made.expected[e.rule];
        }
    }
    run.sides = std::move(sides);
    if (remembering)
        workspace.memory->keepOnly(order.tests);
    const auto isDone = [](const RunTest& t) { return t.state == TestState::Run || t.found > 0; };
    if (progress.isCancelled() && std::none_of(run.tests.begin(), run.tests.end(), isDone))
        return fail({clash::kCancelled, "The clash test was cancelled; the earlier result stays."});
    return run;
}

} // namespace wendrix::project
