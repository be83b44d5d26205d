#include "core/project/clash_question.h"

#include <algorithm>

namespace wendrix::project {

using clash::PairState;

bool ClashQuestion::isNarrowed() const
{
    return !bay.empty() || !test.empty() || !className.empty() || !system.empty() || !discipline.empty() || decision ||
           cause || !decider.empty();
}

ClashChoice::ClashChoice(const PairBriefs& briefs, const ClashQuestion& q)
    : briefs_(briefs), filter_(q.filter), storey_(numberOf(q.storey)), bay_(numberOf(q.bay)), test_(numberOf(q.test)),
      className_(numberOf(q.className)), system_(numberOf(q.system)), discipline_(numberOf(q.discipline)),
      against_(numberOf(q.against)), decision_(q.decision), cause_(q.cause)
{
    if (q.decider.empty())
        return;
    for (const std::string& text : briefs.texts)
        isTestOfDecider_.push_back(q.testsOfDecider.contains(text));
}

std::uint32_t ClashChoice::numberOf(const std::string& text) const
{
    if (text.empty())
        return kAny;
    const auto at = std::find(briefs_.texts.begin(), briefs_.texts.end(), text);
    return at != briefs_.texts.end() ? static_cast<std::uint32_t>(at - briefs_.texts.begin()) : kNone;
}

bool ClashChoice::isIn(const PairBrief& p, ClashFilter filter)
{
    switch (filter) {
    case ClashFilter::Undecided:
        return p.isUndecided();
    case ClashFilter::New:
        return p.state == PairState::New && clash::isTested(p.outcome);
    case ClashFilter::StillThere:
        return p.state == PairState::StillThere && clash::isTested(p.outcome);
    case ClashFilter::Back:
        return p.state == PairState::Back && clash::isTested(p.outcome);
    case ClashFilter::Gone:
        return p.isGone();
    case ClashFilter::GoneNow:
        return p.isGone() && p.isOfLastRun;
    case ClashFilter::NotTested:
        return !p.isGone() && !clash::isTested(p.outcome);
    case ClashFilter::There:
        break;
    }
    return !p.isGone();
}

bool ClashChoice::isNarrowedTo(const PairBrief& p) const
{
    const auto is = [](std::uint32_t wanted, std::uint32_t own) { return wanted == kAny || wanted == own; };
    if (!is(bay_, p.bay) || !is(test_, p.test) || (decision_ && p.decision != *decision_) ||
        (!isTestOfDecider_.empty() && !isTestOfDecider_[p.test]))
        return false;
    if (cause_ && ((p.state != PairState::New && p.state != PairState::Back) ||
                   (*cause_ == 0 ? p.cause != 0 : (p.cause & *cause_) == 0)))
        return false;
    if (className_ == kAny && system_ == kAny && discipline_ == kAny)
        return true;
    const ElementBrief &l = briefs_.elements[p.leftElement], &r = briefs_.elements[p.rightElement];
    const auto areOf = [&](const ElementBrief& a, const ElementBrief& b) {
        return is(discipline_, a.discipline) && is(against_, b.discipline);
    };
    return (is(className_, l.className) || is(className_, r.className)) &&
           (is(system_, l.system) || is(system_, r.system)) && (areOf(l, r) || areOf(r, l));
}

} // namespace wendrix::project
