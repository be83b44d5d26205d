#include "scene/scene_renderer.h"

#include "core/view/display.h"

#include "scene/shaders.h"

#include <QMatrix4x4>

#include <algorithm>
#include <cmath>
#include <string>

namespace wendrix::app {

namespace {

/// How far from the model a picture may stand to be drawn whole, in lengths of the model.
constexpr double kPictureReach = 3;

QMatrix3x3 rotationOf(const view::Camera& camera)
{
    const Vector3 r = camera.right(), u = camera.up(), f = camera.forward();
    const float values[] = {static_cast<float>(r.x),  static_cast<float>(r.y),  static_cast<float>(r.z),
                            static_cast<float>(u.x),  static_cast<float>(u.y),  static_cast<float>(u.z),
                            static_cast<float>(-f.x), static_cast<float>(-f.y), static_cast<float>(-f.z)};
    return QMatrix3x3(values); // row by row
}

} // namespace

void SceneRenderer::initialise()
{
    initializeOpenGLFunctions();
    const auto build = [](QOpenGLShaderProgram& program, const std::string& vertex, const std::string& fragment) {
        program.addShaderFromSourceCode(QOpenGLShader::Vertex, vertex.c_str());
        program.addShaderFromSourceCode(QOpenGLShader::Fragment, fragment.c_str());
        program.link();
    };
    const std::string head = shaders::kVersion, cutting = head + "#define CUTS\n", common = shaders::kCommonVertex,
                      focused = head + shaders::kFocusFragment;
    build(faces_, head + common + shaders::kFaceVertex, focused + shaders::kFaceFragment);
    build(edges_, head + common + shaders::kEdgeVertex, focused + shaders::kEdgeFragment);
    build(cutOpenFaces_, cutting + common + shaders::kFaceVertex, focused + shaders::kFaceFragment);
    build(cutOpenEdges_, cutting + common + shaders::kEdgeVertex, focused + shaders::kEdgeFragment);
    build(lines_, shaders::kLineVertex, shaders::kLineFragment);
    build(paper_, shaders::kWindowVertex, shaders::kPaperFragment);
    build(finish_, shaders::kWindowVertex, shaders::kFinishFragment);
    build(shadow_, shaders::kShadowVertex, shaders::kShadowFragment);
    build(standing_, shaders::kShadowVertex, shaders::kStandingFragment);
    empty_.create();
    lineArray_.create();
    lineBuffer_.create();
    target_.reset(new FrameTarget(*this)); // make_unique may not see our base
    kept_.reset(new FrameTarget(*this));
}

void SceneRenderer::release()
{
    buffers_.clear();
    focus_.clear();
    cutBuffers_.clear();
    target_.reset();
    kept_.reset();
    if (shadowTexture_ != 0)
        glDeleteTextures(1, &shadowTexture_);
    shadowTexture_ = 0;
    for (Standing& one : pictures_) { // made anew where there is a context again
        if (one.texture != 0)
            glDeleteTextures(1, &one.texture);
        one.texture = 0;
        one.isMade = false;
    }
    empty_.destroy();
    lineArray_.destroy();
    lineBuffer_.destroy();
    for (QOpenGLShaderProgram* program :
         {&faces_, &edges_, &cutOpenFaces_, &cutOpenEdges_, &lines_, &paper_, &finish_, &shadow_, &standing_})
        program->removeAllShaders();
}

bool SceneRenderer::has(const federation::Member& member) const
{
    for (std::size_t i = 0; i < members_.size(); ++i)
        if (members_[i].geometry == member.geometry && members_[i].fit.transform() == member.fit.transform())
            return true;
    return false;
}

void SceneRenderer::setMembers(const std::vector<federation::Member>& members, const std::vector<Prepared>& prepared)
{
    // A member that is there already, in the same place, is not sent again.
    std::vector<std::unique_ptr<MemberBuffers>> buffers;
    for (const federation::Member& member : members) {
        std::unique_ptr<MemberBuffers> one;
        for (std::size_t i = 0; i < members_.size() && i < buffers_.size(); ++i)
            if (buffers_[i] && members_[i].geometry == member.geometry &&
                members_[i].fit.transform() == member.fit.transform()) {
                one = std::move(buffers_[i]);
                break;
            }
        const auto ready = std::find_if(prepared.begin(), prepared.end(), [&](const Prepared& p) {
            return p.geometry == member.geometry && p.place == member.fit.transform();
        });
        if (!one) // make_unique may not see our base
            one.reset(new MemberBuffers(*this, ready != prepared.end() ? ready->vertices : verticesOf(member)));
        buffers.push_back(std::move(one));
    }
    buffers_ = std::move(buffers);
    members_ = members;
    ++contents_;
    order_.clear();
    for (const auto& one : buffers_)
        order_.insert(order_.end(), one->order().begin(), one->order().end());
    isShadowStale_ = true;
}

void SceneRenderer::setLooks(const std::vector<view::MemberLook>& looks)
{
    looks_ = looks;
    ++contents_;
}

void SceneRenderer::setColours(const view::ColourTable& colours)
{
    colours_ = colours;
    ++contents_;
    for (std::size_t i = 0; i < buffers_.size(); ++i)
        buffers_[i]->setColours(colours_[i]);
    if (!isInFocus_)
        gatherSeenThrough();
    isShadowStale_ = true;
}

void SceneRenderer::updateColours(const view::ColourTable& colours, std::span<const view::ElementKey> changed)
{
    ++contents_;
    bool isAnySeenThrough = false;
    const auto isSolid = [](const view::Colour& c) { return c.alpha > 0.2f; };
    for (std::size_t i = 0; i < changed.size();) {
        const std::uint32_t m = changed[i].member;
        std::vector<MemberBuffers::Replaced> replaced;
        isAnySeenThrough = isAnySeenThrough || buffers_[m]->hasSeenThrough();
        for (; i < changed.size() && changed[i].member == m; ++i) {
            view::Colour& kept = colours_[m][changed[i].element];
            const view::Colour& now = colours[m][changed[i].element];
            isShadowStale_ = isShadowStale_ || isSolid(kept) != isSolid(now);
            replaced.push_back({changed[i].element, kept});
            kept = now;
        }
        buffers_[m]->updateColours(colours_[m], replaced);
        isAnySeenThrough = isAnySeenThrough || buffers_[m]->hasSeenThrough();
    }
    if (isAnySeenThrough && !isInFocus_)
        gatherSeenThrough();
}

void SceneRenderer::setCutFaces(const std::vector<view::CutFaces>& faces, const std::vector<geometry::Plane>& planes,
                                const view::Colours& colours)
{
    if (faces.empty() && cutBuffers_.empty())
        return;
    cutBuffers_.clear();
    ++contents_;
    for (std::size_t i = 0; i < faces.size(); ++i) {
        std::vector<view::Colour> own;
        for (const view::CutFaces::Face& face : faces[i].faces)
            own.push_back(colours.of(face.element));
        cutBuffers_.emplace_back(new MemberBuffers(*this, verticesOf(faces[i], planes[i].normal)));
        cutBuffers_.back()->setColours(own);
    }
}

std::size_t SceneRenderer::bytes() const
{
    std::size_t sum = 0;
    for (const auto& buffers : buffers_)
        sum += buffers->bytes();
    return sum;
}

void SceneRenderer::gatherSeenThrough()
{
    seenThrough_.clear();
    for (std::uint32_t m = 0; m < members_.size(); ++m)
        for (ifc::ElementIndex e = 0; e < colours_[m].size() && buffers_[m]->hasSeenThrough(); ++e)
            addSeenThrough({m, e}, colours_[m][e]);
}

void SceneRenderer::addSeenThrough(const view::ElementKey& key, const view::Colour& colour)
{
    // Few things are seen through; their triangles are kept here to be put in order for each view.
    constexpr std::size_t kMost = 300'000;
    if (colour.alpha < 0.2f || colour.alpha >= 0.999f || seenThrough_.size() > kMost || looks_[key.member].isEdgesOnly)
        return;
    const federation::Member& member = members_[key.member];
    const geometry::Mesh mesh = transformed(member.geometry->meshOf(key.element), member.fit.transform());
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
        const auto c = mesh.corners(t);
        seenThrough_.push_back(
            {c, (1.0 / 3) * (c[0] + c[1] + c[2]), normalised(cross(c[1] - c[0], c[2] - c[0])), colour});
    }
}

