#pragma once

#include <tl/expected.hpp>

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace wendrix {

/// A stable name for one way to fail ("fit.too-few-places"): for callers, tests and JSON.
struct ErrorCode {
    std::string_view name;
    friend bool operator==(ErrorCode, ErrorCode) = default;
};

/// What the world did to us: what is wrong, where, and what would put it right.
struct Error {
    ErrorCode code;
    std::string message; ///< one sentence: what is wrong and what to do
    std::string file = {};
    std::string entity = {}; ///< "#4711" in a STEP file, the entry's name in an archive
    std::optional<std::uint64_t> byteOffset = {};

    /// The whole error as one line for a person: file, entity, offset, message.
    [[nodiscard]] std::string inWords() const;
};

template <class T>
using Result = tl::expected<T, Error>;

[[nodiscard]] inline tl::unexpected<Error> fail(Error error) { return tl::unexpected<Error>(std::move(error)); }

/// The first of several answers that is none.
template <class... T>
[[nodiscard]] std::optional<Error> firstError(const Result<T>&... results)
{
    std::optional<Error> first;
    ((!first && !results ? void(first = results.error()) : void()), ...);
    return first;
}

/// The answer, or an empty one: for whoever shows what is there, where somebody else says what went wrong.
template <class T>
[[nodiscard]] T orNothing(Result<T> result)
{
    return result ? std::move(*result) : T{};
}

enum class Severity { Note, Warning, Error };
[[nodiscard]] std::string_view severityName(Severity severity);

/// Something that could not be established while the work went on.
struct Diagnostic {
    Severity severity = Severity::Warning;
    std::string code;    ///< stable, e.g. "geometry.open"
    std::string entity;  ///< "#123"
    std::string message; ///< one sentence
};

} // namespace wendrix
