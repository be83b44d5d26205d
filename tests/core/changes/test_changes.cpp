#include <QTest>

#include "core/changes/comparison.h"
#include "core/changes/same_shape.h"
#include "core/changes/volume_change.h"
#include "core/geometry/sweep.h"
#include "support/demo.h"

#include <set>

using namespace wendrix;

/// The demo's second revisions against what their generator says it changed, both ways.
class TestChanges : public QObject {
    Q_OBJECT
private slots:
    void findsExactlyWhatChanged_data();
    void findsExactlyWhatChanged();
    void aRenewedFileIsTheSame();
    void aRevisionAgainstItself();
    void knowsSameShapes_data();
    void knowsSameShapes();
};

namespace {

std::set<std::string> guids(const nlohmann::json& list)
{
    std::set<std::string> set;
    for (const auto& item : list)
        set.insert(item.is_string() ? item.get<std::string>() : item["guid"].get<std::string>());
    return set;
}

} // namespace

void TestChanges::findsExactlyWhatChanged_data()
{
    QTest::addColumn<QString>("discipline");
    QTest::newRow("structure") << "Structure";
    QTest::newRow("ventilation") << "Ventilation";
}

void TestChanges::findsExactlyWhatChanged()
{
    QFETCH(QString, discipline);
    const std::string name = discipline.toStdString();
    const federation::Member before = test::demoMember(name, "P01"), after = test::demoMember(name, "P02");
    const auto truth = test::truth()["changes"][name];
    Progress progress;
    const auto result = changes::compare(before, after, {}, progress);
    QVERIFY(result.has_value());
    const auto& old = before.model->elements();
    const auto& now = after.model->elements();

    std::set<std::string> added, removed, moved, reshaped, redescribed;
    for (const auto i : result->added)
        added.insert(now[i].guid);
    for (const auto i : result->removed)
        removed.insert(old[i].guid);
    for (const changes::Change& c : result->changed) {
        if (c.isMoved)
            moved.insert(now[c.after].guid);
        if (c.isReshaped)
            reshaped.insert(now[c.after].guid);
        if (c.isRedescribed)
            redescribed.insert(now[c.after].guid);
    }
    QVERIFY(added == guids(truth["added"]));
    QVERIFY(removed == guids(truth["removed"]));
    QVERIFY(moved == guids(truth["moved"]));
    QVERIFY(reshaped == guids(truth["reshaped"]));
    QVERIFY(redescribed == guids(truth["redescribed"]));
    QCOMPARE(result->rekeyed.size(), truth["rekeyed"].size());
    for (const changes::Rekeyed& r : result->rekeyed)
        QVERIFY(std::any_of(truth["rekeyed"].begin(), truth["rekeyed"].end(), [&](const auto& t) {
            return t["old"] == old[r.before].guid && t["new"] == now[r.after].guid;
        }));
    const nlohmann::json splits = truth.value("split", nlohmann::json::array());
    QCOMPARE(result->splits.size(), splits.size());
    std::size_t parts = 0;
    for (const changes::Split& s : result->splits) {
        std::set<std::string> of;
        for (const auto i : s.after)
            of.insert(now[i].guid);
        parts += of.size();
        QVERIFY(std::any_of(splits.begin(), splits.end(),
                            [&](const auto& t) { return t["old"] == old[s.before].guid && guids(t["new"]) == of; }));
    }
    QVERIFY(result->merges.empty());
    // Every element is counted once.
    QCOMPARE(result->unchanged + result->changed.size() + result->added.size() + result->rekeyed.size() + parts,
             now.size());

    const auto changeOf = [&](const std::string& guid) {
        return *std::find_if(result->changed.begin(), result->changed.end(),
                             [&](const auto& c) { return now[c.after].guid == guid; });
    };
    for (const auto& t : truth["moved"])
        QVERIFY(length(changeOf(t["guid"]).motion.shift - test::vectorOf(t["shift"])) < 1e-6);
    for (const auto& t : truth["reshaped"]) {
        const changes::Change change = changeOf(t["guid"]);
        const changes::VolumeChange c =
            changes::volumeChange(before.geometry->meshOf(change.before), after.geometry->meshOf(change.after), 0.001);
        if (t.contains("extents"))
            QCOMPARE(change.extents, t["extents"].get<std::string>());
        if (t.contains("net")) { // rolled sections: tables round to 0.1 cm², arcs are cut
            QVERIFY(std::abs(c.addedVolume - c.removedVolume - t["net"].get<double>()) <
                    0.005 * t["net"].get<double>());
        } else {
            QVERIFY(std::abs(c.addedVolume - t["added"].get<double>()) < 1e-9);
            QVERIFY(std::abs(c.removedVolume - t["removed"].get<double>()) < 1e-9);
        }
    }
    for (const auto& t : truth["redescribed"]) {
        const changes::Change c = changeOf(t["guid"]);
        QVERIFY2(std::any_of(c.fields.begin(), c.fields.end(),
                             [&](const changes::FieldChange& f) {
                                 return f.set == t["set"] && f.name == t["name"] && f.before == t["old"] &&
                                        f.after == t["new"];
                             }),
                 t.dump().c_str());
    }
}

