#include "app/issue_fixture.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/bcf/bcf.h"
#include "core/bcf/file.h"
#include "core/project/issue_making.h"
#include "core/view/viewpoint_look.h"
#include "issues/board_page.h"
#include "issues/calendar_page.h"
#include "issues/issue_signs.h"
#include "issues/issues_stage.h"

#include "support/bcf_samples.h"

#include <QComboBox>
#include <QFile>
#include <QInputDialog>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QTimer>

#include <algorithm>

using namespace wendrix;
using test::must;

/// Issues that were handed over and come back, in the window.
class TestIssuesComingBack : public QObject {
    Q_OBJECT
private slots:
    void init() { at_ = std::make_unique<test::IssueProject>(); }
    void cleanup() { at_.reset(); }
    void conflictsAreDecidedOneByOne();
    void leavingIncomingTakesNothing();
    void snapshotsAndDocumentsAreThere();
    void everyFaultIsTold();
    void whatTheFileOffersMayBeOfferedHere();

private:
    void sendAndChange(const QString& file, const std::function<void(std::vector<issues::Issue>&)>& change);
    std::unique_ptr<test::IssueProject> at_;
};

void TestIssuesComingBack::sendAndChange(const QString& file,
                                         const std::function<void(std::vector<issues::Issue>&)>& change)
{
    auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("exportBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    auto document = must(bcf::readFile(file.toStdString()));
    change(document.issues);
    QVERIFY(
        writeFileWhole(file.toStdString(), must(bcf::write(document.issues, document.version, "p", "P"))).has_value());
}

void TestIssuesComingBack::conflictsAreDecidedOneByOne()
{
    const std::string uuid = at_->made("First");
    const QString file = at_->folder() + "/list.bcf";
    sendAndChange(file, [](std::vector<issues::Issue>& all) {
        all[0].status = "Done by assignee";
        all[0].priority = "Low";
        all[0].title = "Their title";
    });
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        const auto done = p.issues().change(
            {&uuid, 1}, "x",
            [](issues::Issue& i) {
                i.status = "In progress";
                i.priority = "High";
                i.stage = "On site";
            },
            at_->session().now());
        return done ? Result<void>() : Result<void>(tl::unexpected<Error>(done.error()));
    }));
    const auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    auto* take = at_->window().findChild<QAbstractButton*>("takeOver");
    QVERIFY2(take->text() == "2 to decide" && !take->isEnabled(), qPrintable(take->text()));
    const QString words = at_->details();
    for (const char* both : {"Status: both changed it", "Sent", "Open", "In progress", "Done by assignee",
                             "Priority: both changed it", "Title: they changed it", "Their title"})
        QVERIFY2(words.contains(both), qPrintable(words));
    QCOMPARE(at_->issue(uuid).title, std::string("First")); // nothing is taken over yet
    // The status is theirs, the priority ours.
    const auto decide = [&](const char* heading, bool isTheirs) {
        for (int i = 0; i < 8; ++i) {
            auto* button = at_->window().findChild<QAbstractButton*>(QString(isTheirs ? "theirs%1" : "ours%1").arg(i));
            if (button == nullptr)
                continue;
            // The heading that stands above it.
            QString above;
            for (const QLabel* label : at_->window().findChild<app::Details*>("details")->findChildren<QLabel*>())
                if (label->text().contains(": both changed it") &&
                    label->mapToGlobal(QPoint()).y() < button->mapToGlobal(QPoint()).y())
                    above = label->text();
            if (above.startsWith(heading) && button->isEnabled() && at_->clickButton(button->objectName()))
                return true;
        }
        return false;
    };
    QVERIFY(decide("Status", true));
    QCOMPARE(take->text(), QString("1 to decide"));
    QVERIFY(decide("Priority", false));
    QCOMPARE(take->text(), QString("Take over"));
    QVERIFY(at_->clickButton("takeOver"));
    const issues::Issue now = at_->issue(uuid);
    QVERIFY(now.status == "Done by assignee" && now.priority == "High" && now.title == "Their title" &&
            now.stage == "On site");
    QVERIFY(at_->list("Issues").isVisible());
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(at_->issue(uuid).status == "In progress" && at_->issue(uuid).title == "First"); // one step
}

