#include "app/window_fixture.h"

#include "shell/composition_bar.h"
#include "shell/go_to.h"
#include "shell/row_list.h"

#include <QCheckBox>
#include <QDateEdit>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QTabWidget>
#include <QTextBrowser>
#include <QTimer>
#include <QToolButton>

using namespace wendrix;
using test::must;

/// The register and the composition bar with mouse and keys: what cards and chips say, holding, and which composition
/// one looks at.
class TestRegister : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void cardsSayRevisionStateAndWhatTheyCarry();
    void chipsSayHowMembersStand();
    void arrowsGoFromCardToCard();
    void aHeldMemberIsNotOverlooked();
    void anOldCompositionIsReadOnlyAndSaysSo();
    void classesAreLeftOut();
    void stepsAreUndoneAndRecorded();
    void theHistoryIsRead();
    void aDeliveryIsGoneTo();
    void twelveMembersStayInSight();
    void manyCyclesStayReadable();
    void theRegisterIsGivenMoreRoom();
    void helpOpensThePageOfDeliveries();
    void helpLeadsOn();

private:
    [[nodiscard]] app::Register& table() { return *at_->window().findChild<app::Register*>("register"); }
    [[nodiscard]] QString chip(const QString& discipline)
    {
        return at_->window().findChild<QAbstractButton*>("member-" + discipline)->text();
    }

    std::unique_ptr<test::WindowFixture> at_;
};

void TestRegister::initTestCase()
{
    at_ = std::make_unique<test::WindowFixture>();
    at_->openDemo();
    at_->clickStage("Deliveries");
}

void TestRegister::cardsSayRevisionStateAndWhatTheyCarry()
{
    QCOMPARE(table().grid().cycles(), 2);
    QVERIFY(at_->window().findChild<QLabel*>("deliverySummary")->text().contains("3</b> waiting, 3 not looked at"));
    at_->clickCard(at_->delivery("Piping P01").id);
    QVERIFY(at_->details().contains("MSS-OPW-PIP-heating-P01.ifc") &&
            at_->details().contains("MSS-OPW-PIP-sprinklers-P01.ifc"));
    QVERIFY(at_->details().contains("OPW-H-P01.pdf"));
    QVERIFY(at_->details().contains("Suitable for coordination"));
    QVERIFY(at_->details().contains("Ostermere Pipework"));
    at_->clickCard(at_->delivery("Structure P02").id);
    QVERIFY(at_->details().contains("by nobody yet"));
}

void TestRegister::chipsSayHowMembersStand()
{
    const auto tip = [&](const QString& discipline) {
        return at_->window().findChild<QAbstractButton*>("member-" + discipline)->toolTip();
    };
    QCOMPARE(chip("Architecture"), QString("Architecture P01"));
    QVERIFY(tip("Architecture").contains("The reference"));
    QCOMPARE(chip("Structure"), QString("Structure P01 · not aligned · 1 newer"));
    at_->clickStage("Coordinates");
    at_->clickRow("Coordinates", 0); // structure
    at_->press(Qt::Key_A);
    QVERIFY(must(at_->project().coordinates().fitInUse("Structure")).isLocked);
    QCOMPARE(chip("Structure"), QString("Structure P01 · 1 newer"));
    QVERIFY(tip("Structure").contains("Aligned and locked"));
    QVERIFY(tip("Ventilation").contains("Not aligned yet"));
    at_->clickStage("Deliveries");
}

void TestRegister::arrowsGoFromCardToCard()
{
    at_->clickCard(at_->delivery("Structure P01").id);
    const auto goes = [&](Qt::Key key, const char* to) {
        QTest::keyClick(&table(), key);
        return table().chosen() == at_->delivery(to).id;
    };
    QVERIFY(goes(Qt::Key_Right, "Structure P02"));
    QVERIFY(goes(Qt::Key_Down, "Ventilation P02"));
    QVERIFY(goes(Qt::Key_Left, "Ventilation P01"));
    QVERIFY(goes(Qt::Key_Up, "Structure P01"));
    QVERIFY(goes(Qt::Key_Up, "Architecture P01"));
    at_->press(Qt::Key_J); // from the first of all, waiting ones come first
    QVERIFY(at_->details().contains("·"));
}

