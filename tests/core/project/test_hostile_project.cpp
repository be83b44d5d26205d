#include <QTest>

#include "core/base/file.h"
#include "core/project/issue_making.h"
#include "core/project/receiving.h"
#include "core/project/stored_files.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <fstream>
#include <sys/wait.h>
#include <unistd.h>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::madeProject;
using test::must;
namespace fs = std::filesystem;

/// A project folder that somebody else prepared, or that something happens to while it is open: nothing in it is
/// executed, no file outside is touched, nothing is said to be done that is not kept, and a backup can be put back.
class TestHostileProject : public QObject {
    Q_OBJECT
private slots:
    void init();
    void nothingForeignIsAccepted_data();
    void nothingForeignIsAccepted();
    void aConnectionCanDoNoHarm_data();
    void aConnectionCanDoNoHarm();
    void namesAreHashesOrNothing_data();
    void namesAreHashesOrNothing();
    void aPictureElsewhereReachesNobody();
    void emptyIsDamagedNotNew_data();
    void emptyIsDamagedNotNew();
    void whatIsLostIsSaid_data();
    void whatIsLostIsSaid();
    void damageIsSaidInWords();
    void aLockedProjectIsSaidToBe();
    void aReadOnlyFolderIsSaidToBe();
    void filesWhoseNamesAreNoUtf8();
    void backupsAreKeptAndPutBack();
    void onlyABackupThatOpensIsPutBack();
    void ownFilesAreNeverOverwritten();

private:
    [[nodiscard]] std::string bytesOf(const fs::path& file) { return readFileWhole(file).value_or("not there"); }
    std::unique_ptr<QTemporaryDir> scratch_;
    fs::path root_, folder_, database_;
};

void TestHostileProject::init()
{
    scratch_ = std::make_unique<QTemporaryDir>();
    root_ = scratch_->path().toStdString();
    folder_ = root_ / "p";
    database_ = folder_ / "project.sqlite";
    (void)madeProject(folder_, {"Architecture", "Structure"});
}

void TestHostileProject::nothingForeignIsAccepted_data()
{
    QTest::addColumn<QString>("sql");
    QTest::addColumn<QString>("named");
    // clang-format off
    QTest::newRow("a trigger") << "CREATE TRIGGER t AFTER INSERT ON events BEGIN DELETE FROM disciplines; END" << "trigger t";
    QTest::newRow("a view") << "CREATE VIEW v AS SELECT 1" << "view v";
    QTest::newRow("another table") << "CREATE TABLE more (x)" << "table more";
    QTest::newRow("another index") << "CREATE INDEX i ON events(time)" << "index i";
    QTest::newRow("a full-text table") << "CREATE VIRTUAL TABLE words USING fts5(x)" << "table words";
    QTest::newRow("a column that computes") << "ALTER TABLE events ADD COLUMN x GENERATED ALWAYS AS (time || person)" << "another table events";
    QTest::newRow("one of ours missing") << "DROP TABLE holds" << "lacks the table holds";
    QTest::newRow("a view in a table's place") << "DROP TABLE holds; CREATE VIEW holds AS SELECT 1" << "view holds";
    QTest::newRow("a name to be read as SQL") << "CREATE TABLE \"x'; DROP TABLE events; --\" (x)" << "DROP TABLE events; --";
    // clang-format on
}

void TestHostileProject::nothingForeignIsAccepted()
{
    QFETCH(QString, sql);
    QFETCH(QString, named);
    {
        SQLite::Database db(database_.string(), SQLite::OPEN_READWRITE);
        db.exec(sql.toStdString());
    }
    const std::string before = bytesOf(database_);
    for (const auto access : {Project::Access::Write, Project::Access::Read}) {
        const auto refused = Project::open(folder_, access);
        QVERIFY(!refused && (refused.error().code == kForeignSchema || refused.error().code == kDamaged));
        QVERIFY2(QString::fromStdString(refused.error().message).contains(named), refused.error().message.c_str());
    }
    QCOMPARE(bytesOf(database_), before);
}

