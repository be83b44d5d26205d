#include "shell/details_page.h"

#include "shell/flow_layout.h"
#include "shell/theme.h"

#include <QFrame>
#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace wendrix::app {

namespace {

using Kind = DetailsPart::Kind;

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
            broken += (isLong && i > from ? QString(QChar(0x200B)) : QString()) +
                      words.mid(i, isLong ? std::min<qsizetype>(kEvery, to - i) : to - from);
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

QLabel* label(const QFont& font, const QColor& ink)
{
    auto* l = new QLabel;
    l->setFont(font);
    l->setWordWrap(true);
    l->setTextFormat(Qt::PlainText); // what comes from files is shown as it is
    l->setTextInteractionFlags(Qt::TextSelectableByMouse);
    theme::setInk(*l, ink);
    return l;
}

bool isSameShape(const DetailsPart& a, const DetailsPart& b)
{
    if (a.kind != b.kind || a.kind == Kind::Widget || a.second.isEmpty() != b.second.isEmpty() ||
        (a.mark == Mark::None) != (b.mark == Mark::None) || a.name != b.name || a.header.size() != b.header.size() ||
        a.rows.size() != b.rows.size() || a.buttons.size() != b.buttons.size())
        return false;
    return std::equal(a.rows.begin(), a.rows.end(), b.rows.begin(),
                      [](const auto& x, const auto& y) { return x.size() == y.size(); }) &&
           std::equal(a.buttons.begin(), a.buttons.end(), b.buttons.begin(),
                      [](const auto& x, const auto& y) { return x.id == y.id && x.isLoud == y.isLoud; });
}

} // namespace

/// A mark as a widget.
class DetailsPage::MarkBox final : public QWidget {
public:
    MarkBox() { setFixedSize(16, 18); }
    void set(Mark mark, const QString& text, const QColor& colour)
    {
        mark_ = mark;
        text_ = text;
        colour_ = colour;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter painter(this);
        paintMark(painter, rect(), mark_, text_, colour_);
    }

private:
    Mark mark_ = Mark::None;
    QString text_;
    QColor colour_;
};

DetailsPage::DetailsPage(const QVector<DetailsPart>& parts, QWidget* parent)
    : QWidget(parent), parts_(parts), layout_(new QVBoxLayout(this))
{
    setAutoFillBackground(true);
    layout_->setContentsMargins(14, 14, 14, 14);
    layout_->setSpacing(6);
    for (const DetailsPart& part : parts) {
        if (part.kind != Kind::Fact)
            facts_ = nullptr; // facts that follow each other stand in one grid
        add(part, facts_ == nullptr);
        put(part);
    }
    layout_->addStretch(1);
}

bool DetailsPage::write(const QVector<DetailsPart>& parts)
{
    if (!std::equal(parts.begin(), parts.end(), parts_.begin(), parts_.end(), isSameShape))
        return false;
    label_ = mark_ = button_ = 0;
    parts_ = parts;
    for (const DetailsPart& part : parts)
        put(part);
    return true;
}

QLabel* DetailsPage::addLabel(QLabel* label)
{
    labels_.append(label);
    return label;
}

