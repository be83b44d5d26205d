#include <QTest>

#include "core/base/file.h"
#include "core/project/demo_project.h"
#include "core/project/proposal.h"
#include "core/project/taking_in.h"
#include "core/project/workspace.h"
#include "support/deliveries.h"
#include "support/demo.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <fstream>

using namespace wendrix;
using namespace wendrix::project;
using test::delivery;
using test::must;

/// Deliveries as the project keeps them: received, described, held, several models in one, what was in use when; and
/// what is proposed of a file.
class TestDeliveries : public QObject {
    Q_OBJECT
private slots:
    void init();
    void holdsUntilADayOrReleased();
    void knowsTheCompositionOfEachCycle();
    void keepsDocumentsAndSpecifications();
    void noticesTheSameContentAndRevision();
    void isDescribedAndDeclinedWithAReport();
    void tellsTheHistoryOfADelivery();
    void severalModelsAreOneDelivery();
    void comparesModelByModel();
    void leavesClassesOut();
    void readsRevisions_data();
    void readsRevisions();
    void proposesTheNextRevision_data();
    void proposesTheNextRevision();
    void proposesWhatTheFileSays_data();
    void proposesWhatTheFileSays();
    void readsTheHeaderOnly();

private:
    [[nodiscard]] Delivery waiting(const std::string& discipline) const;

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
    Progress progress_;
    const WhoAndWhen who_{"Ines Varga", "2026-11-18T09:00:00Z"};
};

namespace {

std::string data() { return test::demoFolder() + "/data"; }

} // namespace

void TestDeliveries::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = makeDemoProject(data(), (folder_->path() + "/project").toStdString(), progress_).value();
}

Delivery TestDeliveries::waiting(const std::string& discipline) const
{
    for (const Delivery& d : must(project_->deliveries().all()))
        if (d.discipline == discipline && d.state == DeliveryState::Waiting)
            return d;
    return {};
}

void TestDeliveries::holdsUntilADayOrReleased()
{
    const auto state = [&] { return must(project_->deliveries().inUse("Structure"))->state; };
    QVERIFY(!project_->deliveries().hold({"Landscape", "", "", {}}, who_));           // nothing of it is in use
    QVERIFY(!project_->deliveries().hold({"Structure", "2026-11-17", "", {}}, who_)); // over already
    QVERIFY(project_->deliveries().hold({"Structure", "2099-11-28", "for the tender", {}}, who_).has_value());
    QVERIFY(state() == DeliveryState::Held);
    QCOMPARE(must(project_->deliveries().inUse("Structure"))->heldUntil, std::string("2099-11-28"));
    QVERIFY(must(project_->deliveries().hold("Structure", "2099-11-28T23:00:00Z")).has_value()); // its last day counts
    QVERIFY(!must(project_->deliveries().hold("Structure", "2099-11-29T00:00:00Z")));
    QVERIFY(!must(project_->deliveries().hold("Ventilation", who_.time)));
    QVERIFY(receiveDemoCycle(*project_, data(), 2, progress_).has_value());
    QCOMPARE(must(project_->deliveries().waitingBehind("Structure")), std::size_t{1});
    QVERIFY(project_->deliveries().release("Structure", who_).has_value() && state() == DeliveryState::InUse);
    QVERIFY(!project_->deliveries().release("Structure", who_));
    QVERIFY(project_->undo(who_).has_value() && state() == DeliveryState::Held);
    QVERIFY(project_->deliveries()
                .hold({"Structure", "", "until the meeting", {}}, who_)
                .has_value()); // another word for it
    QVERIFY(must(project_->deliveries().hold("Structure", "2150-01-01T00:00:00Z")).has_value());
    QVERIFY(project_->undo(who_).has_value());
    QCOMPARE(must(project_->deliveries().hold("Structure", who_.time))->until, std::string("2099-11-28"));
    // Taking in the next one ends the hold, and undoing that brings it back.
    for (const Delivery& d : must(project_->deliveries().all()))
        if (d.state == DeliveryState::Waiting && d.discipline == "Structure")
            QVERIFY(takeIn(*project_, {d.id, {}, {}}, who_).has_value());
    QVERIFY(state() == DeliveryState::InUse && must(project_->deliveries().inUse("Structure"))->revision == "P02");
    QVERIFY(project_->undo(who_).has_value() && state() == DeliveryState::Held &&
            must(project_->deliveries().inUse("Structure"))->revision == "P01");
}

