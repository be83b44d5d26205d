#include <QTest>

#include "core/base/guid.h"
#include "core/bcf/archive.h"
#include "core/bcf/bcf.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

using namespace wendrix;

/// BCF 2.1: what is written keeps to the schema and reads back equal; what comes from outside is not trusted.
class TestBcf : public QObject {
    Q_OBJECT
private slots:
    void readsBackEqual();
    void writesTheSameBytesAgain();
    void keepsToTheSchema();
    void reads30();
    void refusesWhatIsNoBcf_data();
    void refusesWhatIsNoBcf();
    void aBrokenTopicCostsOnlyItself();
    void hostileEntriesArePassedOver_data();
    void hostileEntriesArePassedOver();
};

namespace {

ElementRef named(const char* guid) { return {0, "", guid, 0}; }

// A 1 x 1 picture.
const QByteArray kPng = QByteArray::fromBase64(
    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");

issues::Issue sample()
{
    issues::Issue i;
    i.uuid = uuidFromText("issue");
    i.title = "Duct <crosses> 3 beams & a \"tray\"";
    i.description = "Two lines:\nÖffnung 300×300 fehlt.";
    i.type = "Clash";
    i.status = issues::status::kInProgress;
    i.priority = "High";
    i.stage = "Design coordination";
    i.assignee = "Ventilation";
    i.createdBy = "Ines Varga";
    i.createdAt = "2026-11-16T17:42:00Z";
    i.modifiedBy = "T. Okafor";
    i.modifiedAt = "2026-11-17T08:40:00+01:00";
    i.dueAt = "2026-11-28T00:00:00Z";
    i.labels = {"Structure × Ventilation", "Level 2"};
    issues::Viewpoint v;
    v.uuid = uuidFromText("viewpoint");
    v.camera = issues::Camera{{431208.1234567891, -0.1, 1.0 / 3}, normalised({1, 2, -0.5}), {}, true, 50, 10};
    v.camera->up = normalised(cross(cross(v.camera->direction, {0, 0, 1}), v.camera->direction));
    v.selection = {named("3rPX_Juz59peXXY6wDJl18"), named("16DNNqzfP2thtfaOflvsKA")};
    v.exceptions = {named("25fsbPyk15VvuXI$yNKenK")};
    v.colouring = {{"FF0E8C86", {named("3rPX_Juz59peXXY6wDJl18")}}, {"FFC23B72", {named("16DNNqzfP2thtfaOflvsKA")}}};
    v.planes = {{{1, 2, 3}, {0, 0, 1}}};
    v.snapshot.assign(kPng.constData(), static_cast<std::size_t>(kPng.size()));
    v.index = 0;
    issues::Viewpoint second;
    second.uuid = uuidFromText("second");
    second.index = 1;
    i.viewpoints = {v, second};
    i.files = {{"3rPX_Juz59peXXY6wDJl18", "", "MSS-VLW-VEN-P01.ifc", "2026-10-15T14:10:00Z", "", true}};
    i.comments = {{uuidFromText("c1"), "2026-11-16T18:00:00Z", "Ines Varga", "Lower it by 120 mm?", v.uuid},
                  {uuidFromText("c2"), "2026-11-17T08:40:00Z", "T. Okafor", "", ""}};
    return i;
}

std::string written(bcf::Version version = bcf::Version::V21)
{
    const issues::Issue issue = sample();
    return bcf::write(std::span(&issue, 1), version, uuidFromText("project"), "Marrowfield Seed Store").value();
}

std::string packed(std::initializer_list<std::pair<const std::string, std::string>> entries)
{
    return bcf::pack(bcf::Entries(entries)).value();
}

} // namespace

void TestBcf::readsBackEqual()
{
    const auto document = bcf::read(written());
    QVERIFY(document.has_value());
    QCOMPARE(document->version, bcf::Version::V21);
    QCOMPARE(document->projectName, std::string("Marrowfield Seed Store"));
    QVERIFY(document->diagnostics.empty());
    QCOMPARE(document->issues.size(), std::size_t{1});
    QVERIFY(document->issues[0] == sample());
}

void TestBcf::writesTheSameBytesAgain() { QVERIFY(written() == written()); }

void TestBcf::keepsToTheSchema()
{
    const QString schemas = WENDRIX_BCF_SCHEMAS;
    const auto entries = bcf::unpack(written());
    QVERIFY(entries.has_value());
    QTemporaryDir folder;
    int checked = 0;
    for (const auto& [name, bytes] : *entries) {
        const QString file = QString::fromStdString(name);
        const QString schema = file == "bcf.version"         ? "version"
                               : file == "project.bcfp"      ? "project"
                               : file.endsWith(".bcfv")      ? "visinfo"
                               : file.endsWith("markup.bcf") ? "markup"
                                                             : QString();
        if (schema.isEmpty())
            continue;
        QFile out(folder.path() + "/entry.xml");
        QVERIFY(out.open(QIODevice::WriteOnly));
        out.write(bytes.data(), static_cast<qint64>(bytes.size()));
        out.close();
        QProcess xmllint;
        xmllint.start("xmllint",
                      {"--noout", "--nonet", "--schema", schemas + "/2.1/" + schema + ".xsd", out.fileName()});
        QVERIFY2(xmllint.waitForFinished() && xmllint.exitCode() == 0, xmllint.readAllStandardError().constData());
        ++checked;
    }
    QCOMPARE(checked, 5); // version, project, markup and two viewpoints
}

void TestBcf::reads30()
{
    const std::string uuid = uuidFromText("t");
    const auto document = bcf::read(packed(
        {{"bcf.version", "<Version VersionId=\"3.0\"/>"},
         {uuid + "/markup.bcf",
          "<Markup><Topic Guid=\"" + uuid +
              "\" TopicType=\"Clash\" TopicStatus=\"Open\"><Title>T</Title>"
              "<Labels><Label>a</Label><Label>b</Label></Labels><CreationDate>2026-01-01T00:00:00Z</"
              "CreationDate><CreationAuthor>x</CreationAuthor>"
              "<Comments><Comment Guid=\"" +
              uuidFromText("c") +
              "\"><Date>2026-01-02T00:00:00Z</Date><Author>y</Author><Comment>hi</Comment></Comment></Comments>"
              "<Viewpoints><ViewPoint Guid=\"" +
              uuidFromText("v") + "\"><Viewpoint>v.bcfv</Viewpoint></ViewPoint></Viewpoints></Topic></Markup>"},
         {uuid + "/v.bcfv",
          "<VisualizationInfo Guid=\"" + uuidFromText("v") +
              "\"><Components><Selection><Component IfcGuid=\"3rPX_Juz59peXXY6wDJl18\"/></Selection>"
              "<Visibility DefaultVisibility=\"true\"/><Coloring><Color Color=\"FF0E8C86\"><Components><Component "
              "IfcGuid=\"3rPX_Juz59peXXY6wDJl18\"/></Components></Color></Coloring></Components>"
              "<PerspectiveCamera><CameraViewPoint><X>1</X><Y>2</Y><Z>3</Z></CameraViewPoint><CameraDirection><X>0</"
              "X><Y>5</Y><Z>0</Z></CameraDirection>"
              "<CameraUpVector><X>0</X><Y>1</Y><Z>1</Z></CameraUpVector><FieldOfView>60</FieldOfView><AspectRatio>1.5</"
              "AspectRatio></PerspectiveCamera></VisualizationInfo>"}}));
    QVERIFY(document && document->issues.size() == 1);
    const issues::Issue& i = document->issues[0];
    QVERIFY((i.labels == std::vector<std::string>{"a", "b"}));
    QCOMPARE(i.comments[0].text, std::string("hi"));
    QCOMPARE(i.viewpoints[0].colouring[0].elements.size(), std::size_t{1});
    QVERIFY((i.viewpoints[0].camera->direction == Vector3{0, 1, 0})); // made unit
    QVERIFY((i.viewpoints[0].camera->up == Vector3{0, 0, 1}));        // straightened
}

void TestBcf::refusesWhatIsNoBcf_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("code");
    const auto row = [](const char* name, const std::string& bytes, const char* code) {
        QTest::newRow(name) << QByteArray(bytes.data(), static_cast<qsizetype>(bytes.size())) << code;
    };
    row("empty", "", "bcf.not-an-archive");
    row("text", "this is no zip", "bcf.not-an-archive");
    row("cut in half", written().substr(0, 700), "bcf.not-an-archive");
    row("another kind of zip", packed({{"word/document.xml", "<x/>"}}), "bcf.not-bcf");
}

