#include "shell/composition_bar.h"

#include "shell/long_text.h"
#include "shell/rows.h"
#include "shell/theme.h"

#include <QAbstractButton>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QTextDocument>

namespace wendrix::app {

namespace {

constexpr int kLine = 30, kChip = 20, kGap = 6, kMargin = 10, kRoomForWords = 300, kSwatch = 24, kEnd = 8, kLock = 15,
              kShortName = 4;

} // namespace

/// One member: its colour, name and revision, whether it is locked in place, and what must not be overlooked.
class MemberChip final : public QAbstractButton {
public:
    enum class Size { Whole, ShortName, ShortWithSigns, SignsOnly };

    MemberChip(CompositionBar::Chip chip, QWidget* parent) : QAbstractButton(parent), chip_(std::move(chip))
    {
        // The whole of it, however short it is drawn.
        setText(endsOf((QStringList{chip_.discipline + " " + chip_.revision} + chip_.states).join(" · ")));
        setToolTip(tipOf(text() + ". " + chip_.tip));
        setAccessibleName(text());
        setObjectName("member-" + chip_.discipline);
        setFocusPolicy(Qt::TabFocus);
        setSize(Size::Whole);
    }
    [[nodiscard]] bool isLoud() const { return chip_.isLoud; }
    [[nodiscard]] int widthOf(Size size) const
    {
        return kSwatch + QFontMetrics(theme::font(12, isLoud() ? 600 : 400)).horizontalAdvance(words(size)) +
               (chip_.isLocked ? kLock : 0) + kEnd;
    }
    void setSize(Size size)
    {
        size_ = size;
        setFixedSize(widthOf(size), kChip);
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
        const QString name =
            (chip_.discipline.size() > kShortName + 1 ? chip_.discipline.left(kShortName) + "." : chip_.discipline) +
            " " + chip_.revision;
        if (size == Size::ShortName)
            return (QStringList{name} + chip_.states).join(" · ");
        return (size == Size::ShortWithSigns ? name : chip_.revision) + (chip_.signs.isEmpty() ? "" : " ") +
               chip_.signs;
    }

    CompositionBar::Chip chip_;
    Size size_ = Size::Whole;
};

/// A line of words that ends in an ellipsis where there is no room; two lines where there is height for them.
class ElidedLabel final : public QLabel {
public:
    using QLabel::QLabel;
    [[nodiscard]] QSize minimumSizeHint() const override { return {40, QLabel::minimumSizeHint().height()}; }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setPen(palette().color(foregroundRole()));
        if (height() >= 2 * fontMetrics().height() && fontMetrics().horizontalAdvance(text()) > width())
            p.drawText(rect(), Qt::AlignRight | Qt::AlignVCenter | Qt::TextWordWrap,
                       fontMetrics().elidedText(text(), Qt::ElideRight, width() * 2 - 60));
        else
            p.drawText(rect(), Qt::AlignRight | Qt::AlignVCenter,
                       fontMetrics().elidedText(text(), Qt::ElideRight, width()));
    }
};

