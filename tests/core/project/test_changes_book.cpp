#include <QTest>

#include "core/project/change_list.h"
#include "core/project/change_records.h"
#include "core/project/change_table.h"
#include "core/project/change_words.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <numeric>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::must;

/// Comparisons as a project keeps them, their rules and reviews, and the list that is put together of them.
class TestChangesBook : public QObject {
    Q_OBJECT
private slots:
    void init();
    void whatIsKeptIsReadAgain();
    void reviewsAreCarriedToTheSameChange();
    void whatWasAskedForCountsForNothing();
    void rulesAreUsedTheLastSavedFirst();
    void theListIsNarrowed_data();
    void theListIsNarrowed();
    void alikeOnesAreOneRow();
    void keysOfRowsAreEachOnce();
    void nearlyEqualShiftsAreAlike();
    void itIsSaid_data();
    void itIsSaid();
    void aLargeListAddsUp();

private:
    [[nodiscard]] ChangeRecord record(const std::string& name, unsigned kinds) const;
    [[nodiscard]] NewComparison comparison(std::vector<ChangeRecord> changes) const;
    std::int64_t keep(const NewComparison& one)
    {
        return must(project_->changes().keep(std::span(&one, 1), "Compared", kInes))[0];
    }
    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
    DisciplineId structure_ = 0;
};

void TestChangesBook::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject(folder_->filePath("made").toStdString(), {"Structure"});
    structure_ = must(project_->setup().disciplines())[0].id;
}

ChangeRecord TestChangesBook::record(const std::string& name, unsigned kinds) const
{
    ChangeRecord r;
    r.element = {structure_, "", name, 0};
    r.name = name;
    r.kinds = kinds;
    r.className = "IfcBeam";
    r.storey = "Level 1";
    return r;
}

NewComparison TestChangesBook::comparison(std::vector<ChangeRecord> changes) const
{
    NewComparison one;
    one.discipline = structure_;
    one.record.from = 1;
    one.record.to = 2;
    one.record.isAsked = true;
    markAlike(changes);
    one.changes = std::move(changes);
    return one;
}

void TestChangesBook::whatIsKeptIsReadAgain()
{
    ChangeRecord r = record("Beam", Moved | Reshaped | Rekeyed);
    r.type = "IPE 300";
    r.system = "Frame";
    r.zone = "North";
    r.phase = "New";
    r.continues = ElementRef{structure_, "", "older", 1};
    r.parts = {{structure_, "", "a", 0}, {structure_, "", "b", 2}};
    r.shift = {1, -2, 0.5};
    r.turn = Radians{0.25};
    r.turnAxis = {0, 1, 0};
    r.confidence = 0.75;
    r.extents = "20 mm wider";
    r.volumeBefore = 2;
    r.volumeAfter = 3;
    r.place.add(Point3{0, 0, 0});
    r.place.add(Point3{1, 2, 3});
    r.fields = {{"Pset", "Load", "1 kN", ""}};
    NewComparison one = comparison({r, record("Bare", Added)});
    one.record.rule = {.distance = 0.01, .fields = "tag is given"};
    one.record.leftOut = 5;
    one.record.unchanged = 9;
    const std::int64_t id = keep(one);
    const auto read = must(project_->changes().changesOf(id));
    QCOMPARE(read.size(), std::size_t{2});
    const ChangeRecord& c = read[0];
    QVERIFY(c.element == r.element && c.continues == r.continues && c.parts == r.parts && c.kinds == r.kinds);
    QVERIFY(c.type == r.type && c.system == r.system && c.zone == r.zone && c.phase == r.phase && c.storey == r.storey);
    QVERIFY(c.shift == r.shift && c.turn.value == r.turn.value && c.turnAxis == r.turnAxis);
    QVERIFY(c.confidence == r.confidence && c.extents == r.extents && c.place == r.place);
    QVERIFY(c.volumeBefore == 2 && c.volumeAfter == 3 && c.fields.size() == 1 && c.alike == one.changes[0].alike);
    QVERIFY(read[1].place.isEmpty() && read[1].parts.empty() && !read[1].continues);
    const ComparisonRecord k = must(project_->changes().find(std::span(&id, 1)))[0];
    QVERIFY(k.rule == one.record.rule && k.leftOut == 5 && k.unchanged == 9 && k.total == 2 && k.isAsked);
}

