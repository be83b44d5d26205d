#include "app/scene_fixture.h"

#include <QApplication>

#include <cmath>

namespace wendrix::test {

void AtTheModel::open()
{
    at_ = std::make_unique<test::WindowFixture>();
    at_->openDemo();
    at_->clickStage("Coordinates");
    for (int row = 0; row < at_->rows("Coordinates").rowCount(); ++row) {
        at_->clickRow("Coordinates", row);
        at_->press(Qt::Key_A); // the second model of a delivery has its fit by then
        at_->waitIdle();
    }
    at_->clickStage("Clashes"); // its scene is large, and nothing is painted there yet
}

void AtTheModel::reset()
{
    at_->window().tools().endAll();
    scene().setCuts({});
    scene().setRule({});
    scene().choose({});
    scene().setMarks({});
    at_->window().sceneTools().measure().setResults({});
    QVERIFY(at_->clickButton("lookAll"));
    scene().setParallel(false);
    scene().finishMotion();
    scene().setFocus();
}

QPoint AtTheModel::pixelOf(Point3 place)
{
    const auto s = view::project(scene().camera(), scene().viewport(), place);
    return {static_cast<int>(std::lround(s.x)), static_cast<int>(std::lround(s.y))};
}

view::ElementKey AtTheModel::named(const std::string& name, std::uint32_t member)
{
    const auto& model = *scene().members()[member].model;
    for (ifc::ElementIndex e = 0; e < model.elements().size(); ++e)
        if (model.displayName(model.elements()[e]).find(name) != std::string::npos)
            return {member, e};
    return {member, 0};
}

void AtTheModel::click(QPoint at, Qt::KeyboardModifiers modifiers)
{
    QTest::mouseClick(&scene(), Qt::LeftButton, modifiers, at);
    QApplication::processEvents(); // panels that were written anew show themselves
}

void AtTheModel::drag(QPoint from, QPoint to, Qt::KeyboardModifiers modifiers)
{
    QTest::mousePress(&scene(), Qt::LeftButton, modifiers, from);
    for (const QPoint at : {(from + to) / 2, to}) {
        QMouseEvent move(QEvent::MouseMove, at, scene().mapToGlobal(at), Qt::NoButton, Qt::LeftButton, modifiers);
        QApplication::sendEvent(&scene(), &move);
    }
    QTest::mouseRelease(&scene(), Qt::LeftButton, modifiers, to);
}

} // namespace wendrix::test
