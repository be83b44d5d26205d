#include <QTest>

#include "core/clash/engine.h"
#include "core/clash/memory.h"
#include "support/ifc_text.h"
#include "support/made_model.h"
#include "support/random_boxes.h"

#include <tbb/global_control.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>
#include <set>

using namespace wendrix;
using test::boxesAtRandom;
using test::made;
using test::MadeModel;
using test::memberOf;

/// Whole members against each other: boxes at random, of which it is known by arithmetic who meets whom and how deep.
class TestEngine : public QObject {
    Q_OBJECT
private slots:
    void findsWhatArithmeticFinds_data();
    void findsWhatArithmeticFinds();
    void doesNotDependOnOrderOrSide();
    void doesNotDependOnWhereItIsExportedFrom_data();
    void doesNotDependOnWhereItIsExportedFrom();
    void nothingIsTestedThatNobodyBuilds();
    void cancelledItSaysSo();
    void aMemberAgainstItself();
    void clearancesAreWhatArithmeticFinds_data();
    void clearancesAreWhatArithmeticFinds();
    void doublesAreFound();
    void isTheSameOnManyThreads();
    void whatTakesPartOnBothSidesIsTestedOnce();
    void whatIsAboveIsSeenFromBothSides();
    void treesGoWithTheirMember();
    void aCancelledSearchKeepsWhatItFound();
    void saysWhyOneIsNotTested();

private:
    using Pairs = std::map<std::pair<std::string, std::string>, double>; ///< names, left and right, with the depth
    static Pairs expected(const MadeModel& left, const MadeModel& right, double tolerance);
    static Pairs found(const federation::Member& left, const federation::Member& right, double tolerance);
    static void compare(const Pairs& is, const Pairs& wanted, double exactness);
};

TestEngine::Pairs TestEngine::expected(const MadeModel& left, const MadeModel& right, double tolerance)
{
    Pairs pairs;
    for (const auto& a : left.boxes)
        for (const auto& b : right.boxes) {
            // The shortest way out is along an axis, past one end or the other.
            double least = 1e9;
            for (const auto axis : {&Vector3::x, &Vector3::y, &Vector3::z})
                least = std::min({least, a.high.*axis - b.low.*axis, b.high.*axis - a.low.*axis});
            if (least > tolerance + 1e-6)
                pairs[{a.name, b.name}] = least;
        }
    return pairs;
}

TestEngine::Pairs TestEngine::found(const federation::Member& left, const federation::Member& right, double tolerance)
{
    const std::vector<federation::Member> members{left, right};
    const std::uint32_t l[] = {0}, r[] = {1};
    Progress progress;
    const clash::Findings findings = clash::findClashes(members, clash::partsOf(members, l), clash::partsOf(members, r),
                                                        {clash::Kind::Hard, tolerance}, progress);
    Pairs pairs;
    const auto name = [&](const clash::Part& part) {
        return members[part.member].model->displayName(members[part.member].model->elements()[part.element]);
    };
    for (const clash::Clash& c : findings.clashes)
        pairs[{name(c.left), name(c.right)}] = c.depth;
    if (pairs.size() != findings.clashes.size())
        qFatal("a pair was found twice");
    return pairs;
}

void TestEngine::compare(const Pairs& is, const Pairs& wanted, double exactness)
{
    for (const auto& [pair, depth] : wanted) {
        const auto at = is.find(pair);
        QVERIFY2(at != is.end(),
                 (pair.first + " and " + pair.second + " were not found, " + std::to_string(depth)).c_str());
        QVERIFY2(
            std::abs(at->second - depth) < exactness,
            (pair.first + " and " + pair.second + ": " + std::to_string(at->second) + " for " + std::to_string(depth))
                .c_str());
    }
    for (const auto& [pair, depth] : is)
        QVERIFY2(
            wanted.contains(pair),
            (pair.first + " and " + pair.second + " do not meet, yet were found, " + std::to_string(depth)).c_str());
}

void TestEngine::findsWhatArithmeticFinds_data()
{
    QTest::addColumn<unsigned>("seed");
    QTest::addColumn<double>("tolerance");
    for (const unsigned seed : {1u, 2u, 3u, 4u})
        for (const double tolerance : {0.0005, 0.0255, 0.1005})
            QTest::addRow("seed %u, %g mm", seed, 1000 * tolerance) << seed << tolerance;
}

