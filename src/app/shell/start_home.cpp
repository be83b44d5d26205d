#include "shell/start_home.h"

#include "shell/long_text.h"
#include "shell/theme.h"

#include <QAbstractButton>
#include <QDir>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

constexpr int kCardWidth = 268, kCardHeight = 222, kPicture = 150, kCardsAcross = 3, kBeginWidth = 280,
              kBeginHeight = 72;

/// One project that was open before: its picture, name, where it is, when it was open.
class ProjectCard final : public QAbstractButton {
public:
    explicit ProjectCard(const RecentProjects::Entry& entry)
        : entry_(entry), picture_(RecentProjects::pictureOf(entry.folder))
    {
        setFixedSize(kCardWidth, kCardHeight);
        setFocusPolicy(Qt::StrongFocus);
        setCursor(Qt::PointingHandCursor);
        setAccessibleName(entry.name);
        setToolTip(tipOf(entry.folder));
        setText(entry.name);
        setObjectName("recentProject");
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setRenderHint(QPainter::SmoothPixmapTransform);
        const bool isLit = hasFocus() || underMouse();
        p.setPen(QPen(hasFocus() ? theme::kFocus
                      : isLit    ? QColor(0xC9, 0xC2, 0xB1)
                                 : theme::kLine,
                      hasFocus() ? 2 : 1));
        p.setBrush(theme::kPanel);
        p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
        const QRect box(2, 2, width() - 4, kPicture);
        p.fillRect(box, theme::kPaper);
        if (!picture_.isNull()) {
            const QSize size =
                picture_.size().scaled(box.size(), Qt::KeepAspectRatio); // on paper, like the view it is of
            p.drawPixmap(QRect(QPoint(box.center().x() - size.width() / 2, box.center().y() - size.height() / 2), size),
                         picture_);
        } else {
            p.setPen(theme::kSoftInk);
            p.setFont(theme::font(12));
            p.drawText(box, Qt::AlignCenter, entry_.isThere ? "no picture yet" : "no longer there");
        }
        const QRect words(12, kPicture + 10, width() - 24, 60);
        p.setFont(theme::font(13, 700));
        p.setPen(entry_.isThere ? theme::kInk : theme::kSoftInk);
        p.drawText(words, Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(entry_.name, Qt::ElideRight, words.width()));
        p.setFont(theme::font(11));
        p.setPen(theme::kSoftInk);
        p.drawText(words.adjusted(0, 20, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(QDir::toNativeSeparators(entry_.folder), Qt::ElideMiddle, words.width()));
        p.drawText(words.adjusted(0, 36, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                   "open on " + QLocale(QLocale::English).toString(entry_.opened, "d MMM yyyy, HH:mm"));
    }

private:
    RecentProjects::Entry entry_;
    QPixmap picture_;
};

/// One way to begin: what, and in one sentence what comes of it.
class BeginButton final : public QAbstractButton {
public:
    BeginButton(const QString& name, const QString& words, QString sentence, bool isLoud = false)
        : sentence_(std::move(sentence)), isLoud_(isLoud)
    {
        setObjectName(name);
        setText(words);
        setAccessibleDescription(sentence_);
        setFixedSize(kBeginWidth, kBeginHeight);
        setFocusPolicy(Qt::StrongFocus);
        setCursor(Qt::PointingHandCursor);
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const QColor ink = isLoud_ ? Qt::white : isEnabled() ? theme::kInk : theme::kSoftInk;
        p.setPen(QPen(hasFocus()     ? theme::kFocus
                      : isLoud_      ? theme::kAction
                      : underMouse() ? QColor(0xC9, 0xC2, 0xB1)
                                     : theme::kLine,
                      hasFocus() ? 2 : 1));
        p.setBrush(isLoud_ ? (underMouse() ? theme::kAction.darker(108) : theme::kAction) : theme::kPanel);
        p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
        const QRect inner = rect().adjusted(14, 9, -14, -6);
        p.setFont(theme::font(13, 700));
        p.setPen(ink);
        p.drawText(inner, Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(text(), Qt::ElideMiddle, inner.width()));
        p.setFont(theme::font(12));
        p.setPen(isLoud_ ? Qt::white : theme::kSoftInk);
        p.drawText(inner.adjusted(0, 20, 0, 0), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, sentence_);
    }

private:
    QString sentence_;
    bool isLoud_;
};

QLabel* heading(const QString& words)
{
    auto* label = new QLabel(words);
    label->setFont(theme::font(15, 700));
    return label;
}

} // namespace

StartHome::StartHome(QWidget* parent) : QWidget(parent)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(48);

