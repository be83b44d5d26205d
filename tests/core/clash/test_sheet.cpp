#include <QTest>

#include "core/clash/test_sheet.h"

#include <nlohmann/json.hpp>

using namespace wendrix;
using clash::Direction;
using clash::Kind;
using clash::Meeting;
using clash::Meetings;
using clash::TestSheet;

/// Test sheets as values and as files.
class TestTestSheet : public QObject {
    Q_OBJECT
private slots:
    void isReadAsWritten();
    void leftOutFieldsAreDefaults();
    void saysWhatIsWrong_data();
    void saysWhatIsWrong();
    void theUsualOneHasEveryPairOfDisciplines();
    void mistakesAreTold_data();
    void mistakesAreTold();
    void setsArePutInTheirPlaces_data();
    void setsArePutInTheirPlaces();
    void setsThatMultiplyEnd();
    void aDisciplineIsRenamed();
    void aSetIsRenamed();
    void whatIsAskedIsCompared();
};

namespace {

TestSheet made()
{
    TestSheet sheet;
    sheet.name = "Cold vaults";
    sheet.sets = {{"Ducts", "class is DuctSegment"}, {"Large ducts", "set \"Ducts\" and Dims.Width > 500 mm"}};
    sheet.defaults.joint = 0.05;
    clash::Test free = sheet.defaults;
    free.name = "Free above ceilings \"A\"";
    free.left = "class is Covering";
    free.right = "set \"Large ducts\" or discipline is Structure";
    free.kind = Kind::Clearance;
    free.clearance = 0.4;
    free.direction = Direction::Up;
    free.ignored.set(Meeting::Hosted, false);
    free.priority = clash::Priority::High;
    free.decider = "Ines Varga";
    free.isOn = false;
    clash::Test doubled;
    doubled.name = "Twice";
    doubled.left = "everything";
    doubled.kind = Kind::Duplicate;
    doubled.tolerance = 0.003;
    sheet.tests = {free, doubled};
    return sheet;
}

} // namespace

void TestTestSheet::isReadAsWritten()
{
    const TestSheet sheet = made();
    const auto read = clash::sheetFromJson(clash::toJson(sheet));
    QVERIFY2(read.has_value(), read ? "" : read.error().message.c_str());
    QCOMPARE(clash::toJson(*read), clash::toJson(sheet));
    QVERIFY(read->sets == sheet.sets && read->tests.size() == 2 && read->defaults.joint == 0.05);
    const clash::Test& free = read->tests[0];
    QVERIFY(free.name == sheet.tests[0].name && !free.isOn && free.decider == "Ines Varga" &&
            free.priority == clash::Priority::High && free.right == sheet.tests[0].right);
    QVERIFY(clash::asksTheSame(free, sheet.tests[0]) && clash::asksTheSame(read->tests[1], sheet.tests[1]));
}

void TestTestSheet::leftOutFieldsAreDefaults()
{
    const auto read = clash::sheetFromJson(R"({"format": "wendrix-test-sheet", "formatVersion": 1, "name": "A",
        "defaults": {"toleranceMetres": 0.02, "ignored": ["connected"], "priority": "high"},
        "tests": [{"name": "T", "left": "everything"}, {"name": "U", "left": "everything", "toleranceMetres": 0}]})");
    QVERIFY2(read.has_value(), read ? "" : read.error().message.c_str());
    QVERIFY(read->tests[0].tolerance == 0.02 && read->tests[0].priority == clash::Priority::High);
    QVERIFY(read->tests[0].ignored.has(Meeting::Connected) && !read->tests[0].ignored.has(Meeting::Openings));
    QVERIFY(read->tests[1].tolerance == 0 && read->tests[0].isOn && read->tests[0].right.empty());
}

