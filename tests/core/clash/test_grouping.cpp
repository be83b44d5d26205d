#include <QTest>

#include "core/clash/grouping.h"
#include "core/clash/words.h"

using namespace wendrix;

/// Pairs that one element causes, and what they are called together.
class TestGrouping : public QObject {
    Q_OBJECT
private slots:
    void groupsByTheElementThatCausesMost();
    void namesGroups_data();
    void namesGroups();
};

void TestGrouping::groupsByTheElementThatCausesMost()
{
    // One duct through three beams, one of which another duct meets too.
    const std::vector<clash::PairEnds> pairs{
        {1, 11}, {2, 11}, {3, 11}, {3, 12}, {4, 21}}; // beams 1 to 3, ducts 11 and 12, wall, pipe
    const auto groups = clash::groupBySharedElement(pairs);
    QCOMPARE(groups.size(), std::size_t{3});
    QCOMPARE(groups[0].shared, std::int64_t{11});
    QVERIFY((groups[0].pairs == std::vector<std::uint32_t>{0, 1, 2}));
    std::size_t all = 0;
    for (const auto& g : groups)
        all += g.pairs.size();
    QCOMPARE(all, pairs.size());
}

void TestGrouping::namesGroups_data()
{
    QTest::addColumn<QStringList>("others");
    QTest::addColumn<QString>("title");
    QTest::newRow("one") << QStringList{"Column B3"} << "Duct crosses Column B3";
    QTest::newRow("places are no kind") << QStringList{"Beam B-C / 4", "Beam B-C / 5", "Beam B-C / 6"}
                                        << "Duct crosses 3 beams";
    QTest::newRow("two words") << QStringList{"Core wall S", "Core wall N"} << "Duct crosses 2 core walls";
    QTest::newRow("nothing in common") << QStringList{"Beam B-C / 4", "Slab A-B / 1"} << "Duct crosses 2 elements";
    QTest::newRow("sizes are no kind") << QStringList{"Ø160 branch", "Ø160 bend"} << "Duct crosses 2 elements";
    QTest::newRow("already plural") << QStringList{"Stairs 1", "Stairs 2"} << "Duct crosses 2 stairs";
    QTest::newRow("other letters") << QStringList{"Tür 1", "Tür 2"} << "Duct crosses 2 türs";
}

void TestGrouping::namesGroups()
{
    QFETCH(QStringList, others);
    std::vector<std::string> names;
    for (const QString& name : others)
        names.push_back(name.toStdString());
    QTEST(QString::fromStdString(clash::groupTitle("Duct", names)), "title");
    QVERIFY(clash::groupTitle("Duct", names, 0, clash::Kind::Clearance).starts_with("Duct is too near "));
    QVERIFY(clash::groupTitle("Duct", names, 0, clash::Kind::Duplicate).starts_with("Duct doubles "));
}

QTEST_GUILESS_MAIN(TestGrouping)
#include "test_grouping.moc"
