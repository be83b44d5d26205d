#include <QTest>

#include "core/bcf/bcf.h"
#include "core/bcf/check.h"
#include "core/bcf/convert.h"
#include "core/bcf/writer.h"
#include "support/bcf_samples.h"

#include <QFile>
#include <QTemporaryDir>

#include <zip.h>

#include <cmath>
#include <functional>
#include <set>

using namespace wendrix;
using namespace wendrix::test;
using bcf::Version;

/// What is read and written again: nothing is lost, edits change what they say and nothing else, and conversions tell
/// what they had to map.
class TestBcfRoundTrip : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { QVERIFY(folder_.isValid()); }
    void everythingIsRead_data() { versions(); }
    void everythingIsRead();
    void theSameVersionLosesNothing_data() { versions(); }
    void theSameVersionLosesNothing();
    void theUnknownSurvives_data() { versions(); }
    void theUnknownSurvives();
    void anEditChangesNothingElse_data() { versions(); }
    void anEditChangesNothingElse();
    void thereAndBack_data() { versions(); }
    void thereAndBack();
    void conversionsTellWhatTheyMap();
    void sharedGuidsAreKeptApart_data() { versions(); }
    void sharedGuidsAreKeptApart();
    void eitherFormIsRead();
    void controlCharactersBecomeNone_data() { versions(); }
    void controlCharactersBecomeNone();
    void aViewpointWithoutAFileGetsNone_data() { versions(); }
    void aViewpointWithoutAFileGetsNone();
    void foldersWithoutATopicAreTold();
    void whatIsEncryptedIsRefused();

private:
    static void versions()
    {
        QTest::addColumn<int>("number");
        QTest::newRow("2.1") << 0;
        QTest::newRow("3.0") << 1;
    }
    [[nodiscard]] std::filesystem::path path(const char* name) const { return folder_.filePath(name).toStdString(); }
    [[nodiscard]] std::filesystem::path packed(const bcf::Entries& entries, const char* name = "in.bcf") const
    {
        zipTo(entries, path(name));
        return path(name);
    }
    QTemporaryDir folder_;
};

namespace {

/// XML without what means nothing: layout and how it is quoted.
std::string plain(const std::string& xml)
{
    auto parsed = bcf::parsed(xml);
    return parsed ? bcf::written(**parsed, bcf::Layout::AsItCame) : "no XML: " + parsed.error();
}

bcf::Entries entriesOf(const std::filesystem::path& file)
{
    const auto archive = bcf::Archive::open(file);
    bcf::Entries entries;
    if (archive)
        for (const auto& e : (*archive)->entries())
            entries.emplace(e.name, (*archive)->read(e).value_or("damaged"));
    return entries;
}

std::vector<issues::Issue> issuesOf(const std::filesystem::path& file)
{
    auto document = bcf::readFile(file);
    return document ? document->issues : std::vector<issues::Issue>{};
}

Version versionOf(int number) { return number == 0 ? Version::V21 : Version::V30; }

} // namespace

