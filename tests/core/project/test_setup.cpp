#include <QTest>

#include "core/base/file.h"
#include "core/project/demo_project.h"
#include "core/project/drop_folders.h"
#include "core/project/inside.h"
#include "core/project/setup.h"
#include "support/demo.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <map>
#include <set>

using namespace wendrix;
using namespace wendrix::project;
using test::must;

/// How a project is set up, and what is seen inside a delivery before it is taken in.
class TestSetup : public QObject {
    Q_OBJECT
private slots:
    void init();
    void aTemplateCarriesTheSetup();
    void oddTemplatesAreRefusedOrRead_data();
    void oddTemplatesAreRefusedOrRead();
    void aSetupThatContradictsItselfLeavesNothing_data();
    void aSetupThatContradictsItselfLeavesNothing();
    void federationsHaveMembersOfTheirOwn();
    void disciplinesAndPeopleChange();
    void aCopiedFolderIsTheWholeProject();
    void aSetupChangesInOneStep();
    void aSetupThatFailsChangesNothing();
    void looksInside();
    void findsTheFaultsOfTheDemo_data();
    void findsTheFaultsOfTheDemo();
    void reportsAreEscaped();

private:
    std::unique_ptr<QTemporaryDir> scratch_;
    Progress progress_;
    const WhoAndWhen who_{"Ines Varga", "2026-11-18T09:00:00Z"};
};

namespace {

std::filesystem::path data() { return test::demoFolder() + "/data"; }

} // namespace

void TestSetup::init() { scratch_ = std::make_unique<QTemporaryDir>(); }

void TestSetup::aTemplateCarriesTheSetup()
{
    const std::filesystem::path folder = scratch_->path().toStdString();
    auto demo = makeDemoProject(data(), folder / "demo", progress_).value();
    checks::Expectations agreed = must(demo->setup().expectations());
    agreed.lengthUnit = "millimetre";
    issues::IssueTemplate holes = issues::IssueTemplate::usual();
    holes.name = "Holes to cut";
    holes.assignee = "Structure";
    QVERIFY(demo->issues().keepTemplate(holes, "", who_).has_value());
    agreed.properties.push_back({"IfcPipeSegment", "Pset_PipeSegmentTypeCommon", "NominalDiameter"});
    QVERIFY(demo->setup().setExpectations(agreed, who_).has_value());
    const Setup read = setupFromJson(toJson(must(setupOf(*demo)))).value();
    const auto next = createProject(folder / "next", "Another store", read, who_).value();
    QCOMPARE(next->name(), std::string("Another store"));
    QVERIFY(next->id() != demo->id() && must(next->deliveries().all()).empty());
    QCOMPARE(toJson(must(setupOf(*next))), toJson(must(setupOf(*demo))));
    QCOMPARE(must(next->setup().disciplines()).size(), std::size_t{5});
    QCOMPARE(must(next->setup().reference()), std::string("Architecture"));
    QCOMPARE(must(next->setup().disciplines())[1].people, (std::vector<std::string>{"Jon Alder", "Priya Nand"}));
    QCOMPARE(must(next->setup().personGroups())[0].name, std::string("All engineers"));
    QCOMPARE(must(next->clashes().sheets())[0].sheet.tests.size(), std::size_t{7});
    QCOMPARE(must(next->setup().expectations()).lengthUnit, std::string("millimetre"));
    QCOMPARE(must(next->setup().specifications()).size(), std::size_t{1});
    QCOMPARE(must(next->setup().federations())[1].name, std::string("Services only"));
}

void TestSetup::oddTemplatesAreRefusedOrRead_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<int>("disciplines"); // 0: refused
    QTest::newRow("empty") << "" << 0;
    QTest::newRow("no JSON") << "<html>" << 0;
    QTest::newRow("a list") << "[1,2]" << 0;
    QTest::newRow("another file") << R"({"project": "x", "disciplines": []})" << 0;
    QTest::newRow("no disciplines") << R"({"kind": "wendrix-setup"})" << 0;
    QTest::newRow("fields of other types")
        << R"({"kind": "wendrix-setup", "disciplines": [{"name": "A", "people": 7, "reference": "yes", "colour": []}, 5, {"name": 3}, null],
        "tests": {"a": 1}, "federations": [7, {"name": "F", "parts": [1, {"discipline": "A"}]}], "expectations": [1], "specifications": [{}]})"
        << 1;
    QTest::newRow("the same twice")
        << R"({"kind": "wendrix-setup", "disciplines": [{"name": "A"}, {"name": "A"}, {"name": "B"}]})" << 2;
}

