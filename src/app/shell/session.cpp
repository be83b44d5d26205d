#include "shell/session.h"

#include "core/base/text.h"
#include "core/project/whole_check.h"

#include <QPointer>
#include <QThreadPool>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr int kLookForOthers = 1000; // milliseconds; a question of microseconds

QString words(const Error& error) { return QString::fromStdString(error.inWords()); }

} // namespace

/// Answers questions one after the other, so that a later one never overtakes an earlier.
struct Session::Reader {
    QThreadPool pool;
    std::unique_ptr<project::Project> project;
};

Session::Session(QString person, QObject* parent)
    : QObject(parent), person_(std::move(person)), reader_(std::make_shared<Reader>())
{
    reader_->pool.setMaxThreadCount(1);
    others_.setInterval(kLookForOthers);
    connect(&others_, &QTimer::timeout, this, &Session::lookForOthers);
    connect(&jobs_, &Jobs::stopped, this, [this](const QString& why) {
        emit said("The work stopped: " + why + ". The project is as it was.", true);
    });
    connect(&jobs_, &Jobs::ended, this, [this] {
        if (isFollowWanted_)
            follow(); // what came about while models were put in place
        checkIdle();
    });
}

Session::~Session()
{
    jobs_.cancelAll();
    jobs_.waitForDone();
    reader_->pool.waitForDone();
    checking_->cancel();
    backups_.waitForDone();
    writer_.reset();
}

void Session::setPerson(const QString& name)
{
    person_ = name;
    emit personChanged();
}

WhoAndWhen Session::now() const { return {person_.toStdString(), currentTime()}; }

Result<Session::Connections> Session::connectionsOf(std::unique_ptr<project::Project> project)
{
    const std::filesystem::path folder = project->folder();
    auto reading = project::Project::open(folder, project::Project::Access::Read),
         answering = project::Project::open(folder, project::Project::Access::Read);
    if (const auto error = firstError(reading, answering))
        return wendrix::fail(*error);
    return Connections{std::move(project), std::move(*reading), std::move(*answering)};
}

void Session::open(std::unique_ptr<project::Project> project)
{
    auto opened = project == nullptr ? Result<Connections>(Connections{}) : connectionsOf(std::move(project));
    if (!opened)
        fail(opened.error());
    adopt(opened ? std::move(*opened) : Connections{});
}

void Session::openBeside(const QString& what, Opening opening, std::function<void(const Result<void>&)> then)
{
    run(Jobs::Lane::Opening, what,
        [this, opening = std::move(opening), then = std::move(then)](Progress& progress) -> Jobs::Finish {
            auto project = opening(progress);
            auto opened = std::make_shared<Result<Connections>>(project ? connectionsOf(std::move(*project))
                                                                        : wendrix::fail(project.error()));
            return [this, opened, then] {
                if (!*opened)
                    return then(wendrix::fail(opened->error()));
                adopt(std::move(**opened));
                then({});
                follow(); // once what was begun for the one before has ended
            };
        });
}

void Session::adopt(Connections project)
{
    jobs_.abandonAll();
    reader_->pool.waitForDone();
    checking_->cancel();
    backups_.waitForDone();
    writer_.reset(); // what was still to be written of the one before
    project_.reset();
    reader_->project.reset();
    setWorkspace({});
    previous_ = {};
    standings_.clear();
    inside_.reset();
    pastCycle_.reset();
    federation_ = project::kWholeBuilding;
    lastProblem_.clear();
    missingSteps_.clear();
    others_.stop();
    if (project.writing != nullptr) {
        folder_ = project.writing->folder();
        project_ = std::move(project.reading);
        reader_->project = std::move(project.answering);
        listenTo(*project_);
        listenTo(*reader_->project);
        writer_ = std::make_shared<project::Writer>(std::move(project.writing));
        lastEvent_ = orNothing(project_->log().newest());
        others_.start();
        // As it was before this session did anything that shows; on a connection of its own, so that nobody waits for
        // it.
        checking_ = std::make_unique<Progress>();
        backups_.start([this, folder = folder_] {
            const auto copied = project::Project::open(folder, project::Project::Access::Read);
            const auto kept = copied ? (*copied)->store().backUp("opened", *checking_)
                                     : Result<project::Backup>(wendrix::fail(copied.error()));
            if (!kept && !checking_->isCancelled())
                QMetaObject::invokeMethod(
                    this, [this, error = kept.error()] { fail(error); }, Qt::QueuedConnection);
            checkBeside(folder);
        });
    }
    emit opened();
    emit workspaceChanged();
}

