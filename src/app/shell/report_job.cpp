#include "shell/report_job.h"

#include "core/base/file.h"
#include "shell/page_export.h"

#include <chrono>
#include <future>

namespace wendrix::app {

namespace {

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

std::vector<QImage> takePictures(Session& session, const QPointer<QObject>& owner,
                                 const std::vector<PictureWork>& pictures, const std::string& what, Progress& progress)
{
    std::vector<QImage> taken;
    for (const PictureWork& work : pictures) {
        progress.report(what, taken.size(), pictures.size(), "pictures");
        auto promise = std::make_shared<std::promise<QImage>>();
        auto future = promise->get_future();
        // The session is there as long as its jobs are; the window may be closed meanwhile.
        QMetaObject::invokeMethod(
            &session,
            [owner, draw = work(progress), promise = std::move(promise)] {
                if (!owner.isNull())
                    promise->set_value(draw());
            },
            Qt::QueuedConnection);
        auto picture = awaited(future, progress);
        if (!picture)
            break;
        taken.push_back(std::move(*picture));
    }
    return taken;
}

void writeReport(Session& session, QObject* owner, ReportOrder order)
{
    session.run(
        Jobs::Lane::Reporting, "Writing the report",
        [&session, owner = QPointer<QObject>(owner), order = std::move(order)](Progress& progress) -> Jobs::Finish {
            const std::vector<QImage> taken =
                takePictures(session, owner, order.pictures, "Writing the report", progress);
            if (taken.size() < order.pictures.size() || progress.isCancelled())
                return [&session] { session.say("The report was cancelled; nothing was written."); };
            const bool isPdf = order.file.endsWith(".pdf", Qt::CaseInsensitive);
            QMap<QString, QImage> images;
            std::vector<std::string> sources;
            for (std::size_t i = 0; i < taken.size(); ++i) {
                const QString name = "picture" + QString::number(i);
                images.insert(name, taken[i]);
                sources.push_back(isPdf ? name.toStdString()
                                        : "data:image/png;base64," +
                                              QByteArray::fromStdString(pngOf(taken[i])).toBase64().toStdString());
            }
            const std::string html = order.html(sources);
            const auto written = writeFileWhole(
                order.file.toStdString(), isPdf ? pdfOf(order.title, QString::fromStdString(html), images) : html);
            return [&session, written, words = order.written] {
                if (!written)
                    return session.fail(written.error());
                session.say(words);
            };
        });
}

} // namespace wendrix::app
