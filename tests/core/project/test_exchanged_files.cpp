#include <QTest>

#include "core/bcf/file.h"
#include "core/project/issue_exchange.h"
#include "support/bcf_samples.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::must;

/// BCF files that came and are kept: the pictures, documents and other files in them, and when one is kept no longer.
class TestExchangedFiles : public QObject {
    Q_OBJECT
private slots:
    void init();
    void picturesThatCameAreSeen();
    void filesBesideViewpointsAreFound();
    void whatIsLeftIsNotKept();
    void documentsInsideAreRead();

private:
    [[nodiscard]] std::filesystem::path path(const char* name) const { return folder_->filePath(name).toStdString(); }
    [[nodiscard]] issues::Issue issue(const std::string& uuid) const
    {
        return must(project_->issues().find(uuid, false)).value();
    }
    [[nodiscard]] Incoming read(const char* name) const
    {
        Progress progress;
        return must(readIncoming(*project_, path(name), {}, progress));
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
};

void TestExchangedFiles::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject(path("made"), {"Structure", "Ventilation"});
}

void TestExchangedFiles::picturesThatCameAreSeen()
{
    test::zipTo(test::wholeBcf(bcf::Version::V30), path("theirs.bcf"));
    QVERIFY(takeOver(*project_, read("theirs.bcf"), {}, kInes).has_value());
    const issues::Issue now = *must(project_->issues().find(test::kTopic, true));
    QCOMPARE(now.viewpoints[0].snapshot, test::png());
    QCOMPARE(now.viewpoints[1].snapshot, test::jpeg()); // as it came
    QCOMPARE(must(project_->issues().exchanges()).size(), std::size_t{1});
}

void TestExchangedFiles::filesBesideViewpointsAreFound()
{
    auto whole = test::wholeBcf(bcf::Version::V30);
    test::zipTo(whole, path("theirs.bcf"));
    QVERIFY(takeOver(*project_, read("theirs.bcf"), {}, kInes).has_value());
    const auto find = [&](const char* name) {
        return fileBeside(*project_, must(project_->issues().kept(test::kTopic))->origins, name);
    };
    QVERIFY(!find("note.png").empty());
    QVERIFY(find("nothing.png").empty() && find("../bcf.version").empty() && find("").empty());
    // The newest that holds it counts; one that holds it no more leaves the one before.
    const std::string first = find("note.png");
    for (auto& [entry, bytes] : whole) {
        if (entry.ends_with("note.png"))
            bytes = first + "newer";
        if (const auto at = bytes.find("<Title>"); entry.ends_with("markup.bcf") && at != std::string::npos)
            bytes.insert(at + 7, "Again: ");
    }
    test::zipTo(whole, path("again.bcf"));
    QVERIFY(takeOver(*project_, read("again.bcf"), {}, kInes).has_value());
    QCOMPARE(find("note.png"), first + "newer");
}

void TestExchangedFiles::whatIsLeftIsNotKept()
{
    test::zipTo(test::wholeBcf(bcf::Version::V30), path("theirs.bcf"));
    const Incoming first = read("theirs.bcf");
    const std::filesystem::path kept = project_->issues().fileOf(first.sha256);
    QVERIFY(std::filesystem::exists(kept));
    leave(*project_, first);
    QVERIFY(!std::filesystem::exists(kept));
    // Somebody else had read it, too, and takes it over: it is kept again.
    QVERIFY(takeOver(*project_, first, {}, kInes).has_value());
    QVERIFY(std::filesystem::exists(kept));
    leave(*project_, first); // its issues name it
    QVERIFY(std::filesystem::exists(kept));
    // Not what it was any more: refused, and nothing changes.
    auto whole = test::wholeBcf(bcf::Version::V30);
    for (auto& [entry, bytes] : whole)
        if (const auto at = bytes.find("<Title>"); entry.ends_with("markup.bcf") && at != std::string::npos)
            bytes.insert(at + 7, "Again: ");
    test::zipTo(whole, path("again.bcf"));
    const Incoming again = read("again.bcf");
    leave(*project_, again);
    test::zipTo(test::wholeBcf(bcf::Version::V21), path("again.bcf"));
    const auto refused = takeOver(*project_, again, {}, kInes);
    QVERIFY(!refused && refused.error().message.find("read it again") != std::string::npos);
    QVERIFY(!issue(test::kTopic).title.starts_with("Again"));
}

void TestExchangedFiles::documentsInsideAreRead()
{
    test::zipTo(test::wholeBcf(bcf::Version::V30), path("theirs.bcf"));
    QVERIFY(takeOver(*project_, read("theirs.bcf"), {}, kInes).has_value());
    const KeptIssue kept = must(project_->issues().kept(test::kTopic)).value();
    std::size_t inside = 0;
    for (const issues::DocumentReference& d : kept.issue.documents)
        if (!d.isExternal) {
            ++inside;
            QVERIFY(!must(documentOf(*project_, kept.origins, d)).empty());
        }
    QVERIFY(inside > 0);
    const issues::DocumentReference none{"x", false, "Documents/none", "none.pdf", "", ""};
    const auto missing = documentOf(*project_, kept.origins, none);
    QVERIFY(!missing && missing.error().message.find("none.pdf") != std::string::npos);
    const issues::DocumentReference odd{"x", false, "t", "odd", "", "../../etc/passwd"};
    QVERIFY(!documentOf(*project_, kept.origins, odd).has_value());
}

QTEST_GUILESS_MAIN(TestExchangedFiles)
#include "test_exchanged_files.moc"
