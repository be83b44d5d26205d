#include <QTemporaryDir>
#include <QTest>

#include "core/bcf/archive.h"
#include "core/step/file.h"
#include "core/step/look.h"
#include "core/step/parse.h"

#undef emit // a name in oneTBB
#include <tbb/task_arena.h>

#include <algorithm>
#include <fstream>
#include <random>

using namespace wendrix;
using namespace wendrix::step;

namespace {

const std::string kHead = "ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4'));ENDSEC;";
const std::string kTail = "ENDSEC;END-ISO-10303-21;";

File fileOf(const std::string& text)
{
    Progress progress;
    return File::index(text, "t.ifc", progress).value();
}

} // namespace

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
    void readsPlainFormsTheSame_data();
    void readsPlainFormsTheSame();
    void refusesBrokenArguments_data();
    void refusesBrokenArguments();
    void readsAFile();
    void findsEntities_data();
    void findsEntities();
    void losesOnlyTheBrokenEntity_data();
    void losesOnlyTheBrokenEntity();
    void listsEntitiesByKeyword();
    void readsZippedModels();
    void refusesBadArchives_data();
    void refusesBadArchives();
    void looksBeforeItReads_data();
    void looksBeforeItReads();
    void refusesBrokenFiles_data();
    void refusesBrokenFiles();
    void isTheSameOnManyThreads_data();
    void isTheSameOnManyThreads();
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
    QTest::newRow("\\X2\\ surrogate pair")
        << QByteArray("\\X2\\D83DDE00\\X0\\") << QString::fromUtf8("\xF0\x9F\x98\x80");
    QTest::newRow("\\X4\\") << QByteArray("\\X4\\0001F600\\X0\\") << QString::fromUtf8("\xF0\x9F\x98\x80");
    QTest::newRow("\\P.\\ page is passed over") << QByteArray("\\PA\\x") << "x";
    QTest::newRow("\\PB\\ page of central Europe") << QByteArray("\\PB\\\\S\\!") << QString(QChar(0x0104));
    QTest::newRow("\\PE\\ page of Cyrillic")
        << QByteArray("\\PE\\\\S\\0\\S\\1") << QString(QChar(0x0410)) + QChar(0x0411);
    QTest::newRow("\\PG\\ page of Greek") << QByteArray("\\PG\\\\S\\A") << QString(QChar(0x0391));
    QTest::newRow("lone surrogate") << QByteArray("\\X2\\D83D\\X0\\x") << "x";
    QTest::newRow("backslash at the end") << QByteArray("a\\") << "a\\";
    QTest::newRow("UTF-8 cut in the middle is Latin-1") << QByteArray("\xE2\x82") << QString(QChar(0xE2)) + QChar(0x82);
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
    QTest::newRow("Fortran exponent") << QByteArray("(1.5D-3)") << 0.0015;
    QTest::newRow("nearer to nothing than a double can be") << QByteArray("(1.E-999)") << 0.0;
    QTest::newRow("largest double") << QByteArray("(1.7976931348623157E308)") << 1.7976931348623157e308;
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
    const Instance i =
        parseArguments("( #12 , (1,(2.,3.)),/* note */ .T., 'a,b)' , IFCLABEL('x''y'),*,$,\"0F\")", problem);
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