void SceneRenderer::setFocus(const view::ColourList* shown)
{
    if (shown == nullptr && !isInFocus_)
        return;
    ++contents_;
    isInFocus_ = shown != nullptr;
    focus_.clear();
    focusOrder_.clear();
    if (shown == nullptr) {
        gatherSeenThrough();
        return;
    }
    seenThrough_.clear();
    auto next = shown->begin();
    for (std::uint32_t m = 0; m < members_.size(); ++m) {
        std::vector<ifc::ElementIndex> elements;
        std::vector<view::Colour> own;
        for (; next != shown->end() && next->first.member == m; ++next) {
            elements.push_back(next->first.element);
            own.push_back(next->second);
            addSeenThrough(next->first, next->second);
        }
        focus_.emplace_back(new MemberBuffers(*this, verticesOf(members_[m], elements)));
        focus_.back()->setColours(own);
        focusOrder_.insert(focusOrder_.end(), focus_.back()->order().begin(), focus_.back()->order().end());
    }
}

QMatrix4x4 SceneRenderer::projection() const
{
    // Near and far hug the scene: depth precision is what keeps close faces apart.
    const view::Camera& camera = frame_->camera;
    Box3 box = frame_->bounds;
    if (frame_->grid != nullptr)
        for (const view::GridLine& line : *frame_->grid) {
            box.add(line.start);
            box.add(line.end);
        }
    // A picture that somebody put out of all reach must not cost the depths of what is there.
    const Box3 near = box.isEmpty() ? box : box.grownBy(kPictureReach * length(box.size()));
    for (const Standing& one : pictures_)
        for (const double u : {0.0, 1.0})
            for (const double v : {0.0, 1.0})
                if (const Point3 corner = one.picture.lowerLeft + u * one.picture.along + v * one.picture.up;
                    near.isEmpty() || near.contains(corner))
                    box.add(corner);
    double nearest = 0.1, farthest = 100;
    if (!box.isEmpty()) {
        const Vector3 half = 0.5 * box.size(), f = camera.forward();
        const double reach = std::abs(half.x * f.x) + std::abs(half.y * f.y) + std::abs(half.z * f.z) + 0.5;
        const double depth = dot(box.centre() - camera.eye, f);
        nearest = depth - reach;
        farthest = depth + reach;
    }
    const double aspect = static_cast<double>(frame_->size.width()) / frame_->size.height();
    QMatrix4x4 m;
    if (camera.isParallel) {
        const double h = camera.halfHeight(0), w = h * aspect;
        m.ortho(static_cast<float>(-w), static_cast<float>(w), static_cast<float>(-h), static_cast<float>(h),
                static_cast<float>(nearest), static_cast<float>(std::max(farthest, nearest + 1)));
        return m;
    }
    nearest = std::max({0.05, nearest, length(camera.target - camera.eye) / 500});
    m.perspective(static_cast<float>(camera.fieldOfView * 180 / M_PI), static_cast<float>(aspect),
                  static_cast<float>(nearest), static_cast<float>(std::max(nearest * 2, farthest)));
    return m;
}

