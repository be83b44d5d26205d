#include "app/own_project.h"

#include "core/base/file.h"
#include "core/bcf/bcf.h"
#include "support/demo.h"

#include <QFile>
#include <QProcess>

#include <filesystem>
#include <set>

using namespace wendrix;
using test::must;

/// The whole way with files the demo does not have: boxes that are worked out by hand, and a house by a real exporter
/// with services of a generator in it.
class TestOwnFiles : public QObject {
    Q_OBJECT
private slots:
    void init() { at_ = std::make_unique<test::OwnProject>(); }
    void cleanup() { at_.reset(); }
    void aProjectOfOnesOwnFiles();
    void nothingChangedIsSaid();
    void elementsOfOneGlobalIdStayApart();
    void aRealHouseWithServices();

private:
    /// Services of so many elements, all of them shifted. @return the file
    [[nodiscard]] QString services(const QString& name, int elements, const QString& shiftInMillimetres) const;
    /// The same file with one element moved by millimetres along z, as a script would edit it.
    [[nodiscard]] QString withOneRaised(const QString& file, const std::string& element, double by) const;
    std::unique_ptr<test::OwnProject> at_;
};

QString TestOwnFiles::services(const QString& name, int elements, const QString& shiftInMillimetres) const
{
    const QString path = at_->folder() + "/" + name + ".ifc";
    QProcess generator;
    generator.start("python3", {QString::fromStdString(test::demoFolder()) + "/scale.py", "--elements",
                                QString::number(elements), path});
    if (!generator.waitForFinished() || generator.exitCode() != 0)
        qFatal("%s", generator.readAllStandardError().constData());
    QFile file(path);
    if (!file.open(QIODevice::ReadWrite))
        qFatal("no file");
    QByteArray text = file.readAll();
    text.replace("#12=IFCLOCALPLACEMENT($,#11);",
                 "#4=IFCCARTESIANPOINT((" + shiftInMillimetres.toUtf8() +
                     "));\n#5=IFCAXIS2PLACEMENT3D(#4,$,$);\n#12=IFCLOCALPLACEMENT($,#5);");
    file.resize(0);
    file.seek(0);
    file.write(text);
    return path;
}

QString TestOwnFiles::withOneRaised(const QString& path, const std::string& element, double by) const
{
    std::string text = must(readFileWhole(path.toStdString(), 1 << 24));
    // Element -> its placement, the first reference after the type's name -> frame -> point.
    const auto lineOf = [&](const std::string& number) { return text.find("\n#" + number + "=") + 1; };
    const auto reference = [&](std::size_t from) {
        const std::size_t at = text.find('#', from) + 1;
        return text.substr(at, text.find_first_not_of("0123456789", at) - at);
    };
    const std::string placement = reference(text.find("'" + element + "',$,"));
    const std::size_t frameAt = text.find(",#", lineOf(placement)) + 1; // after what it stands on
    const std::size_t pointAt = lineOf(reference(text.find('(', lineOf(reference(frameAt)))));
    const std::size_t zAt = text.find_last_of(',', text.find("))", pointAt)) + 1, end = text.find("))", zAt);
    text.replace(zAt, end - zAt, QString::number(std::stod(text.substr(zAt, end - zAt)) + by, 'f', 3).toStdString());
    const QString to = QString(path).replace(".ifc", "-P02.ifc");
    if (!writeFileWhole(to.toStdString(), text))
        qFatal("can not write");
    return to;
}

