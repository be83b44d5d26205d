#include <QTest>

#include "core/bcf/bcf.h"
#include "core/bcf/check.h"
#include "core/bcf/convert.h"
#include "core/bcf/file.h"
#include "support/bcf_samples.h"

#include <QTemporaryDir>

using namespace wendrix;
using namespace wendrix::test;
using bcf::Version;

/// Two files over the one both came from: nothing of either is left out, and what both changed is a conflict.
class TestBcfMerge : public QObject {
    Q_OBJECT
private slots:
    void equalFilesJoin_data() { versions(); }
    void equalFilesJoin();
    void bothSidesComeTogether_data() { versions(); }
    void bothSidesComeTogether();
    void withoutABase();
    void theUnknownOfBothSurvives();
    void aViewThatOnlyTheyChangedComesWithItsPicture_data() { versions(); }
    void aViewThatOnlyTheyChangedComesWithItsPicture();
    void whatEitherAllowsIsAllowed_data() { versions(); }
    void whatEitherAllowsIsAllowed();

private:
    static void versions()
    {
        QTest::addColumn<int>("ours");
        QTest::addColumn<int>("theirs");
        for (const int ours : {0, 1})
            for (const int theirs : {0, 1})
                QTest::addRow("%s and %s", ours == 0 ? "2.1" : "3.0", theirs == 0 ? "2.1" : "3.0") << ours << theirs;
    }
    [[nodiscard]] std::filesystem::path path(const char* name) const { return folder_.filePath(name).toStdString(); }
    std::filesystem::path packed(const bcf::Entries& entries, const char* name) const
    {
        zipTo(entries, path(name));
        return path(name);
    }
    QTemporaryDir folder_;
};

namespace {

Version versionOf(int number) { return number == 0 ? Version::V21 : Version::V30; }

issues::Issue topicOf(const std::filesystem::path& file, const char* uuid)
{
    const auto document = bcf::readFile(file);
    for (const issues::Issue& i : document ? document->issues : std::vector<issues::Issue>{})
        if (i.uuid == uuid)
            return i;
    return {};
}

} // namespace

void TestBcfMerge::equalFilesJoin()
{
    QFETCH(int, ours);
    QFETCH(int, theirs);
    // The same content: one file, and it again in the other version.
    const auto mine = packed(wholeBcf(versionOf(ours)), "ours.bcf");
    auto file = bcf::File::open(mine);
    QVERIFY(file && bcf::convert(**file, versionOf(theirs), path("theirs.bcf"), {}));
    const auto merge = bcf::mergeFiles(mine, path("theirs.bcf"), mine, path("out.bcf"), {});
    QVERIFY(merge.has_value());
    std::string conflicts;
    for (const auto& c : merge->conflicts)
        conflicts += c.difference.field + " " + c.difference.ours + " | " + c.difference.theirs + "\n";
    QVERIFY2(merge->conflicts.empty(), conflicts.c_str());
    QVERIFY(merge->added.empty());
    QVERIFY2(problems(path("out.bcf")).empty(), problems(path("out.bcf")).c_str());
    QCOMPARE(topicOf(path("out.bcf"), kTopic).comments.size(), std::size_t{1});
    QCOMPARE(topicOf(path("out.bcf"), kTopic).documents.size(), std::size_t{2});
}