void TestRegister::aHeldMemberIsNotOverlooked()
{
    at_->clickCard(at_->delivery("Structure P01").id);
    QVERIFY(at_->clickButton("hold"));
    at_->field<QDateEdit>("holdUntil").setDate(QDate(2099, 11, 28));
    at_->field<QLineEdit>("holdReason").setText("until the tender is out");
    QVERIFY(at_->clickButton("holdIt"));
    QTRY_VERIFY(must(at_->project().deliveries().hold("Structure", at_->session().now().time)).has_value());
    QTRY_VERIFY(at_->details().contains("Held until 28 Nov") && at_->details().contains("until the tender is out"));
    QVERIFY2(chip("Structure").contains("held, 1 behind"), qPrintable(chip("Structure")));
    QVERIFY(at_->clickButton("release"));
    QTRY_VERIFY(at_->delivery("Structure P01").state == project::DeliveryState::InUse);
    QVERIFY(!chip("Structure").contains("held"));
    at_->session().undo();
    at_->settle();
    QVERIFY(at_->delivery("Structure P01").state == project::DeliveryState::Held);
    at_->session().undo();
    at_->waitIdle();
    // Until released, without a day.
    QVERIFY(at_->clickButton("hold"));
    at_->field<QCheckBox>("holdHasEnd").click();
    QVERIFY(!at_->field<QDateEdit>("holdUntil").isEnabled());
    QVERIFY(at_->clickButton("holdIt"));
    QTRY_VERIFY(at_->details().contains("Held until it is released"));
    QVERIFY(at_->clickButton("release"));
    QTRY_VERIFY(at_->delivery("Structure P01").state == project::DeliveryState::InUse);
}

void TestRegister::anOldCompositionIsReadOnlyAndSaysSo()
{
    at_->clickCard(at_->delivery("Structure P02").id);
    at_->press(Qt::Key_T);
    at_->waitIdle();
    QVERIFY(at_->delivery("Structure P02").isUsed());
    QTest::mouseMove(table().viewport(), table().headOf(1).center());
    QMouseEvent over(QEvent::MouseMove, table().headOf(1).center(),
                     table().viewport()->mapToGlobal(table().headOf(1).center()), Qt::NoButton, Qt::NoButton, {});
    QApplication::sendEvent(table().viewport(), &over);
    QTest::mouseClick(table().viewport(), Qt::LeftButton, {}, table().headOf(1).center());
    at_->waitIdle();
    QVERIFY(at_->session().pastCycle() == 1);
    auto* banner = at_->window().findChild<QWidget*>("looking");
    QVERIFY(banner->isVisible());
    QVERIFY(at_->window().findChild<QLabel*>("lookingWords")->text().contains("cycle 1, read-only"));
    QVERIFY(at_->window().findChild<QToolButton*>("cycle")->text().contains("read-only"));
    QVERIFY(chip("Structure").startsWith("Structure P01"));
    bool hasOld = false;
    for (const federation::Member& m : at_->scene().members())
        hasOld = hasOld || m.title() == "Structure P01";
    QVERIFY(hasOld);
    // Nothing can be changed, and it says why.
    const std::size_t deliveries = must(at_->project().deliveries().all()).size();
    at_->drop({at_->copyOf("MSS-TBF-STR-P02.ifc", "late/MSS-TBF-STR-P09.ifc", "/* later */\n")});
    QVERIFY(at_->message().contains("read-only"));
    QVERIFY(!at_->clickButton("addDelivery")); // not even asked
    QCOMPARE(must(at_->project().deliveries().all()).size(), deliveries);
    const auto line = must(at_->project().log().last(1))[0].what;
    at_->clickCard(at_->delivery("Ventilation P02").id);
    QVERIFY(at_->clickButton("decline"));
    at_->field<QPlainTextEdit>("declineReason").setPlainText("no");
    QVERIFY(at_->clickButton("declineIt"));
    QTRY_VERIFY(at_->message().contains("read-only"));
    QVERIFY(at_->clickButton("giveUp"));
    at_->press(Qt::Key_T);
    at_->waitIdle();
    at_->session().undo();
    at_->settle();
    QCOMPARE(must(at_->project().log().last(1))[0].what, line);
    QVERIFY(at_->clickButton("lookAtNow"));
    at_->waitIdle();
    QTRY_VERIFY(!banner->isVisible());
    QVERIFY(chip("Structure").startsWith("Structure P02"));
    // The same by the box at the top.
    auto* menu = at_->window().findChild<QToolButton*>("cycle")->menu();
    emit menu->aboutToShow();
    QCOMPARE(menu->actions().size(), 2);
    menu->actions().last()->trigger();
    at_->waitIdle();
    QVERIFY(at_->session().pastCycle() == 1);
    menu->actions().first()->trigger();
    at_->waitIdle();
    QVERIFY(!at_->session().pastCycle());
}

void TestRegister::classesAreLeftOut()
{
    at_->clickCard(at_->delivery("Electrical P01").id);
    const auto count = [&] {
        std::size_t n = 0;
        for (const std::uint32_t m : at_->session().workspace().allOf("Electrical"))
            n += at_->session().workspace().members[m].model->elements().size();
        return n;
    };
    const std::size_t all = count();
    QVERIFY(at_->clickButton("leaveOut"));
    at_->field<QCheckBox>("leaveOut-IfcLightFixture").click();
    QVERIFY(at_->clickButton("leaveOutIt"));
    QTRY_VERIFY(!must(at_->project().setup().disciplines())[4].leftOut.empty());
    at_->waitIdle();
    QTRY_VERIFY(count() < all - 300);
    QVERIFY(must(at_->project().log().last(1))[0].what.find("IfcLightFixture") != std::string::npos);
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(count(), all);
}

