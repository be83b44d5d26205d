#include "app/issue_fixture.h"

#include "core/base/text.h"
#include "core/view/viewpoint_look.h"

#include <QLineEdit>
#include <QPlainTextEdit>

#include <algorithm>

using namespace wendrix;
using test::must;

/// Issues made in the window of what is seen: of a selection or the view, one for all or one each, by templates.
class TestIssueMaking : public QObject {
    Q_OBJECT
private slots:
    void init() { at_ = std::make_unique<test::IssueProject>(); }
    void cleanup() { at_.reset(); }
    void anIssueIsMadeOfTheSelection();
    void severalAreOneForAllOrOneEach();
    void escapeMakesNone();
    void templatesOfASourceAreOffered();
    void setsSayWhoIsGivenIt();

private:
    void keep(const issues::IssueTemplate& t)
    {
        if (!at_->change([&](project::Project& p) { return p.issues().keepTemplate(t, "", at_->session().now()); }))
            qFatal("not kept");
    }
    void selectBoth()
    {
        at_->clickStage("Deliveries");
        at_->scene().choose({at_->box("Wall 1"), at_->box("Wall 2")});
    }
    std::unique_ptr<test::IssueProject> at_;
};

void TestIssueMaking::anIssueIsMadeOfTheSelection()
{
    at_->clickStage("Deliveries");
    at_->select("Wall 1");
    at_->pressAndWait(Qt::Key_H); // hidden, so it is not selected any more
    at_->select("Wall 2");
    at_->pressAndWait(Qt::Key_I);
    QCOMPARE(at_->all().size(), std::size_t{1});
    const issues::Issue i = at_->all()[0];
    QCOMPARE(i.title, std::string("Wall 2"));
    QCOMPARE(i.viewpoints.size(), std::size_t{1});
    const view::ViewpointLook look = view::lookOf(i.viewpoints[0], at_->scene().members());
    QVERIFY(look.selected == std::set{at_->box("Wall 2")} && look.hidden == std::set{at_->box("Wall 1")});
    QVERIFY(i.viewpoints[0].camera && i.viewpoints[0].camera->aspect > 0);
    QVERIFY(must(at_->project().issues().find(i.uuid, true))->viewpoints[0].snapshot.starts_with("\x89PNG"));
    // Its title is what one writes next.
    auto& title = at_->field<QPlainTextEdit>("field:title");
    QVERIFY(title.isVisible());
    title.setFocus();
    title.selectAll();
    QTest::keyClicks(&title, "Wall is too thin");
    at_->field<QLineEdit>("field:labels").setFocus(); // left, and kept
    at_->waitIdle();
    QCOMPARE(at_->all()[0].title, std::string("Wall is too thin"));
    // The same elements once more: that is said.
    at_->clickStage("Deliveries");
    at_->select("Wall 2");
    at_->pressAndWait(Qt::Key_I);
    QCOMPARE(at_->all().size(), std::size_t{2});
    QVERIFY2(at_->message().contains("1 open issue already concerns these elements: SVA-001"),
             qPrintable(at_->message()));
    // And one of the view alone.
    at_->clickStage("Deliveries");
    at_->scene().choose({});
    at_->pressAndWait(Qt::Key_I);
    QCOMPARE(must(at_->project().issues().kept(at_->all()[2].uuid))->madeFrom, std::string("view"));
}

