#include <QTest>

#include "core/project/register_grid.h"
#include "support/deliveries.h"

#include <algorithm>
#include <random>
#include <set>

using namespace wendrix;
using namespace wendrix::project;
using test::delivery;

/// The register as a table: what stands where, and that arrows reach all of it.
class TestRegisterGrid : public QObject {
    Q_OBJECT
private slots:
    void laysOutTheRegister();
    void stepsThroughTheRegister();
    void everyPlaceStandsWhereItIsSaid();
    void stepsKeepTheirWay();
    void everyPlaceIsReached();
};

namespace {

struct Sample {
    std::vector<Discipline> disciplines;
    std::vector<Delivery> deliveries;
};

/// Registers of any make-up: empty rows, empty columns, full cells, a single card.
std::vector<Sample> samples()
{
    std::mt19937 random(20261127);
    const auto upTo = [&](int most) { return std::uniform_int_distribution<int>(0, most)(random); };
    std::vector<Sample> all;
    for (int n = 0; n < 150; ++n) {
        Sample s;
        const int rows = 1 + upTo(11), cycles = 1 + upTo(29), count = 1 + upTo(n % 3 == 0 ? 4 : 200);
        for (int row = 0; row < rows; ++row)
            s.disciplines.push_back({"D" + std::to_string(row), {}, {}, row == 0, {}, {}, {}});
        for (int i = 0; i < count; ++i)
            s.deliveries.push_back(delivery(1000 + i, "D" + std::to_string(upTo(rows - 1)), "P" + std::to_string(i),
                                            1 + upTo(cycles - 1), static_cast<DeliveryState>(upTo(4))));
        all.push_back(std::move(s));
    }
    return all;
}

using Way = RegisterGrid::Way;
constexpr Way kWays[] = {Way::Left, Way::Right, Way::Up, Way::Down};

} // namespace

