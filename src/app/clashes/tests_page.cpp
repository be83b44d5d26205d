#include "clashes/tests_page.h"

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/clash/untested.h"
#include "core/project/issue_making.h"
#include "shell/theme.h"

#include <QFileDialog>
#include <QPushButton>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr std::size_t kMostPainted = 100'000; // past that a set is most of the building anyway

std::size_t leftOutBy(const project::RunTest& test)
{
    std::size_t all = 0;
    for (const auto& [rule, pairs] : test.expected)
        all += pairs;
    return all;
}

} // namespace

TestsPage::TestsPage(const StageContext& context, QObject* parent)
    : QObject(parent), at_(context), list_(new Worklist("Tests"))
{
    list_->setObjectName("tests");
    connect(list_, &Worklist::rowChosen, this, [this] {
        if (isFront_)
            show();
    });
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) {
        filter_ = id;
        fill();
        if (isFront_)
            show();
    });
    connect(&at_.session, &Session::workspaceChanged, this, [this] {
        if (isFront_)
            refresh();
    });
    auto* load = new QPushButton("Load…");
    load->setObjectName("loadSheet");
    load->setToolTip("Load a test sheet from a file");
    connect(load, &QPushButton::clicked, this, &TestsPage::loadFromFile, Qt::QueuedConnection);
    list_->addButton(load);
}

void TestsPage::setFront(bool isFront)
{
    if (std::exchange(isFront_, isFront) != isFront && isFront)
        refresh(); // models may be others than when it was read
}

void TestsPage::refresh()
{
    if (!at_.session.hasProject())
        return;
    at_.session.ask<Read>(
        this, "sheets",
        [members = at_.session.workspace().members](const project::Project& p) {
            Read read;
            for (const federation::Member& m : members)
                for (clash::NotTestable& n : clash::notTestable(m))
                    read.untested.push_back({std::move(n.guid), std::move(n.name), std::move(n.why), m.title()});
            read.sheets = orNothing(project::sheetsInForce(p));
            read.lastRun = orNothing(p.clashes().lastRun());
            read.expected = orNothing(p.clashes().expected(kMostExpected));
            if (read.lastRun)
                read.notUpToDate = project::notRunAsTheyAre(project::testsOf(read.sheets), *read.lastRun);
            read.people = project::assigneesOf(p);
            return read;
        },
        [this](Read read) {
            read_ = std::move(read);
            fill();
            if (!isFront_)
                return;
            const Place place = placeOf(list_->chosen());
            const std::string now =
                place.sheet < read_.sheets.size() ? clash::toJson(read_.sheets[place.sheet].sheet) : std::string();
            const bool isKnown = list_->chosen() == shown_ && (read_.lastRun ? read_.lastRun->id : 0) == shownRun_ &&
                                 !now.empty() && now == shownSheet_;
            if (!isKnown || at_.details.owner() != "tests")
                show();
        });
}

TestsPage::Place TestsPage::placeOf(const QString& id)
{
    const QStringList parts = id.split('|');
    if (parts.size() != 3)
        return {};
    static const QMap<QString, Place::Kind> kKinds{
        {"sheet", Place::Kind::Sheet},       {"set", Place::Kind::Set},           {"test", Place::Kind::Test},
        {"expected", Place::Kind::Expected}, {"untested", Place::Kind::Untested}, {"member", Place::Kind::Member}};
    return {kKinds.value(parts[0], Place::Kind::None), parts[1].toULong(), parts[2].toULong()};
}

const project::RunTest* TestsPage::lastRunOf(const clash::Test& test, const clash::TestSheet& sheet) const
{
    if (!read_.lastRun)
        return nullptr;
    clash::Test whole = test;
    whole.left = clash::wholeLine(test.left, sheet).value_or(test.left);
    whole.right = test.right.empty() ? test.right : clash::wholeLine(test.right, sheet).value_or(test.right);
    const auto at = std::find_if(read_.lastRun->tests.begin(), read_.lastRun->tests.end(),
                                 [&](const project::RunTest& t) { return clash::asksTheSame(t.test, whole); });
    return at != read_.lastRun->tests.end() ? &*at : nullptr;
}

