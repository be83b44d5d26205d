#include "issues/issue_signs.h"

#include "shell/theme.h"

#include <QMouseEvent>

#include <algorithm>
#include <cmath>

namespace wendrix::app {

namespace {

constexpr double kApart = 34; // pixels between signs
constexpr double kReach = 14; // pixels about a sign that are it

/// As much of a status as a small disc can say: the sign in it, and its colours.
view::Marker signOf(const issues::Status& status, Point3 place)
{
    view::Marker m{place, "", toColour(theme::kPanel), toColour(theme::kInk)};
    switch (status.shape) {
    case issues::StatusShape::Half:
        m.text = "–";
        m.fill = toColour(theme::kOverlap);
        break;
    case issues::StatusShape::Full:
        m.text = "•";
        m.fill = toColour(theme::kInk);
        m.ink = toColour(theme::kPanel);
        break;
    case issues::StatusShape::Ticked:
        m.text = "✓";
        m.ink = toColour(theme::kFocus);
        break;
    case issues::StatusShape::Broken:
        m.text = "↩";
        m.fill = toColour(theme::kAction);
        m.ink = toColour(theme::kPanel);
        break;
    default:
        m.text = " ";
        break;
    }
    return m;
}

} // namespace

IssueSigns::IssueSigns(const StageContext& context, QObject* parent) : QObject(parent), at_(context)
{
    connect(&at_.scene, &SceneView::viewRested, this, &IssueSigns::put);
    connect(&at_.session, &Session::workspaceChanged, this, &IssueSigns::findPlaces);
    at_.scene.installEventFilter(this);
}

void IssueSigns::setList(std::shared_ptr<const project::IssueList> list)
{
    list_ = std::move(list);
    findPlaces();
}

void IssueSigns::findPlaces()
{
    if (list_ == nullptr || !at_.session.hasProject())
        return;
    struct Found {
        std::vector<Point3> places;
        std::vector<std::size_t> issues;
    };
    at_.session.ask<Found>(
        this, "signs",
        [list = list_, members = at_.scene.members()](const project::Project& p) {
            Found found;
            const auto elements = orNothing(p.issues().elements());
            for (const auto& [status, issues] : list->byStatus())
                for (const std::size_t issue : issues) {
                    const auto own = elements.find(list->issues()[issue].uuid);
                    Box3 box;
                    for (const ElementRef& ref : own == elements.end() ? std::vector<ElementRef>{} : own->second)
                        if (const auto key = view::find(members, ref))
                            box.add(view::boundsOf(members, *key));
                    if (box.isEmpty())
                        continue;
                    found.places.push_back(box.centre());
                    found.issues.push_back(issue);
                }
            return found;
        },
        [this, list = list_](Found found) {
            placed_ = list; // by now there may be another
            places_ = std::move(found.places);
            issues_ = std::move(found.issues);
            put();
        });
}

void IssueSigns::setShown(bool isShown)
{
    isShown_ = isShown;
    if (isShown)
        put();
}

void IssueSigns::put()
{
    if (!isShown_)
        return;
    clusters_ = view::clustersOf(places_, at_.scene.camera(), at_.scene.viewport(), kApart);
    view::Subject subject = at_.scene.document().subject();
    subject.markers.clear();
    for (const view::Cluster& c : clusters_) {
        if (c.of.size() == 1) {
            view::Marker sign = signOf(placed_->rowOfIssue(issues_[c.of[0]]).status, c.place);
            sign.isRaised = true;
            subject.markers.push_back(std::move(sign));
        } else {
            subject.markers.push_back(
                {c.place, std::to_string(c.of.size()), toColour(theme::kPetrol), toColour(theme::kPanel), false, true});
        }
    }
    if (subject.markers != at_.scene.document().subject().markers)
        at_.scene.change([&](view::Scene& scene) { scene.show(std::move(subject)); });
}

bool IssueSigns::eventFilter(QObject* watched, QEvent* event)
{
    if (!isShown_ || watched != &at_.scene || at_.scene.tool() != nullptr)
        return false;
    if (event->type() == QEvent::MouseButtonPress)
        pressed_ = static_cast<QMouseEvent*>(event)->pos();
    if (event->type() != QEvent::MouseButtonRelease)
        return false;
    const auto* mouse = static_cast<QMouseEvent*>(event);
    if (mouse->button() != Qt::LeftButton || (mouse->pos() - pressed_).manhattanLength() > 4)
        return false;
    constexpr double kRaised = 22; // pixels that a raised sign stands above its place
    for (const view::Cluster& c : clusters_) {
        const view::ScreenPlace at = view::project(at_.scene.camera(), at_.scene.viewport(), c.place);
        const double dx = at.x - mouse->pos().x(), dy = at.y - mouse->pos().y();
        if (!at.isInFront || std::min(std::hypot(dx, dy), std::hypot(dx, dy - kRaised)) > kReach)
            continue;
        if (c.of.size() == 1) {
            emit chosen(q(placed_->issues()[issues_[c.of[0]]].uuid));
        } else {
            Box3 box;
            for (const std::uint32_t place : c.of)
                box.add(places_[place]);
            at_.scene.setCamera(view::fitted(at_.scene.camera(), box.grownBy(1), at_.scene.viewport().aspect()), true);
        }
        break;
    }
    return false;
}

} // namespace wendrix::app
