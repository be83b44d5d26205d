#include "app/scene_fixture.h"

#include "shell/row_list.h"

#include <QApplication>
#include <QCheckBox>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSlider>
#include <QToolButton>

using namespace wendrix;
using test::must;

/// Drawing over views, numbered notes, kept views with their versions, groups of members.
class TestMarking : public test::AtTheModel {
    Q_OBJECT
private slots:
    void initTestCase() { open(); }
    void init() { reset(); }
    void everyMarkIsDrawnAsAsked_data();
    void everyMarkIsDrawnAsAsked();
    void marksBelongToTheirView();
    void marksAreErasedAndTakenBack();
    void marksAreKeptWithTheView();
    void notesAreNumberedAnsweredAndSteppedThrough();
    void aHalfWrittenNoteSurvives();
    void viewsHaveWordsAndOlderVersions();
    void hundredsOfViewsStayAList();
    void withoutAProjectThePanelsSaySo();
    void groupsAreSwitchedTogether();
    void cleanupTestCase() { close(); }

private:
    void begin(view::MarkKind kind)
    {
        QVERIFY(at_->clickButton("markUp"));
        QVERIFY(at_->clickButton("mark" + QString::number(static_cast<int>(kind))));
    }
    template <class Widget>
    Widget* find(const QString& name)
    {
        return at_->window().findChild<Widget*>(name);
    }
    /// How many pixels of the picture have the marks' colour.
    int inkedPixels()
    {
        const QImage image = scene().picture();
        int count = 0;
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x) {
                const QColor c = image.pixelColor(x, y);
                count +=
                    std::abs(c.red() - 0xC8) < 12 && std::abs(c.green() - 0x50) < 12 && std::abs(c.blue() - 0x1E) < 12
                        ? 1
                        : 0;
            }
        return count;
    }
};

void TestMarking::everyMarkIsDrawnAsAsked_data()
{
    QTest::addColumn<int>("kind");
    QTest::addColumn<int>("points");
    QTest::newRow("cloud") << static_cast<int>(view::MarkKind::Cloud) << 2;
    QTest::newRow("ellipse") << static_cast<int>(view::MarkKind::Ellipse) << 2;
    QTest::newRow("rectangle") << static_cast<int>(view::MarkKind::Rectangle) << 2;
    QTest::newRow("line") << static_cast<int>(view::MarkKind::Line) << 2;
    QTest::newRow("arrow") << static_cast<int>(view::MarkKind::Arrow) << 2;
    QTest::newRow("free line") << static_cast<int>(view::MarkKind::FreeLine) << 2; // straight: two points say it
    QTest::newRow("text") << static_cast<int>(view::MarkKind::Text) << 1;
}

void TestMarking::everyMarkIsDrawnAsAsked()
{
    QFETCH(int, kind);
    QFETCH(int, points);
    begin(static_cast<view::MarkKind>(kind));
    const int before = inkedPixels();
    const view::Camera camera = scene().camera();
    const QPoint from(120, 200), to(300, 320);
    if (static_cast<view::MarkKind>(kind) == view::MarkKind::Text) {
        click(from);
        auto* field = find<QLineEdit>("markText");
        QVERIFY(field != nullptr && field->isVisible());
        QTest::keyClicks(field, "205 mm off"); // letters go into the text, not to the window
        QTest::keyClick(field, Qt::Key_Return);
    } else {
        drag(from, to);
    }
    QCOMPARE(scene().marks().size(), std::size_t{1});
    const view::Mark& mark = scene().marks().front();
    QCOMPARE(static_cast<int>(mark.kind), kind);
    QCOMPARE(static_cast<int>(mark.points.size()), points);
    QVERIFY(mark.from == camera && scene().camera() == camera); // drawing does not turn the model
    const Point2 start = view::toPixel(scene().viewport(), mark.points.front());
    QVERIFY(std::abs(start.x - from.x()) < 0.01 && std::abs(start.y - from.y()) < 0.01);
    QVERIFY(inkedPixels() > before + 60);
    QVERIFY(at_->selectionWords().contains("1 mark"));
    const QImage large = scene().picture({1800, 1400}, true); // it is in pictures too
    QVERIFY(large != scene().picture({1800, 1400}, false));
}