void TestHostileProject::aConnectionCanDoNoHarm_data()
{
    QTest::addColumn<QString>("sql");
    for (const char* sql : {"ATTACH DATABASE '%1/other.sqlite' AS other", "PRAGMA writable_schema=1",
                            "PRAGMA temp_store_directory='/tmp'", "SELECT load_extension('%1/x.so')",
                            "CREATE TRIGGER t AFTER INSERT ON events BEGIN SELECT 1; END", "CREATE VIEW v AS SELECT 1",
                            "CREATE VIRTUAL TABLE f USING fts5(x)", "VACUUM INTO '%1/copy.sqlite'",
                            "UPDATE sqlite_schema SET sql='' WHERE name='events'"})
        QTest::addRow("%s", sql) << QString(sql);
}

void TestHostileProject::aConnectionCanDoNoHarm()
{
    QFETCH(QString, sql);
    const auto opened = Project::open(folder_).value();
    const std::string text = sql.contains("%1") ? sql.arg(scratch_->path()).toStdString() : sql.toStdString();
    const auto done = opened->store().read([&](SQLite::Database& db) {
        db.exec(text);
        return 0;
    });
    const auto schema =
        opened->store().read([](SQLite::Database& db) { return db.execAndGet("PRAGMA writable_schema").getInt(); });
    QVERIFY(!done && !schema);
    QVERIFY(!fs::exists(root_ / "other.sqlite") && !fs::exists(root_ / "copy.sqlite"));
    QVERIFY(Project::open(folder_).has_value());
}

void TestHostileProject::namesAreHashesOrNothing_data()
{
    QTest::addColumn<QString>("name");
    QTest::addColumn<bool>("isHash");
    QTest::addColumn<bool>("isPicture");
    const QString hash(64, 'a');
    // clang-format off
    QTest::newRow("a hash") << hash << true << false;
    QTest::newRow("a picture by its hash") << hash + ".png" << false << true;
    QTest::newRow("a view's picture") << "view-0b1c-2.png" << false << true;
    QTest::newRow("up and away") << "../../secret.png" << false << false;
    QTest::newRow("a path from the root") << "/etc/passwd" << false << false;
    QTest::newRow("a folder within") << "a/b.png" << false << false;
    QTest::newRow("a hash in capitals") << QString(64, 'A') << false << false;
    QTest::newRow("a hash and more") << hash + "/../x" << false << false;
    QTest::newRow("too short") << QString(63, 'a') << false << false;
    QTest::newRow("no name") << "" << false << false;
    QTest::newRow("hidden") << ".png" << false << false;
    QTest::newRow("another ending") << "x.sh" << false << false;
    QTest::newRow("a null byte") << QString("a") + QChar(0) + ".png" << false << false;
    QTest::newRow("endless") << QString(500, 'a') + ".png" << false << false;
    // clang-format on
}

void TestHostileProject::namesAreHashesOrNothing()
{
    QFETCH(QString, name);
    const std::string text = name.toStdString();
    QTEST(isHash(text), "isHash");
    QTEST(!pictureFile(folder_, text).empty(), "isPicture");
    QCOMPARE(deliveryFile(folder_, text, ".ifc").empty(), !isHash(text));
    QVERIFY(deliveryFile(folder_, std::string(64, 'a'), "." + text).empty() || name.isEmpty());
    ModelFile model;
    model.sha256 = text;
    const auto opened = Project::open(folder_).value();
    const fs::path file = opened->deliveries().fileOf(model);
    QVERIFY(file.empty() || file.parent_path() == folder_ / "deliveries");
}