void TestStep::readsPlainFormsTheSame_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<bool>("isNumbers");
    QTest::addColumn<bool>("isFlagged");
    // clang-format off
    QTest::newRow("a point") << QByteArray("((1.5,-2.,3.E-2));") << true << false;
    QTest::newRow("a plane's point") << QByteArray("((0.,7.));") << true << false;
    QTest::newRow("whole numbers") << QByteArray("((1,-2,30000000));") << true << false;
    QTest::newRow("blanks and lines") << QByteArray("( ( 1. ,\n2.\r\n, 3. ) ) ;") << true << false;
    QTest::newRow("a comment between") << QByteArray("(/*at*/(1.,/*y*/2.,3.));") << true << false;
    QTest::newRow("a comment behind a number") << QByteArray("((1./*x*/,2.,3.));") << false << false;
    QTest::newRow("Fortran's exponent") << QByteArray("((1.5D-3,2.,3.));") << false << false;
    QTest::newRow("a plus") << QByteArray("((+1.5,2.,3.));") << false << false;
    QTest::newRow("nearer to nothing than can be") << QByteArray("((1.E-999,2.,3.));") << false << false;
    QTest::newRow("larger than can be") << QByteArray("((1.E999,2.,3.));") << false << false;
    QTest::newRow("no number") << QByteArray("((nan,inf,3.));") << false << false;
    QTest::newRow("four") << QByteArray("((1.,2.,3.,4.));") << false << false;
    QTest::newRow("none") << QByteArray("(());") << false << false;
    QTest::newRow("one left out") << QByteArray("((1.,$,3.));") << false << false;
    QTest::newRow("not closed") << QByteArray("((1.,2.,3.)") << false << false;
    QTest::newRow("cut off") << QByteArray("((1.,2.,3.") << false << false;
    QTest::newRow("more than the list") << QByteArray("((1.,2.,3.),$);") << false << false;
    QTest::newRow("a bound") << QByteArray("(#12,.T.);") << false << true;
    QTest::newRow("the other way round") << QByteArray("( #12 , .F. );") << false << true;
    QTest::newRow("neither way") << QByteArray("(#12,.U.);") << false << false;
    QTest::newRow("no flag") << QByteArray("(#12,$);") << false << false;
    QTest::newRow("no reference") << QByteArray("($,.T.);") << false << false;
    QTest::newRow("a longer flag") << QByteArray("(#12,.TRUE.);") << false << false;
    QTest::newRow("ends in the flag") << QByteArray("(#12,.T") << false << false;
    QTest::newRow("a third") << QByteArray("(#12,.T.,.T.);") << false << false;
    QTest::newRow("nothing") << QByteArray() << false << false;
    // clang-format on
}

void TestStep::readsPlainFormsTheSame()
{
    const QFETCH(QByteArray, text);
    QFETCH(bool, isNumbers);
    QFETCH(bool, isFlagged);
    const std::string_view bytes(text.constData(), static_cast<std::size_t>(text.size()));
    std::array<double, 3> numbers{};
    QCOMPARE(step::parseNumbers(bytes, numbers), isNumbers);
    const auto flagged = step::parseFlagged(bytes);
    QCOMPARE(flagged.has_value(), isFlagged);
    std::string problem;
    const step::Instance instance = step::parseArguments(bytes, problem);
    if (isNumbers)
        for (std::size_t i = 0; i < 3; ++i)
            QCOMPARE(numbers[i], instance.arguments()[0][i].numberOr(0));
    if (isFlagged) {
        QCOMPARE(flagged->id, instance.arguments()[0].reference());
        QCOMPARE(flagged->isTrue, instance.arguments()[1].enumeration() == "T");
    }
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
    QTest::newRow("not a number") << QByteArray("(-1.#IND)");
    QTest::newRow("nan") << QByteArray("(nan)");
    QTest::newRow("enumeration not closed") << QByteArray("(.TRUE");
    QTest::newRow("binary not closed") << QByteArray("(\"0F");
    QTest::newRow("reference beyond 64 bits") << QByteArray("(#99999999999999999999999)");
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
    QCOMPARE(file->header().schema, std::string("IFC4"));
    QCOMPARE(file->header().timeStamp, std::string("2026-01-02T03:04:05"));
    const EntityIndex& entities = file->entities();
    QCOMPARE(entities.all().size(), std::size_t{2});
    QCOMPARE(file->read(*entities.find(20)).arguments()[0].text(), std::string("x;y"));
    QCOMPARE(entities.keywords()[entities.find(3)->keyword()], std::string("IFCDOOR")); // the first of two counts
    QVERIFY(entities.find(9) == nullptr);
    QCOMPARE(file->diagnostics().size(), std::size_t{3}); // nonsense, #7 and the repeated #3
}

