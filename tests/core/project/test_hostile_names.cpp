#include <QTest>

#include "core/checks/report.h"
#include "core/coordinates/place_sheet.h"
#include "core/coordinates/sheet.h"
#include "core/project/change_digest.h"
#include "core/project/change_report.h"
#include "core/project/clash_export.h"
#include "core/project/clash_report.h"
#include "support/ifc_text.h"
#include "support/made_site.h"

#include <QTemporaryDir>

#include <zip.h>

using namespace wendrix;
using namespace wendrix::project;

/// What a model, a person or a file calls things reaches those who get a page or a table as that text and as nothing
/// else: no markup, no script, no picture from elsewhere, no formula.
class TestHostileNames : public QObject {
    Q_OBJECT
private slots:
    void pagesShowThemAsText_data();
    void pagesShowThemAsText();
    void tablesHoldThemAsText_data();
    void tablesHoldThemAsText();
};

namespace {

const std::string kPlain = "Beam B7 of Harrow";
const Timestamp kTime = "2026-11-18T09:00:00Z";

/// Independent of the product's own.
std::string asText(const std::string& name)
{
    std::string out;
    for (const char c : name) {
        static const std::map<char, std::string> kSigns{{'<', "&lt;"},   {'>', "&gt;"},   {'&', "&amp;"},
                                                        {'"', "&quot;"}, {'\'', "&#39;"}, {'`', "&#96;"}};
        const auto sign = kSigns.find(c);
        out += sign != kSigns.end() ? sign->second : std::string(1, c);
    }
    return out;
}

Pair pairOf(const std::string& n)
{
    Pair p;
    p.test = p.storey = p.bay = p.decision = p.reason = p.returned = n;
    p.decidedBy = {n, kTime};
    for (PairSide* side : {&p.left, &p.right}) {
        side->name = side->type = side->system = side->discipline = side->revision = side->part = n;
        side->className = "IfcBeam";
        side->element.guid = n;
    }
    return p;
}

std::string clashPage(const std::string& n)
{
    ClashReport r;
    r.project = r.narrowed = r.run = n;
    r.by = {n, kTime};
    r.groups.push_back({n, n, n, n, n, n, {pairOf(n)}, n});
    return toHtml(r);
}

ChangeRecord changeOf(const std::string& n)
{
    ChangeRecord c;
    c.name = c.type = c.system = c.zone = c.storey = c.extents = c.review = n;
    c.className = "IfcBeam";
    c.element.guid = n;
    c.fields = {{n, n, n, n}};
    return c;
}

std::string changePage(const std::string& n)
{
    ChangeReport r;
    r.project = r.narrowed = n;
    r.compared = {n, n};
    r.by = {n, kTime};
    r.parts.push_back({n, n, {changeOf(n)}, n});
    return toHtml(r);
}

std::string digestPage(const std::string& n)
{
    ChangeDigest d;
    d.project = d.discipline = n;
    d.compared = d.leftBehind = d.issues = {n, n};
    d.lines.push_back({n, n, n, 1, {n, n}, 1, 1, 1});
    d.by = {n, kTime};
    return toHtml(d);
}

std::string qualityPage(const std::string& n)
{
    checks::DeliveryReport r;
    r.project = r.delivery = r.title = r.sender = n;
    r.delivered = kTime;
    r.by = {n, kTime};
    checks::ModelReport model;
    model.fileName = n;
    model.quality.facts = {n, n, n, n, n, 1, 1, 1};
    model.quality.findings.push_back({Severity::Error, n, n, n, 1, {{1, "IfcBeam", n, n, n}}});
    checks::SpecificationResult s;
    s.name = s.identifier = s.description = s.instructions = s.why = n;
    s.failed = {{1, "IfcBeam", n, n, n}};
    model.quality.ids.push_back({n, {s}, {{Severity::Note, "x", n, n}}});
    r.models.push_back(model);
    return checks::toHtml(r);
}

std::string sheetPage(const std::string& n)
{
    test::MadeSite site;
    const auto model = test::readText(site.text());
    coordinates::Sheet s;
    s.project = s.reference = s.member = s.person = s.method = n;
    s.time = kTime;
    s.referenceModel = s.memberModel = model->model.get();
    s.causes.push_back({coordinates::CauseKind::OwnOrigin, 1, n, n, {}});
    s.left.push_back({n, Metres{0.02}});
    s.declared.push_back({"Map easting", n, n, n});
    return coordinates::toHtml(s, n) + coordinates::toHtml(s);
}

std::string placePage(const std::string& n)
{
    coordinates::PlaceSheet s;
    s.project = s.from = s.person = n;
    s.time = kTime;
    coordinates::Agreement agreement;
    agreement.words = n;
    s.members.push_back({n, n, agreement, n});
    return coordinates::toHtml(s);
}

} // namespace