void TestTestSheet::saysWhatIsWrong_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QByteArray>("says");
    const auto row = [](const char* name, const QByteArray& text, const char* says) {
        QTest::newRow(name) << text << QByteArray(says);
    };
    const auto sheet = [](const char* fields) {
        return QByteArray(R"({"format": "wendrix-test-sheet", "formatVersion": 1, "name": "A")") + fields + "}";
    };
    const auto test = [&](const char* fields) {
        return sheet((QByteArray(R"(, "tests": [{"name": "T", "left": "everything")") + fields + "}]").constData());
    };
    row("empty", "", "not well-formed JSON");
    row("a list", "[]", "no test sheet");
    row("cut short", sheet("").chopped(1), "not well-formed JSON");
    row("another file", R"({"format": "x"})", "no test sheet");
    row("newer", R"({"format": "wendrix-test-sheet", "formatVersion": 2, "name": "A"})", "newer version");
    row("no name", R"({"format": "wendrix-test-sheet", "formatVersion": 1})", "has no name");
    row("tests are a text", sheet(R"(, "tests": "x")"), "tests: a list");
    row("a test is a number", sheet(R"(, "tests": [4])"), "Test 1, all: fields");
    row("a test without left", sheet(R"(, "tests": [{"name": "T"}])"), "Test \"T\", left: a set is expected");
    row("left is a number", sheet(R"(, "tests": [{"name": "T", "left": 4}])"), "Test \"T\", left: a text");
    row("unknown kind", test(R"(, "kind": "soft")"), "kind: one of these is expected: hard, clearance, duplicate");
    row("unknown direction", test(R"(, "direction": "north")"), "any, up, down, side");
    row("unknown priority", test(R"(, "priority": 3)"), "low, normal, high");
    row("negative tolerance", test(R"(, "toleranceMetres": -1)"), "toleranceMetres: metres from 0 to 1000");
    row("endless clearance", test(R"(, "clearanceMetres": 1e300)"), "clearanceMetres: metres from 0 to 1000");
    row("tolerance as text", test(R"(, "toleranceMetres": "5 mm")"), "toleranceMetres: metres");
    row("unknown meeting", test(R"(, "ignored": ["doors"])"), "openings, connected, assembly, covering, hosted");
    row("meetings are a text", test(R"(, "ignored": "all")"), "ignored: a list");
    row("on is a number", test(R"(, "on": 1)"), "on: true or false");
    row("a set without an object", sheet(R"(, "sets": ["x"])"), "Set 1, all");
    row("defaults are a list", sheet(R"(, "defaults": [])"), "Defaults, all");
    row("a name without end",
        sheet(QByteArray(R"(, "tests": [{"left": "a", "name": ")" + QByteArray(2000, 'x') + "\"}]").constData()),
        "name: it is longer");
    row("nested without end", sheet((R"(, "tests": )" + QByteArray(100'000, '[')).constData()), "not well-formed");
    row("nested and closed", sheet((R"(, "tests": )" + QByteArray(50'000, '[') + QByteArray(50'000, ']')).constData()),
        "");
}

void TestTestSheet::saysWhatIsWrong()
{
    QFETCH(QByteArray, text);
    QFETCH(QByteArray, says);
    const auto read = clash::sheetFromJson(text.toStdString());
    QVERIFY(!read.has_value());
    QCOMPARE(read.error().code, clash::kBadSheet);
    QVERIFY2(QByteArray::fromStdString(read.error().message).contains(says), read.error().message.c_str());
}

void TestTestSheet::theUsualOneHasEveryPairOfDisciplines()
{
    const std::vector<std::string> disciplines{"Architecture", "Fire protection", "Piping", "and"};
    const TestSheet sheet = clash::usualSheet(disciplines);
    QCOMPARE(sheet.tests.size(), std::size_t{6 + 4});
    QVERIFY(clash::mistakesIn(sheet).empty());
    QCOMPARE(sheet.tests[0].name, std::string("Architecture × Fire protection"));
    QCOMPARE(sheet.tests[0].right, std::string("discipline is \"Fire protection\""));
    QCOMPARE(sheet.tests[5].right, std::string("discipline is \"and\"")); // no word of the language
    QVERIFY(sheet.tests[9].kind == Kind::Duplicate && sheet.tests[9].right.empty());
    QVERIFY(sheet.tests[0].ignored == Meetings::all());
    QVERIFY(clash::usualSheet({}).tests.empty());
}

void TestTestSheet::mistakesAreTold_data()
{
    QTest::addColumn<QString>("left");
    QTest::addColumn<QString>("says"); // empty: none
    QTest::newRow("none") << "set \"Large ducts\""
                          << "";
    QTest::newRow("a word") << "class is"
                            << "Test \"T\", left: a value is expected after this";
    QTest::newRow("no such set") << "set \"Pipes\""
                                 << "there is no set called \"Pipes\"";
    QTest::newRow("a circle") << "set \"Ring\""
                              << "leads back to itself";
    QTest::newRow("a broken set") << "set \"Broken\""
                                  << "in the set \"Broken\": a value";
}

void TestTestSheet::mistakesAreTold()
{
    QFETCH(QString, left);
    QFETCH(QString, says);
    TestSheet sheet = made();
    sheet.tests.resize(1);
    sheet.tests[0].name = "T";
    sheet.tests[0].left = left.toStdString();
    if (left.contains("Ring"))
        sheet.sets.push_back({"Ring", "not set \"Ring\""});
    if (left.contains("Broken"))
        sheet.sets.push_back({"Broken", "class is"});
    const auto mistakes = clash::mistakesIn(sheet);
    QCOMPARE(mistakes.empty(), says.isEmpty());
    QVERIFY(says.isEmpty() || std::any_of(mistakes.begin(), mistakes.end(), [&](const std::string& m) {
                return QString::fromStdString(m).contains(says);
            }));
    // Names that are given twice, and a clearance of nothing.
    sheet.tests.push_back(sheet.tests[0]);
    sheet.tests[1].clearance = 0;
    sheet.sets.push_back(sheet.sets[0]);
    const auto more = clash::mistakesIn(sheet);
    QVERIFY(more.size() >= mistakes.size() + 3);
}

void TestTestSheet::setsArePutInTheirPlaces_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QString>("whole");
    QTest::newRow("no set") << "class is Wall"
                            << "class is Wall";
    QTest::newRow("one") << "set \"Ducts\""
                         << "class is DuctSegment";
    QTest::newRow("in each other") << "not set \"Large ducts\""
                                   << "not (class is DuctSegment and Dims.Width > 500 mm)";
    QTest::newRow("beside others") << "set \"Ducts\" or name has old"
                                   << "class is DuctSegment or name has old";
    QTest::newRow("within and") << "name has old and set \"Either\""
                                << "name has old and (class is Wall or class is Slab)";
}

void TestTestSheet::setsArePutInTheirPlaces()
{
    QFETCH(QString, line);
    TestSheet sheet = made();
    sheet.sets.push_back({"Either", "class is Wall or class is Slab"});
    const auto whole = clash::wholeLine(line.toStdString(), sheet);
    QVERIFY2(whole.has_value(), whole ? "" : whole.error().message.c_str());
    QTEST(QString::fromStdString(*whole), "whole");
}

void TestTestSheet::setsThatMultiplyEnd()
{
    TestSheet sheet;
    sheet.sets.push_back({"0", "class is Wall"});
    for (int i = 1; i < 60; ++i) { // each twice the one before: 2^59 walls
        const std::string before = "set \"" + std::to_string(i - 1) + "\"";
        sheet.sets.push_back({std::to_string(i), before + " or " + before});
    }
    const auto whole = clash::wholeLine("set \"59\"", sheet);
    QVERIFY(!whole && whole.error().message.find("too many others") != std::string::npos);
}

void TestTestSheet::aDisciplineIsRenamed()
{
    TestSheet sheet = made();
    sheet.sets.push_back({"Odd", "discipline is"});
    sheet.tests[1].left = "not discipline is Structure, \"Piping\" and name is Structure";
    sheet.tests[1].decider = "Structure";
    clash::renameDiscipline(sheet, "Structure", "Frame and slabs");
    QCOMPARE(sheet.tests[0].right, std::string("set \"Large ducts\" or discipline is \"Frame and slabs\""));
    QCOMPARE(sheet.tests[1].left,
             std::string("not discipline is \"Frame and slabs\", \"Piping\" and name is Structure"));
    QCOMPARE(sheet.tests[1].decider, std::string("Frame and slabs"));
    QCOMPARE(sheet.sets.back().line, std::string("discipline is")); // left as it is
    QCOMPARE(sheet.sets[0].line, made().sets[0].line);
}

void TestTestSheet::aSetIsRenamed()
{
    TestSheet sheet = made();
    clash::renameSet(sheet, 0, "Round \"ducts\"");
    QVERIFY(clash::mistakesIn(sheet).empty());
    QCOMPARE(sheet.sets[1].line, std::string("set \"Round \\\"ducts\\\"\" and Dims.Width > 500 mm"));
    QCOMPARE(sheet.tests[0].right, made().tests[0].right); // names another
}

void TestTestSheet::whatIsAskedIsCompared()
{
    const clash::Test test = made().tests[0];
    clash::Test other = test;
    other.name = "Renamed";
    other.priority = clash::Priority::Low;
    other.decider.clear();
    other.isOn = true;
    other.tolerance = 1; // says nothing of a clearance
    QVERIFY(clash::asksTheSame(test, other));
    for (const auto& change : std::initializer_list<void (*)(clash::Test&)>{
             [](clash::Test& t) { t.left = "everything"; }, [](clash::Test& t) { t.right.clear(); },
             [](clash::Test& t) { t.clearance = 0.3; }, [](clash::Test& t) { t.direction = Direction::Down; },
             [](clash::Test& t) { t.kind = Kind::Hard; }, [](clash::Test& t) { t.joint = 0; },
             [](clash::Test& t) { t.ignored = Meetings::none(); }}) {
        clash::Test changed = test;
        change(changed);
        QVERIFY(!clash::asksTheSame(test, changed));
    }
    QCOMPARE(clash::inWords(test), std::string("clearance of 400 mm upwards"));
    QCOMPARE(clash::inWords(made().tests[1]), std::string("duplicate, within 3 mm"));
}

QTEST_APPLESS_MAIN(TestTestSheet)
#include "test_sheet.moc"
