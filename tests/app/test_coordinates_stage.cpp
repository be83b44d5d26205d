#include "app/own_project.h"
#include "coordinates/residual_plan.h"
#include "core/base/file.h"
#include "core/coordinates/alignment.h"
#include "shell/storey_ladder.h"
#include "support/made_site.h"

#include <QLineEdit>
#include <QPushButton>
#include <QScreen>
#include <QTableWidget>
#include <QToolButton>

using namespace wendrix;
using test::MadeModel;
using test::must;

/// Members that stand elsewhere by a known turn and shift: what is said of it, what is applied, and what follows.
class TestCoordinatesStage : public QObject {
    Q_OBJECT
private slots:
    void init() { at_ = std::make_unique<test::OwnProject>(); }
    void cleanup() { at_.reset(); }
    void aMemberIsFittedLockedAndUnlocked_data();
    void aMemberIsFittedLockedAndUnlocked();
    void theNextRevisionIsMeasured();
    void aMoveIsSeenWithoutAGrid();
    void anAxisDrawnElsewhereStops();
    void theReferenceThatMovesStops();
    void anOldCompositionStandsInItsOwnFit();
    void whatCanNotBeFittedSaysWhy_data();
    void whatCanNotBeFittedSaysWhy();
    void heightsAloneAreNoticed();
    void theReferenceIsNotMoved();
    void largeGridsFitIntoThePanel();
    void waysStandSideBySide();
    void theCorrectedFileNeedsNoFit();
    void coordinatesAreTakenOver();
    void whatStandsRightIsAgreed();
    void modelsOfOneDeliveryAreJudgedEach();

private:
    [[nodiscard]] static MadeModel team(const std::string& name, double degrees = 0, Vector3 shift = {});
    [[nodiscard]] project::StoredFit fitOf(const char* discipline) const
    {
        return must(at_->project().coordinates().fitInUse(discipline));
    }
    [[nodiscard]] QString chip(const char* discipline) const
    {
        return at_->window().findChild<QAbstractButton*>(QString("member-") + discipline)->text();
    }
    void unlock()
    {
        QVERIFY(at_->clickButton("unlockFit"));
        at_->field<QLineEdit>("unlockReason").setText("To be fitted anew");
        QVERIFY(at_->clickButton("unlockIt"));
        at_->waitIdle();
    }
    /// Where a member's first body stands now.
    [[nodiscard]] Point3 standsAt(std::uint32_t member) const
    {
        return view::boundsOf(at_->scene().members(), {member, 0}).centre();
    }
    [[nodiscard]] std::filesystem::path written(const test::MadeSite& site) const
    {
        const auto file = std::filesystem::path(at_->folder().toStdString()) / (site.name + ".ifc");
        (void)writeFileWhole(file, site.text());
        return file;
    }
    std::unique_ptr<test::OwnProject> at_;
};

MadeModel TestCoordinatesStage::team(const std::string& name, double degrees, Vector3 shift)
{
    MadeModel m;
    m.name = name;
    m.turnedDegrees = degrees;
    m.shift = shift;
    m.boxes = {{name + " 1", {1, 1, 1}, {5, 1.4, 2}}, {name + " 2", {1, 7, 4}, {5, 7.4, 5}}};
    return m;
}

