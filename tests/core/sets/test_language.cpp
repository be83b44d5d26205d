#include <QTest>

#include "core/sets/language.h"

using namespace wendrix;
using sets::Expression;

/// Lines that pick elements: what they are read as, and what is said of those that are wrong.
class TestLanguage : public QObject {
    Q_OBJECT
private slots:
    void readsLines_data();
    void readsLines();
    void saysWhereItIsWrong_data();
    void saysWhereItIsWrong();
    void numbersHaveUnits_data();
    void numbersHaveUnits();
    void bindsAsWritten();
    void saysWhatComesNext_data();
    void saysWhatComesNext();
    void isBounded();
};

namespace {

/// The tree in brackets, to see how a line was understood.
QString tree(const Expression& e)
{
    const auto list = [&](const char* word) {
        QStringList parts;
        for (const Expression& p : e.parts)
            parts << tree(p);
        return QString("[%1 %2]").arg(word, parts.join(" "));
    };
    switch (e.kind) {
    case Expression::Kind::AnyOf:
        return list("or");
    case Expression::Kind::AllOf:
        return list("and");
    case Expression::Kind::Not:
        return list("not");
    default:
        return QString::fromStdString(sets::lineOf(e));
    }
}

} // namespace

void TestLanguage::readsLines_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QString>("canonical");
    const auto row = [](const char* line, const char* canonical = "") {
        QTest::newRow(line) << QString(line) << QString(*canonical == '\0' ? line : canonical);
    };
    row("everything");
    row("EVERYTHING", "everything");
    row("class is Wall");
    row("class is IfcWall");
    row("has issue");
    row("HAS Issue and class is Wall", "has issue and class is Wall");
    row("has issue Open");
    row("has issue \"In progress\" or has issue", "has issue \"In progress\" or has issue");
    row("not (has issue)", "not has issue");
    row("changed since 2026-11-28");
    row("changed since cycle 3");
    row("changed since 3", "changed since cycle 3");
    row("name is changed");
    row("Class IS Wall", "class is Wall");
    row("  class   is\tWall  ", "class is Wall");
    row("class is Wall, Beam, Column");
    row("class is Wall,Beam", "class is Wall, Beam");
    row("class is not Door");
    row("class has duct");
    row("class starts with Flow");
    row("type is \"Duct 400 x 250\"");
    row("type is Duct400", "type is Duct400");
    row("type has \"400 x\", round");
    row("type starts with \"Cable tray\"");
    row("type is missing");
    row("type is given");
    row("name is \"a \\\"quoted\\\" word\"");
    row("name is \"back\\\\slash\"");
    row("name is Ölbehälter");
    row("name is \"and\"");
    row("name is \"is\"");
    row("name is not \"\"", "name is not \"\"");
    row("tag is 4711");
    row("tag is A-12.3/b");
    row("system is \"Supply air\"");
    row("system is missing");
    row("storey is \"Level 2\"");
    row("storey is \"Level 1\", \"Level 2\"");
    row("storey is not Roof");
    row("material has concrete");
    row("material is \"C30/37\"");
    row("discipline is Ventilation");
    row("discipline is \"Piping heating\"");
    row("classification starts with Ss_25");
    row("classification is missing");
    row("Pset_WallCommon.FireRating is \"EI 60\"");
    row("Pset_WallCommon.FireRating is missing");
    row("Pset_WallCommon.LoadBearing is true");
    row("pset_wallcommon.firerating is given");
    row("\"Seed store\".Shelf is 3");
    row("\"Seed store\".\"Cold chain\" has vault");
    row("Qto_WallBaseQuantities.Length > 3 m");
    row("Qto_WallBaseQuantities.Length > 3m", "Qto_WallBaseQuantities.Length > 3m");
    row("Qto_WallBaseQuantities.Length >= 300 mm");
    row("Qto_WallBaseQuantities.Length>300 mm", "Qto_WallBaseQuantities.Length > 300 mm");
    row("Qto_WallBaseQuantities.NetVolume < 0.5 m3");
    row("Qto_WallBaseQuantities.NetArea <= 12 m²");
    row("Pset_DuctSegmentTypeCommon.Pressure != 250 Pa");
    row("Pset_Stair.Slope = 30 deg");
    row("Pset_A.Count = -2");
    row("Pset_A.Value > 1.5e3");
    row("Pset_A.Width is 300 mm");
    row("tag > 100");
    row("inside 0 0 0 to 10 12 3.5");
    row("inside -5 -5 -0.5 to 5 5 0");
    row("inside space \"Drying room\"");
    row("inside space Archive, \"Seed lab\"");
    row("bay is \"A / 1-2\"");
    row("\"fire damper\"");
    row("\"a\" and \"b\"");
    row("set \"Ducts\"");
    row("set \"Ducts\" and not set \"Insulation\"");
    row("not class is Door");
    row("not not class is Door");
    row("not (class is Door or class is Window)");
    row("class is Wall and storey is Roof");
    row("class is Wall or storey is Roof");
    row("class is Wall and storey is Roof and type is given");
    row("class is Wall or class is Slab and storey is Roof");
    row("(class is Wall or class is Slab) and storey is Roof");
    row("((class is Wall))", "class is Wall");
    row("(class is Wall) and (class is Slab)", "class is Wall and class is Slab");
    row("class is Wall and (storey is Roof and type is given)");
    row("class is Wall or (storey is Roof or type is given)");
    row("class is Wall,\"Curtain wall\" AND NOT type HAS \"light\"",
        "class is Wall, \"Curtain wall\" and not type has \"light\"");
    row("name is given or name is missing");
    row("name is given, missing", "name is \"given\", \"missing\"");
    row("name is \"given\"");
    row("name is 12, 13");
    row("name has class", "name has \"class\"");
    row("type is \"x\"and name is y", "type is \"x\" and name is y");
    row("name is a<b", ""); // see the mistakes
}

