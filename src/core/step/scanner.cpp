#include "core/step/scanner.h"

#include "core/base/text.h"
#include "core/step/parse.h"

#include <array>
#include <charconv>
#include <cstring>
#include <limits>

#ifdef __SSE2__
#include <bit>
#include <emmintrin.h>
#endif

namespace wendrix::step {

namespace {

constexpr std::size_t kNone = std::string_view::npos;
// Diagnostics that one damaged file may fill memory with; past these they are counted.
constexpr std::size_t kMostDiagnostics = 1000;

constexpr std::array<bool, 256> kEndsWord = [] {
    std::array<bool, 256> table{};
    for (const char c : {'(', ' ', '\n', '\r', '\t', '/', ';', '\0'})
        table[static_cast<unsigned char>(c)] = true;
    return table;
}();
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

bool isWordEnd(char c) { return (c >= 'A' && c <= 'Z') || isDigit(c) || c == '_' || (c >= 'a' && c <= 'z'); }

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

struct Statement {
    std::size_t end = kNone; ///< of its ';', or where the next one begins
    bool isBroken = false;   ///< a string in it was never closed
};

/// From `at` to the ';' outside strings, binaries and comments.
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

/// The distinct keywords, found by the first and last bytes and the length of a word.
class KeywordTable {
public:
    explicit KeywordTable(std::vector<std::string>& keywords) : keywords_(keywords), slots_(1 << 12) {}

    /// Words past what an index can count share the last one, which no schema knows.
    KeywordIndex indexOf(std::string_view word)
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

private:
    struct Slot {
        std::string_view word; // into the file's bytes, which outlive the scan
        KeywordIndex index = 0;
    };

    /// Of the word's first and last eight bytes and its length.
    static std::uint64_t hashOf(std::string_view word)
    {
        std::uint64_t first = 0, last = 0;
        const std::size_t n = std::min<std::size_t>(word.size(), 8);
        std::memcpy(&first, word.data(), n);
        std::memcpy(&last, word.data() + word.size() - n, n);
        const std::uint64_t mixed = (first ^ (last * 0x9E3779B97F4A7C15ull) ^ word.size()) * 0xD6E8FEB86659FD93ull;
        return mixed ^ (mixed >> 32);
    }

    KeywordIndex add(std::string_view word)
    {
        const std::string upper = upperCase(word);
        for (std::size_t i = 0; i < keywords_.size() && keywords_.size() < 5000; ++i)
            if (keywords_[i] == upper) // the same in lower case
                return static_cast<KeywordIndex>(i);
        if (keywords_.size() >= std::numeric_limits<KeywordIndex>::max()) {
            keywords_.back() = "(more than 65 535 different keywords)";
            return static_cast<KeywordIndex>(keywords_.size() - 1);
        }
        keywords_.push_back(upper);
        return static_cast<KeywordIndex>(keywords_.size() - 1);
    }

    void grow()
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

    std::vector<std::string>& keywords_;
    std::vector<Slot> slots_;
    std::size_t used_ = 0;
};

class Scanner {
public:
    Scanner(std::string_view bytes, const std::string& name, Progress& progress)
        : bytes_(bytes), name_(name), progress_(progress), table_(keywords_)
    {
    }

    Result<Scan> run()
    {
        std::size_t at = skipBlank(bytes_, bytes_.starts_with("\xEF\xBB\xBF") ? 3 : 0);
        if (bytes_.substr(at, 12) != "ISO-10303-21")
            return fail({kNotStep,
                         "This is not a STEP file: it does not begin with ISO-10303-21. Export it again as .ifc.",
                         name_, "", at});
        const std::string what = "Reading " + std::filesystem::path(name_).filename().string();
        entries_.reserve(bytes_.size() / 64);
        for (std::size_t statements = 0;; ++statements) {
            at = skipBlank(bytes_, at);
            const Statement statement = at < bytes_.size() ? statementFrom(bytes_, at) : Statement{};
            if (statement.end == kNone) {
                if (dataSeen_ && !inData_)
                    break; // only the closing line is missing
                return fail({kTruncated,
                             "The file ends in the middle of its data, so a part of the model is missing. Ask the "
                             "sender for the whole file.",
                             name_, lastId_ != 0 ? "#" + std::to_string(lastId_) : "", bytes_.size()});
            }
            const std::size_t start = at;
            at = statement.isBroken ? statement.end : statement.end + 1;
            if ((statements & 0x3FFF) == 0) {
                if (progress_.isCancelled())
                    return fail({kCancelled, "Reading was cancelled.", name_});
                progress_.reportBytes(what, at, bytes_.size());
            }
            const std::string_view text = bytes_.substr(start, statement.end - start);
            if (statement.isBroken)
                say("step.string", start, text, "has a string that is never closed and was passed over.");
            else if (inData_ && text.starts_with('#'))
                entity(start, text);
            else if (!section(text))
                break;
        }
        if (!dataSeen_)
            return fail({kTruncated, "The file has no DATA section; ask the sender for the whole file.", name_});
        return finish();
    }

private:
    void say(const char* code, std::size_t start, std::string_view text, const std::string& what)
    {
        if (++problems_ > kMostDiagnostics)
            return;
        EntityId id = 0;
        if (text.starts_with('#'))
            std::from_chars(text.data() + 1, text.data() + text.size(), id);
        found_.diagnostics.push_back({Severity::Error, code, id != 0 ? "#" + std::to_string(id) : "",
                                      "The statement at byte " + std::to_string(start) + " " + what});
    }

