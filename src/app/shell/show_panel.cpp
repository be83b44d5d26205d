#include "shell/show_panel.h"

#include "core/base/text.h"
#include "core/project/test_sheets.h"
#include "core/view/alike.h"
#include "scene/scene_view.h"
#include "shell/details.h"
#include "shell/group_panel.h"
#include "shell/session.h"
#include "shell/set_field.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QSlider>

namespace wendrix::app {

namespace {

/// How some members are drawn, switched together. A switch is on where it is for all of them.
/// @param id  what the switches' names begin with, and `number` ends them
QWidget* looksBox(SceneView& scene, const QString& title, const QString& id, int number,
                  const std::vector<std::size_t>& members, QPushButton* beside = nullptr)
{
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 4);
    grid->setVerticalSpacing(4);
    auto* name = new QLabel(title);
    name->setTextFormat(Qt::PlainText);
    name->setWordWrap(true);
    name->setFont(theme::font(13, 600));
    grid->addWidget(name, 0, 0, 1, beside != nullptr ? 1 : 2);
    if (beside != nullptr)
        grid->addWidget(beside, 0, 1, Qt::AlignRight);
    const auto change = [&scene, members](auto set) {
        auto looks = scene.looks();
        for (const std::size_t m : members)
            set(looks[m]);
        scene.setLooks(looks);
    };
    int cell = 2;
    const auto check = [&](const QString& what, const QString& words, auto is) {
        auto* tick = new QCheckBox(words);
        tick->setObjectName(id + what + QString::number(number));
        tick->setChecked(
            std::all_of(members.begin(), members.end(), [&](std::size_t m) { return scene.looks()[m].*is; }));
        QObject::connect(tick, &QCheckBox::toggled, box,
                         [change, is](bool on) { change([&](view::MemberLook& l) { l.*is = on; }); });
        grid->addWidget(tick, cell / 2, cell % 2);
        ++cell;
    };
    check("Shown", "shown", &view::MemberLook::isShown);
    check("Pick", "can be picked", &view::MemberLook::isPickable);
    check("Edges", "edges only", &view::MemberLook::isEdgesOnly);
    check("Spaces", "spaces", &view::MemberLook::areSpacesShown);
    auto* slider = new QSlider(Qt::Horizontal);
    slider->setObjectName(id + "Solid" + QString::number(number));
    slider->setRange(25, 100);
    slider->setValue(static_cast<int>(std::lround(scene.looks()[members.front()].alpha * 100)));
    slider->setToolTip("How solid it is drawn");
    slider->setAccessibleName("How solid");
    QObject::connect(slider, &QSlider::valueChanged, box, [change](int percent) {
        change([&](view::MemberLook& l) { l.alpha = static_cast<float>(percent) / 100; });
    });
    grid->addWidget(new QLabel("see-through to solid"), cell / 2, 0);
    grid->addWidget(slider, cell / 2, 1);
    return box;
}

/// The groups of the project, each with its switches, and the fields for a new one.
void writeGroups(Details& details, SceneView& scene, Session& session, const std::function<void()>& again)
{
    details.addHeading("Groups of members");
    int number = 0;
    for (const project::MemberGroup& group : orNothing(session.project().setup().memberGroups())) {
        std::vector<std::size_t> members;
        for (std::size_t m = 0; m < scene.members().size(); ++m)
            if (!scene.looks()[m].isOnlyPainted && std::find(group.disciplines.begin(), group.disciplines.end(),
                                                             scene.members()[m].discipline) != group.disciplines.end())
                members.push_back(m);
        if (members.empty())
            continue;
        auto* dissolve = new QPushButton("Dissolve");
        dissolve->setObjectName("dissolveGroup" + QString::number(number));
        dissolve->setProperty("chip", true);
        QObject::connect(
            dissolve, &QPushButton::clicked, &details,
            [&session, again, name = group.name] {
                session.write(
                    [name, who = session.now()](project::Project& p) {
                        return Session::saying(p.setup().setMemberGroup({name, {}}, who),
                                               "Group dissolved; Ctrl+Z brings it back: " + name);
                    },
                    [again](bool) { again(); });
            },
            Qt::QueuedConnection);
        details.addWidget(looksBox(scene, q(group.name + " (" + std::to_string(members.size()) + ")"), "group",
                                   number++, members, dissolve));
    }
    details.addWidget(groupForm(session, scene, again));
}

/// Properties that the selected element has, else some element of the first member: what one may colour by.
QStringList propertiesToChoose(const SceneView& scene)
{
    QStringList names;
    const auto add = [&](const federation::Member& member, const ifc::Element& e) {
        for (const ifc::PropertySet& set : member.model->properties(e))
            for (const ifc::Property& p : set.properties)
                if (const QString name = q(set.name + " · " + p.name); !names.contains(name))
                    names << name;
    };
    for (const view::ElementKey& key : scene.display().selected)
        if (names.size() < 60)
            add(scene.members()[key.member], scene.members()[key.member].model->elements()[key.element]);
    constexpr std::size_t kLookedAt = 40;
    if (names.isEmpty())
        for (const federation::Member& member : scene.members())
            for (std::size_t i = 0; i < std::min(kLookedAt, member.model->elements().size()); ++i)
                add(member, member.model->elements()[i * member.model->elements().size() /
                                                     std::min(kLookedAt, member.model->elements().size())]);
    names.sort();
    return names;
}

/// A line for each set, and one for another; each colours what none above it picks.
void writeSets(Details& details, SceneView& scene, Session& session, const std::function<void()>& again)
{
    const std::vector<std::string> lines = scene.rule().sets;
    for (std::size_t k = 0; k < lines.size(); ++k) {
        auto* field = new SetField(session, "colourSet" + QString::number(k));
        field->setPlaceholder("class is Wall and storey is \"Level 1\"");
        field->setLine(q(lines[k]));
        QObject::connect(
            field, &SetField::committed, &details,
            [&scene, &session, field, k, lines, again] {
                auto changed = lines;
                changed[k] = field->line().toStdString();
                if (changed == scene.rule().sets)
                    return;
                if (changed[k].empty() && changed.size() > 1)
                    changed.erase(changed.begin() + static_cast<std::ptrdiff_t>(k));
                colourBySets(scene, session, changed);
                again();
            },
            Qt::QueuedConnection);
        details.addWidget(field);
    }
    auto* more = new QPushButton("Another set");
    more->setObjectName("colourSetMore");
    more->setProperty("chip", true);
    more->setEnabled(!lines.empty() && !lines.back().empty());
    QObject::connect(
        more, &QPushButton::clicked, &details,
        [&scene, &session, lines, again] {
            auto longer = lines;
            longer.emplace_back();
            colourBySets(scene, session, longer);
            again();
        },
        Qt::QueuedConnection);
    details.addWidget(more);
}

QWidget* legendBox(SceneView& scene)
{
    auto* box = new QWidget;
    box->setObjectName("legend");
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(1, 1);
    int row = 0;
    for (const view::LegendLine& line : scene.legend()) {
        auto* patch = new QLabel;
        patch->setFixedSize(14, 14);
        patch->setStyleSheet(QString("background:%1; border:1px solid #8A8F8C; border-radius:2px")
                                 .arg(QColor::fromRgbF(line.colour.red, line.colour.green, line.colour.blue).name()));
        auto* words = new QLabel(q(line.words));
        words->setTextFormat(Qt::PlainText);
        words->setWordWrap(true);
        grid->addWidget(patch, row, 0);
        grid->addWidget(words, row, 1);
        grid->addWidget(new QLabel(q(grouped(line.count))), row, 2, Qt::AlignRight);
        ++row;
    }
    return box;
}

} // namespace

