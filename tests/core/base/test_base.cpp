#include <QTest>

#include "core/base/file.h"
#include "core/base/file_name.h"
#include "core/base/guid.h"
#include "core/base/hash.h"
#include "core/base/number.h"
#include "core/base/progress.h"
#include "core/base/run_until_cancelled.h"
#include "core/base/temporary.h"
#include "core/base/text.h"
#include "core/base/transform.h"
#include "core/base/who_and_when.h"

#include <QTemporaryDir>

#include <clocale>
#include <cmath>
#include <fstream>
#include <future>
#include <set>
#include <thread>

#include <signal.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace wendrix;

/// Words, times, ids, files and transforms that everything else stands on.
class TestBase : public QObject {
    Q_OBJECT
private slots:
    void numbersHaveAPointEverywhere_data();
    void numbersHaveAPointEverywhere();
    void tellsProgressInRealTerms();
    void leavesCancelledWork();
    void saysLengths_data();
    void saysLengths();
    void namesClasses_data();
    void namesClasses();
    void countsTimes_data();
    void countsTimes();
    void sumsAsTheStandardSays_data();
    void sumsAsTheStandardSays();
    void knowsGlobalIds_data();
    void knowsGlobalIds();
    void aForkedProcessGivesIdsOfItsOwn();
    void transformsAndBack_data();
    void transformsAndBack();
    void writesFilesWholeOrNotAtAll();
    void onlyOurLeftOversAreRemoved();
    void namesAreUtf8_data();
    void namesAreUtf8();
    void filesAreFoundByWhatIsRead_data();
    void filesAreFoundByWhatIsRead();
    void numbersReadBackExactly_data();
    void numbersReadBackExactly();
    void progressReportsEachPerCentOnce();
};

void TestBase::saysLengths_data()
{
    QTest::addColumn<double>("metres");
    QTest::addColumn<QString>("words");
    QTest::newRow("nothing") << 0.0 << "0.0 mm";
    QTest::newRow("tenths below a millimetre") << 0.0004 << "0.4 mm";
    QTest::newRow("millimetres") << 0.18 << "180 mm";
    QTest::newRow("just below a metre") << 0.9994 << "999 mm";
    QTest::newRow("metres") << 2.314 << "2.31 m";
    QTest::newRow("the sign is not a length's") << -0.12 << "120 mm";
    QTest::newRow("far off") << 251'000.0 << "251 km";
}

void TestBase::saysLengths()
{
    QFETCH(double, metres);
    QTEST(QString::fromStdString(lengthInWords(Metres{metres})), "words");
}

void TestBase::namesClasses_data()
{
    QTest::addColumn<QString>("ifcClass");
    QTest::addColumn<QString>("words");
    // clang-format off
    QTest::newRow("one word") << "IfcWall" << "Wall";
    QTest::newRow("two words") << "IfcDuctSegment" << "Duct segment";
    QTest::newRow("three words") << "IfcBuildingElementProxy" << "Building element proxy";
    QTest::newRow("nothing") << "" << "";
    // clang-format on
}

void TestBase::namesClasses()
{
    QFETCH(QString, ifcClass);
    QTEST(QString::fromStdString(classInWords(ifcClass.toStdString())), "words");
}

void TestBase::countsTimes_data()
{
    QTest::addColumn<QString>("time");
    QTest::addColumn<int>("days");
    QTest::addColumn<QString>("later");
    QTest::addColumn<QString>("words");
    // clang-format off
    QTest::newRow("within a month") << "2026-11-16T17:42:00Z" << 7 << "2026-11-23T17:42:00Z" << "16 Nov 17:42";
    QTest::newRow("over the year's end") << "2026-12-28T00:00:05Z" << 7 << "2027-01-04T00:00:05Z" << "28 Dec 00:00";
    QTest::newRow("a leap day") << "2028-02-28T12:00:00Z" << 1 << "2028-02-29T12:00:00Z" << "28 Feb 12:00";
    QTest::newRow("no leap day") << "2100-02-28T12:00:00Z" << 1 << "2100-03-01T12:00:00Z" << "28 Feb 12:00";
    QTest::newRow("no time stays as it is") << "soon" << 7 << "soon" << "soon";
    // clang-format on
}

