#pragma once

#include "core/federation/member.h"
#include "core/project/project.h"
#include "core/view/alike.h"
#include "shell/details.h"

namespace wendrix::app {

inline constexpr const char* kElementPanel = "element"; ///< who the details belong to then

/// What a line of an element's details can lead to.
struct ElementLinks {
    std::function<void(const ElementRef& element)> toElement;
    std::function<void(const QString& stage, const QString& row)> toRow;
    std::function<void(view::AlikeIn what)> toAlike; ///< selects all that share it with this one
};

/// Writes everything known of one element into the panel: what its file says, grouped, and what the project knows of
/// it: its issues, clashes and changes.
/// @param project  none where there is none
void showElement(Details& details, const federation::Member& member, ifc::ElementIndex element,
                 const project::Project* project, const ElementLinks& links);

} // namespace wendrix::app
