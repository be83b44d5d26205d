#pragma once

#include <QObject>
#include <QString>

#include "core/project/inside.h"

#include <functional>
#include <memory>

namespace wendrix::app {

/// What all screens share: the open project, its loaded models, the person, and the one long job that runs.
///
/// Screens change the project through `apply`, so that everybody hears of it and errors are said in one place.
class Session final : public QObject {
    Q_OBJECT
public:
    explicit Session(QString person, QObject* parent = nullptr);
    ~Session() override;

    void open(std::unique_ptr<project::Project> project);
    [[nodiscard]] bool hasProject() const { return project_ != nullptr; }
    [[nodiscard]] project::Project& project() { return *project_; }
    [[nodiscard]] const project::Workspace& workspace() const { return workspace_; }
    /// The model a delivery in use replaced, if it is loaded: what the Changes stage lays under.
    [[nodiscard]] const project::Workspace& previous() const { return previous_; }
    [[nodiscard]] const federation::Member* reference() const;
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
    [[nodiscard]] bool isBusy() const { return job_ != nullptr; }
    /// While an old composition is looked at nothing can be changed; then says so.
    [[nodiscard]] bool refusesToChange();

    /// Says what went wrong, or lets everybody know that the project changed. @return whether it went well
    bool apply(const Result<void>& done, const QString& words = {});

    /// Work for another thread; it gives back what is then done on this one.
    using Finish = std::function<void()>;
    using Work = std::function<Finish(Progress&)>;
    void run(const QString& what, Work work);
    void cancel();

    // Whole steps of the job, in the background
    void loadModels();
    /// Loads what is read differently now, as with other classes left out, also of what is looked into.
    void composeAgain();
    void runTests();
    void takeIn(project::DeliveryId delivery);
    /// Reads the models of a delivery and keeps it; it waits then.
    void receive(project::NewDelivery delivery);
    /// Sends a delivery back; the quality report that goes with it is worked out first where nobody looked inside.
    /// @return  whether it is done or under way
    bool decline(project::DeliveryId delivery, const std::string& reason, bool withReport);
    void lookInside(project::DeliveryId delivery);
    void setInsideAlone(bool isAlone);
    void leaveInside();
    /// Shows the composition of an earlier cycle; nothing can be changed until lookAtNow().
    void lookBack(int cycle);
    void lookAtNow();
    void setFederation(const std::string& name);
    /// Loads the deliveries that those in use replaced, for the Changes stage.
    void loadPrevious();
    /// Fits of the project into the loaded members, after one was changed or undone.
    void refreshFits();
    void undo();
    void redo();

signals:
    void projectChanged();
    void personChanged();
    void workspaceChanged(); ///< other models, or other places of them; and with them what the project says
    void previousChanged();
    void insideChanged(); ///< another delivery is looked into, or none any more
    void received(qint64 delivery); ///< 0 where it could not be kept
    void progressed(const QString& what, int percent);
    void idle(); ///< the job ended, well or not
    void said(const QString& words, bool isProblem);

private:
    void fail(const Error& error);
    /// Models of other deliveries than before have to be loaded, as after undoing a take-in.
    void loadModels(std::optional<project::DeliveryId> thenInside);
    [[nodiscard]] bool isCompositionLoaded() const;
    void recomposed();
    [[nodiscard]] bool refusesWhileBusy(); ///< and says so
    void tookIn(project::DeliveryId delivery, const Result<void>& done, const project::Workspace& before, const project::PreparedTakeIn& prepared);
    [[nodiscard]] std::string readOnlyWords() const; ///< why nothing can be changed; empty where it can

    QString person_;
    std::unique_ptr<project::Project> project_;
    project::Workspace workspace_, previous_;
    std::unique_ptr<project::Inside> inside_;
    bool isInsideAlone_ = true;
    std::optional<int> pastCycle_;
    std::string federation_ = project::kWholeBuilding;
    std::shared_ptr<Progress> job_;
};

} // namespace wendrix::app
