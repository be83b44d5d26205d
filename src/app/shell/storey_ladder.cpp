#include "shell/storey_ladder.h"

#include "shell/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace wendrix::app {

namespace {

constexpr int kTop = 90, kBottom = 110, kNear = 22;

/// "Level 2" has no room: "L2".
QString shortName(const QString& name)
{
    const QString number = name.section(' ', -1);
    bool isNumber = false;
    number.toInt(&isNumber);
    return isNumber && name.contains(' ') ? name.left(1) + number : name.left(7);
}

} // namespace

StoreyLadder::StoreyLadder(QWidget* parent) : QWidget(parent)
{
    setObjectName("ladder");
    setFixedWidth(54);
    setFocusPolicy(Qt::TabFocus);
    setToolTip("Click a storey to see only it; double-click for all");
}

void StoreyLadder::setRungs(QVector<Rung> rungs)
{
    rungs_ = std::move(rungs);
    update();
}

void StoreyLadder::setCounts(QMap<QString, int> counts)
{
    counts_ = std::move(counts);
    update();
}

void StoreyLadder::setChosen(const QString& storey)
{
    chosen_ = storey;
    update();
}

int StoreyLadder::yOf(int rung) const
{
    const double low = rungs_.first().height, high = rungs_.last().height;
    const double share = high > low ? (rungs_[rung].height - low) / (high - low) : 0.5;
    return static_cast<int>(height() - kBottom - share * (height() - kTop - kBottom));
}

QRect StoreyLadder::areaOf(const QString& storey) const
{
    for (int i = 0; i < rungs_.size(); ++i)
        if (rungs_[i].name == storey)
            return QRect(0, yOf(i) - 4, width(), kNear + 6);
    return {};
}

void StoreyLadder::mousePressEvent(QMouseEvent* event)
{
    int best = -1, distance = kNear;
    for (int i = 0; i < rungs_.size(); ++i)
        if (const int d = std::abs(yOf(i) + 8 - static_cast<int>(event->position().y())); d < distance) {
            distance = d;
            best = i;
        }
    if (best >= 0)
        emit storeyChosen(rungs_[best].name == chosen_ ? QString() : rungs_[best].name);
}

void StoreyLadder::mouseDoubleClickEvent(QMouseEvent*) { emit storeyChosen({}); }

void StoreyLadder::keyPressEvent(QKeyEvent* event)
{
    int now = -1;
    for (int i = 0; i < rungs_.size(); ++i)
        if (rungs_[i].name == chosen_)
            now = i;
    const int count = static_cast<int>(rungs_.size());
    if (event->key() == Qt::Key_Up && count > 0)
        emit storeyChosen(rungs_[std::min(now + 1, count - 1)].name);
    else if (event->key() == Qt::Key_Down && count > 0)
        emit storeyChosen(rungs_[now < 0 ? count - 1 : std::max(now - 1, 0)].name);
    else if (event->key() == Qt::Key_Escape)
        emit storeyChosen({});
    else
        QWidget::keyPressEvent(event);
}

void StoreyLadder::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.fillRect(rect(), QColor(0xFB, 0xF9, 0xF4));
    p.setPen(theme::kLine);
    p.drawLine(0, 0, 0, height());
    p.drawLine(width() - 1, 0, width() - 1, height());
    if (rungs_.isEmpty())
        return;
    p.drawLine(27, yOf(static_cast<int>(rungs_.size()) - 1), 27, yOf(0) + 26);
    for (int i = 0; i < rungs_.size(); ++i) {
        const int y = yOf(i), count = counts_.value(rungs_[i].name);
        const bool isChosen = rungs_[i].name == chosen_;
        if (isChosen)
            p.fillRect(QRect(1, y - 3, width() - 2, 26), theme::kChosenRow);
        p.setPen(QPen(isChosen ? theme::kAction : theme::kInk, isChosen ? 3 : 2));
        p.drawLine(7, y, 47, y);
        p.setPen(theme::kInk);
        p.setFont(theme::font(11, isChosen ? 700 : 400));
        p.drawText(QRect(7, y + 3, 40, 16), Qt::AlignLeft | Qt::AlignVCenter, shortName(rungs_[i].name));
        if (count > 0) {
            p.setFont(theme::font(11, 700));
            p.drawText(QRect(7, shortName(rungs_[i].name).size() > 4 ? y + 17 : y + 3, 40, 16), Qt::AlignRight | Qt::AlignVCenter,
                       QString::number(count));
        }
    }
    if (hasFocus()) {
        p.setPen(QPen(theme::kFocus, 2));
        p.drawRect(rect().adjusted(1, 1, -2, -2));
    }
}

} // namespace wendrix::app
