#pragma once

#include <QColor>
#include <QString>

#include "core/project/records.h"

/// How a change is shown and said, wherever that is.
namespace wendrix::app {

inline constexpr project::ChangeKind kChangeKinds[] = {project::Added, project::Removed,     project::Reshaped,
                                                       project::Moved, project::Redescribed, project::Rekeyed};

struct ChangeLook {
    project::ChangeKind kind;
    const char* words;
    const char* sign;
    QColor colour;
};
[[nodiscard]] const ChangeLook& changeLook(project::ChangeKind kind);

[[nodiscard]] QString litres(double cubicMetres);
/// "X +573, Y +178 mm", only what is not nothing.
[[nodiscard]] QString shiftInWords(Vector3 shift);
/// How far it moved, or what was added and taken away; empty for other kinds.
[[nodiscard]] QString changeMeasure(const project::ChangeRecord& change);
/// "moved, redescribed".
[[nodiscard]] QString kindsInWords(const project::ChangeRecord& change);

} // namespace wendrix::app
