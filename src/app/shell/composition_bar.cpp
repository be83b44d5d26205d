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

constexpr int kRoomForWords = 300, kSwatch = 24, kEnd = 8, kLock = 15, kShortName = 4;

} // namespace

/// One member: its colour, name and revision, whether it is locked in place, and what must not be overlooked.
class MemberChip final : public QAbstractButton {
public:
    enum class Size { Whole, ShortName, SignsOnly };

    explicit MemberChip(CompositionBar::Chip chip) : chip_(std::move(chip))
    {
        // The whole of it, however short it is drawn.
        setText((QStringList{chip_.discipline + " " + chip_.revision} + chip_.states).join(" · "));
        setToolTip(text() + ". " + chip_.tip);
        setAccessibleName(text());
        setObjectName("member-" + chip_.discipline);
        setFocusPolicy(Qt::TabFocus);
        setSize(Size::Whole);
    }
    [[nodiscard]] bool isLoud() const { return !chip_.states.isEmpty(); }
    [[nodiscard]] int widthOf(Size size) const
    {
        return kSwatch + QFontMetrics(theme::font(12, isLoud() ? 600 : 400)).horizontalAdvance(words(size)) + (chip_.isLocked ? kLock : 0) + kEnd;
    }
    void setSize(Size size)
    {
        size_ = size;
        setFixedSize(widthOf(size), 20);
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(hasFocus() ? theme::kFocus : isLoud() ? theme::kAction : theme::kLine, hasFocus() ? 2 : 1));
        p.setBrush(chip_.isShown ? theme::kPanel : theme::kPaper);
        p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
        paintMark(p, QRectF(4, 0, 18, height()), Mark::Swatch, "", chip_.isShown ? chip_.colour : theme::kLine);
        QFont font = theme::font(12, isLoud() ? 600 : 400);
        font.setStrikeOut(!chip_.isShown);
        p.setFont(font);
        p.setPen(isLoud() ? theme::kAction : chip_.isShown ? theme::kInk : theme::kSoftInk);
        p.drawText(rect().adjusted(kSwatch, 0, 0, 0), Qt::AlignVCenter, words(size_));
        if (chip_.isLocked)
            p.drawPixmap(width() - kLock - 3, 4, theme::icon("lock", theme::kSoftInk, 12, devicePixelRatioF()));
    }

private:
    [[nodiscard]] QString words(Size size) const
    {
        if (size == Size::Whole)
            return text();
        const QString name = (chip_.discipline.size() > kShortName + 1 ? chip_.discipline.left(kShortName) + "." : chip_.discipline) + " " + chip_.revision;
        if (size == Size::ShortName)
            return name + (isLoud() ? " · " + chip_.states.join(" · ") : QString());
        return chip_.revision + (isLoud() ? " " + chip_.signs : QString());
    }

    CompositionBar::Chip chip_;
    Size size_ = Size::Whole;
};

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
    members_.clear();
    while (QLayoutItem* item = chips_->takeAt(0)) {
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    for (const Chip& chip : chips) {
        auto* button = new MemberChip(chip);
        connect(button, &QAbstractButton::clicked, this, [this, name = chip.discipline] { emit chipClicked(name); });
        chips_->addWidget(button);
        members_.append(button);
    }
    shorten();
}

void CompositionBar::shorten()
{
    using Size = MemberChip::Size;
    const int room = width() - kRoomForWords;
    const auto fits = [&](Size quiet, Size loud) {
        int sum = 0;
        for (MemberChip* chip : members_) {
            chip->setSize(chip->isLoud() ? loud : quiet);
            sum += chip->width() + chips_->spacing();
        }
        return sum <= room;
    };
    for (const auto& [quiet, loud] : {std::pair{Size::Whole, Size::Whole}, {Size::ShortName, Size::Whole}, {Size::ShortName, Size::ShortName}, {Size::SignsOnly, Size::ShortName}, {Size::SignsOnly, Size::SignsOnly}})
        if (fits(quiet, loud))
            return;
}

void CompositionBar::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    shorten();
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
