#include "core/step/statement.h"

#include "core/step/parse.h"

#include <array>
#include <cstring>

#ifdef __SSE2__
#include <bit>
#include <emmintrin.h>
#endif

namespace wendrix::step {

namespace {

constexpr std::size_t kNone = std::string_view::npos;

constexpr std::array<bool, 256> kMatters = [] {
    std::array<bool, 256> table{};
    for (const char c : {';', '\'', '"', '/'})
        table[static_cast<unsigned char>(c)] = true;
    return table;
}();

/// The first byte at or after `at` that may end a statement or hide its end.
std::size_t nextThatMatters(const char* data, std::size_t size, std::size_t at)
{
#ifdef __SSE2__
    const __m128i semicolon = _mm_set1_epi8(';'), quote = _mm_set1_epi8('\''), twice = _mm_set1_epi8('"'),
                  slash = _mm_set1_epi8('/');
    for (; at + 16 <= size; at += 16) {
        const __m128i bytes = _mm_loadu_si128(reinterpret_cast<const __m128i*>(data + at));
        const __m128i found = _mm_or_si128(_mm_or_si128(_mm_cmpeq_epi8(bytes, semicolon), _mm_cmpeq_epi8(bytes, quote)),
                                           _mm_or_si128(_mm_cmpeq_epi8(bytes, twice), _mm_cmpeq_epi8(bytes, slash)));
        if (const int mask = _mm_movemask_epi8(found); mask != 0)
            return at + static_cast<std::size_t>(std::countr_zero(static_cast<unsigned>(mask)));
    }
#endif
    while (at < size && !kMatters[static_cast<unsigned char>(data[at])])
        ++at;
    return at;
}

bool isDigit(char c) { return c >= '0' && c <= '9'; }

/// Where a line between `from` and `to` begins like an entity ("#12="); kNone if none does.
std::size_t entityLine(std::string_view bytes, std::size_t from, std::size_t to)
{
    for (std::size_t line = bytes.find('\n', from); line < to; line = bytes.find('\n', line + 1)) {
        std::size_t at = line + 1;
        while (at < to && (bytes[at] == ' ' || bytes[at] == '\t'))
            ++at;
        const std::size_t start = at;
        if (at >= to || bytes[at] != '#')
            continue;
        while (++at < to && isDigit(bytes[at])) {
        }
        while (at < to && bytes[at] == ' ')
            ++at;
        if (at < to && bytes[at] == '=' && at > start + 1)
            return start;
    }
    return kNone;
}

} // namespace

Statement statementFrom(std::string_view bytes, std::size_t at)
{
    const char* const data = bytes.data();
    const std::size_t size = bytes.size();
    const std::size_t start = at;
    for (;;) {
        at = nextThatMatters(data, size, at);
        if (at >= size)
            return {};
        if (data[at] == ';')
            return {at, false};
        if (data[at] == '/') {
            if (at + 1 >= size || data[at + 1] != '*') {
                ++at;
                continue;
            }
            const std::size_t end = bytes.find("*/", at + 2);
            if (end == kNone)
                return {};
            at = end + 2;
            continue;
        }
        const std::size_t end = data[at] == '\'' ? skipString(bytes, at) : bytes.find('"', at + 1);
        const std::size_t limit = end == kNone ? size : end;
        if (std::memchr(data + at, '\n', limit - at) != nullptr || end == kNone) {
            const std::size_t next = entityLine(bytes, at, limit);
            if (next != kNone)
                return {next, true};
            if (end == kNone)
                return {};
        }
        at = data[at] == '\'' ? end : end + 1;
        if (at <= start)
            return {};
    }
}

} // namespace wendrix::step
