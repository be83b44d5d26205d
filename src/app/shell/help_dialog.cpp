#include "shell/help_dialog.h"

#include <QFile>
#include <QRegularExpression>
#include <QTabWidget>
#include <QTextBrowser>
#include <QTextDocument>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

constexpr std::pair<const char*, const char*> kEverywhere[] = {
    {"J, K", "next and previous row"},
    {"/", "to the filter above the list; arrows and Space choose"},
    {"Z", "look at the selection"},
    {"C", "cut to the storey of the selection, and back"},
    {"M", "measure; Esc ends it"},
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

QString line(const QString& key, const QString& words) { return "<tr><td><b>" + key.toHtmlEscaped() + "</b>&nbsp;&nbsp;</td><td>" + words.toHtmlEscaped() + "</td></tr>"; }

QString pageText(const QString& name)
{
    QFile file(":/docs/" + name);
    if (!file.open(QIODevice::ReadOnly))
        return {};
    static const QRegularExpression pictures("!\\[[^\\]]*\\]\\([^)]*\\)\n"); // they are not inside the program
    return QString::fromUtf8(file.readAll()).remove(pictures);
}

QTextBrowser* browser(const QString& name)
{
    auto* b = new QTextBrowser;
    b->setObjectName(name);
    b->setOpenLinks(false);
    return b;
}

} // namespace

HelpDialog::HelpDialog(const QString& screen, const QVector<QPair<QString, QString>>& keys, const QString& page, bool opensModel, QWidget* parent) : QDialog(parent)
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
    keysPage->setHtml(text + "</table>");
    pages->addTab(keysPage, "Keys of this screen");
    if (const QString own = pageText(page); !own.isEmpty()) {
        auto* ownPage = browser("helpPage");
        ownPage->setMarkdown(own);
        pages->addTab(ownPage, own.section('\n', 0, 0).remove('#').trimmed());
        pages->setCurrentWidget(ownPage);
    }
    auto* model = browser("helpModel");
    model->setMarkdown(pageText("scene.md"));
    pages->addTab(model, "Working at the model");
    if (opensModel)
        pages->setCurrentWidget(model);
    column->addWidget(pages);
}

} // namespace wendrix::app
