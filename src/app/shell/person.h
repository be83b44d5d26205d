#pragma once

#include <QString>

namespace wendrix::app {

/// Under which name this person decides, comments and takes in: what was said last, kept in the person's own settings,
/// else the name the system knows.
[[nodiscard]] QString personName();
void keepPersonName(const QString& name);

} // namespace wendrix::app
