#include "core/step/parse.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <utility>

namespace wendrix::step {

namespace {

// Deeper nesting than any schema has; a bound so that a hostile file can not exhaust the stack.
constexpr int kDeepest = 64;
// A point list of a whole terrain should not keep its memory for the life of the thread.
constexpr std::size_t kLargestScratch = 1 << 16;

bool isBlank(char c) { return c == ' ' || c == '\n' || c == '\r' || c == '\t' || c == '\f' || c == '\v'; }
bool isWord(char c)
{
    return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_' || c == '-';
}

/// The number of the reference at bytes[at] == '#', and `at` moved behind it; 0 where there is none.
std::int64_t referenceAt(std::string_view bytes, std::size_t& at)
{
    std::int64_t id = 0;
    std::size_t end = at + 1;
    const auto isDigit = [&] { return end < bytes.size() && bytes[end] >= '0' && bytes[end] <= '9'; };
    for (; end < at + 19 && isDigit(); ++end) // eighteen digits never overflow
        id = 10 * id + (bytes[end] - '0');
    if (isDigit())
        return 0;
    at = end;
    return id;
}

class Parser {
public:
    /// @param scratch  where the nodes grow; its capacity is kept from one instance to the next
    Parser(std::string_view bytes, std::vector<Node>& scratch) : nodes(scratch), bytes_(bytes) { nodes.clear(); }

    bool list(int depth)
    {
        if (depth > kDeepest)
            return fail("values are nested too deep");
        const std::uint32_t self = add(Kind::List);
        return items(self, depth);
    }

    std::vector<Node>& nodes;
    const char* problem = "";

private:
    std::uint32_t add(Kind kind)
    {
        nodes.push_back({});
        nodes.back().kind = kind;
        return static_cast<std::uint32_t>(nodes.size() - 1);
    }
    bool fail(const char* why)
    {
        problem = why;
        return false;
    }
    void close(std::uint32_t at) { nodes[at].next = static_cast<std::uint32_t>(nodes.size()); }
    char peek() const { return at_ < bytes_.size() ? bytes_[at_] : '\0'; }
    void skipToNext()
    {
        const char c = peek();
        if (c <= ' ' || c == '/') // most values follow each other without a blank
            at_ = skipBlank(bytes_, at_);
    }
    bool text(Kind kind, std::size_t first, std::size_t end)
    {
        if (end - first > 0xFFFFFFFFu)
            return fail("a text is too long");
        const std::uint32_t self = add(kind);
        nodes[self].text = bytes_.data() + first;
        nodes[self].count = static_cast<std::uint32_t>(end - first);
        close(self);
        return true;
    }

    /// From '(' to ')', the items becoming those of nodes[self].
    bool items(std::uint32_t self, int depth)
    {
        ++at_; // '('
        std::uint32_t count = 0;
        skipToNext();
        if (peek() == ')') {
            ++at_;
            close(self);
            return true;
        }
        for (;;) {
            if (!value(depth))
                return false;
            ++count;
            skipToNext();
            if (peek() == ',') {
                ++at_;
                skipToNext();
            } else if (peek() == ')') {
                ++at_;
                break;
            } else {
                return fail("a comma or a closing parenthesis is missing");
            }
        }
        nodes[self].count = count;
        close(self);
        return true;
    }

    bool value(int depth)
    {
        const char c = peek();
        if (c == '(')
            return list(depth + 1);
        if (c == '$' || c == '*') {
            ++at_;
            close(add(c == '$' ? Kind::Omitted : Kind::Derived));
            return true;
        }
        if (c == ',' || c == ')') { // an argument left out altogether
            close(add(Kind::Omitted));
            return true;
        }
        if (c == '#')
            return reference();
        if (c == '\'')
            return string();
        if (c == '.' && at_ + 1 < bytes_.size() && !(bytes_[at_ + 1] >= '0' && bytes_[at_ + 1] <= '9'))
            return enumeration();
        if (c == '"')
            return binary();
        if ((c >= '0' && c <= '9') || c == '-' || c == '+' || c == '.')
            return number();
        if (isWord(c))
            return typed(depth);
        return fail("a value starts with an unexpected character");
    }