void TestOwnFiles::aProjectOfOnesOwnFiles()
{
    at_->openEmpty();
    // Three teams with boxes and no grid: nothing can be verified, so nothing is tested until somebody says so.
    QVERIFY(at_->takeIn(at_->boxes("Wall", {0, 10}), "Architecture", "P01"));
    QVERIFY(at_->takeIn(at_->boxes("Beam", {1, 20}), "Structure", "P01"));
    QVERIFY(at_->takeIn(at_->boxes("Pipe", {10.5, 40}), "Piping", "P01"));
    at_->clickStage("Clashes");
    QVERIFY(at_->words("Clashes").contains("No test has been run yet"));
    at_->press(Qt::Key_R);
    at_->waitIdle();
    // The reference alone is tested, for what it has twice.
    QVERIFY2(at_->message().contains("0 pairs found by 1 test. Not tested: 5 tests lack a side"),
             qPrintable(at_->message()));
    QVERIFY2(at_->message().contains("Structure P01, the reference has no grid to verify its place by"),
             qPrintable(at_->message()));
    QVERIFY(!at_->words("Clashes").contains("No test has been run yet") &&
            at_->words("Clashes").contains("5 tests lack a side"));
    at_->acceptEveryPlace();
    QCOMPARE(at_->rows("Coordinates").rowCount(), 2);
    QCOMPARE(at_->window().findChild<QAbstractButton*>("member-Structure")->text(),
             QString("Structure P01 · as it stands"));
    // Nobody made a test: every member against every other.
    at_->clickStage("Clashes");
    at_->press(Qt::Key_R);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("2 pairs found by 6 tests"), qPrintable(at_->message()));
    QCOMPARE(at_->rows("Clashes").rowCount(), 2); // two groups of one pair
    at_->clickRow("Clashes", 0);
    at_->press(Qt::Key_S);
    at_->settle();
    // The next revision of the beam stands elsewhere; taken in, the tests run by themselves.
    QVERIFY(at_->takeIn(at_->boxes("Beam2", {5, 20}), "Structure", "P02"));
    at_->clickStage("Clashes");
    const auto pairs = must(at_->project().clashes().all());
    QCOMPARE(pairs.size(), std::size_t{2});
    QCOMPARE(std::count_if(pairs.begin(), pairs.end(), [](const auto& p) { return p.isGone(); }), 1);
    QCOMPARE(must(at_->project().changes().current()).size(), std::size_t{2}); // moved, and both are called otherwise
    // Without piping in the federation its pair is not gone but not tested.
    project::Federation services{"Without piping", {{"Architecture", false}, {"Structure", false}}, false};
    QVERIFY(at_->change([&](project::Project& p) { return p.setup().setFederation(services, at_->session().now()); }));
    at_->session().setFederation("Without piping");
    at_->waitIdle();
    at_->press(Qt::Key_R);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("Piping P01, not in Without piping") && at_->message().contains("1 known pair"),
             qPrintable(at_->message()));
    QVERIFY(at_->clickButton("chip-notTested"));
    QCOMPARE(at_->rows("Clashes").rowCount(), 1);
    QVERIFY(at_->rows("Clashes").row(0).subtitle.contains("not tested: its member is not in the federation"));
}

void TestOwnFiles::nothingChangedIsSaid()
{
    at_->openEmpty();
    QVERIFY(at_->takeIn(at_->boxes("Wall", {0, 10}), "Architecture", "P01"));
    at_->clickStage("Changes");
    QVERIFY(at_->words("Changes").contains("Nothing to compare yet"));
    // The same model with another first line.
    std::string text = must(readFileWhole(at_->boxes("Wall", {0, 10}), 1 << 20));
    text.insert(text.find("HEADER;"), "/* exported again */\n");
    const std::filesystem::path again = std::filesystem::path(at_->folder().toStdString()) / "again.ifc";
    QVERIFY(writeFileWhole(again, text).has_value());
    QVERIFY(at_->takeIn(again, "Architecture", "P02"));
    at_->clickStage("Changes");
    QVERIFY2(at_->words("Changes").contains("Compared: Architecture P01 with P02. Nothing changed."),
             qPrintable(at_->words("Changes")));
    QVERIFY(!at_->words("Changes").contains("Nothing to compare yet"));
}

