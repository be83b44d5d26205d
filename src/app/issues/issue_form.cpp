#include "issues/issue_form.h"

#include "issues/lists_of_names.h"
#include "issues/names_offered.h"
#include "shell/form.h"
#include "shell/stage.h"

#include <QComboBox>
#include <QDate>
#include <QEvent>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

struct TextField {
    const char* name;
    std::string issues::Issue::*value;
};
constexpr TextField kTexts[] = {{"title", &issues::Issue::title},
                                {"description", &issues::Issue::description},
                                {"type", &issues::Issue::type},
                                {"priority", &issues::Issue::priority},
                                {"stage", &issues::Issue::stage},
                                {"assignee", &issues::Issue::assignee},
                                {"requestedBy", &issues::Issue::requestedBy},
                                {"cause", &issues::Issue::cause}};
constexpr TextField kDays[] = {{"due", &issues::Issue::dueAt}, {"start", &issues::Issue::startAt}};
struct PlaceField {
    const char* name;
    std::string issues::Location::*value;
};
constexpr PlaceField kPlaces[] = {
    {"storey", &issues::Location::storey}, {"bay", &issues::Location::bay}, {"space", &issues::Location::space}};

} // namespace

QString fieldText(const issues::Issue& issue, const QString& field)
{
    for (const TextField& f : kTexts)
        if (field == f.name)
            return q(issue.*f.value);
    for (const TextField& f : kDays)
        if (field == f.name)
            return q((issue.*f.value).substr(0, 10));
    for (const PlaceField& f : kPlaces)
        if (field == f.name)
            return q(issue.location.*f.value);
    if (field == "labels")
        return joined(issue.labels, ", ");
    if (field == "links")
        return joined(issue.links, "\n");
    const auto value = issue.custom.find(field.mid(7).toStdString());
    return field.startsWith("custom:") && value != issue.custom.end() ? q(value->second) : QString();
}

QString setField(issues::Issue& issue, const QString& field, const QString& text)
{
    const QString plain = text.trimmed();
    for (const TextField& f : kTexts)
        if (field == f.name) {
            if (field == "title" && plain.isEmpty())
                return "An issue needs a title.";
            issue.*f.value = plain.toStdString();
        }
    for (const TextField& f : kDays)
        if (field == f.name) {
            const QDate day = QDate::fromString(plain, Qt::ISODate);
            if (!plain.isEmpty() && !day.isValid())
                return "A day is written as 2026-11-28.";
            if (q((issue.*f.value).substr(0, 10)) != plain) // the time of a day that stays, stays
                issue.*f.value = plain.isEmpty() ? std::string() : plain.toStdString() + "T00:00:00Z";
        }
    for (const PlaceField& f : kPlaces)
        if (field == f.name)
            issue.location.*f.value = plain.toStdString();
    if (field == "labels")
        issue.labels = parted(plain, ',');
    if (field == "links")
        issue.links = parted(plain, '\n');
    if (field.startsWith("custom:")) {
        const std::string name = field.mid(7).toStdString();
        if (plain.isEmpty())
            issue.custom.erase(name);
        else
            issue.custom[name] = plain.toStdString();
    }
    return {};
}

IssueForm::IssueForm(const Choices& choices, const issues::Issue& issue, const QMap<QString, QString>& drafts,
                     bool isOfOne, QWidget* parent)
    : QWidget(parent), form_(new Form), drafts_(drafts), nameOf_(choices.nameOf)
{
    setObjectName("issueForm");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form_);
    const auto text = [&](const char* field) { return fieldText(issue, field); };
    const issues::Workflow& w = choices.workflow;
    if (isOfOne) // several with one title can not be told apart
        addText("title", "Title", text("title"), 2);
    addText("description", "Description", text("description"), 5);
    addChoice("assignee", "Assigned", choices.people, text("assignee"));
    addLine("due", "Due", text("due"), "2026-11-28");
    addChoice("priority", "Priority", w.priorities, text("priority"));
    addChoice("type", "Type", w.types, text("type"));
    addChoice("stage", "Stage", w.stages, text("stage"));
    addLine("labels", "Labels", text("labels"), "Fire, Level 2");
    addChoice("requestedBy", "Requested by", choices.people, text("requestedBy"));
    addLine("start", "Start", text("start"), "2026-11-28");
    addLine("cause", "Cause", text("cause"));
    addChoice("storey", "Storey", choices.storeys, text("storey"));
    addLine("bay", "Bay", text("bay"), "C-D / 4");
    addLine("space", "Space", text("space"));
    for (const issues::CustomField& f : w.fields) {
        const QString field = "custom:" + q(f.name);
        if (f.choices.empty())
            addLine(field, q(f.name), fieldText(issue, field));
        else
            addChoice(field, q(f.name), f.choices, fieldText(issue, field));
        custom_.push_back(f.name);
    }
    addLine("related", "Related", relatedText(issue), "MSS-004, MSS-011");
    if (choices.findIssues)
        new NamesOffered(lines_["related"],
                         [find = choices.findIssues, own = q(issue.number) + " "](const QString& written) {
                             QStringList found = find(written);
                             erase_if(found, [&](const QString& one) { return one.startsWith(own); });
                             return found;
                         });
    addText("links", "Links", text("links"), 2);
    connect(this, &IssueForm::typed, this, [this](const QString& field, const QString& now) { drafts_[field] = now; });
}

