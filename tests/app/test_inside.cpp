#include "app/window_fixture.h"

#include "core/base/file.h"
#include "deliveries/deliveries_stage.h"
#include "deliveries/document_view.h"
#include "deliveries/page_area.h"
#include "support/demo.h"

#include <QCheckBox>
#include <QDesktopServices>
#include <QFile>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QWheelEvent>

#include <cmath>

using namespace wendrix;
using test::must;

/// Looking inside a delivery with mouse and keys: its models, contents, quality, changes and documents.
class TestInside : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void init();
    void enterOpensItAlone();
    void itStandsWithinTheFederation();
    void contentsAreCountedAndShown();
    void classesAreLeftOutBeforeTakingIn();
    void faultsLeadToTheirElements();
    void theReportIsSaved_data();
    void theReportIsSaved();
    void anIdsIsAddedAndChecked();
    void changesAreShown();
    void documentsAreReadPageByPage();
    void drawingsAreReadFromNear();
    void aDamagedDocumentIsSaid();
    void otherStagesSeeWhatIsInUse();
    void decliningSendsTheReport();
    void noProgramIsStartedUnasked();
    void itIsTakenInFromInside();
    void helpOpensThePageOfWhatIsLookedAt();

private:
    void look(const QString& delivery);
    [[nodiscard]] app::InsidePage& inside()
    {
        return static_cast<app::DeliveriesStage&>(at_->window().stage(at_->window().indexOf("Deliveries"))).inside();
    }
    [[nodiscard]] app::Worklist& list() { return *inside().list(); }
    void clickRow(const QString& words);
    [[nodiscard]] QString tab(app::InsidePage::Tab t) { return "chip-" + QString::number(static_cast<int>(t)); }

    std::unique_ptr<test::WindowFixture> at_;
};

void TestInside::initTestCase()
{
    at_ = std::make_unique<test::WindowFixture>();
    at_->openDemo(3);
}

void TestInside::init()
{
    at_->clickStage("Deliveries");
    at_->session().leaveInside();
    at_->waitIdle();
}

void TestInside::look(const QString& delivery)
{
    at_->clickCard(at_->delivery(delivery).id);
    QTest::keyClick(at_->window().findChild<app::Register*>("register"), Qt::Key_Return);
    at_->waitIdle();
    QVERIFY(at_->session().inside() != nullptr);
    QCOMPARE(QString::fromStdString(at_->session().inside()->delivery.name()), delivery);
}

void TestInside::clickRow(const QString& words)
{
    for (int i = 0; i < list().model().rowCount(); ++i)
        if (list().model().row(i).title.contains(words)) {
            list().view().scrollTo(list().model().index(i));
            QTest::mouseClick(list().view().viewport(), Qt::LeftButton, {},
                              list().view().visualRect(list().model().index(i)).center());
            at_->waitIdle();
            return;
        }
    QFAIL(qPrintable("no row " + words));
}

