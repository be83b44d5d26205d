#pragma once

#include "core/federation/grid_fit.h"

#include <QWidget>

namespace wendrix::app {

class Details;

[[nodiscard]] QString residualInWords(Metres distance); ///< "1.3", millimetres; metres where it is far

/// Residuals of crossings as dots where they stand in plan: the larger, the farther off, and red beyond what stands
/// right.
class ResidualPlan final : public QWidget {
    Q_OBJECT
public:
    ResidualPlan(std::vector<federation::Residual> residuals, Metres limit, QWidget* parent = nullptr);
    [[nodiscard]] QPointF pixelOf(const federation::Residual& residual) const;
    [[nodiscard]] const std::vector<federation::Residual>& residuals() const { return residuals_; }
    [[nodiscard]] QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;
    bool event(QEvent* event) override;

private:
    std::vector<federation::Residual> residuals_; ///< the farthest last, so that it lies over the others
    Box3 extent_;
    Metres limit_; ///< what is farther off than this is red
};

/// Adds residuals to a panel as drawn on a plan, letters down, numbers across. Of more than have room side by side: the
/// worst, the plan as dots, and the whole table to scroll.
void addResiduals(Details& details, const std::vector<federation::Residual>& residuals, Metres limit);

} // namespace wendrix::app