void TestChangesBook::reviewsAreCarriedToTheSameChange()
{
    ChangeRecord same = record("Same", Moved), other = record("Other", Moved);
    same.shift = other.shift = {0, 0, 0.1};
    const std::int64_t first = keep(comparison({same, other}));
    const ChangeKey keys[] = {{first, 0}, {first, 1}};
    QVERIFY(project_->changes().review(keys, "agreed", "both", kInes).has_value());
    other.shift.z = 0.2; // another change now
    const std::int64_t second = keep(comparison({other, same}));
    const auto read = must(project_->changes().changesOf(second));
    QVERIFY(read[0].review.empty());
    QCOMPARE(read[1].review, std::string("agreed"));
}

void TestChangesBook::whatWasAskedForCountsForNothing()
{
    const std::int64_t id = keep(comparison({record("Beam", Added)}));
    QVERIFY(must(project_->changes().inForce()).empty());
    QVERIFY(must(project_->changes().current()).empty());
    QCOMPARE(must(project_->changes().toReview()), std::size_t{0});
    QVERIFY(must(project_->changes().historyOf({structure_, "", "Beam", 0})).empty());
    QCOMPARE(must(project_->changes().asked()).size(), std::size_t{1});
    QVERIFY(project_->changes().drop(std::span(&id, 1), kInes).has_value());
    QVERIFY(must(project_->changes().asked()).empty());
    QVERIFY(project_->undo(kInes).has_value());
    QCOMPARE(must(project_->changes().changesOf(id)).size(), std::size_t{1});
}

void TestChangesBook::rulesAreUsedTheLastSavedFirst()
{
    using Named = ChangesBook::NamedRule;
    QCOMPARE(must(project_->changes().rules()), (std::vector<Named>{{"Usual", {}}}));
    const Named coarse{"Coarse", {.distance = 0.05}}, fine{"Fine", {.distance = 0.0001, .elements = "class is Wall"}};
    QVERIFY(project_->changes().useRule(coarse, kInes).has_value());
    QVERIFY(project_->changes().useRule(fine, kInes).has_value());
    QCOMPARE(must(project_->changes().rules()), (std::vector{fine, coarse}));
    QVERIFY(project_->changes().useRule(coarse, kInes).has_value());
    QCOMPARE(must(project_->changes().rules()), (std::vector{coarse, fine}));
    QVERIFY(project_->undo(kInes).has_value());
    QCOMPARE(must(project_->changes().rules()), (std::vector{fine, coarse}));
    for (const changes::ChangeRule& wrong :
         {changes::ChangeRule{.distance = -1}, changes::ChangeRule{.elements = "class is"},
          changes::ChangeRule{.fields = "has issue"}, changes::ChangeRule{.number = 2}}) {
        const auto refused = project_->changes().useRule({"Wrong", wrong}, kInes);
        QVERIFY(!refused && refused.error().code == kBadRule && !refused.error().message.empty());
    }
    QVERIFY(project_->changes().removeRule("Fine", kInes).has_value());
    QCOMPARE(must(project_->changes().rules()), (std::vector{coarse}));
}

namespace {

/// Eight changes that differ in what they can be narrowed by.
std::vector<ChangeRecord> mixed(const std::function<ChangeRecord(const std::string&, unsigned)>& record)
{
    std::vector<ChangeRecord> all{record("a", Added),
                                  record("b", Removed),
                                  record("c", Reshaped | Redescribed),
                                  record("d", Moved),
                                  record("e", Moved | Redescribed),
                                  record("f", Redescribed),
                                  record("g", Rekeyed),
                                  record("h", CutUp)};
    all[1].storey = "Level 2";
    all[2].className = "IfcWall";
    all[3].system = "Frame";
    all[4].zone = "North";
    all[5].phase = "New";
    all[6].type = "IPE 300";
    all[3].shift = all[4].shift = {0, 0, 1};
    all[2].fields = all[4].fields = all[5].fields = {{"", "Tag", "1", "2"}};
    return all;
}

} // namespace

void TestChangesBook::theListIsNarrowed_data()
{
    QTest::addColumn<QString>("by");
    QTest::addColumn<QString>("found");
    for (const auto& [by, found] :
         {std::pair("nothing", "abhcdefg"), std::pair("kind", "de"), std::pair("also", "cef"), std::pair("storey", "b"),
          std::pair("class", "c"), std::pair("system", "d"), std::pair("zone", "e"), std::pair("phase", "f"),
          std::pair("type", "g"), std::pair("unseen", "bhcdefg"), std::pair("seen", "a"), std::pair("among", "ag")})
        QTest::newRow(by) << by << found;
}

