#include "core/step/entity_table.h"

#include "core/base/text.h"
#include "core/step/parse.h"

#include <array>
#include <charconv>
#include <cstring>
#include <limits>

namespace wendrix::step {

namespace {

// Beyond 2^62 a sum of ids could run over.
constexpr EntityId kLargestId = EntityId{1} << 62;

constexpr std::array<bool, 256> kEndsWord = [] {
    std::array<bool, 256> table{};
    for (const char c : {'(', ' ', '\n', '\r', '\t', '/', ';', '\0'})
        table[static_cast<unsigned char>(c)] = true;
    return table;
}();

bool isWordEnd(char c)
{
    return (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' || (c >= 'a' && c <= 'z');
}

/// Of the word's first and last eight bytes and its length.
std::uint64_t hashOf(std::string_view word)
{
    std::uint64_t first = 0, last = 0;
    const std::size_t n = std::min<std::size_t>(word.size(), 8);
    std::memcpy(&first, word.data(), n);
    std::memcpy(&last, word.data() + word.size() - n, n);
    const std::uint64_t mixed = (first ^ (last * 0x9E3779B97F4A7C15ull) ^ word.size()) * 0xD6E8FEB86659FD93ull;
    return mixed ^ (mixed >> 32);
}

} // namespace

KeywordIndex KeywordTable::indexOf(std::string_view word)
{
    for (std::size_t slot = hashOf(word);; ++slot) {
        Slot& s = slots_[slot & (slots_.size() - 1)];
        if (s.word.data() == nullptr) {
            s = {word, add(word)};
            const KeywordIndex index = s.index;
            if (++used_ * 2 > slots_.size())
                grow();
            return index;
        }
        if (s.word == word)
            return s.index;
    }
}

KeywordIndex KeywordTable::add(std::string_view word)
{
    const std::string upper = upperCase(word);
    for (std::size_t i = 0; i < keywords.size() && keywords.size() < 5000; ++i)
        if (keywords[i] == upper) // the same in lower case
            return static_cast<KeywordIndex>(i);
    if (keywords.size() >= std::numeric_limits<KeywordIndex>::max()) {
        keywords.back() = "(more than 65 535 different keywords)";
        return static_cast<KeywordIndex>(keywords.size() - 1);
    }
    keywords.push_back(upper);
    words.push_back(word);
    return static_cast<KeywordIndex>(keywords.size() - 1);
}

void KeywordTable::grow()
{
    std::vector<Slot> old(slots_.size() * 2);
    old.swap(slots_);
    used_ = 0;
    for (const Slot& s : old)
        if (s.word.data() != nullptr) {
            std::size_t slot = hashOf(s.word) & (slots_.size() - 1);
            while (slots_[slot].word.data() != nullptr)
                slot = (slot + 1) & (slots_.size() - 1);
            slots_[slot] = s;
            ++used_;
        }
}

bool EntityTable::add(std::size_t start, std::string_view text)
{
    EntityId id = 0;
    const auto [p, code] = std::from_chars(text.data() + 1, text.data() + text.size(), id);
    std::size_t i = skipBlank(text, static_cast<std::size_t>(p - text.data()));
    const bool hasEquals = code == std::errc{} && i < text.size() && text[i] == '=';
    i = hasEquals ? skipBlank(text, i + 1) : i;
    std::size_t open = hasEquals ? std::min(text.find('(', i), text.size()) : i, wordEnd = open;
    if (wordEnd > i && !isWordEnd(text[wordEnd - 1])) { // blanks or comments in between
        wordEnd = i;
        while (wordEnd < text.size() && !kEndsWord[static_cast<unsigned char>(text[wordEnd])])
            ++wordEnd;
        open = skipBlank(text, wordEnd);
    }
    if (!hasEquals || id == 0 || id > kLargestId || wordEnd == i || open >= text.size() || text[open] != '(')
        return false;
    entries.emplace_back(id, start + open, table.indexOf(text.substr(i, wordEnd - i)));
    lastId = id;
    return true;
}

void EntityTable::append(const EntityTable& later)
{
    std::vector<KeywordIndex> indices;
    for (const std::string_view word : later.table.words)
        indices.push_back(table.indexOf(word));
    entries.reserve(entries.size() + later.entries.size());
    for (const Entry& e : later.entries)
        entries.emplace_back(e.id(), e.offset(), indices[e.keyword()]);
    lastId = later.entries.empty() ? lastId : later.lastId;
}

} // namespace wendrix::step
