#include "core/step/value.h"

#include "core/step/latin_pages.h"

namespace wendrix::step {

namespace {

void appendUtf8(std::string& out, std::uint32_t code)
{
    if (code > 0x10FFFF || (code >= 0xD800 && code <= 0xDFFF))
        code = 0xFFFD;
    if (code < 0x80) {
        out += static_cast<char>(code);
    } else if (code < 0x800) {
        out += static_cast<char>(0xC0 | (code >> 6));
        out += static_cast<char>(0x80 | (code & 0x3F));
    } else if (code < 0x10000) {
        out += static_cast<char>(0xE0 | (code >> 12));
        out += static_cast<char>(0x80 | ((code >> 6) & 0x3F));
        out += static_cast<char>(0x80 | (code & 0x3F));
    } else {
        out += static_cast<char>(0xF0 | (code >> 18));
        out += static_cast<char>(0x80 | ((code >> 12) & 0x3F));
        out += static_cast<char>(0x80 | ((code >> 6) & 0x3F));
        out += static_cast<char>(0x80 | (code & 0x3F));
    }
}

std::optional<std::uint32_t> hexNumber(std::string_view digits)
{
    std::uint32_t number = 0;
    for (const char c : digits) {
        const int d = c >= '0' && c <= '9'   ? c - '0'
                      : c >= 'A' && c <= 'F' ? c - 'A' + 10
                      : c >= 'a' && c <= 'f' ? c - 'a' + 10
                                             : -1;
        if (d < 0)
            return {};
        number = number * 16 + static_cast<std::uint32_t>(d);
    }
    return number;
}

/// Length of the valid UTF-8 sequence that starts here, 0 if none does.
std::size_t utf8Length(std::string_view s)
{
    const auto lead = static_cast<unsigned char>(s[0]);
    const std::size_t n = lead < 0x80 ? 1 : (lead >> 5) == 6 ? 2 : (lead >> 4) == 14 ? 3 : (lead >> 3) == 30 ? 4 : 0;
    if (n == 0 || n > s.size())
        return 0;
    for (std::size_t i = 1; i < n; ++i)
        if ((static_cast<unsigned char>(s[i]) & 0xC0) != 0x80)
            return 0;
    return n;
}

/// \X2\....\X0\ and \X4\........\X0\ : returns how many characters were taken, 0 if it is not well formed.
std::size_t appendWide(std::string& out, std::string_view s, std::size_t digits)
{
    std::size_t at = 4;
    std::uint32_t high = 0;
    while (at + digits <= s.size() && s[at] != '\\') {
        const auto code = hexNumber(s.substr(at, digits));
        if (!code)
            return 0;
        at += digits;
        if (digits == 4 && *code >= 0xD800 && *code < 0xDC00) {
            high = *code;
        } else if (high != 0 && *code >= 0xDC00 && *code < 0xE000) {
            appendUtf8(out, 0x10000 + ((high - 0xD800) << 10) + (*code - 0xDC00));
            high = 0;
        } else {
            appendUtf8(out, *code);
        }
    }
    return s.substr(at, 4) == "\\X0\\" ? at + 4 : 0;
}

} // namespace

std::string decodeString(std::string_view raw)
{
    std::string out;
    out.reserve(raw.size());
    std::size_t i = 0, page = 0;
    while (i < raw.size()) {
        const std::string_view rest = raw.substr(i);
        if (rest.starts_with("''")) {
            out += '\'';
            i += 2;
        } else if (rest.starts_with("\\\\")) {
            out += '\\';
            i += 2;
        } else if (rest.starts_with("\\S\\") && rest.size() > 3) {
            const auto low = static_cast<unsigned char>(rest[3]) & 0x7Fu;
            appendUtf8(out, low >= 0x20 ? kLatinPages[page][low - 0x20] : low + 128u);
            i += 4;
        } else if (rest.size() > 3 && rest[0] == '\\' && rest[1] == 'P' && rest[3] == '\\') {
            if (rest[2] >= 'A' && rest[2] <= 'I')
                page = static_cast<std::size_t>(rest[2] - 'A');
            i += 4;
        } else if (rest.starts_with("\\X\\") && rest.size() > 4 && hexNumber(rest.substr(3, 2))) {
            appendUtf8(out, *hexNumber(rest.substr(3, 2)));
            i += 5;
        } else if (rest.starts_with("\\X2\\") || rest.starts_with("\\X4\\")) {
            const std::size_t before = out.size();
            const std::size_t taken = appendWide(out, rest, rest[2] == '2' ? 4 : 8);
            if (taken == 0) {
                out.resize(before);
                out += rest[0];
                i += 1;
            } else {
                i += taken;
            }
        } else if (rest[0] == '\n' || rest[0] == '\r') {
            i += 1; // writers wrap lines inside strings too
        } else if (const std::size_t n = utf8Length(rest); n > 0) {
            out.append(rest.substr(0, n));
            i += n;
        } else {
            appendUtf8(out, static_cast<unsigned char>(rest[0]));
            i += 1;
        }
    }
    return out;
}

std::optional<double> Value::number() const
{
    switch (kind()) {
    case Kind::Real:
        return node().real;
    case Kind::Integer:
        return static_cast<double>(node().integer);
    case Kind::Typed:
        return size() == 1 ? (*this)[0].number() : std::nullopt;
    default:
        return {};
    }
}

std::optional<std::int64_t> Value::integer() const
{
    if (kind() == Kind::Integer)
        return node().integer;
    if (kind() == Kind::Typed && size() == 1)
        return (*this)[0].integer();
    return {};
}

EntityId Value::reference() const { return kind() == Kind::Reference ? static_cast<EntityId>(node().integer) : 0; }

std::string Value::text() const
{
    if (kind() == Kind::String)
        return decodeString(node().raw());
    if (kind() == Kind::Typed && size() == 1)
        return (*this)[0].text();
    return {};
}

std::string_view Value::enumeration() const
{
    if (kind() == Kind::Enumeration)
        return node().raw();
    if (kind() == Kind::Typed && size() == 1)
        return (*this)[0].enumeration();
    return {};
}

std::string_view Value::typeName() const { return kind() == Kind::Typed ? node().raw() : std::string_view{}; }

std::uint32_t Value::size() const { return kind() == Kind::List || kind() == Kind::Typed ? node().count : 0; }

Value Value::operator[](std::uint32_t index) const
{
    if (index >= size())
        return {};
    std::uint32_t at = at_ + 1;
    for (std::uint32_t i = 0; i < index; ++i)
        at = nodes_[at].next;
    return {nodes_, at};
}

} // namespace wendrix::step
