#pragma once

#include "core/view/measure.h"
#include "scene/scene_tool.h"
#include "scene/scene_view.h"

#include <QObject>

namespace wendrix::app {

/// Measuring with what the cursor takes hold of. Results stay in the scene until they are cleared.
class MeasureTool final : public QObject, public SceneTool {
    Q_OBJECT
public:
    explicit MeasureTool(SceneView& scene, QObject* parent) : QObject(parent), scene_(scene) {}
    void setKind(view::MeasureKind kind);
    [[nodiscard]] view::MeasureKind kind() const { return kind_; }
    [[nodiscard]] const std::vector<view::Measurement>& results() const { return results_; }
    void setResults(std::vector<view::Measurement> results);
    void removeLast();

    bool click(QMouseEvent& event) override;
    void hover(QMouseEvent& event) override;
    bool key(QKeyEvent& event) override;
    void paint(QPainter& painter) override;
    [[nodiscard]] QString hint() const override;

signals:
    void resultsChanged();
    void said(const QString& words);

private:
    void take(const view::Snap& snap);
    void paintMeasurement(QPainter& painter, const view::Measurement& measurement, std::vector<QRectF>& taken) const;

    SceneView& scene_;
    view::MeasureKind kind_ = view::MeasureKind::Distance;
    std::vector<view::Snap> held_;
    std::optional<view::Snap> under_;
    std::vector<view::Measurement> results_;
};

} // namespace wendrix::app