void TestCoordinatesStage::aMemberIsFittedLockedAndUnlocked_data()
{
    QTest::addColumn<double>("degrees");
    QTest::addColumn<QVector<double>>("shift");
    QTest::addColumn<QString>("cause");
    QTest::newRow("moved") << 0.0 << QVector<double>{40, -7, 0} << "away";
    QTest::newRow("turned") << 30.0 << QVector<double>{0, 0, 0} << "turned by 30.00°";
    QTest::newRow("turned, moved, and too low") << -12.5 << QVector<double>{40, -7, 2.5} << "12.50°";
    QTest::newRow("on the map") << 2.25 << QVector<double>{431'208.4, 5'410'977.15, 312.6} << "2.25°";
}

void TestCoordinatesStage::aMemberIsFittedLockedAndUnlocked()
{
    QFETCH(double, degrees);
    QFETCH(QVector<double>, shift);
    QFETCH(QString, cause);
    at_->openEmpty({"Architecture", "Structure"});
    QVERIFY(at_->takeIn(team("Architecture"), "P01"));
    QVERIFY(at_->takeIn(team("Structure", degrees, {shift[0], shift[1], shift[2]}), "P01"));
    at_->clickStage("Coordinates");
    QCOMPARE(at_->rows("Coordinates").rowCount(), 1);
    QVERIFY(at_->rows("Coordinates").row(0).right.startsWith("off by"));
    QCOMPARE(at_->rows("Coordinates").row(0).loud, QString("so not tested"));
    QVERIFY2(at_->details().contains(cause, Qt::CaseInsensitive), qPrintable(at_->details()));
    QVERIFY(!at_->details().contains("-0.000")); // nothing has no sign
    QVERIFY(at_->details().contains("9 crossings, 0.0 mm mean, 0.0 mm worst"));
    QVERIFY(chip("Structure").contains("not aligned"));
    at_->press(Qt::Key_A);
    at_->waitIdle();
    const project::StoredFit fit = fitOf("Structure");
    QVERIFY(fit.isLocked && fit.method == "grids" && fit.by.person == "Ines Varga" && fit.residuals.size() == 9);
    QVERIFY(std::abs(std::remainder(toDegrees(fit.fit.rotation) - degrees, 360)) < 1e-6);
    QVERIFY(length(standsAt(1) - Point3{3, 1.2, 1.5}) < 1e-3);
    QVERIFY(at_->rows("Coordinates").row(0).right.contains("0.0 mm · locked") &&
            at_->rows("Coordinates").row(0).loud.isEmpty());
    QVERIFY(!chip("Structure").contains("not aligned"));
    QVERIFY(at_->details().contains("Locked by Ines Varga"));
    at_->press(Qt::Key_A); // locked: nothing to apply
    QCOMPARE(must(at_->project().coordinates().allOf("Structure")).size(), std::size_t{1});
    unlock();
    QVERIFY(!fitOf("Structure").isLocked && fitOf("Structure").fit == fit.fit);
    // Two steps back it stands where it was delivered.
    at_->session().undo();
    at_->waitIdle();
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(at_->rows("Coordinates").row(0).right.startsWith("off by"));
    QVERIFY(fitOf("Structure").method.empty() && length(standsAt(1) - Point3{3, 1.2, 1.5}) > 0.5);
}

void TestCoordinatesStage::theNextRevisionIsMeasured()
{
    at_->openEmpty({"Architecture", "Structure"});
    QVERIFY(at_->takeIn(team("Architecture"), "P01"));
    QVERIFY(at_->takeIn(team("Structure", 17.3, {40, -7, 2}), "P01"));
    at_->clickStage("Coordinates");
    at_->press(Qt::Key_A);
    at_->waitIdle();
    // From the same origin: the fit that is there holds.
    QVERIFY(at_->takeIn(team("Structure", 17.3, {40, -7, 2}), "P02"));
    QVERIFY2(at_->message().contains("Alignment verified"), qPrintable(at_->message()));
    QVERIFY(!chip("Structure").contains("not aligned"));
    // From another one: taking in stops before anything is compared or tested, and says why.
    const auto comparisons = must(at_->project().changes().comparisonsOf(at_->delivery("Structure P02").id)).size();
    QVERIFY(!at_->takeIn(team("Structure", 47.3, {52, -7, 2}), "P03"));
    QVERIFY2(at_->message().contains("Structure P03 is not taken in yet"), qPrintable(at_->message()));
    QVERIFY2(at_->details().contains("Its origin moved by") && at_->details().contains("turned by 30.00°"),
             qPrintable(at_->details()));
    QVERIFY(at_->details().contains("Proposed\n47.3000° · 52.000 · -7.000 · 2.000 m\n0.0"));
    if (const QByteArray path = qgetenv("WENDRIX_SHOT"); !path.isEmpty())
        (void)QGuiApplication::primaryScreen()->grabWindow(at_->window().winId()).save(path + "/stopped.png");
    QCOMPARE(must(at_->project().changes().comparisonsOf(at_->delivery("Structure P02").id)).size(), comparisons);
    QVERIFY(must(at_->project().changes().comparisonsOf(at_->delivery("Structure P03").id)).empty());
    const project::StoredFit before = fitOf("Structure");
    // With the proposed fit nothing moved, and it is locked again.
    QVERIFY(at_->clickButton("takeInFitted"));
    at_->waitIdle();
    QCOMPARE(at_->delivery("Structure P03").state, project::DeliveryState::InUse);
    QVERIFY2(at_->message().contains("0 changes") && at_->message().contains("Alignment verified"),
             qPrintable(at_->message()));
    QVERIFY(fitOf("Structure").isLocked && fitOf("Structure").method == "grids");
    QVERIFY(std::abs(toDegrees(fitOf("Structure").fit.rotation) - 47.3) < 1e-6);
    QVERIFY(length(standsAt(1) - Point3{3, 1.2, 1.5}) < 1e-6);
    // One step back, the delivery waits again and the fit of before is in force.
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(at_->delivery("Structure P03").state, project::DeliveryState::Waiting);
    QCOMPARE(fitOf("Structure").id, before.id);
    // As it stands it can be taken in too; then it is not tested.
    at_->clickStage("Deliveries");
    at_->clickCard(at_->delivery("Structure P03").id);
    QVERIFY(at_->clickButton("takeIn"));
    at_->waitIdle();
    QVERIFY(at_->clickButton("takeInMoved"));
    at_->waitIdle();
    QCOMPARE(at_->delivery("Structure P03").state, project::DeliveryState::InUse);
    QVERIFY(chip("Structure").contains("not aligned"));
    at_->clickStage("Clashes");
    at_->press(Qt::Key_R);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("Structure P03") && at_->message().contains("grid is off by"),
             qPrintable(at_->message()));
}

