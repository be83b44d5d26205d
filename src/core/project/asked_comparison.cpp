#include "core/project/asked_comparison.h"

#include "core/project/kept_files.h"
#include "core/project/test_sheets.h"

#include <algorithm>
#include <map>

namespace wendrix::project {

namespace {

Result<WorkspaceOrder> orderOfDelivery(const Project& project, DeliveryId id)
{
    const auto delivery = project.deliveries().find(id);
    if (!delivery)
        return fail(delivery.error());
    if (!*delivery)
        return fail({kUnknown, "A delivery that is to be compared is not in this project any more."});
    auto items = itemsOf(project, **delivery);
    if (!items)
        return fail(items.error());
    WorkspaceOrder order;
    order.items = std::move(*items);
    order.cache = project.folder() / "cache";
    return order;
}

} // namespace

Result<std::vector<AskedComparison>> askedComparisons(const Project& project, std::span<const DeliveryPair> pairs)
{
    const auto rules = project.changes().rules();
    if (!rules)
        return fail(rules.error());
    ComparisonOrder common;
    common.rule = rules->front().rule;
    if (const auto line = sets::parse(common.rule.elements).expression; line && !common.rule.elements.empty()) {
        auto knowledge = knowledgeFor(project, *line);
        if (!knowledge)
            return fail(knowledge.error());
        common.knowledge = std::move(*knowledge);
    }
    std::vector<AskedComparison> asked;
    for (const DeliveryPair& pair : pairs) {
        auto before = orderOfDelivery(project, pair.from), after = orderOfDelivery(project, pair.to);
        if (const auto error = firstError(before, after))
            return fail(*error);
        AskedComparison one{std::move(*before), std::move(*after), common, true};
        one.order.from = pair.from;
        one.order.to = pair.to;
        asked.push_back(std::move(one));
    }
    return asked;
}

Result<std::vector<AskedComparison>> comparisonsInForceAnew(const Project& project)
{
    const auto inForce = project.changes().inForce();
    if (!inForce)
        return fail(inForce.error());
    std::vector<DeliveryPair> pairs;
    for (const ComparisonRecord& k : *inForce)
        pairs.push_back({k.from, k.to});
    auto asked = askedComparisons(project, pairs);
    if (!asked)
        return asked;
    for (std::size_t i = 0; i < asked->size(); ++i) {
        (*asked)[i].isAsked = false;
        for (WorkspaceOrder::Item& item : (*asked)[i].before.items)
            item.fit.fit = (*inForce)[i].fromFit; // as it stood when it was in use
    }
    return asked;
}

Result<std::vector<DeliveryPair>> betweenCycles(const Project& project, int from, int to)
{
    std::map<std::string, DeliveryPair> byDiscipline;
    for (const auto& [cycle, side] : {std::pair(from, &DeliveryPair::from), std::pair(to, &DeliveryPair::to)}) {
        Scope scope;
        scope.cycle = cycle;
        const auto order = orderOf(project, scope);
        if (!order)
            return fail(order.error());
        for (const InForce& one : order->inForce)
            byDiscipline[one.discipline].*side = one.delivery;
    }
    std::vector<DeliveryPair> pairs;
    for (const auto& [discipline, pair] : byDiscipline)
        if (pair.from != 0 && pair.to != 0 && pair.from != pair.to)
            pairs.push_back(pair);
    return pairs;
}

Result<std::vector<NewComparison>> compareAll(std::span<const AskedComparison> asked, const Workspace& have,
                                              Progress& progress)
{
    std::vector<NewComparison> all;
    for (const AskedComparison& one : asked) {
        const auto before = load(one.before, have, progress);
        if (!before)
            return fail(before.error());
        const auto after = load(one.after, have, progress);
        if (!after)
            return fail(after.error());
        for (const Workspace* side : {&*before, &*after})
            if (!side->missing.empty())
                return fail({kNotSound, side->missingInWords()});
        auto comparison = compareDeliveries(before->members, after->members, one.order, progress);
        if (!comparison)
            return fail(comparison.error());
        comparison->record.isAsked = one.isAsked;
        all.push_back(std::move(*comparison));
    }
    return all;
}

} // namespace wendrix::project
