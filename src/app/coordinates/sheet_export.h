#pragma once

#include "core/coordinates/sheet.h"

#include <QString>

namespace wendrix::app {

/// Writes a coordinate sheet in the form its file's ending names: .pdf or .html; another ending gets .pdf.
/// @return the file written
[[nodiscard]] Result<QString> writeSheet(const coordinates::Sheet& sheet, const QString& file);

/// Writes a page of HTML in the form its file's ending names, as writeSheet(). @return the file written
[[nodiscard]] Result<QString> writePage(const QString& title, const QString& html, const QString& file);

} // namespace wendrix::app
