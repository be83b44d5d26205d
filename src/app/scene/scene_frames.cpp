#include "scene/scene_renderer.h"

#include <QMatrix4x4>

#include <algorithm>

/// How a frame comes about: at once and roughly while the view moves, piece by piece and whole when it rests, and not
/// at all where nothing changed.
namespace wendrix::app {

namespace {

constexpr double kFrameMilliseconds = 45; // of a moving view
constexpr double kPieceMilliseconds = 40; // of one at rest: so long a click or key may have to wait
constexpr std::uint64_t kQuick = 20'000;  // triangles that are whole as soon as they would be rough
constexpr int kSamples = 4;
constexpr int kMostSmoothedPixels = 10'000'000; // larger pictures are fine enough as they are
constexpr std::uint64_t kLeastPiece = 4'000, kFirstPiece = 8'000, kLargestPiece = 4'000'000; // triangles

} // namespace

SceneRenderer::Key SceneRenderer::keyOf(const Frame& f) const
{
    return {f.camera, f.size, f.cuts, f.bounds, f.isFlat, f.version, contents_, f.focus ? f.focus->box : Box3{}};
}

bool SceneRenderer::draw(const Frame& frame)
{
    frame_ = &frame;
    const Key key = keyOf(frame);
    bool isWhole = true;
    if (frame.isWaiting && keptKey_) {
        kept_->copyTo(frame.target, frame.size);
        isWhole = false;
    } else if (keptKey_ == key && isKeptWhole_) {
        kept_->copyTo(frame.target, frame.size);
    } else if (frame.isMoving) {
        drawRough(key);
    } else if (frame.mayPause && !isQuick() &&
               (!keptKey_ || kept_->size() != frame.size || !(keptKey_->camera == frame.camera))) {
        drawRough(
            key); // so that there is something to see meanwhile, and from where one looks; the rest in the next frame
        isWhole = false;
    } else {
        if (!job_ || job_->key != key || !frame.mayPause) { // one begun in pieces would draw some twice at once
            job_ = Job{.key = key, .at = {}};
            piece_ = std::min(piece_, kFirstPiece); // what was learned may be of another view, where they were smaller
            target_->ensure(frame.size, frame.size.width() * frame.size.height() > kMostSmoothedPixels ? 1 : kSamples);
        }
        isWhole = goOn(*job_, frame.mayPause && !isQuick() ? kPieceMilliseconds : 0);
        if (isWhole) {
            job_.reset();
            if (frame.mayPause)
                keep(key, true);
        } else {
            kept_->copyTo(frame.target, frame.size);
        }
    }
    glDisable(GL_DEPTH_TEST);
    frame_ = nullptr;
    return isWhole;
}

bool SceneRenderer::isQuick() const
{
    std::uint64_t triangles = 0;
    for (const auto& list : order())
        triangles += list.empty() ? 0 : list.back().triangles;
    return isInFocus_ && triangles < kQuick;
}

void SceneRenderer::keep(const Key& key, bool isWhole)
{
    kept_->ensure(key.size, 1);
    kept_->copyFrom(frame_->target);
    keptKey_ = key;
    isKeptWhole_ = isWhole;
}

void SceneRenderer::drawRough(const Key& key)
{
    job_.reset();
    Job job{.key = key, .isRough = true, .at = {}};
    clock_.start();
    step(job); // the paper
    glFinish();
    double fixed = static_cast<double>(clock_.nsecsElapsed()) / 1e6;
    smallest_ = view::smallestSizeWithin(order(), pace_.trianglesIn(kFrameMilliseconds));
    drawnTriangles_ = 0;
    for (const auto& list : order())
        if (const std::size_t n = view::countFrom(list, smallest_); n > 0)
            drawnTriangles_ += list[n - 1].triangles;
    clock_.restart();
    while (job.phase != Phase::Finish)
        step(job);
    glFinish();
    const double triangles = static_cast<double>(clock_.nsecsElapsed()) / 1e6;
    clock_.restart();
    step(job);
    keep(key, false);
    glFinish();
    fixed += static_cast<double>(clock_.nsecsElapsed()) / 1e6;
    pace_.took(drawnTriangles_, triangles, fixed);
}

bool SceneRenderer::goOn(Job& job, double milliseconds)
{
    clock_.start();
    double before = 0;
    while (job.phase != Phase::Done) {
        const bool isTriangles = job.phase != Phase::Paper && job.phase < Phase::Pictures;
        step(job);
        if (!(milliseconds > 0))
            continue;
        glFinish(); // or the time would be that of noting down, not of drawing
        const double now = static_cast<double>(clock_.nsecsElapsed()) / 1e6, took = now - before;
        before = now;
        if (isTriangles && took > 0.05) {
            const double factor = std::clamp(0.6 * milliseconds / took, 0.5, 2.0);
            piece_ = std::clamp(static_cast<std::uint64_t>(static_cast<double>(piece_) * factor), kLeastPiece,
                                kLargestPiece);
        }
        if (now > 0.7 * milliseconds)
            break;
    }
    return job.phase == Phase::Done;
}

void SceneRenderer::setCutting(bool isOn)
{
    for (GLenum i = 0; i < frame_->cuts.size(); ++i) // each costs, even where nothing is cut
        isOn ? glEnable(GL_CLIP_DISTANCE0 + i) : glDisable(GL_CLIP_DISTANCE0 + i);
}

void SceneRenderer::drawOverWindow(QOpenGLShaderProgram& program)
{
    const QOpenGLVertexArrayObject::Binder binder(&empty_);
    glDrawArrays(GL_TRIANGLES, 0, 3);
    program.release();
}

void SceneRenderer::prepare()
{
    if (isRough_) { // straight to where it is to be seen: a copy and a pass over the window are time for triangles
        glBindFramebuffer(GL_FRAMEBUFFER, frame_->target);
        glViewport(0, 0, frame_->size.width(), frame_->size.height());
    } else {
        target_->bind();
    }
    glEnable(GL_DEPTH_TEST);
    glDepthFunc(GL_LEQUAL);
    glDepthMask(GL_TRUE);
    glEnable(GL_MULTISAMPLE);
    for (const GLenum off : {GL_SCISSOR_TEST, GL_STENCIL_TEST, GL_BLEND, GL_CULL_FACE})
        glDisable(off);
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
}

void SceneRenderer::drawPaper()
{
    glClear(GL_DEPTH_BUFFER_BIT);
    glDisable(GL_DEPTH_TEST);
    paper_.bind();
    drawOverWindow(paper_);
    if (!isInFocus_ && std::none_of(buffers_.begin(), buffers_.end(), [](const auto& b) { return b->hasFaded(); }))
        drawShadow();
}

void SceneRenderer::step(Job& job)
{
    isRough_ = job.isRough;
    prepare();
    const bool hasModel = !frame_->isFlat;
    const bool hasFaded =
        hasModel && std::any_of(drawn().begin(), drawn().end(), [](const auto& b) { return b->hasFaded(); });
    bool isDone = true;
    setCutting(job.phase != Phase::Paper && job.phase < Phase::Pictures);
    switch (job.phase) {
    case Phase::Paper:
        drawPaper();
        if (!job.isRough)
            drawnTriangles_ = 0;
        break;
    // The faded rest first and behind everything: its nearest faces only, or layer upon layer would wash out what the
    // view is about.
    case Phase::FadedDepth:
        glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
        isDone = !hasFaded || drawMembers(job, 1, What::Faces);
        glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
        break;
    case Phase::FadedFaces:
        glEnable(GL_BLEND);
        isDone = !hasFaded || drawMembers(job, 1, What::Faces);
        if (isDone && hasFaded && !frame_->focus)
            glClear(GL_DEPTH_BUFFER_BIT);
        break;
    case Phase::FadedEdges:
        glEnable(GL_BLEND);
        glDepthMask(GL_FALSE);
        isDone = !hasFaded || drawMembers(job, 1, What::Edges);
        glDepthMask(GL_TRUE);
        // What the view is about is seen whole, whatever stands around it.
        if (isDone && hasFaded && frame_->focus)
            glClear(GL_DEPTH_BUFFER_BIT);
        break;
    case Phase::Faces:
        isDone = !hasModel || drawMembers(job, 0, What::Faces);
        break;
    case Phase::CutFaces:
        drawCutFaces(What::Faces);
        break;
    case Phase::Edges:
        glEnable(GL_BLEND);
        isDone = !hasModel || drawMembers(job, 0, What::Edges);
        break;
    case Phase::CutEdges:
        glEnable(GL_BLEND);
        drawCutFaces(What::Edges);
        break;
    case Phase::Pictures:
        drawPictures();
        break;
    case Phase::Figures:
        drawFigures();
        break;
    case Phase::Finish:
        finish();
        break;
    case Phase::Done:
        return;
    }
    glDisable(GL_BLEND);
    setCutting(false);
    if (isDone)
        job.phase = static_cast<Phase>(static_cast<int>(job.phase) + 1);
}

bool SceneRenderer::drawMembers(Job& job, int pass, What what)
{
    QOpenGLShaderProgram& program = begin(what, pass);
    std::uint64_t left = piece_;
    const bool isPausing = !job.isRough && frame_->mayPause;
    while (job.member < drawn().size() && left > 0) {
        MemberBuffers& buffers = *drawn()[job.member];
        const bool isLeftOut = (pass == 1 && !buffers.hasFaded()) || (pass == 2 && !buffers.hasSeenThrough()) ||
                               (what == What::Faces && looks_[job.member].isEdgesOnly);
        if (!isLeftOut) {
            program.setUniformValue("offset", vectorOf(buffers.origin() - frame_->camera.eye));
            if (what == What::Faces) {
                // Each member a little farther back than the one before: faces in one plane do not flicker.
                glEnable(GL_POLYGON_OFFSET_FILL);
                glPolygonOffset(1.0f, 1.0f + 4.0f * static_cast<float>(job.member));
            }
            if (isPausing) {
                const std::uint64_t drawn = buffers.drawSome(what == What::Edges, job.at, left);
                left -= std::min(left, drawn);
            } else {
                what == What::Faces ? buffers.drawFaces(job.isRough ? smallest_ : 0)
                                    : buffers.drawEdges(job.isRough ? smallest_ : 0);
            }
            glDisable(GL_POLYGON_OFFSET_FILL);
        }
        if (isLeftOut || !isPausing || buffers.isAtEnd(job.at)) {
            ++job.member;
            job.at = {};
        }
    }
    program.release();
    if (job.member < drawn().size())
        return false;
    job.member = 0;
    return true;
}

void SceneRenderer::shade()
{
    target_->resolve();
    glBindFramebuffer(GL_FRAMEBUFFER, frame_->target);
    glViewport(0, 0, frame_->size.width(), frame_->size.height());
    glDepthFunc(GL_ALWAYS);
    finish_.bind();
    const QMatrix4x4 p = projection();
    finish_.setUniformValue("projection", p);
    finish_.setUniformValue("unprojection", p.inverted());
    finish_.setUniformValue("pixel", QVector2D(1.0f / static_cast<float>(frame_->size.width()),
                                               1.0f / static_cast<float>(frame_->size.height())));
    finish_.setUniformValue("reach", 0.9f);
    finish_.setUniformValue("isPlain", frame_->isFlat);
    finish_.setUniformValue("colour", 0);
    finish_.setUniformValue("depth", 1);
    glActiveTexture(GL_TEXTURE1);
    glBindTexture(GL_TEXTURE_2D, target_->depth());
    glActiveTexture(GL_TEXTURE0);
    glBindTexture(GL_TEXTURE_2D, target_->colour());
    drawOverWindow(finish_);
    glDepthFunc(GL_LEQUAL);
}

void SceneRenderer::finish()
{
    if (!isRough_)
        shade();
    glEnable(GL_BLEND);
    if (!frame_->isFlat) {
        drawSeenThrough();
        setCutting(true);
        Job edges{.key = {}, .isRough = isRough_, .at = {}};
        while (!drawMembers(edges, 2, What::Edges)) {
        } // few
        setCutting(false);
    }
    drawLines();
    glDisable(GL_BLEND);
    if (!isRough_) {
        drawnTriangles_ = 0;
        for (const auto& list : order())
            drawnTriangles_ += list.empty() ? 0 : list.back().triangles;
    }
}

} // namespace wendrix::app
