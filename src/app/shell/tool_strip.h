#pragma once

#include <QWidget>

#include <functional>

class QLabel;
class QStackedWidget;
class QToolButton;

namespace wendrix::app {

class SceneTool;
class SceneView;

/// What somebody brings to the strip over the scene: a tool that is taken in hand, or something that is done at once.
struct ToolEntry {
    QString id; ///< also the name of its button
    QString words, icon, tip;
    SceneTool* tool = nullptr;   ///< outlives the strip; none: `press` is done
    QWidget* row = nullptr;      ///< its choices, under the strip while it is in hand; the strip's from then on
    std::function<void()> press; ///< also done when the tool is taken
    QString stage = {};          ///< the stage that it is for; empty: all
};

/// The strip at the top of the scene, and below it the choices of the tool in hand and what to do next. It knows no
/// tool: whoever has one adds it.
class ToolStrip final : public QWidget {
    Q_OBJECT
public:
    ToolStrip(SceneView& scene, QWidget* parent);

    void add(const ToolEntry& entry);
    /// Tools of other stages leave the strip, and the hand.
    void setStage(const QString& stage);
    /// Takes it in hand, or does what it is for; nothing in hand where there is none of this name.
    void take(const QString& id);
    /// The same, but puts it down where it is in hand.
    void toggle(const QString& id);
    [[nodiscard]] const QString& inHand() const { return inHand_; } ///< empty: looking around
    /// How wide it may be; signs in front of the words go first.
    void setRoom(int pixels);
    void endAll() { take({}); } ///< back to looking; Esc
    void refresh();             ///< the words of the tool in hand, or its row, may be others

signals:
    void taken(const QString& id);
    void resized();

private:
    SceneView& scene_;
    QString inHand_, stage_;
    QWidget *strip_, *box_;
    QStackedWidget* rows_;
    QLabel* hint_;
    struct Added {
        ToolEntry entry;
        QToolButton* button;
    };
    QVector<Added> added_;
};

} // namespace wendrix::app
