#include "issues/agreed_page.h"

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/project/issue_making.h"
#include "issues/issue_rows.h"
#include "shell/form.h"
#include "shell/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>

#include <algorithm>

/// What is agreed: its list, statuses and their moves, fields, lists of values.
namespace wendrix::app {

namespace {

using issues::StatusShape;

const QVector<QPair<QString, QString>> kShapes{
    {"nothing done yet", "0"}, {"begun", "1"}, {"said to be done", "2"}, {"closed", "3"}, {"opened again", "4"}};

QString joined(const std::vector<std::string>& list, const QString& between)
{
    QStringList all;
    for (const std::string& one : list)
        all << q(one);
    return all.join(between);
}

std::vector<std::string> parted(const QString& text, QChar between)
{
    std::vector<std::string> list;
    for (const QString& one : text.split(between, Qt::SkipEmptyParts))
        if (const QString plain = one.trimmed(); !plain.isEmpty())
            list.push_back(plain.toStdString());
    return list;
}

const issues::Move* moveOf(const issues::Workflow& w, const std::string& from, const std::string& to)
{
    const auto at = std::find_if(w.moves.begin(), w.moves.end(),
                                 [&](const issues::Move& m) { return m.from == from && m.to == to; });
    return at == w.moves.end() ? nullptr : &*at;
}

} // namespace

AgreedPage::AgreedPage(const StageContext& context, QObject* parent)
    : QObject(parent), at_(context), list_(new Worklist("What is agreed"))
{
    list_->setObjectName("agreed");
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
    const auto button = [this](const char* name, const QString& words, const QString& tip, auto press) {
        auto* made = new QPushButton(words);
        made->setObjectName(name);
        made->setToolTip(tip);
        connect(made, &QPushButton::clicked, this, press, Qt::QueuedConnection);
        list_->addButton(made);
    };
    button("loadAgreed", "Load…", "Load all that is agreed, or a template of issues, from a file", [this] { load(); });
    button("saveAgreed", "Save…", "Save all that is agreed but the templates to a file, to be taken along",
           [this] { save(); });
    button("leaveAgreed", "List", "The issues, with the model (A)", [this] { emit left(); });
}

void AgreedPage::setFront(bool isFront)
{
    if (std::exchange(isFront_, isFront) != isFront && isFront)
        refresh();
}

void AgreedPage::refresh()
{
    if (!at_.session.hasProject())
        return;
    at_.session.ask<Read>(
        this,
        [](const project::Project& p) {
            Read read;
            read.workflow = orNothing(p.issues().workflow());
            read.templates = orNothing(p.issues().templates());
            for (const project::IssueKey& k : orNothing(p.issues().keys())) {
                ++read.inUse[k.status];
                for (const auto& [field, value] : k.custom)
                    ++read.filled[field];
            }
            read.people = project::assigneesOf(p);
            return read;
        },
        [this](Read read) {
            read_ = std::move(read);
            fill();
            // A form that somebody writes in stays, unless what it is of became another.
            if (isFront_ && (list_->chosen() != shown_ || shownNow() != shownAs_ || at_.details.owner() != "agreed"))
                show();
        });
}

QString AgreedPage::shownNow() const
{
    const QString kind = list_->chosen().section('|', 0, 0);
    const std::size_t number = numberOf(list_->chosen());
    if (kind == "template")
        return number < read_.templates.size() ? q(issues::toJson(read_.templates[number])) : QString();
    return q(issues::toJson(read_.workflow));
}

void AgreedPage::fill()
{
    const issues::Workflow& w = read_.workflow;
    const auto chip = [&](const char* id, const QString& words) { return Worklist::Chip{id, words, filter_ == id}; };
    list_->setChips({chip("statuses", "Statuses"), chip("fields", "Fields"), chip("lists", "Values"),
                     chip("templates", "Templates")});
    QVector<Row> rows;
    if (filter_ == "statuses") {
        for (std::size_t k = 0; k < w.statuses.size(); ++k) {
            const issues::Status& s = w.statuses[k];
            Row row;
            row.id = QString("status|%1").arg(k);
            row.mark = markOf(s.shape);
            row.markColour = theme::kInk;
            row.title = q(s.name);
            const auto used = read_.inUse.find(s.name);
            row.right = used == read_.inUse.end() ? QString() : q(counted(used->second, "issue", "issues"));
            QStringList to;
            for (const issues::Move& m : w.moves)
                if (m.from == s.name)
                    to << q(m.to);
            row.subtitle = to.isEmpty() ? QString("leads nowhere") : "to " + to.join(", ");
            rows.append(row);
        }
    } else if (filter_ == "fields") {
        for (std::size_t k = 0; k < w.fields.size(); ++k) {
            const issues::CustomField& f = w.fields[k];
            Row row;
            row.id = QString("field|%1").arg(k);
            row.title = q(f.name);
            row.subtitle = (f.choices.empty() ? QString("any text") : joined(f.choices, ", ")) +
                           (f.asLabel ? " · goes along as a label" : " · stays here");
            rows.append(row);
        }
    } else if (filter_ == "templates") {
        addTemplateRows(rows);
    } else {
        const std::tuple<const char*, const char*, QString> all[] = {
            {"lists|0", "Types, priorities, stages, labels",
             QString("%1 types, %2 priorities, %3 stages, %4 labels")
                 .arg(w.types.size())
                 .arg(w.priorities.size())
                 .arg(w.stages.size())
                 .arg(w.labels.size())},
            {"coordinates|0", "Coordinates of viewpoints",
             w.coordinates == issues::Coordinates::Delivered ? QString("as models are delivered")
                                                             : QString("the project's own")}};
        for (const auto& [id, title, subtitle] : all) {
            Row row;
            row.id = id;
            row.title = title;
            row.subtitle = subtitle;
            rows.append(row);
        }
    }
    list_->setCaption(filter_ == "statuses"    ? "Where issues stand, and who may move them on · N adds one"
                      : filter_ == "fields"    ? "What the project asks of issues besides · N adds one"
                      : filter_ == "templates" ? "What issues that are made here begin with · N adds one"
                                               : "What fields offer; files may bring other values");
    list_->setEmptyText("The project has no fields of its own. N adds one: a package, a cost code.");
    list_->setRows(rows);
    if (!wanted_.isEmpty())
        list_->choose(std::exchange(wanted_, {}));
}

void AgreedPage::show()
{
    shown_ = list_->chosen();
    shownAs_ = shownNow();
    Details& d = at_.details;
    d.clear();
    d.setOwner("agreed");
    const QString kind = shown_.section('|', 0, 0);
    const std::size_t number = numberOf(shown_);
    if (kind == "status" && number < read_.workflow.statuses.size())
        showStatus(number);
    else if (kind == "field" && number < read_.workflow.fields.size())
        showField(number);
    else if (kind == "template" && number < read_.templates.size())
        showTemplate(number);
    else if (kind == "lists")
        showLists();
    else if (kind == "coordinates")
        showCoordinates();
    else {
        d.addTitle("What is agreed");
        d.addText("Statuses say where an issue stands; from each it goes on only where the project says, and only by "
                  "those whom it lets. Choose one on the left to change it.");
        d.addText("All of it can be saved to a file and loaded into the next project.");
        d.addButtons({{"addStatus", "Another status", "", false, true, [this] { addStatus(); }},
                      {"addField", "A field of our own", "", false, true, [this] { addField(); }}});
    }
    d.finish();
}

void AgreedPage::showStatus(std::size_t number)
{
    const issues::Workflow& w = read_.workflow;
    const issues::Status status = w.statuses[number];
    Details& d = at_.details;
    d.addCaption("Status");
    d.addTitle(q(status.name));
    auto* form = new Form;
    auto* name = form->line("statusName", "Name", q(status.name));
    connect(name, &QLineEdit::editingFinished, this, [this, number, name, former = status.name] {
        const std::string now = name->text().trimmed().toStdString();
        if (now == former)
            return;
        change("Status " + former + " is called " + now,
               [&](issues::Workflow& x) {
                   x.statuses[number].name = now;
                   for (issues::Move& m : x.moves)
                       for (std::string* end : {&m.from, &m.to})
                           if (*end == former)
                               *end = now;
               },
               {{{former, now}}, {}});
    });
    auto* shape = form->choice("statusShape", "It means", kShapes, QString::number(static_cast<int>(status.shape)));
    connect(shape, &QComboBox::activated, this, [this, number, shape, called = status.name] {
        change(called + " means something else", [&](issues::Workflow& x) {
            x.statuses[number].shape = static_cast<StatusShape>(shape->currentData().toInt());
        });
    });
    auto* closed = form->tick("statusClosed", "Nobody waits for it any more", status.isClosed);
    connect(closed, &QCheckBox::clicked, this, [this, number, closed, called = status.name] {
        const bool isClosed = closed->isChecked();
        change(called + (isClosed ? " is closed" : " is open"),
               [&](issues::Workflow& x) { x.statuses[number].isClosed = isClosed; });
    });
    d.addWidget(form);
    d.addHeading("From here it may go to");
    d.addText("By everybody, or by people, groups and disciplines with commas between; “assignee” is whoever it is "
              "given to, “requester” whoever asked for it.");
    auto* moves = new Form;
    for (const issues::Status& to : w.statuses) {
        if (to.name == status.name)
            continue;
        const issues::Move* move = moveOf(w, status.name, to.name);
        const QString id = q(to.name);
        auto* isAllowed = moves->tick("moveTo:" + id, id, move != nullptr);
        auto* who =
            moves->line("moveBy:" + id, "by", move != nullptr ? joined(move->who, ", ") : QString(), "everybody");
        moves->setShown(who, move != nullptr);
        connect(
            isAllowed, &QCheckBox::clicked, this, [this, moves, isAllowed, who, from = status.name, other = to.name] {
                const bool isOn = isAllowed->isChecked();
                moves->setShown(who, isOn);
                change((isOn ? "May go from " : "May not go from ") + from + " to " + other, [&](issues::Workflow& x) {
                    std::erase_if(x.moves, [&](const issues::Move& m) { return m.from == from && m.to == other; });
                    if (isOn)
                        x.moves.push_back({from, other, parted(who->text(), ',')});
                });
            });
        connect(who, &QLineEdit::editingFinished, this, [this, who, from = status.name, other = to.name] {
            change("Who moves from " + from + " to " + other, [&](issues::Workflow& x) {
                for (issues::Move& m : x.moves)
                    if (m.from == from && m.to == other)
                        m.who = parted(who->text(), ',');
            });
        });
    }
    d.addWidget(moves);
    const std::size_t all = w.statuses.size();
    d.addButtons({{"addStatus", "Another status", "N", false, true, [this] { addStatus(); }},
                  {"statusUp", "Up", "", false, number > 0, [this, number] { moveStatus(number, -1); }},
                  {"statusDown", "Down", "", false, number + 1 < all, [this, number] { moveStatus(number, 1); }},
                  {"removeStatus", "Remove", "", false, all > 2, [this, number] { removeStatus(number); }}});
}

void AgreedPage::showLists()
{
    Details& d = at_.details;
    d.addTitle("Types, priorities, stages, labels");
    d.addText("One a line, in the order they are offered. The first priority is the highest.");
    auto* form = new Form;
    using List = std::vector<std::string> issues::Workflow::*;
    for (const auto& [id, words, list, lines] :
         {std::tuple<const char*, const char*, List, int>{"agreedTypes", "Types", &issues::Workflow::types, 6},
          {"agreedPriorities", "Priorities", &issues::Workflow::priorities, 4},
          {"agreedStages", "Stages", &issues::Workflow::stages, 4},
          {"agreedLabels", "Labels", &issues::Workflow::labels, 5}}) {
        auto* text = form->text(id, words, joined(read_.workflow.*list, "\n"), lines);
        form->whenLeft(text, [this, list = list, words = words](const QString& now) {
            change(std::string(words) + " changed", [&](issues::Workflow& x) { x.*list = parted(now, '\n'); });
        });
    }
    d.addWidget(form);
}

void AgreedPage::showField(std::size_t number)
{
    const issues::CustomField field = read_.workflow.fields[number];
    Details& d = at_.details;
    d.addCaption("Field of the project's own");
    d.addTitle(q(field.name));
    auto* form = new Form;
    auto* name = form->line("fieldName", "Name", q(field.name));
    connect(name, &QLineEdit::editingFinished, this, [this, number, name, former = field.name] {
        const std::string now = name->text().trimmed().toStdString();
        if (now != former)
            change("Field " + former + " is called " + now, [&](issues::Workflow& x) { x.fields[number].name = now; },
                   {{}, {{former, now}}});
    });
    auto* choices = form->text("fieldChoices", "Offers", joined(field.choices, "\n"), 5);
    form->whenLeft(choices, [this, number, called = field.name](const QString& now) {
        change("What " + called + " offers",
               [&](issues::Workflow& x) { x.fields[number].choices = parted(now, '\n'); });
    });
    auto* asLabel = form->tick("fieldAsLabel", "Goes along in BCF, as a label", field.asLabel);
    connect(asLabel, &QCheckBox::clicked, this, [this, number, asLabel, called = field.name] {
        const bool isOn = asLabel->isChecked();
        change(called + (isOn ? " goes along as a label" : " stays here"),
               [&](issues::Workflow& x) { x.fields[number].asLabel = isOn; });
    });
    d.addWidget(form);
    d.addText("BCF has no place for fields of a project: as a label it reads “" + q(field.name) +
              ": value”, and is taken from there when a file comes back. Without lines to offer it holds any text.");
    d.addButtons({{"addField", "Another field", "N", false, true, [this] { addField(); }},
                  {"removeField", "Remove", "", false, true, [this, number] { removeField(number); }}});
}

void AgreedPage::showCoordinates()
{
    Details& d = at_.details;
    d.addTitle("Coordinates of viewpoints");
    auto* form = new Form;
    auto* choice = form->choice("coordinates", "Written",
                                {{"as models are delivered", "delivered"}, {"in the project's own", "project"}},
                                read_.workflow.coordinates == issues::Coordinates::Delivered ? "delivered" : "project");
    connect(choice, &QComboBox::activated, this, [this, choice] {
        const bool isDelivered = choice->currentData().toString() == "delivered";
        change(isDelivered ? "Viewpoints are written as models are delivered"
                           : "Viewpoints are written in the project's coordinates",
               [&](issues::Workflow& x) {
                   x.coordinates = isDelivered ? issues::Coordinates::Delivered : issues::Coordinates::Project;
               });
    });
    d.addWidget(form);
    d.addText("As models are delivered: what an alignment here moved is moved back when BCF is written, so that a "
              "viewpoint lands right beside the models as their authors have them. Files that come are read the same "
              "way.");
    d.addText("In the project's own: those of the reference, for partners who all work with models that stand right.");
}

void AgreedPage::change(const std::string& what, const std::function<void(issues::Workflow&)>& edit,
                        const project::WorkflowRenames& renamed)
{
    issues::Workflow changed = read_.workflow;
    edit(changed);
    if (changed == read_.workflow || at_.session.refusesToChange())
        return;
    if (const std::string mistake = issues::mistakeIn(changed); !mistake.empty())
        return at_.session.fail({issues::kBadWorkflow, mistake});
    // What a form goes on from, until it is read anew.
    const bool isRenamed = !renamed.statuses.empty() || !renamed.fields.empty();
    read_.workflow = changed;
    shownAs_ = isRenamed ? QString() : shownNow();
    at_.session.write(
        [changed, what, renamed, who = at_.session.now()](project::Project& p) {
            return Session::saying(p.issues().setWorkflow(changed, who, renamed), what + ".");
        },
        [this](bool isDone) {
            if (!isDone)
                refresh();
        });
}

void AgreedPage::addStatus()
{
    filter_ = "statuses";
    wanted_ = QString("status|%1").arg(read_.workflow.statuses.size());
    change("Status added", [](issues::Workflow& x) {
        issues::Status made{"Another status"};
        for (int n = 2; x.statusOf(made.name).name == made.name &&
                        std::any_of(x.statuses.begin(), x.statuses.end(),
                                    [&](const issues::Status& s) { return s.name == made.name; });
             ++n)
            made.name = "Another status " + std::to_string(n);
        x.statuses.push_back(made);
    });
}

void AgreedPage::addField()
{
    filter_ = "fields";
    wanted_ = QString("field|%1").arg(read_.workflow.fields.size());
    change("Field added", [](issues::Workflow& x) {
        issues::CustomField made{"Field " + std::to_string(x.fields.size() + 1)};
        for (int n = 2; std::any_of(x.fields.begin(), x.fields.end(),
                                    [&](const issues::CustomField& f) { return f.name == made.name; });
             ++n)
            made.name = "Field " + std::to_string(x.fields.size() + static_cast<std::size_t>(n));
        x.fields.push_back(made);
    });
}

void AgreedPage::removeStatus(std::size_t number)
{
    const std::string name = read_.workflow.statuses[number].name;
    if (const auto used = read_.inUse.find(name); used != read_.inUse.end())
        return at_.session.fail({issues::kBadWorkflow, counted(used->second, "issue is ", "issues are ") + name +
                                                           "; move them to another status first."});
    change("Status removed: " + name, [&](issues::Workflow& x) {
        x.statuses.erase(x.statuses.begin() + static_cast<std::ptrdiff_t>(number));
        std::erase_if(x.moves, [&](const issues::Move& m) { return m.from == name || m.to == name; });
    });
}

void AgreedPage::removeField(std::size_t number)
{
    const std::string name = read_.workflow.fields[number].name;
    const auto filled = read_.filled.find(name);
    change("Field removed: " + name +
               (filled == read_.filled.end()
                    ? std::string()
                    : "; what " + counted(filled->second, "issue says", "issues say") + " under it is kept"),
           [&](issues::Workflow& x) { x.fields.erase(x.fields.begin() + static_cast<std::ptrdiff_t>(number)); });
}

void AgreedPage::moveStatus(std::size_t number, int by)
{
    const std::size_t other = number + static_cast<std::size_t>(by);
    wanted_ = QString("status|%1").arg(other);
    change("Statuses in another order", [&](issues::Workflow& x) { std::swap(x.statuses[number], x.statuses[other]); });
}

bool AgreedPage::press(Qt::Key key)
{
    if (key == Qt::Key_A) {
        emit left();
        return true;
    }
    if (key != Qt::Key_N)
        return false;
    filter_ == "templates" ? addTemplate() : filter_ == "fields" ? addField() : addStatus();
    return true;
}

void AgreedPage::load()
{
    const QString file =
        QFileDialog::getOpenFileName(list_, "Load what is agreed, or a template", {}, "What is agreed (*.json)");
    if (file.isEmpty() || at_.session.refusesToChange())
        return;
    const auto text = readFileWhole(file.toStdString(), 1 << 20);
    if (text && text->find("wendrix-issue-template") != std::string::npos)
        return loadTemplate(*text, file);
    const auto workflow =
        text ? issues::workflowFromJson(*text) : Result<issues::Workflow>(tl::unexpected<Error>(text.error()));
    if (!workflow) {
        Error why = workflow.error();
        why.file = file.toStdString();
        return at_.session.fail(why);
    }
    at_.session.write([workflow = *workflow, who = at_.session.now()](project::Project& p) {
        return Session::saying(p.issues().setWorkflow(workflow, who),
                               "Workflow loaded: " + counted(workflow.statuses.size(), "status", "statuses") + ", " +
                                   counted(workflow.moves.size(), "move", "moves") + ".");
    });
}

void AgreedPage::save()
{
    const QString file =
        QFileDialog::getSaveFileName(list_, "Save what is agreed", "issues-workflow.json", "What is agreed (*.json)");
    if (file.isEmpty())
        return;
    if (const auto done = writeFileWhole(file.toStdString(), issues::toJson(read_.workflow)); !done)
        return at_.session.fail(done.error());
    at_.session.say("Saved: " + file.section('/', -1));
}

} // namespace wendrix::app