void TestStep::findsEntities_data()
{
    QTest::addColumn<QString>("data");
    QTest::addColumn<quint64>("id");
    QTest::addColumn<QString>("name");
    QTest::newRow("every statement on one line") << "DATA;#1=IFCWALL('a');#2=IFCWALL('b');" << 2ull << "b";
    QTest::newRow("broken over lines and tabs") << "DATA;\r\n#1\t=\r\n IFCWALL\n(\n'a'\n,\n$\n)\n;" << 1ull << "a";
    QTest::newRow("comments between everything") << "DATA;#1/*x*/=/*;*/IFCWALL/*'*/(/*)*/'a'/**/);" << 1ull << "a";
    QTest::newRow("numbers out of order") << "DATA;#900=IFCWALL('a');#7=IFCWALL('b');#33=IFCWALL('c');" << 33ull << "c";
    QTest::newRow("a very large number") << "DATA;#1=IFCWALL('a');#4611686018427387000=IFCWALL('z');"
                                         << 4611686018427387000ull << "z";
    QTest::newRow("lower case") << "data;#1=ifcwall('a');" << 1ull << "a";
    QTest::newRow("two sections of data")
        << "DATA;#1=IFCWALL('a');ENDSEC;DATA('more',('IFC4'));#2=IFCWALL('b');" << 2ull << "b";
    QTest::newRow("semicolons and quotes in strings")
        << "DATA;#1=IFCWALL('it''s; #5=IFCX(');#2=IFCWALL('b');" << 2ull << "b";
    QTest::newRow("a string over lines") << "DATA;#1=IFCWALL('a\nb');" << 1ull << "ab";
}

void TestStep::findsEntities()
{
    QFETCH(QString, data);
    QFETCH(quint64, id);
    const std::string text = kHead + data.toStdString() + kTail;
    const File file = fileOf(text);
    QVERIFY(file.diagnostics().empty());
    const Entry* entry = file.entities().find(id);
    QVERIFY(entry != nullptr);
    QCOMPARE(file.entities().keywords()[entry->keyword()], std::string("IFCWALL"));
    QTEST(QString::fromStdString(file.read(*entry).arguments()[0].text()), "name");
}

void TestStep::losesOnlyTheBrokenEntity_data()
{
    QTest::addColumn<QString>("broken");
    QTest::addColumn<QString>("code");
    // clang-format off
    QTest::newRow("a string never closed") << "#5=IFCWALL('a,$);" << "step.string";
    QTest::newRow("no keyword") << "#5=('a');" << "step.statement";
    QTest::newRow("no equals sign") << "#5 IFCWALL('a');" << "step.statement";
    QTest::newRow("no number") << "#=IFCWALL('a');" << "step.statement";
    QTest::newRow("number nought") << "#0=IFCWALL('a');" << "step.statement";
    QTest::newRow("no parenthesis") << "#5=IFCWALL;" << "step.statement";
    QTest::newRow("not an entity") << "wall five;" << "step.statement";
    // clang-format on
}

void TestStep::losesOnlyTheBrokenEntity()
{
    QFETCH(QString, broken);
    const std::string text = kHead + "DATA;\n#1=IFCWALL('one');\n" + broken.toStdString() +
                             "\n#6=IFCWALL('six','x');\n#7=IFCWALL('seven');\n" + kTail;
    const File file = fileOf(text);
    for (const EntityId id : {1, 6, 7})
        QVERIFY(file.entities().find(id) != nullptr);
    QVERIFY(file.entities().find(5) == nullptr);
    QCOMPARE(file.diagnostics().size(), std::size_t{1});
    QTEST(QString::fromStdString(file.diagnostics()[0].code), "code");
    QVERIFY(file.diagnostics()[0].message.find("byte") != std::string::npos);
}

void TestStep::listsEntitiesByKeyword()
{
    const std::string text = kHead + "DATA;#9=IFCWALL();#2=IFCDOOR();#4=IFCWALL();#1=IFCWALL();" + kTail;
    const File file = fileOf(text);
    std::vector<EntityId> walls;
    for (std::size_t k = 0; k < file.entities().keywords().size(); ++k)
        if (file.entities().keywords()[k] == "IFCWALL")
            for (const std::uint32_t position : file.entities().withKeyword(static_cast<KeywordIndex>(k)))
                walls.push_back(file.entities().all()[position].id());
    QCOMPARE(walls, (std::vector<EntityId>{1, 4, 9}));
}

