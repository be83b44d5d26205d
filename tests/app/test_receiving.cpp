#include "app/window_fixture.h"

#include "core/base/file.h"
#include "core/project/setup.h"
#include "deliveries/deliveries_stage.h"
#include "deliveries/register.h"
#include "shell/composition_bar.h"
#include "shell/drop_watch.h"
#include "shell/go_to.h"
#include "shell/row_list.h"
#include "support/demo.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QDropEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QSpinBox>
#include <QToolButton>

#include <filesystem>
#include <fstream>

using namespace wendrix;

/// The register with mouse and keys: what comes in, is described, taken in, held; and which composition one looks at.
class TestReceiving : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void cardsSayRevisionStateAndWhatTheyCarry();
    void arrowsGoFromCardToCard();
    void droppedFilesBecomeADelivery();
    void chosenFilesOfTwoTeamsAreAskedOneByOne();
    void theSameContentIsNoticed();
    void whatArrivesInADropFolderIsReceived();
    void whatCanNotBeReadStaysInSight();
    void aDeliveryIsDescribed();
    void aHeldMemberIsNotOverlooked();
    void decliningWithoutLookingSendsTheReportToo();
    void takingInCanBeCancelled();
    void anOldCompositionIsReadOnlyAndSaysSo();
    void classesAreLeftOut();
    void stepsAreUndoneAndRecorded();
    void theHistoryIsRead();
    void aDeliveryIsGoneTo();
    void twelveMembersStayInSight();
    void manyCyclesStayReadable();
    void helpOpensThePageOfDeliveries();

private:
    [[nodiscard]] app::Register& table() { return *at_->window().findChild<app::Register*>("register"); }
    [[nodiscard]] QString chip(const QString& discipline);
    void drop(const QStringList& files);
    QString copyOf(const QString& demoFile, const QString& name, const QByteArray& more = "/* another export */\n");

    std::unique_ptr<test::WindowFixture> at_;
};

void TestReceiving::initTestCase()
{
    at_ = std::make_unique<test::WindowFixture>();
    at_->openDemo();
    at_->clickStage("Deliveries");
}

QString TestReceiving::chip(const QString& discipline) { return at_->window().findChild<QAbstractButton*>("member-" + discipline)->text(); }

