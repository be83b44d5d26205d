#pragma once

#include "core/project/change_list.h"
#include "core/project/project.h"

/// What a list of changes says, for people who have no Wendrix: rows with a picture each.
namespace wendrix::project {

struct ChangeReport {
    struct Part {
        std::string title, measure;
        std::vector<ChangeRecord> changes;
        std::string picture; ///< what an img element shows, as "data:image/png;base64,..."; empty: none
    };
    std::string project, narrowed;     ///< narrowed: what of all changes it shows
    std::vector<std::string> compared; ///< "Structure P01 with P02: 812 unchanged"
    std::map<ChangeKind, std::size_t> counts;
    WhoAndWhen by;
    std::vector<Part> parts;
    std::size_t changes = 0;      ///< of all parts
    std::size_t partsLeftOut = 0; ///< beyond kMostParts, which a person no longer reads

    static constexpr std::size_t kMostParts = 200, kMostRows = 60;
};

/// "Structure P01 with P02", of each comparison; in full with how much changed and how much did not.
[[nodiscard]] Result<std::vector<std::string>> comparedInWords(const Project& project, const ChangeList& list,
                                                               bool isInFull);

/// The rows of a list in its order, groups as one part each, without pictures.
[[nodiscard]] Result<ChangeReport> reportOf(const Project& project, const ChangeList& list, const WhoAndWhen& by);

/// One HTML page that needs nothing beside it; all text from models is escaped.
[[nodiscard]] std::string toHtml(const ChangeReport& report);

} // namespace wendrix::project