    bool reference()
    {
        const std::int64_t id = referenceAt(bytes_, at_);
        if (id == 0)
            return fail("a reference has no number");
        const auto self = static_cast<std::uint32_t>(nodes.size());
        Node& node = nodes.emplace_back();
        node.kind = Kind::Reference;
        node.integer = id;
        node.next = self + 1;
        return true;
    }

    bool string()
    {
        const std::size_t end = skipString(bytes_, at_);
        if (end == std::string_view::npos)
            return fail("a string is not closed");
        const std::size_t first = std::exchange(at_, end) + 1;
        return text(Kind::String, first, end - 1);
    }

    bool enumeration()
    {
        const std::size_t end = bytes_.find('.', at_ + 1);
        if (end == std::string_view::npos || end - at_ > 200)
            return fail("an enumeration is not closed");
        const std::size_t first = std::exchange(at_, end + 1) + 1;
        return text(Kind::Enumeration, first, end);
    }

    bool binary()
    {
        const std::size_t end = bytes_.find('"', at_ + 1);
        if (end == std::string_view::npos)
            return fail("a binary is not closed");
        const std::size_t first = std::exchange(at_, end + 1) + 1;
        return text(Kind::Binary, first, end);
    }

    bool number()
    {
        std::size_t end = at_;
        bool isReal = false, isFortran = false;
        while (end < bytes_.size()) {
            const char c = bytes_[end];
            if (c == '.' || c == 'e' || c == 'E')
                isReal = true;
            else if (c == 'd' || c == 'D')
                isReal = isFortran = true;
            else if (!((c >= '0' && c <= '9') || c == '-' || c == '+'))
                break;
            ++end;
        }
        std::string_view digits = bytes_.substr(at_, end - at_);
        if (digits.starts_with('+'))
            digits.remove_prefix(1);
        at_ = end;
        Node node;
        std::from_chars_result read{};
        if (!isReal) {
            node.kind = Kind::Integer;
            read = std::from_chars(digits.data(), digits.data() + digits.size(), node.integer);
            isReal = read.ec == std::errc::result_out_of_range; // larger than 64 bits: kept as a real
        }
        if (isReal) {
            node.kind = Kind::Real;
            read = isFortran ? fortran(digits, node.real) : realNumber(digits, node.real);
        }
        if (read.ec != std::errc{} || read.ptr != digits.data() + digits.size())
            return fail("a number is not well formed or out of range");
        nodes.push_back(node);
        close(static_cast<std::uint32_t>(nodes.size() - 1));
        return true;
    }

    static std::from_chars_result realNumber(std::string_view digits, double& value)
    {
        auto read = std::from_chars(digits.data(), digits.data() + digits.size(), value);
        const std::size_t exponent = digits.find_first_of("eE");
        if (read.ec == std::errc::result_out_of_range && exponent != std::string_view::npos &&
            digits.substr(exponent + 1).starts_with('-')) { // nearer to nothing than a double can be
            value = 0;
            read.ec = {};
        }
        return read;
    }

    /// 1.5D-3, as old exporters write it.
    static std::from_chars_result fortran(std::string_view digits, double& value)
    {
        std::string plain(digits);
        std::replace_if(
            plain.begin(), plain.end(), [](char c) { return c == 'd' || c == 'D'; }, 'E');
        const auto read = realNumber(plain, value);
        return {digits.data() + (read.ptr - plain.data()), read.ec};
    }

    bool typed(int depth)
    {
        if (depth + 1 > kDeepest)
            return fail("values are nested too deep");
        std::size_t end = at_;
        while (end < bytes_.size() && isWord(bytes_[end]))
            ++end;
        if (end - at_ > 200)
            return fail("a keyword is too long");
        const std::uint32_t self = add(Kind::Typed);
        nodes[self].text = bytes_.data() + at_;
        nodes[self].wordLength = static_cast<std::uint16_t>(end - at_);
        at_ = skipBlank(bytes_, end);
        if (peek() != '(')
            return fail("a typed value has no parentheses");
        return items(self, depth + 1);
    }

