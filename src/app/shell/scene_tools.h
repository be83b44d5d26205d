#pragma once

#include <QObject>

#include "scene/cut_tool.h"
#include "scene/mark_tool.h"
#include "scene/measure_tool.h"
#include "scene/walk_tool.h"

class QDoubleSpinBox;
class QPushButton;
class QWidget;

namespace wendrix::app {

class Details;
class ToolStrip;

/// The tools that every stage has: looking, walking, cutting, measuring, marking up. It adds them to the strip with the
/// rows of their choices.
class SceneTools final : public QObject {
    Q_OBJECT
public:
    static constexpr const char *kWalk = "walk", *kCut = "cut", *kMeasure = "measure", *kMarkUp = "markUp";

    SceneTools(SceneView& scene, ToolStrip& strip, Details& details, QObject* parent);

    [[nodiscard]] CutTool& cut() { return *cut_; }
    [[nodiscard]] MeasureTool& measure() { return *measure_; }
    [[nodiscard]] MarkTool& mark() { return *mark_; }

signals:
    void said(const QString& words);

private:
    QWidget* walkRow();
    QWidget* cutRow();
    QWidget* measureRow();
    QWidget* markRow();
    void refresh();
    void showMeasurements();
    void showFlat(); ///< the choice of what is laid over what

    SceneView& scene_;
    ToolStrip& strip_;
    Details& details_;
    CutTool* cut_;
    MeasureTool* measure_;
    MarkTool* mark_;
    WalkTool walk_;
    QDoubleSpinBox* position_ = nullptr;
    QPushButton* otherMarks_ = nullptr;
};

} // namespace wendrix::app
