#pragma once

#include <QColor>
#include <QString>

#include "core/project/records.h"

/// How a change is shown and said, wherever that is.
namespace wendrix::app {

struct ChangeLook {
    project::ChangeKind kind;
    const char* words;
    const char* sign;
    QColor colour;
};
[[nodiscard]] const ChangeLook& changeLook(project::ChangeKind kind);

} // namespace wendrix::app
