#pragma once

#include "app/window_fixture.h"

namespace wendrix::test {

/// The demo's building, aligned, in the real window, and what a hand does with the mouse in it. A test's own class
/// derives from it and has the slots.
class AtTheModel : public QObject {
    Q_OBJECT
protected:
    void open();  ///< once, before all
    void reset(); ///< before each: everything in sight, nothing in hand
    void close() { at_.reset(); }

    [[nodiscard]] app::SceneView& scene() { return at_->scene(); }
    [[nodiscard]] QPoint pixelOf(Point3 place);
    /// The first element of a member whose name has this in it.
    [[nodiscard]] view::ElementKey named(const std::string& name, std::uint32_t member);
    void click(QPoint at, Qt::KeyboardModifiers modifiers = {});
    void drag(QPoint from, QPoint to, Qt::KeyboardModifiers modifiers = {});
    std::unique_ptr<WindowFixture> at_;
};

} // namespace wendrix::test