void TestBcfRoundTrip::everythingIsRead()
{
    QFETCH(int, number);
    const Version version = versionOf(number);
    auto file = bcf::File::open(packed(wholeBcf(version)));
    QVERIFY(file.has_value());
    QCOMPARE((*file)->version(), version);
    QCOMPARE((*file)->projectId(), std::string("p"));
    QCOMPARE((*file)->extensions().stages, std::vector<std::string>{"Design"});
    const auto topic = (*file)->topic(0);
    QVERIFY(topic.has_value());
    QVERIFY2((*file)->diagnostics().empty(),
             (*file)->diagnostics().empty() ? "" : (*file)->diagnostics()[0].message.c_str());
    const issues::Issue& i = topic->issue;
    QCOMPARE(i.title, std::string("Duct meets beam"));
    QCOMPARE(i.description, std::string("Lines\nof text"));
    QCOMPARE(i.index.value_or(-1), 3);
    QCOMPARE(i.dueAt, std::string("2024-04-01T00:00:00Z"));
    QCOMPARE(i.serverId, std::string(version == Version::V30 ? "A-7" : ""));
    QCOMPARE(i.links.size(), std::size_t(version == Version::V30 ? 1 : 2));
    QCOMPARE(i.labels, (std::vector<std::string>{"Structure", "Architecture"}));
    QCOMPARE(i.related, std::vector<std::string>{kOther});
    QVERIFY((i.snippet == issues::Snippet{".ifc", "part.ifc", "https://example.com/s", false}));
    QVERIFY((i.files ==
             std::vector<issues::ModelFile>{{kElement, "", "a.ifc", "2024-01-01T00:00:00Z", "../a.ifc", false}}));
    QCOMPARE(i.documents.size(), std::size_t{2});
    QCOMPARE(i.documents[0].name, std::string("plan.pdf"));
    QCOMPARE(i.documents[0].description, std::string("Plan"));
    QVERIFY(!i.documents[0].isExternal && i.documents[1].isExternal);
    QCOMPARE(topic->documents.at(i.documents[0].target).read().value(), std::string("%PDF-"));
    QCOMPARE(i.documents[1].target, std::string("https://example.com/x"));
    QVERIFY((i.comments ==
             std::vector<issues::Comment>{{kComment, "2024-02-29T10:00:00+02:00", "ada@example.com", "See here", kView,
                                           "2024-03-01T10:00:00.25Z", "ada@example.com"}}));
    QCOMPARE(i.viewpoints.size(), std::size_t{2});
    const issues::Viewpoint& v = i.viewpoints[0];
    QCOMPARE(v.uuid, std::string(kView));
    QVERIFY(v.camera && v.camera->isPerspective && !v.second);
    QVERIFY((v.camera->eye == Vector3{1, -2.5, 10}) && v.camera->fieldOfViewDegrees == 50);
    QCOMPARE(v.camera->aspect, version == Version::V30 ? 1.5 : 0.0);
    QVERIFY(v.saysVisibility && v.isDefaultVisible);
    QVERIFY((v.hints == issues::ViewHints{true, false, false}));
    QCOMPARE(v.selection.size() + v.exceptions.size() + v.colouring.size(), std::size_t{4});
    QCOMPARE(v.colouring[0].colour, std::string("80FF0000"));
    QVERIFY((v.foreign == std::vector<issues::ForeignName>{{kElement, "x", "7"}}));
    QVERIFY((v.lines == std::vector<issues::Line>{{{0, 0, 0}, {1, 1, 1}}}));
    QVERIFY((v.planes == std::vector<issues::ClippingPlane>{{{0, 0, 3}, {0, 0, 1}}}));
    QVERIFY((v.bitmaps == std::vector<issues::Bitmap>{{"png", "note.png", {0, 0, 0}, {0, 0, 1}, {0, 1, 0}, 2}}));
    QVERIFY(!i.viewpoints[1].camera->isPerspective && i.viewpoints[1].camera->viewHeightMetres == 12.5);
    QCOMPARE(topic->pictures.at(kView).read().value(), png());
    QCOMPARE(topic->pictures.at(kSecondView).read().value(), jpeg());
    QCOMPARE(topic->files.size(), std::size_t{2}); // the bitmap and the snippet
}

void TestBcfRoundTrip::theSameVersionLosesNothing()
{
    QFETCH(int, number);
    const auto entries = wholeBcf(versionOf(number));
    auto file = bcf::File::open(packed(entries));
    QVERIFY(file.has_value());
    std::string told;
    QVERIFY(bcf::convert(**file, versionOf(number), path("out.bcf"),
                         [&](auto& entry, auto& what) { told += entry + what; }));
    QCOMPARE(told, std::string());
    const auto again = entriesOf(path("out.bcf"));
    QCOMPARE(again.size(), entries.size());
    for (const auto& [name, bytes] : entries) {
        QVERIFY2(again.contains(name), name.c_str());
        if (bytes.starts_with("<?xml"))
            QVERIFY2(plain(again.at(name)) == plain(bytes),
                     (name + "\n" + plain(again.at(name)) + "\n" + plain(bytes)).c_str());
        else
            QVERIFY2(again.at(name) == bytes, name.c_str());
    }
    QCOMPARE(problems(path("out.bcf")), std::string());
}

