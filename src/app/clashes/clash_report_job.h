#pragma once

#include "clashes/clash_view.h"
#include "core/project/clash_report.h"
#include "shell/report_job.h"
#include "shell/stage.h"

namespace wendrix::app {

/// A picture of pairs among the members of now, with what explains them.
/// @param grid  of the storey they are on
[[nodiscard]] PictureWork pictureOf(const StageContext& at, std::vector<project::Pair> pairs,
                                    std::vector<view::GridLine> grid);

/// Writes the report of a list with a picture of each group, as HTML or PDF by the file's ending, beside the interface
/// thread; says when it is there.
/// @param gridOn  the grid of a storey
void writeClashReport(const StageContext& at, QObject* stage, project::ClashReport report, const QString& file,
                      const std::function<std::vector<view::GridLine>(const QString&)>& gridOn);

} // namespace wendrix::app
