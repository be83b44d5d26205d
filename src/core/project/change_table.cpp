#include "core/project/change_table.h"

#include "core/project/change_words.h"

#include <fmt/format.h>

namespace wendrix::project {

namespace {

constexpr const char* kColumns[] = {"Kinds",          "Name",         "Class",        "Type",     "System",
                                    "Storey",         "Zone",         "Phase",        "Member",   "What happened",
                                    "Shift X (mm)",   "Shift Y (mm)", "Shift Z (mm)", "Turn (°)", "Volume was (m³)",
                                    "Volume is (m³)", "Fields",       "Review",       "GlobalId", "GlobalId before",
                                    "Sure (%)"};

std::vector<std::string> rowOf(const ChangeRecord& c)
{
    const auto figure = [](bool isGiven, double value, int digits) {
        return isGiven ? fmt::format("{:.{}f}", value, digits) : std::string();
    };
    std::string fields;
    for (const changes::FieldChange& f : c.fields)
        fields += (fields.empty() ? "" : "; ") + inWords(f);
    const bool isMoved = (c.kinds & Moved) != 0, isReshaped = (c.kinds & Reshaped) != 0;
    return {kindsInWords(c.kinds),
            c.name,
            c.className,
            c.type,
            c.system,
            c.storey,
            c.zone,
            c.phase,
            c.discipline + (c.element.part.empty() ? "" : " " + c.element.part),
            measureInWords(c),
            figure(isMoved, 1000 * c.shift.x, 1),
            figure(isMoved, 1000 * c.shift.y, 1),
            figure(isMoved, 1000 * c.shift.z, 1),
            figure(isMoved && c.turn.value != 0, toDegrees(c.turn), 2),
            figure(isReshaped && c.volumeBefore > 0, c.volumeBefore, 4),
            figure(isReshaped && c.volumeAfter > 0, c.volumeAfter, 4),
            fields,
            c.review,
            c.element.guid,
            c.continues ? c.continues->guid : std::string(),
            figure((c.kinds & Rekeyed) != 0, 100 * c.confidence, 0)};
}

} // namespace

std::vector<std::vector<std::string>> tableOf(std::span<const ChangeRecord> changes)
{
    std::vector<std::vector<std::string>> table{{std::begin(kColumns), std::end(kColumns)}};
    for (const ChangeRecord& c : changes)
        table.push_back(rowOf(c));
    return table;
}

} // namespace wendrix::project
