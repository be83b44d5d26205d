#include "shell/main_window.h"

#include "changes/changes_stage.h"
#include "clashes/clashes_stage.h"
#include "coordinates/coordinates_stage.h"
#include "core/base/text.h"
#include "core/federation/location.h"
#include "deliveries/deliveries_stage.h"
#include "deliveries/document_view.h"
#include "issues/issues_stage.h"
#include "shell/composition_chips.h"
#include "shell/show_panel.h"
#include "shell/start_page.h"
#include "shell/theme.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QThreadPool>
#include <QToolButton>

namespace wendrix::app {

namespace {

constexpr int kHead = 44, kRail = 76, kLadder = 54, kDetails = 300, kHandle = 3, kCompass = 112, kLooking = 34,
              kPersonWidth = 130;

QToolButton* box(const QString& name, const QString& what)
{
    auto* button = new QToolButton;
    button->setObjectName(name);
    button->setAccessibleName(what);
    button->setToolTip(what);
    button->setFixedHeight(28);
    button->setPopupMode(QToolButton::InstantPopup);
    button->setStyleSheet(
        "QToolButton { border:1px solid #DAD4C6; border-radius:4px; padding:3px 18px 3px 9px; background:#FDFCF8; }"
        "QToolButton:hover { border-color:#C9C2B1; } QToolButton:focus { border:2px solid #2B7A84; }"
        "QToolButton::menu-indicator { subcontrol-position: right center; right:5px; }");
    return button;
}

} // namespace

MainWindow::MainWindow(Session& session, QWidget* parent) : QWidget(parent), session_(session)
{
    setWindowTitle("Wendrix");
    setAutoFillBackground(true);
    desk_ = new QWidget(this);
    resize(1280, 800);
    makeHead();
    rail_ = new StageRail(desk_);
    lists_ = new QStackedWidget(desk_);
    scene_ = new SceneView(desk_);
    ladder_ = new StoreyLadder(desk_);
    details_ = new Details(desk_);
    details_->setObjectName("details");
    details_->setStyleSheet("#details { border-left: 1px solid #DAD4C6; }");
    bar_ = new CompositionBar(desk_);
    handle_ = new QWidget(desk_);
    handle_->setCursor(Qt::SplitHCursor);
    handle_->setStyleSheet("background:#DAD4C6");
    handle_->installEventFilter(this);
    makeTools();
    document_ = new DocumentView(desk_);

    const StageContext context{session_, *scene_, *details_};
    auto* deliveries = new DeliveriesStage(context, *document_, this);
    // Band and layout at once: a scene that is resized is drawn at once.
    connect(deliveries, &DeliveriesStage::layoutChanged, this, &MainWindow::showWhatIsLookedAt);
    auto* issues = new IssuesStage(context, this);
    connect(issues, &IssuesStage::frontWanted, this, [this] { showStage(indexOf("Issues")); });
    stages_ = {deliveries, new CoordinatesStage(context, this), new ChangesStage(context, this),
               new ClashesStage(context, this), issues};
    for (Stage* stage : stages_) {
        rail_->addStage(stage->title(), stage->iconName());
        lists_->addWidget(stage->list());
        for (ToolEntry entry : stage->tools()) {
            entry.stage = stage->title();
            tools_->add(entry);
        }
        connect(stage, &Stage::toolWanted, tools_, &ToolStrip::toggle);
        connect(stage, &Stage::toolChanged, tools_, &ToolStrip::refresh);
        connect(stage, &Stage::layoutChanged, this, [this] { layOut(); });
        connect(stage, &Stage::countsChanged, this, [this, stage] {
            if (stage != stages_[current_])
                return;
            ladder_->setCounts(stage->storeyCounts());
            if (const auto waiting = stage->waitingInList())
                rail_->setWaiting(current_, *waiting);
        });
    }
    makeMenus();
    makeKeys();
    connect(rail_, &StageRail::stageChosen, this, &MainWindow::showStage);
    connect(&session_, &Session::opened, this, &MainWindow::opened);
    connect(&session_, &Session::changed, this, &MainWindow::projectChanged);
    connect(&session_, &Session::workspaceChanged, this, &MainWindow::workspaceChanged);
    connect(&session_, &Session::previousChanged, this, &MainWindow::workspaceChanged);
    connect(&session_.jobs(), &Jobs::changed, this, &MainWindow::showWork);
    connect(&session_, &Session::said, bar_, &CompositionBar::say);
    connect(bar_, &CompositionBar::heightChanged, this, &MainWindow::layOut, Qt::QueuedConnection);
    connect(bar_, &CompositionBar::cancelled, &session_.jobs(), &Jobs::cancel);
    connect(bar_, &CompositionBar::chipMenuWanted, this, &MainWindow::showMemberMenu);
    connect(deliveries, &DeliveriesStage::compareWanted, this, &MainWindow::compare);
    connect(bar_, &CompositionBar::chipClicked, this, [this](const QString& discipline) {
        auto looks = scene_->looks();
        for (std::size_t i = 0; i < looks.size(); ++i)
            if (q(scene_->members()[i].discipline) == discipline && !looks[i].isOnlyPainted)
                looks[i].isShown = !looks[i].isShown;
        scene_->setLooks(looks);
    });
    connect(ladder_, &StoreyLadder::storeyChosen, this, &MainWindow::chooseStorey);
    connect(scene_, &SceneView::selectionChanged, this, &MainWindow::showSelectionDetails);
    connect(scene_, &SceneView::menuWanted, this, &MainWindow::showSceneMenu);
    connect(scene_, &SceneView::displayChanged, this, [this] {
        rememberLooks();
        updateSelectionWords();
    });
    connect(scene_, &SceneView::viewRested, this, [this] {
        if (!scene_->marks().empty()) // they belong to one view
            updateSelectionWords();
    });
    connect(scene_, &SceneView::cursorMoved, this, [this](bool isOnModel, double x, double y, double z) {
        const federation::Member* reference = session_.reference();
        if (!isOnModel || reference == nullptr) {
            bar_->setPlace({});
            return;
        }
        const federation::Location at = federation::Locator(*reference->model).at({x, y, z});
        bar_->setPlace(readingsAt({x, y, z}, q(at.bay) + " · " + q(at.storey)));
    });
    showStage(indexOf("Deliveries"));
    opened();
}

MainWindow::~MainWindow()
{
    if (noting_)
        noting_->cancel();
    QThreadPool::globalInstance()->waitForDone(); // the names being read report to this window
}

int MainWindow::indexOf(const QString& title) const
{
    for (int i = 0; i < stages_.size(); ++i)
        if (stages_[i]->title() == title)
            return i;
    return 0;
}

void MainWindow::makeHead()
{
    head_ = new QWidget(desk_);
    head_->setObjectName("head");
    head_->setStyleSheet("#head { background:#FFFFFF; border-bottom:1px solid #DAD4C6; }");
    auto* layout = new QHBoxLayout(head_);
    layout->setContentsMargins(14, 0, 14, 0);
    layout->setSpacing(12);
    auto* mark = new QLabel("Wendrix");
    mark->setFont(theme::font(14, 700));
    mark->setStyleSheet("color:#173F46");
    mark->setFixedWidth(78);
    layout->addWidget(mark);
    projectName_ = box("projectName", "Project");
    projectName_->setFont(theme::font(13, 700));
    cycle_ = box("cycle", "Cycle whose composition is shown");
    federation_ = box("federation", "Federation");
    layout->addWidget(projectName_);
    layout->addWidget(cycle_);
    layout->addWidget(federation_);
    layout->addStretch(1);
    goTo_ = new GoTo([this](const QString& words) { return search(words); }, this);
    goTo_->setFixedWidth(380);
    layout->addWidget(goTo_);
    person_ = new QToolButton;
    person_->setObjectName("person");
    person_->setToolTip("Who is working: decisions are recorded under this name");
    person_->setStyleSheet("QToolButton { border:none; color:#5F6B70; } QToolButton:hover { color:#1F2B30; } "
                           "QToolButton:focus { border:2px solid #2B7A84; border-radius:4px; }");
    connect(person_, &QToolButton::clicked, this, &MainWindow::askPerson);
    const auto showPerson = [this] {
        person_->setText(person_->fontMetrics().elidedText(session_.person(), Qt::ElideRight, kPersonWidth));
        person_->setAccessibleName("Person: " + session_.person());
    };
    connect(&session_, &Session::personChanged, person_, showPerson);
    showPerson();
    layout->addWidget(person_);
}

void MainWindow::makeTools()
{
    tools_ = new ToolStrip(*scene_, desk_);
    connect(tools_, &ToolStrip::resized, this, &MainWindow::layOut);
    sceneTools_ = new SceneTools(*scene_, *tools_, *details_, this);
    connect(sceneTools_, &SceneTools::said, this, [this](const QString& words) { bar_->say(words, true); });
    tools_->add({"show", "Show", "eye", "What is shown, and what its colours say", nullptr, nullptr,
                 [this] { showWhatIsShown(*details_, *scene_, session_); }});
    tools_->add({"views", "Views", "", "Views that are kept, and keeping this one", nullptr, nullptr,
                 [this] { showKeptViews(*details_, viewsContext()); }});
    notes_ = new NotesPanel(*details_, viewsContext(), sceneTools_->mark(), this);
    connect(tools_, &ToolStrip::taken, this,
            [this](const QString& id) { id == SceneTools::kMarkUp ? notes_->show() : notes_->setSigns(false); });
    selectionWords_ = new QLabel(desk_);
    selectionWords_->setObjectName("selectionWords");
    selectionWords_->setTextFormat(Qt::PlainText);
    selectionWords_->setStyleSheet(
        "background:rgba(255,255,255,235); border:1px solid #DAD4C6; border-radius:4px; padding:4px 10px;");
    selectionWords_->hide();
}

void MainWindow::resizeEvent(QResizeEvent*) { layOut(); }

void MainWindow::layOut()
{
    const int w = width(), h = height();
    head_->setGeometry(0, 0, w, kHead);
    bar_->resize(w, bar_->height()); // it may want a second line
    const int bar = bar_->height();
    bar_->move(0, h - bar);
    rail_->setGeometry(0, kHead, kRail, h - kHead - bar);
    const int left = kRail, right = w, top = kHead, bottom = h - bar;
    desk_->setGeometry(0, 0, w, h);
    start_->setGeometry(0, 0, w, h);
    QRect scene;
    if (stages_[current_]->isRegister()) {
        const int split =
            top + std::clamp(static_cast<int>((bottom - top) * registerShare_), 200, std::max(200, bottom - top - 200));
        const int detailsLeft = left + std::max(420, (right - left) * 56 / 100);
        lists_->setGeometry(left, top, right - left, split - kHandle - top);
        handle_->setGeometry(left, split - kHandle, right - left, kHandle);
        handle_->setCursor(Qt::SplitVCursor);
        scene = QRect(left, split, detailsLeft - left - kLadder, bottom - split);
        details_->setGeometry(detailsLeft, split, right - detailsLeft, bottom - split);
    } else {
        const int listRight = left + std::clamp(listWidth_, 260, std::max(260, w - kRail - kLadder - kDetails - 300));
        lists_->setGeometry(left, top, listRight - kHandle - left, bottom - top);
        handle_->setGeometry(listRight - kHandle, top, kHandle, bottom - top);
        handle_->setCursor(Qt::SplitHCursor);
        scene = QRect(listRight, top, right - kDetails - kLadder - listRight, bottom - top);
        details_->setGeometry(right - kDetails, top, kDetails, bottom - top);
    }
    if (!looking_->isHidden()) {
        looking_->setGeometry(scene.left(), scene.top(), scene.width() + kLadder, kLooking);
        scene.setTop(scene.top() + kLooking);
    }
    const QRect room = scene;
    for (Stage* stage : stages_)
        if (QWidget* beside = stage->beside(); beside != nullptr) {
            const bool isSeen = stage == stages_[current_] && beside->property("isWanted").toBool();
            beside->setVisible(isSeen);
            if (isSeen) {
                beside->setGeometry(scene.left(), scene.top(), scene.width() / 2 - 1, scene.height());
                scene.setLeft(scene.left() + scene.width() / 2);
            }
        }
    scene_->setGeometry(scene);
    scene = room;
    document_->setGeometry(scene.adjusted(0, 0, kLadder, 0));
    ladder_->setGeometry(scene.right() + 1, scene.top(), kLadder, scene.height());
    tools_->setRoom(scene.width() - 20);
    tools_->move(scene.left() + 10, scene.top() + 10);
    tools_->raise();
    const int most = std::max(120, scene.width() - 20 - kCompass);
    selectionWords_->setWordWrap(false);
    selectionWords_->adjustSize();
    if (selectionWords_->width() > most) {
        selectionWords_->setWordWrap(true);
        selectionWords_->resize(most, selectionWords_->heightForWidth(most));
    }
    selectionWords_->move(scene.left() + 10, scene.bottom() - selectionWords_->height() - 10);
    selectionWords_->raise();
    scene_->setFoot(selectionWords_->isHidden() ? 10 : selectionWords_->height() + 20);
    if (document_->isVisible())
        document_->raise();
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == handle_ && event->type() == QEvent::MouseMove) {
        const QPoint at = mapFromGlobal(static_cast<QMouseEvent*>(event)->globalPosition().toPoint());
        if (stages_[current_]->isRegister())
            registerShare_ = static_cast<double>(at.y() - kHead) / std::max(1, height() - kHead - bar_->height());
        else
            listWidth_ = at.x() - kRail;
        layOut();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

void MainWindow::showStage(int index)
{
    if (index != current_)
        session_.leaveInside(); // the other stages speak of what is in use
    document_->close();
    current_ = index;
    for (int i = 0; i < stages_.size(); ++i)
        stages_[i]->setFront(i == index);
    tools_->setStage(stages_[index]->title());
    rail_->setCurrent(index);
    lists_->setCurrentIndex(index);
    layOut();
    if (session_.hasProject())
        stages_[index]->comeToFront();
    ladder_->setCounts(stages_[index]->storeyCounts());
    updateSelectionWords();
}

void MainWindow::showWork()
{
    QVector<CompositionBar::Work> work;
    for (const Jobs::State& job : session_.jobs().states())
        work.append({job.id, job.words, job.percent});
    bar_->setWork(work);
}

void MainWindow::opened()
{
    const bool hasProject = session_.hasProject();
    projectName_->setText(hasProject ? q(session_.project().name()) : "no project");
    isFirstModel_ = true;
    scene_->change([](view::Scene& scene) {
        scene.setCuts({});
        scene.setDisplay({});
    });
    for (Stage* stage : stages_)
        stage->becomeStale();
    setAtStart(!hasProject);
    if (hasProject)
        showStage(indexOf("Deliveries"));
    showWhatIsLookedAt();
    updateCounts(~0u);
    updateChips();
}

void MainWindow::projectChanged(const project::Changed& what)
{
    for (Stage* stage : stages_)
        if ((stage->books() & what.books) != 0)
            stage->hear(what);
    updateCounts(what.books);
    if ((stages_[current_]->books() & what.books) != 0 &&
        !(details_->owner().isEmpty() && stages_[current_]->showsWhenRead()))
        enterStage();
    if (what.has(project::Book::Setup) || what.has(project::Book::Deliveries) || what.has(project::Book::Coordinates)) {
        showWhatIsLookedAt();
        updateChips();
        placeChanged();
    }
}

void MainWindow::updateCounts(unsigned books)
{
    if (!session_.hasProject()) {
        for (int i = 0; i < stages_.size(); ++i)
            rail_->setWaiting(i, 0);
        return;
    }
    for (int i = 0; i < stages_.size(); ++i)
        if ((stages_[i]->books() & books) != 0 &&
            !(stages_[i]->isFront() && stages_[i]->waitingInList())) // else its list is read anyway
            session_.ask<int>(stages_[i], "waiting", stages_[i]->waiting(),
                              [this, i](int n) { rail_->setWaiting(i, n); });
}

void MainWindow::placeChanged()
{
    place_ = session_.place();
    scene_->setGeoreference(place_->declared());
}

QStringList MainWindow::readingsAt(Point3 at, const QString& bay) const
{
    QStringList readings{bay + QString(" · X %1 Y %2 Z %3 m")
                                   .arg(at.x, 0, 'f', 3)
                                   .arg(at.y, 0, 'f', 3)
                                   .arg(q(elevationInWords(Metres{at.z})))};
    if (!place_)
        return readings;
    if (const auto onMap = place_->onMap(at))
        readings.append(
            bay +
            QString(" · E %1 N %2 H %3 m").arg(onMap->x, 0, 'f', 3).arg(onMap->y, 0, 'f', 3).arg(onMap->z, 0, 'f', 3));
    if (const auto onEarth = place_->onEarth(at)) {
        const auto elevation = place_->elevation(at);
        readings.append(bay + " · " + q(coordinates::inWords(*onEarth)) +
                        (elevation ? " · " + q(elevationInWords(*elevation)) + " m" : QString()));
    }
    return readings;
}

void MainWindow::updateChips()
{
    QVector<CompositionBar::Chip> chips = session_.hasProject() ? chipsOf(session_) : QVector<CompositionBar::Chip>();
    for (CompositionBar::Chip& chip : chips)
        chip.isShown = memberLooks_.value(chip.discipline).isShown;
    bar_->setChips(chips);
}

void MainWindow::workspaceChanged()
{
    std::vector<federation::Member> members = session_.shown().members;
    std::vector<view::MemberLook> looks;
    if (session_.hasProject()) {
        const auto disciplines = orNothing(session_.project().setup().disciplines());
        const auto colour = [&](const std::string& name) {
            for (const project::Discipline& d : disciplines)
                if (d.name == name)
                    return view::colourOf(d.colour);
            return view::colourOf("#8A7866");
        };
        const project::Inside* inside = session_.inside();
        for (const federation::Member& m : members) {
            view::MemberLook look = memberLooks_.value(q(m.discipline));
            look.colour = colour(m.discipline);
            look.isShown = look.isShown || (inside != nullptr && m.discipline == inside->delivery.discipline);
            looks.push_back(look);
        }
        for (const federation::Member& m : session_.shownUnder().members) {
            members.push_back(m);
            view::MemberLook look;
            look.colour = colour(m.discipline);
            look.isOnlyPainted = true;
            looks.push_back(look);
        }
    }
    scene_->setMembers(std::move(members), std::move(looks));
    placeChanged();
    QVector<StoreyLadder::Rung> rungs;
    if (const federation::Member* reference = session_.reference())
        for (const ifc::Storey& s : reference->model->storeys())
            rungs.append({q(s.name), s.height.value});
    ladder_->setRungs(rungs);
    noteNames();
    if (isFirstModel_ && !session_.workspace().members.empty()) {
        isFirstModel_ = false;
        scene_->fitAll();
        scene_->finishMotion();
    }
    showWhatIsLookedAt();
    for (Stage* stage : stages_)
        stage->becomeStale();                             // what is said of elements is looked up in the models
    updateCounts(app::books(project::Book::Coordinates)); // how they stand
    enterStage();
    updateChips();
    updateSelectionWords();
}

void MainWindow::chooseStorey(const QString& storey)
{
    ladder_->setChosen(storey);
    view::Cuts cuts = scene_->cuts();
    cuts.slice.reset();
    if (const federation::Member* reference = session_.reference()) {
        const auto& storeys = reference->model->storeys();
        for (std::size_t i = 0; i < storeys.size(); ++i)
            if (q(storeys[i].name) == storey) {
                // From just under the floor to just under the ceiling's slab, so that one looks into it.
                const double floor = storeys[i].height.value;
                const double next = i + 1 < storeys.size() ? storeys[i + 1].height.value : floor + 4;
                cuts.slice = view::Cuts::Slice{floor - 0.5, next - 0.6, storeys[i].name};
            }
    }
    scene_->setCuts(cuts);
    for (Stage* stage : stages_)
        stage->setStorey(storey);
    enterStage();
    updateSelectionWords();
}

} // namespace wendrix::app
