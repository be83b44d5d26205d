#include <QTest>

#include "core/view/marks.h"

#include <cmath>
#include <numbers>

using namespace wendrix;
using namespace wendrix::view;

/// Marks drawn over a view: where they are, what lines they are, and how near one is.
class TestMarks : public QObject {
    Q_OBJECT
private slots:
    void pixelsAndPicture_data();
    void pixelsAndPicture();
    void stayOnWhatTheyPointAt();
    void strokes_data();
    void strokes();
    void cloudsBowOutward();
    void distances_data();
    void distances();
    void simplifies_data();
    void simplifies();
    void tellsViewsApart_data();
    void tellsViewsApart();
};

void TestMarks::pixelsAndPicture_data()
{
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("y");
    QTest::addColumn<double>("right");
    QTest::addColumn<double>("up");
    QTest::newRow("middle") << 400.0 << 300.0 << 0.0 << 0.0;
    QTest::newRow("top") << 400.0 << 0.0 << 0.0 << 1.0;
    QTest::newRow("bottom") << 400.0 << 600.0 << 0.0 << -1.0;
    QTest::newRow("right edge") << 800.0 << 300.0 << 4.0 / 3 << 0.0;
}

void TestMarks::pixelsAndPicture()
{
    QFETCH(double, x);
    QFETCH(double, y);
    QFETCH(double, right);
    QFETCH(double, up);
    const Viewport viewport{800, 600};
    const Point2 p = toPicture(viewport, x, y);
    QVERIFY(std::abs(p.x - right) < 1e-12 && std::abs(p.y - up) < 1e-12);
    const Point2 back = toPixel(viewport, p);
    QVERIFY(std::abs(back.x - x) < 1e-9 && std::abs(back.y - y) < 1e-9);
}

void TestMarks::stayOnWhatTheyPointAt()
{
    // The same place of the model under the same mark in windows of other sizes and shapes.
    const Camera camera;
    const Point3 place{3, -2, 1};
    const auto at = [&](Viewport viewport) {
        const auto s = project(camera, viewport, place);
        return toPicture(viewport, s.x, s.y);
    };
    const Point2 here = at({800, 600});
    for (const Viewport other : {Viewport{1600, 1200}, {600, 900}, {7680, 4320}})
        QVERIFY(length(at(other) - here) < 1e-9);
}

void TestMarks::strokes_data()
{
    QTest::addColumn<int>("kind");
    QTest::addColumn<int>("lines");
    QTest::addColumn<bool>("isClosed");
    QTest::addColumn<double>("length");
    const double h =
        std::pow((2.0 - 1.0) / (2.0 + 1.0), 2); // Ramanujan's circumference of the ellipse with half axes 2 and 1
    const double circumference = std::numbers::pi * 3 * (1 + 3 * h / (10 + std::sqrt(4 - 3 * h)));
    QTest::newRow("rectangle") << static_cast<int>(MarkKind::Rectangle) << 1 << true << 12.0;
    QTest::newRow("ellipse") << static_cast<int>(MarkKind::Ellipse) << 1 << true << circumference;
    QTest::newRow("line") << static_cast<int>(MarkKind::Line) << 1 << false << std::sqrt(20.0);
    QTest::newRow("arrow") << static_cast<int>(MarkKind::Arrow) << 2 << false << std::sqrt(20.0);
    QTest::newRow("cloud, half circles on each side")
        << static_cast<int>(MarkKind::Cloud) << 1 << true << 6 * std::numbers::pi;
}

void TestMarks::strokes()
{
    QFETCH(int, kind);
    QFETCH(int, lines);
    QFETCH(bool, isClosed);
    QFETCH(double, length);
    const auto all = strokesOf({static_cast<MarkKind>(kind), {{-2, -1}, {2, 1}}, {}, {}});
    QCOMPARE(static_cast<int>(all.size()), lines);
    double sum = 0;
    for (std::size_t i = 0; i + 1 < all[0].size(); ++i)
        sum += wendrix::length(all[0][i + 1] - all[0][i]);
    QVERIFY2(std::abs(sum - length) < 0.01 * length, qPrintable(QString::number(sum)));
    QCOMPARE(all[0].front() == all[0].back(), isClosed);
    if (lines == 2)
        QVERIFY(all[1].size() == 3 && all[1][1] == (Point2{2, 1})); // the head's tip is the end
}

