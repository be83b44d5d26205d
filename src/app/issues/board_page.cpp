#include "issues/board_page.h"

#include "core/base/who_and_when.h"
#include "issues/issue_rows.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QVBoxLayout>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr int kHead = 34, kCard = 66, kGap = 6, kNarrowest = 150;

} // namespace

BoardView::BoardView(QWidget* parent) : QAbstractScrollArea(parent)
{
    setObjectName("board");
    setFocusPolicy(Qt::StrongFocus);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAsNeeded);
    verticalScrollBar()->setSingleStep(kCard / 2);
    viewport()->setMouseTracking(false);
}

double BoardView::columnWidth() const
{
    return std::max<double>(kNarrowest, static_cast<double>(viewport()->width()) / std::max(1, columns()));
}

void BoardView::setList(std::shared_ptr<const project::IssueList> list)
{
    list_ = std::move(list);
    if (!placeOf(chosen_).isCard())
        chosen_.clear();
    fitBar();
    viewport()->update();
}

void BoardView::fitBar()
{
    std::size_t most = 0;
    for (const auto& [status, issues] : list_->byStatus())
        most = std::max(most, issues.size());
    const int height = kHead + static_cast<int>(most) * (kCard + kGap) + kGap;
    verticalScrollBar()->setRange(0, std::max(0, height - viewport()->height()));
    verticalScrollBar()->setPageStep(viewport()->height());
    horizontalScrollBar()->setRange(0, std::max(0, static_cast<int>(columnWidth() * columns()) - viewport()->width()));
    horizontalScrollBar()->setPageStep(viewport()->width());
}

void BoardView::resizeEvent(QResizeEvent*) { fitBar(); }

QRect BoardView::rectOf(Place place) const
{
    const int left = static_cast<int>(place.column * columnWidth()) - horizontalScrollBar()->value();
    return {left + kGap, kHead + kGap + place.row * (kCard + kGap) - verticalScrollBar()->value(),
            static_cast<int>(columnWidth()) - 2 * kGap, kCard};
}

BoardView::Place BoardView::at(QPoint point) const
{
    Place place;
    const int column = static_cast<int>((point.x() + horizontalScrollBar()->value()) / columnWidth());
    if (column < 0 || column >= columns())
        return place;
    place.column = column;
    const int y = point.y() + verticalScrollBar()->value() - kHead - kGap;
    const int row = y / (kCard + kGap);
    if (point.y() > kHead && y >= 0 && y % (kCard + kGap) < kCard &&
        row < static_cast<int>(list_->byStatus()[static_cast<std::size_t>(column)].second.size()))
        place.row = row;
    return place;
}

QString BoardView::idOf(Place place) const
{
    if (!place.isCard())
        return {};
    const std::size_t issue =
        list_->byStatus()[static_cast<std::size_t>(place.column)].second[static_cast<std::size_t>(place.row)];
    return q(list_->issues()[issue].uuid);
}

BoardView::Place BoardView::placeOf(const QString& uuid) const
{
    const std::string wanted = uuid.toStdString();
    if (wanted.empty())
        return {};
    for (int c = 0; c < columns(); ++c) {
        const auto& issues = list_->byStatus()[static_cast<std::size_t>(c)].second;
        for (int r = 0; r < static_cast<int>(issues.size()); ++r)
            if (list_->issues()[issues[static_cast<std::size_t>(r)]].uuid == wanted)
                return {c, r};
    }
    return {};
}

QRect BoardView::cardRect(const QString& uuid) const
{
    const Place place = placeOf(uuid);
    return place.isCard() ? rectOf(place) : QRect();
}

QRect BoardView::columnRect(const QString& status) const
{
    for (int c = 0; c < columns(); ++c)
        if (list_->byStatus()[static_cast<std::size_t>(c)].first.name == status.toStdString())
            return {static_cast<int>(c * columnWidth()) - horizontalScrollBar()->value(), 0,
                    static_cast<int>(columnWidth()), viewport()->height()};
    return {};
}

bool BoardView::mayGo(int column) const
{
    const std::string& status = list_->byStatus()[static_cast<std::size_t>(column)].first.name;
    return std::find(allowed_.begin(), allowed_.end(), status) != allowed_.end();
}

void BoardView::choose(const QString& uuid)
{
    chosen_ = uuid;
    show(placeOf(uuid));
    viewport()->update();
}

void BoardView::show(Place place)
{
    if (!place.isCard())
        return;
    const QRect box = rectOf(place);
    if (box.top() < kHead)
        verticalScrollBar()->setValue(verticalScrollBar()->value() + box.top() - kHead - kGap);
    if (box.bottom() > viewport()->height())
        verticalScrollBar()->setValue(verticalScrollBar()->value() + box.bottom() - viewport()->height() + kGap);
}