void TestDeliveries::knowsTheCompositionOfEachCycle()
{
    const auto first = must(project_->deliveries().compositionOf(1));
    QCOMPARE(first.size(), std::size_t{5});
    QVERIFY(must(project_->deliveries().compositionOf(0)).empty());
    QVERIFY(receiveDemoCycle(*project_, data(), 2, progress_).has_value());
    for (const Delivery& d : must(project_->deliveries().all()))
        if (d.state == DeliveryState::Waiting && d.discipline != "Electrical")
            QVERIFY(takeIn(*project_, {d.id, {}, {}}, who_).has_value());
    QCOMPARE(must(project_->deliveries().compositionOf(1)), first); // what was, stays
    const auto second = must(project_->deliveries().compositionOf(2));
    QCOMPARE(second.at("Architecture"), first.at("Architecture"));
    QVERIFY(second.at("Structure") != first.at("Structure") && second.at("Ventilation") != first.at("Ventilation"));
    QCOMPARE(must(project_->deliveries().compositionOf(9)), second);
    QVERIFY(project_->undo(who_).has_value());
    QVERIFY(must(project_->deliveries().compositionOf(2)).at("Structure") == first.at("Structure") ||
            must(project_->deliveries().compositionOf(2)).at("Ventilation") == first.at("Ventilation"));
}

void TestDeliveries::keepsDocumentsAndSpecifications()
{
    const std::filesystem::path scratch = folder_->path().toStdString();
    NewDelivery d;
    d.discipline = "Structure";
    d.revision = "P09";
    d.suitability = "S3";
    d.note = "Holes moved";
    d.time = "2026-12-01T08:00:00Z";
    d.models = {{scratch / "model.ifc", {}, {}, 0}};
    d.documents = {scratch / "plan.pdf", scratch / "none.pdf"};
    for (const char* name : {"model.ifc", "plan.pdf"})
        std::ofstream(scratch / name) << name;
    QVERIFY(!project_->deliveries().add(d, who_)); // a document is missing: nothing is received
    d.documents.pop_back();
    const DeliveryId id = project_->deliveries().add(d, who_).value();
    const Delivery back = *must(project_->deliveries().find(id));
    QVERIFY(back.suitability == "S3" && back.note == "Holes moved" && back.documents == 1 &&
            back.state == DeliveryState::Waiting);
    QCOMPARE(must(project_->deliveries().documentsOf(id)).at(0).fileName, std::string("plan.pdf"));
    QVERIFY(readFileWhole(project_->deliveries().fileOf(must(project_->deliveries().documentsOf(id))[0])) ==
            "plan.pdf");
    // An element's history goes back through a renewed id, newest first, and holds nobody else's.
    const DisciplineId structure = must(project_->setup().disciplines())[1].id;
    QCOMPARE(must(project_->setup().disciplines())[1].name, std::string("Structure"));
    const DeliveryId used = must(project_->deliveries().inUse("Structure"))->id;
    const auto ref = [&](const char* guid) { return ElementRef{structure, "", guid, 0}; };
    const auto comparison = [&](DeliveryId from, DeliveryId to, std::vector<ChangeRecord> changes) {
        NewComparison n;
        n.discipline = structure;
        n.record.from = from;
        n.record.to = to;
        n.changes = std::move(changes);
        return n;
    };
    ChangeRecord moved, renewed, other;
    moved.element = ref("old"), moved.kinds = Moved;
    renewed.element = ref("new"), renewed.continues = ref("old"), renewed.kinds = Rekeyed;
    other.element = ref("other"), other.kinds = Added;
    QVERIFY(takeIn(*project_, {used, comparison(1, used, {moved}), {}}, who_).has_value());
    NewComparison second = comparison(used, id, {renewed, other});
    second.continuations = {{ref("new"), ref("old")}};
    QVERIFY(takeIn(*project_, {id, second, {}}, who_).has_value());
    const auto changes = must(project_->changes().historyOf(ref("new")));
    QCOMPARE(changes.size(), std::size_t{2});
    QVERIFY(changes[0].kinds == Rekeyed && changes[1].kinds == Moved && changes[1].to == used);
    QVERIFY(changes[0].discipline == "Structure");
    QVERIFY(must(project_->changes().historyOf({structure + 1, "", "new", 0})).empty());
    // Looking at it is recorded once and is no step of undo.
    const std::string undoable = must(project_->log().undoable(who_.person));
    QVERIFY(project_->deliveries().lookedAt(id, who_).has_value() &&
            project_->deliveries().lookedAt(id, {"Jon Alder", "2026-12-02T08:00:00Z"}).has_value());
    QCOMPARE(must(project_->deliveries().find(id))->lookedAt.person, std::string("Ines Varga"));
    QCOMPARE(must(project_->log().undoable(who_.person)), undoable);
    QVERIFY(must(project_->log().last(1))[0].what.starts_with("Looked into: Structure P09"));

    QVERIFY(project_->setup().setSpecification("fire.ids", "<ids/>", who_).has_value());
    QVERIFY(project_->setup().setSpecification("fire.ids", "<ids>2</ids>", who_).has_value());
    QCOMPARE(must(project_->setup().specifications()).size(), std::size_t{2}); // the demo brings one
    QCOMPARE(must(project_->setup().specifications())[0].second, std::string("<ids>2</ids>"));
    QVERIFY(project_->setup().setSpecification("fire.ids", "", who_).has_value() &&
            must(project_->setup().specifications()).size() == 1);
    QVERIFY(project_->undo(who_).has_value());
    QCOMPARE(must(project_->setup().specifications()).size(), std::size_t{2});
}

