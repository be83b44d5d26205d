#include "app/own_project.h"

#include "core/project/test_sheets.h"

#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QLineEdit>

#include <algorithm>

using namespace wendrix;
using test::MadeModel;
using test::must;

/// What is seen of a clash, and what is made of it: the space both take, holes, gaps, what is cut open; issues by
/// templates, reports. The building's every clash is known.
class TestClashView : public QObject {
    Q_OBJECT
private slots:
    void init();
    void cleanupTestCase() { at_.reset(); }
    void theSpaceBothTakeIsShown();
    void aMissingHoleIsOutlined();
    void aHoleInTheWrongPlaceIsShownWithItsShift();
    void whatIsBuriedIsCutOpen();
    void aGapIsAnArrow();
    void manyPairsShowTheirBodies();
    void steppingFastShowsTheLast();
    void aGroupHasItsHistory();
    void anIssueIsMadeByATemplate();
    void eachPairGetsItsIssue();
    void aReportHasAPictureOfEachGroup_data();
    void aReportHasAPictureOfEachGroup();
    void aCancelledReportWritesNothing();
    void theWindowMayBeClosedMeanwhile();

private:
    void open();
    void chooseRow(const QString& words)
    {
        const int row = at_->rowWith("Clashes", words);
        QVERIFY2(row >= 0, qPrintable(words));
        at_->clickRow("Clashes", row);
        at_->waitIdle();
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = {})
    {
        at_->press(key, modifiers);
        at_->waitIdle();
    }
    [[nodiscard]] const std::vector<view::Figure>& figures() { return at_->scene().document().figures(); }
    std::unique_ptr<test::OwnProject> at_;
};

void TestClashView::open()
{
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty();
    MadeModel building, piping;
    building.name = "Architecture";
    building.boxes = {{"Wall 1", {0, 0, 0}, {12, 0.25, 3.4}, "IFCWALL"},
                      {"Ceiling", {0, 3, 2.5}, {6, 7, 2.52}, "IFCCOVERING"},
                      {"Block", {8, 3, 0}, {11, 6, 2.5}, "IFCFOOTING"}};
    piping.name = "Piping";
    piping.boxes = {
        {"Pipe 1", {2, -2, 2.0}, {2.2, 2, 2.2}, "IFCPIPESEGMENT"},
        {"Hole 1", {2.5, -0.1, 1.9}, {2.9, 0.35, 2.3}, "IFCBUILDINGELEMENTPROXY", {}, {}, "PROVISIONFORVOID"},
        {"Pipe 2", {6, -2, 2.0}, {6.2, 2, 2.2}, "IFCPIPESEGMENT"},
        {"Duct 3", {1, 4, 2.78}, {5, 5, 3.1}, "IFCDUCTSEGMENT"},
        {"Sensor", {9.2, 4.2, 1}, {9.5, 4.5, 1.3}, "IFCSENSOR"}};
    QVERIFY(at_->takeIn(building, "P01"));
    QVERIFY(at_->takeIn(piping, "P01"));
    clash::TestSheet sheet = must(project::sheetsInForce(at_->project()))[0].sheet;
    clash::Test above;
    above.name = "Free above ceilings";
    above.left = "class is Covering";
    above.right = "discipline is Piping";
    above.kind = clash::Kind::Clearance;
    above.clearance = 0.4;
    above.direction = clash::Direction::Up;
    sheet.tests.push_back(above);
    QVERIFY(at_->change([&](project::Project& p) {
        return p.clashes().keepSheet(sheet, "Test added: " + above.name, at_->session().now());
    }));
    at_->clickStage("Clashes");
    press(Qt::Key_R);
    QCOMPARE(must(at_->project().clashes().all()).size(), std::size_t{4});
}

void TestClashView::init()
{
    if (at_ == nullptr)
        open();
    at_->clickStage("Clashes");
    while (must(at_->project().log().undoable("Ines Varga")).starts_with("Issue")) // as it was found
        press(Qt::Key_Z, Qt::ControlModifier);
}

