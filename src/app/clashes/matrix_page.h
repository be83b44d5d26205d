#pragma once

#include "core/project/clash_matrix.h"

#include <QAbstractTableModel>
#include <QWidget>

class QHBoxLayout;
class QLabel;
class QTableView;

namespace wendrix::app {

/// The numbers of a matrix for a table view.
class MatrixModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    void setMatrix(project::ClashMatrix matrix);
    [[nodiscard]] const project::ClashMatrix& matrix() const { return matrix_; }
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override { return rowCount(parent); }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    project::ClashMatrix matrix_;
};

/// Every discipline against every other, one cell each: pairs that are there, how many of them are undecided, and what
/// the last run changed; what is not tested is hatched and says so. A cell opens its list.
class MatrixPage final : public QWidget {
    Q_OBJECT
public:
    explicit MatrixPage(QWidget* parent = nullptr);
    void setMatrix(project::ClashMatrix matrix, const QString& caption);
    void addButton(QWidget* button); ///< beside the title
    void step(int by);               ///< to the next cell, row after row
    [[nodiscard]] QTableView& table() { return *table_; }

signals:
    void opened(const QString& discipline, const QString& against);

private:
    MatrixModel* model_;
    QTableView* table_;
    QLabel* caption_;
    QHBoxLayout* titleRow_;
};

} // namespace wendrix::app