void TestDeliveries::noticesTheSameContentAndRevision()
{
    const std::filesystem::path scratch = folder_->path().toStdString();
    NewDelivery d;
    d.discipline = "Structure";
    d.revision = "P07";
    QVERIFY(project_->deliveries().add(d, who_).error().code == kUnknown); // nothing in it
    // The same bytes under another name are the same content, also where they are not the first model.
    std::filesystem::copy_file(data() + "/MSS-OPW-PIP-sprinklers-P01.ifc", scratch / "renamed.ifc");
    std::ofstream(scratch / "other.ifc") << "other";
    d.models = {{scratch / "other.ifc", {}, {}, 1}, {scratch / "renamed.ifc", {}, {}, 1}};
    const auto same = project_->deliveries().add(d, who_);
    QVERIFY(!same && same.error().code == kSameDelivery);
    QVERIFY(same.error().message.find("Piping P01") != std::string::npos &&
            same.error().file == (scratch / "renamed.ifc").string());
    std::filesystem::copy_file(scratch / "other.ifc", scratch / "copy.ifc");
    d.models[1].file = scratch / "copy.ifc";
    QVERIFY(project_->deliveries().add(d, who_).error().code == kSameDelivery); // twice in one delivery
    d.models.pop_back();
    d.revision = "P01";
    QVERIFY(project_->deliveries().add(d, who_).error().code == kSameRevision);
    d.revision = "P07";
    QVERIFY(project_->deliveries().add(d, who_).has_value());
}

void TestDeliveries::isDescribedAndDeclinedWithAReport()
{
    QVERIFY(receiveDemoCycle(*project_, data(), 2, progress_).has_value());
    const Delivery d = waiting("Electrical");
    QVERIFY(project_->deliveries()
                .describe(d.id, {"Wrong unit", "Pellwick", "S2", "asked for a new one"}, who_)
                .has_value());
    QVERIFY(must(project_->deliveries().find(d.id))->title == "Wrong unit" &&
            must(project_->deliveries().find(d.id))->suitability == "S2");
    QVERIFY(project_->undo(who_).has_value());
    QCOMPARE(must(project_->deliveries().find(d.id))->title, d.title);
    QVERIFY(!project_->deliveries().decline(must(project_->deliveries().inUse("Electrical"))->id, "no", "",
                                            who_)); // what is in use is not declined
    QVERIFY(project_->deliveries()
                .decline(d.id, "in metres, drawn in millimetres", "<html>report</html>", who_)
                .has_value());
    QVERIFY(must(project_->deliveries().find(d.id))->state == DeliveryState::Declined);
    const auto documents = must(project_->deliveries().documentsOf(d.id));
    QCOMPARE(documents.size(), std::size_t{1});
    QCOMPARE(documents[0].fileName, std::string("Quality report Electrical P02.html"));
    QVERIFY(readFileWhole(project_->deliveries().fileOf(documents[0])) == "<html>report</html>");
    QVERIFY(must(project_->log().last(1))[0].what.find("in metres") != std::string::npos &&
            must(project_->log().last(1))[0].by.person == "Ines Varga");
    QVERIFY(project_->undo(who_).has_value());
    QVERIFY(must(project_->deliveries().find(d.id))->state == DeliveryState::Waiting &&
            must(project_->deliveries().documentsOf(d.id)).empty());
}

