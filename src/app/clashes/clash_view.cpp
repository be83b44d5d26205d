#include "clashes/clash_view.h"

#include "core/base/text.h"
#include "core/view/picking.h"
#include "shell/theme.h"

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr Vector3 kUsualSide{-0.55, -0.75, 0.5};
constexpr double kLeastReach = 6, kAround = 2.2; // metres
constexpr double kOutlineGap = 0.01;             // metres: an outline in a face would not be told from it
constexpr std::size_t kMostHoles = 12;

geometry::Mesh boxOf(const clash::OrientedBox& box, double grownBy)
{
    Box3 upright;
    const Vector3 half{box.half[0] + grownBy, box.half[1] + grownBy, box.half[2] + 2 * grownBy};
    upright.add(-half);
    upright.add(half);
    return geometry::transformed(geometry::boxMesh(upright), Transform{box.axes[0], box.axes[1], box.axes[2], {}});
}

void addPassage(view::Illustration& illustration, const clash::Passage& passage)
{
    const auto add = [&](const clash::OrientedBox& box, const QColor& colour, bool isOutline) {
        illustration.figures.push_back(
            {box.centre, std::make_shared<geometry::Mesh>(boxOf(box, kOutlineGap)), toColour(colour), isOutline});
    };
    if (!passage.hole) {
        add(passage.needed, theme::kAction, true);
        return;
    }
    add(passage.hole->box, QColor(0xF5, 0xF2, 0xEA, 190), false); // as if one saw the paper through it
    const Vector3 shift = passage.hole->shift();
    if (length(shift) >= 0.001)
        illustration.arrows.push_back({passage.hole->box.centre, passage.hole->box.centre + shift,
                                       lengthInWords(Metres{length(shift)}), toColour(theme::kInk)});
}

} // namespace

ClashView viewOf(const SceneView& scene, const std::vector<project::Pair>& pairs, std::vector<view::GridLine> grid)
{
    ClashView view;
    for (const project::Pair& p : pairs) {
        for (const bool isLeft : {true, false})
            if (const auto key = scene.find((isLeft ? p.left : p.right).element)) {
                view.subject.painted[*key] = toColour(isLeft ? theme::kLeft : theme::kRight);
                view.subject.about.push_back(*key);
            }
        view.subject.markers.push_back(
            {p.point, pairs.size() > 1 ? std::to_string(view.subject.markers.size() + 1) : "!",
             toColour(p.isGone() ? theme::kPanel : theme::kOverlap), toColour(theme::kInk), false, true});
        view.box.add(p.point);
        view.middle = view.middle + (1.0 / static_cast<double>(pairs.size())) * p.point;
    }
    view.subject.grid = std::move(grid);
    view.subject.place = view.box;
    return view;
}

view::Camera cameraFor(SceneView& scene, const ClashView& view, double aspect)
{
    const double reach = std::max(kLeastReach, 1.2 * length(view.box.size()));
    const Vector3 from = scene.freeDirection(view.middle, reach, kUsualSide, view.subject.about);
    return view::lookingAt(view.box.grownBy(kAround), from, aspect);
}

ConflictOrder orderFor(const SceneView& scene, const std::vector<project::Pair>& pairs)
{
    ConflictOrder order;
    // What is only laid under stands behind the others, and is no part of what was tested.
    for (std::size_t m = 0; m < scene.members().size() && !scene.looks()[m].isOnlyPainted; ++m)
        order.members.push_back(scene.members()[m]);
    for (const project::Pair& p : pairs) {
        const auto left = scene.find(p.left.element), right = scene.find(p.right.element);
        if (!left || !right || p.isGone() || order.items.size() == ConflictOrder::kMost)
            continue;
        clash::Question question;
        question.kind = p.kind;
        question.clearance = p.clearance;
        question.direction = p.direction;
        order.items.push_back({{left->member, left->element}, {right->member, right->element}, question, p.point});
    }
    return order;
}

std::vector<clash::Conflict> conflictsOf(const ConflictOrder& order, const std::function<bool()>& isVoid)
{
    std::vector<clash::Conflict> conflicts;
    for (const ConflictOrder::Item& item : order.items) {
        if (isVoid())
            break;
        conflicts.push_back(clash::conflictOf(order.members, item.left, item.right, item.question, item.point));
    }
    return conflicts;
}

view::Illustration illustrationOf(SceneView& scene, const ClashView& view,
                                  const std::vector<clash::Conflict>& conflicts, Vector3 from)
{
    view::Illustration illustration;
    for (const clash::Conflict& c : conflicts) {
        if (!c.shared.isEmpty())
            illustration.figures.push_back(
                {c.origin, std::make_shared<geometry::Mesh>(c.shared), toColour(theme::kOverlap)});
        if (c.gap)
            illustration.arrows.push_back({(*c.gap)[0], (*c.gap)[1],
                                           lengthInWords(Metres{length((*c.gap)[1] - (*c.gap)[0])}),
                                           toColour(theme::kAction)});
        if (c.passage && conflicts.size() <= kMostHoles)
            addPassage(illustration, *c.passage);
    }
    if (conflicts.size() == 1 && !conflicts[0].gap && scene.isPickerReady()) {
        const geometry::Mesh& shared = conflicts[0].shared;
        illustration.opened =
            view::planeThatOpens(scene.picker(), view.middle, length(geometry::boundsOf(shared).size()),
                                 normalised(from), view.subject.about);
    }
    return illustration;
}

QString inWords(const std::vector<clash::Conflict>& conflicts)
{
    QStringList words;
    std::size_t untold = 0, passing = 0, missing = 0;
    for (const clash::Conflict& c : conflicts) {
        untold += c.isTold ? 0 : 1;
        passing += c.passage ? 1 : 0;
        missing += c.passage && !c.passage->hole ? 1 : 0;
    }
    const auto sentence = [](std::string text) {
        text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
        return QString::fromStdString(text) + ".";
    };
    if (conflicts.size() == 1 && conflicts[0].passage)
        words << sentence(clash::inWords(*conflicts[0].passage));
    else if (passing > 0)
        words << sentence(counted(passing, "passes", "pass") + " through, " + std::to_string(missing) +
                          " without a hole near by, " + std::to_string(passing - missing) + " beside one");
    if (untold > 0)
        words << (conflicts.size() == 1
                      ? QString("The space both take can not be shown: one of them is no closed body, or too finely "
                                "divided.")
                      : sentence(counted(untold, "pair takes", "pairs take") +
                                 " space that can not be shown: a body is open or too finely divided"));
    return words.join(" ");
}

} // namespace wendrix::app
