#pragma once

// Widget files gain eight times from these being read once.
#include <QtWidgets>

#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/project/workspace.h"
