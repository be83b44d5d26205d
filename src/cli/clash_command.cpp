#include "commands.h"
#include "json_output.h"
#include "test_report.h"

#include "core/base/text.h"
#include "core/clash/untested.h"
#include "core/clash/words.h"
#include "core/project/clash_cause.h"
#include "core/sets/elements.h"

#include <algorithm>
#include <chrono>
#include <iostream>
#include <map>
#include <set>
#include <tuple>

namespace wendrix::cli {

namespace {

int sayUnreadable(const Error& error)
{
    std::cerr << "wendrix-cli: " << error.inWords() << '\n';
    return kUnreadable;
}

/// Writes the report that is asked for, and says whether the rule that fails a build holds.
int concluded(const ClashCall& call, const Counts& counts, const std::vector<TestCase>& cases)
{
    if (call.junit)
        if (const auto written = writeJunit(*call.junit, cases); !written) {
            std::cerr << "wendrix-cli: " << written.error().inWords() << '\n';
            return kUnwritable;
        }
    return call.failOn && *holds(*call.failOn, counts) ? kDoesNotHold : kDone;
}

/// How each finding of a run that is not recorded yet stands against those before it.
Result<std::vector<Standing>> standingsOf(const project::Project& project, const project::NewRun& run)
{
    const auto known = project.clashes().all();
    const auto before = project.clashes().lastRun();
    if (const auto error = firstError(known, before))
        return fail(*error);
    std::map<std::tuple<clash::Kind, ElementRef, ElementRef>, const project::Pair*> byElements;
    const auto keyOf = [](clash::Kind kind, const ElementRef& a, const ElementRef& b) {
        return std::tuple(kind, std::min(a, b), std::max(a, b));
    };
    for (const project::Pair& p : *known)
        byElements.emplace(keyOf(p.kind, p.left.element, p.right.element), &p);
    std::vector<Standing> standings;
    for (const project::RunFinding& f : run.findings) {
        const project::RunElement &left = run.elements[f.left], &right = run.elements[f.right];
        const auto at = byElements.find(keyOf(run.tests[f.test].test.kind, left.ref, right.ref));
        Standing& standing = standings.emplace_back();
        project::Pair pair;
        if (at != byElements.end())
            pair = *at->second;
        else {
            pair.left.element = left.ref;
            pair.left.name = left.name;
            pair.right.element = right.ref;
            pair.right.name = right.name;
        }
        pair.state = at == byElements.end() ? clash::PairState::New
                     : pair.isGone()        ? clash::PairState::Back
                                            : clash::PairState::StillThere;
        standing.state = clash::stateInWords(pair.state);
        auto cause = project::causeOf(project, pair, {run.members, &run.tests[f.test]}, *before ? &**before : nullptr);
        if (!cause)
            return fail(cause.error());
        standing.cause = std::move(*cause);
    }
    return standings;
}

/// Elements of which somebody has decided that their clash is to be fixed, may stand, or can wait.
Result<std::set<std::pair<ElementRef, ElementRef>>> decidedPairs(const project::Project& project)
{
    const auto pairs = project.clashes().all();
    if (!pairs)
        return fail(pairs.error());
    std::set<std::pair<ElementRef, ElementRef>> decided;
    for (const project::Pair& p : *pairs)
        if (!p.decision.empty())
            decided.insert(std::minmax(p.left.element, p.right.element));
    return decided;
}

/// Keeps of some elements those that a rule picks. @return false, and a message, where the rule is wrong
bool pick(std::span<const federation::Member> members, const std::optional<std::string>& line, const char* option,
          std::vector<clash::Part>& parts)
{
    if (!line)
        return true;
    const sets::Parsed parsed = sets::parse(*line);
    if (!parsed.expression) {
        std::cerr << "wendrix-cli: " << option << ": " << parsed.mistake.message << ", at sign "
                  << parsed.mistake.from + 1 << " of: " << *line << '\n';
        return false;
    }
    const auto answer = sets::Elements(members).in(*parsed.expression);
    if (!answer.problem.empty()) {
        std::cerr << "wendrix-cli: " << option << ": " << answer.problem << '\n';
        return false;
    }
    std::erase_if(parts, [&](const clash::Part& p) { return answer.picked[p.member][p.element] == 0; });
    return true;
}

/// What a call asks; nothing, and a message, where it asks for what there is not.
std::optional<clash::Question> questionOf(const ClashCall& call)
{
    clash::Question question;
    question.kind = call.kind == "clearance"   ? clash::Kind::Clearance
                    : call.kind == "duplicate" ? clash::Kind::Duplicate
                                               : clash::Kind::Hard;
    question.tolerance = call.toleranceMetres;
    question.clearance = call.clearanceMetres;
    question.direction = call.direction == "up"     ? clash::Direction::Up
                         : call.direction == "down" ? clash::Direction::Down
                         : call.direction == "side" ? clash::Direction::Side
                                                    : clash::Direction::Any;
    question.withVolumes = call.withVolumes;
    question.ignored = clash::Meetings::all();
    question.joint = call.jointMetres;
    if (question.kind == clash::Kind::Clearance && !(question.clearance > 0)) {
        std::cerr << "wendrix-cli: --kind clearance needs --clearance, the metres that are wanted free.\n";
        return {};
    }
    if (!call.ignored)
        return question;
    const auto ignored = clash::meetingsFrom(*call.ignored);
    if (!ignored) {
        std::cerr << "wendrix-cli: --ignore knows openings, connected, assembly, covering and hosted, or none; not '"
                  << *call.ignored << "'.\n";
        return {};
    }
    question.ignored = *ignored;
    return question;
}

} // namespace

/// The tests of a project on its composition, in fitted places; points in the reference's frame.
int clashOf(project::Project& project, const ClashCall& call, const project::Workspace& have, Json more,
            const std::optional<WhoAndWhen>& recordAs)
{
    auto asked = project::orderOf(project);
    if (!asked)
        return sayUnreadable(asked.error());
    project::WorkspaceOrder& order = *asked;
    if (call.test) {
        std::erase_if(order.tests, [&](const project::RunTest& t) { return t.test.name != *call.test; });
        if (order.tests.empty()) {
            std::cerr << "wendrix-cli: the project has no test called '" << *call.test << "'.\n";
            return kCallIsOff;
        }
    }
    Progress progress;
    const auto start = std::chrono::steady_clock::now();
    const auto workspace = project::load(order, have, progress);
    if (!workspace)
        return sayUnreadable(workspace.error());
    const auto findings = project::runTests(*workspace, order, progress);
    if (!findings)
        return sayUnreadable(findings.error());
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    const auto standings = standingsOf(project, *findings); // before this run is among those that count
    if (!standings)
        return sayUnreadable(standings.error());
    if (recordAs)
        if (const auto recorded = project::recordRun(project, *findings, *recordAs); !recorded)
            return sayUnreadable(recorded.error());
    more.update(clashes(*findings, *standings, seconds));
    print(more);
    Counts counts;
    counts.clashes = findings->findings.size();
    counts.notTested = static_cast<std::size_t>(
        std::count_if(findings->members.begin(), findings->members.end(), [](const auto& m) { return !m.isTested; }));
    const auto decided = decidedPairs(project);
    if (!decided)
        return sayUnreadable(decided.error());
    std::vector<TestCase> cases;
    for (const project::RunTest& t : findings->tests) {
        cases.push_back({t.test.name, seconds / static_cast<double>(findings->tests.size()), {}, {}});
        if (t.state == clash::TestState::None)
            cases.back().whySkipped = t.why.empty() ? "one of its sides is not tested" : t.why;
        else if (t.state == clash::TestState::Cancelled)
            cases.back().whySkipped = "it was cancelled";
    }
    for (const project::RunFinding& f : findings->findings) {
        const auto &left = findings->elements[f.left], &right = findings->elements[f.right];
        if (decided->contains(std::minmax(left.ref, right.ref)))
            continue;
        ++counts.undecided;
        cases[f.test].failures.push_back(left.name + " and " + right.name + ": " +
                                         clash::inWords(project::extentOf(f, findings->tests[f.test].test)) + ", " +
                                         f.storey + (f.bay.empty() ? "" : ", " + f.bay));
    }
    return concluded(call, counts, cases);
}

int clash(const ClashCall& call)
{
    if (call.failOn && !holds(*call.failOn, {})) {
        std::cerr << "wendrix-cli: --fail-on takes clashes, undecided or notTested, a comparison and a number, such as "
                     "'undecided>0'; not '"
                  << *call.failOn << "'.\n";
        return kCallIsOff;
    }
    if (!call.project.empty()) {
        const auto project = project::Project::open(call.project);
        return project ? clashOf(**project, call, {}, Json::object(), {}) : sayUnreadable(project.error());
    }
    if (call.left.empty()) {
        std::cerr << "wendrix-cli: name a project, or a file with --left.\n";
        return kCallIsOff;
    }
    const auto question = questionOf(call);
    if (!question)
        return kCallIsOff;
    Progress progress;
    std::vector<federation::Member> members;
    for (const std::string& file : call.right ? std::vector{call.left, *call.right} : std::vector{call.left}) {
        auto member = federation::openMember(file, progress);
        if (!member)
            return sayUnreadable(member.error());
        members.push_back(std::move(*member));
    }
    const std::uint32_t left[] = {0}, right[] = {call.right ? 1u : 0u};
    auto leftParts = clash::partsOf(members, left), rightParts = clash::partsOf(members, right);
    if (!pick(members, call.leftFilter, "--left-filter", leftParts) ||
        !pick(members, call.right || call.rightFilter ? call.rightFilter : call.leftFilter, "--right-filter",
              rightParts))
        return kCallIsOff;
    const clash::Findings findings = clash::findClashes(members, leftParts, rightParts, *question, progress);
    print(clashes(findings, members, *question));
    Counts counts;
    counts.clashes = counts.undecided = findings.clashes.size();
    TestCase one{call.kind + ": " + call.left + (call.right ? " with " + *call.right : " with itself"),
                 findings.seconds,
                 {},
                 {}};
    const auto name = [&](clash::Part p) {
        const ifc::Model& model = *members[p.member].model;
        return model.displayName(model.elements()[p.element]);
    };
    for (const clash::Clash& c : findings.clashes)
        one.failures.push_back(
            name(c.left) + " and " + name(c.right) + ": " +
            clash::inWords({question->kind, c.depth, c.isApproximate, c.distance, question->clearance}));
    for (const federation::Member& m : members)
        counts.notTested += clash::notTestable(m).size();
    return concluded(call, counts, {one});
}

} // namespace wendrix::cli