void TestMarking::marksBelongToTheirView()
{
    begin(view::MarkKind::Rectangle);
    drag({120, 200}, {300, 320});
    const view::Camera camera = scene().camera();
    const int drawn = inkedPixels();
    scene().setFocus();
    at_->press(Qt::Key_Left);
    QVERIFY(inkedPixels() < drawn / 2);
    QVERIFY(at_->selectionWords().contains("1 mark belongs to another view"));
    drag({100, 150}, {200, 260});
    QCOMPARE(scene().marks().size(), std::size_t{2}); // one here, one there: none is lost
    QVERIFY(at_->clickButton("markOthers"));
    QVERIFY(view::isSameView(scene().camera(), camera));
    QCOMPARE(inkedPixels(), drawn);
    at_->press(Qt::Key_Escape);
    QVERIFY(at_->window().tools().inHand().isEmpty());
    QCOMPARE(inkedPixels(), drawn); // they stay when the tool is put away
}

void TestMarking::marksAreErasedAndTakenBack()
{
    begin(view::MarkKind::Line);
    drag({120, 200}, {300, 200});
    drag({120, 260}, {300, 260});
    drag({120, 320}, {300, 320});
    QVERIFY(at_->clickButton("markErase"));
    click({200, 230}); // between two
    QCOMPARE(scene().marks().size(), std::size_t{3});
    QVERIFY(at_->message().contains("no mark here"));
    click({200, 262});
    QCOMPARE(scene().marks().size(), std::size_t{2});
    QVERIFY(std::abs(view::toPixel(scene().viewport(), scene().marks()[1].points[0]).y - 320) < 0.01);
    const auto actions = must(at_->project().log().undoable("Ines Varga"));
    at_->press(Qt::Key_Z, Qt::ControlModifier); // takes back a mark, not the project's last action
    QCOMPARE(scene().marks().size(), std::size_t{1});
    QCOMPARE(must(at_->project().log().undoable("Ines Varga")), actions);
    QVERIFY(at_->clickButton("markClear"));
    QVERIFY(scene().marks().empty());
    QVERIFY(at_->clickButton("mark0"));
    drag({120, 200}, {122, 201}); // a hand that trembled
    QVERIFY(scene().marks().empty());
}

void TestMarking::marksAreKeptWithTheView()
{
    begin(view::MarkKind::Cloud);
    drag({120, 200}, {300, 320});
    const QImage drawn = scene().picture();
    QVERIFY(at_->clickButton("views"));
    find<QLineEdit>("viewTitle")->setText("Cloud");
    QVERIFY(at_->clickButton("keepView"));
    scene().setMarks({});
    QVERIFY(at_->clickButton("lookAll"));
    at_->press(Qt::Key_Right);
    QVERIFY(at_->clickButton("views"));
    QVERIFY(at_->clickButton("openView"));
    QTRY_COMPARE(scene().marks().size(), std::size_t{1});
    QCOMPARE(scene().picture(), drawn);
    QVERIFY(at_->clickButton("views"));
    QVERIFY(at_->clickButton("openView")); // once more: it is not there twice
    QCOMPARE(scene().marks().size(), std::size_t{1});
    QVERIFY(at_->change([&](project::Project& p) { return p.undo(at_->session().now()); }));
}

