#include "scene/scene_renderer.h"

#include <QImage>
#include <QPainter>

namespace wendrix::app {

namespace {

constexpr int kShadowSide = 256; // pixels

} // namespace

void SceneRenderer::makeShadow()
{
    isShadowStale_ = false;
    shadowBounds_ = {};
    std::vector<Box3> boxes;
    for (std::size_t m = 0; m < members_.size(); ++m)
        for (ifc::ElementIndex e = 0; e < colours_[m].size(); ++e)
            if (colours_[m][e].alpha > 0.2f) {
                boxes.push_back(members_[m].fit.transform().apply(members_[m].geometry->elements()[e].bounds));
                shadowBounds_.add(boxes.back());
            }
    if (shadowBounds_.isEmpty())
        return;
    // Footprints, smeared: what stands on a desk under a wide lamp.
    const double margin = 0.12 * std::max(shadowBounds_.size().x, shadowBounds_.size().y) + 0.5;
    const double ground = shadowBounds_.min.z;
    shadowBounds_ = shadowBounds_.grownBy(margin);
    shadowBounds_.min.z = ground;
    QImage image(kShadowSide, kShadowSide, QImage::Format_Grayscale8);
    image.fill(Qt::black);
    QPainter painter(&image);
    const double sx = kShadowSide / shadowBounds_.size().x, sy = kShadowSide / shadowBounds_.size().y;
    for (const Box3& b : boxes)
        painter.fillRect(QRectF((b.min.x - shadowBounds_.min.x) * sx, (b.min.y - shadowBounds_.min.y) * sy,
                                (b.max.x - b.min.x) * sx, (b.max.y - b.min.y) * sy),
                         Qt::white);
    painter.end();
    const QSize small(kShadowSide / 16, kShadowSide / 16);
    image = image.scaled(small, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                .scaled(kShadowSide, kShadowSide, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                .convertToFormat(QImage::Format_Grayscale8);
    if (shadowTexture_ == 0)
        glGenTextures(1, &shadowTexture_);
    glBindTexture(GL_TEXTURE_2D, shadowTexture_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_R8, kShadowSide, kShadowSide, 0, GL_RED, GL_UNSIGNED_BYTE, image.constBits());
    for (const GLenum filter : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER})
        glTexParameteri(GL_TEXTURE_2D, filter, GL_LINEAR);
    for (const GLenum wrap : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T})
        glTexParameteri(GL_TEXTURE_2D, wrap, GL_CLAMP_TO_EDGE);
}

void SceneRenderer::drawShadow()
{
    if (isShadowStale_)
        makeShadow();
    Box3 b = shadowBounds_;
    for (const geometry::Plane& cut : frame_->cuts) // what is cut off below stands no lower than the cut
        if (cut.normal.z < -0.999)
            b.min.z = std::max(b.min.z, cut.at.z);
    if (b.isEmpty() || shadowTexture_ == 0 || frame_->camera.eye.z < b.min.z || frame_->isFlat)
        return;
    std::vector<float> vertices;
    for (const auto& [u, v] : {std::pair{0, 0}, std::pair{1, 0}, std::pair{0, 1}, std::pair{1, 1}}) {
        const Vector3 p =
            Point3{u != 0 ? b.max.x : b.min.x, v != 0 ? b.max.y : b.min.y, b.min.z - 0.02} - frame_->camera.eye;
        for (const double value : {p.x, p.y, p.z, u * 1.0, v * 1.0, 0.0, 0.0})
            vertices.push_back(static_cast<float>(value));
    }
    glActiveTexture(GL_TEXTURE0);
    glBindTexture(GL_TEXTURE_2D, shadowTexture_);
    glEnable(GL_BLEND);
    glDepthMask(GL_FALSE);
    drawVertices(shadow_, GL_TRIANGLE_STRIP, vertices);
    glDepthMask(GL_TRUE);
    glDisable(GL_BLEND);
}

} // namespace wendrix::app
