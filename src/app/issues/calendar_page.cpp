#include "issues/calendar_page.h"

#include "issues/issue_rows.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

constexpr int kHead = 22, kWeeks = 6;

} // namespace

CalendarView::CalendarView(QWidget* parent) : QWidget(parent)
{
    setObjectName("dueCalendar");
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(300);
}

void CalendarView::setList(std::shared_ptr<const project::IssueList> list, QDate today)
{
    list_ = std::move(list);
    today_ = today;
    if (!day_.isValid())
        day_ = today;
    due_.clear();
    for (const auto& [status, issues] : list_->byStatus())
        for (const std::size_t issue : issues)
            if (const QDate day = QDate::fromString(q(list_->issues()[issue].dueAt.substr(0, 10)), Qt::ISODate);
                day.isValid())
                due_[day].push_back(issue);
    update();
}

void CalendarView::setDay(QDate day)
{
    day_ = day;
    update();
    emit dayChosen(day);
}

int CalendarView::dueOn(QDate day) const
{
    const auto found = due_.find(day);
    return found == due_.end() ? 0 : static_cast<int>(found->second.size());
}

QDate CalendarView::firstShown() const
{
    const QDate first(day_.year(), day_.month(), 1);
    return first.addDays(1 - first.dayOfWeek());
}

QRect CalendarView::dayRect(QDate day) const
{
    const int number = static_cast<int>(firstShown().daysTo(day));
    if (number < 0 || number >= 7 * kWeeks)
        return {};
    const double w = width() / 7.0, h = (height() - kHead) / static_cast<double>(kWeeks);
    return QRectF((number % 7) * w, kHead + (number / 7) * h, w, h).toRect();
}

QDate CalendarView::at(QPoint point) const
{
    if (point.y() < kHead)
        return {};
    const int column = static_cast<int>(point.x() / (width() / 7.0)),
              row = static_cast<int>((point.y() - kHead) / ((height() - kHead) / static_cast<double>(kWeeks)));
    return firstShown().addDays(row * 7 + column);
}

void CalendarView::mousePressEvent(QMouseEvent* event)
{
    if (const QDate day = at(event->pos()); day.isValid())
        setDay(day);
    setFocus();
}

void CalendarView::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (const QDate day = at(event->pos()); day.isValid())
        emit dayOpened(day);
}

void CalendarView::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Left:
        return setDay(day_.addDays(-1));
    case Qt::Key_Right:
        return setDay(day_.addDays(1));
    case Qt::Key_Up:
        return setDay(day_.addDays(-7));
    case Qt::Key_Down:
        return setDay(day_.addDays(7));
    case Qt::Key_PageUp:
        return setDay(day_.addMonths(-1));
    case Qt::Key_PageDown:
        return setDay(day_.addMonths(1));
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return emit dayOpened(day_);
    default:
        QWidget::keyPressEvent(event);
    }
}

void CalendarView::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::kPaper);
    painter.setFont(theme::font(11));
    const QLocale english(QLocale::English);
    for (int d = 0; d < 7; ++d) {
        painter.setPen(theme::kSoftInk);
        painter.drawText(QRectF(d * width() / 7.0 + 8, 0, width() / 7.0, kHead), Qt::AlignLeft | Qt::AlignVCenter,
                         english.dayName(d + 1, QLocale::ShortFormat));
    }
    for (int n = 0; n < 7 * kWeeks; ++n) {
        const QDate day = firstShown().addDays(n);
        const QRect box = dayRect(day);
        const bool isOther = day.month() != day_.month();
        painter.fillRect(box.adjusted(0, 0, -1, -1), isOther ? theme::kPaper : theme::kPanel);
        painter.setPen(theme::kLine);
        painter.drawRect(box.adjusted(0, 0, -1, -1));
        const QRect inner = box.adjusted(8, 5, -6, -4);
        painter.setFont(theme::font(11, day == today_ ? 700 : 400));
        painter.setPen(day == today_ ? theme::kAction : isOther ? theme::kSoftInk : theme::kInk);
        painter.drawText(inner, Qt::AlignTop | Qt::AlignLeft,
                         day == today_ ? QString("%1 today").arg(day.day()) : QString::number(day.day()));
        if (const auto due = due_.find(day); due != due_.end()) {
            int y = inner.top() + 18;
            const int lines = std::max(1, (inner.bottom() - y) / 16);
            const int count = static_cast<int>(due->second.size());
            const int shown = count <= lines ? count : lines - 1;
            for (int i = 0; i < shown; ++i, y += 16) {
                const project::IssueRow r = list_->rowOfIssue(due->second[static_cast<std::size_t>(i)]);
                paintMark(painter, QRectF(inner.left() - 2, y, 14, 15), markOf(r.status.shape), {},
                          r.isOverdue ? theme::kAction : theme::kInk);
                painter.setFont(theme::font(11));
                painter.setPen(r.isOverdue ? theme::kAction : theme::kInk);
                const QRect words(inner.left() + 15, y, inner.width() - 15, 15);
                painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
                                 cutTitle(painter.fontMetrics(), q(r.issue.title), words.width()));
            }
            if (shown < count) {
                painter.setFont(theme::font(11));
                painter.setPen(theme::kSoftInk);
                painter.drawText(QRect(inner.left(), y, inner.width(), 15), Qt::AlignLeft | Qt::AlignVCenter,
                                 shown == 0 ? QString("%1 due").arg(count) : QString("and %1 more").arg(count - shown));
            }
        }
        if (day == day_) {
            painter.setPen(QPen(theme::kFocus, 2));
            painter.drawRect(box.adjusted(1, 1, -2, -2));
        }
    }
}

CalendarPage::CalendarPage(QWidget* parent)
    : QWidget(parent), view_(new CalendarView), month_(new QLabel), titleRow_(new QHBoxLayout)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 6);
    column->setSpacing(6);
    month_->setFont(theme::font(15, 600));
    month_->setObjectName("dueMonth");
    titleRow_->addWidget(month_);
    for (const auto& [name, words, months] :
         {std::tuple{"monthBefore", "Before", -1}, std::tuple{"monthAfter", "After", 1}}) {
        auto* turn = new QPushButton(words);
        turn->setObjectName(name);
        connect(
            turn, &QPushButton::clicked, this,
            [this, months = months] { view_->setDay(view_->day().addMonths(months)); }, Qt::QueuedConnection);
        titleRow_->addWidget(turn);
    }
    titleRow_->addStretch();
    column->addLayout(titleRow_);
    column->addWidget(view_, 1);
    connect(view_, &CalendarView::dayChosen, this, &CalendarPage::showMonth);
}

void CalendarPage::showMonth()
{
    month_->setText("Due in " + QLocale(QLocale::English).toString(view_->day(), "MMMM yyyy") +
                    QString(", %1 on the %2.").arg(view_->dueOn(view_->day())).arg(view_->day().day()));
}

void CalendarPage::addButton(QWidget* button) { titleRow_->addWidget(button); }

} // namespace wendrix::app
