#include "shell/start_page.h"

#include "core/base/file.h"
#include "core/base/file_name.h"
#include "core/base/temporary.h"
#include "core/base/text.h"
#include "core/project/backups.h"
#include "core/project/demo_project.h"
#include "core/project/drop_folders.h"
#include "core/project/setup.h"
#include "shell/drop_consent.h"
#include "shell/form.h"
#include "shell/session.h"
#include "shell/setup_form.h"
#include "shell/start_home.h"
#include "shell/theme.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QVBoxLayout>

#include <filesystem>

namespace wendrix::app {

namespace {

QPushButton* button(const QString& name, const QString& words, bool isLoud = false)
{
    auto* b = new QPushButton(words);
    b->setObjectName(name);
    b->setProperty("loud", isLoud);
    return b;
}

} // namespace

StartPage::StartPage(Session& session, QWidget* parent) : QWidget(parent), session_(session), pages_(new QStackedWidget)
{
    setObjectName("start");
    setAutoFillBackground(true);
    QPalette paper = palette();
    paper.setColor(QPalette::Window, theme::kPaper);
    setPalette(paper);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(56, 40, 56, 24);
    auto* mark = new QLabel("Wendrix");
    mark->setFont(theme::font(20, 700));
    mark->setStyleSheet("color:#173F46");
    column->addWidget(mark);
    column->addSpacing(18);
    column->addWidget(pages_, 1);
    words_ = new QLabel;
    words_->setObjectName("startWords");
    words_->setTextFormat(Qt::PlainText);
    words_->setWordWrap(true);
    column->addWidget(words_);
    putBack_ = button("putBack", "Put back a backup");
    putBack_->setProperty("menu", true);
    auto* putBackRow = new QHBoxLayout;
    putBackRow->addWidget(putBack_);
    putBackRow->addStretch();
    column->addLayout(putBackRow);
    putBack_->hide();

    home_ = new StartHome;
    pages_->addWidget(home_);

    auto* setup = new QWidget;
    auto* setupColumn = new QVBoxLayout(setup);
    setupColumn->setContentsMargins(0, 0, 0, 0);
    setupTitle_ = new QLabel;
    setupTitle_->setFont(theme::font(15, 700));
    setupColumn->addWidget(setupTitle_);
    where_ = new QWidget;
    auto* whereRow = new QHBoxLayout(where_);
    whereRow->setContentsMargins(0, 4, 0, 4);
    auto* names = new Form;
    name_ = names->line("projectNameField", "Name", {}, "of the building or the job");
    whereRow->addWidget(names, 1);
    auto* places = new Form;
    folder_ = places->line("projectFolderField", "Folder", {}, "an empty one, or one to be made");
    whereRow->addWidget(places, 2);
    auto* choose = button("chooseFolder", "Choose…");
    whereRow->addWidget(choose);
    auto* load = button("loadTemplate", "From a template…");
    whereRow->addWidget(load);
    setupColumn->addWidget(where_);
    form_ = new SetupForm;
    auto* formScroll = new QScrollArea;
    formScroll->setFrameShape(QFrame::NoFrame);
    formScroll->setWidgetResizable(true);
    form_->setContentsMargins(14, 10, 14, 10);
    form_->setAutoFillBackground(false);
    formScroll->setWidget(form_);
    formScroll->viewport()->setAutoFillBackground(false);
    setupColumn->addWidget(formScroll, 1);
    auto* end = new QHBoxLayout;
    create_ = button("createProject", "Make the project", true);
    back_ = button("leaveSetup", "Back");
    save_ = button("saveTemplate", "Save as a template…");
    end->addWidget(create_);
    end->addWidget(back_);
    end->addStretch();
    end->addWidget(save_);
    setupColumn->addLayout(end);
    pages_->addWidget(setup);

    connect(home_, &StartHome::backWanted, this, &StartPage::left);
    connect(home_, &StartHome::newWanted, this, &StartPage::showNew);
    connect(home_, &StartHome::openWanted, this, [this] {
        if (const QString folder = QFileDialog::getExistingDirectory(this, "Open a project folder"); !folder.isEmpty())
            openFolder(folder);
    });
    connect(home_, &StartHome::demoWanted, this, [this] {
        openDemo(QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) +
                 "/wendrix/Marrowfield Seed Store");
    });
    connect(home_, &StartHome::projectWanted, this, &StartPage::openFolder);
    connect(choose, &QPushButton::clicked, this, [this] {
        if (const QString folder =
                QFileDialog::getExistingDirectory(this, "Folder of the new project", folder_->text());
            !folder.isEmpty())
            folder_->setText(folder);
    });
    connect(load, &QPushButton::clicked, this, &StartPage::loadTemplate);
    connect(create_, &QPushButton::clicked, this, [this] { isSettingUp_ ? keepSetup() : create(); });
    connect(back_, &QPushButton::clicked, this, [this] { isSettingUp_ ? emit this->left() : showHome(); });
    connect(save_, &QPushButton::clicked, this, &StartPage::saveTemplate);
    setDemoData({});
    showHome();
}