Row TestsPage::rowOf(const project::KeptSheet& kept, std::size_t sheet) const
{
    Row row;
    row.id = idOf("sheet", sheet, 0);
    row.title = q(kept.sheet.name);
    row.right = kept.isOn ? q(counted(kept.sheet.tests.size(), "test", "tests")) : QString("off");
    row.isStruck = !kept.isOn;
    row.subtitle = kept.version == 0
                       ? QString("the usual sheet: every discipline against every other")
                       : "version " + QString::number(kept.version) + " · " + q(kept.by.person, "earlier") +
                             (kept.by.time.empty() ? QString() : ", " + q(dayInWords(kept.by.time)));
    if (const auto mistakes = clash::mistakesIn(kept.sheet); !mistakes.empty())
        row.loud = q(counted(mistakes.size(), "mistake", "mistakes"));
    return row;
}

Row TestsPage::rowOf(const clash::Test& test, const clash::TestSheet& sheet, const QString& id) const
{
    Row row;
    row.id = id;
    row.level = 1;
    row.mark = Mark::Bars;
    row.markText = QString::number(static_cast<int>(test.priority));
    row.markColour = theme::kInk;
    row.title = q(test.name);
    row.isStruck = !test.isOn;
    row.subtitle = q(clash::inWords(test));
    if (!test.isOn) {
        row.right = "off";
        return row;
    }
    const project::RunTest* last = lastRunOf(test, sheet);
    if (last == nullptr) {
        row.right = "not run";
        row.loud = read_.lastRun ? "changed since the last run" : "";
    } else if (last->state == clash::TestState::Run) {
        row.right = q(counted(last->found, "pair", "pairs"));
        if (const std::size_t expected = leftOutBy(*last); expected > 0)
            row.subtitle += " · " + QString::number(expected) + " expected";
    } else {
        row.right = "not run";
        row.loud = last->state == clash::TestState::Cancelled
                       ? "cancelled"
                       : q(last->why, "nothing that is tested answers to a side");
    }
    return row;
}