void TestLanguage::readsLines()
{
    QFETCH(QString, line);
    QFETCH(QString, canonical);
    const sets::Parsed parsed = sets::parse(line.toStdString());
    if (line == "name is a<b") {
        QVERIFY(!parsed.expression);
        return;
    }
    QVERIFY2(parsed.expression.has_value(), parsed.mistake.message.c_str());
    const std::string written = sets::lineOf(*parsed.expression);
    QCOMPARE(QString::fromStdString(written), canonical);
    // Written and read again it is the same set.
    const sets::Parsed again = sets::parse(written);
    QVERIFY(again.expression.has_value());
    QCOMPARE(QString::fromStdString(sets::lineOf(*again.expression)), canonical);
    QCOMPARE(tree(*again.expression), tree(*parsed.expression));
}

void TestLanguage::saysWhereItIsWrong_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<int>("from");
    QTest::addColumn<int>("length");
    QTest::addColumn<QString>("says");
    const auto row = [](const char* line, int from, int length, const char* says) {
        QTest::newRow(line) << QString(line) << from << length << QString(says);
    };
    row("", 0, 0, "a field (class, type, name, storey, ...");
    row("   ", 3, 0, "after this");
    row("wall", 0, 4, "write \"wall\" in quotes");
    row("has", 3, 0, "\"issue\" is expected after this");
    row("has wall", 4, 4, "\"issue\" is expected here");
    row("has issue and", 13, 0, "a field");
    row("has issue Open Wall", 15, 4, "\"and\", \"or\" or the end");
    row("has issue \"Open", 10, 5, "the closing quote is missing");
    row("changed", 7, 0, "\"since\" is expected after this");
    row("changed since", 13, 0, "a day such as 2026-11-28");
    row("changed since 2026-11", 14, 7, "a day such as 2026-11-28");
    row("changed since P02", 14, 3, "a day such as 2026-11-28");
    row("changed since cycle", 19, 0, "the number of a cycle");
    row("changed since 28.11.2026", 14, 10, "a day such as 2026-11-28");
    row("class", 5, 0, "\"is\", \"is not\"");
    row("class wall", 6, 4, "is expected here");
    row("class is", 8, 0, "a value is expected after this");
    row("class is not", 12, 0, "a value is expected");
    row("class is and", 9, 3, "a value is expected");
    row("class is Wall,", 14, 0, "a value is expected");
    row("class is Wall Beam", 14, 4, "\"and\", \"or\" or the end");
    row("class is Wall and", 17, 0, "a field");
    row("class is Wall and and", 18, 3, "a field");
    row("class is Wall or", 16, 0, "a field");
    row("and class is Wall", 0, 3, "a field");
    row("not", 3, 0, "a field");
    row("(class is Wall", 14, 0, "a closing parenthesis");
    row("class is Wall)", 13, 1, "\"and\", \"or\" or the end");
    row("()", 1, 1, "a field");
    row("type is \"open", 8, 5, "the closing quote is missing");
    row("\"open", 0, 5, "the closing quote is missing");
    row("type starts Duct", 12, 4, "\"with\" is expected here");
    row("type starts", 11, 0, "\"with\" is expected after this");
    row("type > Duct", 7, 4, "a number");
    row("type > \"3\"", 7, 3, "a number");
    row("type >", 6, 0, "a value");
    row("type >> 3", 6, 1, "a value");
    row("type = 3 furlong", 9, 7, "\"and\", \"or\" or the end");
    row("type = 3 mm mm", 12, 2, "\"and\", \"or\" or the end");
    row("type = 3,5", 8, 1, "\"and\", \"or\" or the end");
    row("Pset_WallCommon", 0, 15, "a field");
    row("Pset_WallCommon. is x", 0, 16, "a property set and its property");
    row(".FireRating is x", 0, 11, "a property set and its property");
    row("\"Seed store\". is 3", 17, 1, "\"is\"");
    row("\"Seed store\".", 13, 0, "the name of a property");
    row("\"\"", 0, 2, "words to look for");
    row("set Ducts", 4, 5, "the name of a set in quotes");
    row("set", 3, 0, "the name of a set in quotes");
    row("inside", 6, 0, "three numbers");
    row("inside 1 2", 10, 0, "three numbers");
    row("inside space", 12, 0, "a value is expected");
    row("inside 1 2 x to 3 4 5", 11, 1, "three numbers");
    row("inside 1 2 3", 12, 0, "\"to\"");
    row("inside 1 2 3 4 5 6", 13, 1, "\"to\"");
    row("inside 1 2 3 to 4 5", 19, 0, "three numbers");
    row("inside 5 2 3 to 4 5 6", 16, 1, "a number no less");
    row("class is Wall; storey is Roof", 15, 6, "\"and\", \"or\" or the end");
    row("everything everything", 11, 10, "\"and\", \"or\" or the end");
    row("name is a<b", 9, 1, "\"and\", \"or\" or the end");
    row("name !", 5, 1, "\"is\"");
}

