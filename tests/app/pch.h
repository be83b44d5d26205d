#pragma once

// Every test of the window drives it through the fixture.
#include <QtTest>
#include <QtWidgets>

#include "app/window_fixture.h"
