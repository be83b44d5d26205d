#include "shell/main_window.h"

#include "shell/show_panel.h"

#include <QDialog>
#include <QFile>
#include <QRegularExpression>
#include <QTabWidget>
#include <QTextBrowser>
#include <QThreadPool>
#include <QVBoxLayout>

/// The main window's two ways to find one's way: going to anything by name, and the keys of the screen.
namespace wendrix::app {

void MainWindow::goToRow(const QString& stage, const QString& row)
{
    showStage(indexOf(stage));
    if (auto* list = qobject_cast<Worklist*>(stages_[current_]->list()))
        list->choose(row);
}

void MainWindow::goToElements(const std::vector<view::ElementKey>& elements)
{
    scene_->choose({elements.begin(), elements.end()});
    scene_->lookAt(elements);
}

void MainWindow::noteNames()
{
    if (noting_)
        noting_->cancel();
    noting_ = std::make_shared<Progress>();
    QThreadPool::globalInstance()->start([this, noting = noting_, members = session_.workspace().members] {
        auto names = std::make_shared<const view::SearchIndex>(view::SearchIndex::build(members, *noting));
        if (!noting->isCancelled())
            QMetaObject::invokeMethod(this, [this, noting, names] {
                if (noting != noting_)
                    return;
                names_ = names;
                emit namesNoted();
            });
    });
}

QVector<GoTo::Hit> MainWindow::search(const QString& words)
{
    constexpr int kMost = 14, kMostOfAKind = 5;
    QVector<GoTo::Hit> hits;
    for (int i = 0; i < stages_.size(); ++i)
        if (stages_[i]->title().startsWith(words, Qt::CaseInsensitive))
            hits.append({stages_[i]->title(), "stage", [this, i] { showStage(i); }});
    const std::pair<const char*, std::function<void()>> commands[] = {
        {"Look at everything", [this] { scene_->fitAll(); }},
        {"Walk through the building", [this] { tools_->take(ToolStrip::Tool::Walk); }},
        {"Cut the view open", [this] { tools_->take(ToolStrip::Tool::Cut); }},
        {"End all cuts", [this] { tools_->cutTool().endAll(); chooseStorey({}); }},
        {"Measure", [this] { tools_->take(ToolStrip::Tool::Measure); }},
        {"Mark up: draw over the view, write notes", [this] { tools_->take(ToolStrip::Tool::MarkUp); }},
        {"Show: colours, members, weight", [this] { showWhatIsShown(*details_, *scene_, session_); }},
        {"Bring all back", [this] { pressLetter(Qt::Key_B); }},
        {"Parallel view", [this] { scene_->setParallel(true); }},
        {"Perspective view", [this] { scene_->setParallel(false); }},
        {"Save a picture of the scene", [this] { savePicture(); }},
        {"Copy a picture of the scene", [this] { copyPicture(); }},
    };
    for (const auto& [name, run] : commands)
        if (QString(name).contains(words, Qt::CaseInsensitive))
            hits.append({name, "command", run});
    for (view::AlikeIn what : {view::AlikeIn::Class, view::AlikeIn::Type, view::AlikeIn::System, view::AlikeIn::Storey, view::AlikeIn::Material, view::AlikeIn::Member})
        if (const QString name = "Select all of the same " + q(view::inWords(what)); !scene_->display().selected.empty() && name.contains(words, Qt::CaseInsensitive))
            hits.append({name, "command", [this, what] { selectAlike(what); }});
    if (!session_.hasProject())
        return hits;
    int count = 0;
    const auto add = [&](const QString& name, const char* kind, const char* stage, const QString& row) {
        if (count < kMostOfAKind && name.contains(words, Qt::CaseInsensitive)) {
            hits.append({name, kind, [this, stage, row] { goToRow(stage, row); }});
            ++count;
        }
    };
    for (const issues::Issue& i : session_.project().issues())
        add(q(i.number) + " " + q(i.title), "issue", "Issues", q(i.uuid));
    count = 0;
    for (const project::Pair& p : session_.project().pairs())
        if (!p.isGone())
            add(q(p.leftName) + " × " + q(p.rightName), "clash", "Clashes", q(p.id));
    for (const project::KeptView& view : session_.project().keptViews(session_.person().toStdString()))
        if (const QString name = q(view.title); name.contains(words, Qt::CaseInsensitive))
            hits.append({name, "view", [this, view] { openView(viewsContext(), view); }});
    for (const project::Note& note : session_.project().notes())
        if (const QString name = QString("Note %1 ").arg(note.number) + q(note.words()); name.contains(words, Qt::CaseInsensitive))
            hits.append({name, "note", [this, uuid = note.uuid] {
                             tools_->take(ToolStrip::Tool::MarkUp);
                             notes_->open(uuid);
                         }});
    count = 0;
    for (const project::Delivery& d : session_.project().deliveries())
        add(q(d.name() + " " + d.title), "delivery", "Deliveries", {});
    if (names_ && hits.size() < kMost)
        for (const view::SearchHit& hit : names_->find(words.toStdString(), static_cast<std::size_t>(kMost - hits.size())))
            hits.append({q(hit.words), q(hit.where), [this, elements = hit.elements] { goToElements(elements); }});
    if (hits.size() > kMost)
        hits.resize(kMost);
    return hits;
}

void MainWindow::showKeys()
{
    QString text = "<b>" + stages_[current_]->title() + "</b><table cellpadding='3'>";
    const auto line = [&](const QString& key, const QString& words) {
        text += "<tr><td><b>" + key.toHtmlEscaped() + "</b>&nbsp;&nbsp;</td><td>" + words.toHtmlEscaped() + "</td></tr>";
    };
    for (const auto& [key, words] : stages_[current_]->keys())
        line(key, words);
    text += "</table><b>Everywhere</b><table cellpadding='3'>";
    line("J, K", "next and previous row");
    line("/", "to the filter above the list; arrows and Space choose");
    line("Z", "look at the selection");
    line("C", "cut to the storey of the selection, and back");
    line("M", "measure; Esc ends it");
    line("H, O, B", "hide, only these, bring all back");
    line("Backspace", "the view before");
    line("Alt+1 to Alt+5", "the stages");
    line("Ctrl+K", "go to anything");
    line("Ctrl+Z, Ctrl+Shift+Z", "undo and do again");
    line("Left drag, right drag, wheel", "turn, move, zoom at the cursor");
    line("Ctrl+drag, Alt+drag", "look around; pick in a box (to the right: what is inside, to the left: what it touches)");
    line("Arrows, Ctrl+arrows, + and −", "turn, move, zoom, in the scene");
    line("Right click", "all like it, and pictures");
    line("Ctrl+Shift+C", "copy a picture of the scene");
    text += "</table>";
    QDialog help(this);
    help.setObjectName("help");
    help.setWindowTitle("Keys and help");
    help.resize(640, 620);
    auto* column = new QVBoxLayout(&help);
    auto* pages = new QTabWidget;
    auto* keys = new QTextBrowser;
    keys->setObjectName("helpKeys");
    keys->setHtml(text);
    pages->addTab(keys, "Keys of this screen");
    auto* model = new QTextBrowser;
    model->setObjectName("helpModel");
    QFile page(":/docs/scene.md");
    if (page.open(QIODevice::ReadOnly)) {
        static const QRegularExpression pictures("!\\[[^\\]]*\\]\\([^)]*\\)\n"); // they are not inside the program
        model->setMarkdown(QString::fromUtf8(page.readAll()).remove(pictures));
    }
    pages->addTab(model, "Working at the model");
    if (tools_->tool() != ToolStrip::Tool::Look) // with a tool in hand, its page
        pages->setCurrentWidget(model);
    column->addWidget(pages);
    help.exec();
}

} // namespace wendrix::app
