#pragma once

#include "core/base/column.h"
#include "core/base/result.h"

#include <cstdint>
#include <cstring>
#include <string>
#include <string_view>

namespace wendrix {

/// Puts plain values one behind the other, for files that only this machine reads back (the cache).
class BinaryWriter {
public:
    template <class T>
    void value(const T& v)
    {
        static_assert(std::is_trivially_copyable_v<T>);
        bytes_.append(reinterpret_cast<const char*>(&v), sizeof v);
    }
    void text(std::string_view s)
    {
        value(static_cast<std::uint64_t>(s.size()));
        bytes_.append(s);
    }
    /// Aligned to 16 bytes, so that it can be looked at in place.
    template <class T>
    void column(std::span<const T> values)
    {
        static_assert(std::is_trivially_copyable_v<T>);
        value(static_cast<std::uint64_t>(values.size()));
        bytes_.resize((bytes_.size() + 15) / 16 * 16);
        bytes_.append(reinterpret_cast<const char*>(values.data()), values.size_bytes());
    }
    void diagnostics(const std::vector<Diagnostic>& list);
    [[nodiscard]] const std::string& bytes() const { return bytes_; }

private:
    std::string bytes_;
};

/// Reads back what a BinaryWriter wrote. Past the end, or after a size that can not be, everything is empty and
/// isSound() is false: look once at the end. What the values mean, as positions in something else, whoever reads them
/// has to check.
class BinaryReader {
public:
    /// @param bytes   aligned to 16 bytes
    /// @param keeper  keeps the bytes alive for the columns that look at them
    BinaryReader(std::string_view bytes, std::shared_ptr<const void> keeper) : bytes_(bytes), keeper_(std::move(keeper))
    {
    }

    template <class T>
    T value()
    {
        static_assert(std::is_trivially_copyable_v<T> && !std::is_enum_v<T>);
        if constexpr (std::is_same_v<T, bool>) { // any byte but 0 and 1 is none
            const auto v = value<std::uint8_t>();
            isSound_ = isSound_ && v <= 1;
            return v == 1;
        } else {
            T v{};
            if (const char* p = take(sizeof v))
                std::memcpy(&v, p, sizeof v);
            return v;
        }
    }
    [[nodiscard]] std::string text();
    template <class T>
    [[nodiscard]] Column<T> column()
    {
        const std::span<const T> values = view<T>();
        return {values, keeper_};
    }
    /// The same, copied.
    template <class T>
    [[nodiscard]] std::vector<T> copy()
    {
        const std::span<const T> values = view<T>();
        return {values.begin(), values.end()};
    }
    [[nodiscard]] std::vector<Diagnostic> diagnostics();
    /// A count of things that take at least one byte each: never more than what is left.
    [[nodiscard]] std::size_t count();
    void fail() { isSound_ = false; }
    [[nodiscard]] bool isSound() const { return isSound_; }
    [[nodiscard]] bool isAtEnd() const { return at_ == bytes_.size(); }

private:
    template <class T>
    std::span<const T> view()
    {
        static_assert(std::is_trivially_copyable_v<T> && !std::is_same_v<T, bool> && alignof(T) <= 16);
        const auto n = value<std::uint64_t>();
        at_ = std::min(bytes_.size(), (at_ + 15) / 16 * 16);
        if (n > (bytes_.size() - at_) / sizeof(T)) {
            isSound_ = false;
            return {};
        }
        const char* p = take(n * sizeof(T));
        return isSound_ && n > 0 ? std::span(reinterpret_cast<const T*>(p), n) : std::span<const T>{};
    }
    const char* take(std::size_t size)
    {
        if (!isSound_ || size > bytes_.size() - at_) {
            isSound_ = false;
            return nullptr;
        }
        const char* p = bytes_.data() + at_;
        at_ += size;
        return p;
    }

    std::string_view bytes_;
    std::shared_ptr<const void> keeper_;
    std::size_t at_ = 0;
    bool isSound_ = true;
};

/// A fast checksum against damage, not against malice: 64 bits, eight bytes at a time.
[[nodiscard]] std::uint64_t checksum(std::string_view bytes);

} // namespace wendrix
