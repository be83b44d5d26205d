#include "shell/federation_panel.h"

#include "shell/details.h"
#include "shell/form.h"
#include "shell/session.h"
#include "shell/stage.h"

#include <QCheckBox>
#include <QLineEdit>

namespace wendrix::app {

namespace {

/// The members of one federation as switches; switching one retires it or brings it back at once.
void addMembers(Details& details, Session& session, const project::Federation& federation, int number)
{
    auto* form = new Form;
    for (const project::Discipline& d : orNothing(session.project().setup().disciplines())) {
        const auto part = std::find_if(federation.parts.begin(), federation.parts.end(),
                                       [&](const auto& p) { return p.discipline == d.name; });
        const bool wasMember = part != federation.parts.end();
        auto* tick =
            form->tick(QString("federation%1-%2").arg(number).arg(q(d.name)),
                       q(d.name) + (wasMember && part->isRetired ? ", retired" : ""), wasMember && !part->isRetired);
        QObject::connect(
            tick, &QCheckBox::toggled, form,
            [&session, &details, federation, discipline = d.name](bool isOn) {
                project::Federation next = federation;
                const auto at = std::find_if(next.parts.begin(), next.parts.end(),
                                             [&](const auto& p) { return p.discipline == discipline; });
                if (at == next.parts.end())
                    next.parts.push_back({discipline, false});
                else
                    at->isRetired = !isOn;
                session.write([next, who = session.now()](
                                  project::Project& p) { return Session::saying(p.setup().setFederation(next, who)); },
                              [&session, &details](bool) { showFederations(details, session); });
            },
            Qt::QueuedConnection);
    }
    details.addWidget(form);
}

} // namespace

void showFederations(Details& d, Session& session)
{
    d.clear();
    d.setOwner(kFederationsPanel);
    d.addTitle("Federations");
    d.addText(
        "Each has members of its own, looked at and tested together. What is taken in is the same in all of them.");
    int number = 0;
    for (const project::Federation& f : orNothing(session.project().setup().federations())) {
        d.addHeading(q(f.name) + (f.isRetired ? ", retired" : ""));
        if (!f.isRetired)
            addMembers(d, session, f, number);
        const QString id = QString::number(number++);
        QVector<Details::Button> buttons;
        if (!f.isRetired && f.name != session.federation())
            buttons.append(
                {"lookAtFederation" + id, "Look at it", {}, false, !session.isComposing(), [&session, name = f.name] {
                     session.setFederation(name);
                 }});
        if (f.name != project::kWholeBuilding)
            buttons.append(
                {"retireFederation" + id, f.isRetired ? "Bring back" : "Retire", {}, false, true, [&d, &session, f] {
                     project::Federation next = f;
                     next.isRetired = !f.isRetired;
                     session.write(
                         [next, who = session.now()](project::Project& p) {
                             return Session::saying(p.setup().setFederation(next, who));
                         },
                         [&session, &d, next](bool isDone) {
                             if (isDone && next.isRetired && session.federation() == next.name)
                                 session.setFederation(project::kWholeBuilding);
                             showFederations(d, session);
                         });
                 }});
        if (!buttons.isEmpty())
            d.addButtons(buttons);
    }
    d.addHeading("Another one");
    auto* form = new Form;
    auto* name = form->line("federationName", "Name", {}, "as: Services only");
    d.addWidget(form);
    d.addButtons({{"makeFederation", "Make it", {}, false, true, [&d, &session, name] {
                       project::Federation next{name->text().trimmed().toStdString(), {}, false};
                       for (const project::Discipline& x : orNothing(session.project().setup().disciplines()))
                           next.parts.push_back({x.name, false});
                       session.write(
                           [next, who = session.now()](project::Project& p) {
                               return Session::saying(p.setup().setFederation(next, who),
                                                      "Federation made: take out the members it is to be without.");
                           },
                           [&session, &d](bool isDone) {
                               if (isDone)
                                   showFederations(d, session);
                           });
                   }}});
    d.finish();
}

} // namespace wendrix::app