void TestDeliveries::tellsTheHistoryOfADelivery()
{
    QVERIFY(receiveDemoCycle(*project_, data(), 2, progress_).has_value());
    Delivery structure;
    for (const Delivery& d : must(project_->deliveries().all()))
        if (d.name() == "Structure P02")
            structure = d;
    QVERIFY(structure.id != 0);
    const WhoAndWhen later{"Jon Alder", "2026-11-19T10:00:00Z"};
    QVERIFY(project_->deliveries().decline(structure.id, "first: see Structure P02, P03", "", who_).has_value());
    QVERIFY(project_->undo(who_).has_value());
    QVERIFY(takeIn(*project_, {structure.id, {}, {}}, later).has_value());
    QVERIFY(project_->deliveries().hold({"Structure", "2099-01-01", "", {}}, later).has_value());
    QVERIFY(project_->deliveries().release("Structure", later).has_value());
    // Others whose names begin alike, or whose reason speaks of it, are not its.
    for (const Delivery& d : must(project_->deliveries().all()))
        if (d.name() == "Ventilation P02")
            QVERIFY(project_->deliveries().decline(d.id, "wait for Structure P02", "", later).has_value());
    NewDelivery longer;
    longer.discipline = "Structure";
    std::ofstream((folder_->path() + "/x.ifc").toStdString()) << "x";
    longer.models = {{(folder_->path() + "/x.ifc").toStdString(), {}, "IFC4", 1}};
    longer.revision = "P02.01";
    QVERIFY(project_->deliveries().add(longer, who_).has_value());
    std::vector<std::string> lines;
    for (const HistoryLine& line : must(project_->log().of(DeliveriesBook::subjectOf(structure.id))))
        lines.push_back(line.what);
    QCOMPARE(lines, (std::vector<std::string>{
                        "Released: Structure P02", "Held: Structure P02 until 2099-01-01", "Taken in: Structure P02",
                        "Undone: Declined: Structure P02, first: see Structure P02, P03",
                        "Declined: Structure P02, first: see Structure P02, P03", "Delivery received: Structure P02"}));
    QVERIFY(must(project_->log().of(DeliveriesBook::subjectOf(structure.id)))[2].by.person == "Jon Alder" &&
            must(project_->log().of(DeliveriesBook::subjectOf(structure.id)))[2].by.time == later.time);
}

