#include "app/window_fixture.h"

#include "core/base/file.h"
#include "deliveries/register.h"
#include "shell/drop_consent.h"
#include "shell/drop_watch.h"
#include "support/demo.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSpinBox>

#include <filesystem>

using namespace wendrix;
using test::must;

/// What comes in, with mouse and keys: dropped, chosen, by a drop folder; described, declined, taken in.
class TestReceiving : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void droppedFilesBecomeADelivery();
    void chosenFilesOfTwoTeamsAreAskedOneByOne();
    void theSameContentIsNoticed();
    void aNameThatIsNoUtf8IsReceived();
    void whatArrivesInADropFolderIsReceived();
    void whatCanNotBeReadStaysInSight();
    void nobodyAgreesToWhatWasNotShown();
    void aDeliveryIsDescribed();
    void decliningWithoutLookingSendsTheReportToo();
    void takingInCanBeCancelled();

private:
    [[nodiscard]] app::Register& table() { return *at_->window().findChild<app::Register*>("register"); }

    std::unique_ptr<test::WindowFixture> at_;
};

void TestReceiving::initTestCase()
{
    at_ = std::make_unique<test::WindowFixture>();
    at_->openDemo();
    at_->clickStage("Deliveries");
}

void TestReceiving::droppedFilesBecomeADelivery()
{
    const QString model = at_->copyOf("MSS-TBF-STR-P02.ifc", "in/MSS-TBF-STR-S3-P04.ifc");
    const QString plan = at_->folder() + "/in/plan-P04.pdf";
    QFile::copy(QString::fromStdString(test::demoFolder()) + "/data/OPW-H-P01.pdf", plan);
    at_->drop({at_->folder() + "/in"}); // the folder gives its files
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
    QVERIFY(d.title == "Frame for tender" && d.note == "Footings to follow." && d.cycle == 3 && d.documents == 1 &&
            d.suitability == "S3" && d.schema == "IFC2X3");
    QCOMPARE(d.sender, std::string("Tarnbeck Frames"));
    QCOMPARE(table().chosen(), d.id);
    QVERIFY(at_->message().contains("waits to be taken in"));
    QVERIFY(QFileInfo::exists(model)); // the sender's file stays where it was
    QCOMPARE(table().grid().cycles(), 3);
}

void TestReceiving::chosenFilesOfTwoTeamsAreAskedOneByOne()
{
    const QStringList files{at_->copyOf("MSS-VLW-VEN-P02.ifc", "two/MSS-VLW-VEN-P05.ifc"),
                            at_->copyOf("MSS-QMA-ARC-P01.ifc", "two/MSS-QMA-ARC-P05.ifc")};
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
    const QString same = at_->copyOf("MSS-TBF-STR-P02.ifc", "same/renamed.ifc", "");
    at_->drop({same});
    QVERIFY(at_->details().contains("renamed.ifc is there already as Structure P02"));
    QVERIFY(!at_->clickButton("addDelivery")); // nothing to press
    QVERIFY(at_->clickButton("giveUp"));
    at_->drop({at_->folder() + "/project/project.sqlite"});
    QVERIFY(at_->message().contains("no model among these"));
}

void TestReceiving::aNameThatIsNoUtf8IsReceived()
{
    // As a file manager hands it over: its bytes as they are, in per cents.
    const auto sent = std::filesystem::path(at_->folder().toStdString()) / "St\xE4nder" / "MSS-TBF-STR-P0\xE9.ifc";
    std::filesystem::create_directories(sent.parent_path());
    std::filesystem::copy_file(at_->copyOf("MSS-TBF-STR-P02.ifc", "own/x.ifc", "/* another */\n").toStdString(), sent);
    const auto url = [](const std::filesystem::path& file) {
        return QUrl::fromEncoded("file://" + QByteArray::fromStdString(file.string()).toPercentEncoding("/"));
    };
    for (const auto& dropped : {sent, sent.parent_path()}) { // by itself, and in its folder
        at_->dropUrls({url(dropped)});
        QVERIFY2(at_->details().contains("MSS-TBF-STR-P0é.ifc"), qPrintable(at_->details() + at_->message()));
        QVERIFY(at_->clickButton("giveUp"));
    }
}

