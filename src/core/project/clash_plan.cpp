#include "core/project/clash_plan.h"

#include <algorithm>
#include <map>

namespace wendrix::project {

std::size_t ClashPlan::Storey::all() const
{
    std::size_t sum = 0;
    for (const Bay& bay : bays)
        sum += bay.all();
    return sum;
}

ClashPlan::ClashPlan(const PairBriefs& briefs, ClashQuestion question)
{
    question.storey.clear();
    question.bay.clear();
    question.filter = ClashFilter::There;
    const ClashChoice choice(briefs, question);
    std::map<std::uint32_t, std::map<std::uint32_t, Bay>> byStorey;
    for (const PairBrief& p : briefs.pairs) {
        if (!choice.isWanted(p))
            continue;
        Bay& bay = byStorey[p.storey][p.bay];
        bay.x += p.place[0]; // a sum, until all of the bay are there
        bay.y += p.place[1];
        ++(p.decision == PairBrief::Decision::Fix        ? bay.fix
           : p.decision == PairBrief::Decision::LetStand ? bay.letStand
           : p.decision == PairBrief::Decision::Later    ? bay.later
                                                         : bay.undecided);
    }
    for (auto& [storeyText, bays] : byStorey) {
        Storey storey{briefs.texts[storeyText], {}};
        for (auto& [bayText, bay] : bays) {
            bay.name = briefs.texts[bayText];
            bay.x /= static_cast<double>(bay.all());
            bay.y /= static_cast<double>(bay.all());
            storey.bays.push_back(std::move(bay));
        }
        std::stable_sort(storey.bays.begin(), storey.bays.end(),
                         [](const Bay& a, const Bay& b) { return a.all() > b.all(); });
        storeys_.push_back(std::move(storey));
    }
    std::stable_sort(storeys_.begin(), storeys_.end(),
                     [](const Storey& a, const Storey& b) { return a.all() > b.all(); });
}

const ClashPlan::Storey* ClashPlan::find(const std::string& name) const
{
    if (name.empty())
        return storeys_.empty() ? nullptr : &storeys_.front();
    const auto at = std::find_if(storeys_.begin(), storeys_.end(), [&](const Storey& s) { return s.name == name; });
    return at != storeys_.end() ? &*at : nullptr;
}

} // namespace wendrix::project
