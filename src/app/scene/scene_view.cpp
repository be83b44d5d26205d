#include "scene/scene_view.h"

#include "scene/labels.h"
#include "scene/shaders.h"

#include <QMatrix4x4>
#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace wendrix::app {

namespace {

constexpr double kUnlimited = 1e6;  // metres: no cut
constexpr std::size_t kMostViews = 50;
constexpr int kMoveMilliseconds = 200;

QVector3D vector(Vector3 v) { return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)}; }

} // namespace

void setSurfaceFormat()
{
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    format.setDepthBufferSize(24);
    format.setSamples(4);
    QSurfaceFormat::setDefaultFormat(format);
}

SceneView::SceneView(QWidget* parent) : QOpenGLWidget(parent), lineBuffer_(QOpenGLBuffer::VertexBuffer)
{
    setObjectName("scene");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    picker_ = std::make_unique<view::Picker>(std::span<const federation::Member>{});
    animation_.setDuration(kMoveMilliseconds);
    animation_.setStartValue(0.0);
    animation_.setEndValue(1.0);
}

SceneView::~SceneView()
{
    makeCurrent();
    buffers_.clear();
    lineArray_.destroy();
    lineBuffer_.destroy();
    faceProgram_.removeAllShaders();
    edgeProgram_.removeAllShaders();
    lineProgram_.removeAllShaders();
    doneCurrent();
}

void SceneView::setMembers(std::vector<federation::Member> members, std::vector<view::MemberLook> looks)
{
    members_ = std::move(members);
    looks_ = std::move(looks);
    display_ = {};
    picker_ = std::make_unique<view::Picker>(members_);
    isStale_ = true;
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
    colours_ = view::coloursOf(display_, members_, looks_);
    areColoursStale_ = true;
    update();
    emit displayChanged();
}

std::optional<view::ElementKey> SceneView::find(const std::string& guid) const
{
    for (std::uint32_t m = 0; m < members_.size(); ++m)
        if (!looks_[m].isOnlyPainted)
            if (const auto element = members_[m].model->find(guid))
                return view::ElementKey{m, *element};
    return {};
}

