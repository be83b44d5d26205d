#include "coordinates/sheet_export.h"

#include "core/base/file.h"
#include "shell/page_export.h"

#include <QPainter>
#include <QSvgRenderer>

namespace wendrix::app {

Result<QString> writeSheet(const coordinates::Sheet& sheet, const QString& file)
{
    const bool isHtml = file.endsWith(".html", Qt::CaseInsensitive);
    const QString target = isHtml || file.endsWith(".pdf", Qt::CaseInsensitive) ? file : file + ".pdf";
    std::string bytes;
    if (isHtml) {
        bytes = coordinates::toHtml(sheet);
    } else {
        constexpr int kFiner = 3; // pixels for one of the plan's, so that it prints sharp
        QMap<QString, QImage> images;
        QSvgRenderer plan(QByteArray::fromStdString(coordinates::planSvg(sheet)));
        QString html = QString::fromStdString(coordinates::toHtml(sheet, "plan"));
        if (plan.isValid()) {
            QImage image(plan.defaultSize() * kFiner, QImage::Format_ARGB32);
            image.fill(Qt::white);
            QPainter painter(&image);
            plan.render(&painter);
            painter.end();
            images["plan"] = image;
            html.replace("<img src=\"plan\">", QString("<img src=\"plan\" width=\"%1\" height=\"%2\">")
                                                   .arg(plan.defaultSize().width())
                                                   .arg(plan.defaultSize().height()));
        }
        bytes = pdfOf("Coordinates of " + QString::fromStdString(sheet.member), html, images);
    }
    if (auto written = writeFileWhole(target.toStdString(), bytes); !written)
        return wendrix::fail(written.error());
    return target;
}

} // namespace wendrix::app
