#pragma once

#include "core/project/issue_list.h"
#include "shell/rows.h"
#include "shell/session.h"

namespace wendrix::app {

/// An issue's status as a shape, and its priority as a number of bars.
[[nodiscard]] Mark markOf(const std::string& status);
[[nodiscard]] bool isClosed(const std::string& status);
[[nodiscard]] int barsOf(const std::string& priority);

/// The rows of a list of issues.
class IssueRows final : public RowSource {
public:
    /// @param session  outlives the rows; which project it has open may change
    IssueRows(std::shared_ptr<const project::IssueList> list, const Session& session)
        : list_(std::move(list)), session_(session)
    {
    }
    [[nodiscard]] int count() const override { return static_cast<int>(list_->rowCount()); }
    [[nodiscard]] QVector<Row> page(int first, int number) const override;
    [[nodiscard]] QString idOf(int row) const override
    {
        return QString::fromStdString(list_->idOf(static_cast<std::size_t>(row)));
    }
    [[nodiscard]] int indexOf(const QString& id) const override
    {
        return static_cast<int>(list_->rowOf(id.toStdString()));
    }

private:
    std::shared_ptr<const project::IssueList> list_;
    const Session& session_;
};

} // namespace wendrix::app