void TestChanges::aRenewedFileIsTheSame()
{
    const nlohmann::json truth = test::truth();
    const nlohmann::json& wanted = truth["renewedChanges"];
    const federation::Member before = test::demoMember("Electrical", "P03"),
                             after = test::demoMember("Electrical", "P04");
    Progress progress;
    const changes::Comparison found = changes::compare(before, after, {}, progress).value();
    const auto &old = before.model->elements(), &now = after.model->elements();
    QVERIFY(found.added.empty() && found.removed.empty() && found.splits.empty() && found.merges.empty());
    QCOMPARE(found.unchanged, std::size_t{0});
    std::set<std::pair<std::string, std::string>> renewed, told;
    for (const changes::Rekeyed& r : found.rekeyed) {
        renewed.emplace(old[r.before].guid, now[r.after].guid);
        QVERIFY(r.confidence > 0.9);
    }
    for (const auto& t : wanted["rekeyed"])
        told.emplace(t["old"], t["new"]);
    QVERIFY(renewed == told);
    std::set<std::string> moved;
    for (const changes::Change& c : found.changed) {
        QVERIFY(c.isMoved && !c.isReshaped && !c.isRedescribed);
        QVERIFY(length(c.motion.shift - test::vectorOf(wanted["shift"])) < 1e-6);
        moved.insert(now[c.after].guid);
    }
    QVERIFY(moved == guids(wanted["moved"]));
}

void TestChanges::aRevisionAgainstItself()
{
    const federation::Member member = test::demoMember("Ventilation", "P01");
    Progress progress;
    const auto result = changes::compare(member, member, {}, progress);
    QVERIFY(result && result->added.empty() && result->removed.empty() && result->changed.empty() &&
            result->rekeyed.empty());
    QCOMPARE(result->unchanged, member.model->elements().size());
}

void TestChanges::knowsSameShapes_data()
{
    QTest::addColumn<QVector<double>>("hole"); // x, y, width, height of a hole in a 4 x 3 wall
    QTest::addColumn<QVector<double>>("other");
    QTest::addColumn<bool>("isSame");
    const QVector<double> hole{1, 1, 0.5, 0.5};
    QTest::newRow("the same hole") << hole << hole << true;
    QTest::newRow("moved 0.5 mm, within the tolerance") << hole << QVector<double>{1.0005, 1, 0.5, 0.5} << true;
    QTest::newRow("moved 300 mm: same volume, same area") << hole << QVector<double>{1.3, 1, 0.5, 0.5} << false;
    QTest::newRow("5 mm wider") << hole << QVector<double>{1, 1, 0.505, 0.5} << false;
    QTest::newRow("closed") << hole << QVector<double>{} << false;
}

void TestChanges::knowsSameShapes()
{
    QFETCH(QVector<double>, hole);
    QFETCH(QVector<double>, other);
    QFETCH(bool, isSame);
    const auto wall = [](const QVector<double>& h) {
        geometry::Area area{{{0, 0}, {4, 0}, {4, 3}, {0, 3}}, {}};
        if (!h.isEmpty())
            area.holes.push_back({{h[0], h[1]}, {h[0], h[1] + h[3]}, {h[0] + h[2], h[1] + h[3]}, {h[0] + h[2], h[1]}});
        return *geometry::extruded(area, {0, 0, 0.25});
    };
    QCOMPARE(changes::isSameShape(wall(hole), wall(other), 0.001), isSame);
    QCOMPARE(changes::isSameShape(wall(other), wall(hole), 0.001), isSame);
}

QTEST_GUILESS_MAIN(TestChanges)
#include "test_changes.moc"
