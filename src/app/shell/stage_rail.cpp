#include "shell/stage_rail.h"

#include "shell/theme.h"

#include <QAbstractButton>
#include <QPainter>
#include <QVBoxLayout>

namespace wendrix::app {

class StageButton final : public QAbstractButton {
public:
    StageButton(const QString& title, QString iconName) : iconName_(std::move(iconName))
    {
        setText(title);
        setObjectName("stage-" + title.toLower());
        setCheckable(true);
        setFixedSize(76, 62);
        setFocusPolicy(Qt::TabFocus);
        setCursor(Qt::PointingHandCursor);
    }
    void setWaiting(int count)
    {
        waiting_ = count;
        setAccessibleName(text() + (count > 0 ? ", " + QString::number(count) + " waiting" : ""));
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const QColor ink = isChecked() ? theme::kPetrol : QColor(0xDC, 0xE6, 0xE5);
        if (isChecked())
            p.fillRect(rect(), theme::kPaper);
        else if (underMouse())
            p.fillRect(rect(), QColor(255, 255, 255, 18));
        p.drawPixmap(28, 12, theme::icon(iconName_, ink, 20, devicePixelRatioF()));
        p.setFont(theme::font(11, isChecked() ? 700 : 400));
        p.setPen(ink);
        p.drawText(QRect(0, 36, width(), 18), Qt::AlignCenter, text());
        if (waiting_ > 0) {
            p.setFont(theme::font(10, 700));
            const QString words = waiting_ > 999 ? "999+" : QString::number(waiting_);
            const int w = std::max(18, QFontMetrics(p.font()).horizontalAdvance(words) + 10);
            const QRect badge(width() - w - 8, 6, w, 15);
            p.setPen(Qt::NoPen);
            p.setBrush(theme::kAction);
            p.drawRoundedRect(badge, 7.5, 7.5);
            p.setPen(Qt::white);
            p.drawText(badge, Qt::AlignCenter, words);
        }
        if (hasFocus()) {
            p.setPen(QPen(QColor(0x8F, 0xD0, 0xD6), 2));
            p.setBrush(Qt::NoBrush);
            p.drawRect(rect().adjusted(2, 2, -2, -2));
        }
    }

private:
    QString iconName_;
    int waiting_ = 0;
};

StageRail::StageRail(QWidget* parent) : QWidget(parent)
{
    setFixedWidth(76);
    layout_ = new QVBoxLayout(this);
    layout_->setContentsMargins(0, 8, 0, 0);
    layout_->setSpacing(0);
    layout_->addStretch();
}

void StageRail::addStage(const QString& title, const QString& iconName)
{
    auto* button = new StageButton(title, iconName);
    const int index = static_cast<int>(buttons_.size());
    button->setToolTip(QString("%1 (Alt+%2)").arg(title).arg(index + 1));
    connect(button, &QAbstractButton::clicked, this, [this, index] { emit stageChosen(index); });
    buttons_.append(button);
    layout_->insertWidget(index, button);
}

void StageRail::setCurrent(int index)
{
    for (int i = 0; i < buttons_.size(); ++i)
        buttons_[i]->setChecked(i == index);
}

void StageRail::setWaiting(int index, int count) { buttons_[index]->setWaiting(count); }

void StageRail::paintEvent(QPaintEvent*) { QPainter(this).fillRect(rect(), theme::kPetrol); }

} // namespace wendrix::app
