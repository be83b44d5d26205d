#include "core/project/workspace.h"

#include "core/project/test_memory.h"

#include "core/base/text.h"
#include "core/base/verified_content.h"
#include "core/clash/engine.h"
#include "core/federation/member_cache.h"
#include "core/federation/standing.h"
#include "core/project/kept_files.h"
#include "core/project/proposal.h"
#include "core/project/test_sheets.h"

#include <algorithm>
#include <future>
#include <map>
#include <thread>

namespace wendrix::project {

using federation::Member;

const Member* Workspace::find(const std::string& discipline) const
{
    const auto found =
        std::find_if(members.begin(), members.end(), [&](const Member& m) { return m.discipline == discipline; });
    return found != members.end() ? &*found : nullptr;
}

std::vector<std::uint32_t> Workspace::allOf(const std::string& discipline) const
{
    std::vector<std::uint32_t> all;
    for (std::uint32_t i = 0; i < members.size(); ++i)
        if (members[i].discipline == discipline)
            all.push_back(i);
    return all;
}

bool Workspace::holds(DeliveryId delivery) const
{
    return std::find(deliveries.begin(), deliveries.end(), delivery) != deliveries.end();
}

void Workspace::replace(const std::string& discipline, const Workspace& from)
{
    Workspace all;
    const auto take = [&](const Workspace& one, bool isOfDiscipline) {
        for (std::size_t i = 0; i < one.members.size(); ++i)
            if ((one.members[i].discipline == discipline) == isOfDiscipline) {
                all.members.push_back(one.members[i]);
                all.deliveries.push_back(one.deliveries[i]);
                all.leftOut.push_back(one.leftOut[i]);
            }
    };
    take(*this, false);
    take(from, true);
    all.missing = std::move(missing);
    all.memory = memory != nullptr ? memory : from.memory;
    *this = std::move(all);
}

const RunMember* Workspace::findMissing(DeliveryId delivery, const std::string& part) const
{
    const auto found = std::find_if(missing.begin(), missing.end(),
                                    [&](const RunMember& m) { return m.delivery == delivery && m.part == part; });
    return found != missing.end() ? &*found : nullptr;
}

std::string Workspace::missingInWords() const
{
    std::string words;
    for (const RunMember& m : missing)
        words += (words.empty() ? "" : " ") + m.title() + " is not there: " + m.why + ".";
    return words;
}

Result<std::vector<WorkspaceOrder::Item>> itemsOf(const Project& project, const Delivery& delivery)
{
    const auto disciplines = project.setup().disciplines();
    const auto fit = project.coordinates().fitOf(delivery);
    if (const auto error = firstError(disciplines, fit))
        return fail(*error);
    Discipline own;
    for (const Discipline& d : *disciplines)
        if (d.name == delivery.discipline)
            own = d;
    std::vector<WorkspaceOrder::Item> items;
    for (const ModelFile& model : delivery.models())
        items.push_back({delivery, model,
                         delivery.moreModels.empty() ? "" : partName(model.fileName, delivery.revision),
                         project.deliveries().fileOf(model), own.id, *fit, own.leftOut});
    return items;
}

namespace {

/// What is used of each discipline; nothing of it where there is none.
Result<std::map<std::string, Delivery>> usedIn(const Project& project, const Scope& scope)
{
    std::map<std::string, Delivery> used;
    if (scope.cycle) {
        const auto then = project.deliveries().compositionOf(*scope.cycle);
        if (!then)
            return fail(then.error());
        for (const auto& [discipline, id] : *then) {
            const auto delivery = project.deliveries().find(id);
            if (!delivery)
                return fail(delivery.error());
            if (*delivery)
                used[discipline] = **delivery;
        }
    } else {
        auto now = project.deliveries().allInUse();
        if (!now)
            return fail(now.error());
        for (Delivery& d : *now)
            used[d.discipline] = std::move(d);
    }
    if (scope.instead) {
        const auto wanted = project.deliveries().find(*scope.instead);
        if (!wanted)
            return fail(wanted.error());
        if (*wanted)
            used[(*wanted)->discipline] = **wanted;
    }
    return used;
}

/// The usual sheet over the disciplines of an order.
KeptSheet usualSheet(const WorkspaceOrder& order)
{
    std::vector<std::string> disciplines;
    for (const WorkspaceOrder::Item& item : order.items)
        if (std::find(disciplines.begin(), disciplines.end(), item.delivery.discipline) == disciplines.end())
            disciplines.push_back(item.delivery.discipline);
    KeptSheet usual;
    usual.sheet = clash::usualSheet(disciplines);
    return usual;
}

} // namespace

Result<WorkspaceOrder> orderOf(const Project& project, const Scope& scope)
{
    const auto snapshot = project.store().snapshot();
    WorkspaceOrder order;
    const auto reference = project.setup().reference();
    auto sheets = project.clashes().sheets();
    const auto disciplines = project.setup().disciplines();
    const auto federations = project.setup().federations();
    const auto cycle = project.deliveries().cycle();
    const auto standsRight = project.coordinates().standsRight();
    auto inUse = usedIn(project, scope);
    if (const auto error = firstError(reference, sheets, disciplines, federations, cycle, standsRight, inUse))
        return fail(*error);
    const std::map<std::string, Delivery>& used = *inUse;
    order.reference = *reference;
    order.standsRight = *standsRight;
    order.cycle = scope.cycle.value_or(*cycle);
    order.federation = scope.federation;
    order.cache = project.folder() / "cache";
    for (const auto& [discipline, delivery] : used) {
        const auto fit = project.coordinates().fitOf(delivery);
        if (!fit)
            return fail(fit.error());
        order.inForce.push_back({discipline, delivery.id, fit->id});
    }
    std::sort(order.inForce.begin(), order.inForce.end());
    const auto federation = std::find_if(federations->begin(), federations->end(),
                                         [&](const Federation& f) { return f.name == scope.federation; });
    for (const Discipline& d : *disciplines) {
        const auto delivery = used.find(d.name);
        if (delivery == used.end())
            continue;
        auto items = itemsOf(project, delivery->second);
        if (!items)
            return fail(items.error());
        const bool isMember = federation == federations->end() || federation->has(d.name) ||
                              (scope.instead && *scope.instead == delivery->second.id);
        for (WorkspaceOrder::Item& item : *items) {
            if (isMember)
                order.items.push_back(std::move(item));
            else
                order.absent.push_back({d.id, d.name, item.delivery.revision, item.part, item.delivery.id, item.fit.fit,
                                        false, "not in " + scope.federation});
        }
    }
    if (sheets->empty())
        sheets->push_back(usualSheet(order));
    order.tests = testsOf(*sheets);
    auto knowledge = knowledgeFor(project, order.tests);
    if (!knowledge)
        return fail(knowledge.error());
    order.knowledge = std::move(*knowledge);
    const auto rules = project.changes().rules();
    if (!rules)
        return fail(rules.error());
    order.rule = rules->front().rule;
    if (const auto line = sets::parse(order.rule.elements).expression; line && !order.rule.elements.empty()) {
        auto ruleKnowledge = knowledgeFor(project, *line);
        if (!ruleKnowledge)
            return fail(ruleKnowledge.error());
        order.ruleKnowledge = std::move(*ruleKnowledge);
    }
    return order;
}

namespace {

/// The files of an order held against what was received, beside the reading of them: of those that are read the very
/// bytes that are.
class Verification {
public:
    /// @param mapped  of each item what is read of it; null where it is not
    Verification(const WorkspaceOrder& order, std::vector<std::shared_ptr<const MappedFile>> mapped,
                 const Progress& progress)
        : promises_(order.items.size())
    {
        for (auto& promise : promises_)
            verdicts_.push_back(promise.get_future().share());
        thread_ = std::thread([this, &order, mapped = std::move(mapped), &progress] {
            for (std::size_t i = 0; i < promises_.size(); ++i) {
                const WorkspaceOrder::Item& item = order.items[i];
                const bool isSound = mapped[i] != nullptr && holdsContent(*mapped[i], item.model.sha256, progress);
                std::string why = isSound ? std::string() : whyNotSound(item.file, item.model.sha256, progress);
                if (!isSound && why.empty() && mapped[i] != nullptr)
                    why = "was changed by another program while it was read; open it again";
                promises_[i].set_value(std::move(why));
            }
        });
    }
    ~Verification() { thread_.join(); }
    Verification(const Verification&) = delete;
    Verification& operator=(const Verification&) = delete;

