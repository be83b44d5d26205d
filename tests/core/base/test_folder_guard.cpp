#include <QTest>

#include "core/base/file.h"
#include "core/base/folder_guard.h"
#include "core/base/hash.h"
#include "core/base/hashed_copy.h"
#include "core/base/temporary.h"

#include <QTemporaryDir>

#include <fcntl.h>

#include <fstream>

using namespace wendrix;
namespace fs = std::filesystem;

/// Beneath a guarded folder nothing reaches out of it, by whatever way it was prepared; elsewhere the calls do what the
/// system's do.
class TestFolderGuard : public QObject {
    Q_OBJECT
private slots:
    void init();
    void nothingReachesOut_data();
    void nothingReachesOut();
    void staysGuarded();
    void theFolderItselfMayBeReachedByALink();

private:
    std::unique_ptr<QTemporaryDir> scratch_;
    fs::path root_, folder_, outside_;
};

void TestFolderGuard::init()
{
    scratch_ = std::make_unique<QTemporaryDir>();
    root_ = scratch_->path().toStdString();
    folder_ = root_ / "p";
    outside_ = root_ / "outside";
    fs::create_directories(folder_ / "in" / "deep");
    fs::create_directories(outside_);
    QVERIFY(writeFileWhole(outside_ / "secret", "SECRET").has_value());
    QVERIFY(writeFileWhole(folder_ / "in" / "own", "own").has_value());
}

void TestFolderGuard::nothingReachesOut_data()
{
    QTest::addColumn<bool>("isGuarded");
    QTest::addColumn<QString>("path"); ///< of a file that leads to the secret where nobody guards
    for (const bool isGuarded : {false, true})
        for (const char* path : {"in/link", "in/hard", "way/secret", "in/deep/up/secret", "in/absolute"})
            QTest::addRow("%s, %s", path, isGuarded ? "guarded" : "not") << isGuarded << QString(path);
}

void TestFolderGuard::nothingReachesOut()
{
    QFETCH(bool, isGuarded);
    QFETCH(QString, path);
    fs::create_symlink("../../outside/secret", folder_ / "in" / "link");
    fs::create_hard_link(outside_ / "secret", folder_ / "in" / "hard");
    fs::create_symlink("../outside", folder_ / "way");
    fs::create_symlink("../../../outside", folder_ / "in" / "deep" / "up");
    fs::create_symlink(outside_ / "secret", folder_ / "in" / "absolute");
    const auto guard = isGuarded ? FolderGuard::of(folder_) : nullptr;
    const fs::path file = folder_ / path.toStdString(), beside = file.parent_path();
    QCOMPARE(readFileWhole(file).has_value(), !isGuarded);
    QCOMPARE(MappedFile::open(file).has_value(), !isGuarded);
    QCOMPARE(sha256OfFile(file).has_value(), !isGuarded);
    QCOMPARE(openFile(file, O_WRONLY | O_APPEND).isOpen(), !isGuarded);
    const bool isElsewhere = fs::canonical(beside).string().starts_with(outside_.string());
    if (isGuarded) {
        // Nor is anything made, emptied, renamed, removed or listed there.
        QVERIFY(!openFile(file, O_WRONLY | O_TRUNC).isOpen());
        QCOMPARE(Temporary::fileBeside(beside / "x").has_value(), !isElsewhere);
        QCOMPARE(writeFileWhole(beside / "new", "x").has_value(), !isElsewhere);
        QCOMPARE(makeFolder(beside / "folder"), !isElsewhere);
        QCOMPARE(namesIn(beside).empty(), isElsewhere);
        QCOMPARE(statusOf(file).has_value(), !isElsewhere); // of the link itself
        QVERIFY(!isPlainFile(file));
        Progress progress;
        HashedCopies copies(beside);
        QCOMPARE(copies.add(folder_ / "in" / "own", ".x", progress).has_value(), !isElsewhere);
        removeLeftOvers(beside);
        removeFolder(beside / "folder");
        QCOMPARE(removeFile(file), !isElsewhere); // what goes is the link or the second name
        QVERIFY(isElsewhere || !fs::exists(fs::symlink_status(file)));
    }
    std::ifstream secret(outside_ / "secret");
    const std::string left{std::istreambuf_iterator<char>(secret), {}};
    QCOMPARE(left, std::string("SECRET"));
    QCOMPARE(std::distance(fs::directory_iterator(outside_), fs::directory_iterator()), std::ptrdiff_t{1});
    // What is its own is reached as ever.
    QCOMPARE(readFileWhole(folder_ / "in" / "deep" / ".." / "own").value(), std::string("own"));
    QVERIFY(!readFileWhole(folder_ / "none"));
}

void TestFolderGuard::staysGuarded()
{
    fs::create_symlink("../outside/secret", folder_ / "link");
    {
        const auto guard = FolderGuard::of(folder_);
        QVERIFY(!readFileWhole(folder_ / "link"));
    }
    QVERIFY(!readFileWhole(folder_ / "link")); // what works on it still may not be done
    fs::current_path(root_);
    QVERIFY(!readFileWhole(fs::path("p") / "link") && readFileWhole(fs::path("p/in/own")));
    // Another folder in its place is guarded as well, and is the one that is reached.
    fs::rename(folder_, root_ / "gone");
    fs::create_directories(folder_ / "in");
    const auto guard = FolderGuard::of(folder_);
    QVERIFY(!readFileWhole(folder_ / "in" / "own"));
    QVERIFY(writeFileWhole(folder_ / "in" / "other", "x").has_value() && fs::exists(folder_ / "in" / "other"));
    fs::current_path("/");
}

void TestFolderGuard::theFolderItselfMayBeReachedByALink()
{
    fs::create_directory_symlink(folder_, root_ / "named");
    fs::create_symlink("../outside/secret", folder_ / "link");
    const auto guard = FolderGuard::of(root_ / "named");
    QCOMPARE(readFileWhole(root_ / "named" / "in" / "own").value(), std::string("own"));
    for (const fs::path& way : {root_ / "named", folder_}) // SQLite opens by the place that a link leads to
        QVERIFY(!readFileWhole(way / "link"));
}

QTEST_GUILESS_MAIN(TestFolderGuard)
#include "test_folder_guard.moc"
