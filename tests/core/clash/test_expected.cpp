#include <QTest>

#include "core/clash/engine.h"
#include "core/clash/untested.h"
#include "support/ifc_text.h"
#include "support/made_model.h"

#include <regex>

using namespace wendrix;
using clash::Meeting;
using clash::Meetings;
using test::MadeModel;

/// Who is expected to meet whom, as a file's relations say it, and what that takes out of what is found.
class TestExpected : public QObject {
    Q_OBJECT
private slots:
    void relationsSayIt_data();
    void relationsSayIt();
    void rulesHaveNames();
    void expectedPairsAreLeftOutAndCounted();
    void whatHasNoBodyIsTold_data();
    void whatHasNoBodyIsTold();
    void piecesOfARunMayOverlapAtTheirEnds_data();
    void piecesOfARunMayOverlapAtTheirEnds();
    void aProvidedHoleLetsThroughWhatFits_data();
    void aProvidedHoleLetsThroughWhatFits();
};

namespace {

/// The model's text with lines added, in which @Name is the number of an element.
std::string withLines(const MadeModel& made, std::string lines)
{
    std::string text = made.text();
    for (const MadeModel::Box& box : made.boxes) {
        const std::size_t at = text.find("'" + MadeModel::guidOf(box.name) + "'");
        const std::size_t hash = text.rfind('#', at), equals = text.find('=', hash);
        const std::string number = text.substr(hash, equals - hash);
        lines = std::regex_replace(lines, std::regex("@" + box.name + "\\b"), number);
    }
    text.insert(text.rfind("ENDSEC;"), lines + "\n");
    return text;
}

MadeModel threeBoxes()
{
    MadeModel made;
    made.boxes = {{"A", {0, 0, 0}, {1, 1, 1}, "IFCWALL"},
                  {"B", {0.5, 0, 0}, {1.5, 1, 1}, "IFCDUCTSEGMENT"},
                  {"C", {0.7, 0, 0}, {1.2, 1, 1}, "IFCBEAM"}};
    return made;
}

ifc::ElementIndex named(const ifc::Model& model, const std::string& name)
{
    for (ifc::ElementIndex i = 0; i < model.elements().size(); ++i)
        if (model.displayName(model.elements()[i]) == name)
            return i;
    qFatal("no such element");
}

federation::Member memberOf(const std::string& text)
{
    static std::vector<std::unique_ptr<test::Read>> kept; // members share what was read
    kept.push_back(test::readText(text));
    federation::Member member;
    member.model = kept.back()->model;
    member.geometry = kept.back()->geometry;
    return member;
}

} // namespace