void TestChangesBook::theListIsNarrowed()
{
    QFETCH(QString, by);
    QFETCH(QString, found);
    const std::int64_t id =
        keep(comparison(mixed([this](const std::string& name, unsigned kinds) { return record(name, kinds); })));
    const ChangeKey first{id, 0};
    QVERIFY(project_->changes().review(std::span(&first, 1), "seen", "a", kInes).has_value());
    ChangeQuestion q;
    q.isGrouped = false;
    if (by == "kind")
        q.kinds = Moved;
    if (by == "also")
        q.also = Redescribed;
    if (by == "storey")
        q.storey = "Level 2";
    if (by == "class")
        q.className = "IfcWall";
    if (by == "system")
        q.system = "Frame";
    if (by == "zone")
        q.zone = "North";
    if (by == "phase")
        q.phase = "New";
    if (by == "type")
        q.type = "IPE 300";
    if (by == "unseen")
        q.review = "";
    if (by == "seen")
        q.review = "seen";
    if (by == "among")
        q.among = std::set<ChangeKey>{{id, 0}, {id, 6}};
    QCOMPARE(q.isNarrowed(), by != "nothing");
    const ChangeList list(must(project_->changes().briefs(std::span(&id, 1))), q);
    QString names;
    for (const ChangeRow& row : must(list.page(project_->changes(), 0, list.rowCount())))
        names += QString::fromStdString(row.first.name);
    QCOMPARE(names, found);
    // Counts by kind are of all that answer to the rest, and add up.
    const std::size_t sum = std::accumulate(std::begin(kAllChangeKinds), std::end(kAllChangeKinds), std::size_t{0},
                                            [&](std::size_t n, ChangeKind kind) { return n + list.countOf(kind); });
    QCOMPARE(sum, list.countOfAll());
    QCOMPARE(list.countOfAll(), by == "kind" ? std::size_t{8} : static_cast<std::size_t>(found.size()));
    QCOMPARE(list.shown(), static_cast<std::size_t>(found.size()));
    QCOMPARE(list.toReview(), std::size_t{7});
}

void TestChangesBook::alikeOnesAreOneRow()
{
    std::vector<ChangeRecord> all;
    for (int i = 0; i < 240; ++i) { // a storey that moved
        all.push_back(record("m" + std::to_string(i), Moved));
        all.back().shift = {0, 0, 0.05};
        all.back().className = i % 2 == 0 ? "IfcBeam" : "IfcDoor";
    }
    for (int i = 0; i < 40; ++i) { // a type that changed once
        all.push_back(record("t" + std::to_string(i), Redescribed));
        all.back().fields = {{"Pset", "Load", "1 kN", "2 kN"}};
        all.back().type = "IPE 300";
    }
    all.push_back(record("alone", Moved));
    all.back().shift = {1, 0, 0};
    const std::int64_t id = keep(comparison(all));
    ChangeQuestion q;
    ChangeList list(must(project_->changes().briefs(std::span(&id, 1))), q);
    QCOMPARE(list.rowCount(), std::size_t{3});
    QCOMPARE(list.shown(), std::size_t{281});
    auto rows = must(list.page(project_->changes(), 0, 3));
    QCOMPARE(titleOf(rows[0]), std::string("240 elements on Level 1 moved"));
    QCOMPARE(measureInWords(rows[0].first), std::string("Z +50 mm"));
    QCOMPARE(titleOf(rows[1]), std::string("alone"));
    QCOMPARE(titleOf(rows[2]), std::string("40 of IPE 300 on Level 1 redescribed"));
    // A change that stands in a closed group is found at its row.
    QCOMPARE(list.rowOf(ChangeList::idOf(ChangeKey{id, 77})), std::ptrdiff_t{0});
    q.opened = {list.idOf(2)};
    list = ChangeList(must(project_->changes().briefs(std::span(&id, 1))), q);
    QCOMPARE(list.rowCount(), std::size_t{43});
    rows = must(list.page(project_->changes(), 2, 2));
    QVERIFY(rows[0].isGroup && rows[0].isOpen && rows[1].isInGroup && !rows[1].isGroup);
    QCOMPARE(list.rowOf(ChangeList::idOf(ChangeKey{id, 241})), std::ptrdiff_t{4});
}

void TestChangesBook::keysOfRowsAreEachOnce()
{
    std::vector<ChangeRecord> all;
    for (int i = 0; i < 5; ++i) {
        all.push_back(record("m" + std::to_string(i), Moved));
        all.back().shift = {0, 0, 0.05};
    }
    const std::int64_t id = keep(comparison(all));
    ChangeQuestion q;
    ChangeList list(must(project_->changes().briefs(std::span(&id, 1))), q);
    q.opened = {list.idOf(0)};
    list = ChangeList(must(project_->changes().briefs(std::span(&id, 1))), q);
    const std::string both[] = {list.idOf(0), list.idOf(2)}; // the group, and one of it
    QCOMPARE(list.keysOf(both).size(), std::size_t{5});
    QCOMPARE(list.allKeys().size(), std::size_t{5});
}

