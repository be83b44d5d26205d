#include "scene/snap_sign.h"

#include "shell/theme.h"

#include <QPainter>
#include <QPolygonF>

namespace wendrix::app {

using view::SnapKind;

void paintSnap(QPainter& painter, QPointF at, SnapKind kind)
{
    painter.setPen(QPen(theme::kAction, 2));
    painter.setBrush(Qt::NoBrush);
    switch (kind) {
    case SnapKind::Corner:
        painter.drawRect(QRectF(at.x() - 5, at.y() - 5, 10, 10));
        break;
    case SnapKind::Midpoint:
        painter.drawPolygon(QPolygonF({at + QPointF(0, -6), at + QPointF(6, 5), at + QPointF(-6, 5)}));
        break;
    case SnapKind::CentreLine:
        painter.drawLine(at - QPointF(7, 0), at + QPointF(7, 0));
        painter.drawLine(at - QPointF(0, 7), at + QPointF(0, 7));
        break;
    case SnapKind::Edge:
        painter.drawLine(at + QPointF(-5, -5), at + QPointF(5, 5));
        painter.drawLine(at + QPointF(-5, 5), at + QPointF(5, -5));
        break;
    case SnapKind::Face:
        painter.drawEllipse(at, 5, 5);
        break;
    }
}

} // namespace wendrix::app