void TestsPage::fill()
{
    std::size_t tests = 0, membersNotTested = 0, expected = 0;
    for (const project::KeptSheet& kept : read_.sheets)
        tests += kept.sheet.tests.size();
    if (read_.lastRun) {
        for (const project::RunMember& m : read_.lastRun->members)
            membersNotTested += m.isTested ? 0 : 1;
        for (const project::RunTest& t : read_.lastRun->tests)
            expected += leftOutBy(t);
    }
    const auto chip = [&](const char* id, const QString& words, std::size_t count) {
        // Before there is a run nobody knows what one leaves out.
        const bool isKnown = read_.lastRun.has_value() || QString(id) == "tests";
        return Worklist::Chip{id, isKnown ? words + " " + q(grouped(count)) : words, filter_ == id};
    };
    list_->setChips({chip("tests", "Tests", tests), chip("expected", "Expected meetings", expected),
                     chip("untested", "Not tested", read_.untested.size() + membersNotTested)});
    QVector<Row> rows;
    if (filter_ == "tests")
        for (std::size_t s = 0; s < read_.sheets.size(); ++s) {
            const clash::TestSheet& sheet = read_.sheets[s].sheet;
            if (read_.sheets[s].version == 0 && sheet.tests.empty())
                continue; // nothing is in use that the usual one could be made of
            rows.append(rowOf(read_.sheets[s], s));
            for (std::size_t t = 0; t < sheet.tests.size(); ++t)
                rows.append(rowOf(sheet.tests[t], sheet, idOf("test", s, t)));
            for (std::size_t k = 0; k < sheet.sets.size(); ++k) {
                Row row;
                row.id = idOf("set", s, k);
                row.level = 1;
                row.mark = Mark::Sign;
                row.markText = "{ }";
                row.markColour = theme::kSoftInk;
                row.title = q(sheet.sets[k].name);
                row.right = "set";
                row.subtitle = q(sheet.sets[k].line);
                rows.append(row);
            }
        }
    else if (filter_ == "expected")
        for (std::size_t k = 0; k < read_.expected.size(); ++k) {
            const project::ExpectedPair& pair = read_.expected[k];
            Row row;
            row.id = idOf("expected", 0, k);
            row.title = q(pair.left.name) + " × " + q(pair.right.name);
            row.right = q(std::string(clash::nameOf(pair.rule)));
            row.subtitle = q(pair.test);
            rows.append(row);
        }
    else {
        for (std::size_t k = 0; read_.lastRun && k < read_.lastRun->members.size(); ++k) {
            const project::RunMember& m = read_.lastRun->members[k];
            if (m.isTested)
                continue;
            Row row;
            row.id = idOf("member", 0, k);
            row.title = q(m.title());
            row.right = "member";
            row.subtitle = q(m.why);
            rows.append(row);
        }
        for (std::size_t k = 0; k < read_.untested.size(); ++k) {
            Row row;
            row.id = idOf("untested", 0, k);
            row.title = q(read_.untested[k].name);
            row.right = "element";
            row.subtitle = q(read_.untested[k].member) + " · " + q(read_.untested[k].why);
            rows.append(row);
        }
    }
    QString caption = filter_ == "tests"      ? "Tests run by themselves when a delivery is taken in"
                      : filter_ == "expected" ? "Left out by the last run, by test and rule"
                                              : "What the last run could not look at";
    if (filter_ == "expected" && read_.expected.size() < expected)
        caption += read_.expected.empty() ? QString(" · run the tests to see them")
                                          : " · the first " + q(grouped(read_.expected.size()));
    if (filter_ == "tests" && !read_.notUpToDate.empty())
        caption = q(counted(read_.notUpToDate.size(), "test is", "tests are")) + " not as the last run had " +
                  (read_.notUpToDate.size() == 1 ? "it" : "them") + " · R runs the tests";
    list_->setCaption(caption);
    list_->setEmptyText(filter_ == "tests"      ? "No discipline has anything in use yet; take in deliveries first."
                        : !read_.lastRun        ? "No test has been run yet. R runs them."
                        : filter_ == "expected" ? "The last run left nothing out."
                                                : "Everything that somebody builds is tested.");
    list_->setRows(rows);
    if (!wanted_.isEmpty())
        list_->choose(std::exchange(wanted_, {}));
}

void TestsPage::showBoth(const std::vector<view::ElementKey>& left, const std::vector<view::ElementKey>& right,
                         bool isLookedAt)
{
    view::Subject subject;
    subject.isRestFaded = true;
    if (left.size() + right.size() > kMostPainted || left.size() + right.size() == 0) {
        emit plainWanted();
        return;
    }
    for (const view::ElementKey& key : right)
        subject.painted[key] = toColour(theme::kRight);
    for (const view::ElementKey& key : left)
        subject.painted[key] = toColour(theme::kLeft);
    std::vector<view::ElementKey> all = left;
    all.insert(all.end(), right.begin(), right.end());
    at_.scene.change([&](view::Scene& scene) {
        scene.choose({});
        scene.show(std::move(subject));
    });
    if (isLookedAt)
        at_.scene.lookAt(all);
}

