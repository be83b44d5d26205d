#include "shell/main_window.h"

#include "deliveries/deliveries_stage.h"
#include "deliveries/document_view.h"
#include "shell/drop_watch.h"
#include "shell/federation_panel.h"
#include "shell/history_panel.h"
#include "shell/person.h"
#include "shell/start_page.h"
#include "shell/theme.h"

#include <QCloseEvent>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

/// Which project, which federation of it and which composition the window shows.
namespace wendrix::app {

namespace {

constexpr std::uint64_t kMostTriangles = 4'000'000; // nobody waits for a picture when closing

} // namespace

void MainWindow::makeMenus()
{
    drops_ = new DropWatch(session_, this);
    connect(drops_, &DropWatch::stateChanged, this, [this] {
        static_cast<DeliveriesStage*>(stages_[indexOf("Deliveries")])
            ->setWatch(drops_->words(), drops_->problems(), drops_->unwatched());
    });
    connect(static_cast<DeliveriesStage*>(stages_[indexOf("Deliveries")]), &DeliveriesStage::watchWanted, drops_,
            &DropWatch::watchThem);
    looking_ = new QWidget(desk_);
    looking_->setObjectName("looking");
    looking_->setAutoFillBackground(true);
    looking_->setStyleSheet("#looking { background:#FBEFE3; border-bottom:1px solid #E5C3B2; }");
    auto* row = new QHBoxLayout(looking_);
    row->setContentsMargins(12, 3, 8, 3);
    lookingWords_ = new QLabel;
    lookingWords_->setObjectName("lookingWords");
    lookingWords_->setTextFormat(Qt::PlainText);
    lookingWords_->setFont(theme::font(13, 600));
    lookingWords_->setStyleSheet("color:#8A3512");
    row->addWidget(lookingWords_, 1);
    lookAtNow_ = new QPushButton;
    lookAtNow_->setObjectName("lookAtNow");
    connect(
        lookAtNow_, &QPushButton::clicked, this,
        [this] { session_.pastCycle() ? session_.lookAtNow() : session_.leaveInside(); }, Qt::QueuedConnection);
    row->addWidget(lookAtNow_);
    looking_->hide();

    auto* project = new QMenu(projectName_);
    const auto action = [&](const QString& name, const QString& words, auto press) {
        auto* a = project->addAction(words);
        a->setObjectName(name);
        connect(a, &QAction::triggered, this, press);
        return a;
    };
    auto* setup = action("projectSetup", "Setup: disciplines, people, what was agreed…", [this] {
        showStart();
        start_->showSetup();
    });
    action("projectHistory", "History: who did what, and when…", &MainWindow::showProjectHistory);
    action("projectStart", "Another project…", [this] { showStart(); });
    connect(project, &QMenu::aboutToShow, setup,
            [this, setup] { setup->setEnabled(session_.hasProject() && !session_.pastCycle()); });
    projectName_->setMenu(project);
    cycle_->setMenu(new QMenu(cycle_));
    connect(cycle_->menu(), &QMenu::aboutToShow, this, &MainWindow::fillCycleMenu);
    federation_->setMenu(new QMenu(federation_));
    connect(federation_->menu(), &QMenu::aboutToShow, this, &MainWindow::fillFederationMenu);

    connect(&session_, &Session::missingStepsChanged, this, [this] {
        if (details_->owner() == kHistoryPanel)
            showHistory(*details_, session_);
    });
    start_ = new StartPage(session_, this);
    connect(start_, &StartPage::left, this, [this] { setAtStart(false); });
    connect(&session_, &Session::said, start_, &StartPage::say);
    connect(&session_.jobs(), &Jobs::changed, start_, [this] {
        if (const auto jobs = session_.jobs().states(); !jobs.isEmpty() && start_->isVisible())
            start_->say(QString("%1, %2 %").arg(jobs.back().words).arg(jobs.back().percent), false);
    });
    setAtStart(!session_.hasProject());
}

void MainWindow::showProjectHistory()
{
    if (session_.hasProject())
        showHistory(*details_, session_);
}

void MainWindow::askPerson()
{
    QStringList names{session_.person()};
    if (session_.hasProject())
        for (const project::Discipline& d : orNothing(session_.project().setup().disciplines()))
            for (const std::string& one : d.people)
                if (!names.contains(q(one)))
                    names += q(one);
    bool isGiven = false;
    const QString name =
        QInputDialog::getItem(this, "Who is working", "What is decided from now on is recorded under this name:", names,
                              0, true, &isGiven)
            .simplified();
    if (!isGiven || name.isEmpty() || name == session_.person())
        return;
    keepPersonName(name);
    session_.setPerson(name);
}

void MainWindow::setAtStart(bool isAtStart)
{
    // Hidden, not covered: what is composed with OpenGL shows through what lies above it.
    desk_->setVisible(!isAtStart);
    start_->setVisible(isAtStart);
}

void MainWindow::fillCycleMenu()
{
    QMenu& menu = *cycle_->menu();
    menu.clear();
    if (!session_.hasProject())
        return;
    const int present = orNothing(session_.project().deliveries().cycle());
    for (int c = present; c >= 1; --c) {
        auto* a = menu.addAction(c == present ? QString("Cycle %1: as it is now").arg(c)
                                              : QString("Cycle %1: as it was then, read-only").arg(c));
        a->setCheckable(true);
        a->setChecked(session_.pastCycle().value_or(present) == c);
        connect(a, &QAction::triggered, this,
                [this, c, present] { c == present ? session_.lookAtNow() : session_.lookBack(c); });
    }
}

void MainWindow::fillFederationMenu()
{
    QMenu& menu = *federation_->menu();
    menu.clear();
    if (!session_.hasProject())
        return;
    for (const project::Federation& f : orNothing(session_.project().setup().federations())) {
        if (f.isRetired)
            continue;
        auto* a = menu.addAction(q(f.name));
        a->setCheckable(true);
        a->setChecked(f.name == session_.federation());
        connect(a, &QAction::triggered, this, [this, name = f.name] { session_.setFederation(name); });
    }
    menu.addSeparator();
    connect(menu.addAction("Members and federations…"), &QAction::triggered, this,
            [this] { showFederations(*details_, session_); });
}

void MainWindow::showWhatIsLookedAt()
{
    const bool hasProject = session_.hasProject();
    const auto past = session_.pastCycle();
    cycle_->setText(
        !hasProject ? "–"
                    : "Cycle " + QString::number(past ? *past : orNothing(session_.project().deliveries().cycle())) +
                          (past ? ", read-only" : ""));
    federation_->setText(q(session_.federation()));
    const project::Inside* inside = session_.inside();
    if (past)
        lookingWords_->setText(QString("The composition of cycle %1, read-only").arg(*past));
    else if (inside != nullptr)
        lookingWords_->setText("Looking inside " + q(inside->delivery.name()) +
                               (session_.isInsideAlone() ? ", alone" : ", within the federation") +
                               (inside->delivery.isUsed() ? "" : " · not taken in"));
    lookAtNow_->setText(past ? "Back to the present one" : "Close");
    looking_->setVisible(past || inside != nullptr);
    layOut();
}

void MainWindow::showStart()
{
    if (session_.jobs().isBusy()) {
        bar_->say("Something is still running; wait for it or cancel it.", true);
        return;
    }
    session_.leaveInside();
    session_.lookAtNow();
    keepProjectPicture();
    start_->showHome();
    setAtStart(true);
}

void MainWindow::enterStage()
{
    if (!session_.hasProject())
        return;
    // What a person reads or writes in the panel stays, unless it is of what changed.
    const QString panel = details_->owner();
    if (panel == kFederationsPanel)
        showFederations(*details_, session_);
    else if (panel == kHistoryPanel)
        showHistory(*details_, session_);
    else if (panel.isEmpty())
        stages_[current_]->comeToFront();
}

void MainWindow::keepProjectPicture()
{
    std::uint64_t triangles = 0;
    for (const federation::Member& m : session_.workspace().members)
        triangles += m.geometry->triangleCount();
    if (session_.hasProject() && triangles > 0 && triangles < kMostTriangles && isVisible())
        scene_->picture()
            .scaled(640, 400, Qt::KeepAspectRatio, Qt::SmoothTransformation)
            .save(RecentProjects::pictureOf(q(session_.project().folder().string())), "PNG");
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    keepProjectPicture();
    QWidget::closeEvent(event);
}

} // namespace wendrix::app
