#include <QTest>

#include "core/base/file.h"
#include "core/base/hash.h"
#include "core/base/hashed_copy.h"
#include "core/project/demo_project.h"
#include "core/project/receiving.h"
#include "support/demo.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <chrono>
#include <fstream>

using namespace wendrix;
using namespace wendrix::project;
using test::must;

/// From files that lie somewhere to deliveries that wait in the register.
class TestArriving : public QObject {
    Q_OBJECT
private slots:
    void init();
    void filesArriveInDropFolders();
    void whatIsStillWrittenWaits();
    void aFolderSaysWhoseItIs();
    void chosenFilesAreDraftedByTeamAndRevision();
    void whatIsKnownIsLeftOut();
    void whatIsReceivedIsReadFromTheCopy();
    void whatCanNotBeReadLeavesNothing_data();
    void whatCanNotBeReadLeavesNothing();

private:
    [[nodiscard]] std::filesystem::path at(const std::string& name) const
    {
        return std::filesystem::path(scratch_->path().toStdString()) / name;
    }
    [[nodiscard]] std::unique_ptr<Project> demo() { return makeDemoProject(data(), at("project"), progress_).value(); }
    [[nodiscard]] static std::filesystem::path data() { return test::demoFolder() + "/data"; }
    /// A model of the demo under another name, with other bytes.
    std::filesystem::path another(const std::string& demoFile, const std::string& name);

    std::unique_ptr<QTemporaryDir> scratch_;
    /// Keeps a delivery through a connection of its own.
    [[nodiscard]] std::function<Result<DeliveryId>(const NewDelivery&)> keeper() const
    {
        return [this](const NewDelivery& delivery) {
            return Project::open(scratch_->path().toStdString() + "/project").value()->deliveries().add(delivery, who_);
        };
    }
    Progress progress_;
    const WhoAndWhen who_{"Ines Varga", "2026-11-18T09:00:00Z"};
};

namespace {

/// A file that was last changed a while ago.
void write(const std::filesystem::path& file, const std::string& bytes, int secondsAgo = 60)
{
    std::filesystem::create_directories(file.parent_path());
    std::ofstream(file, std::ios::binary) << bytes;
    std::filesystem::last_write_time(file,
                                     std::filesystem::file_time_type::clock::now() - std::chrono::seconds(secondsAgo));
}

const std::string kModel = "ISO-10303-21;HEADER;ENDSEC;DATA;ENDSEC;END-ISO-10303-21;\n";

std::size_t filesIn(const std::filesystem::path& folder)
{
    return static_cast<std::size_t>(std::distance(std::filesystem::directory_iterator(folder), {}));
}

} // namespace

void TestArriving::init() { scratch_ = std::make_unique<QTemporaryDir>(); }

std::filesystem::path TestArriving::another(const std::string& demoFile, const std::string& name)
{
    std::string bytes = readFileWhole(data() / demoFile).value();
    write(at(name), bytes.insert(bytes.find("HEADER;"), "/* " + name + " */"));
    return at(name);
}

void TestArriving::filesArriveInDropFolders()
{
    const std::filesystem::path folder = scratch_->path().toStdString();
    const std::vector<Discipline> disciplines{{"Structure", {}, {}, true, {}, "drop", {}},
                                              {"Piping", {}, {}, false, {}, (folder / "far").string(), {}},
                                              {"Civil", {}, {}, false, {}, {}, {}},
                                              {"Electrical", {}, {}, false, {}, "missing", {}}};
    QCOMPARE(dropFolderOf(disciplines[0], folder), folder / "drop");
    QVERIFY(dropFolderOf(disciplines[2], folder).empty());
    write(folder / "drop/STR-P02.ifc", kModel);
    write(folder / "drop/STR-plan-P02.pdf", "%PDF");
    write(folder / "drop/STR-P03.ifc", kModel + " ");
    write(folder / "drop/readme.txt", "x");
    write(folder / "far/week 48/heating.ifc", kModel);
    write(folder / "far/week 48/sprinklers.IFCZIP", "PK");
    write(folder / "far/week 48/plan.pdf", "%PDF");
    write(folder / "far/week 48/deeper/hidden.ifc", kModel);
    write(folder / "far/only drawings/plan.pdf", "%PDF");
    std::filesystem::create_symlink(folder / "drop/STR-P02.ifc", folder / "far/link.ifc");
    SeenFiles seen;
    const auto arrived = findArrived(disciplines, folder, seen);
    QCOMPARE(arrived.size(), std::size_t{3});
    QVERIFY(arrived[0].discipline == "Structure" && arrived[0].models.size() == 1 && arrived[0].documents.size() == 1);
    QVERIFY(arrived[1].discipline == "Structure" && arrived[1].models[0].filename() == "STR-P03.ifc" &&
            arrived[1].documents.empty());
    QVERIFY(arrived[2].discipline == "Piping" && arrived[2].models.size() == 2 &&
            arrived[2].documents.size() == 1); // a folder is one delivery
    for (const Arrived& one : arrived)
        for (const auto& model : one.models)
            seen.insert(seenFile(model));
    QVERIFY(findArrived(disciplines, folder, seen).empty());
    write(folder / "drop/STR-P03.ifc", kModel + "  ", 30); // written anew
    QCOMPARE(findArrived(disciplines, folder, seen).size(), std::size_t{1});
}

