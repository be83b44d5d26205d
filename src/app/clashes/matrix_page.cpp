#include "clashes/matrix_page.h"

#include "core/base/text.h"
#include "shell/letters.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

using Cell = project::ClashMatrix::Cell;

/// What the last run changed: "+3 −2".
QString changeOf(const Cell& c)
{
    QString words;
    if (const std::size_t more = c.isNew + c.back; more > 0)
        words += "+" + q(grouped(more));
    if (c.goneNow > 0)
        words += (words.isEmpty() ? "" : "  ") + QString("−") + q(grouped(c.goneNow));
    return words;
}

QString inWords(const Cell& c)
{
    QStringList parts;
    parts << q(counted(c.there, "pair", "pairs"));
    if (c.undecided > 0)
        parts << q(grouped(c.undecided)) + " undecided";
    if (c.isNew > 0)
        parts << q(grouped(c.isNew)) + " new";
    if (c.back > 0)
        parts << q(grouped(c.back)) + " back";
    if (c.goneNow > 0)
        parts << q(grouped(c.goneNow)) + " gone";
    if (!c.askedBy.empty())
        parts << "asked by " + q(c.askedBy.size() < 3
                                     ? c.askedBy[0] + (c.askedBy.size() == 2 ? " and " + c.askedBy[1] : "")
                                     : counted(c.askedBy.size(), "test", "tests"));
    if (!c.isTested)
        parts << (c.whyNot.empty() ? QString("no test asks it") : "not tested: " + q(c.whyNot));
    return parts.join(", ");
}

/// Paints a cell: how many large, the rest small below it. Only one half is used: the other says the same.
class CellDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        const auto& model = static_cast<const MatrixModel&>(*index.model());
        const Cell& c =
            model.matrix().at(static_cast<std::size_t>(index.row()), static_cast<std::size_t>(index.column()));
        painter->save();
        const QRect box = option.rect;
        painter->fillRect(box, theme::kPanel);
        if (index.row() > index.column()) { // says what the other half says: so that nobody counts it twice
            painter->setFont(theme::font(13));
            painter->setPen(theme::kSoftInk);
            painter->drawText(box.adjusted(10, 6, -8, -6), Qt::AlignTop | Qt::AlignLeft,
                              c.there == 0 && !c.isTested ? QString("–") : q(grouped(c.there)));
            frame(*painter, option);
            painter->restore();
            return;
        }
        if (!c.isTested) {
            painter->fillRect(box, theme::kPaper);
            painter->fillRect(box, QBrush(theme::kLine, Qt::BDiagPattern));
        } else if (c.undecided > 0) {
            QColor tone = theme::kOverlap;
            tone.setAlpha(60);
            painter->fillRect(box, tone);
        }
        const QRect inner = box.adjusted(10, 6, -8, -6);
        const bool isEmpty = c.there == 0 && !c.isTested;
        painter->setFont(theme::font(20, 600));
        painter->setPen(c.there > 0 ? theme::kInk : theme::kSoftInk);
        painter->drawText(inner, Qt::AlignTop | Qt::AlignLeft, isEmpty ? QString("–") : q(grouped(c.there)));
        painter->setFont(theme::font(11));
        painter->setPen(theme::kSoftInk);
        painter->drawText(inner, Qt::AlignTop | Qt::AlignRight, changeOf(c));
        const QString below = !c.isTested       ? (c.whyNot.empty() ? QString("no test") : QString("not tested"))
                              : c.undecided > 0 ? q(grouped(c.undecided)) + " undecided"
                              : c.there > 0     ? QString("all decided")
                                                : QString("none");
        painter->drawText(inner, Qt::AlignBottom | Qt::AlignLeft, below);
        frame(*painter, option);
        painter->restore();
    }
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {130, 62}; }

private:
    static void frame(QPainter& painter, const QStyleOptionViewItem& option)
    {
        if ((option.state & QStyle::State_Selected) == 0)
            return;
        painter.setPen(QPen(theme::kFocus, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(option.rect.adjusted(1, 1, -2, -2));
    }
};

} // namespace

