#pragma once

#include "core/project/issue_list.h"
#include "shell/list_rows.h"

namespace wendrix::app {

/// An issue's status as a shape, and its priority as a number of bars.
[[nodiscard]] Mark markOf(const std::string& status);
[[nodiscard]] bool isClosed(const std::string& status);
[[nodiscard]] int barsOf(const std::string& priority);

/// The rows of a list of issues.
class IssueRows final : public ListRows<project::IssueList> {
public:
    using ListRows::ListRows;
    [[nodiscard]] QVector<Row> page(int first, int number) const override;
};

} // namespace wendrix::app
