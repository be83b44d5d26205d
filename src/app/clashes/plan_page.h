#pragma once

#include "core/project/clash_plan.h"

#include <QLineF>
#include <QWidget>

class QLabel;
class QHBoxLayout;

namespace wendrix::app {

/// A storey from above with the reference's grid: how many pairs lie in each bay, and what was decided of them.
class PlanView final : public QWidget {
    Q_OBJECT
public:
    struct Axis {
        QLineF line; ///< metres
        QString tag;
    };
    explicit PlanView(QWidget* parent = nullptr);
    void setPlan(const QVector<Axis>& axes, std::vector<project::ClashPlan::Bay> bays);
    void step(int by); ///< to the next bay
    [[nodiscard]] const std::vector<project::ClashPlan::Bay>& bays() const { return bays_; }
    [[nodiscard]] int chosen() const { return chosen_; }
    [[nodiscard]] QRectF areaOf(int bay) const; ///< of its sign, in this widget

signals:
    void opened(const QString& bay);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QPointF toScreen(double x, double y) const;
    [[nodiscard]] int at(QPointF point) const;

    QVector<Axis> axes_;
    std::vector<project::ClashPlan::Bay> bays_;
    QRectF bounds_; ///< metres
    int chosen_ = -1;
};

/// The plan with its title and what its signs mean.
class PlanPage final : public QWidget {
    Q_OBJECT
public:
    explicit PlanPage(QWidget* parent = nullptr);
    void setPlan(const QString& storey, const QVector<PlanView::Axis>& axes, const project::ClashPlan::Storey* load);
    void addButton(QWidget* button);
    [[nodiscard]] PlanView& view() { return *view_; }

private:
    QLabel *title_, *caption_;
    QHBoxLayout* titleRow_;
    PlanView* view_;
};

} // namespace wendrix::app
