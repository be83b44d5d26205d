#include "changes/change_view.h"

#include "changes/change_look.h"
#include "core/base/text.h"
#include "core/geometry/plane_clip.h"
#include "core/project/change_words.h"
#include "shell/theme.h"

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr Vector3 kUsualSide{-0.55, -0.75, 0.5};
constexpr double kLeastReach = 5, kAround = 1.2; // metres
constexpr double kMostInFocus = 40;              // metres
constexpr float kGhost = 0.35f;
constexpr std::size_t kMostArrows = 40;

geometry::Mesh meshOf(const std::vector<std::pair<federation::Member, ifc::ElementIndex>>& elements)
{
    geometry::Mesh mesh;
    for (const auto& [member, element] : elements)
        mesh.append(geometry::transformed(member.geometry->meshOf(element), member.fit.transform()));
    return mesh;
}

/// Cut open as the model is; whole where that does not go.
geometry::Mesh behind(geometry::Mesh mesh, const std::vector<geometry::Plane>& cuts)
{
    for (const geometry::Plane& plane : cuts)
        if (auto rest = geometry::clippedBehind(mesh, plane))
            mesh = std::move(*rest);
    return mesh;
}

view::Colour faint(const QColor& colour, float alpha)
{
    return {static_cast<float>(colour.redF()), static_cast<float>(colour.greenF()), static_cast<float>(colour.blueF()),
            alpha};
}

} // namespace

RevisionFinder::RevisionFinder(const Session& session, const SceneView& scene)
    : members_(scene.members()), deliveries_(session.workspace().deliveries)
{
    // What is laid under stands behind what is in use.
    const auto& under = session.previous().deliveries;
    if (deliveries_.size() + under.size() == members_.size())
        deliveries_.insert(deliveries_.end(), under.begin(), under.end());
    deliveries_.resize(members_.size(), 0);
}

std::optional<view::ElementKey> RevisionFinder::find(project::DeliveryId delivery, const ElementRef& element) const
{
    for (std::uint32_t i = 0; i < members_.size(); ++i)
        if (deliveries_[i] == delivery)
            if (const auto found = members_[i].find(element))
                return view::ElementKey{i, *found};
    return {};
}

std::vector<const federation::Member*> RevisionFinder::membersOf(project::DeliveryId delivery) const
{
    std::vector<const federation::Member*> found;
    for (std::size_t i = 0; i < members_.size(); ++i)
        if (deliveries_[i] == delivery)
            found.push_back(&members_[i]);
    return found;
}

RevisionFinder::Sides RevisionFinder::sidesOf(const project::ChangeRecord& c) const
{
    Sides sides;
    const auto add = [&](std::vector<view::ElementKey>& side, project::DeliveryId delivery, const ElementRef& element) {
        if (const auto key = find(delivery, element))
            side.push_back(*key);
    };
    if ((c.kinds & project::CutUp) != 0)
        for (const ElementRef& part : c.parts)
            add(sides.after, c.to, part);
    else if ((c.kinds & project::Removed) == 0)
        add(sides.after, c.to, c.element);
    if ((c.kinds & project::Joined) != 0)
        for (const ElementRef& part : c.parts)
            add(sides.before, c.from, part);
    else if ((c.kinds & project::Added) == 0)
        add(sides.before, c.from, c.continues.value_or(c.element));
    return sides;
}

float Between::before() const
{
    const auto t = static_cast<float>(at);
    return t <= 0.5f ? 1 - (1 - kGhost) * 2 * t : kGhost * 2 * (1 - t);
}

float Between::after() const { return std::min(1.0f, 2 * static_cast<float>(at)); }

ChangeSight sightOf(const RevisionFinder& revisions, const std::vector<project::ChangeRecord>& changes, bool isChosen,
                    Between between, std::vector<view::GridLine> grid)
{
    ChangeSight sight;
    Box3 wasBox, nowBox;
    for (const project::ChangeRecord& c : changes) {
        const QColor& colour = changeLook(c.mainKind()).colour;
        const RevisionFinder::Sides sides = revisions.sidesOf(c);
        const bool isGone = (c.kinds & project::Removed) != 0;
        // What only reads differently looks the same before and after.
        const bool hasTwoLooks =
            (c.kinds & (project::Moved | project::Reshaped | project::CutUp | project::Joined)) != 0;
        for (const view::ElementKey& key : sides.after) {
            sight.subject.painted[key] =
                faint(colour, hasTwoLooks || (c.kinds & project::Added) != 0 ? between.after() : 1);
            nowBox.add(view::boundsOf(revisions.members(), key));
        }
        for (const view::ElementKey& key : sides.before)
            if (isGone || (isChosen && hasTwoLooks)) {
                const float alpha = isGone ? std::min(1.0f, 2 * static_cast<float>(1 - between.at)) : between.before();
                sight.subject.painted[key] = faint(isGone ? colour : theme::kRemoved, alpha);
                wasBox.add(view::boundsOf(revisions.members(), key));
            }
        const std::vector<view::ElementKey>& seen = sides.after.empty() ? sides.before : sides.after;
        sight.subject.about.insert(sight.subject.about.end(), seen.begin(), seen.end());
        if (isChosen && (c.kinds & project::Moved) != 0 && length(c.shift) > 0 && !sides.after.empty() &&
            sight.subject.arrows.size() < kMostArrows) {
            const Point3 now = view::boundsOf(revisions.members(), sides.after[0]).centre();
            sight.subject.arrows.push_back({now - c.shift, now,
                                            changes.size() == 1 || sight.subject.arrows.empty()
                                                ? lengthInWords(Metres{length(c.shift)})
                                                : std::string(),
                                            toColour(theme::kMoved)});
        }
    }
    sight.box = nowBox;
    sight.box.add(wasBox);
    sight.subject.isRestFaded = true;
    // What stands around many far apart would hide them.
    if (isChosen && !sight.box.isEmpty() && length(sight.box.size()) <= kMostInFocus)
        sight.subject.place = sight.box;
    sight.subject.grid = std::move(grid);
    return sight;
}