void TestSetup::oddTemplatesAreRefusedOrRead()
{
    QFETCH(QString, text);
    QFETCH(int, disciplines);
    const auto setup = setupFromJson(text.toStdString());
    QCOMPARE(setup.has_value(), disciplines > 0);
    if (setup)
        QCOMPARE(setup->disciplines.size(), static_cast<std::size_t>(disciplines));
    else
        QVERIFY(setup.error().code == kBadTemplate && setup.error().message.size() > 20);
}

void TestSetup::aSetupThatContradictsItselfLeavesNothing_data()
{
    QTest::addColumn<QStringList>("names");
    QTest::addColumn<int>("references");
    QTest::addColumn<QString>("project");
    QTest::addColumn<QString>("says");
    // clang-format off
    QTest::newRow("no reference") << QStringList{"A", "B"} << 0 << "P" << "Exactly one";
    QTest::newRow("two references") << QStringList{"A", "B"} << 2 << "P" << "Exactly one";
    QTest::newRow("twice") << QStringList{"A", "A"} << 1 << "P" << "called A";
    QTest::newRow("without a name") << QStringList{"A", ""} << 1 << "P" << "no name";
    QTest::newRow("a project without a name") << QStringList{"A"} << 1 << "" << "needs a name";
    // clang-format on
}

void TestSetup::aSetupThatContradictsItselfLeavesNothing()
{
    QFETCH(QStringList, names);
    QFETCH(int, references);
    QFETCH(QString, project);
    QFETCH(QString, says);
    Setup setup;
    for (const QString& name : names)
        setup.disciplines.push_back({name.toStdString(), {}, "#000000", references-- > 0, {}, {}, {}});
    const std::filesystem::path folder = (scratch_->path() + "/new").toStdString();
    const auto made = createProject(folder, project.toStdString(), setup, who_);
    QVERIFY(!made && made.error().message.find(says.toStdString()) != std::string::npos);
    QVERIFY(!std::filesystem::exists(folder));
}

void TestSetup::federationsHaveMembersOfTheirOwn()
{
    auto project = makeDemoProject(data(), (scratch_->path() + "/p").toStdString(), progress_).value();
    auto federations = must(project->setup().federations());
    QCOMPARE(federations.size(), std::size_t{2});
    QCOMPARE(federations[0].parts.size(), std::size_t{5}); // the whole building has everybody
    QVERIFY(federations[1].has("Piping") && !federations[1].has("Architecture"));
    QCOMPARE(must(orderOf(*project, {"Services only", {}, {}})).items.size(), std::size_t{4}); // piping has two models
    QCOMPARE(must(orderOf(*project)).items.size(), std::size_t{6});
    // Retired and brought back, each one step and one line.
    Federation services = federations[1];
    for (Federation::Part& part : services.parts)
        part.isRetired = part.discipline == "Piping";
    QVERIFY(project->setup().setFederation(services, who_).has_value());
    QCOMPARE(must(project->log().last(1))[0].what, std::string("Piping retired from Services only"));
    QVERIFY(!must(project->setup().federations())[1].has("Piping"));
    QCOMPARE(must(project->setup().federations())[1].parts.size(), std::size_t{3}); // it is known that it was one
    QCOMPARE(must(orderOf(*project, {"Services only", {}, {}})).items.size(), std::size_t{2});
    QVERIFY(project->undo(who_).has_value() && must(project->setup().federations())[1].has("Piping"));
    services = must(project->setup().federations())[1];
    services.isRetired = true;
    QVERIFY(project->setup().setFederation(services, who_).has_value());
    QVERIFY(must(project->setup().federations())[1].isRetired);
    Federation whole = must(project->setup().federations())[0];
    whole.isRetired = true;
    QVERIFY(!project->setup().setFederation(whole, who_)); // the last one stays
    services.isRetired = false;
    QVERIFY(project->setup().setFederation(services, who_).has_value());
    QCOMPARE(must(project->log().last(1))[0].what, std::string("Federation brought back: Services only"));
    // A discipline that is new belongs to the whole building, and to no other federation by itself.
    QVERIFY(project->setup().addDiscipline({"Civil", "", "#8A7866", false, {}, {}, {}}, who_).has_value());
    QVERIFY(must(project->setup().federations())[0].has("Civil") &&
            !must(project->setup().federations())[1].has("Civil"));
    // Somebody who is retired from the whole building does not come back by undoing something else.
    whole = must(project->setup().federations())[0];
    whole.parts[2].isRetired = true;
    QVERIFY(project->setup().setFederation(whole, who_).has_value());
    QCOMPARE(must(orderOf(*project, {kWholeBuilding, {}, {}})).items.size(), std::size_t{5});
}

