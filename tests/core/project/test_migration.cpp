#include <QTest>

#include "core/project/issue_making.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

using namespace wendrix;
using namespace wendrix::project;
using clash::PairState;
using test::kInes;
using test::must;

/// Projects of earlier versions open, and hold what they held.
class TestMigration : public QObject {
    Q_OBJECT
private slots:
    void init();
    void versionSixIsWhole();
    void versionElevenKeepsItsIssues();
    void versionNineKeepsItsComparisons();
    void versionEightKeepsItsSheets();
    void versionSevenIsWhole();
    void whatItsPairsWereIsFoundAgain();
    void versionOneOpens();
    void aNewerVersionIsRefused();
    void aDamagedOneIsRefusedAndLeftAsItIs();
    void triggersNeverRun();
    void itIsBackedUpBefore();

private:
    /// Writes the database of version 6 as its own code wrote it.
    void writeVersionSix();
    std::unique_ptr<QTemporaryDir> folder_;
    std::filesystem::path path_;
};

namespace {

constexpr const char* kVersionSix[] = {
    "CREATE TABLE meta (key TEXT PRIMARY KEY, value TEXT)",
    "CREATE TABLE disciplines (name TEXT PRIMARY KEY, company TEXT, colour TEXT, place INTEGER, isReference INTEGER, "
    "people TEXT, dropFolder TEXT, leftOut TEXT)",
    "CREATE TABLE personGroups (name TEXT, person TEXT, PRIMARY KEY (name, person))",
    "CREATE TABLE federations (name TEXT PRIMARY KEY, isRetired INTEGER, place INTEGER)",
    "CREATE TABLE federationParts (federation TEXT, discipline TEXT, isRetired INTEGER, PRIMARY KEY (federation, "
    "discipline))",
    "CREATE TABLE deliveries (id INTEGER PRIMARY KEY, discipline TEXT, revision TEXT, title TEXT, cycle INTEGER, time "
    "TEXT, sender TEXT, fileName TEXT, sha256 TEXT, projectGuid TEXT, "
    "schema TEXT, elements INTEGER, declined TEXT, note TEXT, suitability TEXT, lookedAtBy TEXT, lookedAtAt TEXT)",
    "CREATE TABLE documents (delivery INTEGER, place INTEGER, fileName TEXT, sha256 TEXT, PRIMARY KEY (delivery, "
    "place))",
    "CREATE TABLE moreModels (delivery INTEGER, place INTEGER, fileName TEXT, sha256 TEXT, schema TEXT, elements "
    "INTEGER, PRIMARY KEY (delivery, place))",
    "CREATE TABLE holds (discipline TEXT PRIMARY KEY, until TEXT, reason TEXT, person TEXT, time TEXT)",
    "CREATE TABLE taken (id INTEGER PRIMARY KEY, discipline TEXT, delivery INTEGER, cycle INTEGER, person TEXT, time "
    "TEXT)",
    "CREATE TABLE specifications (name TEXT PRIMARY KEY, text TEXT, person TEXT, time TEXT)",
    "CREATE TABLE composition (discipline TEXT PRIMARY KEY, delivery INTEGER, takenBy TEXT, takenAt TEXT)",
    "CREATE TABLE fits (discipline TEXT PRIMARY KEY, scale REAL, rotation REAL, x REAL, y REAL, z REAL, locked "
    "INTEGER, method TEXT, worst REAL, person TEXT, time TEXT)",
    "CREATE TABLE tests (name TEXT PRIMARY KEY, leftSide TEXT, rightSide TEXT, tolerance REAL, place INTEGER)",
    "CREATE TABLE runs (id INTEGER PRIMARY KEY, time TEXT, person TEXT, cycle INTEGER, composition TEXT)",
    "CREATE TABLE pairs (id TEXT PRIMARY KEY, test TEXT, leftGuid TEXT, rightGuid TEXT, leftName TEXT, rightName TEXT, "
    "leftRevision TEXT, rightRevision TEXT, state INTEGER, depth REAL, "
    "x REAL, y REAL, z REAL, storey TEXT, bay TEXT, firstRun INTEGER, decision TEXT, reason TEXT, decidedBy TEXT, "
    "decidedAt TEXT, issue TEXT)",
    "CREATE TABLE pairRuns (pair TEXT, run INTEGER, state INTEGER, depth REAL, PRIMARY KEY (pair, run))",
    "CREATE TABLE changes (discipline TEXT, fromDelivery INTEGER, toDelivery INTEGER, guid TEXT, oldGuid TEXT, kinds "
    "TEXT, name TEXT, storey TEXT, sx REAL, sy REAL, sz REAL, addedVolume REAL, "
    "removedVolume REAL, fields TEXT, review TEXT, reviewedBy TEXT, reviewedAt TEXT, PRIMARY KEY (discipline, "
    "fromDelivery, toDelivery, guid))",
    "CREATE TABLE issues (uuid TEXT PRIMARY KEY, number TEXT, title TEXT, description TEXT, type TEXT, status TEXT, "
    "priority TEXT, stage TEXT, assignee TEXT, createdBy TEXT, createdAt TEXT, "
    "modifiedBy TEXT, modifiedAt TEXT, dueAt TEXT, labels TEXT, storey TEXT, bay TEXT)",
    "CREATE TABLE comments (uuid TEXT PRIMARY KEY, issue TEXT, time TEXT, author TEXT, text TEXT, viewpoint TEXT)",
    "CREATE TABLE keptViews (uuid TEXT, version INTEGER, title TEXT, folder TEXT, description TEXT, isShared INTEGER, "
    "state TEXT, picture TEXT, person TEXT, time TEXT, removed INTEGER, "
    "PRIMARY KEY (uuid, version))",
    "CREATE TABLE notes (uuid TEXT PRIMARY KEY, number INTEGER, x REAL, y REAL, z REAL, state TEXT, picture TEXT, "
    "removed INTEGER)",
    "CREATE TABLE noteWords (id INTEGER PRIMARY KEY, note TEXT, status TEXT, words TEXT, person TEXT, time TEXT)",
    "CREATE TABLE memberGroups (name TEXT, discipline TEXT, PRIMARY KEY (name, discipline))",
    "CREATE TABLE viewpoints (uuid TEXT PRIMARY KEY, issue TEXT, place INTEGER, view TEXT, picture TEXT)",
    "CREATE TABLE history (id INTEGER PRIMARY KEY, time TEXT, person TEXT, what TEXT)",
    "CREATE TABLE undoSteps (id INTEGER PRIMARY KEY, stack TEXT, what TEXT)",
    "CREATE TABLE undoLog (seq INTEGER PRIMARY KEY, step INTEGER, sql TEXT)",
    "CREATE TABLE undoCurrent (step INTEGER)",
    "CREATE INDEX commentsByIssue ON comments(issue)",
    "CREATE INDEX changesCounted ON changes(discipline, toDelivery, kinds, review)",
    "CREATE TRIGGER undo_issues_INSERT AFTER INSERT ON issues WHEN EXISTS (SELECT 1 FROM undoCurrent) BEGIN INSERT "
    "INTO undoLog(step, sql) SELECT step, 'DELETE FROM issues' FROM undoCurrent; END",
};

constexpr const char* kRows[] = {
    "INSERT INTO meta VALUES('name', 'Marrowfield Seed Store'), ('id', '0d6f0c1a-0000-4000-8000-000000000001')",
    "INSERT INTO disciplines VALUES('Architecture', 'Quill & Marsh', '#C8A768', 0, 1, '[\"Ada\"]', '', '[]'), "
    "('Structure', 'Tarn', '#5F7E9E', 1, 0, '[]', '', '[]'), "
    "('Ventilation', 'Vellowind', '#74A79B', 2, 0, '[]', '', '[\"IfcOutlet\"]')",
    "INSERT INTO deliveries VALUES(1, 'Architecture', 'P01', 'A', 1, '2026-10-13T09:00:00Z', '', 'a.ifc', 'aa', '', "
    "'IFC4', 5, '', '', '', '', ''), "
    "(2, 'Structure', 'P01', 'S', 1, '2026-10-13T09:05:00Z', '', 's.ifc', 'bb', '', 'IFC4', 5, '', '', 'S3', 'Jon "
    "Alder', '2026-10-14T09:00:00Z'), "
    "(3, 'Ventilation', 'P01', 'V', 1, '2026-10-13T09:06:00Z', '', 'v1.ifc', 'cc', '', 'IFC4', 9, '', '', '', '', ''), "
    "(4, 'Ventilation', 'P02', 'V', 2, '2026-11-13T09:06:00Z', '', 'v2.ifc', 'dd', '', 'IFC4', 9, '', '', '', '', '')",
    "INSERT INTO moreModels VALUES(4, 1, 'v2-roof.ifc', 'ee', 'IFC4', 4)",
    "INSERT INTO composition VALUES('Architecture', 1, 'Ines Varga', 't'), ('Structure', 2, 'Ines Varga', 't'), "
    "('Ventilation', 4, 'Ines Varga', 't')",
    "INSERT INTO taken VALUES(1, 'Architecture', 1, 1, 'Ines Varga', 't'), (2, 'Structure', 2, 1, 'Ines Varga', 't'), "
    "(3, 'Ventilation', 3, 1, 'Ines Varga', 't'), (4, 'Ventilation', 4, 2, 'Ines Varga', 't')",
    "INSERT INTO holds VALUES('Structure', '2099-01-01', 'tender', 'Ines Varga', 't')",
    "INSERT INTO fits VALUES('Structure', 1, 0.25, 1.5, 2.5, 3.5, 1, 'grids', 0.001, 'Ines Varga', "
    "'2026-10-20T09:00:00Z')",
    "INSERT INTO tests VALUES('Structure × Ventilation', 'Structure', 'Ventilation', 0.005, 0), ('Again', "
    "'Ventilation', 'Structure', 0.005, 1)",
    "INSERT INTO runs VALUES(1, '2026-10-21T09:00:00Z', 'Ines Varga', 1, 'Architecture P01, Structure P01, Ventilation "
    "P01'), "
    "(2, '2026-11-14T09:00:00Z', 'Ines Varga', 2, 'Architecture P01, Structure P01, Ventilation P02')",
    "INSERT INTO pairs VALUES('p1', 'Structure × Ventilation', 'beamA', 'ductA', 'Beam A', 'Duct A', 'Structure P01', "
    "'Ventilation P02', 1, 0.2, 1, 2, 3, 'Level 2', 'B / 4', 1, 'fix', '', 'Ines Varga', 't', 'issue-1'), "
    "('p2', 'Structure × Ventilation', 'beamB', 'ductB', 'Beam B', 'Duct B', 'Structure P01', 'Ventilation P01', 2, "
    "0.1, 4, 5, 6, 'Level 1', 'C / 4', 1, 'let stand', 'agreed', 'Jon Alder', 't', ''), "
    "('p3', 'Again', 'ductA', 'beamA', 'Duct A', 'Beam A', 'Ventilation P02', 'Structure P01', 0, 0.2, 1, 2, 3, 'Level "
    "2', 'B / 4', 2, '', '', '', '', '')",
    "INSERT INTO pairRuns VALUES('p1', 1, 0, 0.3), ('p1', 2, 1, 0.2), ('p2', 1, 0, 0.1), ('p2', 2, 2, 0), ('p3', 2, 0, "
    "0.2)",
    "INSERT INTO changes VALUES('Ventilation', 3, 4, 'ductA', '', '8', 'Duct A', 'Level 2', 0, 0, -0.205, 0, 0, '[]', "
    "'agreed', 'Ines Varga', 't'), "
    "('Ventilation', 3, 4, 'ductNew', 'ductOld', '32', 'Duct N', 'Level 2', 0, 0, 0, 0, 0, "
    "'[[\"\",\"Name\",\"a\",\"b\"]]', '', '', '')",
    "INSERT INTO issues VALUES('issue-1', 'MSS-007', 'Lower it', 'Where', 'Clash', 'Open', 'High', 'Design', "
    "'Ventilation', 'Ines Varga', 't', 'Ines Varga', 't', '2026-12-01T00:00:00Z', '[\"L\"]', '', '')",
    "INSERT INTO comments VALUES('c2', 'issue-1', '2026-11-01T09:00:00Z', 'Jon', 'second, same second', ''), ('c1', "
    "'issue-1', '2026-11-01T09:00:00Z', 'Ines', 'third', '')",
    "INSERT INTO viewpoints VALUES('v1', 'issue-1', 0, "
    "'{\"selection\":[\"beamA\",\"ductA\"],\"defaultVisible\":true,\"exceptions\":[]}', '')",
    "INSERT INTO keptViews VALUES('k1', 1, 'Main duct', 'F', '', 1, '{}', '', 'Ines Varga', 't', 0)",
    "INSERT INTO notes VALUES('n1', 3, 1, 2, 3, '{}', '', 0)",
    "INSERT INTO noteWords VALUES(1, 'n1', 'open', 'Look', 'Ines Varga', 't')",
    "INSERT INTO memberGroups VALUES('Services', 'Ventilation')",
    "INSERT INTO history VALUES(1, '2026-10-13T09:05:00Z', 'Ines Varga', 'Delivery received: Structure P01'), (2, "
    "'2026-10-14T09:05:00Z', 'Jon Alder', 'Declined: Structure P011, no'), "
    "(3, '2026-10-15T09:05:00Z', 'Ines Varga', 'Tests run: 2 pairs found')",
    "INSERT INTO undoSteps VALUES(1, 'undo', 'Tests run')",
    "INSERT INTO undoLog VALUES(1, 1, 'DELETE FROM deliveries')",
};

} // namespace

