#include <QTest>

#include "core/clash/engine.h"
#include "support/demo.h"

#include <map>

using namespace wendrix;

/// The demo building's clashes are designed: the engine must find all of them and nothing else.
class TestDemoClashes : public QObject {
    Q_OBJECT
private slots:
    void findsExactlyTheDesignedPairs_data();
    void findsExactlyTheDesignedPairs();
    void theSameAgainstItselfTwice();
};

void TestDemoClashes::findsExactlyTheDesignedPairs_data()
{
    QTest::addColumn<QString>("revision");
    QTest::addColumn<QString>("left");
    QTest::addColumn<QString>("right");
    for (const char* revision : {"P01", "P02"})
        for (const auto& [left, right] :
             {std::pair{"Structure", "Ventilation"}, {"Architecture", "Ventilation"}, {"Architecture", "Structure"}})
            QTest::addRow("%s of %s and %s", revision, left, right) << revision << left << right;
}

void TestDemoClashes::findsExactlyTheDesignedPairs()
{
    QFETCH(QString, revision);
    QFETCH(QString, left);
    QFETCH(QString, right);
    std::vector<federation::Member> members;
    for (const QString& discipline : {left, right}) {
        const std::string name = discipline.toStdString();
        members.push_back(test::demoMember(name, name == "Architecture" ? "P01" : revision.toStdString()));
        members.back().fit = test::trueFit(name);
    }
    const auto truth = test::truth();
    Progress progress;
    const std::uint32_t sides[] = {0, 1};
    const clash::Findings findings = clash::findClashes(
        members, clash::partsOf(members, std::span(sides, 1)), clash::partsOf(members, std::span(sides + 1, 1)),
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
        QFAIL(("invented: " + pair.first + " " +
               members[0].model->displayName(members[0].model->elements()[c->left.element]) + " with " +
               members[1].model->displayName(members[1].model->elements()[c->right.element]) + " depth " +
               std::to_string(c->depth))
                  .c_str());
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
