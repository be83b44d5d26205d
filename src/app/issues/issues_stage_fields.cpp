#include "issues/issues_stage.h"

#include "core/base/text.h"
#include "shell/theme.h"

#include <algorithm>
#include <set>

/// Issues: their fields, of one or of several at once.
namespace wendrix::app {

void IssuesStage::addForm(const issues::Issue& issue, const QStringList& uuids)
{
    QMap<QString, QString> begun;
    const QString prefix = uuids.join(",") + "/";
    for (auto draft = drafts_.begin(); draft != drafts_.end(); ++draft)
        if (draft.key().startsWith(prefix))
            begun[draft.key().mid(prefix.size())] = draft.value();
    form_ = new IssueForm(choices(), issue, begun, uuids.size() == 1);
    form_->setProperty("of", uuids);
    connect(form_, &IssueForm::typed, this,
            [this, prefix](const QString& field, const QString& text) { drafts_[prefix + field] = text; });
    connect(form_, &IssueForm::committed, this,
            [this, uuids](const QString& field, const QString& text) { commitField(uuids, field, text); });
    at_.details.addWidget(form_);
    at_.details.addButtons({{"editDone", "Done", "E", false, true, [this] { press(Qt::Key_E); }}});
}

void IssuesStage::commitField(const QStringList& uuids, const QString& field, const QString& text)
{
    issues::Issue probe;
    probe.title = "x";
    if (field == "related")
        return commitRelated(uuids, text);
    if (const QString wrong = setField(probe, field, text); !wrong.isEmpty())
        return at_.session.say(wrong);
    std::vector<std::string> all;
    for (const QString& uuid : uuids)
        all.push_back(uuid.toStdString());
    const QString draft = uuids.join(",") + "/" + field;
    at_.session.write(
        [all, field, text, who = at_.session.now()](project::Project& p) -> Result<std::string> {
            const std::string what = (field.startsWith("custom:") ? field.mid(7) : field).toStdString() + " changed";
            const auto done = p.issues().change(
                all, what, [&](issues::Issue& i) { (void)setField(i, field, text); }, who);
            if (!done)
                return wendrix::fail(done.error());
            return all.size() > 1 ? counted(done->changed, "issue", "issues") + ": " + what : std::string();
        },
        [this, draft](bool isDone) {
            if (isDone)
                drafts_.remove(draft);
        });
}

void IssuesStage::showSeveral(const QStringList& uuids)
{
    shown_.clear();
    comment_ = nullptr;
    std::vector<issues::Issue> all;
    QStringList plain;
    for (const QString& uuid : uuids)
        if (auto issue = orNothing(at_.session.project().issues().find(uuid.toStdString(), false))) {
            all.push_back(std::move(*issue));
            plain << uuid;
        }
    Details& d = at_.details;
    if (isEditing_ && form_ != nullptr && d.owner().isEmpty() && form_->property("of").toStringList() == plain)
        return;
    form_ = nullptr;
    d.clear();
    d.addCaption("Several at once");
    d.addTitle(q(counted(all.size(), "issue", "issues")));
    if (all.empty()) {
        d.finish();
        return;
    }
    d.addText("What is set here is set of all of them, as one step.");
    // Where all may go.
    QVector<Details::Button> moves;
    for (const issues::Status& to : issues_->workflow().statuses)
        if (std::all_of(all.begin(), all.end(), [&](const issues::Issue& i) {
                return i.status != to.name &&
                       issues::whyNot(issues_->workflow(), i, to.name, issues_->standing()).empty();
            }))
            moves.append({"moveAll:" + q(to.name), q(to.name), "", false, true,
                          [this, plain, name = to.name] { setStatus(plain, name, {}); }});
    if (!moves.isEmpty())
        d.addButtons(moves);
    // Fields that all say the same begin with it.
    issues::Issue same = all.front();
    for (const issues::Issue& i : all)
        for (const char* field : {"description", "type", "priority", "stage", "assignee", "requestedBy", "cause", "due",
                                  "start", "storey", "bay", "space", "labels", "links"})
            if (fieldText(i, field) != fieldText(same, field))
                (void)setField(same, field, "");
    if (std::any_of(all.begin(), all.end(), [&](const issues::Issue& i) { return i.related != same.related; }))
        same.related.clear();
    same.title.clear();
    same.custom.clear();
    addForm(same, plain);
    d.finish();
}

void IssuesStage::commitRelated(const QStringList& uuids, const QString& text)
{
    std::set<std::string> wanted;
    for (const QString& part : text.split(',', Qt::SkipEmptyParts)) {
        const QString name = part.trimmed().section(' ', 0, 0);
        const auto& all = issues_->issues();
        const auto found = std::find_if(all.begin(), all.end(), [&](const project::IssueKey& k) {
            return q(project::IssuesBook::numberInWords(k.prefix, k.number)).compare(name, Qt::CaseInsensitive) == 0;
        });
        if (found == all.end())
            return at_.session.say("There is no issue " + name + "; related ones are named by their numbers.");
        wanted.insert(found->uuid);
    }
    // Whatever is related to one is so the other way round.
    std::vector<std::string> touched(wanted.begin(), wanted.end());
    std::map<std::string, std::set<std::string>> relatedOf;
    for (const QString& uuid : uuids) {
        const std::string own = uuid.toStdString();
        const auto issue = orNothing(at_.session.project().issues().find(own, false));
        for (const std::string& before : issue ? issue->related : std::vector<std::string>{})
            if (!issue || std::find(touched.begin(), touched.end(), before) == touched.end())
                touched.push_back(before);
        if (std::find(touched.begin(), touched.end(), own) == touched.end())
            touched.push_back(own);
        relatedOf[own] = wanted;
        relatedOf[own].erase(own);
    }
    at_.session.write(
        [touched, relatedOf, who = at_.session.now()](project::Project& p) {
            return Session::saying(p.issues().change(
                touched, "related changed",
                [&](issues::Issue& i) {
                    if (const auto own = relatedOf.find(i.uuid); own != relatedOf.end()) {
                        // Those that are not here, as files name them, stay.
                        std::erase_if(i.related, [&](const std::string& uuid) {
                            return std::find(touched.begin(), touched.end(), uuid) != touched.end();
                        });
                        i.related.insert(i.related.end(), own->second.begin(), own->second.end());
                        return;
                    }
                    for (const auto& [other, related] : relatedOf) {
                        const auto at = std::find(i.related.begin(), i.related.end(), other);
                        if (related.contains(i.uuid) && at == i.related.end())
                            i.related.push_back(other);
                        else if (!related.contains(i.uuid) && at != i.related.end())
                            i.related.erase(at);
                    }
                },
                who));
        },
        [this, draft = uuids.join(",") + "/related"](bool isDone) {
            if (isDone)
                drafts_.remove(draft);
        });
}

} // namespace wendrix::app
