#include "deliveries/deliveries_stage.h"

#include "core/base/file_name.h"
#include "core/base/text.h"
#include "core/project/drop_folders.h"
#include "deliveries/document_view.h"
#include "shell/long_text.h"
#include "shell/theme.h"

#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMimeData>
#include <QPushButton>
#include <QStackedWidget>
#include <QTextDocument>
#include <QVBoxLayout>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr int kMostDropped = 500, kWatchWidth = 460;

bool isWanted(const std::filesystem::path& file) { return project::isModelFile(file) || project::isDocumentFile(file); }

/// The files in a folder by name; Qt passes over those whose names are no UTF-8.
std::vector<std::filesystem::path> filesIn(const std::filesystem::path& folder)
{
    std::vector<std::filesystem::path> files;
    std::error_code code;
    for (std::filesystem::directory_iterator it(folder, code), end; !code && it != end; it.increment(code))
        if (it->is_regular_file(code))
            files.push_back(it->path());
    std::sort(files.begin(), files.end());
    return files;
}

} // namespace

DeliveriesStage::DeliveriesStage(const StageContext& context, DocumentView& document, QObject* parent)
    : Stage(context, parent), pages_(new QStackedWidget), page_(new QWidget),
      inside_(new InsidePage(context, document, this))
{
    page_->setObjectName("deliveries");
    page_->setAutoFillBackground(true);
    page_->setAcceptDrops(true);
    page_->installEventFilter(this);
    auto* layout = new QVBoxLayout(page_);
    layout->setContentsMargins(0, 10, 0, 0);
    layout->setSpacing(8);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 14, 0);
    auto* title = new QLabel("Deliveries");
    title->setFont(theme::font(15, 700));
    head->addWidget(title);
    head->addSpacing(18);
    summary_ = new QLabel;
    summary_->setObjectName("deliverySummary");
    head->addWidget(summary_);
    head->addSpacing(18);
    watch_ = new QLabel;
    watch_->setObjectName("dropFolderWords");
    watch_->setTextFormat(Qt::PlainText);
    head->addWidget(watch_);
    watchHere_ = new QPushButton("Watch here…");
    watchHere_->setObjectName("watchHere");
    watchHere_->hide();
    connect(watchHere_, &QPushButton::clicked, this, [this] { showForm(Form::Watch); });
    head->addSpacing(6);
    head->addWidget(watchHere_);
    head->addStretch();
    auto* hint = new QLabel("Drop files here, or");
    hint->setStyleSheet("color:#5F6B70");
    head->addWidget(hint);
    head->addSpacing(6);
    auto* add = new QPushButton("Add files…");
    add->setObjectName("addFiles");
    connect(add, &QPushButton::clicked, this, &DeliveriesStage::askFile);
    head->addWidget(add);
    layout->addLayout(head);
    auto* line = new QFrame;
    line->setFixedHeight(1);
    line->setStyleSheet("background:#DAD4C6");
    layout->addWidget(line);
    layout->setSpacing(0);
    layout->insertSpacing(1, 8);
    register_ = new Register;
    layout->addWidget(register_, 1);
    pages_->addWidget(page_);
    pages_->addWidget(inside_->list());
    connect(register_, &Register::deliveryChosen, this, [this] {
        form_ = Form::None;
        showDetails();
    });
    connect(register_, &Register::deliveryOpened, this, &DeliveriesStage::lookInside);
    connect(register_, &Register::cycleClicked, this, [this](int cycle) {
        if (cycle >= orNothing(at_.session.project().deliveries().cycle()))
            at_.session.lookAtNow();
        else
            at_.session.lookBack(cycle);
    });
    connect(inside_, &InsidePage::closeWanted, &at_.session, &Session::leaveInside);
    connect(inside_, &InsidePage::takeInWanted, this, &DeliveriesStage::takeIn);
    connect(inside_, &InsidePage::declineWanted, this, &DeliveriesStage::decline);
    connect(inside_, &InsidePage::leaveOutWanted, this, [this] { showForm(Form::LeaveOut); });
    connect(&at_.session, &Session::takingInStopped, this, [this] {
        at_.session.leaveInside();
        register_->choose(at_.session.moved()->delivery);
        endForm();
    });
    connect(&at_.session, &Session::insideChanged, this, &DeliveriesStage::insideChanged);
    connect(&at_.session, &Session::received, this, [this](qint64 id) {
        if (id != 0)
            register_->choose(id);
        askNextDraft();
    });
}