void Session::checkBeside(const std::filesystem::path& folder)
{
    if (const auto copied = project::Project::open(folder, project::Project::Access::Read))
        if (auto missing = (*copied)->missingSteps(); missing && !missing->empty())
            QMetaObject::invokeMethod(
                this,
                [this, folder, missing = std::move(*missing)] {
                    if (folder != folder_)
                        return;
                    missingSteps_ = missing;
                    emit missingStepsChanged();
                    emit said("This project lacks " + QString::fromStdString(counted(missing.size(), "step", "steps")) +
                                  " that " + (missing.size() == 1 ? "was" : "were") +
                                  " decided in it: its database was put back or replaced. They are kept; History "
                                  "brings them in.",
                              true);
                },
                Qt::QueuedConnection);
    const auto found = project::checkWhole(folder, *checking_);
    if (checking_->isCancelled() || !found || found->empty())
        return; // what can not even be opened is said where it was asked
    QMetaObject::invokeMethod(
        this,
        [this, folder, found = *found] {
            QStringList all;
            for (const project::Unsound& one : found)
                if (folder == folder_ && !isMissing(one.delivery)) // that is said already
                    all += QString::fromStdString(one.words);
            if (!all.isEmpty())
                emit said(all.join(' '), true);
        },
        Qt::QueuedConnection);
}

bool Session::isMissing(project::DeliveryId delivery) const
{
    return std::any_of(workspace_.missing.begin(), workspace_.missing.end(),
                       [&](const auto& one) { return delivery != 0 && one.delivery == delivery; });
}

const project::Workspace& Session::shown() const
{
    return inside_ == nullptr ? workspace_ : isInsideAlone_ ? inside_->alone : inside_->within;
}

const project::Workspace& Session::shownUnder() const { return inside_ == nullptr ? previous_ : inside_->before; }

const federation::Member* Session::reference() const
{
    return project_ ? workspace_.find(orNothing(project_->setup().reference())) : nullptr;
}

void Session::setWorkspace(project::Workspace workspace)
{
    workspace_ = std::move(workspace);
    const federation::Member* own = reference();
    elements_ = std::make_shared<const sets::Elements>(
        workspace_.members, own != nullptr ? own->model : std::shared_ptr<const ifc::Model>());
    moved_.reset();
    standings_.clear();
    if (project_ != nullptr)
        standsRight_ = project_->coordinates().standsRight().value_or(federation::kStandsRight);
    if (const federation::Member* onto = reference())
        for (const federation::Member& member : workspace_.members)
            standings_.push_back(&member == onto ? federation::Standing{}
                                                 : federation::standingOf(*onto->model, member, standsRight_));
}

coordinates::ProjectPlace Session::place() const
{
    const federation::Member* onto = reference();
    const auto agreed = project_ != nullptr ? orNothing(project_->coordinates().place()) : std::nullopt;
    const ifc::Georeference said = agreed            ? agreed->says
                                   : onto != nullptr ? onto->model->georeference()
                                                     : ifc::Georeference{};
    return coordinates::ProjectPlace(said, onto != nullptr ? coordinates::siteOriginOf(*onto->model) : Point3{});
}

const federation::Standing* Session::standingOf(const std::string& discipline) const
{
    const federation::Standing* worst = nullptr;
    for (std::size_t i = 0; i < standings_.size(); ++i)
        if (workspace_.members[i].discipline == discipline &&
            (worst == nullptr || (worst->isVerified() && !standings_[i].isVerified()) ||
             (worst->isVerified() == standings_[i].isVerified() && worst->worst < standings_[i].worst)))
            worst = &standings_[i];
    return worst;
}

void Session::fail(const Error& error) { emit said(words(error), true); }

bool Session::refusesToChange()
{
    if (pastCycle_)
        fail({project::kReadOnly, "This is the composition of cycle " + std::to_string(*pastCycle_) +
                                      ", read-only. Go back to the present one to change something."});
    return pastCycle_.has_value();
}

void Session::checkIdle()
{
    if (!isBusy())
        emit idle();
}

std::shared_ptr<void> Session::awaiting()
{
    ++asking_;
    return {nullptr, [session = QPointer<Session>(this)](void*) {
                if (session.isNull())
                    return;
                --session->asking_;
                // Whoever let go of it may be about to ask for more.
                QMetaObject::invokeMethod(session, &Session::checkIdle, Qt::QueuedConnection);
            }};
}

void Session::write(Command command, std::function<void(bool)> then)
{
    if (writer_ == nullptr || refusesToChange()) {
        if (then)
            then(false);
        return;
    }
    ++writing_;
    auto toSay = std::make_shared<std::string>();
    writer_->post(
        [command = std::move(command), toSay](project::Project& project) -> Result<void> {
            auto done = command(project);
            if (!done)
                return wendrix::fail(done.error());
            *toSay = std::move(*done);
            return {};
        },
        [this, then = std::move(then), toSay](const project::Writer::Done& done) {
            QMetaObject::invokeMethod(this, [this, then, toSay, done] {
                --writing_;
                if (!done.result)
                    fail(done.result.error());
                else
                    told(done.changed);
                if (done.result && !toSay->empty())
                    say(QString::fromStdString(*toSay));
                if (then)
                    then(done.result.has_value());
                checkIdle();
            });
        });
}

