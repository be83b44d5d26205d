#include "changes/changes_stage.h"

#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/project/change_words.h"
#include "core/project/issue_making.h"
#include "shell/page_export.h"
#include "shell/theme.h"
#include "shell/ways_menu.h"

/// Changes: what is said of what is chosen.
namespace wendrix::app {

void ChangesStage::review(const char* word)
{
    const auto keys = chosenKeys();
    if (keys.empty() || at_.session.refusesToChange())
        return;
    const QString title = titleOfChosen({}, keys.size());
    at_.session.write(
        [keys, name = title.toStdString(), word = std::string(word), who = at_.session.now()](project::Project& p) {
            return Session::saying(p.changes().review(keys, word, name, who), word + ": " + name);
        });
}

PictureWork ChangesStage::pictureOf(std::vector<project::ChangeRecord> changes, Between between,
                                    std::shared_ptr<view::Camera> from)
{
    const RevisionFinder revisions(at_.session, at_.scene);
    const auto order =
        std::make_shared<const VolumeOrder>(orderFor(revisions, changes, changes::ChangeRule{}.distance));
    return [at = at_, session = &at_.session, changes = std::move(changes), between, order, from = std::move(from),
            grid = gridOn(QString())](const Progress& progress) -> std::function<QImage()> {
        const auto volumes = volumesOf(*order, [&] { return progress.isCancelled(); });
        return [at, session, changes, between, volumes, from, grid] {
            ChangeSight sight = sightOf(RevisionFinder(*session, at.scene), changes, true, between, grid);
            const view::Camera camera =
                cameraFor(at.scene, sight, static_cast<double>(kReportPicture.width()) / kReportPicture.height());
            if (from != nullptr)
                *from = camera;
            view::Illustration with;
            if (between.at == 0.5)
                with = illustrationOf(volumes, {});
            return at.scene.pictureOf(std::move(sight.subject), std::move(with), camera, kReportPicture);
        };
    };
}

issues::Viewpoint ChangesStage::viewpointOf(const std::vector<project::ChangeRecord>& changes, bool isBefore)
{
    issues::Viewpoint v;
    v.uuid = newUuid();
    issues::Colouring colouring{
        "FF" + (isBefore ? theme::kRemoved : theme::kReshaped).name().mid(1).toUpper().toStdString(), {}};
    for (const project::ChangeRecord& c : changes) {
        const bool isThere = isBefore ? (c.kinds & project::Added) == 0 : (c.kinds & project::Removed) == 0;
        if (isThere)
            colouring.elements.push_back(isBefore ? c.continues.value_or(c.element) : c.element);
    }
    v.selection = colouring.elements;
    v.colouring = {colouring};
    return v;
}

project::Question ChangesStage::draftQuestion(const std::string& title,
                                              const std::vector<project::ChangeRecord>& changes,
                                              std::vector<project::ChangeKey> keys,
                                              const issues::IssueTemplate& with) const
{
    project::Question question;
    question.changes = std::move(keys);
    const WhoAndWhen now = at_.session.now();
    question.issue = project::draftIssue(title, changes, revisionsOf(changes[0], " with "), now.time, with);
    const auto from = orNothing(at_.session.project().deliveries().find(changes[0].from)),
               to = orNothing(at_.session.project().deliveries().find(changes[0].to));
    for (const bool isBefore : {true, false}) {
        const auto& delivery = isBefore ? from : to;
        issues::Viewpoint v = viewpointOf(changes, isBefore);
        question.issue.comments.push_back(
            {newUuid(), now.time, now.person,
             std::string(isBefore ? "As it was" : "As it is") + (delivery ? " in " + delivery->name() : ""), v.uuid});
        question.issue.viewpoints.push_back(std::move(v));
    }
    return question;
}

void ChangesStage::add(Pictured& all, const std::string& title, const std::vector<project::ChangeRecord>& changes,
                       std::vector<project::ChangeKey> keys, const issues::IssueTemplate& with)
{
    all.questions.push_back(draftQuestion(title, changes, std::move(keys), with));
    for (const double at : {0.0, 1.0}) {
        all.cameras.push_back(std::make_shared<view::Camera>());
        all.pictures.push_back(pictureOf(changes, Between{at}, all.cameras.back()));
    }
}

void ChangesStage::finish(Pictured& all, const std::vector<QImage>& taken)
{
    for (std::size_t i = 0; i < taken.size(); ++i) {
        issues::Viewpoint& viewpoint = all.questions[i / 2].issue.viewpoints[i % 2];
        viewpoint.camera = view::toViewpoint(*all.cameras[i]);
        viewpoint.snapshot = pngOf(taken[i]);
    }
}

void ChangesStage::questionChosen(bool isOneEach)
{
    if (chosenKeys().empty() || at_.session.refusesToChange())
        return;
    QVector<Way> ways;
    for (const issues::IssueTemplate& t :
         orNothing(at_.session.project().issues().templatesFor(issues::made_from::kChange)))
        ways.append({q(t.name), q(t.type), [this, isOneEach, t] { questionAs(isOneEach, t); }});
    chooseWay(&at_.scene, isOneEach ? "Issues by the template" : "An issue by the template", ways);
}

void ChangesStage::questionAs(bool isOneEach, const issues::IssueTemplate& with)
{
    const auto keys = chosenKeys();
    const std::vector<project::ChangeRecord> chosen = chosenChanges();
    if (chosen.empty() || at_.session.refusesToChange())
        return;
    Pictured all;
    if (isOneEach)
        for (const project::ChangeRecord& c : chosen)
            add(all, c.name + " " + project::kindsInWords(c.kinds), {c}, {{c.comparison, c.number}}, with);
    else
        add(all,
            titleOfChosen(chosen, keys.size()).toStdString() +
                (chosen.size() == 1 ? " " + project::kindsInWords(chosen[0].kinds) : ""),
            chosen, keys, with);
    at_.session.run(
        Jobs::Lane::Reporting, "Making an issue",
        [session = &at_.session, owner = QPointer<QObject>(this), all = std::move(all),
         with](Progress& progress) -> Jobs::Finish {
            const std::vector<QImage> taken = takePictures(*session, owner, all.pictures, "Making an issue", progress);
            if (taken.size() < all.pictures.size())
                return [session] { session->say("Making an issue was cancelled; none was made."); };
            auto made = std::make_shared<Pictured>(all);
            finish(*made, taken);
            return [session, made, with] {
                session->write([made, with, elements = session->elements(), members = session->workspace().members,
                                who = session->now()](project::Project& p) -> Result<std::string> {
                    std::vector<issues::Issue*> each;
                    std::vector<std::vector<ElementRef>> about;
                    for (auto& one : made->questions) {
                        each.push_back(&one.issue);
                        about.push_back(one.issue.viewpoints.back().selection);
                    }
                    const std::string already = project::alreadyAboutInWords(p, about);
                    project::assignBySets(p, with, *elements, members, each);
                    const auto numbers = project::questionChanges(p, made->questions, who);
                    if (!numbers)
                        return wendrix::fail(numbers.error());
                    return "questioned: " +
                           (numbers->size() == 1 ? numbers->front() + " made"
                                                 : numbers->front() + " to " + numbers->back() + " made") +
                           (already.empty() ? "" : "; " + already);
                });
            };
        });
}

} // namespace wendrix::app
