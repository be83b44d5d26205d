#pragma once

#include <QMap>
#include <QObject>
#include <QString>

#include "core/project/issue_making.h"
#include "scene/scene_view.h"
#include "shell/details.h"
#include "shell/session.h"
#include "shell/tool_strip.h"
#include "shell/worklist.h"

namespace wendrix::app {

/// What every stage works with; all of it outlives the stages.
struct StageContext {
    Session& session;
    SceneView& scene;
    Details& details;
};

/// What an issue that is made here and now begins with.
struct IssueStart {
    project::Material material;
    std::vector<ElementRef> about; ///< what it is about, beside what is selected
    std::optional<issues::Requirement> requirement = {};
};

/// One step of the week: its list, what it shows in the shared scene, and the details of what is chosen.
class Stage : public QObject {
    Q_OBJECT
public:
    explicit Stage(const StageContext& context, QObject* parent) : QObject(parent), at_(context) {}

    [[nodiscard]] virtual QString title() const = 0;
    [[nodiscard]] virtual QString iconName() const = 0;
    [[nodiscard]] virtual QWidget* list() = 0;
    /// A register takes the whole width, with scene and details below.
    [[nodiscard]] virtual bool isRegister() const { return false; }
    /// A view of its own that shares the scene's room, left of it while it is to be seen; the window's from then on.
    [[nodiscard]] virtual QWidget* beside() { return nullptr; }
    /// The books that its list is made of.
    [[nodiscard]] virtual unsigned books() const = 0;
    /// How much still waits for the person: a question that is asked beside the interface thread.
    using Counting = std::function<int(const project::Project&)>;
    [[nodiscard]] virtual Counting waiting() const = 0;
    /// The same from its list, which says with countsChanged() when that is read; nothing where the list does not know.
    [[nodiscard]] virtual std::optional<int> waitingInList() const { return {}; }
    /// How much lies on each storey.
    [[nodiscard]] virtual QMap<QString, int> storeyCounts() const { return {}; }
    /// The storey chosen on the ladder; empty for all.
    virtual void setStorey(const QString& storey) { storey_ = storey; }

    /// Something it is made of changed. Only the stage at the front reads it anew, others when they come there.
    void becomeStale();
    /// A command changed something: only that is read anew, where the stage knows how.
    void hear(const project::Changed& what);
    /// Reads what is stale, then shows its list's choice in scene and details.
    void comeToFront();
    /// Its list's choice in scene and details.
    virtual void enter() = 0;
    /// Whether it shows its choice by itself once its list is read anew, so that nobody has to do it before that.
    [[nodiscard]] virtual bool showsWhenRead() const { return false; }
    /// Only the stage at the front speaks through scene and details; a choice that is announced late does not.
    void setFront(bool isFront)
    {
        if (std::exchange(isFront_, isFront) && !isFront)
            leave();
    }
    [[nodiscard]] bool isFront() const { return isFront_; }

    /// Tools of its own, as for picking; they stand in the strip while it is in front.
    [[nodiscard]] virtual QVector<ToolEntry> tools() { return {}; }
    /// What an issue is made of where there is more to it than the view: a finding that is chosen.
    [[nodiscard]] virtual std::optional<IssueStart> issueStart() const { return {}; }
    /// A letter key nobody else took. @return whether it means something here
    virtual bool press(Qt::Key) { return false; }
    virtual void step(int) {}
    virtual void focusFilter() {} ///< of its list
    /// Goes to what has this id in its list.
    virtual void choose(const QString&) {}
    /// Keys of this screen for F1: key and meaning.
    [[nodiscard]] virtual QVector<QPair<QString, QString>> keys() const { return {}; }
    /// The page of the documentation that tells of it; empty where there is none of its own.
    [[nodiscard]] virtual QString helpPage() const { return {}; }

signals:
    void countsChanged();               ///< of storeys, and of what waits
    void toolWanted(const QString& id); ///< into the hand, or out of it
    void toolChanged();                 ///< what the tool in hand says to do
    void layoutChanged();               ///< isRegister() says something else now

protected:
    /// Reads the project anew and fills its list; may take its time and fill it later.
    virtual void refresh() = 0;
    /// Another stage comes to the front: what was only for this one is taken back.
    virtual void leave() {}
    /// Reads anew just what changed. @return false where all has to be read
    virtual bool follow(const project::Changed&) { return false; }
    /// The plain model: nothing painted, nothing faded, the reference's grid with its bubbles.
    void showPlain();
    /// The reference's grid on the floor of a storey, the one that is looked at where it is not known; the small plan
    /// shows that storey too.
    [[nodiscard]] std::vector<view::GridLine> gridOn(const QString& storey);

    StageContext at_;
    QString storey_;

private:
    bool isFront_ = false, isStale_ = true;
};

[[nodiscard]] constexpr unsigned books() { return 0; }
template <class... More>
[[nodiscard]] constexpr unsigned books(project::Book first, More... more)
{
    return static_cast<unsigned>(first) | books(more...);
}

/// A member's grid as lines at the height of a storey, of its lowest where it has none of this name.
[[nodiscard]] std::vector<view::GridLine> gridLinesOf(const federation::Member& member, const QColor& colour,
                                                      bool hasBubbles, const QString& storey = {});
/// The colour of a grid that is only to find one's way by.
inline const QColor kGridColour{0x5F, 0x6B, 0x70, 150};

/// A stage whose list is a worklist, which owns nothing but rows: what stages with one share.
class ListStage : public Stage {
    Q_OBJECT
public:
    ListStage(const QString& title, const StageContext& context, QObject* parent);

    [[nodiscard]] QString title() const override { return title_; }
    [[nodiscard]] QWidget* list() override { return list_; }
    void step(int by) override { list_->step(by); }
    void focusFilter() override { list_->focusFilter(); }
    void choose(const QString& id) override { list_->choose(id); }

protected:
    /// A row was chosen while this stage is at the front: show it and go there.
    virtual void showChosenRow() = 0;
    Worklist* list_; ///< the window's, once it is put there

private:
    QString title_;
};

/// "MSS-001" is text; this is for the rest: std::string to QString and back.
[[nodiscard]] inline QString q(const std::string& text) { return QString::fromStdString(text); }
[[nodiscard]] QString q(const std::string& text, const char* otherwise);

} // namespace wendrix::app
