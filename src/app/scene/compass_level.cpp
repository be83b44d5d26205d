#include "scene/compass_level.h"

#include "shell/theme.h"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace wendrix::app {

namespace {

constexpr int kWidth = 104, kHeight = 104, kRing = 30, kScaleX = 90, kScaleTop = 12, kScaleBottom = 70;
const QPointF kMiddle(40, 41);
const QRectF kWords(6, 84, 92, 17);

/// Clockwise from north, the way one looks.
double azimuthOf(const view::Camera& camera)
{
    const Vector3 f = camera.forward();
    return std::atan2(f.x, f.y);
}

double elevationOf(const view::Camera& camera) { return std::asin(std::clamp(-camera.forward().z, -1.0, 1.0)); }

Vector3 fromSide(double azimuth, double elevation)
{
    const double c = std::cos(elevation);
    return {-std::sin(azimuth) * c, -std::cos(azimuth) * c, std::sin(elevation)};
}

} // namespace

CompassLevel::CompassLevel(QWidget* parent) : QWidget(parent)
{
    setObjectName("compass");
    setFixedSize(kWidth, kHeight);
    setCursor(Qt::PointingHandCursor);
    setToolTip("The side one looks from (N, E, S, W), how steeply, and whether far things look smaller");
}

void CompassLevel::setCamera(const view::Camera& camera)
{
    camera_ = camera;
    update();
}

QPoint CompassLevel::placeOf(char what) const
{
    const std::string sides = "NESW";
    if (const auto side = sides.find(what); side != std::string::npos) {
        // North lies ahead when one looks north.
        const double a = static_cast<double>(side) * M_PI / 2 - azimuthOf(camera_);
        return (kMiddle + kRing * QPointF(std::sin(a), -std::cos(a))).toPoint();
    }
    if (what == 'P')
        return kWords.center().toPoint();
    return {kScaleX, what == 'A' ? kScaleTop : what == 'B' ? kScaleBottom : (kScaleTop + kScaleBottom) / 2};
}

void CompassLevel::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme::kLine, 1));
    painter.setBrush(QColor(255, 255, 255, 225));
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    painter.setPen(QPen(theme::kSoftInk, 1.2));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(kMiddle, kRing, kRing);
    // The way one looks: up on the paper.
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::kFocus);
    painter.drawPolygon(QPolygonF(
        {kMiddle + QPointF(0, -13), kMiddle + QPointF(6, 8), kMiddle + QPointF(0, 4), kMiddle + QPointF(-6, 8)}));
    painter.setFont(theme::font(11, 700));
    for (const char side : {'N', 'E', 'S', 'W'}) {
        const QPointF at = placeOf(side);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::kPanel);
        painter.drawEllipse(at, 8, 8);
        painter.setPen(side == 'N' ? theme::kAction : theme::kInk);
        painter.drawText(QRectF(at.x() - 8, at.y() - 8, 16, 16), Qt::AlignCenter, QString(QChar(side)));
    }
    painter.setPen(QPen(theme::kSoftInk, 1.2));
    painter.drawLine(kScaleX, kScaleTop, kScaleX, kScaleBottom);
    for (const char rung : {'A', 'L', 'B'})
        painter.drawLine(placeOf(rung) - QPoint(4, 0), placeOf(rung) + QPoint(4, 0));
    const double share = (M_PI / 2 - elevationOf(camera_)) / M_PI;
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::kFocus);
    painter.drawEllipse(QPointF(kScaleX, kScaleTop + share * (kScaleBottom - kScaleTop)), 4.5, 4.5);
    painter.setPen(theme::kInk);
    painter.setFont(theme::font(11, 600));
    painter.drawText(kWords, Qt::AlignCenter, camera_.isParallel ? "parallel" : "perspective");
}

void CompassLevel::mousePressEvent(QMouseEvent* event)
{
    const QPointF at = event->position();
    const auto isNear = [&](char what) { return (at - QPointF(placeOf(what))).manhattanLength() < 13; };
    isDragging_ = false;
    if (kWords.contains(at)) {
        emit parallelChosen(!camera_.isParallel);
        return;
    }
    const std::string sides = "NESW";
    for (std::size_t i = 0; i < sides.size(); ++i)
        if (isNear(sides[i])) { // one looks from there: towards the other side
            emit sideChosen(fromSide((static_cast<double>(i) + 2) * M_PI / 2,
                                     std::max(0.0, elevationOf(camera_)) > 1.2 ? 0.3 : elevationOf(camera_)));
            return;
        }
    for (const auto& [rung, elevation] : {std::pair{'A', M_PI / 2}, std::pair{'L', 0.0}, std::pair{'B', -M_PI / 2}})
        if (isNear(rung)) {
            emit sideChosen(fromSide(azimuthOf(camera_), elevation));
            return;
        }
    isDragging_ = true;
    draggedFrom_ = std::atan2(at.x() - kMiddle.x(), kMiddle.y() - at.y());
}

void CompassLevel::mouseMoveEvent(QMouseEvent* event)
{
    if (!isDragging_)
        return;
    const double now = std::atan2(event->position().x() - kMiddle.x(), kMiddle.y() - event->position().y());
    emit sideChosen(fromSide(azimuthOf(camera_) - (now - draggedFrom_), elevationOf(camera_)));
    draggedFrom_ = now;
}

} // namespace wendrix::app