void TestSetup::disciplinesAndPeopleChange()
{
    const auto project = createProject((scratch_->path() + "/p").toStdString(), "P", Setup::usual(), who_).value();
    QCOMPARE(must(project->setup().disciplines()).size(), std::size_t{6});
    Discipline d = must(project->setup().disciplines())[1];
    d.company = "Tarnbeck Frames";
    d.people = {"Jon Alder"};
    d.dropFolder = "drop/structure";
    QVERIFY(project->setup().setDiscipline(d, who_).has_value());
    const Discipline back = must(project->setup().disciplines())[1];
    QVERIFY(back.company == d.company && back.people == d.people && back.dropFolder == d.dropFolder &&
            back.colour == "#5F7E9E");
    QVERIFY(!project->setup().setDiscipline({"Gardens", {}, {}, false, {}, {}, {}}, who_));
    QVERIFY(project->setup()
                .setPersonGroup({"All structural engineers", {"Priya Nand", "Jon Alder", "Jon Alder"}}, who_)
                .has_value());
    QCOMPARE(must(project->setup().personGroups())[0].people, (std::vector<std::string>{"Jon Alder", "Priya Nand"}));
    QVERIFY(project->setup().setPersonGroup({"All structural engineers", {}}, who_).has_value() &&
            must(project->setup().personGroups()).empty());
    QVERIFY(project->undo(who_).has_value() && must(project->setup().personGroups()).size() == 1);
    QVERIFY(!project->setup().setPersonGroup({"", {"x"}}, who_));
}

void TestSetup::aCopiedFolderIsTheWholeProject()
{
    const std::filesystem::path folder = scratch_->path().toStdString(), copy = folder / "elsewhere/copy of it";
    std::string id;
    {
        auto project = makeDemoProject(data(), folder / "p", progress_).value();
        Discipline d = must(project->setup().disciplines())[1];
        d.dropFolder = "in"; // beside the database, so it goes along
        QVERIFY(project->setup().setDiscipline(d, who_).has_value());
        id = project->id();
    }
    std::filesystem::create_directories(copy.parent_path());
    std::filesystem::copy(folder / "p", copy, std::filesystem::copy_options::recursive);
    std::filesystem::remove_all(copy / "cache"); // disposable at any time
    std::filesystem::remove_all(folder / "p");
    const auto project = Project::open(copy).value();
    QCOMPARE(project->id(), id);
    QCOMPARE(load(must(orderOf(*project)), {}, progress_).value().members.size(), std::size_t{6});
    QCOMPARE(readFileWhole(project->deliveries().fileOf(must(
                               project->deliveries().documentsOf(must(project->deliveries().inUse("Piping"))->id))[0]))
                 .value()
                 .substr(0, 5),
             std::string("%PDF-"));
    QCOMPARE(dropFolderOf(must(project->setup().disciplines())[1], project->folder()), copy / "in");
    QVERIFY(project->undo(who_).has_value()); // also what was done there
    QVERIFY(must(project->setup().disciplines())[1].dropFolder.empty());
}