void TestClashView::theSpaceBothTakeIsShown()
{
    chooseRow("Pipe 2");
    QCOMPARE(figures()[0].isOutline, false);
    QVERIFY(std::abs(geometry::volumeOf(*figures()[0].mesh) - 0.2 * 0.2 * 0.25) < 1e-9);
    QCOMPARE(app::toQColor(figures()[0].colour), app::theme::kOverlap);
    // And it is on the screen, though it lies within the wall.
    at_->scene().finishMotion();
    const Point3 place = figures()[0].origin + geometry::boundsOf(*figures()[0].mesh).centre();
    const auto seen = view::project(at_->scene().camera(), at_->scene().viewport(), place);
    const auto isAmber = [&] {
        for (const QPoint by : {QPoint(5, 5), QPoint(-5, 5), QPoint(0, 6)}) {
            const QColor c = at_->pixel(QPoint(static_cast<int>(seen.x), static_cast<int>(seen.y)) + by);
            if (c.red() > 170 && c.green() > 110 && c.blue() < 60)
                return true;
        }
        return false;
    };
    QTRY_VERIFY(isAmber());
    // It goes with what it explains.
    press(Qt::Key_V);
    QVERIFY(figures().empty());
    press(Qt::Key_V);
}

void TestClashView::aMissingHoleIsOutlined()
{
    chooseRow("Pipe 2");
    QVERIFY(at_->details().contains("No hole is provided near by; 200 x 200 mm pass through."));
    QCOMPARE(figures().size(), std::size_t{2});
    QVERIFY(figures()[1].isOutline);
    const Box3 box = geometry::boundsOf(*figures()[1].mesh);
    QVERIFY(box.size().x > 0.2 && box.size().x < 0.25 && box.size().y > 0.25 && box.size().z > 0.2);
    QVERIFY(at_->scene().document().arrows().empty());
}

void TestClashView::aHoleInTheWrongPlaceIsShownWithItsShift()
{
    chooseRow("Pipe 1");
    QVERIFY(at_->details().contains("Provided hole Hole 1 is 600 mm beside what passes."));
    QCOMPARE(figures().size(), std::size_t{2});
    const auto& arrows = at_->scene().document().arrows();
    QCOMPARE(arrows.size(), std::size_t{1});
    QCOMPARE(arrows[0].words, std::string("600 mm"));
    QVERIFY(length(arrows[0].to - arrows[0].from - Vector3{-0.6, 0, 0}) < 1e-9);
}

void TestClashView::whatIsBuriedIsCutOpen()
{
    chooseRow("Block crosses Sensor");
    const auto& opened = at_->scene().document().opened();
    QVERIFY(opened.has_value());
    QVERIFY(std::abs(opened->normal.z) < 1e-9); // upright
    QVERIFY(dot(opened->normal, at_->scene().camera().eye - opened->at) > 0);
    QVERIFY(at_->scene().cuts().isEmpty());
    QTRY_VERIFY(at_->selectionWords().contains("cut open where they meet"));
    // What is kept of the view is cut open, too; the next is not.
    QCOMPARE(at_->scene().state().cuts.planes.size(), std::size_t{1});
    chooseRow("Pipe 2");
    QVERIFY(!at_->scene().document().opened());
    QVERIFY(!at_->selectionWords().contains("cut open"));
}

void TestClashView::aGapIsAnArrow()
{
    chooseRow("Ceiling is too near Duct 3");
    QVERIFY(figures().empty());
    const auto& arrows = at_->scene().document().arrows();
    QCOMPARE(arrows.size(), std::size_t{1});
    QCOMPARE(arrows[0].words, std::string("260 mm"));
    QVERIFY(std::abs(arrows[0].from.z - 2.52) < 1e-9 && std::abs(arrows[0].to.z - 2.78) < 1e-9);
    QVERIFY(at_->details().contains("of 400 mm that are wanted"));
}

void TestClashView::manyPairsShowTheirBodies()
{
    chooseRow("Wall 1 crosses 2 pipes");
    const auto bodies = std::count_if(figures().begin(), figures().end(), [](const view::Figure& f) {
        return app::toQColor(f.colour) == app::theme::kOverlap;
    });
    QCOMPARE(bodies, std::ptrdiff_t{2});
    QVERIFY(at_->details().contains("2 pass through, 1 without a hole near by, 1 beside one."));
}