void TestInside::enterOpensItAlone()
{
    const auto line = must(at_->project().log().undoable("Ines Varga"));
    look("Ventilation P02");
    QVERIFY(at_->window().findChild<QWidget*>("looking")->isVisible());
    QVERIFY(at_->window().findChild<QLabel*>("lookingWords")->text().contains("Looking inside Ventilation P02, alone"));
    QVERIFY(at_->window().findChild<QLabel*>("lookingWords")->text().contains("not taken in"));
    // Its model alone; that of the delivery before only where it is painted.
    const auto& looks = at_->scene().looks();
    QCOMPARE(std::count_if(looks.begin(), looks.end(), [](const auto& l) { return !l.isOnlyPainted; }), 1);
    QCOMPARE(at_->scene().members()[0].title(), std::string("Ventilation P02"));
    QVERIFY(at_->delivery("Ventilation P01").isUsed());
    QCOMPARE(at_->delivery("Ventilation P02").lookedAt.person, std::string("Ines Varga"));
    QCOMPARE(must(at_->project().log().undoable("Ines Varga")), line); // looking is no step
    QVERIFY(at_->details().contains("Vellowind"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Down); // the list has the keys
    QTRY_VERIFY(!list().chosen().isEmpty());
    at_->press(Qt::Key_R);
    QVERIFY(at_->session().inside() == nullptr);
    QVERIFY(!at_->window().findChild<QWidget*>("looking")->isVisible());
    QCOMPARE(at_->scene().members().size(), std::size_t{6});
}

void TestInside::itStandsWithinTheFederation()
{
    look("Structure P02");
    QVERIFY(at_->clickButton("insideWithin"));
    at_->waitIdle();
    QTRY_VERIFY(!at_->session().isInsideAlone());
    int isNew = 0, isOld = 0;
    for (std::size_t m = 0; m < at_->scene().members().size(); ++m)
        if (!at_->scene().looks()[m].isOnlyPainted) {
            isNew += at_->scene().members()[m].title() == "Structure P02";
            isOld += at_->scene().members()[m].title() == "Structure P01";
        }
    QVERIFY(isNew == 1 && isOld == 0);
    QVERIFY(at_->window().findChild<QLabel*>("lookingWords")->text().contains("within the federation"));
    at_->press(Qt::Key_W);
    QVERIFY(at_->session().isInsideAlone());
}

void TestInside::contentsAreCountedAndShown()
{
    look("Piping P02");
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Classes)));
    int total = 0;
    for (int i = 0; i < list().model().rowCount(); ++i)
        total += QString(list().model().row(i).right).remove(QChar(0x202F)).toInt();
    QCOMPARE(static_cast<std::size_t>(total), at_->delivery("Piping P02").elements); // both models
    clickRow("Space heater");
    QVERIFY(at_->details().contains("Level 3"));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{36}); // one a room
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Storeys)));
    clickRow("Level 2");
    QVERIFY(at_->details().contains("pipe segment") && at_->scene().display().painted.size() > 80);
}

void TestInside::classesAreLeftOutBeforeTakingIn()
{
    look("Electrical P03");
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Classes)));
    const std::size_t all = at_->session().inside()->alone.members[0].model->elements().size();
    QVERIFY(at_->clickButton("leaveOut"));
    at_->field<QCheckBox>("leaveOut-IfcLightFixture").click();
    QVERIFY(at_->clickButton("leaveOutIt"));
    QTRY_VERIFY(!must(at_->project().setup().disciplines())[4].leftOut.empty());
    at_->waitIdle();
    QTRY_VERIFY(at_->session().inside()->alone.members[0].model->elements().size() < all - 300);
    for (const federation::Member& m : at_->session().workspace().members) // the one in use too
        if (m.discipline == "Electrical")
            QVERIFY(m.model->elements().size() < all - 300);
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Classes)));
    QVERIFY(at_->details().contains("Left out") && at_->details().contains("light fixture"));
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(must(at_->project().setup().disciplines())[4].leftOut.empty());
}

void TestInside::faultsLeadToTheirElements()
{
    look("Electrical P03");
    QVERIFY(inside().tab() == app::InsidePage::Tab::Quality); // a fault comes first
    clickRow("exported as proxies");
    const auto truth = test::truth()["quality"]["MSS-PWE-ELE-P03.ifc"];
    QCOMPARE(at_->scene().display().painted.size(), truth[0]["guids"].size());
    QVERIFY(at_->scene().display().isRestFaded);
    QVERIFY(at_->details().contains("Map them to the class of what they are"));
    auto& concerned = at_->field<QListWidget>("concerned");
    QCOMPARE(static_cast<std::size_t>(concerned.count()), truth[0]["guids"].size());
    QVERIFY(concerned.item(0)->text().startsWith("Junction box"));
    QTest::mouseClick(concerned.viewport(), Qt::LeftButton, {}, concerned.visualItemRect(concerned.item(3)).center());
    QCOMPARE(at_->scene().display().selected.size(), std::size_t{1});
    const auto key = *at_->scene().display().selected.begin();
    QCOMPARE(QString::fromStdString(at_->scene().members()[key.member].model->displayName(
                 at_->scene().members()[key.member].model->elements()[key.element])),
             concerned.item(3)->text());
    // What is said of a storey shows what stands on it.
    at_->session().leaveInside();
    look("Piping P02");
    clickRow("Storeys are not as high");
    QVERIFY(at_->scene().display().painted.size() > 80);
    QVERIFY(at_->details().contains("150 mm higher"));
}

void TestInside::theReportIsSaved_data()
{
    QTest::addColumn<QString>("name");
    QTest::addColumn<QByteArray>("starts");
    QTest::newRow("web page") << "report.html" << QByteArray("<!DOCTYPE html>");
    QTest::newRow("PDF") << "report.pdf" << QByteArray("%PDF-");
    QTest::newRow("table") << "report.csv" << QByteArray("\xEF\xBB\xBFModel,");
}

