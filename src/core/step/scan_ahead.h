#pragma once

#include "core/base/progress.h"

#include <cstddef>
#include <memory>
#include <string_view>

namespace wendrix::step {

class EntityTable;

/// Scans the later parts of a file on other threads while its beginning is scanned. Each part starts where a line looks
/// like an entity's, which only the scan that comes along there can know: if it arrives just there, between two
/// statements of the data, it takes over what was found; if not, the part is dropped and it goes on by itself. What is
/// found is so the same as by one scan from beginning to end.
class ScanAhead {
public:
    /// Begins at once, where the file is large enough to gain by it.
    ScanAhead(std::string_view bytes, const Progress& progress);
    /// Waits for what is under way.
    ~ScanAhead();
    ScanAhead(const ScanAhead&) = delete;
    ScanAhead& operator=(const ScanAhead&) = delete;

    /// Takes over the parts that follow from `at`, where a statement of the data begins.
    /// @return where the scan goes on: `at` itself if no part begins there
    [[nodiscard]] std::size_t takeFrom(std::size_t at, EntityTable& entities);

private:
    struct Work;
    std::unique_ptr<Work> work_;
};

} // namespace wendrix::step