void BoardView::step(int by)
{
    Place place = placeOf(chosen_);
    if (!place.isCard()) {
        for (int c = 0; c < columns() && !place.isCard(); ++c)
            if (!list_->byStatus()[static_cast<std::size_t>(c)].second.empty())
                place = {c, 0};
    } else {
        place.row =
            std::clamp(place.row + by, 0,
                       static_cast<int>(list_->byStatus()[static_cast<std::size_t>(place.column)].second.size()) - 1);
    }
    if (!place.isCard())
        return;
    choose(idOf(place));
    emit cardChosen(chosen_);
}

void BoardView::keyPressEvent(QKeyEvent* event)
{
    const int aside = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (event->key() == Qt::Key_Down || event->key() == Qt::Key_Up)
        return step(event->key() == Qt::Key_Down ? 1 : -1);
    Place place = placeOf(chosen_);
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && place.isCard())
        return emit cardOpened(chosen_);
    if (aside == 0)
        return QAbstractScrollArea::keyPressEvent(event);
    if (!place.isCard())
        return step(0);
    if ((event->modifiers() & Qt::ShiftModifier) != 0) {
        allowed_ = moves_ ? moves_(chosen_) : std::vector<std::string>{};
        for (int c = place.column + aside; c >= 0 && c < columns(); c += aside)
            if (mayGo(c)) {
                emit moveWanted(chosen_, q(list_->byStatus()[static_cast<std::size_t>(c)].first.name));
                return;
            }
        return;
    }
    for (int c = place.column + aside; c >= 0 && c < columns(); c += aside)
        if (const auto& issues = list_->byStatus()[static_cast<std::size_t>(c)].second; !issues.empty()) {
            choose(idOf({c, std::min(place.row, static_cast<int>(issues.size()) - 1)}));
            emit cardChosen(chosen_);
            return;
        }
}

void BoardView::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton)
        return;
    setFocus();
    held_ = idOf(at(event->pos()));
    pressed_ = hand_ = event->pos();
    isDragging_ = false;
    if (held_.isEmpty())
        return;
    chosen_ = held_;
    viewport()->update();
    emit cardChosen(held_);
}

void BoardView::mouseMoveEvent(QMouseEvent* event)
{
    if (held_.isEmpty() || (event->buttons() & Qt::LeftButton) == 0)
        return;
    hand_ = event->pos();
    if (!isDragging_ && (hand_ - pressed_).manhattanLength() > 8) {
        isDragging_ = true;
        allowed_ = moves_ ? moves_(held_) : std::vector<std::string>{};
    }
    if (isDragging_)
        viewport()->update();
}

void BoardView::mouseReleaseEvent(QMouseEvent* event)
{
    const QString moved = std::exchange(held_, {});
    if (!std::exchange(isDragging_, false))
        return;
    const Place place = at(event->pos());
    if (place.column >= 0 && place.column != placeOf(moved).column)
        emit moveWanted(moved, q(list_->byStatus()[static_cast<std::size_t>(place.column)].first.name));
    viewport()->update();
}

void BoardView::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (const QString uuid = idOf(at(event->pos())); !uuid.isEmpty())
        emit cardOpened(uuid);
}

void BoardView::paintCard(QPainter& painter, const QRect& box, const project::IssueRow& r, bool isChosen) const
{
    painter.setPen(isChosen ? QPen(theme::kFocus, 2) : QPen(theme::kLine));
    painter.setBrush(theme::kPanel);
    painter.drawRoundedRect(box.adjusted(0, 0, -1, -1), 4, 4);
    const QRect inner = box.adjusted(10, 7, -10, -7);
    painter.setFont(theme::font(12, 600));
    painter.setPen(theme::kInk);
    painter.drawText(QRect(inner.left(), inner.top(), inner.width(), 18), Qt::AlignLeft | Qt::AlignVCenter,
                     cutTitle(painter.fontMetrics(), q(r.issue.title), inner.width()));
    painter.setFont(theme::font(11));
    painter.setPen(theme::kSoftInk);
    const QString number =
        q(project::IssuesBook::numberInWords(r.issue.prefix, r.issue.number)) + " · " + q(r.issue.assignee, "nobody");
    painter.drawText(QRect(inner.left(), inner.top() + 18, inner.width(), 16), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(number, Qt::ElideRight, inner.width()));
    QString below = q(r.says.inShort());
    const QRect last(inner.left(), inner.top() + 34, inner.width(), 16);
    const QString loud = r.canBeClosed ? QString("can be closed")
                         : r.isOverdue ? "late, due " + q(dayInWords(r.issue.dueAt))
                                       : QString();
    if (loud.isEmpty() && below.isEmpty() && !r.issue.dueAt.empty())
        below = "due " + q(dayInWords(r.issue.dueAt));
    painter.drawText(last, Qt::AlignLeft | Qt::AlignVCenter, below);
    painter.setPen(theme::kAction);
    painter.setFont(theme::font(11, 600));
    painter.drawText(last, Qt::AlignRight | Qt::AlignVCenter, loud);
}

