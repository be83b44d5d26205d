#include "shell/element_details.h"

#include "core/base/text.h"
#include "core/ifc/details.h"
#include "core/project/change_words.h"
#include "shell/fact_list.h"
#include "shell/stage.h"

#include <QDateTime>

#include <set>

namespace wendrix::app {

namespace {

QString withUnit(const ifc::Property& p) { return q(p.value, "–") + (p.unit.empty() ? "" : " " + q(p.unit)); }

QString dateOf(std::int64_t seconds) { return QDateTime::fromSecsSinceEpoch(seconds, Qt::UTC).toString("d MMM yyyy"); }

FactGroup summary(const federation::Member& member, const ifc::Element& e, const geometry::ElementShape& shape,
                  const ElementLinks& links)
{
    const ifc::Model& model = *member.model;
    FactGroup group{"At a glance", {}};
    // Each leads to all that share it.
    const auto add = [&](const char* name, const std::string& value, view::AlikeIn what) {
        if (!value.empty())
            group.facts.append({name, q(value),
                                links.toAlike ? std::function<void()>([links, what] { links.toAlike(what); })
                                              : std::function<void()>()});
    };
    if (e.storey != ifc::kNoStorey)
        add("Storey", model.storeys()[static_cast<std::size_t>(e.storey)].name, view::AlikeIn::Storey);
    add("Type", std::string(model.text(e.typeName)), view::AlikeIn::Type);
    add("Material", std::string(model.text(e.material)), view::AlikeIn::Material);
    add("System", std::string(model.text(e.system)), view::AlikeIn::System);
    if (shape.isClosed)
        group.facts.append({"Volume", QString::number(shape.volume, 'f', 3) + " m³", {}});
    group.facts.append({"Surface", QString::number(shape.area, 'f', 2) + " m²", {}});
    const Vector3 size = shape.bounds.size();
    group.facts.append(
        {"Extent", QString("%1 × %2 × %3 m").arg(size.x, 0, 'f', 3).arg(size.y, 0, 'f', 3).arg(size.z, 0, 'f', 3), {}});
    group.facts.append({"Triangles", q(grouped(shape.triangles)), {}});
    return group;
}

void addProjectGroups(QVector<FactGroup>& groups, const project::Project& project, const ElementRef& element,
                      const ElementLinks& links)
{
    FactGroup issues{"Issues", {}}, clashes{"Clashes", {}}, changes{"Changes", {}};
    std::set<std::string> issuesOfPairs;
    for (const project::Pair& p : orNothing(project.clashes().ofElement(element))) {
        const bool isLeft = p.left.element == element;
        if (!p.issue.empty())
            issuesOfPairs.insert(p.issue);
        clashes.facts.append({p.isGone()           ? "gone"
                              : p.decision.empty() ? "undecided"
                                                   : q(p.decision),
                              q((isLeft ? p.right.name : p.left.name) + ", " + clash::inWords(p.extent())),
                              [links, id = QString::number(p.id)] { links.toRow("Clashes", id); }});
    }
    auto about = orNothing(project.issues().about(element));
    for (const project::IssueBrief& i : about)
        issuesOfPairs.erase(i.uuid);
    const std::vector<std::string> others(issuesOfPairs.begin(), issuesOfPairs.end());
    for (project::IssueBrief& i : orNothing(project.issues().briefs(others)))
        about.push_back(std::move(i));
    for (const project::IssueBrief& i : about)
        issues.facts.append(
            {q(i.status), q(i.name() + " " + i.title), [links, id = q(i.uuid)] { links.toRow("Issues", id); }});
    for (const project::ChangeRecord& c : orNothing(project.changes().historyOf(element))) {
        const auto to = orNothing(project.deliveries().find(c.to));
        changes.facts.append({to ? q("in " + to->revision) : QString("change"),
                              q(project::kindsInWords(c.kinds)) +
                                  (length(c.shift) > 0 ? " by " + q(lengthInWords(Metres{length(c.shift)})) : ""),
                              {}});
        for (const changes::FieldChange& field : c.fields)
            changes.facts.append({q(field.name), q(field.before, "nothing") + " → " + q(field.after, "nothing"), {}});
    }
    groups << issues << clashes << changes;
}

} // namespace

void showElement(Details& d, const federation::Member& member, ifc::ElementIndex index, const project::Project* project,
                 const ElementLinks& links)
{
    const ifc::Model& model = *member.model;
    const ifc::Element& e = model.elements()[index];
    const ifc::ElementDetails all = ifc::readDetails(model, e);
    d.clear();
    d.setOwner(kElementPanel);
    d.addCaption(q(member.title()) + " · " + q(std::string(model.className(e))));
    d.addTitle(q(model.displayName(e)));

    QVector<FactGroup> groups{summary(member, e, member.geometry->elements()[index], links)};
    FactGroup related{"Related", {}};
    for (const ifc::Related& r : all.related) {
        const bool isElement = !r.guid.empty() && model.find(r.guid).has_value();
        related.facts.append(
            {q(r.how), q(r.name.empty() ? classInWords(r.className) : r.name),
             isElement && links.toElement
                 ? std::function<void()>(
                       [links, ref = ElementRef{member.disciplineId, member.part, r.guid, 0}] { links.toElement(ref); })
                 : std::function<void()>()});
    }
    groups << related;
    if (project != nullptr)
        addProjectGroups(groups, *project, member.refOf(index), links);
    FactGroup attributes{"Attributes", {}};
    for (const ifc::Property& p : all.attributes)
        attributes.facts.append({q(p.name), withUnit(p), {}});
    groups << attributes;
    for (const ifc::PropertySet& set : all.sets) {
        FactGroup group{q(set.name), {}};
        for (const ifc::Property& p : set.properties)
            group.facts.append({q(p.name), withUnit(p), {}});
        groups << group;
    }
    FactGroup materials{"Materials", {}};
    for (const ifc::MaterialPart& m : all.materials) {
        QString value = q(m.category);
        if (m.thickness)
            value += (value.isEmpty() ? "" : ", ") + QString::number(m.thickness->value * 1000, 'f', 1) + " mm";
        if (m.share)
            value += (value.isEmpty() ? "" : ", ") + QString::number(*m.share * 100, 'f', 0) + " %";
        materials.facts.append({q(m.name), value.isEmpty() ? "–" : value, {}});
    }
    FactGroup classified{"Classification", {}};
    for (const ifc::ClassificationReference& c : all.classifications)
        classified.facts.append({q(c.system, "code"), q(c.code) + (c.name.empty() ? "" : " " + q(c.name)), {}});
    FactGroup layers{"Presentation", {}};
    for (const std::string& layer : all.layers)
        layers.facts.append({"Layer", q(layer), {}});
    FactGroup owner{"Owner", {}};
    if (all.ownership) {
        const ifc::Ownership& o = *all.ownership;
        for (const auto& [name, value] :
             {std::pair{"Person", o.person}, {"Organisation", o.organisation}, {"Application", o.application}})
            if (!value.empty())
                owner.facts.append({name, q(value), {}});
        if (o.created)
            owner.facts.append({"Created", dateOf(*o.created), {}});
        if (o.changed)
            owner.facts.append({"Changed", dateOf(*o.changed), {}});
    }
    groups << materials << classified << layers << owner;
    d.addWidget(new FactList(std::move(groups)));
    d.finish();
}

} // namespace wendrix::app
