#include <QTest>

#include "core/project/alike_pairs.h"
#include "core/project/clash_cause.h"
#include "core/project/clash_list.h"
#include "core/project/clash_matrix.h"
#include "core/project/clash_plan.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

using namespace wendrix;
using namespace wendrix::project;
using clash::Kind;
using test::kInes;
using test::kJon;
using test::MadeRun;
using test::must;

/// Which pairs are asked for, how they are put together, and what comes of them: matrix, offers.
class TestClashList : public QObject {
    Q_OBJECT
private slots:
    void init();
    void questionsNarrow_data();
    void questionsNarrow();
    void pairsArePutTogether_data();
    void pairsArePutTogether();
    void clearancesSayHowMuch();
    void theMatrixAddsUp();
    void theMatrixSaysWhatWasNotTested();
    void thePlanAddsUp();
    void whatIsSaidTwiceIsOffered();
    void standingPairsComeBackWithTheirReason_data();
    void standingPairsComeBackWithTheirReason();
    void whatMadeAPairIsSaid_data();
    void whatMadeAPairIsSaid();
    void waysAreSaidUpright_data();
    void waysAreSaidUpright();

private:
    [[nodiscard]] MadeRun made() const { return MadeRun(*project_, {"Structure", "Ventilation", "Piping"}); }
    /// Two beams and a column, ducts of one type, a pipe; on two storeys.
    void record();
    [[nodiscard]] ClashList listOf(const ClashQuestion& question) const
    {
        return ClashList(must(project_->clashes().briefs()), question);
    }
    /// Sections and groups with how many pairs, as lines.
    [[nodiscard]] QStringList linesOf(const ClashList& list) const
    {
        QStringList lines;
        for (const ClashRow& row : must(list.page(project_->clashes(), 0, list.rowCount())))
            if (row.isSection || row.isGroup)
                lines << QString(row.isSection ? "%1: %2" : "  %1: %2")
                             .arg(QString::fromStdString(row.title))
                             .arg(row.pairs);
        return lines;
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
};

void TestClashList::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject((folder_->path() + "/p").toStdString(), {"Structure", "Ventilation", "Piping"});
}

void TestClashList::record()
{
    MadeRun run = made();
    const auto beam = run.ref("Structure", "b1"), other = run.ref("Structure", "b2"),
               column = run.ref("Structure", "c");
    const auto one = run.ref("Ventilation", "d1"), two = run.ref("Ventilation", "d2"), pipe = run.ref("Piping", "p");
    run.pair(beam, one, 0.3).pair(beam, two, 0.2).pair(other, one, 0.1).pair(column, pipe, 0.4).pair(one, pipe, 0.05);
    const std::map<std::string, std::tuple<const char*, const char*, const char*>> are{
        {"b1", {"IfcBeam", "IPE 300", ""}},
        {"b2", {"IfcBeam", "IPE 300", ""}},
        {"c", {"IfcColumn", "", ""}},
        {"d1", {"IfcDuctSegment", "700 x 350", "Supply"}},
        {"d2", {"IfcDuctSegment", "700 x 350", "Extract"}},
        {"p", {"IfcPipeSegment", "DN 50", "Heating"}}};
    for (RunElement& e : run.run.elements) {
        const auto& [className, type, system] = are.at(e.ref.guid);
        e.className = className;
        e.type = type;
        e.system = system;
    }
    const std::array<double, 5> along{0, 1, 2, 30, 31.4}; // two bunches
    for (std::size_t k = 0; k < 5; ++k) {
        run.run.findings[k].point = {along[k], 0, 3};
        run.run.findings[k].storey = k < 3 ? "Level 1" : "Level 2";
        run.run.findings[k].bay = k == 1 ? "C / 4" : "B / 2";
    }
    QVERIFY(recordRun(*project_, run.run, kInes).has_value());
}

