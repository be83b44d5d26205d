#pragma once

#include <QWidget>

#include "core/project/records.h"

#include <vector>

namespace wendrix::app {

/// The register: disciplines down, cycles across, each delivery a card. Arrow keys go from card to card.
class Register final : public QWidget {
    Q_OBJECT
public:
    explicit Register(QWidget* parent = nullptr);
    void setContent(std::vector<project::Discipline> disciplines, std::vector<project::Delivery> deliveries);
    void choose(project::DeliveryId id);
    [[nodiscard]] project::DeliveryId chosen() const { return chosen_; }
    /// Where a delivery's card lies; empty if it has none.
    [[nodiscard]] QRect cardOf(project::DeliveryId id) const;

signals:
    void deliveryChosen(qint64 id);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    [[nodiscard]] QSize sizeHint() const override;

private:
    void layOut();
    void paintCard(QPainter& painter, const QRect& box, const project::Delivery& delivery) const;

    std::vector<project::Discipline> disciplines_;
    std::vector<project::Delivery> deliveries_;
    std::vector<QRect> cards_; ///< of the deliveries, in their order
    std::vector<int> rowTops_;
    int cycles_ = 1;
    project::DeliveryId chosen_ = 0;
};

} // namespace wendrix::app
