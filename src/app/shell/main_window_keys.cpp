#include "shell/main_window.h"

#include "issues/issues_stage.h"

#include <QApplication>
#include <QKeyEvent>
#include <QPlainTextEdit>
#include <QShortcut>

/// The main window's keys.
namespace wendrix::app {

namespace {

bool isWriting(const QWidget* focus)
{
    return qobject_cast<const QLineEdit*>(focus) != nullptr || qobject_cast<const QPlainTextEdit*>(focus) != nullptr;
}

} // namespace

void MainWindow::makeKeys()
{
    for (int i = 0; i < stages_.size(); ++i)
        connect(new QShortcut(QKeySequence(Qt::ALT | (Qt::Key_1 + i)), this), &QShortcut::activated, this,
                [this, i] { showStage(i); });
    connect(new QShortcut(QKeySequence("Ctrl+K"), this), &QShortcut::activated, goTo_, [this] { goTo_->setFocus(); });
    connect(new QShortcut(QKeySequence("Ctrl+Z"), this), &QShortcut::activated, this, [this] {
        if (scene_->tool() == nullptr || !scene_->tool()->undo())
            session_.undo();
    });
    connect(new QShortcut(QKeySequence("Ctrl+Shift+Z"), this), &QShortcut::activated, &session_, &Session::redo);
    connect(new QShortcut(QKeySequence("Ctrl+Shift+C"), this), &QShortcut::activated, this, &MainWindow::copyPicture);
    connect(new QShortcut(QKeySequence("F1"), this), &QShortcut::activated, this, &MainWindow::showKeys);
}

bool MainWindow::pressLetter(Qt::Key key)
{
    const view::Display& display = scene_->display();
    switch (key) {
    case Qt::Key_H:
        scene_->change([](view::Scene& scene) { scene.hideSelected(); });
        break;
    case Qt::Key_O:
        scene_->change([](view::Scene& scene) { scene.showOnlySelected(); });
        break;
    case Qt::Key_B:
        scene_->change([](view::Scene& scene) { scene.bringAllBack(); });
        break;
    case Qt::Key_Z: {
        std::vector<view::ElementKey> wanted(display.selected.begin(), display.selected.end());
        if (wanted.empty())
            for (const auto& [element, colour] : display.painted)
                wanted.push_back(element);
        if (wanted.empty())
            scene_->fitAll();
        else
            scene_->lookAt(wanted);
        return true;
    }
    case Qt::Key_C:
        cutToSelection();
        return true;
    case Qt::Key_M:
        tools_->toggle(SceneTools::kMeasure);
        return true;
    case Qt::Key_Escape:
        tools_->endAll();
        return true;
    case Qt::Key_Backspace:
        scene_->viewBack();
        return true;
    case Qt::Key_Slash:
        stages_[current_]->focusFilter();
        return true;
    case Qt::Key_J:
        if (tools_->inHand() == SceneTools::kMarkUp) {
            notes_->step(1);
            return true;
        }
        stages_[current_]->step(1);
        updateSelectionWords();
        return true;
    case Qt::Key_K:
        if (tools_->inHand() == SceneTools::kMarkUp) {
            notes_->step(-1);
            return true;
        }
        stages_[current_]->step(-1);
        updateSelectionWords();
        return true;
    default: {
        bool isTaken = session_.hasProject() && stages_[current_]->press(key);
        if (!isTaken && key == Qt::Key_I && session_.hasProject()) {
            makeIssue();
            isTaken = true;
        }
        updateSelectionWords();
        return isTaken;
    }
    }
    updateSelectionWords();
    return true;
}

void MainWindow::makeIssue()
{
    for (int i = 0; i < stages_.size(); ++i)
        if (auto* issues = qobject_cast<IssuesStage*>(stages_[i])) {
            // Of what is seen here, before another stage shows its own.
            const auto start =
                tools_->inHand() == SceneTools::kMarkUp ? notes_->issueStart() : stages_[current_]->issueStart();
            tools_->endAll();
            issues->makeFromView(start);
        }
}

void MainWindow::keyPressEvent(QKeyEvent* event)
{
    const bool isPlain = event->modifiers() == Qt::NoModifier;
    if (!isPlain || isWriting(QApplication::focusWidget()) || !pressLetter(static_cast<Qt::Key>(event->key())))
        QWidget::keyPressEvent(event);
}

} // namespace wendrix::app
