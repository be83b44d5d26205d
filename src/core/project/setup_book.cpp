#include "core/project/setup_book.h"

#include "core/project/clashes_book.h"

#include "core/base/guid.h"
#include "core/project/rows.h"
#include "core/project/setup.h"

#include <algorithm>
#include <map>

namespace wendrix::project {

namespace {

constexpr Table kTables[] = {
    {"meta", "key TEXT PRIMARY KEY, value TEXT", Book::Setup},
    {"disciplines",
     "name TEXT PRIMARY KEY, company TEXT, colour TEXT, place INTEGER, isReference INTEGER, people TEXT, dropFolder "
     "TEXT, leftOut TEXT, id INTEGER",
     Book::Setup},
    {"personGroups", "name TEXT, person TEXT, PRIMARY KEY (name, person)", Book::Setup},
    {"federations", "name TEXT PRIMARY KEY, isRetired INTEGER, place INTEGER", Book::Setup},
    {"federationParts", "federation TEXT, discipline TEXT, isRetired INTEGER, PRIMARY KEY (federation, discipline)",
     Book::Setup},
    {"specifications", "name TEXT PRIMARY KEY, text TEXT, person TEXT, time TEXT", Book::Setup},
    {"memberGroups", "name TEXT, discipline TEXT, PRIMARY KEY (name, discipline)", Book::Setup},
};

// Where a discipline is called by its name; what is kept of elements calls it by its number.
constexpr std::pair<const char*, const char*> kNamedIn[] = {
    {"disciplines", "name"},        {"federationParts", "discipline"},
    {"memberGroups", "discipline"}, {"deliveries", "discipline"},
    {"composition", "discipline"},  {"taken", "discipline"},
    {"holds", "discipline"},        {"fits", "discipline"},
    {"issues", "assignee"},
};

Deed deed(std::string what) { return {Book::Setup, std::move(what)}; }

/// Names that stand in rows of two columns, gathered under the first.
template <class Group, class Member>
std::vector<Group> groupsOf(SQLite::Database& db, const char* sql, Member members)
{
    std::vector<Group> groups;
    SQLite::Statement q(db, sql);
    while (q.executeStep()) {
        if (groups.empty() || groups.back().name != text(q, 0))
            groups.push_back({text(q, 0), {}});
        (groups.back().*members).push_back(text(q, 1));
    }
    return groups;
}

std::vector<Discipline> disciplinesIn(SQLite::Database& db)
{
    return allRows(db,
                   "SELECT name, company, colour, isReference, people, dropFolder, leftOut, id FROM disciplines ORDER "
                   "BY isReference DESC, place",
                   [](SQLite::Statement& q) {
                       return Discipline{text(q, 0),
                                         text(q, 1),
                                         text(q, 2),
                                         q.getColumn(3).getInt() != 0,
                                         labelsFromJson(text(q, 4)),
                                         text(q, 5),
                                         labelsFromJson(text(q, 6)),
                                         q.getColumn(7).getInt64()};
                   });
}

} // namespace

std::span<const Table> SetupBook::tables() { return kTables; }

Result<std::string> SetupBook::meta(const std::string& key) const
{
    return store_.read([&](SQLite::Database& db) { return textOr(db, "SELECT value FROM meta WHERE key=?", key); });
}

Result<void> SetupBook::begin(const std::string& name, const WhoAndWhen& who)
{
    Deed made = deed("Project made: " + name);
    made.isUndoable = false; // there would be nothing left to undo it in
    return store_.act(made, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO meta VALUES('name', ?)", name);
        run(db, "INSERT INTO meta VALUES('id', ?)", newUuid());
    });
}

bool Federation::has(const std::string& discipline) const
{
    return std::any_of(parts.begin(), parts.end(),
                       [&](const Part& p) { return p.discipline == discipline && !p.isRetired; });
}

Result<std::vector<Discipline>> SetupBook::disciplines() const { return store_.read(disciplinesIn); }

Result<std::string> SetupBook::reference() const
{
    return store_.read(
        [](SQLite::Database& db) { return textOr(db, "SELECT name FROM disciplines WHERE isReference=1"); });
}

