#include "deliveries/page_area.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <cmath>

namespace wendrix::app {

namespace {

constexpr double kNearest = 24, kNotch = 1.25;
constexpr int kMargin = 8, kRest = 120; // pixels; milliseconds without a change before more detail is asked for

} // namespace

PageArea::PageArea(QWidget* parent) : QWidget(parent)
{
    setMinimumSize(50, 50);
    setCursor(Qt::OpenHandCursor);
    rest_.setSingleShot(true);
    rest_.setInterval(kRest);
    connect(&rest_, &QTimer::timeout, this, [this] {
        const QRectF page = pageRect();
        const double longSide = std::max(page.width(), page.height()) * devicePixelRatioF();
        if (hasPage() && longSide > std::max(whole_.width(), whole_.height()))
            emit detailWanted(part(), static_cast<int>(std::lround(longSide)));
    });
}

void PageArea::setPage(const QPixmap& whole)
{
    whole_ = whole;
    smaller_ = detail_ = {};
    changed();
}

void PageArea::setDetail(const QPixmap& pixels, const QRectF& part)
{
    detail_ = pixels;
    detailPart_ = part;
    update();
}

QRectF PageArea::pageRect() const
{
    const QSizeF room(std::max(1, width() - 2 * kMargin), std::max(1, height() - 2 * kMargin));
    const QSizeF size = QSizeF(whole_.size()).scaled(room, Qt::KeepAspectRatio) * zoom_;
    return {QRectF(rect()).center() - QPointF(centre_.x() * size.width(), centre_.y() * size.height()), size};
}

QRectF PageArea::part() const
{
    const QRectF page = pageRect(), seen = page.intersected(rect());
    if (seen.isEmpty())
        return {};
    return {(seen.left() - page.left()) / page.width(), (seen.top() - page.top()) / page.height(),
            seen.width() / page.width(), seen.height() / page.height()};
}

void PageArea::zoomBy(double factor, QPointF at)
{
    const QRectF before = pageRect();
    const double next = std::clamp(zoom_ * factor, 1.0, kNearest);
    if (next == zoom_ || before.isEmpty())
        return;
    const QPointF held((at.x() - before.left()) / before.width(), (at.y() - before.top()) / before.height());
    zoom_ = next;
    const QSizeF size = pageRect().size();
    const QPointF off = at - QRectF(rect()).center();
    centre_ = held - QPointF(off.x() / size.width(), off.y() / size.height());
    changed();
}

void PageArea::fit()
{
    zoom_ = 1;
    changed();
}

/// What is larger than the room fills it; what is smaller stands in its middle.
void PageArea::clampCentre()
{
    const QSizeF size = pageRect().size();
    const auto clamped = [](double centre, double length, double room) {
        const double half = length > 0 ? room / 2 / length : 0.5;
        return half >= 0.5 ? 0.5 : std::clamp(centre, half, 1 - half);
    };
    centre_ = {clamped(centre_.x(), size.width(), width() - 2 * kMargin),
               clamped(centre_.y(), size.height(), height() - 2 * kMargin)};
}

void PageArea::changed()
{
    clampCentre();
    update();
    rest_.start();
}

void PageArea::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.fillRect(rect(), QColor(0xE9, 0xE5, 0xDA));
    if (!hasPage())
        return;
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRectF page = pageRect();
    // Thin lines of a drawing live or die by how it is made smaller; a painter's own way drops them.
    const QSize pixels = (page.size() * devicePixelRatioF()).toSize();
    if (pixels.width() < whole_.width() && smaller_.size() != pixels)
        smaller_ = whole_.scaled(pixels, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    const QPixmap& shown = pixels.width() < whole_.width() ? smaller_ : whole_;
    p.drawPixmap(page, shown, QRectF(shown.rect()));
    if (!detail_.isNull() && zoom_ > 1)
        p.drawPixmap(QRectF(page.left() + detailPart_.left() * page.width(),
                            page.top() + detailPart_.top() * page.height(), detailPart_.width() * page.width(),
                            detailPart_.height() * page.height()),
                     detail_, QRectF(detail_.rect()));
}

void PageArea::resizeEvent(QResizeEvent*) { changed(); }

void PageArea::wheelEvent(QWheelEvent* event)
{
    zoomBy(std::pow(kNotch, event->angleDelta().y() / 120.0), event->position());
    event->accept();
}

void PageArea::mousePressEvent(QMouseEvent* event)
{
    draggedFrom_ = event->position();
    setCursor(Qt::ClosedHandCursor);
}

void PageArea::mouseMoveEvent(QMouseEvent* event)
{
    if ((event->buttons() & Qt::LeftButton) == 0 || !hasPage())
        return;
    const QPointF by = event->position() - draggedFrom_;
    draggedFrom_ = event->position();
    const QSizeF size = pageRect().size();
    centre_ -= QPointF(by.x() / size.width(), by.y() / size.height());
    changed();
}

void PageArea::mouseReleaseEvent(QMouseEvent*) { setCursor(Qt::OpenHandCursor); }

} // namespace wendrix::app