    auto* left = new QVBoxLayout;
    left->setSpacing(10);
    left->addWidget(heading("Begin"));
    new_ = new BeginButton("newProject", "New project…",
                           "Its disciplines, people and folders; or from a template of another job.", true);
    auto* open = new BeginButton("openProject", "Open a project folder…",
                                 "One that somebody gave you, or that you put elsewhere.");
    demo_ = new BeginButton("openDemo", "Open the demo",
                            "The Marrowfield Seed Store: five made-up teams, three cycles, faults to find.");
    back_ = new BeginButton("backToProject", {}, "It is still open as you left it.");
    for (QAbstractButton* button : {back_, new_, static_cast<QAbstractButton*>(open), demo_})
        left->addWidget(button);
    auto* about =
        new QLabel("Everything stays on this machine: the demo plays the other teams, and nothing is sent anywhere.");
    about->setWordWrap(true);
    about->setFixedWidth(kBeginWidth);
    about->setFont(theme::font(11));
    about->setStyleSheet("color:#5F6B70");
    left->addWidget(about);
    left->addStretch();
    row->addLayout(left);

    auto* right = new QVBoxLayout;
    right->setSpacing(10);
    right->addWidget(heading("Projects you had open"));
    empty_ = new QLabel("None yet. A project is one folder that holds everything: you will find those you opened here, "
                        "with a picture of each.");
    empty_->setWordWrap(true);
    empty_->setStyleSheet("color:#5F6B70");
    right->addWidget(empty_);
    recentBox_ = new QWidget;
    cards_ = new QGridLayout(recentBox_);
    cards_->setContentsMargins(0, 0, 0, 0);
    cards_->setSpacing(16);
    cards_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    auto* scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setWidget(recentBox_);
    scroll->viewport()->setAutoFillBackground(false);
    recentBox_->setAutoFillBackground(false);
    right->addWidget(scroll, 1);
    row->addLayout(right, 1);

    connect(new_, &QAbstractButton::clicked, this, &StartHome::newWanted);
    connect(open, &QAbstractButton::clicked, this, &StartHome::openWanted);
    connect(demo_, &QAbstractButton::clicked, this, &StartHome::demoWanted);
    connect(back_, &QAbstractButton::clicked, this, &StartHome::backWanted);
    back_->hide();
}

void StartHome::setRecent(const QVector<RecentProjects::Entry>& entries)
{
    while (QLayoutItem* item = cards_->takeAt(0)) {
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    for (int i = 0; i < entries.size(); ++i) {
        auto* card = new ProjectCard(entries[i]);
        connect(
            card, &QAbstractButton::clicked, this, [this, folder = entries[i].folder] { emit projectWanted(folder); },
            Qt::QueuedConnection);
        cards_->addWidget(card, i / kCardsAcross, i % kCardsAcross);
    }
    empty_->setVisible(entries.isEmpty());
    recentBox_->setVisible(!entries.isEmpty());
}

void StartHome::setHasDemo(bool hasDemo) { demo_->setEnabled(hasDemo); }

void StartHome::setOpenProject(const QString& name)
{
    back_->setText("Back to " + name);
    back_->setVisible(!name.isEmpty());
}

void StartHome::takeFocus()
{
    for (auto* card : recentBox_->findChildren<QAbstractButton*>("recentProject"))
        if (!card->isHidden())
            return card->setFocus();
    new_->setFocus();
}

} // namespace wendrix::app