Result<void> SetupBook::addDiscipline(const Discipline& d, const WhoAndWhen& who)
{
    if (d.name.empty())
        return fail({kUnknown, "A discipline needs a name."});
    return store_.act(deed("Discipline added: " + d.name), who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO disciplines SELECT ?, ?, ?, count(*), ?, ?, ?, ?, ? FROM disciplines", d.name, d.company,
            d.colour, d.isReference ? 1 : 0, labelsToJson(d.people), d.dropFolder, labelsToJson(d.leftOut),
            nextNumber(db, "discipline"));
    });
}

Result<void> SetupBook::setDiscipline(const Discipline& d, const WhoAndWhen& who)
{
    const auto all = disciplines();
    if (!all)
        return fail(all.error());
    const auto before = std::find_if(all->begin(), all->end(), [&](const Discipline& x) { return x.name == d.name; });
    if (before == all->end())
        return fail({kUnknown, "There is no discipline " + d.name + "."});
    std::string what = "Discipline changed: " + d.name;
    if (before->leftOut != d.leftOut) {
        what = "Left out of " + d.name + ": ";
        for (std::size_t i = 0; i < d.leftOut.size(); ++i)
            what += (i > 0 ? ", " : "") + d.leftOut[i];
        if (d.leftOut.empty())
            what += "nothing";
    }
    return store_.act(deed(what), who, [&](SQLite::Database& db) {
        run(db, "UPDATE disciplines SET company=?, colour=?, people=?, dropFolder=?, leftOut=? WHERE name=?", d.company,
            d.colour, labelsToJson(d.people), d.dropFolder, labelsToJson(d.leftOut), d.name);
    });
}

Result<void> SetupBook::renameDiscipline(const std::string& from, const std::string& to, const WhoAndWhen& who)
{
    if (to.empty())
        return fail({kUnknown, "A discipline needs a name."});
    return store_.act(deed("Discipline renamed: " + from + " is " + to + " now"), who, [&](SQLite::Database& db) {
        const auto all = disciplinesIn(db);
        const auto is = [&](const std::string& name) {
            return std::any_of(all.begin(), all.end(), [&](const Discipline& d) { return d.name == name; });
        };
        if (!is(from))
            throw Refused{{kUnknown, "There is no discipline " + from + "."}};
        if (is(to))
            throw Refused{{kUnknown, "There is a discipline " + to + " already; choose another name."}};
        for (const auto& [table, column] : kNamedIn)
            run(db, (std::string("UPDATE ") + table + " SET " + column + "=? WHERE " + column + "=?").c_str(), to,
                from);
        ClashesBook::renameDiscipline(db, from, to);
    });
}

Result<std::vector<PersonGroup>> SetupBook::personGroups() const
{
    return store_.read([](SQLite::Database& db) {
        return groupsOf<PersonGroup>(db, "SELECT name, person FROM personGroups ORDER BY name, person",
                                     &PersonGroup::people);
    });
}

Result<std::vector<MemberGroup>> SetupBook::memberGroups() const
{
    return store_.read([](SQLite::Database& db) {
        return groupsOf<MemberGroup>(db, "SELECT name, discipline FROM memberGroups ORDER BY name, discipline",
                                     &MemberGroup::disciplines);
    });
}

Result<void> SetupBook::setMemberGroup(const MemberGroup& group, const WhoAndWhen& who)
{
    if (group.name.empty())
        return fail({kUnknown, "A group needs a name to be switched by."});
    return store_.act(deed((group.disciplines.empty() ? "Group dissolved: " : "Group: ") + group.name), who,
                      [&](SQLite::Database& db) {
                          run(db, "DELETE FROM memberGroups WHERE name=?", group.name);
                          for (const std::string& discipline : group.disciplines)
                              run(db, "INSERT INTO memberGroups VALUES(?, ?) ON CONFLICT DO NOTHING", group.name,
                                  discipline);
                      });
}

Result<void> SetupBook::setPersonGroup(const PersonGroup& group, const WhoAndWhen& who)
{
    if (group.name.empty())
        return fail({kUnknown, "A group of people needs a name to be addressed by."});
    return store_.act(deed((group.people.empty() ? "Group of people dissolved: " : "Group of people: ") + group.name),
                      who, [&](SQLite::Database& db) {
                          run(db, "DELETE FROM personGroups WHERE name=?", group.name);
                          for (const std::string& person : group.people)
                              run(db, "INSERT INTO personGroups VALUES(?, ?) ON CONFLICT DO NOTHING", group.name,
                                  person);
                      });
}

