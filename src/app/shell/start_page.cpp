#include "shell/start_page.h"

#include "core/base/file.h"
#include "core/project/demo_project.h"
#include "core/project/setup.h"
#include "shell/form.h"
#include "shell/session.h"
#include "shell/setup_form.h"
#include "shell/theme.h"

#include <QAbstractButton>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QVBoxLayout>

#include <filesystem>

namespace wendrix::app {

namespace {

constexpr int kCardWidth = 268, kCardHeight = 222, kPicture = 150, kCardsAcross = 3, kButtonWidth = 240;

/// One project that was open before: its picture, name, where it is, when it was open.
class ProjectCard final : public QAbstractButton {
public:
    explicit ProjectCard(const RecentProjects::Entry& entry) : entry_(entry), picture_(RecentProjects::pictureOf(entry.folder))
    {
        setFixedSize(kCardWidth, kCardHeight);
        setFocusPolicy(Qt::StrongFocus);
        setCursor(Qt::PointingHandCursor);
        setAccessibleName(entry.name);
        setToolTip(entry.folder);
        setText(entry.name);
        setObjectName("recentProject");
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setRenderHint(QPainter::SmoothPixmapTransform);
        const bool isLit = hasFocus() || underMouse();
        p.setPen(QPen(hasFocus() ? theme::kFocus : isLit ? QColor(0xC9, 0xC2, 0xB1) : theme::kLine, hasFocus() ? 2 : 1));
        p.setBrush(theme::kPanel);
        p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
        const QRect box(2, 2, width() - 4, kPicture);
        p.fillRect(box, theme::kPaper);
        if (!picture_.isNull()) {
            const QSize size = picture_.size().scaled(box.size(), Qt::KeepAspectRatio); // on paper, like the view it is of
            p.drawPixmap(QRect(QPoint(box.center().x() - size.width() / 2, box.center().y() - size.height() / 2), size), picture_);
        } else {
            p.setPen(theme::kSoftInk);
            p.setFont(theme::font(12));
            p.drawText(box, Qt::AlignCenter, entry_.isThere ? "no picture yet" : "no longer there");
        }
        const QRect words(12, kPicture + 10, width() - 24, 60);
        p.setFont(theme::font(13, 700));
        p.setPen(entry_.isThere ? theme::kInk : theme::kSoftInk);
        p.drawText(words, Qt::AlignLeft | Qt::AlignTop, p.fontMetrics().elidedText(entry_.name, Qt::ElideRight, words.width()));
        p.setFont(theme::font(11));
        p.setPen(theme::kSoftInk);
        p.drawText(words.adjusted(0, 20, 0, 0), Qt::AlignLeft | Qt::AlignTop, p.fontMetrics().elidedText(QDir::toNativeSeparators(entry_.folder), Qt::ElideMiddle, words.width()));
        p.drawText(words.adjusted(0, 36, 0, 0), Qt::AlignLeft | Qt::AlignTop, "open on " + QLocale(QLocale::English).toString(entry_.opened, "d MMM yyyy, HH:mm"));
    }

private:
    RecentProjects::Entry entry_;
    QPixmap picture_;
};

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