void TestInside::theReportIsSaved()
{
    QFETCH(QString, name);
    QFETCH(QByteArray, starts);
    look("Electrical P02");
    const QString file = at_->folder() + "/" + name;
    const auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("exportReport"));
    QTRY_VERIFY(*isAsked);
    at_->waitIdle();
    QFile read(file);
    QVERIFY(read.open(QIODevice::ReadOnly));
    const QByteArray bytes = read.readAll();
    QVERIFY(bytes.startsWith(starts));
    QVERIFY(bytes.size() > 2000);
    if (!name.endsWith(".pdf"))
        QVERIFY(bytes.contains("Elements are exported as proxies") && bytes.contains("m across"));
    QVERIFY(at_->message().contains("Saved as"));
}

void TestInside::anIdsIsAddedAndChecked()
{
    look("Electrical P03");
    clickRow("Luminaires have a tag");
    QVERIFY(at_->details().contains("Not met"));
    QCOMPARE(static_cast<int>(at_->scene().display().painted.size()),
             test::truth()["specifications"]["MSS-PWE-ELE-P03.ifc"]["MSS-4"].get<int>());
    QVERIFY(at_->clickButton("removeSpecification-marrowfield.ids"));
    at_->waitIdle();
    QTRY_VERIFY(must(at_->project().setup().specifications()).empty());
    at_->waitIdle();
    for (int i = 0; i < list().model().rowCount(); ++i)
        QVERIFY(!list().model().row(i).title.contains("Luminaires have a tag"));
    const QString broken = at_->folder() + "/broken.ids";
    QFile(broken).open(QIODevice::WriteOnly);
    const auto first = at_->answerFileDialog({broken});
    QVERIFY(at_->clickButton("addSpecifications"));
    QTRY_VERIFY(*first);
    QTRY_VERIFY(at_->message().contains("broken.ids"));
    QVERIFY(must(at_->project().setup().specifications()).empty());
    const auto second = at_->answerFileDialog({QString::fromStdString(test::demoFolder()) + "/data/marrowfield.ids"});
    QVERIFY(at_->clickButton("addSpecifications"));
    QTRY_VERIFY(*second);
    at_->waitIdle();
    QTRY_COMPARE(must(at_->project().setup().specifications()).size(), std::size_t{1});
    at_->waitIdle();
    clickRow("Cable trays are of a material");
    QVERIFY(at_->details().contains("Met"));
}

void TestInside::changesAreShown()
{
    look("Structure P02");
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Changes)));
    const auto truth = test::truth()["changes"]["Structure"];
    QCOMPARE(static_cast<std::size_t>(at_->session().inside()->changes.size()),
             static_cast<std::size_t>(list().model().rowCount()));
    QVERIFY(at_->scene().display().painted.size() >= truth["added"].size() + truth["moved"].size());
    clickRow("Pad footing D7");
    QVERIFY(at_->details().contains("X +"));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{2}); // where it is, and where it was
    QVERIFY(must(at_->project().changes().comparisonsOf(at_->delivery("Structure P02").id))
                .empty()); // nothing is recorded yet
}

