#pragma once

#include "core/view/colouring.h"
#include "core/view/colours.h"
#include "core/view/cuts.h"
#include "core/view/signs.h"

namespace wendrix::view {

class Picker;

/// Two members or revisions laid over each other in the face of the last cut: one filled, the other as an outline.
struct Overlay {
    std::uint32_t filled = 0, outlined = 0; ///< members
    friend bool operator==(const Overlay&, const Overlay&) = default;
};

/// What a view is about.
struct Subject {
    std::map<ElementKey, Colour> painted;
    bool isRestFaded = false;           ///< everything that is not painted
    std::optional<Box3> place;          ///< in focus: what is painted and what stands around is drawn, nothing else
    std::vector<ElementKey> about = {}; ///< elements that are no surroundings of the place
    std::vector<Marker> markers = {};
    std::vector<Arrow> arrows = {};
    std::vector<GridLine> grid = {}; ///< to find one's way by
    std::vector<StandingPicture> pictures = {};
};

/// What explains a subject, and takes longer to work out than showing it. It goes with the subject.
struct Illustration {
    std::vector<Figure> figures;
    std::vector<Arrow> arrows;             ///< beside the subject's own
    std::optional<geometry::Plane> opened; ///< what its normal points to is cut away, as nothing else lets one see
    friend bool operator==(const Illustration&, const Illustration&) = default;
};

/// What a scene shows, apart from where one looks from: members and their looks, what is hidden, painted, selected and
/// in focus, signs and grid, cuts, and the colours that come of it.
///
/// Elements are named by keys, which hold for the members of now; when others are set, what was hidden, painted or
/// selected is found again by its ElementRef. Each command costs what it touches; takeDifference() says what that was,
/// so that whoever draws need not look at the rest.
class Scene {
public:
    void setMembers(std::vector<federation::Member> members, std::vector<MemberLook> looks);
    [[nodiscard]] const std::vector<federation::Member>& members() const { return members_; }
    /// The element of this name, unless it is only in a revision laid under.
    [[nodiscard]] std::optional<ElementKey> find(const ElementRef& ref) const;

    void setLooks(std::vector<MemberLook> looks); ///< one a member
    [[nodiscard]] const std::vector<MemberLook>& looks() const { return looks_; }
    void setRule(const ColourRule& rule);
    [[nodiscard]] const ColourRule& rule() const { return rule_; }
    [[nodiscard]] const std::vector<LegendLine>& legend() const { return colouring_.legend; }

    [[nodiscard]] const Display& display() const { return display_; }
    void setDisplay(Display display);           ///< whole, as a kept view has it
    void choose(std::set<ElementKey> elements); ///< as the selection
    void hideSelected();
    void showOnlySelected();
    void bringAllBack();
    /// The selected elements as they are, the rest faded.
    void fadeAllButSelected();
    void show(Subject subject); ///< instead of what it was about before
    /// What it is about now, to be shown again.
    [[nodiscard]] Subject subject() const;
    void illustrate(Illustration with); ///< what is shown now
    [[nodiscard]] const Illustration& illustration() const { return illustration_; }
    [[nodiscard]] const std::vector<Figure>& figures() const { return illustration_.figures; }
    [[nodiscard]] const std::optional<geometry::Plane>& opened() const { return illustration_.opened; }
    [[nodiscard]] const std::vector<Marker>& markers() const { return markers_; }
    [[nodiscard]] const std::vector<Arrow>& arrows() const { return arrows_; }
    [[nodiscard]] const std::vector<GridLine>& grid() const { return grid_; }
    [[nodiscard]] const std::vector<StandingPicture>& pictures() const { return pictures_; }
    /// Signs of notes stand there whatever the view is about, over everything else.
    void setNoteSigns(std::vector<Marker> signs);
    [[nodiscard]] const std::vector<Marker>& noteSigns() const { return noteSigns_; }
    /// What finds the surroundings of a place among the members of now; until it is there nothing stands around.
    void setPicker(const Picker* picker);

    void setCuts(Cuts cuts);
    [[nodiscard]] const Cuts& cuts() const { return cuts_; }
    /// Of the cuts and of what is opened, as many as can be drawn.
    [[nodiscard]] std::vector<geometry::Plane> cutPlanes() const;
    /// "cut to Level 2, by a box, opened where they meet"; empty where nothing is cut.
    [[nodiscard]] std::string cutsInWords() const;
    void setOverlay(std::optional<Overlay> overlay);
    [[nodiscard]] const std::optional<Overlay>& overlay() const { return overlay_; }

    /// As they are drawn now; valid until the next command.
    [[nodiscard]] Colours colours() const { return {whole_, display_.focus ? &inFocus_ : nullptr}; }
    [[nodiscard]] const ColourTable& wholeColours() const { return whole_; } ///< of the whole when it was seen last
    [[nodiscard]] const ColourList* coloursInFocus() const { return display_.focus ? &inFocus_ : nullptr; }
    [[nodiscard]] Box3 bounds() const; ///< of the members that are shown

    /// What differs since it was asked last.
    struct Difference {
        bool areMembersNew = false, areLooksNew = false, areAllColoursNew = false, isFocusNew = false,
             areCutFacesNew = false, areSignsNew = false, isGridNew = false, areFiguresNew = false,
             arePicturesNew = false;
        std::vector<ElementKey> colours; ///< whose colour in the whole is another, in order; where not all are new
        [[nodiscard]] bool isNothing() const
        {
            return !areMembersNew && !areLooksNew && !areAllColoursNew && !isFocusNew && !areCutFacesNew &&
                   !areSignsNew && !isGridNew && !areFiguresNew && !arePicturesNew && colours.empty();
        }
    };
    [[nodiscard]] const Difference& difference() const { return difference_; }
    [[nodiscard]] Difference takeDifference();

private:
    void touchAll(const std::set<ElementKey>& keys) { touched_.insert(keys.begin(), keys.end()); }
    void findSurroundings();
    void bringUpToDate();

    std::vector<federation::Member> members_;
    std::vector<MemberLook> looks_;
    ColourRule rule_;
    Colouring colouring_;
    Display display_;
    std::vector<ElementKey> about_; ///< of the focus
    const Picker* picker_ = nullptr;
    std::vector<Marker> markers_, noteSigns_;
    std::vector<Arrow> arrows_; ///< the subject's own first
    Illustration illustration_;
    std::vector<GridLine> grid_;
    std::vector<StandingPicture> pictures_;
    Cuts cuts_;
    std::optional<Overlay> overlay_;
    ColourTable whole_;
    ColourList inFocus_;
    bool isWholeFaded_ = false,
         areAllTouched_ = true;    ///< whole_ is of a display whose rest is faded; it has to be made anew
    std::set<ElementKey> touched_; ///< not yet as whole_ has them
    Difference difference_;
};

} // namespace wendrix::view