void TestClashList::questionsNarrow_data()
{
    QTest::addColumn<QString>("how");
    QTest::addColumn<int>("pairs");
    QTest::newRow("all") << "" << 5;
    QTest::newRow("a storey") << "storey=Level 2" << 2;
    QTest::newRow("a bay") << "bay=C / 4" << 1;
    QTest::newRow("a bay that is not there") << "bay=Z / 9" << 0;
    QTest::newRow("a test") << "test=Structure × Ventilation" << 3;
    QTest::newRow("a class, on either side") << "class=IfcDuctSegment" << 4;
    QTest::newRow("a system") << "system=Heating" << 2;
    QTest::newRow("a discipline with any") << "discipline=Ventilation" << 4;
    QTest::newRow("one against another, either way round") << "discipline=Ventilation,against=Structure" << 3;
    QTest::newRow("within one") << "discipline=Piping,against=Piping" << 0;
    QTest::newRow("together") << "system=Supply,storey=Level 1" << 2;
    QTest::newRow("decided") << "decision=let stand" << 1;
    QTest::newRow("nothing changed") << "cause=0" << 5; // the first run
    QTest::newRow("moved") << "cause=8" << 0;
    QTest::newRow("who decides") << "decider=Jon" << 1;
    QTest::newRow("nobody's") << "decider=Nobody" << 0;
}

void TestClashList::questionsNarrow()
{
    QFETCH(QString, how);
    QFETCH(int, pairs);
    record();
    const PairId deepest = must(project_->clashes().all())[0].id;
    QVERIFY(project_->clashes().decide(std::span(&deepest, 1), "let stand", "agreed", kJon).has_value());
    ClashQuestion question;
    question.filter = ClashFilter::There;
    for (const QString& part : how.split(',', Qt::SkipEmptyParts)) {
        const std::string key = part.section('=', 0, 0).toStdString(), value = part.section('=', 1).toStdString();
        std::map<std::string, std::string*> fields{{"storey", &question.storey},   {"bay", &question.bay},
                                                   {"test", &question.test},       {"class", &question.className},
                                                   {"system", &question.system},   {"discipline", &question.discipline},
                                                   {"against", &question.against}, {"decider", &question.decider}};
        if (fields.contains(key))
            *fields.at(key) = value;
        if (key == "decision")
            question.decision = PairBrief::Decision::LetStand;
        if (key == "cause")
            question.cause = static_cast<unsigned>(std::stoi(value));
        if (key == "decider" && value == "Jon")
            question.testsOfDecider = {"Structure × Piping"};
    }
    const ClashList list = listOf(question);
    QCOMPARE(static_cast<int>(list.pairCount()), pairs);
    // Filters count within what it is narrowed to; the rail counts all.
    QCOMPARE(list.counts().undecidedOfAll, std::size_t{4});
    QVERIFY(list.counts().there >= list.pairCount());
}

void TestClashList::pairsArePutTogether_data()
{
    QTest::addColumn<int>("order");
    QTest::addColumn<QStringList>("lines");
    const auto row = [](const char* name, ClashOrder order, const QStringList& lines) {
        QTest::newRow(name) << static_cast<int>(order) << lines;
    };
    // b1 causes two, then d1 has one left; groups are of one test.
    row("fewest", ClashOrder::Fewest,
        {"  Element b1 crosses 2 elements: 2", "  Element c crosses Element p: 1", "  Element b2 crosses Element d1: 1",
         "  Element d1 crosses Element p: 1"});
    row("left element", ClashOrder::LeftElement,
        {"  Element b1 crosses 2 elements: 2", "  Element c crosses Element p: 1", "  Element b2 crosses Element d1: 1",
         "  Element d1 crosses Element p: 1"});
    row("right element", ClashOrder::RightElement,
        {"  Element d1 crosses 2 elements: 2", "  Element p crosses Element c: 1", "  Element d2 crosses Element b1: 1",
         "  Element p crosses Element d1: 1"});
    row("place", ClashOrder::Place,
        {"Level 1 · B / 2: 2", "  Element d1 crosses 2 elements: 2", "Level 2 · B / 2: 2",
         "  Element c crosses Element p: 1", "  Element d1 crosses Element p: 1", "Level 1 · C / 4: 1",
         "  Element b1 crosses Element d2: 1"});
    row("type, left", ClashOrder::LeftType,
        {"IPE 300: 3", "  Element b1 crosses 2 elements: 2", "  Element b2 crosses Element d1: 1", "700 x 350: 1",
         "  Element d1 crosses Element p: 1", "IfcColumn: 1", "  Element c crosses Element p: 1"});
    row("system, right", ClashOrder::RightSystem,
        {"Heating: 2", "  Element c crosses Element p: 1", "  Element d1 crosses Element p: 1", "Supply: 2",
         "  Element d1 crosses 2 elements: 2", "Extract: 1", "  Element b1 crosses Element d2: 1"});
    row("nearness", ClashOrder::Nearness,
        {"Around Level 1 · B / 2: 3", "  Element b1 crosses 2 elements: 2", "  Element b2 crosses Element d1: 1",
         "Around Level 2 · B / 2: 2", "  Element c crosses Element p: 1", "  Element d1 crosses Element p: 1"});
}

