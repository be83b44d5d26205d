#pragma once

#include "core/project/clash_list.h"
#include "shell/list_rows.h"

namespace wendrix::app {

/// The rows of a list of clashes: groups, and under each its pairs.
class ClashRows final : public ListRows<project::ClashList> {
public:
    using ListRows::ListRows;
    [[nodiscard]] QVector<Row> page(int first, int number) const override;
};

} // namespace wendrix::app
