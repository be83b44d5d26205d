#include <QTest>

#include "core/base/file.h"
#include "core/project/whole_check.h"
#include "support/made_project.h"
#include "support/must.h"
#include "support/random_commands.h"
#include "support/read_everything.h"

#include <QTemporaryDir>

#include <fstream>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::must;
namespace fs = std::filesystem;

/// Whatever is damaged in a database: every question is answered, or refused in our words, and nothing aborts.
class TestDamagedDatabase : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void theHead_data();
    void theHead();
    void cutShort_data();
    void cutShort();
    void pages_data();
    void pages();
    void otherValues_data();
    void otherValues();
    void whatLiesBeside_data();
    void whatLiesBeside();

private:
    /// The project with this database, asked everything. @return how many questions were refused; -1: opening was
    int askAll(const std::string& database, const std::map<std::string, std::string>& beside = {});

    std::unique_ptr<QTemporaryDir> root_;
    fs::path folder_;
    std::string sound_;
    std::vector<std::string> tables_;
    std::map<std::string, std::size_t> rootPages_;
    std::size_t pageSize_ = 4096;
};

void TestDamagedDatabase::initTestCase()
{
    root_ = std::make_unique<QTemporaryDir>();
    folder_ = (root_->path() + "/p").toStdString();
    {
        const auto project = test::projectForCommands(folder_);
        std::mt19937 random(14);
        for (int i = 0; i < 40; ++i)
            (void)test::randomCommand(*project, random, kInes);
        QVERIFY(project->setup().setPersonGroup({"Coordination", {"Ines Varga"}}, kInes).has_value());
        QVERIFY(project->setup().setFederation({"Vaults", {{"Structure", false}}, false}, kInes).has_value());
        (void)must(project->store().read([&](SQLite::Database& db) {
            for (const TableShape& table : project->store().tables()) {
                tables_.push_back(table.name);
                SQLite::Statement q(db, "SELECT rootpage FROM sqlite_schema WHERE name=?");
                q.bind(1, table.name);
                (void)q.executeStep();
                rootPages_[table.name] = static_cast<std::size_t>(q.getColumn(0).getInt64()) - 1;
            }
            for (const char* own : {"events", "steps", "counters"})
                tables_.emplace_back(own);
            pageSize_ = static_cast<std::size_t>(db.execAndGet("PRAGMA page_size").getInt64());
            return true;
        }));
    }
    sound_ = must(readFileWhole(folder_ / "project.sqlite"));
    QCOMPARE(askAll(sound_), 0);
}

int TestDamagedDatabase::askAll(const std::string& database, const std::map<std::string, std::string>& beside)
{
    const fs::path file = folder_ / "project.sqlite";
    for (const char* ending : {"", "-wal", "-shm"})
        fs::remove(fs::path(file).concat(ending));
    std::ofstream(file, std::ios::binary) << database;
    for (const auto& [ending, bytes] : beside)
        std::ofstream(fs::path(file).concat(ending), std::ios::binary) << bytes;
    Progress progress;
    (void)checkWhole(folder_, progress);
    auto opened = Project::open(folder_);
    int refused = opened ? 0 : -1;
    const auto look = [&](const Error& error) {
        // Ours: with what to do, and not what SQLite calls it.
        const QString words = QString::fromStdString(error.message);
        for (const char* theirs : {"malformed", "SQL logic", "constraint", "SQLITE_", "std::"})
            if (words.contains(theirs, Qt::CaseInsensitive))
                QTest::qFail(qPrintable("said in SQLite's words: " + words), __FILE__, __LINE__);
        if (words.size() < 10)
            QTest::qFail("said without words", __FILE__, __LINE__);
    };
    if (!opened) {
        look(opened.error());
        return refused;
    }
    test::readEverything(**opened, kInes, [&](const auto& answer) {
        if (answer)
            return;
        ++refused;
        look(answer.error());
    });
    return refused;
}

void TestDamagedDatabase::theHead_data()
{
    QTest::addColumn<int>("at");
    QTest::addColumn<int>("bytes");
    QTest::addColumn<int>("value");
    // The Database File Format, 1.3: offset and length of each field.
    const std::tuple<const char*, int, int> fields[] = {{"magic", 0, 16},
                                                        {"page size", 16, 2},
                                                        {"write version", 18, 1},
                                                        {"read version", 19, 1},
                                                        {"reserved space", 20, 1},
                                                        {"most of a payload", 21, 1},
                                                        {"least of a payload", 22, 1},
                                                        {"leaf payload", 23, 1},
                                                        {"change counter", 24, 4},
                                                        {"size in pages", 28, 4},
                                                        {"first free page", 32, 4},
                                                        {"free pages", 36, 4},
                                                        {"schema cookie", 40, 4},
                                                        {"schema format", 44, 4},
                                                        {"cache size", 48, 4},
                                                        {"largest root page", 52, 4},
                                                        {"encoding", 56, 4},
                                                        {"version", 60, 4},
                                                        {"incremental vacuum", 64, 4},
                                                        {"application", 68, 4},
                                                        {"version valid for", 92, 4},
                                                        {"library version", 96, 4}};
    for (const auto& [name, at, bytes] : fields)
        for (const int value : {0x00, 0x02, 0x7F, 0xFF})
            QTest::addRow("%s %02X", name, value) << at << bytes << value;
}

