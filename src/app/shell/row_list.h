#pragma once

#include <QListView>

#include "shell/rows.h"

namespace wendrix::app {

/// A short list of rows inside a panel: as high as what it holds, up to a bound, and scrolling from there on.
class RowList final : public QListView {
    Q_OBJECT
public:
    RowList(const QString& name, QVector<Row> rows, const QString& chosen, int mostHigh, QWidget* parent = nullptr);
    [[nodiscard]] const RowModel& rowModel() const { return *model_; }

signals:
    /// Queued: whoever listens may write the panel anew, and this list with it.
    void rowChosen(const QString& id);

private:
    RowModel* model_;
};

} // namespace wendrix::app
