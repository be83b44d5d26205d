#include "core/project/requirements.h"

#include "core/base/text.h"

#include <algorithm>

namespace wendrix::project {

std::string ruleOf(const checks::Finding& finding)
{
    // One code stands for every property that is asked for; other findings say figures in their titles.
    return finding.code == "property.missing" ? finding.code + "/" + finding.title + "/" + finding.advice
                                              : finding.code;
}

std::string ruleOf(const checks::QualityReport::OfIds& ids, const checks::SpecificationResult& result)
{
    return "ids/" + ids.title + "/" + result.name;
}

Result<std::optional<RequirementsOrder>> requirementsOrderOf(const Project& project, const Delivery& delivery)
{
    const auto all = project.issues().requirements();
    const auto disciplines = project.setup().disciplines();
    if (const auto error = firstError(all, disciplines))
        return fail(*error);
    const auto own = std::find_if(disciplines->begin(), disciplines->end(),
                                  [&](const Discipline& d) { return d.name == delivery.discipline; });
    // What was found in a delivery that still waits says more than one that came before it.
    const auto isFoundLater = [&](const issues::Requirement& requirement) {
        const auto last = requirement.moments.empty()
                              ? std::optional<Delivery>()
                              : orNothing(project.deliveries().find(requirement.moments.back().delivery));
        return last && last->state == DeliveryState::Waiting && last->id != delivery.id && last->time > delivery.time;
    };
    RequirementsOrder order;
    for (const auto& [uuid, requirement] : *all)
        if (own != disciplines->end() && requirement.discipline == own->id && !isFoundLater(requirement))
            order.asked.push_back({uuid, requirement.rule, {}, requirement.isOfItsOwn});
    if (order.asked.empty())
        return std::optional<RequirementsOrder>();
    const auto elements = project.issues().elements();
    auto inside = insideOrderOf(project, delivery, {});
    if (const auto error = firstError(elements, inside))
        return fail(*error);
    order.inside = std::move(*inside);
    for (RequirementsOrder::Asked& asked : order.asked)
        if (const auto found = elements->find(asked.issue); found != elements->end())
            for (const ElementRef& e : found->second)
                asked.elements.insert(e.guid);
    return std::optional(std::move(order));
}

issues::RequirementsMet requirementsIn(std::span<const checks::ModelReport> reports, const Delivery& delivery,
                                       std::span<const RequirementsOrder::Asked> asked)
{
    issues::RequirementsMet met;
    for (const RequirementsOrder::Asked& one : asked) {
        issues::RequirementMoment moment{delivery.id, delivery.revision};
        moment.isOfItsOwn = one.isOfItsOwn;
        bool areAllNamed = true;
        std::set<std::string> failing;
        const auto count = [&](std::size_t number, std::span<const checks::Concerned> concerned) {
            moment.failing += number;
            areAllNamed = areAllNamed && concerned.size() >= number;
            for (const checks::Concerned& c : concerned)
                failing.insert(c.guid);
        };
        bool isAnswered = !one.rule.starts_with("ids/");
        for (const checks::ModelReport& report : reports) {
            for (const checks::Finding& finding : report.quality.findings)
                if (ruleOf(finding) == one.rule)
                    count(std::max<std::size_t>(finding.count, 1), finding.concerned);
            for (const auto& ids : report.quality.ids)
                for (const checks::SpecificationResult& s : ids.specifications)
                    if (ruleOf(ids, s) == one.rule && s.verdict != checks::Verdict::NotForThisSchema) {
                        isAnswered = true;
                        if (s.verdict == checks::Verdict::Unmet)
                            count(std::max<std::size_t>(s.failed.size(), 1), s.failed);
                    }
        }
        if (!isAnswered)
            continue;
        moment.its = one.elements.size();
        moment.failingOfIts = static_cast<std::size_t>(std::count_if(
            one.elements.begin(), one.elements.end(), [&](const std::string& guid) { return failing.contains(guid); }));
        if (moment.isOfItsOwn && moment.isMet() && !areAllNamed)
            continue;
        met.emplace_back(one.issue, std::move(moment));
    }
    return met;
}

Result<issues::RequirementsMet> checkRequirements(const RequirementsOrder& order, const Workspace& have,
                                                  Progress& progress)
{
    const auto reports = prepareQuality(order.inside, have, progress);
    if (!reports)
        return fail(reports.error());
    return requirementsIn(*reports, order.inside.delivery, order.asked);
}

Result<std::string> recordRequirements(Project& project, const Delivery& delivery, const issues::RequirementsMet& met,
                                       const WhoAndWhen& who)
{
    const std::size_t yes = static_cast<std::size_t>(
        std::count_if(met.begin(), met.end(), [](const auto& one) { return one.second.isMet(); }));
    const std::string words = std::to_string(yes) + " of " + counted(met.size(), "requirement is", "requirements are") +
                              " met in " + delivery.name();
    const auto done = project.store().act({Book::Issues, words}, who, [&](SQLite::Database& db) {
        for (const auto& [issue, moment] : met)
            project.issues().writeMoment(db, issue, moment, who);
    });
    if (!done)
        return fail(done.error());
    return words;
}

} // namespace wendrix::project