void TestBcfRoundTrip::theUnknownSurvives()
{
    QFETCH(int, number);
    auto entries = wholeBcf(versionOf(number));
    const std::string m = markupOf(kTopic);
    edit(entries, m, "</Title>", "</Title><x:Cost xmlns:x=\"urn:x\" a=\"1\">12<b/></x:Cost>");
    edit(entries, m, "<Topic ", "<Topic Colour=\"red\" ");
    edit(entries, m, "<Comment Guid", "<Comment Mood=\"calm\" Guid");
    edit(entries, m, "<Markup>", "<Markup><Ledger><Row n=\"1\"/></Ledger>");
    edit(entries, std::string(kTopic) + "/viewpoint.bcfv", "<Lines>", "<Sun hour=\"9\"/><Lines>");
    edit(entries, "project.bcfp", "<Name>", "<Motto>x</Motto><Name>");
    entries[std::string(kTopic) + "/voice.ogg"] = "sound";
    entries["team.json"] = "{}";
    for (const Version to : {versionOf(number), versionOf(1 - number)}) {
        auto file = bcf::File::open(packed(entries));
        QVERIFY(file.has_value());
        QVERIFY(bcf::convert(**file, to, path("out.bcf"), {}));
        const auto again = entriesOf(path("out.bcf"));
        const std::string markup = again.at(m);
        for (const char* kept :
             {"<x:Cost xmlns:x=\"urn:x\" a=\"1\">12<b/></x:Cost>", "Colour=\"red\"", "Mood=\"calm\"", "<Row n=\"1\"/>"})
            QVERIFY2(markup.find(kept) != std::string::npos, (std::string(kept) + "\n" + markup).c_str());
        QVERIFY(again.at(std::string(kTopic) + "/viewpoint.bcfv").find("<Sun hour=\"9\"/>") != std::string::npos);
        QCOMPARE(again.at(std::string(kTopic) + "/voice.ogg"), std::string("sound"));
        QCOMPARE(again.at("team.json"), std::string("{}"));
        if (to == versionOf(number))
            QVERIFY(again.at("project.bcfp").find("<Motto>x</Motto>") != std::string::npos);
    }
}