void TestRegister::stepsAreUndoneAndRecorded()
{
    at_->clickCard(at_->delivery("Ventilation P02").id);
    at_->press(Qt::Key_T);
    at_->waitIdle();
    QVERIFY(at_->delivery("Ventilation P02").isUsed());
    const auto line = must(at_->project().log().last(1))[0];
    QVERIFY(line.what == "Taken in: Ventilation P02" && line.by.person == "Ines Varga" && line.by.time.size() == 20);
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    at_->waitIdle();
    QVERIFY(at_->delivery("Ventilation P01").isUsed());
    QVERIFY(chip("Ventilation").startsWith("Ventilation P01"));
}

void TestRegister::theHistoryIsRead()
{
    auto* menu = at_->window().findChild<QToolButton*>("projectName")->menu();
    for (QAction* action : menu->actions())
        if (action->text().startsWith("History"))
            action->trigger();
    const auto rows = [&] { return at_->window().findChild<app::RowList*>("historyLines")->rowModel().rowCount(); };
    QVERIFY(rows() > 10);
    QVERIFY(at_->window()
                .findChild<app::RowList*>("historyLines")
                ->rowModel()
                .row(0)
                .title.startsWith("Undone: Taken in: Ventilation P02"));
    QVERIFY(
        at_->window().findChild<app::RowList*>("historyLines")->rowModel().row(0).subtitle.contains("Ines Varga · "));
    QVERIFY(at_->details().contains("Ctrl+Z takes your last step back"));
    const int all = rows();
    QTest::keyClicks(&at_->field<QLineEdit>("historyWords"), "vellow");
    QVERIFY(rows() < all);
    at_->field<QLineEdit>("historyWords").setText("no such words");
    QCOMPARE(rows(), 0);
    // What is done meanwhile is in it at once.
    at_->session().undo();
    at_->waitIdle();
    QTRY_VERIFY(rows() > 10);
    at_->session().redo();
    at_->waitIdle();
    at_->clickCard(at_->delivery("Structure P01").id); // and away again
    QVERIFY(!at_->details().contains("History\n"));
}

void TestRegister::aDeliveryIsGoneTo()
{
    auto* field = at_->window().findChild<app::GoTo*>();
    field->setFocus();
    field->clear();
    QTest::keyClicks(field, "Electrical P01");
    QTest::keyClick(field, Qt::Key_Return);
    at_->settle();
    QCOMPARE(table().chosen(), at_->delivery("Electrical P01").id);
}

void TestRegister::twelveMembersStayInSight()
{
    QWidget host; // a window's own height comes later
    app::CompositionBar bar(&host);
    QVector<app::CompositionBar::Chip> chips;
    for (int i = 0; i < 12; ++i) {
        app::CompositionBar::Chip chip;
        chip.discipline = QString("Discipline %1").arg(i);
        chip.revision = "P03";
        chip.isLocked = true;
        if (i == 4 || i == 9) {
            chip.states += "held, 2 behind";
            chip.signs = "■2";
            chip.isLoud = true;
        }
        chips.append(chip);
    }
    host.resize(1280, 80);
    bar.resize(1280, 30);
    host.show();
    QVERIFY(QTest::qWaitForWindowExposed(&host));
    bar.setChips(chips);
    bar.say("A message of some length that has to be read beside them all", false);
    QApplication::processEvents();
    const auto chip = [&](int i) { return bar.findChild<QAbstractButton*>(QString("member-Discipline %1").arg(i)); };
    for (int i = 0; i < 12; ++i) {
        QVERIFY(bar.rect().contains(chip(i)->geometry()) && chip(i)->geometry().right() < 1000);
        for (int other = 0; other < i; ++other)
            QVERIFY(!chip(i)->geometry().intersects(chip(other)->geometry()));
        QVERIFY(chip(i)->text().startsWith(QString("Discipline %1 P03").arg(i)) &&
                chip(i)->toolTip().contains(chip(i)->text())); // whole, where one asks
    }
    QVERIFY(chip(4)->width() > chip(5)->width());     // what is held keeps its words longer
    QVERIFY(bar.height() > 30 && bar.height() <= 60); // two lines
    QVERIFY(bar.findChild<QLabel*>("message")->width() > 150);
    const int whole = chip(5)->width();
    bar.resize(1000, bar.height());
    QVERIFY(chip(5)->width() < whole && bar.height() <= 60 && chip(11)->geometry().right() < 720);
    bar.resize(3840, bar.height()); // and with room for all of it
    QVERIFY(chip(5)->width() == whole && bar.height() == 30);
    // What went wrong is read whole, if the chips can do with less.
    bar.resize(1900, bar.height());
    bar.say("MSS-TBF-STR-P05.ifc, #4711: The file ends in the middle of an entity; ask the sender for a whole one. "
            "Nothing was changed.",
            true);
    QApplication::processEvents();
    auto* message = bar.findChild<QLabel*>("message");
    QVERIFY(message->fontMetrics().horizontalAdvance(message->text()) <= message->width());
}