void TestInside::documentsAreReadPageByPage()
{
    look("Piping P02");
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Documents)));
    app::DocumentView& view = at_->window().document();
    QSignalSpy shown(&view, &app::DocumentView::shown);
    clickRow("OPW-H-P02.pdf");
    QTRY_VERIFY_WITH_TIMEOUT(!shown.isEmpty(), 30'000);
    QVERIFY2(view.isVisible() && view.hasPicture(), qPrintable(view.words()));
    QCOMPARE(view.words(), QString("OPW-H-P02.pdf · page 1 of 3"));
    shown.clear();
    QTest::keyClick(&view, Qt::Key_PageDown);
    QTRY_VERIFY_WITH_TIMEOUT(!shown.isEmpty(), 30'000);
    QVERIFY(view.words().contains("page 2 of 3"));
    QTest::keyClick(&view, Qt::Key_Escape);
    QVERIFY(!view.isVisible());
}

void TestInside::drawingsAreReadFromNear()
{
    look("Piping P02");
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Documents)));
    app::DocumentView& view = at_->window().document();
    QSignalSpy shown(&view, &app::DocumentView::shown), detailed(&view, &app::DocumentView::detailed);
    clickRow("OPW-H-P02.pdf");
    QTRY_VERIFY_WITH_TIMEOUT(!shown.isEmpty(), 30'000);
    auto& page = at_->field<app::PageArea>("page");
    const auto fractionAt = [&](QPointF at) {
        const QRectF whole = page.pageRect();
        return QPointF((at.x() - whole.left()) / whole.width(), (at.y() - whole.top()) / whole.height());
    };
    QCOMPARE(page.zoom(), 1.0);
    QVERIFY(QRectF(page.rect()).contains(page.pageRect()));
    // The wheel: what is under the cursor stays there.
    const QPointF cursor = page.pageRect().topLeft() +
                           QPointF(page.pageRect().width() * 0.8, page.pageRect().height() * 0.75),
                  whole = page.pageRect().topLeft();
    const auto turnWheel = [&](int notches) {
        for (int i = 0; i < notches; ++i) {
            QWheelEvent wheel(cursor, page.mapToGlobal(cursor), {}, {0, 120}, Qt::NoButton, {}, Qt::NoScrollPhase,
                              false);
            QApplication::sendEvent(&page, &wheel);
        }
    };
    turnWheel(6);
    QVERIFY(page.pageRect().topLeft() != whole &&
            page.pageRect().contains(QRectF(page.rect()).adjusted(8, 8, -8, -8))); // it fills the room
    const QPointF held = fractionAt(cursor);
    turnWheel(4);
    QVERIFY(std::abs(page.zoom() - std::pow(1.25, 10)) < 1e-9);
    QVERIFY(QLineF(fractionAt(cursor), held).length() < 1e-9);
    // What is in sight is drawn again, finer: thin lines come out dark.
    QTRY_VERIFY_WITH_TIMEOUT(!detailed.isEmpty(), 30'000);
    const auto darkest = [&] {
        const QImage image = page.grab().toImage();
        int least = 255;
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x)
                least = std::min(least, qGray(image.pixel(x, y)));
        return least;
    };
    QVERIFY2(darkest() < 120, qPrintable(QString::number(darkest())));
    // Dragged to its corner and no further.
    const QRectF before = page.part();
    QTest::mousePress(&page, Qt::LeftButton, {}, {100, 100});
    for (int i = 1; i <= 40; ++i) {
        QMouseEvent move(QEvent::MouseMove, QPointF(100 - 60 * i, 100 - 60 * i),
                         page.mapToGlobal(QPointF(100 - 60 * i, 100 - 60 * i)), Qt::NoButton, Qt::LeftButton, {});
        QApplication::sendEvent(&page, &move);
    }
    QTest::mouseRelease(&page, Qt::LeftButton, {}, {100, 100});
    QVERIFY(page.part().left() > before.left() && page.part().right() > 0.999 && page.part().bottom() > 0.999);
    QTest::keyClick(&view, Qt::Key_0);
    QCOMPARE(page.zoom(), 1.0);
    QTest::keyClick(&view, Qt::Key_Plus);
    QCOMPARE(page.zoom(), 1.25);
    QTest::keyClick(&view, Qt::Key_Minus);
    QCOMPARE(page.zoom(), 1.0);
}

void TestInside::aDamagedDocumentIsSaid()
{
    look("Piping P02");
    const auto document = must(at_->project().deliveries().documentsOf(at_->delivery("Piping P02").id))[0];
    const auto file = at_->project().deliveries().fileOf(document);
    const std::string whole = readFileWhole(file).value();
    QVERIFY(writeFileWhole(file, "%PDF-1.4 and then nothing").has_value());
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Documents)));
    app::DocumentView& view = at_->window().document();
    QSignalSpy shown(&view, &app::DocumentView::shown);
    clickRow("OPW-H-P02.pdf");
    QTRY_VERIFY_WITH_TIMEOUT(!shown.isEmpty(), 30'000);
    QVERIFY2(view.words().contains("can not be read"), qPrintable(view.words()));
    QVERIFY(!view.hasPicture());
    QVERIFY(writeFileWhole(file, whole).has_value());
}

