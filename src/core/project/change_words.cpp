#include "core/project/change_words.h"

#include "core/base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace wendrix::project {

const char* nameOf(ChangeKind kind)
{
    switch (kind) {
    case Added:
        return "added";
    case Removed:
        return "removed";
    case Reshaped:
        return "reshaped";
    case Moved:
        return "moved";
    case Redescribed:
        return "redescribed";
    case Rekeyed:
        return "new id";
    case CutUp:
        return "cut up";
    case Joined:
        return "joined";
    }
    return "";
}

std::string kindsInWords(unsigned kinds)
{
    std::string words;
    for (const ChangeKind kind : kAllChangeKinds)
        if ((kinds & kind) != 0)
            words += (words.empty() ? "" : ", ") + std::string(nameOf(kind));
    return words;
}

std::string shiftAlongAxes(Vector3 shift)
{
    constexpr double kShown = 0.0005, kFar = 10; // metres
    const bool isFar = std::max({std::abs(shift.x), std::abs(shift.y), std::abs(shift.z)}) >= kFar;
    std::string words;
    for (int axis = 0; axis < 3; ++axis)
        if (std::abs(shift[axis]) >= kShown)
            words += fmt::format("{}{} {}{:.{}f}", words.empty() ? "" : ", ", "XYZ"[axis], shift[axis] > 0 ? "+" : "−",
                                 std::abs(shift[axis]) * (isFar ? 1 : 1000), isFar ? 2 : 0);
    return words.empty() ? "nowhere" : words + (isFar ? " m" : " mm");
}

std::string turnInWords(const ChangeRecord& c)
{
    if (c.turn.value == 0)
        return {};
    const double degrees = toDegrees(c.turn);
    constexpr double kUpright = 0.9999;
    if (std::abs(c.turnAxis.z) < kUpright)
        return fmt::format("turned {:.1f}°", std::abs(degrees));
    return fmt::format("turned {:.1f}° {}", std::abs(degrees),
                       (degrees > 0) == (c.turnAxis.z > 0) ? "counter-clockwise" : "clockwise");
}

std::string inWords(const changes::FieldChange& f)
{
    const std::string name = f.set.empty() ? f.name : f.set + "." + f.name;
    if (f.before.empty())
        return name + " is new: " + f.after;
    if (f.after.empty())
        return name + " is gone, was " + f.before;
    return name + " was " + f.before + ", is " + f.after;
}

std::string measureInWords(const ChangeRecord& c)
{
    std::string words;
    const auto add = [&](const std::string& more) {
        if (!more.empty())
            words += (words.empty() ? "" : "; ") + more;
    };
    if ((c.kinds & Reshaped) != 0)
        add(c.extents.empty() ? "another shape" : c.extents);
    if ((c.kinds & Moved) != 0) {
        if (length(c.shift) >= 0.0005)
            add(shiftAlongAxes(c.shift));
        add(turnInWords(c));
    }
    if ((c.kinds & (CutUp | Joined)) != 0)
        add(counted(c.parts.size(), "part", "parts"));
    if (!words.empty())
        return words;
    if (c.fields.size() == 1)
        return c.fields[0].before.empty()  ? "now " + c.fields[0].after
               : c.fields[0].after.empty() ? c.fields[0].before + ", now none"
                                           : c.fields[0].before + ", now " + c.fields[0].after;
    if (!c.fields.empty())
        return std::to_string(c.fields.size()) + " fields";
    if ((c.kinds & Rekeyed) != 0 && c.confidence < 1)
        return fmt::format("{:.0f} % sure", 100 * c.confidence);
    return {};
}

std::string titleOf(const ChangeRow& row)
{
    const ChangeRecord& c = row.first;
    if (!row.isGroup)
        return c.name;
    const std::string kinds = kindsInWords(c.kinds);
    // One type, or one class, says more than elements do.
    const bool isOfType = (c.kinds & (Moved | Rekeyed)) == 0 || (c.kinds & Reshaped) != 0;
    const std::string what = isOfType && !c.type.empty() ? std::to_string(row.count) + " of " + c.type
                             : row.classes.size() == 1
                                 ? std::to_string(row.count) + " × " + classInWords(row.classes[0])
                                 : counted(row.count, "element", "elements");
    const std::string where = row.storeys.size() > 1   ? " on " + std::to_string(row.storeys.size()) + " storeys"
                              : row.storeys[0].empty() ? std::string()
                                                       : " on " + row.storeys[0];
    return what + where + " " + kinds;
}

std::string volumeInWords(double cubicMetres)
{
    return std::abs(cubicMetres) < 0.1 ? fmt::format("{:.1f} l", cubicMetres * 1000)
                                       : fmt::format("{:.3f} m³", cubicMetres);
}

} // namespace wendrix::project