void TestStep::readsZippedModels()
{
    QTemporaryDir folder;
    const std::string path = folder.filePath("model.ifczip").toStdString();
    const std::string text = kHead + "DATA;#1=IFCWALL('zipped');" + kTail;
    QVERIFY(writeFileWhole(path, bcf::pack({{"Model.IFC", text}, {"readme.txt", "x"}}).value()).has_value());
    Progress progress;
    const auto file = File::open(path, progress);
    QVERIFY2(file.has_value(), file ? "" : file.error().message.c_str());
    QCOMPARE(file->read(*file->entities().find(1)).arguments()[0].text(), std::string("zipped"));
}

void TestStep::refusesBadArchives_data()
{
    QTest::addColumn<QByteArray>("bytes");
    const auto zip = [](const bcf::Entries& entries) { return QByteArray::fromStdString(bcf::pack(entries).value()); };
    QTest::newRow("no model in it") << zip({{"readme.txt", "x"}});
    QTest::newRow("two models in it") << zip({{"a.ifc", "x"}, {"b.ifc", "y"}});
    QTest::newRow("cut off") << zip({{"a.ifc", std::string(5000, 'x')}}).left(60);
    QTest::newRow("unpacks without end") << zip({{"a.ifc", std::string(60'000'000, ' ')}});
    QTest::newRow("a model that unpacks without end")
        << zip({{"a.ifc", kHead + "DATA;" + std::string(60'000'000, '\n') + kTail}});
    QTest::newRow("something else called a model") << zip({{"a.ifc", "%PDF-1.7, and so on"}});
    {
        // One that says itself to be small, in both places where an archive says it.
        QByteArray lying = zip({{"a.ifc", kHead + "DATA;" + std::string(60'000'000, '\n') + kTail}});
        const std::string size = {'\0', '\x10', '\0', '\0'}; // 4096
        lying.replace(22, 4, QByteArray::fromStdString(size));
        lying.replace(lying.lastIndexOf("PK\x01\x02") + 24, 4, QByteArray::fromStdString(size));
        QTest::newRow("unpacks to more than it says") << lying;
    }
    QTest::newRow("only its first two letters") << QByteArray("PK");
}

void TestStep::refusesBadArchives()
{
    QFETCH(QByteArray, bytes);
    QTemporaryDir folder;
    const std::string path = folder.filePath("model.ifczip").toStdString();
    QVERIFY(writeFileWhole(path, bytes.toStdString()).has_value());
    Progress progress;
    const auto file = File::open(path, progress);
    QVERIFY(!file.has_value());
    QVERIFY(file.error().code == kArchive);
    QCOMPARE(file.error().file, path);
}