void TestMarking::notesAreNumberedAnsweredAndSteppedThrough()
{
    QVERIFY(at_->clickButton("markUp"));
    QVERIFY(at_->details().contains("None yet"));
    const QPoint places[] = {scene().rect().center(), {150, 240}};
    for (int i = 0; i < 2; ++i) {
        QVERIFY(at_->clickButton("markNote"));
        const auto under = scene().pickAt(places[i]);
        click(places[i]);
        auto* words = find<QPlainTextEdit>("noteWords");
        QVERIFY(words != nullptr && words->hasFocus());
        QTest::keyClicks(words, i == 0 ? "Move the duct, please" : "And here");
        QVERIFY(at_->clickButton("writeNote"));
        QTRY_COMPARE(must(at_->project().views().notes()).size(), static_cast<std::size_t>(i + 1));
        const project::Note note = must(at_->project().views().notes()).back();
        QCOMPARE(note.number, i + 1);
        if (under)
            QVERIFY(length(note.place - under->place) < 1e-9);
        if (i == 0) { // the second is seen from elsewhere
            scene().setFocus();
            at_->press(Qt::Key_Left);
            scene().finishMotion();
        }
    }
    const view::Camera second = scene().camera();
    // The empty words of a third are refused and nothing is lost.
    QVERIFY(at_->clickButton("markNote"));
    click(places[0]);
    QVERIFY(at_->clickButton("writeNote"));
    QVERIFY(at_->message().contains("needs words"));
    QVERIFY(at_->clickButton("dropNote"));

    scene().setFocus();
    at_->press(Qt::Key_K);
    QTRY_VERIFY(at_->details().contains("Note 1"));
    QVERIFY(!view::isSameView(scene().camera(), second));
    QTest::keyClicks(find<QPlainTextEdit>("noteAnswer"), "It goes 100 mm down");
    QVERIFY(at_->clickButton("answerNote"));
    QTRY_COMPARE(must(at_->project().views().notes())[0].status(), std::string("answered"));
    QTRY_VERIFY(at_->details().contains("It goes 100 mm down") && at_->details().contains("1 answered"));
    QVERIFY(at_->clickButton("settleNote"));
    QTRY_COMPARE(must(at_->project().views().notes())[0].status(), std::string("settled"));
    scene().setFocus();
    at_->press(Qt::Key_J);
    QTRY_VERIFY(view::isSameView(scene().camera(), second));
    at_->press(Qt::Key_J); // the last stays
    QVERIFY(view::isSameView(scene().camera(), second));
    QVERIFY(at_->clickButton("removeNote"));
    QTRY_COMPARE(must(at_->project().views().notes()).size(), std::size_t{1});
    at_->press(Qt::Key_Escape);
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(must(at_->project().views().notes()).size(), std::size_t{2});
}

void TestMarking::aHalfWrittenNoteSurvives()
{
    // Somebody else writes to the project while one is in the middle of a word: a note's, then an answer's.
    app::Session other("Jon Alder");
    other.open(project::Project::open(at_->project().folder()).value());
    const auto elsewhere = [&](const char* words) {
        project::Note note;
        note.state = view::toJson(scene().state());
        note.said.push_back({project::Note::kOpen, words, {}});
        const auto before = must(at_->project().views().notes()).size();
        other.write([note, who = other.now()](project::Project& p) {
            return app::Session::saying(p.views().addNote(note, "", who));
        });
        QTRY_COMPARE(must(at_->project().views().notes()).size(), before + 1);
        QTRY_VERIFY(!other.isAwaiting());
        at_->settle();
    };
    QVERIFY(at_->clickButton("markUp"));
    QVERIFY(at_->clickButton("markNote"));
    click(scene().rect().center());
    QTest::keyClicks(find<QPlainTextEdit>("noteWords"), "Move the du");
    elsewhere("From elsewhere");
    QCOMPARE(find<QPlainTextEdit>("noteWords")->toPlainText(), QString("Move the du"));
    QVERIFY(find<QPlainTextEdit>("noteWords")->hasFocus());
    QTest::keyClicks(find<QPlainTextEdit>("noteWords"), "ct");
    QVERIFY(at_->clickButton("writeNote"));
    QTRY_VERIFY(at_->details().contains("Move the duct"));
    QTest::keyClicks(find<QPlainTextEdit>("noteAnswer"), "By how mu");
    elsewhere("Once more");
    QCOMPARE(find<QPlainTextEdit>("noteAnswer")->toPlainText(), QString("By how mu"));
    QTest::keyClicks(find<QPlainTextEdit>("noteAnswer"), "ch?");
    QVERIFY(at_->clickButton("answerNote"));
    QTRY_VERIFY(at_->details().contains("By how much?"));
}

