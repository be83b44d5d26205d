#include "clashes/tests_page.h"

#include "core/base/text.h"
#include "shell/form.h"
#include "shell/set_field.h"
#include "shell/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLineEdit>

/// The forms of the tests page: a sheet, a test, a set.
namespace wendrix::app {

namespace {

constexpr double kMillimetres = 1000;

struct MeetingWords {
    clash::Meeting meeting;
    const char *name, *words;
};
constexpr MeetingWords kMeetingWords[] = {
    {clash::Meeting::Openings, "ignoreOpenings", "what fills its opening, provided holes"},
    {clash::Meeting::Connected, "ignoreConnected", "connected pieces"},
    {clash::Meeting::Assembly, "ignoreAssembly", "parts of one whole"},
    {clash::Meeting::Covering, "ignoreCovering", "coverings and insulation"},
    {clash::Meeting::Hosted, "ignoreHosted", "what is fixed to the other"}};

} // namespace

void TestsPage::showSheet(std::size_t number)
{
    const project::KeptSheet& kept = read_.sheets[number];
    Details& d = at_.details;
    d.addCaption(kept.version == 0 ? QString("Test sheet · usual")
                                   : "Test sheet · version " + QString::number(kept.version));
    d.addTitle(q(kept.sheet.name));
    if (kept.version == 0)
        d.addText("Made of the disciplines that have something in use, and followed by those to come. The first change "
                  "makes it this project's own.");
    else {
        auto* form = new Form;
        auto* name = form->line("sheetName", "Name", q(kept.sheet.name));
        connect(name, &QLineEdit::editingFinished, this, [this, name, from = kept.sheet.name] {
            const std::string to = name->text().trimmed().toStdString();
            if (to == from || to.empty())
                return;
            at_.session.write([from, to, who = at_.session.now()](project::Project& p) {
                return Session::saying(p.clashes().renameSheet(from, to, who), "Test sheet renamed: " + to);
            });
        });
        d.addWidget(form);
    }
    for (const std::string& mistake : clash::mistakesIn(kept.sheet))
        d.addFact("Mistake", q(mistake));
    d.addButtons({{"addTest", "Add a test", "N", true, true, [this, number] { addTest(number); }},
                  {"addSet", "Add a set", "", false, true, [this, number] { addSet(number); }},
                  {"switchSheet", kept.isOn ? "Switch off" : "Switch on", "", false, kept.version > 0,
                   [this, name = kept.sheet.name, isOn = kept.isOn] {
                       at_.session.write([name, isOn, who = at_.session.now()](project::Project& p) {
                           return Session::saying(p.clashes().switchSheet(name, !isOn, who),
                                                  (isOn ? "Switched off: " : "Switched on: ") + name);
                       });
                   }},
                  {"saveSheet", "Save to a file…", "", false, true, [this, number] { saveToFile(number); }},
                  {"removeSheet", "Remove", "", false, kept.version > 0, [this, name = kept.sheet.name] {
                       at_.session.write([name, who = at_.session.now()](project::Project& p) {
                           return Session::saying(p.clashes().removeSheet(name, who),
                                                  "Test sheet removed; Ctrl+Z brings it back: " + name);
                       });
                   }}});
    d.addHeading("New tests begin with");
    auto* defaults = new Form;
    const TestEdit edit = [this, number](const std::function<void(clash::Test&)>& what) {
        if (number < read_.sheets.size())
            change(number, "Defaults changed: " + read_.sheets[number].sheet.name,
                   [&](clash::TestSheet& s) { what(s.defaults); });
    };
    addFields(*defaults, kept.sheet.defaults, edit);
    addMeetings(*defaults, kept.sheet.defaults, nullptr, edit);
    d.addWidget(defaults);
    if (kept.version > 1) {
        d.addHeading("Earlier versions");
        QVector<Details::Button> back;
        for (const project::KeptSheet& v : orNothing(at_.session.project().clashes().versionsOf(kept.sheet.name)))
            if (v.version != kept.version)
                back.append({"version" + QString::number(v.version),
                             "Bring back version " + QString::number(v.version) + " (" +
                                 q(counted(v.sheet.tests.size(), "test", "tests")) + ", " + q(v.by.person, "earlier") +
                                 ")",
                             "", false, true, [this, number, v] {
                                 change(
                                     number, "Version " + std::to_string(v.version) + " brought back: " + v.sheet.name,
                                     [&](clash::TestSheet& s) { s = v.sheet; }, idOf("sheet", number, 0));
                             }});
        d.addButtons(back);
    }
    emit plainWanted();
}

void TestsPage::showSet(std::size_t sheet, std::size_t number)
{
    const clash::TestSheet& own = read_.sheets[sheet].sheet;
    const clash::NamedSet& set = own.sets[number];
    Details& d = at_.details;
    d.addCaption("Set · " + q(own.name));
    d.addTitle(q(set.name));
    auto* form = new Form;
    auto* name = form->line("setName", "Name", q(set.name));
    connect(name, &QLineEdit::editingFinished, this, [this, name, sheet, number] {
        const std::string to = name->text().trimmed().toStdString();
        if (!to.empty())
            change(sheet, "Set renamed: " + to, [&](clash::TestSheet& s) { clash::renameSet(s, number, to); });
    });
    auto* line = new SetField(at_.session, "setLine");
    line->setSheet(own);
    line->setLine(q(set.line));
    form->add(line, "Picks");
    connect(line, &SetField::committed, this, [this, line, sheet, number] {
        change(sheet, "Set changed: " + read_.sheets[sheet].sheet.sets[number].name,
               [&](clash::TestSheet& s) { s.sets[number].line = line->line().toStdString(); });
    });
    connect(line, &SetField::picked, this, [this](const std::vector<view::ElementKey>& keys) {
        if (isFront_)
            showBoth(keys, {}, false);
    });
    d.addWidget(form);
    std::vector<std::string> users;
    const std::string asked = "set " + std::string("\"") + set.name + "\"";
    for (const clash::Test& t : own.tests)
        if (t.left.find(asked) != std::string::npos || t.right.find(asked) != std::string::npos)
            users.push_back(t.name);
    d.addFact("Used by", users.empty() ? QString("no test yet") : q(counted(users.size(), "test", "tests")),
              users.empty() ? QString() : q(users[0]));
    d.addButtons({{"removeSet", "Remove", "", false, users.empty(), [this, sheet, number, called = set.name] {
                       change(
                           sheet, "Set removed: " + called,
                           [&](clash::TestSheet& s) { s.sets.erase(s.sets.begin() + static_cast<long>(number)); },
                           idOf("sheet", sheet, 0));
                   }}});
}

/// What a test looks for, and with which distances; the same fields of a test and of what new ones begin with.
void TestsPage::addFields(Form& form, const clash::Test& test, const TestEdit& edit)
{
    auto* kind = form.choice(
        "testKind", "Kind",
        {{"hard: share space", "hard"}, {"clearance: too near", "clearance"}, {"duplicate: there twice", "duplicate"}},
        q(std::string(clash::nameOf(test.kind))));
    const auto millimetres = [&](const char* id, const QString& words, double metres, double clash::Test::*field) {
        auto* spin = form.decimal(id, words, metres * kMillimetres, 0, 100'000, " mm");
        connect(spin, &QDoubleSpinBox::editingFinished, this,
                [edit, spin, field] { edit([&](clash::Test& t) { t.*field = spin->value() / kMillimetres; }); });
        return spin;
    };
    auto* tolerance = millimetres("testTolerance", "Tolerance", test.tolerance, &clash::Test::tolerance);
    auto* clearance = millimetres("testClearance", "Wanted free", test.clearance, &clash::Test::clearance);
    auto* direction = form.choice("testDirection", "Which way",
                                  {{"any way", "any"}, {"upwards", "up"}, {"downwards", "down"}, {"sideways", "side"}},
                                  q(std::string(clash::nameOf(test.direction))));
    const auto enable = [own = &form, tolerance, clearance, direction](clash::Kind k) {
        own->setShown(tolerance, k != clash::Kind::Clearance);
        own->setShown(clearance, k == clash::Kind::Clearance);
        own->setShown(direction, k == clash::Kind::Clearance);
    };
    enable(test.kind);
    connect(kind, &QComboBox::activated, this, [edit, enable](int index) {
        const auto chosen = static_cast<clash::Kind>(index + 1);
        enable(chosen);
        edit([&](clash::Test& t) {
            t.kind = chosen;
            if (chosen == clash::Kind::Clearance && t.clearance <= 0)
                t.clearance = 0.05;
        });
    });
    connect(direction, &QComboBox::activated, this,
            [edit](int index) { edit([&](clash::Test& t) { t.direction = static_cast<clash::Direction>(index); }); });
    millimetres("testJoint", "Joint", test.joint, &clash::Test::joint)
        ->setToolTip("So far pieces of one system may reach into each other at their ends");
    auto* priority = form.choice("testPriority", "Priority", {{"low", "low"}, {"normal", "normal"}, {"high", "high"}},
                                 q(std::string(clash::nameOf(test.priority))));
    connect(priority, &QComboBox::activated, this,
            [edit](int index) { edit([&](clash::Test& t) { t.priority = static_cast<clash::Priority>(index + 1); }); });
    QVector<QPair<QString, QString>> deciders{{"whoever coordinates", ""}};
    for (const std::string& person : read_.people)
        deciders.append({q(person), q(person)});
    if (!test.decider.empty() &&
        std::find(read_.people.begin(), read_.people.end(), test.decider) == read_.people.end())
        deciders.append({q(test.decider), q(test.decider)});
    auto* decider = form.choice("testDecider", "Who decides", deciders, q(test.decider));
    connect(decider, &QComboBox::activated, this, [edit, decider] {
        edit([&](clash::Test& t) { t.decider = decider->currentData().toString().toStdString(); });
    });
}

void TestsPage::addMeetings(Form& form, const clash::Test& test, const project::RunTest* last, const TestEdit& edit)
{
    for (const MeetingWords& m : kMeetingWords) {
        const std::size_t pairs =
            last != nullptr && last->expected.contains(m.meeting) ? last->expected.at(m.meeting) : 0;
        auto* tick =
            form.tick(m.name, QString(m.words) + (pairs > 0 ? ": " + q(counted(pairs, "pair", "pairs")) : QString()),
                      test.ignored.has(m.meeting));
        connect(tick, &QCheckBox::toggled, this, [edit, meeting = m.meeting](bool isOn) {
            edit([&](clash::Test& t) { t.ignored.set(meeting, isOn); });
        });
    }
}

void TestsPage::showTest(std::size_t sheet, std::size_t number)
{
    const clash::TestSheet& own = read_.sheets[sheet].sheet;
    const clash::Test& test = own.tests[number];
    Details& d = at_.details;
    d.addCaption("Test · " + q(own.name));
    d.addTitle(q(test.name));
    auto* form = new Form;
    const TestEdit edit = [this, sheet, number](const std::function<void(clash::Test&)>& what) {
        if (sheet >= read_.sheets.size() || number >= read_.sheets[sheet].sheet.tests.size())
            return;
        change(sheet, "Test changed: " + read_.sheets[sheet].sheet.tests[number].name,
               [&](clash::TestSheet& s) { what(s.tests[number]); });
    };
    auto* on = form->tick("testOn", "is run", test.isOn);
    connect(on, &QCheckBox::toggled, this, [edit](bool isOn) { edit([&](clash::Test& t) { t.isOn = isOn; }); });
    auto* name = form->line("testName", "Name", q(test.name));
    connect(name, &QLineEdit::editingFinished, this, [edit, name] {
        if (const std::string to = name->text().trimmed().toStdString(); !to.empty())
            edit([&](clash::Test& t) { t.name = to; });
    });
    const auto side = [&](const char* id, const QString& words, bool isLeft) {
        auto* field = new SetField(at_.session, id);
        field->setSheet(own);
        if (!isLeft)
            field->setEmptyWords("the left set against itself");
        field->setLine(q(isLeft ? test.left : test.right));
        form->add(field, words);
        connect(field, &SetField::committed, this, [edit, field, isLeft] {
            edit([&](clash::Test& t) { (isLeft ? t.left : t.right) = field->line().toStdString(); });
        });
        connect(field, &SetField::picked, this, [this, isLeft](const std::vector<view::ElementKey>& keys) {
            (isLeft ? left_ : right_) = keys;
            const bool isFirst = std::exchange(isLeft ? isLeftNew_ : isRightNew_, false);
            if (isFront_)
                showBoth(left_, right_, isFirst && !isLeftNew_ && !isRightNew_);
        });
    };
    side("testLeft", "Left", true);
    side("testRight", "Right", false);
    addFields(*form, test, edit);
    d.addWidget(form);
    d.addHeading("Expected meetings that are left out");
    const project::RunTest* last = lastRunOf(test, own);
    auto* meetings = new Form;
    addMeetings(*meetings, test, last, edit);
    d.addWidget(meetings);
    std::size_t leftOut = 0;
    for (const auto& [rule, pairs] : last != nullptr ? last->expected : std::map<clash::Meeting, std::size_t>())
        leftOut += pairs;
    d.addButtons(
        {{"runAlone", "Run it alone", "A", false, test.isOn && read_.sheets[sheet].isOn, [this] { runAlone(); }},
         {"seeExpected", "Look at what is left out", "", false, leftOut > 0,
          [this] {
              filter_ = "expected";
              fill();
              list_->step(1);
              show();
          }},
         {"copyTest", "Copy", "", false, true,
          [this, sheet, number] {
              change(
                  sheet, "Test copied: " + read_.sheets[sheet].sheet.tests[number].name,
                  [&](clash::TestSheet& s) {
                      clash::Test copy = s.tests[number];
                      copy.name += " (copy)";
                      s.tests.insert(s.tests.begin() + static_cast<long>(number) + 1, std::move(copy));
                  },
                  idOf("test", sheet, number + 1));
          }},
         {"removeTest", "Remove", "", false, true, [this, sheet, number, called = test.name] {
              change(
                  sheet, "Test removed: " + called,
                  [&](clash::TestSheet& s) { s.tests.erase(s.tests.begin() + static_cast<long>(number)); },
                  idOf("sheet", sheet, 0));
          }}});
}

} // namespace wendrix::app