void TestExpected::relationsSayIt_data()
{
    QTest::addColumn<QByteArray>("lines");
    QTest::addColumn<QByteArray>("rule"); // between A and B; empty: none
    const QByteArray ports = "#9001=IFCDISTRIBUTIONPORT('p1',$,$,$,$,$,$,.SOURCE.,$,$);"
                             "#9002=IFCDISTRIBUTIONPORT('p2',$,$,$,$,$,$,.SINK.,$,$);"
                             "#9005=IFCRELCONNECTSPORTS('r5',$,$,$,#9001,#9002,$);";
    const QByteArray assemblies = "#9001=IFCELEMENTASSEMBLY('a1',$,'Whole',$,$,$,$,$,$,$);"
                                  "#9002=IFCELEMENTASSEMBLY('a2',$,'Inner',$,$,$,$,$,$,$);";
    // clang-format off
    QTest::newRow("nothing") << QByteArray() << QByteArray();
    QTest::newRow("fills its opening") << QByteArray("#9001=IFCOPENINGELEMENT('o',$,$,$,$,$,$,$,$);#9002=IFCRELVOIDSELEMENT('v',$,$,$,@A,#9001);#9003=IFCRELFILLSELEMENT('f',$,$,$,#9001,@B);") << QByteArray("openings");
    QTest::newRow("another fills it") << QByteArray("#9001=IFCOPENINGELEMENT('o',$,$,$,$,$,$,$,$);#9002=IFCRELVOIDSELEMENT('v',$,$,$,@A,#9001);#9003=IFCRELFILLSELEMENT('f',$,$,$,#9001,@C);") << QByteArray();
    QTest::newRow("fills the opening of the whole") << assemblies + "#9003=IFCOPENINGELEMENT('o',$,$,$,$,$,$,$,$);#9004=IFCRELVOIDSELEMENT('v',$,$,$,@C,#9003);#9006=IFCRELFILLSELEMENT('f',$,$,$,#9003,@B);#9007=IFCRELAGGREGATES('r',$,$,$,@C,(@A));" << QByteArray("openings");
    QTest::newRow("by ports of their own") << ports + "#9003=IFCRELCONNECTSPORTTOELEMENT('r3',$,$,$,#9001,@A);#9004=IFCRELCONNECTSPORTTOELEMENT('r4',$,$,$,#9002,@B);" << QByteArray("connected");
    QTest::newRow("by nested ports") << ports + "#9003=IFCRELNESTS('r3',$,$,$,@A,(#9001));#9004=IFCRELNESTS('r4',$,$,$,@B,(#9002));" << QByteArray("connected");
    QTest::newRow("ports of another") << ports + "#9003=IFCRELNESTS('r3',$,$,$,@A,(#9001));#9004=IFCRELNESTS('r4',$,$,$,@C,(#9002));" << QByteArray();
    QTest::newRow("ports that are not connected") << QByteArray("#9001=IFCDISTRIBUTIONPORT('p1',$,$,$,$,$,$,.SOURCE.,$,$);#9002=IFCDISTRIBUTIONPORT('p2',$,$,$,$,$,$,.SINK.,$,$);#9003=IFCRELNESTS('r3',$,$,$,@A,(#9001));#9004=IFCRELNESTS('r4',$,$,$,@B,(#9002));") << QByteArray();
    QTest::newRow("elements connected") << QByteArray("#9001=IFCRELCONNECTSELEMENTS('r',$,$,$,$,@B,@A);") << QByteArray("connected");
    QTest::newRow("paths connected") << QByteArray("#9001=IFCRELCONNECTSPATHELEMENTS('r',$,$,$,$,@A,@B,(),(),.ATEND.,.ATSTART.);") << QByteArray("connected");
    QTest::newRow("what realizes a connection") << QByteArray("#9001=IFCRELCONNECTSWITHREALIZINGELEMENTS('r',$,$,$,$,@A,@C,(@B),$);") << QByteArray("connected");
    QTest::newRow("parts of one whole") << assemblies + "#9003=IFCRELAGGREGATES('r',$,$,$,#9001,(@A,@B));" << QByteArray("assembly");
    QTest::newRow("the whole and its part") << QByteArray("#9003=IFCRELAGGREGATES('r',$,$,$,@A,(@B));") << QByteArray("assembly");
    QTest::newRow("nested") << QByteArray("#9003=IFCRELNESTS('r',$,$,$,@B,(@A));") << QByteArray("assembly");
    QTest::newRow("parts of parts") << assemblies + "#9003=IFCRELAGGREGATES('r',$,$,$,#9001,(@A,#9002));#9004=IFCRELAGGREGATES('s',$,$,$,#9002,(@B));" << QByteArray("assembly");
    QTest::newRow("of two wholes") << assemblies + "#9003=IFCRELAGGREGATES('r',$,$,$,#9001,(@A));#9004=IFCRELAGGREGATES('s',$,$,$,#9002,(@B));" << QByteArray();
    QTest::newRow("parts of a place") << QByteArray("#9001=IFCBUILDINGSTOREY('s',$,'S',$,$,$,$,$,.ELEMENT.,0.);#9003=IFCRELAGGREGATES('r',$,$,$,#9001,(@A,@B));") << QByteArray();
    QTest::newRow("wholes in a circle") << QByteArray("#9003=IFCRELAGGREGATES('r',$,$,$,@A,(@C));#9004=IFCRELAGGREGATES('s',$,$,$,@C,(@A));") << QByteArray();
    QTest::newRow("its covering") << QByteArray("#9001=IFCRELCOVERSBLDGELEMENTS('r',$,$,$,@A,(@C,@B));") << QByteArray("covering");
    QTest::newRow("a covering of the whole") << QByteArray("#9001=IFCRELCOVERSBLDGELEMENTS('r',$,$,$,@C,(@B));#9003=IFCRELAGGREGATES('s',$,$,$,@C,(@A));") << QByteArray("covering");
    QTest::newRow("two coverings of one") << QByteArray("#9001=IFCRELCOVERSBLDGELEMENTS('r',$,$,$,@C,(@A,@B));") << QByteArray();
    QTest::newRow("controls its flow") << QByteArray("#9001=IFCRELFLOWCONTROLELEMENTS('r',$,$,$,(@B),@A);") << QByteArray("hosted");
    QTest::newRow("projects from it") << QByteArray("#9001=IFCRELPROJECTSELEMENT('r',$,$,$,@A,@B);") << QByteArray("hosted");
    QTest::newRow("connected and of one whole: connected counts") << QByteArray("#9001=IFCRELCONNECTSELEMENTS('r',$,$,$,$,@B,@A);#9003=IFCRELAGGREGATES('s',$,$,$,@A,(@B));") << QByteArray("connected");
    QTest::newRow("references that lead nowhere") << QByteArray("#9001=IFCRELCONNECTSELEMENTS('r',$,$,$,$,#777777,@A);#9002=IFCRELAGGREGATES('s',$,$,$,#888888,(#999999,@A));") << QByteArray();
    // clang-format on
}

