#include "coordinates/sheet_export.h"

#include "core/base/file.h"
#include "shell/page_export.h"

#include <QPainter>
#include <QSvgRenderer>

namespace wendrix::app {

namespace {

bool isHtml(const QString& file) { return file.endsWith(".html", Qt::CaseInsensitive); }

Result<QString> write(const QString& file, const std::string& bytes)
{
    const QString target = isHtml(file) || file.endsWith(".pdf", Qt::CaseInsensitive) ? file : file + ".pdf";
    if (auto written = writeFileWhole(target.toStdString(), bytes); !written)
        return wendrix::fail(written.error());
    return target;
}

} // namespace

Result<QString> writePage(const QString& title, const QString& html, const QString& file)
{
    return write(file, isHtml(file) ? html.toStdString() : pdfOf(title, html));
}

Result<QString> writeSheet(const coordinates::Sheet& sheet, const QString& file)
{
    if (isHtml(file))
        return write(file, coordinates::toHtml(sheet));
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
    return write(file, pdfOf("Coordinates of " + QString::fromStdString(sheet.member), html, images));
}

} // namespace wendrix::app
