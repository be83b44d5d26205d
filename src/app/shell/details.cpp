#include "shell/details.h"
#include "shell/long_text.h"

#include <QScrollBar>

#include <algorithm>

namespace wendrix::app {

using Kind = DetailsPart::Kind;

namespace {

QString shortened(const QString& text) { return text.size() > kMostInPanel ? text.left(kMostInPanel) + " …" : text; }

} // namespace

Details::Details(QWidget* parent) : QScrollArea(parent)
{
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    finish();
}

Details::~Details() { clear(); }

void Details::clear()
{
    owner_.clear();
    for (const DetailsPart& part : parts_)
        delete part.widget; // that no page was made of
    parts_.clear();
}

void Details::addWords(Kind kind, const QString& words)
{
    DetailsPart part;
    part.kind = kind;
    part.words = shortened(words);
    parts_.append(std::move(part));
    offerWhole(words);
}

void Details::offerWhole(const QString& text)
{
    if (text.size() > kMostInPanel)
        addButtons({{"wholeText", QString("Show all %L1 characters").arg(text.size()), "", false, true,
                     [this, text] { showWhole(this, text); }}});
}

void Details::addCaption(const QString& words) { addWords(Kind::Caption, words); }
void Details::addTitle(const QString& words) { addWords(Kind::Title, words); }
void Details::addHeading(const QString& words) { addWords(Kind::Heading, words); }
void Details::addText(const QString& words, bool isSoft) { addWords(isSoft ? Kind::SoftText : Kind::Text, words); }

void Details::addFact(const QString& name, const QString& value, const QString& second, Mark mark,
                      const QColor& markColour, const QString& markText)
{
    DetailsPart part;
    part.kind = Kind::Fact;
    part.words = shortened(name);
    part.value = shortened(value);
    part.second = shortened(second);
    part.mark = mark;
    part.markText = markText;
    part.markColour = markColour;
    parts_.append(std::move(part));
    offerWhole(value);
    offerWhole(second);
}

void Details::addButtons(const QVector<Button>& buttons)
{
    DetailsPart part;
    part.kind = Kind::Buttons;
    part.buttons = buttons;
    parts_.append(std::move(part));
}

void Details::addTable(const QStringList& header, const QVector<QStringList>& rows, const QString& name)
{
    DetailsPart part;
    part.kind = Kind::Table;
    part.name = name;
    part.header = header;
    part.rows = rows;
    for (QStringList& row : part.rows)
        for (QString& cell : row)
            cell = endsOf(cell);
    parts_.append(std::move(part));
}

void Details::addWidget(QWidget* widget)
{
    DetailsPart part;
    part.kind = Kind::Widget;
    part.widget = widget;
    parts_.append(std::move(part));
}

void Details::finish()
{
    const QVector<DetailsPart> parts = std::exchange(parts_, {});
    const auto title =
        std::find_if(parts.begin(), parts.end(), [](const DetailsPart& part) { return part.kind == Kind::Title; });
    const QString titled = title == parts.end() ? QString() : title->words;
    const bool isOther = std::exchange(title_, titled) != titled;
    if (page_ == nullptr || !page_->write(parts)) {
        page_ = new DetailsPage(parts);
        setWidget(page_); // deletes the page before, and goes to the top
    } else if (isOther) {
        verticalScrollBar()->setValue(0);
    }
}

} // namespace wendrix::app
