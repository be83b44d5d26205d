#pragma once

#include "core/step/entity_index.h"

#include <string_view>

namespace wendrix::step {

/// The distinct keywords of a file in the order they are met, found by the first and last bytes and the length of a
/// word. Words are views of the file's bytes, which outlive the table.
class KeywordTable {
public:
    KeywordTable() : slots_(1 << 12) {}

    /// Words past what an index can count share the last one, which no schema knows.
    KeywordIndex indexOf(std::string_view word);
    /// Upper case, by index.
    std::vector<std::string> keywords;
    /// As first written, by index.
    std::vector<std::string_view> words;

private:
    struct Slot {
        std::string_view word;
        KeywordIndex index = 0;
    };
    KeywordIndex add(std::string_view word);
    void grow();

    std::vector<Slot> slots_;
    std::size_t used_ = 0;
};

/// The entities that a scan finds, in the order of the file.
class EntityTable {
public:
    explicit EntityTable(std::string_view bytes) : bytes_(bytes) {}

    /// Takes up a statement "#12= IFCWALL(...)" that starts at a byte of the file.
    /// @return false where it is not well formed
    bool add(std::size_t start, std::string_view statement);
    /// Takes up what another table found further on in the same file.
    void append(const EntityTable& later);

    std::vector<Entry> entries;
    KeywordTable table;
    EntityId lastId = 0; ///< 0: none yet

private:
    std::string_view bytes_;
};

} // namespace wendrix::step