void TestDeliveries::severalModelsAreOneDelivery()
{
    const Delivery piping = *must(project_->deliveries().inUse("Piping"));
    const auto models = piping.models();
    QCOMPARE(models.size(), std::size_t{2});
    QCOMPARE(models[0].elements + models[1].elements, piping.elements);
    QVERIFY(models[0].elements > 0 && models[1].elements > 0 &&
            std::filesystem::exists(project_->deliveries().fileOf(models[1])));
    const WorkspaceOrder order = must(orderOf(*project_));
    QCOMPARE(order.items.size(), std::size_t{6}); // five teams
    const Workspace workspace = load(order, {}, progress_).value();
    const auto parts = workspace.allOf("Piping");
    QCOMPARE(parts.size(), std::size_t{2});
    QCOMPARE(workspace.members[parts[0]].part, std::string("MSS-OPW-PIP-heating"));
    QCOMPARE(workspace.members[parts[1]].title(), std::string("Piping P01 MSS-OPW-PIP-sprinklers"));
    QVERIFY(workspace.members[workspace.allOf("Structure")[0]].part.empty());
    QCOMPARE(workspace.members[parts[0]].model->elements().size(), models[0].elements);
    // A fit is that of the whole delivery.
    StoredFit fit;
    fit.fit.translation = {1, 2, 3};
    fit.isAccepted = true; // it is off its place, and a person says that it is to be tested there
    QVERIFY(project_->coordinates().setFit("Piping", fit, who_).has_value());
    for (const auto& item : WorkspaceOrder(must(orderOf(*project_))).items)
        QCOMPARE(item.fit.fit.translation.x, item.delivery.discipline == "Piping" ? 1.0 : 0.0);
    // A test has all models of a side.
    clash::TestSheet sheet;
    sheet.name = "Services";
    sheet.tests = {test::testOf("Piping", "Electrical").test};
    QVERIFY(project_->clashes().keepSheet(sheet, "Test added", who_).has_value());
    const WorkspaceOrder fitted = must(orderOf(*project_));
    QVERIFY(runTests(workspace, fitted, progress_).error().code == kCompositionChanged); // they stand elsewhere by now
    Workspace moved = workspace;
    refit(moved, fitted);
    const NewRun run = runTests(moved, fitted, progress_).value();
    QVERIFY(std::any_of(run.tests.begin(), run.tests.end(),
                        [](const RunTest& t) { return t.test.name == "Piping × Electrical" && t.pairsTested > 0; }));
}

void TestDeliveries::comparesModelByModel()
{
    const auto member = [&](const char* file, const char* part) {
        auto m = federation::openMember(data() + "/" + file, progress_).value();
        m.discipline = "Piping";
        m.part = part;
        return m;
    };
    const auto truth = test::truth()["laterChanges"]["Piping"];
    const std::vector<federation::Member> before{member("MSS-OPW-PIP-heating-P01.ifc", "heating"),
                                                 member("MSS-OPW-PIP-sprinklers-P01.ifc", "sprinklers")};
    std::vector<federation::Member> after{member("MSS-OPW-PIP-sprinklers-P02.ifc", "sprinklers"),
                                          member("MSS-OPW-PIP-heating-P02.ifc", "heating")};
    const auto count = [](const std::vector<ChangeRecord>& all, unsigned kind) {
        return static_cast<std::size_t>(
            std::count_if(all.begin(), all.end(), [&](const ChangeRecord& r) { return (r.kinds & kind) != 0; }));
    };
    const auto changes = compareDeliveries(before, after, {1, 2, {}, {}}, progress_).value().changes;
    QCOMPARE(count(changes, Added), std::size_t{0});
    QCOMPARE(count(changes, Removed), truth["removed"].size());
    QCOMPARE(count(changes, Moved), truth["moved"].size());
    for (const ChangeRecord& r : changes)
        if ((r.kinds & Moved) != 0)
            QVERIFY(length(r.shift - Vector3{0, 0, 0.150}) < 1e-6 && (r.kinds & (Reshaped | Redescribed)) == 0);
    // All handed over to a model of another name, beside an empty one: not added, not removed, but said.
    const std::vector<federation::Member> one{before[0]};
    after = {before[1], before[0]};
    after[1].part = "all heating";
    after[0].part = "heating";
    const NewComparison comparison = compareDeliveries(one, after, {1, 2, {}, {}}, progress_).value();
    const std::vector<ChangeRecord>& handed = comparison.changes;
    QCOMPARE(count(handed, Removed), std::size_t{0});
    QCOMPARE(count(handed, Added), before[1].model->elements().size());
    QCOMPARE(count(handed, Redescribed), before[0].model->elements().size());
    for (const ChangeRecord& r : handed)
        if (r.kinds == Redescribed)
            QVERIFY(r.fields.size() == 1 && r.fields[0].name == "Model" && r.fields[0].after == "all heating");
    // Each goes on under the name it has now, so that what was said of it stays with it; but for those whose GlobalId
    // both models have, which are still where they were.
    const auto& elements = before[0].model->elements();
    const auto shared = std::count_if(elements.begin(), elements.end(),
                                      [&](const ifc::Element& e) { return before[1].model->find(e.guid).has_value(); });
    QVERIFY(shared > 0);
    QCOMPARE(comparison.continuations.size(), elements.size() - static_cast<std::size_t>(shared));
    QVERIFY(comparison.continuations[0].element.part == "all heating" &&
            comparison.continuations[0].before.part == "heating");
}

