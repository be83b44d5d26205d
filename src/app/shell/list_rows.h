#pragma once

#include "shell/rows.h"
#include "shell/session.h"

namespace wendrix::app {

/// The frame of rows that a list of core tells apart by its own ids; what a row says is its maker's.
/// @tparam List  with rowCount(), idOf(row), rowOf(id)
template <class List>
class ListRows : public RowSource {
public:
    /// @param session  outlives the rows; which project it has open may change
    ListRows(std::shared_ptr<const List> list, const Session& session) : list_(std::move(list)), session_(session) {}
    [[nodiscard]] int count() const override { return static_cast<int>(list_->rowCount()); }
    [[nodiscard]] QString idOf(int row) const override
    {
        return QString::fromStdString(list_->idOf(static_cast<std::size_t>(row)));
    }
    [[nodiscard]] int indexOf(const QString& id) const override
    {
        return static_cast<int>(list_->rowOf(id.toStdString()));
    }

protected:
    std::shared_ptr<const List> list_;
    const Session& session_;
};

} // namespace wendrix::app