void TestCoordinatesStage::aMoveIsSeenWithoutAGrid()
{
    // Nothing verifies it: a person says that it stands right. Its next revision moves as a whole.
    MadeModel structure = team("Structure");
    structure.gridSpacing = 0;
    structure.storeys = {{"own floor", 0}};
    structure.boxes.push_back({"Structure 3", {9, 2, 0}, {9.4, 2.4, 3}});
    structure.boxes.push_back({"Structure 4", {2, 12, 0}, {2.4, 12.4, 3}});
    at_->openEmpty({"Architecture", "Structure"});
    QVERIFY(at_->takeIn(team("Architecture"), "P01"));
    QVERIFY(at_->takeIn(structure, "P01"));
    at_->clickStage("Coordinates");
    QVERIFY(at_->clickButton("acceptAsItStands"));
    at_->waitIdle();
    structure.turnedDegrees = 90;
    structure.shift = {3, 0, 0.5};
    structure.boxes[1].high.z += 0.7; // and one thing really changed
    QVERIFY(!at_->takeIn(structure, "P02"));
    QVERIFY2(at_->details().contains("what both revisions have"), qPrintable(at_->details()));
    at_->press(Qt::Key_T);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("is in use: 1 change."), qPrintable(at_->message()));
    QVERIFY(length(standsAt(1) - Point3{3, 1.2, 1.5}) < 1e-6);
    QCOMPARE(fitOf("Structure").method, std::string("revision"));
    // It stands where it was said to stand right, so it goes on being tested.
    QVERIFY(fitOf("Structure").isAccepted);
    at_->clickStage("Coordinates");
    QCOMPARE(at_->rows("Coordinates").row(0).loud, QString());
}

void TestCoordinatesStage::anAxisDrawnElsewhereStops()
{
    at_->openEmpty({"Architecture", "Structure"});
    test::MadeSite reference, moving;
    reference.name = "Architecture";
    moving.name = "Structure";
    QVERIFY(at_->takeIn(written(reference), "Architecture", "P01"));
    QVERIFY(at_->takeIn(written(moving), "Structure", "P01"));
    QVERIFY2(at_->message().contains("Alignment verified"), qPrintable(at_->message()));
    moving.letters[2].second += 0.035;
    QVERIFY(!at_->takeIn(written(moving), "Structure", "P02"));
    QVERIFY2(at_->details().contains("C") && at_->details().contains("35 mm") &&
                 at_->details().contains("No other fit brings it closer"),
             qPrintable(at_->details()));
    QVERIFY(at_->window().findChild<QAbstractButton*>("takeInFitted") == nullptr);
    QVERIFY(at_->clickButton("takeInMoved"));
    at_->waitIdle();
    // Taken in, it does not pass for right.
    QVERIFY2(at_->message().contains("its grid is off by 35 mm at C/"), qPrintable(at_->message()));
    QVERIFY(chip("Structure").contains("not aligned"));
    at_->clickStage("Coordinates");
    QCOMPARE(at_->rows("Coordinates").row(0).right, QString("off by 35 mm"));
    QCOMPARE(at_->rows("Coordinates").row(0).loud, QString("so not tested"));
    // Locked as it is, it can still be said that it is to be tested so; that moves nothing.
    at_->waitIdle();
    at_->press(Qt::Key_A);
    at_->waitIdle();
    const federation::Fit locked = fitOf("Structure").fit;
    QVERIFY(fitOf("Structure").isLocked && !at_->rows("Coordinates").row(0).loud.isEmpty());
    QVERIFY(at_->clickButton("acceptAsItStands"));
    at_->waitIdle();
    QVERIFY(fitOf("Structure").isLocked && fitOf("Structure").isAccepted && fitOf("Structure").fit == locked);
    QVERIFY(at_->rows("Coordinates").row(0).loud.isEmpty());
}

