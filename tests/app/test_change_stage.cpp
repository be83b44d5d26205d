#include "app/own_project.h"

#include "shell/storey_ladder.h"

using namespace wendrix;
using test::MadeModel;
using test::must;

/// Changes between two revisions of a small building in which each kind of change happens once, and what it is known to
/// be.
class TestChangeStage : public QObject {
    Q_OBJECT
private slots:
    void init();
    void cleanup();
    void cleanupTestCase() { at_.reset(); }
    void eachKindIsListed_data();
    void eachKindIsListed();
    void chipsNarrowTheList_data();
    void chipsNarrowTheList();
    void theDetailsSayWhatChanged_data();
    void theDetailsSayWhatChanged();
    void reviewsAreKeptAndTakenBack();
    void whatWasIsLaidUnder();
    void aThirdRevisionIsComparedWithTheSecond();
    void whatWasNotComparedIsSaid();

private:
    [[nodiscard]] static MadeModel before();
    [[nodiscard]] static MadeModel after();
    [[nodiscard]] std::vector<project::ChangeRecord> changes() const
    {
        return must(at_->project().changes().current());
    }
    std::unique_ptr<test::OwnProject> at_; ///< kept from one to the next while nothing was written
    std::size_t events_ = 0;
};

MadeModel TestChangeStage::before()
{
    MadeModel m;
    m.name = "Architecture";
    m.boxes = {{"Wall still", {0, 0, 0}, {6, 0.3, 3}, "IFCWALL"},
               {"Wall moved", {0, 4, 0}, {6, 4.3, 3}, "IFCWALL"},
               {"Wall longer", {0, 8, 0}, {6, 8.3, 3}, "IFCWALL"},
               {"Wall gone", {0, 12, 0}, {6, 12.3, 3}, "IFCWALL"},
               {"Door", {8, 0, 0}, {9, 0.3, 2}, "IFCDOOR", {}, {{"Fire rating", "EI 30"}}},
               {"Shelf", {8, 4, 3.6}, {9, 4.3, 5}, "IFCFURNITURE", MadeModel::guidOf("shelf, first export")}};
    return m;
}

MadeModel TestChangeStage::after()
{
    MadeModel m = before();
    m.boxes[1].low.x += 0.25;
    m.boxes[1].high.x += 0.25;
    m.boxes[2].high.x += 1;
    m.boxes.erase(m.boxes.begin() + 3);
    m.boxes[3].properties = {{"Fire rating", "EI 60"}};
    m.boxes[4].guid = MadeModel::guidOf("shelf, second export");
    m.boxes.push_back({"Bench", {8, 8, 3.6}, {9, 8.5, 4.4}, "IFCFURNITURE"});
    return m;
}

void TestChangeStage::init()
{
    if (at_ == nullptr) {
        at_ = std::make_unique<test::OwnProject>();
        at_->openEmpty();
        QVERIFY(at_->takeIn(before(), "P01"));
        QVERIFY(at_->takeIn(after(), "P02"));
        events_ = must(at_->project().log().last(100)).size();
    }
    at_->clickStage("Changes");
    QVERIFY(at_->clickButton("chip-0"));
    if (at_->rows("Changes").rowCount() < 6) { // a storey is chosen
        auto* ladder = at_->window().findChild<app::StoreyLadder*>("ladder");
        QTest::mouseDClick(ladder, Qt::LeftButton, {}, ladder->areaOf("Level 2").center());
        at_->waitIdle();
    }
    QCOMPARE(at_->rows("Changes").rowCount(), 6);
}

void TestChangeStage::cleanup()
{
    if (at_ != nullptr && must(at_->project().log().last(100)).size() != events_)
        at_.reset();
}

