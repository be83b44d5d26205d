#pragma once

#include <QWidget>

#include "core/view/alike.h"
#include "core/view/search.h"
#include "shell/composition_bar.h"
#include "shell/go_to.h"
#include "shell/notes_panel.h"
#include "shell/scene_tools.h"
#include "shell/stage.h"
#include "shell/stage_rail.h"
#include "shell/storey_ladder.h"
#include "shell/tool_strip.h"
#include "shell/views_panel.h"

class QLabel;
class QPushButton;
class QStackedWidget;
class QToolButton;

namespace wendrix::app {

class DocumentView;
class DropWatch;
class StartPage;

/// The frame: head, stage rail, worklist, scene, storey ladder, details, composition bar.
class MainWindow final : public QWidget {
    Q_OBJECT
public:
    explicit MainWindow(Session& session, QWidget* parent = nullptr);
    ~MainWindow() override;

    void showStage(int index);
    [[nodiscard]] int currentStage() const { return current_; }
    [[nodiscard]] SceneView& scene() { return *scene_; }
    [[nodiscard]] ToolStrip& tools() { return *tools_; }
    [[nodiscard]] SceneTools& sceneTools() { return *sceneTools_; }
    [[nodiscard]] Stage& stage(int index) { return *stages_[index]; }
    [[nodiscard]] int indexOf(const QString& title) const;
    [[nodiscard]] StartPage& start() { return *start_; }
    [[nodiscard]] DocumentView& document() { return *document_; }
    void showStart(); ///< the start page, over whatever is open

signals:
    void namesNoted(); ///< the search finds everything now

protected:
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void makeHead();
    void makeMenus();
    void askPerson();
    void showProjectHistory();
    void fillCycleMenu();
    void fillFederationMenu();
    void showWhatIsLookedAt(); ///< the banner over the scene, and the boxes of the head
    void keepProjectPicture();
    void enterStage(); ///< again, after something changed
    void setAtStart(bool isAtStart);
    void makeTools();
    void makeKeys();
    void layOut();
    void opened();
    void projectChanged(const project::Changed& what);
    void workspaceChanged();
    void updateCounts(unsigned books); ///< on the rail, of the stages made of these books
    void showWork();
    void chooseStorey(const QString& storey);
    void cutToSelection();
    void updateSelectionWords();
    void placeChanged();
    /// Where the cursor is: in the reference's frame, on the map, on the earth.
    [[nodiscard]] QStringList readingsAt(Point3 at, const QString& bay) const;
    void updateChips();
    void rememberLooks();
    void showSelectionDetails();
    [[nodiscard]] ViewsContext viewsContext() { return {session_, *scene_, sceneTools_->measure()}; }
    void showSceneMenu(const QPoint& at);
    /// What a member's revision in use can be compared with.
    void showMemberMenu(const QString& discipline, const QPoint& at);
    void compare(project::DeliveryId from, project::DeliveryId to); ///< and lists what they differ in
    void selectAlike(view::AlikeIn what);
    void fadeRest();
    void copyPicture();
    void makeIssue(); ///< of what is selected, or of the view
    void savePicture();
    void goToRow(const QString& stage, const QString& row);
    void goToElements(const std::vector<view::ElementKey>& elements);
    void noteNames(); ///< for the search, beside everything else
    void showKeys();
    bool pressLetter(Qt::Key key);
    [[nodiscard]] QVector<GoTo::Hit> search(const QString& words);
    void searchProject(const QString& words, int most);

    std::optional<coordinates::ProjectPlace> place_;
    Session& session_;                // outlives the window
    QWidget *desk_, *head_, *handle_; ///< desk: all but the start page
    ToolStrip* tools_;
    SceneTools* sceneTools_;
    QToolButton *projectName_, *cycle_, *federation_, *person_;
    QLabel *selectionWords_, *lookingWords_;
    QWidget* looking_; ///< says over the scene that it is not the present composition
    QPushButton* lookAtNow_;
    StartPage* start_;
    DocumentView* document_;
    DropWatch* drops_;
    GoTo* goTo_;
    StageRail* rail_;
    QStackedWidget* lists_;
    SceneView* scene_;
    StoreyLadder* ladder_;
    Details* details_;
    CompositionBar* bar_;
    NotesPanel* notes_;
    QVector<Stage*> stages_;
    QMap<QString, view::MemberLook> memberLooks_; ///< by discipline; they outlast a new revision
    int current_ = 0;
    int listWidth_ = 360;
    double registerShare_ = 0.52; ///< of the height
    bool isFirstModel_ = true;
    std::shared_ptr<const view::SearchIndex> names_;
    std::shared_ptr<Progress> noting_; ///< of the names being read
};

} // namespace wendrix::app
