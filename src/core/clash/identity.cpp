#include "core/clash/identity.h"

#include "core/base/guid.h"

namespace wendrix::clash {

std::string_view stateInWords(PairState state)
{
    switch (state) {
    case PairState::New:
        return "new";
    case PairState::StillThere:
        return "still there";
    case PairState::Gone:
        return "gone";
    case PairState::Back:
        return "back";
    }
    return "";
}

std::string pairId(std::string_view test, std::string_view leftGuid, std::string_view rightGuid)
{
    std::string text(test);
    text += '\n';
    text += leftGuid;
    text += '\n';
    text += rightGuid;
    return uuidFromText(text);
}

std::optional<PairState> nextState(std::optional<PairState> before, bool isFound)
{
    if (!before)
        return isFound ? std::optional(PairState::New) : std::nullopt;
    if (*before == PairState::Gone)
        return isFound ? PairState::Back : PairState::Gone;
    return isFound ? PairState::StillThere : PairState::Gone;
}

} // namespace wendrix::clash