void TestChangeStage::eachKindIsListed_data()
{
    QTest::addColumn<QString>("name");
    QTest::addColumn<unsigned>("kind");
    QTest::newRow("moved") << "Wall moved" << static_cast<unsigned>(project::Moved);
    QTest::newRow("another shape") << "Wall longer" << static_cast<unsigned>(project::Reshaped);
    QTest::newRow("no longer there") << "Wall gone" << static_cast<unsigned>(project::Removed);
    QTest::newRow("new") << "Bench" << static_cast<unsigned>(project::Added);
    QTest::newRow("reads differently") << "Door" << static_cast<unsigned>(project::Redescribed);
    QTest::newRow("renewed GlobalId") << "Shelf" << static_cast<unsigned>(project::Rekeyed);
}

void TestChangeStage::eachKindIsListed()
{
    QFETCH(QString, name);
    QFETCH(unsigned, kind);
    const auto all = changes();
    QCOMPARE(all.size(), std::size_t{6});
    const auto found =
        std::find_if(all.begin(), all.end(), [&](const auto& c) { return c.name == name.toStdString(); });
    QVERIFY(found != all.end());
    QVERIFY((found->kinds & kind) != 0);
    QCOMPARE(at_->rows("Changes").rowCount(), 6);
    const int row = at_->rowWith("Changes", name);
    QVERIFY(row >= 0);
    QCOMPARE(at_->rows("Changes").row(row).isStruck, kind == project::Removed);
    QVERIFY(at_->rowWith("Changes", "Wall still") < 0);
}

void TestChangeStage::chipsNarrowTheList_data()
{
    QTest::addColumn<unsigned>("kind");
    for (const auto& [name, kind] : {std::pair{"added", project::Added},
                                     {"removed", project::Removed},
                                     {"reshaped", project::Reshaped},
                                     {"moved", project::Moved},
                                     {"redescribed", project::Redescribed},
                                     {"rekeyed", project::Rekeyed}})
        QTest::newRow(name) << static_cast<unsigned>(kind);
}

void TestChangeStage::chipsNarrowTheList()
{
    QFETCH(unsigned, kind);
    const auto all = changes();
    const auto wanted = std::count_if(all.begin(), all.end(), [&](const auto& c) { return (c.kinds & kind) != 0; });
    QVERIFY(wanted > 0);
    const QString chip = "chip-" + QString::number(kind);
    QString words;
    for (const auto* button : at_->list("Changes").findChildren<QAbstractButton*>(chip))
        words = button->text();
    QVERIFY2(words.endsWith(" " + QString::number(wanted)), qPrintable(words));
    QVERIFY(at_->clickButton(chip));
    QCOMPARE(at_->rows("Changes").rowCount(), wanted);
    // With a storey as well: both hold.
    auto* ladder = at_->window().findChild<app::StoreyLadder*>("ladder");
    QTest::mouseClick(ladder, Qt::LeftButton, {}, ladder->areaOf("Level 2").center());
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), std::count_if(all.begin(), all.end(), [&](const auto& c) {
                 return (c.kinds & kind) != 0 && c.storey == "Level 2";
             }));
}

void TestChangeStage::theDetailsSayWhatChanged_data()
{
    QTest::addColumn<QString>("name");
    QTest::addColumn<QStringList>("said");
    QTest::newRow("moved") << "Wall moved" << QStringList{"Architecture · P01 to P02", "X +250 mm", "Level 1"};
    QTest::newRow("reshaped: 1 m of 0.3 x 3")
        << "Wall longer" << QStringList{"0.900 m³ added", "1.00 m longer", "reshaped"};
    QTest::newRow("reads differently") << "Door" << QStringList{"Fire rating", "EI 60", "was EI 30 · Seed store"};
    QTest::newRow("renewed") << "Shelf"
                             << QStringList{QString::fromStdString(MadeModel::guidOf("shelf, first export")), "became",
                                            "Level 2"};
    QTest::newRow("new") << "Bench" << QStringList{"Level 2", QString::fromStdString(MadeModel::guidOf("Bench"))};
    QTest::newRow("gone") << "Wall gone"
                          << QStringList{"Level 1", QString::fromStdString(MadeModel::guidOf("Wall gone"))};
}

