#include "app/own_project.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/base/who_and_when.h"
#include "core/bcf/archive.h"
#include "core/bcf/bcf.h"
#include "core/project/issue_making.h"

#include <QPlainTextEdit>

#include <algorithm>

using namespace wendrix;
using test::must;

/// Issues from being made to being closed, sent out and taken back, on a project with one clash.
class TestIssueStage : public QObject {
    Q_OBJECT
private slots:
    void init();
    void cleanup() { at_.reset(); }
    void statusesFollowTheButtons_data();
    void statusesFollowTheButtons();
    void closingSaysWhatItRestsOn();
    void filtersAndOrder();
    void aLateIssueIsLoud();
    void whatIsSentComesBackTheSame();
    void aReturnedFileIsMerged();
    void aBrokenFileChangesNothing_data();
    void aBrokenFileChangesNothing();
    void nothingIsWrittenWithoutAName();
    void longWordsStayReadable();

private:
    /// An issue of its own, without a clash. @return its uuid
    std::string made(const std::string& title, const std::string& status = "Open", const std::string& due = "");
    [[nodiscard]] issues::Issue issue(const std::string& uuid) const
    {
        return must(at_->project().issues().find(uuid, true)).value();
    }
    void send(const QString& file);
    void take(const QString& file);
    std::unique_ptr<test::OwnProject> at_;
};

void TestIssueStage::init()
{
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty({"Architecture", "Structure"});
}

std::string TestIssueStage::made(const std::string& title, const std::string& status, const std::string& due)
{
    issues::Issue i;
    i.uuid = newUuid();
    i.title = title;
    i.status = status;
    i.dueAt = due;
    i.assignee = "Structure";
    const bool isMade = at_->change([&](project::Project& p) -> Result<void> {
        const auto number = project::makeIssue(p, i, {}, at_->session().now());
        return number ? Result<void>() : tl::unexpected<Error>(number.error());
    });
    if (!isMade)
        qFatal("no issue");
    return i.uuid;
}

