#pragma once

#include "support/change_ledger.h"

#include <random>

namespace wendrix::test {

/// Edits a made building at random and keeps a ledger of what it did.
///
/// Elements: moved, turned, reshaped, redescribed, given another id, removed, cut in two, joined with the one beside,
/// or several of these; some come. The file: other units, another order, other numbers, bodies written another way,
/// another origin. Only what is done to elements stands in the ledger.
class Mutator {
public:
    explicit Mutator(unsigned seed) : random_(seed) {}

    /// Members of distinct sizes in rows, each beside another it could be joined with.
    [[nodiscard]] MadeModel building(int elements);
    /// The next revision; `ledger()` then says what was done.
    [[nodiscard]] MadeModel revised(const MadeModel& before);
    [[nodiscard]] const Ledger& ledger() const { return ledger_; }

private:
    [[nodiscard]] int one(int from, int to) { return std::uniform_int_distribution(from, to)(random_); }
    [[nodiscard]] bool isLucky(int percent) { return one(1, 100) <= percent; }
    void move(MadeModel::Box& b, int farthest);
    void turn(MadeModel::Box& b);
    void reshape(MadeModel::Box& b);
    void redescribe(MadeModel::Box& b);
    void renew(MadeModel::Box& b);
    void writeAnotherWay(MadeModel& m);

    std::mt19937 random_;
    Ledger ledger_;
};

} // namespace wendrix::test