void TestOwnFiles::elementsOfOneGlobalIdStayApart()
{
    at_->openEmpty();
    QVERIFY(at_->takeIn(at_->boxes("Wall", {0}), "Architecture", "P01"));
    // Two beams that share a GlobalId, both in the wall.
    const std::string shared = "2SharedByTwoBeams00001";
    QVERIFY(at_->takeIn(at_->boxes("Beam", {0.5, 1.5}, {shared, shared}), "Structure", "P01"));
    at_->acceptEveryPlace();
    at_->clickStage("Clashes");
    at_->press(Qt::Key_R);
    at_->waitIdle();
    const auto pairs = must(at_->project().clashes().all());
    QCOMPARE(pairs.size(), std::size_t{2});
    QVERIFY(pairs[0].right.element.guid == pairs[1].right.element.guid &&
            pairs[0].right.element.ordinal != pairs[1].right.element.ordinal);
    QCOMPARE(at_->rows("Clashes").rowCount(), 3); // one group, two pairs
    // Each row shows its own beam.
    for (int row = 1; row < 3; ++row) {
        at_->clickRow("Clashes", row);
        QVERIFY(at_->details().contains(at_->rows("Clashes").row(row).title));
        std::set<ifc::ElementIndex> beams;
        for (const auto& [key, colour] : at_->scene().display().painted)
            if (at_->scene().members()[key.member].discipline == "Structure")
                beams.insert(key.element);
        QCOMPARE(beams.size(), std::size_t{1});
        const federation::Member& structure = at_->scene().members()[1];
        QCOMPARE(QString::fromStdString(structure.model->displayName(structure.model->elements()[*beams.begin()])),
                 at_->rows("Clashes").row(row).title);
    }
    // A new revision in which one of them moved: that one alone is changed, and its pair alone is gone.
    QVERIFY(at_->takeIn(at_->boxes("Beam", {0.5, 30}, {shared, shared}), "Structure", "P02"));
    const auto changes = must(at_->project().changes().current());
    QCOMPARE(changes.size(), std::size_t{1});
    QVERIFY(changes[0].element.ordinal == 1 && (changes[0].kinds & project::Moved) != 0 &&
            std::abs(changes[0].shift.x - 28.5) < 1e-6);
    at_->clickStage("Changes");
    at_->clickRow("Changes", 0);
    QVERIFY(at_->details().contains("number 2 of those that share it"));
    const auto now = must(at_->project().clashes().all());
    QCOMPARE(std::count_if(now.begin(), now.end(), [](const auto& p) { return p.isGone(); }), 1);
    // A kept view holds the second one, not the first.
    at_->scene().choose({view::ElementKey{1, 1}});
    const view::SceneState state = at_->scene().state();
    std::size_t missing = 0;
    const view::Display back =
        view::displayOf(view::fromJson(view::toJson(state)).value(), at_->session().workspace().members, missing);
    QVERIFY(missing == 0 && back.selected == (std::set<view::ElementKey>{{1, 1}}));
}

