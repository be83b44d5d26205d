#pragma once

#include "core/project/issue_list.h"
#include "core/view/clusters.h"
#include "shell/stage.h"

namespace wendrix::app {

/// Signs of all issues of the list at their places in the scene, while none of them is looked at: one by one with the
/// shape of its status, together with their number where they would lie over each other. A click chooses, or goes
/// nearer.
class IssueSigns final : public QObject {
    Q_OBJECT
public:
    IssueSigns(const StageContext& context, QObject* parent);

    void setList(std::shared_ptr<const project::IssueList> list);
    void setShown(bool isShown);
    [[nodiscard]] const std::vector<view::Cluster>& clusters() const { return clusters_; }
    [[nodiscard]] std::size_t placed() const { return places_.size(); } ///< issues of which it is known where they are

signals:
    void chosen(const QString& uuid);

private:
    void findPlaces();
    void put();
    bool eventFilter(QObject* watched, QEvent* event) override;

    StageContext at_;
    std::shared_ptr<const project::IssueList> list_, placed_; ///< placed: whose issues have places
    std::vector<Point3> places_;
    std::vector<std::size_t> issues_; ///< of the list, by place
    std::vector<view::Cluster> clusters_;
    bool isShown_ = false;
    QPoint pressed_;
};

} // namespace wendrix::app