void TestChangesBook::nearlyEqualShiftsAreAlike()
{
    std::vector<ChangeRecord> all(4, record("m", Moved));
    all[0].shift = {0.1, 0, 0};
    all[1].shift = {0.1002, 0, 0};
    all[2].shift = {0.1, 0.0004, 0};
    all[3].shift = {0.102, 0, 0};
    markAlike(all);
    QVERIFY(all[0].alike == all[1].alike && all[0].alike == all[2].alike && all[0].alike != all[3].alike);
    QVERIFY(all[0].alike != 0);
}

void TestChangesBook::itIsSaid_data()
{
    QTest::addColumn<int>("at");
    QTest::addColumn<QString>("measure");
    const char* measures[] = {"Z +50 mm",
                              "X −20, Y +100 mm; turned 30.0° counter-clockwise",
                              "turned 12.5° clockwise",
                              "turned 90.0°",
                              "120 mm narrower both ways, 300 mm longer",
                              "another shape; X +5 mm",
                              "EI 30, now EI 60",
                              "now EI 60",
                              "EI 30, now none",
                              "2 fields",
                              "2 parts",
                              "75 % sure",
                              "",
                              "X +50.00, Z −0.05 m"};
    for (int i = 0; i < static_cast<int>(std::size(measures)); ++i)
        QTest::addRow("%d %s", i, measures[i]) << i << measures[i];
}

void TestChangesBook::itIsSaid()
{
    QFETCH(int, at);
    QFETCH(QString, measure);
    constexpr unsigned kKinds[] = {Moved,       Moved,       Moved,       Moved,       Reshaped, Reshaped | Moved,
                                   Redescribed, Redescribed, Redescribed, Redescribed, CutUp,    Rekeyed,
                                   Added,       Moved};
    ChangeRecord r = record("x", kKinds[at]);
    const Vector3 shifts[] = {{0, 0, 0.05}, {-0.02, 0.1, 0}};
    if (at < 2)
        r.shift = shifts[at];
    if (at == 13)
        r.shift = {50, 0, -0.05};
    if (at == 1)
        r.turn = fromDegrees(30);
    if (at == 2)
        r.turn = fromDegrees(-12.5);
    if (at == 3) {
        r.turn = fromDegrees(90);
        r.turnAxis = {1, 0, 0};
    }
    if (at == 4)
        r.extents = "120 mm narrower both ways, 300 mm longer";
    if (at == 5)
        r.shift = {0.005, 0, 0};
    if (at >= 6 && at <= 9)
        r.fields = {{"Pset", "FireRating", at == 7 ? "" : "EI 30", at == 8 ? "" : "EI 60"}};
    if (at == 9)
        r.fields.push_back(r.fields[0]);
    if (at == 10)
        r.parts = {r.element, r.element};
    if (at == 11)
        r.confidence = 0.75;
    QCOMPARE(QString::fromStdString(measureInWords(r)), measure);
    const auto table = tableOf(std::span(&r, 1));
    QCOMPARE(table.size(), std::size_t{2});
    QCOMPARE(table[0].size(), table[1].size());
    QVERIFY(std::find(table[1].begin(), table[1].end(), measure.toStdString()) != table[1].end());
}

void TestChangesBook::aLargeListAddsUp()
{
    std::vector<ChangeRecord> all;
    for (int i = 0; i < 20'000; ++i) {
        all.push_back(record("e" + std::to_string(i), i % 3 == 0 ? Moved : i % 3 == 1 ? Added : Redescribed));
        all.back().shift = {0, 0, 0.001 * (i % 50)};
        all.back().storey = "Level " + std::to_string(i % 7);
    }
    const std::int64_t id = keep(comparison(all));
    const ChangeList list(must(project_->changes().briefs(std::span(&id, 1))), {});
    QCOMPARE(list.countOf(Moved) + list.countOf(Added) + list.countOf(Redescribed), std::size_t{20'000});
    std::size_t changes = 0;
    for (const ChangeRow& row : must(list.page(project_->changes(), 0, list.rowCount())))
        changes += row.count;
    QCOMPARE(changes, std::size_t{20'000});
    QVERIFY(list.rowCount() < 100);
}

QTEST_GUILESS_MAIN(TestChangesBook)
#include "test_changes_book.moc"
