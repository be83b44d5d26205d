#include <QTest>

#include "core/base/temporary.h"
#include "core/bcf/archive.h"
#include "core/project/issue_exchange.h"
#include "core/project/issue_making.h"
#include "core/project/receiving.h"
#include "core/project/stored_files.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <fstream>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::madeProject;
using test::must;
namespace fs = std::filesystem;

/// A project's folder in which somebody put links and second names of files: nothing outside is read into what goes
/// out, written, moved or removed, whatever is done with the project.
class TestPreparedFolder : public QObject {
    Q_OBJECT
private slots:
    void init();
    void nothingOutsideIsTouched_data();
    void nothingOutsideIsTouched();
    void whatComesWhileItIsOpen_data();
    void whatComesWhileItIsOpen();

private:
    using Files = std::map<std::string, std::string>;
    [[nodiscard]] Files outsideNow() const;
    void put(const QString& how, const fs::path& at);
    /// Everything that a week does to the folder. @return whether the project could be opened
    bool useIt();
    void openedAndUsed(Project& project);
    std::unique_ptr<QTemporaryDir> scratch_;
    fs::path root_, folder_, outside_;
    std::string hash_, issue_ = "12345678-1234-1234-1234-123456789012";
    QByteArray wentOut_; ///< the BCF file that was written
};

void TestPreparedFolder::init()
{
    scratch_ = std::make_unique<QTemporaryDir>();
    root_ = scratch_->path().toStdString();
    folder_ = root_ / "p";
    outside_ = root_ / "outside";
    fs::create_directories(outside_);
    wentOut_.clear();
    {
        const auto project = madeProject(folder_, {"Architecture", "Structure"});
        issues::Issue issue;
        issue.uuid = issue_;
        issue.title = "Lower the duct";
        issue.viewpoints.resize(1);
        issue.viewpoints[0].uuid = "12345678-1234-1234-1234-123456789013";
        issue.viewpoints[0].snapshot = "PNG";
        QVERIFY(makeIssue(*project, issue, {}, kInes).has_value());
        const auto id = test::received(*project, "Structure", "P01");
        hash_ = must(project->deliveries().find(id))->sha256;
        for (int i = 0; i < 7; ++i) // as many as are let go of
            (void)must(project->store().backUp("opened"));
    }
    // What somebody may have outside, under the names that are tidied in a project.
    std::ofstream(outside_ / "secret.png") << "SECRET";
    std::ofstream(outside_ / ".wendrix-Ab3xY9.part") << "half";
    std::ofstream(outside_ / "abc-0123456789abcdef.member") << "old";
    for (int i = 0; i < 9; ++i) {
        std::ofstream(outside_ / ("2025-01-0" + std::to_string(i) + "T10-00-00Z opened.sqlite")) << "backup";
        for (int k = 0; k < 4; ++k)
            std::ofstream(outside_ /
                          ("2025-01-0" + std::to_string(i) + "T10-00-0" + std::to_string(k) + "Z steps.jsonl"))
                << "step";
    }
}

TestPreparedFolder::Files TestPreparedFolder::outsideNow() const
{
    Files files;
    for (const auto& entry : fs::recursive_directory_iterator(outside_)) {
        std::ifstream in(entry.path(), std::ios::binary);
        files[entry.path().string()] =
            entry.is_directory() ? "folder" : std::string{std::istreambuf_iterator<char>(in), {}};
    }
    return files;
}

void TestPreparedFolder::put(const QString& how, const fs::path& at)
{
    fs::remove_all(at);
    if (how == "link to a folder")
        fs::create_directory_symlink(outside_, at);
    else if (how == "link")
        fs::create_symlink(outside_ / "secret.png", at);
    else if (how == "link to nothing")
        fs::create_symlink(outside_ / "not there yet", at);
    else
        fs::create_hard_link(outside_ / "secret.png", at);
}

