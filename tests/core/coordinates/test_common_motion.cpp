#include <QTest>

#include "core/base/transform.h"
#include "core/coordinates/common_motion.h"
#include "core/federation/member.h"
#include "support/ifc_text.h"
#include "support/made_model.h"

#include <cmath>
#include <random>

using namespace wendrix;
using namespace wendrix::coordinates;
using federation::PlacePair;

/// What most places moved by, whatever the rest did.
class TestCommonMotion : public QObject {
    Q_OBJECT
private slots:
    void whatMostShareIsFound_data();
    void whatMostShareIsFound();
    void whereNothingIsSharedNothingIsSaid();
};

void TestCommonMotion::whatMostShareIsFound_data()
{
    QTest::addColumn<double>("degrees");
    QTest::addColumn<QVector<double>>("shift");
    QTest::addColumn<double>("others"); // the part of them that went elsewhere
    QTest::addColumn<double>("origin"); // how far out on the map
    for (const double origin : {0.0, 5'000'000.0})
        for (const double others : {0.0, 0.2, 0.4}) {
            const auto row = [&](const char* name, double degrees, QVector<double> shift) {
                QTest::addRow("%s, %.0f %% elsewhere, at %.0f km", name, 100 * others, origin / 1000)
                    << degrees << shift << others << origin;
            };
            row("nothing", 0, {0, 0, 0});
            row("moved", 0, {12, -7, 3.5});
            row("turned", 31.7, {0, 0, 0});
            row("turned and moved", -120, {400, 20, -1});
            row("turned a little", 0.02, {0.5, 0, 0});
        }
}

void TestCommonMotion::whatMostShareIsFound()
{
    QFETCH(double, degrees);
    QFETCH(QVector<double>, shift);
    QFETCH(double, others);
    QFETCH(double, origin);
    std::mt19937 random(7);
    std::uniform_real_distribution<double> in(0, 60);
    std::vector<PlacePair> places;
    const Transform turn = Transform::rotationZ(fromDegrees(degrees));
    const Point3 out{origin, origin / 2, 0};
    for (int i = 0; i < 200; ++i) {
        const Point3 p = out + Vector3{in(random), in(random), in(random) / 4};
        Point3 q = turn.turn(p - out) + out + Vector3{shift[0], shift[1], shift[2]};
        if (i % 10 < 10 * others)
            q = q + Vector3{in(random) + 1, in(random), in(random)};
        places.push_back({p, q});
    }
    const auto found = commonMotion(places);
    QVERIFY(found.has_value());
    QVERIFY(found->alike >= static_cast<std::size_t>(200 * (1 - others)));
    QVERIFY(std::abs(std::remainder(toDegrees(found->motion.rotation) - degrees, 360)) < 1e-6);
    const Point3 middle = out + Vector3{30, 30, 7};
    const Point3 there = turn.turn(middle - out) + out + Vector3{shift[0], shift[1], shift[2]};
    QVERIFY(length(found->motion.transform().apply(middle) - there) < 1e-6);
}

void TestCommonMotion::whereNothingIsSharedNothingIsSaid()
{
    QVERIFY(!commonMotion({}));
    const std::vector<PlacePair> two{{{0, 0, 0}, {1, 0, 0}}, {{5, 0, 0}, {6, 0, 0}}};
    QVERIFY(!commonMotion(two));
    std::mt19937 random(3);
    std::uniform_real_distribution<double> in(0, 60);
    std::vector<PlacePair> scattered;
    for (int i = 0; i < 100; ++i)
        scattered.push_back({{in(random), in(random), in(random)}, {in(random), in(random), in(random)}});
    QVERIFY(!commonMotion(scattered));
}

QTEST_APPLESS_MAIN(TestCommonMotion)
#include "test_common_motion.moc"
