#include "support/mutator.h"

#include <algorithm>

namespace wendrix::test {

using Box = MadeModel::Box;
using Written = MadeModel::Written;

MadeModel Mutator::building(int elements)
{
    MadeModel m;
    m.storeys = {{"Level 1", 0}}; // what is raised does not come into another one as well
    const char* classes[] = {"IFCBEAM", "IFCMEMBER", "IFCPIPESEGMENT"};
    for (int i = 0; i < elements; ++i) {
        // Rows 5 m apart; in a row every second one begins where the one before ends. No two are of one size.
        const int row = i / 12, along = i % 12;
        const double length = 1.2 + 0.007 * i, pair = 8.0 * (along / 2);
        const double start = along % 2 == 0 ? pair : pair + 1.2 + 0.007 * (i - 1);
        const double deep = 0.2 + 0.0013 * (i / 2); // the two of a pair are of one section
        m.boxes.push_back({"Member " + std::to_string(i),
                           {start, 5.0 * row, 2},
                           {start + length, 5.0 * row + 0.3, 2 + deep},
                           classes[row % 3],
                           {},
                           {{"Mark", "M" + std::to_string(i)}, {"Coat", "red"}}});
    }
    return m;
}

void Mutator::move(Box& b, int farthest)
{
    const Vector3 by{0.01 * one(1, farthest), 0.01 * one(-farthest, farthest), 0.01 * one(-20, 20)};
    b.low = b.low + by;
    b.high = b.high + by;
    ledger_.insert(ledger::moved(b.name, by));
}

void Mutator::turn(Box& b)
{
    const int degrees = one(1, 60) * (isLucky(50) ? 1 : -1);
    b.turnedDegrees += degrees;
    ledger_.insert(ledger::moved(b.name, {}, degrees));
}

void Mutator::reshape(Box& b)
{
    // About its middle, so that it stays where it is.
    const Vector3 size = b.high - b.low;
    const double wider = 0.01 * one(2, 10), longer = 0.01 * one(-20, 20);
    b.low = b.low - Vector3{0.5 * longer, 0.5 * wider, 0};
    b.high = b.high + Vector3{0.5 * longer, 0.5 * wider, 0};
    const double common = std::min(size.x, size.x + longer) * size.y * size.z;
    ledger_.insert(ledger::reshaped(b.name, (size.x + longer) * (size.y + wider) * size.z - common,
                                    size.x * size.y * size.z - common));
}

void Mutator::redescribe(Box& b)
{
    b.properties[1].second = "green";
    ledger_.insert(ledger::redescribed(b.name, "Seed store.Coat", "red", "green"));
}

void Mutator::renew(Box& b)
{
    b.guid = MadeModel::guidOf("renewed " + b.name);
    ledger_.insert(ledger::renewed(b.name));
}

void Mutator::writeAnotherWay(MadeModel& m)
{
    constexpr Written kWays[] = {Written::Swept, Written::Faceted, Written::Triangles, Written::OtherTriangles,
                                 Written::InBuildingsFrame};
    for (Box& b : m.boxes)
        if (isLucky(50))
            b.written = kWays[one(0, 4)];
    if (isLucky(50)) {
        m.metresPerUnit = 0.001;
        m.unit = "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)";
    }
    m.firstNumber = one(100, 100000);
    m.hasOwners = isLucky(50);
    if (isLucky(30)) {
        m.shift = {10.0 * one(-50, 50), 10.0 * one(-50, 50), one(-10, 10) * 1.0};
        m.turnedDegrees = one(-170, 170);
    }
    std::shuffle(m.boxes.begin(), m.boxes.end(), random_);
}

MadeModel Mutator::revised(const MadeModel& before)
{
    ledger_.clear();
    MadeModel after = before;
    after.boxes.clear();
    for (std::size_t i = 0; i < before.boxes.size(); ++i) {
        Box b = before.boxes[i];
        const bool hasNext = i % 2 == 0 && i + 1 < before.boxes.size();
        switch (one(0, 13)) {
        case 0:
            move(b, 300);
            break;
        case 1:
            turn(b);
            break;
        case 2:
            reshape(b);
            break;
        case 3:
            redescribe(b);
            break;
        case 4:
            renew(b);
            break;
        case 5:
            move(b, 100);
            redescribe(b);
            break;
        case 6:
            renew(b);
            move(b, 40);
            break;
        case 7:
            renew(b);
            reshape(b);
            break;
        case 8:
            ledger_.insert(ledger::removed(b.name));
            continue;
        case 9: {
            Box first = b, second = b;
            first.name += " a";
            second.name += " b";
            first.high.x = second.low.x = b.low.x + 0.01 * one(40, 80);
            first.guid = MadeModel::guidOf(first.name);
            second.guid = MadeModel::guidOf(second.name);
            ledger_.insert(ledger::split(b.name, {first.name, second.name}));
            after.boxes.push_back(first);
            after.boxes.push_back(second);
            continue;
        }
        case 10:
            if (hasNext && before.boxes[i + 1].high.z == b.high.z) {
                const Box& next = before.boxes[i + 1];
                const std::string was = b.name;
                b.high.x = next.high.x;
                b.name += " and more";
                b.guid = MadeModel::guidOf(b.name);
                ledger_.insert(ledger::merged({was, next.name}, b.name));
                ++i;
            }
            break;
        default:
            break;
        }
        after.boxes.push_back(b);
    }
    for (int i = 0; i < one(0, 5); ++i) {
        const double y = 300 + 2.0 * i;
        after.boxes.push_back({"New " + std::to_string(i), {0, y, 0}, {3 + 0.01 * i, y + 0.4, 0.4}, "IFCBEAM"});
        ledger_.insert(ledger::added(after.boxes.back().name));
    }
    writeAnotherWay(after);
    return after;
}

} // namespace wendrix::test
