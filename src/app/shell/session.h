#pragma once

#include <QObject>
#include <QString>
#include <QTimer>

#include "core/coordinates/project_place.h"
#include "core/federation/standing.h"
#include "core/project/asked_comparison.h"
#include "core/project/inside.h"
#include "core/project/writer.h"
#include "core/sets/elements.h"
#include "shell/jobs.h"

#include <atomic>
#include <functional>
#include <map>
#include <memory>

namespace wendrix::app {

/// What all screens share: the open project, its loaded models, the person, and the jobs that run.
///
/// Screens read the project through a connection that only reads, and change it through `write`: commands are done one
/// after the other on a thread of their own, so that nothing here ever waits for the disk or for another program.
/// Everybody hears of what a command changed, also where another program did it.
class Session final : public QObject {
    Q_OBJECT
public:
    explicit Session(QString person, QObject* parent = nullptr);
    ~Session() override;

    /// @param project  open for writing; none to have none
    void open(std::unique_ptr<project::Project> project);
    using Opening = std::function<Result<std::unique_ptr<project::Project>>(Progress&)>;
    /// Makes or opens a project beside the interface thread, and puts it in the place of the one that is open.
    /// @param then  called when it is there, or with why it is not; the one before stays open then
    void openBeside(const QString& what, Opening opening, std::function<void(const Result<void>&)> then);
    [[nodiscard]] bool hasProject() const { return project_ != nullptr; }
    [[nodiscard]] const project::Project& project() const { return *project_; }
    [[nodiscard]] const project::Workspace& workspace() const { return workspace_; }
    /// The model a delivery in use replaced, if it is loaded: what the Changes stage lays under.
    [[nodiscard]] const project::Workspace& previous() const { return previous_; }
    /// The elements of the workspace, to be picked by a line; empty without a project. Safe to ask on any thread.
    [[nodiscard]] const std::shared_ptr<const sets::Elements>& elements() const { return elements_; }
    [[nodiscard]] const federation::Member* reference() const;
    /// How each member of the workspace stands on the reference, by its place there; nothing without a reference.
    [[nodiscard]] const std::vector<federation::Standing>& standings() const { return standings_; }
    /// Residuals up to this are the drawing's.
    [[nodiscard]] Metres standsRight() const { return standsRight_; }
    /// Where the reference's frame lies on the map and on earth: as the project agreed, else as the reference declares.
    [[nodiscard]] coordinates::ProjectPlace place() const;
    /// The worst of a discipline's members; null where none is loaded, or no reference.
    [[nodiscard]] const federation::Standing* standingOf(const std::string& discipline) const;
    /// What the scene shows: the composition, or a delivery that is looked into, alone or within; and under it what is
    /// only painted, as what the Changes stage lays under.
    [[nodiscard]] const project::Workspace& shown() const;
    [[nodiscard]] const project::Workspace& shownUnder() const;
    /// The delivery that is looked into; null while none is.
    [[nodiscard]] const project::Inside* inside() const { return inside_.get(); }
    [[nodiscard]] bool isInsideAlone() const { return isInsideAlone_; }
    /// The cycle whose composition is looked at again; nothing while it is the present one.
    [[nodiscard]] std::optional<int> pastCycle() const { return pastCycle_; }
    [[nodiscard]] const std::string& federation() const { return federation_; }
    [[nodiscard]] project::Scope scope() const { return {federation_, {}, pastCycle_}; }
    [[nodiscard]] const QString& person() const { return person_; }
    void setPerson(const QString& name);
    [[nodiscard]] WhoAndWhen now() const;
    [[nodiscard]] Jobs& jobs() { return jobs_; }
    /// Models are being put in place; what would put others there has to wait.
    [[nodiscard]] bool isComposing() const { return jobs_.isBusy(Jobs::Lane::Composition); }
    /// A job runs, a command is under way, or an answer is awaited.
    [[nodiscard]] bool isBusy() const { return jobs_.isBusy() || isAwaiting(); }
    [[nodiscard]] bool isAwaiting() const { return writing_ > 0 || asking_ > 0; } ///< a command or an answer, not a job
    /// While an old composition is looked at nothing can be changed; then says so.
    [[nodiscard]] bool refusesToChange();

