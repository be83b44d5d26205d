#pragma once

#include <fmt/format.h>

#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

namespace wendrix {

/// Text as HTML or SVG shows it, between tags and within quotes of either kind: nothing in it is markup.
[[nodiscard]] std::string escapedForHtml(std::string_view text);

/// A piece of HTML or SVG. It is made of literals of this program and of values, and values are always escaped: what a
/// model, a person or a file says is never markup.
class Markup {
public:
    Markup() = default;
    Markup& operator+=(const Markup& other)
    {
        text_ += other.text_;
        return *this;
    }
    friend Markup operator+(Markup a, const Markup& b) { return std::move(a += b); }
    [[nodiscard]] bool isEmpty() const { return text_.empty(); }
    [[nodiscard]] const std::string& text() const { return text_; }

    /// How a value goes into a format: markup as it is, numbers as numbers, everything else escaped.
    template <class T>
    static auto shown(const T& value)
    {
        if constexpr (std::is_same_v<T, Markup>)
            return std::string_view(value.text_);
        else if constexpr (std::is_arithmetic_v<T>)
            return value;
        else
            return escapedForHtml(value);
    }
    template <class T>
    using Shown = decltype(shown(std::declval<const T&>()));

    template <class... Values>
    friend Markup markup(fmt::format_string<Shown<Values>...> format, const Values&... values);

private:
    std::string text_;
};

/// markup("<td>{}</td><td>{:.1f} mm</td>", name, depth)
template <class... Values>
[[nodiscard]] Markup markup(fmt::format_string<Markup::Shown<Values>...> format, const Values&... values)
{
    Markup made;
    made.text_ = fmt::format(format, Markup::shown(values)...);
    return made;
}

/// Pieces with something in between.
[[nodiscard]] Markup joined(const std::vector<std::string>& texts, const Markup& between);

/// How pages look that are written for people who have no Wendrix; and those that are printed on one sheet.
extern const char* const kPageStyle;
extern const char* const kSheetStyle;

/// A whole page.
[[nodiscard]] std::string pageOf(std::string_view title, const char* style, const Markup& body);

} // namespace wendrix
