#pragma once

#include <cstdint>
#include <optional>
#include <utility>
#include <vector>

namespace wendrix::geometry {

/// Numbers looked up by key, in one piece of memory: for the many small tables that reading bodies needs, where a node
/// for each entry costs more than all the rest. Linear probing, at most half full.
template <class Key, class Hash>
class FlatIndex {
public:
    /// Makes room for that many entries without growing.
    void reserve(std::size_t entries)
    {
        std::size_t size = 16;
        while (size < 2 * entries)
            size *= 2;
        if (size > slots_.size())
            grow(size);
    }
    /// @return the number kept for the key, and whether it was given just now
    std::pair<std::uint32_t, bool> tryEmplace(const Key& key, std::uint32_t number)
    {
        if (2 * (count_ + 1) > slots_.size())
            grow(slots_.empty() ? 16 : 2 * slots_.size());
        Slot& slot = slots_[slotOf(key)];
        const bool isNew = !slot.isTaken;
        if (isNew) {
            slot = {key, number, true};
            ++count_;
        }
        return {slot.number, isNew};
    }

    [[nodiscard]] std::optional<std::uint32_t> find(const Key& key) const
    {
        if (slots_.empty())
            return {};
        const Slot& slot = slots_[slotOf(key)];
        return slot.isTaken ? std::optional(slot.number) : std::nullopt;
    }
    /// @return the number kept for the key before
    std::optional<std::uint32_t> exchange(const Key& key, std::uint32_t number)
    {
        const auto [kept, isNew] = tryEmplace(key, number);
        if (isNew)
            return {};
        slots_[slotOf(key)].number = number;
        return kept;
    }

private:
    struct Slot {
        Key key{};
        std::uint32_t number = 0;
        bool isTaken = false;
    };
    [[nodiscard]] std::size_t slotOf(const Key& key) const
    {
        const std::size_t mask = slots_.size() - 1;
        std::size_t at = Hash{}(key)&mask;
        while (slots_[at].isTaken && slots_[at].key != key)
            at = (at + 1) & mask;
        return at;
    }
    void grow(std::size_t size)
    {
        std::vector<Slot> old = std::exchange(slots_, std::vector<Slot>(size));
        for (const Slot& slot : old)
            if (slot.isTaken)
                slots_[slotOf(slot.key)] = slot;
    }

    std::vector<Slot> slots_; ///< as many as a power of two
    std::size_t count_ = 0;
};

} // namespace wendrix::geometry
