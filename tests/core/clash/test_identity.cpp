#include <QTest>

#include "core/clash/identity.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <random>

using namespace wendrix::clash;

/// What makes a pair the same pair in every run, and what a run may say of it.
class TestIdentity : public QObject {
    Q_OBJECT
private slots:
    void followsRuns_data();
    void followsRuns();
    void saysWhatIsTrue_data();
    void saysWhatIsTrue();
    void everyOutcomeIsReadBack();
    void aPairHasNoOrder();
    void aPairFollowsItsNames();
    void lineageIsAnEquivalence();
};

void TestIdentity::followsRuns_data()
{
    QTest::addColumn<QString>("runs"); // x found, - tested and not found, r removed, ? not tested
    QTest::addColumn<QString>("state");
    // clang-format off
    QTest::newRow("never") << "--" << "";
    QTest::newRow("first") << "x" << "new";
    QTest::newRow("again") << "xx" << "still there";
    QTest::newRow("gone") << "xx-" << "gone";
    QTest::newRow("stays gone") << "x--" << "gone";
    QTest::newRow("removed is gone") << "xr" << "gone";
    QTest::newRow("back") << "x-x" << "back";
    QTest::newRow("back after a removal") << "xrx" << "back";
    QTest::newRow("back and there") << "x-xx" << "still there";
    QTest::newRow("not tested is not gone") << "x?" << "new";
    QTest::newRow("not tested between") << "x?x" << "still there";
    QTest::newRow("not tested while gone") << "x-?x" << "back";
    QTest::newRow("never found and not tested") << "??" << "";
    // clang-format on
}

void TestIdentity::followsRuns()
{
    QFETCH(QString, runs);
    const std::map<QChar, Outcome> outcomes{
        {'x', Outcome::Found}, {'-', Outcome::Gone}, {'r', Outcome::Removed}, {'?', Outcome::NotMember}};
    std::optional<PairState> state;
    for (const QChar run : runs)
        state = nextState(state, outcomes.at(run));
    QTEST(state ? QString::fromUtf8(stateInWords(*state).data()) : QString(), "state");
}

void TestIdentity::saysWhatIsTrue_data()
{
    QTest::addColumn<int>("left");
    QTest::addColumn<int>("right");
    QTest::addColumn<int>("test");
    QTest::addColumn<int>("outcome");
    const auto row = [](const char* name, Presence left, Presence right, TestState test, Outcome outcome) {
        QTest::newRow(name) << static_cast<int>(left) << static_cast<int>(right) << static_cast<int>(test)
                            << static_cast<int>(outcome);
    };
    row("both tested again", Presence::Tested, Presence::Tested, TestState::Run, Outcome::Gone);
    row("one removed", Presence::Removed, Presence::Tested, TestState::Run, Outcome::Removed);
    row("removed, and no test of it any more", Presence::Tested, Presence::Removed, TestState::None, Outcome::Removed);
    row("one removed, the other's member not looked at", Presence::NotMember, Presence::Removed, TestState::Run,
        Outcome::Removed);
    row("body not built", Presence::Tested, Presence::NotBuilt, TestState::Run, Outcome::NotBuilt);
    row("class left out", Presence::LeftOut, Presence::Tested, TestState::Run, Outcome::LeftOut);
    row("member not in the federation", Presence::NotMember, Presence::Tested, TestState::Run, Outcome::NotMember);
    row("member off its place", Presence::Tested, Presence::OffPlace, TestState::Run, Outcome::OffPlace);
    row("two reasons: the one of the whole member", Presence::NotBuilt, Presence::NotMember, TestState::Run,
        Outcome::NotMember);
    row("cancelled", Presence::Tested, Presence::Tested, TestState::Cancelled, Outcome::TestCancelled);
    row("another tolerance", Presence::Tested, Presence::Tested, TestState::Changed, Outcome::TestChanged);
    row("no such test any more", Presence::Tested, Presence::Tested, TestState::None, Outcome::NoTest);
}