void TestClashList::pairsArePutTogether()
{
    QFETCH(int, order);
    record();
    ClashQuestion question;
    question.order = static_cast<ClashOrder>(order);
    QTEST(linesOf(listOf(question)), "lines");
}

void TestClashList::clearancesSayHowMuch()
{
    MadeRun run = made();
    run.pair(run.ref("Structure", "slab"), run.ref("Ventilation", "duct"), 0)
        .pair(run.ref("Structure", "slab"), run.ref("Piping", "pipe"), 0.12);
    run.run.tests[0].test.kind = Kind::Clearance;
    run.run.tests[0].test.clearance = 0.4;
    run.run.findings[0].distance = 0.26;
    QVERIFY(recordRun(*project_, run.run, kInes).has_value());
    const auto pairs = must(project_->clashes().all());
    QCOMPARE(clash::inWords(pairs[0].extent()), std::string("260 mm of 400 mm")); // 140 mm are missing
    QCOMPARE(clash::inWords(pairs[1].extent()), std::string("120 mm deep"));
    QVERIFY(linesOf(listOf({}))[0].startsWith("  Element duct is too near Element slab") ||
            linesOf(listOf({}))[0].startsWith("  Element slab is too near Element duct"));
    // Asked for less, it was not tested; asked for as much upwards only, neither; for more, it is gone.
    const auto outcomeWith = [&](double clearance, clash::Direction direction) {
        MadeRun again = made();
        again.run.tests[0].test.kind = Kind::Clearance;
        again.run.tests[0].test.clearance = clearance;
        again.run.tests[0].test.direction = direction;
        const auto done = recordRun(*project_, again.run, kInes);
        const auto read = must(project_->clashes().all());
        const auto outcome =
            std::find_if(read.begin(), read.end(), [](const Pair& p) { return p.kind == Kind::Clearance; })->outcome;
        return done && project_->undo(kInes) ? outcome : clash::Outcome::Found;
    };
    QCOMPARE(outcomeWith(0.3, clash::Direction::Any), clash::Outcome::TestChanged);
    QCOMPARE(outcomeWith(0.4, clash::Direction::Up), clash::Outcome::TestChanged);
    QCOMPARE(outcomeWith(0.5, clash::Direction::Any), clash::Outcome::Gone);
}

void TestClashList::theMatrixAddsUp()
{
    record();
    MadeRun again = made();
    again.pair(again.ref("Structure", "b1"), again.ref("Ventilation", "d1"), 0.3)
        .pair(again.ref("Structure", "b1"), again.ref("Piping", "new"), 0.3);
    QVERIFY(recordRun(*project_, again.run, kInes).has_value());
    const Run last = *must(project_->clashes().lastRun());
    const std::vector<std::string> disciplines{"Structure", "Ventilation", "Piping"};
    const ClashMatrix matrix(must(project_->clashes().briefs()), &last, disciplines);
    QCOMPARE(matrix.disciplines(), disciplines);
    const auto cell = [&](std::size_t a, std::size_t b) { return matrix.at(a, b); };
    QVERIFY(cell(0, 1).there == 1 && cell(0, 1).goneNow == 2 && cell(0, 1).isNew == 0 && cell(0, 1).undecided == 1);
    QVERIFY(cell(2, 0).there == 1 && cell(2, 0).isNew == 1 && cell(2, 0).goneNow == 1);
    QVERIFY(cell(1, 2).there == 0 && cell(1, 2).goneNow == 1 && cell(1, 2).isTested);
    QVERIFY(!cell(0, 0).isTested && cell(0, 0).whyNot.empty()); // no test asks it
    const auto sum = matrix.sum();
    ClashQuestion all;
    all.filter = ClashFilter::There;
    const ClashList list = listOf(all);
    QVERIFY(sum.there == list.counts().there && sum.undecided == list.counts().undecided &&
            sum.isNew == list.counts().isNew && sum.goneNow == list.counts().goneNow);
    // The run before is not the last one: what went then is no news any more.
    QVERIFY(recordRun(*project_, again.run, kInes).has_value());
    QCOMPARE(listOf(all).counts().goneNow, std::size_t{0});
    QCOMPARE(listOf(all).counts().gone, std::size_t{4});
}