QOpenGLShaderProgram& SceneRenderer::begin(What what, int pass)
{
    const bool isCut = !frame_->cuts.empty();
    QOpenGLShaderProgram& program =
        what == What::Faces ? (isCut ? cutOpenFaces_ : faces_) : (isCut ? cutOpenEdges_ : edges_);
    const view::Camera& camera = frame_->camera;
    program.bind();
    program.setUniformValue("projection", projection());
    program.setUniformValue("view", rotationOf(camera));
    program.setUniformValue("colours", 0);
    program.setUniformValue("pass", pass);
    program.setUniformValue("forward", camera.isParallel ? vectorOf(camera.forward()) : QVector3D());
    std::array<QVector4D, view::Cuts::kMostFaces> cuts;
    for (std::size_t i = 0; i < frame_->cuts.size(); ++i)
        cuts[i] =
            QVector4D(vectorOf(frame_->cuts[i].normal), static_cast<float>(-frame_->cuts[i].distance(camera.eye)));
    program.setUniformValueArray("cuts", cuts.data(), static_cast<int>(cuts.size()));
    program.setUniformValue("cutCount", static_cast<int>(frame_->cuts.size()));
    program.setUniformValue("focusReach", 0.0f);
    if (frame_->focus) {
        const Box3& box = frame_->focus->box;
        program.setUniformValue("focusReach", static_cast<float>(view::Focus::kReach));
        program.setUniformValue("focusLow", vectorOf(box.min - camera.eye));
        program.setUniformValue("focusHigh", vectorOf(box.max - camera.eye));
        // What stands before the place is cut away upright; and from above all that lies over it, from below what lies
        // under.
        const Vector3 forward = camera.forward();
        const Vector3 level =
            std::hypot(forward.x, forward.y) > 0.2 ? normalised({forward.x, forward.y, 0}) : Vector3{};
        double front = 1e9;
        for (const double x : {box.min.x, box.max.x})
            for (const double y : {box.min.y, box.max.y})
                front = std::min(front, dot(Point3{x, y, 0} - camera.eye, level));
        constexpr double kMargin = 0.25; // metres
        program.setUniformValue("focusForward", vectorOf(level));
        program.setUniformValue("focusFront", static_cast<float>(front - kMargin));
        program.setUniformValue(
            "focusFloor",
            static_cast<float>((forward.z <= 0 ? frame_->focus->floor : box.min.z - kMargin) - camera.eye.z));
        program.setUniformValue(
            "focusCeiling",
            static_cast<float>((forward.z <= 0 ? box.max.z + kMargin : frame_->focus->ceiling) - camera.eye.z));
    }
    program.setUniformValue("isCutFace", false);
    program.setUniformValue("boldness", 1.0f);
    return program;
}