    void entity(std::size_t start, std::string_view text)
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
        if (!hasEquals || id == 0 || id > kLargestId || wordEnd == i || open >= text.size() || text[open] != '(') {
            say("step.statement", start, text, "is not well formed and was passed over.");
            return;
        }
        entries_.emplace_back(id, start + open, table_.indexOf(text.substr(i, wordEnd - i)));
        lastId_ = id;
    }

    /// False at the end of the exchange structure.
    bool section(std::string_view text)
    {
        const std::string word = upperCase(text.substr(0, 16));
        if (word.starts_with("DATA"))
            inData_ = dataSeen_ = true;
        else if (word.starts_with("ENDSEC"))
            inData_ = false;
        else if (word.starts_with("END-ISO-10303-21"))
            return false;
        else if (inData_)
            say("step.statement", static_cast<std::size_t>(text.data() - bytes_.data()), text,
                "is not well formed and was passed over.");
        else
            header(text, word);
        return true;
    }

    void header(std::string_view text, const std::string& word)
    {
        const std::size_t open = text.find('(');
        if (open == kNone)
            return;
        std::string problem;
        const Instance instance = parseArguments(text.substr(open), problem);
        const Value arguments = instance.arguments();
        if (word.starts_with("FILE_SCHEMA") && found_.header.schema.empty()) {
            found_.header.schema = upperCase(arguments[0][0].text());
        } else if (word.starts_with("FILE_DESCRIPTION")) {
            for (const Value one : arguments[0]) {
                const std::string line = one.text();
                const std::size_t from = line.find('['), to = line.find(']');
                if (upperCase(line).starts_with("VIEWDEFINITION") && from < to && to != kNone)
                    found_.header.viewDefinition = line.substr(from + 1, to - from - 1);
            }
        } else if (word.starts_with("FILE_NAME")) {
            found_.header.name = arguments[0].text();
            found_.header.timeStamp = arguments[1].text();
            found_.header.author = arguments[2][0].text();
            found_.header.organisation = arguments[3][0].text();
            found_.header.originatingSystem = arguments[5].text();
        }
    }

    Result<Scan> finish()
    {
        found_.index = EntityIndex(std::move(entries_), std::move(keywords_), progress_);
        if (progress_.isCancelled())
            return fail({kCancelled, "Reading was cancelled.", name_});
        if (problems_ > kMostDiagnostics)
            found_.diagnostics.push_back(
                {Severity::Error, "step.statement", "",
                 "And " + std::to_string(problems_ - kMostDiagnostics) + " more statements are not well formed."});
        if (found_.index.repeated() > 0)
            found_.diagnostics.push_back({Severity::Error, "step.repeated-id", "",
                                          std::to_string(found_.index.repeated()) +
                                              " entities repeat a number that is already used; the first of each "
                                              "counts."});
        return std::move(found_);
    }

    // Beyond 2^62 a sum of ids could run over.
    static constexpr EntityId kLargestId = EntityId{1} << 62;

    std::string_view bytes_;
    const std::string& name_;
    Progress& progress_;
    std::vector<Entry> entries_;
    std::vector<std::string> keywords_;
    KeywordTable table_;
    Scan found_;
    std::size_t problems_ = 0;
    EntityId lastId_ = 0;
    bool inData_ = false, dataSeen_ = false;
};

} // namespace

Result<Scan> scan(std::string_view bytes, const std::string& name, Progress& progress)
{
    return Scanner(bytes, name, progress).run();
}

} // namespace wendrix::step