Session::JobWriter Session::writerForJob()
{
    return [this, writer = writer_](project::Writer::Command command) -> Result<void> {
        if (writer == nullptr)
            return wendrix::fail({project::kNoProject, "No project is open."});
        const project::Writer::Done done = writer->wait(std::move(command));
        if (done.result)
            QMetaObject::invokeMethod(this, [this, writer, changed = done.changed] {
                if (writer == writer_)
                    told(changed);
            });
        return done.result;
    };
}

void Session::letGo(std::shared_ptr<const void> value)
{
    QThreadPool::globalInstance()->start([value = std::move(value)]() mutable { value.reset(); });
}

void Session::told(const project::Changed& what)
{
    project::Changed all = what;
    // Another program's events may lie between ours.
    if (project_ != nullptr)
        if (const auto since = project_->log().since(lastEvent_)) {
            all.books |= since->books;
            // Ours lie together; what is newer, or more than ours, is somebody else's or told of later.
            all.areRowsAll =
                all.areRowsAll && since->events <= what.events && since->event <= std::max(what.event, lastEvent_);
            lastEvent_ = std::max(lastEvent_, since->event);
        }
    if (all.isNothing())
        return;
    emit changed(all);
    if (all.has(project::Book::Deliveries) || all.has(project::Book::Coordinates) || all.has(project::Book::Setup))
        follow();
}

void Session::lookForOthers()
{
    if (project_ == nullptr || writing_ > 0)
        return;
    if (const auto newest = project_->log().newest(); newest && *newest > lastEvent_)
        told({});
}

void Session::listenTo(project::Project& project)
{
    project.store().setListener([this](const Error& error) {
        QMetaObject::invokeMethod(
            this,
            [this, problem = words(error)] {
                if (std::exchange(lastProblem_, problem) != problem)
                    emit said(problem, true);
            },
            Qt::QueuedConnection);
    });
}

void Session::askAny(const Topic& topic, Answering question)
{
    if (project_ == nullptr)
        return;
    ++asking_;
    auto& last = asked_[topic];
    if (last == nullptr)
        last = std::make_shared<std::atomic<int>>(0);
    const int number = ++*last;
    reader_->pool.start([this, reader = reader_, topic, alive = QPointer<const QObject>(topic.first), last, number,
                         question = std::move(question)] {
        std::function<void()> then;
        try {
            if (reader->project != nullptr && *last == number) { // else it is void before it is answered
                const auto snapshot = reader->project->store().snapshot();
                then = question(*reader->project);
            }
        } catch (const std::exception& e) {
            then = [this, why = std::string(e.what())] {
                fail({project::kStoreFailed, "It could not be worked out: " + why});
            };
        }
        QMetaObject::invokeMethod(this, [this, topic, alive, last, number, then = std::move(then)] {
            --asking_;
            const bool isLast = *last == number;
            if (const auto known = asked_.find(topic); isLast && known != asked_.end() && known->second == last)
                asked_.erase(known); // askers come and go
            if (then && !alive.isNull() && isLast)
                then();
            checkIdle();
        });
    });
}

void Session::undo()
{
    if (project_ == nullptr)
        return;
    write([who = now()](project::Project& p) -> Result<std::string> {
        const auto what = p.log().undoable(who.person);
        if (!what || what->empty())
            return what ? Result<std::string>(std::string("There is nothing of yours to undo.")) : what;
        return saying(p.undo(who), "Undone: " + *what);
    });
}

void Session::redo()
{
    if (project_ == nullptr)
        return;
    write([who = now()](project::Project& p) -> Result<std::string> {
        const auto what = p.log().redoable(who.person);
        if (!what || what->empty())
            return what ? Result<std::string>(std::string("There is nothing of yours to do again.")) : what;
        return saying(p.redo(who), "Done again: " + *what);
    });
}

void Session::bringStepsIn()
{
    if (project_ == nullptr)
        return;
    write(
        [who = now()](project::Project& p) -> Result<std::string> {
            const auto missing = p.missingSteps(); // another window may have brought them in
            if (!missing)
                return wendrix::fail(missing.error());
            const auto brought = p.bringIn(*missing, who);
            if (!brought)
                return wendrix::fail(brought.error());
            std::string words = counted(brought->steps, "step", "steps") + " brought in";
            if (!brought->leftOut.empty())
                words += ", " + std::to_string(brought->leftOut.size()) + " left out: " + brought->leftOut.front() +
                         (brought->leftOut.size() > 1 ? ", and more" : "");
            return words + ".";
        },
        [this](bool isDone) {
            if (isDone) // what was left out stays in its file, and is not asked about again in this session
                missingSteps_.clear();
            emit missingStepsChanged();
        });
}

void Session::setStepsAside()
{
    const std::size_t count = missingSteps_.size();
    project::setAside(missingSteps_);
    missingSteps_.clear();
    emit missingStepsChanged();
    say(QString::fromStdString(counted(count, "step", "steps")) + " set aside; the files stay in the folder backups.");
}

} // namespace wendrix::app
