#include "scene/scene_renderer.h"

#include "core/bcf/picture.h"

#include <QImage>

#include <algorithm>

/// Pictures that stand in the model.
namespace wendrix::app {

namespace {

constexpr int kLargestSide = 4096; // pixels; every card takes as many

/// Nothing where it is no picture, or one that nobody should decode.
QImage decoded(const std::string& bytes)
{
    const bcf::PictureFacts facts = bcf::factsOf(bytes, false);
    if (facts.kind.empty() || bcf::isTooLarge(facts))
        return {};
    QImage image = QImage::fromData(reinterpret_cast<const uchar*>(bytes.data()), static_cast<int>(bytes.size()));
    if (std::max(image.width(), image.height()) > kLargestSide)
        image = image.scaled(kLargestSide, kLargestSide, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    return image.convertToFormat(QImage::Format_RGBA8888);
}

} // namespace

void SceneRenderer::setPictures(const std::vector<view::StandingPicture>& pictures)
{
    ++contents_;
    forgetPictures();
    for (const view::StandingPicture& picture : pictures)
        pictures_.push_back({picture});
}

void SceneRenderer::forgetPictures()
{
    for (const Standing& one : pictures_)
        if (one.texture != 0)
            glDeleteTextures(1, &one.texture);
    pictures_.clear();
}

void SceneRenderer::makeTexture(Standing& one)
{
    one.isMade = true;
    const QImage image = decoded(*one.picture.bytes);
    if (image.isNull())
        return;
    glGenTextures(1, &one.texture);
    glBindTexture(GL_TEXTURE_2D, one.texture);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_RGBA8, image.width(), image.height(), 0, GL_RGBA, GL_UNSIGNED_BYTE,
                 image.constBits());
    glGenerateMipmap(GL_TEXTURE_2D);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, GL_LINEAR);
    for (const GLenum wrap : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T})
        glTexParameteri(GL_TEXTURE_2D, wrap, GL_CLAMP_TO_EDGE);
}

void SceneRenderer::drawPictures()
{
    if (frame_->isFlat)
        return;
    glActiveTexture(GL_TEXTURE0);
    for (Standing& one : pictures_) {
        if (!one.isMade)
            makeTexture(one);
        if (one.texture == 0)
            continue;
        const view::StandingPicture& p = one.picture;
        std::vector<float> vertices;
        for (const auto& [u, v] : {std::pair{0, 0}, std::pair{1, 0}, std::pair{0, 1}, std::pair{1, 1}}) {
            const Vector3 at = p.lowerLeft + u * p.along + v * p.up - frame_->camera.eye;
            // Rows of a picture go down.
            for (const double value : {at.x, at.y, at.z, u * 1.0, 1.0 - v, 0.0, 0.0})
                vertices.push_back(static_cast<float>(value));
        }
        glBindTexture(GL_TEXTURE_2D, one.texture);
        glEnable(GL_BLEND);
        drawVertices(standing_, GL_TRIANGLE_STRIP, vertices);
        glDisable(GL_BLEND);
    }
}

} // namespace wendrix::app
