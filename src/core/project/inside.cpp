#include "core/project/inside.h"

#include "core/project/kept_files.h"

namespace wendrix::project {

namespace {

/// @param reference  of the composition; null where there is none
Result<std::vector<checks::ModelReport>> qualityOf(const InsideOrder& order, const Workspace& alone,
                                                   const federation::Member* reference, Progress& progress)
{
    checks::Expectations expectations = order.expectations;
    if (reference != nullptr && reference->discipline != order.delivery.discipline)
        for (const ifc::Storey& storey : reference->model->storeys())
            expectations.storeys.emplace_back(storey.name, storey.elevation);
    std::vector<checks::Ids> specifications;
    for (const auto& [name, text] : order.specifications)
        if (auto ids = checks::readIdsText(text, name))
            specifications.push_back(std::move(*ids));
    const std::vector<ModelFile> files = order.delivery.models();
    std::vector<checks::ModelReport> reports;
    for (std::size_t i = 0; i < alone.members.size(); ++i) {
        const federation::Member& member = alone.members[i];
        auto report =
            checks::checkQuality(*member.model, member.geometry.get(), expectations, specifications, progress);
        if (!report)
            return fail(report.error());
        reports.push_back({files[i].fileName, std::move(*report)});
    }
    return reports;
}

} // namespace

Result<InsideOrder> insideOrderOf(const Project& project, const Delivery& delivery, const std::string& federation)
{
    InsideOrder order;
    order.delivery = delivery;
    auto within = orderOf(project, {federation, delivery.id, {}});
    auto own = itemsOf(project, delivery);
    auto deliveries = project.deliveries().all();
    auto expectations = project.setup().expectations();
    auto specifications = project.setup().specifications();
    if (const auto error = firstError(within, own, deliveries, expectations, specifications))
        return fail(*error);
    order.within = std::move(*within);
    order.alone = order.before = order.within;
    order.alone.items = std::move(*own);
    order.before.items.clear();
    for (Delivery& d : *deliveries)
        if (d.discipline == delivery.discipline && d.time < delivery.time && d.state != DeliveryState::Declined)
            order.against = std::move(d); // oldest first: the last one stays
    if (order.against) {
        auto before = itemsOf(project, *order.against);
        if (!before)
            return fail(before.error());
        order.before.items = std::move(*before);
    }
    order.expectations = std::move(*expectations);
    order.specifications = std::move(*specifications);
    return order;
}

Result<Inside> prepareInside(const InsideOrder& order, const Workspace& have, Progress& progress)
{
    Inside inside;
    inside.delivery = order.delivery;
    inside.against = order.against;
    auto within = load(order.within, have, progress);
    if (!within)
        return fail(within.error());
    inside.within = std::move(*within);
    auto alone = load(order.alone, inside.within, progress);
    if (!alone)
        return fail(alone.error());
    inside.alone = std::move(*alone);
    if (!inside.alone.missing.empty())
        return fail({kNotSound, inside.alone.missingInWords()});
    auto before = load(order.before, have, progress);
    if (!before)
        return fail(before.error());
    inside.before = std::move(*before);
    if (!inside.before.missing.empty())
        inside.against.reset(); // what is missing there would count as new here
    if (inside.against) {
        auto comparison = compareDeliveries(
            inside.before.members, inside.alone.members,
            {inside.against->id, order.delivery.id, order.within.rule, order.within.ruleKnowledge}, progress);
        if (!comparison)
            return fail(comparison.error());
        inside.changes = std::move(comparison->changes);
    }
    inside.alignment = alignmentInWords(inside.within, order.within, order.delivery.discipline);
    auto quality = qualityOf(order, inside.alone, inside.within.find(order.within.reference), progress);
    if (!quality)
        return fail(quality.error());
    inside.quality = std::move(*quality);
    return inside;
}

Result<std::vector<checks::ModelReport>> prepareQuality(const InsideOrder& order, const Workspace& have,
                                                        Progress& progress)
{
    WorkspaceOrder both = order.within;
    std::erase_if(both.items, [&](const WorkspaceOrder::Item& item) {
        return item.delivery.discipline != both.reference && item.delivery.id != order.delivery.id;
    });
    const auto loaded = load(both, have, progress);
    if (!loaded)
        return fail(loaded.error());
    const auto alone = load(order.alone, *loaded, progress);
    if (!alone)
        return fail(alone.error());
    if (!alone->missing.empty())
        return fail({kNotSound, alone->missingInWords()});
    return qualityOf(order, *alone, loaded->find(both.reference), progress);
}

checks::DeliveryReport reportOf(const Project& project, const Delivery& delivery,
                                std::vector<checks::ModelReport> quality, const WhoAndWhen& who)
{
    return {project.name(), delivery.name(), delivery.title, delivery.sender, delivery.time, who, std::move(quality)};
}

} // namespace wendrix::project
