#pragma once

#include "issues/issue_form.h"
#include "shell/stage.h"

#include "core/project/issue_exchange.h"
#include "core/project/issue_list.h"

#include <QPlainTextEdit>
#include <QPointer>

class QPushButton;
class QStackedWidget;

namespace wendrix::app {

class AgreedPage;
class BoardPage;
class CalendarPage;
class IssueSigns;
class IssuesBar;
class MergePage;

/// Issues: the list and the board, one issue whole with its evidence, viewpoints, fields, comments and history; BCF out
/// and in.
class IssuesStage final : public ListStage {
    Q_OBJECT
public:
    IssuesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "message-square-text"; }
    [[nodiscard]] QWidget* list() override;
    [[nodiscard]] bool isRegister() const override;
    [[nodiscard]] unsigned books() const override;
    [[nodiscard]] Counting waiting() const override;
    [[nodiscard]] QMap<QString, int> storeyCounts() const override;
    void setStorey(const QString& storey) override;
    void enter() override;
    void step(int by) override;
    void focusFilter() override;
    [[nodiscard]] bool showsWhenRead() const override { return true; }
    void choose(const QString& id) override;
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;
    [[nodiscard]] QString helpPage() const override { return "issues.md"; }

    /// Writes the issues that are shown as BCF.
    void exportTo(const QString& file, bcf::Version version);
    /// Compares what came back; it is taken over on the page that opens.
    void importFrom(const QString& file);
    /// Makes an issue of what is seen: the selection, or the view alone. Where there are several ways, by a template or
    /// one for each element, a person is asked.
    void makeFromView(const std::optional<IssueStart>& start = {});

signals:
    void frontWanted(); ///< something was made here

private:
    void refresh() override;
    void leave() override;
    void make(const std::optional<IssueStart>& start, const issues::IssueTemplate& with, bool isOneEach);
    void makeOneEach(const std::optional<IssueStart>& start, const issues::IssueTemplate& with,
                     const std::vector<view::ElementKey>& keys);
    void keepMade(std::vector<project::IssueForPairs> made, const issues::IssueTemplate& with);
    void takeBack(); ///< what a viewpoint hid or cut open
    /// @param areShown  asked by discipline
    void setSpacesShown(const std::function<bool(const std::string&)>& areShown);
    void showChosenRow() override { show(true); }
    /// One issue with all that is known of it.
    struct Item {
        issues::Issue issue;
        issues::Evidence evidence;
        std::vector<project::Pair> pairs;
        std::vector<project::IssueEvent> history;
        std::vector<issues::Viewpoint> viewpoints; ///< in the project's coordinates
        std::string madeFrom;
        std::vector<project::KeptIssue::Origin> origins;            ///< files it came in
        std::vector<std::pair<std::string, std::string>> snapshots; ///< by viewpoint, what the project calls them
    };
    [[nodiscard]] project::IssueQuestion question() const;
    [[nodiscard]] bool isAgreedInFront() const;
    void makeList(); ///< with its bar and footer
    void fillList();
    void offerProposals();
    void show(bool movesView);
    void showViewpoint(const Item& item, bool movesView);
    /// Bitmaps of a viewpoint whose files are there.
    [[nodiscard]] std::vector<view::StandingPicture> picturesOf(const Item& item, const issues::Viewpoint& viewpoint);
    void showSigns();
    void stepViewpoint(int by);
    void showDetails(const Item& item);
    void showSeveral(const QStringList& uuids);
    void addMoves(const Item& item);
    void addFacts(const Item& item);
    void addViewpoints(const Item& item);
    void addSnapshot(const Item& item, std::size_t viewpoint);
    void addEvidence(const Item& item);
    void addRequirement(const Item& item);
    void checkAgain(DisciplineId discipline); ///< what issues want of what is in use
    void addElementsSaid(const Item& item);   ///< where no clash says anything
    void addComments(const Item& item);
    void addHistory(const Item& item);
    void addForm(const issues::Issue& issue, const QStringList& uuids);
    void commitField(const QStringList& uuids, const QString& field, const QString& text);
    void commitRelated(const QStringList& uuids, const QString& text);
    void settle(const QStringList& uuids); ///< as the models propose
    void setStatus(const QStringList& uuids, const std::string& status, const QString& comment);
    void sendComment();
    void editComment(const issues::Comment& comment);
    void attach();
    /// Writes a document that came inside where a person says.
    void saveDocument(const issues::DocumentReference& document,
                      const std::vector<project::KeptIssue::Origin>& origins);
    void turnTo(QWidget* page);
    void askExport();
    void askImport();
    [[nodiscard]] std::optional<Item> chosen() const;
    [[nodiscard]] IssueForm::Choices choices() const;

    QString filter_ = "open", wanted_; ///< wanted: the row to choose once it is there
    QString problem_;                  ///< why the list could not be read; empty where it was
    std::shared_ptr<const project::IssueList> issues_ = std::make_shared<project::IssueList>();
    QStackedWidget* pages_;
    IssuesBar* bar_;
    MergePage* merge_;
    BoardPage* board_;
    CalendarPage* calendar_;
    AgreedPage* agreed_;
    IssueSigns* signs_;
    QPushButton* settle_;              ///< all that the models propose for what is shown
    QPointer<QPlainTextEdit> comment_; ///< in the details; theirs
    QPointer<IssueForm> form_;         ///< in the details; theirs
    bool isEditing_ = false, isHistoryShown_ = false;
    bool isEditWanted_ = false;     ///< of the next one that is shown: it was just made
    QString shown_;                 ///< the issue the details tell of
    int viewpoint_ = 0;             ///< of it
    QMap<QString, QString> drafts_; ///< texts begun, by issue and field: they outlast whatever happens elsewhere
    QString editedComment_;         ///< the comment that is being changed instead of a new one
    std::optional<view::SceneState> before_; ///< what one saw before a viewpoint changed it
    /// Of the issue that is shown: read once.
    struct {
        std::string issue;
        std::vector<project::KeptIssue::Origin> origins;
        std::map<std::string, std::shared_ptr<const std::string>> bytes; ///< by reference
    } pictures_;
};

} // namespace wendrix::app
