#pragma once

#include "core/project/issue_list.h"

#include <QDate>
#include <QWidget>

class QHBoxLayout;
class QLabel;

namespace wendrix::app {

/// A month with what is due on each day. Arrows go from day to day, Page Up and Down from month to month; Enter lists
/// the day.
class CalendarView final : public QWidget {
    Q_OBJECT
public:
    explicit CalendarView(QWidget* parent = nullptr);
    void setList(std::shared_ptr<const project::IssueList> list, QDate today);
    [[nodiscard]] QDate day() const { return day_; }
    void setDay(QDate day);
    [[nodiscard]] QRect dayRect(QDate day) const; ///< empty where it is in another month
    [[nodiscard]] int dueOn(QDate day) const;

signals:
    void dayChosen(const QDate& day);
    void dayOpened(const QDate& day);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QDate firstShown() const; ///< the Monday of the first row
    [[nodiscard]] QDate at(QPoint point) const;

    std::shared_ptr<const project::IssueList> list_ = std::make_shared<project::IssueList>();
    std::map<QDate, std::vector<std::size_t>> due_; ///< issues of the list, by day
    QDate today_, day_;
};

class CalendarPage final : public QWidget {
    Q_OBJECT
public:
    explicit CalendarPage(QWidget* parent = nullptr);
    [[nodiscard]] CalendarView& view() { return *view_; }
    void addButton(QWidget* button); ///< beside the title

private:
    void showMonth();
    CalendarView* view_;
    QLabel* month_;
    QHBoxLayout* titleRow_;
};

} // namespace wendrix::app