void TestDeliveries::leavesClassesOut()
{
    const Workspace all = load(must(orderOf(*project_)), {}, progress_).value();
    const auto countOf = [](const Workspace& w, const char* name) {
        std::size_t n = 0;
        for (const std::uint32_t m : w.allOf("Electrical"))
            for (const ifc::Element& e : w.members[m].model->elements())
                n += w.members[m].model->className(e) == name ? 1 : 0;
        return n;
    };
    QVERIFY(countOf(all, "IfcLightFixture") > 300 && countOf(all, "IfcOutlet") > 0);
    Discipline electrical = must(project_->setup().disciplines())[4];
    QCOMPARE(electrical.name, std::string("Electrical"));
    electrical.leftOut = {"IfcFlowTerminal"}; // luminaires and outlets are subclasses of it
    QVERIFY(project_->setup().setDiscipline(electrical, who_).has_value());
    QVERIFY(must(project_->log().last(1))[0].what.find("IfcFlowTerminal") != std::string::npos);
    // What is loaded with other classes is not taken for it; the cache keeps both apart.
    for (int round = 0; round < 2; ++round) {
        const Workspace less = load(must(orderOf(*project_)), all, progress_).value();
        QCOMPARE(countOf(less, "IfcLightFixture") + countOf(less, "IfcOutlet"), std::size_t{0});
        QCOMPARE(countOf(less, "IfcCableCarrierSegment"), countOf(all, "IfcCableCarrierSegment"));
    }
    QVERIFY(project_->undo(who_).has_value());
    QCOMPARE(countOf(load(must(orderOf(*project_)), {}, progress_).value(), "IfcOutlet"), countOf(all, "IfcOutlet"));
}

void TestDeliveries::readsRevisions_data()
{
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("revision");
    QTest::addColumn<QString>("suitability");
    QTest::addColumn<QString>("part");
    // clang-format off
    QTest::newRow("at the end") << "MSS-QMA-ARC-P03.ifc" << "P03" << "" << "MSS-QMA-ARC";
    QTest::newRow("all fields") << "MSS-QMA-ZZ-XX-M3-A-0001-S3-P02.ifc" << "P02" << "S3" << "MSS-QMA-ZZ-XX-M3-A-0001-S3";
    QTest::newRow("with a step of its own") << "MSS_TBF_STR_P02.01.ifc" << "P02.01" << "" << "MSS-TBF-STR";
    QTest::newRow("contractual, lower case") << "str c01 final.ifczip" << "C01" << "" << "str-final";
    QTest::newRow("the last one counts") << "P01-to-P02.ifc" << "P02" << "" << "to";
    QTest::newRow("none") << "model.ifc" << "" << "" << "model";
    QTest::newRow("not every P is one") << "P1-Plan P007 PX2.ifc" << "" << "" << "P1-Plan-P007-PX2";
    QTest::newRow("a project that looks like a code") << "S4-ARC-P01.ifc" << "P01" << "" << "S4-ARC";
    QTest::newRow("as built") << "MSS-ARC-CR-C03.ifc" << "C03" << "CR" << "MSS-ARC-CR";
    QTest::newRow("nothing but a revision") << "P05.ifc" << "P05" << "" << "P05";
    // clang-format on
}

void TestDeliveries::readsRevisions()
{
    QFETCH(QString, name);
    QTEST(QString::fromStdString(revisionIn(name.toStdString())), "revision");
    QTEST(QString::fromStdString(suitabilityIn(name.toStdString())), "suitability");
    QTEST(QString::fromStdString(partName(name.toStdString(), revisionIn(name.toStdString()))), "part");
}