void TestSetup::aSetupChangesInOneStep()
{
    auto project = makeDemoProject(data(), (scratch_->path() + "/p").toStdString(), progress_).value();
    const Setup before = must(setupOf(*project));
    Setup wanted = before;
    wanted.disciplines[1].people = {"Jon Alder"};
    wanted.disciplines.push_back({"Civil", "Groundworks", "#8A7866", false, {}, {}, {}});
    wanted.personGroups = {{"Two of them", {"Sofie Brandt", "Jon Alder"}}}; // in another order than it is kept
    wanted.expectations.lengthUnit = "metre";
    const std::size_t lines = must(project->log().last(1000)).size();
    QVERIFY(changeSetup(*project, wanted, who_).has_value());
    QCOMPARE(must(project->log().undoable(who_.person)), std::string("Setup changed"));
    QCOMPARE(must(project->setup().disciplines())[1].people, std::vector<std::string>{"Jon Alder"});
    QCOMPARE(must(project->setup().disciplines()).size(), before.disciplines.size() + 1);
    QCOMPARE(must(project->setup().personGroups()).size(), std::size_t{1}); // the demo's own are dissolved
    QCOMPARE(must(project->setup().expectations()).lengthUnit, std::string("metre"));
    // Each part is a line of history: two disciplines, the new group and those dissolved, what was agreed.
    QCOMPARE(must(project->log().last(1000)).size(), lines + 4 + before.personGroups.size());
    QVERIFY(project->undo(who_).has_value());
    QCOMPARE(toJson(must(setupOf(*project))), toJson(before));
    QVERIFY(project->redo(who_).has_value());
    QCOMPARE(must(project->setup().disciplines()).back().company, std::string("Groundworks"));
    // What is wanted is there: nothing is written.
    const std::size_t then = must(project->log().last(1000)).size();
    QVERIFY(changeSetup(*project, wanted, who_).has_value());
    QCOMPARE(must(project->log().last(1000)).size(), then);
}

void TestSetup::aSetupThatFailsChangesNothing()
{
    auto project = makeDemoProject(data(), (scratch_->path() + "/p").toStdString(), progress_).value();
    const std::string before = toJson(must(setupOf(*project))), undoable = must(project->log().undoable(who_.person));
    const std::size_t lines = must(project->log().last(1000)).size();
    Setup wanted = must(setupOf(*project));
    wanted.disciplines[0].company = "Changed first";
    wanted.disciplines.push_back({"", "", "#000000", false, {}, {}, {}}); // refused after it
    QVERIFY(!changeSetup(*project, wanted, who_));
    wanted.disciplines.back().name = wanted.disciplines[0].name;
    QVERIFY(changeSetup(*project, wanted, who_).error().message.find("Two disciplines") != std::string::npos);
    QCOMPARE(toJson(must(setupOf(*project))), before);
    QCOMPARE(must(project->log().undoable(who_.person)), undoable);
    QCOMPARE(must(project->log().last(1000)).size(), lines);
    QVERIFY(project->setup().setPersonGroup({"Works again", {"Jon Alder"}}, who_).has_value());
    QVERIFY(project->undo(who_).has_value());
    QCOMPARE(toJson(must(setupOf(*project))), before);
}