void TestInside::otherStagesSeeWhatIsInUse()
{
    look("Structure P02");
    at_->clickStage("Clashes");
    QVERIFY(at_->session().inside() == nullptr);
    bool hasUsed = false;
    for (const federation::Member& m : at_->scene().members())
        hasUsed = hasUsed || m.title() == "Structure P01";
    QVERIFY(hasUsed);
    QVERIFY(!at_->window().findChild<QWidget*>("looking")->isVisible());
}

void TestInside::decliningSendsTheReport()
{
    look("Electrical P02");
    QVERIFY(at_->clickButton("decline"));
    QVERIFY(at_->clickButton("declineIt")); // without a reason
    QTRY_VERIFY(at_->message().contains("reason"));
    at_->field<QPlainTextEdit>("declineReason").setPlainText("Drawn in millimetres, exported in metres.");
    QVERIFY(at_->clickButton("declineIt"));
    QTRY_VERIFY(at_->delivery("Electrical P02").state == project::DeliveryState::Declined);
    QTRY_VERIFY(at_->session().inside() == nullptr);
    const auto documents = must(at_->project().deliveries().documentsOf(at_->delivery("Electrical P02").id));
    QCOMPARE(documents.size(), std::size_t{1});
    const std::string html = readFileWhole(at_->project().deliveries().fileOf(documents[0])).value();
    QVERIFY(html.find("Electrical P02") != std::string::npos && html.find("m across") != std::string::npos);
    at_->clickCard(at_->delivery("Electrical P02").id);
    QVERIFY(at_->details().contains("exported in metres") &&
            at_->details().contains("Quality report Electrical P02.html"));
}

namespace {

/// Instead of the programs that a desktop would start.
class Desktop : public QObject {
    Q_OBJECT
public:
    Desktop() { QDesktopServices::setUrlHandler("file", this, "open"); }
    ~Desktop() override { QDesktopServices::unsetUrlHandler("file"); }
    QList<QUrl> opened;
public slots:
    void open(const QUrl& url) { opened.append(url); }
};

} // namespace

void TestInside::noProgramIsStartedUnasked()
{
    Desktop desktop;
    look("Electrical P02");
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Documents)));
    clickRow("Quality report Electrical P02.html");
    QVERIFY(at_->details().contains("does not look into other documents"));
    QVERIFY(desktop.opened.isEmpty());
    QVERIFY(at_->clickButton("openDocument"));
    QTRY_COMPARE(desktop.opened.size(), qsizetype{1});
    const auto document = must(at_->project().deliveries().documentsOf(at_->delivery("Electrical P02").id))[0];
    const auto file = at_->project().deliveries().fileOf(document);
    QCOMPARE(desktop.opened[0].toLocalFile().toStdString(), file.string());
    // A link in its place leads nowhere.
    const std::string whole = readFileWhole(file).value();
    std::filesystem::remove(file);
    std::filesystem::create_symlink("/etc/hostname", file);
    look("Electrical P02");
    QVERIFY(at_->clickButton(tab(app::InsidePage::Tab::Documents)));
    clickRow("Quality report Electrical P02.html");
    QVERIFY(at_->details().contains("not in the project's folder any more"));
    QVERIFY(at_->window().findChild<QPushButton*>("openDocument") == nullptr);
    std::filesystem::remove(file);
    QVERIFY(writeFileWhole(file, whole).has_value());
}

void TestInside::itIsTakenInFromInside()
{
    look("Electrical P03");
    at_->press(Qt::Key_T);
    at_->waitIdle();
    QVERIFY(at_->delivery("Electrical P03").isUsed());
    QVERIFY(at_->session().inside() == nullptr);
    const auto truth = test::truth()["laterChanges"]["Electrical"];
    QCOMPARE(must(at_->project().changes().changesOf(
                      must(at_->project().changes().comparisonsOf(at_->delivery("Electrical P03").id)).at(0).id))
                 .size(),
             truth["added"].size() + truth["moved"].size());
    QVERIFY(at_->message().contains("21 changes"));
}

void TestInside::helpOpensThePageOfWhatIsLookedAt()
{
    look("Piping P02");
    for (const bool isQuality : {true, false}) {
        inside().setTab(isQuality ? app::InsidePage::Tab::Quality : app::InsidePage::Tab::Classes);
        QVERIFY(at_->help("helpPage").contains(isQuality ? "IDS 1.0" : "By storey"));
    }
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestInside test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_inside.moc"
