#include "shell/row_list.h"

namespace wendrix::app {

RowList::RowList(const QString& name, QVector<Row> rows, const QString& chosen, int mostHigh, QWidget* parent)
    : QListView(parent), model_(new RowModel(this))
{
    setObjectName(name);
    model_->setRows(std::move(rows));
    setModel(model_);
    setItemDelegate(new RowDelegate(this));
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setUniformItemSizes(true);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setStyleSheet("QListView { border: 1px solid #DAD4C6; }");
    int high = 2;
    for (int i = 0; i < model_->rowCount() && high < mostHigh; ++i)
        high += itemDelegate()->sizeHint({}, model_->index(i)).height();
    setFixedHeight(std::min(high, mostHigh));
    if (const int at = model_->indexOf(chosen); at >= 0) {
        setCurrentIndex(model_->index(at));
        scrollTo(model_->index(at), QAbstractItemView::PositionAtCenter);
    }
    connect(selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& now) {
        if (now.isValid())
            QMetaObject::invokeMethod(
                this, [this, id = model_->idOf(now.row())] { emit rowChosen(id); }, Qt::QueuedConnection);
    });
}

} // namespace wendrix::app
