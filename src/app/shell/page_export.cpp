#include "shell/page_export.h"

#include <QBuffer>
#include <QPageSize>
#include <QPdfWriter>
#include <QTextDocument>
#include <QUrl>

namespace wendrix::app {

std::string pngOf(const QImage& image)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return bytes.toStdString();
}

std::string pdfOf(const QString& title, const QString& html, const QMap<QString, QImage>& images)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&buffer);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins({0, 0, 0, 0}, QPageLayout::Millimeter); // the document brings its own
        writer.setTitle(title);
        writer.setCreator("Wendrix");
        QTextDocument document;
        document.setDefaultFont(QFont("Public Sans", 9));
        for (auto image = images.begin(); image != images.end(); ++image)
            document.addResource(QTextDocument::ImageResource, QUrl(image.key()), image.value());
        document.setHtml(html);
        document.print(&writer);
    }
    return bytes.toStdString();
}

} // namespace wendrix::app
