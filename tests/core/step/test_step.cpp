#include <QTest>

#include "core/step/file.h"
#include "core/step/parse.h"

using namespace wendrix;
using namespace wendrix::step;

/// ISO 10303-21: strings, values, whole files and broken ones.
class TestStep : public QObject {
    Q_OBJECT
private slots:
    void decodesStrings_data();
    void decodesStrings();
    void readsNumbers_data();
    void readsNumbers();
    void readsNestedAndTypedValues();
    void leavesOutArguments();
    void refusesBrokenArguments_data();
    void refusesBrokenArguments();
    void readsAFile();
    void refusesBrokenFiles_data();
    void refusesBrokenFiles();
    void stopsWhenCancelled();
};

void TestStep::decodesStrings_data()
{
    QTest::addColumn<QByteArray>("raw");
    QTest::addColumn<QString>("text");
    QTest::newRow("plain") << QByteArray("Wall 12") << "Wall 12";
    QTest::newRow("doubled quote") << QByteArray("Miller''s") << "Miller's";
    QTest::newRow("doubled backslash") << QByteArray("a\\\\b") << "a\\b";
    QTest::newRow("\\S\\ shifts by 128") << QByteArray("Gel\\S\\dnde") << "Gelände";
    QTest::newRow("\\X\\ one byte") << QByteArray("T\\X\\FCr") << "Tür";
    QTest::newRow("\\X2\\ two letters") << QByteArray("\\X2\\00D60041\\X0\\") << "ÖA";
    QTest::newRow("\\X2\\ surrogate pair") << QByteArray("\\X2\\D83DDE00\\X0\\") << QString::fromUtf8("\xF0\x9F\x98\x80");
    QTest::newRow("\\X4\\") << QByteArray("\\X4\\0001F600\\X0\\") << QString::fromUtf8("\xF0\x9F\x98\x80");
    QTest::newRow("\\P.\\ page is passed over") << QByteArray("\\PA\\x") << "x";
    QTest::newRow("raw UTF-8") << QByteArray("T\xC3\xBCr") << "Tür";
    QTest::newRow("raw Latin-1") << QByteArray("T\xFCr") << "Tür";
    QTest::newRow("unfinished \\X2\\ stays as it is") << QByteArray("\\X2\\00D6") << "\\X2\\00D6";
    QTest::newRow("a line broken inside") << QByteArray("ab\ncd") << "abcd";
}

void TestStep::decodesStrings()
{
    QFETCH(QByteArray, raw);
    QTEST(QString::fromStdString(decodeString({raw.constData(), static_cast<std::size_t>(raw.size())})), "text");
}

void TestStep::readsNumbers_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<double>("value");
    QTest::newRow("integer") << QByteArray("(12)") << 12.0;
    QTest::newRow("negative integer") << QByteArray("(-7)") << -7.0;
    QTest::newRow("real without decimals") << QByteArray("(3.)") << 3.0;
    QTest::newRow("upper-case exponent") << QByteArray("(1.5E-3)") << 0.0015;
    QTest::newRow("lower-case exponent") << QByteArray("(1.5e3)") << 1500.0;
    QTest::newRow("plus sign") << QByteArray("(+2.5)") << 2.5;
    QTest::newRow("starts with a point") << QByteArray("(.25)") << 0.25;
    QTest::newRow("larger than 64 bits") << QByteArray("(100000000000000000000)") << 1e20;
    QTest::newRow("typed") << QByteArray("(IFCLENGTHMEASURE(4.2))") << 4.2;
}

void TestStep::readsNumbers()
{
    QFETCH(QByteArray, bytes);
    std::string problem;
    const Instance instance = parseArguments({bytes.constData(), static_cast<std::size_t>(bytes.size())}, problem);
    QVERIFY2(instance.arguments()[0].number().has_value(), problem.c_str());
    QTEST(*instance.arguments()[0].number(), "value");
}

void TestStep::readsNestedAndTypedValues()
{
    std::string problem;
    const Instance i = parseArguments("( #12 , (1,(2.,3.)),/* note */ .T., 'a,b)' , IFCLABEL('x''y'),*,$,\"0F\")", problem);
    const Value v = i.arguments();
    QCOMPARE(v.size(), 8u);
    QCOMPARE(v[0].reference(), EntityId{12});
    QCOMPARE(v[1][1][1].numberOr(0), 3.0);
    QCOMPARE(v[2].enumeration(), std::string_view("T"));
    QCOMPARE(v[3].text(), std::string("a,b)"));
    QCOMPARE(v[4].text(), std::string("x'y"));
    QCOMPARE(v[4].typeName(), std::string_view("IFCLABEL"));
    QCOMPARE(v[5].kind(), Kind::Derived);
    QVERIFY(!v[6].isGiven());
    QCOMPARE(v[7].kind(), Kind::Binary);
    QVERIFY(!v[99].isGiven());
    double sum = 0;
    for (const Value item : v[1][1])
        sum += item.numberOr(0);
    QCOMPARE(sum, 5.0);
}

