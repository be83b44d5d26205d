#pragma once

#include "shell/session.h"

#include <QImage>
#include <QPointer>

#include <functional>
#include <string>
#include <vector>

namespace wendrix::app {

/// What one picture shows is worked out on a job's thread; what that gives draws it on the interface thread.
using PictureWork = std::function<std::function<QImage()>(const Progress&)>;
inline constexpr QSize kReportPicture{720, 440};

/// Takes pictures from a job's thread, one after the other between what else the window does.
/// @param owner  while it is there, what draws is
/// @return as many as were taken until the job was cancelled or the owner was gone
[[nodiscard]] std::vector<QImage> takePictures(Session& session, const QPointer<QObject>& owner,
                                               const std::vector<PictureWork>& pictures, const std::string& what,
                                               Progress& progress);

/// A report with pictures, as HTML or PDF by the file's ending.
struct ReportOrder {
    QString title, file, written; ///< written: what to say when it is there
    std::vector<PictureWork> pictures;
    /// The page with these in its img elements; one of each picture.
    std::function<std::string(const std::vector<std::string>& pictures)> html;
};
/// Writes it beside the interface thread; says when it is there.
void writeReport(Session& session, QObject* owner, ReportOrder order);

} // namespace wendrix::app
