#include "issues/agreed_page.h"

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
#include <type_traits>

/// What is agreed: what issues begin with.
namespace wendrix::app {

using issues::IssueTemplate;

namespace {

/// What issues are made from, in the order they are offered.
constexpr std::pair<const char*, const char*> kSources[] = {
    {issues::made_from::kClash, "clashes"},  {issues::made_from::kChange, "changes"},
    {issues::made_from::kCheck, "findings"}, {issues::made_from::kSelection, "selected elements"},
    {issues::made_from::kNote, "notes"},     {issues::made_from::kView, "the view"}};

QString sourceInWords(const std::string& source)
{
    for (const auto& [id, words] : kSources)
        if (source == id)
            return words;
    return q(source);
}

/// "removed High, moved Normal", with the value behind the last blank.
template <class Value>
QString rulesInWords(const std::vector<std::pair<std::string, Value>>& rules)
{
    QStringList all;
    for (const auto& [of, value] : rules)
        if constexpr (std::is_same_v<Value, int>)
            all << q(of) + " " + QString::number(value);
        else
            all << q(of) + " " + q(value);
    return all.join(", ");
}

/// @param known  what the rules may be of; it, too, may hold blanks
std::vector<std::pair<std::string, std::string>> rulesFrom(const QString& text,
                                                           const std::vector<std::string>& known = {})
{
    std::vector<std::pair<std::string, std::string>> rules;
    for (const QString& part : text.split(',', Qt::SkipEmptyParts)) {
        const QString plain = part.simplified();
        auto blank = plain.lastIndexOf(' ');
        for (const std::string& of : known)
            if (plain.startsWith(q(of) + " "))
                blank = static_cast<qsizetype>(q(of).size());
        rules.emplace_back((blank < 0 ? plain : plain.left(blank)).toStdString(),
                           blank < 0 ? std::string() : plain.mid(blank + 1).toStdString());
    }
    return rules;
}

QString assigneeInWords(const std::string& assignee)
{
    return assignee == "{decider}"      ? "whom the test names"
           : assignee == "{left}"       ? "the left side"
           : assignee == "{right}"      ? "the right side"
           : assignee == "{discipline}" ? "their discipline"
                                        : q(assignee, "nobody yet");
}

} // namespace

void AgreedPage::addTemplateRows(QVector<Row>& rows) const
{
    for (const IssueTemplate& t : read_.templates) {
        Row row;
        row.id = idOf("template", t.name);
        row.title = q(t.name);
        row.right = "of " + sourceInWords(t.source);
        row.subtitle = q(t.type) + " · to " + assigneeInWords(t.assignee) + " · due in " +
                       QString::number(t.daysToFix) + (t.daysToFix == 1 ? " day" : " days");
        rows.append(row);
    }
}

IssueTemplate* AgreedPage::templateCalled(const std::string& name)
{
    const auto at = std::find_if(read_.templates.begin(), read_.templates.end(),
                                 [&](const IssueTemplate& t) { return t.name == name; });
    return at == read_.templates.end() ? nullptr : &*at;
}

void AgreedPage::showTemplate(const IssueTemplate& t)
{
    const Called name = std::make_shared<std::string>(t.name);
    Details& d = at_.details;
    d.addCaption("Template of issues of " + sourceInWords(t.source));
    d.addTitle(q(t.name));
    auto* form = new Form;
    const bool isOfClashes = t.source == issues::made_from::kClash;
    const auto line = [&](const char* id, const char* words, std::string IssueTemplate::*field, const char* hint) {
        auto* edit = form->line(id, words, q(t.*field), hint);
        connect(edit, &QLineEdit::editingFinished, this, [this, name, edit, field] {
            changeTemplate(name, [&](IssueTemplate& x) { x.*field = edit->text().trimmed().toStdString(); });
        });
    };
    line("templateName", "Name", &IssueTemplate::name, "");
    line("templateTitle", "Title", &IssueTemplate::title, "{title}");
    auto* description = form->text("templateDescription", "Description", q(t.description), 4);
    form->whenLeft(description, [this, name](const QString& now) {
        changeTemplate(name, [&](IssueTemplate& x) { x.description = now.toStdString(); });
    });
    line("templateType", "Type", &IssueTemplate::type, "Clash");
    line("templateStage", "Stage", &IssueTemplate::stage, "");
    QVector<QPair<QString, QString>> priorities{{isOfClashes ? "by how deep" : "none", ""}};
    for (const std::string& one : read_.workflow.priorities)
        priorities.append({q(one), q(one)});
    auto* priority = form->choice("templatePriority", "Priority", priorities, q(t.priority));
    connect(priority, &QComboBox::activated, this, [this, name, priority] {
        changeTemplate(name, [&](IssueTemplate& x) { x.priority = priority->currentData().toString().toStdString(); });
    });
    QVector<QPair<QString, QString>> assignees{{"their discipline", "{discipline}"}};
    if (isOfClashes)
        assignees = {{"whom the test names", "{decider}"},
                     {"the left side's discipline", "{left}"},
                     {"the right side's discipline", "{right}"}};
    assignees.append({QString("nobody yet"), QString()});
    for (const std::string& person : read_.people)
        assignees.append({q(person), q(person)});
    if (std::none_of(assignees.begin(), assignees.end(), [&](const auto& a) { return a.second == q(t.assignee); }))
        assignees.append({q(t.assignee), q(t.assignee)});
    auto* assignee = form->choice("templateAssignee", "Assignee", assignees, q(t.assignee));
    connect(assignee, &QComboBox::activated, this, [this, name, assignee] {
        changeTemplate(name, [&](IssueTemplate& x) { x.assignee = assignee->currentData().toString().toStdString(); });
    });
    auto* days = form->number("templateDays", "Days to fix", t.daysToFix, 0, 3650);
    connect(days, &QSpinBox::editingFinished, this,
            [this, name, days] { changeTemplate(name, [&](IssueTemplate& x) { x.daysToFix = days->value(); }); });
    QStringList labels;
    for (const std::string& label : t.labels)
        labels << q(label);
    auto* label = form->line("templateLabels", "Labels", labels.join(", "), "with commas between");
    connect(label, &QLineEdit::editingFinished, this, [this, name, label] {
        changeTemplate(name, [&](IssueTemplate& x) {
            x.labels.clear();
            for (const QString& one : label->text().split(','))
                if (!one.trimmed().isEmpty())
                    x.labels.push_back(one.trimmed().toStdString());
        });
    });
    addRules(*form, t, name);
    d.addWidget(form);
    const auto alike = std::count_if(read_.templates.begin(), read_.templates.end(),
                                     [&](const IssueTemplate& one) { return one.source == t.source; });
    d.addButtons({{"addTemplate", "Another template", "N", false, true, [this] { addTemplate(); }},
                  {"saveTemplate", "Save to a file…", "", false, true, [this, name] { saveTemplate(*name); }},
                  {"removeTemplate", "Remove", "", false, alike > 1, [this, name = t.name] {
                       at_.session.write([name, who = at_.session.now()](project::Project& p) {
                           return Session::saying(p.issues().removeTemplate(name, who),
                                                  "Template removed; Ctrl+Z brings it back: " + name);
                       });
                   }}});
    d.addHeading("Words in braces");
    for (const auto& [word, says] : issues::placeholders(t.source))
        d.addFact("{" + q(word) + "}", q(says));
}

void AgreedPage::changeTemplate(const Called& name, const std::function<void(IssueTemplate&)>& edit)
{
    IssueTemplate* found = templateCalled(*name);
    if (found == nullptr) // somebody else removed it
        return at_.session.say("There is no template called " + q(*name) + " any more.");
    IssueTemplate& kept = *found;
    IssueTemplate changed = kept;
    edit(changed);
    if (changed == kept)
        return;
    if (const std::string mistake = mistakeIn(changed); !mistake.empty())
        return at_.session.fail({issues::kBadIssueTemplate, mistake});
    const std::string former = kept.name;
    kept = changed; // what a form goes on from, until it is read anew
    *name = changed.name;
    if (changed.name != former)
        wanted_ = idOf("template", changed.name);
    shownAs_ = changed.name == former ? shownNow() : QString(); // its title is another
    at_.session.write(
        [changed, former, who = at_.session.now()](project::Project& p) {
            return Session::saying(p.issues().keepTemplate(changed, former, who), "Template changed: " + changed.name);
        },
        [this](bool isDone) {
            if (!isDone)
                refresh();
        });
}

void AgreedPage::addRules(Form& form, const IssueTemplate& t, const Called& name)
{
    if (const std::vector<std::string> kinds = issues::kindsOf(t.source); !kinds.empty()) {
        auto* byKind = form.line("templatePriorityFor", "Priority by kind", rulesInWords(t.priorityFor),
                                 q(kinds.front()) + " High, " + q(kinds.back()) + " Low");
        connect(byKind, &QLineEdit::editingFinished, this, [this, name, byKind, kinds] {
            changeTemplate(name, [&](IssueTemplate& x) { x.priorityFor = rulesFrom(byKind->text(), kinds); });
        });
    }
    auto* days = form.line("templateDaysFor", "Days by priority", rulesInWords(t.daysFor), "High 3, Low 14");
    connect(days, &QLineEdit::editingFinished, this, [this, name, days] {
        changeTemplate(name, [&](IssueTemplate& x) {
            x.daysFor.clear();
            for (const auto& [priority, text] : rulesFrom(days->text())) {
                bool isNumber = false;
                const int value = q(text).toInt(&isNumber);
                x.daysFor.emplace_back(priority, isNumber ? value : -1); // which is a mistake that is said
            }
        });
    });
    QStringList lines;
    for (const auto& [set, assignee] : t.assigneeFor)
        lines << q(assignee) + ": " + q(set);
    auto* sets = form.text("templateAssigneeFor", "Assignee by set", lines.join("\n"), 3);
    sets->setPlaceholderText("Fire safety: class is Door");
    form.whenLeft(sets, [this, name](const QString& now) {
        changeTemplate(name, [&](IssueTemplate& x) {
            x.assigneeFor.clear();
            for (const QString& line : now.split('\n', Qt::SkipEmptyParts)) {
                const auto colon = line.indexOf(':');
                x.assigneeFor.emplace_back(colon < 0 ? std::string() : line.mid(colon + 1).trimmed().toStdString(),
                                           line.left(colon < 0 ? line.size() : colon).trimmed().toStdString());
            }
        });
    });
}

void AgreedPage::addTemplate()
{
    const IssueTemplate* chosen =
        list_->chosen().startsWith("template") ? templateCalled(nameOf(list_->chosen())) : nullptr;
    IssueTemplate made = IssueTemplate::usual(chosen != nullptr ? chosen->source : issues::made_from::kClash);
    for (int n = 2; templateCalled(made.name) != nullptr; ++n)
        made.name = "Template " + std::to_string(n);
    filter_ = "templates";
    wanted_ = idOf("template", made.name);
    at_.session.write([made, who = at_.session.now()](project::Project& p) {
        return Session::saying(p.issues().keepTemplate(made, "", who), "Template added: " + made.name);
    });
}

void AgreedPage::saveTemplate(const std::string& name)
{
    const IssueTemplate* t = templateCalled(name);
    if (t == nullptr)
        return;
    const QString file = QFileDialog::getSaveFileName(list_->window(), "Save the template", q(name) + ".json",
                                                      "Templates of issues (*.json)");
    if (file.isEmpty())
        return;
    if (const auto done = writeFileWhole(file.toStdString(), issues::toJson(*t)); !done)
        return at_.session.fail(done.error());
    at_.session.say("Template saved: " + file);
}

void AgreedPage::loadTemplate(const std::string& text, const QString& file)
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