void TestArriving::whatIsStillWrittenWaits()
{
    const std::filesystem::path folder = scratch_->path().toStdString();
    const std::vector<Discipline> disciplines{{"Structure", {}, {}, true, {}, "drop", {}}};
    write(folder / "drop/STR-P02.ifc", kModel.substr(0, 30)); // without its end
    QVERIFY(findArrived(disciplines, folder, {}).empty());
    write(folder / "drop/STR-P02.ifc", kModel, 0); // a moment ago
    QVERIFY(findArrived(disciplines, folder, {}).empty());
    write(folder / "drop/STR-P02.ifc", kModel);
    QCOMPARE(findArrived(disciplines, folder, {}).size(), std::size_t{1});
    write(folder / "drop/STR-P02 more.ifc", "ISO-10303-21;"); // what belongs to it waits with it
    QVERIFY(findArrived(disciplines, folder, {}).empty());
    write(folder / "drop/STR-P02 more.ifc", "ISO-10303-21;",
          3600); // nobody writes it any more: reading will say what is wrong
    QCOMPARE(findArrived(disciplines, folder, {}).at(0).models.size(), std::size_t{2});
}

void TestArriving::aFolderSaysWhoseItIs()
{
    const auto project = demo();
    const auto disciplines = must(project->setup().disciplines());
    std::vector<Arrived> arrived;
    // Named like another team's, without any revision, and twice the same one.
    arrived.push_back({"Ventilation", {another("MSS-TBF-STR-P02.ifc", "MSS-TBF-STR-P02.ifc")}, {}});
    arrived.push_back({"Structure", {another("MSS-TBF-STR-P02.ifc", "frame.ifc")}, {at("plan.pdf")}});
    arrived.push_back({"Structure", {another("MSS-TBF-STR-P02.ifc", "MSS-TBF-STR-P02 a.ifc")}, {}});
    arrived.push_back({"Structure", {data() / "MSS-TBF-STR-P01.ifc"}, {}}); // in use already
    const auto drafts = deliveriesOf(arrived, disciplines, must(project->deliveries().all()));
    QCOMPARE(drafts.size(), std::size_t{3});
    QVERIFY(drafts[0].discipline == "Ventilation" && drafts[0].revision == "P02" && drafts[0].sender == "Vellowind");
    QVERIFY(drafts[1].discipline == "Structure" && drafts[1].revision == "P02" && drafts[1].documents.size() == 1 &&
            drafts[1].sender == "Tarnbeck Frames");
    QVERIFY2(drafts[2].revision == "P03", drafts[2].revision.c_str()); // P02 is spoken for
}

void TestArriving::chosenFilesAreDraftedByTeamAndRevision()
{
    const auto project = demo();
    for (const char* name : {"MSS-TBF-STR-plan-P07.pdf", "MSS-VLW-VEN-plan-P07.pdf", "notes.pdf"})
        write(at(name), "%PDF");
    const auto drafts = draftsOf(at("project"),
                                 {another("MSS-TBF-STR-P02.ifc", "MSS-TBF-STR-P07.ifc"),
                                  another("MSS-VLW-VEN-P02.ifc", "MSS-VLW-VEN-P07.ifc"), at("MSS-VLW-VEN-plan-P07.pdf"),
                                  at("MSS-TBF-STR-plan-P07.pdf"), at("notes.pdf")},
                                 must(project->setup().disciplines()), must(project->deliveries().all()), progress_);
    QCOMPARE(drafts.size(), std::size_t{2});
    QVERIFY(drafts[0].proposal.discipline == "Structure" && drafts[1].proposal.discipline == "Ventilation");
    const auto has = [&](const Draft& draft, const char* name) {
        return std::count(draft.documents.begin(), draft.documents.end(), at(name)) == 1;
    };
    QVERIFY(has(drafts[0], "MSS-TBF-STR-plan-P07.pdf") &&
            !has(drafts[0], "MSS-VLW-VEN-plan-P07.pdf")); // each with its own team
    QVERIFY(has(drafts[1], "MSS-VLW-VEN-plan-P07.pdf"));
    QVERIFY(has(drafts[0], "notes.pdf") != has(drafts[1], "notes.pdf")); // with one of them
    QVERIFY(draftsOf(at("project"), {at("notes.pdf")}, must(project->setup().disciplines()),
                     must(project->deliveries().all()), progress_)
                .empty());
}

