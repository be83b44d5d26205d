#pragma once

#include <QString>

class QKeyEvent;
class QMouseEvent;
class QPainter;

namespace wendrix::app {

/// What the mouse does in the scene while it is in hand; what it does not take, turns, moves and zooms as ever.
class SceneTool {
public:
    virtual ~SceneTool() = default;

    virtual void taken() {}   ///< into the hand
    virtual void putDown() {} ///< what was begun is dropped

    /// A click that was no drag. @return whether it meant something to the tool
    virtual bool click(QMouseEvent&) { return false; }
    /// A press on something that can be dragged: then all moves up to the release come to drag().
    virtual bool grab(QMouseEvent&) { return false; }
    virtual void drag(QMouseEvent&) {}
    virtual void drop(QMouseEvent&) {}
    virtual void hover(QMouseEvent&) {}
    virtual bool key(QKeyEvent&) { return false; }
    /// Ctrl+Z while in hand. @return whether there was something of the tool's own to take back
    virtual bool undo() { return false; }
    virtual void paint(QPainter&) {}
    /// What to do next, in words.
    [[nodiscard]] virtual QString hint() const { return {}; }
};

} // namespace wendrix::app