Result<std::vector<Federation>> SetupBook::federations() const
{
    return store_.read([](SQLite::Database& db) {
        std::map<std::string, std::map<std::string, bool>> retired; // by federation, by discipline
        SQLite::Statement parts(db, "SELECT federation, discipline, isRetired FROM federationParts");
        while (parts.executeStep())
            retired[text(parts, 0)][text(parts, 1)] = parts.getColumn(2).getInt() != 0;
        std::vector<Federation> list{{kWholeBuilding, {}, false}};
        SQLite::Statement q(db, "SELECT name, isRetired FROM federations ORDER BY place");
        while (q.executeStep()) {
            if (text(q, 0) == kWholeBuilding)
                list.front().isRetired = q.getColumn(1).getInt() != 0;
            else
                list.push_back({text(q, 0), {}, q.getColumn(1).getInt() != 0});
        }
        const auto all = disciplinesIn(db);
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
    });
}

Result<void> SetupBook::setFederation(const Federation& f, const WhoAndWhen& who)
{
    if (f.name.empty())
        return fail({kUnknown, "A federation needs a name."});
    const auto known = federations();
    if (!known)
        return fail(known.error());
    const std::vector<Federation>& all = *known;
    const auto before = std::find_if(all.begin(), all.end(), [&](const Federation& x) { return x.name == f.name; });
    const bool isKnown = before != all.end();
    if (f.isRetired && std::count_if(all.begin(), all.end(), [](const Federation& x) { return !x.isRetired; }) == 1 &&
        isKnown && !before->isRetired)
        return fail({kUnknown, f.name + " is the only federation left; make another one before retiring it."});
    std::string what = std::string(isKnown ? "Federation changed: " : "Federation made: ") + f.name;
    if (isKnown && before->isRetired != f.isRetired)
        what = (f.isRetired ? "Federation retired: " : "Federation brought back: ") + f.name;
    else if (isKnown)
        for (const Federation::Part& part : f.parts)
            for (const Federation::Part& was : before->parts)
                if (was.discipline == part.discipline && was.isRetired != part.isRetired)
                    what = part.discipline + (part.isRetired ? " retired from " : " brought back to ") + f.name;
    return store_.act(deed(what), who, [&](SQLite::Database& db) {
        run(db,
            "INSERT INTO federations SELECT ?, ?, count(*) FROM federations WHERE true ON CONFLICT(name) DO UPDATE SET "
            "isRetired=excluded.isRetired",
            f.name, f.isRetired ? 1 : 0);
        run(db, "DELETE FROM federationParts WHERE federation=?", f.name);
        for (const Federation::Part& part : f.parts)
            run(db, "INSERT INTO federationParts VALUES(?, ?, ?)", f.name, part.discipline, part.isRetired ? 1 : 0);
    });
}

Result<checks::Expectations> SetupBook::expectations() const
{
    const auto kept = meta("expectations");
    if (!kept)
        return fail(kept.error());
    return kept->empty() ? checks::Expectations::usual() : expectationsFromJson(*kept);
}

Result<void> SetupBook::setExpectations(const checks::Expectations& expectations, const WhoAndWhen& who)
{
    return store_.act(deed("Agreed on what deliveries are like"), who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO meta VALUES('expectations', ?) ON CONFLICT(key) DO UPDATE SET value=excluded.value",
            toJson(expectations));
    });
}

Result<std::vector<std::pair<std::string, std::string>>> SetupBook::specifications() const
{
    return store_.read([](SQLite::Database& db) {
        return allRows(db, "SELECT name, text FROM specifications ORDER BY name",
                       [](SQLite::Statement& q) { return std::pair(text(q, 0), text(q, 1)); });
    });
}

Result<void> SetupBook::setSpecification(const std::string& name, const std::string& words, const WhoAndWhen& who)
{
    return store_.act(
        deed((words.empty() ? "Specification removed: " : "Specification: ") + name), who, [&](SQLite::Database& db) {
            run(db, "DELETE FROM specifications WHERE name=?", name);
            if (!words.empty())
                run(db, "INSERT INTO specifications VALUES(?, ?, ?, ?)", name, words, who.person, who.time);
        });
}

} // namespace wendrix::project
