#include <QTest>

#include "core/clash/engine.h"
#include "core/clash/memory.h"
#include "support/random_boxes.h"

#include <algorithm>
#include <cmath>

using namespace wendrix;
using test::boxesAtRandom;
using test::made;
using test::MadeModel;
using test::memberOf;

/// What a question found, kept until it is asked again.
class TestMemory : public QObject {
    Q_OBJECT
private slots:
    void rememberedEqualsTestedAnew_data();
    void rememberedEqualsTestedAnew();
};

void TestMemory::rememberedEqualsTestedAnew_data()
{
    QTest::addColumn<unsigned>("seed");
    QTest::addColumn<bool>("isItself");
    QTest::addColumn<int>("kind");
    for (const unsigned seed : {1u, 2u, 3u})
        for (const bool isItself : {false, true})
            for (const auto kind : {clash::Kind::Hard, clash::Kind::Clearance, clash::Kind::Duplicate})
                QTest::addRow("seed %u, %s, kind %d", seed, isItself ? "against itself" : "two members",
                              static_cast<int>(kind))
                    << seed << isItself << static_cast<int>(kind);
}

void TestMemory::rememberedEqualsTestedAnew()
{
    // Elements move, grow, come, go and change their order, and a member is fitted elsewhere: what is remembered gives
    // the same as a full run, and little of it is tested again.
    QFETCH(unsigned, seed);
    QFETCH(bool, isItself);
    QFETCH(int, kind);
    std::mt19937 random(seed);
    MadeModel left = made("Left", boxesAtRandom(seed, 120, "Beam", "IFCBEAM")),
              right = made("Right", boxesAtRandom(seed + 50, 120, "Duct", "IFCDUCTSEGMENT"));
    for (std::size_t i = 0; i < 10; ++i) { // so that there are doubles
        right.boxes.push_back(left.boxes[i]);
        right.boxes.back().name += " again";
    }
    clash::Question question{static_cast<clash::Kind>(kind), 0.0015, 0.1, clash::Direction::Up};
    clash::Memory memory;
    federation::Fit fit;
    std::size_t testedAgain = 0, testedWhole = 0;
    for (int round = 0; round < 6; ++round) {
        std::vector<federation::Member> members{memberOf(left), memberOf(right)};
        members[1].fit = fit;
        if (isItself)
            members.erase(members.begin() + 1);
        const std::uint32_t l[] = {0}, r[] = {isItself ? 0u : 1u};
        const auto lefts = clash::partsOf(members, l), rights = clash::partsOf(members, r);
        Progress progress;
        const auto full = clash::findClashes(members, lefts, rights, question, progress);
        // A run that is cancelled leaves what is remembered as it was.
        Progress cancelled;
        cancelled.cancel();
        if (round % 2 == 1)
            QVERIFY(clash::findClashes(members, lefts, rights, question, cancelled, &memory).isPartial);
        const auto again = clash::findClashes(members, lefts, rights, question, progress, &memory);
        QCOMPARE(again.clashes.size(), full.clashes.size());
        for (std::size_t i = 0; i < full.clashes.size(); ++i) {
            const clash::Clash &a = again.clashes[i], &b = full.clashes[i];
            QVERIFY(a.left == b.left && a.right == b.right && a.isApproximate == b.isApproximate);
            QVERIFY(std::abs(a.depth - b.depth) < 1e-9 && std::abs(a.distance - b.distance) < 1e-9);
            if (question.kind != clash::Kind::Clearance) // between faces that are parallel it may be anywhere
                QVERIFY2(length(a.point - b.point) < 1e-6, std::to_string(length(a.point - b.point)).c_str());
        }
        if (round == 0)
            QVERIFY(again.remembered == 0 && again.pairsTested == full.pairsTested);
        else if (round != 5) {
            testedAgain += again.pairsTested;
            testedWhole += full.pairsTested;
        }
        // What is done next.
        MadeModel& edited = isItself || round % 2 == 0 ? left : right;
        for (int k = 0; k < 4; ++k) {
            auto& box = edited.boxes[std::uniform_int_distribution<std::size_t>(0, edited.boxes.size() - 1)(random)];
            box.low.x -= 0.05 * k;
            box.high.z += 0.02;
        }
        edited.boxes.erase(edited.boxes.begin() + 7);
        edited.boxes.push_back({"New " + std::to_string(round), {3, 3, 1}, {5, 6, 2}});
        if (round == 2)
            std::shuffle(edited.boxes.begin(), edited.boxes.end(), random);
        if (round == 4)
            fit = {1, fromDegrees(1), {0.05, 0, 0}};
    }
    QVERIFY2(testedWhole > 60 && testedAgain < testedWhole / 2,
             qPrintable(QString("%1 of %2").arg(testedAgain).arg(testedWhole)));
    // Another question is asked anew.
    const std::vector<federation::Member> members{memberOf(left), memberOf(right)};
    const std::uint32_t l[] = {0}, r[] = {1};
    Progress progress;
    question.tolerance = 0.02;
    question.clearance = 0.2;
    const auto anew = clash::findClashes(members, clash::partsOf(members, l), clash::partsOf(members, r), question,
                                         progress, &memory);
    QCOMPARE(anew.remembered, std::size_t{0});
}

QTEST_GUILESS_MAIN(TestMemory)
#include "test_memory.moc"
