#include "issues/issues_stage.h"

#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/federation/location.h"
#include "core/project/issue_making.h"
#include "core/view/viewpoint_look.h"
#include "issues/lists_of_names.h"
#include "shell/page_export.h"
#include "shell/report_job.h"
#include "shell/theme.h"
#include "shell/ways_menu.h"

#include <algorithm>

/// Issues: made from what is seen.
namespace wendrix::app {

namespace {

constexpr std::size_t kMostLines = 40;   // elements that have a line in a description
constexpr std::size_t kMostPlaced = 500; // elements whose places are asked for
constexpr std::size_t kMostIssues = 100; // made at once: more than that nobody reads
constexpr double kAround = 0.5;          // metres
constexpr double kAspect = static_cast<double>(kReportPicture.width()) / kReportPicture.height();

/// What is selected, in words: names, whose it is, where.
project::Material materialOf(const StageContext& at, const std::vector<view::ElementKey>& elements)
{
    project::Material m{elements.empty() ? issues::made_from::kView : issues::made_from::kSelection, {}};
    const federation::Member* reference = at.session.reference();
    const auto locator = reference != nullptr ? std::make_unique<federation::Locator>(*reference->model) : nullptr;
    std::set<std::string> disciplines, revisions;
    std::vector<std::string> names;
    std::size_t number = 0;
    for (const view::ElementKey& key : elements) {
        const federation::Member& member = at.scene.members()[key.member];
        const ifc::Element& element = member.model->elements()[key.element];
        disciplines.insert(member.discipline);
        revisions.insert(member.title());
        const std::string name = member.model->displayName(element);
        names.push_back(member.model->text(element.name).empty() ? name
                                                                 : std::string(member.model->text(element.name)));
        std::string storey;
        if (const Box3 box = view::boundsOf(at.scene.members(), key);
            locator != nullptr && number < kMostPlaced && !box.isEmpty()) {
            const federation::Location where = locator->at(box.centre());
            storey = where.storey;
            if (!where.storey.empty())
                m.storeys.insert(where.storey);
            if (!where.bay.empty())
                m.bays.insert(where.bay);
        }
        if (number++ < kMostLines)
            m.elements.push_back(name + (storey.empty() ? "" : ", " + storey));
        else
            ++m.more;
    }
    m.discipline = disciplines.size() == 1 ? *disciplines.begin() : std::string();
    for (const std::string& revision : revisions)
        m.revisions += (m.revisions.empty() ? "" : ", ") + revision;
    constexpr std::size_t kMostNamed = 3;
    m.title = names.empty()               ? std::string("To be looked at")
              : names.size() > kMostNamed ? names.front() + " and " + std::to_string(names.size() - 1) + " more"
                                          : joined(names, ", ").toStdString();
    return m;
}

/// Places of a selection count for what was said of it elsewhere.
void placeFrom(project::Material& m, const project::Material& selection)
{
    m.storeys = selection.storeys;
    m.bays = selection.bays;
    if (m.discipline.empty())
        m.discipline = selection.discipline;
    if (m.revisions.empty())
        m.revisions = selection.revisions;
    if (m.elements.empty()) {
        m.elements = selection.elements;
        m.more = selection.more;
    }
}

} // namespace

void IssuesStage::makeFromView(const std::optional<IssueStart>& start)
{
    if (!at_.session.hasProject() || at_.session.refusesToChange())
        return;
    std::set<ElementRef> about;
    for (const view::ElementKey& key : at_.scene.display().selected)
        about.insert(at_.scene.members()[key.member].refOf(key.element));
    if (start)
        about.insert(start->about.begin(), start->about.end());
    const std::vector<ElementRef> elements(about.begin(), about.end());
    const std::string source = start              ? start->material.source
                               : elements.empty() ? std::string(issues::made_from::kView)
                                                  : issues::made_from::kSelection;
    // One each is made of those that can be shown.
    const auto shown = std::count_if(elements.begin(), elements.end(),
                                     [&](const ElementRef& e) { return at_.scene.find(e).has_value(); });
    const auto templates = orNothing(at_.session.project().issues().templatesFor(source));
    QVector<Way> ways;
    for (const issues::IssueTemplate& t : templates) {
        const QString as = templates.size() > 1 ? q(t.name) + ": " : QString();
        const QString all = elements.size() > 1 ? QString("one issue for all %1").arg(elements.size()) : "one issue";
        const auto add = [&](const QString& words, bool isOneEach) {
            QString whole = as + words;
            whole[0] = whole[0].toUpper();
            ways.append({whole, q(t.type) + (t.assignee.empty() ? "" : ", to " + q(t.assignee)),
                         [this, start, t, isOneEach] { make(start, t, isOneEach); }});
        };
        add(all, false);
        if (shown > 1)
            add(QString("an issue for each of %1").arg(shown), true);
    }
    chooseWay(&at_.scene, "Make", ways);
}

void IssuesStage::make(const std::optional<IssueStart>& start, const issues::IssueTemplate& with, bool isOneEach)
{
    if (!at_.session.hasProject() || at_.session.refusesToChange())
        return;
    std::vector<view::ElementKey> keys(at_.scene.display().selected.begin(), at_.scene.display().selected.end());
    std::vector<ElementRef> notHere; // of the start, in no member that is shown
    for (const ElementRef& ref : start ? start->about : std::vector<ElementRef>{}) {
        const auto key = at_.scene.find(ref);
        if (key && std::find(keys.begin(), keys.end(), *key) == keys.end())
            keys.push_back(*key);
        else if (!key)
            notHere.push_back(ref);
    }
    if (isOneEach)
        return makeOneEach(start, with, keys);
    view::Display display = at_.scene.display();
    display.painted.clear();
    issues::Viewpoint v = view::viewpointOf(display, at_.scene.cuts(), at_.scene.camera(),
                                            at_.scene.viewport().aspect(), at_.scene.members());
    v.uuid = newUuid();
    v.hints.spaces = std::any_of(at_.scene.looks().begin(), at_.scene.looks().end(),
                                 [](const view::MemberLook& look) { return look.isShown && look.areSpacesShown; });
    v.snapshot = pngOf(at_.scene.picture());
    for (const view::ElementKey& key : keys)
        if (const ElementRef ref = at_.scene.members()[key.member].refOf(key.element);
            std::find(v.selection.begin(), v.selection.end(), ref) == v.selection.end())
            v.selection.push_back(ref);
    v.selection.insert(v.selection.end(), notHere.begin(), notHere.end());
    project::Material material = materialOf(at_, keys);
    if (start) {
        project::Material own = start->material;
        placeFrom(own, material);
        material = std::move(own);
    }
    project::IssueForPairs one{project::draftIssue(material, at_.session.now().time, with), {}, material.source};
    one.issue.uuid = newUuid();
    one.issue.viewpoints = {std::move(v)};
    if (start)
        one.requirement = start->requirement;
    emit frontWanted();
    keepMade({std::move(one)}, with);
}

void IssuesStage::makeOneEach(const std::optional<IssueStart>& start, const issues::IssueTemplate& with,
                              const std::vector<view::ElementKey>& keys)
{
    if (keys.empty()) // a menu stood open while other members came
        return at_.session.say("None of them is shown any more; no issue was made.");
    if (keys.size() > kMostIssues)
        return at_.session.fail({project::kUnknown, grouped(keys.size()) +
                                                        " issues at once are more than anybody reads; choose up to " +
                                                        std::to_string(kMostIssues) + ", or make one for all."});
    std::vector<project::IssueForPairs> all;
    std::vector<PictureWork> pictures;
    const Vector3 from = at_.scene.camera().eye - at_.scene.camera().target;
    for (const view::ElementKey& key : keys) {
        project::Material material = materialOf(at_, {key});
        if (start) {
            project::Material own = start->material;
            own.title += ": " + material.title;
            const std::string name = material.elements.empty() ? material.title : material.elements.front();
            // Of the lines that were said, those that name it.
            std::vector<std::string> lines;
            for (const std::string& line : own.elements)
                if (line.starts_with(material.title))
                    lines.push_back(line);
            own.elements = lines.empty() ? std::vector{name} : lines;
            own.more = 0;
            placeFrom(own, material);
            material = std::move(own);
        }
        project::IssueForPairs one{project::draftIssue(material, at_.session.now().time, with), {}, material.source};
        one.issue.uuid = newUuid();
        const ElementRef ref = at_.scene.members()[key.member].refOf(key.element);
        const Box3 box = view::boundsOf(at_.scene.members(), key);
        const view::Camera camera =
            box.isEmpty() ? at_.scene.camera() : view::lookingAt(box.grownBy(kAround), from, kAspect);
        issues::Viewpoint v;
        v.uuid = newUuid();
        v.camera = view::toViewpoint(camera, kAspect);
        v.selection = {ref};
        one.issue.viewpoints = {std::move(v)};
        if (start && start->requirement) {
            one.requirement = start->requirement;
            one.requirement->isOfItsOwn = true;
            for (issues::RequirementMoment& m : one.requirement->moments)
                m.failingOfIts = m.its = 1;
        }
        all.push_back(std::move(one));
        // Found again when it is drawn: other members may be shown by then.
        pictures.push_back([scene = &at_.scene, ref, box, camera](const Progress&) -> std::function<QImage()> {
            return [scene, ref, box, camera] {
                const auto there = scene->find(ref);
                if (!there)
                    return QImage();
                view::Subject subject;
                subject.painted = {{*there, toColour(theme::kLeft)}};
                subject.about = {*there};
                subject.isRestFaded = true;
                if (!box.isEmpty())
                    subject.place = box;
                return scene->pictureOf(std::move(subject), {}, camera, kReportPicture);
            };
        });
    }
    at_.session.run(
        Jobs::Lane::Reporting, "Making issues",
        [this, stage = QPointer<IssuesStage>(this), session = &at_.session, with, owner = QPointer<QObject>(this),
         pictures = std::move(pictures), all = std::move(all)](Progress& progress) -> Jobs::Finish {
            const std::vector<QImage> taken = takePictures(*session, owner, pictures, "Making issues", progress);
            if (taken.size() < pictures.size())
                return [session] { session->say("Making issues was cancelled; none was made."); };
            auto made = std::make_shared<std::vector<project::IssueForPairs>>(all);
            for (std::size_t i = 0; i < taken.size(); ++i)
                (*made)[i].issue.viewpoints[0].snapshot = taken[i].isNull() ? std::string() : pngOf(taken[i]);
            return [this, stage, made, with] {
                if (!stage.isNull())
                    keepMade(std::move(*made), with);
            };
        });
}

void IssuesStage::keepMade(std::vector<project::IssueForPairs> made, const issues::IssueTemplate& with)
{
    std::vector<std::vector<ElementRef>> about;
    for (const project::IssueForPairs& one : made)
        about.push_back(one.issue.viewpoints[0].selection);
    const QString uuid = q(made.front().issue.uuid);
    const bool isOne = made.size() == 1;
    at_.session.write(
        [made = std::move(made), with, about, elements = at_.session.elements(),
         members = at_.session.workspace().members,
         who = at_.session.now()](project::Project& p) -> Result<std::string> {
            const std::string already = project::alreadyAboutInWords(p, about);
            std::vector<project::IssueForPairs> all = made;
            std::vector<issues::Issue*> each;
            for (auto& one : all)
                each.push_back(&one.issue);
            project::assignBySets(p, with, *elements, members, each);
            auto numbers = project::makeIssues(p, std::move(all), who);
            if (!numbers)
                return wendrix::fail(numbers.error());
            return (numbers->size() == 1 ? numbers->front() + " made"
                                         : counted(numbers->size(), "issue", "issues") + " made, " + numbers->front() +
                                               " to " + numbers->back()) +
                   (already.empty() ? "" : "; " + already);
        },
        [this, uuid, isOne](bool isDone) {
            if (!isDone)
                return;
            if (!isFront()) // whoever went on elsewhere while pictures were taken stays there
                return;
            isEditWanted_ = isOne;
            choose(uuid);
        });
}

} // namespace wendrix::app
