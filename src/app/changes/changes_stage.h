#pragma once

#include "changes/between_bar.h"
#include "changes/change_bar.h"
#include "changes/change_view.h"
#include "changes/side_by_side.h"
#include "core/project/change_context.h"
#include "core/project/change_issues.h"
#include "shell/latest_answer.h"
#include "shell/report_job.h"
#include "shell/stage.h"

class QLabel;

namespace wendrix::app {

/// Changes: what the deliveries in use changed against those they replaced, or what any two that a person asks for
/// differ in; one list over all members that were compared.
class ChangesStage final : public ListStage {
    Q_OBJECT
public:
    ChangesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "git-compare"; }
    [[nodiscard]] unsigned books() const override;
    [[nodiscard]] Counting waiting() const override;
    [[nodiscard]] QMap<QString, int> storeyCounts() const override;
    void setStorey(const QString& storey) override;
    void enter() override;
    [[nodiscard]] bool showsWhenRead() const override { return true; }
    bool press(Qt::Key key) override;
    void choose(const QString& id) override;
    [[nodiscard]] QWidget* beside() override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;
    [[nodiscard]] QString helpPage() const override { return "changes.md"; }

    /// Lists these comparisons instead of those in force; none: those in force again.
    void showComparisons(std::vector<std::int64_t> comparisons);
    /// Compares two deliveries and lists what they differ in.
    void compare(project::DeliveryId from, project::DeliveryId to);
    void compareCycles(int from, int to);

private:
    void refresh() override;
    void leave() override;
    void showChosenRow() override { show(true); }
    /// What goes with a list, whatever it is narrowed to.
    struct Read {
        std::shared_ptr<const project::ChangeList> list;
        std::vector<std::string> compared; ///< "Structure P01 with P02: 812 elements unchanged"
        std::vector<std::string> disciplines;
        std::string rule; ///< the name of the one in use
        QString problem;  ///< why it could not be read; empty where it was
    };
    [[nodiscard]] static Result<Read> readAll(const project::Project& p, const std::vector<std::int64_t>& basis,
                                              const project::ChangeQuestion& question);
    [[nodiscard]] project::ChangeQuestion question() const;
    void fillList();
    void toggleGroup(const QString& id);

    // What is chosen, in scene and details
    void show(bool movesView);
    void showBetween(); ///< the slider was moved
    void showDetails(const std::vector<project::ChangeRecord>& changes, std::size_t all);
    void addFacts(const project::ChangeRecord& change);
    void addGroupFacts(const std::vector<project::ChangeRecord>& changes, std::size_t all);
    void cutVolumes(); ///< as the model is cut now
    void showWholeVolumes();
    void explain(const std::vector<project::ChangeRecord>& changes);
    void lookUp(const std::vector<project::ChangeRecord>& changes);
    void lookAround(const std::vector<project::ChangeRecord>& changes);
    [[nodiscard]] std::vector<project::ChangeKey> chosenKeys() const;
    [[nodiscard]] std::vector<project::ChangeRecord> chosenChanges() const; ///< as many as can be told apart
    [[nodiscard]] QString titleOfChosen(const std::vector<project::ChangeRecord>& changes, std::size_t all) const;
    [[nodiscard]] std::shared_ptr<project::Surroundings> surroundings();

    // What is said of it
    void review(const char* word);
    /// By the template a person chooses, where there are several.
    void questionChosen(bool isOneEach);
    void questionAs(bool isOneEach, const issues::IssueTemplate& with);
    [[nodiscard]] project::Question draftQuestion(const std::string& title,
                                                  const std::vector<project::ChangeRecord>& changes,
                                                  std::vector<project::ChangeKey> keys,
                                                  const issues::IssueTemplate& with) const;
    /// @param from  gets where it was taken from; may be null
    [[nodiscard]] PictureWork pictureOf(std::vector<project::ChangeRecord> changes, Between between,
                                        std::shared_ptr<view::Camera> from = nullptr);
    /// Without a camera: its picture finds one.
    [[nodiscard]] static issues::Viewpoint viewpointOf(const std::vector<project::ChangeRecord>& changes,
                                                       bool isBefore);
    /// Questions with the pictures of both their viewpoints, taken by a job.
    struct Pictured {
        std::vector<project::Question> questions;
        std::vector<PictureWork> pictures; ///< two of each
        std::vector<std::shared_ptr<view::Camera>> cameras;
    };
    void add(Pictured& all, const std::string& title, const std::vector<project::ChangeRecord>& changes,
             std::vector<project::ChangeKey> keys, const issues::IssueTemplate& with);
    /// Puts pictures and cameras into the viewpoints, one behind the other.
    static void finish(Pictured& all, const std::vector<QImage>& taken);
    [[nodiscard]] std::string revisionsOf(const project::ChangeRecord& change, const char* between) const;

    // What it compares, and what counts
    void openCompareMenu();
    void showCompareForm();
    void showCyclesForm();
    void showRuleForm();
    void showSetForm();
    void showDigestForm();
    void compared(std::vector<std::int64_t> ids);
    void narrowToNear(const QString& discipline, double metres);
    void narrowToSet(const QString& line);

    // What leaves the list
    void exportList();
    void exportTable(const QString& file);
    void exportReport(const QString& file);
    void exportBcf(const QString& file);
    void exportDigest(const QString& discipline, double metres, const QString& file);
    void copyRows();

    unsigned filter_ = 0;             ///< of project::ChangeKind; 0 for all
    std::vector<std::int64_t> basis_; ///< comparisons that are listed; empty: those in force
    std::set<std::string> opened_;
    ChangeBar* bar_;
    BetweenBar* between_;
    std::unique_ptr<SideBySide> side_;
    LatestAnswer explaining_, around_;
    std::vector<project::ChangeRecord> chosen_;  ///< as many as can be told apart, as they were shown last
    std::vector<changes::VolumeChange> volumes_; ///< of what is chosen, whole
    std::vector<geometry::Plane> volumesCutBy_;
    QLabel *volume_ = nullptr, *near_ = nullptr, *met_ = nullptr; ///< in the details; theirs
    std::shared_ptr<project::Surroundings> surroundings_; ///< of the members of now; asked on `around_`'s thread only
    std::vector<const void*> surrounded_;
    std::shared_ptr<const Read> read_ =
        std::make_shared<const Read>(Read{std::make_shared<project::ChangeList>(), {}, {}, {}, {}});
    [[nodiscard]] const project::ChangeList& changes() const { return *read_->list; }
    bool isNextWanted_ = false;
};

} // namespace wendrix::app