void MatrixModel::setMatrix(project::ClashMatrix matrix)
{
    beginResetModel();
    matrix_ = std::move(matrix);
    endResetModel();
}

int MatrixModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(matrix_.disciplines().size());
}

QVariant MatrixModel::data(const QModelIndex& index, int role) const
{
    const auto &row = matrix_.disciplines()[static_cast<std::size_t>(index.row())],
               &column = matrix_.disciplines()[static_cast<std::size_t>(index.column())];
    const Cell& c = matrix_.at(static_cast<std::size_t>(index.row()), static_cast<std::size_t>(index.column()));
    if (role == Qt::AccessibleTextRole || role == Qt::ToolTipRole)
        return (row == column ? "within " + q(row) : q(row) + " × " + q(column)) + ": " + inWords(c);
    return role == Qt::DisplayRole ? QVariant(static_cast<qulonglong>(c.there)) : QVariant();
}

QVariant MatrixModel::headerData(int section, Qt::Orientation, int role) const
{
    return role == Qt::DisplayRole ? QVariant(q(matrix_.disciplines()[static_cast<std::size_t>(section)])) : QVariant();
}

MatrixPage::MatrixPage(QWidget* parent)
    : QWidget(parent), model_(new MatrixModel(this)), table_(new LeavesLetters<QTableView>), caption_(new QLabel),
      titleRow_(new QHBoxLayout)
{
    setAutoFillBackground(true);
    setObjectName("clashMatrixPage");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 8);
    auto* title = new QLabel("Every discipline against every other");
    title->setFont(theme::font(15, 700));
    titleRow_->addWidget(title);
    titleRow_->addStretch();
    column->addLayout(titleRow_);
    caption_->setStyleSheet("color:#5F6B70");
    caption_->setWordWrap(true);
    column->addWidget(caption_);
    table_->setObjectName("clashMatrix");
    table_->setModel(model_);
    table_->setItemDelegate(new CellDelegate(table_));
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setFrameShape(QFrame::NoFrame);
    table_->setTabKeyNavigation(false);
    table_->setCornerButtonEnabled(false);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setMinimumSectionSize(96);
    table_->horizontalHeader()->setSectionsClickable(false);
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->verticalHeader()->setMinimumSectionSize(46);
    for (QHeaderView* header : {table_->horizontalHeader(), table_->verticalHeader()})
        header->setStyleSheet("QHeaderView { background:#FFFFFF; } QHeaderView::section { background:#FFFFFF; "
                              "color:#5F6B70; border:none; padding:4px 10px 4px 2px; }");
    table_->setStyleSheet("QTableView { gridline-color:#DAD4C6; } QTableCornerButton::section { background:#FFFFFF; "
                          "border:none; }");
    table_->verticalHeader()->setSectionsClickable(false);
    column->addWidget(table_, 1);
    const auto open = [this](const QModelIndex& index) {
        if (!index.isValid())
            return;
        const auto& names = model_->matrix().disciplines();
        emit opened(q(names[static_cast<std::size_t>(index.row())]),
                    q(names[static_cast<std::size_t>(index.column())]));
    };
    connect(table_, &QTableView::clicked, this, open);
    connect(table_, &QTableView::activated, this, open);
}

void MatrixPage::setMatrix(project::ClashMatrix matrix, const QString& caption)
{
    const QModelIndex before = table_->currentIndex();
    model_->setMatrix(std::move(matrix));
    caption_->setText(caption);
    if (before.isValid() && before.row() < model_->rowCount() && before.column() < model_->rowCount())
        table_->setCurrentIndex(model_->index(before.row(), before.column()));
}

void MatrixPage::addButton(QWidget* button) { titleRow_->addWidget(button); }

void MatrixPage::step(int by)
{
    const int n = model_->rowCount();
    if (n == 0)
        return;
    const QModelIndex now = table_->currentIndex();
    const int at = now.isValid() ? std::clamp(now.row() * n + now.column() + by, 0, n * n - 1) : 0;
    table_->setCurrentIndex(model_->index(at / n, at % n));
}

} // namespace wendrix::app