    std::string_view bytes_;
    std::size_t at_ = 0;
};

} // namespace

std::size_t skipBlank(std::string_view bytes, std::size_t at)
{
    while (at < bytes.size()) {
        if (isBlank(bytes[at])) {
            ++at;
        } else if (bytes[at] == '/' && at + 1 < bytes.size() && bytes[at + 1] == '*') {
            const std::size_t end = bytes.find("*/", at + 2);
            at = end == std::string_view::npos ? bytes.size() : end + 2;
        } else {
            break;
        }
    }
    return at;
}

std::size_t skipString(std::string_view bytes, std::size_t at)
{
    for (;;) {
        const std::size_t quote = bytes.find('\'', at + 1);
        if (quote == std::string_view::npos)
            return quote;
        if (quote + 1 >= bytes.size() || bytes[quote + 1] != '\'')
            return quote + 1;
        at = quote + 1;
    }
}

Instance parseArguments(std::string_view bytes, std::string& problem)
{
    if (bytes.empty() || bytes[0] != '(') {
        problem = "the arguments are missing";
        return {};
    }
    // One buffer a thread: an instance then costs one allocation of just its size.
    thread_local std::vector<Node> scratch;
    Parser parser(bytes, scratch);
    if (!parser.list(0)) {
        problem = parser.problem;
        return {};
    }
    Instance instance{scratch};
    if (scratch.capacity() > kLargestScratch)
        scratch = {};
    return instance;
}

namespace {

/// Goes through arguments of a known form, sign by sign.
struct Steps {
    std::string_view bytes;
    std::size_t at = 0;

    /// Whether this sign comes next, after blanks; it is gone past.
    bool take(char wanted)
    {
        const bool isIt = isNext(wanted);
        at += isIt ? 1 : 0;
        return isIt;
    }
    bool isNext(char wanted)
    {
        if (at < bytes.size() && bytes[at] != wanted)
            at = skipBlank(bytes, at);
        return at < bytes.size() && bytes[at] == wanted;
    }
    /// 0 where no reference comes next.
    EntityId reference() { return isNext('#') ? static_cast<EntityId>(referenceAt(bytes, at)) : EntityId{0}; }
    /// A number that nothing but a comma, a parenthesis or a blank follows; signs of old exporters are none.
    bool number(double& value)
    {
        at = skipBlank(bytes, at);
        const auto [end, error] = std::from_chars(bytes.data() + at, bytes.data() + bytes.size(), value);
        const char last = error == std::errc{} && end != bytes.data() + bytes.size() ? *end : 'x';
        const bool isNumber = std::isfinite(value) && (last == ',' || last == ')' || isBlank(last));
        at = isNumber ? static_cast<std::size_t>(end - bytes.data()) : at;
        return isNumber;
    }
};

} // namespace

bool parseReferences(std::string_view bytes, std::vector<EntityId>& references)
{
    references.clear();
    Steps steps{bytes};
    if (!steps.take('(') || !steps.take('('))
        return false;
    do {
        const EntityId id = steps.reference();
        if (id == 0)
            return false;
        references.push_back(id);
    } while (steps.take(','));
    return steps.take(')') && steps.take(')');
}

bool parseNumbers(std::string_view bytes, std::array<double, 3>& numbers)
{
    numbers = {};
    Steps steps{bytes};
    if (!steps.take('(') || !steps.take('('))
        return false;
    std::size_t count = 0;
    do {
        if (count == numbers.size() || !steps.number(numbers[count++]))
            return false;
    } while (steps.take(','));
    return steps.take(')') && steps.take(')');
}

std::optional<FlaggedReference> parseFlagged(std::string_view bytes)
{
    Steps steps{bytes};
    FlaggedReference flagged;
    if (!steps.take('('))
        return {};
    flagged.id = steps.reference();
    if (flagged.id == 0 || !steps.take(',') || !steps.take('.'))
        return {};
    flagged.isTrue = steps.at < bytes.size() && bytes[steps.at] == 'T';
    if (!flagged.isTrue && !(steps.at < bytes.size() && bytes[steps.at] == 'F'))
        return {};
    ++steps.at;
    if (!(steps.at < bytes.size() && bytes[steps.at] == '.'))
        return {};
    ++steps.at;
    return steps.take(')') ? std::optional(flagged) : std::nullopt;
}

} // namespace wendrix::step
