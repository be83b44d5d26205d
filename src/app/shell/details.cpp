#include "shell/details.h"

#include "shell/flow_layout.h"
#include "shell/theme.h"

#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace wendrix::app {

namespace {

/// A mark as a widget.
class MarkBox final : public QWidget {
public:
    MarkBox(Mark mark, QString text, QColor colour) : mark_(mark), text_(std::move(text)), colour_(std::move(colour))
    {
        setFixedSize(16, 18);
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        paintMark(painter, rect(), mark_, text_, colour_);
    }

private:
    Mark mark_;
    QString text_;
    QColor colour_;
};

/// Runs without a blank that no panel has room for may break; zero-width spaces say where. What people copy, GlobalIds
/// and hashes, is left as it is.
QString breakable(const QString& words)
{
    constexpr int kLongest = 70, kEvery = 12;
    QString broken;
    qsizetype from = 0; // of the run
    const auto take = [&](qsizetype to) {
        const bool isLong = to - from > kLongest;
        for (qsizetype i = from; i < to; i += isLong ? kEvery : to - from)
            broken += (isLong && i > from ? QString(QChar(0x200B)) : QString()) + words.mid(i, isLong ? std::min<qsizetype>(kEvery, to - i) : to - from);
    };
    for (qsizetype i = 0; i <= words.size(); ++i)
        if (i == words.size() || words[i].isSpace()) {
            take(i);
            if (i < words.size())
                broken += words[i];
            from = i + 1;
        }
    return broken;
}

QLabel* label(const QString& words, const QFont& font, const char* colour = nullptr)
{
    auto* l = new QLabel(breakable(words));
    l->setFont(font);
    l->setWordWrap(true);
    l->setTextFormat(Qt::PlainText); // what comes from files is shown as it is
    l->setTextInteractionFlags(Qt::TextSelectableByMouse);
    if (colour != nullptr)
        l->setStyleSheet(QString("color:%1").arg(colour));
    return l;
}

constexpr const char* kSoft = "#5F6B70";

} // namespace

Details::Details(QWidget* parent) : QScrollArea(parent)
{
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    clear();
}

void Details::clear()
{
    owner_.clear();
    page_ = new QWidget;
    page_->setAutoFillBackground(true);
    layout_ = new QVBoxLayout(page_);
    layout_->setContentsMargins(14, 14, 14, 14);
    layout_->setSpacing(6);
    facts_ = nullptr;
    setWidget(page_); // deletes the page before
}

void Details::addCaption(const QString& words) { layout_->addWidget(label(words, theme::font(11), kSoft)); }

void Details::addTitle(const QString& words)
{
    facts_ = nullptr;
    layout_->addWidget(label(words, theme::font(15, 700)));
}

void Details::addHeading(const QString& words)
{
    facts_ = nullptr;
    layout_->addSpacing(8);
    auto* heading = label(words, theme::font(11, 700), kSoft);
    layout_->addWidget(heading);
    auto* line = new QFrame;
    line->setFixedHeight(1);
    line->setStyleSheet("background:#DAD4C6");
    layout_->addWidget(line);
}

void Details::addText(const QString& words, bool isSoft)
{
    facts_ = nullptr;
    layout_->addWidget(label(words, theme::font(isSoft ? 12 : 13), isSoft ? kSoft : nullptr));
}

void Details::addFact(const QString& name, const QString& value, const QString& second, Mark mark,
                      const QColor& markColour, const QString& markText)
{
    if (facts_ == nullptr) {
        facts_ = new QGridLayout;
        facts_->setHorizontalSpacing(8);
        facts_->setVerticalSpacing(5);
        facts_->setColumnMinimumWidth(0, 78);
        facts_->setColumnStretch(1, 1);
        layout_->addLayout(facts_);
    }
    const int row = facts_->rowCount();
    auto* left = label(name, theme::font(13), kSoft);
    facts_->addWidget(left, row, 0, Qt::AlignTop);
    auto* column = new QVBoxLayout;
    column->setSpacing(0);
    auto* line = new QHBoxLayout;
    line->setSpacing(4);
    if (mark != Mark::None)
        line->addWidget(new MarkBox(mark, markText, markColour), 0, Qt::AlignTop);
    line->addWidget(label(value, theme::font(13)), 1);
    column->addLayout(line);
    if (!second.isEmpty())
        column->addWidget(label(second, theme::font(12), kSoft));
    facts_->addLayout(column, row, 1);
}

void Details::addButtons(const QVector<Button>& buttons)
{
    facts_ = nullptr;
    auto* box = new QWidget;
    auto* flow = new FlowLayout(6, box);
    for (const Button& b : buttons) {
        auto* button = new QPushButton(b.words + (b.key.isEmpty() ? "" : "  " + b.key));
        button->setObjectName(b.id);
        button->setProperty("loud", b.isLoud);
        button->setEnabled(b.isEnabled);
        button->setAccessibleName(b.words);
        // Queued: pressing usually rebuilds this very panel.
        connect(button, &QPushButton::clicked, this, b.press, Qt::QueuedConnection);
        flow->addWidget(button);
    }
    layout_->addSpacing(4);
    layout_->addWidget(box);
}

void Details::addTable(const QStringList& header, const QVector<QStringList>& rows, const QString& name)
{
    facts_ = nullptr;
    auto* box = new QWidget;
    box->setObjectName(name);
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(6);
    const auto put = [&](int row, const QStringList& cells, bool isHeader) {
        for (int c = 0; c < cells.size(); ++c) {
            auto* cell = label(cells[c], theme::font(isHeader ? 11 : 12, isHeader ? 600 : 400), isHeader ? kSoft : nullptr);
            cell->setWordWrap(c == 0 && cells.size() < 4);
            grid->addWidget(cell, row, c, c == 0 ? Qt::AlignLeft : Qt::AlignRight);
        }
    };
    int row = 0;
    if (!header.isEmpty())
        put(row++, header, true);
    for (const QStringList& cells : rows)
        put(row++, cells, false);
    layout_->addWidget(box);
}

void Details::addWidget(QWidget* widget)
{
    facts_ = nullptr;
    layout_->addWidget(widget);
}

void Details::finish() { layout_->addStretch(1); }

} // namespace wendrix::app
