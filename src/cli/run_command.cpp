#include "commands.h"
#include "json_output.h"
#include "test_report.h"

#include "core/project/place_check.h"
#include "core/project/requirements.h"
#include "core/project/workspace.h"

#include <algorithm>
#include <iostream>

namespace wendrix::cli {

namespace {

using project::Delivery;
using project::DeliveryState;

/// Why a delivery is not taken in by itself; nothing where it is.
std::optional<std::string> whyHeld(const project::PreparedTakeIn& prepared, const Delivery& delivery, bool isAnyTaken)
{
    if (prepared.moved)
        return "it no longer stands where its fit puts it";
    if (isAnyTaken || !prepared.record.run)
        return {};
    for (const project::RunMember& m : prepared.record.run->members)
        if (m.discipline == delivery.discipline && !m.isTested)
            return m.why;
    return {};
}

} // namespace

int run(const RunCall& call)
{
    const auto unreadable = [](const Error& error) {
        std::cerr << "wendrix-cli: " << error.inWords() << '\n';
        return kUnreadable;
    };
    if (call.failOn && !holds(*call.failOn, {})) {
        std::cerr << "wendrix-cli: --fail-on takes clashes, undecided or notTested, a comparison and a number; not '"
                  << *call.failOn << "'.\n";
        return kCallIsOff;
    }
    const auto opened = project::Project::open(call.project);
    if (!opened)
        return unreadable(opened.error());
    project::Project& project = **opened;
    const WhoAndWhen who{call.person, currentTime()};
    Progress progress;
    Json takenIn = Json::array(), held = Json::array();
    project::Workspace workspace;
    const auto deliveries = project.deliveries().all();
    if (!deliveries)
        return unreadable(deliveries.error());
    for (const Delivery& delivery : *deliveries) {
        if (delivery.state != DeliveryState::Waiting || call.takeIn == "none")
            continue;
        const auto present = project::orderOf(project), order = project::orderOf(project, {{}, delivery.id, {}});
        if (!present || !order)
            return unreadable(!present ? present.error() : order.error());
        auto loaded = project::load(*present, workspace, progress);
        if (!loaded)
            return unreadable(loaded.error());
        workspace = std::move(*loaded);
        auto prepared = project::prepareTakeIn(*order, delivery.id, workspace, progress);
        const auto why =
            prepared ? whyHeld(*prepared, delivery, call.takeIn == "all") : std::optional(prepared.error().message);
        if (why) {
            held.push_back({{"delivery", delivery.name()}, {"reason", *why}});
            continue;
        }
        const auto asked = project::requirementsOrderOf(project, delivery);
        if (!asked)
            return unreadable(asked.error());
        if (*asked) {
            auto met = project::checkRequirements(**asked, prepared->workspace, progress);
            if (!met)
                return unreadable(met.error());
            prepared->record.requirements = std::move(*met);
        }
        if (const auto done = project::takeIn(project, prepared->record, who); !done)
            return unreadable(done.error());
        workspace = prepared->workspace;
        takenIn.push_back(
            {{"delivery", delivery.name()},
             {"changes", prepared->record.comparison ? prepared->record.comparison->changes.size() : std::size_t{0}}});
    }
    ClashCall tests;
    tests.project = call.project;
    tests.failOn = call.failOn;
    tests.junit = call.junit;
    return clashOf(project, tests, workspace, {{"takenIn", takenIn}, {"held", held}}, who);
}

} // namespace wendrix::cli
