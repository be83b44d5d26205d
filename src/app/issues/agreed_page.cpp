#include "issues/agreed_page.h"

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/project/issue_making.h"
#include "issues/issue_rows.h"
#include "issues/lists_of_names.h"
#include "shell/form.h"
#include "shell/theme.h"

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>

#include <algorithm>

/// What is agreed: its list, what is added and taken away, and files.
namespace wendrix::app {

namespace {

/// What a person is writing and has not left yet.
bool isBeingWritten(const QWidget& details)
{
    QWidget* focus = QApplication::focusWidget();
    if (focus == nullptr || !details.isAncestorOf(focus))
        return false;
    const auto* line = qobject_cast<QLineEdit*>(focus);
    const auto* text = qobject_cast<QPlainTextEdit*>(focus);
    return (line != nullptr && line->isModified()) || (text != nullptr && text->document()->isModified());
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
        this, "agreed",
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
            if (isFront_ && !isBeingWritten(at_.details) &&
                (list_->chosen() != shown_ || shownNow() != shownAs_ || at_.details.owner() != "agreed"))
                show();
        });
}

QString AgreedPage::shownNow() const
{
    const QString kind = list_->chosen().section('|', 0, 0);
    if (kind != "template")
        return q(issues::toJson(read_.workflow));
    const auto at = std::find_if(read_.templates.begin(), read_.templates.end(),
                                 [&](const auto& t) { return t.name == nameOf(list_->chosen()); });
    return at == read_.templates.end() ? QString() : q(issues::toJson(*at));
}

void AgreedPage::fill()
{
    const issues::Workflow& w = read_.workflow;
    const auto chip = [&](const char* id, const QString& words) { return Worklist::Chip{id, words, filter_ == id}; };
    list_->setChips({chip("statuses", "Statuses"), chip("fields", "Fields"), chip("lists", "Values"),
                     chip("templates", "Templates")});
    QVector<Row> rows;
    if (filter_ == "statuses") {
        for (const issues::Status& s : w.statuses) {
            Row row;
            row.id = idOf("status", s.name);
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
        for (const issues::CustomField& f : w.fields) {
            Row row;
            row.id = idOf("field", f.name);
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
    // Whoever went on to the next field stays in it.
    const QWidget* focus = QApplication::focusWidget();
    const QString writtenIn = focus != nullptr && at_.details.isAncestorOf(focus) ? focus->objectName() : QString();
    shown_ = list_->chosen();
    shownAs_ = shownNow();
    Details& d = at_.details;
    d.clear();
    d.setOwner("agreed");
    const QString kind = shown_.section('|', 0, 0);
    const std::string name = nameOf(shown_);
    const auto* status = kind == "status" ? named(read_.workflow.statuses, name) : nullptr;
    const auto* field = kind == "field" ? named(read_.workflow.fields, name) : nullptr;
    const auto* form = kind == "template" ? named(read_.templates, name) : nullptr;
    if (status != nullptr)
        showStatus(*status);
    else if (field != nullptr)
        showField(*field);
    else if (form != nullptr)
        showTemplate(*form);
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
    for (auto* again : writtenIn.isEmpty() ? QList<QWidget*>() : d.findChildren<QWidget*>(writtenIn))
        if (again != focus) // which is going
            again->setFocus();
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
    const auto namesOf = [](const issues::Workflow& w) {
        std::vector<std::string> names;
        for (const issues::Status& s : w.statuses)
            names.push_back(s.name);
        for (const issues::CustomField& f : w.fields)
            names.push_back("field " + f.name);
        return names;
    };
    const bool isSameForm = namesOf(read_.workflow) == namesOf(changed);
    read_.workflow = changed;
    shownAs_ = isSameForm ? shownNow() : QString();
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
    issues::Status made{"Another status"};
    for (int n = 2; named(read_.workflow.statuses, made.name) != nullptr; ++n)
        made.name = "Another status " + std::to_string(n);
    wanted_ = idOf("status", made.name);
    change("Status added", [&](issues::Workflow& x) { x.statuses.push_back(made); });
}

void AgreedPage::addField()
{
    filter_ = "fields";
    issues::CustomField made{"Another field"};
    for (int n = 2; named(read_.workflow.fields, made.name) != nullptr; ++n)
        made.name = "Another field " + std::to_string(n);
    wanted_ = idOf("field", made.name);
    change("Field added", [&](issues::Workflow& x) { x.fields.push_back(made); });
}

void AgreedPage::removeStatus(const std::string& name)
{
    if (const auto used = read_.inUse.find(name); used != read_.inUse.end())
        return at_.session.fail({issues::kBadWorkflow, counted(used->second, "issue is ", "issues are ") + name +
                                                           "; move them to another status first."});
    change("Status removed: " + name, [&](issues::Workflow& x) {
        std::erase_if(x.statuses, [&](const issues::Status& s) { return s.name == name; });
        std::erase_if(x.moves, [&](const issues::Move& m) { return m.from == name || m.to == name; });
    });
}

void AgreedPage::removeField(const std::string& name)
{
    const auto filled = read_.filled.find(name);
    change("Field removed: " + name +
               (filled == read_.filled.end()
                    ? std::string()
                    : "; what " + counted(filled->second, "issue says", "issues say") + " under it is kept"),
           [&](issues::Workflow& x) {
               std::erase_if(x.fields, [&](const issues::CustomField& f) { return f.name == name; });
           });
}

void AgreedPage::moveStatus(const std::string& name, int by)
{
    const issues::Status* own = named(read_.workflow.statuses, name);
    const auto to = own == nullptr ? -1 : own - read_.workflow.statuses.data() + by;
    if (to < 0 || to >= static_cast<std::ptrdiff_t>(read_.workflow.statuses.size()))
        return;
    change("Statuses in another order",
           [&](issues::Workflow& x) { std::swap(*named(x.statuses, name), x.statuses[static_cast<std::size_t>(to)]); });
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
