#pragma once

#include "clashes/clash_view.h"
#include "core/project/clash_report.h"
#include "shell/stage.h"

#include <QPointer>

namespace wendrix::app {

/// Pairs that one picture is of.
struct PictureOrder {
    std::vector<project::Pair> pairs;
    ConflictOrder conflicts; ///< of them, among the members of then
    std::vector<view::GridLine> grid;
};
/// Takes pictures from a job's thread: what they show is worked out there, and only drawn on the interface thread, one
/// after the other between what else the window does.
/// @param stage  while it is there, the scene is
/// @return as many as were taken until the job was cancelled or the stage was gone
[[nodiscard]] std::vector<QImage> takePictures(const StageContext& at, const QPointer<QObject>& stage,
                                               const std::vector<PictureOrder>& orders, const std::string& what,
                                               Progress& progress);

/// Writes the report of a list with a picture of each group, as HTML or PDF by the file's ending, beside the interface
/// thread; says when it is there.
/// @param gridOn  the grid of a storey
void writeClashReport(const StageContext& at, QObject* stage, project::ClashReport report, const QString& file,
                      const std::function<std::vector<view::GridLine>(const QString&)>& gridOn);

} // namespace wendrix::app
