#include <QTest>

#include "core/project/clash_export.h"
#include "core/project/clash_report.h"
#include "core/project/issue_making.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <algorithm>
#include <functional>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::kJon;
using test::MadeRun;
using test::must;

/// What leaves a list of clashes for others: tables and reports.
class TestClashReport : public QObject {
    Q_OBJECT
private slots:
    void init();
    void tablesHoldWhatIsListed();
    void tablesAreWritten();
    void aReportShowsTheListAndEscapesIt();
    void questionsAreSaid_data();
    void questionsAreSaid();

private:
    [[nodiscard]] MadeRun made() const { return MadeRun(*project_, {"Structure", "Ventilation", "Piping"}); }
    [[nodiscard]] ClashList listOf(const ClashQuestion& question) const
    {
        return ClashList(must(project_->clashes().briefs()), question);
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
};

void TestClashReport::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject((folder_->path() + "/p").toStdString(), {"Structure", "Ventilation", "Piping"});
}

void TestClashReport::tablesHoldWhatIsListed()
{
    MadeRun run = made();
    const auto duct = run.ref("Ventilation", "d1"), pipe = run.ref("Piping", "p");
    run.pair(run.ref("Structure", "b1"), duct, 0.3).pair(run.ref("Structure", "c"), pipe, 0.4).pair(duct, pipe, 0.05);
    for (RunElement& e : run.run.elements)
        e.system = e.ref == duct ? "Supply" : "";
    run.run.findings[1].point = {30, 0, 3};
    QVERIFY(recordRun(*project_, run.run, kInes).has_value());
    ClashQuestion question;
    question.discipline = "Piping";
    const ClashList list = listOf(question);
    const auto table = must(tableOf(project_->clashes(), list));
    QCOMPARE(table.size(), std::size_t{1 + 2});
    const auto column = [&](const char* name) {
        return static_cast<std::size_t>(std::find(table[0].begin(), table[0].end(), name) - table[0].begin());
    };
    QCOMPARE(table[1][column("Group")], std::string("Element c crosses Element p"));
    QCOMPARE(table[1][column("Depth (mm)")], std::string("400.0"));
    QCOMPARE(table[1][column("Free (mm)")], std::string());
    QCOMPARE(table[1][column("X (m)")], std::string("30.000"));
    QCOMPARE(table[1][column("Right GlobalId")], std::string("p"));
    QCOMPARE(table[1][column("State")], std::string("new"));
    QCOMPARE(table[2][column("Left system")], std::string("Supply"));
    for (const auto& row : table)
        QCOMPARE(row.size(), table[0].size());
}

void TestClashReport::tablesAreWritten()
{
    const std::vector<std::vector<std::string>> table{{"Name", "Depth (mm)"},
                                                      {"Duct \"A\", upper", "-12.5"},
                                                      {"=SUM(A1)", "3"},
                                                      {"0012", ""},
                                                      {"two\nlines\x01", "x"}};
    QCOMPARE(
        QByteArray::fromStdString(toCsv(table)),
        QByteArray("Name,Depth (mm)\r\n\"Duct \"\"A\"\", upper\",-12.5\r\n'=SUM(A1),3\r\n0012,\r\n\"two\nlines\x01\","
                   "x\r\n"));
    QVERIFY(toTabs(table).find("two lines") != std::string::npos);
    const std::filesystem::path file = (folder_->path() + "/t.xlsx").toStdString();
    const auto written = writeXlsx(table, file, "A very long name of a sheet that is cut off");
    QVERIFY2(written.has_value(), written ? "" : written.error().message.c_str());
    QVERIFY(std::filesystem::file_size(file) > 1000 && !std::filesystem::exists(file.string() + ".part"));
    const auto refused = writeXlsx(table, folder_->path().toStdString() + "/none/t.xlsx", "S");
    QVERIFY(!refused && refused.error().code == kFileUnwritable);
}