void TestsPage::show()
{
    shown_ = list_->chosen();
    shownRun_ = read_.lastRun ? read_.lastRun->id : 0;
    shownSheet_.clear();
    left_.clear();
    right_.clear();
    isLeftNew_ = isRightNew_ = true;
    const Place place = placeOf(shown_);
    at_.details.clear();
    at_.details.setOwner("tests");
    const bool isOfSheet = place.sheet < read_.sheets.size();
    if (isOfSheet &&
        (place.kind == Place::Kind::Sheet || place.kind == Place::Kind::Test || place.kind == Place::Kind::Set))
        shownSheet_ = clash::toJson(read_.sheets[place.sheet].sheet);
    if (place.kind == Place::Kind::Sheet && isOfSheet)
        showSheet(place.sheet);
    else if (place.kind == Place::Kind::Test && isOfSheet &&
             place.number < read_.sheets[place.sheet].sheet.tests.size())
        showTest(place.sheet, place.number);
    else if (place.kind == Place::Kind::Set && isOfSheet && place.number < read_.sheets[place.sheet].sheet.sets.size())
        showSet(place.sheet, place.number);
    else if (place.kind == Place::Kind::Expected && place.number < read_.expected.size())
        showPair(read_.expected[place.number]);
    else if (place.kind == Place::Kind::Untested && place.number < read_.untested.size())
        showUntested(read_.untested[place.number]);
    else {
        at_.details.addTitle("What is tested");
        at_.details.addText(
            "A test asks two sets of elements about each other, or one about itself: whether they share "
            "space (hard), keep a free distance (clearance), or are there twice (duplicate).");
        at_.details.addText("Sets are picked by rule, never by hand, so they hold for the next delivery too.");
        at_.details.addText(
            "As long as nobody changes it, every project has the usual sheet: every discipline hard "
            "against every other, and each for what it has twice. What is expected to meet is left out: "
            "a door in its opening, connected pieces, parts of one whole, coverings and what is hosted. "
            "Choose a test on the left to see what it picks, and to change it.");
        emit plainWanted();
    }
    at_.details.finish();
}

void TestsPage::showPair(const project::ExpectedPair& pair)
{
    Details& d = at_.details;
    d.addCaption("Expected meeting · " + q(std::string(clash::nameOf(pair.rule))) + " · " + q(pair.test));
    d.addTitle(q(pair.left.name) + " × " + q(pair.right.name));
    static const QMap<clash::Meeting, QString> kWhy{
        {clash::Meeting::Openings, "One fills an opening of the other, or what they share lies in a provided hole."},
        {clash::Meeting::Connected, "The model says that they are connected, by ports or directly."},
        {clash::Meeting::Assembly, "Both are parts of one whole, or one is the whole."},
        {clash::Meeting::Covering, "One covers or insulates the other."},
        {clash::Meeting::Hosted, "One is fixed to the other by a relation of the model."},
        {clash::Meeting::Run, "Pieces of one system that meet at an end, no deeper than a joint."}};
    d.addText(kWhy.value(pair.rule), false);
    d.addFact("Left", q(pair.left.name), q(pair.left.className), Mark::Swatch, theme::kLeft);
    d.addFact("Right", q(pair.right.name), q(pair.right.className), Mark::Swatch, theme::kRight);
    std::vector<view::ElementKey> left, right;
    if (const auto key = at_.scene.find(pair.left.ref))
        left.push_back(*key);
    if (const auto key = at_.scene.find(pair.right.ref))
        right.push_back(*key);
    showBoth(left, right, true);
}

void TestsPage::showUntested(const Untested& untested)
{
    Details& d = at_.details;
    d.addCaption("Not tested");
    d.addTitle(q(untested.name));
    d.addFact("Member", q(untested.member));
    d.addFact("Why", q(untested.why));
    d.addFact("GlobalId", q(untested.guid));
    emit plainWanted();
}

bool TestsPage::press(Qt::Key key)
{
    const Place place = placeOf(list_->chosen());
    if (key == Qt::Key_A)
        runAlone();
    else if (key == Qt::Key_N)
        addTest(std::min(place.sheet, read_.sheets.empty() ? 0 : read_.sheets.size() - 1));
    else
        return false;
    return true;
}