void TestBcfRoundTrip::anEditChangesNothingElse()
{
    QFETCH(int, number);
    const Version version = versionOf(number);
    using Edit = void (*)(issues::Issue&);
    const std::pair<const char*, Edit> edits[] = {
        {"title", [](issues::Issue& i) { i.title = "Duct <meets> & \"beam\""; }},
        {"status", [](issues::Issue& i) { i.status = "Closed"; }},
        {"type", [](issues::Issue& i) { i.type = "Request"; }},
        {"priority emptied", [](issues::Issue& i) { i.priority.clear(); }},
        {"index", [](issues::Issue& i) { i.index = 8; }},
        {"due date emptied", [](issues::Issue& i) { i.dueAt.clear(); }},
        {"assignee", [](issues::Issue& i) { i.assignee = "eve@example.com"; }},
        {"stage", [](issues::Issue& i) { i.stage = "Site"; }},
        {"description emptied", [](issues::Issue& i) { i.description.clear(); }},
        {"a label gone", [](issues::Issue& i) { i.labels = {"Architecture"}; }},
        {"a label more", [](issues::Issue& i) { i.labels.push_back("Plumbing"); }},
        {"no labels", [](issues::Issue& i) { i.labels.clear(); }},
        {"a link more", [](issues::Issue& i) { i.links.push_back("https://example.com/9"); }},
        {"no related topic", [](issues::Issue& i) { i.related.clear(); }},
        {"no snippet", [](issues::Issue& i) { i.snippet.reset(); }},
        {"a document's description", [](issues::Issue& i) { i.documents[0].description = "Old plan"; }},
        {"an external document more",
         [](issues::Issue& i) {
             i.documents.push_back({kSecondView, true, "https://example.com/y", "", "Y", ""});
         }},
        {"no external document", [](issues::Issue& i) { i.documents.pop_back(); }},
        {"no model file", [](issues::Issue& i) { i.files.clear(); }},
        {"a comment more",
         [](issues::Issue& i) {
             i.comments.push_back({kDocument, "2024-05-01T00:00:00Z", "eve@example.com", "No", "", "", ""});
         }},
        {"a comment edited",
         [](issues::Issue& i) {
             i.comments[0].text = "See there";
             i.comments[0].modifiedAt = "2024-05-01T00:00:00Z";
         }},
        {"a comment deleted", [](issues::Issue& i) { i.comments.clear(); }},
        {"a viewpoint gone", [](issues::Issue& i) { i.viewpoints.pop_back(); }},
        {"a viewpoint more",
         [](issues::Issue& i) {
             issues::Viewpoint v = i.viewpoints[0];
             v.uuid = kDocument;
             v.index = 4;
             v.bitmaps.clear();
             v.snapshot = png(3, 3);
             i.viewpoints.push_back(v);
         }},
        {"modified",
         [](issues::Issue& i) {
             i.modifiedAt = "2024-06-01T00:00:00+02:00";
             i.modifiedBy = "eve@example.com";
         }},
    };
    auto entries = wholeBcf(version);
    edit(entries, markupOf(kTopic), "</Title>", "</Title><Extra>kept</Extra>");
    for (const auto& [name, change] : edits) {
        auto file = bcf::File::open(packed(entries));
        QVERIFY(file.has_value());
        bcf::Writer writer(version);
        writer.goOnFrom(**file);
        auto topic = (*file)->topic(0);
        QVERIFY(topic.has_value());
        const issues::Issue asRead = topic->issue;
        change(topic->issue);
        writer.add(*topic, asRead);
        writer.add(*(*file)->topic(1));
        QVERIFY2(writer.write(path("out.bcf")), name);
        const auto back = issuesOf(path("out.bcf"));
        QCOMPARE(back.size(), std::size_t{2});
        issues::Issue wanted = topic->issue;
        issues::Issue got = back[0];
        for (auto* one : {&wanted, &got}) {
            std::sort(one->viewpoints.begin(), one->viewpoints.end(), [](auto& a, auto& b) { return a.uuid < b.uuid; });
            for (issues::Viewpoint& v : one->viewpoints) {
                v.snapshot.clear(); // looked at below
                if (version == Version::V21 && v.camera)
                    v.camera->aspect = 0;
            }
        }
        QVERIFY2(got == wanted, name);
        for (const issues::Viewpoint& v : back[0].viewpoints)
            QVERIFY2(v.snapshot == (v.uuid == kView ? png() : v.uuid == kDocument ? png(3, 3) : jpeg()), name);
        const std::string said = problems(path("out.bcf"));
        QVERIFY2(said.find("Extra") != std::string::npos && std::count(said.begin(), said.end(), '\n') == 1,
                 (name + ("\n" + said)).c_str());
    }
}

void TestBcfRoundTrip::thereAndBack()
{
    QFETCH(int, number);
    const Version from = versionOf(number), to = versionOf(1 - number);
    auto file = bcf::File::open(packed(wholeBcf(from)));
    QVERIFY(file.has_value());
    QVERIFY(bcf::convert(**file, to, path("other.bcf"), {}));
    QVERIFY2(problems(path("other.bcf")).empty(), problems(path("other.bcf")).c_str());
    auto other = bcf::File::open(path("other.bcf"));
    QVERIFY(other.has_value());
    QCOMPARE((*other)->version(), to);
    QVERIFY(bcf::convert(**other, from, path("back.bcf"), {}));
    QCOMPARE(problems(path("back.bcf")), std::string());
    auto before = issuesOf(path("in.bcf")), after = issuesOf(path("back.bcf"));
    QCOMPARE(after.size(), before.size());
    for (std::size_t i = 0; i < after.size(); ++i) {
        // What the other version can not say is lost, and told: a test of its own.
        for (auto* one : {&before[i], &after[i]}) {
            one->serverId.clear();
            for (issues::DocumentReference& d : one->documents) {
                d.uuid.clear();
                d.target = d.isExternal ? d.target : d.name;
            }
            for (issues::Viewpoint& v : one->viewpoints)
                if (v.camera)
                    v.camera->aspect = 0;
        }
        if (from == Version::V21 && after[i].title == "Bare") { // 3.0 asks for both
            QCOMPARE(after[i].type, std::string("Issue"));
            QCOMPARE(after[i].status, std::string("Open"));
            after[i].type.clear();
            after[i].status.clear();
        }
        QVERIFY2(after[i] == before[i], after[i].title.c_str());
    }
    QCOMPARE(
        entriesOf(path("back.bcf")).contains(from == Version::V21 ? "plan.pdf" : "Documents/" + std::string(kDocument)),
        from == Version::V21);
}

