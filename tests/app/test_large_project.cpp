#include "app/own_project.h"

#include "support/demo.h"

#include <QComboBox>
#include <QFile>
#include <QLineEdit>
#include <QProcess>

using namespace wendrix;
using test::must;

/// The clashes of a project of 200 000 elements, with many thousand pairs: gone through by keyboard and mouse.
class TestLargeProject : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void cleanupTestCase() { at_.reset(); }
    void groupsAndPairsAddUp();
    void goingOnShowsTheNext();
    void everyWayOfPuttingTogetherKeepsThePairs();
    void pagesAreTurnedByKeyboard();
    void manyAreDecidedAndTakenBack();
    void issuesAreMadeOfSome();

private:
    [[nodiscard]] QString generated(const QString& name, const QStringList& options) const
    {
        const QString file = folder_.path() + "/" + name;
        QProcess generator;
        generator.start("python3",
                        QStringList{QString::fromStdString(test::demoFolder()) + "/scale.py", "--elements", "100000"} +
                            options + QStringList{file});
        return generator.waitForFinished(120'000) && generator.exitCode() == 0 ? file : QString();
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = {})
    {
        at_->press(key, modifiers);
        at_->waitIdle();
    }
    [[nodiscard]] std::size_t undecided() const { return must(at_->project().clashes().undecided()); }

    QTemporaryDir folder_;
    std::unique_ptr<test::OwnProject> at_;
    std::size_t pairs_ = 0;
};

void TestLargeProject::initTestCase()
{
    const QString walls = generated("walls.ifc", {"--architecture"}), services = generated("services.ifc", {});
    QVERIFY(!walls.isEmpty() && !services.isEmpty());
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty({"Architecture", "Services"});
    QVERIFY(at_->takeIn(std::filesystem::path(walls.toStdString()), "Architecture", "P01"));
    QVERIFY(at_->takeIn(std::filesystem::path(services.toStdString()), "Services", "P01"));
    QFile::remove(walls);
    QFile::remove(services);
    at_->acceptEveryPlace();
    at_->clickStage("Clashes");
    press(Qt::Key_R);
    pairs_ = must(at_->project().clashes().briefs()).pairs.size();
    QVERIFY2(pairs_ > 3'000, qPrintable(at_->message()));
}

void TestLargeProject::groupsAndPairsAddUp()
{
    std::size_t inGroups = 0, groups = 0, single = 0;
    for (int i = 0; i < at_->rows("Clashes").rowCount(); ++i) {
        const app::Row& row = at_->rows("Clashes").row(i);
        if (row.level == 0) {
            ++groups;
            inGroups += row.right.section(' ', 0, 0).remove(QChar(0x202F)).toULong();
            single += row.right.startsWith("1 ") ? 1 : 0;
        }
    }
    QCOMPARE(inGroups, pairs_);
    QVERIFY(groups < pairs_ && groups > 100 && single < groups);
    QCOMPARE(undecided(), pairs_);
}

void TestLargeProject::goingOnShowsTheNext()
{
    at_->clickRow("Clashes", 0);
    at_->waitIdle();
    QString before = at_->details();
    for (int i = 0; i < 10; ++i) {
        press(Qt::Key_J);
        QVERIFY(at_->details() != before);
        before = at_->details();
        QVERIFY(at_->scene().display().focus && at_->scene().display().painted.size() >= 2);
        QVERIFY(!at_->scene().document().figures().empty()); // the space both take
    }
    press(Qt::Key_K);
    QVERIFY(at_->details() != before);
}

void TestLargeProject::everyWayOfPuttingTogetherKeepsThePairs()
{
    auto& order = at_->field<QComboBox>("clashOrder");
    const int ways = order.count();
    QVERIFY(ways >= 10);
    for (int i = 0; i < ways; ++i) {
        press(Qt::Key_G);
        QVERIFY2(at_->words("Clashes").contains(QString::number(pairs_)), qPrintable(order.currentText()));
        QVERIFY(at_->rows("Clashes").rowCount() > 0);
    }
    QCOMPARE(order.currentIndex(), 0);
}

void TestLargeProject::pagesAreTurnedByKeyboard()
{
    press(Qt::Key_V);
    QVERIFY(!at_->list("Clashes").isVisible());
    press(Qt::Key_P);
    press(Qt::Key_P);
    QVERIFY(at_->list("Clashes").isVisible());
    press(Qt::Key_T);
    QVERIFY(at_->list("Tests").isVisible());
    press(Qt::Key_T);
    QVERIFY(at_->list("Clashes").isVisible());
}

void TestLargeProject::manyAreDecidedAndTakenBack()
{
    at_->list("Clashes").view().selectAll();
    at_->waitIdle();
    press(Qt::Key_L);
    QCOMPARE(undecided(), std::size_t{0});
    press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(undecided(), pairs_);
}

void TestLargeProject::issuesAreMadeOfSome()
{
    at_->clickRow("Clashes", 0);
    at_->waitIdle();
    press(Qt::Key_F);
    QCOMPARE(must(at_->project().issues().all()).size(), std::size_t{1});
    const std::size_t fixed =
        must(at_->project().clashes().ofIssue(must(at_->project().issues().all())[0].uuid)).size();
    QVERIFY(fixed > 1);
    QCOMPARE(undecided(), pairs_ - fixed);
    // What is decided left the list, and the next is shown.
    QVERIFY(!at_->list("Clashes").chosen().isEmpty());
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestLargeProject test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_large_project.moc"