void colourBySets(SceneView& scene, const Session& session, const std::vector<std::string>& lines)
{
    view::ColourRule rule{view::ColourBy::Sets, {}, {}, lines, {}};
    std::vector<project::RunTest> asked; // what the lines ask of the project
    for (const std::string& line : lines)
        asked.emplace_back().test.left = line;
    if (session.hasProject())
        rule.knowledge = std::make_shared<const sets::Knowledge>(
            project::knowledgeFor(session.project(), asked).value_or(sets::Knowledge{}));
    scene.setRule(rule);
}

void showWhatIsShown(Details& details, SceneView& scene, Session& session)
{
    details.clear();
    details.setOwner("show");
    details.addTitle("Shown");
    if (scene.members().empty()) {
        details.addText("Take in a delivery; its members are listed here then.");
        details.finish();
        return;
    }
    const auto again = [&details, &scene, &session] { showWhatIsShown(details, scene, session); };
    details.addHeading("Colours say");
    auto* by = new QComboBox;
    by->setObjectName("colourBy");
    const QStringList rules{
        "discipline", "the file's own colours", "one colour a member", "storey", "system", "class", "material",
        "a property", "sets of elements"};
    by->addItems(rules);
    by->setCurrentIndex(static_cast<int>(scene.rule().by));
    QObject::connect(by, &QComboBox::activated, by, [&scene, &details, again](int index) {
        view::ColourRule rule{static_cast<view::ColourBy>(index), {}, {}, {}, {}};
        if (rule.by == view::ColourBy::Property)
            if (const QStringList names = propertiesToChoose(scene); !names.isEmpty()) {
                rule.propertySet = names.front().section(" · ", 0, 0).toStdString();
                rule.property = names.front().section(" · ", 1).toStdString();
            }
        if (rule.by == view::ColourBy::Sets)
            rule.sets = {""}; // to be written
        scene.setRule(rule);
        QMetaObject::invokeMethod(&details, again, Qt::QueuedConnection); // this box goes with the page
    });
    details.addWidget(by);
    if (scene.rule().by == view::ColourBy::Property) {
        auto* which = new QComboBox;
        which->setObjectName("colourProperty");
        which->addItems(propertiesToChoose(scene));
        const QString now = q(scene.rule().propertySet + " · " + scene.rule().property);
        if (which->findText(now) < 0)
            which->addItem(now);
        which->setCurrentText(now);
        QObject::connect(which, &QComboBox::activated, which, [&scene, &details, which, again](int) {
            const QString name = which->currentText();
            scene.setRule({view::ColourBy::Property,
                           name.section(" · ", 0, 0).toStdString(),
                           name.section(" · ", 1).toStdString(),
                           {},
                           {}});
            QMetaObject::invokeMethod(&details, again, Qt::QueuedConnection);
        });
        details.addWidget(which);
    }
    if (scene.rule().by == view::ColourBy::Sets)
        writeSets(details, scene, session, again);
    if (!scene.legend().empty())
        details.addWidget(legendBox(scene));
    auto* grid = new QCheckBox("the grid, with its bubbles");
    grid->setObjectName("showGrid");
    grid->setChecked(scene.isGridShown());
    QObject::connect(grid, &QCheckBox::toggled, &scene, &SceneView::setGridShown);
    details.addWidget(grid);
    details.addHeading("Members");
    for (std::size_t m = 0; m < scene.members().size(); ++m)
        if (!scene.looks()[m].isOnlyPainted)
            details.addWidget(looksBox(scene, q(scene.members()[m].title()), "look", static_cast<int>(m), {m}));
    if (session.hasProject())
        writeGroups(details, scene, session, again);
    details.addHeading("What makes it heavy");
    QVector<QStringList> rows;
    for (const view::Weight& w : view::heaviestTypes(scene.members(), 8))
        rows.append({q(w.words) + " × " + QString::number(w.elements.size()), q(grouped(w.triangles)),
                     QString::number(std::lround(100 * w.share)) + " %"});
    details.addTable({"Type", "Triangles", "Share"}, rows, "heavyTypes");
    rows.clear();
    for (const view::Weight& w : view::heaviestElements(scene.members(), 5))
        rows.append({q(w.words), q(grouped(w.triangles)), QString::number(std::lround(100 * w.share)) + " %"});
    details.addTable({"Element", "Triangles", "Share"}, rows, "heavyElements");
    details.finish();
}

} // namespace wendrix::app