void TestExpected::relationsSayIt()
{
    const QFETCH(QByteArray, lines);
    QFETCH(QByteArray, rule);
    const auto read = test::readText(withLines(threeBoxes(), lines.toStdString()));
    const ifc::Model& model = *read->model;
    const clash::ExpectedMeetings expected(model);
    const ifc::ElementIndex a = named(model, "A"), b = named(model, "B");
    for (const auto& [one, other] : {std::pair{a, b}, std::pair{b, a}}) {
        const auto found = expected.between(one, other, Meetings::all());
        QCOMPARE(found ? QByteArray::fromStdString(std::string(clash::nameOf(*found))) : QByteArray(), rule);
        QVERIFY(!expected.between(one, other, Meetings::none()));
        if (!found)
            continue;
        Meetings others = Meetings::all();
        others.set(*found, false);
        QVERIFY(expected.between(one, other, others) != found);
    }
}

void TestExpected::rulesHaveNames()
{
    for (const Meeting m : clash::kMeetings)
        QVERIFY(clash::meetingFrom(clash::nameOf(m)) == m);
    QVERIFY(!clash::meetingFrom("ducts") && !clash::meetingFrom(""));
}

void TestExpected::expectedPairsAreLeftOutAndCounted()
{
    const std::vector<federation::Member> members{
        memberOf(withLines(threeBoxes(), "#9001=IFCRELCOVERSBLDGELEMENTS('r',$,$,$,@A,(@B));"))};
    const std::uint32_t own[] = {0};
    const auto parts = clash::partsOf(members, own);
    Progress progress;
    clash::Question question{clash::Kind::Hard, 0.001};
    QCOMPARE(clash::findClashes(members, parts, parts, question, progress).clashes.size(), std::size_t{3});
    question.ignored = Meetings::all();
    const clash::Findings findings = clash::findClashes(members, parts, parts, question, progress);
    QCOMPARE(findings.clashes.size(), std::size_t{2});
    QCOMPARE(findings.expected.size(), std::size_t{1});
    QCOMPARE(findings.expected[0].rule, Meeting::Covering);
    QCOMPARE(findings.pairsTested, std::size_t{3});
    question.ignored.set(Meeting::Covering, false);
    QCOMPARE(clash::findClashes(members, parts, parts, question, progress).clashes.size(), std::size_t{3});
}

