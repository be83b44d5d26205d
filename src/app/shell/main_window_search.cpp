#include "shell/main_window.h"

#include "shell/help_dialog.h"
#include "shell/show_panel.h"
#include "shell/start_page.h"

#include <QThreadPool>

/// The main window's two ways to find one's way: going to anything by name, and the keys of the screen.
namespace wendrix::app {

void MainWindow::goToRow(const QString& stage, const QString& row)
{
    showStage(indexOf(stage));
    stages_[current_]->choose(row);
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
        {"History: who did what, and when", [this] { showProjectHistory(); }},
    };
    for (const auto& [name, run] : commands)
        if (QString(name).contains(words, Qt::CaseInsensitive))
            hits.append({name, "command", run});
    for (view::AlikeIn what : {view::AlikeIn::Class, view::AlikeIn::Type, view::AlikeIn::System, view::AlikeIn::Storey, view::AlikeIn::Material, view::AlikeIn::Member})
        if (const QString name = "Select all of the same " + q(view::inWords(what)); !scene_->display().selected.empty() && name.contains(words, Qt::CaseInsensitive))
            hits.append({name, "command", [this, what] { selectAlike(what); }});
    if (!session_.hasProject())
        return hits;
    const std::string text = words.toStdString();
    for (const project::IssueBrief& i : orNothing(session_.project().issues().named(text, kMostOfAKind)))
        hits.append({q(i.name() + " " + i.title), "issue", [this, row = q(i.uuid)] { goToRow("Issues", row); }});
    for (const project::Pair& p : orNothing(session_.project().clashes().named(text, kMostOfAKind)))
        hits.append({q(p.left.name) + " × " + q(p.right.name), "clash", [this, row = QString::number(p.id)] { goToRow("Clashes", row); }});
    for (const project::KeptView& view : orNothing(session_.project().views().views(session_.person().toStdString())))
        if (const QString name = q(view.title); name.contains(words, Qt::CaseInsensitive))
            hits.append({name, "view", [this, view] { openView(viewsContext(), view); }});
    for (const project::Note& note : orNothing(session_.project().views().notes()))
        if (const QString name = QString("Note %1 ").arg(note.number) + q(note.words()); name.contains(words, Qt::CaseInsensitive))
            hits.append({name, "note", [this, uuid = note.uuid] {
                             tools_->take(ToolStrip::Tool::MarkUp);
                             notes_->open(uuid);
                         }});
    int deliveries = 0;
    for (const project::Delivery& d : orNothing(session_.project().deliveries().all()))
        if (const QString name = q(d.name() + " " + d.title); deliveries < kMostOfAKind && name.contains(words, Qt::CaseInsensitive)) {
            hits.append({name, "delivery", [this, id = QString::number(d.id)] { goToRow("Deliveries", id); }});
            ++deliveries;
        }
    if (names_ && hits.size() < kMost)
        for (const view::SearchHit& hit : names_->find(words.toStdString(), static_cast<std::size_t>(kMost - hits.size())))
            hits.append({q(hit.words), q(hit.where), [this, elements = hit.elements] { goToElements(elements); }});
    if (hits.size() > kMost)
        hits.resize(kMost);
    return hits;
}

void MainWindow::showKeys()
{
    Stage& stage = *stages_[current_];
    const bool isAtStart = start_->isVisible();
    HelpDialog(isAtStart ? "Start" : stage.title(), isAtStart ? QVector<QPair<QString, QString>>{} : stage.keys(), isAtStart ? "projects.md" : stage.helpPage(),
               tools_->tool() != ToolStrip::Tool::Look, this).exec();
}

} // namespace wendrix::app