    void say(const QString& words) { emit said(words, false); }
    void fail(const Error& error);

    /// Changes the project; gives what to say when it is done, or nothing.
    using Command = std::function<Result<std::string>(project::Project&)>;
    /// @param then  called when it is done and everybody has heard of it, with whether it went well
    void write(Command command, std::function<void(bool isDone)> then = {});
    /// A command's answer with the words for when it went well.
    template <class T>
    [[nodiscard]] static Result<std::string> saying(const Result<T>& done, std::string words = {})
    {
        return done ? Result<std::string>(std::move(words)) : wendrix::fail(done.error());
    }
    /// Writes to the project that is open now, also when another one is by then: what a job found belongs to what it
    /// was found in. Waits until it is done, so it is for a job's thread; everybody hears of it as of any other
    /// command.
    using JobWriter = std::function<Result<void>(project::Writer::Command)>;
    [[nodiscard]] JobWriter writerForJob();

    /// A question that takes longer than a blink, answered beside the interface thread, all of it from one state of the
    /// project; `then` gets the answer here. A later one of the same asker on the same topic makes an earlier one void,
    /// and so does the end of the asker. What the project could not answer is said; where the screen shows a list of
    /// it, the answer is a Result and the list says so, too.
    template <class Answer>
    void ask(const QObject* asker, const char* topic, std::function<Answer(const project::Project&)> question,
             std::function<void(Answer)> then)
    {
        askAny({asker, topic},
               [question = std::move(question),
                then = std::move(then)](const project::Project& project) -> std::function<void()> {
                   auto answer = std::make_shared<Answer>(question(project));
                   return [then, answer] { then(std::move(*answer)); };
               });
    }

    /// While it is held somebody waits for an answer from elsewhere: isBusy(). For the interface thread.
    [[nodiscard]] std::shared_ptr<void> awaiting();

    /// Lets go of something large on another thread: giving back its memory can take longer than a frame.
    static void letGo(std::shared_ptr<const void> value);

    /// Begins a job; says so where its lane is taken, and then nothing was begun.
    bool run(Jobs::Lane lane, const QString& what, Jobs::Work work);

