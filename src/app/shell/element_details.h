#pragma once

#include "core/federation/member.h"
#include "shell/details.h"

namespace wendrix::app {

/// Everything the file says about one element, in the details panel.
void showElement(Details& details, const federation::Member& member, ifc::ElementIndex element);

} // namespace wendrix::app