void TestBase::countsTimes()
{
    QFETCH(QString, time);
    QFETCH(int, days);
    QTEST(QString::fromStdString(daysLater(time.toStdString(), days)), "later");
    QTEST(QString::fromStdString(timeInWords(time.toStdString())), "words");
}

void TestBase::sumsAsTheStandardSays_data()
{
    // FIPS 180-4's own examples.
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("sum");
    QTest::newRow("empty") << QByteArray("") << "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855";
    QTest::newRow("abc") << QByteArray("abc") << "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";
    QTest::newRow("a million a") << QByteArray(1'000'000, 'a')
                                 << "cdc76e5c9914fb9281a1c7e284d73e67f1809a48a497200e046d39ccc7112cd0";
}

void TestBase::sumsAsTheStandardSays()
{
    QFETCH(QByteArray, bytes);
    QFETCH(QString, sum);
    QCOMPARE(QString::fromStdString(sha256({bytes.constData(), static_cast<std::size_t>(bytes.size())})), sum);
    QTemporaryDir folder;
    const std::filesystem::path file = (folder.path() + "/x").toStdString();
    QVERIFY(writeFileWhole(file, {bytes.constData(), static_cast<std::size_t>(bytes.size())}).has_value());
    QCOMPARE(QString::fromStdString(sha256OfFile(file).value()), sum);
}

void TestBase::knowsGlobalIds_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<bool>("isOne");
    QTest::newRow("zero") << "0000000000000000000000" << true;
    QTest::newRow("the largest") << "3$$$$$$$$$$$$$$$$$$$$$" << true;
    QTest::newRow("132 bits") << "4000000000000000000000" << false;
    QTest::newRow("too short") << "000000000000000000000" << false;
    QTest::newRow("another letter") << "0000000000000000000-00" << false;
}

void TestBase::knowsGlobalIds()
{
    QFETCH(QString, text);
    QTEST(isIfcGuid(text.toStdString()), "isOne");
    QVERIFY(newUuid() != newUuid());
    QCOMPARE(uuidFromText("a"), uuidFromText("a"));
    QCOMPARE(newUuid().size(), std::size_t{36});
    QCOMPARE(newUuid()[14], '4');
}

void TestBase::aForkedProcessGivesIdsOfItsOwn()
{
    (void)newUuid();
    int ends[2];
    QCOMPARE(::pipe(ends), 0);
    const pid_t child = ::fork();
    if (child == 0) {
        const std::string id = newUuid();
        (void)!::write(ends[1], id.data(), id.size());
        ::_exit(0);
    }
    QVERIFY(child > 0);
    ::close(ends[1]);
    std::string theirs(36, ' ');
    QCOMPARE(::read(ends[0], theirs.data(), theirs.size()), ssize_t{36});
    ::close(ends[0]);
    ::waitpid(child, nullptr, 0);
    QVERIFY(theirs != newUuid());
}

void TestBase::transformsAndBack_data()
{
    QTest::addColumn<double>("degrees");
    QTest::addColumn<double>("scale");
    QTest::addColumn<double>("far");
    QTest::newRow("still") << 0.0 << 1.0 << 0.0;
    QTest::newRow("turned and moved") << 17.3 << 1.0 << 1000.0;
    QTest::newRow("feet on survey coordinates") << -120.0 << 0.3048 << 5.4e6;
    QTest::newRow("mirrored") << 45.0 << -1.0 << 10.0;
}

void TestBase::transformsAndBack()
{
    QFETCH(double, degrees);
    QFETCH(double, scale);
    QFETCH(double, far);
    Transform t = Transform::rotationZ(fromDegrees(degrees)) * Transform::scaling(scale);
    t.origin = {far, -far / 3, far / 7};
    for (const Point3 p : {Point3{0, 0, 0}, Point3{1, 2, 3}, Point3{-40, 20, 9}}) {
        QVERIFY(length(t.inverse().apply(t.apply(p)) - p) < 1e-15 * (1 + std::abs(far)) * 100);
        QVERIFY(std::abs(length(t.turn(p)) - std::abs(scale) * length(p)) < 1e-12);
    }
    QVERIFY(std::abs(t.determinant() - scale * scale * scale) < 1e-12);
    QVERIFY((Transform::scaling(0).inverse() == Transform{})); // files do hold scale 0
    Box3 box;
    box.add(Point3{0, 0, 0});
    box.add(Point3{1, 2, 3});
    QVERIFY(t.apply(box).grownBy(1e-6).contains(t.apply(Point3{0.5, 1.9, 0.1})));
}

