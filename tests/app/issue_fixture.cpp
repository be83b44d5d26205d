#include "app/issue_fixture.h"

#include "core/base/guid.h"
#include "core/project/issue_making.h"

#include <QMenu>

namespace wendrix::test {

IssueProject::IssueProject()
{
    openEmpty({"Architecture", "Structure"});
    MadeModel architecture;
    architecture.name = "Architecture";
    architecture.boxes = {{"Wall 1", {0, 0, 0}, {12, 0.2, 3}, "IFCWALL"},
                          {"Wall 2", {0, 8, 0}, {12, 0.2, 3}, "IFCWALL"},
                          {"Slab 1", {0, 0, -0.3}, {12, 8.2, 0.3}, "IFCSLAB"}};
    if (!takeIn(architecture, "P01"))
        qFatal("not taken in");
    clickStage("Issues");
}

view::ElementKey IssueProject::box(const char* name)
{
    const auto& members = scene().members();
    for (std::uint32_t m = 0; m < members.size(); ++m)
        for (ifc::ElementIndex e = 0; e < members[m].model->elements().size(); ++e)
            if (members[m].model->text(members[m].model->elements()[e].name) == name)
                return {m, e};
    qFatal("no such box");
}

std::string IssueProject::made(const std::string& title, const std::string& status, const std::string& due,
                               std::size_t number)
{
    static constexpr const char* kBoxes[] = {"Wall 1", "Wall 2", "Slab 1"};
    issues::Issue i;
    i.uuid = newUuid();
    i.title = title;
    i.type = "Remark";
    i.status = status;
    i.dueAt = due;
    i.assignee = "Structure";
    issues::Viewpoint v;
    v.uuid = newUuid();
    const view::ElementKey key = box(kBoxes[number % 3]);
    v.selection = {scene().members()[key.member].refOf(key.element)};
    v.camera = issues::Camera{
        {-10, -10, 6}, normalised(Vector3{1, 1, -0.4}), normalised(Vector3{0.2, 0.2, 1}), true, 50, 10, 1.5};
    i.viewpoints = {v};
    if (!change([&](project::Project& p) -> Result<void> {
            const auto numbers = project::makeIssues(p, {{i, {}, issues::made_from::kSelection}}, session().now());
            return numbers ? Result<void>() : Result<void>(tl::unexpected<Error>(numbers.error()));
        }))
        qFatal("not made");
    waitIdle();
    return i.uuid;
}

void IssueProject::open(const std::string& uuid)
{
    list("Issues").choose(QString::fromStdString(uuid));
    waitIdle();
    scene().finishMotion();
}

QStringList IssueProject::ways()
{
    QStringList words;
    for (const QMenu* menu : window().findChildren<QMenu*>("ways"))
        for (const QAction* action : menu->isVisible() ? menu->actions() : QList<QAction*>())
            if (action->isEnabled() && !action->isSeparator())
                words << action->text();
    return words;
}

bool IssueProject::goWay(const QString& words)
{
    for (QMenu* menu : window().findChildren<QMenu*>("ways"))
        for (QAction* action : menu->isVisible() ? menu->actions() : QList<QAction*>())
            if (action->text() == words) {
                QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
                settle();
                waitIdle();
                scene().finishMotion();
                return true;
            }
    return false;
}

} // namespace wendrix::test
