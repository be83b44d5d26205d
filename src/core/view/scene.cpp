#include "core/view/scene.h"

#include "core/view/focus.h"

#include <algorithm>

namespace wendrix::view {

namespace {

/// Where the elements of some members are among others.
class Translation {
public:
    Translation(std::span<const federation::Member> from, std::span<const federation::Member> to) : from_(from), to_(to)
    {
        for (const federation::Member& member : from)
            same_.push_back(std::find_if(to.begin(), to.end(),
                                         [&](const federation::Member& m) {
                                             return m.model == member.model && m.disciplineId == member.disciplineId &&
                                                    m.part == member.part;
                                         }) -
                            to.begin());
    }
    [[nodiscard]] std::optional<ElementKey> operator()(const ElementKey& key) const
    {
        if (const auto same = static_cast<std::size_t>(same_[key.member]); same < to_.size())
            return ElementKey{static_cast<std::uint32_t>(same), key.element};
        return find(to_, from_[key.member].refOf(key.element));
    }
    [[nodiscard]] std::set<ElementKey> operator()(const std::set<ElementKey>& keys) const
    {
        std::set<ElementKey> found;
        for (const ElementKey& key : keys)
            if (const auto there = (*this)(key))
                found.insert(*there);
        return found;
    }

private:
    std::span<const federation::Member> from_, to_;
    std::vector<std::ptrdiff_t>
        same_; ///< of each member the one that is the same model; past the end where there is none
};

/// As many members as come before those that are only laid under.
std::span<const federation::Member> shownOf(const std::vector<federation::Member>& members,
                                            const std::vector<MemberLook>& looks)
{
    const auto end =
        std::find_if(looks.begin(), looks.end(), [](const MemberLook& look) { return look.isOnlyPainted; });
    return std::span(members).first(static_cast<std::size_t>(end - looks.begin()));
}

} // namespace

void Scene::setMembers(std::vector<federation::Member> members, std::vector<MemberLook> looks)
{
    // What was laid under has no lasting place; what stands in the view has.
    const auto before = std::exchange(members_, std::move(members));
    const auto looksBefore = std::exchange(looks_, std::move(looks));
    const Translation there(before, shownOf(members_, looks_));
    const auto isLasting = [&](const ElementKey& key) { return !looksBefore[key.member].isOnlyPainted; };
    const auto lasting = [&](const std::set<ElementKey>& keys) {
        std::set<ElementKey> own;
        std::copy_if(keys.begin(), keys.end(), std::inserter(own, own.end()), isLasting);
        return there(own);
    };
    Display now;
    now.hidden = lasting(display_.hidden);
    now.selected = lasting(display_.selected);
    if (display_.only)
        if (auto only = lasting(*display_.only); !only.empty()) // else nothing would be shown, and nobody knew why
            now.only = std::move(only);
    for (const auto& [key, colour] : display_.painted)
        if (isLasting(key))
            if (const auto found = there(key))
                now.painted[*found] = colour;
    now.isRestFaded = display_.isRestFaded && !now.painted.empty();
    display_ = std::move(now);
    about_.clear();
    picker_ = nullptr;
    overlay_.reset();
    difference_.isFocusNew = true;
    difference_.areMembersNew = difference_.areLooksNew = true;
    setRule(rule_);
}

std::optional<ElementKey> Scene::find(const ElementRef& ref) const
{
    return view::find(shownOf(members_, looks_), ref);
}

void Scene::setLooks(std::vector<MemberLook> looks)
{
    looks_ = std::move(looks);
    difference_.areLooksNew = true;
    setRule(rule_);
}

void Scene::setRule(const ColourRule& rule)
{
    rule_ = rule;
    colouring_ = colouringBy(rule_, members_, looks_);
    areAllTouched_ = true;
    findSurroundings();
    bringUpToDate();
}

void Scene::setDisplay(Display display)
{
    display_ = std::move(display);
    areAllTouched_ = true;
    difference_.isFocusNew = true;
    about_.clear();
    for (const auto& [key, colour] : display_.painted)
        about_.push_back(key);
    findSurroundings();
    bringUpToDate();
}

void Scene::choose(std::set<ElementKey> elements)
{
    touchAll(display_.selected);
    touchAll(elements);
    display_.selected = std::move(elements);
    bringUpToDate();
}

void Scene::hideSelected()
{
    touchAll(display_.selected);
    display_.hideSelected();
    bringUpToDate();
}

void Scene::showOnlySelected()
{
    areAllTouched_ = areAllTouched_ || !display_.selected.empty();
    display_.showOnlySelected();
    bringUpToDate();
}

void Scene::bringAllBack()
{
    touchAll(display_.hidden);
    areAllTouched_ = areAllTouched_ || display_.only.has_value();
    difference_.isFocusNew = difference_.isFocusNew || display_.focus;
    display_.bringAllBack();
    bringUpToDate();
}

void Scene::fadeAllButSelected()
{
    const Colours now = colours();
    for (const ElementKey& key : display_.selected)
        display_.painted[key] = now.of(key);
    touchAll(display_.selected);
    difference_.isFocusNew = difference_.isFocusNew || display_.focus;
    display_.focus.reset();
    display_.isRestFaded = true;
    bringUpToDate();
}

namespace {

/// @return whether it was another one
template <class Value>
bool replace(Value& old, Value& with)
{
    if (old == with)
        return false;
    old = std::move(with);
    return true;
}

} // namespace

void Scene::setNoteSigns(std::vector<Marker> signs)
{
    if (replace(noteSigns_, signs))
        difference_.areSignsNew = true;
}

Subject Scene::subject() const
{
    Subject subject{display_.painted, display_.isRestFaded, {}, about_, markers_, arrows_, grid_, pictures_};
    if (display_.focus)
        subject.place = display_.focus->box;
    subject.arrows.resize(arrows_.size() - illustration_.arrows.size());
    return subject;
}

void Scene::illustrate(Illustration with)
{
    if (illustration_ == with)
        return;
    difference_.areFiguresNew = difference_.areFiguresNew || illustration_.figures != with.figures;
    if (!illustration_.arrows.empty() || !with.arrows.empty()) {
        arrows_.resize(arrows_.size() - illustration_.arrows.size());
        arrows_.insert(arrows_.end(), with.arrows.begin(), with.arrows.end());
        difference_.areSignsNew = true;
    }
    const bool isOpenedOtherwise = illustration_.opened != with.opened;
    difference_.areCutFacesNew = difference_.areCutFacesNew || isOpenedOtherwise;
    illustration_ = std::move(with);
}

void Scene::show(Subject subject)
{
    illustrate({});
    const bool areMarkersNew = replace(markers_, subject.markers), areArrowsNew = replace(arrows_, subject.arrows);
    difference_.areSignsNew = difference_.areSignsNew || areMarkersNew || areArrowsNew;
    difference_.isGridNew = replace(grid_, subject.grid) || difference_.isGridNew;
    difference_.arePicturesNew = replace(pictures_, subject.pictures) || difference_.arePicturesNew;
    for (const auto* one : {&display_.painted, &subject.painted})
        for (const auto& [key, colour] : *one)
            touched_.insert(key);
    display_.painted = std::move(subject.painted);
    display_.isRestFaded = subject.isRestFaded;
    difference_.isFocusNew = difference_.isFocusNew || display_.focus;
    display_.focus.reset();
    about_ = std::move(subject.about);
    if (subject.place && !subject.place->isEmpty())
        display_.focus = Focus{*subject.place, 0, 0, {}};
    findSurroundings();
    bringUpToDate();
}

void Scene::findSurroundings()
{
    if (display_.focus)
        display_.focus = focusOn(display_.focus->box, members_, looks_, about_, picker_);
}

void Scene::setPicker(const Picker* picker)
{
    picker_ = picker;
    if (picker == nullptr || !display_.focus)
        return;
    findSurroundings();
    bringUpToDate();
}

void Scene::setCuts(Cuts cuts)
{
    cuts_ = std::move(cuts);
    if (cuts_.isEmpty())
        overlay_.reset(); // there is no face left to lay anything in
    difference_.areCutFacesNew = true;
}

std::vector<geometry::Plane> Scene::cutPlanes() const
{
    std::vector<geometry::Plane> planes = cuts_.faces();
    if (illustration_.opened && !overlay_ && planes.size() < Cuts::kMostFaces)
        planes.push_back(*illustration_.opened);
    return planes;
}

std::string Scene::cutsInWords() const
{
    const std::string words = cuts_.inWords();
    if (!illustration_.opened || overlay_)
        return words;
    return words.empty() ? "cut open where they meet" : words + ", and open where they meet";
}

void Scene::setOverlay(std::optional<Overlay> overlay)
{
    overlay_ = overlay;
    difference_.areCutFacesNew = true;
}

Box3 Scene::bounds() const
{
    Box3 box;
    for (std::size_t i = 0; i < members_.size(); ++i)
        if (looks_[i].isShown && !looks_[i].isOnlyPainted)
            box.add(members_[i].fit.transform().apply(members_[i].geometry->bounds()));
    return box;
}

void Scene::bringUpToDate()
{
    difference_.areCutFacesNew = difference_.areCutFacesNew || !cuts_.isEmpty() || illustration_.opened;
    if (display_.focus) {
        // The whole is not seen meanwhile: it is brought up to date when it is looked at again.
        inFocus_ = coloursInFocusOf(display_, members_, looks_, colouring_.colours);
        difference_.isFocusNew = true;
        return;
    }
    if (areAllTouched_ || isWholeFaded_ != display_.isRestFaded) {
        whole_ = coloursOf(display_, members_, looks_, colouring_.colours);
        difference_.areAllColoursNew = true;
        difference_.colours.clear();
    } else {
        const auto changed = updateColours(whole_, touched_, display_, members_, looks_, colouring_.colours);
        if (!difference_.areAllColoursNew)
            difference_.colours.insert(difference_.colours.end(), changed.begin(), changed.end());
    }
    areAllTouched_ = false;
    isWholeFaded_ = display_.isRestFaded;
    touched_.clear();
}

Scene::Difference Scene::takeDifference()
{
    // What changed twice is told once.
    std::sort(difference_.colours.begin(), difference_.colours.end());
    difference_.colours.erase(std::unique(difference_.colours.begin(), difference_.colours.end()),
                              difference_.colours.end());
    return std::exchange(difference_, {});
}

} // namespace wendrix::view