void TestBase::writesFilesWholeOrNotAtAll()
{
    QTemporaryDir folder;
    const std::filesystem::path file = (folder.path() + "/a.txt").toStdString();
    QVERIFY(writeFileWhole(file, "first").has_value());
    QVERIFY(writeFileWhole(file, "second").has_value());
    QCOMPARE(readFileWhole(file).value(), std::string("second"));
    QVERIFY(!std::filesystem::exists(file.string() + ".part"));
    const auto refused = writeFileWhole(folder.path().toStdString() + "/none/b.txt", "x");
    QVERIFY(!refused && refused.error().code == kFileUnwritable);
    QVERIFY(!readFileWhole(file, 3));                                                       // larger than allowed
    QVERIFY(MappedFile::open(folder.path().toStdString()).error().code == kFileUnreadable); // a folder
    const std::string pipe = (folder.path() + "/pipe").toStdString();
    QCOMPARE(::mkfifo(pipe.c_str(), 0600), 0);
    QVERIFY(MappedFile::open(pipe).error().code == kFileUnreadable); // and at once
    QVERIFY(MappedFile::open(folder.path().toStdString() + "/none").error().code == kFileUnreadable);
}

void TestBase::onlyOurLeftOversAreRemoved()
{
    QTemporaryDir scratch;
    const std::filesystem::path folder = scratch.path().toStdString();
    const auto make = [&](const std::string& name, bool isFolder) {
        const std::filesystem::path path = folder / name;
        if (isFolder)
            std::filesystem::create_directory(path);
        std::ofstream(isFolder ? path / "inner" : path) << "x";
        return path;
    };
    const auto left = make(".wendrix-Ab3xY9.part", false), leftFolder = make(".wendrix-Cd4zQ1.part", true);
    std::vector<std::filesystem::path> others{make("model.ifc.part", false), make("folder.part", true),
                                              make(".wendrix-longer-name.part", false),
                                              make(".wendrix-Gh6.part", false)};
    std::filesystem::create_symlink(folder / "model.ifc.part", folder / ".wendrix-Ij7vS3.part");
    others.push_back(folder / ".wendrix-Ij7vS3.part");
    // What is being written is locked, whether file or folder; no two are the same.
    std::set<std::filesystem::path> made;
    std::vector<Temporary> writing;
    for (int i = 0; i < 20; ++i) {
        writing.push_back(
            (i % 2 == 0 ? Temporary::fileBeside(folder / "x") : Temporary::folderBeside(folder / "x")).value());
        made.insert(writing.back().path());
    }
    QCOMPARE(made.size(), std::size_t{20});
    removeLeftOvers(folder);
    QVERIFY(!std::filesystem::exists(left) && !std::filesystem::exists(leftFolder));
    for (const auto& other : others)
        QVERIFY2(std::filesystem::exists(std::filesystem::symlink_status(other)), other.c_str());
    for (const auto& one : made)
        QVERIFY(std::filesystem::exists(one));
    writing.clear(); // given up
    for (const auto& one : made)
        QVERIFY(!std::filesystem::exists(one));
    // A program that was killed left its own as they were, unlocked: found at once, however young.
    if (const pid_t child = ::fork(); child == 0) {
        const Temporary file = Temporary::fileBeside(folder / "x").value();
        const Temporary inner = Temporary::folderBeside(folder / "x").value();
        (void)file.append("half");
        ::kill(::getpid(), SIGKILL);
    } else {
        int status = 0;
        ::waitpid(child, &status, 0);
        QVERIFY(WIFSIGNALED(status));
    }
    const auto count = [&] {
        return std::distance(std::filesystem::directory_iterator(folder), std::filesystem::directory_iterator());
    };
    QCOMPARE(static_cast<std::size_t>(count()), others.size() + 2);
    removeLeftOvers(folder);
    QCOMPARE(static_cast<std::size_t>(count()), others.size());
}

