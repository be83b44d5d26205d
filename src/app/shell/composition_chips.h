#pragma once

#include "shell/composition_bar.h"
#include "shell/session.h"

namespace wendrix::app {

/// What the composition bar says of every member of the federation that is looked at: its revision, how it stands, what
/// waits behind it. A project is open.
[[nodiscard]] QVector<CompositionBar::Chip> chipsOf(const Session& session);

} // namespace wendrix::app
