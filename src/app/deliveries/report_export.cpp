#include "deliveries/report_export.h"

#include "core/base/file.h"
#include "shell/page_export.h"

namespace wendrix::app {

Result<QString> writeReport(const checks::DeliveryReport& report, const QString& file)
{
    QString target = file;
    std::string bytes;
    if (file.endsWith(".csv", Qt::CaseInsensitive))
        bytes = checks::toCsv(report);
    else if (file.endsWith(".pdf", Qt::CaseInsensitive))
        bytes = pdfOf("Quality report " + QString::fromStdString(report.delivery),
                      QString::fromStdString(checks::toHtml(report)));
    else
        bytes = checks::toHtml(report);
    if (!file.endsWith(".csv", Qt::CaseInsensitive) && !file.endsWith(".pdf", Qt::CaseInsensitive) &&
        !file.endsWith(".html", Qt::CaseInsensitive))
        target += ".html";
    if (auto written = writeFileWhole(target.toStdString(), bytes); !written)
        return wendrix::fail(written.error());
    return target;
}

} // namespace wendrix::app