void TestClashList::theMatrixSaysWhatWasNotTested()
{
    MadeRun run = made();
    run.run.members[1].isTested = false;
    run.run.members[1].why = "its grid is off by 34 m";
    for (RunTest& t : run.run.tests)
        t.state = t.test.name == "Structure × Piping" ? clash::TestState::Run : clash::TestState::None;
    QVERIFY(recordRun(*project_, run.run, kInes).has_value());
    const Run last = *must(project_->clashes().lastRun());
    const ClashMatrix matrix(must(project_->clashes().briefs()), &last,
                             std::vector<std::string>{"Structure", "Ventilation", "Piping", "Electrical"});
    QCOMPARE(matrix.disciplines().size(), std::size_t{3}); // nothing of the last was there
    QVERIFY(matrix.at(0, 2).isTested && matrix.at(0, 2).whyNot.empty());
    QCOMPARE(matrix.at(0, 1).whyNot, std::string("Ventilation P01, its grid is off by 34 m"));
    QVERIFY(!matrix.at(1, 2).isTested);
    QCOMPARE(matrix.at(0, 2).askedBy, std::vector<std::string>{"Structure × Piping"});
    // A line that names no discipline picks from those it picked from, and no others.
    MadeRun next = made();
    next.run.tests.resize(1);
    RunTest& free = next.run.tests[0];
    free.test.name = "Free above ceilings";
    free.test.left = "class is Covering";
    free.test.right = "class is DuctSegment";
    free.leftOf = {test::idOf(*project_, "Structure")};
    free.rightOf = {test::idOf(*project_, "Ventilation")};
    QVERIFY(recordRun(*project_, next.run, kInes).has_value());
    const Run last2 = *must(project_->clashes().lastRun());
    const ClashMatrix some(must(project_->clashes().briefs()), &last2,
                           std::vector<std::string>{"Structure", "Ventilation", "Piping"});
    QVERIFY(some.at(0, 1).isTested && some.at(0, 1).askedBy == std::vector<std::string>{"Free above ceilings"});
    for (const auto& [a, b] : {std::pair{0u, 0u}, {1u, 1u}, {0u, 2u}, {1u, 2u}, {2u, 2u}})
        QVERIFY(!some.at(a, b).isTested && some.at(a, b).askedBy.empty() && some.at(a, b).whyNot.empty());
    const ClashMatrix before(must(project_->clashes().briefs()), nullptr, std::vector<std::string>{"A", "B"});
    QVERIFY(before.disciplines().size() == 2 && !before.at(0, 1).isTested);
}

void TestClashList::thePlanAddsUp()
{
    record();
    const auto all = must(project_->clashes().all());
    QVERIFY(project_->clashes().decide(std::span(&all[1].id, 1), "let stand", "", kInes).has_value()); // b1, d1
    const ClashPlan plan(must(project_->clashes().briefs()), {});
    QCOMPARE(plan.storeys().size(), std::size_t{2});
    const ClashPlan::Storey* one = plan.find("Level 1");
    QVERIFY(one != nullptr && plan.find("") == one && plan.find("Level 9") == nullptr); // the one with most
    QCOMPARE(one->bays.size(), std::size_t{2});
    QVERIFY(one->bays[0].name == "B / 2" && one->bays[0].all() == 2 && one->bays[0].letStand == 1 &&
            one->bays[0].undecided == 1);
    QCOMPARE(one->bays[0].x, 1.0); // between 0 and 2
    QVERIFY(one->bays[1].name == "C / 4" && one->bays[1].all() == 1);
    ClashQuestion narrowed;
    narrowed.system = "Heating";
    narrowed.storey = "Level 1"; // counts for nothing here
    QCOMPARE(ClashPlan(must(project_->clashes().briefs()), narrowed).storeys().size(), std::size_t{1});
    QVERIFY(ClashPlan(PairBriefs{}, {}).storeys().empty());
}