void StartPage::setDemoData(const QString& folder)
{
    demoData_ = folder;
    home_->setHasDemo(!folder.isEmpty());
}

void StartPage::setRecent(const RecentProjects& recent)
{
    recent_ = recent;
    home_->setRecent(recent_.all());
}

void StartPage::showHome()
{
    say({}, false);
    home_->setRecent(recent_.all());
    home_->setOpenProject(session_.hasProject() ? QString::fromStdString(session_.project().name()) : QString());
    pages_->setCurrentWidget(home_);
    home_->takeFocus();
}

void StartPage::showNew()
{
    say({}, false);
    isSettingUp_ = false;
    setupTitle_->setText("New project");
    name_->clear();
    folder_->clear();
    where_->show();
    create_->setText("Make the project");
    form_->setSetup(project::Setup::usual(), false);
    pages_->setCurrentIndex(1);
    name_->setFocus();
}

void StartPage::showSetup()
{
    if (!session_.hasProject())
        return;
    say({}, false);
    isSettingUp_ = true;
    setupTitle_->setText("Setup of " + QString::fromStdString(session_.project().name()));
    where_->hide();
    create_->setText("Keep");
    form_->setSetup(orNothing(project::setupOf(session_.project())), true);
    pages_->setCurrentIndex(1);
}

void StartPage::say(const QString& words, bool isProblem)
{
    words_->setStyleSheet(isProblem ? "color:#C8501E; font-weight:600" : "color:#2B7A84");
    words_->setText(words);
    putBack_->hide();
}

QString StartPage::words() const { return words_->text(); }

void StartPage::open(const QString& what, const QString& folder, Session::Opening opening)
{
    say(what + " …", false);
    pages_->setEnabled(false);
    session_.openBeside(what, std::move(opening), [this, folder](const Result<void>& done) {
        pages_->setEnabled(true);
        say(done ? QString() : QString::fromStdString(done.error().inWords()), !done);
        if (done)
            recent_.note(folder, QString::fromStdString(session_.project().name()));
        else
            offerBackups(folder);
    });
}

void StartPage::offerBackups(const QString& folder)
{
    const std::filesystem::path place = fileNamed(folder.toStdString());
    const auto backups = project::backupsOf(place);
    if (backups.empty())
        return;
    auto* menu = new QMenu(putBack_);
    for (const project::Backup& backup : backups) {
        const QString words = QString::fromStdString(timeInWords(backup.time) + ", " + backup.reason);
        connect(menu->addAction(words), &QAction::triggered, this, [this, folder, place, backup] {
            if (const auto done = project::putBack(place, backup); !done)
                return say(QString::fromStdString(done.error().inWords()), true);
            openFolder(folder);
        });
    }
    delete putBack_->menu();
    putBack_->setMenu(menu);
    putBack_->show();
}

void StartPage::openFolder(const QString& folder)
{
    open("Opening " + QFileInfo(folder).fileName(), folder,
         [place = fileNamed(folder.toStdString())](Progress&) { return project::Project::open(place); });
}

