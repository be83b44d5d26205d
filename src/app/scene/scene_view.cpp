#include "scene/scene_view.h"

#include "core/view/focus.h"

#include "scene/compass_level.h"
#include "shell/theme.h"

#include <QPainter>

#include <cmath>

namespace wendrix::app {

namespace {

constexpr std::size_t kMostViews = 50;
constexpr int kMoveMilliseconds = 200, kRestMilliseconds = 180, kTakenAboveAndBelow = 92, kReadyMilliseconds = 8;
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

SceneView::SceneView(QWidget* parent) : QOpenGLWidget(parent), compass_(new CompassLevel(this))
{
    setObjectName("scene");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    animation_.setDuration(kMoveMilliseconds);
    animation_.setStartValue(0.0);
    animation_.setEndValue(1.0);
    rest_.setSingleShot(true);
    rest_.setInterval(kRestMilliseconds);
    connect(&rest_, &QTimer::timeout, this, [this] {
        isMoving_ = false;
        update();
        emit viewRested();
    });
    ready_.setInterval(kReadyMilliseconds);
    connect(&ready_, &QTimer::timeout, this, [this] {
        if (areMembersStale_ && verticesToBe_.isBegun() && !verticesToBe_.isReady())
            return;
        ready_.stop();
        update();
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
    members_ = std::move(members);
    looks_ = std::move(looks);
    display_ = {};
    overlay_.reset();
    snapper_.reset();
    picker_.reset();
    pickerToBe_.begin([members = members_] { return std::make_unique<view::Picker>(members); });
    std::vector<federation::Member> unsent;
    std::copy_if(members_.begin(), members_.end(), std::back_inserter(unsent), [this](const federation::Member& m) { return !renderer_.has(m); });
    verticesToBe_.begin([unsent = std::move(unsent)] {
        std::vector<SceneRenderer::Prepared> prepared;
        for (const federation::Member& m : unsent)
            prepared.push_back({m.geometry, m.fit.transform(), verticesOf(m)});
        return prepared;
    });
    ready_.start();
    areMembersStale_ = true;
    setRule(rule_);
}

view::Picker& SceneView::picker() const
{
    if (picker_ == nullptr)
        picker_ = pickerToBe_.isBegun() ? pickerToBe_.take() : std::make_unique<view::Picker>(members_);
    return *picker_;
}

void SceneView::putInFocus(const std::optional<Box3>& place, std::span<const view::ElementKey> about)
{
    display_.focus.reset();
    if (!place || place->isEmpty())
        return;
    const bool isPickerThere = picker_ != nullptr || pickerToBe_.isReady();
    display_.isRestFaded = true;
    display_.focus = view::focusOn(*place, members_, looks_, about, isPickerThere ? &picker() : nullptr);
}

Vector3 SceneView::freeDirection(Point3 place, double reach, Vector3 wished, std::span<const view::ElementKey> about) const
{
    if (picker_ == nullptr && !pickerToBe_.isReady())
        return normalised(wished);
    return view::freeDirection(picker(), place, reach, wished, about);
}

view::Snapper& SceneView::snapper()
{
    if (snapper_ == nullptr)
        snapper_ = std::make_unique<view::Snapper>(members_, picker());
    return *snapper_;
}

void SceneView::setLooks(std::vector<view::MemberLook> looks)
{
    looks_ = std::move(looks);
    setRule(rule_);
}

void SceneView::setRule(const view::ColourRule& rule)
{
    rule_ = rule;
    coloured_.reset(); // members, looks or the rule are others
    colouring_ = view::colouringBy(rule_, members_, looks_);
    spaceNames_.clear();
    for (std::uint32_t m = 0; m < members_.size(); ++m)
        for (ifc::ElementIndex e = 0; e < members_[m].model->elements().size() && looks_[m].areSpacesShown; ++e) {
            const ifc::Element& element = members_[m].model->elements()[e];
            if (view::isUnbuilt(*members_[m].model, element))
                spaceNames_.push_back({view::boundsOf(members_, {m, e}).centre(), QString::fromStdString(members_[m].model->displayName(element)), {}, {}, true});
        }
    updateDisplay();
}

Box3 SceneView::bounds() const
{
    Box3 box;
    for (std::size_t i = 0; i < members_.size(); ++i)
        if (looks_[i].isShown && !looks_[i].isOnlyPainted)
            box.add(members_[i].fit.transform().apply(members_[i].geometry->bounds()));
    return box;
}

void SceneView::updateDisplay()
{
    // As most of the time only what is painted or selected differs, and there may be a million elements.
    const auto changed = coloured_ ? view::updateColours(colours_, *coloured_, display_, members_, looks_, colouring_.colours) : std::nullopt;
    if (changed) {
        changedColours_.insert(changedColours_.end(), changed->begin(), changed->end());
    } else {
        colours_ = view::coloursOf(display_, members_, looks_, colouring_.colours);
        areColoursStale_ = true;
    }
    isFocusStale_ = display_.focus.has_value();
    coloured_ = display_;
    areCutFacesStale_ = areCutFacesStale_ || !cuts_.faces().empty();
    update();
    emit displayChanged();
}

std::optional<view::ElementKey> SceneView::find(const ElementRef& ref) const
{
    // What is laid under comes last.
    std::size_t shown = 0;
    while (shown < looks_.size() && !looks_[shown].isOnlyPainted)
        ++shown;
    return view::find(std::span(members_).first(shown), ref);
}

void SceneView::setGrid(std::vector<GridLine> lines)
{
    grid_ = std::move(lines);
    ++gridVersion_;
    update();
}

void SceneView::setGridShown(bool isShown)
{
    isGridShown_ = isShown;
    ++gridVersion_;
    update();
}

void SceneView::setMarkers(std::vector<Marker> markers)
{
    markers_ = std::move(markers);
    update();
}

void SceneView::setArrows(std::vector<Arrow> arrows)
{
    arrows_ = std::move(arrows);
    update();
}

void SceneView::setCuts(view::Cuts cuts)
{
    cuts_ = std::move(cuts);
    if (cuts_.isEmpty())
        overlay_.reset(); // there is no face left to lay anything in
    areCutFacesStale_ = true;
    update();
    emit displayChanged();
}

void SceneView::setTool(SceneTool* tool)
{
    tool_ = tool;
    setCursor(tool != nullptr ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
}

void SceneView::choose(std::set<view::ElementKey> elements)
{
    display_.selected = std::move(elements);
    updateDisplay();
    emit selectionChanged();
}

void SceneView::remember()
{
    before_.push_back(camera_);
    if (before_.size() > kMostViews)
        before_.pop_front();
}

void SceneView::moved()
{
    isMoving_ = true;
    rest_.start();
    compass_->setCamera(camera_);
    update();
}

void SceneView::setCamera(const view::Camera& camera, bool isSmooth)
{
    animation_.stop();
    animation_.disconnect(this);
    remember();
    goal_ = camera;
    if (!isSmooth || !isVisible()) {
        camera_ = camera;
        moved();
        return;
    }
    connect(&animation_, &QVariantAnimation::valueChanged, this, [this, from = camera_](const QVariant& t) {
        camera_ = view::between(from, goal_, t.toDouble());
        moved();
    });
    animation_.start();
}

void SceneView::steer(const view::Camera& camera)
{
    animation_.stop();
    camera_ = camera;
    moved();
}

void SceneView::viewBack()
{
    if (before_.empty())
        return;
    animation_.stop();
    camera_ = before_.back();
    before_.pop_back();
    moved();
}

void SceneView::fitAll()
{
    std::vector<Box3> boxes;
    for (std::uint32_t m = 0; m < members_.size(); ++m)
        for (ifc::ElementIndex e = 0; e < colours_[m].size() && !looks_[m].isOnlyPainted; ++e)
            if (colours_[m][e].alpha > 0) {
                Box3 box = view::boundsOf(members_, {m, e});
                if (cuts_.slice) {
                    box.min.z = std::max(box.min.z, cuts_.slice->low);
                    box.max.z = std::min(box.max.z, cuts_.slice->high);
                }
                if (box.min.z <= box.max.z)
                    boxes.push_back(box);
            }
    if (boxes.empty())
        return;
    // Between the tool strip above and the words below: fitted into a view that is that much narrower upwards.
    const double high = std::max(1, height()), room = std::max(high / 2, high - kTakenAboveAndBelow), whole = view::Camera().fieldOfView;
    view::Camera camera = view::lookingAt(boxes, kUsualSide, viewport().aspect() * high / room, 2 * std::atan(std::tan(whole / 2) * room / high));
    camera.fieldOfView = whole;
    camera.isParallel = camera_.isParallel;
    setCamera(camera, true);
}

void SceneView::lookAt(const std::vector<view::ElementKey>& elements)
{
    Box3 box;
    for (const view::ElementKey& key : elements)
        box.add(view::boundsOf(members_, key));
    if (!box.isEmpty())
        setCamera(view::fitted(camera_, box.grownBy(0.8), viewport().aspect()), true);
}

view::Camera SceneView::whereItGoes() const
{
    return animation_.state() == QAbstractAnimation::Running ? goal_ : camera_;
}

void SceneView::lookFrom(Vector3 from) { setCamera(view::turnedTo(whereItGoes(), from), true); }

void SceneView::setParallel(bool isParallel)
{
    view::Camera camera = whereItGoes();
    camera.isParallel = isParallel;
    setCamera(camera, false);
}

void SceneView::finishMotion()
{
    if (animation_.state() == QAbstractAnimation::Running) {
        animation_.stop();
        camera_ = goal_;
    }
    rest_.stop();
    isMoving_ = false;
    compass_->setCamera(camera_);
    update();
    emit viewRested();
}

void SceneView::initializeGL() { renderer_.initialise(); }

bool SceneView::rebuild(bool mayWait)
{
    if (areMembersStale_ && mayWait && verticesToBe_.isBegun() && !verticesToBe_.isReady())
        return false;
    if (areMembersStale_)
        renderer_.setMembers(members_, verticesToBe_.isBegun() ? verticesToBe_.take() : std::vector<SceneRenderer::Prepared>());
    sendColours();
    if (areCutFacesStale_)
        cutFacesAnew();
    areMembersStale_ = areCutFacesStale_ = false;
    return true;
}

void SceneView::sendColours()
{
    if (areMembersStale_ && !areColoursStale_) { // they are no colours of these
        areColoursStale_ = true;
        changedColours_.clear();
    }
    if (display_.isRestFaded && display_.focus) {
        // The whole is not seen, so its colours can wait until it is.
        areColoursStale_ = areColoursStale_ || !changedColours_.empty();
        changedColours_.clear();
        if (areMembersStale_ || (areColoursStale_ && !cuts_.faces().empty())) { // cut faces are drawn in them
            renderer_.setColours(colours_, looks_);
            areColoursStale_ = false;
            isFocusStale_ = true;
        }
        sendFocus();
        return;
    }
    renderer_.setFocus({}, colours_);
    isFocusStale_ = false;
    if (areColoursStale_) {
        renderer_.setColours(colours_, looks_);
    } else if (!changedColours_.empty()) {
        // What changed twice before a frame was drawn is sent once.
        std::sort(changedColours_.begin(), changedColours_.end());
        changedColours_.erase(std::unique(changedColours_.begin(), changedColours_.end()), changedColours_.end());
        renderer_.updateColours(colours_, changedColours_);
    }
    areColoursStale_ = false;
    changedColours_.clear();
}

void SceneView::sendFocus()
{
    if (!isFocusStale_)
        return;
    isFocusStale_ = false;
    std::set<view::ElementKey> shown(display_.focus->around.begin(), display_.focus->around.end());
    for (const auto& [key, colour] : display_.painted)
        shown.insert(key);
    shown.insert(display_.selected.begin(), display_.selected.end());
    std::erase_if(shown, [&](const view::ElementKey& key) { return colours_[key.member][key.element].alpha <= 0; });
    const std::vector<view::ElementKey> keys(shown.begin(), shown.end());
    renderer_.setFocus(keys, colours_);
    if (keys.empty()) // an empty picture, not the whole building as it was coloured before
        renderer_.setColours(colours_, looks_);
}

void SceneView::cutFacesAnew()
{
    auto planes = cuts_.faces();
    std::vector<view::CutFaces> faces;
    outline_.clear();
    if (overlay_ && !planes.empty()) {
        planes = {planes.back()};
        const auto only = [&](std::uint32_t member) {
            // As the file has it: what a stage fades or leaves out counts here too.
            auto colours = view::coloursOf({}, members_, std::vector<view::MemberLook>(members_.size()));
            for (std::uint32_t m = 0; m < colours.size(); ++m)
                for (view::Colour& c : colours[m])
                    c.alpha = m == member ? c.alpha : 0;
            return view::cutFaces(members_, colours, planes[0]);
        };
        faces.push_back(only(overlay_->filled));
        outline_ = only(overlay_->outlined).outlines;
    } else {
        for (const geometry::Plane& plane : planes)
            faces.push_back(view::cutFaces(members_, colours_, plane));
    }
    renderer_.setCutFaces(faces, planes);
}

void SceneView::setOverlay(std::optional<Overlay> overlay)
{
    overlay_ = overlay;
    areCutFacesStale_ = true;
    if (overlay_ && !cuts_.faces().empty()) {
        view::Camera camera = view::turnedTo(camera_, cuts_.faces().back().normal);
        camera.isParallel = true;
        setCamera(camera, false);
    }
    update();
    emit displayChanged();
}

SceneRenderer::Frame SceneView::frame(QSize pixels, GLuint target) const
{
    SceneRenderer::Frame f;
    f.camera = camera_;
    f.size = pixels;
    f.target = target;
    f.cuts = cuts_.faces();
    f.bounds = bounds();
    f.grid = isGridShown_ ? &grid_ : nullptr;
    f.isMoving = isMoving_;
    f.isFlat = overlay_.has_value();
    f.version = gridVersion_;
    if (display_.isRestFaded && display_.focus)
        f.focus = view::Focus{display_.focus->box, display_.focus->floor, display_.focus->ceiling, {}};
    return f;
}

void SceneView::paintGL()
{
    const bool hadToSend = areMembersStale_, isSent = rebuild(!isWholeWanted_);
    SceneRenderer::Frame now = frame(size() * devicePixelRatio(), defaultFramebufferObject());
    now.mayPause = !isWholeWanted_;
    // Sending takes long enough for one event; and who resizes waits until it is painted.
    now.isWaiting = (hadToSend || isResizing_) && now.mayPause;
    if (!renderer_.draw(now)) {
        if (isSent) // else when it is ready
            update(); // after what waits meanwhile
    } else if (isSent) {
        const auto tell = [this] {
            if (!areMembersStale_ && !isFocusStale_ && (display_.focus || (!areColoursStale_ && changedColours_.empty()))) // else something else is to be drawn by now
                emit drawnWhole();
        };
        QMetaObject::invokeMethod(this, tell, Qt::QueuedConnection);
    }
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
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
}

} // namespace wendrix::app