void TestExpected::whatHasNoBodyIsTold_data()
{
    QTest::addColumn<QByteArray>("lines");
    QTest::addColumn<QStringList>("names");
    QTest::newRow("all have one") << QByteArray() << QStringList{};
    QTest::newRow("a valve") << QByteArray("#9001=IFCVALVE('v',$,'Valve',$,$,$,$,$,$);") << QStringList{"Valve"};
    QTest::newRow("without a name") << QByteArray("#9001=IFCVALVE('v',$,$,$,$,$,$,$,$);") << QStringList{"IfcValve"};
    QTest::newRow("a whole whose parts have one")
        << QByteArray("#9001=IFCSTAIR('s',$,'Stair',$,$,$,$,$,$);#9002=IFCRELAGGREGATES('r',$,$,$,#9001,(@A));")
        << QStringList{};
    QTest::newRow("a whole without parts")
        << QByteArray("#9001=IFCSTAIR('s',$,'Stair',$,$,$,$,$,$);") << QStringList{"Stair"};
    QTest::newRow("a void") << QByteArray("#9001=IFCOPENINGELEMENT('o',$,'Void',$,$,$,$,$,$);") << QStringList{};
    QTest::newRow("what is virtual") << QByteArray("#9001=IFCVIRTUALELEMENT('o',$,'Edge',$,$,$,$,$);") << QStringList{};
    QTest::newRow("a room") << QByteArray("#9001=IFCSPACE('o',$,'Room',$,$,$,$,$,$,$,$);") << QStringList{};
    QTest::newRow("two, in the file's order")
        << QByteArray("#9001=IFCVALVE('v',$,'Second',$,$,$,$,$,$);#9000=IFCPUMP('p',$,'First',$,$,$,$,$,$);")
        << QStringList{"First", "Second"};
}

void TestExpected::whatHasNoBodyIsTold()
{
    QFETCH(QByteArray, lines);
    QStringList names;
    for (const clash::NotTestable& n : clash::notTestable(memberOf(withLines(threeBoxes(), lines.toStdString())))) {
        names << QString::fromStdString(n.name);
        QCOMPARE(n.why, std::string("It has no body in the file."));
    }
    QTEST(names, "names");
}

void TestExpected::piecesOfARunMayOverlapAtTheirEnds_data()
{
    QTest::addColumn<double>("from"); // of the second piece, along the first, which ends at 3 m
    QTest::addColumn<QByteArray>("ifcClass");
    QTest::addColumn<QByteArray>("system"); // of the second
    QTest::addColumn<double>("joint");
    QTest::addColumn<bool>("isExpected");
    QTest::newRow("pushed in 40 mm") << 2.96 << QByteArray("IFCDUCTSEGMENT") << QByteArray("S1") << 0.05 << true;
    QTest::newRow("into a fitting") << 2.96 << QByteArray("IFCDUCTFITTING") << QByteArray("S1") << 0.05 << true;
    QTest::newRow("pushed in 100 mm") << 2.9 << QByteArray("IFCDUCTSEGMENT") << QByteArray("S1") << 0.05 << false;
    QTest::newRow("a longer joint") << 2.9 << QByteArray("IFCDUCTSEGMENT") << QByteArray("S1") << 0.11 << true;
    QTest::newRow("no joint asked for") << 2.96 << QByteArray("IFCDUCTSEGMENT") << QByteArray("S1") << 0.0 << false;
    QTest::newRow("another system") << 2.96 << QByteArray("IFCDUCTSEGMENT") << QByteArray("S2") << 0.05 << false;
    QTest::newRow("no system") << 2.96 << QByteArray("IFCDUCTSEGMENT") << QByteArray() << 0.05 << false;
    QTest::newRow("a beam") << 2.96 << QByteArray("IFCBEAM") << QByteArray("S1") << 0.05 << false;
    QTest::newRow("across the middle") << -1.0 << QByteArray("IFCDUCTSEGMENT") << QByteArray("S1") << 0.05 << false;
}

