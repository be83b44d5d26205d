#include "shell/rows.h"

#include "shell/long_text.h"
#include "shell/theme.h"

#include <QPainter>
#include <QPainterPath>
#include <QTextDocument>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr int kIndent = 26, kMargin = 14, kMarkWidth = 26, kPage = 50, kPages = 40;

QString elided(const QFont& font, const QString& text, int width)
{
    return QFontMetrics(font).elidedText(text.left(kMostInLine), Qt::ElideRight, width);
}

} // namespace

QString cutTitle(const QFontMetrics& metrics, const QString& whole, int width)
{
    static const QStringList between{" × ", " crosses ", " is too near ", " doubles "};
    const QString title = endsOf(whole);
    qsizetype at = -1;
    QString cross;
    for (const QString& words : between)
        if (const qsizetype found = title.indexOf(words); found >= 0 && (at < 0 || found < at)) {
            at = found;
            cross = words;
        }
    if (at < 0 || metrics.horizontalAdvance(title) <= width)
        return metrics.elidedText(title, Qt::ElideMiddle, width);
    const QString left = title.left(at), right = title.mid(at + cross.size());
    const int room = std::max(0, width - metrics.horizontalAdvance(cross)), l = metrics.horizontalAdvance(left),
              r = metrics.horizontalAdvance(right);
    // The shorter one stays whole as long as it leaves half to the other. Widths of parts do not add up to the pixel.
    constexpr int kRounding = 2;
    const bool isLeftShorter = l <= r, isWhole = std::min(l, r) <= room / 2;
    const int forShorter = isWhole ? std::min(l, r) : room / 2, forLonger = std::max(0, room - forShorter - kRounding);
    const auto shortened = [&](const QString& part, bool isShorter) {
        return isShorter && isWhole ? part
                                    : metrics.elidedText(part, Qt::ElideMiddle, isShorter ? forShorter : forLonger);
    };
    return shortened(left, isLeftShorter) + cross + shortened(right, !isLeftShorter);
}

int FixedRows::indexOf(const QString& id) const
{
    for (int i = 0; i < rows_.size(); ++i)
        if (rows_[i].id == id)
            return i;
    return -1;
}

void RowModel::setSource(std::shared_ptr<const RowSource> source)
{
    beginResetModel();
    source_ = std::move(source);
    pages_.clear();
    order_.clear();
    endResetModel();
}

const Row& RowModel::row(int index) const
{
    const int number = index / kPage;
    auto page = pages_.find(number);
    if (page == pages_.end()) {
        if (order_.size() >= kPages) {
            pages_.remove(order_.front());
            order_.removeFirst();
        }
        page = pages_.insert(number, source_->page(number * kPage, kPage));
        order_.append(number);
    }
    static const Row kNone; // the project lost it since; the list is read anew in a moment
    const int at = index - number * kPage;
    return at < page->size() ? (*page)[at] : kNone;
}

int RowModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : source_->count(); }

QVariant RowModel::data(const QModelIndex& index, int role) const
{
    if (!index.isValid() || index.row() >= source_->count())
        return {};
    const Row& r = row(index.row());
    // What a screen reader says, and what type-ahead looks for.
    if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole)
        return QString(r.title + " " + r.right + " " + r.subtitle + " " + r.loud).trimmed();
    if (role == Qt::ToolTipRole)
        // Names come from files; a tooltip would take markup in them for its own.
        return Qt::convertFromPlainText(endsOf(r.title) + (r.subtitle.isEmpty() ? "" : "\n" + r.subtitle) +
                                        (r.loud.isEmpty() ? "" : " · " + r.loud));
    return {};
}

void paintMark(QPainter& painter, const QRectF& box, Mark mark, const QString& text, const QColor& colour)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF c = box.center();
    const double r = 5.5;
    painter.setPen(QPen(colour, 1.8));
    painter.setBrush(Qt::NoBrush);
    switch (mark) {
    case Mark::None:
        break;
    case Mark::Swatch:
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        painter.drawRoundedRect(QRectF(c.x() - 5, c.y() - 5, 10, 10), 2, 2);
        break;
    case Mark::Bars:
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        for (int i = 0; i < text.toInt(); ++i)
            painter.drawRect(QRectF(c.x() - 6 + 4 * i, c.y() - 6, 2.4, 12));
        break;
    case Mark::CircleHalf:
        painter.setBrush(colour);
        painter.drawPie(QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r), 90 * 16, 180 * 16);
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(c, r, r);
        break;
    case Mark::CircleFull:
        painter.setBrush(colour);
        painter.drawEllipse(c, r, r);
        break;
    case Mark::CircleOpen:
        painter.drawEllipse(c, r, r);
        break;
    case Mark::CircleClosed: {
        painter.setPen(QPen(colour, 1.4));
        painter.drawEllipse(c, r + 0.5, r + 0.5);
        QPainterPath tick(QPointF(c.x() - 2.8, c.y() + 0.2));
        tick.lineTo(c.x() - 0.6, c.y() + 2.4);
        tick.lineTo(c.x() + 3.0, c.y() - 2.4);
        painter.setPen(QPen(colour, 1.7));
        painter.drawPath(tick);
        break;
    }
    case Mark::CircleBroken: {
        const QRectF around(c.x() - r, c.y() - r, 2 * r, 2 * r);
        for (int i = 0; i < 4; ++i)
            painter.drawArc(around, (20 + 90 * i) * 16, 55 * 16);
        break;
    }
    case Mark::Sign:
    case Mark::Number:
        painter.setPen(colour);
        painter.setFont(theme::font(mark == Mark::Sign ? 15 : 13, mark == Mark::Sign ? 700 : 400));
        painter.drawText(box, Qt::AlignCenter, text);
        break;
    }
    painter.restore();
}