void TestSetup::looksInside()
{
    auto project = makeDemoProject(data(), (scratch_->path() + "/p").toStdString(), progress_).value();
    QVERIFY(receiveDemoCycle(*project, data(), 2, progress_).has_value() &&
            receiveDemoCycle(*project, data(), 3, progress_).has_value());
    const auto find = [&](const std::string& discipline, const std::string& revision) {
        for (const Delivery& d : must(project->deliveries().all()))
            if (d.discipline == discipline && d.revision == revision)
                return d;
        return Delivery{};
    };
    const Workspace have = load(must(orderOf(*project)), {}, progress_).value();
    const std::size_t lines = must(project->log().last(1000)).size();
    QVERIFY(project->deliveries().decline(find("Electrical", "P02").id, "unit", "", who_).has_value());
    const Inside inside =
        prepareInside(must(insideOrderOf(*project, find("Electrical", "P03"), "")), have, progress_).value();
    QCOMPARE(inside.against->revision, std::string("P01")); // P02 was declined
    QCOMPARE(inside.alone.members.size(), std::size_t{1});
    QCOMPARE(inside.within.members.size(), std::size_t{6});
    QVERIFY(inside.within.holds(inside.delivery.id) && !have.holds(inside.delivery.id));
    const auto truth = test::truth()["laterChanges"]["Electrical"];
    const auto count = [&](unsigned kind) {
        return static_cast<std::size_t>(std::count_if(inside.changes.begin(), inside.changes.end(),
                                                      [&](const auto& c) { return (c.kinds & kind) != 0; }));
    };
    QCOMPARE(count(Added), truth["added"].size());
    QCOMPARE(count(Moved), truth["moved"].size());
    QCOMPARE(inside.changes.size(), truth["added"].size() + truth["moved"].size());
    for (const ChangeRecord& c : inside.changes)
        if ((c.kinds & Moved) != 0)
            QVERIFY(std::abs(c.shift.x - truth["moved"][0]["shift"][0].get<double>()) < 1e-6 &&
                    std::abs(c.shift.y - truth["moved"][0]["shift"][1].get<double>()) < 1e-6);
    QCOMPARE(must(project->log().last(1000)).size(), lines + 1); // looking changes nothing; the decline did
    const Inside piping =
        prepareInside(must(insideOrderOf(*project, find("Piping", "P02"), "Services only")), have, progress_).value();
    QCOMPARE(piping.quality.size(), std::size_t{2});
    QCOMPARE(piping.within.members.size(), std::size_t{4});
    QCOMPARE(piping.changes.size(), test::truth()["laterChanges"]["Piping"]["removed"].size() +
                                        test::truth()["laterChanges"]["Piping"]["moved"].size());
    // The report alone says the same.
    const auto quality =
        prepareQuality(must(insideOrderOf(*project, find("Piping", "P02"), "Services only")), {}, progress_).value();
    QCOMPARE(checks::toCsv(reportOf(*project, piping.delivery, quality, who_)),
             checks::toCsv(reportOf(*project, piping.delivery, piping.quality, who_)));
    Progress cancelled;
    cancelled.cancel();
    QVERIFY(!prepareInside(must(insideOrderOf(*project, find("Structure", "P02"), "")), {}, cancelled).has_value());
}

void TestSetup::findsTheFaultsOfTheDemo_data()
{
    QTest::addColumn<QString>("discipline");
    QTest::addColumn<QString>("revision");
    const auto demo = nlohmann::json::parse(readFileWhole(data() / "demo.json").value());
    for (const auto& d : demo["deliveries"])
        QTest::addRow("%s %s", d["discipline"].get<std::string>().c_str(), d["revision"].get<std::string>().c_str())
            << QString::fromStdString(d["discipline"]) << QString::fromStdString(d["revision"]);
}

