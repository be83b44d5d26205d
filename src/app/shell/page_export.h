#pragma once

#include "core/base/result.h"

#include <QImage>
#include <QMap>
#include <QString>

namespace wendrix::app {

/// A4 pages of an HTML text as PDF. @param images  what its img elements name
[[nodiscard]] std::string pdfOf(const QString& title, const QString& html, const QMap<QString, QImage>& images = {});

/// The bytes of a PNG file.
[[nodiscard]] std::string pngOf(const QImage& image);

} // namespace wendrix::app