    // Whole steps of the job, in the background
    void loadModels();
    /// Loads what is read differently now, as with other classes left out, also of what is looked into.
    void composeAgain();
    /// @param only  names of tests; the others stay as they were run before. Empty: all.
    void runTests(const std::set<std::string>& only = {});
    /// Stops where the delivery no longer stands where its fit puts it, until somebody says what to do: moved() then.
    void takeIn(project::DeliveryId delivery, std::optional<project::MovedAnswer> answer = {});
    /// Why taking in stopped last; nothing once that is answered, or something else is in place.
    [[nodiscard]] const std::optional<project::MovedPlace>& moved() const { return moved_; }
    /// Reads the models of a delivery and keeps it; it waits then.
    void receive(project::NewDelivery delivery);
    /// Keeps deliveries from a job's thread, through the one queue.
    [[nodiscard]] std::function<Result<project::DeliveryId>(const project::NewDelivery&)> keeper();
    /// Sends a delivery back; the quality report that goes with it is worked out first where nobody looked inside.
    /// @param then  with whether it is declined, or is about to be once it is checked
    void decline(project::DeliveryId delivery, const std::string& reason, bool withReport,
                 std::function<void(bool)> then);
    void lookInside(project::DeliveryId delivery);
    void setInsideAlone(bool isAlone);
    void leaveInside();
    /// Shows the composition of an earlier cycle; nothing can be changed until lookAtNow().
    void lookBack(int cycle);
    void lookAtNow();
    void setFederation(const std::string& name);
    /// Loads what comparisons are of and is not in use, for the Changes stage; none given: those in force.
    void loadPrevious(const std::vector<std::int64_t>& comparisons = {});
    /// Compares deliveries and keeps what that finds.
    /// @param wanted  which ones
    /// @param then  gets the comparisons' ids; none where it did not go well
    using Comparisons = std::function<Result<std::vector<project::AskedComparison>>(const project::Project&)>;
    void compareDeliveries(const QString& what, const Comparisons& wanted,
                           std::function<void(std::vector<std::int64_t>)> then);
    void undo();
    void redo();
    /// Steps of an earlier session that a file beside the database holds and it does not; empty until that is known.
    [[nodiscard]] const std::vector<project::KeptStep>& missingSteps() const { return missingSteps_; }
    void bringStepsIn();
    void setStepsAside(); ///< nobody is asked about them again

signals:
    void opened();                                       ///< another project, or none
    void changed(const wendrix::project::Changed& what); ///< the project, here or by another program
    void personChanged();
    void workspaceChanged(); ///< other models, or other places of them
    void previousChanged();
    void takingInStopped(); ///< moved() says why
    void missingStepsChanged();
    void insideChanged();           ///< another delivery is looked into, or none any more
    void received(qint64 delivery); ///< 0 where it could not be kept
    void idle();                    ///< nothing runs any more, and nothing is awaited
    void said(const QString& words, bool isProblem);

private:
    /// One project through three connections: for the queue that writes, for what is asked here, and for what is asked
    /// beside.
    struct Connections {
        std::unique_ptr<project::Project> writing, reading, answering;
    };
    [[nodiscard]] static Result<Connections> connectionsOf(std::unique_ptr<project::Project> project);
    void adopt(Connections project);
    using Answering = std::function<std::function<void()>(const project::Project&)>;
    using Topic = std::pair<const QObject*, std::string>; ///< who asks, about what
    void askAny(const Topic& topic, Answering question);
    /// What can not be read is said once, wherever and on whichever thread it was asked.
    void listenTo(project::Project& project);
    /// Models of other deliveries than before have to be loaded, as after undoing a take-in.
    void loadModels(std::optional<project::DeliveryId> thenInside);
    /// Puts the composition of now in place: nothing where it is there, places only where those differ, models else.
    void follow();
    void told(const project::Changed& what);
    void lookForOthers(); ///< what another program did meanwhile
    void setWorkspace(project::Workspace workspace);
    void tookIn(project::DeliveryId delivery, const project::Workspace& before,
                const project::PreparedTakeIn& prepared);
    /// What is open already: what is in use, and one revision before of each discipline. Taking in and undoing goes
    /// from one to the other without reading.
    [[nodiscard]] project::Workspace held() const;
    void checkIdle();
    void checkBeside(const std::filesystem::path& folder);
    [[nodiscard]] bool isMissing(project::DeliveryId delivery) const;

    QString person_;
    std::unique_ptr<project::Project> project_; ///< reads only
    std::shared_ptr<project::Writer> writer_;   ///< also a job's, until it ends
    std::filesystem::path folder_;
    project::Workspace workspace_, previous_;
    std::shared_ptr<const sets::Elements> elements_ =
        std::make_shared<const sets::Elements>(std::span<const federation::Member>());
    std::optional<project::MovedPlace> moved_;
    std::vector<federation::Standing> standings_;
    Metres standsRight_ = federation::kStandsRight; ///< that they were made with
    std::unique_ptr<project::Inside> inside_;
    bool isInsideAlone_ = true;
    std::optional<int> pastCycle_;
    std::string federation_ = project::kWholeBuilding;
    Jobs jobs_;
    QTimer others_;
    bool isFollowWanted_ = false; ///< as soon as what is being put in place is there
    std::int64_t lastEvent_ = 0;
    std::vector<project::KeptStep> missingSteps_;
    /// Backups and the check of the whole project, beside the work.
    std::unique_ptr<Progress> checking_ = std::make_unique<Progress>();
    QThreadPool backups_;
    int writing_ = 0, asking_ = 0;
    std::map<Topic, std::shared_ptr<std::atomic<int>>> asked_; ///< the number of the last question
    QString lastProblem_;
    struct Reader;
    std::shared_ptr<Reader> reader_; ///< the thread that answers, with its own connection
};

} // namespace wendrix::app