void TestHostileProject::aPictureElsewhereReachesNobody()
{
    std::ofstream(root_ / "secret.png") << "SECRET";
    fs::create_symlink(root_ / "secret.png", folder_ / "pictures" / "link.png");
    issues::Issue issue;
    issue.uuid = "12345678-1234-1234-1234-123456789012";
    issue.title = "Lower the duct";
    issue.viewpoints.resize(1);
    issue.viewpoints[0].uuid = "12345678-1234-1234-1234-123456789013";
    issue.viewpoints[0].snapshot = "PNG";
    {
        const auto made = Project::open(folder_).value();
        QVERIFY(makeIssue(*made, issue, {}, kInes).has_value());
        QCOMPARE(must(made->issues().find(issue.uuid, true))->viewpoints[0].snapshot, std::string("PNG"));
    }
    // A delivery that is a link is none.
    const std::string hash(64, 'b');
    fs::create_symlink(root_ / "secret.png", folder_ / "deliveries" / (hash + ".ifc"));
    QVERIFY(deliveryFile(folder_, hash, ".ifc").empty());
    QVERIFY(!deliveryFile(folder_, std::string(64, 'c'), ".ifc").empty());
    for (const char* name : {"../../secret.png", "link.png"}) {
        {
            SQLite::Database db(database_.string(), SQLite::OPEN_READWRITE);
            db.exec(std::string("UPDATE viewpoints SET picture='") + name + "'");
        }
        const auto opened = Project::open(folder_).value();
        QCOMPARE(must(opened->issues().find(issue.uuid, true))->viewpoints[0].snapshot, std::string());
    }
}

void TestHostileProject::emptyIsDamagedNotNew_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::newRow("nothing") << QByteArray();
    QTest::newRow("one byte") << QByteArray("S");
    QTest::newRow("one zero") << QByteArray(1, '\0');
    QTest::newRow("something else") << QByteArray("ISO-10303-21;").repeated(1000);
    QTest::newRow("its first page only") << QByteArray("first page");
}

void TestHostileProject::emptyIsDamagedNotNew()
{
    QFETCH(QByteArray, bytes);
    const std::string whole = bytesOf(database_);
    const std::string now = bytes == "first page" ? whole.substr(0, 4096) : bytes.toStdString();
    for (const char* beside : {"-wal", "-shm"})
        fs::remove(fs::path(database_).concat(beside));
    std::ofstream(database_, std::ios::trunc | std::ios::binary) << now;
    for (const auto access : {Project::Access::Write, Project::Access::Read}) {
        const auto refused = Project::open(folder_, access);
        QVERIFY(!refused);
        QVERIFY2(refused.error().code == kDamaged || refused.error().code == kStoreFailed,
                 refused.error().message.c_str());
    }
    QCOMPARE(bytesOf(database_), now);
}

void TestHostileProject::whatIsLostIsSaid_data()
{
    QTest::addColumn<QString>("what");
    QTest::addColumn<QString>("words");
    QTest::addColumn<bool>("isKept"); // all of it, also what was decided since it was opened
    QTest::newRow("removed") << "removed"
                             << "is no longer there" << true;
    QTest::newRow("replaced") << "replaced"
                              << "was replaced by another one" << true;
    QTest::newRow("emptied") << "emptied"
                             << "was emptied" << false;
    QTest::newRow("cut short") << "cut short"
                               << "was cut short" << false;
}

