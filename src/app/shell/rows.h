#pragma once

#include <QAbstractListModel>
#include <QColor>
#include <QFontMetrics>
#include <QHash>
#include <QStyledItemDelegate>
#include <QVector>

#include <memory>

namespace wendrix::app {

/// The shape in front of a row: never colour alone.
enum class Mark { None, Number, Bars, Swatch, CircleOpen, CircleHalf, CircleFull, CircleClosed, CircleBroken, Sign };

/// A title that has to be shorter: cut in the middle of the longer of its two names ("Duct … 203 crosses 3 beams"), so
/// that what tells rows apart, how a name begins and ends, stays.
[[nodiscard]] QString cutTitle(const QFontMetrics& metrics, const QString& title, int width);

/// One row of a worklist, two lines high (one where it has no second line).
struct Row {
    QString id;
    Mark mark = Mark::None;
    QString markText; ///< a sign or a number; of bars, how many
    QColor markColour;
    QString title, right, subtitle;
    QString loud;  ///< put after the subtitle, in the action colour
    int level = 0; ///< 1 for what belongs to the row above
    bool isStruck = false;
};

/// Where the rows of a long list come from: asked by the page, so that nobody holds them all.
class RowSource {
public:
    virtual ~RowSource() = default;
    [[nodiscard]] virtual int count() const = 0;
    /// As many rows as there are from `first` on, at most `number`.
    [[nodiscard]] virtual QVector<Row> page(int first, int number) const = 0;
    [[nodiscard]] virtual QString idOf(int row) const = 0;          ///< cheap
    [[nodiscard]] virtual int indexOf(const QString& id) const = 0; ///< -1 where there is none
};

/// Rows given at once, for lists that are short by nature.
class FixedRows final : public RowSource {
public:
    explicit FixedRows(QVector<Row> rows) : rows_(std::move(rows)) {}
    [[nodiscard]] int count() const override { return static_cast<int>(rows_.size()); }
    [[nodiscard]] QVector<Row> page(int first, int number) const override { return rows_.mid(first, number); }
    [[nodiscard]] QString idOf(int row) const override { return rows_[row].id; }
    [[nodiscard]] int indexOf(const QString& id) const override;

private:
    QVector<Row> rows_;
};

class RowModel final : public QAbstractListModel {
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    void setSource(std::shared_ptr<const RowSource> source);
    void setRows(QVector<Row> rows) { setSource(std::make_shared<FixedRows>(std::move(rows))); }
    [[nodiscard]] const Row& row(int index) const;
    [[nodiscard]] QString idOf(int index) const { return source_->idOf(index); }
    [[nodiscard]] int indexOf(const QString& id) const { return source_->indexOf(id); }
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;

private:
    std::shared_ptr<const RowSource> source_ = std::make_shared<FixedRows>(QVector<Row>{});
    mutable QHash<int, QVector<Row>> pages_; ///< the last few that were looked at, by number
    mutable QVector<int> order_;             ///< of their coming
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
