#include "shell/help_dialog.h"

#include "shell/theme.h"

#include <QFile>
#include <QRegularExpression>
#include <QTabWidget>
#include <QTextBlock>
#include <QTextBrowser>
#include <QTextCursor>
#include <QTextDocument>
#include <QTextTable>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

constexpr std::pair<const char*, const char*> kEverywhere[] = {
    {"J, K", "next and previous row"},
    {"/", "to the filter above the list; arrows and Space choose"},
    {"Z", "look at the selection"},
    {"C", "cut to the storey of the selection, and back"},
    {"M", "measure; Esc ends it"},
    {"I", "an issue of what is selected, or of the view"},
    {"H, O, B", "hide, only these, bring all back"},
    {"Backspace", "the view before"},
    {"Alt+1 to Alt+5", "the stages"},
    {"Ctrl+K", "go to anything"},
    {"Ctrl+Z, Ctrl+Shift+Z", "undo and do again"},
    {"Left drag, right drag, wheel", "turn, move, zoom at the cursor"},
    {"Ctrl+drag, Alt+drag", "look around; pick in a box (to the right: what is inside, to the left: what it touches)"},
    {"Arrows, Ctrl+arrows, + and −", "turn, move, zoom, in the scene"},
    {"Right click", "all like it, and pictures"},
    {"Ctrl+Shift+C", "copy a picture of the scene"},
};

QString line(const QString& key, const QString& words)
{
    return "<tr><td><b>" + key.toHtmlEscaped() + "</b>&nbsp;&nbsp;</td><td>" + words.toHtmlEscaped() + "</td></tr>";
}

QString pageText(const QString& name)
{
    QFile file(":/docs/" + name);
    if (!file.open(QIODevice::ReadOnly))
        return {};
    static const QRegularExpression pictures("!\\[[^\\]]*\\]\\([^)]*\\)\n"); // they are not inside the program
    return QString::fromUtf8(file.readAll()).remove(pictures);
}

/// Gives a page from Markdown the type and the room of the rest of the window.
void setType(QTextDocument& page)
{
    page.setDocumentMargin(18);
    for (QTextBlock block = page.begin(); block.isValid(); block = block.next()) {
        QTextCursor cursor(block);
        QTextBlockFormat format = block.blockFormat();
        const int level = format.headingLevel();
        if (level > 0) {
            cursor.select(QTextCursor::BlockUnderCursor);
            QTextCharFormat heading;
            heading.setFont(theme::font(level == 1 ? 20 : 15, 700));
            cursor.mergeCharFormat(heading);
        }
        if (cursor.currentTable() == nullptr) {
            format.setTopMargin(level > 1 ? 14 : 0);
            format.setBottomMargin(level > 0 ? 6 : block.textList() != nullptr ? 3 : 8);
        }
        format.setLineHeight(125, QTextBlockFormat::ProportionalHeight);
        QTextCursor(block).setBlockFormat(format);
    }
    for (QTextFrame* frame : page.rootFrame()->childFrames())
        if (auto* table = qobject_cast<QTextTable*>(frame)) {
            QTextTableFormat format = table->format();
            format.setBorder(0);
            format.setCellPadding(5);
            format.setCellSpacing(0);
            format.setBottomMargin(10);
            table->setFormat(format);
        }
}

QTextBrowser* browser(const QString& name)
{
    auto* b = new QTextBrowser;
    b->setObjectName(name);
    b->setOpenLinks(false);
    b->setFrameShape(QFrame::NoFrame);
    b->document()->setDefaultFont(theme::font(13));
    return b;
}

/// Shows a page; false where there is none of this name.
bool openPage(QTextBrowser* b, const QString& name)
{
    const QString text = pageText(name);
    if (text.isEmpty())
        return false;
    b->setMarkdown(text);
    setType(*b->document());
    b->moveCursor(QTextCursor::Start);
    return true;
}

QString titleOf(const QString& page) { return pageText(page).section('\n', 0, 0).remove('#').trimmed(); }

} // namespace

HelpDialog::HelpDialog(const QString& screen, const QVector<QPair<QString, QString>>& keys, const QString& page,
                       bool opensModel, QWidget* parent)
    : QDialog(parent)
{
    setObjectName("help");
    setWindowTitle("Keys and help");
    resize(680, 640);
    auto* column = new QVBoxLayout(this);
    auto* pages = new QTabWidget;
    QString text = "<b>" + screen.toHtmlEscaped() + "</b><table cellpadding='3'>";
    for (const auto& [key, words] : keys)
        text += line(key, words);
    text += "</table><b>Everywhere</b><table cellpadding='3'>";
    for (const auto& [key, words] : kEverywhere)
        text += line(key, words);
    auto* keysPage = browser("helpKeys");
    keysPage->document()->setDocumentMargin(18);
    keysPage->setHtml(text + "</table>");
    pages->addTab(keysPage, "Keys of this screen");
    const auto addPage = [pages](const QString& name, const QString& file) {
        auto* b = browser(name);
        if (!openPage(b, file))
            return static_cast<QTextBrowser*>(nullptr);
        const int tab = pages->addTab(b, titleOf(file));
        connect(b, &QTextBrowser::anchorClicked, b, [b, pages, tab](const QUrl& link) { // to another page, in place
            if (openPage(b, link.path()))
                pages->setTabText(tab, titleOf(link.path()));
        });
        return b;
    };
    if (auto* own = addPage("helpPage", page))
        pages->setCurrentWidget(own);
    if (auto* model = addPage("helpModel", "scene.md"); model != nullptr && opensModel)
        pages->setCurrentWidget(model);
    pages->setStyleSheet("QTabWidget::pane { border: 1px solid #DAD4C6; } QTabBar::tab { padding: 6px 14px; border: "
                         "none; color: #5F6B70; }"
                         "QTabBar::tab:selected { color: #173F46; font-weight: 600; border-bottom: 2px solid #C8501E; "
                         "} QTabBar::tab:focus { color: #2B7A84; }");
    column->addWidget(pages);
}

} // namespace wendrix::app
