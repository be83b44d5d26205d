#include "shell/views_panel.h"

#include "core/base/text.h"
#include "core/project/stored_files.h"
#include "scene/measure_tool.h"
#include "shell/details.h"
#include "shell/page_export.h"
#include "shell/row_list.h"
#include "shell/session.h"
#include "shell/show_panel.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QApplication>
#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>

namespace wendrix::app {

namespace {

constexpr QSize kThumbnail{480, 300};
constexpr int kMostHigh = 210, kPictureWide = 256;

/// @param then  called with its uuid once it is kept
void keep(const ViewsContext& at, project::KeptView view, std::function<void(const QString&)> then)
{
    view.state = view::toJson(stateToKeep(at));
    auto uuid = std::make_shared<std::string>();
    at.session.write(
        [view, uuid, picture = pictureToKeep(at), who = at.session.now()](project::Project& p) {
            const auto kept = p.views().keep(view, picture, who);
            *uuid = kept.value_or("");
            return Session::saying(kept,
                                   std::string("View ") + (view.uuid.empty() ? "kept: " : "updated: ") + view.title);
        },
        [uuid, then = std::move(then)](bool isDone) {
            if (isDone)
                then(q(*uuid));
        });
}

QString byWords(const project::KeptView& view) { return q(view.by.person) + ", " + q(timeInWords(view.by.time)); }

QVector<Row> rowsOf(const std::vector<project::KeptView>& views)
{
    QVector<Row> rows;
    std::optional<std::string> folder;
    for (const project::KeptView& view : views) {
        if (folder != view.folder) {
            folder = view.folder;
            Row heading;
            heading.title = q(view.folder.empty() ? "In no folder" : view.folder);
            rows.append(heading);
        }
        Row row;
        row.id = q(view.uuid);
        row.level = 1;
        row.title = q(view.title);
        row.subtitle = byWords(view) + (view.version > 1 ? " · version " + QString::number(view.version) : "") +
                       (view.isShared ? "" : " · private");
        rows.append(row);
    }
    return rows;
}

/// One view whole: picture, words, what to do with it, and its versions.
void writeView(Details& details, const ViewsContext& at, const project::KeptView& view)
{
    details.addHeading(q(view.title));
    QPixmap pixmap;
    if (pixmap.loadFromData(
            QByteArray::fromStdString(project::readPicture(at.session.project().folder(), view.picture)))) {
        auto* picture = new QLabel;
        picture->setObjectName("viewPicture");
        picture->setPixmap(pixmap.scaledToWidth(kPictureWide, Qt::SmoothTransformation));
        picture->setStyleSheet("border:1px solid #DAD4C6");
        picture->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
        details.addWidget(picture);
    }
    if (!view.description.empty())
        details.addText(q(view.description), false);
    details.addCaption(byWords(view) + ", version " + QString::number(view.version) +
                       (view.isShared ? "" : ", private"));
    const auto again = [&details, at, uuid = q(view.uuid)] { showKeptViews(details, at, uuid); };
    details.addButtons({{"openView", "Open", {}, true, true, [at, view] { openView(at, view); }},
                        {"updateView",
                         "Update",
                         {},
                         false,
                         true,
                         [at, view, again] { keep(at, view, [again](const QString&) { again(); }); }},
                        {"removeView", "Remove", {}, false, true, [at, view, again] {
                             at.session.write(
                                 [view, who = at.session.now()](project::Project& p) {
                                     return Session::saying(p.views().remove(view.uuid, who),
                                                            "View removed; Ctrl+Z brings it back: " + view.title);
                                 },
                                 [again](bool) { again(); });
                         }}});
    const auto versions = orNothing(at.session.project().views().versionsOf(view.uuid));
    if (versions.size() < 2)
        return;
    details.addHeading("Its versions");
    QVector<Details::Button> buttons;
    for (const project::KeptView& version : versions)
        buttons.append({"openVersion" + QString::number(version.version),
                        "Version " + QString::number(version.version) + ", " + q(timeInWords(version.by.time)),
                        {},
                        false,
                        true,
                        [at, version] { openView(at, version); }});
    details.addButtons(buttons);
}

/// The fields to keep the view one is looking at.
QWidget* keepForm(Details& details, const ViewsContext& at)
{
    auto* form = new QWidget;
    auto* grid = new QGridLayout(form);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(4);
    auto* title = new QLineEdit;
    title->setObjectName("viewTitle");
    title->setPlaceholderText("Title of what shows now");
    auto* folder = new QLineEdit;
    folder->setObjectName("viewFolder");
    folder->setPlaceholderText("Folder, as \"Ventilation\"");
    auto* description = new QPlainTextEdit;
    description->setObjectName("viewDescription");
    description->setPlaceholderText("Description");
    description->setFixedHeight(46);
    description->setTabChangesFocus(true);
    auto* isShared = new QCheckBox("shared");
    isShared->setObjectName("viewShared");
    isShared->setChecked(true);
    isShared->setToolTip("Else only you see it");
    auto* button = new QPushButton("Keep view");
    button->setObjectName("keepView");
    button->setEnabled(false);
    QObject::connect(title, &QLineEdit::textChanged, button,
                     [button](const QString& words) { button->setEnabled(!words.trimmed().isEmpty()); });
    grid->addWidget(title, 0, 0, 1, 2);
    grid->addWidget(folder, 1, 0, 1, 2);
    grid->addWidget(description, 2, 0, 1, 2);
    grid->addWidget(isShared, 3, 0);
    grid->addWidget(button, 3, 1, Qt::AlignRight);
    const auto press = [&details, at, title, folder, description, isShared] {
        project::KeptView view;
        view.title = title->text().trimmed().toStdString();
        view.folder = folder->text().trimmed().toStdString();
        view.description = description->toPlainText().trimmed().toStdString();
        view.isShared = isShared->isChecked();
        if (!view.title.empty())
            keep(at, view, [&details, at](const QString& kept) { showKeptViews(details, at, kept); });
    };
    QObject::connect(button, &QPushButton::clicked, form, press, Qt::QueuedConnection);
    QObject::connect(title, &QLineEdit::returnPressed, form, press, Qt::QueuedConnection);
    return form;
}

} // namespace

view::SceneState stateToKeep(const ViewsContext& at)
{
    view::SceneState state = at.scene.state();
    state.measurements = at.measure.results();
    return state;
}

std::string pictureToKeep(const ViewsContext& at) { return pngOf(at.scene.picture(kThumbnail, true)); }

void openState(const ViewsContext& at, const std::string& kept, const QString& name)
{
    const auto state = view::fromJson(kept);
    if (!state) {
        at.session.fail(state.error());
        return;
    }
    const std::size_t missing = at.scene.restore(*state);
    if (state->rule.by == view::ColourBy::Sets)
        colourBySets(at.scene, at.session, state->rule.sets); // as the project has issues and changes now
    at.measure.setResults(state->measurements);
    QString words = "Opened: " + name;
    if (missing > 0)
        words += "; " + q(counted(missing, "element of it is", "elements of it are")) + " no longer there";
    at.session.say(words + ".");
}

void openView(const ViewsContext& at, const project::KeptView& view)
{
    openState(at, view.state, q(view.title) + (view.version > 1 ? ", version " + QString::number(view.version) : ""));
}

void showKeptViews(Details& details, const ViewsContext& at, const QString& chosen)
{
    const bool isSteppedThrough = qobject_cast<RowList*>(QApplication::focusWidget()) != nullptr; // by the arrow keys
    details.clear();
    details.setOwner("views");
    details.addTitle("Views");
    if (!at.session.hasProject()) {
        details.addText("Open a project; views are kept in it.");
        details.finish();
        return;
    }
    details.addWidget(keepForm(details, at));
    const auto views = orNothing(at.session.project().views().views(at.session.person().toStdString()));
    if (views.empty()) {
        details.addText("None is kept yet. A kept view restores where one looks from, what is shown, hidden, coloured "
                        "and cut, and what was measured and drawn.");
        details.finish();
        return;
    }
    auto shown =
        std::find_if(views.begin(), views.end(), [&](const project::KeptView& v) { return q(v.uuid) == chosen; });
    if (shown == views.end())
        shown = views.begin();
    auto* list = new RowList("views-kept", rowsOf(views), q(shown->uuid), kMostHigh);
    QObject::connect(list, &RowList::rowChosen, &details, [&details, at](const QString& id) {
        if (!id.isEmpty())
            showKeptViews(details, at, id);
    });
    details.addWidget(list);
    writeView(details, at, *shown);
    details.finish();
    if (isSteppedThrough)
        list->setFocus();
}

} // namespace wendrix::app