void TestBcfRoundTrip::conversionsTellWhatTheyMap()
{
    const auto told = [&](Version from, const std::function<void(bcf::Entries&)>& change) {
        auto entries = wholeBcf(from);
        change(entries);
        std::string all;
        auto file = bcf::File::open(packed(entries));
        if (!file || !bcf::convert(**file, from == Version::V21 ? Version::V30 : Version::V21, path("out.bcf"),
                                   [&](auto& entry, auto& what) { all += entry + ": " + what + "\n"; }))
            return std::string("failed");
        return all + problems(path("out.bcf"));
    };
    const std::string m = markupOf(kTopic), p = std::string(kTopic) + "/viewpoint.bcfv", o = markupOf(kOther);
    const auto nothing = [](bcf::Entries&) {};
    const std::string up = told(Version::V21, nothing), down = told(Version::V30, nothing);
    for (const char* words : {"asks for a TopicType", "asks for a TopicStatus", "ExtensionSchema"})
        QVERIFY2(up.find(words) != std::string::npos, up.c_str());
    QVERIFY(up.find(o) != std::string::npos); // with the entry
    for (const char* words : {"ServerAssignedId", "AspectRatio"})
        QVERIFY2(down.find(words) != std::string::npos, down.c_str());
    const struct {
        Version from;
        std::string entry, before, after, words;
    } rows[] = {
        {Version::V30, p, "<FieldOfView>50", "<FieldOfView>90", "45 to 60"},
        {Version::V21, p, "</PerspectiveCamera>",
         "</PerspectiveCamera><OrthogonalCamera><CameraViewPoint><X>0</X><Y>0</Y><Z>0</Z></"
         "CameraViewPoint><CameraDirection><X>1</X><Y>0</Y><Z>0</Z></CameraDirection><CameraUpVector><X>0</X><Y>0</"
         "Y><Z>1</Z></CameraUpVector><ViewToWorldScale>3</ViewToWorldScale></OrthogonalCamera>",
         "one camera only"},
        {Version::V21, o, "<Title>Bare</Title>", "<Title/>", "text in Title"},
        {Version::V21, m, "<ReferencedDocument>../plan.pdf</ReferencedDocument>", "",
         "document reference that names nothing"},
    };
    for (const auto& row : rows) {
        const std::string all = told(row.from, [&](bcf::Entries& e) { edit(e, row.entry, row.before, row.after); });
        QVERIFY2(all.find(row.words) != std::string::npos, (row.words + "\n" + all).c_str());
    }
    // A field of view that 2.1 does not allow: what is 10 m away stays as large.
    (void)told(Version::V30, [&](bcf::Entries& e) { edit(e, p, "<FieldOfView>50", "<FieldOfView>90"); });
    const auto camera = issuesOf(path("out.bcf"))[0].viewpoints[0].camera;
    QVERIFY(camera.has_value());
    QCOMPARE(camera->fieldOfViewDegrees, 60.0);
    QCOMPARE(camera->eye.y, -2.5 + 10 - 10 / std::tan(std::acos(-1.0) / 6)); // tan 45 over tan 30
}