    /// What is wrong with an item's file, once that is known; empty where nothing is.
    [[nodiscard]] const std::shared_future<std::string>& verdictOf(std::size_t item) const { return verdicts_[item]; }

private:
    std::vector<std::promise<std::string>> promises_;
    std::vector<std::shared_future<std::string>> verdicts_;
    std::thread thread_;
};

} // namespace

Result<Workspace> load(const WorkspaceOrder& order, const Workspace& have, Progress& progress)
{
    const federation::MemberCache cache(order.cache);
    std::vector<std::optional<Member>> members(order.items.size());
    std::vector<std::string> why(order.items.size());
    std::vector<std::shared_ptr<const MappedFile>> mapped(order.items.size());
    for (std::size_t k = 0; k < order.items.size(); ++k) {
        const WorkspaceOrder::Item& item = order.items[k];
        for (std::size_t i = 0; i < have.deliveries.size() && !members[k]; ++i)
            if (have.deliveries[i] == item.delivery.id && have.members[i].part == item.part &&
                have.leftOut.size() > i && have.leftOut[i] == item.leftOut)
                members[k] = have.members[i];
        if (members[k])
            continue;
        if (auto opened = MappedFile::open(item.file))
            mapped[k] = std::move(*opened);
        else
            why[k] = opened.error().message;
    }
    const Verification verification(order, mapped, progress);
    for (std::size_t k = 0; k < order.items.size(); ++k) {
        const WorkspaceOrder::Item& item = order.items[k];
        if (mapped[k] == nullptr)
            continue;
        auto opened = federation::openMember(mapped[k], item.model.sha256, item.leftOut, cache, progress,
                                             [verdict = verification.verdictOf(k)] { return verdict.get().empty(); });
        if (progress.isCancelled())
            return fail({step::kCancelled, "Reading was cancelled.", item.model.fileName});
        if (!opened) {
            why[k] = opened.error().message;
            continue;
        }
        members[k] = std::move(*opened);
        members[k]->model->indexGuids(); // here, so that no click has to wait for it
    }
    std::vector<std::string> unsound;
    for (std::size_t k = 0; k < order.items.size(); ++k)
        unsound.push_back(verification.verdictOf(k).get());
    if (progress.isCancelled())
        return fail({step::kCancelled, "Reading was cancelled."});
    Workspace workspace;
    workspace.memory = have.memory != nullptr ? have.memory : std::make_shared<TestMemory>();
    for (std::size_t k = 0; k < order.items.size(); ++k) {
        const WorkspaceOrder::Item& item = order.items[k];
        if (!members[k] || !unsound[k].empty()) {
            workspace.missing.push_back({item.disciplineId, item.delivery.discipline, item.delivery.revision, item.part,
                                         item.delivery.id, item.fit.fit, false,
                                         "its file " + item.model.fileName + " " +
                                             (unsound[k].empty() ? "can not be read. " + why[k] : unsound[k])});
            continue;
        }
        Member& member = *members[k];
        member.disciplineId = item.disciplineId;
        member.discipline = item.delivery.discipline;
        member.revision = item.delivery.revision;
        member.part = item.part;
        member.fit = item.fit.fit;
        workspace.members.push_back(std::move(member));
        workspace.deliveries.push_back(item.delivery.id);
        workspace.leftOut.push_back(item.leftOut);
    }
    return workspace;
}

void refit(Workspace& workspace, const WorkspaceOrder& order)
{
    for (std::size_t i = 0; i < workspace.members.size(); ++i)
        for (const WorkspaceOrder::Item& item : order.items)
            if (item.delivery.id == workspace.deliveries[i] && item.part == workspace.members[i].part)
                workspace.members[i].fit = item.fit.fit;
}

std::string alignmentInWords(const Workspace& workspace, const WorkspaceOrder& order, const std::string& discipline)
{
    const Member *onto = workspace.find(order.reference), *member = workspace.find(discipline);
    if (onto == nullptr || member == nullptr || onto == member)
        return {};
    const auto standing = federation::standingOf(*onto->model, *member, order.standsRight);
    return standing.isVerified() ? "Alignment verified: worst residual " + lengthInWords(standing.worst) + "."
                                 : "It does not stand right: " + federation::whyNotVerified(standing) + ".";
}

namespace {

/// The fit in force for a delivery of an order.
StoredFit fitIn(const WorkspaceOrder& order, DeliveryId delivery)
{
    const auto item = std::find_if(order.items.begin(), order.items.end(),
                                   [&](const WorkspaceOrder::Item& i) { return i.delivery.id == delivery; });
    return item == order.items.end() ? StoredFit{} : item->fit;
}

} // namespace

Result<PreparedTakeIn> prepareTakeIn(const WorkspaceOrder& order, DeliveryId delivery, const Workspace& have,
                                     Progress& progress, const std::optional<MovedAnswer>& answer)
{
    auto workspace = load(order, have, progress);
    if (!workspace)
        return fail(workspace.error());
    PreparedTakeIn prepared;
    prepared.workspace = std::move(*workspace);
    prepared.record.delivery = delivery;
    std::vector<Member> before, after;
    DeliveryId from = 0;
    for (std::size_t i = 0; i < prepared.workspace.deliveries.size(); ++i)
        if (prepared.workspace.deliveries[i] == delivery)
            after.push_back(prepared.workspace.members[i]);
    for (const RunMember& m : prepared.workspace.missing)
        if (m.delivery == delivery)
            return fail({kNotSound, m.title() + " can not be taken in: " + m.why + "."});
    if (after.empty())
        return fail({kUnknown, "The delivery is not in this project any more."});
    for (std::size_t i = 0; i < have.members.size(); ++i)
        if (have.members[i].discipline == after[0].discipline && have.deliveries[i] != delivery) {
            before.push_back(have.members[i]);
            from = have.deliveries[i];
        }
    // Before anything is compared or tested: all of it would be wrong.
    if (const Member* onto = prepared.workspace.find(order.reference); onto != nullptr && !answer) {
        prepared.moved = whyMoved(before, after, *onto, fitIn(order, delivery), order.standsRight);
        if (prepared.moved) {
            prepared.moved->delivery = delivery;
            return prepared;
        }
    }
    WorkspaceOrder placed = order;
    if (answer && answer->fit) {
        prepared.record.fit = answer->fit;
        for (WorkspaceOrder::Item& item : placed.items)
            if (item.delivery.id == delivery)
                item.fit = *answer->fit;
        for (std::size_t i = 0; i < prepared.workspace.members.size(); ++i)
            if (prepared.workspace.deliveries[i] == delivery)
                prepared.workspace.members[i].fit = answer->fit->fit;
        for (Member& member : after)
            member.fit = answer->fit->fit;
    }
    if (!before.empty()) {
        auto comparison = compareDeliveries(before, after, {from, delivery, order.rule, order.ruleKnowledge}, progress);
        if (!comparison)
            return fail(comparison.error());
        prepared.record.comparison = std::move(*comparison);
    }
    prepared.alignment = alignmentInWords(prepared.workspace, placed, after[0].discipline);
    // The first of its discipline makes no run: the tests are run when the composition is whole.
    const bool isFirst =
        before.empty() && std::none_of(have.missing.begin(), have.missing.end(),
                                       [&](const RunMember& m) { return m.discipline == after[0].discipline; });
    if (prepared.workspace.find(order.reference) != nullptr && have.find(order.reference) != nullptr && !isFirst) {
        auto run = runTests(prepared.workspace, placed, progress);
        if (!run)
            return fail(run.error());
        if (progress.isCancelled()) // a taking in is whole or not at all
            return fail({clash::kCancelled, "Cancelled; nothing was taken in."});
        prepared.record.run = std::move(*run);
    }
    return prepared;
}

} // namespace wendrix::project