void TestCoordinatesStage::theReferenceThatMovesStops()
{
    at_->openEmpty({"Architecture", "Structure"});
    MadeModel architecture = team("Architecture");
    architecture.boxes.push_back({"Architecture 3", {9, 2, 0}, {9.4, 2.4, 3}});
    QVERIFY(at_->takeIn(architecture, "P01"));
    QVERIFY(at_->takeIn(team("Structure"), "P01"));
    architecture.shift = {5, 0, 0};
    QVERIFY(!at_->takeIn(architecture, "P02"));
    QVERIFY2(at_->details().contains("It is the reference") && at_->details().contains("5.00 m off"),
             qPrintable(at_->details()));
    QVERIFY(at_->window().findChild<QAbstractButton*>("takeInFitted") == nullptr);
    at_->press(Qt::Key_T); // nothing is proposed, so nothing happens
    at_->waitIdle();
    QCOMPARE(at_->delivery("Architecture P02").state, project::DeliveryState::Waiting);
    QVERIFY(at_->clickButton("takeInMoved"));
    at_->waitIdle();
    QCOMPARE(at_->delivery("Architecture P02").state, project::DeliveryState::InUse);
    QVERIFY(chip("Structure").contains("not aligned"));
}

void TestCoordinatesStage::anOldCompositionStandsInItsOwnFit()
{
    at_->openEmpty({"Architecture", "Structure"});
    QVERIFY(at_->takeIn(team("Architecture"), "P01"));
    QVERIFY(at_->takeIn(team("Structure", 30, {40, -7, 2}), "P01"));
    at_->clickStage("Coordinates");
    at_->press(Qt::Key_A);
    at_->waitIdle();
    const federation::Fit first = fitOf("Structure").fit;
    // In the next cycle the team exports from another origin and is fitted anew.
    project::NewDelivery d;
    d.discipline = "Structure";
    d.revision = "P02";
    d.cycle = 2;
    d.time = "2026-11-20T09:00:00Z";
    d.models = {{at_->fileOf(team("Structure", -45, {-8, 3, 0}), "P02"), {}, {}, 0}};
    at_->session().receive(d);
    at_->waitIdle();
    at_->session().takeIn(at_->delivery("Structure P02").id, project::MovedAnswer{}); // as it stands
    at_->waitIdle();
    at_->clickStage("Coordinates");
    at_->clickRow("Coordinates", 0);
    QVERIFY(fitOf("Structure").isLocked); // the one before is what is there
    unlock();
    at_->press(Qt::Key_A);
    at_->waitIdle();
    const federation::Fit second = fitOf("Structure").fit;
    QVERIFY(!(first == second));
    QVERIFY(std::abs(toDegrees(second.rotation) + 45) < 1e-6);
    QVERIFY(length(standsAt(1) - Point3{3, 1.2, 1.5}) < 1e-6);
    // Nothing changed between the two but where they were exported from, so nothing is said to have moved.
    at_->clickStage("Changes");
    // The composition of the first cycle stands in the first fit, the present one in the second.
    at_->session().lookBack(1);
    at_->waitIdle();
    QCOMPARE(at_->scene().members()[1].revision, std::string("P01"));
    QVERIFY(at_->scene().members()[1].fit == first);
    QVERIFY(length(standsAt(1) - Point3{3, 1.2, 1.5}) < 1e-6);
    at_->session().lookAtNow();
    at_->waitIdle();
    QCOMPARE(at_->scene().members()[1].revision, std::string("P02"));
    QVERIFY(at_->scene().members()[1].fit == second);
    QCOMPARE(must(at_->project().coordinates().fitOf(at_->delivery("Structure P01"))).fit, first);
    QCOMPARE(must(at_->project().coordinates().fitOf(at_->delivery("Structure P02"))).fit, second);
    // And over a restart.
    at_->openAgain();
    QVERIFY(at_->scene().members()[1].fit == second);
}

void TestCoordinatesStage::whatCanNotBeFittedSaysWhy_data()
{
    QTest::addColumn<double>("spacing"); // of the team's grid, where the reference has 6 m
    QTest::addColumn<QString>("said");
    QTest::addColumn<bool>("canBeFitted");
    QTest::newRow("no grid") << 0.0 << "no grid" << false;
    // Not what is proposed; laid over each other as well as can be, if somebody asks for that.
    QTest::newRow("another grid") << 6.2 << "do not match even when laid over each other" << true;
}

