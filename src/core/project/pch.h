#pragma once

#include "core/pch.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <nlohmann/json.hpp>