void TestsPage::change(std::size_t sheet, const std::string& what, const std::function<void(clash::TestSheet&)>& edit,
                       const QString& thenChosen)
{
    if (sheet >= read_.sheets.size())
        return;
    clash::TestSheet changed = read_.sheets[sheet].sheet;
    edit(changed);
    std::string after = clash::toJson(changed);
    if (after == clash::toJson(read_.sheets[sheet].sheet))
        return;
    read_.sheets[sheet].sheet = changed; // what a form goes on from, until it is read anew
    if (thenChosen.isEmpty())
        shownSheet_ = std::move(after);
    if (!thenChosen.isEmpty())
        wanted_ = thenChosen;
    at_.session.write([changed, what, who = at_.session.now()](project::Project& p) {
        return Session::saying(p.clashes().keepSheet(changed, what, who), what);
    });
}

void TestsPage::runAlone()
{
    std::set<std::string> names;
    for (const QString& id : list_->chosenAll())
        if (const Place place = placeOf(id); place.kind == Place::Kind::Test && place.sheet < read_.sheets.size())
            if (const clash::Test& test = read_.sheets[place.sheet].sheet.tests[place.number];
                test.isOn && read_.sheets[place.sheet].isOn)
                names.insert(test.name);
    if (names.empty())
        return at_.session.fail({project::kUnknown, "Choose a test that is switched on to run it alone."});
    at_.session.runTests(names);
}

void TestsPage::addTest(std::size_t sheet)
{
    if (sheet >= read_.sheets.size())
        return;
    const std::size_t number = read_.sheets[sheet].sheet.tests.size();
    const std::string name = "Test " + std::to_string(number + 1);
    filter_ = "tests";
    change(
        sheet, "Test added: " + name,
        [&](clash::TestSheet& s) {
            clash::Test test = s.defaults;
            test.name = name;
            test.left = "everything";
            test.isOn = false; // until somebody says what it asks
            s.tests.push_back(std::move(test));
        },
        idOf("test", sheet, number));
}

void TestsPage::addSet(std::size_t sheet)
{
    if (sheet >= read_.sheets.size())
        return;
    const std::size_t number = read_.sheets[sheet].sheet.sets.size();
    const std::string name = "Set " + std::to_string(number + 1);
    change(
        sheet, "Set added: " + name,
        [&](clash::TestSheet& s) {
            s.sets.push_back({name, "everything"});
        },
        idOf("set", sheet, number));
}

void TestsPage::saveToFile(std::size_t sheet)
{
    const QString file = QFileDialog::getSaveFileName(
        list_->window(), "Save the test sheet", q(read_.sheets[sheet].sheet.name) + ".json", "Test sheets (*.json)");
    if (file.isEmpty())
        return;
    if (const auto done = writeFileWhole(file.toStdString(), clash::toJson(read_.sheets[sheet].sheet)); !done)
        return at_.session.fail(done.error());
    at_.session.say("Test sheet saved: " + file);
}

void TestsPage::loadFromFile()
{
    const QString file = QFileDialog::getOpenFileName(list_->window(), "Load a test sheet", {}, "Test sheets (*.json)");
    if (file.isEmpty() || at_.session.refusesToChange())
        return;
    constexpr std::size_t kLargest = 16 << 20;
    const auto text = readFileWhole(file.toStdString(), kLargest);
    if (!text)
        return at_.session.fail(text.error());
    auto sheet = clash::sheetFromJson(*text);
    if (!sheet) {
        Error error = sheet.error();
        error.file = file.toStdString();
        return at_.session.fail(error);
    }
    const auto mistakes = clash::mistakesIn(*sheet);
    const std::string words =
        "Test sheet loaded: " + sheet->name +
        (mistakes.empty() ? "" : "; " + counted(mistakes.size(), "mistake", "mistakes") + ": " + mistakes[0]);
    at_.session.write([sheet = *sheet, words, who = at_.session.now()](project::Project& p) {
        return Session::saying(p.clashes().keepSheet(sheet, "Test sheet loaded: " + sheet.name, who), words);
    });
}

} // namespace wendrix::app