void TestBase::namesAreUtf8_data()
{
    QTest::addColumn<QByteArray>("name");
    QTest::addColumn<QByteArray>("words");
    QTest::newRow("plain") << QByteArray("/a/model.ifc") << QByteArray("model.ifc");
    QTest::newRow("UTF-8") << QByteArray("/a/Ständer 木.ifc") << QByteArray("Ständer 木.ifc");
    QTest::newRow("Latin-1") << QByteArray("/a/St\xE4nder.ifc") << QByteArray("Ständer.ifc");
    QTest::newRow("both") << QByteArray("\xC3\xA4\xE4") << QByteArray("ää");
    QTest::newRow("overlong") << QByteArray("\xC0\xAF") << QByteArray("À¯");
    QTest::newRow("a surrogate") << QByteArray("\xED\xA0\x80") << QByteArray("í \xC2\x80").replace(" ", "\xC2\xA0");
    QTest::newRow("cut off") << QByteArray("a\xE6\x9C") << QByteArray("aæ\xC2\x9C");
    QTest::newRow("beyond what there is") << QByteArray("\xF4\x90\x80\x80") << QByteArray("ô\xC2\x90\xC2\x80\xC2\x80");
}

void TestBase::namesAreUtf8()
{
    QFETCH(QByteArray, name);
    const QByteArray words = QByteArray::fromStdString(nameInUtf8(name.toStdString()));
    QTEST(words, "words");
    QCOMPARE(QString::fromUtf8(words).toUtf8(), words); // well formed
}

void TestBase::filesAreFoundByWhatIsRead_data()
{
    QTest::addColumn<QByteArray>("there");
    QTest::addColumn<QString>("read");
    QTest::newRow("ASCII") << QByteArray("a.ifc") << "a.ifc";
    QTest::newRow("UTF-8") << QByteArray("Ständer.ifc") << "Ständer.ifc";
    QTest::newRow("Latin-1") << QByteArray("St\xE4nder.ifc") << "St\uFFFDnder.ifc";
    QTest::newRow("several bytes, one sign") << QByteArray("a\xE6\x9C.ifc") << "a\uFFFD.ifc";
    QTest::newRow("several signs") << QByteArray("a\xE6\xE6.ifc") << "a\uFFFD\uFFFD.ifc";
    QTest::newRow("in a folder of such a name") << QByteArray("B\xFCro/St\xE4nder.ifc") << "B\uFFFDro/St\uFFFDnder.ifc";
    QTest::newRow("the sign itself") << QByteArray("St\xEF\xBF\xBDnder.ifc") << "St\uFFFDnder.ifc";
    QTest::newRow("at the end") << QByteArray("Caf\xE9") << "Caf\uFFFD";
}

void TestBase::filesAreFoundByWhatIsRead()
{
    QFETCH(QByteArray, there);
    QFETCH(QString, read);
    const QTemporaryDir folder;
    const std::filesystem::path root = folder.path().toStdString(), file = root / there.toStdString();
    std::filesystem::create_directories(file.parent_path());
    std::ofstream(file) << "x";
    std::ofstream(root / "other.ifc") << "y";
    QVERIFY(fileNamed((root / read.toStdString()).string()) == file);
    const std::string gone = (root / "not\xEF\xBF\xBDthere.ifc").string();
    QVERIFY(fileNamed(gone).string() == gone);
}

void TestBase::numbersReadBackExactly_data()
{
    QTest::addColumn<double>("number");
    for (const double number : {0.1, 1.0 / 3, 5410977.15, 1e-300, -2.5, 431208.1234567891})
        QTest::addRow("%g", number) << number;
}

void TestBase::numbersReadBackExactly()
{
    QFETCH(double, number);
    QCOMPARE(numberIn(exactNumber(number)).value_or(0), number);
    QVERIFY(plainNumber(0.7000000000000001) == "0.7");
}

void TestBase::progressReportsEachPerCentOnce()
{
    std::vector<int> said;
    Progress progress([&](const std::string&, int percent) { said.push_back(percent); });
    for (int i = 0; i <= 1000; ++i)
        progress.report("x", i / 1000.0);
    QCOMPARE(said.size(), std::size_t{101});
    QVERIFY(!progress.isCancelled());
    progress.cancel();
    QVERIFY(progress.isCancelled());
}