void TestIdentity::saysWhatIsTrue()
{
    QFETCH(int, left);
    QFETCH(int, right);
    QFETCH(int, test);
    const auto a = static_cast<Presence>(left), b = static_cast<Presence>(right);
    const Outcome outcome = outcomeOf(a, b, static_cast<TestState>(test));
    QTEST(static_cast<int>(outcome), "outcome");
    QVERIFY(outcome == outcomeOf(b, a, static_cast<TestState>(test))); // sides play no part
    // Gone is said only where both were tested or one was removed; anything else says why.
    QCOMPARE(isGone(outcome), a == Presence::Removed || b == Presence::Removed ||
                                  (a == Presence::Tested && b == Presence::Tested &&
                                   (static_cast<TestState>(test) == TestState::Run ||
                                    static_cast<TestState>(test) == TestState::Expected)));
    QCOMPARE(whyNotTested(outcome).empty(), isTested(outcome));
}

void TestIdentity::everyOutcomeIsReadBack()
{
    std::size_t known = 0;
    for (int number = -5; number < 100; ++number)
        if (const auto outcome = outcomeFrom(number)) {
            QCOMPARE(static_cast<int>(*outcome), number);
            ++known;
        }
    QCOMPARE(known, std::size_t{11});
}

void TestIdentity::aPairHasNoOrder()
{
    std::mt19937 random(12);
    for (int i = 0; i < 500; ++i) {
        const std::int64_t a = random() % 50, b = random() % 50;
        QVERIFY(pairKey(Kind::Hard, a, b, {}) == pairKey(Kind::Hard, b, a, {}));
        QVERIFY(!(pairKey(Kind::Hard, a, b, {}) == pairKey(Kind::Clearance, a, b, {})));
    }
}

/// Elements are renamed again and again, in any order the renamings are told in: a pair stays the same pair, and two
/// different pairs stay different.
void TestIdentity::aPairFollowsItsNames()
{
    std::mt19937 random(7);
    for (int round = 0; round < 40; ++round) {
        constexpr int kThings = 12;
        std::vector<std::vector<std::int64_t>> names(kThings); // all that a thing was ever called
        std::vector<std::pair<std::int64_t, std::int64_t>> renamings;
        std::int64_t next = 1;
        for (auto& own : names)
            own.push_back(next++);
        for (int i = 0; i < 60; ++i) {
            auto& own = names[random() % kThings];
            const std::int64_t before = own.back();
            if (random() % 5 == 0 && own.size() > 1) {
                own.push_back(own[random() % own.size()]); // a sender goes back to a name it had
            } else {
                own.push_back(next++);
            }
            renamings.emplace_back(own.back(), before);
        }
        std::shuffle(renamings.begin(), renamings.end(), random);
        Lineage lineage;
        for (const auto& [name, before] : renamings)
            random() % 2 == 0 ? lineage.unite(name, before) : lineage.unite(before, name);
        for (int a = 0; a < kThings; ++a)
            for (int b = 0; b < kThings; ++b) {
                const PairKey key = pairKey(Kind::Hard, names[a].front(), names[b].front(), lineage);
                QVERIFY(pairKey(Kind::Hard, names[b][random() % names[b].size()], names[a][random() % names[a].size()],
                                lineage) == key);
                for (int c = 0; c < kThings; ++c)
                    QCOMPARE(pairKey(Kind::Hard, names[a].back(), names[c].back(), lineage) == key, c == b);
            }
    }
}

void TestIdentity::lineageIsAnEquivalence()
{
    Lineage lineage;
    QVERIFY(lineage.isEmpty());
    QCOMPARE(lineage.rootOf(9), std::int64_t{9});
    QVERIFY((lineage.namesOf(9) == std::vector<std::int64_t>{9}));
    lineage.unite(9, 4);
    lineage.unite(7, 9);
    lineage.unite(4, 7); // a circle
    lineage.unite(30, 20);
    for (const std::int64_t name : {4, 7, 9}) {
        QCOMPARE(lineage.rootOf(name), std::int64_t{4});
        QVERIFY((lineage.namesOf(name) == std::vector<std::int64_t>{4, 7, 9}));
    }
    QCOMPARE(lineage.rootOf(30), std::int64_t{20});
    lineage.unite(20, 9);
    QVERIFY((lineage.namesOf(30) == std::vector<std::int64_t>{4, 7, 9, 20, 30}));
}

QTEST_APPLESS_MAIN(TestIdentity)
#include "test_identity.moc"