CompositionBar::CompositionBar(QWidget* parent) : QWidget(parent), side_(new QWidget(this)), words_(new ElidedLabel)
{
    setFixedHeight(kLine);
    setAutoFillBackground(true);
    auto* layout = new QHBoxLayout(side_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    words_->setObjectName("message");
    words_->setFont(theme::font(11));
    words_->setTextFormat(Qt::PlainText);
    layout->addWidget(words_, 1);
    cancel_ = new QPushButton("Cancel");
    cancel_->setObjectName("cancelWork");
    cancel_->setFixedHeight(20);
    cancel_->setStyleSheet("padding: 0 8px; font-size: 11px;");
    cancel_->hide();
    connect(cancel_, &QPushButton::clicked, this, &CompositionBar::askWhichToCancel);
    layout->addWidget(cancel_);
    place_ = new QPushButton;
    place_->setObjectName("place");
    place_->setFont(theme::font(11));
    place_->setFixedHeight(20);
    place_->setStyleSheet(
        "QPushButton{color:#5F6B70; border:none; background:transparent; padding:0 2px; font-size:11px}"
        "QPushButton:focus{border:1px solid #2B7A84}");
    place_->hide();
    connect(place_, &QPushButton::clicked, this, [this] {
        ++reading_;
        showReading();
    });
    layout->addWidget(place_);
}

void CompositionBar::setChips(const QVector<Chip>& chips)
{
    for (MemberChip* chip : members_) {
        chip->hide();
        chip->setObjectName({}); // its name is the next one's
        chip->deleteLater();
    }
    members_.clear();
    for (const Chip& chip : chips) {
        auto* button = new MemberChip(chip, this);
        connect(button, &QAbstractButton::clicked, this, [this, name = chip.discipline] { emit chipClicked(name); });
        button->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(button, &QWidget::customContextMenuRequested, this,
                [this, button, name = chip.discipline](const QPoint& at) {
                    emit chipMenuWanted(name, button->mapToGlobal(at));
                });
        button->show();
        members_.append(button);
    }
    arrange();
}

void CompositionBar::arrange()
{
    using Size = MemberChip::Size;
    // What went wrong has to be read; the chips can do with less meanwhile.
    words_->ensurePolished(); // its weight counts
    const int wanted = words_->fontMetrics().horizontalAdvance(words_->text()) + 40;
    const int side =
        isProblem_ ? std::clamp(wanted, kRoomForWords, std::max(kRoomForWords, width() / 2)) : kRoomForWords;
    const int right = width() - side - kMargin;
    int lines = 1;
    const auto place = [&](int most, Size quiet, Size loud) {
        int x = kMargin;
        lines = 1;
        for (MemberChip* chip : members_) {
            chip->setSize(chip->isLoud() ? loud : quiet);
            if (x + chip->width() > right && x > kMargin) {
                x = kMargin;
                ++lines;
            }
            chip->move(x, (lines - 1) * (kLine - 4) + (kLine - kChip) / 2);
            x += chip->width() + kGap;
        }
        return lines <= most;
    };
    constexpr std::pair<Size, Size> kSizes[] = {{Size::Whole, Size::Whole},
                                                {Size::ShortName, Size::Whole},
                                                {Size::ShortName, Size::ShortName},
                                                {Size::ShortWithSigns, Size::ShortName},
                                                {Size::ShortWithSigns, Size::ShortWithSigns},
                                                {Size::SignsOnly, Size::SignsOnly}};
    bool fits = false;
    for (const auto& [quiet, loud] : {kSizes[0], kSizes[1], kSizes[2]})
        fits = fits || place(1, quiet, loud);
    for (const auto& [quiet, loud] : kSizes)
        fits = fits || place(2, quiet, loud);
    const int high = kLine + (lines - 1) * (kLine - 4);
    int end = kMargin;
    for (const MemberChip* chip : members_)
        end = std::max(end, chip->geometry().right() + 1);
    side_->setGeometry(end + kMargin, 0, std::max(0, width() - end - 2 * kMargin), high);
    if (high != height()) {
        setFixedHeight(high);
        emit heightChanged();
    }
}

void CompositionBar::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    arrange();
}

void CompositionBar::setWork(const QVector<Work>& work)
{
    const bool wasWorking = !work_.isEmpty();
    work_ = work;
    cancel_->setVisible(!work.isEmpty());
    cancel_->setText(work.size() > 1 ? "Cancel…" : "Cancel");
    if (work.isEmpty()) {
        if (wasWorking && words_->text().endsWith(" %"))
            words_->clear();
        return;
    }
    QStringList all;
    for (const Work& w : work)
        all.append(QString("%1, %2 %").arg(w.words).arg(w.percent));
    words_->setStyleSheet("color:#2B7A84");
    words_->setText(endsOf(all.join(" · ")));
    words_->setToolTip(tipOf(all.join("\n")));
    isProblem_ = false;
}

void CompositionBar::askWhichToCancel()
{
    if (work_.size() == 1) {
        emit cancelled(work_[0].id);
        return;
    }
    auto* menu = new QMenu(this);
    menu->setObjectName("cancelWhich");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const Work& w : work_)
        connect(menu->addAction(QString("%1, %2 %").arg(w.words).arg(w.percent)), &QAction::triggered, this,
                [this, id = w.id] { emit cancelled(id); });
    menu->popup(cancel_->mapToGlobal(QPoint(0, -menu->sizeHint().height())));
}

void CompositionBar::say(const QString& words, bool isProblem)
{
    words_->setStyleSheet(isProblem ? "color:#C8501E; font-weight:600" : "color:#1F2B30");
    words_->setText(endsOf(words, kMostInPanel));
    words_->setToolTip(tipOf(words));
    words_->setAccessibleDescription(words);
    isProblem_ = isProblem;
    arrange();
}

void CompositionBar::setPlace(const QStringList& readings)
{
    readings_ = readings;
    showReading();
}

void CompositionBar::showReading()
{
    place_->setVisible(!readings_.isEmpty());
    if (readings_.isEmpty())
        return;
    place_->setText(readings_[reading_ % static_cast<int>(readings_.size())]);
    place_->setToolTip("Where the cursor is; a click tells it in another way:\n" + readings_.join("\n"));
}

} // namespace wendrix::app
