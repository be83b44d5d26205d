#include "changes/change_look.h"

#include "shell/theme.h"

namespace wendrix::app {

const ChangeLook& changeLook(project::ChangeKind kind)
{
    static const ChangeLook kinds[] = {{project::Added, "added", "+", theme::kAdded},
                                       {project::Removed, "removed", "−", theme::kRemoved},
                                       {project::Reshaped, "reshaped", "△", theme::kReshaped},
                                       {project::Moved, "moved", "→", theme::kMoved},
                                       {project::Redescribed, "redescribed", "≡", theme::kRedescribed},
                                       {project::CutUp, "cut up", "÷", theme::kReshaped},
                                       {project::Joined, "joined", "∪", theme::kReshaped},
                                       {project::Rekeyed, "new id", "#", theme::kSoftInk}};
    for (const ChangeLook& k : kinds)
        if (k.kind == kind)
            return k;
    return kinds[0];
}

} // namespace wendrix::app