void TestCoordinatesStage::whatCanNotBeFittedSaysWhy()
{
    QFETCH(double, spacing);
    QFETCH(QString, said);
    QFETCH(bool, canBeFitted);
    at_->openEmpty({"Architecture", "Structure"});
    MadeModel structure = team("Structure");
    structure.gridSpacing = spacing;
    QVERIFY(at_->takeIn(team("Architecture"), "P01"));
    QVERIFY(at_->takeIn(structure, "P01"));
    at_->clickStage("Coordinates");
    QVERIFY2(at_->details().contains(said, Qt::CaseInsensitive), qPrintable(at_->details()));
    QVERIFY(!at_->window().findChild<QAbstractButton*>("applyFit")->isEnabled());
    at_->press(Qt::Key_A);
    at_->waitIdle();
    QVERIFY(!fitOf("Structure").isLocked);
    QCOMPARE(at_->clickButton("way-grids"), canBeFitted);
    if (canBeFitted) {
        QVERIFY(at_->window().findChild<QAbstractButton*>("applyFit")->isEnabled());
        at_->press(Qt::Key_A);
        at_->waitIdle();
    }
    QCOMPARE(fitOf("Structure").isLocked, canBeFitted);
    // Fitted as well as can be it still does not stand right, and that stays said.
    QVERIFY(!at_->rows("Coordinates").row(0).loud.isEmpty());
}

void TestCoordinatesStage::heightsAloneAreNoticed()
{
    at_->openEmpty({"Architecture", "Structure"});
    QVERIFY(at_->takeIn(team("Architecture"), "P01"));
    QVERIFY(at_->takeIn(team("Structure", 0, {0, 0, 0.15}), "P01"));
    at_->clickStage("Coordinates");
    // The grids lie on each other; the storeys do not.
    QCOMPARE(at_->rows("Coordinates").row(0).right, QString("0.0 mm"));
    QVERIFY2(at_->rows("Coordinates").row(0).loud.contains("its storeys are off by 150 mm"),
             qPrintable(at_->rows("Coordinates").row(0).loud));
    QVERIFY(chip("Structure").contains("not aligned"));
    at_->press(Qt::Key_A);
    at_->waitIdle();
    QVERIFY(std::abs(fitOf("Structure").fit.translation.z - 0.15) < 1e-9);
    QVERIFY(at_->rows("Coordinates").row(0).loud.isEmpty());
    QVERIFY(at_->details().contains("Storeys agree."));
}

void TestCoordinatesStage::theReferenceIsNotMoved()
{
    at_->openEmpty({"Architecture", "Structure"});
    QVERIFY(at_->takeIn(team("Architecture", 30, {40, -7, 2}), "P01")); // whatever it is, it is the frame
    at_->clickStage("Coordinates");
    QCOMPARE(at_->rows("Coordinates").rowCount(), 0);
    QVERIFY(at_->words("Coordinates").contains("Members appear here"));
    at_->press(Qt::Key_A);
    QVERIFY(must(at_->project().coordinates().allOf("Architecture")).empty());
    QVERIFY(at_->takeIn(team("Structure"), "P01"));
    at_->clickStage("Coordinates");
    at_->press(Qt::Key_A);
    at_->waitIdle();
    QVERIFY(length(standsAt(0) - standsAt(1)) < 1e-6);
    QCOMPARE(at_->scene().members()[0].fit, federation::Fit{});
}