void TestIssueStage::send(const QString& file)
{
    const auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("exportBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
}

void TestIssueStage::take(const QString& file)
{
    const auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
}

void TestIssueStage::statusesFollowTheButtons_data()
{
    QTest::addColumn<QString>("button");
    QTest::addColumn<QString>("status");
    QTest::addColumn<QString>("words");
    // clang-format off
    QTest::newRow("taken up") << "inProgress" << "In progress" << "in progress";
    QTest::newRow("done by who has it") << "done" << "Done by assignee" << "done by assignee";
    QTest::newRow("closed without evidence") << "close" << "Closed" << "closed";
    // clang-format on
}

void TestIssueStage::statusesFollowTheButtons()
{
    QFETCH(QString, button);
    QFETCH(QString, status);
    QFETCH(QString, words);
    const std::string uuid = made("Lower the duct");
    at_->clickStage("Issues");
    at_->clickRow("Issues", 0);
    QVERIFY(at_->clickButton(button));
    QCOMPARE(QString::fromStdString(issue(uuid).status), status);
    QVERIFY(at_->message().contains("SVA-001: " + words));
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(issue(uuid).status, std::string("Open"));
    QVERIFY(issue(uuid).comments.empty());
    at_->session().redo();
    at_->waitIdle();
    QCOMPARE(QString::fromStdString(issue(uuid).status), status);
    // Closed can be opened again.
    QVERIFY(at_->clickButton("chip-all"));
    at_->clickRow("Issues", 0);
    if (status == "Closed") {
        QVERIFY(at_->clickButton("reopen"));
        QCOMPARE(issue(uuid).status, std::string("Back again"));
    }
}

void TestIssueStage::closingSaysWhatItRestsOn()
{
    const std::string uuid = made("Lower the duct");
    at_->clickStage("Issues");
    at_->clickRow("Issues", 0);
    QVERIFY(at_->details().contains("Lower the duct"));
    auto* close = at_->window().findChild<QAbstractButton*>("close");
    QVERIFY2(close->text().contains("Close anyway"), qPrintable(close->text())); // nothing proves it
    at_->press(Qt::Key_X);
    QCOMPARE(issue(uuid).status, std::string("Closed"));
    QCOMPARE(issue(uuid).comments.size(), std::size_t{1});
    QVERIFY(issue(uuid).comments[0].text.starts_with("Closed."));
    at_->press(Qt::Key_X); // closed already, and out of the list: nothing more is written
    QCOMPARE(issue(uuid).comments.size(), std::size_t{1});
    QVERIFY(at_->words("Issues").contains("No issue answers to this filter"));
}

void TestIssueStage::filtersAndOrder()
{
    for (int i = 1; i <= 12; ++i)
        (void)made("Issue " + std::to_string(i), i % 3 == 0 ? "Closed" : i % 3 == 1 ? "Open" : "In progress");
    at_->clickStage("Issues");
    QVERIFY(at_->words("Issues").contains("open"));
    const auto numbers = [&] {
        QStringList all;
        for (int i = 0; i < at_->rows("Issues").rowCount(); ++i)
            all.append(at_->rows("Issues").row(i).subtitle.section(' ', 0, 0));
        return all;
    };
    QCOMPARE(numbers().size(), 8); // open is whatever is not closed
    QVERIFY(at_->clickButton("chip-closed"));
    QCOMPARE(numbers().size(), 4);
    QVERIFY(!at_->clickButton("chip-ready")); // nothing is proposed
    QVERIFY(at_->clickButton("chip-all"));
    QStringList sorted = numbers();
    QCOMPARE(sorted.size(), 12);
    QCOMPARE(QSet<QString>(sorted.begin(), sorted.end()).size(), 12); // a number is given once
    // J and K walk the list, Enter and the arrows do no harm.
    at_->clickRow("Issues", 0);
    const QString first = at_->details();
    at_->press(Qt::Key_J);
    QVERIFY(at_->details() != first);
    at_->press(Qt::Key_K);
    QCOMPARE(at_->details(), first);
}

void TestIssueStage::aLateIssueIsLoud()
{
    (void)made("Late", "Open", "2020-01-01T00:00:00Z");
    (void)made("Has time", "Open", "2199-01-01T00:00:00Z");
    (void)made("Late but closed", "Closed", "2020-01-01T00:00:00Z");
    at_->clickStage("Issues");
    QVERIFY(at_->clickButton("chip-all"));
    const auto loud = [&](const char* title) { return at_->rows("Issues").row(at_->rowWith("Issues", title)).loud; };
    QCOMPARE(loud("Late"), QString("due 1 Jan, late"));
    QCOMPARE(loud("Has time"), QString());
    QCOMPARE(loud("Late but closed"), QString());
}

void TestIssueStage::whatIsSentComesBackTheSame()
{
    for (int i = 0; i < 5; ++i) {
        const std::string uuid = made("Öffnung <" + std::to_string(i) + "> & \"Rinne\"");
        QVERIFY(at_->change([&](project::Project& p) {
            return p.issues().addComment(uuid, "Zeile 1\nZeile 2 ≥ 3", at_->session().now());
        }));
    }
    at_->clickStage("Issues");
    const QString file = at_->folder() + "/sent.bcf";
    send(file);
    QVERIFY2(at_->message().contains("5 issues written to sent.bcf"), qPrintable(at_->message()));
    const auto document = bcf::readFile(file.toStdString());
    QVERIFY(document && document->diagnostics.empty());
    QCOMPARE(document->issues.size(), std::size_t{5});
    for (const issues::Issue& sent : document->issues) {
        const issues::Issue own = issue(sent.uuid);
        QVERIFY(sent.title == own.title && sent.status == own.status && sent.assignee == own.assignee);
        QCOMPARE(sent.comments.size(), std::size_t{1});
        QCOMPARE(sent.comments[0].text, std::string("Zeile 1\nZeile 2 ≥ 3"));
    }
    // Taken back as it is, nothing is new.
    take(file);
    QVERIFY2(at_->message().contains("0 topics bring something, 0 to decide; 5 as we have them"),
             qPrintable(at_->message()));
    QVERIFY(at_->clickButton("takeOver"));
    for (const issues::Issue& sent : document->issues)
        QCOMPARE(issue(sent.uuid).comments.size(), std::size_t{1});
    // Sent again it is the same file, byte by byte.
    const std::string first = must(readFileWhole(file.toStdString(), 1 << 24));
    send(at_->folder() + "/again.bcf");
    QVERIFY(must(readFileWhole(at_->folder().toStdString() + "/again.bcf", 1 << 24)) == first);
}

void TestIssueStage::aReturnedFileIsMerged()
{
    const std::string uuid = made("Lower the duct");
    at_->clickStage("Issues");
    const QString file = at_->folder() + "/sent.bcf";
    send(file);
    auto document = must(bcf::readFile(file.toStdString()));
    // The designer answers, changes the status and makes an issue of their own; meanwhile we comment too.
    issues::Issue theirs = document.issues[0];
    theirs.status = issues::status::kDone;
    theirs.modifiedAt = "2199-01-01T00:00:00Z";
    theirs.comments.push_back({newUuid(), "2199-01-01T00:00:00Z", "T. Okafor", "Lowered."});
    issues::Issue another;
    another.uuid = newUuid();
    another.title = "Sleeve is missing";
    another.status = issues::status::kOpen;
    another.createdAt = another.modifiedAt = "2026-11-20T09:00:00Z";
    another.createdBy = "T. Okafor";
    QVERIFY(at_->change(
        [&](project::Project& p) { return p.issues().addComment(uuid, "And by Friday?", at_->session().now()); }));
    const std::vector<issues::Issue> back{theirs, another};
    QVERIFY(writeFileWhole(file.toStdString(), must(bcf::write(back, bcf::Version::V21, "p", "Seed vault annexe")))
                .has_value());
    take(file);
    QCOMPARE(at_->window().findChild<app::Worklist*>("mergeList")->model().rowCount(), 2); // what it brings
    QVERIFY(!must(at_->project().issues().find(another.uuid, false)).has_value());         // and nothing is here yet
    QVERIFY(at_->clickButton("takeOver"));
    QVERIFY2(at_->message().contains("1 new") && at_->message().contains("1 changed"), qPrintable(at_->message()));
    const issues::Issue merged = issue(uuid);
    QCOMPARE(merged.status, std::string(issues::status::kDone));
    QCOMPARE(merged.comments.size(), std::size_t{2}); // theirs and ours
    QCOMPARE(issue(another.uuid).title, another.title);
    QVERIFY(!issue(another.uuid).number.empty() && issue(another.uuid).number != merged.number);
    QCOMPARE(at_->rows("Issues").rowCount(), 2);
    // One step takes all of it back.
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(!must(at_->project().issues().find(another.uuid, false)).has_value());
    QCOMPARE(issue(uuid).status, std::string("Open"));
    QCOMPARE(issue(uuid).comments.size(), std::size_t{1});
}

void TestIssueStage::aBrokenFileChangesNothing_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::newRow("nothing") << QByteArray();
    QTest::newRow("no zip") << QByteArray("this is no zip");
    const auto packed = [](std::initializer_list<std::pair<const std::string, std::string>> entries) {
        return QByteArray::fromStdString(bcf::pack(bcf::Entries(entries)).value());
    };
    QTest::newRow("a zip of something else") << packed({{"a.txt", "x"}});
}

