#pragma once

#include "core/project/change_list.h"

#include <QWidget>

class QPushButton;

namespace wendrix::app {

class NarrowChips;

/// Below the chips of the changes' list: whether alike ones are put together, and what they are narrowed to, each a
/// chip that takes it away.
class ChangeBar final : public QWidget {
    Q_OBJECT
public:
    explicit ChangeBar(QWidget* parent = nullptr);

    /// What is there to narrow to.
    void setValues(const project::ChangeBriefs& briefs, const std::vector<std::string>& disciplines);
    /// All of the question but the kind, the storey and which groups are open.
    [[nodiscard]] const project::ChangeQuestion& question() const { return question_; }
    void setGrouped(bool isGrouped);
    void setAmong(std::optional<std::set<project::ChangeKey>> among, const QString& words);
    void clear(); ///< nothing is narrowed any more
    void openMenu();

signals:
    void changed();
    void nearWanted(const QString& discipline, double metres);
    void setWanted(); ///< somebody wants to write a set
    void exportWanted();

private:
    void showChips();
    void narrow(const std::function<void(project::ChangeQuestion&)>& how);

    QPushButton *grouped_, *narrow_;
    NarrowChips* chips_;
    project::ChangeQuestion question_;
    struct Values {
        std::vector<std::string> classes, types, systems, zones, phases;
    } values_;
    std::vector<std::pair<std::int64_t, std::string>> members_; ///< comparisons by discipline
    std::vector<std::string> disciplines_;
};

} // namespace wendrix::app
