#include "shell/storey_ladder.h"

#include "shell/theme.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>
#include <numeric>

namespace wendrix::app {

namespace {

constexpr int kTop = 90, kBottom = 110, kNear = 22, kLineHeight = 15, kShort = 4;

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

int StoreyLadder::rungAt(int y) const
{
    int best = -1, distance = kNear;
    for (int i = 0; i < rungs_.size(); ++i)
        if (const int d = std::abs(yOf(i) + 8 - y); d < distance) {
            distance = d;
            best = i;
        }
    return best;
}

QRect StoreyLadder::nameRect(int rung) const
{
    const bool isBelow = counts_.value(rungs_[rung].name) > 0 && shortName(rungs_[rung].name).size() > kShort;
    return QRect(7, yOf(rung) + 3, 40, isBelow ? 2 * kLineHeight : kLineHeight);
}

QVector<bool> StoreyLadder::whichAreNamed() const
{
    QVector<int> order(rungs_.size());
    std::iota(order.begin(), order.end(), 0);
    const int last = static_cast<int>(rungs_.size()) - 1;
    const auto rank = [&](int i) { return rungs_[i].name == chosen_ ? 2 : i == 0 || i == last ? 1 : 0; };
    std::stable_sort(order.begin(), order.end(), [&](int a, int b) {
        return rank(a) != rank(b) ? rank(a) > rank(b) : counts_.value(rungs_[a].name) > counts_.value(rungs_[b].name);
    });
    QVector<bool> isNamed(rungs_.size(), false);
    for (const int i : order) {
        bool isFree = true;
        for (int k = 0; k < rungs_.size() && isFree; ++k)
            isFree = !isNamed[k] || !nameRect(i).intersects(nameRect(k));
        isNamed[i] = isFree;
    }
    return isNamed;
}

QStringList StoreyLadder::named() const
{
    QStringList names;
    const QVector<bool> isNamed = whichAreNamed();
    for (int i = 0; i < rungs_.size(); ++i)
        if (isNamed[i])
            names.append(rungs_[i].name);
    return names;
}

bool StoreyLadder::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const int rung = rungAt(help->pos().y());
    QString words = toolTip();
    if (rung >= 0) {
        const int count = counts_.value(rungs_[rung].name);
        words = rungs_[rung].name + (count > 0 ? ": " + QString::number(count) : QString()) + "\n" + words;
    }
    QToolTip::showText(help->globalPos(), words, this);
    return true;
}

void StoreyLadder::mousePressEvent(QMouseEvent* event)
{
    if (const int best = rungAt(static_cast<int>(event->position().y())); best >= 0)
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
    const QVector<bool> isNamed = whichAreNamed();
    for (int i = 0; i < rungs_.size(); ++i) {
        const int y = yOf(i), count = counts_.value(rungs_[i].name);
        const bool isChosen = rungs_[i].name == chosen_;
        if (isChosen)
            p.fillRect(QRect(1, y - 3, width() - 2, 26), theme::kChosenRow);
        p.setPen(QPen(isChosen ? theme::kAction : theme::kInk, isChosen ? 3 : isNamed[i] ? 2 : 1));
        p.drawLine(isNamed[i] ? 7 : 19, y, isNamed[i] ? 47 : 35, y);
        if (!isNamed[i]) { // that there is something is said by a dot
            if (count > 0) {
                p.setPen(Qt::NoPen);
                p.setBrush(theme::kInk);
                p.drawEllipse(QPointF(42, y), 2, 2);
            }
            continue;
        }
        const QRect name = nameRect(i);
        p.setPen(theme::kInk);
        p.setFont(theme::font(11, isChosen ? 700 : 400));
        p.drawText(QRect(name.left(), name.top(), name.width(), kLineHeight), Qt::AlignLeft | Qt::AlignVCenter,
                   shortName(rungs_[i].name));
        if (count > 0) {
            p.setFont(theme::font(11, 700));
            p.drawText(QRect(name.left(), name.bottom() - kLineHeight + 1, name.width(), kLineHeight),
                       Qt::AlignRight | Qt::AlignVCenter, QString::number(count));
        }
    }
    if (hasFocus()) {
        p.setPen(QPen(theme::kFocus, 2));
        p.drawRect(rect().adjusted(1, 1, -2, -2));
    }
}

} // namespace wendrix::app