void SceneView::setGrid(std::vector<GridLine> lines)
{
    grid_ = std::move(lines);
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

void SceneView::setCut(std::optional<std::pair<double, double>> heights)
{
    cut_ = heights;
    update();
}

void SceneView::remember()
{
    before_.push_back(camera_);
    if (before_.size() > kMostViews)
        before_.pop_front();
}

void SceneView::setCamera(const view::Camera& camera, bool isSmooth)
{
    animation_.stop();
    animation_.disconnect(this);
    remember();
    goal_ = camera;
    if (!isSmooth || !isVisible()) {
        camera_ = camera;
        update();
        return;
    }
    connect(&animation_, &QVariantAnimation::valueChanged, this, [this, from = camera_](const QVariant& t) {
        camera_ = view::between(from, goal_, t.toDouble());
        update();
    });
    animation_.start();
}

void SceneView::viewBack()
{
    if (before_.empty())
        return;
    animation_.stop();
    camera_ = before_.back();
    before_.pop_back();
    update();
}

void SceneView::fitAll()
{
    std::vector<Box3> boxes;
    for (std::uint32_t m = 0; m < members_.size(); ++m)
        for (ifc::ElementIndex e = 0; e < colours_[m].size() && !looks_[m].isOnlyPainted; ++e)
            if (colours_[m][e].alpha > 0) {
                Box3 box = picker_->boundsOf({m, e});
                if (cut_) {
                    box.min.z = std::max(box.min.z, cut_->first);
                    box.max.z = std::min(box.max.z, cut_->second);
                }
                if (box.min.z <= box.max.z)
                    boxes.push_back(box);
            }
    if (!boxes.empty())
        setCamera(view::lookingAt(boxes, {-0.62, -0.80, 0.55}, viewport().aspect()), true);
}

void SceneView::lookAt(const std::vector<view::ElementKey>& elements)
{
    Box3 box;
    for (const view::ElementKey& key : elements)
        box.add(picker_->boundsOf(key));
    if (!box.isEmpty())
        setCamera(view::fitted(camera_, box.grownBy(0.8), viewport().aspect()), true);
}

void SceneView::finishMotion()
{
    if (animation_.state() != QAbstractAnimation::Running)
        return;
    animation_.stop();
    camera_ = goal_;
    update();
}

QImage SceneView::picture()
{
    finishMotion();
    return grabFramebuffer();
}

void SceneView::initializeGL()
{
    initializeOpenGLFunctions();
    const auto build = [](QOpenGLShaderProgram& program, const char* vertex, const char* fragment) {
        program.addShaderFromSourceCode(QOpenGLShader::Vertex, vertex);
        program.addShaderFromSourceCode(QOpenGLShader::Fragment, fragment);
        program.link();
    };
    build(faceProgram_, shaders::kFaceVertex, shaders::kFaceFragment);
    build(edgeProgram_, shaders::kEdgeVertex, shaders::kEdgeFragment);
    build(lineProgram_, shaders::kLineVertex, shaders::kLineFragment);
    lineArray_.create();
    lineBuffer_.create();
}

void SceneView::rebuild()
{
    if (isStale_) {
        buffers_.clear();
        for (const federation::Member& member : members_)
            buffers_.emplace_back(new MemberBuffers(*this, member)); // make_unique may not see our base
        isStale_ = false;
        areColoursStale_ = true;
    }
    if (areColoursStale_) {
        for (std::size_t i = 0; i < buffers_.size(); ++i)
            buffers_[i]->setColours(colours_[i]);
        areColoursStale_ = false;
    }
}

QMatrix4x4 SceneView::projection() const
{
    // Near and far hug the scene: depth precision is what keeps close faces apart.
    Box3 box = bounds();
    for (const GridLine& line : grid_) {
        box.add(line.start);
        box.add(line.end);
    }
    double nearest = 0.1, farthest = 100;
    if (!box.isEmpty()) {
        const double reach = 0.5 * length(box.size());
        const double distance = length(box.centre() - camera_.eye);
        nearest = std::max({0.05, distance - reach, length(camera_.target - camera_.eye) / 500});
        farthest = std::max(nearest * 2, distance + reach);
    }
    QMatrix4x4 m;
    m.perspective(static_cast<float>(camera_.fieldOfView * 180 / M_PI), static_cast<float>(viewport().aspect()),
                  static_cast<float>(nearest), static_cast<float>(farthest));
    return m;
}

QMatrix3x3 SceneView::rotation() const
{
    const Vector3 r = camera_.right(), u = camera_.up(), f = camera_.forward();
    const float values[] = {static_cast<float>(r.x),  static_cast<float>(r.y),  static_cast<float>(r.z),
                            static_cast<float>(u.x),  static_cast<float>(u.y),  static_cast<float>(u.z),
                            static_cast<float>(-f.x), static_cast<float>(-f.y), static_cast<float>(-f.z)};
    return QMatrix3x3(values); // row by row
}

void SceneView::drawMembers()
{
    const double low = cut_ ? cut_->first : -kUnlimited, high = cut_ ? cut_->second : kUnlimited;
    const QVector2D heights(static_cast<float>(low - camera_.eye.z), static_cast<float>(high - camera_.eye.z));
    const auto draw = [&](QOpenGLShaderProgram& program, int pass, void (MemberBuffers::*what)()) {
        program.bind();
        program.setUniformValue("projection", projection());
        program.setUniformValue("view", rotation());
        program.setUniformValue("heights", heights);
        program.setUniformValue("colours", 0);
        program.setUniformValue("pass", pass);
        for (const auto& buffers : buffers_) {
            if (pass > 0 && !buffers->hasFaded())
                continue;
            program.setUniformValue("offset", vector(buffers->origin() - camera_.eye));
            (*buffers.*what)();
        }
        program.release();
    };
    glEnable(GL_CLIP_DISTANCE0);
    glEnable(GL_CLIP_DISTANCE1);
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
    // The faded rest first and behind everything: its nearest faces only, or layer upon layer would wash out
    // what the view is about.
    glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
    draw(faceProgram_, 1, &MemberBuffers::drawFaces);
    glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
    glEnable(GL_BLEND);
    draw(faceProgram_, 1, &MemberBuffers::drawFaces);
    glClear(GL_DEPTH_BUFFER_BIT);
    glDepthMask(GL_FALSE);
    draw(edgeProgram_, 1, &MemberBuffers::drawEdges);
    glDepthMask(GL_TRUE);
    glDisable(GL_BLEND);

    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(1.0f, 1.0f);
    draw(faceProgram_, 0, &MemberBuffers::drawFaces);
    glDisable(GL_POLYGON_OFFSET_FILL);
    glEnable(GL_BLEND);
    draw(edgeProgram_, 0, &MemberBuffers::drawEdges);
    // Seen through: in front of the solid ones, not hiding each other, fronts only.
    glDepthMask(GL_FALSE);
    glEnable(GL_CULL_FACE);
    draw(faceProgram_, 2, &MemberBuffers::drawFaces);
    glDisable(GL_CULL_FACE);
    draw(edgeProgram_, 2, &MemberBuffers::drawEdges);
    glDepthMask(GL_TRUE);
    glDisable(GL_CLIP_DISTANCE0);
    glDisable(GL_CLIP_DISTANCE1);
}

void SceneView::drawGrid()
{
    std::vector<float> vertices;
    constexpr double kDash = 1.2, kGap = 0.35, kDot = 0.15; // metres: dash-dot, as on drawings
    for (const GridLine& line : grid_) {
        const double whole = length(line.end - line.start);
        const Vector3 along = normalised(line.end - line.start);
        const auto piece = [&](double from, double to) {
            for (const double t : {from, std::min(to, whole)}) {
                const Vector3 p = line.start + t * along - camera_.eye;
                for (const double v : {p.x, p.y, p.z})
                    vertices.push_back(static_cast<float>(v));
                for (const double v : {line.colour.redF(), line.colour.greenF(), line.colour.blueF(), line.colour.alphaF()})
                    vertices.push_back(static_cast<float>(v));
            }
        };
        for (double t = 0; t < whole; t += kDash + kGap + kDot + kGap) {
            piece(t, t + kDash);
            if (t + kDash + kGap < whole)
                piece(t + kDash + kGap, t + kDash + kGap + kDot);
        }
    }
    if (vertices.empty())
        return;
    lineProgram_.bind();
    lineProgram_.setUniformValue("projection", projection());
    lineProgram_.setUniformValue("view", rotation());
    const QOpenGLVertexArrayObject::Binder binder(&lineArray_);
    lineBuffer_.bind();
    lineBuffer_.allocate(vertices.data(), static_cast<int>(vertices.size() * sizeof(float)));
    glEnableVertexAttribArray(0);
    glEnableVertexAttribArray(1);
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 7 * sizeof(float), nullptr);
    glVertexAttribPointer(1, 4, GL_FLOAT, GL_FALSE, 7 * sizeof(float), reinterpret_cast<const void*>(3 * sizeof(float)));
    glEnable(GL_BLEND);
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
    glDrawArrays(GL_LINES, 0, static_cast<GLsizei>(vertices.size() / 7));
    lineBuffer_.release();
    lineProgram_.release();
}

