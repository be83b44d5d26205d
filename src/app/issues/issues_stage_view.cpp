#include "issues/issues_stage.h"

#include "core/bcf/picture.h"
#include "core/view/viewpoint_look.h"
#include "issues/issue_signs.h"
#include "shell/theme.h"

#include <QPlainTextEdit>

/// Issues: what the scene shows of one, and the signs of the others.
namespace wendrix::app {

namespace {

/// How far off what a foreign camera turns about is taken to be, where nothing is selected.
constexpr double kUsualDistance = 8; // metres

/// Nobody puts a higher one into a building. Metres.
constexpr double kHighestPicture = 10'000;
/// A line as short is a point. Metres.
constexpr double kPoint = 1e-6;

} // namespace

std::vector<view::StandingPicture> IssuesStage::picturesOf(const Item& item, const issues::Viewpoint& viewpoint)
{
    if (pictures_.issue != item.issue.uuid || pictures_.origins != item.origins)
        pictures_ = {item.issue.uuid, item.origins, {}};
    std::vector<view::StandingPicture> standing;
    for (const issues::Bitmap& b : viewpoint.bitmaps) {
        if (!(b.heightMetres > 0 && b.heightMetres < kHighestPicture))
            continue;
        auto& bytes = pictures_.bytes[b.reference];
        if (bytes == nullptr)
            bytes = std::make_shared<const std::string>(
                project::fileBeside(at_.session.project(), item.origins, b.reference));
        const bcf::PictureFacts facts = bcf::factsOf(*bytes, false);
        if (!facts.kind.empty() && facts.height > 0 && !bcf::isTooLarge(facts))
            standing.push_back(view::standing(b, bytes, static_cast<double>(facts.width) / facts.height));
    }
    return standing;
}

void IssuesStage::showViewpoint(const Item& item, bool movesView)
{
    view::Subject subject;
    view::ViewpointLook look;
    const bool hasViewpoint = !item.viewpoints.empty();
    const issues::Viewpoint none;
    const issues::Viewpoint& v = hasViewpoint ? item.viewpoints[static_cast<std::size_t>(std::clamp(
                                                    viewpoint_, 0, static_cast<int>(item.viewpoints.size()) - 1))]
                                              : none;
    const view::ViewpointLook looks = view::lookOf(v, at_.scene.members());
    // The rest is faded where the view was of some elements among all.
    subject.isRestFaded = !v.selection.empty() && !looks.only && looks.hidden.empty();
    subject.painted = looks.painted;
    for (const view::ElementKey& key : looks.selected)
        subject.painted.try_emplace(key, toColour(theme::kLeft));
    for (const issues::Line& line : looks.lines)
        if (length(line.to - line.from) > kPoint)
            subject.grid.push_back({line.from, line.to, "", toColour(theme::kAction)});
        else
            subject.markers.push_back({line.from, "", toColour(theme::kAction), toColour(theme::kPanel), true});
    const std::size_t points = subject.markers.size();
    subject.pictures = picturesOf(item, v);
    for (const project::Pair& p : item.pairs)
        subject.markers.push_back({p.point, p.isGone() ? "✓" : std::to_string(subject.markers.size() + 1 - points),
                                   toColour(p.isGone() ? theme::kPanel : theme::kOverlap),
                                   toColour(p.isGone() ? theme::kFocus : theme::kInk)});
    Box3 place;
    for (const auto& [key, colour] : subject.painted)
        subject.about.push_back(key);
    for (const project::Pair& p : item.pairs)
        place.add(p.point);
    if (place.isEmpty()) // no pair says where: where its elements are
        for (const view::ElementKey& key : subject.about)
            place.add(view::boundsOf(at_.scene.members(), key));
    // What others hid or cut open is shown as they saw it, not as a place in focus.
    const bool isPlainPlace = !looks.only && looks.hidden.empty() && looks.cuts.isEmpty();
    if (!subject.about.empty() && isPlainPlace)
        subject.place = place;
    for (view::GridLine& line :
         gridOn(subject.place && !item.pairs.empty() ? q(item.pairs[0].storey) : q(item.issue.location.storey)))
        subject.grid.push_back(std::move(line));
    signs_->setShown(false);
    if (!before_)
        before_ = at_.scene.state();
    const view::Cuts cuts = hasViewpoint && movesView ? looks.cuts : at_.scene.cuts();
    if (hasViewpoint && v.saysVisibility)
        setSpacesShown([&](const std::string&) { return looks.areSpacesShown; });
    at_.scene.change([&](view::Scene& scene) {
        view::Display display = scene.display();
        display.hidden = looks.hidden;
        display.only = looks.only;
        display.selected.clear();
        scene.setDisplay(std::move(display));
        scene.show(std::move(subject));
        scene.choose(looks.selected);
    });
    if (!(cuts.faces() == at_.scene.cuts().faces()))
        at_.scene.setCuts(cuts);
    if (v.camera && movesView) {
        const double distance =
            place.isEmpty() ? kUsualDistance : std::max(0.5, dot(place.centre() - v.camera->eye, v.camera->direction));
        at_.scene.setCamera(view::fromViewpoint(*v.camera, distance, at_.scene.viewport().aspect()), true);
    }
}

void IssuesStage::showSigns()
{
    takeBack();
    showPlain();
    signs_->setShown(true);
}

void IssuesStage::leave()
{
    signs_->setShown(false);
    if (form_ != nullptr)
        form_->keepBegun();
    form_ = nullptr; // whoever comes writes the details anew
    takeBack();
}

void IssuesStage::takeBack()
{
    // What a viewpoint hid or cut open was its own.
    if (!before_)
        return;
    const view::SceneState before = std::exchange(before_, {}).value();
    std::size_t missing = 0;
    const view::Display was = view::displayOf(before, at_.scene.members(), missing);
    setSpacesShown([&](const std::string& discipline) {
        const auto kept = before.looks.find(discipline);
        return kept != before.looks.end() && kept->second.areSpacesShown;
    });
    at_.scene.change([&](view::Scene& scene) {
        view::Display display = scene.display();
        display.hidden = was.hidden;
        display.only = was.only;
        scene.setDisplay(std::move(display));
    });
    if (!(before.cuts.faces() == at_.scene.cuts().faces()))
        at_.scene.setCuts(before.cuts);
}

void IssuesStage::setSpacesShown(const std::function<bool(const std::string&)>& areShown)
{
    std::vector<view::MemberLook> looks = at_.scene.looks();
    bool differs = false;
    for (std::size_t m = 0; m < looks.size() && m < at_.scene.members().size(); ++m) {
        const bool isShown = areShown(at_.scene.members()[m].discipline);
        differs = differs || looks[m].areSpacesShown != isShown;
        looks[m].areSpacesShown = isShown;
    }
    if (differs)
        at_.scene.setLooks(std::move(looks));
}

void IssuesStage::stepViewpoint(int by)
{
    const auto item = chosen();
    if (!item || item->viewpoints.empty())
        return;
    const int count = static_cast<int>(item->viewpoints.size());
    viewpoint_ = ((viewpoint_ + by) % count + count) % count;
    showViewpoint(*item, true);
    showDetails(*item);
}

} // namespace wendrix::app