void TestDamagedDatabase::theHead()
{
    QFETCH(int, at);
    QFETCH(int, bytes);
    QFETCH(int, value);
    std::string damaged = sound_;
    damaged.replace(static_cast<std::size_t>(at), static_cast<std::size_t>(bytes),
                    std::string(static_cast<std::size_t>(bytes), static_cast<char>(value)));
    (void)askAll(damaged);
}

void TestDamagedDatabase::cutShort_data()
{
    QTest::addColumn<int>("twentieths");
    for (int i = 0; i < 20; ++i)
        QTest::addRow("%d", i) << i;
}

void TestDamagedDatabase::cutShort()
{
    QFETCH(int, twentieths);
    QVERIFY(askAll(sound_.substr(0, sound_.size() * static_cast<std::size_t>(twentieths) / 20)) != 0);
}

void TestDamagedDatabase::pages_data()
{
    QTest::addColumn<QString>("table");
    QTest::addColumn<QString>("how");
    for (const auto& [table, page] : rootPages_)
        for (const char* how : {"zeros", "another kind", "many cells", "cells outside", "lengths", "the schema's page"})
            QTest::addRow("%s, %s", table.c_str(), how) << QString::fromStdString(table) << how;
}

void TestDamagedDatabase::pages()
{
    QFETCH(QString, table);
    QFETCH(QString, how);
    std::string damaged = sound_;
    const std::size_t at = rootPages_.at(table.toStdString()) * pageSize_;
    const auto set = [&](std::size_t from, std::size_t to, int value) {
        damaged.replace(at + from, to - from, std::string(to - from, static_cast<char>(value)));
    };
    if (how == "zeros")
        set(0, pageSize_, 0);
    else if (how == "another kind")
        set(0, 1, damaged[at] == 0x0D ? 0x05 : 0x0A);
    else if (how == "many cells")
        set(3, 5, 0xFF);
    else if (how == "cells outside")
        set(8, 60, 0xF0);
    else if (how == "lengths")
        set(pageSize_ / 2, pageSize_, 0xFF);
    else
        damaged.replace(at, pageSize_, damaged.substr(0, pageSize_));
    (void)askAll(damaged);
}

void TestDamagedDatabase::otherValues_data()
{
    QTest::addColumn<QString>("table");
    QTest::addColumn<QString>("value");
    for (const std::string& table : tables_)
        for (const char* value : {"NULL", "-9223372036854775808", "9223372036854775807", "1e999", "-0.5", "''",
                                  "x'00FF'", "CAST(x'C328FF00' AS TEXT)", "printf('%.*c', 20000, 'x')",
                                  "'2026-99-99T99:99:99Z'", "'[[[[{'", "'../../x'"})
            QTest::addRow("%s, %s", table.c_str(), value) << QString::fromStdString(table) << value;
}

void TestDamagedDatabase::otherValues()
{
    QFETCH(QString, table);
    QFETCH(QString, value);
    // Values that no command of ours writes, in each column that takes them.
    const fs::path made = fs::path(root_->path().toStdString()) / "made.sqlite";
    std::ofstream(made, std::ios::binary | std::ios::trunc) << sound_;
    {
        SQLite::Database db(made.string(), SQLite::OPEN_READWRITE);
        db.exec("PRAGMA journal_mode=DELETE");
        std::vector<std::string> columns;
        SQLite::Statement q(db, "PRAGMA table_info(" + table.toStdString() + ")");
        while (q.executeStep())
            columns.push_back(q.getColumn(1).getString());
        for (const std::string& column : columns)
            (void)db.tryExec("UPDATE OR IGNORE " + table.toStdString() + " SET " + column + "=" + value.toStdString());
    }
    (void)askAll(must(readFileWhole(made)));
}

void TestDamagedDatabase::whatLiesBeside_data()
{
    QTest::addColumn<QByteArray>("log");
    QTest::addColumn<QByteArray>("index");
    QTest::newRow("zeros") << QByteArray(100'000, '\0') << QByteArray(32'768, '\0');
    QTest::newRow("ones") << QByteArray(100'000, '\xFF') << QByteArray(32'768, '\xFF');
    QTest::newRow("a head alone") << QByteArray::fromHex("377f0682002de21800001000") << QByteArray();
    QTest::newRow("text") << QByteArray("not a log") << QByteArray("not an index");
    QTest::newRow("an index alone") << QByteArray() << QByteArray(32'768, 'x');
}

void TestDamagedDatabase::whatLiesBeside()
{
    QFETCH(QByteArray, log);
    QFETCH(QByteArray, index);
    // What SQLite can not use it passes over.
    QCOMPARE(askAll(sound_, {{"-wal", log.toStdString()}, {"-shm", index.toStdString()}}), 0);
}

QTEST_APPLESS_MAIN(TestDamagedDatabase)
#include "test_damaged_database.moc"
