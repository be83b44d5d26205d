#include <QTest>

#include "core/clash/conflict.h"
#include "core/clash/engine.h"
#include "support/demo.h"

#include <map>
#include <set>

using namespace wendrix;

/// The demo building's clashes are designed: the engine must find all of them and nothing else.
class TestDemoClashes : public QObject {
    Q_OBJECT
private slots:
    void findsExactlyTheDesignedPairs_data();
    void findsExactlyTheDesignedPairs();
    void whatIsTooNearOrTwiceIsFound();
    void whatIsBoltedIsExpectedToMeet_data();
    void whatIsBoltedIsExpectedToMeet();
    void holesAreWhereTheyWereDesigned_data();
    void holesAreWhereTheyWereDesigned();
    void theSameAgainstItselfTwice();
};

namespace {

/// Which delivery of a discipline is looked at beside a revision of the frame: some have another, or another unit.
std::string revisionOf(const std::string& discipline, const std::string& revision)
{
    return discipline == "Structure" || discipline == "Ventilation" ? revision : "P01";
}

federation::Member placed(const std::string& discipline, const std::string& revision, std::size_t model = 0)
{
    federation::Member member = test::demoMember(discipline, revision, model);
    member.fit = test::trueFit(discipline);
    return member;
}

std::string nameOf(const std::vector<federation::Member>& members, clash::Part part)
{
    const ifc::Model& model = *members[part.member].model;
    return model.displayName(model.elements()[part.element]);
}

clash::Part partOf(const std::vector<federation::Member>& members, const std::string& guid)
{
    for (std::uint32_t m = 0; m < members.size(); ++m)
        if (const auto element = members[m].model->find(guid, 0))
            return {m, *element};
    qFatal("no element %s", guid.c_str());
}

} // namespace

void TestDemoClashes::findsExactlyTheDesignedPairs_data()
{
    QTest::addColumn<QString>("revision");
    QTest::addColumn<QString>("left");
    QTest::addColumn<QString>("right");
    for (const char* revision : {"P01", "P02"})
        for (const auto& [left, right] : {std::pair{"Structure", "Ventilation"},
                                          {"Architecture", "Ventilation"},
                                          {"Architecture", "Structure"},
                                          {"Piping", "Electrical"}})
            QTest::addRow("%s of %s and %s", revision, left, right) << revision << left << right;
}

void TestDemoClashes::findsExactlyTheDesignedPairs()
{
    QFETCH(QString, revision);
    QFETCH(QString, left);
    QFETCH(QString, right);
    std::vector<federation::Member> members;
    std::vector<std::uint32_t> sides[2];
    for (const auto& [side, discipline] : {std::pair{0, left.toStdString()}, std::pair{1, right.toStdString()}})
        for (std::size_t model = 0; model < (discipline == "Piping" ? 2u : 1u); ++model) {
            sides[side].push_back(static_cast<std::uint32_t>(members.size()));
            members.push_back(placed(discipline, revisionOf(discipline, revision.toStdString()), model));
        }
    const auto truth = test::truth();
    Progress progress;
    const clash::Findings findings =
        clash::findClashes(members, clash::partsOf(members, sides[0]), clash::partsOf(members, sides[1]),
                           {clash::Kind::Hard, truth["tolerance"].get<double>()}, progress);

    using Pair = std::pair<std::string, std::string>;
    std::map<Pair, const clash::Clash*> found;
    for (const clash::Clash& c : findings.clashes)
        QVERIFY2(found
                     .try_emplace({members[c.left.member].refOf(c.left.element).guid,
                                   members[c.right.member].refOf(c.right.element).guid},
                                  &c)
                     .second,
                 "a pair is reported twice");
    const std::string test = (left + " × " + right).toStdString();
    for (const auto& designed : truth["clashes"][revision.toStdString()]) {
        if (designed["test"] != test)
            continue;
        const auto at = found.find({designed["left"], designed["right"]});
        const std::string what = designed["why"].get<std::string>() + " " + designed["left"].get<std::string>();
        QVERIFY2(at != found.end(), ("missed: " + what).c_str());
        const double depth = designed["depth"];
        QVERIFY2(
            std::abs(at->second->depth - depth) <= designed["depthWithin"].get<double>(),
            (what + ": depth " + std::to_string(at->second->depth) + ", designed " + std::to_string(depth)).c_str());
        const double off = length(at->second->point - test::vectorOf(designed["point"]));
        QVERIFY2(off <= designed["pointWithin"].get<double>(),
                 (what + ": point off by " + std::to_string(off)).c_str());
        found.erase(at);
    }
    for (const auto& [pair, c] : found)
        QFAIL(("invented: " + pair.first + " " + nameOf(members, c->left) + " with " + nameOf(members, c->right) +
               " depth " + std::to_string(c->depth))
                  .c_str());
}

