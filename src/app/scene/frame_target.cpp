#include "scene/frame_target.h"

namespace wendrix::app {

void FrameTarget::free()
{
    if (plain_ == 0)
        return;
    gl_.glDeleteTextures(1, &colour_);
    gl_.glDeleteTextures(1, &depth_);
    gl_.glDeleteFramebuffers(1, &plain_);
    if (drawn_ != 0) {
        gl_.glDeleteRenderbuffers(1, &drawnColour_);
        gl_.glDeleteRenderbuffers(1, &drawnDepth_);
        gl_.glDeleteFramebuffers(1, &drawn_);
    }
    plain_ = drawn_ = 0;
}

void FrameTarget::ensure(QSize size, int samples)
{
    if (plain_ != 0 && size == size_ && samples == samples_)
        return;
    free();
    size_ = size;
    samples_ = samples;
    const auto texture = [&](GLuint& id, GLint format, GLenum kind, GLenum type) {
        gl_.glGenTextures(1, &id);
        gl_.glBindTexture(GL_TEXTURE_2D, id);
        gl_.glTexImage2D(GL_TEXTURE_2D, 0, format, size.width(), size.height(), 0, kind, type, nullptr);
        for (const GLenum filter : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER})
            gl_.glTexParameteri(GL_TEXTURE_2D, filter, GL_NEAREST);
        for (const GLenum wrap : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T})
            gl_.glTexParameteri(GL_TEXTURE_2D, wrap, GL_CLAMP_TO_EDGE);
    };
    texture(colour_, GL_RGBA8, GL_RGBA, GL_UNSIGNED_BYTE);
    texture(depth_, GL_DEPTH_COMPONENT32F, GL_DEPTH_COMPONENT, GL_FLOAT);
    gl_.glGenFramebuffers(1, &plain_);
    gl_.glBindFramebuffer(GL_FRAMEBUFFER, plain_);
    gl_.glFramebufferTexture2D(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_TEXTURE_2D, colour_, 0);
    gl_.glFramebufferTexture2D(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_TEXTURE_2D, depth_, 0);
    if (samples < 2)
        return;
    const auto buffer = [&](GLuint& id, GLenum format, GLenum attachment) {
        gl_.glGenRenderbuffers(1, &id);
        gl_.glBindRenderbuffer(GL_RENDERBUFFER, id);
        gl_.glRenderbufferStorageMultisample(GL_RENDERBUFFER, samples, format, size.width(), size.height());
        gl_.glFramebufferRenderbuffer(GL_FRAMEBUFFER, attachment, GL_RENDERBUFFER, id);
    };
    gl_.glGenFramebuffers(1, &drawn_);
    gl_.glBindFramebuffer(GL_FRAMEBUFFER, drawn_);
    buffer(drawnColour_, GL_RGBA8, GL_COLOR_ATTACHMENT0);
    buffer(drawnDepth_, GL_DEPTH_COMPONENT32F, GL_DEPTH_ATTACHMENT);
}

void FrameTarget::bind()
{
    gl_.glBindFramebuffer(GL_FRAMEBUFFER, drawn_ != 0 ? drawn_ : plain_);
    gl_.glViewport(0, 0, size_.width(), size_.height());
}

void FrameTarget::resolve()
{
    if (drawn_ == 0)
        return;
    gl_.glBindFramebuffer(GL_READ_FRAMEBUFFER, drawn_);
    gl_.glBindFramebuffer(GL_DRAW_FRAMEBUFFER, plain_);
    gl_.glBlitFramebuffer(0, 0, size_.width(), size_.height(), 0, 0, size_.width(), size_.height(),
                          GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT, GL_NEAREST);
}

void FrameTarget::copyFrom(GLuint framebuffer)
{
    gl_.glBindFramebuffer(GL_READ_FRAMEBUFFER, framebuffer);
    gl_.glBindFramebuffer(GL_DRAW_FRAMEBUFFER, plain_);
    gl_.glBlitFramebuffer(0, 0, size_.width(), size_.height(), 0, 0, size_.width(), size_.height(), GL_COLOR_BUFFER_BIT,
                          GL_NEAREST);
    gl_.glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
}

void FrameTarget::copyTo(GLuint framebuffer, QSize to) const
{
    gl_.glBindFramebuffer(GL_READ_FRAMEBUFFER, plain_);
    gl_.glBindFramebuffer(GL_DRAW_FRAMEBUFFER, framebuffer);
    gl_.glBlitFramebuffer(0, 0, size_.width(), size_.height(), 0, 0, to.width(), to.height(), GL_COLOR_BUFFER_BIT,
                          to == size_ ? GL_NEAREST : GL_LINEAR);
    gl_.glBindFramebuffer(GL_FRAMEBUFFER, framebuffer);
}

} // namespace wendrix::app
