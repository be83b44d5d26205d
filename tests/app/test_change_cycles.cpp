#include "app/window_fixture.h"

#include "changes/changes_stage.h"

#include <QMenu>
#include <QSpinBox>

using namespace wendrix;
using test::must;

/// The demo's compositions of two cycles compared as a person does it.
class TestChangeCycles : public QObject {
    Q_OBJECT
private slots:
    void twoCyclesAreCompared();
};

void TestChangeCycles::twoCyclesAreCompared()
{
    test::WindowFixture at;
    at.openDemo(2);
    for (const char* name : {"Structure P02", "Ventilation P02"}) {
        at.clickStage("Deliveries");
        at.clickCard(at.delivery(name).id);
        at.press(Qt::Key_T);
        at.waitIdle();
        QVERIFY(at.delivery(name).isUsed());
    }
    at.clickStage("Changes");
    at.waitIdle();
    const std::size_t inForce = must(at.project().changes().current()).size();
    QVERIFY(at.clickButton("compareChanges"));
    auto* menu = at.window().findChild<QMenu*>("compareMenu");
    QVERIFY(menu != nullptr);
    for (QAction* one : menu->actions())
        if (one->text().startsWith("Two cycles"))
            one->trigger();
    menu->close();
    at.settle();
    at.field<QSpinBox>("cycleFrom").setValue(1);
    at.field<QSpinBox>("cycleTo").setValue(2);
    QVERIFY(at.clickButton("compareCyclesNow"));
    at.waitIdle();
    // Whoever was in use at the end of both and is not the same: two of five, as one list.
    const auto asked = must(at.project().changes().asked());
    QCOMPARE(asked.size(), std::size_t{2});
    std::set<std::string> disciplines;
    std::size_t total = 0;
    for (const project::ComparisonRecord& k : asked) {
        disciplines.insert(k.discipline);
        total += k.total;
        QVERIFY(must(at.project().deliveries().find(k.from))->revision == "P01" &&
                must(at.project().deliveries().find(k.to))->revision == "P02");
    }
    QVERIFY((disciplines == std::set<std::string>{"Structure", "Ventilation"}));
    QCOMPARE(total, inForce);
    at.press(Qt::Key_T); // one by one
    at.waitIdle();
    QCOMPARE(static_cast<std::size_t>(at.rows("Changes").rowCount()), total);
    QCOMPARE(must(at.project().changes().current()).size(), inForce);
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestChangeCycles test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_change_cycles.moc"
