#include "scene/cut_tool.h"

#include "shell/theme.h"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace wendrix::app {

using geometry::Plane;

namespace {

constexpr double kKnobPixels = 9, kRoundSelectionMetres = 0.25;

double& side(Box3& box, int axis, int which)
{
    Point3& corner = which == 0 ? box.min : box.max;
    return axis == 0 ? corner.x : axis == 1 ? corner.y : corner.z;
}

} // namespace

std::vector<CutTool::Face> CutTool::faces() const
{
    std::vector<Face> all;
    const view::Cuts& cuts = scene_.cuts();
    for (int i = 0; i < static_cast<int>(cuts.planes.size()); ++i)
        all.push_back({cuts.planes[static_cast<std::size_t>(i)], -1, 0, i});
    if (cuts.box)
        for (int axis = 0; axis < 3; ++axis)
            for (int which = 0; which < 2; ++which) {
                const double sign = which == 0 ? -1 : 1;
                Point3 at = cuts.box->centre();
                const double place = which == 0 ? cuts.box->min[axis] : cuts.box->max[axis];
                (axis == 0 ? at.x : axis == 1 ? at.y : at.z) = place;
                all.push_back(
                    {{at, {axis == 0 ? sign : 0, axis == 1 ? sign : 0, axis == 2 ? sign : 0}}, axis, which, -1});
            }
    return all;
}

Point3 CutTool::middleOf(const Face& face) const
{
    if (face.boxAxis >= 0)
        return face.plane.at;
    const Point3 middle = scene_.document().bounds().isEmpty() ? face.plane.at : scene_.document().bounds().centre();
    return middle - face.plane.distance(middle) * face.plane.normal;
}

QPoint CutTool::knobOf(int face) const
{
    const auto all = faces();
    if (face < 0 || face >= static_cast<int>(all.size()))
        return {};
    const auto s = view::project(scene_.camera(), scene_.viewport(), middleOf(all[static_cast<std::size_t>(face)]));
    return {static_cast<int>(std::lround(s.x)), static_cast<int>(std::lround(s.y))};
}

void CutTool::put(const view::Cuts& cuts, int inHand)
{
    inHand_ = inHand;
    scene_.setCuts(cuts);
    emit changed();
}

void CutTool::want(Wanted wanted)
{
    wanted_ = wanted;
    places_.clear();
    emit changed();
}

void CutTool::add(const Plane& plane)
{
    view::Cuts cuts = scene_.cuts();
    if (const auto done = cuts.add(plane); !done) {
        emit said(QString::fromStdString(done.error().message));
        return;
    }
    wanted_ = Wanted::Nothing;
    places_.clear();
    put(cuts, static_cast<int>(cuts.planes.size()) - 1);
}

void CutTool::cutAcross(int axis)
{
    if (!scene_.document().bounds().isEmpty())
        add(view::planeAcross(axis, scene_.document().bounds().centre()[axis], -scene_.camera().forward()));
}

void CutTool::boxAroundSelection()
{
    Box3 box;
    for (const view::ElementKey& key : scene_.display().selected)
        box.add(view::boundsOf(scene_.members(), key));
    if (box.isEmpty()) {
        emit said("Select what the box is to stand around first.");
        return;
    }
    view::Cuts cuts = scene_.cuts();
    cuts.box = box.grownBy(kRoundSelectionMetres);
    if (cuts.planes.size() > 2) {
        emit said("Beside a box two planes are as many as can be shown; the others ended.");
        cuts.planes.resize(2);
    }
    put(cuts, static_cast<int>(cuts.planes.size()) + 5);
}

void CutTool::turnOver()
{
    const auto all = faces();
    if (inHand_ < 0 || inHand_ >= static_cast<int>(all.size()) || all[static_cast<std::size_t>(inHand_)].index < 0)
        return;
    view::Cuts cuts = scene_.cuts();
    Plane& plane = cuts.planes[static_cast<std::size_t>(all[static_cast<std::size_t>(inHand_)].index)];
    plane.normal = -plane.normal;
    put(cuts, inHand_);
}

void CutTool::endInHand()
{
    const auto all = faces();
    if (inHand_ < 0 || inHand_ >= static_cast<int>(all.size()))
        return;
    view::Cuts cuts = scene_.cuts();
    const Face& face = all[static_cast<std::size_t>(inHand_)];
    if (face.boxAxis >= 0)
        cuts.box.reset();
    else
        cuts.planes.erase(cuts.planes.begin() + face.index);
    put(cuts, -1);
}

void CutTool::endAll()
{
    want(Wanted::Nothing);
    put({}, -1);
}

std::optional<double> CutTool::position() const
{
    const auto all = faces();
    if (inHand_ < 0 || inHand_ >= static_cast<int>(all.size()))
        return {};
    const Plane& plane = all[static_cast<std::size_t>(inHand_)].plane;
    // Along the axis upwards, not along the normal, where it stands across one: the number on the drawing.
    const double along = dot(plane.at, plane.normal);
    const Vector3 n = plane.normal;
    return std::min({n.x, n.y, n.z}) < -0.999 ? -along : along;
}

