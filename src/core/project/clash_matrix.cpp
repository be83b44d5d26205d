#include "core/project/clash_matrix.h"

#include "core/sets/language.h"

#include <algorithm>

namespace wendrix::project {

namespace {

/// The disciplines that a side of a test may pick from: those it names, or all where it names none.
std::vector<bool> disciplinesOf(const std::string& line, const std::vector<std::string>& all)
{
    std::vector<bool> isNamed(all.size(), false);
    bool isAnyNamed = false;
    const auto look = [&](const auto& self, const sets::Expression& e) -> void {
        const bool isOfDiscipline = e.kind == sets::Expression::Kind::Condition &&
                                    e.condition.field == sets::Field::Discipline &&
                                    e.condition.relation == sets::Relation::Is;
        for (const sets::Value& v : isOfDiscipline ? e.condition.values : std::vector<sets::Value>())
            for (std::size_t i = 0; i < all.size(); ++i)
                if (all[i] == v.text)
                    isAnyNamed = isNamed[i] = true;
        // What is named under "not" is not what is picked, and "or" may pick what is not named at all.
        if (e.kind == sets::Expression::Kind::AllOf)
            for (const sets::Expression& part : e.parts)
                self(self, part);
    };
    const auto parsed = sets::parse(line);
    if (parsed.expression)
        look(look, *parsed.expression);
    return isAnyNamed ? isNamed : std::vector<bool>(all.size(), parsed.expression.has_value());
}

} // namespace

ClashMatrix::ClashMatrix(const PairBriefs& briefs, const Run* lastRun, std::span<const std::string> disciplines)
{
    std::vector<std::string> why;
    for (const std::string& d : disciplines) {
        std::string reason;
        bool isMember = false, isAnyTested = false;
        for (const RunMember& m : lastRun != nullptr ? lastRun->members : std::vector<RunMember>())
            if (m.discipline == d) {
                isMember = true;
                isAnyTested = isAnyTested || m.isTested;
                reason = m.isTested ? reason : m.title() + ", " + m.why;
            }
        if (!isMember && lastRun != nullptr)
            continue;
        disciplines_.push_back(d);
        why.push_back(isAnyTested ? "" : lastRun == nullptr ? "no test has been run yet" : reason);
    }
    const std::size_t n = disciplines_.size();
    cells_.resize(n * n);
    // Which of them a side of a test had something of: as the run kept it, or as far as its line tells.
    const auto isOn = [&](const std::string& line, const std::vector<DisciplineId>& known) {
        if (known.empty())
            return disciplinesOf(line, disciplines_);
        std::vector<bool> is(n, false);
        for (const RunMember& m : lastRun->members)
            for (std::size_t i = 0; i < n; ++i)
                if (disciplines_[i] == m.discipline &&
                    std::find(known.begin(), known.end(), m.disciplineId) != known.end())
                    is[i] = true;
        return is;
    };
    const auto cell = [&](std::size_t a, std::size_t b) -> Cell& {
        return cells_[std::min(a, b) * n + std::max(a, b)];
    };

    for (const RunTest& t : lastRun != nullptr ? lastRun->tests : std::vector<RunTest>()) {
        const auto left = isOn(t.test.left, t.leftOf),
                   right = t.test.right.empty() ? left : isOn(t.test.right, t.rightOf);
        for (std::size_t a = 0; a < n; ++a)
            for (std::size_t b = 0; b < n; ++b) {
                // Of one set against itself every discipline in it meets every other.
                if (!left[a] || !right[b])
                    continue;
                Cell& c = cell(a, b);
                const bool isRun = t.state == clash::TestState::Run && why[a].empty() && why[b].empty();
                c.isTested = c.isTested || isRun;
                if (isRun && std::find(c.askedBy.begin(), c.askedBy.end(), t.test.name) == c.askedBy.end())
                    c.askedBy.push_back(t.test.name);
                if (!isRun && c.whyNot.empty())
                    c.whyNot = !why[a].empty()                          ? why[a]
                               : !why[b].empty()                        ? why[b]
                               : t.state == clash::TestState::Cancelled ? t.test.name + " was cancelled"
                               : t.why.empty()                          ? t.test.name + " lacks a side"
                                                                        : t.test.name + ", " + t.why;
            }
    }
    for (Cell& c : cells_)
        if (c.isTested)
            c.whyNot.clear();

    std::vector<std::size_t> places(briefs.texts.size(), n); // of texts among the disciplines
    for (std::size_t k = 0; k < briefs.texts.size(); ++k)
        places[k] = static_cast<std::size_t>(std::find(disciplines_.begin(), disciplines_.end(), briefs.texts[k]) -
                                             disciplines_.begin());
    for (const PairBrief& p : briefs.pairs) {
        const std::size_t a = places[briefs.elements[p.leftElement].discipline],
                          b = places[briefs.elements[p.rightElement].discipline];
        if (a >= n || b >= n)
            continue;
        Cell& c = cell(a, b);
        const auto one = [&](ClashFilter filter) -> std::size_t { return ClashChoice::isIn(p, filter) ? 1 : 0; };
        c.there += one(ClashFilter::There);
        c.undecided += one(ClashFilter::Undecided);
        c.isNew += one(ClashFilter::New);
        c.back += one(ClashFilter::Back);
        c.goneNow += one(ClashFilter::GoneNow);
        c.notTested += one(ClashFilter::NotTested);
    }
}

ClashMatrix::Cell ClashMatrix::sum() const
{
    Cell sum;
    for (const Cell& c : cells_) {
        sum.there += c.there;
        sum.undecided += c.undecided;
        sum.isNew += c.isNew;
        sum.back += c.back;
        sum.goneNow += c.goneNow;
        sum.notTested += c.notTested;
    }
    return sum;
}

} // namespace wendrix::project
