#include "scene/scene_view.h"

#include "scene/compass_level.h"
#include "shell/theme.h"

#include <QPainter>

#include <cmath>

namespace wendrix::app {

namespace {

constexpr int kLeastWithPlan = 340; // pixels of height: in a lower scene it would hide what it is about
constexpr int kTakenAboveAndBelow = 92, kReadyMilliseconds = 8;
constexpr Vector3 kUsualSide{-0.62, -0.80, 0.55};

} // namespace

void setSurfaceFormat()
{
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    format.setDepthBufferSize(24);
    QSurfaceFormat::setDefaultFormat(format);
}

SceneView::SceneView(QWidget* parent)
    : QOpenGLWidget(parent), compass_(new CompassLevel(this)), plan_(new StoreyPlan(this))
{
    setObjectName("scene");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    connect(&motion_, &ViewMotion::moved, this, [this] {
        compass_->setCamera(camera());
        showPlan();
        update();
    });
    connect(&motion_, &ViewMotion::rested, this, [this] {
        update();
        emit viewRested();
    });
    ready_.setInterval(kReadyMilliseconds);
    connect(&ready_, &QTimer::timeout, this, [this] {
        if (picker_ == nullptr && isPickerReady()) {
            takePicker();
            if (click_)
                select(*std::exchange(click_, {}));
        }
        const bool isSent = !scene_.difference().areMembersNew || !verticesToBe_.isBegun();
        if (!isSent && verticesToBe_.isReady())
            update();
        if (picker_ != nullptr && (isSent || verticesToBe_.isReady()))
            ready_.stop();
    });
    connect(compass_, &CompassLevel::sideChosen, this, &SceneView::lookFrom);
    connect(compass_, &CompassLevel::parallelChosen, this, &SceneView::setParallel);
    setMembers({}, {});
}

SceneView::~SceneView()
{
    makeCurrent();
    renderer_.release();
    doneCurrent();
}

void SceneView::setMembers(std::vector<federation::Member> members, std::vector<view::MemberLook> looks)
{
    scene_.setMembers(std::move(members), std::move(looks));
    snapper_.reset();
    picker_.reset();
    click_.reset();
    pickerToBe_.begin([members = scene_.members()] { return std::make_unique<view::Picker>(members); });
    std::vector<federation::Member> unsent;
    std::copy_if(scene_.members().begin(), scene_.members().end(), std::back_inserter(unsent),
                 [this](const federation::Member& m) { return !renderer_.has(m); });
    verticesToBe_.begin([unsent = std::move(unsent)] {
        std::vector<SceneRenderer::Prepared> prepared;
        for (const federation::Member& m : unsent)
            prepared.push_back({m.geometry, m.fit.transform(), verticesOf(m)});
        return prepared;
    });
    ready_.start();
    nameSpaces();
    follow();
}

void SceneView::placeMembers(const std::function<federation::Fit(const federation::Member&)>& fitOf)
{
    std::vector<federation::Member> placed = members();
    for (federation::Member& member : placed)
        member.fit = fitOf(member);
    if (!std::equal(placed.begin(), placed.end(), members().begin(),
                    [](const auto& a, const auto& b) { return a.fit == b.fit; }))
        setMembers(std::move(placed), looks());
}

view::Picker& SceneView::picker()
{
    takePicker();
    return *picker_;
}

void SceneView::takePicker()
{
    if (picker_ != nullptr)
        return;
    picker_ = pickerToBe_.isBegun() ? pickerToBe_.take() : std::make_unique<view::Picker>(scene_.members());
    const bool isInFocus = display().focus.has_value();
    scene_.setPicker(picker_.get());
    if (isInFocus) // what stands around has come
        follow();
}

Vector3 SceneView::freeDirection(Point3 place, double reach, Vector3 wished, std::span<const view::ElementKey> about)
{
    if (!isPickerReady())
        return normalised(wished);
    return view::freeDirection(picker(), place, reach, wished, about);
}

view::Snapper& SceneView::snapper()
{
    if (snapper_ == nullptr)
        snapper_ = std::make_unique<view::Snapper>(scene_.members(), picker());
    return *snapper_;
}

void SceneView::setLooks(std::vector<view::MemberLook> looks)
{
    scene_.setLooks(std::move(looks));
    nameSpaces();
    follow();
}

void SceneView::setRule(const view::ColourRule& rule)
{
    change([&](view::Scene& scene) { scene.setRule(rule); });
}

void SceneView::nameSpaces()
{
    spaceNames_.clear();
    for (std::uint32_t m = 0; m < members().size(); ++m)
        for (ifc::ElementIndex e = 0; e < members()[m].model->elements().size() && looks()[m].areSpacesShown; ++e) {
            const ifc::Element& element = members()[m].model->elements()[e];
            if (view::isUnbuilt(*members()[m].model, element))
                spaceNames_.push_back({view::boundsOf(members(), {m, e}).centre(),
                                       members()[m].model->displayName(element),
                                       {},
                                       {},
                                       true});
        }
}

void SceneView::setPlanStorey(std::optional<StoreyPlan::Storey> storey)
{
    plan_->setStorey(std::move(storey));
    showPlan();
}

void SceneView::showPlan()
{
    const auto& focus = display().focus;
    plan_->setPlace(focus && height() >= kLeastWithPlan ? std::optional(focus->box) : std::nullopt, camera());
}

void SceneView::placePlan()
{
    plan_->move(10, height() - plan_->height() - foot_);
    showPlan();
}

void SceneView::setFoot(int pixels)
{
    foot_ = pixels;
    placePlan();
}

void SceneView::follow()
{
    showPlan();
    update();
    emit displayChanged();
}

void SceneView::setGridShown(bool isShown)
{
    isGridShown_ = isShown;
    ++gridVersion_;
    update();
}

void SceneView::setCuts(view::Cuts cuts)
{
    change([&](view::Scene& scene) { scene.setCuts(std::move(cuts)); });
}

void SceneView::setTool(SceneTool* tool)
{
    tool_ = tool;
    setCursor(tool != nullptr ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
}

void SceneView::choose(std::set<view::ElementKey> elements)
{
    change([&](view::Scene& scene) { scene.choose(std::move(elements)); });
    emit selectionChanged();
}

void SceneView::setCamera(const view::Camera& camera, bool isSmooth) { motion_.go(camera, isSmooth && isVisible()); }

void SceneView::fitAll()
{
    std::vector<Box3> boxes;
    colours().forEachDrawn([&](const view::ElementKey& key, const view::Colour&) {
        if (looks()[key.member].isOnlyPainted)
            return;
        Box3 box = view::boundsOf(members(), key);
        if (cuts().slice) {
            box.min.z = std::max(box.min.z, cuts().slice->low);
            box.max.z = std::min(box.max.z, cuts().slice->high);
        }
        if (box.min.z <= box.max.z)
            boxes.push_back(box);
    });
    if (boxes.empty())
        return;
    // Between the tool strip above and the words below: fitted into a view that is that much narrower upwards.
    const double high = std::max(1, height()), room = std::max(high / 2, high - kTakenAboveAndBelow),
                 whole = view::Camera().fieldOfView;
    view::Camera camera = view::lookingAt(boxes, kUsualSide, viewport().aspect() * high / room,
                                          2 * std::atan(std::tan(whole / 2) * room / high));
    camera.fieldOfView = whole;
    camera.isParallel = this->camera().isParallel;
    setCamera(camera, true);
}

void SceneView::lookAt(const std::vector<view::ElementKey>& elements)
{
    Box3 box;
    for (const view::ElementKey& key : elements)
        box.add(view::boundsOf(members(), key));
    if (!box.isEmpty())
        setCamera(view::fitted(camera(), box.grownBy(0.8), viewport().aspect()), true);
}

void SceneView::lookFrom(Vector3 from) { setCamera(view::turnedTo(motion_.whereItGoes(), from), true); }

void SceneView::setParallel(bool isParallel)
{
    view::Camera camera = motion_.whereItGoes();
    camera.isParallel = isParallel;
    setCamera(camera, false);
}

void SceneView::initializeGL() { renderer_.initialise(); }

bool SceneView::rebuild(bool mayWait)
{
    if (scene_.difference().areMembersNew && mayWait && verticesToBe_.isBegun() && !verticesToBe_.isReady())
        return false;
    const view::Scene::Difference difference = scene_.takeDifference();
    if (difference.areMembersNew)
        renderer_.setMembers(members(),
                             verticesToBe_.isBegun() ? verticesToBe_.take() : std::vector<SceneRenderer::Prepared>());
    if (difference.areLooksNew)
        renderer_.setLooks(looks());
    if (difference.areAllColoursNew)
        renderer_.setColours(scene_.wholeColours());
    else if (!difference.colours.empty())
        renderer_.updateColours(scene_.wholeColours(), difference.colours);
    if (difference.isFocusNew)
        renderer_.setFocus(scene_.coloursInFocus());
    if (difference.areFiguresNew)
        renderer_.setFigures(scene_.figures());
    if (difference.arePicturesNew)
        renderer_.setPictures(scene_.pictures());
    if (difference.areCutFacesNew)
        cutFacesAnew();
    if (difference.isGridNew)
        ++gridVersion_;
    return true;
}

void SceneView::cutFacesAnew()
{
    view::CutPicture picture = view::cutPictureOf(scene_);
    outline_ = std::move(picture.outline);
    surroundings_ = std::move(picture.surroundings);
    renderer_.setCutFaces(picture.faces, picture.planes,
                          picture.asDelivered ? view::Colours(*picture.asDelivered) : colours());
}

void SceneView::setOverlay(std::optional<view::Overlay> overlay)
{
    scene_.setOverlay(overlay);
    if (overlay && !cuts().faces().empty()) {
        view::Camera camera = view::turnedTo(this->camera(), cuts().faces().back().normal);
        camera.isParallel = true;
        setCamera(camera, false);
    }
    follow();
}

SceneRenderer::Frame SceneView::frame(QSize pixels, GLuint target) const
{
    SceneRenderer::Frame f;
    f.camera = camera();
    f.size = pixels;
    f.target = target;
    f.cuts = scene_.cutPlanes();
    f.bounds = scene_.bounds();
    f.grid = isGridShown_ ? &scene_.grid() : nullptr;
    f.isMoving = motion_.isMoving();
    f.isFlat = overlay().has_value();
    f.version = gridVersion_;
    if (const auto& focus = display().focus)
        f.focus = view::Focus{focus->box, focus->floor, focus->ceiling, {}};
    return f;
}

void SceneView::paintGL()
{
    const bool hadToSend = scene_.difference().areMembersNew, isSent = rebuild(!isWholeWanted_);
    SceneRenderer::Frame now = frame(size() * devicePixelRatio(), defaultFramebufferObject());
    now.mayPause = !isWholeWanted_;
    // Sending takes long enough for one event; and who resizes waits until it is painted.
    now.isWaiting = (hadToSend || isResizing_) && now.mayPause;
    const bool isWhole = renderer_.draw(now);
    if (!isWhole) {
        if (isSent)   // else when it is ready
            update(); // after what waits meanwhile
    } else if (isSent) {
        const auto tell = [this] {
            if (scene_.difference().isNothing()) // else something else is to be drawn by now
                emit drawnWhole();
        };
        QMetaObject::invokeMethod(this, tell, Qt::QueuedConnection);
    }
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!isWhole)
        paintSelected(painter);
    paintOver(painter, viewport());
    if (tool_ != nullptr)
        tool_->paint(painter);
    if (box_) {
        painter.setPen(QPen(theme::kFocus, 1.5, box_->width() < 0 ? Qt::DashLine : Qt::SolidLine));
        painter.setBrush(QColor(0x2B, 0x7A, 0x84, 30));
        painter.drawRect(box_->normalized());
    }
}

void SceneView::resizeEvent(QResizeEvent* event)
{
    isResizing_ = true; // it paints at once
    QOpenGLWidget::resizeEvent(event);
    isResizing_ = false;
    compass_->move(width() - compass_->width() - 8, height() - compass_->height() - 8);
    placePlan();
}

} // namespace wendrix::app
