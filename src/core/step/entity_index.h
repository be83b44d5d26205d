#pragma once

#include "core/base/binary.h"
#include "core/base/progress.h"
#include "core/step/value.h"

#include <span>
#include <string>
#include <vector>

namespace wendrix::step {

using KeywordIndex = std::uint16_t;

/// Where one entity stands in its file. 16 bytes, since a large model has tens of millions.
class Entry {
public:
    Entry() = default;
    Entry(EntityId id, std::uint64_t offset, KeywordIndex keyword) : id_(id), place_(offset << 16 | keyword) {}

    [[nodiscard]] EntityId id() const { return id_; }
    /// Of the '(' that opens the arguments.
    [[nodiscard]] std::uint64_t offset() const { return place_ >> 16; }
    /// Index into EntityIndex::keywords().
    [[nodiscard]] KeywordIndex keyword() const { return static_cast<KeywordIndex>(place_); }

private:
    EntityId id_ = 0;
    std::uint64_t place_ = 0;
};

/// The entities of a file, found by number in constant time and by keyword in order.
class EntityIndex {
public:
    EntityIndex() = default;
    /// @param entries  as the file has them; of entities with one number the first counts
    /// @param keywords upper case, no two alike
    /// Once cancelled it is of no use.
    EntityIndex(std::vector<Entry> entries, std::vector<std::string> keywords, const Progress& progress);

    void save(BinaryWriter& out) const;
    [[nodiscard]] static EntityIndex restore(BinaryReader& in);

    /// Sorted by id.
    [[nodiscard]] std::span<const Entry> all() const { return entries_.view(); }
    [[nodiscard]] std::span<const std::string> keywords() const { return keywords_; }
    [[nodiscard]] const Entry* find(EntityId id) const;
    /// Positions in all() of the entities with this keyword, ascending.
    [[nodiscard]] std::span<const std::uint32_t> withKeyword(KeywordIndex keyword) const;
    /// How many entities repeated a number and were passed over.
    [[nodiscard]] std::size_t repeated() const { return repeated_; }

private:
    /// Whether every place in it is one that there is, as after reading it back it may not be.
    [[nodiscard]] bool isConsistent() const;

    Column<Entry> entries_;
    std::vector<std::string> keywords_;
    Column<std::uint32_t> buckets_;   ///< first entry with id >> shift_ at least this
    Column<std::uint32_t> byKeyword_; ///< positions, keyword by keyword
    Column<std::uint32_t> firstOf_;   ///< where in byKeyword_ each keyword begins; one more at the end
    int shift_ = 0;
    std::size_t repeated_ = 0;
};

} // namespace wendrix::step