void TestReceiving::drop(const QStringList& files)
{
    auto* page = at_->window().findChild<QWidget*>("deliveries");
    QMimeData data;
    QList<QUrl> urls;
    for (const QString& file : files)
        urls.append(QUrl::fromLocalFile(file));
    data.setUrls(urls);
    QDragEnterEvent enter(page->rect().center(), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(page, &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent let(page->rect().center(), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(page, &let);
    at_->waitIdle();
}

QString TestReceiving::copyOf(const QString& demoFile, const QString& name, const QByteArray& more)
{
    const QString to = at_->folder() + "/" + name;
    QDir().mkpath(QFileInfo(to).path());
    QFile from(QString::fromStdString(test::demoFolder()) + "/data/" + demoFile), file(to);
    if (!from.open(QIODevice::ReadOnly) || !file.open(QIODevice::WriteOnly))
        qFatal("can not copy");
    // After HEADER's start: other bytes, the same model.
    QByteArray bytes = from.readAll();
    bytes.insert(bytes.indexOf("HEADER;"), more);
    file.write(bytes);
    file.close();
    std::filesystem::last_write_time(to.toStdString(), std::filesystem::file_time_type::clock::now() - std::chrono::seconds(60));
    return to;
}

void TestReceiving::cardsSayRevisionStateAndWhatTheyCarry()
{
    QCOMPARE(table().grid().cycles(), 2);
    QVERIFY(at_->window().findChild<QLabel*>("deliverySummary")->text().contains("3</b> waiting, 3 not looked at"));
    at_->clickCard(at_->delivery("Piping P01").id);
    QVERIFY(at_->details().contains("MSS-OPW-PIP-heating-P01.ifc") && at_->details().contains("MSS-OPW-PIP-sprinklers-P01.ifc"));
    QVERIFY(at_->details().contains("OPW-H-P01.pdf"));
    QVERIFY(at_->details().contains("Suitable for coordination"));
    QVERIFY(at_->details().contains("Ostermere Pipework"));
    at_->clickCard(at_->delivery("Structure P02").id);
    QVERIFY(at_->details().contains("by nobody yet"));
}

void TestReceiving::arrowsGoFromCardToCard()
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

void TestReceiving::droppedFilesBecomeADelivery()
{
    const QString model = copyOf("MSS-TBF-STR-P02.ifc", "in/MSS-TBF-STR-S3-P04.ifc");
    const QString plan = at_->folder() + "/in/plan-P04.pdf";
    QFile::copy(QString::fromStdString(test::demoFolder()) + "/data/OPW-H-P01.pdf", plan);
    drop({at_->folder() + "/in"}); // the folder gives its files
    QVERIFY(at_->details().contains("Its name says") || at_->details().contains("its name says P04"));
    QCOMPARE(at_->field<QComboBox>("addDiscipline").currentData().toString(), QString("Structure"));
    QCOMPARE(at_->field<QLineEdit>("addRevision").text(), QString("P04"));
    QCOMPARE(at_->field<QComboBox>("addSuitability").currentData().toString(), QString("S3"));
    QVERIFY(at_->details().contains("plan-P04.pdf"));
    at_->field<QLineEdit>("addTitle").setText("Frame for tender");
    at_->field<QPlainTextEdit>("addNote").setPlainText("Footings to follow.");
    at_->field<QSpinBox>("addCycle").setValue(3);
    QVERIFY(at_->clickButton("addDelivery"));
    at_->waitIdle();
    const project::Delivery d = at_->delivery("Structure P04");
    QVERIFY(d.id != 0 && d.state == project::DeliveryState::Waiting);
    QVERIFY(d.title == "Frame for tender" && d.note == "Footings to follow." && d.cycle == 3 && d.documents == 1 && d.suitability == "S3" && d.schema == "IFC2X3");
    QCOMPARE(d.sender, std::string("Tarnbeck Frames"));
    QCOMPARE(table().chosen(), d.id);
    QVERIFY(at_->message().contains("waits to be taken in"));
    QVERIFY(QFileInfo::exists(model)); // the sender's file stays where it was
    QCOMPARE(table().grid().cycles(), 3);
}

void TestReceiving::chosenFilesOfTwoTeamsAreAskedOneByOne()
{
    const QStringList files{copyOf("MSS-VLW-VEN-P02.ifc", "two/MSS-VLW-VEN-P05.ifc"), copyOf("MSS-QMA-ARC-P01.ifc", "two/MSS-QMA-ARC-P05.ifc")};
    const auto isAsked = at_->answerFileDialog(files);
    QVERIFY(at_->clickButton("addFiles"));
    QTRY_VERIFY(*isAsked);
    at_->waitIdle();
    QVERIFY(at_->details().contains("1 more after it"));
    QCOMPARE(at_->field<QComboBox>("addDiscipline").currentData().toString(), QString("Architecture"));
    QVERIFY(at_->clickButton("addDelivery"));
    at_->waitIdle();
    QVERIFY(at_->delivery("Architecture P05").id != 0);
    QTRY_COMPARE(at_->field<QComboBox>("addDiscipline").currentData().toString(), QString("Ventilation"));
    QVERIFY(at_->clickButton("giveUp")); // not this one
    QTRY_VERIFY(!at_->details().contains("Add a delivery"));
    QCOMPARE(at_->delivery("Ventilation P05").id, 0);
}

void TestReceiving::theSameContentIsNoticed()
{
    const QString same = copyOf("MSS-TBF-STR-P02.ifc", "same/renamed.ifc", "");
    drop({same});
    QVERIFY(at_->details().contains("renamed.ifc is there already as Structure P02"));
    QVERIFY(!at_->clickButton("addDelivery")); // nothing to press
    QVERIFY(at_->clickButton("giveUp"));
    drop({at_->folder() + "/project/project.sqlite"});
    QVERIFY(at_->message().contains("no model among these"));
}

void TestReceiving::whatArrivesInADropFolderIsReceived()
{
    project::Discipline d = at_->project().disciplines()[2];
    QCOMPARE(d.name, std::string("Ventilation"));
    d.dropFolder = (at_->folder() + "/drop").toStdString();
    QDir().mkpath(at_->folder() + "/drop");
    QVERIFY(at_->session().apply(at_->project().setDiscipline(d, at_->session().now())));
    const QString file = copyOf("MSS-VLW-VEN-P02.ifc", "drop/MSS-VLW-VEN-P06.ifc");
    QTRY_VERIFY_WITH_TIMEOUT(at_->delivery("Ventilation P06").id != 0, 60'000); // noticed by itself
    at_->waitIdle();
    const project::Delivery arrived = at_->delivery("Ventilation P06");
    QVERIFY(arrived.state == project::DeliveryState::Waiting && arrived.sender == "Vellowind" && arrived.lookedAt.person.empty());
    QVERIFY(at_->message().contains("came in by its drop folder"));
    auto* watching = at_->window().findChild<QLabel*>("dropFolderWords");
    QCOMPARE(watching->text(), QString("watching 1 drop folder"));
    QVERIFY(at_->project().history(1)[0].what.find("Ventilation P06") != std::string::npos);
    QVERIFY(QFileInfo::exists(file));
    at_->window().findChild<app::DropWatch*>()->look(); // the same once more is nothing new
    at_->waitIdle();
    const auto all = at_->project().deliveries();
    QCOMPARE(std::count_if(all.begin(), all.end(), [](const auto& x) { return x.discipline == "Ventilation"; }), 3);
}

void TestReceiving::whatCanNotBeReadStaysInSight()
{
    auto* watching = at_->window().findChild<QLabel*>("dropFolderWords");
    const std::size_t before = at_->project().deliveries().size();
    QFile broken(at_->folder() + "/drop/MSS-VLW-VEN-P08.ifc");
    QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("ISO-10303-21;\nHEADER;\nEND-ISO-10303-21;\n") > 0);
    broken.close();
    std::filesystem::last_write_time(broken.fileName().toStdString(), std::filesystem::file_time_type::clock::now() - std::chrono::seconds(60));
    QTRY_COMPARE_WITH_TIMEOUT(watching->text(), QString("a file that arrived can not be read"), 60'000);
    QVERIFY(watching->toolTip().contains("MSS-VLW-VEN-P08.ifc"));
    QVERIFY(at_->message().contains("MSS-VLW-VEN-P08.ifc"));
    QCOMPARE(at_->project().deliveries().size(), before);
    at_->waitIdle();
    // Sent again, whole.
    (void)copyOf("MSS-VLW-VEN-P02.ifc", "drop/MSS-VLW-VEN-P08.ifc", "/* sent again */\n");
    at_->window().findChild<app::DropWatch*>()->look();
    QTRY_VERIFY_WITH_TIMEOUT(at_->delivery("Ventilation P08").id != 0, 60'000);
    at_->waitIdle();
    QTRY_COMPARE(watching->text(), QString("watching 1 drop folder"));
    at_->session().undo();
    QCOMPARE(at_->project().deliveries().size(), before);
    // A folder that is gone is said.
    project::Discipline d = at_->project().disciplines()[1];
    d.dropFolder = "not there";
    QVERIFY(at_->session().apply(at_->project().setDiscipline(d, at_->session().now())));
    QVERIFY(watching->text().startsWith("the drop folder of Structure is not there"));
    at_->session().undo();
    QCOMPARE(watching->text(), QString("watching 1 drop folder"));
}

void TestReceiving::aDeliveryIsDescribed()
{
    at_->clickCard(at_->delivery("Ventilation P06").id);
    QVERIFY(at_->clickButton("describe"));
    at_->field<QLineEdit>("describeTitle").setText("Mains for tender");
    at_->field<QComboBox>("describeSuitability").setCurrentIndex(at_->field<QComboBox>("describeSuitability").findData("S4"));
    QVERIFY(at_->clickButton("describeIt"));
    QTRY_VERIFY(at_->details().contains("Suitable for stage approval"));
    QCOMPARE(at_->delivery("Ventilation P06").title, std::string("Mains for tender"));
}

void TestReceiving::aHeldMemberIsNotOverlooked()
{
    at_->clickCard(at_->delivery("Structure P01").id);
    QVERIFY(at_->clickButton("hold"));
    at_->field<QDateEdit>("holdUntil").setDate(QDate(2099, 11, 28));
    at_->field<QLineEdit>("holdReason").setText("until the tender is out");
    QVERIFY(at_->clickButton("holdIt"));
    QTRY_VERIFY(at_->project().hold("Structure", at_->session().now().time).has_value());
    QTRY_VERIFY(at_->details().contains("Held until 28 Nov") && at_->details().contains("until the tender is out"));
    QVERIFY2(chip("Structure").contains("held, 2 behind"), qPrintable(chip("Structure")));
    QVERIFY(at_->clickButton("release"));
    QTRY_VERIFY(at_->delivery("Structure P01").state == project::DeliveryState::InUse);
    QVERIFY(!chip("Structure").contains("held"));
    at_->session().undo();
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

void TestReceiving::decliningWithoutLookingSendsTheReportToo()
{
    at_->clickCard(at_->delivery("Ventilation P06").id);
    QVERIFY(at_->clickButton("decline"));
    at_->field<QPlainTextEdit>("declineReason").setPlainText("Not asked for.");
    QVERIFY(at_->field<QCheckBox>("attachReport").isChecked());
    QVERIFY(at_->clickButton("declineIt"));
    at_->waitIdle();
    QTRY_VERIFY(at_->delivery("Ventilation P06").state == project::DeliveryState::Declined);
    const auto documents = at_->project().documentsOf(at_->delivery("Ventilation P06").id);
    QCOMPARE(documents.size(), std::size_t{1});
    QVERIFY(readFileWhole(at_->project().fileOf(documents[0])).value().find("Ventilation P06") != std::string::npos);
    QVERIFY(at_->message().contains("the quality report goes with it"));
    QTRY_VERIFY(at_->details().contains("Declined: Not asked for."));
    // Its whole history stands with it.
    for (const char* words : {"What was done with it", "Described", "Delivery received", "by Ines Varga"})
        QVERIFY2(at_->details().contains(words), words);
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(at_->project().documentsOf(at_->delivery("Ventilation P06").id).empty());
    // Without it nothing has to be worked out.
    QVERIFY(at_->clickButton("decline"));
    at_->field<QPlainTextEdit>("declineReason").setPlainText("Not asked for.");
    at_->field<QCheckBox>("attachReport").click();
    QVERIFY(at_->clickButton("declineIt"));
    QTRY_VERIFY(at_->delivery("Ventilation P06").state == project::DeliveryState::Declined);
    QVERIFY(at_->project().documentsOf(at_->delivery("Ventilation P06").id).empty());
    at_->session().undo();
}

void TestReceiving::takingInCanBeCancelled()
{
    const auto members = at_->scene().members().size();
    at_->clickCard(at_->delivery("Structure P02").id);
    at_->session().takeIn(at_->delivery("Structure P02").id);
    QVERIFY(at_->session().isBusy());
    QVERIFY(at_->clickButton("cancelWork"));
    at_->waitIdle();
    QVERIFY(at_->delivery("Structure P01").isUsed()); // the old composition stands
    QCOMPARE(at_->scene().members().size(), members);
    QVERIFY(chip("Structure").startsWith("Structure P01"));
}

void TestReceiving::anOldCompositionIsReadOnlyAndSaysSo()
{
    at_->clickCard(at_->delivery("Structure P02").id);
    at_->press(Qt::Key_T);
    at_->waitIdle();
    QVERIFY(at_->delivery("Structure P02").isUsed());
    QTest::mouseMove(table().viewport(), table().headOf(1).center());
    QMouseEvent over(QEvent::MouseMove, table().headOf(1).center(), table().viewport()->mapToGlobal(table().headOf(1).center()), Qt::NoButton, Qt::NoButton, {});
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
    const std::size_t deliveries = at_->project().deliveries().size();
    drop({copyOf("MSS-TBF-STR-P02.ifc", "late/MSS-TBF-STR-P09.ifc", "/* later */\n")});
    QVERIFY(at_->message().contains("read-only"));
    QVERIFY(!at_->clickButton("addDelivery")); // not even asked
    QCOMPARE(at_->project().deliveries().size(), deliveries);
    const auto line = at_->project().history(1)[0].what;
    at_->clickCard(at_->delivery("Ventilation P02").id);
    QVERIFY(at_->clickButton("decline"));
    at_->field<QPlainTextEdit>("declineReason").setPlainText("no");
    QVERIFY(at_->clickButton("declineIt"));
    QTRY_VERIFY(at_->message().contains("read-only"));
    QVERIFY(at_->clickButton("giveUp"));
    at_->press(Qt::Key_T);
    at_->waitIdle();
    at_->session().undo();
    QCOMPARE(at_->project().history(1)[0].what, line);
    QVERIFY(at_->clickButton("lookAtNow"));
    at_->waitIdle();
    QTRY_VERIFY(!banner->isVisible());
    QVERIFY(chip("Structure").startsWith("Structure P02"));
    // The same by the box at the top.
    auto* menu = at_->window().findChild<QToolButton*>("cycle")->menu();
    emit menu->aboutToShow();
    QCOMPARE(menu->actions().size(), 3);
    menu->actions().last()->trigger();
    at_->waitIdle();
    QVERIFY(at_->session().pastCycle() == 1);
    menu->actions().first()->trigger();
    at_->waitIdle();
    QVERIFY(!at_->session().pastCycle());
}

void TestReceiving::classesAreLeftOut()
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
    QTRY_VERIFY(!at_->project().disciplines()[4].leftOut.empty());
    at_->waitIdle();
    QTRY_VERIFY(count() < all - 300);
    QVERIFY(at_->project().history(1)[0].what.find("IfcLightFixture") != std::string::npos);
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(count(), all);
}

void TestReceiving::stepsAreUndoneAndRecorded()
{
    at_->clickCard(at_->delivery("Ventilation P02").id);
    at_->press(Qt::Key_T);
    at_->waitIdle();
    QVERIFY(at_->delivery("Ventilation P02").isUsed());
    const auto line = at_->project().history(1)[0];
    QVERIFY(line.what == "Taken in: Ventilation P02" && line.by.person == "Ines Varga" && line.by.time.size() == 20);
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    at_->waitIdle();
    QVERIFY(at_->delivery("Ventilation P01").isUsed());
    QVERIFY(chip("Ventilation").startsWith("Ventilation P01"));
}

void TestReceiving::theHistoryIsRead()
{
    auto* menu = at_->window().findChild<QToolButton*>("projectName")->menu();
    for (QAction* action : menu->actions())
        if (action->text().startsWith("History"))
            action->trigger();
    const auto rows = [&] { return at_->window().findChild<app::RowList*>("historyLines")->rowModel().rowCount(); };
    QVERIFY(rows() > 10);
    QVERIFY(at_->window().findChild<app::RowList*>("historyLines")->rowModel().row(0).title.startsWith("Undone: Taken in: Ventilation P02"));
    QVERIFY(at_->window().findChild<app::RowList*>("historyLines")->rowModel().row(0).subtitle.contains("Ines Varga · "));
    QVERIFY(at_->details().contains("Ctrl+Z takes the last step back"));
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

void TestReceiving::aDeliveryIsGoneTo()
{
    auto* field = at_->window().findChild<app::GoTo*>();
    field->setFocus();
    field->clear();
    QTest::keyClicks(field, "Electrical P01");
    QTest::keyClick(field, Qt::Key_Return);
    QCOMPARE(table().chosen(), at_->delivery("Electrical P01").id);
}

void TestReceiving::twelveMembersStayInSight()
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
        QVERIFY(chip(i)->text().startsWith(QString("Discipline %1 P03").arg(i)) && chip(i)->toolTip().startsWith(chip(i)->text())); // whole, where one asks
    }
    QVERIFY(chip(4)->width() > chip(5)->width()); // what is held keeps its words longer
    QVERIFY(bar.height() > 30 && bar.height() <= 60); // two lines
    QVERIFY(bar.findChild<QLabel*>("message")->width() > 150);
    const int whole = chip(5)->width();
    bar.resize(1000, bar.height());
    QVERIFY(chip(5)->width() < whole && bar.height() <= 60 && chip(11)->geometry().right() < 720);
    bar.resize(3840, bar.height()); // and with room for all of it
    QVERIFY(chip(5)->width() == whole && bar.height() == 30);
    // What went wrong is read whole, if the chips can do with less.
    bar.resize(1900, bar.height());
    bar.say("MSS-TBF-STR-P05.ifc, #4711: The file ends in the middle of an entity; ask the sender for a whole one. Nothing was changed.", true);
    QApplication::processEvents();
    auto* message = bar.findChild<QLabel*>("message");
    QVERIFY(message->fontMetrics().horizontalAdvance(message->text()) <= message->width());
}

void TestReceiving::manyCyclesStayReadable()
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

void TestReceiving::helpOpensThePageOfDeliveries()
{
    QVERIFY(at_->help("helpPage").contains("drop folder", Qt::CaseInsensitive));
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestReceiving test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_receiving.moc"