void TestStep::leavesOutArguments()
{
    std::string problem;
    const Instance i = parseArguments("(1,,3)", problem);
    QCOMPARE(i.arguments().size(), 3u);
    QVERIFY(!i.arguments()[1].isGiven());
}

void TestStep::refusesBrokenArguments_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::newRow("string not closed") << QByteArray("('abc");
    QTest::newRow("parenthesis missing") << QByteArray("(1,2");
    QTest::newRow("two values without comma") << QByteArray("(1 2)");
    QTest::newRow("reference without number") << QByteArray("(#)");
    QTest::newRow("a number of signs") << QByteArray("(1-2)");
    QTest::newRow("beyond the largest double") << QByteArray("(1.E999)");
    QTest::newRow("nested without end") << QByteArray(100'000, '(');
    QTest::newRow("typed without parentheses") << QByteArray("(IFCLABEL)");
    QTest::newRow("nothing") << QByteArray("");
}

void TestStep::refusesBrokenArguments()
{
    QFETCH(QByteArray, bytes);
    std::string problem;
    const Instance i = parseArguments({bytes.constData(), static_cast<std::size_t>(bytes.size())}, problem);
    QVERIFY(i.nodes.empty());
    QVERIFY(!problem.empty());
}

void TestStep::readsAFile()
{
    const std::string text = "ISO-10303-21;HEADER;FILE_NAME('a','2026-01-02T03:04:05',(''),(''),'p','s','');"
                             "FILE_SCHEMA(('Ifc4'));ENDSEC;DATA;\n#20 = IFCWALL ( 'x;y' ,\n $ ) ;#3=IFCDOOR(1);"
                             "/* #9=IFCWALL(); */ nonsense; #7=; #3=IFCSLAB(2);ENDSEC;END-ISO-10303-21;";
    Progress progress;
    const auto file = File::index(text, "a.ifc", progress);
    QVERIFY(file.has_value());
    QCOMPARE(file->schemaName(), std::string("IFC4"));
    QCOMPARE(file->timeStamp(), std::string("2026-01-02T03:04:05"));
    QCOMPARE(file->entries().size(), std::size_t{2});
    QCOMPARE(file->read(*file->find(20)).arguments()[0].text(), std::string("x;y"));
    QCOMPARE(file->keywords()[file->find(3)->keyword], std::string("IFCDOOR")); // the first of two counts
    QVERIFY(file->find(9) == nullptr);
    QCOMPARE(file->diagnostics().size(), std::size_t{2}); // #7 and the repeated #3
}

void TestStep::refusesBrokenFiles_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("code");
    QTest::newRow("another kind of file") << QByteArray("%PDF-1.7 ...") << "step.not-step";
    QTest::newRow("cut in a statement") << QByteArray("ISO-10303-21;HEADER;ENDSEC;DATA;#1=IFCWALL('a") << "step.truncated";
    QTest::newRow("cut between statements") << QByteArray("ISO-10303-21;HEADER;ENDSEC;DATA;#1=IFCWALL('a');") << "step.truncated";
    QTest::newRow("cut in a comment") << QByteArray("ISO-10303-21;HEADER;ENDSEC;DATA;/* a") << "step.truncated";
    QTest::newRow("header only") << QByteArray("ISO-10303-21;HEADER;ENDSEC;END-ISO-10303-21;") << "step.truncated";
}

void TestStep::refusesBrokenFiles()
{
    QFETCH(QByteArray, bytes);
    Progress progress;
    const auto file = File::index({bytes.constData(), static_cast<std::size_t>(bytes.size())}, "b.ifc", progress);
    QVERIFY(!file.has_value());
    QTEST(QString::fromUtf8(file.error().code.name.data()), "code");
    QCOMPARE(file.error().file, std::string("b.ifc"));
    QVERIFY(!file.error().message.empty());
}

void TestStep::stopsWhenCancelled()
{
    std::string text = "ISO-10303-21;HEADER;ENDSEC;DATA;";
    for (int i = 1; i <= 40'000; ++i)
        text += "#" + std::to_string(i) + "=IFCWALL();";
    text += "ENDSEC;END-ISO-10303-21;";
    Progress progress;
    progress.cancel();
    const auto file = File::index(text, "c.ifc", progress);
    QVERIFY(!file.has_value());
    QVERIFY(file.error().code == kCancelled);
}

QTEST_GUILESS_MAIN(TestStep)
#include "test_step.moc"
