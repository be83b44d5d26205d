#pragma once

#include "core/project/issue_list.h"

#include <QAbstractScrollArea>
#include <QWidget>

class QHBoxLayout;
class QLabel;

namespace wendrix::app {

/// Issues as cards in a column for each status. Arrows go from card to card, Shift with them moves a card to another
/// status; so does dragging it. Columns a card may not go to are hatched meanwhile.
class BoardView final : public QAbstractScrollArea {
    Q_OBJECT
public:
    explicit BoardView(QWidget* parent = nullptr);

    void setList(std::shared_ptr<const project::IssueList> list);
    /// Where an issue may go, asked when it is taken hold of.
    void setMoves(std::function<std::vector<std::string>(const QString& uuid)> moves) { moves_ = std::move(moves); }
    [[nodiscard]] QString chosen() const { return chosen_; }
    void choose(const QString& uuid);
    void step(int by); ///< along its column
    /// Where a card or a column stands, for whoever points at it; empty where it is not in sight.
    [[nodiscard]] QRect cardRect(const QString& uuid) const;
    [[nodiscard]] QRect columnRect(const QString& status) const;

signals:
    void cardChosen(const QString& uuid);
    void cardOpened(const QString& uuid);
    void moveWanted(const QString& uuid, const QString& status);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Place {
        int column = -1, row = -1;
        [[nodiscard]] bool isCard() const { return column >= 0 && row >= 0; }
    };
    [[nodiscard]] int columns() const { return static_cast<int>(list_->byStatus().size()); }
    [[nodiscard]] double columnWidth() const;
    [[nodiscard]] Place at(QPoint point) const;
    [[nodiscard]] Place placeOf(const QString& uuid) const;
    [[nodiscard]] QRect rectOf(Place place) const;
    [[nodiscard]] QString idOf(Place place) const;
    [[nodiscard]] bool mayGo(int column) const;
    void fitBar();
    void show(Place place);
    void paintCard(QPainter& painter, const QRect& box, const project::IssueRow& row, bool isChosen) const;

    std::shared_ptr<const project::IssueList> list_ = std::make_shared<project::IssueList>();
    std::function<std::vector<std::string>(const QString&)> moves_;
    std::vector<std::string> allowed_; ///< of the card in hand
    QString chosen_, held_;
    QPoint pressed_, hand_;
    bool isDragging_ = false;
};

class BoardPage final : public QWidget {
    Q_OBJECT
public:
    explicit BoardPage(QWidget* parent = nullptr);
    [[nodiscard]] BoardView& view() { return *view_; }
    void setCaption(const QString& words);
    void addButton(QWidget* button); ///< beside the title

private:
    BoardView* view_;
    QLabel* caption_;
    QHBoxLayout* titleRow_;
};

} // namespace wendrix::app