void TestLanguage::saysWhereItIsWrong()
{
    QFETCH(QString, line);
    QFETCH(int, from);
    QFETCH(int, length);
    QFETCH(QString, says);
    const sets::Parsed parsed = sets::parse(line.toStdString());
    QVERIFY(!parsed.expression);
    const QString message = QString::fromStdString(parsed.mistake.message);
    QVERIFY2(message.contains(says), qPrintable(message));
    QCOMPARE(static_cast<int>(parsed.mistake.from), from);
    QCOMPARE(static_cast<int>(parsed.mistake.length), length);
}

void TestLanguage::numbersHaveUnits_data()
{
    QTest::addColumn<QString>("written");
    QTest::addColumn<double>("number");
    QTest::addColumn<QString>("dimension");
    QTest::newRow("bare") << QString("300") << 300.0 << QString();
    QTest::newRow("millimetres") << QString("300 mm") << 0.3 << QString("m");
    QTest::newRow("with nothing between") << QString("300mm") << 0.3 << QString("m");
    QTest::newRow("feet") << QString("10 ft") << 3.048 << QString("m");
    QTest::newRow("inches") << QString("2in") << 0.0508 << QString("m");
    QTest::newRow("square metres") << QString("12 m2") << 12.0 << QString("m²");
    QTest::newRow("square millimetres") << QString("250 mm²") << 2.5e-4 << QString("m²");
    QTest::newRow("litres") << QString("300 l") << 0.3 << QString("m³");
    QTest::newRow("degrees") << QString("180 deg") << 3.14159265358979 << QString("rad");
    QTest::newRow("degree sign") << QString("90°") << 1.570796326794897 << QString("rad");
    QTest::newRow("tonnes") << QString("2 t") << 2000.0 << QString("kg");
    QTest::newRow("kilowatts") << QString("3.5 kW") << 3500.0 << QString("W");
    QTest::newRow("hours") << QString("2 h") << 7200.0 << QString("s");
    QTest::newRow("negative") << QString("-20 mm") << -0.02 << QString("m");
}

