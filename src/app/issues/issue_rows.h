#pragma once

#include "core/project/issue_list.h"
#include "shell/list_rows.h"

namespace wendrix::app {

/// A status as a shape, and a priority as a number of bars.
[[nodiscard]] Mark markOf(issues::StatusShape shape);
[[nodiscard]] int barsOf(const std::string& priority);
[[nodiscard]] Row rowOf(const project::IssueRow& issue);

/// The rows of a list of issues, with the headers of its groups.
class IssueRows final : public ListRows<project::IssueList> {
public:
    using ListRows::ListRows;
    [[nodiscard]] QVector<Row> page(int first, int number) const override;
    [[nodiscard]] QString idOf(int row) const override;
};

} // namespace wendrix::app