void TestDeliveries::proposesTheNextRevision_data()
{
    QTest::addColumn<QString>("there");
    QTest::addColumn<QString>("next");
    // clang-format off
    QTest::newRow("the first") << "" << "P01";
    QTest::newRow("after the highest, not the latest") << "P03 P01 P02" << "P04";
    QTest::newRow("over ten") << "P09" << "P10";
    QTest::newRow("contractual goes on") << "P07 C01" << "C02";
    QTest::newRow("a step counts as its revision") << "P02.03" << "P03";
    QTest::newRow("others' ways of counting") << "A B final" << "P01";
    // clang-format on
}

void TestDeliveries::proposesTheNextRevision()
{
    QFETCH(QString, there);
    std::vector<Delivery> deliveries{delivery(90, "Structure", "P88")};
    for (const QString& revision : there.split(' ', Qt::SkipEmptyParts))
        deliveries.push_back(delivery(static_cast<DeliveryId>(deliveries.size()), "Piping", revision.toStdString()));
    QTEST(QString::fromStdString(nextRevision("Piping", deliveries)), "next");
}

void TestDeliveries::proposesWhatTheFileSays_data()
{
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("organisation");
    QTest::addColumn<QString>("discipline");
    QTest::addColumn<QString>("revision");
    QTest::addColumn<QString>("why");
    // clang-format off
    QTest::newRow("named as before") << "MSS-XX-Str-P02.ifc" << "" << "Structure" << "P02" << "named like it";
    QTest::newRow("named as before, same revision, other content") << "MSS-XX-Str-P01.ifc" << "" << "Structure" << "P02" << "there with other content";
    QTest::newRow("a role code") << "JOB-E-0001-P04.ifc" << "" << "Electrical" << "P04" << "name says Electrical";
    QTest::newRow("a word") << "piping_levels.ifc" << "" << "Piping" << "P01" << "next revision";
    QTest::newRow("the header") << "export.ifc" << "VELLOWIND Ltd" << "Ventilation" << "P01" << "header says";
    QTest::newRow("the name it was written under") << "export.ifc" << "|MSS-E-0001-S3-P07.ifc" << "Electrical" << "P07" << "header says P07";
    QTest::newRow("its own name goes before the header's") << "structure-P04.ifc" << "|MSS-E-0001-P07.ifc" << "Structure" << "P04" << "name says P04";
    QTest::newRow("nothing") << "export.ifc" << "Somebody" << "" << "P01" << "Nothing says";
    // clang-format on
}

void TestDeliveries::proposesWhatTheFileSays()
{
    QFETCH(QString, name);
    QFETCH(QString, organisation);
    const std::vector<Delivery> there{delivery(1, "Structure", "P01"), delivery(2, "Architecture", "P01")};
    FileSigns signs;
    signs.fileName = name.toStdString();
    (organisation.startsWith('|') ? signs.headerName : signs.organisation) =
        organisation.mid(organisation.startsWith('|') ? 1 : 0).toStdString();
    const Proposal p = proposeDelivery(signs, must(project_->setup().disciplines()), there);
    QTEST(QString::fromStdString(p.discipline), "discipline");
    QTEST(QString::fromStdString(p.revision), "revision");
    QFETCH(QString, why);
    QVERIFY2(p.why.find(why.toStdString()) != std::string::npos, p.why.c_str());
}

void TestDeliveries::readsTheHeaderOnly()
{
    const auto signs = signsOf(data() + "/MSS-PWE-ELE-P01.ifc").value();
    QCOMPARE(signs.organisation, std::string("Pellwick Electric"));
    QCOMPARE(signs.author, std::string("Sample Modeller"));
    QVERIFY(signs.timeStamp.starts_with("2026-10-14") && signs.application == "Marrowfield sample generator");
    // What is no model says nothing and is no error: reading it is what refuses it.
    const std::filesystem::path file = (folder_->path() + "/plan.ifc").toStdString();
    for (const std::string& bytes : {std::string("%PDF"), std::string("ISO-10303-21;HEADER;"),
                                     std::string(200'000, 'x'), std::string("PK\x03\x04")}) {
        std::ofstream(file, std::ios::binary) << bytes;
        QVERIFY(signsOf(file).value().organisation.empty());
    }
    QVERIFY(!signsOf(folder_->path().toStdString() + "/none.ifc"));
}

QTEST_APPLESS_MAIN(TestDeliveries)
#include "test_deliveries.moc"