QString IssueForm::relatedText(const issues::Issue& issue) const
{
    QStringList names;
    for (const std::string& uuid : issue.related)
        if (const QString name = nameOf_ ? nameOf_(uuid) : QString(); !name.isEmpty())
            names << name;
    return names.join(", ");
}

QString IssueForm::begun(const QString& field, const QString& kept)
{
    kept_[field] = kept;
    return drafts_.value(field, kept);
}

void IssueForm::addLine(const QString& field, const QString& words, const QString& text, const QString& hint)
{
    QLineEdit* edit = form_->line("field:" + field, words, begun(field, text), hint);
    lines_[field] = edit;
    connect(edit, &QLineEdit::textEdited, this, [this, field](const QString& now) { emit typed(field, now); });
    connect(edit, &QLineEdit::editingFinished, this, [this, field, edit] { commit(field, edit->text()); });
}

void IssueForm::addChoice(const QString& field, const QString& words, const std::vector<std::string>& values,
                          const QString& text)
{
    QVector<QPair<QString, QString>> offered{{"", ""}};
    for (const std::string& value : values)
        offered.append({q(value), q(value)});
    QComboBox* box = form_->choice("field:" + field, words, offered, text);
    box->setEditable(true);
    box->setInsertPolicy(QComboBox::NoInsert);
    box->setCurrentText(begun(field, text));
    choices_[field] = box;
    connect(box->lineEdit(), &QLineEdit::textEdited, this,
            [this, field](const QString& now) { emit typed(field, now); });
    connect(box->lineEdit(), &QLineEdit::editingFinished, this,
            [this, field, box] { commit(field, box->currentText()); });
    connect(box, &QComboBox::activated, this, [this, field, box] { commit(field, box->currentText()); });
}

void IssueForm::addText(const QString& field, const QString& words, const QString& text, int lines)
{
    QPlainTextEdit* edit = form_->text("field:" + field, words, begun(field, text), lines);
    edit->installEventFilter(this);
    texts_[field] = edit;
    connect(edit, &QPlainTextEdit::textChanged, this, [this, field, edit] {
        if (edit->hasFocus())
            emit typed(field, edit->toPlainText());
    });
}

bool IssueForm::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::FocusOut)
        for (auto edit = texts_.begin(); edit != texts_.end(); ++edit)
            if (edit.value() == watched)
                commit(edit.key(), edit.value()->toPlainText());
    return QWidget::eventFilter(watched, event);
}

void IssueForm::commit(const QString& field, const QString& text)
{
    if (text == kept_.value(field))
        return;
    kept_[field] = text;
    drafts_.remove(field);
    emit committed(field, text);
}

void IssueForm::keepBegun()
{
    for (auto e = lines_.begin(); e != lines_.end(); ++e)
        commit(e.key(), e.value()->text());
    for (auto e = choices_.begin(); e != choices_.end(); ++e)
        commit(e.key(), e.value()->currentText());
    for (auto e = texts_.begin(); e != texts_.end(); ++e)
        commit(e.key(), e.value()->toPlainText());
}

void IssueForm::setIssue(const issues::Issue& issue)
{
    const auto isFree = [&](const QString& field, QWidget* widget) {
        return !widget->hasFocus() && !drafts_.contains(field);
    };
    const auto now = [&](const QString& field) {
        kept_[field] = field == "related" ? relatedText(issue) : fieldText(issue, field);
        return kept_[field];
    };
    for (auto e = lines_.begin(); e != lines_.end(); ++e)
        if (isFree(e.key(), e.value()))
            e.value()->setText(now(e.key()));
    for (auto e = choices_.begin(); e != choices_.end(); ++e)
        if (isFree(e.key(), e.value()) && !e.value()->lineEdit()->hasFocus())
            e.value()->setCurrentText(now(e.key()));
    for (auto e = texts_.begin(); e != texts_.end(); ++e)
        if (const QString text = isFree(e.key(), e.value()) ? now(e.key()) : e.value()->toPlainText();
            text != e.value()->toPlainText())
            e.value()->setPlainText(text);
}

} // namespace wendrix::app
