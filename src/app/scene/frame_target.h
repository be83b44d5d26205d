#pragma once

#include <QOpenGLFunctions_3_3_Core>
#include <QSize>

namespace wendrix::app {

/// A picture to draw into, with its depth, both readable as textures afterwards; with several samples a pixel if
/// asked. Made and freed with the context current.
class FrameTarget {
public:
    explicit FrameTarget(QOpenGLFunctions_3_3_Core& gl) : gl_(gl) {}
    ~FrameTarget() { free(); }
    FrameTarget(const FrameTarget&) = delete;
    FrameTarget& operator=(const FrameTarget&) = delete;

    /// Makes it this large if it is not; what was drawn is lost then.
    void ensure(QSize size, int samples);
    void bind();    ///< to draw into
    void resolve(); ///< after drawing: the textures hold the picture
    /// Copies a picture of the same size from another framebuffer; for one without samples.
    void copyFrom(GLuint framebuffer);
    /// Copies it into another framebuffer, stretched where that is of another size.
    void copyTo(GLuint framebuffer, QSize to) const;
    [[nodiscard]] QSize size() const { return size_; }
    [[nodiscard]] GLuint colour() const { return colour_; }
    [[nodiscard]] GLuint depth() const { return depth_; }

private:
    void free();
    QOpenGLFunctions_3_3_Core& gl_; // the view's; outlives this
    QSize size_;
    int samples_ = 0;
    GLuint drawn_ = 0, drawnColour_ = 0, drawnDepth_ = 0; ///< with samples
    GLuint plain_ = 0, colour_ = 0, depth_ = 0;
};

} // namespace wendrix::app