void TestReceiving::whatArrivesInADropFolderIsReceived()
{
    project::Discipline d = must(at_->project().setup().disciplines())[2];
    QCOMPARE(d.name, std::string("Ventilation"));
    d.dropFolder = (at_->folder() + "/drop").toStdString();
    QDir().mkpath(at_->folder() + "/drop");
    QVERIFY(at_->change([&](project::Project& p) { return p.setup().setDiscipline(d, at_->session().now()); }));
    const QString file = at_->copyOf("MSS-VLW-VEN-P02.ifc", "drop/MSS-VLW-VEN-P06.ifc");
    // A project may come from anybody: nothing is taken out of a folder that it names until somebody here says so.
    auto* unwatched = at_->window().findChild<QLabel*>("dropFolderWords");
    at_->clickStage("Deliveries");
    QTRY_VERIFY2(unwatched->text().contains("Ventilation is not watched"), qPrintable(unwatched->text()));
    at_->window().findChild<app::DropWatch*>()->look();
    at_->waitIdle();
    QCOMPARE(at_->delivery("Ventilation P06").id, project::DeliveryId{0});
    QVERIFY(at_->clickButton("watchHere"));
    QVERIFY(at_->details().contains(at_->folder() + "/drop") && at_->details().contains("Ventilation"));
    QVERIFY(at_->clickButton("giveUp"));
    QVERIFY(at_->clickButton("watchHere"));
    QVERIFY(at_->clickButton("watchThem"));
    QVERIFY(!at_->clickButton("watchHere"));                                    // nothing is left to agree to
    QTRY_VERIFY_WITH_TIMEOUT(at_->delivery("Ventilation P06").id != 0, 60'000); // noticed by itself
    at_->waitIdle();
    const project::Delivery arrived = at_->delivery("Ventilation P06");
    QVERIFY(arrived.state == project::DeliveryState::Waiting && arrived.sender == "Vellowind" &&
            arrived.lookedAt.person.empty());
    QVERIFY(at_->message().contains("came in by its drop folder"));
    auto* watching = at_->window().findChild<QLabel*>("dropFolderWords");
    QCOMPARE(watching->text(), QString("watching 1 drop folder"));
    QVERIFY(must(at_->project().log().last(1))[0].what.find("Ventilation P06") != std::string::npos);
    QVERIFY(QFileInfo::exists(file));
    at_->window().findChild<app::DropWatch*>()->look(); // the same once more is nothing new
    at_->waitIdle();
    const auto all = must(at_->project().deliveries().all());
    QCOMPARE(std::count_if(all.begin(), all.end(), [](const auto& x) { return x.discipline == "Ventilation"; }), 3);
}

void TestReceiving::whatCanNotBeReadStaysInSight()
{
    auto* watching = at_->window().findChild<QLabel*>("dropFolderWords");
    const std::size_t before = must(at_->project().deliveries().all()).size();
    QFile broken(at_->folder() + "/drop/MSS-VLW-VEN-P08.ifc");
    QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("ISO-10303-21;\nHEADER;\nEND-ISO-10303-21;\n") > 0);
    broken.close();
    std::filesystem::last_write_time(broken.fileName().toStdString(),
                                     std::filesystem::file_time_type::clock::now() - std::chrono::seconds(60));
    QTRY_COMPARE_WITH_TIMEOUT(watching->text(), QString("a file that arrived can not be read"), 60'000);
    QVERIFY(watching->toolTip().contains("MSS-VLW-VEN-P08.ifc"));
    QVERIFY(at_->message().contains("MSS-VLW-VEN-P08.ifc"));
    QCOMPARE(must(at_->project().deliveries().all()).size(), before);
    at_->waitIdle();
    // Sent again, whole.
    (void)at_->copyOf("MSS-VLW-VEN-P02.ifc", "drop/MSS-VLW-VEN-P08.ifc", "/* sent again */\n");
    at_->window().findChild<app::DropWatch*>()->look();
    QTRY_VERIFY_WITH_TIMEOUT(at_->delivery("Ventilation P08").id != 0, 60'000);
    at_->waitIdle();
    QTRY_COMPARE(watching->text(), QString("watching 1 drop folder"));
    at_->session().undo();
    at_->settle();
    QCOMPARE(must(at_->project().deliveries().all()).size(), before);
    // A folder that is gone is said.
    project::Discipline d = must(at_->project().setup().disciplines())[1];
    d.dropFolder = "not there";
    QVERIFY(at_->change([&](project::Project& p) { return p.setup().setDiscipline(d, at_->session().now()); }));
    QVERIFY(at_->clickButton("watchHere") && at_->clickButton("watchThem"));
    QVERIFY(watching->text().startsWith("the drop folder of Structure is not there"));
    at_->session().undo();
    at_->settle();
    QCOMPARE(watching->text(), QString("watching 1 drop folder"));
}

void TestReceiving::nobodyAgreesToWhatWasNotShown()
{
    const auto name = [&](std::size_t discipline, const char* folder) {
        project::Discipline d = must(at_->project().setup().disciplines())[discipline];
        d.dropFolder = (at_->folder() + folder).toStdString();
        QVERIFY(at_->change([&](project::Project& p) { return p.setup().setDiscipline(d, at_->session().now()); }));
    };
    const auto isAgreed = [&](const char* folder) {
        return app::isWatchedHere(at_->project().folder(), (at_->folder() + folder).toStdString());
    };
    at_->clickStage("Deliveries");
    name(1, "/shown");
    QVERIFY(at_->clickButton("watchHere"));
    QVERIFY(at_->details().contains("/shown"));
    // Another program names one more: what is asked about is no more what there is, so it is asked anew.
    name(3, "/private");
    QVERIFY(!at_->clickButton("watchThem"));
    at_->window().findChild<app::DropWatch*>()->watchThem({at_->folder() + "/shown", "/never/named"});
    QVERIFY(isAgreed("/shown") && !isAgreed("/private"));
    QVERIFY(at_->clickButton("watchHere"));
    QVERIFY(at_->details().contains("/private") && !at_->details().contains("/shown"));
    QVERIFY(at_->clickButton("giveUp"));
    at_->session().undo();
    at_->settle();
    at_->session().undo();
    at_->settle();
}

void TestReceiving::aDeliveryIsDescribed()
{
    at_->clickCard(at_->delivery("Ventilation P06").id);
    QVERIFY(at_->clickButton("describe"));
    at_->field<QLineEdit>("describeTitle").setText("Mains for tender");
    at_->field<QComboBox>("describeSuitability")
        .setCurrentIndex(at_->field<QComboBox>("describeSuitability").findData("S4"));
    QVERIFY(at_->clickButton("describeIt"));
    QTRY_VERIFY(at_->details().contains("Suitable for stage approval"));
    QCOMPARE(at_->delivery("Ventilation P06").title, std::string("Mains for tender"));
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
    const auto documents = must(at_->project().deliveries().documentsOf(at_->delivery("Ventilation P06").id));
    QCOMPARE(documents.size(), std::size_t{1});
    QVERIFY(readFileWhole(at_->project().deliveries().fileOf(documents[0])).value().find("Ventilation P06") !=
            std::string::npos);
    QVERIFY(at_->message().contains("the quality report goes with it"));
    QTRY_VERIFY(at_->details().contains("Declined: Not asked for."));
    // Its whole history stands with it.
    for (const char* words : {"What was done with it", "Described", "Delivery received", "by Ines Varga"})
        QVERIFY2(at_->details().contains(words), words);
    at_->session().undo();
    at_->settle();
    at_->waitIdle();
    QVERIFY(must(at_->project().deliveries().documentsOf(at_->delivery("Ventilation P06").id)).empty());
    // Without it nothing has to be worked out.
    QVERIFY(at_->clickButton("decline"));
    at_->field<QPlainTextEdit>("declineReason").setPlainText("Not asked for.");
    at_->field<QCheckBox>("attachReport").click();
    QVERIFY(at_->clickButton("declineIt"));
    QTRY_VERIFY(at_->delivery("Ventilation P06").state == project::DeliveryState::Declined);
    QVERIFY(must(at_->project().deliveries().documentsOf(at_->delivery("Ventilation P06").id)).empty());
    at_->session().undo();
    at_->settle();
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
    QVERIFY(at_->window().findChild<QAbstractButton*>("member-Structure")->text().startsWith("Structure P01"));
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestReceiving test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_receiving.moc"
