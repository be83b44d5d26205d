#pragma once

#include "core/federation/member.h"

#include <map>
#include <optional>
#include <set>
#include <span>
#include <vector>

namespace wendrix::view {

/// One element of one shown member.
struct ElementKey {
    std::uint32_t member = 0;
    ifc::ElementIndex element = 0;
    friend auto operator<=>(const ElementKey&, const ElementKey&) = default;
};

/// The element of a lasting name. A name without a discipline, as files have it, may be any member's; one whose model
/// is called otherwise by now is looked for in the others of its discipline.
[[nodiscard]] std::optional<ElementKey> find(std::span<const federation::Member> members, const ElementRef& ref);

/// 0 to 1 each. Alpha 0 is not drawn, 1 is solid, between is drawn through.
struct Colour {
    float red = 0, green = 0, blue = 0, alpha = 1;
    friend bool operator==(const Colour&, const Colour&) = default;
};

/// "#C8A768", with an alpha.
[[nodiscard]] Colour colourOf(const std::string& hex, float alpha = 1);

inline constexpr float kFadedAlpha = 0.12f;

/// A place that the view is about, with what stands around it; nothing else is shown.
struct Focus {
    Box3 box;                       ///< federation frame, metres
    double floor = 0, ceiling = 0;  ///< heights of its storey: what is shown reaches from one to the other
    std::vector<ElementKey> around; ///< in order

    static constexpr double kReach = 5; ///< metres to the sides within which things fade out
    /// What may be drawn of the surroundings.
    [[nodiscard]] Box3 region() const
    {
        Box3 r = box.grownBy(kReach);
        r.min.z = floor;
        r.max.z = ceiling;
        return r;
    }
};

/// What is shown and how, apart from where one looks from.
struct Display {
    std::set<ElementKey> hidden;
    std::optional<std::set<ElementKey>> only; ///< nothing else is shown
    std::map<ElementKey, Colour> painted;     ///< what the view is about
    bool isRestFaded = false;                 ///< everything that is not painted
    std::optional<Focus> focus;               ///< nothing is shown but what is painted and what stands around
    std::set<ElementKey> selected;

    /// Takes the elements out of the view; the selection is empty afterwards.
    void hideSelected();
    void showOnlySelected();
    void bringAllBack();
    /// In words what one does not see: "12 elements hidden", "only 3 elements shown"; empty where all is shown.
    [[nodiscard]] std::string inWords() const;
};

/// How a member is shown as a whole.
struct MemberLook {
    Colour colour; ///< its discipline's
    bool isShown = true;
    bool isPickable = true;      ///< else one reaches through it to what lies behind
    bool isEdgesOnly = false;    ///< drawn in ink, without faces
    bool areSpacesShown = false; ///< as tinted volumes
    float alpha = 1;             ///< of everything in it that is not painted or selected
    bool isOnlyPainted = false;  ///< shows painted elements alone: an earlier revision laid under
};

/// Spaces and other volumes that nobody builds.
[[nodiscard]] bool isUnbuilt(const ifc::Model& model, const ifc::Element& element);

/// The colour of every element of every member, as if nothing were in focus. Spaces and other unbuilt volumes are not
/// drawn unless painted, or asked for.
/// @param base  a colour for each element by a rule; where it is empty for a member, the discipline's tones
[[nodiscard]] std::vector<std::vector<Colour>> coloursOf(const Display& display,
                                                         std::span<const federation::Member> members,
                                                         std::span<const MemberLook> looks,
                                                         const std::vector<std::vector<Colour>>& base = {});

/// Brings the colours of these elements to a display, where everything else is as it was; costs what they are.
/// @return whose colour is another now, in order
std::vector<ElementKey> updateColours(std::vector<std::vector<Colour>>& colours, const std::set<ElementKey>& touched,
                                      const Display& display, std::span<const federation::Member> members,
                                      std::span<const MemberLook> looks, const std::vector<std::vector<Colour>>& base);

/// The colours of what is drawn while something is in focus: what is painted, and what stands around it, pale. In
/// order.
[[nodiscard]] std::vector<std::pair<ElementKey, Colour>> coloursInFocusOf(const Display& display,
                                                                          std::span<const federation::Member> members,
                                                                          std::span<const MemberLook> looks,
                                                                          const std::vector<std::vector<Colour>>& base);

} // namespace wendrix::view
