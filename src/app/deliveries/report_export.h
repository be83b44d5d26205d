#pragma once

#include <QString>

#include "core/checks/report.h"

namespace wendrix::app {

/// Writes a quality report in the form its file's ending names: .html, .pdf or .csv; another ending gets .html.
/// @return the file written
[[nodiscard]] Result<QString> writeReport(const checks::DeliveryReport& report, const QString& file);

} // namespace wendrix::app