void TestIssuesComingBack::leavingIncomingTakesNothing()
{
    const std::string uuid = at_->made("First");
    const QString file = at_->folder() + "/list.bcf";
    sendAndChange(file, [](std::vector<issues::Issue>& all) { all[0].title = "Their title"; });
    auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    // One topic left out brings nothing.
    QVERIFY(at_->clickButton("leaveTopic"));
    QVERIFY(at_->clickButton("takeOver"));
    QCOMPARE(at_->issue(uuid).title, std::string("First"));
    isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(at_->clickButton("leaveIncoming"));
    QVERIFY2(at_->message().contains("Nothing was taken over"), qPrintable(at_->message()));
    QCOMPARE(at_->issue(uuid).title, std::string("First"));
    QVERIFY(at_->list("Issues").isVisible());
}

void TestIssuesComingBack::snapshotsAndDocumentsAreThere()
{
    const QString file = at_->folder() + "/theirs.bcf", copy = at_->folder() + "/copy.pdf";
    test::zipTo(test::wholeBcf(bcf::Version::V30), file.toStdString());
    auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    QVERIFY(at_->clickButton("takeOver"));
    at_->waitIdle();
    at_->open(test::kTopic);
    const auto* snapshot = at_->window().findChild<QLabel*>("snapshot");
    QVERIFY(snapshot != nullptr && snapshot->isVisible());
    QTRY_VERIFY(!snapshot->pixmap().isNull());
    // The next viewpoint's is a JPEG.
    at_->pressAndWait(Qt::Key_N);
    snapshot = at_->window().findChild<QLabel*>("snapshot");
    QTRY_VERIFY(snapshot != nullptr && (!snapshot->pixmap().isNull() || snapshot->text().contains("can not be read")));
    const issues::Issue i = at_->issue(test::kTopic);
    const auto inside = std::find_if(i.documents.begin(), i.documents.end(),
                                     [](const issues::DocumentReference& d) { return !d.isExternal; });
    QVERIFY(inside != i.documents.end());
    isAsked = at_->answerFileDialog({copy});
    QVERIFY(at_->clickButton(QString("saveDocument:%1").arg(inside - i.documents.begin())));
    at_->waitIdle();
    QVERIFY(*isAsked);
    QTRY_VERIFY(QFile::exists(copy) && QFile(copy).size() > 0);
}

void TestIssuesComingBack::everyFaultIsTold()
{
    auto whole = test::wholeBcf(bcf::Version::V30);
    whole["../out.txt"] = "x";
    whole["broken/markup.bcf"] = "<Markup>";
    const QString file = at_->folder() + "/odd.bcf";
    test::zipTo(whole, file.toStdString());
    const auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    at_->window().findChild<app::Worklist*>("mergeList")->choose("faults");
    at_->waitIdle();
    const QString words = at_->details();
    for (const char* entry : {"out.txt", "broken/markup.bcf"})
        QVERIFY2(words.contains(entry), qPrintable(words));
    at_->window().findChild<app::Worklist*>("mergeList")->choose(test::kTopic);
    at_->waitIdle();
    QVERIFY(!at_->details().contains("broken/markup.bcf"));
    QVERIFY(at_->clickButton("takeOver")); // the rest is taken over all the same
    QCOMPARE(at_->issue(test::kTopic).uuid, std::string(test::kTopic));
}

void TestIssuesComingBack::whatTheFileOffersMayBeOfferedHere()
{
    const QString file = at_->folder() + "/theirs.bcf";
    test::zipTo(test::wholeBcf(bcf::Version::V30), file.toStdString());
    const auto read = must(bcf::File::open(file.toStdString()))->extensions();
    const auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    QVERIFY(!read.stages.empty() && !read.labels.empty());
    auto& list = *at_->window().findChild<app::Worklist*>("mergeList");
    const auto text = [&] {
        for (const QLabel* label : list.findChildren<QLabel*>())
            if (label->isVisible() && label->text().contains("It offers what we do not"))
                return label->text();
        return QString();
    };
    QVERIFY2(text().contains("stages " + QString::fromStdString(read.stages[0])), qPrintable(text()));
    emit list.linkChosen("offer");
    at_->waitIdle();
    const issues::Workflow flow = must(at_->project().issues().workflow());
    QVERIFY(std::ranges::find(flow.stages, read.stages[0]) != flow.stages.end() &&
            std::ranges::find(flow.labels, read.labels[0]) != flow.labels.end());
    QVERIFY(flow.statuses == issues::Workflow::usual().statuses);
    QVERIFY(text().isEmpty());
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestIssuesComingBack test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_issues_coming_back.moc"