void TestBcfMerge::bothSidesComeTogether()
{
    QFETCH(int, ours);
    QFETCH(int, theirs);
    const auto base = packed(wholeBcf(versionOf(theirs)), "base.bcf");
    const std::string m = markupOf(kTopic), folder = std::string(kTopic) + "/";
    auto back = wholeBcf(versionOf(theirs));
    edit(back, m, "<Title>Duct meets beam</Title>", "<Title>Duct under beam</Title>");
    edit(back, m, "TopicStatus=\"Open\"", "TopicStatus=\"Closed\"");
    edit(back, m, "<Stage>Design</Stage>", "");
    edit(back, m, "See here", "See there");
    const std::string third = "99999999-0000-0000-0000-000000000001";
    const std::string comment =
        "<Comment Guid=\"" + third +
        "\"><Date>2024-06-01T00:00:00Z</Date><Author>eve@example.com</Author><Comment>Lowered</Comment></Comment>";
    edit(back, m, "<Comment Guid", comment + "<Comment Guid");
    const std::string item = theirs == 0 ? "Viewpoints" : "ViewPoint", view = "99999999-0000-0000-0000-000000000002";
    edit(back, m, "<" + item + " Guid",
         "<" + item + " Guid=\"" + view + "\"><Viewpoint>three.bcfv</Viewpoint><Snapshot>three.png</Snapshot></" +
             item + "><" + item + " Guid");
    back[folder + "three.bcfv"] = back.at(folder + "viewpoint.bcfv");
    edit(back, folder + "three.bcfv", kView, view);
    back[folder + "three.png"] = png(3, 3);
    const std::string added = "99999999-1111-0000-0000-000000000001";
    back[added + "/markup.bcf"] = back.at(markupOf(kOther));
    edit(back, added + "/markup.bcf", kOther, added);
    packed(back, "theirs.bcf");
    auto mine = wholeBcf(versionOf(ours));
    edit(mine, m, "<Priority>High</Priority>", "<Priority>Low</Priority>");
    edit(mine, m, "TopicStatus=\"Open\"", "TopicStatus=\"In progress\"");
    packed(mine, "ours.bcf");

    const auto merge = bcf::mergeFiles(path("ours.bcf"), path("theirs.bcf"), base, path("out.bcf"), {});
    QVERIFY(merge.has_value());
    QCOMPARE(merge->added, std::vector<std::string>{added});
    QCOMPARE(merge->joined, std::vector<std::string>{kTopic});
    QCOMPARE(merge->conflicts.size(), std::size_t{1});
    const auto& conflict = merge->conflicts[0];
    QCOMPARE(conflict.topic, std::string(kTopic));
    QVERIFY((conflict.difference == issues::Difference{"TopicStatus", "", "Open", "In progress", "Closed",
                                                       issues::Difference::Verdict::Conflict}));
    const issues::Issue out = topicOf(path("out.bcf"), kTopic);
    QCOMPARE(out.title, std::string("Duct under beam"));
    QCOMPARE(out.status, std::string("In progress"));
    QCOMPARE(out.priority, std::string("Low"));
    QCOMPARE(out.stage, std::string());
    QCOMPARE(out.comments.size(), std::size_t{2});
    for (const issues::Comment& c : out.comments)
        QCOMPARE(c.text, std::string(c.uuid == third ? "Lowered" : "See there"));
    QCOMPARE(out.viewpoints.size(), std::size_t{3});
    for (const issues::Viewpoint& v : out.viewpoints)
        if (v.uuid == view)
            QVERIFY(v.snapshot == png(3, 3) && v.camera && v.bitmaps.size() == 1 && v.planes.size() == 1);
    QCOMPARE(topicOf(path("out.bcf"), added.c_str()).title, std::string("Bare"));
    QVERIFY2(problems(path("out.bcf")).empty(), problems(path("out.bcf")).c_str());
}

void TestBcfMerge::withoutABase()
{
    auto mine = wholeBcf(Version::V21), back = mine;
    edit(back, markupOf(kTopic), "<Title>Duct meets beam</Title>", "<Title>Duct under beam</Title>");
    edit(back, markupOf(kTopic), "See here", "See there");
    edit(back, markupOf(kTopic), "<Labels>Structure</Labels>", "<Labels>Structure</Labels><Labels>Fire</Labels>");
    const auto merge = bcf::mergeFiles(packed(mine, "ours.bcf"), packed(back, "theirs.bcf"), {}, path("out.bcf"), {});
    QVERIFY(merge.has_value());
    QCOMPARE(merge->conflicts.size(), std::size_t{2});
    QCOMPARE(merge->conflicts[0].difference.field, std::string("Title"));
    QCOMPARE(merge->conflicts[1].difference.field, std::string("Comment"));
    QCOMPARE(topicOf(path("out.bcf"), kTopic).title, std::string("Duct meets beam"));
    QCOMPARE(topicOf(path("out.bcf"), kTopic).labels.size(), std::size_t{3}); // lists are sets
    QVERIFY2(problems(path("out.bcf")).empty(), problems(path("out.bcf")).c_str());
}