void TestRegister::manyCyclesStayReadable()
{
    app::Register big;
    std::vector<project::Discipline> disciplines;
    std::vector<project::Delivery> deliveries;
    for (int d = 0; d < 12; ++d)
        disciplines.push_back({"Discipline " + std::to_string(d), "Company", "#5F7E9E", d == 0, {}, {}, {}});
    for (int c = 1; c <= 30; ++c)
        for (int d = 0; d < 12; ++d)
            for (int n = 0; n < 5; ++n) {
                project::Delivery x;
                x.id = static_cast<project::DeliveryId>(deliveries.size()) + 1;
                x.discipline = disciplines[static_cast<std::size_t>(d)].name;
                x.revision = "P" + std::to_string(c * 5 + n);
                x.cycle = c;
                x.time = "2026-10-12T16:20:00Z";
                deliveries.push_back(x);
            }
    big.setContent(disciplines, deliveries);
    big.resize(1200, 400);
    big.show();
    QVERIFY(QTest::qWaitForWindowExposed(&big));
    big.choose(deliveries.front().id); // far from what was in sight
    const QRect card = big.cardOf(deliveries.front().id);
    QVERIFY(big.viewport()->rect().contains(card));
    QVERIFY(card.width() >= 100 && card.height() >= 36); // two lines of 12 px and more
    QVERIFY(card.left() >= 180 && card.top() >= 30);     // names and cycles stay in sight
    QTest::keyClick(&big, Qt::Key_Right);
    QCOMPARE(big.chosen(), project::DeliveryId{61}); // cycle 2, the same place in its cell
    QVERIFY(big.viewport()->rect().contains(big.cardOf(big.chosen())));
    big.choose(deliveries.back().id);
    QVERIFY(big.viewport()->rect().contains(big.cardOf(deliveries.back().id)));
    QVERIFY(!big.viewport()->rect().intersects(big.cardOf(deliveries.front().id)));
}

void TestRegister::helpOpensThePageOfDeliveries()
{
    QVERIFY(at_->help("helpPage").contains("drop folder", Qt::CaseInsensitive));
}

void TestRegister::theRegisterIsGivenMoreRoom()
{
    const int before = table().height(), sceneBefore = at_->scene().height();
    QWidget* handle = nullptr; // between the two, over the whole width
    for (QWidget* w : at_->window().findChildren<QWidget*>())
        if (w->cursor().shape() == Qt::SplitVCursor && w->isVisible())
            handle = w;
    QVERIFY(handle != nullptr && handle->width() > 1000);
    const auto drag = [&](int by) {
        const QPoint from = handle->rect().center(), to = from + QPoint(0, by);
        QTest::mousePress(handle, Qt::LeftButton, {}, from);
        QMouseEvent move(QEvent::MouseMove, to, handle->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, {});
        QApplication::sendEvent(handle, &move);
        QTest::mouseRelease(handle, Qt::LeftButton, {}, handle->rect().center());
    };
    drag(100);
    QVERIFY(std::abs(table().height() - before - 100) < 6 && std::abs(sceneBefore - at_->scene().height() - 100) < 6);
    drag(2000); // never the whole of it
    QVERIFY(at_->scene().height() > 150);
    drag(-2000);
    QVERIFY(table().height() > 100);
    drag(before - table().height());
    QVERIFY(std::abs(table().height() - before) < 6);
}

void TestRegister::helpLeadsOn()
{
    QString title, words;
    QTimer::singleShot(0, &at_->window(), [&] {
        auto* dialog = QApplication::activeModalWidget();
        auto* page = dialog->findChild<QTextBrowser*>("helpPage");
        emit page->anchorClicked(QUrl("looking-inside.md"));
        words = page->toPlainText();
        title = dialog->findChild<QTabWidget*>()->tabText(dialog->findChild<QTabWidget*>()->currentIndex());
        emit page->anchorClicked(QUrl("no-such-page.md")); // stays where it is
        words += page->toPlainText() == words ? "" : "another page";
        dialog->close();
    });
    at_->press(Qt::Key_F1);
    QCOMPARE(title, QString("Looking inside a delivery"));
    QVERIFY(words.startsWith("Looking inside a delivery") && !words.contains("another page"));
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestRegister test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_register.moc"
