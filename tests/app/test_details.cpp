#include "shell/details.h"
#include "shell/theme.h"

#include <QLabel>
#include <QPushButton>
#include <QScrollBar>
#include <QTest>

#include <random>

using namespace wendrix::app;

/// The details are written over what stands there: what is seen, and what a button does, is of the last writing alone.
class TestDetails : public QObject {
    Q_OBJECT
private slots:
    void whatIsWrittenOverLooksLikeNew();
    void aButtonDoesWhatWasWrittenLast();
    void somethingElseBeginsAtTheTop();
    void whatIsNotFinishedIsNotSeen();
};

namespace {

using Kind = DetailsPart::Kind;

/// Few words, so that parts of the same shape follow each other often.
QVector<DetailsPart> someParts(std::mt19937& random)
{
    const auto words = [&] { return QStringList{"", "Vault 3", "Duct × beam", "205 mm", "Cold room"}[random() % 5]; };
    QVector<DetailsPart> parts;
    for (unsigned i = random() % 4; i > 0; --i) {
        DetailsPart part;
        part.kind = static_cast<Kind>(random() % 8);
        part.words = words();
        part.value = words();
        part.second = words();
        part.mark = random() % 2 == 0 ? Mark::None : Mark::Swatch;
        part.markColour = theme::kLeft;
        if (part.kind == Kind::Buttons)
            part.buttons = {{"fix", words(), random() % 2 == 0 ? "F" : "", true, random() % 2 == 0, [] {}}};
        if (part.kind == Kind::Table)
            for (unsigned row = random() % 3; row > 0; --row)
                part.rows.append({words(), words()});
        parts.append(part);
    }
    return parts;
}

QStringList seenIn(const DetailsPage& page)
{
    QStringList seen;
    for (const QLabel* label : page.findChildren<QLabel*>())
        seen.append(label->text() + " " + QString::number(label->font().pixelSize()) +
                    label->palette().color(QPalette::WindowText).name());
    for (const QPushButton* button : page.findChildren<QPushButton*>())
        seen.append(button->text() + (button->isEnabled() ? "" : " off") + button->accessibleName());
    return seen;
}

QPushButton* button(const Details& details) { return details.findChild<QPushButton*>("go"); }

void write(Details& details, const QString& title, const QVector<DetailsButton>& buttons, int lines = 0)
{
    details.clear();
    details.addTitle(title);
    details.addButtons(buttons);
    for (int i = 0; i < lines; ++i)
        details.addText("A line");
    details.finish();
}

} // namespace

void TestDetails::whatIsWrittenOverLooksLikeNew()
{
    std::mt19937 random(7);
    int written = 0;
    DetailsPage page({});
    auto* over = &page;
    std::unique_ptr<DetailsPage> made;
    for (int i = 0; i < 3000; ++i) {
        const auto parts = someParts(random);
        const DetailsPage fresh(parts);
        const QStringList before = seenIn(*over);
        if (over->write(parts)) {
            ++written;
            QCOMPARE(seenIn(*over), seenIn(fresh));
        } else {
            QCOMPARE(seenIn(*over), before); // nothing was written halfway
            made = std::make_unique<DetailsPage>(parts);
            over = made.get();
        }
    }
    QVERIFY(written > 100);
}

void TestDetails::aButtonDoesWhatWasWrittenLast()
{
    Details details;
    QStringList pressed;
    const auto named = [&](const QString& name) {
        return QVector<DetailsButton>{
            {"go", "Go to " + name, {}, false, true, [&pressed, name] { pressed.append(name); }}};
    };
    write(details, "One", named("one"));
    auto* first = button(details);
    write(details, "Two", named("two"));
    QCOMPARE(button(details), first); // written over, not made anew
    QTest::mouseClick(first, Qt::LeftButton);
    QCoreApplication::processEvents();
    QCOMPARE(pressed, QStringList{"two"});
    // A button may rewrite the very page it stands in.
    write(details, "Three", {{"go", "Go", {}, false, true, [&] {
                                  pressed.append("three");
                                  write(details, "Four", {});
                              }}});
    QTest::mouseClick(button(details), Qt::LeftButton);
    QCoreApplication::processEvents();
    QCOMPARE(pressed.back(), "three");
    QVERIFY(button(details) == nullptr);
}

void TestDetails::somethingElseBeginsAtTheTop()
{
    Details details;
    details.resize(300, 200);
    details.show();
    write(details, "One", {}, 60);
    QTRY_VERIFY(details.verticalScrollBar()->maximum() > 100);
    details.verticalScrollBar()->setValue(80);
    write(details, "One", {}, 60);
    QCOMPARE(details.verticalScrollBar()->value(), 80); // the same thing, after something changed: one reads on
    write(details, "Two", {}, 60);
    QCOMPARE(details.verticalScrollBar()->value(), 0);
}

void TestDetails::whatIsNotFinishedIsNotSeen()
{
    Details details;
    write(details, "One", {});
    bool isDeleted = false;
    auto* widget = new QWidget;
    connect(widget, &QObject::destroyed, this, [&] { isDeleted = true; });
    details.clear();
    details.addTitle("Two");
    details.addWidget(widget);
    QCOMPARE(details.findChild<QLabel*>()->text(), "One");
    write(details, "Three", {});
    QVERIFY(isDeleted);
    QCOMPARE(details.findChild<QLabel*>()->text(), "Three");
}

QTEST_MAIN(TestDetails)
#include "test_details.moc"