QSize RowDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const
{
    return {200, 50};
} // one height: a long list is laid out without being read

void RowDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const
{
    const Row& r = static_cast<const RowModel*>(index.model())->row(index.row());
    const bool isChosen = (option.state & QStyle::State_Selected) != 0;
    const QRect box = option.rect;
    painter->save();
    painter->fillRect(box, isChosen ? theme::kChosenRow : r.level > 0 ? theme::kInnerRow : theme::kPanel);
    if (isChosen)
        painter->fillRect(QRect(box.left(), box.top(), 3, box.height()), theme::kFocus);
    painter->setPen(QColor(0xEA, 0xE5, 0xD9));
    painter->drawLine(box.bottomLeft(), box.bottomRight());

    const bool isTwoLines = !r.subtitle.isEmpty() || !r.loud.isEmpty();
    const int left = box.left() + kMargin + r.level * kIndent, right = box.right() - kMargin;
    const int top = isTwoLines ? box.top() + 6 : box.top();
    const int lineHeight = isTwoLines ? 20 : box.height();
    paintMark(*painter, QRectF(left - 4, top, 20, lineHeight), r.mark, r.markText, r.markColour);

    const int textLeft = left + (r.level > 0 && r.mark == Mark::None ? 0 : kMarkWidth);
    const QFont titleFont = theme::font(13, r.level > 0 ? 400 : 600), rightFont = theme::font(13);
    const int rightWidth = r.right.isEmpty() ? 0 : QFontMetrics(rightFont).horizontalAdvance(r.right) + 10;
    painter->setFont(rightFont);
    painter->setPen(r.level > 0 ? theme::kInk : theme::kSoftInk);
    painter->drawText(QRect(right - rightWidth, top, rightWidth, lineHeight), Qt::AlignRight | Qt::AlignVCenter,
                      r.right);
    QFont shown = titleFont;
    shown.setStrikeOut(r.isStruck);
    painter->setFont(shown);
    painter->setPen(r.isStruck ? theme::kSoftInk : theme::kInk);
    painter->drawText(QRect(textLeft, top, right - rightWidth - textLeft, lineHeight), Qt::AlignLeft | Qt::AlignVCenter,
                      cutTitle(QFontMetrics(titleFont), r.title, right - rightWidth - textLeft));
    if (isTwoLines) {
        const QFont small = theme::font(11), loud = theme::font(11, 700);
        const int loudWidth = r.loud.isEmpty() ? 0 : QFontMetrics(loud).horizontalAdvance(r.loud) + 4;
        const QString text = elided(small, r.subtitle, right - textLeft - loudWidth - 10);
        const int textWidth = QFontMetrics(small).horizontalAdvance(text);
        painter->setFont(small);
        painter->setPen(theme::kSoftInk);
        painter->drawText(QRect(textLeft, top + 20, textWidth + 2, 18), Qt::AlignLeft | Qt::AlignVCenter, text);
        if (!r.loud.isEmpty()) {
            const int gap = text.isEmpty() ? 0 : QFontMetrics(small).horizontalAdvance(" · ");
            if (gap > 0)
                painter->drawText(QRect(textLeft + textWidth, top + 20, gap, 18), Qt::AlignVCenter, " · ");
            painter->setFont(loud);
            painter->setPen(theme::kAction);
            painter->drawText(QRect(textLeft + textWidth + gap, top + 20, loudWidth, 18), Qt::AlignVCenter, r.loud);
        }
    }
    if ((option.state & QStyle::State_HasFocus) != 0 && isChosen) {
        painter->setPen(QPen(theme::kFocus, 1));
        painter->drawRect(box.adjusted(0, 0, -1, -1));
    }
    painter->restore();
}

} // namespace wendrix::app