void TestExpected::piecesOfARunMayOverlapAtTheirEnds()
{
    QFETCH(double, from);
    QFETCH(QByteArray, ifcClass);
    QFETCH(QByteArray, system);
    QFETCH(double, joint);
    QFETCH(bool, isExpected);
    MadeModel made;
    made.boxes = {{"A", {0, 0, 0}, {3, 0.3, 0.3}, "IFCDUCTSEGMENT"},
                  {"B", {from, 0, 0}, {from + 3, 0.3, 0.3}, ifcClass.toStdString()}};
    if (from < 0) // crosswise, and only 20 mm into it from above
        made.boxes[1] = {"B", {1.5, -2, 0.28}, {1.8, 2, 0.58}, ifcClass.toStdString()};
    std::string lines = "#9001=IFCSYSTEM('s1',$,'S1',$,$);#9002=IFCSYSTEM('s2',$,'S2',$,$);"
                        "#9003=IFCRELASSIGNSTOGROUP('r1',$,$,$,(@A),$,#9001);";
    if (!system.isEmpty())
        lines +=
            "#9004=IFCRELASSIGNSTOGROUP('r2',$,$,$,(@B),$," + std::string(system == "S1" ? "#9001" : "#9002") + ");";
    const std::vector<federation::Member> members{memberOf(withLines(made, lines))};
    const std::uint32_t own[] = {0};
    const auto parts = clash::partsOf(members, own);
    Progress progress;
    clash::Question question{clash::Kind::Hard, 0.001};
    question.joint = joint;
    const clash::Findings findings = clash::findClashes(members, parts, parts, question, progress);
    QCOMPARE(findings.clashes.size(), isExpected ? std::size_t{0} : std::size_t{1});
    QCOMPARE(findings.expected.size(), isExpected ? std::size_t{1} : std::size_t{0});
    if (isExpected)
        QCOMPARE(findings.expected[0].rule, Meeting::Run);
}

void TestExpected::aProvidedHoleLetsThroughWhatFits_data()
{
    QTest::addColumn<double>("width"); // of the provision, m
    QTest::addColumn<double>("turnedDegrees");
    QTest::addColumn<bool>("isLetThrough");
    QTest::newRow("larger than the duct") << 0.6 << 0.0 << true;
    QTest::newRow("just as large") << 0.4 << 0.0 << true;
    QTest::newRow("too narrow") << 0.3 << 0.0 << false;
    QTest::newRow("all turned") << 0.6 << 31.0 << true;
    QTest::newRow("all turned, too narrow") << 0.3 << 31.0 << false;
}

void TestExpected::aProvidedHoleLetsThroughWhatFits()
{
    QFETCH(double, width);
    QFETCH(double, turnedDegrees);
    QFETCH(bool, isLetThrough);
    MadeModel walls, ducts;
    walls.name = "Architecture";
    walls.boxes = {{"Wall", {0, 0, 0}, {10, 0.2, 3}, "IFCWALL"}};
    ducts.name = "Ventilation";
    ducts.boxes = {{"Duct", {4.8, -1, 1.8}, {5.2, 1, 2.2}, "IFCDUCTSEGMENT"},
                   {"Hole",
                    {5 - width / 2, -0.05, 1.5},
                    {5 + width / 2, 0.25, 2.5},
                    "IFCBUILDINGELEMENTPROXY",
                    {},
                    {},
                    "PROVISIONFORVOID"}};
    for (MadeModel* made : {&walls, &ducts})
        made->turnedDegrees = turnedDegrees;
    const std::vector<federation::Member> members{memberOf(walls.text()), memberOf(ducts.text())};
    QVERIFY(clash::isProvision(*members[1].model, members[1].model->elements()[named(*members[1].model, "Hole")]));
    const std::uint32_t left[] = {0}, right[] = {1};
    Progress progress;
    clash::Question question{clash::Kind::Hard, 0.001};
    const auto found = [&] {
        return clash::findClashes(members, clash::partsOf(members, left), clash::partsOf(members, right), question,
                                  progress);
    };
    QCOMPARE(found().clashes.size(), std::size_t{2}); // the wall with the duct, and with the provision
    question.ignored = Meetings::all();
    const clash::Findings findings = found();
    QCOMPARE(findings.clashes.size(), std::size_t{isLetThrough ? 0u : 1u});
    QCOMPARE(findings.expected.size(), std::size_t{isLetThrough ? 2u : 1u});
    for (const clash::Expected& e : findings.expected)
        QCOMPARE(e.rule, Meeting::Openings);
}

QTEST_GUILESS_MAIN(TestExpected)
#include "test_expected.moc"
