#include <QTemporaryDir>
#include <QTest>

#include "core/base/file.h"
#include "core/clash/engine.h"
#include "core/coordinates/alignment.h"
#include "core/coordinates/correction.h"
#include "core/view/measure.h"
#include "scene/member_vertices.h"
#include "support/made_model.h"
#include "support/must.h"

#include <cmath>

using namespace wendrix;
using test::MadeModel;
using test::must;

/// Five millimetres at map coordinates of five thousand kilometres stay five millimetres, from the fit to the screen.
class TestFarAway : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void theFitIsExact();
    void clashesAreFiveMillimetresDeep();
    void measuresFiveMillimetres();
    void raysGoThroughTheGap();
    void isDrawnFiveMillimetresApart();
    void theCorrectedFileKeepsThem();

private:
    [[nodiscard]] federation::Member read(const MadeModel& made) const
    {
        const auto file = std::filesystem::path(folder_.path().toStdString()) / (made.name + ".ifc");
        (void)writeFileWhole(file, made.text());
        Progress progress;
        federation::Member member = must(federation::readMember(file, progress));
        member.discipline = made.name;
        return member;
    }
    [[nodiscard]] static ifc::ElementIndex named(const federation::Member& member, const std::string& name)
    {
        for (ifc::ElementIndex i = 0; i < member.model->elements().size(); ++i)
            if (member.model->displayName(member.model->elements()[i]) == name)
                return i;
        qFatal("no %s", name.c_str());
    }
    QTemporaryDir folder_;
    std::vector<federation::Member> members_; ///< a reference 5 000 km out, and a member of its own origin, fitted
};

namespace {

constexpr double kGap = 0.005;

} // namespace

void TestFarAway::initTestCase()
{
    MadeModel reference, moving;
    reference.name = "Architecture";
    reference.shift = {-5'000'000, -5'000'000, -300}; // its file's numbers are that much larger
    reference.boxes = {{"Wall", {0, 0, 0}, {6, 0.3, 3}}, {"Slab", {0, 0, 3}, {6, 5, 3.2}}};
    moving.name = "Structure";
    moving.turnedDegrees = -31.7;
    moving.shift = {40, -7, 2.5};
    moving.boxes = {{"Beside", {1, 0.3 + kGap, 0}, {2, 0.6, 2}}, // a gap of 5 mm to the wall
                    {"Into", {3, 0.3 - kGap, 0}, {4, 0.6, 2}},   // 5 mm into it
                    {"Under", {1, 1, 1}, {2, 2, 3 - kGap}}};     // 5 mm below the slab
    members_ = {read(reference), read(moving)};
    const auto fit = must(coordinates::alignByGrids(*members_[0].model, *members_[1].model));
    members_[1].fit = fit.fit;
    QVERIFY(length(members_[0].geometry->bounds().centre()) > 7'000'000);
}

void TestFarAway::theFitIsExact()
{
    for (const coordinates::Left& left : coordinates::leftAt(*members_[0].model, *members_[1].model, members_[1].fit))
        QVERIFY2(left.distance.value < 1e-6, left.at.c_str());
}

void TestFarAway::clashesAreFiveMillimetresDeep()
{
    Progress progress;
    const std::uint32_t left[] = {0}, right[] = {1};
    for (const double tolerance : {0.0001, 0.001, 0.0049}) {
        const auto found = clash::findClashes(members_, clash::partsOf(members_, left), clash::partsOf(members_, right),
                                              {clash::Kind::Hard, tolerance}, progress);
        QCOMPARE(found.clashes.size(), std::size_t{1});
        QCOMPARE(found.clashes[0].right.element, named(members_[1], "Into"));
        QVERIFY2(std::abs(found.clashes[0].depth - kGap) < 1e-5,
                 qPrintable(QString::number(found.clashes[0].depth, 'g', 12)));
    }
    QVERIFY(clash::findClashes(members_, clash::partsOf(members_, left), clash::partsOf(members_, right),
                               {clash::Kind::Hard, 0.0051}, progress)
                .clashes.empty());
}

