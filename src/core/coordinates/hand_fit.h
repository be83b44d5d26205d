#pragma once

#include "core/coordinates/alignment.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace wendrix::coordinates {

/// Something taken hold of in a member, metres, in the frame of its file.
struct Held {
    enum class Kind { Place, Line, Face };
    Kind kind = Kind::Place;
    Point3 place;               ///< for a line its middle, for a face a place on it
    Vector3 direction{0, 0, 1}; ///< unit: along the line, or out of the face
    double length = 0;          ///< of the line; of a face how far it reaches in plan
    bool hasHeight = true;      ///< an axis of a grid and a crossing have none
    std::string name;           ///< "axis C", "C/4", "corner of Column B-3"
    friend bool operator==(const Held&, const Held&) = default;
};

/// Two things that are to coincide.
struct HandPair {
    Held moving, reference;
    double weight = 1;
    friend bool operator==(const HandPair&, const HandPair&) = default;
};

struct HandFit {
    Alignment alignment;                                             ///< what each pair leaves, in their order
    bool tellsTurn = false, tellsPlace = false, tellsHeight = false; ///< else it stays as it is now
};

inline constexpr ErrorCode kUnlikePair{"fit.unlike-pair"}; ///< a line on a face, or a face that slopes
inline constexpr ErrorCode kNoPair{"fit.no-pair"};

/// Brings a member onto the reference by things that are to coincide, as people do by hand: axis 1 on axis 1, then J on
/// J. A place fixes where it lies, a line or an upright face its direction and what is across it, a level face its
/// height. What they leave free stays as it is now; what they tell more than once is least squares, in plan over
/// places, and over both ends of lines and faces; heights by their mean.
///
/// Of the two ways to lay a line on a line, the one nearer to how the member stands now is meant.
/// Source: places alone, fitInPlan(); else Gauss-Newton on the turn with the shift projected out: G. Golub,
/// V. Pereyra, SIAM J. Numer. Anal. 10(2), 1973.
/// @param present  the fit that the member has now
/// @param scale    free: found from places, where there are two or more and nothing else
/// @return kNoPair, kUnlikePair, or what fitInPlan() gives for places alone
[[nodiscard]] Result<HandFit> fitByHand(std::span<const HandPair> pairs, const federation::Fit& present,
                                        federation::Scale scale = federation::Scale::IsOne);

/// What a fit, whoever made it, leaves between the two sides of each pair: of lines at the end that is farther off.
[[nodiscard]] std::vector<Left> leftAtPairs(std::span<const HandPair> pairs, const federation::Fit& fit);

/// What a person names in a member: an axis "C", a crossing "C/4", a storey, or a place in metres, "12.5 3.0 0".
/// @return kNotNamed with what the member has
[[nodiscard]] Result<Held> heldByName(const ifc::Model& model, const std::string& words);
inline constexpr ErrorCode kNotNamed{"fit.not-named"};

} // namespace wendrix::coordinates