void TestHostileProject::whatIsLostIsSaid()
{
    QFETCH(QString, what);
    QFETCH(QString, words);
    QFETCH(bool, isKept);
    auto project = Project::open(folder_).value();
    (void)must(project->store().backUp("opened"));
    QVERIFY(project->setup().setFederation({"Vaults", {{"Structure", false}}, false}, kInes).has_value());
    if (what == "removed") {
        for (const char* ending : {"", "-wal", "-shm"})
            fs::remove(fs::path(database_).concat(ending));
    } else if (what == "replaced") {
        std::ofstream(root_ / "other") << "another file altogether";
        fs::rename(root_ / "other", database_);
    } else {
        fs::resize_file(database_, what == "emptied" ? 0 : 5000);
    }
    const std::string left = bytesOf(database_);
    const auto command = [&] {
        return project->setup().setFederation({"Plant", {{"Structure", false}}, false}, kInes);
    };
    const auto refused = command();
    QVERIFY(!refused && refused.error().code == kLost);
    QVERIFY2(QString::fromStdString(refused.error().message).contains(words), refused.error().message.c_str());
    // Nothing is written from then on, to whatever stands there now.
    QVERIFY(!command() && !project->undo(kInes));
    QCOMPARE(bytesOf(database_), left);
    project.reset();
    QCOMPARE(bytesOf(database_), left);
    // What was decided is in a backup, or it is said that it is not.
    const auto backups = backupsOf(folder_);
    const bool isAny = std::any_of(backups.begin(), backups.end(), [](const Backup& b) { return b.reason == "kept"; });
    QVERIFY(isAny || QString::fromStdString(refused.error().message).contains("kept step by step"));
    QVERIFY(isAny || !isKept);
    for (const Backup& backup : backups)
        if (backup.reason == "kept" || !isAny) {
            const auto done = putBack(folder_, backup);
            QVERIFY2(done.has_value(), done ? "" : done.error().message.c_str());
            const auto again = Project::open(folder_).value();
            const auto federations = must(again->setup().federations());
            const auto has = [&](const char* name) {
                return std::any_of(federations.begin(), federations.end(),
                                   [&](const auto& f) { return f.name == name; });
            };
            QCOMPARE(has("Vaults"), isAny);
            QVERIFY(!has("Plant"));
            // What the backup lacks stands in the file of steps.
            const auto missing = must(again->missingSteps());
            QCOMPARE(missing.size(), std::size_t{isAny ? 0u : 1u});
            QVERIFY(must(again->bringIn(missing, kInes)).leftOut.empty());
            const auto now = must(again->setup().federations());
            QVERIFY(std::any_of(now.begin(), now.end(), [](const auto& f) { return f.name == "Vaults"; }));
            break;
        }
}

void TestHostileProject::damageIsSaidInWords()
{
    // Whatever page is overwritten: it is refused or answered in our words, and nothing aborts.
    {
        const auto project = Project::open(folder_).value();
        for (int i = 0; i < 200; ++i)
            QVERIFY(project->setup()
                        .setFederation({"F" + std::to_string(i), {{"Structure", false}}, false}, kInes)
                        .has_value());
    }
    const std::string whole = bytesOf(database_);
    int refused = 0;
    for (std::size_t page = 0; page < whole.size() / 4096; ++page) {
        std::string damaged = whole;
        for (std::size_t i = 0; i < 4096; ++i)
            damaged[4096 * page + i] = static_cast<char>(0x5A + (i % 7));
        std::ofstream(database_, std::ios::trunc | std::ios::binary) << damaged;
        std::vector<Error> errors;
        if (auto opened = Project::open(folder_); !opened) {
            errors.push_back(opened.error());
        } else {
            Project& project = **opened;
            project.store().setListener([&](const Error& error) { errors.push_back(error); });
            (void)project.setup().federations();
            (void)project.setup().disciplines();
            (void)project.deliveries().all();
            (void)project.log().last(1000);
            if (auto done = project.setup().setFederation({"Plant", {{"Structure", false}}, false}, kInes); !done)
                errors.push_back(done.error());
            (void)project.undo(kInes);
        }
        refused += errors.empty() ? 0 : 1;
        for (const Error& error : errors)
            QVERIFY2(error.message.find("malformed") == std::string::npos, error.message.c_str());
        for (const char* beside : {"-wal", "-shm"})
            fs::remove(fs::path(database_).concat(beside));
    }
    QVERIFY2(refused > 5, std::to_string(refused).c_str());
}