void TestMarking::viewsHaveWordsAndOlderVersions()
{
    QVERIFY(at_->clickButton("views"));
    find<QLineEdit>("viewTitle")->setText("Turned");
    find<QPlainTextEdit>("viewDescription")->setPlainText("For the meeting");
    QVERIFY(at_->clickButton("keepView"));
    QTRY_VERIFY(at_->details().contains("For the meeting"));
    const view::Camera first = scene().camera();
    scene().setFocus();
    at_->press(Qt::Key_Left);
    scene().finishMotion();
    const view::Camera second = scene().camera();
    QVERIFY(at_->clickButton("updateView"));
    QTRY_VERIFY(at_->details().contains("Its versions"));
    QVERIFY(at_->clickButton("openVersion1"));
    QTRY_VERIFY(view::isSameView(scene().camera(), first));
    QVERIFY(at_->message().contains("Turned"));
    QVERIFY(at_->clickButton("views"));
    QVERIFY(at_->clickButton("openVersion2"));
    QTRY_VERIFY(view::isSameView(scene().camera(), second));
    QVERIFY(at_->clickButton("views"));
    QVERIFY(at_->clickButton("removeView"));
    QTRY_VERIFY(must(at_->project().views().views(at_->session().person().toStdString())).empty());
}

void TestMarking::hundredsOfViewsStayAList()
{
    const std::string state = view::toJson(scene().state());
    for (int i = 0; i < 200; ++i) {
        project::KeptView view;
        view.title = "View " + std::to_string(1000 + i);
        view.folder = i % 2 == 0 ? "Ventilation" : "Structure";
        view.state = state;
        QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
            const auto kept = p.views().keep(view, {}, at_->session().now());
            return kept ? Result<void>() : fail(kept.error());
        }));
    }
    QVERIFY(at_->clickButton("views"));
    auto* list = find<app::RowList>("views-kept");
    QCOMPARE(list->rowModel().rowCount(), 202); // with two folders
    QVERIFY(list->height() < 260);
    list->setFocus();
    list->setCurrentIndex(list->model()->index(1, 0));
    QApplication::processEvents();
    QTest::keyClick(find<app::RowList>("views-kept"), Qt::Key_Down);
    QTRY_VERIFY(at_->details().contains("View 1003"));
    QTRY_VERIFY(find<app::RowList>("views-kept")->hasFocus()); // and the next arrow goes on
    for (int i = 0; i < 200; ++i)
        QVERIFY(at_->change([&](project::Project& p) { return p.undo(at_->session().now()); }));
}

void TestMarking::withoutAProjectThePanelsSaySo()
{
    app::Session session("Ines Varga");
    app::MainWindow window(session);
    window.show();
    for (const char* tool : {"views", "markUp", "show"}) {
        window.findChild<QToolButton*>(tool)->click();
        QApplication::processEvents();
        QString words;
        for (const QLabel* label : window.findChild<app::Details*>()->findChildren<QLabel*>())
            words += label->text();
        QVERIFY2(words.contains("Open a project") || words.contains("Take in a delivery"), tool);
    }
    window.findChild<QPushButton*>("markNote")->click();
    QTest::mouseClick(&window.scene(), Qt::LeftButton, {},
                      window.scene().rect().center()); // nothing is there; nothing breaks
}

void TestMarking::groupsAreSwitchedTogether()
{
    QVERIFY(at_->clickButton("show"));
    find<QLineEdit>("groupName")->setText("Work of the frame");
    QVERIFY(!find<QPushButton>("makeGroup")->isEnabled()); // without members it would be empty
    find<QCheckBox>("groupMember0")->click();
    find<QCheckBox>("groupMember1")->click();
    QVERIFY(at_->clickButton("makeGroup"));
    QTRY_COMPARE(must(at_->project().setup().memberGroups()).size(), std::size_t{1});
    QTRY_VERIFY(find<QCheckBox>("groupShown0") != nullptr);
    find<QCheckBox>("groupShown0")->click();
    QVERIFY(!scene().looks()[0].isShown && !scene().looks()[1].isShown && scene().looks()[2].isShown);
    QVERIFY(at_->selectionWords().contains("2 members switched off"));
    find<QCheckBox>("groupShown0")->click();
    find<QCheckBox>("groupEdges0")->click();
    QVERIFY(at_->selectionWords().contains("2 members as edges"));
    find<QCheckBox>("groupEdges0")->click();
    find<QSlider>("groupSolid0")->setValue(50);
    QVERIFY(at_->selectionWords().contains("2 members seen through"));
    find<QSlider>("groupSolid0")->setValue(100);
    QVERIFY(at_->clickButton("dissolveGroup0"));
    QTRY_VERIFY(must(at_->project().setup().memberGroups()).empty());
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(must(at_->project().setup().memberGroups()).front().disciplines.size(), std::size_t{2});
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    app::theme::apply();
    TestMarking test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_marking.moc"