void TestClashView::steppingFastShowsTheLast()
{
    chooseRow("Wall 1 crosses 2 pipes");
    for (int i = 0; i < 4; ++i)
        at_->press(Qt::Key_J); // nobody waits
    at_->waitIdle();
    QVERIFY(at_->details().contains("of 400 mm that are wanted"));
    QVERIFY(figures().empty());
    QCOMPARE(at_->scene().document().arrows().size(), std::size_t{1});
}

void TestClashView::aGroupHasItsHistory()
{
    chooseRow("Wall 1 crosses 2 pipes");
    QVERIFY(at_->details().contains("2 new"));
    press(Qt::Key_R);
    chooseRow("Wall 1 crosses 2 pipes");
    QVERIFY(at_->details().contains("2 new") && at_->details().contains("2 still there"));
}

void TestClashView::anIssueIsMadeByATemplate()
{
    issues::IssueTemplate holes = issues::IssueTemplate::usual();
    holes.name = "Holes";
    holes.title = "Hole for {right} in {left}";
    holes.description = "{depth}, {storey}";
    holes.assignee = "{left}";
    holes.labels = {"Holes to cut"};
    QVERIFY(at_->change([&](project::Project& p) { return p.issues().keepTemplate(holes, "", at_->session().now()); }));
    chooseRow("Pipe 2");
    auto& with = at_->field<QComboBox>("issueTemplate");
    QCOMPARE(with.count(), 2);
    with.setFocus();
    QTest::keyClick(&with, Qt::Key_Down);
    QCOMPARE(with.currentText(), QString("Holes"));
    QVERIFY(at_->details().contains("“Hole for Pipe 2 in Wall 1”, to Architecture, priority high, due "));
    at_->list("Clashes").view().setFocus();
    press(Qt::Key_F);
    const auto made = must(at_->project().issues().all());
    QCOMPARE(made.size(), std::size_t{1});
    QCOMPARE(made[0].title, std::string("Hole for Pipe 2 in Wall 1"));
    QVERIFY(made[0].assignee == "Architecture" && made[0].labels == std::vector<std::string>{"Holes to cut"});
    QVERIFY(!must(at_->project().issues().find(made[0].uuid, true))->viewpoints[0].snapshot.empty());
    press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(must(at_->project().issues().all()).empty());
    QVERIFY(at_->change([&](project::Project& p) { return p.issues().removeTemplate("Holes", at_->session().now()); }));
}

void TestClashView::eachPairGetsItsIssue()
{
    chooseRow("Wall 1 crosses 2 pipes");
    auto& each = at_->field<QComboBox>("issuesOf");
    QCOMPARE(each.count(), 2); // of one group there is none for each
    each.setFocus();
    QTest::keyClick(&each, Qt::Key_Down);
    QVERIFY(at_->details().contains("2 issues, one a pair, as “Clash” has it"));
    at_->list("Clashes").view().setFocus();
    press(Qt::Key_F);
    const auto made = must(at_->project().issues().all());
    QCOMPARE(made.size(), std::size_t{2});
    QCOMPARE(made[0].title, std::string("Wall 1 × Pipe 1"));
    std::vector<std::string> pictures;
    for (const issues::Issue& i : made)
        pictures.push_back(must(at_->project().issues().find(i.uuid, true))->viewpoints[0].snapshot);
    QVERIFY(!pictures[0].empty() && !pictures[1].empty() && pictures[0] != pictures[1]);
    QImage picture;
    QVERIFY(picture.loadFromData(QByteArray::fromStdString(pictures[0]), "PNG"));
    QVERIFY(must(at_->project().clashes().ofIssue(made[0].uuid)).size() == 1);
    QVERIFY2(at_->message().contains("2 issues made, "), qPrintable(at_->message()));
    press(Qt::Key_Z, Qt::ControlModifier); // one step
    QVERIFY(must(at_->project().issues().all()).empty());
    // Of several groups one each.
    at_->list("Clashes").view().selectAll();
    at_->waitIdle();
    auto& again = at_->field<QComboBox>("issuesOf");
    QCOMPARE(again.count(), 3);
    again.setFocus();
    QTest::keyClick(&again, Qt::Key_Up);
    QVERIFY2(at_->details().contains("3 issues, one a group, as “Clash” has it"), qPrintable(at_->details()));
    at_->list("Clashes").view().setFocus();
    press(Qt::Key_F);
    const auto byGroup = must(at_->project().issues().all());
    QCOMPARE(byGroup.size(), std::size_t{3});
    QCOMPARE(byGroup[0].title, std::string("Wall 1 crosses 2 pipes"));
    QCOMPARE(must(at_->project().clashes().ofIssue(byGroup[0].uuid)).size(), std::size_t{2});
    press(Qt::Key_Z, Qt::ControlModifier);
    chooseRow("Wall 1 crosses 2 pipes");
    QTest::keyClick(&at_->field<QComboBox>("issuesOf"), Qt::Key_Home);
}