void TestHostileProject::aLockedProjectIsSaidToBe()
{
    {
        SQLite::Database other(database_.string(), SQLite::OPEN_READWRITE);
        other.exec("PRAGMA locking_mode=EXCLUSIVE; BEGIN EXCLUSIVE; CREATE TABLE IF NOT EXISTS x(y); COMMIT;");
        other.exec("DROP TABLE x");
        // Who opens it while somebody holds it alone is told so.
        const auto again = Project::open(folder_, Project::Access::Read);
        QVERIFY(!again.has_value());
        QVERIFY2(QString::fromStdString(again.error().message).contains("Another program holds the project"),
                 again.error().message.c_str());
    }
    QVERIFY(Project::open(folder_, Project::Access::Read).has_value());
}

void TestHostileProject::aReadOnlyFolderIsSaidToBe()
{
    // Of somebody else, who lets others only look. Root may write everywhere, so it is tried as nobody.
    fs::permissions(root_, fs::perms(0755));
    for (const auto& entry : fs::recursive_directory_iterator(root_))
        fs::permissions(entry.path(), entry.is_directory() ? fs::perms(0555) : fs::perms(0444));
    fs::permissions(folder_, fs::perms(0555));
    int said[2];
    QCOMPARE(::pipe(said), 0);
    const pid_t child = ::fork();
    if (child == 0) {
        if (::geteuid() == 0 && (::setgid(65534) != 0 || ::setuid(65534) != 0))
            ::_exit(9);
        std::string words;
        for (const auto access : {Project::Access::Write, Project::Access::Read}) {
            auto opened = Project::open(folder_, access);
            if (!opened)
                words += opened.error().message + "\n";
            else if (auto done = (*opened)->setup().setMemberGroup({"G", {"Structure"}}, kInes); !done)
                words += done.error().message + "\n";
            else
                words += "written\n";
        }
        (void)!::write(said[1], words.data(), words.size());
        ::_exit(0);
    }
    ::close(said[1]);
    std::string words;
    char part[4096];
    for (ssize_t n = 0; (n = ::read(said[0], part, sizeof part)) > 0;)
        words.append(part, static_cast<std::size_t>(n));
    ::close(said[0]);
    int status = 0;
    ::waitpid(child, &status, 0);
    fs::permissions(folder_, fs::perms(0755));
    QVERIFY2(WIFEXITED(status) && WEXITSTATUS(status) == 0, words.c_str());
    const QStringList both = QString::fromStdString(words).split('\n', Qt::SkipEmptyParts);
    QCOMPARE(both.size(), 2);
    for (const QString& one : both)
        QVERIFY2(one.contains("can not be written to") && one.contains("copy the folder"), qPrintable(one));
    QVERIFY(Project::open(folder_).has_value());
}

void TestHostileProject::filesWhoseNamesAreNoUtf8()
{
    const fs::path sent = root_ / "St\xE4nder-P02.ifc", document = root_ / "Pl\xE4ne.pdf";
    std::ofstream(sent)
        << "ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4'));ENDSEC;DATA;#1=IFCPROJECT('0000000000000000000001',$,"
           "$,$,$,$,$,$,$);ENDSEC;END-ISO-10303-21;";
    std::ofstream(document) << "%PDF-1.4";
    const auto project = must(Project::open(folder_));
    NewDelivery d;
    d.discipline = "Structure";
    d.revision = "P02";
    d.models = {{sent, {}, {}, 0}};
    d.documents = {document};
    Progress progress;
    const auto id = receiveDelivery(
        folder_, d, [&](const NewDelivery& x) { return project->deliveries().add(x, kInes); }, progress);
    QVERIFY2(id.has_value(), id ? "" : id.error().message.c_str());
    const Delivery kept = must(project->deliveries().get(*id));
    QCOMPARE(kept.fileName, std::string("Ständer-P02.ifc"));
    QVERIFY(project->undo(kInes).has_value()); // which is kept as JSON
    QVERIFY(project->redo(kInes).has_value());
    QCOMPARE(must(project->deliveries().get(*id)).fileName, std::string("Ständer-P02.ifc"));
}

