#include "scene/scene_view.h"

#include "shell/theme.h"

#include <QOpenGLFramebufferObject>
#include <QPainter>

/// What is written over the scene, pictures of it, and its state as a kept view holds it.
namespace wendrix::app {

namespace {

constexpr int kLongestSide = 7680;

} // namespace

void SceneView::setMarks(std::vector<view::Mark> marks)
{
    marks_ = std::move(marks);
    update();
    emit displayChanged();
}

std::vector<view::Mark> SceneView::marksOf(const view::Camera& camera) const
{
    std::vector<view::Mark> marks;
    for (const view::Mark& mark : marks_)
        if (view::isSameView(mark.from, camera))
            marks.push_back(mark);
    return marks;
}

double SceneView::distanceToMark(const view::Mark& mark, Point2 point) const
{
    if (mark.kind == view::MarkKind::Text) {
        const Point2 at = view::toPixel(viewport(), point);
        if (textBoxOf(viewport(), mark).contains(at.x, at.y))
            return 0;
    }
    return view::distanceTo(mark, point);
}

void SceneView::paintOver(QPainter& painter, view::Viewport viewport)
{
    const auto draw = [&](const std::vector<std::array<Point3, 2>>& pieces, const QPen& pen) {
        QVector<QLineF> lines;
        for (const auto& [a, b] : pieces) {
            const auto from = view::project(camera(), viewport, a), to = view::project(camera(), viewport, b);
            if (from.isInFront && to.isInFront)
                lines.append(QLineF(from.x, from.y, to.x, to.y));
        }
        painter.setPen(pen);
        painter.drawLines(lines);
    };
    draw(surroundings_, QPen(QColor(0x5F, 0x6B, 0x70, 90), 1));
    draw(outline_, QPen(theme::kMoved, 1.6));
    paintNames(painter, camera(), viewport, spaceNames_);
    paintLabels(painter, camera(), viewport, isGridShown_ ? scene_.grid() : std::vector<view::GridLine>{},
                scene_.arrows(), scene_.markers());
    paintLabels(painter, camera(), viewport, {}, {}, scene_.noteSigns());
    paintMarks(painter, viewport, marksOf(camera()));
}

void SceneView::paintSelected(QPainter& painter)
{
    constexpr std::size_t kMost = 400; // elements
    QVector<QLineF> lines;
    std::size_t count = 0;
    for (const view::ElementKey& key : display().selected) {
        if (!colours().isDrawn(key) || ++count > kMost)
            continue;
        const federation::Member& member = members()[key.member];
        for (const geometry::PlacedShape& placed : member.geometry->elements()[key.element].placed) {
            const geometry::Shape& shape = member.geometry->shapes()[placed.shape];
            const Transform map = member.fit.transform() * placed.placement;
            for (const auto& edge : shape.edges) {
                const auto from = view::project(camera(), viewport(), map.apply(shape.mesh.points[edge[0]])),
                           to = view::project(camera(), viewport(), map.apply(shape.mesh.points[edge[1]]));
                if (from.isInFront && to.isInFront)
                    lines.append(QLineF(from.x, from.y, to.x, to.y));
            }
        }
    }
    painter.setPen(QPen(theme::kFocus, 2));
    painter.drawLines(lines);
}

QImage SceneView::picture()
{
    finishMotion();
    isWholeWanted_ = true;
    QImage image = grabFramebuffer();
    isWholeWanted_ = false;
    return image;
}

QImage SceneView::picture(QSize size, bool hasLabels)
{
    finishMotion();
    size = size.boundedTo({kLongestSide, kLongestSide}).expandedTo({16, 16});
    makeCurrent();
    (void)rebuild(false);
    QImage image;
    {
        QOpenGLFramebufferObject target(size, QOpenGLFramebufferObject::Depth);
        renderer_.draw(frame(size, target.handle()));
        image = target.toImage().convertToFormat(QImage::Format_RGB32);
    }
    doneCurrent();
    if (hasLabels) {
        QPainter painter(&image);
        painter.setRenderHint(QPainter::Antialiasing);
        // As large as on the screen, in proportion to the picture.
        const double scale = std::max(1.0, static_cast<double>(size.height()) / std::max(1, height()));
        painter.scale(scale, scale);
        paintOver(painter, {static_cast<int>(size.width() / scale), static_cast<int>(size.height() / scale)});
    }
    return image;
}

QImage SceneView::pictureOf(view::Subject subject, view::Illustration illustration, const view::Camera& camera,
                            QSize size)
{
    view::Subject own = scene_.subject();
    view::Illustration ownIllustration = scene_.illustration();
    const std::set<view::ElementKey> selected = display().selected;
    const view::Cuts ownCuts = cuts();
    const std::optional<view::Overlay> ownOverlay = overlay();
    scene_.choose({});
    scene_.setCuts({});
    scene_.show(std::move(subject));
    scene_.illustrate(std::move(illustration));
    posing_ = camera;
    QImage image = picture(size, true);
    posing_.reset();
    scene_.show(std::move(own));
    scene_.illustrate(std::move(ownIllustration));
    scene_.setCuts(ownCuts);
    scene_.setOverlay(ownOverlay);
    scene_.choose(selected);
    update(); // what was sent for the picture is sent back
    return image;
}

view::SceneState SceneView::state() const
{
    view::SceneState s;
    s.camera = motion_.whereItGoes();
    s.cuts = cuts();
    if (scene_.opened())
        (void)s.cuts.add(*scene_.opened()); // else there are as many cuts as can be
    s.rule = rule();
    for (std::size_t m = 0; m < members().size(); ++m)
        if (!looks()[m].isOnlyPainted)
            s.looks[members()[m].discipline] = looks()[m];
    view::take(s, display(), members());
    s.marks = marksOf(s.camera);
    return s;
}

std::size_t SceneView::restore(const view::SceneState& s)
{
    std::size_t missing = 0;
    std::vector<view::MemberLook> as = looks();
    for (std::size_t m = 0; m < as.size(); ++m)
        if (const auto kept = s.looks.find(members()[m].discipline); kept != s.looks.end() && !as[m].isOnlyPainted) {
            const view::Colour colour = as[m].colour; // the discipline's, as it is today
            as[m] = kept->second;
            as[m].colour = colour;
        }
    scene_.setLooks(std::move(as));
    nameSpaces();
    scene_.setRule(s.rule);
    scene_.setDisplay(view::displayOf(s, members(), missing));
    scene_.setCuts(s.cuts);
    // What was drawn over this view before gives way; what belongs to others stays.
    std::erase_if(marks_, [&](const view::Mark& mark) { return view::isSameView(mark.from, s.camera); });
    marks_.insert(marks_.end(), s.marks.begin(), s.marks.end());
    follow();
    setCamera(s.camera, false);
    finishMotion();
    return missing;
}

} // namespace wendrix::app