void TestBcfMerge::aViewThatOnlyTheyChangedComesWithItsPicture()
{
    QFETCH(int, ours);
    QFETCH(int, theirs);
    const auto base = packed(wholeBcf(versionOf(ours)), "base.bcf");
    auto back = wholeBcf(versionOf(theirs));
    const std::string folder = std::string(kTopic) + "/";
    edit(back, folder + "viewpoint.bcfv", "<FieldOfView>50", "<FieldOfView>55");
    back[folder + "snapshot.png"] = png(7, 5);
    const auto merge = bcf::mergeFiles(packed(wholeBcf(versionOf(ours)), "ours.bcf"), packed(back, "theirs.bcf"), base,
                                       path("out.bcf"), {});
    QVERIFY(merge.has_value() && merge->conflicts.empty());
    const issues::Issue out = topicOf(path("out.bcf"), kTopic);
    for (const issues::Viewpoint& v : out.viewpoints)
        if (v.uuid == kView)
            QVERIFY(v.camera && std::abs(v.camera->fieldOfViewDegrees - 55) < 1e-9 && v.snapshot == png(7, 5));
        else
            QVERIFY(v.snapshot == jpeg());
    QVERIFY2(problems(path("out.bcf")).empty(), problems(path("out.bcf")).c_str());
}

void TestBcfMerge::whatEitherAllowsIsAllowed()
{
    QFETCH(int, ours);
    QFETCH(int, theirs);
    auto back = wholeBcf(versionOf(theirs));
    if (theirs == 0)
        edit(back, "extensions.xsd", "<xs:enumeration value=\"Structure\"/>",
             "<xs:enumeration value=\"Structure\"/><xs:enumeration value=\"Vaults\"/>");
    else
        edit(back, "extensions.xml", "<TopicLabel>Structure</TopicLabel>",
             "<TopicLabel>Structure</TopicLabel><TopicLabel>Vaults</TopicLabel>");
    QVERIFY(bcf::mergeFiles(packed(wholeBcf(versionOf(ours)), "ours.bcf"), packed(back, "theirs.bcf"), {},
                            path("out.bcf"), {}));
    const auto file = bcf::File::open(path("out.bcf"));
    QVERIFY(file.has_value());
    QCOMPARE((*file)->extensions().labels, (std::vector<std::string>{"Structure", "Architecture", "Vaults"}));
    QVERIFY2(problems(path("out.bcf")).empty(), problems(path("out.bcf")).c_str());
}

void TestBcfMerge::theUnknownOfBothSurvives()
{
    auto mine = wholeBcf(Version::V21), back = mine;
    edit(mine, markupOf(kTopic), "</Topic>", "<Cost>12</Cost></Topic>");
    edit(back, markupOf(kTopic), "</Topic>", "<Mood>calm</Mood></Topic>");
    mine[std::string(kTopic) + "/voice.ogg"] = "ours";
    back[std::string(kTopic) + "/voice.ogg"] = "theirs, longer";
    back["minutes.txt"] = "x";
    const auto base = packed(wholeBcf(Version::V21), "base.bcf");
    QVERIFY(bcf::mergeFiles(packed(mine, "ours.bcf"), packed(back, "theirs.bcf"), base, path("out.bcf"), {}));
    const auto archive = bcf::Archive::open(path("out.bcf"));
    QVERIFY(archive.has_value());
    const auto read = [&](const std::string& entry) {
        const auto* found = (*archive)->find(entry);
        return found != nullptr ? (*archive)->read(*found).value_or("damaged") : std::string("missing");
    };
    const std::string markup = read(markupOf(kTopic));
    QVERIFY(markup.find("<Cost>12</Cost>") != std::string::npos &&
            markup.find("<Mood>calm</Mood>") != std::string::npos);
    QCOMPARE(read(std::string(kTopic) + "/voice.ogg"), std::string("ours"));
    QCOMPARE(read(std::string(kTopic) + "/2-voice.ogg"), std::string("theirs, longer"));
    QCOMPARE(read("minutes.txt"), std::string("x"));
}

QTEST_GUILESS_MAIN(TestBcfMerge)
#include "test_bcf_merge.moc"