void TestBcf::refusesWhatIsNoBcf()
{
    QFETCH(QByteArray, bytes);
    const auto document = bcf::read({bytes.constData(), static_cast<std::size_t>(bytes.size())});
    QVERIFY(!document.has_value());
    QTEST(QString::fromUtf8(document.error().code.name.data()), "code");
}

void TestBcf::aBrokenTopicCostsOnlyItself()
{
    auto entries = bcf::unpack(written()).value();
    entries["11111111-1111-1111-1111-111111111111/markup.bcf"] = "<Markup><Topic>";
    entries["22222222-2222-2222-2222-222222222222/markup.bcf"] =
        "<!DOCTYPE x [<!ENTITY a 'b'>]><Markup><Topic Guid='x'/></Markup>";
    const auto document = bcf::read(bcf::pack(entries).value());
    QVERIFY(document.has_value());
    QCOMPARE(document->issues.size(), std::size_t{1});
    QCOMPARE(document->diagnostics.size(), std::size_t{2});
    QCOMPARE(document->diagnostics[0].entity, std::string("11111111-1111-1111-1111-111111111111/markup.bcf"));
}

void TestBcf::hostileEntriesArePassedOver_data()
{
    QTest::addColumn<QByteArray>("name");
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("words");
    const std::string topic = uuidFromText("hostile") + "/";
    const auto row = [](const char* title, const std::string& name, const std::string& bytes, const char* words) {
        QTest::newRow(title) << QByteArray::fromStdString(name) << QByteArray::fromStdString(bytes) << QString(words);
    };
    std::string deep = "<Markup><Topic>", bomb = "<!DOCTYPE a [<!ENTITY a \"aaaaaaaaaa\">";
    for (int i = 0; i < 20'000; ++i)
        deep += "<a>";
    for (char c = 'b'; c < 'z'; ++c)
        bomb += std::string("<!ENTITY ") + c + " \"&" + char(c - 1) + ";&" + char(c - 1) + ";\">";
    row("a name that climbs out", "../evil.txt", "x", "leads out");
    row("an absolute name", "/etc/evil", "x", "absolute path");
    row("a drive", "C:/evil", "x", "absolute path");
    row("a control character", "a\nb", "x", "control characters");
    row("nested too deep", topic + "markup.bcf", deep, "");
    row(
        "closed, and nested too deep", topic + "markup.bcf",
        deep +
            [] {
                std::string s;
                for (int i = 0; i < 20'000; ++i)
                    s += "</a>";
                return s + "</Topic></Markup>";
            }(),
        "nested deeper");
    row("entities that double", topic + "markup.bcf", bomb + "]><Markup><Topic Guid=\"&y;\"/></Markup>",
        "document type");
    row(
        "very many elements", topic + "markup.bcf",
        "<Markup>" +
            [] {
                std::string s;
                for (int i = 0; i < 4'100'000; ++i)
                    s += "<a/>";
                return s;
            }() +
            "</Markup>",
        "");
    row("a few kilobytes that unpack to very much", topic + "markup.bcf", std::string(60u << 20, ' '), "");
}

void TestBcf::hostileEntriesArePassedOver()
{
    QFETCH(QByteArray, name);
    QFETCH(QByteArray, bytes);
    QFETCH(QString, words);
    auto entries = bcf::unpack(written()).value();
    entries[name.toStdString()] = bytes.toStdString();
    const auto document = bcf::read(bcf::pack(entries).value());
    QVERIFY(document.has_value());
    QCOMPARE(document->issues.size(), std::size_t{1}); // the sound one
    QVERIFY(document->issues[0] == sample());
    QVERIFY(std::any_of(document->diagnostics.begin(), document->diagnostics.end(), [&](const Diagnostic& d) {
        return QString::fromStdString(d.message).contains(words) &&
               (QByteArray::fromStdString(d.entity) == name || name.contains('\n'));
    }));
}

QTEST_GUILESS_MAIN(TestBcf)
#include "test_bcf.moc"