void TestBcfRoundTrip::sharedGuidsAreKeptApart()
{
    QFETCH(int, number);
    const Version version = versionOf(number);
    auto entries = wholeBcf(version);
    const std::string m = markupOf(kTopic);
    // A second topic of the same GUID in capitals, in a folder that differs in case only; two comments and viewpoints
    // too.
    const std::string capitals = "ABCDEF11-2222-3333-4444-555555555555", lower = "abcdef11-2222-3333-4444-555555555555";
    for (const std::string& folder : {capitals, lower}) {
        entries[folder + "/markup.bcf"] = entries.at(markupOf(kOther));
        edit(entries, folder + "/markup.bcf", kOther, folder);
        edit(entries, folder + "/markup.bcf", "Bare", folder);
    }
    const std::string second = std::string("Guid=\"") + kSecondView;
    edit(entries, m, second, std::string("Guid=\"") + "AAAAAAAA-0000-0000-0000-000000000001");
    const std::string comment =
        "<Comment Guid=\"" + std::string(kComment) +
        "\"><Date>2025-01-01T00:00:00Z</Date><Author>b</Author><Comment>Second</Comment></Comment>";
    edit(entries, m, "<Comment Guid", comment + "<Comment Guid");
    auto file = bcf::File::open(packed(entries));
    QVERIFY(file.has_value());
    std::set<std::string> uuids;
    for (std::size_t i = 0; i < (*file)->topicCount(); ++i) {
        const auto topic = (*file)->topic(i);
        QVERIFY(topic.has_value());
        uuids.insert(topic->issue.uuid);
        if (topic->issue.uuid == kTopic) {
            QCOMPARE(topic->issue.comments.size(), std::size_t{2});
            QVERIFY(topic->issue.comments[0].uuid != topic->issue.comments[1].uuid);
            QVERIFY(topic->issue.viewpoints[0].uuid != topic->issue.viewpoints[1].uuid);
        }
        if (topic->issue.title == lower)
            QCOMPARE(topic->issue.uuid, lower); // whose folder is called so keeps it
    }
    QCOMPARE(uuids.size(), std::size_t{4});
    std::string all;
    for (const Diagnostic& d : (*file)->diagnostics())
        all += d.entity + ": " + d.message + "\n";
    for (const std::string& words :
         {capitals + "/markup.bcf: Two topics share the GUID " + lower,
          m + ": Two of this topic share the GUID " + kComment, m + ": Two of this topic share the GUID " + kView})
        QVERIFY2(all.find(words) != std::string::npos, (words + "\n" + all).c_str());
    QVERIFY(bcf::convert(**file, version, path("out.bcf"), {}));
    QCOMPARE(problems(path("out.bcf")), std::string());
    QCOMPARE(issuesOf(path("out.bcf")).size(), std::size_t{4});
    // Written and read again they are the same ones.
    std::set<std::string> again;
    for (const issues::Issue& i : issuesOf(path("out.bcf")))
        again.insert(i.uuid);
    QCOMPARE(again, uuids);
}

void TestBcfRoundTrip::eitherFormIsRead()
{
    // Each version's body under the other version's flag.
    for (const Version version : {Version::V21, Version::V30}) {
        auto entries = wholeBcf(version), other = wholeBcf(version == Version::V21 ? Version::V30 : Version::V21);
        entries["bcf.version"] = other.at("bcf.version");
        auto right = issuesOf(packed(wholeBcf(version))), wrong = issuesOf(packed(entries));
        QCOMPARE(wrong.size(), right.size());
        for (auto* one : {&right[0], &wrong[0]}) {
            one->documents.clear(); // told, as each version names its own way
            one->status = "Open";
        }
        QVERIFY(wrong[0] == right[0]);
    }
}

void TestBcfRoundTrip::controlCharactersBecomeNone()
{
    QFETCH(int, number);
    const Version version = versionOf(number);
    issues::Issue issue;
    issue.uuid = kTopic;
    issue.title = "Bell \x07 and \xff\xfe half \xc3";
    issue.description = std::string("Null \0 inside", 13) + "\x1b[31m \xEF\xBF\xBE \xED\xA0\x80";
    issue.type = "Clash\x01";
    issue.createdAt = "2026-01-01T00:00:00Z";
    issue.createdBy = "A\x02";
    issue.labels = {"L\x03"};
    issue.comments = {{kComment, "2026-01-01T00:00:00Z", "B\x04", "Form\x0c feed & <b>", "", "", ""}};
    const auto bytes = bcf::write(std::span(&issue, 1), version, "p\x05", "P\x06");
    QVERIFY(bytes.has_value());
    QFile out(folder_.filePath("out.bcf"));
    QVERIFY(out.open(QIODevice::WriteOnly));
    out.write(bytes->data(), static_cast<qint64>(bytes->size()));
    out.close();
    QCOMPARE(problems(path("out.bcf")), std::string());
    QCOMPARE(issuesOf(path("out.bcf"))[0].comments[0].text, std::string("Form\xEF\xBF\xBD feed & <b>"));
    // And from a file that was written by somebody less careful.
    auto entries = wholeBcf(version);
    edit(entries, markupOf(kTopic), "See here", "See \x01 here &#2;");
    edit(entries, markupOf(kTopic), "IfcProject=", "IfcProject=\"x\" IfcProject=");
    auto file = bcf::File::open(packed(entries));
    QVERIFY(file && bcf::convert(**file, version, path("again.bcf"), {}));
    const std::string said = problems(path("again.bcf"));
    QVERIFY2(said.find("well-formed") == std::string::npos, said.c_str());
}