void TestClashList::whatIsSaidTwiceIsOffered()
{
    record(); // b1 and b2 are of one type, d1 and d2 of another
    const auto all = must(project_->clashes().all());
    const auto idOf = [&](const char* left, const char* right) {
        for (const Pair& p : all)
            if (p.left.element.guid == left && p.right.element.guid == right)
                return p.id;
        return PairId{0};
    };
    const PairId first = idOf("b1", "d1"), second = idOf("b1", "d2"), third = idOf("b2", "d1"), odd = idOf("c", "p");
    const auto stand = [&](PairId id, const char* reason) {
        QVERIFY(project_->clashes().decide(std::span(&id, 1), "let stand", reason, kInes, "2026-12-24").has_value());
    };
    const auto offer = [&](PairId id) { return must(alikeTo(project_->clashes(), std::span(&id, 1))); };
    stand(first, "sleeve is provided");
    QVERIFY(!offer(first)); // said once only
    stand(odd, "sleeve is provided");
    QVERIFY(!offer(odd)); // not alike
    stand(second, "sleeve is provided");
    const auto made = offer(second);
    QVERIFY(made.has_value());
    QCOMPARE(made->pairs, std::vector<PairId>{third});
    QCOMPARE(made->reason, std::string("sleeve is provided"));
    QCOMPARE(made->until, std::string("2026-12-24"));
    QCOMPARE(made->words, std::string("1 more pair of IPE 300 and 700 x 350 in Structure × Ventilation"));
    stand(third, "another reason");
    QVERIFY(!offer(third));
    stand(second, "");
    QVERIFY(!offer(second)); // without a reason nothing is said
}

void TestClashList::standingPairsComeBackWithTheirReason_data()
{
    QTest::addColumn<double>("shift"); // of the duct, m
    QTest::addColumn<unsigned>("kinds");
    QTest::addColumn<QString>("until");
    QTest::addColumn<QString>("returned"); // what it says; empty: it stands
    QTest::newRow("nothing changed") << 0.0 << 0u << ""
                                     << "";
    QTest::newRow("moved within the tolerance") << 0.004 << static_cast<unsigned>(Moved) << ""
                                                << "";
    QTest::newRow("moved") << 0.205 << static_cast<unsigned>(Moved) << ""
                           << "let stand by Ines Varga (agreed), but Duct was lowered by 205 mm in P02";
    QTest::newRow("reshaped") << 0.0 << static_cast<unsigned>(Reshaped) << ""
                              << "let stand by Ines Varga (agreed), but Duct was reshaped in P02";
    QTest::newRow("only redescribed") << 0.0 << static_cast<unsigned>(Redescribed) << ""
                                      << "";
    QTest::newRow("its day is over") << 0.0 << 0u << "2026-11-18"
                                     << "let stand by Ines Varga (agreed), but that day is over";
    QTest::newRow("its day is not over") << 0.0 << 0u << "2026-11-19"
                                         << "";
}

void TestClashList::standingPairsComeBackWithTheirReason()
{
    QFETCH(double, shift);
    QFETCH(unsigned, kinds);
    QFETCH(QString, until);
    QFETCH(QString, returned);
    const DeliveryId p01 = test::received(*project_, "Ventilation", "P01"),
                     p02 = test::received(*project_, "Ventilation", "P02", "2026-11-18T10:00:00Z");
    QVERIFY(takeIn(*project_, {p01, {}, {}}, kInes).has_value());
    MadeRun run = made();
    run.pair(run.ref("Structure", "beam"), run.ref("Ventilation", "duct"));
    for (RunElement& e : run.run.elements)
        e.name = e.ref.guid == "duct" ? "Duct" : "Beam";
    QVERIFY(recordRun(*project_, run.run, kInes).has_value());
    const PairId id = must(project_->clashes().all())[0].id;
    QVERIFY(
        project_->clashes().decide(std::span(&id, 1), "let stand", "agreed", kInes, until.toStdString()).has_value());
    TakeIn record{p02, {}, {}};
    record.comparison.emplace();
    record.comparison->discipline = test::idOf(*project_, "Ventilation");
    record.comparison->record.from = p01;
    record.comparison->record.to = p02;
    if (kinds != 0) {
        ChangeRecord change;
        change.element = run.ref("Ventilation", "duct");
        change.kinds = kinds;
        change.shift = {0, 0, -shift};
        record.comparison->changes = {change};
    }
    record.run = run.run;
    const auto done = takeIn(*project_, record, kJon); // on the 19th
    QVERIFY2(done.has_value(), done ? "" : done.error().message.c_str());
    const Pair pair = must(project_->clashes().all())[0];
    QCOMPARE(QString::fromStdString(pair.returned), returned);
    QCOMPARE(pair.decision, std::string(returned.isEmpty() ? "let stand" : ""));
    QCOMPARE(done->givenBack, returned.isEmpty() ? std::size_t{0} : std::size_t{1});
    // Undone with the take-in, it stands again.
    QVERIFY(project_->undo(kJon).has_value());
    QCOMPARE(must(project_->clashes().all())[0].decision, std::string("let stand"));
}