void TestMigration::init()
{
    folder_ = std::make_unique<QTemporaryDir>();
    path_ = (folder_->path() + "/p").toStdString();
    std::filesystem::create_directories(path_ / "pictures");
}

void TestMigration::writeVersionSix()
{
    SQLite::Database db((path_ / "project.sqlite").string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    for (const char* sql : kVersionSix)
        db.exec(sql);
    for (const char* sql : kRows)
        db.exec(sql);
    db.exec("PRAGMA user_version=6");
}

void TestMigration::versionSevenIsWhole()
{
    const std::vector<std::string> disciplines{"Structure", "Ventilation", "Fire protection"};
    {
        const auto project = test::madeProject(path_ / "made", disciplines);
        test::MadeRun run(*project, disciplines);
        const ElementRef beam = run.ref("Structure", "beam");
        const auto recorded = recordRun(
            *project,
            run.pair(beam, run.ref("Ventilation", "duct"), 0.3).pair(beam, run.ref("Fire protection", "pipe")).run,
            test::kInes);
        QVERIFY(recorded.has_value());
        const PairId first = must(project->clashes().all())[0].id;
        QVERIFY(project->clashes().decide(std::span(&first, 1), "let stand", "agreed", test::kJon).has_value());
    }
    {
        SQLite::Database db((path_ / "made" / "project.sqlite").string(), SQLite::OPEN_READWRITE);
        for (const char* sql :
             {"DROP TABLE testSheets", "DROP TABLE sheetVersions", "DROP TABLE expectedPairs",
              "CREATE TABLE tests (name TEXT PRIMARY KEY, leftSide TEXT, rightSide TEXT, tolerance REAL, place "
              "INTEGER, kind INTEGER)",
              "INSERT INTO tests VALUES('Structure × Ventilation', 'Structure', 'Ventilation', 0.005, 0, 1), ('Wet', "
              "'Structure', 'Fire protection', 0.02, 1, 1)",
              "ALTER TABLE runTests RENAME TO was1",
              "CREATE TABLE runTests (run INTEGER, place INTEGER, name TEXT, leftSide TEXT, rightSide TEXT, kind "
              "INTEGER, tolerance REAL, state INTEGER, pairsTested INTEGER, found INTEGER, PRIMARY KEY (run, place))",
              "INSERT INTO runTests SELECT run, place, name, REPLACE(REPLACE(leftSide, 'discipline is ', ''), '\"', "
              "''), REPLACE(REPLACE(rightSide, 'discipline is ', ''), '\"', ''), kind, tolerance, state, pairsTested, "
              "found FROM was1",
              "DROP TABLE was1", "ALTER TABLE findings RENAME TO was2",
              "CREATE TABLE findings (pair INTEGER, run INTEGER, outcome INTEGER, test INTEGER, leftElement INTEGER, "
              "rightElement INTEGER, depth REAL, x REAL, y REAL, z REAL, storey TEXT, bay TEXT, isApproximate INTEGER, "
              "PRIMARY KEY (pair, run))",
              "INSERT INTO findings SELECT pair, run, outcome, test, leftElement, rightElement, depth, x, y, z, "
              "storey, "
              "bay, isApproximate FROM was2",
              "DROP TABLE was2", "ALTER TABLE present RENAME TO was3",
              "CREATE TABLE present (pair INTEGER PRIMARY KEY, kind INTEGER, state INTEGER, outcome INTEGER, foundRun "
              "INTEGER, lastRun INTEGER, test TEXT, tolerance REAL, leftElement INTEGER, rightElement INTEGER, depth "
              "REAL, x REAL, y REAL, z REAL, storey TEXT, bay TEXT, isApproximate INTEGER)",
              "INSERT INTO present SELECT pair, kind, state, outcome, foundRun, lastRun, test, tolerance, leftElement, "
              "rightElement, depth, x, y, z, storey, bay, isApproximate FROM was3",
              "DROP TABLE was3", "PRAGMA user_version=7"})
            db.exec(sql);
    }
    auto project = must(Project::open(path_ / "made"));
    const auto pairs = must(project->clashes().all());
    QCOMPARE(pairs.size(), std::size_t{2});
    QVERIFY(pairs[0].depth == 0.3 && pairs[0].decision == "let stand" && pairs[0].decidedBy.person == "Jon Alder");
    QVERIFY(pairs[0].distance == 0 && pairs[0].clearance == 0 && !pairs[0].isOpen);
    const auto sheets = must(project->clashes().sheets());
    QCOMPARE(sheets.size(), std::size_t{1});
    QVERIFY(sheets[0].isOn && sheets[0].version == 1 && sheets[0].sheet.tests.size() == 2);
    const clash::Test wet = sheets[0].sheet.tests[1];
    QVERIFY(wet.name == "Wet" && wet.left == "discipline is Structure" &&
            wet.right == "discipline is \"Fire protection\"" && wet.tolerance == 0.02);
    QVERIFY(wet.ignored == clash::Meetings::none()); // as it was tested
    const Run last = *must(project->clashes().lastRun());
    QVERIFY(last.tests.size() == 3 && last.tests[0].test.left == "discipline is Structure");
    // Run again, the pairs are the same ones.
    test::MadeRun again(*project, disciplines);
    const ElementRef beam = again.ref("Structure", "beam");
    QVERIFY(recordRun(*project, again.pair(beam, again.ref("Ventilation", "duct"), 0.3).run, test::kInes).has_value());
    QVERIFY(must(project->clashes().all())[0].state == PairState::StillThere &&
            must(project->clashes().all())[1].isGone());
    // What was done before is in the history still, and what is done now can be undone.
    QVERIFY(must(project->log().last(100)).size() >= 4);
}

void TestMigration::versionElevenKeepsItsIssues()
{
    std::string uuid;
    {
        auto project = test::madeProject(path_ / "made", {"Structure"});
        issues::Issue i;
        i.title = "Duct through the beam";
        i.custom = {{"Trade", "Ducts"}};
        QVERIFY(makeIssue(*project, i, {}, test::kInes).has_value());
        uuid = must(project->issues().all())[0].uuid;
        QVERIFY(project->issues().addComment(uuid, "Lower it", test::kInes).has_value());
    }
    {
        SQLite::Database db((path_ / "made" / "project.sqlite").string(), SQLite::OPEN_READWRITE);
        for (const char* sql :
             {"DROP TABLE issueRequirements", "DROP TABLE requirementMoments", "PRAGMA user_version=11"})
            db.exec(sql);
    }
    auto project = must(Project::open(path_ / "made"));
    const issues::Issue now = must(project->issues().find(uuid, false)).value();
    QVERIFY(now.title == "Duct through the beam" && now.custom.at("Trade") == "Ducts" && now.comments.size() == 1);
    QVERIFY(must(project->issues().requirements()).empty());
    // What it knows of since is kept.
    issues::Issue wanting;
    wanting.title = "Ids";
    const issues::Requirement wanted{1, "guid.twice", "GlobalIds are given twice", {{1, "P01", 3, 0, 0}}};
    QVERIFY(makeIssues(*project, {{wanting, {}, issues::made_from::kCheck, wanted}}, test::kInes).has_value());
    QCOMPARE(must(project->issues().requirements()).size(), std::size_t{1});
}

void TestMigration::versionNineKeepsItsComparisons()
{
    std::int64_t id = 0;
    {
        auto project = test::madeProject(path_ / "made", {"Structure"});
        NewComparison one;
        one.discipline = must(project->setup().disciplines())[0].id;
        one.record.from = 1;
        one.record.to = 2;
        one.record.unchanged = 7;
        ChangeRecord moved;
        moved.element = {one.discipline, "", "beam", 0};
        moved.kinds = Moved | Redescribed;
        moved.name = "Beam";
        moved.storey = "Level 1";
        moved.shift = {0, 0, 0.05};
        moved.fields = {{"Pset", "Load", "1 kN", "2 kN"}};
        one.changes = {moved};
        id = must(project->changes().keep(std::span(&one, 1), "Compared", test::kInes))[0];
        const ChangeKey key{id, 0};
        QVERIFY(project->changes().review(std::span(&key, 1), "agreed", "Beam", test::kJon).has_value());
    }
    {
        SQLite::Database db((path_ / "made" / "project.sqlite").string(), SQLite::OPEN_READWRITE);
        for (
            const char* sql :
            {"DROP TABLE changeRules", "ALTER TABLE comparisons RENAME TO was1",
             "CREATE TABLE comparisons (id INTEGER PRIMARY KEY, discipline INTEGER, fromDelivery INTEGER, toDelivery "
             "INTEGER, tolerance REAL, fits TEXT, total INTEGER, unchanged INTEGER, person TEXT, time TEXT)",
             "INSERT INTO comparisons SELECT id, discipline, fromDelivery, toDelivery, 0.002, fits, total, unchanged, "
             "person, time FROM was1",
             "DROP TABLE was1", "ALTER TABLE changes RENAME TO was2",
             "CREATE TABLE changes (comparison INTEGER, number INTEGER, guid TEXT, part TEXT, ordinal INTEGER, "
             "oldGuid TEXT, oldPart TEXT, oldOrdinal INTEGER, kinds INTEGER, name TEXT, storey TEXT, sx REAL, sy REAL, "
             "sz REAL, addedVolume REAL, removedVolume REAL, fields TEXT, PRIMARY KEY (comparison, number))",
             "INSERT INTO changes SELECT comparison, number, guid, part, ordinal, oldGuid, oldPart, oldOrdinal, kinds, "
             "name, storey, sx, sy, sz, 0.1, 0.2, fields FROM was2",
             "DROP TABLE was2", "PRAGMA user_version=9"})
            db.exec(sql);
    }
    auto project = must(Project::open(path_ / "made"));
    const auto found = must(project->changes().find(std::span(&id, 1)));
    QCOMPARE(found.size(), std::size_t{1});
    QVERIFY(!found[0].isAsked && found[0].unchanged == 7 && found[0].rule.distance == 0.002 && found[0].leftOut == 0);
    const auto changes = must(project->changes().changesOf(id));
    QCOMPARE(changes.size(), std::size_t{1});
    const ChangeRecord& c = changes[0];
    QVERIFY(c.name == "Beam" && c.storey == "Level 1" && c.kinds == (Moved | Redescribed) && c.review == "agreed");
    QVERIFY(c.shift == (Vector3{0, 0, 0.05}) && c.turn.value == 0 && c.confidence == 1 && c.place.isEmpty());
    QVERIFY(c.fields.size() == 1 && c.fields[0].after == "2 kN" && c.parts.empty() && c.alike == 0);
    QCOMPARE(must(project->changes().rules()).front().name, std::string("Usual"));
}

void TestMigration::versionEightKeepsItsSheets()
{
    const std::vector<std::string> disciplines{"Structure", "Ventilation"};
    {
        auto project = test::madeProject(path_ / "made", disciplines);
        test::MadeRun run(*project, disciplines);
        run.run.tests[0].test.clearance = 0.4;
        QVERIFY(recordRun(*project, run.pair(run.ref("Structure", "beam"), run.ref("Ventilation", "duct"), 0.3).run,
                          test::kInes)
                    .has_value());
        clash::TestSheet sheet;
        sheet.name = "Agreed";
        sheet.tests = {run.run.tests[0].test};
        sheet.tests[0].kind = clash::Kind::Clearance;
        QVERIFY(project->clashes().keepSheet(sheet, "Agreed", test::kInes).has_value());
        const PairId pair = must(project->clashes().all())[0].id;
        QVERIFY(project->clashes().decide(std::span(&pair, 1), "let stand", "agreed", test::kJon).has_value());
    }
    {
        SQLite::Database db((path_ / "made" / "project.sqlite").string(), SQLite::OPEN_READWRITE);
        for (const char* sql : {"DROP TABLE issueTemplates", "ALTER TABLE runTests DROP COLUMN askedIn",
                                "ALTER TABLE runTests DROP COLUMN leftOf", "ALTER TABLE runTests DROP COLUMN rightOf",
                                "PRAGMA user_version=8"})
            db.exec(sql);
    }
    auto project = must(Project::open(path_ / "made"));
    const auto sheets = must(project->clashes().sheets());
    QVERIFY(sheets.size() == 1 && sheets[0].sheet.name == "Agreed" && sheets[0].sheet.tests[0].clearance == 0.4);
    const Run last = *must(project->clashes().lastRun());
    QVERIFY(last.tests[0].test.clearance == 0.4 && last.tests[0].askedIn == last.id && last.hasAsked(last.tests[0]));
    const auto pairs = must(project->clashes().all());
    QVERIFY(pairs.size() == 1 && pairs[0].depth == 0.3 && pairs[0].decision == "let stand");
    QCOMPARE(must(project->issues().templates()), issues::IssueTemplate::usuals());
    // What was done before can still be undone.
    QVERIFY(project->undo(test::kJon).has_value());
    QVERIFY(must(project->clashes().all())[0].decision.empty());
}

void TestMigration::versionSixIsWhole()
{
    writeVersionSix();
    auto project = must(Project::open(path_));
    QCOMPARE(project->name(), std::string("Marrowfield Seed Store"));
    const auto disciplines = must(project->setup().disciplines());
    QVERIFY(disciplines.size() == 3 && disciplines[0].isReference && disciplines[2].leftOut.size() == 1);
    QVERIFY(disciplines[0].id != 0 && disciplines[1].id != disciplines[2].id);
    QCOMPARE(must(project->deliveries().all()).size(), std::size_t{4});
    const Delivery used = *must(project->deliveries().inUse("Ventilation"));
    QVERIFY(used.revision == "P02" && used.moreModels.size() == 1);
    QVERIFY(must(project->deliveries().inUse("Structure"))->state == DeliveryState::Held &&
            must(project->deliveries().inUse("Structure"))->lookedAt.person == "Jon Alder");
    QCOMPARE(must(project->deliveries().compositionOf(1)).at("Ventilation"), DeliveryId{3});
    // One fit held for all deliveries, and still does.
    const StoredFit fit = must(project->coordinates().fitInUse("Structure"));
    QVERIFY(fit.isLocked && fit.method == "grids" && fit.fit.translation.z == 3.5 && fit.fit.rotation.value == 0.25);
    QVERIFY(must(project->coordinates().fitInUse("Ventilation")).method.empty());
    // The same two elements under two tests, either side left, were two pairs; they are one.
    const auto pairs = must(project->clashes().all());
    QCOMPARE(pairs.size(), std::size_t{2});
    QVERIFY(pairs[0].state == PairState::StillThere && pairs[0].decision == "fix" && pairs[0].issue == "issue-1");
    QVERIFY(pairs[0].point == (Point3{1, 2, 3}) && pairs[0].storey == "Level 2");
    QVERIFY(pairs[1].isGone() && pairs[1].reason == "agreed" && pairs[1].decidedBy.person == "Jon Alder");
    QCOMPARE(must(project->clashes().historyOf(pairs[0].id)).size(), std::size_t{2});
    QCOMPARE(must(evidenceOf(*project, "issue-1")).inShort(), std::string("still there"));
    const Run last = *must(project->clashes().lastRun());
    QVERIFY(last.id == 2 && last.members.size() == 3 && last.members[2].delivery == 4 && last.tests.size() == 2);
    const auto changes = must(project->changes().current());
    QVERIFY(changes.size() == 2 && changes[0].kinds == Moved && changes[0].review == "agreed" &&
            changes[0].shift.z == -0.205);
    QVERIFY(changes[1].continues && changes[1].continues->guid == "ductOld" && changes[1].fields.size() == 1);
    QCOMPARE(must(project->changes().toReview()), std::size_t{1});
    const auto issue = *must(project->issues().find("issue-1", false));
    QVERIFY(issue.number == "MSS-007" && issue.labels.size() == 1 && issue.viewpoints.size() == 1 &&
            issue.viewpoints[0].selection[1].guid == "ductA");
    QVERIFY(issue.comments.size() == 2 && issue.comments[0].uuid == "c2"); // as they were written
    QCOMPARE(must(project->issues().about({disciplines[2].id, "", "ductA", 0})).size(), std::size_t{1});
    QVERIFY(must(project->views().views("Jon Alder")).size() == 1 && must(project->views().notes())[0].number == 3);
    QCOMPARE(must(project->setup().memberGroups()).size(), std::size_t{1});
    QCOMPARE(must(project->log().last(10)).size(), std::size_t{3});
    QCOMPARE(must(project->log().of(DeliveriesBook::subjectOf(2))).size(), std::size_t{1}); // P011 is another one
    // What stood in the log of then is not executed, and nothing of then is left.
    QVERIFY(must(project->log().undoable("Ines Varga")).empty() && project->undo(kInes).has_value());
    QCOMPARE(must(project->deliveries().all()).size(), std::size_t{4});
    QVERIFY(must(project->store().read([](SQLite::Database& db) {
                return db
                    .execAndGet("SELECT COUNT(*) FROM sqlite_master WHERE type='trigger' OR name LIKE 'before%' OR "
                                "name LIKE 'undo%'")
                    .getInt();
            })) == 0);
    // Numbers go on where they were.
    QCOMPARE(must(makeIssue(*project, issues::Issue{}, {}, kInes)), std::string("MSS-008"));
    QVERIFY(project->undo(kInes).has_value());
    project.reset();
    QVERIFY(Project::open(path_).has_value()); // once is enough
}

void TestMigration::whatItsPairsWereIsFoundAgain()
{
    writeVersionSix();
    auto project = must(Project::open(path_));
    // Which of two models an element is of was not kept then: the first run says, and the decision stays.
    test::MadeRun run(*project, {"Structure", "Ventilation"});
    run.pair(run.ref("Structure", "beamA"), run.ref("Ventilation", "ductA", 0, "roof"));
    QVERIFY(recordRun(*project, run.run, kInes).has_value());
    const auto pairs = must(project->clashes().all());
    QCOMPARE(pairs.size(), std::size_t{2});
    const Pair& p = pairs[0].isGone() ? pairs[1] : pairs[0];
    QVERIFY(p.state == PairState::StillThere && p.decision == "fix" && p.right.element.part == "roof");
}

void TestMigration::versionOneOpens()
{
    writeVersionSix();
    {
        SQLite::Database db((path_ / "project.sqlite").string(), SQLite::OPEN_READWRITE);
        for (const char* table : {"keptViews", "notes", "noteWords", "memberGroups", "documents", "holds", "taken",
                                  "specifications", "moreModels", "personGroups", "federations", "federationParts"})
            db.exec(std::string("DROP TABLE ") + table);
        for (const char* column : {"note", "suitability", "lookedAtBy", "lookedAtAt"})
            db.exec(std::string("ALTER TABLE deliveries DROP COLUMN ") + column);
        db.exec("PRAGMA user_version=1");
    }
    auto project = must(Project::open(path_));
    QCOMPARE(must(project->deliveries().all()).size(), std::size_t{4});
    QCOMPARE(must(project->deliveries().compositionOf(2)).size(), std::size_t{3}); // what was in use is known to be
    KeptView view;
    view.title = "All";
    QVERIFY(project->views().keep(view, "", kInes).has_value());
    QVERIFY(project->undo(kInes).has_value() && must(project->views().views("Ines Varga")).empty());
}

void TestMigration::aNewerVersionIsRefused()
{
    writeVersionSix();
    SQLite::Database((path_ / "project.sqlite").string(), SQLite::OPEN_READWRITE)
        .exec("PRAGMA user_version=" + std::to_string(kSchemaVersion + 1));
    const auto refused = Project::open(path_);
    QVERIFY(!refused && refused.error().code == kNewerVersion &&
            refused.error().message.find("newer Wendrix") != std::string::npos);
}

void TestMigration::aDamagedOneIsRefusedAndLeftAsItIs()
{
    writeVersionSix();
    {
        SQLite::Database db((path_ / "project.sqlite").string(), SQLite::OPEN_READWRITE);
        db.exec("ALTER TABLE issues DROP COLUMN title");
    }
    const auto refused = Project::open(path_);
    QVERIFY(!refused && refused.error().code == kStoreFailed);
    SQLite::Database db((path_ / "project.sqlite").string(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("PRAGMA user_version").getInt(), 6);
    QCOMPARE(db.execAndGet("SELECT COUNT(*) FROM deliveries").getInt(), 4);
    QCOMPARE(db.execAndGet("SELECT COUNT(*) FROM sqlite_master WHERE name LIKE 'before%'").getInt(), 0);
}

void TestMigration::triggersNeverRun()
{
    // The undo log of then was made by triggers. Whatever stands in such a one, and whatever it is called, it is
    // dropped unread; a view is not accepted at all.
    writeVersionSix();
    {
        SQLite::Database db((path_ / "project.sqlite").string(), SQLite::OPEN_READWRITE);
        db.exec(
            "CREATE TRIGGER \"x\"\"; DELETE FROM issues; --\" AFTER INSERT ON issues BEGIN DELETE FROM issues; END");
        db.exec("CREATE TRIGGER evil BEFORE DELETE ON meta BEGIN DELETE FROM issues; END");
    }
    {
        const auto opened = Project::open(path_);
        QVERIFY2(opened.has_value(), opened ? "" : opened.error().message.c_str());
        QVERIFY(!must((*opened)->issues().keys()).empty());
        const auto triggers = (*opened)->store().read([](SQLite::Database& db) {
            return db.execAndGet("SELECT COUNT(*) FROM sqlite_schema WHERE type<>'table' AND type<>'index'").getInt();
        });
        QCOMPARE(triggers.value(), 0);
    }
    QVERIFY(Project::open(path_).has_value()); // one of ours from then on
    init();
    writeVersionSix();
    {
        SQLite::Database db((path_ / "project.sqlite").string(), SQLite::OPEN_READWRITE);
        db.exec("CREATE VIEW v AS SELECT 1");
    }
    const auto refused = Project::open(path_);
    QVERIFY(!refused && refused.error().code == kForeignSchema);
}

void TestMigration::itIsBackedUpBefore()
{
    writeVersionSix();
    QVERIFY(Project::open(path_).has_value());
    const auto backups = backupsOf(path_);
    QVERIFY(backups.size() == 1 && backups[0].reason == "before version " + std::to_string(kSchemaVersion));
    SQLite::Database db(backups[0].file.string(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("PRAGMA user_version").getInt(), 6);
    QCOMPARE(db.execAndGet("SELECT COUNT(*) FROM deliveries").getInt(), 4);
}

QTEST_APPLESS_MAIN(TestMigration)
#include "test_migration.moc"