QWidget* DeliveriesStage::list() { return pages_; }

void DeliveriesStage::setWatch(const QString& words, const QStringList& problems,
                               const QVector<QPair<QString, QString>>& unwatched)
{
    const bool isOther = std::exchange(unwatched_, unwatched) != unwatched;
    watchHere_->setVisible(!unwatched.isEmpty());
    if (isOther && form_ == Form::Watch) // what it asks about is no more what there is to agree to
        endForm();
    watch_->setStyleSheet(problems.isEmpty() ? "color:#5F6B70" : "color:#C8501E; font-weight:600");
    watch_->setText(watch_->fontMetrics().elidedText(endsOf(words), Qt::ElideRight, kWatchWidth));
    watch_->setToolTip(tipOf(problems.join("\n")));
    watch_->setAccessibleDescription(problems.join("\n"));
}

unsigned DeliveriesStage::books() const
{
    return app::books(project::Book::Deliveries, project::Book::Setup, project::Book::Changes);
}

Stage::Counting DeliveriesStage::waiting() const
{
    return [](const project::Project& p) {
        const auto all = orNothing(p.deliveries().all());
        return static_cast<int>(std::count_if(all.begin(), all.end(), [](const project::Delivery& d) {
            return d.state == project::DeliveryState::Waiting;
        }));
    };
}

void DeliveriesStage::refresh()
{
    if (!at_.session.hasProject())
        return;
    register_->setContent(orNothing(at_.session.project().setup().disciplines()),
                          orNothing(at_.session.project().deliveries().all()));
    std::set<project::DeliveryId> then;
    if (at_.session.pastCycle())
        for (const auto& [discipline, id] :
             orNothing(at_.session.project().deliveries().compositionOf(*at_.session.pastCycle())))
            then.insert(id);
    register_->setLookedAt(at_.session.pastCycle().value_or(0), std::move(then));
    const auto n = static_cast<int>(register_->grid().waiting().size());
    const auto& all = register_->deliveries();
    const auto unseen = std::count_if(all.begin(), all.end(), [](const auto& d) {
        return d.state == project::DeliveryState::Waiting && d.lookedAt.person.empty();
    });
    summary_->setText(n == 0 ? "nothing waits"
                             : QString("<b style='color:#C8501E'>%1</b> waiting%2")
                                   .arg(n)
                                   .arg(unseen > 0 ? QString(", %1 not looked at").arg(unseen) : ""));
}

void DeliveriesStage::insideChanged()
{
    const bool isInside = at_.session.inside() != nullptr;
    form_ = Form::None;
    pages_->setCurrentIndex(isInside ? 1 : 0);
    inside_->refresh();
    emit layoutChanged();
    if (isFront() && !isInside)
        enter();
    if (isInside && !wasInside_)
        outside_ = at_.scene.camera();
    // Queued: the scene gets the other models right after this.
    if (isInside) {
        inside_->list()->view().setFocus(); // arrows choose from here on
        QMetaObject::invokeMethod(
            this, [this] { at_.scene.fitAll(); }, Qt::QueuedConnection);
    }
    if (!isInside && wasInside_ && outside_)
        at_.scene.setCamera(*outside_, false);
    wasInside_ = isInside;
}