void TestPreparedFolder::openedAndUsed(Project& project)
{
    Progress progress;
    for (int i = 0; i < 8; ++i)
        (void)project.store().backUp("opened");
    for (int i = 0; i < 3; ++i)
        (void)project.setup().setFederation({"F" + std::to_string(i), {{"Structure", false}}, false}, kInes);
    (void)project.undo(kInes);
    (void)project.issues().find(issue_, true);
    NewDelivery again;
    again.discipline = "Structure";
    again.revision = "P02";
    std::ofstream(root_ / "sent.ifc")
        << "ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4'));ENDSEC;DATA;ENDSEC;END-ISO-10303-21;";
    again.models = {{root_ / "sent.ifc", {}, {}, 0}};
    (void)receiveDelivery(
        folder_, again, [&](const NewDelivery& d) { return project.deliveries().add(d, kInes); }, progress);
    SendOrder order;
    order.uuids = {issue_};
    order.file = root_ / "out.bcf";
    if (auto sent = writeIssues(project, order, kInes, progress))
        (void)recordSent(project, *sent, kInes);
    if (const auto archive = bcf::Archive::open(root_ / "out.bcf"))
        for (const auto& entry : (*archive)->entries())
            wentOut_ += QByteArray::fromStdString((*archive)->read(entry).value_or(""));
}

bool TestPreparedFolder::useIt()
{
    const auto backups = backupsOf(folder_);
    for (const auto access : {Project::Access::Read, Project::Access::Write}) {
        const auto opened = Project::open(folder_, access);
        if (!opened) {
            if (opened.error().code != kForeignFiles && opened.error().code != kNoProject)
                qWarning("%s", opened.error().message.c_str());
            if (!backups.empty())
                (void)putBack(folder_, backups.front());
            return false;
        }
        openedAndUsed(**opened);
    }
    return true;
}

void TestPreparedFolder::nothingOutsideIsTouched_data()
{
    QTest::addColumn<QString>("how");
    QTest::addColumn<QString>("where"); ///< '#' stands for the hash of the delivery
    QTest::addColumn<bool>("isOpened");
    for (const char* part : {"deliveries", "pictures", "cache", "backups", "exchanges"})
        QTest::addRow("%s leads elsewhere", part) << "link to a folder" << part << false;
    for (const char* part : {"project.sqlite", "project.sqlite-wal", "project.sqlite-shm", "project.sqlite-journal"})
        for (const char* how : {"link", "hard link", "link to nothing"})
            QTest::addRow("%s is a %s", part, how) << how << part << false;
    for (const char* part :
         {"deliveries/#.ifc", "pictures/%.png", "cache/x-0.member", "backups/2024-01-01T00-00-00Z opened.sqlite",
          "backups/2024-01-01T00-00-00Z steps.jsonl", "exchanges/#.bcf", "exchanges/#",
          "deliveries/.wendrix-Cd4zQ1.part", "backups/.wendrix-Cd4zQ1.part", ".wendrix-Cd4zQ1.part"})
        for (const char* how : {"link", "hard link", "link to a folder"})
            QTest::addRow("%s is a %s", part, how) << how << part << true;
}

void TestPreparedFolder::nothingOutsideIsTouched()
{
    QFETCH(QString, how);
    QFETCH(QString, where);
    QFETCH(bool, isOpened);
    const std::string picture = [&] {
        for (const auto& entry : fs::directory_iterator(folder_ / "pictures"))
            return entry.path().stem().string();
        return std::string();
    }();
    QVERIFY(!picture.empty());
    put(how, folder_ / where.replace("#", QString::fromStdString(hash_))
                           .replace("%", QString::fromStdString(picture))
                           .toStdString());
    const Files before = outsideNow();
    QCOMPARE(useIt(), isOpened);
    QVERIFY(outsideNow() == before);
    QVERIFY(!wentOut_.contains("SECRET"));
    QCOMPARE(wentOut_.contains("Lower the duct"), isOpened); // it was really written
}

void TestPreparedFolder::whatComesWhileItIsOpen_data()
{
    QTest::addColumn<QString>("part");
    for (const char* part : {"deliveries", "pictures", "cache", "backups", "exchanges"})
        QTest::addRow("%s", part) << QString(part);
}

void TestPreparedFolder::whatComesWhileItIsOpen()
{
    // As a program that synchronises folders may do.
    QFETCH(QString, part);
    const auto project = Project::open(folder_).value();
    put("link to a folder", folder_ / part.toStdString());
    const Files before = outsideNow();
    openedAndUsed(*project);
    removeLeftOvers(folder_ / part.toStdString());
    QVERIFY(outsideNow() == before);
    QVERIFY(!wentOut_.contains("SECRET"));
}

QTEST_GUILESS_MAIN(TestPreparedFolder)
#include "test_prepared_folder.moc"
