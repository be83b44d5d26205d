#pragma once

#include "core/view/walking.h"
#include "scene/scene_tool.h"
#include "scene/scene_view.h"

namespace wendrix::app {

/// Going through the building at eye height: arrows or W A S D walk, with Shift faster, dragging looks around.
class WalkTool final : public SceneTool {
public:
    explicit WalkTool(SceneView& scene) : scene_(scene) {}
    /// Stands on the floor under what is in the middle of the view.
    void taken() override;
    void setGravity(bool hasGravity) { hasGravity_ = hasGravity; }

    bool grab(QMouseEvent& event) override;
    void drag(QMouseEvent& event) override;
    bool key(QKeyEvent& event) override;
    [[nodiscard]] QString hint() const override
    {
        return "Arrows or W A S D walk, Shift faster, PgUp and PgDn rise and sink; drag to look around";
    }

private:
    [[nodiscard]] view::Walker walker() const { return {scene_.picker(), scene_.members(), scene_.colours()}; }
    SceneView& scene_;
    QPointF last_;
    bool hasGravity_ = true;
};

} // namespace wendrix::app
