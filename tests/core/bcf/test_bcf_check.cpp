#include <QTest>

#include "core/bcf/check.h"
#include "support/bcf_samples.h"

#include <QTemporaryDir>

#include <functional>

using namespace wendrix;
using namespace wendrix::test;
using bcf::Version;

/// A file is held against the standard: sound ones have nothing said against them, and each damage is told with its
/// entry.
class TestBcfCheck : public QObject {
    Q_OBJECT
private slots:
    void aSoundFileHasNoProblem_data();
    void aSoundFileHasNoProblem();
    void damageIsTold_data();
    void damageIsTold();
};

namespace {

using Damage = std::function<void(bcf::Entries&)>;

Damage put(const std::string& entry, const std::string& bytes)
{
    return [=](bcf::Entries& e) { e[entry] = bytes; };
}
Damage drop(const std::string& entry)
{
    return [=](bcf::Entries& e) { QVERIFY(e.erase(entry) == 1); };
}
Damage move(const std::string& from, const std::string& to)
{
    return [=](bcf::Entries& e) {
        e[to] = e.at(from);
        e.erase(from);
    };
}
Damage change(const std::string& entry, const std::string& from, const std::string& to)
{
    return [=](bcf::Entries& e) { edit(e, entry, from, to); };
}

bcf::Checked checkedFile(const bcf::Entries& entries)
{
    QTemporaryDir folder;
    const std::filesystem::path path = folder.filePath("t.bcf").toStdString();
    zipTo(entries, path);
    return bcf::check(path).value_or(bcf::Checked{});
}

std::string all(const std::vector<Diagnostic>& problems)
{
    std::string text;
    for (const Diagnostic& d : problems)
        text += d.entity + ": " + d.message + "\n";
    return text;
}

} // namespace

Q_DECLARE_METATYPE(Damage)

void TestBcfCheck::aSoundFileHasNoProblem_data()
{
    QTest::addColumn<bool>("isNew");
    QTest::addColumn<bool>("hasMark");
    for (const bool isNew : {false, true})
        for (const bool hasMark : {false, true})
            QTest::addRow("%s%s", isNew ? "3.0" : "2.1", hasMark ? " with byte order marks and CRLF" : "")
                << isNew << hasMark;
}

void TestBcfCheck::aSoundFileHasNoProblem()
{
    QFETCH(bool, isNew);
    QFETCH(bool, hasMark);
    auto entries = wholeBcf(isNew ? Version::V30 : Version::V21);
    if (hasMark)
        for (auto& [name, bytes] : entries)
            if (bytes.starts_with("<?xml"))
                bytes = "\xEF\xBB\xBF" + QString::fromStdString(bytes).replace("\n", "\r\n").toStdString();
    const auto checked = checkedFile(entries);
    QVERIFY2(checked.problems.empty(), all(checked.problems).c_str());
    QCOMPARE(checked.topics, std::size_t{2});
    QCOMPARE(checked.version, std::string(isNew ? "3.0" : "2.1"));
}