void TestClashList::whatMadeAPairIsSaid_data()
{
    QTest::addColumn<QString>("what"); // is another in the second run
    QTest::addColumn<QString>("cause");
    QTest::newRow("nothing") << ""
                             << "neither element's body changed: what the test's sets pick, or what is expected to "
                                "meet, did";
    QTest::newRow("the test asks for more") << "tolerance"
                                            << "the test Structure × Ventilation was changed: hard, deeper than 1 mm";
    QTest::newRow("the test is new") << "test"
                                     << "the test Another is new: hard, deeper than 1 mm";
    QTest::newRow("the test was not run") << "state"
                                          << "the test Structure × Ventilation was not run before";
    QTest::newRow("a fit") << "fit"
                           << "the fit of Ventilation was changed";
    QTest::newRow("a member came") << "came"
                                   << "Ventilation P01 was not there before";
    QTest::newRow("a member was not tested") << "tested"
                                             << "Ventilation P01 was not tested before: its grid is off by 34 m";
}

void TestClashList::whatMadeAPairIsSaid()
{
    QFETCH(QString, what);
    QFETCH(QString, cause);
    MadeRun first = made();
    const auto beam = first.ref("Structure", "beam"), duct = first.ref("Ventilation", "duct");
    if (what == "state")
        first.run.tests[0].state = clash::TestState::Cancelled;
    if (what == "came")
        first.run.members.erase(first.run.members.begin() + 1);
    if (what == "tested") {
        first.run.members[1].isTested = false;
        first.run.members[1].why = "its grid is off by 34 m";
    }
    QVERIFY(recordRun(*project_, first.run, kInes).has_value());
    MadeRun second = made();
    second.pair(beam, duct);
    if (what == "tolerance" || what == "test")
        second.run.tests[0].test.tolerance = 0.001;
    if (what == "test")
        second.run.tests[0].test.name = "Another";
    if (what == "fit")
        second.run.members[1].fit.translation = {0, 0, 1};
    QVERIFY(recordRun(*project_, second.run, kInes).has_value());
    QCOMPARE(QString::fromStdString(must(causeOf(*project_, must(project_->clashes().all())[0]))), cause);
    // Found once more it is no news; the cause is that of its coming still, as long as it is called new.
    QVERIFY(recordRun(*project_, second.run, kInes).has_value());
    QVERIFY(must(causeOf(*project_, must(project_->clashes().all())[0])).empty());
}

void TestClashList::waysAreSaidUpright_data()
{
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("z");
    QTest::addColumn<QString>("words");
    QTest::newRow("down") << 0.0 << -0.205 << "was lowered by 205 mm";
    QTest::newRow("up") << 0.0 << 0.06 << "was raised by 60 mm";
    QTest::newRow("aside") << 0.3 << 0.0 << "moved 300 mm";
    QTest::newRow("aslant") << 0.3 << -0.4 << "moved 500 mm";
    QTest::newRow("nearly upright") << 0.01 << -1.0 << "was lowered by 1.00 m";
}

void TestClashList::waysAreSaidUpright()
{
    QFETCH(double, x);
    QFETCH(double, z);
    QTEST(QString::fromStdString(shiftInWords({x, 0, z})), "words");
}

QTEST_APPLESS_MAIN(TestClashList)
#include "test_clash_list.moc"
