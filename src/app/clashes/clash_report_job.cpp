#include "clashes/clash_report_job.h"

#include "core/base/file.h"
#include "core/base/text.h"
#include "shell/page_export.h"

#include <algorithm>
#include <future>

namespace wendrix::app {

namespace {

constexpr QSize kPicture{720, 440};
constexpr std::size_t kMostShown = 2'000; // pairs that a view can still tell apart

/// Waits for a picture that the interface thread takes; nothing where that will not come any more.
std::optional<QImage> awaited(std::future<QImage>& picture, const Progress& progress)
{
    constexpr auto kPatience = std::chrono::milliseconds(20);
    // Who closes the window waits for its jobs, and takes no pictures meanwhile.
    while (picture.wait_for(kPatience) != std::future_status::ready)
        if (progress.isCancelled())
            return {};
    try {
        return picture.get();
    } catch (const std::future_error&) { // the stage is gone
        return {};
    }
}

} // namespace

std::vector<QImage> takePictures(const StageContext& at, const QPointer<QObject>& stage,
                                 const std::vector<PictureOrder>& orders, const std::string& what, Progress& progress)
{
    std::vector<QImage> pictures;
    for (const PictureOrder& order : orders) {
        progress.report(what, pictures.size(), orders.size(), "pictures");
        const auto conflicts = conflictsOf(order.conflicts, [&] { return progress.isCancelled(); });
        auto taken = std::make_shared<std::promise<QImage>>();
        auto future = taken->get_future();
        // The session is there as long as its jobs are; the window may be closed meanwhile.
        QMetaObject::invokeMethod(
            &at.session,
            [at, stage, order, conflicts, taken = std::move(taken)] {
                if (stage.isNull())
                    return;
                ClashView view = viewOf(at.scene, order.pairs, order.grid);
                const view::Camera camera =
                    cameraFor(at.scene, view, static_cast<double>(kPicture.width()) / kPicture.height());
                view::Illustration with = illustrationOf(at.scene, view, conflicts, camera.eye - camera.target);
                taken->set_value(at.scene.pictureOf(std::move(view.subject), std::move(with), camera, kPicture));
            },
            Qt::QueuedConnection);
        auto picture = awaited(future, progress);
        if (!picture)
            break;
        pictures.push_back(std::move(*picture));
    }
    return pictures;
}

void writeClashReport(const StageContext& at, QObject* stage, project::ClashReport report, const QString& file,
                      const std::function<std::vector<view::GridLine>(const QString&)>& gridOn)
{
    std::vector<PictureOrder> orders;
    for (const project::ClashReport::Group& group : report.groups) {
        PictureOrder order{group.pairs, {}, gridOn(q(group.pairs[0].storey))};
        order.pairs.resize(std::min(order.pairs.size(), kMostShown));
        order.conflicts = orderFor(at.scene, order.pairs);
        orders.push_back(std::move(order));
    }
    at.session.run(Jobs::Lane::Reporting, "Writing the report",
                   [at, stage = QPointer<QObject>(stage), report = std::move(report), orders = std::move(orders),
                    file](Progress& progress) -> Jobs::Finish {
                       const std::vector<QImage> pictures =
                           takePictures(at, stage, orders, "Writing the report", progress);
                       if (pictures.size() < orders.size())
                           return [at] { at.session.say("The report was cancelled; nothing was written."); };
                       project::ClashReport whole = report;
                       const bool isPdf = file.endsWith(".pdf", Qt::CaseInsensitive);
                       QMap<QString, QImage> images;
                       for (std::size_t i = 0; i < pictures.size(); ++i) {
                           const QString name = "picture" + QString::number(i);
                           images.insert(name, pictures[i]);
                           whole.groups[i].picture =
                               isPdf ? name.toStdString()
                                     : "data:image/png;base64," +
                                           QByteArray::fromStdString(pngOf(pictures[i])).toBase64().toStdString();
                       }
                       const std::string html = project::toHtml(whole);
                       const auto written = writeFileWhole(
                           file.toStdString(),
                           isPdf ? pdfOf("Clashes " + q(whole.project), QString::fromStdString(html), images) : html);
                       return [at, file, written, groups = pictures.size()] {
                           if (!written)
                               return at.session.fail(written.error());
                           at.session.say(q(counted(groups, "group", "groups")) + " written: " + file);
                       };
                   });
}

} // namespace wendrix::app
