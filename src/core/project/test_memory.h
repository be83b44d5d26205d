#pragma once

#include "core/clash/memory.h"
#include "core/project/records.h"

#include <map>
#include <mutex>

namespace wendrix::project {

/// What the tests of a project found when they were last run here, so that running them again costs what changed.
class TestMemory {
public:
    /// Held by one run at a time; another that runs meanwhile does without.
    [[nodiscard]] std::unique_lock<std::mutex> lock() { return std::unique_lock(mutex_, std::try_to_lock); }
    /// Of one test, whatever it is called. To be used while locked.
    [[nodiscard]] clash::Memory& of(const clash::Test& test) { return byTest_[keyOf(test)]; }
    /// Forgets all but those tests.
    void keepOnly(const std::vector<RunTest>& tests)
    {
        std::erase_if(byTest_, [&](const auto& known) {
            return std::none_of(tests.begin(), tests.end(),
                                [&](const RunTest& t) { return known.first == keyOf(t.test); });
        });
    }

private:
    using Key = std::tuple<std::string, std::string, clash::Kind, clash::Direction>;
    static Key keyOf(const clash::Test& t) { return {t.left, t.right, t.kind, t.direction}; }
    std::mutex mutex_;
    std::map<Key, clash::Memory> byTest_;
};

} // namespace wendrix::project
