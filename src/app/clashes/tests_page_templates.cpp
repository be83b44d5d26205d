#include "clashes/tests_page.h"

#include "core/base/file.h"
#include "core/base/text.h"
#include "shell/form.h"
#include "shell/theme.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSpinBox>

#include <algorithm>

/// What issues begin with, on the tests page: rows, the form of one, and files.
namespace wendrix::app {

using issues::IssueTemplate;

namespace {

QString assigneeInWords(const std::string& assignee)
{
    return assignee == "{decider}" ? "whom the test names"
           : assignee == "{left}"  ? "the left side"
           : assignee == "{right}" ? "the right side"
                                   : q(assignee, "nobody yet");
}

} // namespace

void TestsPage::addTemplateRows(QVector<Row>& rows) const
{
    for (std::size_t k = 0; k < read_.templates.size(); ++k) {
        const IssueTemplate& t = read_.templates[k];
        Row row;
        row.id = idOf("template", 0, k);
        row.title = q(t.name);
        row.right = t.priority.empty() ? QString("by depth") : q(t.priority);
        row.subtitle = q(t.type) + " · to " + assigneeInWords(t.assignee) + " · due in " +
                       QString::number(t.daysToFix) + (t.daysToFix == 1 ? " day" : " days");
        rows.append(row);
    }
}

void TestsPage::showTemplate(std::size_t number)
{
    const IssueTemplate& t = read_.templates[number];
    shownSheet_ = issues::toJson(t);
    Details& d = at_.details;
    d.addCaption("Template of issues");
    d.addTitle(q(t.name));
    auto* form = new Form;
    const auto line = [&](const char* id, const char* words, std::string IssueTemplate::*field, const char* hint) {
        auto* edit = form->line(id, words, q(t.*field), hint);
        connect(edit, &QLineEdit::editingFinished, this, [this, number, edit, field] {
            changeTemplate(number, [&](IssueTemplate& x) { x.*field = edit->text().trimmed().toStdString(); });
        });
    };
    line("templateName", "Name", &IssueTemplate::name, "");
    line("templateTitle", "Title", &IssueTemplate::title, "{title}");
    auto* description = form->text("templateDescription", "Description", q(t.description), 4);
    description->installEventFilter(this); // it has no signal for that its editing is finished
    description->setProperty("template", QVariant::fromValue<qulonglong>(number));
    line("templateType", "Type", &IssueTemplate::type, "Clash");
    line("templateStage", "Stage", &IssueTemplate::stage, "");
    auto* priority =
        form->choice("templatePriority", "Priority",
                     {{"by how deep", ""}, {"High", "High"}, {"Normal", "Normal"}, {"Low", "Low"}}, q(t.priority));
    connect(priority, &QComboBox::activated, this, [this, number, priority] {
        changeTemplate(number,
                       [&](IssueTemplate& x) { x.priority = priority->currentData().toString().toStdString(); });
    });
    QVector<QPair<QString, QString>> assignees{{"whom the test names", "{decider}"},
                                               {"the left side's discipline", "{left}"},
                                               {"the right side's discipline", "{right}"},
                                               {"nobody yet", ""}};
    for (const std::string& person : read_.people)
        assignees.append({q(person), q(person)});
    if (std::none_of(assignees.begin(), assignees.end(), [&](const auto& a) { return a.second == q(t.assignee); }))
        assignees.append({q(t.assignee), q(t.assignee)});
    auto* assignee = form->choice("templateAssignee", "Assignee", assignees, q(t.assignee));
    connect(assignee, &QComboBox::activated, this, [this, number, assignee] {
        changeTemplate(number,
                       [&](IssueTemplate& x) { x.assignee = assignee->currentData().toString().toStdString(); });
    });
    auto* days = form->number("templateDays", "Days to fix", t.daysToFix, 0, 3650);
    connect(days, &QSpinBox::editingFinished, this,
            [this, number, days] { changeTemplate(number, [&](IssueTemplate& x) { x.daysToFix = days->value(); }); });
    QStringList labels;
    for (const std::string& label : t.labels)
        labels << q(label);
    auto* label = form->line("templateLabels", "Labels", labels.join(", "), "with commas between");
    connect(label, &QLineEdit::editingFinished, this, [this, number, label] {
        changeTemplate(number, [&](IssueTemplate& x) {
            x.labels.clear();
            for (const QString& one : label->text().split(','))
                if (!one.trimmed().isEmpty())
                    x.labels.push_back(one.trimmed().toStdString());
        });
    });
    d.addWidget(form);
    d.addButtons({{"addTemplate", "Another template", "N", false, true, [this] { addTemplate(); }},
                  {"saveTemplate", "Save to a file…", "", false, true, [this, number] { saveTemplate(number); }},
                  {"removeTemplate", "Remove", "", false, read_.templates.size() > 1, [this, name = t.name] {
                       at_.session.write([name, who = at_.session.now()](project::Project& p) {
                           return Session::saying(p.issues().removeTemplate(name, who),
                                                  "Template removed; Ctrl+Z brings it back: " + name);
                       });
                   }}});
    d.addHeading("Words in braces");
    for (const auto& [word, says] : issues::placeholders())
        d.addFact("{" + q(word) + "}", q(says));
    emit plainWanted();
}

void TestsPage::changeTemplate(std::size_t number, const std::function<void(IssueTemplate&)>& edit)
{
    if (number >= read_.templates.size())
        return;
    IssueTemplate& kept = read_.templates[number];
    IssueTemplate changed = kept;
    edit(changed);
    if (changed == kept)
        return;
    if (const std::string mistake = mistakeIn(changed); !mistake.empty())
        return at_.session.fail({issues::kBadIssueTemplate, mistake});
    const std::string former = kept.name;
    kept = changed; // what a form goes on from, until it is read anew
    shownSheet_ = issues::toJson(changed);
    at_.session.write(
        [changed, former, who = at_.session.now()](project::Project& p) {
            return Session::saying(p.issues().keepTemplate(changed, former, who), "Template changed: " + changed.name);
        },
        [this](bool isDone) {
            if (!isDone)
                refresh();
        });
}

bool TestsPage::eventFilter(QObject* watched, QEvent* event)
{
    auto* description = qobject_cast<QPlainTextEdit*>(watched);
    if (description != nullptr && event->type() == QEvent::FocusOut)
        changeTemplate(description->property("template").toULongLong(),
                       [&](IssueTemplate& x) { x.description = description->toPlainText().toStdString(); });
    return QObject::eventFilter(watched, event);
}

void TestsPage::addTemplate()
{
    IssueTemplate made = IssueTemplate::usual();
    const auto isTaken = [&](const std::string& name) {
        return std::any_of(read_.templates.begin(), read_.templates.end(),
                           [&](const IssueTemplate& t) { return t.name == name; });
    };
    for (int n = 2; isTaken(made.name); ++n)
        made.name = "Template " + std::to_string(n);
    filter_ = "templates";
    wanted_ = idOf("template", 0, read_.templates.size());
    at_.session.write([made, who = at_.session.now()](project::Project& p) {
        return Session::saying(p.issues().keepTemplate(made, "", who), "Template added: " + made.name);
    });
}

void TestsPage::saveTemplate(std::size_t number)
{
    const QString file =
        QFileDialog::getSaveFileName(list_->window(), "Save the template", q(read_.templates[number].name) + ".json",
                                     "Templates of issues (*.json)");
    if (file.isEmpty())
        return;
    if (const auto done = writeFileWhole(file.toStdString(), issues::toJson(read_.templates[number])); !done)
        return at_.session.fail(done.error());
    at_.session.say("Template saved: " + file);
}

void TestsPage::loadTemplate(const std::string& text, const QString& file)
{
    const auto loaded = issues::issueTemplateFromJson(text);
    if (!loaded) {
        Error error = loaded.error();
        error.file = file.toStdString();
        return at_.session.fail(error);
    }
    filter_ = "templates";
    const bool isThere = std::any_of(read_.templates.begin(), read_.templates.end(),
                                     [&](const IssueTemplate& t) { return t.name == loaded->name; });
    at_.session.write([t = *loaded, isThere, who = at_.session.now()](project::Project& p) {
        return Session::saying(p.issues().keepTemplate(t, isThere ? t.name : "", who), "Template loaded: " + t.name);
    });
}

} // namespace wendrix::app