void TestFarAway::measuresFiveMillimetres()
{
    const view::ElementKey wall{0, named(members_[0], "Wall")}, slab{0, named(members_[0], "Slab")};
    for (const auto& [from, to] : {std::pair{wall, view::ElementKey{1, named(members_[1], "Beside")}},
                                   {slab, view::ElementKey{1, named(members_[1], "Under")}}}) {
        const auto measured = must(view::shortestBetween(members_, from, to));
        QVERIFY2(std::abs(measured.number - kGap) < 1e-6, qPrintable(QString::number(measured.number, 'g', 12)));
        QCOMPARE(measured.value, std::string("5.0 mm"));
    }
}

void TestFarAway::raysGoThroughTheGap()
{
    view::Picker picker(members_);
    view::ColourTable colours;
    for (const federation::Member& m : members_)
        colours.emplace_back(m.model->elements().size(), view::Colour{1, 1, 1, 1});
    // Along the wall's face: in the middle of the gap nothing is met, 2 mm to either side something is.
    for (const auto& [y, isMet] :
         {std::pair{0.3 + kGap / 2, false}, {0.3 - 0.0005, true}, {0.3 + kGap + 0.0005, true}}) {
        const view::Ray ray{Point3{-5, y, 1} - Vector3{-5'000'000, -5'000'000, -300}, {1, 0, 0}};
        view::Picker::Filter filter;
        filter.reachesThrough = [&](const view::ElementKey& key) {
            return key.member == 1 && key.element != named(members_[1], "Beside");
        };
        const auto picked = picker.pick(ray, {colours, nullptr}, filter);
        QVERIFY2(picked.has_value() == isMet, qPrintable(QString::number(y)));
    }
}

void TestFarAway::isDrawnFiveMillimetresApart()
{
    // What the GPU gets: single floats, about an origin of each member's own.
    const auto extent = [&](std::uint32_t member, const char* name) {
        const ifc::ElementIndex some[] = {named(members_[member], name)};
        const app::MemberVertices vertices = app::verticesOf(members_[member], some);
        Box3 box;
        for (const auto& instance : vertices.instances)
            for (const app::MemberVertices::Face& f : vertices.faces) {
                const float* r = instance.rows;
                const auto row = [&](int i) {
                    return static_cast<double>(r[4 * i] * f.x + r[4 * i + 1] * f.y + r[4 * i + 2] * f.z + r[4 * i + 3]);
                };
                box.add(vertices.origin + Vector3{row(0), row(1), row(2)});
            }
        return box;
    };
    QVERIFY(std::abs(extent(1, "Beside").min.y - extent(0, "Wall").max.y - kGap) < 5e-5);
    QVERIFY(std::abs(extent(0, "Slab").min.z - extent(1, "Under").max.z - kGap) < 5e-5);
    QVERIFY(std::abs(extent(0, "Wall").max.y - extent(1, "Into").min.y - kGap) < 5e-5);
}

void TestFarAway::theCorrectedFileKeepsThem()
{
    const auto target = std::filesystem::path(folder_.path().toStdString()) / "corrected.ifc";
    Progress progress;
    (void)must(coordinates::writeCorrected(*members_[0].model, *members_[1].model, members_[1].fit, target, progress));
    std::vector<federation::Member> members{members_[0], must(federation::readMember(target, progress))};
    QCOMPARE(members[1].fit, federation::Fit{});
    const auto measured =
        must(view::shortestBetween(members, {0, named(members[0], "Wall")}, {1, named(members[1], "Beside")}));
    QVERIFY2(std::abs(measured.number - kGap) < 1e-6, qPrintable(QString::number(measured.number, 'g', 12)));
}

QTEST_GUILESS_MAIN(TestFarAway)
#include "test_far_away.moc"
