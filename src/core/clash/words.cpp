#include "core/clash/words.h"

#include "core/base/text.h"

#include <algorithm>
#include <vector>

namespace wendrix::clash {

namespace {

std::vector<std::string> wordsOf(const std::string& name)
{
    std::vector<std::string> words;
    for (std::size_t at = 0; at <= name.size();) {
        const std::size_t end = std::min(name.find(' ', at), name.size());
        words.push_back(name.substr(at, end - at));
        at = end + 1;
    }
    return words;
}

/// Letters of any script: whatever is not ASCII is one in UTF-8.
bool isPlain(const std::string& word)
{
    return !word.empty() && std::all_of(word.begin(), word.end(), [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || static_cast<unsigned char>(c) >= 0x80;
    });
}

} // namespace

std::string commonKind(std::span<const std::string> names)
{
    std::vector<std::vector<std::string>> all;
    for (const std::string& name : names)
        all.push_back(wordsOf(name));
    std::string kind;
    for (std::size_t i = 0; !all.empty(); ++i) {
        const bool isShared = std::all_of(all.begin(), all.end(),
                                          [&](const auto& words) { return i < words.size() && words[i] == all[0][i]; });
        if (!isShared || !isPlain(all[0][i]))
            break;
        kind += (kind.empty() ? "" : " ") + all[0][i];
    }
    return lowerCase(kind);
}

std::string groupTitle(const std::string& shared, std::span<const std::string> others, std::size_t count, Kind kind)
{
    const std::string verb = kind == Kind::Clearance   ? " is too near "
                             : kind == Kind::Duplicate ? " doubles "
                                                       : " crosses ";
    if (others.size() == 1)
        return shared + verb + others[0];
    const std::string what = commonKind(others);
    return shared + verb + std::to_string(std::max(count, others.size())) + " " +
           (what.empty() ? "elements" : what + (what.ends_with('s') ? "" : "s"));
}

std::string depthInWords(double metres, bool isBound)
{
    return (isBound ? "at most " : "") + lengthInWords(Metres{metres});
}

std::string inWords(const Extent& e)
{
    switch (e.kind) {
    case Kind::Clearance:
        return lengthInWords(Metres{e.distance}) + " of " + lengthInWords(Metres{e.wanted});
    case Kind::Duplicate:
        return "doubled";
    case Kind::Hard:
        break;
    }
    return depthInWords(e.depth, e.isBound) + " deep";
}

} // namespace wendrix::clash
