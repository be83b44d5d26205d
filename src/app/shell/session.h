#pragma once

#include <QObject>
#include <QString>

#include "core/project/workspace.h"

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
    [[nodiscard]] const QString& person() const { return person_; }
    [[nodiscard]] WhoAndWhen now() const;
    [[nodiscard]] bool isBusy() const { return job_ != nullptr; }

    /// Says what went wrong, or lets everybody know that the project changed. @return whether it went well
    bool apply(const Result<void>& done, const QString& words = {});

    /// Work for another thread; it gives back what is then done on this one.
    using Finish = std::function<void()>;
    using Work = std::function<Finish(Progress&)>;
    void run(const QString& what, Work work);
    void cancel();

    // Whole steps of the job, in the background
    void loadModels();
    void runTests();
    void takeIn(project::DeliveryId delivery);
    void receive(const std::filesystem::path& file, const QString& discipline, const QString& revision);
    /// Loads the deliveries that those in use replaced, for the Changes stage.
    void loadPrevious();
    /// Fits of the project into the loaded members, after one was changed or undone.
    void refreshFits();
    void undo();
    void redo();

signals:
    void projectChanged();
    void workspaceChanged(); ///< other models, or other places of them
    void previousChanged();
    void progressed(const QString& what, int percent);
    void idle(); ///< the job ended, well or not
    void said(const QString& words, bool isProblem);

private:
    void fail(const Error& error);
    /// Models of other deliveries than before have to be loaded, as after undoing a take-in.
    [[nodiscard]] bool isCompositionLoaded() const;
    void recomposed();

    QString person_;
    std::unique_ptr<project::Project> project_;
    project::Workspace workspace_, previous_;
    std::shared_ptr<Progress> job_;
};

} // namespace wendrix::app