void StartPage::openDemo(const QString& folder)
{
    if (project::Project::isProject(fileNamed(folder.toStdString())))
        return openFolder(folder);
    open("Making the demo", folder,
         [place = std::filesystem::path(folder.toStdString()),
          data = demoData_.toStdString()](Progress& progress) -> Result<std::unique_ptr<project::Project>> {
             // Made beside its place, so that one that was given up half way is never taken for the demo.
             std::error_code error;
             if (std::filesystem::exists(std::filesystem::symlink_status(place, error)) &&
                 !(std::filesystem::is_directory(place, error) && std::filesystem::is_empty(place, error)))
                 return wendrix::fail({project::kFolderInUse,
                                       "Something of this name stands there, and it is no project; it is left as it "
                                       "is. Name another folder for the demo.",
                                       place.string()});
             std::filesystem::create_directories(place.parent_path(), error);
             auto temporary = Temporary::folderBeside(place);
             if (!temporary)
                 return wendrix::fail(temporary.error());
             const std::filesystem::path part = temporary->path();
             std::filesystem::permissions(part, std::filesystem::perms(0755), error);
             auto made = project::makeDemoProject(data, part, progress);
             for (const int cycle : {2, 3, 4}) // they have arrived since and wait in the register
                 if (made)
                     if (auto done = project::receiveDemoCycle(**made, data, cycle, progress); !done)
                         made = wendrix::fail(done.error());
             if (made)
                 if (auto done = project::receiveDemoIssues(**made, data, progress); !done)
                     made = wendrix::fail(done.error());
             if (!made)
                 return made;
             made->reset(); // closed, and opened anew where it belongs
             if (!temporary->putInPlaceUnflushed(place))
                 return wendrix::fail({project::kFolderInUse,
                                       std::string("The folder can not be made: ") + std::strerror(errno) + ".",
                                       place.string()});
             return project::Project::open(place);
         });
}

void StartPage::agreeToFolders(const std::filesystem::path& project)
{
    std::vector<std::filesystem::path> folders;
    for (const project::Discipline& d : form_->withFolderByHand())
        folders.push_back(project::dropFolderOf(d, project));
    if (!folders.empty())
        watchHere(project, folders);
}

void StartPage::create()
{
    const QString folder = folder_->text().trimmed();
    if (folder.isEmpty())
        return say("Say in which folder the project is to be; everything of it will be there.", true);
    if (const QString problem = form_->problem(); !problem.isEmpty())
        return say(problem, true);
    agreeToFolders(folder.toStdString());
    open("Making the project", folder,
         [place = folder.toStdString(), name = name_->text().trimmed().toStdString(), setup = form_->setup(),
          who = session_.now()](Progress&) { return project::createProject(place, name, setup, who); });
}

void StartPage::keepSetup()
{
    if (const QString problem = form_->problem(); !problem.isEmpty())
        return say(problem, true);
    agreeToFolders(session_.project().folder());
    session_.write(
        [wanted = form_->setup(), who = session_.now()](project::Project& p) {
            return Session::saying(project::changeSetup(p, wanted, who), "The setup is kept.");
        },
        [this](bool isDone) {
            if (!isDone)
                return;                       // said already
            emit session_.workspaceChanged(); // colours
            emit left();
        });
}

void StartPage::loadTemplate()
{
    const QString file = QFileDialog::getOpenFileName(this, "Set up from a template", {}, "Templates (*.json)");
    if (file.isEmpty())
        return;
    const auto text = readFileWhole(file.toStdString(), 32u << 20);
    const auto setup = text ? project::setupFromJson(*text) : Result<project::Setup>(wendrix::fail(text.error()));
    if (!setup)
        return say(QString::fromStdString(setup.error().inWords()), true);
    form_->setSetup(*setup, false);
    say("Set up from " + QFileInfo(file).fileName() + ".", false);
}

void StartPage::saveTemplate()
{
    QString file = QFileDialog::getSaveFileName(this, "Save as a template", "Template.json", "Templates (*.json)");
    if (file.isEmpty())
        return;
    if (!file.endsWith(".json", Qt::CaseInsensitive))
        file += ".json";
    if (const auto written = writeFileWhole(file.toStdString(), project::toJson(form_->setup())); !written)
        return say(QString::fromStdString(written.error().inWords()), true);
    say("Saved as " + file + ".", false);
}

} // namespace wendrix::app
