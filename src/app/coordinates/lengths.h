#pragma once

#include "core/base/quantity.h"

#include <QLocale>
#include <QString>

#include <cmath>

/// Lengths as this stage writes them.
namespace wendrix::app {

[[nodiscard]] inline QString metres(double value)
{
    const double shown = std::round(value * 1000) / 1000 + 0.0; // what rounds to nothing has no sign
    return QLocale(QLocale::English).toString(shown, 'f', 3).replace(',', QChar(0x202F)); // a space that does not break
}
/// "1.3 mm"
[[nodiscard]] inline std::string millimetresInWords(Metres m)
{
    return QString::number(toMillimetres(m), 'f', 1).toStdString() + " mm";
}
[[nodiscard]] inline QString millimetres(Metres m) { return QString::number(toMillimetres(m), 'f', 1); }

} // namespace wendrix::app