void SceneRenderer::drawCutFaces(What what)
{
    QOpenGLShaderProgram& program = begin(what, 0);
    program.setUniformValue("isCutFace", true);
    if (frame_->isFlat) // the other cuts do not bound a drawing; elements the view hides are in it
        program.setUniformValue("cutCount", 0);
    program.setUniformValue("boldness", 3.0f);
    for (const auto& buffers : cutBuffers_) {
        program.setUniformValue("offset", vectorOf(buffers->origin() - frame_->camera.eye));
        what == What::Faces ? buffers->drawFaces(0) : buffers->drawEdges(0);
    }
    program.release();
}

void SceneRenderer::drawVertices(QOpenGLShaderProgram& program, GLenum mode, const std::vector<float>& vertices)
{
    if (vertices.empty())
        return;
    program.bind();
    program.setUniformValue("projection", projection());
    program.setUniformValue("view", rotationOf(frame_->camera));
    program.setUniformValue("shadow", 0);
    const QOpenGLVertexArrayObject::Binder binder(&lineArray_);
    lineBuffer_.bind();
    lineBuffer_.allocate(vertices.data(), static_cast<int>(vertices.size() * sizeof(float)));
    glEnableVertexAttribArray(0);
    glEnableVertexAttribArray(1);
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 7 * sizeof(float), nullptr);
    glVertexAttribPointer(1, 4, GL_FLOAT, GL_FALSE, 7 * sizeof(float),
                          reinterpret_cast<const void*>(3 * sizeof(float)));
    glDrawArrays(mode, 0, static_cast<GLsizei>(vertices.size() / 7));
    lineBuffer_.release();
    program.release();
}

