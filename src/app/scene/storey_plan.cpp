#include "scene/storey_plan.h"

#include "core/view/cut_faces.h"
#include "shell/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace wendrix::app {

namespace {

constexpr int kWidth = 150, kHeight = 116, kTitle = 18, kMargin = 7, kReadyMilliseconds = 20;
constexpr double kCutAboveFloor = 1.2; // metres: through windows, as plans are drawn
constexpr double kLeastMark = 7;       // pixels

/// The extent laid into a rectangle, as large as it goes.
struct Laid {
    Laid(const Box3& extent, const QRectF& room)
    {
        const Vector3 size = extent.size();
        scale = std::min(room.width() / std::max(size.x, 0.1), room.height() / std::max(size.y, 0.1));
        origin = {room.center().x() - scale * (extent.min.x + extent.max.x) / 2,
                  room.center().y() + scale * (extent.min.y + extent.max.y) / 2};
    }
    [[nodiscard]] QPointF pixelOf(const Point3& p) const
    {
        return {origin.x() + scale * p.x, origin.y() - scale * p.y};
    }
    double scale = 1;
    QPointF origin;
};

} // namespace

StoreyPlan::StoreyPlan(QWidget* parent) : QWidget(parent)
{
    setObjectName("storeyPlan");
    setFixedSize(kWidth, kHeight);
    setAttribute(Qt::WA_TransparentForMouseEvents);
    hide();
    ready_.setInterval(kReadyMilliseconds);
    connect(&ready_, &QTimer::timeout, this, [this] {
        if (!drawingToBe_.isReady())
            return;
        ready_.stop();
        drawing_ = drawingToBe_.take();
        update();
    });
}

QRectF StoreyPlan::room() const { return QRectF(rect()).adjusted(kMargin, kTitle + 2, -kMargin, -kMargin); }

QPointF StoreyPlan::pixelOf(const Point3& place) const { return Laid(extent_, room()).pixelOf(place); }

void StoreyPlan::setStorey(std::optional<Storey> storey)
{
    const bool isSame = storey && storey_ && storey->member.geometry == storey_->member.geometry &&
                        storey->member.fit.transform() == storey_->member.fit.transform() &&
                        storey->height == storey_->height;
    storey_ = std::move(storey);
    if (isSame || !storey_) {
        update();
        return;
    }
    drawing_ = {};
    extent_ = storey_->member.fit.transform().apply(storey_->member.geometry->bounds());
    drawingToBe_.begin([member = storey_->member, extent = extent_, room = room(), height = storey_->height,
                        pixels = size() * devicePixelRatioF(), ratio = devicePixelRatioF()] {
        const std::vector<federation::Member> members{member};
        const auto colours = view::coloursOf({}, members, std::vector<view::MemberLook>(1));
        const view::CutFaces cut = view::cutFaces(members, colours, {{0, 0, height + kCutAboveFloor}, {0, 0, 1}});
        QImage image(pixels, QImage::Format_ARGB32_Premultiplied);
        image.setDevicePixelRatio(ratio);
        image.fill(Qt::transparent);
        QPainter painter(&image);
        painter.setRenderHint(QPainter::Antialiasing);
        const Laid laid(extent, room);
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(0xC9, 0xC2, 0xB4));
        for (std::size_t t = 0; t < cut.fill.triangles.size(); ++t) {
            const auto c = cut.fill.corners(t);
            painter.drawPolygon(QPolygonF({laid.pixelOf(c[0]), laid.pixelOf(c[1]), laid.pixelOf(c[2])}));
        }
        painter.setPen(QPen(QColor(0x8D, 0x8A, 0x80), 0.8));
        for (const auto& [a, b] : cut.outlines)
            painter.drawLine(laid.pixelOf(a), laid.pixelOf(b));
        return image;
    });
    ready_.start();
    update();
}

void StoreyPlan::setPlace(const std::optional<Box3>& place, const view::Camera& camera)
{
    place_ = place;
    camera_ = camera;
    setVisible(place_ && storey_);
    update();
}

void StoreyPlan::paintEvent(QPaintEvent*)
{
    if (!storey_ || !place_)
        return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(theme::kLine);
    p.setBrush(QColor(255, 255, 255, 235));
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    p.setPen(theme::kInk);
    p.setFont(theme::font(11, 600));
    p.drawText(QRect(kMargin, 3, width() - 2 * kMargin, kTitle - 2), Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(storey_->name, Qt::ElideRight, width() - 2 * kMargin));
    if (drawing_.isNull()) {
        p.setPen(QPen(theme::kLine, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(pixelOf(extent_.min), pixelOf(extent_.max)).normalized());
    } else {
        p.drawImage(QPointF(0, 0), drawing_);
    }
    // From where one looks: an arrow that ends at the place.
    const QPointF at = pixelOf(place_->centre());
    const Vector3 forward = camera_.forward();
    if (const double level = std::hypot(forward.x, forward.y); level > 0.05) {
        const QPointF along(forward.x / level, -forward.y / level), aside(-along.y(), along.x());
        QPainterPath wedge(at - 4 * along);
        wedge.lineTo(at - 30 * along + 11 * aside);
        wedge.lineTo(at - 30 * along - 11 * aside);
        wedge.closeSubpath();
        p.setPen(Qt::NoPen);
        p.setBrush(QColor(0x2B, 0x7A, 0x84, 90));
        p.setClipRect(rect().adjusted(1, kTitle, -1, -1));
        p.drawPath(wedge);
        p.setClipping(false);
    }
    QRectF mark = QRectF(pixelOf(place_->min), pixelOf(place_->max)).normalized();
    const double wide = std::max(kLeastMark, mark.width()), high = std::max(kLeastMark, mark.height());
    mark = QRectF(mark.center().x() - wide / 2, mark.center().y() - high / 2, wide, high);
    p.setPen(QPen(theme::kInk, 1.2));
    p.setBrush(theme::kOverlap);
    p.drawRoundedRect(mark, 2, 2);
}

} // namespace wendrix::app