/// Every fault of the truth is found, at the elements it was made at, and none that it does not know.
void TestSetup::findsTheFaultsOfTheDemo()
{
    QFETCH(QString, discipline);
    QFETCH(QString, revision);
    auto project = makeDemoProject(data(), (scratch_->path() + "/p").toStdString(), progress_).value();
    QVERIFY(receiveDemoCycle(*project, data(), 2, progress_).has_value() &&
            receiveDemoCycle(*project, data(), 3, progress_).has_value() &&
            receiveDemoCycle(*project, data(), 4, progress_).has_value());
    Delivery wanted;
    for (const Delivery& d : must(project->deliveries().all()))
        if (d.discipline == discipline.toStdString() && d.revision == revision.toStdString())
            wanted = d;
    const Inside inside = prepareInside(must(insideOrderOf(*project, wanted, "")), {}, progress_).value();
    const auto truth = test::truth();
    for (const checks::ModelReport& model : inside.quality) {
        const nlohmann::json& expected = truth["quality"][model.fileName];
        for (const auto& fault : expected) {
            std::set<std::string> guids, found;
            for (const auto& guid : fault["guids"])
                guids.insert(guid.get<std::string>());
            const auto same = std::find_if(
                model.quality.findings.begin(), model.quality.findings.end(), [&](const checks::Finding& f) {
                    return fault["code"] == f.code && f.title.starts_with(fault["title"].get<std::string>());
                });
            QVERIFY2(same != model.quality.findings.end(),
                     (model.fileName + ": " + fault["title"].get<std::string>()).c_str());
            for (const checks::Concerned& c : same->concerned)
                found.insert(c.guid);
            QVERIFY2(guids.empty() || found == guids,
                     (model.fileName + ": " + fault["title"].get<std::string>()).c_str());
        }
        QCOMPARE(model.quality.findings.size(), expected.size()); // and nothing the truth does not know
        const bool isInWrongUnit =
            std::any_of(model.quality.findings.begin(), model.quality.findings.end(),
                        [](const auto& f) { return f.code == "units.size" && f.severity == Severity::Error; });
        QCOMPARE(isInWrongUnit, truth["decline"][0] == wanted.discipline && truth["decline"][1] == wanted.revision);
        const nlohmann::json asked = truth["specifications"].value(model.fileName, nlohmann::json::object());
        for (const auto& [identifier, failed] : asked.items()) {
            bool isThere = false;
            for (const auto& s : model.quality.ids.at(0).specifications)
                if (s.identifier == identifier) {
                    isThere = true;
                    QCOMPARE(s.failed.size(), failed.get<std::size_t>());
                    QVERIFY(s.applicable > 0 &&
                            s.verdict == (failed == 0 ? checks::Verdict::Met : checks::Verdict::Unmet));
                }
            QVERIFY2(isThere, identifier.c_str());
        }
    }
}

void TestSetup::reportsAreEscaped()
{
    checks::DeliveryReport report{"<Store>", "Structure P02", "a & b", "x\"y", "2026-11-16T17:42:00Z", who_, {}};
    checks::Finding finding{Severity::Error,
                            "guid.twice",
                            "GlobalIds <twice>",
                            "Do, \"so\"",
                            2,
                            {{7, "IfcWall", "=HYPERLINK(1)", "0abc", "line\nbreak"}, {8, "IfcDoor", "", "", ""}}};
    checks::ModelReport model;
    model.fileName = "m<o>del.ifc";
    model.quality.findings = {finding, {Severity::Note, "x", "Nothing concerned", "-", 1, {}}};
    checks::QualityReport::OfIds ids;
    ids.title = "My <IDS>";
    ids.specifications.push_back(
        {"S<1>", "ID-1", "", "", checks::Verdict::Unmet, 3, {{9, "IfcWall", "W", "g", "w"}}, ""});
    model.quality.ids.push_back(ids);
    report.models.push_back(model);
    const std::string html = checks::toHtml(report);
    QVERIFY(html.find("<twice>") == std::string::npos && html.find("GlobalIds &lt;twice&gt;") != std::string::npos &&
            html.find("m&lt;o&gt;del") != std::string::npos);
    QVERIFY(html.find("not met: S&lt;1&gt;") != std::string::npos && html.find("#8") != std::string::npos &&
            html.find("Ines Varga") != std::string::npos);
    const std::string csv = checks::toCsv(report);
    QVERIFY(csv.starts_with("\xEF\xBB\xBFModel,Severity,Code,"));
    QVERIFY(csv.find("\"Do, \"\"so\"\"\"") != std::string::npos);
    QVERIFY(csv.find(",'=HYPERLINK(1),") != std::string::npos &&
            csv.find(",=HYPERLINK") == std::string::npos); // no formula for a spreadsheet
    QVERIFY(csv.find("\"line\nbreak\"") != std::string::npos);
    QVERIFY(csv.find("note,x,Nothing concerned,") != std::string::npos &&
            csv.find("not met,ID-1,S<1>") != std::string::npos);
}

QTEST_APPLESS_MAIN(TestSetup)
#include "test_setup.moc"