void TestBase::tellsProgressInRealTerms()
{
    std::vector<std::string> told;
    Progress progress(
        [&](const std::string& what, int percent) { told.push_back(what + " " + std::to_string(percent)); });
    progress.report("Building x.ifc", 12'000, 100'000, "elements");
    progress.report("Building x.ifc", 12'001, 100'000, "elements"); // the same per cent is no news
    progress.reportBytes("Reading x.ifc", 82'000'000, 164'000'000);
    progress.reportBytes("Reading y.ifc", 500, 2'000);
    QCOMPARE(told, (std::vector<std::string>{"Building x.ifc: 12\u202F000 of 100\u202F000 elements 12",
                                             "Reading x.ifc: 82 of 164 MB 50", "Reading y.ifc: 0 of 2 kB 0"}));
}

void TestBase::leavesCancelledWork()
{
    std::vector<std::string> told;
    Progress progress([&](const std::string& what, int) { told.push_back(what); });
    int made = 0;
    QVERIFY(runUntilCancelled(progress, [&](Progress& own) {
        own.report("half", 0.5);
        made = 7;
    }));
    QCOMPARE(made, 7);
    QCOMPARE(told, std::vector<std::string>{"half"});
    QVERIFY_THROWS_EXCEPTION(std::runtime_error,
                             runUntilCancelled(progress, [](Progress&) { throw std::runtime_error("no"); }));

    // The work can not end before it is let go, so coming back at all shows that it was not waited for.
    std::promise<void> begun, letGo;
    std::promise<bool> wound;
    auto isWound = wound.get_future();
    std::thread canceller([&] {
        begun.get_future().wait();
        progress.cancel();
    });
    QVERIFY(!runUntilCancelled(progress, [&, gate = letGo.get_future().share()](Progress& own) {
        begun.set_value();
        gate.wait();
        own.report("too late", 1);
        wound.set_value(own.isCancelled());
    }));
    canceller.join();
    letGo.set_value();
    QVERIFY(isWound.get()); // it was told
    QCOMPARE(told, std::vector<std::string>{"half"});

    // Cancelled before, nothing is begun, however little it would be.
    for (int i = 0; i < 100; ++i)
        QVERIFY(!runUntilCancelled(progress, [&](Progress&) { made = 8; }));
    QCOMPARE(made, 7);
}

void TestBase::numbersHaveAPointEverywhere_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<double>("value"); // NaN: it is none
    QTest::addColumn<int>("taken");    // characters of the number that it begins with; 0: none
    // clang-format off
    QTest::newRow("plain") << QByteArray("12.5") << 12.5 << 4;
    QTest::newRow("with a plus") << QByteArray("+0.25") << 0.25 << 5;
    QTest::newRow("negative, large") << QByteArray("-1.5E3") << -1500.0 << 6;
    QTest::newRow("blanks around") << QByteArray(" \n7\t") << 7.0 << 3;
    QTest::newRow("with its unit") << QByteArray("300 mm") << qQNaN() << 3;
    QTest::newRow("a decimal comma") << QByteArray("12,5") << qQNaN() << 2;
    QTest::newRow("two signs") << QByteArray("+-1") << qQNaN() << 0;
    QTest::newRow("nothing") << QByteArray() << qQNaN() << 0;
    QTest::newRow("blanks only") << QByteArray("  ") << qQNaN() << 0;
    QTest::newRow("words") << QByteArray("many") << qQNaN() << 0;
    QTest::newRow("infinite") << QByteArray("inf") << qQNaN() << 0;
    QTest::newRow("no number") << QByteArray("nan") << qQNaN() << 0;
    QTest::newRow("too large") << QByteArray("1e999") << qQNaN() << 0;
    QTest::newRow("a lone plus") << QByteArray("+") << qQNaN() << 0;
    // clang-format on
}

void TestBase::numbersHaveAPointEverywhere()
{
    QFETCH(QByteArray, text);
    QFETCH(double, value);
    QFETCH(int, taken);
    // Where the suite runs with a decimal comma it has one, else it would show nothing.
    QCOMPARE(std::string(std::localeconv()->decimal_point),
             std::string(qgetenv("LC_ALL").startsWith("de_DE") ? "," : "."));
    const auto number = numberIn(text.toStdString());
    QCOMPARE(number.has_value(), !std::isnan(value));
    if (number)
        QCOMPARE(*number, value);
    const auto leading = leadingNumber(text.toStdString());
    QCOMPARE(leading ? static_cast<int>(leading->length) : 0, taken);
    QCOMPARE(exactNumber(12.5), std::string("12.5"));
    QCOMPARE(plainNumber(0.25), std::string("0.25"));
}

QTEST_GUILESS_MAIN(TestBase)
#include "test_base.moc"