void TestArriving::whatIsKnownIsLeftOut()
{
    const auto project = demo();
    const auto fresh = another("MSS-OPW-PIP-heating-P02.ifc", "MSS-OPW-PIP-heating-P01.ifc");
    const auto drafts = draftsOf(at("project"), {data() / "MSS-OPW-PIP-sprinklers-P01.ifc", fresh},
                                 must(project->setup().disciplines()), must(project->deliveries().all()), progress_);
    std::size_t known = 0, models = 0;
    for (const Draft& draft : drafts) {
        known += draft.known.size();
        models += draft.models.size();
        for (const std::string& words : draft.known)
            QVERIFY(words.find("sprinklers-P01.ifc is there already as Piping P01") != std::string::npos);
    }
    QVERIFY(known == 1 && models == 1);
}

void TestArriving::whatIsReceivedIsReadFromTheCopy()
{
    auto project = demo();
    NewDelivery d;
    d.discipline = "Structure";
    d.revision = "P05";
    d.time = "2026-12-01T08:00:00Z";
    d.models = {{another("MSS-TBF-STR-P02.ifc", "sent.ifc"), {}, {}, 0}};
    const auto id = receiveDelivery(at("project"), d, keeper(), progress_);
    QVERIFY(id.has_value());
    const Delivery kept = *must(project->deliveries().find(*id)); // through the connection that is open
    QVERIFY(kept.elements == must(project->deliveries().find(*id))->models()[0].elements && kept.elements > 400 &&
            kept.schema == "IFC2X3" && kept.fileName == "sent.ifc" && kept.revision == "P05");
    QCOMPARE(sha256OfFile(project->deliveries().fileOf(kept.models()[0])).value(),
             sha256OfFile(at("sent.ifc")).value());
    std::filesystem::remove(at("sent.ifc")); // what was received does not need it any more
    QVERIFY(describeModel(project->deliveries().fileOf(kept.models()[0]), progress_).has_value());
    QVERIFY(project->undo(who_).has_value() && !must(project->deliveries().find(*id))); // one step
}

void TestArriving::whatCanNotBeReadLeavesNothing_data()
{
    QTest::addColumn<QString>("what");
    QTest::addColumn<QString>("code");
    for (const auto& [what, code] : {std::pair{"missing", "file.unreadable"},
                                     {"empty", "file.empty"},
                                     {"not IFC", "step.not-step"},
                                     {"truncated", "step.truncated"},
                                     {"there already", "project.same-delivery"},
                                     {"second one broken", "step.not-step"},
                                     {"document missing", "file.unreadable"},
                                     {"revision taken", "project.same-revision"},
                                     {"cancelled", "copy.cancelled"}})
        QTest::newRow(what) << what << code;
}

void TestArriving::whatCanNotBeReadLeavesNothing()
{
    QFETCH(QString, what);
    auto project = demo();
    const std::size_t files = filesIn(at("project/deliveries")), deliveries = must(project->deliveries().all()).size();
    NewDelivery d;
    d.discipline = "Structure";
    d.revision = what == "revision taken" ? "P01" : "P05";
    const auto good = another("MSS-TBF-STR-P02.ifc", "good.ifc");
    const auto broken = at("broken.ifc");
    if (what == "empty" || what.contains("broken") || what == "not IFC")
        write(broken, what == "empty" ? "" : "something else");
    if (what == "truncated")
        write(broken, readFileWhole(good).value().substr(0, 20'000));
    if (what == "there already")
        std::filesystem::copy_file(data() / "MSS-TBF-STR-P01.ifc", broken);
    const bool isGood = what == "revision taken" || what == "document missing" || what == "cancelled";
    d.models = {{isGood ? good : broken, {}, {}, 0}};
    if (what == "second one broken")
        d.models = {{good, {}, {}, 0}, {broken, {}, {}, 0}};
    if (what == "document missing")
        d.documents = {at("none.pdf")};
    Progress progress;
    if (what == "cancelled")
        progress.cancel();
    const auto id = receiveDelivery(at("project"), d, keeper(), progress);
    QVERIFY(!id);
    QTEST(QString::fromUtf8(id.error().code.name.data()), "code");
    if (!isGood)
        QCOMPARE(id.error().file, broken.string()); // as the sender knows it
    QCOMPARE(filesIn(at("project/deliveries")), files);
    QCOMPARE(must(project->deliveries().all()).size(), deliveries);
}

QTEST_GUILESS_MAIN(TestArriving)
#include "test_arriving.moc"
