#include "core/project/test_sheets.h"

#include <algorithm>
#include <map>

namespace wendrix::project {

namespace {

using sets::Expression;
using Refs = sets::Knowledge::Refs;

/// What was asked for, by the text it was asked with.
struct Known {
    std::map<std::string, Refs> withIssue, changedSince;
    std::map<std::string, std::string> sets;
};

void noteQuestions(const Expression& e, Known& known)
{
    if (e.kind == Expression::Kind::HasIssue)
        known.withIssue[e.text];
    if (e.kind == Expression::Kind::ChangedSince)
        known.changedSince[e.text];
    for (const Expression& part : e.parts)
        noteQuestions(part, known);
}

Result<sets::Knowledge> answersTo(const Project& project, std::shared_ptr<Known> known)
{
    const auto sheets = project.clashes().sheets();
    if (!sheets)
        return fail(sheets.error());
    for (const KeptSheet& kept : *sheets)
        for (const clash::NamedSet& set : kept.sheet.sets) {
            known->sets.try_emplace(set.name, set.line);
            if (const auto parsed = sets::parse(set.line); parsed.expression)
                noteQuestions(*parsed.expression, *known);
        }
    for (auto& [status, refs] : known->withIssue) {
        auto read = project.issues().elementsWith(status);
        if (!read)
            return fail(read.error());
        refs = std::move(*read);
    }
    for (auto& [since, refs] : known->changedSince) {
        auto read = project.changes().elementsChangedSince(since);
        if (!read)
            return fail(read.error());
        refs = std::move(*read);
    }
    const auto find = [](const std::map<std::string, Refs>& answers, const std::string& question) {
        const auto at = answers.find(question);
        return at != answers.end() ? at->second : Refs();
    };
    return sets::Knowledge{[known](const std::string& name) -> std::optional<std::string> {
                               const auto at = known->sets.find(name);
                               return at != known->sets.end() ? std::optional(at->second) : std::nullopt;
                           },
                           [known, find](const std::string& status) { return find(known->withIssue, status); },
                           [known, find](const std::string& since) { return find(known->changedSince, since); }};
}

} // namespace

Result<sets::Knowledge> knowledgeFor(const Project& project, std::span<const RunTest> tests)
{
    auto known = std::make_shared<Known>();
    for (const RunTest& t : tests)
        for (const std::string* line : {&t.test.left, &t.test.right})
            if (const auto parsed = sets::parse(*line); parsed.expression)
                noteQuestions(*parsed.expression, *known);
    return answersTo(project, std::move(known));
}

Result<sets::Knowledge> knowledgeFor(const Project& project, const Expression& set)
{
    auto known = std::make_shared<Known>();
    noteQuestions(set, *known);
    return answersTo(project, std::move(known));
}

Result<std::vector<KeptSheet>> sheetsInForce(const Project& project)
{
    auto kept = project.clashes().sheets();
    if (!kept || !kept->empty())
        return kept;
    const auto disciplines = project.setup().disciplines();
    const auto inUse = project.deliveries().allInUse();
    if (const auto error = firstError(disciplines, inUse))
        return fail(*error);
    std::vector<std::string> present;
    for (const Discipline& d : *disciplines)
        if (std::any_of(inUse->begin(), inUse->end(), [&](const Delivery& one) { return one.discipline == d.name; }))
            present.push_back(d.name);
    KeptSheet usual;
    usual.sheet = clash::usualSheet(present);
    kept->push_back(std::move(usual));
    return kept;
}

std::vector<RunTest> testsOf(std::span<const KeptSheet> sheets)
{
    std::vector<RunTest> tests;
    for (const KeptSheet& kept : sheets)
        for (const clash::Test& test : kept.sheet.tests) {
            if (!kept.isOn || !test.isOn)
                continue;
            RunTest& made = tests.emplace_back();
            made.test = test;
            const auto left = clash::wholeLine(test.left, kept.sheet);
            const auto right =
                test.right.empty() ? Result<std::string>(std::string()) : clash::wholeLine(test.right, kept.sheet);
            if (left && right) {
                made.test.left = *left;
                made.test.right = *right;
            } else {
                made.why = (left ? "right: " : "left: ") + (left ? right : left).error().message;
            }
        }
    return tests;
}

std::vector<std::string> notRunAsTheyAre(std::span<const RunTest> tests, const Run& run)
{
    std::vector<std::string> changed;
    for (const RunTest& t : tests)
        if (std::none_of(run.tests.begin(), run.tests.end(),
                         [&](const RunTest& then) { return clash::asksTheSame(t.test, then.test); }))
            changed.push_back(t.test.name);
    return changed;
}

} // namespace wendrix::project