void DetailsPage::add(const DetailsPart& part, bool isNewList)
{
    const auto addLine = [this](const QFont& font, const QColor& ink) {
        layout_->addWidget(addLabel(label(font, ink)));
    };
    switch (part.kind) {
    case Kind::Caption:
        addLine(theme::font(11), theme::kSoftInk);
        break;
    case Kind::Title:
        addLine(theme::font(15, 700), theme::kInk);
        break;
    case Kind::Heading: {
        layout_->addSpacing(8);
        addLine(theme::font(11, 700), theme::kSoftInk);
        auto* line = new QFrame;
        line->setFixedHeight(1);
        QPalette palette = line->palette();
        palette.setColor(QPalette::Window, theme::kLine);
        line->setPalette(palette);
        line->setAutoFillBackground(true);
        layout_->addWidget(line);
        break;
    }
    case Kind::Text:
        addLine(theme::font(13), theme::kInk);
        break;
    case Kind::SoftText:
        addLine(theme::font(12), theme::kSoftInk);
        break;
    case Kind::Fact: {
        if (isNewList) {
            facts_ = new QGridLayout;
            facts_->setHorizontalSpacing(8);
            facts_->setVerticalSpacing(5);
            facts_->setColumnMinimumWidth(0, 78);
            facts_->setColumnStretch(1, 1);
            layout_->addLayout(facts_);
        }
        const int row = facts_->rowCount();
        facts_->addWidget(addLabel(label(theme::font(13), theme::kSoftInk)), row, 0, Qt::AlignTop);
        auto* column = new QVBoxLayout;
        column->setSpacing(0);
        auto* line = new QHBoxLayout;
        line->setSpacing(4);
        if (part.mark != Mark::None) {
            marks_.append(new MarkBox);
            line->addWidget(marks_.back(), 0, Qt::AlignTop);
        }
        line->addWidget(addLabel(label(theme::font(13), theme::kInk)), 1);
        column->addLayout(line);
        if (!part.second.isEmpty())
            column->addWidget(addLabel(label(theme::font(12), theme::kSoftInk)));
        facts_->addLayout(column, row, 1);
        break;
    }
    case Kind::Buttons: {
        auto* box = new QWidget;
        auto* flow = new FlowLayout(6, box);
        for (const DetailsButton& b : part.buttons) {
            auto* button = new QPushButton;
            button->setObjectName(b.id);
            button->setProperty("loud", b.isLoud);
            // Queued: pressing usually rewrites this very page.
            connect(
                button, &QPushButton::clicked, this,
                [this, at = presses_.size()] {
                    const auto press = presses_[at];
                    press();
                },
                Qt::QueuedConnection);
            presses_.append(b.press);
            buttons_.append(button);
            flow->addWidget(button);
        }
        layout_->addSpacing(4);
        layout_->addWidget(box);
        break;
    }
    case Kind::Table: {
        auto* box = new QWidget;
        box->setObjectName(part.name);
        auto* grid = new QGridLayout(box);
        grid->setContentsMargins(0, 0, 0, 0);
        grid->setHorizontalSpacing(6);
        grid->setVerticalSpacing(6);
        const auto addRow = [&](int row, const QStringList& cells, bool isHeader) {
            for (int c = 0; c < cells.size(); ++c) {
                auto* cell = addLabel(label(theme::font(isHeader ? 11 : 12, isHeader ? 600 : 400),
                                            isHeader ? theme::kSoftInk : theme::kInk));
                cell->setWordWrap(cells.size() < 4 || c == 0);
                cell->setAlignment((c == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignTop);
                grid->addWidget(cell, row, c);
                grid->setColumnStretch(c, cells.size() < 4 || c == 0 ? 1 : 0); // else as wide as they are
            }
        };
        int row = 0;
        if (!part.header.isEmpty())
            addRow(row++, part.header, true);
        for (const QStringList& cells : part.rows)
            addRow(row++, cells, false);
        layout_->addWidget(box);
        break;
    }
    case Kind::Widget:
        layout_->addWidget(part.widget);
        break;
    }
}

void DetailsPage::put(const DetailsPart& part)
{
    const auto say = [this](const QString& words) {
        QLabel& l = *labels_[label_++];
        if (const QString shown = breakable(words); shown != l.text())
            l.setText(shown);
    };
    switch (part.kind) {
    case Kind::Caption:
    case Kind::Title:
    case Kind::Heading:
    case Kind::Text:
    case Kind::SoftText:
        say(part.words);
        break;
    case Kind::Fact:
        say(part.words);
        if (part.mark != Mark::None)
            marks_[mark_++]->set(part.mark, part.markText, part.markColour);
        say(part.value);
        if (!part.second.isEmpty())
            say(part.second);
        break;
    case Kind::Buttons:
        for (const DetailsButton& b : part.buttons) {
            QPushButton& button = *buttons_[button_];
            if (const QString words = b.words + (b.key.isEmpty() ? "" : "  " + b.key); words != button.text())
                button.setText(words);
            button.setEnabled(b.isEnabled);
            button.setAccessibleName(b.words);
            presses_[button_++] = b.press;
        }
        break;
    case Kind::Table:
        for (const QString& cell : part.header)
            say(cell);
        for (const QStringList& cells : part.rows)
            for (const QString& cell : cells)
                say(cell);
        break;
    case Kind::Widget:
        break;
    }
}

} // namespace wendrix::app