void TestHostileProject::backupsAreKeptAndPutBack()
{
    {
        const auto project = Project::open(folder_).value();
        for (int i = 0; i < 7; ++i) {
            QVERIFY(project->setup()
                        .setFederation({"F" + std::to_string(i), {{"Structure", false}}, false}, kInes)
                        .has_value());
            const auto backup = project->store().backUp("opened");
            QVERIFY2(backup.has_value(), backup ? "" : backup.error().message.c_str());
            QVERIFY(backup->bytes > 4096 && backup->reason == "opened");
        }
        std::ofstream(folder_ / "backups" / "mine.txt") << "of the person's";
    }
    auto backups = backupsOf(folder_);
    QCOMPARE(backups.size(), kMostBackups);
    QVERIFY(fs::exists(folder_ / "backups" / "mine.txt"));
    QVERIFY(putBack(folder_, backups.back()).has_value()); // the oldest: F0 to F2
    {
        const auto project = Project::open(folder_).value();
        QCOMPARE(must(project->setup().federations()).size(), std::size_t{4}); // and the whole building
    }
    // What stood there before is a backup too.
    backups = backupsOf(folder_);
    const auto replaced =
        std::find_if(backups.begin(), backups.end(), [](const Backup& b) { return b.reason == "replaced"; });
    QVERIFY(replaced != backups.end());
    QVERIFY(putBack(folder_, *replaced).has_value());
    QCOMPARE(must(Project::open(folder_).value()->setup().federations()).size(), std::size_t{8});
}

void TestHostileProject::onlyABackupThatOpensIsPutBack()
{
    {
        (void)must(Project::open(folder_).value()->store().backUp("opened"));
    }
    Backup backup = backupsOf(folder_)[0];
    const std::string before = bytesOf(database_);
    fs::resize_file(backup.file, 700);
    auto refused = putBack(folder_, backup);
    QVERIFY(!refused && refused.error().code == kNoBackup);
    backup.file = folder_ / "backups" / "not there.sqlite";
    refused = putBack(folder_, backup);
    QVERIFY(!refused && refused.error().code == kNoBackup);
    QCOMPARE(bytesOf(database_), before);
    for (const auto& entry : fs::directory_iterator(folder_))
        QVERIFY2(!entry.path().filename().string().ends_with(".part"), entry.path().c_str());
}

void TestHostileProject::ownFilesAreNeverOverwritten()
{
    // A person's own file or folder of the name that was used for what is half written.
    const fs::path target = root_ / "report.csv";
    std::ofstream(root_ / "report.csv.part") << "mine";
    QVERIFY(writeFileWhole(target, "a,b").has_value());
    QCOMPARE(bytesOf(target), std::string("a,b"));
    QCOMPARE(bytesOf(root_ / "report.csv.part"), std::string("mine"));
    // Links, folders and devices stay what they are.
    std::ofstream(root_ / "original") << "kept";
    fs::create_symlink(root_ / "original", root_ / "link");
    fs::create_directory(root_ / "folder");
    for (const fs::path& other : {root_ / "link", root_ / "folder", fs::path("/dev/null")})
        QVERIFY(!writeFileWhole(other, "x"));
    QVERIFY(fs::is_symlink(root_ / "link") && fs::is_directory(root_ / "folder") && !fs::is_regular_file("/dev/null"));
    QCOMPARE(bytesOf(root_ / "original"), std::string("kept"));
    // Nothing half written is left behind.
    QVERIFY(!writeFileWhole(root_ / "nowhere" / "x", "x"));
    for (const auto& entry : fs::directory_iterator(root_))
        QVERIFY2(!entry.path().filename().string().starts_with(".wendrix"), entry.path().c_str());
}

QTEST_APPLESS_MAIN(TestHostileProject)
#include "test_hostile_project.moc"