void TestMarks::cloudsBowOutward()
{
    // Whichever corner one began at, the cloud encloses the rectangle and more.
    for (const auto& [a, b] :
         {std::pair{Point2{0, 0}, Point2{1, 0.5}}, {Point2{1, 0.5}, Point2{0, 0}}, {Point2{1, 0}, Point2{0, 0.5}}}) {
        const auto line = strokesOf({MarkKind::Cloud, {a, b}, {}, {}})[0];
        double doubled = 0;
        for (std::size_t i = 0; i + 1 < line.size(); ++i) {
            doubled += cross(line[i], line[i + 1]);
            QVERIFY(!(line[i].x > 0.01 && line[i].x < 0.99 && line[i].y > 0.01 && line[i].y < 0.49));
        }
        QVERIFY(std::abs(doubled) / 2 > 0.5 + 0.02);
    }
}

void TestMarks::distances_data()
{
    QTest::addColumn<int>("kind");
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("y");
    QTest::addColumn<double>("distance");
    QTest::newRow("beside a line") << static_cast<int>(MarkKind::Line) << 1.0 << 0.25 << 0.25;
    QTest::newRow("past its end") << static_cast<int>(MarkKind::Line) << 5.0 << 4.0 << 5.0;
    QTest::newRow("inside a rectangle") << static_cast<int>(MarkKind::Rectangle) << 1.0 << 0.0
                                        << 0.0; // its sides fall together
    QTest::newRow("a text's beginning") << static_cast<int>(MarkKind::Text) << 0.0 << 0.5 << 0.5;
}

void TestMarks::distances()
{
    QFETCH(int, kind);
    QFETCH(double, x);
    QFETCH(double, y);
    QFETCH(double, distance);
    QVERIFY(std::abs(distanceTo({static_cast<MarkKind>(kind), {{0, 0}, {2, 0}}, {}, {}}, {x, y}) - distance) < 1e-12);
    QVERIFY(std::isinf(distanceTo({static_cast<MarkKind>(kind), {}, {}, {}}, {x, y}))); // a damaged one is nowhere
}

void TestMarks::simplifies_data()
{
    QTest::addColumn<int>("which");
    QTest::addColumn<int>("left");
    QTest::newRow("straight") << 0 << 2;
    QTest::newRow("corner stays") << 1 << 3;
    QTest::newRow("trembling goes") << 2 << 2;
    QTest::newRow("there and back") << 3 << 3;
    QTest::newRow("one point") << 4 << 1;
}

void TestMarks::simplifies()
{
    QFETCH(int, which);
    QFETCH(int, left);
    std::vector<std::vector<Point2>> lines(5);
    for (int i = 0; i <= 100; ++i) {
        const double t = i / 100.0;
        lines[0].push_back({t, t});
        lines[1].push_back(i < 50 ? Point2{t, 0} : Point2{0.5, t - 0.5});
        lines[2].push_back({t, i % 2 == 0 ? 0.0005 : -0.0005});
        lines[3].push_back({i <= 50 ? t : 1 - t, 0});
    }
    lines[4].push_back({1, 2});
    const auto kept = simplified(lines[static_cast<std::size_t>(which)], 0.002);
    QCOMPARE(static_cast<int>(kept.size()), left);
    QVERIFY(kept.front() == lines[static_cast<std::size_t>(which)].front() &&
            kept.back() == lines[static_cast<std::size_t>(which)].back());
}

void TestMarks::tellsViewsApart_data()
{
    QTest::addColumn<double>("shift");
    QTest::addColumn<bool>("isParallel");
    QTest::addColumn<bool>("isSame");
    QTest::newRow("itself") << 0.0 << false << true;
    QTest::newRow("less than a pixel") << 0.01 << false << true;
    QTest::newRow("a step aside") << 0.5 << false << false;
    QTest::newRow("without perspective") << 0.0 << true << false;
}

void TestMarks::tellsViewsApart()
{
    QFETCH(double, shift);
    QFETCH(bool, isParallel);
    QFETCH(bool, isSame);
    const Camera here;
    Camera there = here;
    there.eye.x += shift;
    there.isParallel = isParallel;
    QCOMPARE(isSameView(here, there), isSame);
}

QTEST_GUILESS_MAIN(TestMarks)
#include "test_marks.moc"
