#include "shell/group_panel.h"

#include "scene/scene_view.h"
#include "shell/session.h"
#include "shell/stage.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>

namespace wendrix::app {

QWidget* groupForm(Session& session, const SceneView& scene, std::function<void()> done)
{
    auto* form = new QWidget;
    auto* grid = new QGridLayout(form);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(4);
    auto* name = new QLineEdit;
    name->setObjectName("groupName");
    name->setPlaceholderText("Name of a new group, as \"Services\"");
    grid->addWidget(name, 0, 0, 1, 2);
    QVector<QCheckBox*> ticks;
    for (std::size_t m = 0; m < scene.members().size(); ++m) {
        if (scene.looks()[m].isOnlyPainted)
            continue;
        auto* tick = new QCheckBox(q(scene.members()[m].discipline));
        tick->setObjectName("groupMember" + QString::number(m));
        const int cell = static_cast<int>(ticks.size());
        grid->addWidget(tick, 1 + cell / 2, cell % 2);
        ticks.append(tick);
    }
    auto* button = new QPushButton("Make group");
    button->setObjectName("makeGroup");
    const auto chosen = [ticks] {
        std::vector<std::string> disciplines;
        for (const QCheckBox* tick : ticks)
            if (tick->isChecked())
                disciplines.push_back(tick->text().toStdString());
        return disciplines;
    };
    const auto look = [button, name, chosen] {
        button->setEnabled(!name->text().trimmed().isEmpty() && !chosen().empty());
    };
    look();
    QObject::connect(name, &QLineEdit::textChanged, button, look);
    for (const QCheckBox* tick : ticks)
        QObject::connect(tick, &QCheckBox::toggled, button, look);
    QObject::connect(
        button, &QPushButton::clicked, form,
        [&session, name, chosen, done = std::move(done)] {
            const project::MemberGroup group{name->text().trimmed().toStdString(), chosen()};
            session.write(
                [group, who = session.now()](project::Project& p) {
                    return Session::saying(p.setup().setMemberGroup(group, who), "Group made: " + group.name);
                },
                [done](bool isDone) {
                    if (isDone)
                        done();
                });
        },
        Qt::QueuedConnection);
    grid->addWidget(button, 2 + static_cast<int>(ticks.size()) / 2, 1, Qt::AlignRight);
    return form;
}

} // namespace wendrix::app
