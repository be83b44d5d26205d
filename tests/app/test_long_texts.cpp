#include "app/own_project.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/project/issue_making.h"
#include "shell/go_to.h"
#include "shell/long_text.h"

#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>

using namespace wendrix;
using test::must;

namespace {

constexpr std::size_t kLong = 300'000;
std::string longText(const std::string& begins) { return begins + " " + std::string(kLong, 'w') + " its end"; }

} // namespace

/// Names, titles and descriptions of 300 KB in everything that people look at: cut where a line is, whole where one
/// asks for it, and no widget holds more than it can show.
class TestLongTexts : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void init() { since_.start(); }
    void cleanup() { qInfo("%lld ms", since_.elapsed()); }
    void whatIsCutCanBeReadWhole();
    void clashesOfSuchElements();
    void anElementOfSuchAName();
    void theRegister();
    void aFormKeepsTheWhole();
    void searching();
    void historyAndNotes();

private:
    /// No label, button or tip that is on the screen holds more than a panel's worth.
    void nothingIsLarger();
    std::unique_ptr<test::OwnProject> at_;
    QElapsedTimer since_;
};

void TestLongTexts::initTestCase()
{
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty({"Structure", "Piping"});
    const auto file = [&](const char* name, std::vector<double> places) {
        const auto path = at_->boxes(name, places);
        std::string text = must(readFileWhole(path));
        for (std::size_t at = 0; (at = text.find(std::string("'") + name, at)) != std::string::npos; at += kLong)
            text.replace(at + 1, std::string(name).size(), longText(name));
        (void)writeFileWhole(path, text);
        return path;
    };
    QVERIFY(at_->takeIn(file("Beams", {0, 10, 20}), "Structure", "P01"));
    QVERIFY(at_->takeIn(file("Pipes", {1, 11, 50}), "Piping", "P01"));
    at_->acceptEveryPlace();
    at_->session().runTests();
    at_->waitIdle();
    QCOMPARE(must(at_->project().clashes().all()).size(), std::size_t{2});
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        const WhoAndWhen who = at_->session().now();
        issues::Issue issue;
        issue.uuid = newUuid();
        issue.title = longText("Title");
        issue.description = longText("Description");
        issue.assignee = "Structure";
        if (auto made = project::makeIssue(p, issue, {}, who); !made)
            return tl::unexpected<Error>(made.error());
        if (auto done = p.issues().addComment(issue.uuid, longText("Comment"), who); !done)
            return done;
        if (auto done = p.setup().setMemberGroup({longText("Group"), {"Piping"}}, who); !done)
            return done;
        return p.deliveries().describe(must(p.deliveries().all())[0].id,
                                       {longText("Delivery"), longText("Note"), "", ""}, who);
    }));
}

void TestLongTexts::nothingIsLarger()
{
    constexpr qsizetype kMost = app::kMostInPanel + 1000; // with what may break in between
    for (const QWidget* widget : at_->window().findChildren<QWidget*>()) {
        if (!widget->isVisible())
            continue;
        QVERIFY2(widget->toolTip().size() < kMost, qPrintable(widget->objectName()));
        if (const auto* label = qobject_cast<const QLabel*>(widget))
            QVERIFY2(label->text().size() < kMost, qPrintable(label->text().left(60)));
        if (const auto* button = qobject_cast<const QAbstractButton*>(widget))
            QVERIFY2(button->text().size() < kMost, qPrintable(button->text().left(60)));
        if (const auto* items = qobject_cast<const QListWidget*>(widget))
            for (int i = 0; i < items->count(); ++i)
                QVERIFY(items->item(i)->text().size() < kMost && items->item(i)->toolTip().size() < kMost);
    }
    QVERIFY(at_->window().minimumSizeHint().width() <= 1280);
}

