#include "deliveries/report_export.h"

#include "core/base/file.h"

#include <QBuffer>
#include <QPageSize>
#include <QPdfWriter>
#include <QTextDocument>

namespace wendrix::app {

namespace {

std::string pdfOf(const checks::DeliveryReport& report)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&buffer);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins({0, 0, 0, 0}, QPageLayout::Millimeter); // the document brings its own
        writer.setTitle("Quality report " + QString::fromStdString(report.delivery));
        writer.setCreator("Wendrix");
        QTextDocument document;
        document.setDefaultFont(QFont("Public Sans", 9));
        document.setHtml(QString::fromStdString(checks::toHtml(report)));
        document.print(&writer);
    }
    return bytes.toStdString();
}

} // namespace

Result<QString> writeReport(const checks::DeliveryReport& report, const QString& file)
{
    QString target = file;
    std::string bytes;
    if (file.endsWith(".csv", Qt::CaseInsensitive))
        bytes = checks::toCsv(report);
    else if (file.endsWith(".pdf", Qt::CaseInsensitive))
        bytes = pdfOf(report);
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
