#pragma once

#include <QAbstractScrollArea>

#include "core/project/register_grid.h"

#include <set>
#include <vector>

namespace wendrix::app {

/// The register: disciplines down, cycles across, each delivery a card; names and cycles stay in sight while it is
/// scrolled. Arrow keys go from card to card. Only what is in sight is painted.
class Register final : public QAbstractScrollArea {
    Q_OBJECT
public:
    explicit Register(QWidget* parent = nullptr);
    void setContent(std::vector<project::Discipline> disciplines, std::vector<project::Delivery> deliveries);
    /// The cycle whose composition is looked at, and what was in use then; they are marked. 0 for none.
    void setLookedAt(int cycle, std::set<project::DeliveryId> then);
    void choose(project::DeliveryId id);
    [[nodiscard]] project::DeliveryId chosen() const { return chosen_; }
    [[nodiscard]] const project::RegisterGrid& grid() const { return grid_; }
    [[nodiscard]] const std::vector<project::Delivery>& deliveries() const { return deliveries_; }
    /// Where a delivery's card lies in the viewport; empty if it has none.
    [[nodiscard]] QRect cardOf(project::DeliveryId id) const;
    [[nodiscard]] QRect headOf(int cycle) const;

signals:
    void deliveryChosen(qint64 id);
    void deliveryOpened(qint64 id); ///< Enter or double click
    void cycleClicked(int cycle);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool viewportEvent(QEvent* event) override;

private:
    void layOut();
    void ensureVisible(const QRect& card);
    [[nodiscard]] QRect rectOf(project::RegisterGrid::Place place) const;
    [[nodiscard]] std::optional<project::RegisterGrid::Place> at(QPoint point) const;
    [[nodiscard]] bool isCompact() const;
    void paintCard(QPainter& painter, const QRect& box, const project::Delivery& delivery) const;
    void paintNames(QPainter& painter) const;
    void paintHead(QPainter& painter) const;

    std::vector<project::Discipline> disciplines_;
    std::vector<project::Delivery> deliveries_;
    project::RegisterGrid grid_;
    std::vector<int> rowTops_; ///< from the first row; one more than there are rows
    int cardWidth_ = 0, cardHeight_ = 0;
    project::DeliveryId chosen_ = 0;
    std::set<project::DeliveryId> then_;
    int lookedAt_ = 0, hoveredHead_ = 0;
    bool wasFitted_ = false;
};

} // namespace wendrix::app