void DeliveriesStage::enter()
{
    if (at_.session.inside() != nullptr) {
        if (form_ == Form::None)
            inside_->show(false);
        return;
    }
    showPlain();
    if (register_->chosen() == 0 || register_->cardOf(register_->chosen()).isNull())
        step(1);
    showDetails();
    if (form_ == Form::None)
        register_->setFocus();
}

void DeliveriesStage::step(int by)
{
    if (at_.session.inside() != nullptr)
        return inside_->step(by);
    // Waiting ones first: that is what the step is for.
    std::vector<project::Delivery> all = register_->deliveries();
    if (all.empty())
        return;
    std::stable_sort(all.begin(), all.end(), [](const auto& a, const auto& b) {
        return (a.state == project::DeliveryState::Waiting) > (b.state == project::DeliveryState::Waiting);
    });
    const auto now = std::find_if(all.begin(), all.end(), [&](const auto& d) { return d.id == register_->chosen(); });
    const int at = now == all.end() ? 0 : static_cast<int>(now - all.begin()) + by;
    register_->choose(all[static_cast<std::size_t>(std::clamp(at, 0, static_cast<int>(all.size()) - 1))].id);
}

void DeliveriesStage::choose(const QString& id)
{
    at_.session.leaveInside();
    register_->choose(id.toLongLong());
}

std::optional<project::Delivery> DeliveriesStage::chosen() const
{
    if (const project::Inside* inside = at_.session.inside())
        return orNothing(at_.session.project().deliveries().find(inside->delivery.id));
    return orNothing(at_.session.project().deliveries().find(register_->chosen()));
}

void DeliveriesStage::showForm(Form form)
{
    const Done done = [this] { endForm(); };
    if (form == Form::Watch) {
        form_ = form;
        // Those that are shown, whatever the project names by the time the button is pressed.
        QStringList shown;
        for (const auto& [discipline, folder] : unwatched_)
            shown.append(folder);
        return showWatchForm(
            at_, unwatched_, [this, shown] { emit watchWanted(shown); }, done);
    }
    const auto delivery = chosen();
    if (!delivery)
        return;
    form_ = form;
    if (form == Form::Decline) {
        showDeclineForm(at_, *delivery, done);
    } else if (form == Form::Hold) {
        showHoldForm(at_, *delivery, done);
    } else if (form == Form::Describe) {
        showDescribeForm(at_, *delivery, done);
    } else if (form == Form::LeaveOut) {
        showLeaveOutForm(at_, delivery->discipline, done);
    }
}

void DeliveriesStage::endForm()
{
    form_ = Form::None;
    if (at_.session.inside() != nullptr)
        inside_->show(false);
    else
        showDetails();
}

void DeliveriesStage::takeIn()
{
    const auto delivery = chosen();
    if (!delivery || at_.session.pastCycle())
        return;
    if (const project::MovedPlace* moved = movedOf(*delivery)) {
        if (moved->proposed)
            takeInMoved(true);
        return; // else it takes a look at why
    }
    if (delivery->state == project::DeliveryState::Waiting || delivery->state == project::DeliveryState::Declined)
        at_.session.takeIn(delivery->id);
}

void DeliveriesStage::takeInMoved(bool withProposed)
{
    const auto& moved = at_.session.moved();
    if (!moved)
        return;
    const project::MovedAnswer answer{withProposed ? moved->proposed : std::nullopt};
    at_.session.takeIn(moved->delivery, answer);
}

void DeliveriesStage::decline() { showForm(Form::Decline); }

void DeliveriesStage::lookInside()
{
    if (const auto delivery = orNothing(at_.session.project().deliveries().find(register_->chosen())))
        at_.session.lookInside(delivery->id);
}

