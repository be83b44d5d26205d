#include "shell/main_window.h"

#include "changes/changes_stage.h"
#include "core/base/text.h"
#include "core/project/test_sheets.h"
#include "core/sets/completion.h"
#include "shell/help_dialog.h"
#include "shell/show_panel.h"
#include "shell/start_page.h"

#include <QMenu>
#include <QThreadPool>

#include <algorithm>

/// The main window's two ways to find one's way: going to anything by name, and the keys of the screen.
namespace wendrix::app {

namespace {

std::vector<view::ElementKey> keysOf(const sets::Elements::Picked& picked)
{
    std::vector<view::ElementKey> keys;
    for (std::uint32_t m = 0; m < picked.size(); ++m)
        for (std::uint32_t e = 0; e < picked[m].size(); ++e)
            if (picked[m][e] != 0)
                keys.push_back({m, e});
    return keys;
}

} // namespace

void MainWindow::goToRow(const QString& stage, const QString& row)
{
    showStage(indexOf(stage));
    stages_[current_]->choose(row);
}

void MainWindow::compare(project::DeliveryId from, project::DeliveryId to)
{
    showStage(indexOf("Changes"));
    static_cast<ChangesStage*>(stages_[current_])->compare(from, to);
}

void MainWindow::showMemberMenu(const QString& discipline, const QPoint& at)
{
    if (!session_.hasProject())
        return;
    std::vector<project::Delivery> all = orNothing(session_.project().deliveries().all());
    std::erase_if(all, [&](const project::Delivery& d) { return q(d.discipline) != discipline; });
    const auto used = std::find_if(all.begin(), all.end(), [](const project::Delivery& d) { return d.isUsed(); });
    if (used == all.end())
        return;
    auto* menu = new QMenu(this);
    menu->setObjectName("memberMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const project::Delivery& d : all)
        if (d.id != used->id)
            menu->addAction(
                "Compare " + q(used->name()) + " with " + q(d.revision), this,
                [this, from = std::min(d.id, used->id), to = std::max(d.id, used->id)] { compare(from, to); });
    if (menu->actions().isEmpty())
        menu->addAction("There is no other revision to compare it with")->setEnabled(false);
    menu->popup(at);
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

QVector<GoTo::Hit> MainWindow::search(const QString& typed)
{
    const QString words = typed.trimmed();
    constexpr int kMost = 14;
    QVector<GoTo::Hit> hits;
    for (int i = 0; i < stages_.size(); ++i)
        if (stages_[i]->title().startsWith(words, Qt::CaseInsensitive))
            hits.append({stages_[i]->title(), "stage", [this, i] { showStage(i); }});
    const std::pair<const char*, std::function<void()>> commands[] = {
        {"Look at everything", [this] { scene_->fitAll(); }},
        {"Walk through the building", [this] { tools_->take(SceneTools::kWalk); }},
        {"Cut the view open", [this] { tools_->take(SceneTools::kCut); }},
        {"End all cuts",
         [this] {
             sceneTools_->cut().endAll();
             chooseStorey({});
         }},
        {"Measure", [this] { tools_->take(SceneTools::kMeasure); }},
        {"Mark up: draw over the view, write notes", [this] { tools_->take(SceneTools::kMarkUp); }},
        {"Show: colours, members, weight", [this] { showWhatIsShown(*details_, *scene_, session_); }},
        {"Bring all back", [this] { pressLetter(Qt::Key_B); }},
        {"Parallel view", [this] { scene_->setParallel(true); }},
        {"Perspective view", [this] { scene_->setParallel(false); }},
        {"Make an issue of what is selected, or of the view", [this] { makeIssue(); }},
        {"Save a picture of the scene", [this] { savePicture(); }},
        {"Copy a picture of the scene", [this] { copyPicture(); }},
        {"History: who did what, and when", [this] { showProjectHistory(); }},
    };
    for (const auto& [name, run] : commands)
        if (QString(name).contains(words, Qt::CaseInsensitive))
            hits.append({name, "command", run});
    for (view::AlikeIn what : {view::AlikeIn::Class, view::AlikeIn::Type, view::AlikeIn::System, view::AlikeIn::Storey,
                               view::AlikeIn::Material, view::AlikeIn::Member})
        if (const QString name = "Select all of the same " + q(view::inWords(what));
            !scene_->display().selected.empty() && name.contains(words, Qt::CaseInsensitive))
            hits.append({name, "command", [this, what] { selectAlike(what); }});
    if (session_.hasProject())
        searchProject(typed, std::max(0, kMost - static_cast<int>(hits.size())));
    else
        QMetaObject::invokeMethod(
            goTo_, [this, typed] { goTo_->add(typed, {}, true); }, Qt::QueuedConnection);
    return hits;
}

void MainWindow::searchProject(const QString& typed, int most)
{
    const QString words = typed.trimmed();
    // Beside the interface thread: names of a million elements are not looked through within a key.
    struct Found {
        std::vector<project::IssueBrief> issues;
        std::vector<project::Pair> pairs;
        std::vector<project::KeptView> views;
        std::vector<project::Note> notes;
        std::vector<project::Delivery> deliveries;
        std::vector<std::pair<project::Delivery, project::Delivery>> compared; ///< that can be
        std::vector<view::SearchHit> elements;
        std::optional<std::vector<view::ElementKey>> picked; ///< where what was typed is a set
        std::string problem;                                 ///< why it is none yet
        std::vector<std::string> completions;
    };
    constexpr int kMostOfAKind = 5;
    session_.ask<Found>(
        goTo_, "found",
        [words, typed, most, names = names_, elements = session_.elements(),
         person = session_.person().toStdString()](const project::Project& p) {
            const std::string text = words.toStdString();
            const auto isCalledSo = [&](const std::string& name) {
                return q(name).contains(words, Qt::CaseInsensitive);
            };
            Found found;
            found.issues = orNothing(p.issues().named(text, kMostOfAKind));
            found.pairs = orNothing(p.clashes().named(text, kMostOfAKind));
            for (project::KeptView& view : orNothing(p.views().views(person)))
                if (isCalledSo(view.title))
                    found.views.push_back(std::move(view));
            for (project::Note& note : orNothing(p.views().notes()))
                if (isCalledSo("Note " + std::to_string(note.number) + " " + note.words()))
                    found.notes.push_back(std::move(note));
            auto all = orNothing(p.deliveries().all());
            std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.id < b.id; });
            for (const project::Delivery& from : all)
                for (const project::Delivery& to : all)
                    if (from.id < to.id && from.discipline == to.discipline &&
                        words.startsWith("compare", Qt::CaseInsensitive) &&
                        isCalledSo("Compare " + from.name() + " with " + to.revision))
                        found.compared.emplace_back(from, to);
            for (project::Delivery& d : all)
                if (static_cast<int>(found.deliveries.size()) < kMostOfAKind && isCalledSo(d.name() + " " + d.title))
                    found.deliveries.push_back(std::move(d));
            if (names != nullptr)
                found.elements = names->find(text, static_cast<std::size_t>(most));
            if (!sets::looksLikeSet(text))
                return found;
            found.completions = sets::completionsOf(typed.toStdString(), *elements, kMostOfAKind);
            const sets::Parsed parsed = sets::parse(text);
            if (!parsed.expression) {
                found.problem = parsed.mistake.message;
                return found;
            }
            const auto answer = elements->in(*parsed.expression,
                                             project::knowledgeFor(p, *parsed.expression).value_or(sets::Knowledge{}));
            found.problem = answer.problem;
            if (answer.problem.empty())
                found.picked = keysOf(answer.picked);
            return found;
        },
        [this, typed, most](const Found& found) {
            QVector<GoTo::Hit> hits;
            for (const project::IssueBrief& i : found.issues)
                hits.append(
                    {q(i.name() + " " + i.title), "issue", [this, row = q(i.uuid)] { goToRow("Issues", row); }});
            for (const project::Pair& p : found.pairs)
                hits.append({q(p.left.name) + " × " + q(p.right.name), "clash",
                             [this, row = QString::number(p.id)] { goToRow("Clashes", row); }});
            for (const project::KeptView& view : found.views)
                hits.append({q(view.title), "view", [this, view] { openView(viewsContext(), view); }});
            for (const project::Note& note : found.notes)
                hits.append({QString("Note %1 ").arg(note.number) + q(note.words()), "note", [this, uuid = note.uuid] {
                                 tools_->take(SceneTools::kMarkUp);
                                 notes_->open(uuid);
                             }});
            for (const project::Delivery& d : found.deliveries)
                hits.append({q(d.name() + " " + d.title), "delivery",
                             [this, id = QString::number(d.id)] { goToRow("Deliveries", id); }});
            for (const auto& [from, to] : found.compared)
                hits.append({"Compare " + q(from.name()) + " with " + q(to.revision), "command",
                             [this, from = from.id, to = to.id] { compare(from, to); }});
            for (const view::SearchHit& hit : found.elements)
                hits.append({q(hit.words), q(hit.where), [this, elements = hit.elements] { goToElements(elements); }});
            hits.resize(std::min<qsizetype>(hits.size(), most));
            if (found.picked)
                hits.prepend({q(counted(found.picked->size(), "element", "elements")), "in this set",
                              [this, elements = *found.picked] { goToElements(elements); }});
            if (!found.problem.empty())
                hits.prepend({"As a set of elements: " + q(found.problem), "", {}});
            for (const std::string& line : found.completions)
                hits.append({q(line), "go on", {}, q(line)});
            goTo_->add(typed, hits, true);
        });
}

void MainWindow::showKeys()
{
    Stage& stage = *stages_[current_];
    const bool isAtStart = start_->isVisible();
    HelpDialog(isAtStart ? "Start" : stage.title(), isAtStart ? QVector<QPair<QString, QString>>{} : stage.keys(),
               isAtStart ? "projects.md" : stage.helpPage(), !tools_->inHand().isEmpty(), this)
        .exec();
}

} // namespace wendrix::app
