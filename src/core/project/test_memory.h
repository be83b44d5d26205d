#pragma once

#include "core/clash/memory.h"
#include "core/project/records.h"

#include <algorithm>
#include <map>
#include <mutex>
#include <set>

namespace wendrix::project {

/// What the tests of a project found when they were last run here, so that running them again costs what changed.
class TestMemory {
public:
    /// Held by one run at a time; another that runs meanwhile does without.
    [[nodiscard]] std::unique_lock<std::mutex> lock() { return std::unique_lock(mutex_, std::try_to_lock); }
    /// Of one of a run's tests: by its name, so that what a changed set still picks is not tested again. To be used
    /// while locked.
    [[nodiscard]] clash::Memory& of(const std::vector<RunTest>& tests, std::size_t which)
    {
        return byTest_[keyOf(tests, which)];
    }
    /// Forgets all but those tests.
    void keepOnly(const std::vector<RunTest>& tests)
    {
        std::set<Key> wanted;
        for (std::size_t k = 0; k < tests.size(); ++k)
            wanted.insert(keyOf(tests, k));
        std::erase_if(byTest_, [&](const auto& known) { return !wanted.contains(known.first); });
    }

private:
    using Key = std::tuple<std::string, clash::Kind, clash::Direction, std::size_t>; ///< and which of those called so
    static Key keyOf(const std::vector<RunTest>& tests, std::size_t which)
    {
        const clash::Test& test = tests[which].test;
        const auto before = std::count_if(tests.begin(), tests.begin() + static_cast<std::ptrdiff_t>(which),
                                          [&](const RunTest& t) { return t.test.name == test.name; });
        return {test.name, test.kind, test.direction, static_cast<std::size_t>(before)};
    }
    std::mutex mutex_;
    std::map<Key, clash::Memory> byTest_;
};

} // namespace wendrix::project