void TestHostileNames::pagesShowThemAsText_data()
{
    QTest::addColumn<int>("page");
    QTest::addColumn<QString>("name");
    const char* pages[] = {"clashes", "changes", "digest", "quality", "coordinate sheet", "place sheet"};
    for (int page = 0; page < 6; ++page)
        for (const auto& [what, name] : {std::pair{"a script", "<script>alert(1)</script>"},
                                         {"out of a quote", "x' onerror='alert(1)"},
                                         {"out of a double quote", "x\" onerror=\"alert(1)"},
                                         {"out of a tag", "x'><img src=x onerror=alert(1)>"},
                                         {"a file of the reader's", "<img src='file:///etc/passwd'>"},
                                         {"an entity", "&lt;b&gt; &amp; &#60;"},
                                         {"another quote", "x` onerror=`alert(1)"},
                                         {"the end of a comment", "--><script>x</script><!--"},
                                         {"braces", "{} {0} {:.1f}"}})
            QTest::addRow("%s: %s", pages[page], what) << page << QString(name);
}

void TestHostileNames::pagesShowThemAsText()
{
    QFETCH(int, page);
    QFETCH(QString, name);
    std::string (*const pages[])(const std::string&) = {clashPage,   changePage, digestPage,
                                                        qualityPage, sheetPage,  placePage};
    std::string expected = pages[page](kPlain);
    const std::string shown = asText(name.toStdString());
    int count = 0;
    for (std::size_t at = expected.find(kPlain); at != std::string::npos;
         at = expected.find(kPlain, at + shown.size()), ++count)
        expected.replace(at, kPlain.size(), shown);
    QVERIFY(count > 5);
    QCOMPARE(QString::fromStdString(pages[page](name.toStdString())), QString::fromStdString(expected));
}

void TestHostileNames::tablesHoldThemAsText_data()
{
    QTest::addColumn<QString>("name");
    QTest::addColumn<bool>("isTold"); ///< it gets a sign before it
    for (const char* name : {"=1+1", "+1+1", "-1+cmd|' /C calc'!A0", "@SUM(A1)", "=HYPERLINK(\"http://x\")", "\t=1+1",
                             "\r=1+1", " =1+1", "  @x", "\n=1"})
        QTest::addRow("%s", QByteArray(name).toPercentEncoding().constData()) << QString(name) << true;
    for (const char* name : {"Beam", "-1.5", "+3", "a=b", "1-2", ""})
        QTest::addRow("%s", name) << QString(name) << false;
}

void TestHostileNames::tablesHoldThemAsText()
{
    QFETCH(QString, name);
    QFETCH(bool, isTold);
    const std::string text = name.toStdString();
    const std::vector<std::vector<std::string>> table{{"Name", "Other"}, {text, "x"}};
    for (const std::string& written : {toCsv(table), toTabs(table)}) {
        const QString row = QString::fromStdString(written).section('\n', 1);
        QCOMPARE(row.startsWith("'") || row.startsWith("\"'"), isTold);
    }
    checks::DeliveryReport report;
    checks::ModelReport model;
    model.fileName = text;
    model.quality.findings.push_back({Severity::Error, "x", "x", "x", 0, {}});
    report.models.push_back(model);
    const QString row = QString::fromStdString(checks::toCsv(report)).section("\r\n", 1);
    QCOMPARE(row.startsWith("'") || row.startsWith("\"'"), isTold);
    // A workbook's cells are texts or numbers: there is no formula in it.
    QTemporaryDir folder;
    const std::string file = folder.filePath("table.xlsx").toStdString();
    QVERIFY(writeXlsx(table, file, "Table").has_value());
    int code = 0;
    zip_t* book = zip_open(file.c_str(), ZIP_RDONLY, &code);
    QVERIFY(book != nullptr);
    std::string sheet(1 << 16, '\0');
    zip_file_t* entry = zip_fopen(book, "xl/worksheets/sheet1.xml", 0);
    QVERIFY(entry != nullptr);
    sheet.resize(static_cast<std::size_t>(std::max<zip_int64_t>(0, zip_fread(entry, sheet.data(), sheet.size()))));
    zip_fclose(entry);
    zip_discard(book);
    QVERIFY(sheet.find("<sheetData>") != std::string::npos && sheet.find("<f>") == std::string::npos);
}

QTEST_GUILESS_MAIN(TestHostileNames)
#include "test_hostile_names.moc"
