#include "shell/main_window.h"

#include <QMessageBox>

/// The main window's two ways to find one's way: going to anything by name, and the keys of the screen.
namespace wendrix::app {

QVector<GoTo::Hit> MainWindow::search(const QString& words)
{
    constexpr int kMost = 12;
    QVector<GoTo::Hit> hits;
    for (int i = 0; i < stages_.size(); ++i)
        if (stages_[i]->title().startsWith(words, Qt::CaseInsensitive))
            hits.append({stages_[i]->title(), "stage", [this, i] { showStage(i); }});
    if (!session_.hasProject())
        return hits;
    const auto toRow = [this](const char* title, const QString& id) {
        const int index = indexOf(title);
        return [this, index, id] {
            showStage(index);
            if (auto* list = qobject_cast<Worklist*>(stages_[index]->list()))
                list->choose(id);
        };
    };
    for (const issues::Issue& i : session_.project().issues())
        if (hits.size() < kMost && (q(i.number) + " " + q(i.title)).contains(words, Qt::CaseInsensitive))
            hits.append({q(i.number) + " " + q(i.title), "issue", toRow("Issues", q(i.uuid))});
    for (const project::Pair& p : session_.project().pairs())
        if (hits.size() < kMost && !p.isGone() && (q(p.leftName) + " × " + q(p.rightName)).contains(words, Qt::CaseInsensitive))
            hits.append({q(p.leftName) + " × " + q(p.rightName), "clash", toRow("Clashes", q(p.id))});
    for (std::uint32_t m = 0; m < session_.workspace().members.size() && hits.size() < kMost; ++m) {
        const auto& model = *session_.workspace().members[m].model;
        for (ifc::ElementIndex e = 0; e < model.elements().size() && hits.size() < kMost; ++e) {
            const QString name = q(model.displayName(model.elements()[e]));
            if (name.contains(words, Qt::CaseInsensitive) || q(model.elements()[e].guid) == words)
                hits.append({name, q(session_.workspace().members[m].title()), [this, m, e] {
                                 scene_->display().selected = {{m, e}};
                                 scene_->updateDisplay();
                                 scene_->lookAt({{m, e}});
                                 updateSelectionWords();
                                 showSelectionDetails();
                             }});
        }
    }
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
    line("H, O, B", "hide, only these, bring all back");
    line("Backspace", "the view before");
    line("Alt+1 to Alt+5", "the stages");
    line("Ctrl+K", "go to anything");
    line("Ctrl+Z, Ctrl+Shift+Z", "undo and do again");
    line("Left drag, right drag, wheel", "turn, move, zoom at the cursor");
    QMessageBox help(QMessageBox::NoIcon, "Keys", text + "</table>", QMessageBox::Close, this);
    help.setTextFormat(Qt::RichText);
    help.exec();
}

} // namespace wendrix::app
