#pragma once

#include "core/project/issue_list.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;

namespace wendrix::app {

/// Below the chips of the list of issues: words to look for, a line of the language to narrow by, order, groups, and
/// filters that are kept.
class IssuesBar final : public QWidget {
    Q_OBJECT
public:
    explicit IssuesBar(QWidget* parent = nullptr);

    /// All of the question but the chip and the storey.
    [[nodiscard]] const project::IssueQuestion& question() const { return question_; }
    void setQuestion(const project::IssueQuestion& question);
    void setFilters(std::vector<project::IssueFilterRecord> filters) { filters_ = std::move(filters); }
    void clear();
    void focusSearch();
    void openMenu();

signals:
    void changed();
    void left();                            ///< back to the list
    void filterChosen(const QString& body); ///< a kept one
    void keepWanted(const QString& name);
    void removeWanted(const QString& name);
    void agreedWanted();

private:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void typed();
    void showWords();

    QLineEdit *wordsField_, *line_;
    QLabel* mistake_;
    QPushButton* menu_;
    project::IssueQuestion question_;
    std::vector<project::IssueFilterRecord> filters_;
};

} // namespace wendrix::app
