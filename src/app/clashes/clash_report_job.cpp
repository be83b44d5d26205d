#include "clashes/clash_report_job.h"

#include "core/base/text.h"

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr std::size_t kMostShown = 2'000; // pairs that a view can still tell apart

} // namespace

PictureWork pictureOf(const StageContext& at, std::vector<project::Pair> pairs, std::vector<view::GridLine> grid)
{
    pairs.resize(std::min(pairs.size(), kMostShown));
    ConflictOrder order = orderFor(at.scene, pairs);
    return [at, pairs = std::move(pairs), grid = std::move(grid),
            order = std::move(order)](const Progress& progress) -> std::function<QImage()> {
        return [at, pairs, grid, conflicts = conflictsOf(order, [&] { return progress.isCancelled(); })] {
            ClashView view = viewOf(at.scene, pairs, grid);
            const view::Camera camera =
                cameraFor(at.scene, view, static_cast<double>(kReportPicture.width()) / kReportPicture.height());
            view::Illustration with = illustrationOf(at.scene, view, conflicts, camera.eye - camera.target);
            return at.scene.pictureOf(std::move(view.subject), std::move(with), camera, kReportPicture);
        };
    };
}

void writeClashReport(const StageContext& at, QObject* stage, project::ClashReport report, const QString& file,
                      const std::function<std::vector<view::GridLine>(const QString&)>& gridOn)
{
    ReportOrder order;
    order.title = "Clashes " + q(report.project);
    order.file = file;
    order.written = q(counted(report.groups.size(), "group", "groups")) + " written: " + file;
    for (const project::ClashReport::Group& group : report.groups)
        order.pictures.push_back(pictureOf(at, group.pairs, gridOn(q(group.pairs[0].storey))));
    order.html = [report = std::move(report)](const std::vector<std::string>& pictures) {
        project::ClashReport whole = report;
        for (std::size_t i = 0; i < pictures.size(); ++i)
            whole.groups[i].picture = pictures[i];
        return project::toHtml(whole);
    };
    writeReport(at.session, stage, std::move(order));
}

} // namespace wendrix::app
