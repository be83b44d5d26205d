#include "coordinates/pair_table.h"

#include "coordinates/lengths.h"
#include "coordinates/residual_plan.h"
#include "core/base/number.h"
#include "shell/theme.h"

#include <QHeaderView>
#include <QKeyEvent>

namespace wendrix::app {

PairTable::PairTable(const std::vector<coordinates::HandPair>& pairs, const std::vector<coordinates::Left>& left,
                     QWidget* parent)
    : QTableWidget(static_cast<int>(pairs.size()), 3, parent)
{
    setObjectName("handPairs");
    setHorizontalHeaderLabels({"Pair", "Weight", "mm"});
    setAccessibleName("Pairs taken by hand");
    setTabKeyNavigation(false);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setWordWrap(true);
    setShowGrid(false);
    setFrameShape(QFrame::NoFrame);
    setFont(theme::font(12));
    horizontalHeader()->setFont(theme::font(11));
    horizontalHeader()->setHighlightSections(false);
    horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    verticalHeader()->setMinimumWidth(22);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        const int row = static_cast<int>(i);
        const QString words = QString::fromStdString(pairs[i].moving.name + " on " + pairs[i].reference.name);
        auto* what = new QTableWidgetItem(words);
        what->setFlags(what->flags() & ~Qt::ItemIsEditable);
        what->setToolTip(words);
        setItem(row, 0, what);
        auto* weight = new QTableWidgetItem(QString::number(pairs[i].weight, 'g', 6));
        weight->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        weight->setToolTip("Press F2 or click twice to write another weight");
        setItem(row, 1, weight);
        auto* off = new QTableWidgetItem(i < left.size() ? residualInWords(left[i].distance) : QString("–"));
        off->setFlags(off->flags() & ~Qt::ItemIsEditable);
        off->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        setItem(row, 2, off);
    }
    connect(this, &QTableWidget::cellChanged, this, [this](int row, int column) {
        if (column != 1)
            return;
        const auto weight = numberIn(item(row, 1)->text().toStdString());
        emit weightChanged(row, weight && *weight > 0 ? *weight : 1);
    });
    constexpr int kMostHeight = 180;
    resizeRowsToContents();
    int height = horizontalHeader()->sizeHint().height() + 4;
    for (int row = 0; row < rowCount(); ++row)
        height += std::max(rowHeight(row), 36);
    setFixedHeight(std::min(height, kMostHeight));
}

void PairTable::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Delete && currentRow() >= 0)
        emit removeWanted(currentRow());
    else
        QTableWidget::keyPressEvent(event);
}

} // namespace wendrix::app
