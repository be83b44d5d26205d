#pragma once

#include "core/view/measure.h"

#include <QPointF>

class QPainter;

namespace wendrix::app {

/// A sign for each kind of hold, so that one knows what is held before clicking.
void paintSnap(QPainter& painter, QPointF at, view::SnapKind kind);

} // namespace wendrix::app
