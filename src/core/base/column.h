#pragma once

#include <memory>
#include <span>
#include <type_traits>
#include <vector>

namespace wendrix {

/// Many plain values that are either kept here or looked at where somebody else keeps them, as a mapped file.
template <class T>
class Column {
    static_assert(std::is_trivially_copyable_v<T>);

public:
    Column() = default;
    Column(std::vector<T> own) : own_(std::move(own)), view_(own_) {}
    Column(std::span<const T> view, std::shared_ptr<const void> keeper) : view_(view), keeper_(std::move(keeper)) {}
    // A vector's values stay where they are when it is moved, but not when it is copied.
    Column(Column&&) noexcept = default;
    Column& operator=(Column&&) noexcept = default;
    Column(const Column&) = delete;
    Column& operator=(const Column&) = delete;

    [[nodiscard]] std::span<const T> view() const { return view_; }
    [[nodiscard]] std::size_t size() const { return view_.size(); }
    [[nodiscard]] bool empty() const { return view_.empty(); }
    [[nodiscard]] const T& operator[](std::size_t i) const { return view_[i]; }
    [[nodiscard]] auto begin() const { return view_.begin(); }
    [[nodiscard]] auto end() const { return view_.end(); }

private:
    std::vector<T> own_;
    std::span<const T> view_;
    std::shared_ptr<const void> keeper_;
};

} // namespace wendrix