void CutTool::setPosition(double metres)
{
    const auto now = position();
    if (!now)
        return;
    const Vector3 n = faces()[static_cast<std::size_t>(inHand_)].plane.normal;
    move(std::min({n.x, n.y, n.z}) < -0.999 ? *now - metres : metres - *now);
}

void CutTool::move(double metres)
{
    const Face face = faces()[static_cast<std::size_t>(inHand_)];
    view::Cuts cuts = scene_.cuts();
    if (face.boxAxis >= 0) {
        constexpr double kThinnest = 0.01;
        double& place = side(*cuts.box, face.boxAxis, face.boxSide);
        const double other = side(*cuts.box, face.boxAxis, 1 - face.boxSide);
        place += face.boxSide == 0 ? -metres : metres;
        place = face.boxSide == 0 ? std::min(place, other - kThinnest) : std::max(place, other + kThinnest);
    } else {
        Plane& plane = cuts.planes[static_cast<std::size_t>(face.index)];
        plane.at = plane.at + metres * plane.normal;
    }
    put(cuts, inHand_);
}

bool CutTool::click(QMouseEvent& event)
{
    if (wanted_ == Wanted::Nothing)
        return false;
    if (wanted_ == Wanted::Face) {
        if (const auto picked = scene_.pickAt(event.position()))
            add({picked->place, picked->normal});
        return true;
    }
    if (const auto snap = scene_.snapAt(event.position()))
        places_.push_back(snap->picked.place);
    if (places_.size() == 3) {
        if (const auto plane = view::planeThrough(places_[0], places_[1], places_[2], -scene_.camera().forward())) {
            add(*plane);
        } else {
            places_.clear();
            emit said("The three places lie on one line; take hold of three others.");
        }
    }
    emit changed();
    return true;
}

bool CutTool::grab(QMouseEvent& event)
{
    const auto all = faces();
    for (int i = 0; i < static_cast<int>(all.size()) && wanted_ == Wanted::Nothing; ++i)
        if ((QPointF(knobOf(i)) - event.position()).manhattanLength() < 1.6 * kKnobPixels) {
            inHand_ = i;
            last_ = event.position();
            emit changed();
            return true;
        }
    return false;
}

void CutTool::drag(QMouseEvent& event)
{
    const Face face = faces()[static_cast<std::size_t>(inHand_)];
    const Point3 at = middleOf(face);
    const auto a = view::project(scene_.camera(), scene_.viewport(), at);
    const auto b = view::project(scene_.camera(), scene_.viewport(), at + face.plane.normal);
    const QPointF way(b.x - a.x, b.y - a.y), d = event.position() - last_;
    const double pixels = QPointF::dotProduct(way, way);
    if (pixels < 1) // looked at from straight ahead: up is away
        move(-d.y() * 2 * scene_.camera().halfHeight(a.depth) / std::max(1, scene_.height()));
    else
        move(QPointF::dotProduct(d, way) / pixels);
    last_ = event.position();
}

QString CutTool::hint() const
{
    if (wanted_ == Wanted::Face)
        return "Click the face to cut along";
    if (wanted_ == Wanted::ThreePlaces)
        return QString("Take hold of three places, %1 so far").arg(places_.size());
    return faces().empty() ? "Choose how to cut; the ladder on the right cuts to storeys"
                           : "Drag a knob, or type where the cut stands";
}

void CutTool::paint(QPainter& painter)
{
    const auto all = faces();
    for (int i = 0; i < static_cast<int>(all.size()); ++i) {
        const Face& face = all[static_cast<std::size_t>(i)];
        const Point3 at = middleOf(face);
        const auto a = view::project(scene_.camera(), scene_.viewport(), at);
        const auto b = view::project(scene_.camera(), scene_.viewport(), at + face.plane.normal);
        if (!a.isInFront)
            continue;
        const QPointF p(a.x, a.y);
        QPointF way(b.x - a.x, b.y - a.y);
        const double l = std::hypot(way.x(), way.y());
        way = l > 1e-3 ? way / l : QPointF(0, -1);
        const QColor colour = i == inHand_ ? theme::kAction : theme::kFocus;
        painter.setPen(QPen(colour, 2));
        for (const double s : {-1.0, 1.0}) {
            const QPointF tip = p + s * 22 * way, n(-way.y(), way.x());
            painter.drawLine(p + s * kKnobPixels * way, tip);
            painter.drawLine(tip, tip - s * 6 * way + 4 * n);
            painter.drawLine(tip, tip - s * 6 * way - 4 * n);
        }
        painter.setBrush(theme::kPanel);
        painter.drawEllipse(p, kKnobPixels, kKnobPixels);
        painter.setBrush(colour);
        painter.drawEllipse(p, 3, 3);
    }
    painter.setPen(QPen(theme::kAction, 2));
    for (const Point3 place : places_) {
        const auto s = view::project(scene_.camera(), scene_.viewport(), place);
        painter.drawEllipse(QPointF(s.x, s.y), 4, 4);
    }
}

} // namespace wendrix::app
