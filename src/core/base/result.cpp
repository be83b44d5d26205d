#include "core/base/result.h"

namespace wendrix {

std::string Error::inWords() const
{
    std::string words;
    if (!file.empty())
        words += file + ": ";
    if (!entity.empty())
        words += entity + ": ";
    if (byteOffset)
        words += "at byte " + std::to_string(*byteOffset) + ": ";
    return words + message;
}

std::string_view severityName(Severity severity)
{
    switch (severity) {
    case Severity::Note:
        return "note";
    case Severity::Warning:
        return "warning";
    case Severity::Error:
        return "error";
    }
    return "error";
}

} // namespace wendrix
