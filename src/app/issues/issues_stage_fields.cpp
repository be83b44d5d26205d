#include "issues/issues_stage.h"

#include "core/base/text.h"
#include "core/project/issue_making.h"
#include "shell/theme.h"

#include <QApplication>
#include <QStackedWidget>

#include <algorithm>
#include <set>

/// Issues: their fields, of one or of several at once.
namespace wendrix::app {

IssueForm::Choices IssuesStage::choices() const
{
    IssueForm::Choices choices;
    choices.workflow = issues_->workflow();
    choices.people = project::assigneesOf(at_.session.project());
    if (const federation::Member* reference = at_.session.reference())
        for (const ifc::Storey& storey : reference->model->storeys())
            choices.storeys.push_back(storey.name);
    const auto nameOf = [](const project::IssueKey& k) {
        return q(project::IssuesBook::numberInWords(k.prefix, k.number));
    };
    choices.nameOf = [list = issues_, nameOf](const std::string& uuid) {
        const auto at = std::find_if(list->issues().begin(), list->issues().end(),
                                     [&](const project::IssueKey& k) { return k.uuid == uuid; });
        return at == list->issues().end() ? QString() : nameOf(*at);
    };
    choices.findIssues = [list = issues_, nameOf](const QString& begun) {
        constexpr int kMost = 8;
        QStringList found;
        for (const project::IssueKey& k : list->issues())
            if (const QString words = nameOf(k) + " " + q(k.title); words.contains(begun, Qt::CaseInsensitive))
                if (found << words; found.size() == kMost)
                    break;
        return found;
    };
    return choices;
}

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

namespace {

/// What several issues have in common.
struct Common {
    QStringList uuids;              ///< of those that are there
    issues::Issue same;             ///< a field is empty where they differ
    std::vector<std::string> moves; ///< statuses all of them may go to
};

Common commonOf(const project::Project& project, const QStringList& uuids, const issues::Workflow& flow,
                const issues::Standing& standing)
{
    static constexpr const char* kFields[] = {"description", "type",  "priority", "stage", "assignee",
                                              "requestedBy", "cause", "due",      "start", "storey",
                                              "bay",         "space", "labels",   "links"};
    Common common;
    for (const issues::Status& s : flow.statuses)
        common.moves.push_back(s.name);
    for (const QString& uuid : uuids) {
        const auto issue = orNothing(project.issues().find(uuid.toStdString(), false));
        if (!issue)
            continue;
        if (common.uuids.isEmpty())
            common.same = *issue;
        common.uuids << uuid;
        for (const char* field : kFields)
            if (fieldText(*issue, field) != fieldText(common.same, field))
                (void)setField(common.same, field, "");
        if (issue->related != common.same.related)
            common.same.related.clear();
        std::erase_if(common.moves, [&](const std::string& to) {
            return issue->status == to || !issues::whyNot(flow, *issue, to, standing).empty();
        });
    }
    common.same.title.clear();
    common.same.custom.clear();
    return common;
}

} // namespace

void IssuesStage::showSeveral(const QStringList& uuids)
{
    shown_.clear();
    comment_ = nullptr;
    at_.session.ask<Common>(
        this, "several",
        [uuids, list = issues_](const project::Project& p) {
            return commonOf(p, uuids, list->workflow(), list->standing());
        },
        [this, uuids](const Common& common) {
            Details& d = at_.details;
            // Chosen otherwise by now, or somebody writes in it.
            if (!isFront() || !d.owner().isEmpty() || list_->chosenAll() != uuids || common.uuids.isEmpty() ||
                (form_ != nullptr && form_->isAncestorOf(QApplication::focusWidget()) &&
                 form_->property("of").toStringList() == common.uuids))
                return;
            form_ = nullptr;
            d.clear();
            d.addCaption("Several at once");
            d.addTitle(q(counted(static_cast<std::size_t>(common.uuids.size()), "issue", "issues")));
            d.addText("What is set here is set of all of them, as one step.");
            QVector<Details::Button> moves;
            for (const std::string& to : common.moves)
                moves.append({"moveAll:" + q(to), q(to), "", false, true,
                              [this, all = common.uuids, to] { setStatus(all, to, {}); }});
            if (!moves.isEmpty())
                d.addButtons(moves);
            d.addButtons({{"settleChosen", "As the models propose", "X", false, true,
                           [this, all = common.uuids] { settle(all); }}});
            addForm(common.same, common.uuids);
            d.finish();
        });
}

void IssuesStage::commitRelated(const QStringList& uuids, const QString& text)
{
    const auto isHere = [&](const std::string& uuid) {
        return std::any_of(issues_->issues().begin(), issues_->issues().end(),
                           [&](const project::IssueKey& k) { return k.uuid == uuid; });
    };
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
        // What files name and is not here was not shown to be taken away.
        for (const std::string& before : issue ? issue->related : std::vector<std::string>{})
            if (isHere(before) && std::find(touched.begin(), touched.end(), before) == touched.end())
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
