#pragma once

#include "core/project/issue_making.h"
#include "core/project/project.h"

/// For projects that something happened to: whatever is asked is answered, or refused in words.
namespace wendrix::test {

/// Asks every book everything, takes a step back, and decides something.
/// @param note  called with each answer, a Result of whatever type
template <class Note>
void readEverything(project::Project& p, const WhoAndWhen& who, Note&& note)
{
    const auto each = [&](auto answer, auto&& ask) {
        note(answer);
        if (answer)
            for (const auto& one : *answer)
                ask(one);
    };
    const auto nothing = [](const auto&) {};
    each(p.setup().disciplines(), [&](const project::Discipline& d) {
        note(p.coordinates().allOf(d.name));
        note(p.coordinates().fitInUse(d.name));
        note(p.deliveries().inUse(d.name));
        note(p.deliveries().waitingBehind(d.name));
        note(p.deliveries().hold(d.name, who.time));
    });
    note(p.setup().reference());
    note(p.setup().personGroups());
    note(p.setup().federations());
    note(p.setup().memberGroups());
    note(p.setup().expectations());
    note(p.setup().specifications());
    each(p.deliveries().all(), [&](const project::Delivery& d) {
        note(p.deliveries().documentsOf(d.id));
        note(p.coordinates().fitOf(d));
        note(p.changes().comparisonsOf(d.id));
        for (const auto& model : d.models())
            (void)p.deliveries().fileOf(model);
    });
    note(p.deliveries().cycle());
    note(p.deliveries().compositionOf(1));
    each(p.issues().all(), [&](const issues::Issue& issue) {
        note(p.issues().find(issue.uuid, true));
        note(p.clashes().ofIssue(issue.uuid));
    });
    note(p.issues().keys());
    note(p.issues().open());
    each(p.clashes().all(), [&](const project::Pair& pair) { note(p.clashes().historyOf(pair.id)); });
    note(p.clashes().briefs());
    note(p.clashes().sheets());
    note(p.clashes().expected(100));
    note(p.clashes().runs());
    note(p.clashes().lastRun());
    note(p.clashes().undecided());
    note(p.clashes().byIssue());
    each(p.changes().inForce(), nothing);
    note(p.changes().briefs());
    note(p.changes().current());
    note(p.changes().toReview());
    each(p.views().views(who.person), [&](const project::KeptView& view) { note(p.views().versionsOf(view.uuid)); });
    note(p.views().notes());
    note(p.log().last(1000));
    note(p.missingSteps());
    note(p.undo(who));
    note(p.redo(who));
    issues::Issue issue;
    issue.title = "after the damage";
    note(project::makeIssue(p, issue, {}, who));
    note(p.setup().setMemberGroup({"After the damage", {"Structure"}}, who));
}

} // namespace wendrix::test
