#include "core/project/project.h"
#include "core/project/rows.h"
#include "core/project/setup.h"

#include <algorithm>
#include <map>

/// Who works on the project and with what: disciplines, people, federations, what was agreed.
namespace wendrix::project {

bool Federation::has(const std::string& discipline) const
{
    return std::any_of(parts.begin(), parts.end(), [&](const Part& p) { return p.discipline == discipline && !p.isRetired; });
}

std::vector<Discipline> Project::disciplines() const
{
    std::vector<Discipline> list;
    SQLite::Statement q(db(), "SELECT name, company, colour, isReference, people, dropFolder, leftOut FROM disciplines ORDER BY isReference DESC, place");
    while (q.executeStep())
        list.push_back({text(q, 0), text(q, 1), text(q, 2), q.getColumn(3).getInt() != 0, labelsFromJson(text(q, 4)), text(q, 5), labelsFromJson(text(q, 6))});
    return list;
}

std::string Project::reference() const { return textOr(db(), "SELECT name FROM disciplines WHERE isReference=1"); }

Result<void> Project::addDiscipline(const Discipline& d, const WhoAndWhen& who)
{
    if (d.name.empty())
        return fail({kUnknown, "A discipline needs a name."});
    return store_->act("Discipline added: " + d.name, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO disciplines SELECT ?, ?, ?, count(*), ?, ?, ?, ? FROM disciplines", d.name, d.company, d.colour,
            d.isReference ? 1 : 0, labelsToJson(d.people), d.dropFolder, labelsToJson(d.leftOut));
    });
}

Result<void> Project::setDiscipline(const Discipline& d, const WhoAndWhen& who)
{
    const auto all = disciplines();
    const auto before = std::find_if(all.begin(), all.end(), [&](const Discipline& x) { return x.name == d.name; });
    if (before == all.end())
        return fail({kUnknown, "There is no discipline " + d.name + "."});
    std::string what = "Discipline changed: " + d.name;
    if (before->leftOut != d.leftOut) {
        what = "Left out of " + d.name + ": ";
        for (std::size_t i = 0; i < d.leftOut.size(); ++i)
            what += (i > 0 ? ", " : "") + d.leftOut[i];
        if (d.leftOut.empty())
            what += "nothing";
    }
    return store_->act(what, who, [&](SQLite::Database& db) {
        run(db, "UPDATE disciplines SET company=?, colour=?, people=?, dropFolder=?, leftOut=? WHERE name=?", d.company, d.colour, labelsToJson(d.people),
            d.dropFolder, labelsToJson(d.leftOut), d.name);
    });
}

std::vector<PersonGroup> Project::personGroups() const
{
    SQLite::Statement q(db(), "SELECT name, person FROM personGroups ORDER BY name, person");
    std::vector<PersonGroup> groups;
    while (q.executeStep()) {
        if (groups.empty() || groups.back().name != text(q, 0))
            groups.push_back({text(q, 0), {}});
        groups.back().people.push_back(text(q, 1));
    }
    return groups;
}

Result<void> Project::setPersonGroup(const PersonGroup& group, const WhoAndWhen& who)
{
    if (group.name.empty())
        return fail({kUnknown, "A group of people needs a name to be addressed by."});
    return store_->act((group.people.empty() ? "Group of people dissolved: " : "Group of people: ") + group.name, who, [&](SQLite::Database& db) {
        run(db, "DELETE FROM personGroups WHERE name=?", group.name);
        for (const std::string& person : group.people)
            run(db, "INSERT OR IGNORE INTO personGroups VALUES(?, ?)", group.name, person);
    });
}

std::vector<Federation> Project::federations() const
{
    std::map<std::string, std::map<std::string, bool>> retired; // by federation, by discipline
    SQLite::Statement parts(db(), "SELECT federation, discipline, isRetired FROM federationParts");
    while (parts.executeStep())
        retired[text(parts, 0)][text(parts, 1)] = parts.getColumn(2).getInt() != 0;
    std::vector<Federation> list{{kWholeBuilding, {}, false}};
    SQLite::Statement q(db(), "SELECT name, isRetired FROM federations ORDER BY place");
    while (q.executeStep()) {
        if (text(q, 0) == kWholeBuilding)
            list.front().isRetired = q.getColumn(1).getInt() != 0;
        else
            list.push_back({text(q, 0), {}, q.getColumn(1).getInt() != 0});
    }
    const auto all = disciplines();
    for (Federation& f : list)
        for (const Discipline& d : all) {
            const auto& known = retired[f.name];
            const auto part = known.find(d.name);
            if (part != known.end())
                f.parts.push_back({d.name, part->second});
            else if (f.name == kWholeBuilding)
                f.parts.push_back({d.name, false});
        }
    return list;
}

Result<void> Project::setFederation(const Federation& f, const WhoAndWhen& who)
{
    if (f.name.empty())
        return fail({kUnknown, "A federation needs a name."});
    const auto all = federations();
    const auto before = std::find_if(all.begin(), all.end(), [&](const Federation& x) { return x.name == f.name; });
    const bool isKnown = before != all.end();
    if (f.isRetired && std::count_if(all.begin(), all.end(), [](const Federation& x) { return !x.isRetired; }) == 1 && isKnown && !before->isRetired)
        return fail({kUnknown, f.name + " is the only federation left; make another one before retiring it."});
    std::string what = std::string(isKnown ? "Federation changed: " : "Federation made: ") + f.name;
    if (isKnown && before->isRetired != f.isRetired)
        what = (f.isRetired ? "Federation retired: " : "Federation brought back: ") + f.name;
    else if (isKnown)
        for (const Federation::Part& part : f.parts)
            for (const Federation::Part& was : before->parts)
                if (was.discipline == part.discipline && was.isRetired != part.isRetired)
                    what = part.discipline + (part.isRetired ? " retired from " : " brought back to ") + f.name;
    return store_->act(what, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO federations SELECT ?, ?, count(*) FROM federations WHERE true ON CONFLICT(name) DO UPDATE SET isRetired=excluded.isRetired", f.name,
            f.isRetired ? 1 : 0);
        run(db, "DELETE FROM federationParts WHERE federation=?", f.name);
        for (const Federation::Part& part : f.parts)
            run(db, "INSERT INTO federationParts VALUES(?, ?, ?)", f.name, part.discipline, part.isRetired ? 1 : 0);
    });
}

checks::Expectations Project::expectations() const
{
    const std::string kept = meta("expectations");
    return kept.empty() ? checks::Expectations::usual() : expectationsFromJson(kept);
}

Result<void> Project::setExpectations(const checks::Expectations& expectations, const WhoAndWhen& who)
{
    return store_->act("Agreed on what deliveries are like", who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO meta VALUES('expectations', ?) ON CONFLICT(key) DO UPDATE SET value=excluded.value", toJson(expectations));
    });
}

} // namespace wendrix::project
