#include "shell/main_window.h"

#include "core/base/text.h"
#include "core/federation/location.h"
#include "shell/element_details.h"
#include "shell/long_text.h"

#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QLabel>
#include <QMenu>

/// What the window does with the scene: selection, its words and its details, cuts, members' looks, pictures.
namespace wendrix::app {

void MainWindow::rememberLooks()
{
    bool isNew = false;
    for (std::size_t i = 0; i < scene_->looks().size(); ++i) {
        const view::MemberLook& look = scene_->looks()[i];
        const QString discipline = q(scene_->members()[i].discipline);
        if (look.isOnlyPainted)
            continue;
        isNew = isNew || memberLooks_.value(discipline).isShown != look.isShown;
        memberLooks_[discipline] = look;
    }
    if (isNew)
        updateChips();
}

void MainWindow::cutToSelection()
{
    if (!scene_->cuts().isEmpty()) {
        scene_->setCuts({});
        chooseStorey({});
        return;
    }
    const federation::Member* reference = session_.reference();
    if (reference == nullptr)
        return;
    double height = reference->model->storeys().empty() ? 0 : reference->model->storeys().back().height.value - 0.1;
    const view::Display& display = scene_->display();
    if (!display.selected.empty())
        height = view::boundsOf(scene_->members(), *display.selected.begin()).centre().z;
    else if (!display.painted.empty())
        height = view::boundsOf(scene_->members(), display.painted.begin()->first).centre().z;
    const auto storey = federation::Locator(*reference->model).storeyAt(Metres{height});
    if (storey != ifc::kNoStorey)
        chooseStorey(q(reference->model->storeys()[static_cast<std::size_t>(storey)].name));
}

void MainWindow::updateSelectionWords()
{
    const view::Display& display = scene_->display();
    QStringList words;
    if (display.selected.size() == 1) {
        const view::ElementKey key = *display.selected.begin();
        const federation::Member& member = scene_->members()[key.member];
        const ifc::Element& e = member.model->elements()[key.element];
        words << q(member.model->displayName(e)) + ", " + q(member.title());
    } else if (!display.selected.empty()) {
        words << QString::number(display.selected.size()) + " elements selected";
    }
    if (!display.painted.empty() && (display.isRestFaded || display.focus))
        words << q(counted(display.painted.size(), "element", "elements")) +
                     (display.focus ? " in focus, with what stands around" : " shown, the rest faded");
    if (const std::string hidden = display.inWords(); !hidden.empty())
        words << q(hidden);
    if (const std::string cut = scene_->document().cutsInWords(); !cut.empty())
        words << q(cut);
    if (const std::size_t here = sceneTools_->mark().marksHere(); here > 0)
        words << q(counted(here, "mark", "marks"));
    if (const std::size_t elsewhere = sceneTools_->mark().marksElsewhere(); elsewhere > 0)
        words << q(counted(elsewhere, "mark belongs", "marks belong")) + " to another view";
    if (const auto& overlay = scene_->overlay())
        words << q(scene_->members()[overlay->filled].title()) + " filled, " +
                     q(scene_->members()[overlay->outlined].title()) + " outlined";
    const auto countLooks = [&](auto isSo, const char* what) {
        std::size_t n = 0;
        for (const view::MemberLook& look : scene_->looks())
            n += !look.isOnlyPainted && isSo(look) ? 1 : 0;
        if (n > 0)
            words << q(counted(n, "member", "members")) + " " + what;
    };
    countLooks([](const view::MemberLook& l) { return !l.isShown; }, "switched off");
    countLooks([](const view::MemberLook& l) { return l.isShown && l.isEdgesOnly; }, "as edges");
    countLooks([](const view::MemberLook& l) { return l.isShown && l.alpha < 1; }, "seen through");
    countLooks([](const view::MemberLook& l) { return l.isShown && !l.isPickable; }, "not picked");
    if (scene_->rule().by != view::ColourBy::Discipline)
        words << "coloured by a rule";
    selectionWords_->setText(endsOf(words.join(" · ")));
    selectionWords_->setVisible(!words.isEmpty());
    layOut();
}

void MainWindow::showSelectionDetails()
{
    const view::Display& display = scene_->display();
    if (display.selected.size() == 1) {
        const view::ElementKey key = *display.selected.begin();
        ElementLinks links;
        links.toElement = [this](const ElementRef& element) {
            if (const auto found = scene_->find(element)) {
                scene_->choose({*found});
                scene_->lookAt({*found});
            }
        };
        links.toAlike = [this](view::AlikeIn what) { selectAlike(what); };
        links.toRow = [this](const QString& stage, const QString& row) { goToRow(stage, row); };
        showElement(*details_, scene_->members()[key.member], key.element,
                    session_.hasProject() ? &session_.project() : nullptr, links);
    } else if (session_.hasProject() && display.selected.empty()) {
        stages_[current_]->comeToFront();
    }
}

void MainWindow::selectAlike(view::AlikeIn what)
{
    scene_->choose(view::alike(scene_->display().selected, what, scene_->members()));
}

void MainWindow::showSceneMenu(const QPoint& at)
{
    QMenu menu;
    menu.setObjectName("sceneMenu");
    const bool isAnySelected = !scene_->display().selected.empty();
    auto* alike = menu.addMenu("Select all of the same …");
    alike->setEnabled(isAnySelected);
    for (const view::AlikeIn what : {view::AlikeIn::Class, view::AlikeIn::Type, view::AlikeIn::System,
                                     view::AlikeIn::Storey, view::AlikeIn::Material, view::AlikeIn::Member})
        alike->addAction(q(view::inWords(what)), this, [this, what] { selectAlike(what); });
    menu.addSeparator();
    for (const auto& [words, key] : {std::pair{"Look at the selection\tZ", Qt::Key_Z},
                                     {"Hide the selection\tH", Qt::Key_H},
                                     {"Only the selection\tO", Qt::Key_O}})
        menu.addAction(words, this, [this, k = key] { pressLetter(k); })->setEnabled(isAnySelected);
    menu.addAction("Fade the rest", this, [this] { fadeRest(); })->setEnabled(isAnySelected);
    menu.addAction("Bring all back\tB", this, [this] { pressLetter(Qt::Key_B); });
    menu.addAction("View before\tBackspace", this, [this] { pressLetter(Qt::Key_Backspace); });
    menu.addSeparator();
    menu.addAction("Copy a picture\tCtrl+Shift+C", this, &MainWindow::copyPicture);
    menu.addAction("Save a picture …", this, &MainWindow::savePicture);
    menu.exec(at);
}

void MainWindow::fadeRest()
{
    scene_->change([](view::Scene& scene) { scene.fadeAllButSelected(); });
}

void MainWindow::copyPicture()
{
    QApplication::clipboard()->setImage(scene_->picture(scene_->size() * 2, true));
    bar_->say("The scene is on the clipboard, as a picture.", false);
}

void MainWindow::savePicture()
{
    struct Size {
        const char* words;
        int longerSide;
        bool hasLabels;
    };
    static constexpr Size kSizes[] = {{"As on the screen (*.png)", 0, true},
                                      {"1920 on the longer side (*.png)", 1920, true},
                                      {"3840 on the longer side (*.png)", 3840, true},
                                      {"7680 on the longer side (*.png)", 7680, true},
                                      {"7680 on the longer side, without labels (*.png)", 7680, false}};
    QStringList filters;
    for (const Size& size : kSizes)
        filters << size.words;
    QString chosen = filters.front();
    QString file =
        QFileDialog::getSaveFileName(this, "Save a picture of the scene", "scene.png", filters.join(";;"), &chosen);
    if (file.isEmpty())
        return;
    if (!file.endsWith(".png", Qt::CaseInsensitive))
        file += ".png";
    const Size& size = kSizes[std::max(0, static_cast<int>(filters.indexOf(chosen)))];
    const QSize pixels = size.longerSide > 0
                             ? scene_->size().scaled(size.longerSide, size.longerSide, Qt::KeepAspectRatio)
                             : scene_->size();
    const QImage image = scene_->picture(pixels, size.hasLabels);
    if (image.save(file))
        bar_->say(QString("Saved %1, %2 × %3 pixels.").arg(file).arg(image.width()).arg(image.height()), false);
    else
        bar_->say("The picture can not be written to " + file + "; choose another folder.", true);
}

} // namespace wendrix::app
