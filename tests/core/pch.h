#pragma once

#include "core/pch.h"

#include <QTemporaryDir>
#include <QTest>

#include <nlohmann/json.hpp>
