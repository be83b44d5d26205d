#include <QTest>

#include "core/issues/evidence.h"

using namespace wendrix;
using namespace wendrix::issues;
using clash::Outcome;

/// What the models say of an issue: pairs from run to run, and requirements from delivery to delivery.
class TestEvidence : public QObject {
    Q_OBJECT
private slots:
    void whatSettles_data();
    void whatSettles();
    void cyclesAreCounted();
    void requirementsAreSaid_data();
    void requirementsAreSaid();
};

namespace {

PairEvidence pair(const std::vector<std::pair<std::int64_t, Outcome>>& moments)
{
    PairEvidence p{"Duct", {}, "20 mm deep"};
    for (const auto& [run, outcome] : moments)
        p.moments.push_back({run, outcome});
    return p;
}

Requirement wanting(const std::vector<std::size_t>& failing)
{
    Requirement r{1, "guid.twice", "GlobalIds are given twice"};
    for (std::size_t i = 0; i < failing.size(); ++i)
        r.moments.push_back(
            {static_cast<std::int64_t>(i + 1), "P0" + std::to_string(i + 1), failing[i], failing[i], 5});
    return r;
}

} // namespace

void TestEvidence::whatSettles_data()
{
    QTest::addColumn<QString>("pairs"); // g gone, t there, n not tested
    QTest::addColumn<int>("failing");   // -2 wants nothing, -1 not checked
    QTest::addColumn<bool>("isSettled");
    QTest::addColumn<bool>("isStillThere");
    QTest::addColumn<QString>("inShort");
    const auto row = [](const char* pairs, int failing, bool isSettled, bool isStillThere, const char* inShort) {
        QTest::addRow("%s, %d", pairs, failing) << QString(pairs) << failing << isSettled << isStillThere << inShort;
    };
    row("", -2, false, false, "");
    row("g", -2, true, false, "gone");
    row("gg", -2, true, false, "all 2 gone");
    row("gt", -2, false, true, "1 of 2 gone");
    row("gn", -2, false, false, "1 of 2 gone, 1 not tested");
    row("t", -2, false, true, "still there");
    row("n", -2, false, false, "not tested");
    row("", -1, false, false, "");
    row("", 0, true, false, "met");
    row("", 3, false, true, "not met");
    row("g", 0, true, false, "gone");
    row("g", 3, false, true, "gone");
    row("t", 0, false, true, "still there");
}

void TestEvidence::whatSettles()
{
    QFETCH(QString, pairs);
    QFETCH(int, failing);
    QFETCH(bool, isSettled);
    QFETCH(bool, isStillThere);
    QFETCH(QString, inShort);
    std::vector<PairEvidence> all;
    for (const QChar c : pairs)
        all.push_back(pair({{1, c == 'g' ? Outcome::Gone : c == 't' ? Outcome::Found : Outcome::NotMember}}));
    Evidence e = evidenceOf(std::move(all), {});
    if (failing >= -1)
        e.requirement =
            wanting(failing < 0 ? std::vector<std::size_t>{} : std::vector{static_cast<std::size_t>(failing)});
    QCOMPARE(e.isSettled(), isSettled);
    QCOMPARE(e.isStillThere(), isStillThere);
    QCOMPARE(QString::fromStdString(e.inShort()), inShort);
}

void TestEvidence::cyclesAreCounted()
{
    // The first is gone in run 2 and not spoken of since; the second stays; the third is found in run 2 and not tested
    // in run 3; the fourth comes back in run 3.
    const Evidence e = evidenceOf({pair({{1, Outcome::Found}, {2, Outcome::Gone}}),
                                   pair({{1, Outcome::Found}, {2, Outcome::Found}, {3, Outcome::Found}}),
                                   pair({{2, Outcome::Found}, {3, Outcome::NotMember}}),
                                   pair({{1, Outcome::Found}, {2, Outcome::Removed}, {3, Outcome::Found}})},
                                  {});
    const std::vector<Cycle> cycles = e.cycles();
    QCOMPARE(cycles.size(), std::size_t{3});
    const std::size_t expected[3][3] = {{0, 3, 1}, {2, 2, 0}, {1, 2, 1}};
    for (std::size_t i = 0; i < 3; ++i) {
        QCOMPARE(cycles[i].run, static_cast<std::int64_t>(i + 1));
        QCOMPARE(cycles[i].gone, expected[i][0]);
        QCOMPARE(cycles[i].there, expected[i][1]);
        QCOMPARE(cycles[i].notTested, expected[i][2]);
    }
}

void TestEvidence::requirementsAreSaid_data()
{
    QTest::addColumn<QVector<int>>("failing");
    QTest::addColumn<QString>("words");
    QTest::newRow("not checked") << QVector<int>{} << "GlobalIds are given twice: not checked since.";
    QTest::newRow("met") << QVector<int>{5, 0} << "GlobalIds are given twice: met in P02.";
    QTest::newRow("one") << QVector<int>{1}
                         << "GlobalIds are given twice: not met in P01, 1 fails it, 1 of the 5 it was made of.";
    QTest::newRow("several") << QVector<int>{0, 3}
                             << "GlobalIds are given twice: not met in P02, 3 fail it, 3 of the 5 it was made of.";
}

void TestEvidence::requirementsAreSaid()
{
    QFETCH(QVector<int>, failing);
    QFETCH(QString, words);
    Evidence e;
    e.requirement = wanting({failing.begin(), failing.end()});
    QCOMPARE(QString::fromStdString(e.inWords()), words);
}

QTEST_GUILESS_MAIN(TestEvidence)
#include "test_evidence.moc"
