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
    [[nodiscard]] clash::Memory& of(const ClashTest& test) { return byTest_[{test.left, test.right, test.kind}]; }
    /// Forgets all but those tests.
    void keepOnly(const std::vector<ClashTest>& tests)
    {
        std::erase_if(byTest_, [&](const auto& known) {
            return std::none_of(tests.begin(), tests.end(), [&](const ClashTest& t) {
                return known.first == Key{t.left, t.right, t.kind};
            });
        });
    }

private:
    using Key = std::tuple<std::string, std::string, clash::Kind>;
    std::mutex mutex_;
    std::map<Key, clash::Memory> byTest_;
};

} // namespace wendrix::project