namespace {

/// What of a triangle lies behind every plane, its corners in order. Source: I. Sutherland, G. Hodgman, Communications
/// of the ACM 17(1), 1974.
std::vector<Point3> behindAll(const std::array<Point3, 3>& triangle, const std::vector<geometry::Plane>& planes)
{
    std::vector<Point3> rest(triangle.begin(), triangle.end()), next;
    for (const geometry::Plane& plane : planes) {
        next.clear();
        for (std::size_t i = 0; i < rest.size(); ++i) {
            const Point3 &a = rest[i], &b = rest[(i + 1) % rest.size()];
            const double from = plane.distance(a), to = plane.distance(b);
            if (from <= 0)
                next.push_back(a);
            if ((from < 0 && to > 0) || (from > 0 && to < 0))
                next.push_back(a + (from / (from - to)) * (b - a));
        }
        rest.swap(next);
    }
    return rest;
}

} // namespace

void SceneRenderer::drawSeenThrough()
{
    if (seenThrough_.empty())
        return;
    const view::Camera& camera = frame_->camera;
    std::vector<std::pair<double, std::uint32_t>> order;
    order.reserve(seenThrough_.size());
    for (std::uint32_t i = 0; i < seenThrough_.size(); ++i) {
        const SeenTriangle& t = seenThrough_[i];
        if (std::all_of(frame_->cuts.begin(), frame_->cuts.end(), [&](const geometry::Plane& plane) {
                return std::any_of(t.corners.begin(), t.corners.end(),
                                   [&](const Point3& p) { return plane.distance(p) < 0; });
            }))
            order.emplace_back(-dot(t.middle - camera.eye, camera.forward()), i);
    }
    std::sort(order.begin(), order.end()); // the farthest first
    std::vector<float> vertices;
    vertices.reserve(order.size() * 21);
    for (const auto& [depth, i] : order) {
        const SeenTriangle& t = seenThrough_[i];
        const double light = 0.78 + 0.22 * std::abs(dot(t.normal, normalised(Vector3{-0.45, -0.62, 0.64})));
        const std::vector<Point3> rest = behindAll(t.corners, frame_->cuts);
        const auto put = [&](const Point3& p) {
            const Vector3 d = p - camera.eye;
            for (const double v : {d.x, d.y, d.z, t.colour.red * light, t.colour.green * light, t.colour.blue * light,
                                   static_cast<double>(t.colour.alpha)})
                vertices.push_back(static_cast<float>(v));
        };
        for (std::size_t k = 2; k < rest.size(); ++k)
            for (const std::size_t corner : {std::size_t{0}, k - 1, k})
                put(rest[corner]);
    }
    glDepthMask(GL_FALSE);
    drawVertices(lines_, GL_TRIANGLES, vertices);
    glDepthMask(GL_TRUE);
}

void SceneRenderer::drawLines()
{
    if (frame_->grid == nullptr)
        return;
    std::vector<float> vertices;
    constexpr double kDash = 1.2, kGap = 0.35, kDot = 0.15; // metres: dash-dot, as on drawings
    for (const view::GridLine& line : *frame_->grid) {
        const double whole = length(line.end - line.start);
        const Vector3 along = normalised(line.end - line.start);
        const auto piece = [&](double from, double to) {
            for (const double t : {from, std::min(to, whole)}) {
                const Vector3 p = line.start + t * along - frame_->camera.eye;
                for (const double v : {p.x, p.y, p.z})
                    vertices.push_back(static_cast<float>(v));
                for (const float v : {line.colour.red, line.colour.green, line.colour.blue, line.colour.alpha})
                    vertices.push_back(v);
            }
        };
        for (double t = 0; t < whole; t += kDash + kGap + kDot + kGap) {
            piece(t, t + kDash);
            if (t + kDash + kGap < whole)
                piece(t + kDash + kGap, t + kDash + kGap + kDot);
        }
    }
    drawVertices(lines_, GL_LINES, vertices);
}

} // namespace wendrix::app