void TestIssueStage::aBrokenFileChangesNothing()
{
    QFETCH(QByteArray, bytes);
    const std::string uuid = made("Lower the duct");
    at_->clickStage("Issues");
    const auto before = must(at_->project().log().last(100)).size();
    const QString file = at_->folder() + "/broken.bcf";
    QVERIFY(writeFileWhole(file.toStdString(), bytes.toStdString()).has_value());
    take(file);
    QVERIFY2(at_->message().contains("broken.bcf"), qPrintable(at_->message()));
    QCOMPARE(must(at_->project().log().last(100)).size(), before);
    QCOMPARE(at_->rows("Issues").rowCount(), 1);
}

void TestIssueStage::nothingIsWrittenWithoutAName()
{
    (void)made("Lower the duct");
    at_->clickStage("Issues");
    const auto isAsked = at_->answerFileDialog({at_->folder() + "/without"});
    QVERIFY(at_->clickButton("exportBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    QVERIFY(!QFile::exists(at_->folder() + "/without") && QFile::exists(at_->folder() + "/without.bcf"));
    // A comment of nothing but blanks is none.
    at_->clickRow("Issues", 0);
    auto& field = at_->field<QPlainTextEdit>("comment");
    field.setFocus();
    QTest::keyClicks(&field, "    ");
    (void)at_->clickButton("sendComment");
    QVERIFY(must(at_->project().issues().all())[0].comments.empty());
}

void TestIssueStage::longWordsStayReadable()
{
    const std::string title(400, 'w');
    const std::string uuid = made(title);
    QVERIFY(at_->change([&](project::Project& p) {
        return p.issues().addComment(uuid, std::string(3000, 'x'), at_->session().now());
    }));
    at_->clickStage("Issues");
    at_->clickRow("Issues", 0);
    QVERIFY(at_->details().contains(QString::fromStdString(title))); // whole in the details
    // And the window did not grow by it.
    auto* panel = at_->window().findChild<app::Details*>("details");
    QVERIFY(panel->widget()->width() <= panel->viewport()->width());
    QVERIFY(at_->window().minimumSizeHint().width() <= 1280);
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestIssueStage test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_issue_stage.moc"