    auto* home = new QWidget;
    auto* row = new QHBoxLayout(home);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(40);
    auto* left = new QVBoxLayout;
    auto* title = new QLabel("Projects you had open");
    title->setFont(theme::font(15, 700));
    left->addWidget(title);
    left->addSpacing(6);
    empty_ = new QLabel("None yet. Make a new project for a job that begins, open a project folder somebody gave you, or look at the demo first.");
    empty_->setWordWrap(true);
    empty_->setStyleSheet("color:#5F6B70");
    left->addWidget(empty_);
    recentBox_ = new QWidget;
    cards_ = new QGridLayout(recentBox_);
    cards_->setContentsMargins(0, 0, 0, 0);
    cards_->setSpacing(16);
    cards_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    auto* scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setWidget(recentBox_);
    scroll->viewport()->setAutoFillBackground(false);
    recentBox_->setAutoFillBackground(false);
    left->addWidget(scroll, 1);
    row->addLayout(left, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(10);
    right->addSpacing(28);
    auto* make = button("newProject", "New project…", true);
    auto* open = button("openProject", "Open a project folder…");
    demo_ = button("openDemo", "Open the demo");
    toProject_ = button("backToProject", {});
    for (QPushButton* b : {make, open, demo_, toProject_}) {
        b->setFixedWidth(kButtonWidth);
        right->addWidget(b);
    }
    auto* about = new QLabel("The demo is the Marrowfield Seed Store: made-up models of five teams in three cycles, with faults to find. "
                             "It plays the other teams; nothing is sent anywhere.");
    about->setWordWrap(true);
    about->setFixedWidth(kButtonWidth);
    about->setFont(theme::font(11));
    about->setStyleSheet("color:#5F6B70");
    right->addWidget(about);
    right->addStretch();
    row->addLayout(right);
    pages_->addWidget(home);

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

    connect(toProject_, &QPushButton::clicked, this, &StartPage::left);
    connect(make, &QPushButton::clicked, this, &StartPage::showNew);
    connect(open, &QPushButton::clicked, this, [this] {
        if (const QString folder = QFileDialog::getExistingDirectory(this, "Open a project folder"); !folder.isEmpty())
            openFolder(folder);
    });
    connect(demo_, &QPushButton::clicked, this, [this] { openDemo(QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/wendrix/Marrowfield Seed Store"); });
    connect(choose, &QPushButton::clicked, this, [this] {
        if (const QString folder = QFileDialog::getExistingDirectory(this, "Folder of the new project", folder_->text()); !folder.isEmpty())
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
    demo_->setEnabled(!folder.isEmpty());
}

void StartPage::setRecent(const RecentProjects& recent)
{
    recent_ = recent;
    fillRecent();
}

void StartPage::fillRecent()
{
    while (QLayoutItem* item = cards_->takeAt(0)) {
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    const auto all = recent_.all();
    for (int i = 0; i < all.size(); ++i) {
        auto* card = new ProjectCard(all[i]);
        connect(card, &QAbstractButton::clicked, this, [this, folder = all[i].folder] { openFolder(folder); }, Qt::QueuedConnection);
        cards_->addWidget(card, i / kCardsAcross, i % kCardsAcross);
    }
    empty_->setVisible(all.isEmpty());
}

void StartPage::showHome()
{
    say({}, false);
    fillRecent();
    toProject_->setVisible(session_.hasProject());
    if (session_.hasProject())
        toProject_->setText(toProject_->fontMetrics().elidedText("Back to " + QString::fromStdString(session_.project().name()), Qt::ElideMiddle, kButtonWidth - 28));
    pages_->setCurrentIndex(0);
    if (auto* first = recentBox_->findChild<QAbstractButton*>("recentProject"))
        first->setFocus();
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
    form_->setSetup(project::setupOf(session_.project()), true);
    pages_->setCurrentIndex(1);
}

void StartPage::say(const QString& words, bool isProblem)
{
    words_->setStyleSheet(isProblem ? "color:#C8501E; font-weight:600" : "color:#2B7A84");
    words_->setText(words);
}

QString StartPage::words() const { return words_->text(); }

void StartPage::openFolder(const QString& folder)
{
    auto project = project::Project::open(folder.toStdString());
    if (!project) {
        say(QString::fromStdString(project.error().inWords()), true);
        return;
    }
    session_.open(std::move(*project));
    recent_.note(folder, QString::fromStdString(session_.project().name()));
    session_.loadModels();
    emit left();
}

void StartPage::openDemo(const QString& folder)
{
    if (project::Project::isProject(folder.toStdString()))
        return openFolder(folder);
    session_.run("Making the demo", [this, folder, data = demoData_.toStdString()](Progress& progress) -> Session::Finish {
        // Made beside its place, so that one that was given up half way is never taken for the demo.
        const std::filesystem::path place = folder.toStdString(), part = place.string() + ".part";
        std::error_code error;
        std::filesystem::remove_all(part, error);
        std::filesystem::create_directories(place.parent_path(), error);
        auto made = project::makeDemoProject(data, part, progress);
        for (const int cycle : {2, 3}) // they have arrived since and wait in the register
            if (made)
                if (auto done = project::receiveDemoCycle(**made, data, cycle, progress); !done)
                    made = wendrix::fail(done.error());
        Result<void> done;
        if (!made)
            done = wendrix::fail(made.error());
        else
            made->reset(); // closed, and opened anew where it belongs
        if (done && (std::filesystem::rename(part, place, error), error))
            done = wendrix::fail({project::kFolderInUse, "The folder can not be made: " + error.message() + ".", place.string()});
        return [this, folder, done] {
            if (!done)
                return say(QString::fromStdString(done.error().inWords()), true);
            openFolder(folder);
        };
    });
}

void StartPage::create()
{
    const QString folder = folder_->text().trimmed();
    if (folder.isEmpty())
        return say("Say in which folder the project is to be; everything of it will be there.", true);
    if (const QString problem = form_->problem(); !problem.isEmpty())
        return say(problem, true);
    auto project = project::createProject(folder.toStdString(), name_->text().trimmed().toStdString(), form_->setup(), session_.now());
    if (!project) {
        say(QString::fromStdString(project.error().inWords()), true);
        return;
    }
    session_.open(std::move(*project));
    recent_.note(folder, QString::fromStdString(session_.project().name()));
}

void StartPage::keepSetup()
{
    if (const QString problem = form_->problem(); !problem.isEmpty())
        return say(problem, true);
    if (const auto done = project::changeSetup(session_.project(), form_->setup(), session_.now()); !done)
        return say(QString::fromStdString(done.error().inWords()), true);
    session_.apply({}, "The setup is kept.");
    emit session_.workspaceChanged(); // colours
    emit left();
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
