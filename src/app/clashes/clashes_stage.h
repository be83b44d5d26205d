#pragma once

#include "clashes/clash_bar.h"
#include "clashes/clash_view.h"
#include "clashes/matrix_page.h"
#include "clashes/plan_page.h"
#include "clashes/tests_page.h"
#include "core/project/alike_pairs.h"
#include "core/project/issue_making.h"

#include "shell/latest_answer.h"

#include <QStackedWidget>

class QLabel;
class QLineEdit;

namespace wendrix::app {

/// Clashes: groups and pairs with both counts; choosing one brings the view there; deciding settles it.
class ClashesStage final : public ListStage {
    Q_OBJECT
public:
    ClashesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "scan"; }
    [[nodiscard]] QWidget* list() override { return pages_; }
    [[nodiscard]] bool isRegister() const override { return pages_->currentWidget() == matrix_ || isAtPlan(); }

    void step(int by) override;
    void focusFilter() override;
    [[nodiscard]] unsigned books() const override;
    [[nodiscard]] Counting waiting() const override;
    [[nodiscard]] std::optional<int> waitingInList() const override
    {
        return static_cast<int>(pairs_->counts().undecidedOfAll);
    }
    [[nodiscard]] QMap<QString, int> storeyCounts() const override;
    void setStorey(const QString& storey) override;
    void enter() override;
    [[nodiscard]] bool showsWhenRead() const override { return true; }
    void choose(const QString& id) override;
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;
    [[nodiscard]] QString helpPage() const override { return "clashes.md"; }

private:
    /// Of its pages: what was found, the matrix, or what is tested.
    void turnTo(QWidget* page);
    [[nodiscard]] bool isAtPairs() const { return pages_->currentWidget() == list_; }
    [[nodiscard]] bool isAtPlan() const { return pages_->currentWidget() == plan_; }
    [[nodiscard]] bool isAtTests() const { return pages_->currentWidget() == tests_->list(); }
    void leave() override { tests_->setFront(false); }
    void refresh() override;
    bool follow(const project::Changed& what) override;
    void showChosenRow() override
    {
        if (isAtPairs())
            show(true);
    }
    /// What goes with a list, whatever it is narrowed to.
    struct Known {
        std::optional<project::Run> lastRun;
        std::vector<std::string> notUpToDate; ///< tests that are not as it made them
        std::vector<std::string> disciplines;
        std::map<std::string, std::set<std::string>> deciders; ///< and the tests they decide
        std::map<std::string, std::string> deciderOf;          ///< by test
        std::vector<issues::IssueTemplate> templates = {issues::IssueTemplate::usual()};
    };
    struct Read {
        std::shared_ptr<const project::ClashList> list;
        std::shared_ptr<const Known> known;
    };
    [[nodiscard]] project::ClashQuestion question() const;
    [[nodiscard]] static Result<Read> readAll(const project::Project& p, const project::ClashQuestion& question);
    void fillPage();
    void fillMatrix();
    void fillPlan();
    /// "12 new, 31 still there, 44 gone, 3 back, 6 not tested: Piping P01 held", each number a way to its list.
    [[nodiscard]] QString cycleInWords() const;
    void narrowed(); ///< the bar asks for other pairs, or in another order
    void offerAlike(const std::vector<project::PairId>& decided);
    void takeOffer(bool isTaken);
    void exportList();
    void exportTable(const QString& file);
    void exportReport(const QString& file);
    void copyRows();
    void ask(std::function<Result<Read>(const project::Project&)> question);
    void fillList();
    void show(bool movesView);
    void showDetails(const std::vector<project::Pair>& pairs);
    void addDecided(const project::Pair& pair);
    void addDeciding(const std::vector<project::Pair>& pairs);
    void addHistory(const std::vector<project::Pair>& pairs);
    /// Shows what is found out about them, once it is.
    void explain(const std::vector<project::Pair>& pairs, ClashView view, Vector3 from);
    void decide(const QString& decision);
    void makeIssue();
    /// How many issues are made of what is chosen.
    enum class IssuesOf { All, EachGroup, EachPair };
    /// What is chosen, as many parts as issues are to be made of it.
    [[nodiscard]] std::vector<std::vector<project::Pair>> partsOf(const std::vector<project::Pair>& pairs) const;
    void makeIssueOfEach(const std::vector<std::vector<project::Pair>>& parts);
    void finishIssues(std::vector<project::IssueForPairs> issues);
    [[nodiscard]] issues::Issue draft(const std::vector<project::Pair>& pairs) const;
    [[nodiscard]] const issues::IssueTemplate& chosenTemplate() const;
    void sayWhatIsMade(const std::vector<project::Pair>& pairs);
    [[nodiscard]] std::vector<project::PairId> chosenPairs() const;
    [[nodiscard]] QString titleOf(const std::vector<project::Pair>& pairs) const;
    [[nodiscard]] issues::Viewpoint viewpoint(const std::vector<project::Pair>& pairs) const;

    QStackedWidget* pages_; ///< the window's, once it is put there
    TestsPage* tests_;
    MatrixPage* matrix_;
    PlanPage* plan_;
    std::string plannedStorey_;
    ClashBar* bar_;
    QWidget* offerBox_; ///< what is alike to what was decided
    QLabel* offerWords_;
    std::optional<project::AlikeOffer> offer_;
    QLineEdit *reason_ = nullptr, *until_ = nullptr;    ///< in the details; theirs
    QLabel *explained_ = nullptr, *toBeMade_ = nullptr; ///< the same
    QString template_;                                  ///< by which issues are made
    IssuesOf issuesOf_ = IssuesOf::All;
    LatestAnswer explaining_;
    QString lastReason_;                    ///< what was written there, for the next
    QString filter_ = "undecided", wanted_; ///< wanted: the row to choose once it is there
    std::shared_ptr<const project::ClashList> pairs_ = std::make_shared<project::ClashList>();
    QString problem_; ///< why the list could not be read; empty where it was
    std::shared_ptr<const Known> known_ = std::make_shared<Known>();
    bool isAwaited_ = false;    ///< a list that is asked for
    bool isNextWanted_ = false; ///< what was decided leaves the list: on to the next
};

} // namespace wendrix::app