void TestLongTexts::whatIsCutCanBeReadWhole()
{
    at_->clickStage("Issues");
    at_->clickRow("Issues", 0);
    QVERIFY(at_->details().contains("Title www"));
    nothingIsLarger();
    QVERIFY(at_->clickButton("wholeText"));
    auto* whole = at_->window().findChild<QPlainTextEdit*>("wholeTextWords");
    QVERIFY(whole != nullptr && whole->isVisible());
    QString shown = whole->toPlainText();
    shown.remove('\n');
    QVERIFY(shown.startsWith("Title www") && shown.endsWith("www its end"));
    QVERIFY(static_cast<std::size_t>(shown.size()) > kLong);
    QTest::keyClick(whole, Qt::Key_Escape);
    QTRY_VERIFY(at_->window().findChild<QPlainTextEdit*>("wholeTextWords") == nullptr);
}

void TestLongTexts::clashesOfSuchElements()
{
    at_->clickStage("Clashes");
    at_->clickRow("Clashes", 0);
    at_->waitIdle();
    nothingIsLarger();
    at_->press(Qt::Key_L);
    at_->waitIdle();
    const auto pairs = must(at_->project().clashes().all());
    QVERIFY(std::any_of(pairs.begin(), pairs.end(), [](const project::Pair& p) { return p.decision == "later"; }));
    nothingIsLarger();
}

void TestLongTexts::anElementOfSuchAName()
{
    at_->clickStage("Coordinates");
    at_->scene().choose({view::ElementKey{0, 0}});
    emit at_->scene().selectionChanged();
    at_->waitIdle();
    nothingIsLarger();
}

void TestLongTexts::theRegister()
{
    at_->clickStage("Deliveries");
    for (const project::Delivery& d : must(at_->project().deliveries().all())) {
        at_->clickCard(d.id);
        at_->waitIdle();
        nothingIsLarger();
    }
    at_->session().lookInside(must(at_->project().deliveries().all())[0].id);
    at_->waitIdle();
    nothingIsLarger();
    at_->session().leaveInside();
    at_->waitIdle();
}

void TestLongTexts::aFormKeepsTheWhole()
{
    at_->clickStage("Deliveries");
    const auto delivery = must(at_->project().deliveries().all())[0];
    at_->clickCard(delivery.id);
    QVERIFY(at_->clickButton("describe"));
    QCOMPARE(delivery.title.size(), longText("Delivery").size());
    QCOMPARE(static_cast<std::size_t>(at_->field<QLineEdit>("describeTitle").text().size()), delivery.title.size());
    at_->field<QLineEdit>("describeSender").setText("Tarnbeck Frames");
    QVERIFY(at_->clickButton("describeIt"));
    at_->waitIdle();
    const auto kept = must(at_->project().deliveries().get(delivery.id));
    QCOMPARE(kept.title.size(), delivery.title.size());
    QCOMPARE(kept.note.size(), delivery.note.size());
    QCOMPARE(kept.sender, std::string("Tarnbeck Frames"));
}

void TestLongTexts::searching()
{
    at_->press(Qt::Key_K, Qt::ControlModifier);
    auto* field = at_->window().findChild<app::GoTo*>("goTo");
    for (const char* words : {"Beams", "Title", "www"}) {
        field->clear();
        QTest::keyClicks(field, words);
        at_->waitIdle();
        const auto* hits = at_->window().findChild<QListWidget*>("goToHits");
        QVERIFY(hits->count() >= 1);
        nothingIsLarger();
    }
    // And words as long as that, pasted.
    field->setText(QString::fromStdString(longText("Beams")));
    QVERIFY(field->text().size() < 1000);
    emit field->textEdited(field->text());
    at_->waitIdle();
    QTest::keyClick(field, Qt::Key_Escape);
}

void TestLongTexts::historyAndNotes()
{
    at_->window().findChild<QAction*>("projectHistory")->trigger();
    at_->waitIdle();
    nothingIsLarger();
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestLongTexts test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_long_texts.moc"
