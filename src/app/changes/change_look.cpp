#include "changes/change_look.h"

#include "core/base/text.h"
#include "shell/theme.h"

#include <QStringList>

namespace wendrix::app {

const ChangeLook& changeLook(project::ChangeKind kind)
{
    static const ChangeLook kinds[] = {{project::Added, "added", "+", theme::kAdded},
                                       {project::Removed, "removed", "−", theme::kRemoved},
                                       {project::Reshaped, "reshaped", "△", theme::kReshaped},
                                       {project::Moved, "moved", "→", theme::kMoved},
                                       {project::Redescribed, "redescribed", "≡", theme::kRedescribed},
                                       {project::Rekeyed, "new id only", "#", theme::kSoftInk}};
    for (const ChangeLook& k : kinds)
        if (k.kind == kind)
            return k;
    return kinds[0];
}

QString litres(double cubicMetres)
{
    return cubicMetres < 0.1 ? QString::number(cubicMetres * 1000, 'f', 1) + " l"
                             : QString::number(cubicMetres, 'f', 3) + " m³";
}

QString shiftInWords(Vector3 shift)
{
    QStringList parts;
    for (int axis = 0; axis < 3; ++axis)
        if (std::abs(shift[axis]) >= 0.0005)
            parts.append(QString("%1 %2%3")
                             .arg("XYZ"[axis])
                             .arg(shift[axis] > 0 ? "+" : "−")
                             .arg(std::abs(shift[axis]) * 1000, 0, 'f', 0));
    return parts.join(", ") + " mm";
}

QString changeMeasure(const project::ChangeRecord& c)
{
    if ((c.kinds & project::Moved) != 0)
        return QString::fromStdString(lengthInWords(Metres{length(c.shift)}));
    if ((c.kinds & project::Reshaped) != 0)
        return "+" + litres(c.addedVolume) + " −" + litres(c.removedVolume);
    return {};
}

QString kindsInWords(const project::ChangeRecord& c)
{
    QStringList kinds;
    for (const auto kind : kChangeKinds)
        if ((c.kinds & kind) != 0)
            kinds.append(changeLook(kind).words);
    return kinds.join(", ");
}

} // namespace wendrix::app