void TestIssueMaking::severalAreOneForAllOrOneEach()
{
    selectBoth();
    at_->press(Qt::Key_I);
    QCOMPARE(at_->ways(), (QStringList{"One issue for all 2", "An issue for each of 2"}));
    QVERIFY(at_->goWay("An issue for each of 2"));
    QTRY_COMPARE(at_->all().size(), std::size_t{2});
    at_->waitIdle();
    for (const auto& [number, name] : {std::pair{0, "Wall 1"}, std::pair{1, "Wall 2"}}) {
        const issues::Issue i =
            must(at_->project().issues().find(at_->all()[static_cast<std::size_t>(number)].uuid, true)).value();
        QCOMPARE(i.title, std::string(name));
        QCOMPARE(i.viewpoints.size(), std::size_t{1});
        const view::ViewpointLook look = view::lookOf(i.viewpoints[0], at_->scene().members());
        QVERIFY(look.selected == std::set{at_->box(name)} && i.viewpoints[0].snapshot.starts_with("\x89PNG"));
        // From where all of it is seen.
        const view::Camera camera =
            view::fromViewpoint(i.viewpoints[0].camera.value(), 8, at_->scene().viewport().aspect());
        const Box3 own = view::boundsOf(at_->scene().members(), at_->box(name));
        for (const Point3& corner : {own.min, own.max, Point3{own.min.x, own.max.y, own.max.z}}) {
            const view::ScreenPlace seen = view::project(camera, at_->scene().viewport(), corner);
            QVERIFY(seen.isInFront && seen.x > 0 && seen.y > 0 && seen.x < at_->scene().viewport().width &&
                    seen.y < at_->scene().viewport().height);
        }
    }
    QVERIFY2(at_->message().contains("2 issues made, SVA-001 to SVA-002"), qPrintable(at_->message()));
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(at_->all().empty()); // one step
    // Of one of them there is one already: that is said of each on its own.
    (void)at_->made("First", "Open", "", 0);
    selectBoth();
    at_->press(Qt::Key_I);
    QVERIFY(at_->goWay("An issue for each of 2"));
    QTRY_COMPARE(at_->all().size(), std::size_t{3});
    at_->waitIdle();
    QVERIFY2(at_->message().contains("1 open issue already concerns these elements: SVA-003"),
             qPrintable(at_->message()));
    at_->session().undo();
    at_->waitIdle();
    at_->session().undo();
    at_->waitIdle();
    // One for all, by the key that is ready.
    selectBoth();
    at_->press(Qt::Key_I);
    QVERIFY(at_->goWay("One issue for all 2"));
    QTRY_COMPARE(at_->all().size(), std::size_t{1});
    QCOMPARE(at_->all()[0].title, std::string("Wall 1, Wall 2"));
    QCOMPARE(at_->all()[0].viewpoints[0].selection.size(), std::size_t{2});
    QCOMPARE(at_->all()[0].assignee, std::string("Architecture")); // whose they are
}

void TestIssueMaking::escapeMakesNone()
{
    selectBoth();
    at_->press(Qt::Key_I);
    QCOMPARE(at_->ways().size(), 2);
    QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Escape);
    at_->waitIdle();
    QVERIFY(at_->all().empty());
    // And Enter goes the first way.
    at_->press(Qt::Key_I);
    QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Return);
    at_->settle();
    at_->waitIdle();
    QTRY_COMPARE(at_->all().size(), std::size_t{1});
}

void TestIssueMaking::templatesOfASourceAreOffered()
{
    issues::IssueTemplate snag = issues::IssueTemplate::usual(issues::made_from::kSelection);
    snag.name = "Snag";
    snag.title = "Snag: {title}, {where}";
    snag.type = "Request";
    snag.priority = "High";
    snag.daysFor = {{"High", 2}};
    snag.description = "{revisions}, {count}:\n{elements}";
    snag.labels = {"Snag", "{storey}"};
    keep(snag);
    at_->clickStage("Deliveries");
    at_->select("Wall 1");
    at_->press(Qt::Key_I);
    QCOMPARE(at_->ways(), (QStringList{"Selection: one issue", "Snag: one issue"}));
    QVERIFY(at_->goWay("Snag: one issue"));
    QTRY_COMPARE(at_->all().size(), std::size_t{1});
    const issues::Issue i = at_->all()[0];
    QVERIFY2(i.title.starts_with("Snag: Wall 1, Level 1"), i.title.c_str());
    QCOMPARE(i.priority, std::string("High"));
    QCOMPARE(i.dueAt.substr(0, 10), daysLater(at_->session().now().time, 2).substr(0, 10));
    QCOMPARE(i.labels, (std::vector<std::string>{"Snag", "Level 1"}));
    QVERIFY2(i.description.starts_with("Architecture P01, 1:\nWall 1, Level 1"), i.description.c_str());
    QCOMPARE(i.location.storey, std::string("Level 1"));
}

void TestIssueMaking::setsSayWhoIsGivenIt()
{
    issues::IssueTemplate t = issues::IssueTemplate::usual(issues::made_from::kSelection);
    t.assigneeFor = {{"class is Slab", "Structure"}, {"name starts with Wall", "Client"}};
    if (!at_->change([&](project::Project& p) { return p.issues().keepTemplate(t, t.name, at_->session().now()); }))
        qFatal("not kept");
    for (const auto& [name, assignee] : {std::pair{"Slab 1", "Structure"}, std::pair{"Wall 1", "Client"}}) {
        at_->clickStage("Deliveries");
        at_->select(name);
        const std::size_t before = at_->all().size();
        at_->pressAndWait(Qt::Key_I);
        QTRY_COMPARE(at_->all().size(), before + 1);
        QCOMPARE(at_->all().back().assignee, std::string(assignee));
    }
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestIssueMaking test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_issue_making.moc"
