#pragma once

#include "core/project/clash_list.h"
#include "core/project/project.h"
#include "shell/rows.h"

namespace wendrix::app {

/// The rows of a list of clashes: groups, and under each its pairs.
class ClashRows final : public RowSource {
public:
    /// @param project  outlives the rows
    ClashRows(std::shared_ptr<const project::ClashList> list, const project::Project& project) : list_(std::move(list)), project_(project) {}
    [[nodiscard]] int count() const override { return static_cast<int>(list_->rowCount()); }
    [[nodiscard]] QVector<Row> page(int first, int number) const override;
    [[nodiscard]] QString idOf(int row) const override { return QString::fromStdString(list_->idOf(static_cast<std::size_t>(row))); }
    [[nodiscard]] int indexOf(const QString& id) const override { return static_cast<int>(list_->rowOf(id.toStdString())); }

private:
    std::shared_ptr<const project::ClashList> list_;
    const project::Project& project_;
};

} // namespace wendrix::app