view::Camera cameraFor(SceneView& scene, const ChangeSight& sight, double aspect)
{
    const Vector3 from = scene.freeDirection(sight.box.centre(), std::max(kLeastReach, length(sight.box.size())),
                                             kUsualSide, sight.subject.about);
    return view::lookingAt(sight.box.grownBy(kAround), from, aspect);
}

VolumeOrder orderFor(const RevisionFinder& revisions, const std::vector<project::ChangeRecord>& changes,
                     double tolerance)
{
    VolumeOrder order;
    order.tolerance = tolerance;
    for (const project::ChangeRecord& c : changes) {
        if ((c.kinds & project::Reshaped) == 0)
            continue;
        if (order.items.size() == VolumeOrder::kMost)
            break;
        VolumeOrder::Item item;
        const RevisionFinder::Sides sides = revisions.sidesOf(c);
        for (const auto& [keys, into] : {std::pair(&sides.before, &item.before), std::pair(&sides.after, &item.after)})
            for (const view::ElementKey& key : *keys)
                into->emplace_back(revisions.members()[key.member], key.element);
        if (!item.before.empty() && !item.after.empty())
            order.items.push_back(std::move(item));
    }
    return order;
}

std::vector<changes::VolumeChange> volumesOf(const VolumeOrder& order, const std::function<bool()>& isVoid)
{
    std::vector<changes::VolumeChange> volumes;
    for (const VolumeOrder::Item& item : order.items) {
        if (isVoid())
            break;
        volumes.push_back(changes::volumeChange(meshOf(item.before), meshOf(item.after), order.tolerance));
    }
    return volumes;
}

view::Illustration illustrationOf(const std::vector<changes::VolumeChange>& volumes,
                                  const std::vector<geometry::Plane>& cuts)
{
    view::Illustration illustration;
    const auto add = [&](const geometry::Mesh& body, const QColor& colour, bool isOutline) {
        geometry::Mesh mesh = behind(body, cuts);
        if (mesh.isEmpty())
            return;
        const Point3 origin = geometry::boundsOf(mesh).centre();
        illustration.figures.push_back(
            {origin, std::make_shared<geometry::Mesh>(geometry::transformed(mesh, Transform::translation(-origin))),
             toColour(colour), isOutline});
    };
    for (const changes::VolumeChange& v : volumes) {
        add(v.added, theme::kAdded, false);
        add(v.removed, QColor(theme::kRemoved.red(), theme::kRemoved.green(), theme::kRemoved.blue(), 150), false);
        add(v.removed, theme::kRemoved, true);
    }
    return illustration;
}

QString inWords(const std::vector<changes::VolumeChange>& volumes)
{
    double added = 0, removed = 0, farthest = 0;
    std::size_t inexact = 0;
    for (const changes::VolumeChange& v : volumes) {
        added += v.addedVolume;
        removed += v.removedVolume;
        inexact += v.isExact ? 0 : 1;
        farthest = std::max(farthest, v.farthest);
    }
    QString words;
    if (inexact < volumes.size())
        words = QString::fromStdString(project::volumeInWords(added) + " added, " + project::volumeInWords(removed) +
                                       " taken away");
    if (inexact > 0)
        words += (words.isEmpty() ? "" : ". ") +
                 QString(volumes.size() == 1 ? "It has no inside, so only its surfaces were compared"
                                             : "%1 have no inside, so only their surfaces were compared")
                     .arg(inexact) +
                 ": up to " + QString::fromStdString(lengthInWords(Metres{farthest})) + " apart";
    if (volumes.size() == 1)
        words += QString("; surface %1 m², was %2 m²")
                     .arg(volumes[0].areaAfter, 0, 'f', 2)
                     .arg(volumes[0].areaBefore, 0, 'f', 2);
    return words;
}

} // namespace wendrix::app
