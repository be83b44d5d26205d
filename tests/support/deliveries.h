#pragma once

#include "core/project/records.h"

namespace wendrix::test {

/// A delivery as the register has it, without its files.
inline project::Delivery delivery(project::DeliveryId id, const std::string& discipline, const std::string& revision,
                                  int cycle = 1, project::DeliveryState state = project::DeliveryState::Waiting)
{
    project::Delivery d;
    d.id = id;
    d.discipline = discipline;
    d.revision = revision;
    d.cycle = cycle;
    d.state = state;
    d.fileName = "MSS-XX-" + discipline.substr(0, 3) + "-" + revision + ".ifc";
    return d;
}

} // namespace wendrix::test