void TestRegisterGrid::laysOutTheRegister()
{
    const std::vector<Discipline> disciplines{{"A", {}, {}, true, {}, {}, {}}, {"B", {}, {}, false, {}, {}, {}}};
    std::vector<Delivery> deliveries{delivery(11, "A", "P01", 1, DeliveryState::InUse),
                                     delivery(12, "B", "P01", 1),
                                     delivery(13, "A", "P02", 3),
                                     delivery(14, "A", "P03", 3),
                                     delivery(15, "gone", "P01", 1),
                                     delivery(16, "B", "P02", -4),
                                     delivery(17, "B", "P03", 2'000'000'000)};
    deliveries.pop_back();
    const RegisterGrid grid(disciplines, deliveries);
    QCOMPARE(grid.rows(), std::size_t{2});
    QCOMPARE(grid.cycles(), 3);
    QCOMPARE(grid.cell(0, 3), (std::vector<std::size_t>{3, 2})); // the newest first
    QVERIFY(grid.cell(1, 2).empty());
    QCOMPARE(grid.tallest(0), std::size_t{2});
    QVERIFY(grid.find(13) == 2u && !grid.find(15) && !grid.find(99)); // a discipline that is not there has no row
    QCOMPARE(grid.cellOf(2)->level, std::size_t{1});
    QVERIFY(!grid.cellOf(4));
    QCOMPARE(grid.cellOf(5)->cycle, 1); // a cycle that can not be counts as the first
    QCOMPARE(grid.waiting(), (std::vector<std::size_t>{1, 2, 3, 5}));
    deliveries.push_back(delivery(17, "B", "P03", 2'000'000'000));
    QVERIFY(RegisterGrid(disciplines, deliveries).cycles() <= 500);
    QCOMPARE(RegisterGrid({}, {}).rows(), std::size_t{0});
}

void TestRegisterGrid::stepsThroughTheRegister()
{
    using Way = RegisterGrid::Way;
    const std::vector<Discipline> disciplines{{"A", {}, {}, true, {}, {}, {}},
                                              {"B", {}, {}, false, {}, {}, {}},
                                              {"C", {}, {}, false, {}, {}, {}},
                                              {"D", {}, {}, false, {}, {}, {}}};
    const std::vector<Delivery> deliveries{delivery(1, "A", "P01", 1), delivery(2, "A", "P02", 4),
                                           delivery(3, "A", "P03", 4), delivery(4, "B", "P01", 2),
                                           delivery(5, "D", "P01", 4)};
    const RegisterGrid grid(disciplines, deliveries);
    const auto step = [&](DeliveryId from, Way way) {
        const auto to = grid.step(*grid.find(from), way);
        return to ? deliveries[*to].id : 0;
    };
    QCOMPARE(step(1, Way::Right), 3); // over two empty cycles, at the same level
    QCOMPARE(step(2, Way::Left), 1);
    QCOMPARE(step(1, Way::Left), 0);
    QCOMPARE(step(3, Way::Down), 2); // within the cell first
    QCOMPARE(step(2, Way::Up), 3);
    QCOMPARE(step(2, Way::Down), 4); // then the nearest of the next row that has any
    QCOMPARE(step(4, Way::Down), 5); // over the empty row
    QCOMPARE(step(4, Way::Up), 1);
    QCOMPARE(step(5, Way::Down), 0);
    QVERIFY(!grid.step(99, Way::Up));
}

void TestRegisterGrid::everyPlaceStandsWhereItIsSaid()
{
    for (const Sample& s : samples()) {
        const RegisterGrid grid(s.disciplines, s.deliveries);
        std::size_t placed = 0;
        for (std::size_t row = 0; row < grid.rows(); ++row)
            for (int cycle = 1; cycle <= grid.cycles(); ++cycle)
                for (std::size_t level = 0; level < grid.cell(row, cycle).size(); ++level) {
                    const auto place = grid.cell(row, cycle)[level];
                    const auto at = grid.cellOf(place);
                    QVERIFY(at && at->row == row && at->cycle == cycle && at->level == level);
                    QVERIFY(s.deliveries[place].discipline == s.disciplines[row].name &&
                            s.deliveries[place].cycle == cycle);
                    QVERIFY(level < grid.tallest(row));
                    QVERIFY(grid.find(s.deliveries[place].id) == place);
                    ++placed;
                }
        QCOMPARE(placed, s.deliveries.size()); // each once
        QCOMPARE(static_cast<std::ptrdiff_t>(grid.waiting().size()),
                 std::count_if(s.deliveries.begin(), s.deliveries.end(),
                               [](const Delivery& d) { return d.state == DeliveryState::Waiting; }));
        QVERIFY(std::is_sorted(grid.waiting().begin(), grid.waiting().end()));
    }
}

void TestRegisterGrid::stepsKeepTheirWay()
{
    for (const Sample& s : samples()) {
        const RegisterGrid grid(s.disciplines, s.deliveries);
        for (std::size_t from = 0; from < s.deliveries.size(); ++from)
            for (const Way way : kWays) {
                const auto to = grid.step(from, way);
                if (!to)
                    continue;
                const auto a = *grid.cellOf(from), b = *grid.cellOf(*to);
                const bool isUp = way == Way::Up;
                if (way == Way::Left || way == Way::Right)
                    QVERIFY(a.row == b.row && (way == Way::Left ? b.cycle < a.cycle : b.cycle > a.cycle));
                else if (a.row == b.row)
                    QVERIFY(a.cycle == b.cycle && (isUp ? b.level + 1 == a.level : b.level == a.level + 1));
                else
                    QVERIFY(isUp ? b.row < a.row : b.row > a.row);
            }
    }
}

void TestRegisterGrid::everyPlaceIsReached()
{
    for (const Sample& s : samples()) {
        const RegisterGrid grid(s.disciplines, s.deliveries);
        std::set<std::size_t> seen{0};
        std::vector<std::size_t> left{0};
        while (!left.empty()) {
            const std::size_t from = left.back();
            left.pop_back();
            for (const Way way : kWays)
                if (const auto to = grid.step(from, way); to && seen.insert(*to).second)
                    left.push_back(*to);
        }
        QCOMPARE(seen.size(), s.deliveries.size()); // by arrows alone, from anywhere
    }
}

QTEST_APPLESS_MAIN(TestRegisterGrid)
#include "test_register_grid.moc"
