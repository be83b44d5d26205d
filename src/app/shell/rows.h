#pragma once

#include <QAbstractListModel>
#include <QColor>
#include <QStyledItemDelegate>
#include <QVector>

namespace wendrix::app {

/// The shape in front of a row: never colour alone.
enum class Mark { None, Number, Bars, Swatch, CircleOpen, CircleHalf, CircleFull, CircleClosed, CircleBroken, Sign };

/// One row of a worklist, two lines high (one where it has no second line).
struct Row {
    QString id;
    Mark mark = Mark::None;
    QString markText; ///< a sign or a number; of bars, how many
    QColor markColour;
    QString title, right, subtitle;
    QString loud; ///< put after the subtitle, in the action colour
    int level = 0; ///< 1 for what belongs to the row above
    bool isStruck = false;
};

class RowModel final : public QAbstractListModel {
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    void setRows(QVector<Row> rows);
    [[nodiscard]] const Row& row(int index) const { return rows_[index]; }
    [[nodiscard]] int indexOf(const QString& id) const;
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;

private:
    QVector<Row> rows_;
};

/// Draws a Row.
class RowDelegate final : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

/// Draws a mark centred in a box; shared by lists and details.
void paintMark(QPainter& painter, const QRectF& box, Mark mark, const QString& text, const QColor& colour);

} // namespace wendrix::app