void BoardView::paintEvent(QPaintEvent*)
{
    QPainter painter(viewport());
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(viewport()->rect(), theme::kPaper);
    const double width = columnWidth();
    for (int c = 0; c < columns(); ++c) {
        const auto& [status, issues] = list_->byStatus()[static_cast<std::size_t>(c)];
        const int left = static_cast<int>(c * width) - horizontalScrollBar()->value();
        const QRect column(left, 0, static_cast<int>(width), viewport()->height());
        if (isDragging_ && !mayGo(c) && c != placeOf(held_).column)
            painter.fillRect(column.adjusted(1, kHead, -1, 0), QBrush(theme::kLine, Qt::BDiagPattern));
        if (isDragging_ && column.contains(hand_) && mayGo(c)) {
            QColor tone = theme::kFocus;
            tone.setAlpha(40);
            painter.fillRect(column, tone);
        }
        const int firstRow = std::max(0, (verticalScrollBar()->value() - kGap) / (kCard + kGap));
        for (int r = firstRow; r < static_cast<int>(issues.size()); ++r) {
            const QRect box = rectOf({c, r});
            if (box.top() > viewport()->height())
                break;
            const std::size_t issue = issues[static_cast<std::size_t>(r)];
            if (isDragging_ && q(list_->issues()[issue].uuid) == held_)
                continue;
            paintCard(painter, box, list_->rowOfIssue(issue), q(list_->issues()[issue].uuid) == chosen_);
        }
        painter.fillRect(QRect(left, 0, static_cast<int>(width), kHead), theme::kPaper);
        paintMark(painter, QRectF(left + kGap, 0, 24, kHead), markOf(status.shape), {}, theme::kInk);
        painter.setFont(theme::font(12, 600));
        painter.setPen(theme::kInk);
        painter.drawText(QRect(left + 34, 0, static_cast<int>(width) - 80, kHead), Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(q(status.name, "No status"), Qt::ElideRight,
                                                          static_cast<int>(width) - 80));
        painter.setFont(theme::font(12));
        painter.setPen(theme::kSoftInk);
        painter.drawText(QRect(left, 0, static_cast<int>(width) - 2 * kGap, kHead), Qt::AlignRight | Qt::AlignVCenter,
                         QString::number(issues.size()));
        painter.setPen(theme::kLine);
        if (c > 0)
            painter.drawLine(left, 0, left, viewport()->height());
        painter.drawLine(left, kHead, left + static_cast<int>(width), kHead);
        if (issues.empty() && !isDragging_) {
            painter.setPen(theme::kSoftInk);
            painter.setFont(theme::font(11));
            painter.drawText(QRect(left, kHead + 12, static_cast<int>(width), 20), Qt::AlignCenter, "none");
        }
    }
    if (isDragging_)
        if (const Place place = placeOf(held_); place.isCard()) {
            const std::size_t issue =
                list_->byStatus()[static_cast<std::size_t>(place.column)].second[static_cast<std::size_t>(place.row)];
            paintCard(painter, rectOf(place).translated(hand_ - pressed_), list_->rowOfIssue(issue), true);
        }
}

BoardPage::BoardPage(QWidget* parent)
    : QWidget(parent), view_(new BoardView), caption_(new QLabel), titleRow_(new QHBoxLayout)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 0);
    column->setSpacing(6);
    auto* title = new QLabel("Issues by status");
    title->setFont(theme::font(15, 600));
    titleRow_->addWidget(title);
    titleRow_->addStretch();
    column->addLayout(titleRow_);
    caption_->setFont(theme::font(11));
    caption_->setStyleSheet("color:#5F6B70");
    caption_->setWordWrap(true);
    column->addWidget(caption_);
    column->addWidget(view_, 1);
}

void BoardPage::setCaption(const QString& words) { caption_->setText(words); }

void BoardPage::addButton(QWidget* button) { titleRow_->addWidget(button); }

} // namespace wendrix::app