void DeliveriesStage::receive(const QStringList& files)
{
    if (at_.session.refusesToChange())
        return; // before anything is asked
    std::vector<std::filesystem::path> wanted;
    for (const QString& name : files) {
        const std::filesystem::path given = fileNamed(name.toStdString());
        std::error_code code;
        for (const auto& file : std::filesystem::is_directory(given, code) ? filesIn(given) : std::vector{given})
            if (isWanted(file) && wanted.size() < kMostDropped)
                wanted.push_back(file);
    }
    if (wanted.empty()) {
        at_.session.fail(
            {project::kUnknown,
             "There is no model among these; a delivery is made of .ifc or .ifczip, with .pdf beside it."});
        return;
    }
    at_.session.run(
        Jobs::Lane::Receiving, "Looking at the files",
        [this, wanted, disciplines = orNothing(at_.session.project().setup().disciplines()),
         deliveries = orNothing(at_.session.project().deliveries().all()),
         folder = at_.session.project().folder()](Progress& progress) -> Jobs::Finish {
            auto drafts = project::draftsOf(folder, wanted, disciplines, deliveries, progress);
            return [this, drafts = std::move(drafts)] {
                if (drafts.empty()) {
                    at_.session.fail({project::kUnknown, "Documents come with a model; choose both together."});
                    return;
                }
                if (std::any_of(drafts.begin(), drafts.end(), [](const project::Draft& d) { return d.hasHealed; }))
                    at_.session.composeAgain();
                drafts_.assign(drafts.begin(), drafts.end());
                at_.session.leaveInside();
                askNextDraft();
            };
        });
}

void DeliveriesStage::askNextDraft()
{
    if (drafts_.empty())
        return;
    const project::Draft draft = drafts_.front();
    drafts_.pop_front();
    form_ = Form::Add;
    showAddForm(
        at_, draft, static_cast<int>(drafts_.size()), [this] { endForm(); },
        [this] {
            endForm();
            askNextDraft();
        });
}

void DeliveriesStage::askFile()
{
    const QStringList files = QFileDialog::getOpenFileNames(page_, "Add a delivery", lastFolder_,
                                                            "Models and documents (*.ifc *.ifczip *.pdf)");
    if (files.isEmpty())
        return;
    lastFolder_ = QFileInfo(files[0]).path();
    receive(files);
}

bool DeliveriesStage::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == page_ && (event->type() == QEvent::DragEnter || event->type() == QEvent::Drop)) {
        auto* drop = static_cast<QDropEvent*>(event);
        if (!drop->mimeData()->hasUrls() || !at_.session.hasProject())
            return false;
        drop->acceptProposedAction();
        if (event->type() == QEvent::Drop) {
            QStringList files;
            for (const QUrl& url : drop->mimeData()->urls())
                if (url.isLocalFile())
                    files.append(url.toLocalFile());
            receive(files);
        }
        return true;
    }
    return Stage::eventFilter(watched, event);
}

bool DeliveriesStage::press(Qt::Key key)
{
    const bool isInside = at_.session.inside() != nullptr;
    switch (key) {
    case Qt::Key_T:
        takeIn();
        return true;
    case Qt::Key_W:
        if (isInside)
            at_.session.setInsideAlone(!at_.session.isInsideAlone());
        return isInside;
    case Qt::Key_R:
        at_.session.leaveInside();
        return isInside;
    default:
        return false;
    }
}

QVector<QPair<QString, QString>> DeliveriesStage::keys() const
{
    if (at_.session.inside() != nullptr)
        return {{"T", "take it in"},
                {"W", "alone, or within the federation"},
                {"R", "back to the register"},
                {"Page up, down", "pages of a document"},
                {"+, −, 0", "a page nearer, farther, whole"}};
    return {{"Enter", "look inside"},
            {"T", "take in the chosen delivery"},
            {"Arrows", "from card to card"},
            {"J / K", "next and previous, waiting ones first"}};
}

QString DeliveriesStage::helpPage() const
{
    if (at_.session.inside() == nullptr)
        return "deliveries.md";
    return inside_->tab() == InsidePage::Tab::Quality ? "quality.md" : "looking-inside.md";
}

} // namespace wendrix::app