void TestClashView::aReportHasAPictureOfEachGroup_data()
{
    QTest::addColumn<QString>("name");
    QTest::newRow("a page") << "report.html";
    QTest::newRow("for print") << "report.pdf";
}

void TestClashView::aReportHasAPictureOfEachGroup()
{
    QFETCH(QString, name);
    chooseRow("Pipe 2");
    const auto figuresBefore = figures();
    const view::Camera camera = at_->scene().camera();
    const QString file = at_->folder() + "/" + name;
    const auto asked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("exportClashes"));
    QTRY_VERIFY(*asked);
    at_->waitIdle();
    QTRY_VERIFY(QFile::exists(file));
    QVERIFY2(at_->message().contains("3 groups written"), qPrintable(at_->message()));
    QFile written(file);
    QVERIFY(written.open(QIODevice::ReadOnly));
    const QByteArray bytes = written.readAll();
    if (name.endsWith("pdf")) {
        QVERIFY(bytes.startsWith("%PDF"));
        QCOMPARE(bytes.count("/Subtype /Image"), 3);
    } else {
        QCOMPARE(bytes.count("<img src='data:image/png;base64,"), 3);
        QVERIFY(bytes.contains("Wall 1 crosses 2 pipes") && bytes.contains("260 mm of 400 mm"));
        // Three different pictures.
        QSet<QByteArray> pictures;
        for (qsizetype at = bytes.indexOf("base64,"); at >= 0; at = bytes.indexOf("base64,", at + 1)) {
            const QByteArray code = bytes.mid(at + 7, bytes.indexOf('\'', at) - at - 7);
            QImage image;
            QVERIFY(image.loadFromData(QByteArray::fromBase64(code), "PNG"));
            QVERIFY(image.width() >= 640);
            pictures.insert(code);
        }
        QCOMPARE(pictures.size(), 3);
    }
    // What one looks at is as it was.
    QCOMPARE(figures(), figuresBefore);
    QCOMPARE(at_->scene().camera(), camera);
}

void TestClashView::aCancelledReportWritesNothing()
{
    const QString file = at_->folder() + "/cancelled.html";
    const auto asked = at_->answerFileDialog({file});
    const auto connection = connect(&at_->session().jobs(), &app::Jobs::changed, this, [this] {
        if (!at_->session().jobs().states().isEmpty() && at_->session().jobs().states()[0].words.contains("report"))
            at_->session().jobs().cancelAll();
    });
    QVERIFY(at_->clickButton("exportClashes"));
    QTRY_VERIFY(*asked);
    at_->waitIdle();
    disconnect(connection);
    QVERIFY2(at_->message().contains("The report was cancelled; nothing was written."), qPrintable(at_->message()));
    QVERIFY(!QFile::exists(file));
}

void TestClashView::theWindowMayBeClosedMeanwhile()
{
    const QString file = QDir::tempPath() + "/closed-meanwhile.html";
    QFile::remove(file);
    const auto asked = at_->answerFileDialog({file});
    QSignalSpy begun(&at_->session().jobs(), &app::Jobs::changed);
    QVERIFY(at_->clickButton("exportClashes"));
    QTRY_VERIFY(*asked && !begun.isEmpty());
    at_.reset(); // waits for its jobs, and they for no picture
    QVERIFY(!QFile::exists(file));
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestClashView test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_clash_view.moc"
