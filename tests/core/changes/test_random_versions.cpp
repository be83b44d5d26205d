#include <QTest>

#include "support/mutator.h"

using namespace wendrix;
using namespace wendrix::test;

/// Revisions edited at random, whose ledgers are to be found exactly.
class TestRandomVersions : public QObject {
    Q_OBJECT
private slots:
    void findsTheLedger_data();
    void findsTheLedger();
};

void TestRandomVersions::findsTheLedger_data()
{
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 1; seed <= 60; ++seed)
        QTest::addRow("seed %u", seed) << seed;
}

void TestRandomVersions::findsTheLedger()
{
    QFETCH(unsigned, seed);
    Mutator mutator(seed);
    MadeModel before = mutator.building(120);
    const MadeModel after = mutator.revised(before);
    const federation::Member was = memberOf(before), now = memberOf(after);
    Progress progress;
    const changes::Comparison found = changes::compare(was, now, {}, progress).value();
    const std::string difference = test::difference(mutator.ledger(), ledgerOf(found, was, now));
    QVERIFY2(difference.empty(), difference.c_str());
    QVERIFY(!mutator.ledger().empty());
}

QTEST_GUILESS_MAIN(TestRandomVersions)
#include "test_random_versions.moc"
