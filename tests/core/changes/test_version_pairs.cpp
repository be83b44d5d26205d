#include <QTest>

#include "core/changes/version_pairs.h"

using namespace wendrix;
using namespace wendrix::test;

/// Pairs of revisions whose differences are known, and the same pairs backwards.
class TestVersionPairs : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { pairs_ = versionPairs(); }
    void saysExactlyWhatDiffers_data() { eachPair(); }
    void saysExactlyWhatDiffers();
    void aRevisionAgainstItselfDiffersInNothing_data() { eachPair(); }
    void aRevisionAgainstItselfDiffersInNothing();
    void everyElementIsCountedOnce_data() { eachPair(); }
    void everyElementIsCountedOnce();

private:
    void eachPair();
    std::vector<VersionPair> pairs_;
};

void TestVersionPairs::eachPair()
{
    QTest::addColumn<int>("at");
    for (std::size_t i = 0; i < pairs_.size(); ++i)
        QTest::newRow(pairs_[i].name.c_str()) << static_cast<int>(i);
}

void TestVersionPairs::saysExactlyWhatDiffers()
{
    QFETCH(int, at);
    const VersionPair& pair = pairs_[static_cast<std::size_t>(at)];
    QVERIFY(!mistakeIn(pair.rule));
    const federation::Member before = memberOf(pair.before), after = memberOf(pair.after);
    Progress progress;
    const changes::Comparison found = changes::compare(before, after, pair.rule, progress).value();
    const std::string difference = test::difference(pair.wanted, ledgerOf(found, before, after));
    QVERIFY2(difference.empty(), difference.c_str());
    if (pair.extents.empty())
        return;
    for (const changes::Change& c : found.changed)
        if (c.isReshaped)
            QCOMPARE(c.extents, pair.extents);
}

void TestVersionPairs::aRevisionAgainstItselfDiffersInNothing()
{
    QFETCH(int, at);
    const federation::Member member = memberOf(pairs_[static_cast<std::size_t>(at)].after);
    Progress progress;
    const changes::Comparison found = changes::compare(member, member, {}, progress).value();
    QVERIFY(ledgerOf(found, member, member).empty());
    QCOMPARE(found.unchanged, member.model->elements().size());
}

void TestVersionPairs::everyElementIsCountedOnce()
{
    QFETCH(int, at);
    const VersionPair& pair = pairs_[static_cast<std::size_t>(at)];
    const federation::Member before = memberOf(pair.before), after = memberOf(pair.after);
    Progress progress;
    const changes::Comparison found = changes::compare(before, after, pair.rule, progress).value();
    // Each element of the later revision stands once among these, each of the earlier one too.
    std::multiset<ifc::ElementIndex> now(found.added.begin(), found.added.end()),
        was(found.removed.begin(), found.removed.end());
    std::set<ifc::ElementIndex> parts;
    for (const changes::Split& s : found.splits) {
        now.insert(s.after.begin(), s.after.end());
        parts.insert(s.after.begin(), s.after.end());
        was.insert(s.before);
    }
    for (const changes::Merge& m : found.merges) {
        now.insert(m.after);
        parts.insert(m.after);
        was.insert(m.before.begin(), m.before.end());
    }
    for (const changes::Rekeyed& r : found.rekeyed) {
        QVERIFY(r.confidence >= changes::kLeastConfidence && r.confidence <= 1);
        now.insert(r.after);
        parts.insert(r.after);
        was.insert(r.before);
    }
    for (const changes::Change& c : found.changed)
        if (!parts.contains(c.after))
            now.insert(c.after);
    QCOMPARE(now.size(), std::set(now.begin(), now.end()).size());
    QCOMPARE(was.size(), std::set(was.begin(), was.end()).size());
    QCOMPARE(now.size() + found.unchanged + found.leftOut, after.model->elements().size());
}

QTEST_GUILESS_MAIN(TestVersionPairs)
#include "test_version_pairs.moc"