void TestOwnFiles::aRealHouseWithServices()
{
    const QString house = "/usr/share/assimp/models/IFC/AC14-FZK-Haus.ifc";
    QVERIFY2(QFile::exists(house), "install assimp-testmodels (./dev setup does)");
    at_->openEmpty({"Architecture", "Ventilation", "Piping", "Electrical"});
    std::map<std::string, QString> files{{"Ventilation", services("Vent", 300, "1000.,1000.,0.")},
                                         {"Piping", services("Pipe", 340, "1430.,1210.,130.")},
                                         {"Electrical", services("Elec", 380, "2200.,1700.,-260.")}};
    QVERIFY(at_->takeIn(house.toStdString(), "Architecture", "P01"));
    for (const auto& [discipline, file] : files)
        QVERIFY(at_->takeIn(file.toStdString(), discipline, "P01"));
    QCOMPARE(at_->scene().members().size(), std::size_t{4});
    at_->acceptEveryPlace();
    at_->clickStage("Clashes");
    at_->press(Qt::Key_R);
    at_->waitIdle();
    const auto pairs = must(at_->project().clashes().all());
    QVERIFY2(pairs.size() > 10, qPrintable(at_->message()));
    QVERIFY2(at_->message().contains(QString("%1 pairs found by 10 tests").arg(pairs.size())),
             qPrintable(at_->message()));
    // What is found holds on what the models say: both are there, their boxes meet, and no depth is larger than a body.
    std::set<std::string> testsThatFound;
    for (const project::Pair& p : pairs) {
        testsThatFound.insert(p.test);
        const auto left = at_->scene().find(p.left.element), right = at_->scene().find(p.right.element);
        QVERIFY(left && right && left->member != right->member);
        const Box3 a = view::boundsOf(at_->scene().members(), *left),
                   b = view::boundsOf(at_->scene().members(), *right);
        for (const auto axis : {&Vector3::x, &Vector3::y, &Vector3::z})
            QVERIFY(std::min(a.max.*axis, b.max.*axis) > std::max(a.min.*axis, b.min.*axis));
        QVERIFY(p.depth >= 0.001 && p.depth <= std::min(length(a.size()), length(b.size())));
        QVERIFY(a.grownBy(1e-6).contains(p.point) && b.grownBy(1e-6).contains(p.point));
    }
    QVERIFY2(testsThatFound.size() >= 4, "the house meets services, and services meet each other");
    // The counts of the list add up.
    QVERIFY(at_->clickButton("chip-all"));
    const app::RowModel& rows = at_->rows("Clashes");
    std::size_t listed = 0;
    int row = -1;
    for (int i = 0; i < rows.rowCount(); ++i) {
        if (rows.row(i).level == 0)
            listed += rows.row(i).right.section(' ', 0, 0).toULong();
        else if (row < 0)
            row = i;
    }
    QCOMPARE(listed, pairs.size());
    QVERIFY(row > 0);
    at_->clickRow("Clashes", row);
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{2});
    at_->press(Qt::Key_F);
    const auto made = must(at_->project().issues().all());
    QCOMPARE(made.size(), std::size_t{1});
    const std::string uuid = made[0].uuid;
    const auto own = must(at_->project().clashes().ofIssue(uuid));
    QCOMPARE(own.size(), std::size_t{1});
    // The team raises that element by 50 m and changes nothing else.
    const project::PairSide& raised = own[0].right.discipline == "Architecture" ? own[0].left : own[0].right;
    QVERIFY(files.contains(raised.discipline));
    const std::string plain = raised.name.substr(0, raised.name.find(" · "));
    QVERIFY(
        at_->takeIn(withOneRaised(files[raised.discipline], plain, 50'000).toStdString(), raised.discipline, "P02"));
    const auto changes = must(at_->project().changes().current());
    QCOMPARE(changes.size(), std::size_t{1});
    QVERIFY(changes[0].element == raised.element && changes[0].kinds == project::Moved &&
            length(changes[0].shift - Vector3{0, 0, 50}) < 1e-6);
    for (const project::Pair& p : must(at_->project().clashes().all()))
        QCOMPARE(p.isGone(), p.left.element == raised.element || p.right.element == raised.element);
    at_->clickStage("Changes");
    QCOMPARE(at_->rows("Changes").rowCount(), 1);
    QCOMPARE(at_->rows("Changes").row(0).right, QString("Z +50.00 m"));
    at_->clickStage("Issues");
    QCOMPARE(at_->rows("Issues").row(0).loud, QString("can be closed"));
    at_->clickRow("Issues", 0);
    at_->press(Qt::Key_X);
    QCOMPARE(must(at_->project().issues().all())[0].status, std::string("Closed"));
    // What is sent out says the same to whoever reads it.
    QVERIFY(at_->clickButton("chip-all"));
    const QString bcfFile = at_->folder() + "/out.bcf";
    const auto isAsked = at_->answerFileDialog({bcfFile});
    QVERIFY(at_->clickButton("exportBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    const auto document = bcf::readFile(bcfFile.toStdString());
    QVERIFY(document && document->diagnostics.empty() && document->issues.size() == 1);
    QCOMPARE(document->issues[0].status, std::string("Closed"));
    std::set<std::string> guids;
    for (const ElementRef& element : document->issues[0].viewpoints.at(0).selection)
        guids.insert(element.guid);
    QVERIFY((guids == std::set<std::string>{own[0].left.element.guid, own[0].right.element.guid}));
    // And all of it is there after a restart.
    at_->openAgain();
    QCOMPARE(at_->delivery(QString::fromStdString(raised.discipline + " P02")).isUsed(), true);
    QCOMPARE(must(at_->project().clashes().all()).size(), pairs.size());
    at_->clickStage("Issues");
    QVERIFY(at_->clickButton("chip-closed"));
    QCOMPARE(at_->rows("Issues").rowCount(), 1);
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestOwnFiles test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_own_files.moc"