void TestChangeStage::theDetailsSayWhatChanged()
{
    QFETCH(QString, name);
    QFETCH(QStringList, said);
    at_->clickRow("Changes", at_->rowWith("Changes", name));
    QVERIFY(at_->details().contains(name));
    for (const QString& words : said)
        QVERIFY2(at_->details().contains(words), qPrintable(at_->details() + "\n\nlacks " + words));
}

void TestChangeStage::reviewsAreKeptAndTakenBack()
{
    at_->clickRow("Changes", 0);
    const auto reviewed = [&](const char* word) {
        const auto all = changes();
        return std::count_if(all.begin(), all.end(), [&](const auto& c) { return c.review == word; });
    };
    at_->press(Qt::Key_Q);
    QCOMPARE(reviewed("questioned"), 1);
    QVERIFY(at_->rows("Changes").row(0).subtitle.contains("questioned"));
    at_->press(Qt::Key_G); // changed one's mind
    QCOMPARE(reviewed("questioned"), 0);
    QCOMPARE(reviewed("agreed"), 1);
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(reviewed("questioned"), 1);
    // All at once, one step.
    at_->list("Changes").view().setFocus();
    at_->list("Changes").view().selectAll();
    at_->settle();
    QVERIFY(at_->clickButton("seen"));
    QCOMPARE(reviewed("seen"), 6);
    QVERIFY(at_->message().contains("seen: 6 changes"));
    QVERIFY(at_->words("Changes").contains("not looked at"));
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(reviewed("seen"), 0);
    QCOMPARE(reviewed("questioned"), 1);
    at_->openAgain();
    QCOMPARE(reviewed("questioned"), 1);
}

void TestChangeStage::whatWasIsLaidUnder()
{
    QCOMPARE(at_->scene().members().size(), std::size_t{2}); // the revision before too
    at_->clickRow("Changes", at_->rowWith("Changes", "Wall moved"));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{2}); // where it is and where it was
    at_->clickRow("Changes", at_->rowWith("Changes", "Wall gone"));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{1});
    QCOMPARE(at_->scene().display().painted.begin()->first.member, 1u); // only in what was
    at_->clickRow("Changes", at_->rowWith("Changes", "Bench"));
    QCOMPARE(at_->scene().display().painted.begin()->first.member, 0u);
    at_->clickStage("Deliveries");
    QVERIFY(at_->scene().display().painted.empty());
}

void TestChangeStage::aThirdRevisionIsComparedWithTheSecond()
{
    MadeModel third = after();
    third.boxes[0].low.z += 0.1;
    third.boxes[0].high.z += 0.1;
    QVERIFY(at_->takeIn(third, "P03"));
    at_->clickStage("Changes");
    QCOMPARE(at_->rows("Changes").rowCount(), 1);
    QVERIFY(at_->rows("Changes").row(0).title.contains("Wall still"));
    QVERIFY(at_->rows("Changes").row(0).right.contains("100 mm"));
    at_->clickRow("Changes", 0);
    QVERIFY(at_->details().contains("P02 to P03") && at_->details().contains("Z +100 mm"));
    // Undone, the comparison before stands again.
    at_->session().undo();
    at_->waitIdle();
    at_->clickStage("Changes");
    QCOMPARE(at_->rows("Changes").rowCount(), 6);
}

void TestChangeStage::whatWasNotComparedIsSaid()
{
    MadeModel structure;
    structure.name = "Structure";
    structure.boxes = {{"Beam", {0, 0, 3}, {6, 0.3, 3.4}}};
    QVERIFY(at_->takeIn(structure, "P01"));
    at_->clickStage("Changes");
    QCOMPARE(at_->rows("Changes").rowCount(), 6); // a first revision changes nothing
    QVERIFY(at_->rowWith("Changes", "Beam") < 0);
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestChangeStage test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_change_stage.moc"