void TestBcfRoundTrip::aViewpointWithoutAFileGetsNone()
{
    QFETCH(int, number);
    auto entries = wholeBcf(versionOf(number));
    const std::string folder = std::string(kTopic) + "/";
    entries.erase(folder + "two.bcfv");
    entries.erase(folder + "two.jpg");
    edit(entries, markupOf(kTopic), "<Viewpoint>two.bcfv</Viewpoint><Snapshot>two.jpg</Snapshot>", "");
    for (const Version to : {Version::V21, Version::V30}) {
        auto file = bcf::File::open(packed(entries));
        QVERIFY(file.has_value());
        QVERIFY(bcf::convert(**file, to, path("out.bcf"), {}).has_value());
        const auto document = bcf::readFile(path("out.bcf"));
        QVERIFY(document.has_value());
        int count = 0;
        for (const issues::Issue& i : document->issues)
            for (const issues::Viewpoint& v : i.viewpoints)
                if (v.uuid == kSecondView) {
                    ++count;
                    QVERIFY(!v.camera && v.snapshot.empty());
                }
        QCOMPARE(count, 1);
        QVERIFY2(problems(path("out.bcf")).empty(), problems(path("out.bcf")).c_str());
    }
}

void TestBcfRoundTrip::foldersWithoutATopicAreTold()
{
    auto entries = wholeBcf(Version::V21);
    entries["12345678-0000-0000-0000-000000000009/snapshot.png"] = png();
    entries["lost/view.bcfv"] = "<VisualizationInfo/>";
    entries["minutes/notes.txt"] = "somebody's own"; // no topic was meant
    const auto file = bcf::File::open(packed(entries));
    QVERIFY(file.has_value());
    std::set<std::string> told;
    for (const Diagnostic& d : (*file)->diagnostics())
        told.insert(d.entity);
    QVERIFY(told.contains("12345678-0000-0000-0000-000000000009/markup.bcf") && told.contains("lost/markup.bcf"));
    QCOMPARE(told.size(), std::size_t{2});
}

void TestBcfRoundTrip::whatIsEncryptedIsRefused()
{
    // All of it: nothing can be said of such a file. One entry: the rest is read, and it is told.
    for (const bool isAll : {true, false}) {
        const auto file = packed(wholeBcf(Version::V21));
        int code = 0;
        zip_t* archive = zip_open(file.c_str(), 0, &code);
        QVERIFY(archive != nullptr);
        const zip_int64_t count = zip_get_num_entries(archive, 0);
        for (zip_int64_t i = 0; i < (isAll ? count : 1); ++i)
            QCOMPARE(zip_file_set_encryption(archive, static_cast<zip_uint64_t>(i), ZIP_EM_AES_256, "sesame"), 0);
        QCOMPARE(zip_close(archive), 0);
        const auto opened = bcf::File::open(file);
        QCOMPARE(opened.has_value(), !isAll);
        const auto says = [](const std::string& words) { return QString::fromStdString(words).contains("encrypted"); };
        if (isAll)
            QVERIFY2(says(opened.error().message), opened.error().message.c_str());
        else
            QVERIFY(std::any_of((*opened)->diagnostics().begin(), (*opened)->diagnostics().end(),
                                [&](const Diagnostic& d) { return says(d.message); }));
    }
}

QTEST_GUILESS_MAIN(TestBcfRoundTrip)
#include "test_bcf_round_trip.moc"