void TestLanguage::numbersHaveUnits()
{
    QFETCH(QString, written);
    const sets::Parsed parsed = sets::parse(("Pset_A.Value > " + written).toStdString());
    QVERIFY2(parsed.expression.has_value(), parsed.mistake.message.c_str());
    const sets::Value& value = parsed.expression->condition.values.at(0);
    QVERIFY(value.number.has_value());
    QTEST(*value.number, "number");
    QTEST(QString::fromStdString(value.dimension), "dimension");
}

void TestLanguage::bindsAsWritten()
{
    // "and" binds closer than "or", "not" closer than both.
    const auto treeOf = [](const char* line) { return tree(*sets::parse(line).expression); };
    QCOMPARE(treeOf("\"a\" or \"b\" and \"c\""), QString("[or \"a\" [and \"b\" \"c\"]]"));
    QCOMPARE(treeOf("(\"a\" or \"b\") and \"c\""), QString("[and [or \"a\" \"b\"] \"c\"]"));
    QCOMPARE(treeOf("not \"a\" and \"b\""), QString("[and [not \"a\"] \"b\"]"));
    QCOMPARE(treeOf("not (\"a\" and \"b\")"), QString("[not [and \"a\" \"b\"]]"));
}

void TestLanguage::saysWhatComesNext_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QStringList>("among"); // these are
    QTest::addColumn<int>("valuesOf");      // -1: of none
    QTest::addColumn<QString>("begun");
    const auto none = -1;
    const auto of = [](sets::Field f) { return static_cast<int>(f); };
    QTest::newRow("nothing yet") << QString() << QStringList{"class",     "storey",        "not",       "inside",
                                                             "has issue", "changed since", "everything"}
                                 << none << QString();
    QTest::newRow("a field begun") << QString("sto") << QStringList{"storey"} << none << QString("sto");
    QTest::newRow("after a field") << QString("class ") << QStringList{"is", "has", "is missing"} << none << QString();
    QTest::newRow("a value") << QString("class is ") << QStringList{} << of(sets::Field::Class) << QString();
    QTest::newRow("a value begun") << QString("class is Wa") << QStringList{} << of(sets::Field::Class)
                                   << QString("Wa");
    QTest::newRow("a second value") << QString("storey is \"Level 1\", ") << QStringList{} << of(sets::Field::Storey)
                                    << QString();
    QTest::newRow("a text begun") << QString("storey is \"Level ") << QStringList{} << of(sets::Field::Storey)
                                  << QString("\"Level ");
    QTest::newRow("after a condition") << QString("class is Wall ") << QStringList{"and", "or"} << none << QString();
    QTest::newRow("after and") << QString("class is Wall and ") << QStringList{"class", "not"} << none << QString();
    QTest::newRow("after has") << QString("has ") << QStringList{"issue"} << none << QString();
    QTest::newRow("after changed") << QString("changed ") << QStringList{"since"} << none << QString();
    QTest::newRow("in a parenthesis") << QString("(class is Wall ") << QStringList{")", "and", "or"} << none
                                      << QString();
}

void TestLanguage::saysWhatComesNext()
{
    QFETCH(QString, line);
    QFETCH(QStringList, among);
    QFETCH(int, valuesOf);
    const sets::Next next = sets::nextAfter(line.toStdString());
    for (const QString& word : among)
        QVERIFY2(std::find(next.words.begin(), next.words.end(), word.toStdString()) != next.words.end(),
                 qPrintable(word));
    QCOMPARE(next.valuesOf ? static_cast<int>(*next.valuesOf) : -1, valuesOf);
    QTEST(QString::fromStdString(next.begun), "begun");
}

void TestLanguage::isBounded()
{
    const std::string deep = std::string(200, '(') + "class is Wall" + std::string(200, ')');
    QVERIFY(!sets::parse(deep).expression);
    QVERIFY(QString::fromStdString(sets::parse(deep).mistake.message).contains("too deep"));
    std::string nots;
    for (int i = 0; i < 2'000; ++i)
        nots += "not ";
    QVERIFY(!sets::parse(nots + "everything").expression);
    QVERIFY(!sets::parse(std::string(sets::kLongest + 1, ' ')).expression);
    std::string many = "class is Wall";
    while (many.size() + 20 < sets::kLongest)
        many += " or class is Wall";
    QVERIFY(sets::parse(many).expression.has_value());
}

QTEST_GUILESS_MAIN(TestLanguage)
#include "test_language.moc"
