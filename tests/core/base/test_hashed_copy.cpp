#include <QTest>

#include "core/base/file.h"
#include "core/base/hash.h"
#include "core/base/hashed_copy.h"

#include <QTemporaryDir>

#include <filesystem>
#include <fstream>

#include <sys/stat.h>

using namespace wendrix;

namespace fs = std::filesystem;

/// Copies under their hashes: whole or not at all, and gone again unless they are kept.
class TestHashedCopy : public QObject {
    Q_OBJECT
private slots:
    void init();
    void namesACopyAfterItsContent();
    void leavesNothingUnlessKept();
    void refuses_data();
    void refuses();
    void isCancelled();
    void hashesInPieces();

private:
    [[nodiscard]] fs::path path(const char* name) const { return fs::path(folder_->path().toStdString()) / name; }
    [[nodiscard]] std::size_t kept() const
    {
        return static_cast<std::size_t>(std::distance(fs::directory_iterator(path("kept")), {}));
    }
    std::unique_ptr<QTemporaryDir> folder_;
    Progress progress_;
};

void TestHashedCopy::init()
{
    folder_ = std::make_unique<QTemporaryDir>();
    fs::create_directory(path("kept"));
}

void TestHashedCopy::namesACopyAfterItsContent()
{
    std::ofstream(path("abc.ifc")) << "abc";
    // The digest of "abc": FIPS 180-4, appendix of examples.
    const std::string digest = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";
    HashedCopies copies(path("kept"));
    QCOMPARE(copies.add(path("abc.ifc"), ".ifc", progress_).value(), digest);
    QCOMPARE(readFileWhole(copies.pathOf(digest, ".ifc")).value(), std::string("abc"));
    QCOMPARE(kept(), std::size_t{1}); // no half file beside it
    // More than a block, and a link that a person named.
    const std::string large(3'000'001, 'x');
    std::ofstream(path("large.ifc")) << large;
    fs::create_symlink(path("large.ifc"), path("link.ifc"));
    const std::string sum = copies.add(path("link.ifc"), ".ifc", progress_).value();
    QCOMPARE(sum, sha256(large));
    QVERIFY(readFileWhole(copies.pathOf(sum, ".ifc")).value() == large);
    copies.keep();
}

void TestHashedCopy::leavesNothingUnlessKept()
{
    std::ofstream(path("one.ifc")) << "one";
    std::ofstream(path("two.ifc")) << "two";
    {
        HashedCopies copies(path("kept"));
        QVERIFY(copies.add(path("one.ifc"), ".ifc", progress_).has_value());
        copies.keep();
    }
    QCOMPARE(kept(), std::size_t{1});
    {
        HashedCopies copies(path("kept"));
        QVERIFY(copies.add(path("one.ifc"), ".ifc", progress_).has_value()); // there already, so not its to remove
        QVERIFY(copies.add(path("two.ifc"), ".ifc", progress_).has_value());
        QCOMPARE(kept(), std::size_t{2});
    }
    QCOMPARE(kept(), std::size_t{1});
    QVERIFY(fs::exists(path("kept") / (sha256("one") + ".ifc")));
}

void TestHashedCopy::refuses_data()
{
    QTest::addColumn<QString>("what");
    QTest::addColumn<QString>("code");
    for (const auto& [what, code] : {std::pair{"missing", "file.unreadable"},
                                     {"a folder", "file.unreadable"},
                                     {"a pipe", "file.unreadable"},
                                     {"empty", "file.empty"},
                                     {"nowhere to copy to", "file.unwritable"}})
        QTest::newRow(what) << what << code;
}

void TestHashedCopy::refuses()
{
    QFETCH(QString, what);
    const fs::path file = path("file.ifc");
    if (what == "a folder")
        fs::create_directory(file);
    else if (what == "a pipe")
        QCOMPARE(::mkfifo(file.c_str(), 0600), 0);
    else if (what == "empty")
        std::ofstream{file};
    else if (what != "missing")
        std::ofstream(file) << "x";
    HashedCopies copies(what == "nowhere to copy to" ? path("no such folder") : path("kept"));
    const auto sum = copies.add(file, ".ifc", progress_);
    QVERIFY(!sum);
    QTEST(QString::fromUtf8(sum.error().code.name.data()), "code");
    QVERIFY(!sum.error().file.empty() && sum.error().message.size() > 15);
    QCOMPARE(kept(), std::size_t{0});
}

void TestHashedCopy::isCancelled()
{
    std::ofstream(path("large.ifc")) << std::string(5'000'000, 'x');
    Progress stops([&](const std::string&, int percent) {
        if (percent > 30)
            stops.cancel();
    });
    HashedCopies copies(path("kept"));
    QVERIFY(copies.add(path("large.ifc"), ".ifc", stops).error().code == kCopyCancelled);
    QCOMPARE(kept(), std::size_t{0});
}

void TestHashedCopy::hashesInPieces()
{
    Sha256 pieces;
    for (const char* piece : {"a", "", "bc"})
        pieces.add(piece);
    QCOMPARE(pieces.finish(), sha256("abc"));
    // The digest of nothing.
    QCOMPARE(sha256(""), std::string("e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855"));
}

QTEST_GUILESS_MAIN(TestHashedCopy)
#include "test_hashed_copy.moc"
