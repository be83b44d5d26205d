#include "shell/composition_bar.h"

#include "shell/rows.h"
#include "shell/theme.h"

#include <QAbstractButton>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QTextDocument>

namespace wendrix::app {

namespace {

class MemberChip final : public QAbstractButton {
public:
    explicit MemberChip(CompositionBar::Chip chip) : chip_(std::move(chip))
    {
        setText(chip_.words);
        setToolTip(chip_.tip);
        setObjectName("member-" + chip_.discipline);
        setFocusPolicy(Qt::TabFocus);
        setFixedSize(QFontMetrics(theme::font(12, 600)).horizontalAdvance(chip_.words) + 38, 20);
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(hasFocus() ? theme::kFocus : chip_.isBehind ? theme::kAction : theme::kLine, hasFocus() ? 2 : 1));
        p.setBrush(chip_.isShown ? theme::kPanel : theme::kPaper);
        p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
        paintMark(p, QRectF(4, 0, 18, height()), Mark::Swatch, "", chip_.isShown ? chip_.colour : theme::kLine);
        QFont font = theme::font(12, chip_.isBehind ? 600 : 400);
        font.setStrikeOut(!chip_.isShown);
        p.setFont(font);
        p.setPen(chip_.isBehind ? theme::kAction : chip_.isShown ? theme::kInk : theme::kSoftInk);
        p.drawText(rect().adjusted(24, 0, -6, 0), Qt::AlignVCenter, chip_.words);
    }

private:
    CompositionBar::Chip chip_;
};

} // namespace

CompositionBar::CompositionBar(QWidget* parent) : QWidget(parent)
{
    setFixedHeight(30);
    setAutoFillBackground(true);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(10, 0, 10, 0);
    layout->setSpacing(8);
    chips_ = new QHBoxLayout;
    chips_->setSpacing(6);
    layout->addLayout(chips_);
    layout->addStretch();
    words_ = new QLabel;
    words_->setObjectName("message");
    words_->setFont(theme::font(11));
    words_->setTextFormat(Qt::PlainText);
    layout->addWidget(words_, 2, Qt::AlignRight | Qt::AlignVCenter);
    cancel_ = new QPushButton("Cancel");
    cancel_->setObjectName("cancelWork");
    cancel_->setFixedHeight(20);
    cancel_->setStyleSheet("padding: 0 8px; font-size: 11px;");
    cancel_->hide();
    connect(cancel_, &QPushButton::clicked, this, &CompositionBar::cancelled);
    layout->addWidget(cancel_);
    place_ = new QLabel;
    place_->setObjectName("place");
    place_->setFont(theme::font(11));
    place_->setStyleSheet("color:#5F6B70");
    layout->addWidget(place_);
}

void CompositionBar::setChips(const QVector<Chip>& chips)
{
    while (QLayoutItem* item = chips_->takeAt(0)) {
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    for (const Chip& chip : chips) {
        auto* button = new MemberChip(chip);
        connect(button, &QAbstractButton::clicked, this, [this, name = chip.discipline] { emit chipClicked(name); });
        chips_->addWidget(button);
    }
}

void CompositionBar::setProgress(const QString& what, int percent)
{
    words_->setStyleSheet("color:#2B7A84");
    words_->setText(QString("%1, %2 %").arg(what).arg(percent));
    cancel_->show();
}

void CompositionBar::setIdle()
{
    cancel_->hide();
    if (words_->text().endsWith(" %"))
        words_->clear();
}

void CompositionBar::say(const QString& words, bool isProblem)
{
    words_->setStyleSheet(isProblem ? "color:#C8501E; font-weight:600" : "color:#1F2B30");
    words_->setText(QFontMetrics(words_->font()).elidedText(words, Qt::ElideRight, std::max(300, width() / 2)));
    words_->setToolTip(Qt::convertFromPlainText(words));
    words_->setAccessibleDescription(words);
}

void CompositionBar::setPlace(const QString& words) { place_->setText(words); }

} // namespace wendrix::app
