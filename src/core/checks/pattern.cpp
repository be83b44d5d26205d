#include "core/checks/pattern.h"

#include <libxml/xmlregexp.h>
#include <re2/re2.h>

#include <algorithm>
#include <charconv>
#include <chrono>
#include <string_view>

namespace wendrix::checks {

namespace {

constexpr std::size_t kLongestExpression = 4096;
// What may be tried in ways that grow with the text's length cubed is tried on names, not on prose. Whether an
// expression is one of these can not be told: libxml2 calls some deterministic that are not.
constexpr std::size_t kLongestTried = 200;
constexpr double kMostRepetitions = 1000;
constexpr std::int64_t kMostMemory = 8 << 20, kMostNanoseconds = 2'000'000'000;

/// Translates an expression of XML Schema to RE2's syntax, as far as that can say it.
class Translation {
public:
    explicit Translation(std::string_view from) : from_(from) {}

    std::optional<std::string> run()
    {
        while (at_ < from_.size() && isSaid_)
            piece();
        return isSaid_ ? std::optional(std::move(to_)) : std::nullopt;
    }

private:
    void piece()
    {
        const char c = from_[at_];
        if (c == '\\') {
            escape(false);
        } else if (c == '[') {
            charClass();
        } else {
            if (c == '^' || c == '$')
                to_ += '\\';
            if (c == '.')
                to_ += "[^\\n\\r]";
            else
                to_ += c;
            // "(?" and doubled quantifiers mean something to RE2 that XML Schema does not know.
            if ((c == '(' && next() == '?') || ((c == '*' || c == '+' || c == '?' || c == '}') && isQuantifier(next())))
                isSaid_ = false;
            ++at_;
        }
    }
    [[nodiscard]] char next() const { return at_ + 1 < from_.size() ? from_[at_ + 1] : '\0'; }
    static bool isQuantifier(char c) { return c == '*' || c == '+' || c == '?' || c == '{'; }

    /// "\d", "\p{Lu}", "\.": outside of a class the negated ones are classes of their own.
    void escape(bool isInClass)
    {
        struct Class {
            char letter;
            const char* members;
        };
        static constexpr Class kClasses[] = {{'d', "\\p{Nd}"},
                                             {'s', " \\t\\n\\r"},
                                             {'w', "\\p{L}\\p{M}\\p{N}\\p{S}"},
                                             {'i', "\\p{L}\\p{Nl}_:"},
                                             {'c', "\\p{L}\\p{N}\\p{M}_:.\\-\xC2\xB7"}};
        const char letter = next();
        at_ += 2;
        for (const Class& one : kClasses) {
            if (letter == one.letter) {
                to_ += isInClass ? one.members : "[" + std::string(one.members) + "]";
                return;
            }
            if (letter == one.letter - 'a' + 'A') {
                isSaid_ = isSaid_ && !isInClass;
                to_ += "[^" + std::string(one.members) + "]";
                return;
            }
        }
        if (letter == 'p' || letter == 'P') {
            const std::size_t close = from_.find('}', at_);
            if (close == std::string_view::npos || from_.substr(at_).starts_with("{Is")) {
                isSaid_ = false;
                return;
            }
            to_ += '\\';
            to_ += letter;
            to_ += from_.substr(at_, close + 1 - at_);
            at_ = close + 1;
            return;
        }
        // The single characters that may be escaped mean themselves, but for these.
        isSaid_ = isSaid_ && std::string_view("nrt\\|.-^?*+{}()[]$").find(letter) != std::string_view::npos;
        to_ += '\\';
        to_ += letter;
    }

    void charClass()
    {
        to_ += '[';
        ++at_;
        if (at_ < from_.size() && from_[at_] == '^') {
            to_ += '^';
            ++at_;
        }
        for (bool isFirst = true; at_ < from_.size() && isSaid_; isFirst = false) {
            const char c = from_[at_];
            if (c == ']' && !isFirst) {
                to_ += ']';
                ++at_;
                return;
            }
            if (c == '[' || c == ']') {
                isSaid_ = false; // a class less another
            } else if (c == '\\') {
                escape(true);
            } else {
                if (c == '^' || c == '&' || c == '~')
                    to_ += '\\';
                to_ += c;
                ++at_;
            }
        }
        isSaid_ = false; // it is not closed
    }

    std::string_view from_;
    std::size_t at_ = 0;
    std::string to_;
    bool isSaid_ = true;
};

/// How often the innermost of counted repetitions may come at most; libxml2 writes each out.
double repetitionsIn(std::string_view expression)
{
    double all = 1;
    for (std::size_t at = expression.find('{'); at != std::string_view::npos; at = expression.find('{', at + 1)) {
        const std::size_t close = expression.find('}', at), comma = expression.find(',', at);
        const std::size_t from = comma < close && comma + 1 < close ? comma + 1 : at + 1;
        double number = 0;
        const auto [end, error] =
            std::from_chars(expression.data() + from, expression.data() + expression.size(), number);
        all *= error == std::errc{} ? std::max(1.0, number) : 1;
    }
    return all;
}

} // namespace

std::optional<Pattern> Pattern::compile(const std::string& expression)
{
    if (expression.size() > kLongestExpression)
        return {};
    Pattern pattern;
    pattern.expression_ = expression;
    if (const auto translated = Translation(expression).run()) {
        RE2::Options options(RE2::Quiet);
        options.set_max_mem(kMostMemory);
        options.set_never_capture(true);
        auto linear = std::make_shared<const RE2>(*translated, options);
        if (!linear->ok())
            return {};
        pattern.linear_ = std::move(linear);
        return pattern;
    }
    if (repetitionsIn(expression) > kMostRepetitions)
        return {};
    const xmlRegexpPtr compiled = xmlRegexpCompile(reinterpret_cast<const xmlChar*>(expression.c_str()));
    if (compiled == nullptr)
        return {};
    pattern.other_ =
        std::shared_ptr<const void>(compiled, [](void* p) { xmlRegFreeRegexp(static_cast<xmlRegexpPtr>(p)); });
    pattern.spentNanoseconds_ = std::make_shared<std::atomic<std::int64_t>>(0);
    return pattern;
}

bool Pattern::isGivenUp() const { return spentNanoseconds_ && *spentNanoseconds_ > kMostNanoseconds; }

bool Pattern::matches(const std::string& text) const
{
    if (text.size() > kLongestText)
        return false;
    if (linear_)
        return RE2::FullMatch(text, *static_cast<const RE2*>(linear_.get()));
    // Executing an expression changes nothing in it; the library only does not say so.
    auto* const compiled = const_cast<xmlRegexpPtr>(static_cast<const xmlRegexp*>(other_.get()));
    if (text.size() > kLongestTried || isGivenUp())
        return false;
    const auto began = std::chrono::steady_clock::now();
    const bool isOne = xmlRegexpExec(compiled, reinterpret_cast<const xmlChar*>(text.c_str())) == 1;
    *spentNanoseconds_ +=
        std::chrono::duration_cast<std::chrono::nanoseconds>(std::chrono::steady_clock::now() - began).count();
    return isOne;
}

} // namespace wendrix::checks
