#pragma once

#include "core/project/clash_list.h"
#include "core/project/project.h"

/// What a list of clashes says, for people who have no Wendrix: groups with a picture each.
namespace wendrix::project {

struct ClashReport {
    struct Group {
        std::string title, where, elevation, extent, decision, issue; ///< issue: its number
        std::vector<Pair> pairs;                                      ///< deepest first
        std::string picture; ///< what an img element shows, as "data:image/png;base64,..."; empty: none
    };
    std::string project, narrowed; ///< narrowed: what of all pairs it shows
    std::string run;               ///< the last one, in words
    WhoAndWhen by;
    std::vector<Group> groups;
    std::size_t pairs = 0;         ///< of all groups
    std::size_t groupsLeftOut = 0; ///< beyond kMostGroups, which a person no longer reads

    static constexpr std::size_t kMostGroups = 200, kMostRows = 60;
};

/// The groups of a list in its order, without pictures.
[[nodiscard]] Result<ClashReport> reportOf(const Project& project, const ClashList& list, const WhoAndWhen& by);

/// One HTML page that needs nothing beside it; all text from models is escaped.
[[nodiscard]] std::string toHtml(const ClashReport& report);

/// "every pair that is there on Level 2, Structure against Ventilation": what a question asks for.
[[nodiscard]] std::string inWords(const ClashQuestion& question);

} // namespace wendrix::project
