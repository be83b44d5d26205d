#pragma once

#include "core/project/clash_list.h"
#include "shell/rows.h"
#include "shell/session.h"

namespace wendrix::app {

/// The rows of a list of clashes: groups, and under each its pairs.
class ClashRows final : public RowSource {
public:
    /// @param session  outlives the rows; which project it has open may change
    ClashRows(std::shared_ptr<const project::ClashList> list, const Session& session)
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
    std::shared_ptr<const project::ClashList> list_;
    const Session& session_;
};

} // namespace wendrix::app
