#pragma once

#include "core/project/clash_list.h"

#include <QMap>
#include <QWidget>

class QComboBox;
class QPushButton;

namespace wendrix::app {

class NarrowChips;

/// Below the chips of the clashes' list: how pairs are put together, and what they are narrowed to, each a chip that
/// takes it away.
class ClashBar final : public QWidget {
    Q_OBJECT
public:
    explicit ClashBar(QWidget* parent = nullptr);

    /// What is there to narrow to.
    /// @param deciders  who decides, and the tests they decide
    void setValues(const project::PairBriefs& briefs, const std::map<std::string, std::set<std::string>>& deciders);
    /// All of the question but the state and the storey.
    [[nodiscard]] const project::ClashQuestion& question() const { return question_; }
    void narrowTo(const std::string& discipline, const std::string& against);
    void narrowToBay(const std::string& storey, const std::string& bay);
    void setOrder(project::ClashOrder order);
    void orderNext(); ///< the way after the one that is on
    void clear();     ///< nothing is narrowed any more
    void openMenu();
    [[nodiscard]] QString orderInWords() const;

signals:
    void changed();
    void exportWanted();

private:
    void showChips();
    void narrow(const std::function<void(project::ClashQuestion&)>& how);

    QComboBox* order_;
    QPushButton* narrow_;
    NarrowChips* chips_;
    project::ClashQuestion question_;
    std::vector<std::string> disciplines_, classes_, systems_, bays_, tests_;
    std::map<std::string, std::set<std::string>> deciders_;
};

} // namespace wendrix::app
