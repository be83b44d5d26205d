#pragma once

#include "core/project/changes_book.h"
#include "core/project/clashes_book.h"
#include "core/project/coordinates_book.h"
#include "core/project/deliveries_book.h"
#include "core/project/issues_book.h"
#include "core/project/setup_book.h"
#include "core/project/views_book.h"

#include <vector>

namespace wendrix::project {

/// What all books declare, for making a project and for taking changes back.
[[nodiscard]] const std::vector<Table>& allTables();
[[nodiscard]] const std::vector<const char*>& allIndexes();

} // namespace wendrix::project
