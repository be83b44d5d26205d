#pragma once

#include <QWidget>

#include "scene/cut_tool.h"
#include "scene/mark_tool.h"
#include "scene/measure_tool.h"
#include "scene/walk_tool.h"

class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QStackedWidget;
class QToolButton;

namespace wendrix::app {

class Details;

/// The strip at the top of the scene: Look, Walk, Cut, Measure, Mark up, Show, Views; below it the choices of the tool in hand and
/// what to do next.
class ToolStrip final : public QWidget {
    Q_OBJECT
public:
    ToolStrip(SceneView& scene, Details& details, QWidget* parent);

    enum class Tool { Look, Walk, Cut, Measure, MarkUp };
    void take(Tool tool);
    [[nodiscard]] Tool tool() const { return tool_; }
    [[nodiscard]] CutTool& cutTool() { return *cut_; }
    [[nodiscard]] MeasureTool& measureTool() { return *measure_; }
    [[nodiscard]] MarkTool& markTool() { return *mark_; }
    /// How wide it may be; signs in front of the words go first.
    void setRoom(int pixels);
    void endAll(); ///< back to looking; Esc

signals:
    void showWanted();
    void viewsWanted();
    void taken(wendrix::app::ToolStrip::Tool tool);
    void said(const QString& words);
    void resized();

private:
    QToolButton* addTool(const QString& name, const QString& words, const QString& icon, const QString& tip);
    QWidget* walkRow();
    QWidget* cutRow();
    QWidget* measureRow();
    QWidget* markRow();
    void refresh();
    void showMeasurements();
    void showFlat(); ///< the choice of what is laid over what

    SceneView& scene_;
    Details& details_;
    CutTool* cut_;
    MeasureTool* measure_;
    MarkTool* mark_;
    WalkTool walk_;
    Tool tool_ = Tool::Look;
    QWidget* strip_;
    QStackedWidget* rows_;
    QLabel* hint_;
    QDoubleSpinBox* position_;
    QPushButton* otherMarks_;
    QVector<QToolButton*> buttons_;
};

} // namespace wendrix::app