void TestStep::looksBeforeItReads_data()
{
    QTest::addColumn<QByteArray>("begins");
    QTest::addColumn<qint64>("size");  // the rest was never written; 0: as it begins
    QTest::addColumn<QString>("code"); // empty: it may be one
    const QByteArray model = QByteArray::fromStdString(kHead + "DATA;" + kTail);
    const qint64 large = 40'000'000'000;
    QTest::newRow("a model") << model << qint64{0} << "";
    QTest::newRow("a model after a mark and a comment") << "\xEF\xBB\xBF/* by hand */\n" + model << qint64{0} << "";
    QTest::newRow("an archive") << QByteArray("PK\x03\x04...") << qint64{0} << "";
    QTest::newRow("empty") << QByteArray() << qint64{0} << "file.empty";
    QTest::newRow("something else") << QByteArray("%PDF-1.7 and more") << qint64{0} << "step.not-step";
    QTest::newRow("40 GB of nothing") << QByteArray() << large << "step.not-step";
    QTest::newRow("a model's beginning and 40 GB of nothing") << model << large << "step.truncated";
    QTest::newRow("an archive's beginning and 40 GB of nothing")
        << QByteArray("PK\x03\x04") << large << "step.truncated";
    QTest::newRow("a small one that ends in nothing") << model << qint64{9'000} << "step.truncated";
}

void TestStep::looksBeforeItReads()
{
    QFETCH(QByteArray, begins);
    QFETCH(qint64, size);
    QTemporaryDir folder;
    const std::string path = folder.filePath("model.ifc").toStdString();
    std::ofstream(path, std::ios::binary) << begins.toStdString();
    if (size > 0)
        std::filesystem::resize_file(path, static_cast<std::uintmax_t>(size)); // takes no room on the disk
    const auto looked = lookAt(path);
    const QString code = looked ? QString() : QString::fromUtf8(looked.error().code.name.data());
    QTEST(code, "code");
}

void TestStep::refusesBrokenFiles_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("code");
    QTest::newRow("another kind of file") << QByteArray("%PDF-1.7 ...") << "step.not-step";
    QTest::newRow("cut in a statement") << QByteArray("ISO-10303-21;HEADER;ENDSEC;DATA;#1=IFCWALL('a")
                                        << "step.truncated";
    QTest::newRow("cut between statements")
        << QByteArray("ISO-10303-21;HEADER;ENDSEC;DATA;#1=IFCWALL('a');") << "step.truncated";
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

void TestStep::isTheSameOnManyThreads_data()
{
    QTest::addColumn<std::string>("between");
    QTest::newRow("entities only") << std::string();
    QTest::newRow("comments that hold entities")
        << std::string("/* #5= IFCWALL($);\n#6= IFCDOOR($);\n#7= IFCDOOR($);\n*/\n");
    QTest::newRow("strings over many lines") << std::string("#8= IFCLABEL('a;\n b;\n c');\n");
    QTest::newRow("strings that hold entities") << std::string("#8= IFCLABEL('a;\n#9= IFCWALL($);\n it''s');\n");
    QTest::newRow("broken statements") << std::string("#10 IFCWALL();\n#= IFCWALL();\nx;\n");
    QTest::newRow("the end of the data, and more of it") << std::string("ENDSEC;\nDATA;\n");
    QTest::newRow("the end of the file") << std::string("ENDSEC;\nEND-ISO-10303-21;\n");
    QTest::newRow("a string that never closes") << std::string("#11= IFCLABEL('no end);\n");
    QTest::newRow("a comment that never closes") << std::string("/* no end\n");
}

void TestStep::isTheSameOnManyThreads()
{
    QFETCH(std::string, between);
    // Parts begin anywhere in this: what is between stands where one might begin, a few times, at random.
    std::mt19937 random(7);
    for (int round = 0; round < 4; ++round) {
        std::string file = "ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n";
        const int lines = 110'000;
        const int from = round == 0 ? -1 : std::uniform_int_distribution(0, lines)(random);
        for (int i = 0; i < lines; ++i) {
            file += "#" + std::to_string(100 + (i * 7919 + 13) % (lines + 50)) + "= " +
                    (i % 3 == 0   ? "IFCCARTESIANPOINT"
                     : i > 80'000 ? "IFCLATE"
                                  : "IfcCartesianpoint") +
                    "((" + std::to_string(i) + ".,0.,0.));\n";
            if (from < 0 ? i % 1000 == 500 : i >= from && i < from + 3)
                file += between;
        }
        file += "ENDSEC;\nEND-ISO-10303-21;\n";
        Progress progress;
        const auto onThreads = [&](int threads) {
            std::optional<Result<File>> result;
            tbb::task_arena(threads).execute([&] { result = File::index(file, "one.ifc", progress); });
            return std::move(*result);
        };
        const auto one = onThreads(1), many = onThreads(8);
        QCOMPARE(many.has_value(), one.has_value());
        if (!one) {
            QCOMPARE(many.error().message, one.error().message);
            QCOMPARE(many.error().entity, one.error().entity);
            continue;
        }
        const auto a = one->entities().all(), b = many->entities().all();
        QCOMPARE(b.size(), a.size());
        for (std::size_t i = 0; i < a.size(); ++i)
            if (a[i].id() != b[i].id() || a[i].offset() != b[i].offset() || a[i].keyword() != b[i].keyword())
                QFAIL(qPrintable(QString("entity %1").arg(a[i].id())));
        QVERIFY(std::ranges::equal(many->entities().keywords(), one->entities().keywords()));
        QCOMPARE(many->diagnostics().size(), one->diagnostics().size());
        for (std::size_t i = 0; i < one->diagnostics().size(); ++i)
            QCOMPARE(many->diagnostics()[i].message, one->diagnostics()[i].message);
    }
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
