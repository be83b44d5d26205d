#include "shell/views_panel.h"

#include "core/base/text.h"
#include "core/view/scene_state.h"
#include "scene/measure_tool.h"
#include "shell/details.h"
#include "shell/session.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QBuffer>
#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace wendrix::app {

namespace {

constexpr QSize kThumbnail{480, 300};

view::SceneState stateOf(const ViewsContext& at)
{
    view::SceneState state = at.scene.state();
    state.measurements = at.measure.results();
    return state;
}

std::string thumbnail(const ViewsContext& at)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    at.scene.picture(kThumbnail, false).save(&buffer, "PNG");
    return bytes.toStdString();
}

bool keep(const ViewsContext& at, project::KeptView view)
{
    view.state = view::toJson(stateOf(at));
    const auto kept = at.session.project().keepView(view, thumbnail(at), at.session.now());
    return at.session.apply(kept ? Result<void>{} : Result<void>(fail(kept.error())),
                            "View " + QString(view.uuid.empty() ? "kept: " : "updated: ") + q(view.title));
}

QWidget* viewBox(Details& details, const ViewsContext& at, const project::KeptView& view)
{
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 2, 0, 6);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(2);
    grid->setColumnStretch(1, 1);
    auto* picture = new QLabel;
    QPixmap pixmap;
    if (!view.picture.empty() && pixmap.load(q((at.session.project().folder() / "pictures" / view.picture).string())))
        picture->setPixmap(pixmap.scaled(96, 60, Qt::KeepAspectRatio, Qt::SmoothTransformation));
    picture->setFixedSize(96, 60);
    picture->setStyleSheet("border:1px solid #DAD4C6");
    grid->addWidget(picture, 0, 0, 3, 1, Qt::AlignTop);
    auto* title = new QLabel(q(view.title));
    title->setTextFormat(Qt::PlainText);
    title->setWordWrap(true);
    title->setFont(theme::font(13, 600));
    grid->addWidget(title, 0, 1);
    auto* by = new QLabel(q(view.by.person) + ", " + q(timeInWords(view.by.time)) + (view.version > 1 ? ", version " + QString::number(view.version) : "") +
                          (view.isShared ? "" : ", private"));
    by->setFont(theme::font(11));
    by->setWordWrap(true);
    by->setStyleSheet("color:#5F6B70");
    grid->addWidget(by, 1, 1);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(4);
    const auto add = [&](const QString& name, const QString& words, const QString& tip, std::function<void()> press) {
        auto* button = new QPushButton(words);
        button->setObjectName(name);
        button->setProperty("chip", true);
        button->setToolTip(tip);
        button->setAccessibleName(words + " " + q(view.title));
        // Queued: pressing usually rebuilds this very panel.
        QObject::connect(button, &QPushButton::clicked, &details, std::move(press), Qt::QueuedConnection);
        buttons->addWidget(button);
    };
    const auto again = [&details, at] { showKeptViews(details, at); };
    add("openView", "Open", "Put the scene as it was", [at, view] { openView(at, view); });
    add("updateView", "Update", "Keep what shows now as its next version", [at, view, again] {
        if (keep(at, view))
            again();
    });
    add("removeView", "Remove", "Ctrl+Z brings it back", [at, view, again] {
        if (at.session.apply(at.session.project().removeView(view.uuid, at.session.now()), "View removed: " + q(view.title)))
            again();
    });
    buttons->addStretch(1);
    grid->addLayout(buttons, 2, 1);
    return box;
}

} // namespace

void openView(const ViewsContext& at, const project::KeptView& view)
{
    const auto state = view::fromJson(view.state);
    if (!state) {
        at.session.apply(fail(state.error()), {});
        return;
    }
    const std::size_t missing = at.scene.restore(*state);
    at.measure.setResults(state->measurements);
    QString words = "Opened: " + q(view.title);
    if (missing > 0)
        words += "; " + q(counted(missing, "element of it is", "elements of it are")) + " no longer there";
    at.session.apply({}, words + ".");
}

void showKeptViews(Details& details, const ViewsContext& at)
{
    details.clear();
    details.addTitle("Views");
    if (!at.session.hasProject()) {
        details.addText("Open a project; views are kept in it.");
        details.finish();
        return;
    }
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
    auto* isShared = new QCheckBox("shared");
    isShared->setObjectName("viewShared");
    isShared->setChecked(true);
    isShared->setToolTip("Else only you see it");
    auto* button = new QPushButton("Keep view");
    button->setObjectName("keepView");
    button->setEnabled(false);
    QObject::connect(title, &QLineEdit::textChanged, button, [button](const QString& words) { button->setEnabled(!words.trimmed().isEmpty()); });
    grid->addWidget(title, 0, 0, 1, 2);
    grid->addWidget(folder, 1, 0, 1, 2);
    grid->addWidget(isShared, 2, 0);
    grid->addWidget(button, 2, 1, Qt::AlignRight);
    const auto press = [&details, at, title, folder, isShared] {
        project::KeptView view;
        view.title = title->text().trimmed().toStdString();
        view.folder = folder->text().trimmed().toStdString();
        view.isShared = isShared->isChecked();
        if (!view.title.empty() && keep(at, view))
            showKeptViews(details, at);
    };
    QObject::connect(button, &QPushButton::clicked, form, press, Qt::QueuedConnection);
    QObject::connect(title, &QLineEdit::returnPressed, form, press, Qt::QueuedConnection);
    details.addWidget(form);
    const auto views = at.session.project().keptViews(at.session.person().toStdString());
    if (views.empty())
        details.addText("None is kept yet. A kept view restores where one looks from, what is shown, hidden, coloured and cut, and what was measured.");
    std::optional<std::string> heading;
    for (const project::KeptView& view : views) {
        if (heading != view.folder) {
            heading = view.folder;
            details.addHeading(q(view.folder.empty() ? "In no folder" : view.folder));
        }
        details.addWidget(viewBox(details, at, view));
    }
    details.finish();
}

} // namespace wendrix::app