void TestClashReport::aReportShowsTheListAndEscapesIt()
{
    MadeRun one = made();
    const ElementRef beam = one.ref("Structure", "Beam <1>");
    one.pair(beam, one.ref("Ventilation", "Duct & 'a'"), 0.3).pair(beam, one.ref("Ventilation", "b"), 0.02);
    one.pair(one.ref("Structure", "Column"), one.ref("Piping", "Pipe"), 0.05);
    (void)must(recordRun(*project_, one.run, kInes));
    const auto all = must(project_->clashes().all());
    QVERIFY(project_->clashes().decide(std::span(&all[1].id, 1), "let stand", "sleeve <agreed>", kJon).has_value());
    ClashQuestion there;
    there.filter = ClashFilter::There;
    ClashReport report = must(reportOf(*project_, listOf(there), kInes));
    QCOMPARE(report.groups.size(), std::size_t{2});
    QCOMPARE(report.pairs, std::size_t{3});
    QCOMPARE(report.groups[0].pairs.size(), std::size_t{2});
    QCOMPARE(report.groups[0].decision, std::string("undecided"));
    QVERIFY(report.groups[1].decision.starts_with("let stand: sleeve <agreed>, Jon Alder"));
    report.groups[1].picture = "data:image/png;base64,AAAA";
    const QString html = QString::fromStdString(toHtml(report));
    for (const char* words :
         {"3 pairs in 2 groups: all pairs that are there.", "Beam &lt;1&gt;", "Duct &amp; &#39;a&#39;",
          "sleeve &lt;agreed&gt;", "300 mm deep", "src='data:image/png;base64,AAAA'", "Ines Varga"})
        QVERIFY2(html.contains(words), words);
    QVERIFY(!html.contains("<1>") && !html.contains("<agreed>"));
    QCOMPARE(html.count("<img"), 1);
    QCOMPARE(html.count("<tr>"), 2 + 3);
    // What is fixed says by which issue; narrowed, it says to what.
    QVERIFY(
        makeIssue(*project_, draftIssue("Lower it", std::span(&all[1], 1), kInes.time), std::span(&all[1].id, 1), kInes)
            .has_value());
    ClashQuestion fixed = there;
    fixed.decision = PairBrief::Decision::Fix;
    const ClashReport narrowed = must(reportOf(*project_, listOf(fixed), kInes));
    QCOMPARE(narrowed.groups.size(), std::size_t{1});
    QCOMPARE(narrowed.groups[0].issue, std::string("MSS-001"));
    QCOMPARE(narrowed.narrowed, std::string("all pairs that are there, to be fixed"));
    // Nothing that answers: a page that says so.
    ClashQuestion none = there;
    none.storey = "Nowhere";
    QVERIFY(toHtml(must(reportOf(*project_, listOf(none), kInes))).find("0 pairs in 0 groups") != std::string::npos);
}

void TestClashReport::questionsAreSaid_data()
{
    QTest::addColumn<ClashQuestion>("question");
    QTest::addColumn<QString>("words");
    const auto row = [](const char* name, ClashFilter filter, const char* words,
                        const std::function<void(ClashQuestion&)>& narrow) {
        ClashQuestion question;
        question.filter = filter;
        narrow(question);
        QTest::newRow(name) << question << words;
    };
    row("undecided", ClashFilter::Undecided, "pairs nobody has decided yet", [](ClashQuestion&) {});
    row("on a storey", ClashFilter::New, "new pairs on Level 2", [](ClashQuestion& q) { q.storey = "Level 2"; });
    row("in a bay", ClashFilter::Gone, "pairs that are gone on Level 2 in bay B-C / 4", [](ClashQuestion& q) {
        q.storey = "Level 2";
        q.bay = "B-C / 4";
    });
    row("two disciplines", ClashFilter::Back, "pairs that are back, Structure against Piping", [](ClashQuestion& q) {
        q.discipline = "Structure";
        q.against = "Piping";
    });
    row("mine with any", ClashFilter::There, "all pairs that are there, Structure with any other",
        [](ClashQuestion& q) { q.discipline = "Structure"; });
    row("much at once", ClashFilter::NotTested, "pairs that were not tested, class IfcWall, system S1, test Wet",
        [](ClashQuestion& q) {
            q.test = "Wet";
            q.className = "IfcWall";
            q.system = "S1";
        });
}

void TestClashReport::questionsAreSaid()
{
    QFETCH(ClashQuestion, question);
    QFETCH(QString, words);
    QCOMPARE(QString::fromStdString(inWords(question)), words);
}

QTEST_APPLESS_MAIN(TestClashReport)
#include "test_clash_report.moc"