void TestDemoClashes::whatIsTooNearOrTwiceIsFound()
{
    const auto truth = test::truth();
    const std::vector<federation::Member> members{placed("Architecture", "P01"), placed("Electrical", "P01"),
                                                  placed("Piping", "P01")};
    Progress progress;
    std::vector<clash::Part> ceilings, cabinets;
    for (ifc::ElementIndex e = 0; e < members[0].model->elements().size(); ++e)
        if (members[0].model->displayName(members[0].model->elements()[e]).starts_with("Corridor ceiling"))
            ceilings.push_back({0, e});
    for (ifc::ElementIndex e = 0; e < members[1].model->elements().size(); ++e)
        if (members[1].model->className(members[1].model->elements()[e]) == "IfcDistributionBoard")
            cabinets.push_back({1, e});
    QVERIFY(ceilings.size() > 10 && cabinets.size() > 3);
    for (const auto& designed : truth["clearances"]) {
        clash::Question question{clash::Kind::Clearance};
        question.clearance = designed["wanted"];
        question.direction = clash::Direction::Down;
        const auto found = clash::findClashes(members, ceilings, cabinets, question, progress);
        QCOMPARE(found.clashes.size(), std::size_t{1});
        QCOMPARE(members[0].refOf(found.clashes[0].left.element).guid, designed["left"].get<std::string>());
        QCOMPARE(members[1].refOf(found.clashes[0].right.element).guid, designed["right"].get<std::string>());
        QVERIFY(std::abs(found.clashes[0].distance - designed["there"].get<double>()) < 1e-6);
    }
    const std::uint32_t piping[] = {2};
    const auto parts = clash::partsOf(members, piping);
    const auto twice =
        clash::findClashes(members, parts, parts, {clash::Kind::Duplicate, truth["tolerance"]}, progress);
    std::set<std::pair<std::string, std::string>> found, designed;
    for (const clash::Clash& c : twice.clashes) {
        const std::string a = members[2].refOf(c.left.element).guid, b = members[2].refOf(c.right.element).guid;
        found.emplace(std::min(a, b), std::max(a, b));
    }
    for (const auto& pair : truth["duplicates"])
        designed.emplace(pair[0], pair[1]);
    QCOMPARE(designed.size(), std::size_t{2});
    QCOMPARE(found, designed);
}

void TestDemoClashes::whatIsBoltedIsExpectedToMeet_data()
{
    QTest::addColumn<QString>("revision");
    QTest::newRow("P01") << "P01";
    QTest::newRow("P02") << "P02";
}

void TestDemoClashes::whatIsBoltedIsExpectedToMeet()
{
    QFETCH(QString, revision);
    const std::vector<federation::Member> members{placed("Structure", revision.toStdString())};
    const std::uint32_t self[] = {0};
    const auto parts = clash::partsOf(members, self);
    Progress progress;
    clash::Question question{clash::Kind::Hard, 0.005};
    question.ignored = clash::Meetings::all();
    const auto findings = clash::findClashes(members, parts, parts, question, progress);
    QCOMPARE(findings.clashes.size(), std::size_t{0});
    std::set<std::pair<std::string, std::string>> found, designed;
    for (const clash::Expected& e : findings.expected) {
        QCOMPARE(e.rule, clash::Meeting::Connected);
        const std::string a = members[0].refOf(e.left.element).guid, b = members[0].refOf(e.right.element).guid;
        found.emplace(std::min(a, b), std::max(a, b));
    }
    const auto truth = test::truth();
    for (const auto& pair : truth["expected"][revision.toStdString()])
        designed.emplace(pair[0], pair[1]);
    QVERIFY(designed.size() >= 15);
    QCOMPARE(found, designed);
    // Where nobody expects it they are clashes.
    question.ignored = clash::Meetings::none();
    QCOMPARE(clash::findClashes(members, parts, parts, question, progress).clashes.size(), designed.size());
}

void TestDemoClashes::holesAreWhereTheyWereDesigned_data() { whatIsBoltedIsExpectedToMeet_data(); }

void TestDemoClashes::holesAreWhereTheyWereDesigned()
{
    QFETCH(QString, revision);
    const std::vector<federation::Member> members{placed("Architecture", "P01"),
                                                  placed("Ventilation", revision.toStdString())};
    const auto truth = test::truth();
    QVERIFY(!truth["holes"][revision.toStdString()].empty());
    for (const auto& designed : truth["holes"][revision.toStdString()]) {
        const clash::Part wall = partOf(members, designed["left"]), branch = partOf(members, designed["right"]);
        const clash::Conflict conflict =
            clash::conflictOf(members, wall, branch, {}, members[0].geometry->elements()[wall.element].bounds.centre());
        QVERIFY(conflict.passage.has_value());
        QCOMPARE(conflict.passage->hole.has_value(), !designed["aside"].is_null());
        if (conflict.passage->hole) {
            QVERIFY(std::abs(std::abs(conflict.passage->hole->across) - designed["aside"].get<double>()) < 1e-3);
            QVERIFY(std::abs(conflict.passage->hole->along) < 1e-3);
        }
    }
}

void TestDemoClashes::theSameAgainstItselfTwice()
{
    std::vector<federation::Member> members{test::demoMember("Ventilation", "P01")};
    const std::uint32_t self[] = {0};
    Progress progress;
    const auto parts = clash::partsOf(members, self);
    const clash::Findings once = clash::findClashes(members, parts, parts, {clash::Kind::Hard, 0.005}, progress),
                          twice = clash::findClashes(members, parts, parts, {clash::Kind::Hard, 0.005}, progress);
    QCOMPARE(once.clashes.size(), twice.clashes.size());
    for (std::size_t i = 0; i < once.clashes.size(); ++i) {
        QVERIFY(once.clashes[i].left.element != once.clashes[i].right.element);
        QCOMPARE(once.clashes[i].depth, twice.clashes[i].depth);
    }
}

QTEST_GUILESS_MAIN(TestDemoClashes)
#include "test_demo_clashes.moc"