void TestCoordinatesStage::largeGridsFitIntoThePanel()
{
    // 16 x 15 axes, 30 storeys, far out on the map.
    MadeModel large = team("Architecture");
    large.letters = 16;
    large.digits = 15;
    large.storeys.clear();
    for (int i = 0; i < 30; ++i)
        large.storeys.emplace_back("Level " + std::to_string(i), 3.2 * i);
    at_->openEmpty({"Architecture", "Structure"});
    QVERIFY(at_->takeIn(large, "P01"));
    MadeModel moved = large;
    moved.name = "Structure";
    moved.shift = {431'208.4, 5'410'977.15, 312.6};
    QVERIFY(at_->takeIn(moved, "P01"));
    at_->clickStage("Coordinates");
    auto* plan = at_->window().findChild<app::ResidualPlan*>("residualPlan");
    auto* table = at_->window().findChild<QTableWidget*>("residualTable");
    QVERIFY(plan != nullptr && table != nullptr);
    QCOMPARE(plan->residuals().size(), std::size_t{240});
    QVERIFY(table->rowCount() == 16 && table->columnCount() == 15);
    QCOMPARE(table->item(3, 4)->text(), QString("0.0"));
    // Nothing runs out of the panel, and every crossing has its dot in the plan.
    const auto* panel = at_->window().findChild<app::Details*>("details");
    for (const QWidget* one : {static_cast<const QWidget*>(plan), static_cast<const QWidget*>(table)})
        QVERIFY(one->mapTo(panel, QPoint(one->width(), 0)).x() <= panel->width());
    std::set<std::pair<int, int>> dots;
    for (const federation::Residual& r : plan->residuals()) {
        QVERIFY(plan->rect().contains(plan->pixelOf(r).toPoint()));
        dots.insert({static_cast<int>(plan->pixelOf(r).x()), static_cast<int>(plan->pixelOf(r).y())});
    }
    QVERIFY(dots.size() > 230);
    // Digits of one number stay together.
    QVERIFY2(at_->details().contains(QString("431") + QChar(0x202F) + "208.400"), qPrintable(at_->details()));
    // The ladder names as many storeys as have room, the chosen one always, and none over another.
    auto* ladder = at_->window().findChild<app::StoreyLadder*>("ladder");
    for (const int high : {240, 320, 480, 700}) {
        ladder->resize(ladder->width(), high);
        ladder->setChosen("Level 13");
        const QStringList named = ladder->named();
        QVERIFY2(named.contains("Level 13") && (named.size() == 30) == (high == 700), qPrintable(named.join(", ")));
        QVERIFY(high < 300 || (named.contains("Level 0") && named.contains("Level 29")));
        std::vector<QRect> rects;
        for (int i = 0; i < 30; ++i)
            if (named.contains("Level " + QString::number(i)))
                rects.push_back(ladder->nameRect(i));
        for (std::size_t i = 0; i < rects.size(); ++i)
            for (std::size_t k = i + 1; k < rects.size(); ++k)
                QVERIFY(!rects[i].intersects(rects[k]));
    }
    ladder->setChosen({});
    at_->window().resize(1280, 801); // and it is laid out again
    if (const QByteArray path = qgetenv("WENDRIX_SHOT"); !path.isEmpty())
        at_->window().grab().save(path);
}

void TestCoordinatesStage::waysStandSideBySide()
{
    at_->openEmpty({"Architecture", "Structure"});
    test::MadeSite reference, moving;
    reference.name = "Architecture";
    moving.name = "Structure";
    for (auto& [tag, x] : moving.letters) // numbered by another team's rule
        tag = "S" + tag;
    moving.place = test::turnedAndShifted(17.3, {40, -7, 2.5});
    QVERIFY(at_->takeIn(written(reference), "Architecture", "P01"));
    QVERIFY(at_->takeIn(written(moving), "Structure", "P01"));
    at_->clickStage("Coordinates");
    at_->waitIdle();
    QVERIFY2(at_->details().contains("turned by 17.30°"), qPrintable(at_->details()));
    const QString ways = at_->details().section("Ways to fit, side by side", 1);
    QVERIFY2(ways.contains("Grids, by name\n–\n–\n–\nGrids, by spacing ◂\n-17.30°"),
             qPrintable(ways)); // no name is shared
    QVERIFY(at_->window().findChild<QAbstractButton*>("way-grids") == nullptr);
    // Another way is looked at, then the first one again, with the mouse; it is applied with the key.
    QVERIFY(at_->clickButton("way-storeys"));
    at_->waitIdle();
    QVERIFY(at_->details().contains("0.0000°"));
    QVERIFY(at_->clickButton("way-pattern"));
    at_->waitIdle();
    QVERIFY2(at_->details().contains("-17.3000°"), qPrintable(at_->details()));
    at_->press(Qt::Key_A);
    at_->waitIdle();
    const project::StoredFit fit = fitOf("Structure");
    QVERIFY(fit.isLocked && fit.method == "pattern" && fit.worst < 1e-6);
    QVERIFY(length(fit.fit.transform().apply(moving.place({18, 24.5, 7.9})) - Point3{18, 24.5, 7.9}) < 1e-6);
}

void TestCoordinatesStage::theCorrectedFileNeedsNoFit()
{
    at_->openEmpty({"Architecture", "Structure"});
    test::MadeSite reference, moving;
    reference.name = "Architecture";
    reference.conversion = test::MadeSite::Conversion{"EPSG:25832", 431'208.4, 5'410'977.15, 312.6, 12.5};
    moving.name = "Structure";
    moving.schema = "IFC2X3";
    moving.place = test::turnedAndShifted(-31, {4, 3, 1});
    QVERIFY(at_->takeIn(written(reference), "Architecture", "P01"));
    QVERIFY(at_->takeIn(written(moving), "Structure", "P01"));
    at_->clickStage("Coordinates");
    at_->waitIdle();
    at_->press(Qt::Key_A);
    at_->waitIdle();
    // The sheet for the team, as a page and as PDF.
    for (const char* ending : {"html", "pdf"}) {
        const QString sheet = at_->folder() + "/sheet." + ending;
        const auto isSheetAsked = at_->answerFileDialog({sheet});
        QVERIFY(at_->clickButton("coordinateSheet"));
        at_->waitIdle();
        QVERIFY(*isSheetAsked);
        QVERIFY2(at_->message().contains("is written to sheet."), qPrintable(at_->message()));
        const QString bytes = QString::fromStdString(must(readFileWhole(sheet.toStdString())));
        if (QString(ending) == "pdf") {
            QVERIFY(bytes.startsWith("%PDF"));
            continue;
        }
        for (const char* words :
             {"431208.400 m", "12.500000°", "31.000000°", "EPSG:25832", "no map conversion", "<svg", ">A</text>"})
            QVERIFY2(bytes.contains(words), words);
    }
    const QString target = at_->folder() + "/given back.ifc";
    const auto isAsked = at_->answerFileDialog({target});
    QVERIFY(at_->clickButton("writeCorrected"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    QVERIFY2(at_->message().contains("read again it needs no fit"), qPrintable(at_->message()));
    // The team sends it as its next revision: it stands right by itself, once the fit is taken off it.
    Progress progress;
    const auto model = must(ifc::Model::open(target.toStdString(), progress));
    const auto& onto = *at_->session().reference()->model;
    for (const coordinates::Left& left : coordinates::leftAt(onto, *model, {}))
        QVERIFY(left.distance.value < 1e-6);
    QCOMPARE(model->georeference().crs.value_or(""), std::string("EPSG:25832"));
}

void TestCoordinatesStage::coordinatesAreTakenOver()
{
    at_->openEmpty({"Architecture", "Structure"});
    test::MadeSite reference, moving;
    reference.name = "Architecture";
    moving.name = "Structure";
    moving.place = test::turnedAndShifted(-31, {4, 3, 1});
    moving.conversion = test::MadeSite::Conversion{"EPSG:25832", 431'208.4, 5'410'977.15, 312.6, 12.5};
    QVERIFY(at_->takeIn(written(reference), "Architecture", "P01"));
    QVERIFY(at_->takeIn(written(moving), "Structure", "P01"));
    at_->clickStage("Coordinates");
    at_->waitIdle();
    at_->press(Qt::Key_A);
    at_->waitIdle();
    at_->press(Qt::Key_G);
    QVERIFY2(at_->details().contains("As Architecture P01 declares") &&
                 at_->details().contains("no map conversion says where"),
             qPrintable(at_->details()));
    QVERIFY(at_->window().findChild<QAbstractButton*>("takeOver-Architecture P01") == nullptr);
    QVERIFY(at_->clickButton("takeOver-Structure P01"));
    // Before and after, side by side; the base point lies where the member's fit takes the reference's origin.
    const federation::Fit fit = fitOf("Structure").fit;
    const Point3 inFile = fit.transform().inverse().apply(Point3{});
    const double turn = fromDegrees(12.5).value, e = 431'208.4 + std::cos(turn) * inFile.x - std::sin(turn) * inFile.y,
                 n = 5'410'977.15 + std::sin(turn) * inFile.x + std::cos(turn) * inFile.y;
    QVERIFY2(at_->details().contains("Map easting\nnone\n≠ " + QString::number(e, 'f', 3) + " m"),
             qPrintable(at_->details()));
    QVERIFY(at_->clickButton("takeOverIt"));
    at_->waitIdle();
    const auto place = must(at_->project().coordinates().place());
    QVERIFY(place && place->from == "Structure P01" && place->by.person == "Ines Varga");
    QVERIFY(std::abs(*place->says.eastings - e) < 1e-6 && std::abs(*place->says.northings - n) < 1e-6);
    QVERIFY(std::abs(toDegrees(*place->says.rotation) - 12.5 - 31) < 1e-6 ||
            std::abs(toDegrees(*place->says.rotation) - 12.5 + 31) < 1e-6);
    QVERIFY2(at_->details().contains("As Structure P01 declares") && at_->details().contains("✓ agrees"),
             qPrintable(at_->details()));
    QCOMPARE(at_->scene().document().arrows().size(), std::size_t{2});
    QVERIFY(QString::fromStdString(at_->scene().document().arrows()[0].words).startsWith("Base point · E 431"));
    QVERIFY(QString::fromStdString(at_->scene().document().arrows()[1].words).startsWith("Survey point · 48."));
    if (const QByteArray path = qgetenv("WENDRIX_SHOT"); !path.isEmpty())
        (void)QGuiApplication::primaryScreen()->grabWindow(at_->window().winId()).save(path + "/place.png");
    // The cursor tells all three: here, on the map, on earth.
    auto* reading = at_->window().findChild<QPushButton*>("place");
    emit at_->scene().cursorMoved(true, 0, 0, 0);
    QVERIFY2(reading->text().contains("X 0.000 Y 0.000"), qPrintable(reading->text()));
    reading->click();
    QVERIFY2(reading->text().contains("E " + QString::number(e, 'f', 3)), qPrintable(reading->text()));
    reading->click();
    QVERIFY2(reading->text().contains("° N 8.0"), qPrintable(reading->text())); // west of the zone's middle at 9°
    // The check sheet, as a page and as PDF.
    for (const char* ending : {"html", "pdf"}) {
        const QString sheet = at_->folder() + "/check." + ending;
        const auto isAsked = at_->answerFileDialog({sheet});
        QVERIFY(at_->clickButton("placeSheet"));
        QVERIFY(*isAsked);
        const QString bytes = QString::fromStdString(must(readFileWhole(sheet.toStdString())));
        QVERIFY(QString(ending) == "pdf" ? bytes.startsWith("%PDF")
                                         : bytes.contains("Structure P01") && bytes.contains("✓") &&
                                               bytes.contains("It declares no map conversion."));
    }
    // One step back the project has none of its own again; over a restart it stays.
    at_->openAgain();
    QVERIFY(must(at_->project().coordinates().place()).has_value());
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(!must(at_->project().coordinates().place()).has_value());
}

void TestCoordinatesStage::whatStandsRightIsAgreed()
{
    at_->openEmpty({"Architecture", "Structure"});
    test::MadeSite reference, moving;
    reference.name = "Architecture";
    moving.name = "Structure";
    moving.letters[2].second += 0.012; // axis C stands 12 mm off
    QVERIFY(at_->takeIn(written(reference), "Architecture", "P01"));
    QVERIFY(at_->takeIn(written(moving), "Structure", "P01"));
    at_->clickStage("Coordinates");
    at_->waitIdle();
    QVERIFY2(at_->rows("Coordinates").row(0).right == "off by 12 mm",
             qPrintable(at_->rows("Coordinates").row(0).right));
    QVERIFY(chip("Structure").contains("not aligned"));
    // In the scene as arrows a round number of times as long, and said so.
    QVERIFY(at_->scene().document().arrows().size() == 5);
    QVERIFY2(at_->details().contains("arrows in the scene are 200 times as long"), qPrintable(at_->details()));
    const view::Arrow arrow = at_->scene().document().arrows()[0];
    QVERIFY(std::abs(length(arrow.to - arrow.from) - 200 * 0.012) < 1e-6 && arrow.words == "12.0 mm");
    QVERIFY(at_->clickButton("askLimit"));
    auto& field = at_->field<QLineEdit>("standsRight");
    QCOMPARE(field.text(), QString("5"));
    for (const char* odd : {"much", "0", "5000"}) {
        field.setText(odd);
        QTest::keyClick(&field, Qt::Key_Return);
        at_->waitIdle();
        QCOMPARE(must(at_->project().coordinates().standsRight()).value, 0.005);
        QCOMPARE(at_->field<QLineEdit>("standsRight").text(), QString(odd)); // what was written stays
    }
    field.setText("15");
    QTest::keyClick(&field, Qt::Key_Return);
    at_->waitIdle();
    QCOMPARE(must(at_->project().coordinates().standsRight()).value, 0.015);
    QVERIFY2(at_->rows("Coordinates").row(0).right == "12.0 mm", qPrintable(at_->rows("Coordinates").row(0).right));
    QVERIFY(!chip("Structure").contains("not aligned"));
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(chip("Structure").contains("not aligned"));
}

void TestCoordinatesStage::modelsOfOneDeliveryAreJudgedEach()
{
    at_->openEmpty({"Architecture", "Piping"});
    QVERIFY(at_->takeIn(team("Architecture"), "P01"));
    MadeModel heating = team("Piping"), sprinklers = team("Piping", 10, {3, 0, 0});
    sprinklers.boxes[0].name = "Sprinkler main";
    project::NewDelivery d;
    d.discipline = "Piping";
    d.revision = "P01";
    d.time = "2026-11-11T09:00:00Z";
    d.models = {{at_->fileOf(heating, "heating"), {}, {}, 0}, {at_->fileOf(sprinklers, "sprinklers"), {}, {}, 0}};
    at_->session().receive(d);
    at_->waitIdle();
    at_->session().takeIn(at_->delivery("Piping P01").id);
    at_->waitIdle();
    at_->clickStage("Coordinates");
    at_->waitIdle();
    QCOMPARE(at_->rows("Coordinates").rowCount(), 2);
    QVERIFY(at_->rows("Coordinates").row(0).title.contains("heating"));
    QCOMPARE(at_->rows("Coordinates").row(0).right, QString("0.0 mm"));
    QVERIFY(at_->rows("Coordinates").row(1).right.startsWith("off by"));
    at_->clickRow("Coordinates", 0);
    at_->waitIdle();
    QVERIFY2(!at_->details().contains("turned by"), qPrintable(at_->details()));
    at_->clickRow("Coordinates", 1);
    at_->waitIdle();
    QVERIFY2(at_->details().contains("turned by 10.00°"), qPrintable(at_->details()));
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestCoordinatesStage test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_coordinates_stage.moc"