void TestEngine::findsWhatArithmeticFinds()
{
    QFETCH(unsigned, seed);
    QFETCH(double, tolerance);
    const MadeModel left = made("Left", boxesAtRandom(seed, 150, "Beam", "IFCBEAM")),
                    right = made("Right", boxesAtRandom(seed + 100, 150, "Duct", "IFCDUCTSEGMENT"));
    const Pairs wanted = expected(left, right, tolerance);
    QVERIFY(wanted.size() > 50);
    compare(found(memberOf(left), memberOf(right), tolerance), wanted, 1e-6);
}

void TestEngine::doesNotDependOnOrderOrSide()
{
    const MadeModel left = made("Left", boxesAtRandom(7, 120, "Beam", "IFCBEAM"));
    MadeModel right = made("Right", boxesAtRandom(8, 120, "Duct", "IFCDUCTSEGMENT"));
    const Pairs first = found(memberOf(left), memberOf(right), 0.0015);
    std::mt19937 random(9);
    for (int round = 0; round < 3; ++round) {
        std::shuffle(right.boxes.begin(), right.boxes.end(), random);
        compare(found(memberOf(left), memberOf(right), 0.0015), first, 1e-9);
    }
    Pairs turned;
    for (const auto& [pair, depth] : found(memberOf(right), memberOf(left), 0.0015))
        turned[{pair.second, pair.first}] = depth;
    compare(turned, first, 1e-9);
}