void TestBcfCheck::damageIsTold_data()
{
    QTest::addColumn<bool>("isNew");
    QTest::addColumn<Damage>("damage");
    QTest::addColumn<QString>("entry");
    QTest::addColumn<QString>("words");
    const std::string T = kTopic, U = kOther, M = markupOf(kTopic), P = T + "/viewpoint.bcfv", W = T + "/two.bcfv";
    struct Row {
        const char* name;
        Damage damage;
        std::string entry, words;
    };
    const std::vector<Row> both{
        {"no version", drop("bcf.version"), "bcf.version", "no bcf.version"},
        {"another version", put("bcf.version", "<Version VersionId=\"4.0\"/>"), "bcf.version", "neither 2.1 nor 3.0"},
        {"a topic without markup", drop(M), T + "/", "no markup.bcf"},
        {"a missing viewpoint", drop(P), M, "viewpoint viewpoint.bcfv is not in"},
        {"a missing snapshot", drop(T + "/snapshot.png"), M, "snapshot snapshot.png is not in"},
        {"a snapshot in other case", move(T + "/snapshot.png", T + "/Snapshot.png"), M, "there is Snapshot.png"},
        {"an empty snapshot", put(T + "/snapshot.png", ""), T + "/snapshot.png", "is empty"},
        {"a snapshot of another kind", put(T + "/snapshot.png", "GIF89a"), T + "/snapshot.png", "neither PNG nor JPEG"},
        {"a JPEG called PNG", put(T + "/snapshot.png", jpeg()), T + "/snapshot.png", "jpg picture by its first bytes"},
        {"half a PNG", put(T + "/snapshot.png", png().substr(0, png().size() - 20)), T + "/snapshot.png", "cut short"},
        {"half a JPEG", put(T + "/two.jpg", jpeg().substr(0, jpeg().size() - 2)), T + "/two.jpg", "cut short"},
        {"a missing bitmap", drop(T + "/note.png"), P, "bitmap note.png is not in"},
        {"a bitmap of another kind", put(T + "/note.png", jpeg()), T + "/note.png", "is declared as"},
        {"a missing snippet", drop(T + "/part.ifc"), M, "BimSnippet part.ifc is not in the archive"},
        {"a missing header file", drop("a.ifc"), M, "header file ../a.ifc is not in the archive"},
        {"a reference that climbs out", change(M, "<Reference>../a.ifc", "<Reference>../../a.ifc"), M,
         "leads out of the archive"},
        {"a viewpoint elsewhere", change(M, "viewpoint.bcfv", "../two.bcfv"), M, "not a plain file name"},
        {"a folder of another GUID", change(M, "<Topic Guid=\"" + T, "<Topic Guid=\"" + T.substr(0, 35) + "9"), M,
         "not the topic's GUID"},
        {"a GUID of two topics", change(markupOf(kOther), U, T), markupOf(kOther), "also used in"},
        {"a topic related to itself", change(M, "RelatedTopic Guid=\"" + U, "RelatedTopic Guid=\"" + T), M,
         "related to itself"},
        {"a comment of no viewpoint",
         change(M, "<Viewpoint Guid=\"" + std::string(kView), "<Viewpoint Guid=\"" + std::string(kComment)), M,
         "does not have"},
        {"a viewpoint of another GUID", change(P, kView, kComment), P, "not the one in the markup"},
        {"no date", change(M, "2024-02-28T10:00:00Z", "28.02.2024"), M, "dateTime"},
        {"a day that is none", change(M, "2024-02-29T", "2023-02-29T"), M, "dateTime"},
        {"no title", change(M, "<Title>Duct meets beam</Title>", ""), M, "Expected is"},
        {"another order",
         change(M, "<Priority>High</Priority><Index>3</Index>", "<Index>3</Index><Priority>High</Priority>"), M,
         "not expected"},
        {"an unknown element", change(M, "</Topic>", "<Extra/></Topic>"), M, "Extra"},
        {"no end", change(M, "</Markup>", ""), M, "not well-formed"},
        {"a document type", change(M, "<Markup>", "<!DOCTYPE Markup [<!ENTITY a \"b\">]><Markup>"), M, "document type"},
        {"a hidden document type",
         change(M, "<Markup>", "<?x <!-- ?><!DOCTYPE Markup [<!ENTITY a \"b\">]><?y --> ?><Markup>"), M,
         "document type"},
        {"no UTF-8", put(M, "<?xml version=\"1.0\" encoding=\"UTF-8\"?><Markup>\xff</Markup>"), M,
         "not in its encoding"},
        {"a status that is not listed", change(M, "TopicStatus=\"Open\"", "TopicStatus=\"Ajar\""), M,
         "TopicStatus 'Ajar' is not listed"},
        {"a type that is not listed", change(M, "TopicType=\"Clash\"", "TopicType=\"Crash\""), M,
         "TopicType 'Crash' is not listed"},
        {"a priority that is not listed", change(M, "<Priority>High", "<Priority>Huge"), M,
         "Priority 'Huge' is not listed"},
        {"a label that is not listed", change(M, ">Structure<", ">Plumbing<"), M, "label 'Plumbing' is not listed"},
        {"a stage that is not listed", change(M, "<Stage>Design", "<Stage>Site"), M, "Stage 'Site' is not listed"},
        {"a person who is not listed", change(M, "<AssignedTo>ada", "<AssignedTo>eve"), M,
         "AssignedTo 'eve@example.com' is not listed"},
        {"a snippet type that is not listed", change(M, "SnippetType=\".ifc\"", "SnippetType=\".png\""), M,
         "SnippetType '.png' is not listed"},
        {"no number", change(P, "<X>1</X>", "<X>NaN</X>"), P, "not a finite number"},
        {"a comma", change(P, "<X>1</X>", "<X>1,5</X>"), P, "double"},
        {"up along the view",
         change(P, "<CameraUpVector><X>0</X><Y>0</Y><Z>1</Z>", "<CameraUpVector><X>0</X><Y>-3</Y><Z>0</Z>"), P,
         "runs along"},
        {"no direction", change(P, "<CameraDirection><X>0</X><Y>1</Y>", "<CameraDirection><X>0</X><Y>0</Y>"), P,
         "no length"},
        {"a short GlobalId", change(P, kElement, std::string(kElement).substr(0, 21)), P, "length"},
        {"no colour", change(P, "80FF0000", "red"), P, "pattern"},
        {"another end", change(P, "<Visibility ", "<Invisibility "), P, "not well-formed"},
        {"a bitmap without height", change(P, "<Height>2</Height>", ""), P, "Height"},
        {"a name that climbs out", put("../../evil.txt", "x"), "../../evil.txt", "leads out of the archive"},
        {"an absolute name", put("/evil.txt", "x"), "/evil.txt", "absolute path"},
        {"a drive", put("C:/evil.txt", "x"), "C:/evil.txt", "absolute path"},
        {"a backslash", put("a\\evil.txt", "x"), "a\\evil.txt", "backslash"},
    };
    const std::vector<Row> old{
        {"no extension schema", drop("extensions.xsd"), "project.bcfp", "extensions.xsd is not in the archive"},
        {"a missing document", drop("plan.pdf"), M, "document reference ../plan.pdf is not in the archive"},
        {"an attribute of 3.0", change(M, "isExternal", "IsExternal"), M, "IsExternal"},
        {"labels of 3.0", change(M, "<Labels>Structure</Labels>", "<Labels><Label>Structure</Label></Labels>"), M,
         "Labels"},
        {"a wide field of view", change(P, "<FieldOfView>50", "<FieldOfView>75"), P, "maximum"},
        {"an aspect ratio", change(P, "</FieldOfView>", "</FieldOfView><AspectRatio>1</AspectRatio>"), P,
         "AspectRatio"},
        {"a scale below 0", change(W, "<ViewToWorldScale>12.5", "<ViewToWorldScale>-1"), W, "not above 0"},
    };
    const std::vector<Row> recent{
        {"no extensions", drop("extensions.xml"), "extensions.xml", "no extensions.xml"},
        {"no list of documents", drop("documents.xml"), M, "not listed in documents.xml"},
        {"a missing document", drop("Documents/" + std::string(kDocument)), "documents.xml",
         "not in the Documents folder"},
        {"a blank title", change(M, "<Title>Duct meets beam", "<Title> \n "), M, "Title"},
        {"no status", change(M, " TopicStatus=\"Open\"", ""), M, "TopicStatus"},
        {"labels of 2.1",
         change(M, "<Labels><Label>Structure</Label><Label>Architecture</Label></Labels>",
                "<Labels>Structure</Labels>"),
         M, "Labels"},
        {"no aspect ratio", change(P, "<AspectRatio>1.5</AspectRatio>", ""), P, "AspectRatio"},
        {"a field of view all round", change(P, "<FieldOfView>50", "<FieldOfView>180"), P, "less than"},
        {"a format in capitals", change(P, "<Format>png", "<Format>PNG"), P, "Format"},
        {"an empty user", change("extensions.xml", "<Users>", "<Users><User/>"), "extensions.xml", "User"},
    };
    for (const bool isNew : {false, true})
        for (const auto* rows : {&both, isNew ? &recent : &old})
            for (const Row& row : *rows)
                QTest::addRow("%s: %s", isNew ? "3.0" : "2.1", row.name)
                    << isNew << row.damage << QString::fromStdString(row.entry) << QString::fromStdString(row.words);
}

void TestBcfCheck::damageIsTold()
{
    QFETCH(bool, isNew);
    QFETCH(Damage, damage);
    QFETCH(QString, entry);
    QFETCH(QString, words);
    auto entries = wholeBcf(isNew ? Version::V30 : Version::V21);
    damage(entries);
    const auto checked = checkedFile(entries);
    const bool isTold = std::any_of(checked.problems.begin(), checked.problems.end(), [&](const Diagnostic& d) {
        return QString::fromStdString(d.entity) == entry && QString::fromStdString(d.message).contains(words);
    });
    QVERIFY2(isTold, all(checked.problems).c_str());
}

QTEST_GUILESS_MAIN(TestBcfCheck)
#include "test_bcf_check.moc"
