#pragma once

#include "core/project/project.h"

#include <functional>
#include <set>
#include <span>

/// What changes have to do with the rest: clashes, issues, other disciplines' elements, holes and supports.
namespace wendrix::project {

/// An element of another discipline near a change.
struct Neighbour {
    ElementRef element;
    std::string discipline, name, className;
    double distance = 0; ///< metres between the surfaces; 0 where they meet
};

/// Something that was made for an element where it was, and is not where it is now.
struct LeftBehind {
    ElementRef element;
    std::string discipline, name;
    bool isHole = false; ///< a hole provided for it; else what carried it
};

/// What the first tests after a change say, and what issues are about it.
struct ChangeRecordsMet {
    std::vector<Pair> caused; ///< new or back in the first run with the later delivery
    std::vector<Pair> cured;  ///< gone in it
    std::vector<IssueBrief> issues;
};
[[nodiscard]] Result<ChangeRecordsMet> recordsMet(const Project& project, const ChangeRecord& change);

/// Asks members, as they stand in a federation, about changes; keeps its trees, which the first question makes. From
/// one thread at a time.
class Surroundings {
public:
    /// @param members  in use
    /// @param before  revisions that elements were in before, with the deliveries they are of
    Surroundings(std::vector<federation::Member> members, std::vector<federation::Member> before);
    ~Surroundings();
    Surroundings(Surroundings&&) noexcept;

    /// Elements of other disciplines within `distance` metres of where the element is, of what was removed of where it
    /// was; the nearest first. Exact between the surfaces.
    [[nodiscard]] std::vector<Neighbour> near(const ChangeRecord& change, double distance) const;
    /// Whether one of a discipline's elements is.
    [[nodiscard]] bool isNear(const Box3& place, const ElementRef& element, const std::string& discipline,
                              double distance) const;
    /// Holes and supports of any member that met the element where it was and do not meet it where it is.
    ///
    /// A hole is an element that keeps room for one (IfcVirtualElement or IfcBuildingElementProxy PROVISIONFORVOID), a
    /// support an IfcDiscreteAccessory, an IfcMechanicalFastener or what is called a support, hanger or bracket.
    [[nodiscard]] std::vector<LeftBehind> leftBehind(const ChangeRecord& change) const;

private:
    struct Index;
    std::unique_ptr<Index> index_;
};

/// Of the changes of a list those near a discipline's elements.
[[nodiscard]] std::set<ChangeKey> changesNear(const ChangeBriefs& briefs, const Surroundings& surroundings,
                                              const std::string& discipline, double distance,
                                              const std::function<bool()>& isVoid);

} // namespace wendrix::project