void SceneView::paintGL()
{
    {
        QPainter painter(this);
        QLinearGradient paper(0, 0, 0, height());
        paper.setColorAt(0, QColor(0xF6, 0xF3, 0xEC));
        paper.setColorAt(1, QColor(0xEB, 0xE6, 0xDA));
        painter.fillRect(rect(), paper);
    }
    // Between two painters rather than inside one: a painter leaves and expects state of its own.
    glEnable(GL_DEPTH_TEST);
    glDepthFunc(GL_LEQUAL);
    glDepthMask(GL_TRUE);
    glEnable(GL_MULTISAMPLE);
    glDisable(GL_SCISSOR_TEST);
    glDisable(GL_STENCIL_TEST);
    glDisable(GL_BLEND);
    glClear(GL_DEPTH_BUFFER_BIT);
    rebuild();
    drawMembers();
    drawGrid();
    glDisable(GL_DEPTH_TEST);
    glDisable(GL_BLEND);
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    paintLabels(painter, camera_, viewport(), grid_, arrows_, markers_);
}

std::optional<view::Picked> SceneView::pickAt(QPointF at)
{
    const double low = cut_ ? cut_->first : -kUnlimited, high = cut_ ? cut_->second : kUnlimited;
    const view::Ray ray = view::rayThrough(camera_, viewport(), at.x(), at.y());
    // What is solid comes before what is seen through, wherever it lies.
    if (auto solid = picker_->pick(ray, colours_, 1.0f, low, high))
        return solid;
    return picker_->pick(ray, colours_, 0.01f, low, high);
}

void SceneView::mousePressEvent(QMouseEvent* event)
{
    animation_.stop();
    pressed_ = last_ = event->position();
    isDragging_ = false;
    const auto picked = pickAt(event->position());
    pivot_ = picked ? picked->place : camera_.target;
}

void SceneView::mouseMoveEvent(QMouseEvent* event)
{
    const QPointF now = event->position();
    if (event->buttons() == Qt::NoButton) {
        const auto picked = pickAt(now);
        emit cursorMoved(picked.has_value(), picked ? picked->place.x : 0, picked ? picked->place.y : 0,
                         picked ? picked->place.z : 0);
        return;
    }
    if (!isDragging_ && (now - pressed_).manhattanLength() < 4)
        return;
    if (!isDragging_)
        remember();
    isDragging_ = true;
    const QPointF d = now - last_;
    last_ = now;
    if ((event->buttons() & Qt::LeftButton) != 0 && (event->modifiers() & Qt::ShiftModifier) == 0) {
        camera_ = view::orbited(camera_, pivot_, Radians{-d.x() * 0.008}, Radians{d.y() * 0.008});
    } else {
        const double depth = std::max(0.5, dot(pivot_ - camera_.eye, camera_.forward()));
        camera_ = view::panned(camera_, viewport(), d.x(), d.y(), depth);
    }
    update();
}

void SceneView::mouseReleaseEvent(QMouseEvent* event)
{
    if (!isDragging_ && event->button() == Qt::LeftButton)
        select(event->position(), (event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier)) != 0);
    isDragging_ = false;
}

void SceneView::select(QPointF at, bool isAdding)
{
    const auto picked = pickAt(at);
    if (!isAdding)
        display_.selected.clear();
    if (picked && !display_.selected.insert(picked->element).second)
        display_.selected.erase(picked->element);
    updateDisplay();
    emit selectionChanged();
}

void SceneView::wheelEvent(QWheelEvent* event)
{
    const auto picked = pickAt(event->position());
    const view::Ray ray = view::rayThrough(camera_, viewport(), event->position().x(), event->position().y());
    const Point3 place = picked ? picked->place
                                : ray.origin + length(camera_.target - camera_.eye) * ray.direction;
    remember();
    camera_ = view::zoomed(camera_, place, std::pow(0.85, event->angleDelta().y() / 120.0));
    update();
}

} // namespace wendrix::app