void TestEngine::doesNotDependOnWhereItIsExportedFrom_data()
{
    QTest::addColumn<double>("degrees");
    QTest::addColumn<QVector<double>>("shift");
    QTest::addColumn<double>("exactness"); // metres
    QTest::newRow("from another corner") << 0.0 << QVector<double>{40, -7, 2} << 1e-6;
    QTest::newRow("turned") << 17.3 << QVector<double>{40, -7, 2} << 1e-6;
    QTest::newRow("upside down in plan") << 180.0 << QVector<double>{0, 0, 0} << 1e-6;
    QTest::newRow("on the map") << -31.7 << QVector<double>{431'208.4, 5'410'977.15, 300} << 1e-4;
}

void TestEngine::doesNotDependOnWhereItIsExportedFrom()
{
    QFETCH(double, degrees);
    QFETCH(QVector<double>, shift);
    QFETCH(double, exactness);
    const MadeModel left = made("Left", boxesAtRandom(11, 100, "Beam", "IFCBEAM"));
    MadeModel right = made("Right", boxesAtRandom(12, 100, "Duct", "IFCDUCTSEGMENT"));
    const Pairs wanted = expected(left, right, 0.0015);
    right.turnedDegrees = degrees;
    right.shift = {shift[0], shift[1], shift[2]};
    federation::Member member = memberOf(right);
    member.fit = {1, fromDegrees(degrees), right.shift};
    compare(found(memberOf(left), member, 0.0015), wanted, exactness);
}

void TestEngine::nothingIsTestedThatNobodyBuilds()
{
    // Everything in one place, but a space, an opening's void and what has no body take no part.
    const Point3 low{0, 0, 0}, high{1, 1, 1};
    const MadeModel left = made("Left", {{"Beam", low, high, "IFCBEAM"}});
    const MadeModel right = made("Right", {{"Room", low, high, "IFCSPACE"}, {"Duct", low, high, "IFCDUCTSEGMENT"}});
    const Pairs pairs = found(memberOf(left), memberOf(right), 0.0015);
    QCOMPARE(pairs.size(), std::size_t{1});
    QCOMPARE(pairs.begin()->first.second, std::string("Duct"));
    const federation::Member member = memberOf(right);
    for (ifc::ElementIndex i = 0; i < member.model->elements().size(); ++i)
        QCOMPARE(clash::isTestable(member, i), member.model->className(member.model->elements()[i]) != "IfcSpace");
}

void TestEngine::cancelledItSaysSo()
{
    const std::vector<federation::Member> members{
        memberOf(made("Left", boxesAtRandom(1, 50, "Beam", "IFCBEAM"))),
        memberOf(made("Right", boxesAtRandom(2, 50, "Duct", "IFCDUCTSEGMENT")))};
    const std::uint32_t l[] = {0}, r[] = {1};
    Progress progress;
    progress.cancel();
    const auto findings =
        clash::findClashes(members, clash::partsOf(members, l), clash::partsOf(members, r), {}, progress);
    QVERIFY(findings.isPartial && findings.clashes.empty());
}

void TestEngine::aMemberAgainstItself()
{
    const MadeModel one = made("One", boxesAtRandom(21, 80, "Beam", "IFCBEAM"));
    const std::vector<federation::Member> members{memberOf(one)};
    const std::uint32_t own[] = {0};
    Progress progress;
    const auto parts = clash::partsOf(members, own);
    const auto findings = clash::findClashes(members, parts, parts, {clash::Kind::Hard, 0.0015}, progress);
    // Each two once, and nothing with itself.
    std::set<std::pair<ifc::ElementIndex, ifc::ElementIndex>> pairs;
    for (const clash::Clash& c : findings.clashes) {
        QVERIFY(c.left.element != c.right.element);
        QVERIFY(pairs.insert(std::minmax(c.left.element, c.right.element)).second);
    }
    std::size_t wanted = 0;
    for (const auto& [pair, depth] : expected(one, one, 0.0015))
        wanted += pair.first < pair.second ? 1 : 0;
    QCOMPARE(pairs.size(), wanted);
}

void TestEngine::clearancesAreWhatArithmeticFinds_data()
{
    QTest::addColumn<double>("clearance");
    QTest::addColumn<int>("direction");
    for (const double clearance : {0.0505, 0.4005})
        for (const auto& [name, direction] : {std::pair{"any", clash::Direction::Any},
                                              {"up", clash::Direction::Up},
                                              {"down", clash::Direction::Down},
                                              {"side", clash::Direction::Side}})
            QTest::addRow("%g m %s", clearance, name) << clearance << static_cast<int>(direction);
}

void TestEngine::clearancesAreWhatArithmeticFinds()
{
    QFETCH(double, clearance);
    QFETCH(int, direction);
    const MadeModel left = made("Left", boxesAtRandom(31, 200, "Beam", "IFCBEAM")),
                    right = made("Right", boxesAtRandom(32, 200, "Duct", "IFCDUCTSEGMENT"));
    Pairs wanted;
    for (const auto& a : left.boxes)
        for (const auto& b : right.boxes) {
            // How far apart they are along each axis; less than nothing where they overlap.
            const auto apart = [&](auto axis) {
                return std::max(a.low.*axis - b.high.*axis, b.low.*axis - a.high.*axis);
            };
            const double x = apart(&Vector3::x), y = apart(&Vector3::y), z = apart(&Vector3::z);
            const double plan = std::hypot(std::max(0.0, x), std::max(0.0, y));
            std::optional<double> gap;
            if (constexpr double kTouch = 1e-9; x < kTouch && y < kTouch && z < kTouch)
                gap = 0;
            else if (direction == static_cast<int>(clash::Direction::Any))
                gap = std::hypot(plan, std::max(0.0, z));
            else if (direction == static_cast<int>(clash::Direction::Side) && z < 0)
                gap = plan;
            else if (direction == static_cast<int>(clash::Direction::Up) && x < 0 && y < 0 && b.low.z >= a.high.z)
                gap = z;
            else if (direction == static_cast<int>(clash::Direction::Down) && x < 0 && y < 0 && a.low.z >= b.high.z)
                gap = z;
            if (gap && *gap < clearance)
                wanted[{a.name, b.name}] = *gap;
        }
    QVERIFY(wanted.size() > 50);
    const std::vector<federation::Member> members{memberOf(left), memberOf(right)};
    const std::uint32_t l[] = {0}, r[] = {1};
    Progress progress;
    clash::Question question{clash::Kind::Clearance, 0.001, clearance, static_cast<clash::Direction>(direction)};
    const clash::Findings findings =
        clash::findClashes(members, clash::partsOf(members, l), clash::partsOf(members, r), question, progress);
    Pairs is;
    const auto name = [&](const clash::Part& part) {
        return members[part.member].model->displayName(members[part.member].model->elements()[part.element]);
    };
    for (const clash::Clash& c : findings.clashes) {
        is[{name(c.left), name(c.right)}] = c.distance;
        QCOMPARE(c.depth, 0.0);
    }
    compare(is, wanted, 1e-6);
}

void TestEngine::doublesAreFound()
{
    const MadeModel left = made("Left", boxesAtRandom(41, 60, "Beam", "IFCBEAM"));
    MadeModel right = made("Right", boxesAtRandom(42, 60, "Duct", "IFCDUCTSEGMENT"));
    for (std::size_t i = 0; i < 10; ++i) {
        right.boxes.push_back(left.boxes[i]);
        right.boxes.back().name = "Again " + std::to_string(i);
        right.boxes.back().low.x += i < 5 ? 0 : 0.002; // too far off
        right.boxes.back().high.x += i < 5 ? 0 : 0.002;
    }
    const std::vector<federation::Member> members{memberOf(left), memberOf(right)};
    const std::uint32_t l[] = {0}, r[] = {1};
    Progress progress;
    const clash::Findings findings = clash::findClashes(members, clash::partsOf(members, l), clash::partsOf(members, r),
                                                        {clash::Kind::Duplicate, 0.001}, progress);
    QCOMPARE(findings.clashes.size(), std::size_t{5});
    for (const clash::Clash& c : findings.clashes)
        QVERIFY(c.distance < 1e-6 && c.depth > 0.05);
}

void TestEngine::isTheSameOnManyThreads()
{
    const std::vector<federation::Member> members{
        memberOf(made("Left", boxesAtRandom(51, 400, "Beam", "IFCBEAM"))),
        memberOf(made("Right", boxesAtRandom(52, 400, "Duct", "IFCDUCTSEGMENT")))};
    const std::uint32_t l[] = {0}, r[] = {1};
    const auto left = clash::partsOf(members, l), right = clash::partsOf(members, r);
    std::optional<clash::Findings> first;
    for (const std::size_t threads : {1u, 2u, 7u}) {
        const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
        Progress progress;
        const clash::Findings findings =
            clash::findClashes(members, left, right, {clash::Kind::Hard, 0.0015}, progress);
        if (!first) {
            first = findings;
            QVERIFY(first->clashes.size() > 500);
            continue;
        }
        QCOMPARE(findings.pairsTested, first->pairsTested);
        QCOMPARE(findings.clashes.size(), first->clashes.size());
        for (std::size_t i = 0; i < findings.clashes.size(); ++i) {
            const clash::Clash &a = findings.clashes[i], &b = first->clashes[i];
            QVERIFY(a.left == b.left && a.right == b.right && a.depth == b.depth && a.point == b.point);
        }
    }
}

void TestEngine::whatTakesPartOnBothSidesIsTestedOnce()
{
    // Of one member, all against the first half: pairs of two of that half come once, whichever side they are on.
    const MadeModel one = made("One", boxesAtRandom(61, 80, "Beam", "IFCBEAM"));
    const std::vector<federation::Member> members{memberOf(one)};
    const std::uint32_t own[] = {0};
    const auto all = clash::partsOf(members, own);
    const std::vector<clash::Part> half(all.begin(), all.begin() + 40);
    Progress progress;
    const clash::Question question{clash::Kind::Hard, 0.0015};
    const auto whole = clash::findClashes(members, all, all, question, progress);
    std::set<std::pair<ifc::ElementIndex, ifc::ElementIndex>> wanted;
    for (const clash::Clash& c : whole.clashes)
        if (c.left.element < 40 || c.right.element < 40)
            wanted.insert(std::minmax(c.left.element, c.right.element));
    for (const auto& [left, right] : {std::pair{&all, &half}, std::pair{&half, &all}}) {
        std::set<std::pair<ifc::ElementIndex, ifc::ElementIndex>> found;
        for (const clash::Clash& c : clash::findClashes(members, *left, *right, question, progress).clashes)
            QVERIFY(found.insert(std::minmax(c.left.element, c.right.element)).second);
        QVERIFY(found == wanted);
    }
}

void TestEngine::whatIsAboveIsSeenFromBothSides()
{
    // Of a set against itself each gap upwards comes once, from the one below, whichever comes first in the file.
    const MadeModel one =
        made("One", {{"High", {0, 0, 1.3}, {1, 1, 2}}, {"Low", {0, 0, 0}, {1, 1, 1}}, {"Top", {0, 0, 2.1}, {1, 1, 3}}});
    const std::vector<federation::Member> members{memberOf(one)};
    const std::uint32_t own[] = {0};
    const auto parts = clash::partsOf(members, own);
    Progress progress;
    for (const auto direction : {clash::Direction::Up, clash::Direction::Down}) {
        const auto found =
            clash::findClashes(members, parts, parts, {clash::Kind::Clearance, 0.001, 0.4, direction}, progress);
        QCOMPARE(found.clashes.size(), std::size_t{2});
        for (const clash::Clash& c : found.clashes) {
            const auto heightOf = [&](clash::Part p) {
                return members[0].geometry->elements()[p.element].bounds.min.z;
            };
            QCOMPARE(heightOf(c.left) < heightOf(c.right), direction == clash::Direction::Up);
        }
    }
}

void TestEngine::treesGoWithTheirMember()
{
    auto read = test::readText(made("One", boxesAtRandom(81, 30, "Beam", "IFCBEAM")).text());
    const std::weak_ptr<const geometry::MemberGeometry> geometry = read->geometry;
    const auto index = clash::MemberIndex::of(read->geometry);
    QVERIFY(index == clash::MemberIndex::of(read->geometry)); // made once
    const std::size_t before = index->bytes();
    (void)index->shape(0).tree();
    QVERIFY(index->bytes() > before);
    read.reset();
    QVERIFY(!geometry.expired()); // the index keeps what it speaks of
    const_cast<std::shared_ptr<const clash::MemberIndex>&>(index).reset();
    QVERIFY(geometry.expired());
}

void TestEngine::aCancelledSearchKeepsWhatItFound()
{
    // Cancelled as soon as some of the search is done, it gives clashes that a whole run gives too.
    const std::vector<federation::Member> members{
        memberOf(made("Left", boxesAtRandom(91, 900, "Beam", "IFCBEAM"))),
        memberOf(made("Right", boxesAtRandom(92, 900, "Duct", "IFCDUCTSEGMENT")))};
    const std::uint32_t l[] = {0}, r[] = {1};
    const auto left = clash::partsOf(members, l), right = clash::partsOf(members, r);
    Progress whole;
    const clash::Question question{clash::Kind::Hard, 0.0015};
    const auto all = clash::findClashes(members, left, right, question, whole);
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    Progress* token = nullptr;
    Progress cancelled([&](const std::string&, int percent) {
        if (percent >= 20)
            token->cancel();
    });
    token = &cancelled;
    const auto some = clash::findClashes(members, left, right, question, cancelled);
    QVERIFY(some.isPartial);
    QVERIFY(!some.clashes.empty() && some.clashes.size() < all.clashes.size());
    for (const clash::Clash& c : some.clashes)
        QVERIFY(std::any_of(all.clashes.begin(), all.clashes.end(),
                            [&](const clash::Clash& other) { return other.left == c.left && other.right == c.right; }));
}

void TestEngine::saysWhyOneIsNotTested()
{
    std::string text = made("Left", boxesAtRandom(71, 3, "Beam", "IFCBEAM")).text();
    text.insert(text.rfind("ENDSEC;"), "#9001=IFCSHAPEREPRESENTATION($,'Body','Brep',(#9002));#9002=IFCFACETEDBREP($);"
                                       "#9003=IFCPRODUCTDEFINITIONSHAPE($,$,(#9001));"
                                       "#9004=IFCBEAM('0000000000000000000abc',$,'Broken',$,$,$,#9003,$,$);");
    const auto read = test::readText(text);
    federation::Member member;
    member.model = read->model;
    member.geometry = read->geometry;
    int without = 0;
    for (ifc::ElementIndex e = 0; e < member.model->elements().size(); ++e) {
        const bool isBroken = member.model->displayName(member.model->elements()[e]) == "Broken";
        QCOMPARE(clash::whyNotTestable(member, e).has_value(), isBroken);
        if (isBroken)
            QCOMPARE(*clash::whyNotTestable(member, e), std::string("Its body could not be built."));
        without += isBroken ? 1 : 0;
    }
    QCOMPARE(without, 1);
}

QTEST_GUILESS_MAIN(TestEngine)
#include "test_engine.moc"
