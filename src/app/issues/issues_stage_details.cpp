#include "issues/issues_stage.h"

#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/bcf/picture.h"
#include "core/project/issue_making.h"
#include "core/project/stored_files.h"
#include "core/view/viewpoint_look.h"
#include "issues/issue_rows.h"
#include "issues/names_offered.h"
#include "shell/long_text.h"
#include "shell/theme.h"

#include <QLabel>
#include <QPlainTextEdit>

#include <algorithm>
#include <set>

/// Issues: one of them whole, and what is done with it.
namespace wendrix::app {

namespace {

constexpr QSize kSnapshot{250, 156};

/// What a field was and became, in the history.
QString valueInWords(const project::IssueEvent& e, const std::string& value)
{
    if (value.empty())
        return "nothing";
    return e.field == "Due" || e.field == "Start" ? q(dayInWords(value)) : q(value);
}

} // namespace

void IssuesStage::showDetails(const Item& item)
{
    const issues::Issue& i = item.issue;
    if (isEditing_ && form_ != nullptr && shown_ == q(i.uuid)) {
        form_->setIssue(i); // who writes in it goes on
        return;
    }
    shown_ = q(i.uuid);
    form_ = nullptr;
    Details& d = at_.details;
    d.clear();
    d.addCaption(q(i.number) + (i.type.empty() ? "" : " · " + q(i.type)) + (i.stage.empty() ? "" : " · " + q(i.stage)));
    d.addTitle(q(i.title));
    if (isEditing_) {
        addForm(i, {shown_});
        d.finish();
        return;
    }
    addFacts(item);
    addEvidence(item);
    addMoves(item);
    addViewpoints(item);
    if (!i.description.empty()) {
        d.addHeading("Description");
        d.addText(q(i.description), false);
    }
    addComments(item);
    addHistory(item);
    d.finish();
}

void IssuesStage::addFacts(const Item& item)
{
    const issues::Issue& i = item.issue;
    Details& d = at_.details;
    const issues::Status status = issues_->workflow().statusOf(i.status);
    d.addFact("Status", q(i.status, "none"), {}, markOf(status.shape), theme::kInk);
    d.addFact("Assigned", q(i.assignee, "nobody"));
    if (!i.dueAt.empty()) {
        const bool isLate = !status.isClosed && i.dueAt.substr(0, 10) < at_.session.now().time.substr(0, 10);
        d.addFact("Due", q(dayInWords(i.dueAt)), isLate ? "late" : "");
    }
    d.addFact("Priority", q(i.priority, "none"), {}, i.priority.empty() ? Mark::None : Mark::Bars, theme::kInk,
              QString::number(barsOf(i.priority)));
    const std::string found = item.pairs.empty() ? std::string() : project::whereInWords(item.pairs);
    std::string where = i.location.storey;
    for (const std::string& part : {i.location.bay.empty() ? std::string() : "bay " + i.location.bay, i.location.space})
        if (!part.empty())
            where += (where.empty() ? "" : ", ") + part;
    if (const std::string& words = found.empty() ? where : found; !words.empty() || !item.pairs.empty())
        d.addFact("Where", q(words, "no storey"));
    const std::pair<const char*, std::string> more[] = {
        {"Requested by", i.requestedBy}, {"Start", dayInWords(i.startAt)}, {"Cause", i.cause}};
    for (const auto& [name, value] : more)
        if (!value.empty())
            d.addFact(name, q(value));
    for (const auto& [name, value] : i.custom)
        d.addFact(q(name), q(value));
    if (!i.labels.empty())
        d.addFact("Labels", fieldText(i, "labels"));
    if (!i.serverId.empty())
        d.addFact("On a server", q(i.serverId));
    QStringList models;
    for (const issues::ModelFile& f : i.files)
        models << q(f.fileName.empty() ? f.project : f.fileName);
    if (!models.isEmpty())
        d.addFact("Written against", models.join(", "));
    if (i.snippet)
        d.addFact("Snippet", q(i.snippet->reference), q(i.snippet->type));
    for (const std::string& link : i.links)
        d.addFact("Link", q(link));
    QVector<Details::Button> documents;
    constexpr int kMostDocuments = 8;
    for (std::size_t n = 0; n < i.documents.size(); ++n) {
        const issues::DocumentReference& r = i.documents[n];
        const QString name = q(r.isExternal ? r.target : r.name.empty() ? r.target : r.name);
        d.addFact("Document", name, q(r.description));
        if (!r.isExternal && documents.size() < kMostDocuments)
            documents.append({QString("saveDocument:%1").arg(n), "Save " + endsOf(name) + "…", "", false, true,
                              [this, r, origins = item.origins] { saveDocument(r, origins); }});
    }
    if (!documents.isEmpty())
        d.addButtons(documents);
    if (!i.related.empty()) {
        QStringList names;
        const auto briefs = orNothing(at_.session.project().issues().briefs(i.related));
        for (const project::IssueBrief& brief : briefs)
            names << q(brief.name());
        if (names.size() < static_cast<int>(i.related.size()))
            names << QString("%1 not here").arg(i.related.size() - static_cast<std::size_t>(names.size()));
        d.addFact("Related", names.join(", "));
        constexpr std::size_t kMostButtons = 6;
        QVector<Details::Button> go;
        for (const project::IssueBrief& brief : briefs)
            if (static_cast<std::size_t>(go.size()) < kMostButtons)
                go.append({"related:" + q(brief.uuid), "Go to " + q(brief.name()), "", false, true,
                           [this, uuid = q(brief.uuid)] { choose(uuid); }});
        if (!go.isEmpty())
            d.addButtons(go);
    }
    d.addButtons({{"editIssue", "Change fields", "E", false, true, [this] { press(Qt::Key_E); }},
                  {"attachDocument", "Attach…", "", false, true, [this] { attach(); }}});
}

void IssuesStage::addMoves(const Item& item)
{
    const issues::Issue& i = item.issue;
    const issues::Workflow& flow = issues_->workflow();
    const bool isClosed = flow.isClosed(i.status), canClose = item.evidence.isSettled();
    const QString words = q(item.evidence.inWords());
    const auto from = flow.statusOf(i.status).shape;
    // What was said to be done and is still there goes back.
    const bool isSentBack = from == issues::StatusShape::Full && item.evidence.isStillThere();
    const auto allowed = issues::movesFor(flow, i, issues_->standing());
    QVector<Details::Button> buttons;
    for (const issues::Status& to : flow.statuses) {
        if (to.name == i.status || std::find(allowed.begin(), allowed.end(), to.name) == allowed.end())
            continue;
        const std::string name = to.name;
        const QStringList uuids{q(i.uuid)};
        if (to.isClosed)
            buttons.append({"close", canClose ? "Close on evidence" : "Close anyway", "X", canClose, true,
                            [this, uuids, name, words] { setStatus(uuids, name, "Closed. " + words); }});
        else if (to.shape == issues::StatusShape::Broken && isClosed)
            buttons.append({"reopen", "Reopen", "", false, true, [this, uuids, name] { setStatus(uuids, name, {}); }});
        else if (to.shape == issues::StatusShape::Broken && from == issues::StatusShape::Full)
            buttons.append({"sendBack", "Send back", "", isSentBack, true, [this, uuids, name, words, isSentBack] {
                                setStatus(uuids, name, isSentBack ? "Sent back. " + words : QString());
                            }});
        else
            buttons.append({to.shape == issues::StatusShape::Half   ? "inProgress"
                            : to.shape == issues::StatusShape::Full ? "done"
                                                                    : "move:" + q(name),
                            q(name), "", false, true, [this, uuids, name] { setStatus(uuids, name, {}); }});
    }
    std::stable_sort(buttons.begin(), buttons.end(),
                     [](const Details::Button& a, const Details::Button& b) { return a.isLoud && !b.isLoud; });
    if (!buttons.isEmpty())
        at_.details.addButtons(buttons);
    else
        at_.details.addText("The project's workflow has no way on from here for you.");
}

void IssuesStage::addViewpoints(const Item& item)
{
    if (item.viewpoints.empty())
        return;
    Details& d = at_.details;
    const std::size_t at =
        static_cast<std::size_t>(std::clamp(viewpoint_, 0, static_cast<int>(item.viewpoints.size()) - 1));
    const view::ViewpointLook look = view::lookOf(item.viewpoints[at], at_.scene.members());
    d.addHeading(QString("Viewpoint %1 of %2").arg(at + 1).arg(item.viewpoints.size()));
    QStringList parts;
    if (!look.selected.empty())
        parts << q(counted(look.selected.size(), "element", "elements")) + " selected";
    if (look.only)
        parts << "only " + q(counted(look.only->size(), "element", "elements")) + " shown";
    else if (!look.hidden.empty())
        parts << q(counted(look.hidden.size(), "element", "elements")) + " hidden";
    if (!look.cuts.isEmpty())
        parts << q(look.cuts.inWords());
    if (look.areSpacesShown)
        parts << "with spaces";
    if (const std::size_t all = item.viewpoints[at].bitmaps.size(); all > 0) {
        const std::size_t there = picturesOf(item, item.viewpoints[at]).size();
        parts << q(counted(there, "picture", "pictures")) + " standing in it" +
                     (there < all ? QString(", %1 missing or unreadable").arg(all - there) : QString());
    }
    if (!look.lines.empty())
        parts << q(counted(look.lines.size(), "line", "lines")) + " drawn";
    const issues::ViewHints& hints = item.viewpoints[at].hints;
    for (const auto& [isOn, what] :
         {std::pair{hints.openings, "openings"}, std::pair{hints.spaceBoundaries, "space boundaries"}})
        if (isOn)
            parts << QString("%1 were seen there, which are not drawn here").arg(what);
    d.addText(parts.isEmpty() ? QString("The whole model.") : parts.join(", ") + ".");
    addSnapshot(item, at);
    if (!look.missing.empty() || !look.notByGuid.empty()) {
        QStringList names;
        for (const ElementRef& ref : look.missing)
            names << q(ref.guid);
        for (const issues::ForeignName& name : look.notByGuid)
            names << q(name.system + " " + name.id).trimmed();
        constexpr int kMost = 12;
        const int more = static_cast<int>(names.size()) - kMost;
        d.addText("Not in the federation: " + names.mid(0, kMost).join(", ") +
                      (more > 0 ? QString(" and %1 more").arg(more) : QString()) + ".",
                  false);
    }
    if (item.viewpoints.size() > 1)
        d.addButtons({{"viewpointBefore", "Before", "", false, true, [this] { stepViewpoint(-1); }},
                      {"viewpointNext", "Next", "N", false, true, [this] { stepViewpoint(1); }}});
    else
        d.addButtons({{"viewpointAgain", "Look again", "", false, true, [this] { stepViewpoint(0); }}});
}

void IssuesStage::addSnapshot(const Item& item, std::size_t viewpoint)
{
    const auto kept = std::find_if(item.snapshots.begin(), item.snapshots.end(),
                                   [&](const auto& one) { return one.first == item.viewpoints[viewpoint].uuid; });
    if (kept == item.snapshots.end())
        return;
    auto* label = new QLabel("Its picture is read…");
    label->setObjectName("snapshot");
    label->setFixedSize(kSnapshot);
    label->setAlignment(Qt::AlignCenter);
    label->setStyleSheet("border:1px solid #DAD4C6");
    label->setToolTip("As whoever made the viewpoint saw it");
    at_.details.addWidget(label);
    // It may lie in a large file.
    at_.session.ask<QImage>(
        label, "picture",
        [name = kept->second](const project::Project& p) {
            const std::string bytes = project::readPicture(p.folder(), name);
            const bcf::PictureFacts facts = bcf::factsOf(bytes, false);
            if (facts.kind.empty() || bcf::isTooLarge(facts))
                return QImage();
            const QImage image =
                QImage::fromData(reinterpret_cast<const uchar*>(bytes.data()), static_cast<int>(bytes.size()));
            return image.scaled(kSnapshot - QSize(2, 2), Qt::KeepAspectRatio, Qt::SmoothTransformation);
        },
        [label](const QImage& image) {
            if (image.isNull())
                label->setText("Its picture can not be read.");
            else {
                label->setPixmap(QPixmap::fromImage(image));
                label->setFixedWidth(image.width() + 2);
            }
        });
}

void IssuesStage::addComments(const Item& item)
{
    Details& d = at_.details;
    d.addHeading("Comments");
    const std::string me = at_.session.now().person;
    for (const issues::Comment& c : item.issue.comments) {
        d.addText(q(c.author) + " · " + q(timeInWords(c.time)) +
                  (c.modifiedAt.empty() ? "" : " · edited " + q(timeInWords(c.modifiedAt))));
        d.addText(q(c.text), false);
        if (!c.modifiedAt.empty())
            for (const project::CommentEdit& e :
                 orNothing(at_.session.project().issues().editsOf(item.issue.uuid, c.uuid)))
                d.addText("before, " + q(timeInWords(e.time)) + ": " + q(e.text));
        QVector<Details::Button> buttons;
        if (const auto v = std::find_if(item.issue.viewpoints.begin(), item.issue.viewpoints.end(),
                                        [&](const issues::Viewpoint& one) { return one.uuid == c.viewpoint; });
            v != item.issue.viewpoints.end())
            buttons.append({"seenFrom:" + q(c.uuid), "As it was seen", "", false, true,
                            [this, at = static_cast<int>(v - item.issue.viewpoints.begin())] {
                                viewpoint_ = at;
                                stepViewpoint(0);
                            }});
        if (c.author == me) {
            buttons.append({"editComment:" + q(c.uuid), "Edit", "", false, true, [this, c] { editComment(c); }});
            buttons.append({"removeComment:" + q(c.uuid), "Remove", "", false, true,
                            [this, uuid = item.issue.uuid, comment = c.uuid] {
                                at_.session.write([uuid, comment, who = at_.session.now()](project::Project& p) {
                                    return Session::saying(p.issues().removeComment(uuid, comment, who),
                                                           "Comment removed; its text is in the history.");
                                });
                            }});
        }
        if (!buttons.isEmpty())
            d.addButtons(buttons);
    }
    comment_ = new QPlainTextEdit;
    comment_->setObjectName("comment");
    comment_->setPlaceholderText("Write a comment; @ names somebody");
    comment_->setFixedHeight(58);
    comment_->setTabChangesFocus(true);
    comment_->setPlainText(drafts_.value(shown_));
    comment_->moveCursor(QTextCursor::End);
    connect(comment_, &QPlainTextEdit::textChanged, this,
            [this, edit = comment_.data(), uuid = shown_] { drafts_[uuid] = edit->toPlainText(); });
    new NamesOffered(comment_, [people = choices().people](const QString& begun) {
        QStringList found;
        for (const std::string& name : people)
            if (q(name).startsWith(begun, Qt::CaseInsensitive) ||
                (!begun.isEmpty() && q(name).contains(" " + begun, Qt::CaseInsensitive)))
                found << q(name);
        return found;
    });
    d.addWidget(comment_);
    if (editedComment_.isEmpty())
        d.addButtons({{"sendComment", "Comment", "", false, true, [this] { sendComment(); }}});
    else
        d.addButtons({{"sendComment", "Change the comment", "", true, true, [this] { sendComment(); }},
                      {"leaveComment", "Leave it", "", false, true, [this] {
                           editedComment_.clear();
                           drafts_.remove(shown_);
                           show(false);
                       }}});
}

void IssuesStage::addHistory(const Item& item)
{
    Details& d = at_.details;
    if (item.history.empty())
        return;
    d.addButtons({{"issueHistory",
                   isHistoryShown_ ? QString("Hide the history") : QString("History (%1)").arg(item.history.size()), "",
                   false, true, [this] {
                       isHistoryShown_ = !isHistoryShown_;
                       show(false);
                   }}});
    if (!isHistoryShown_)
        return;
    for (const project::IssueEvent& e : item.history) {
        d.addText(q(e.by.person) + " · " + q(timeInWords(e.by.time)) + (e.why.empty() ? "" : " · " + q(e.why)));
        d.addText(q(e.field) + ": " + valueInWords(e, e.before) + " → " + valueInWords(e, e.after), false);
    }
}

void IssuesStage::setStatus(const QStringList& uuids, const std::string& status, const QString& comment)
{
    std::vector<std::string> all;
    for (const QString& uuid : uuids)
        all.push_back(uuid.toStdString());
    at_.session.write([all, status, comment = comment.toStdString(),
                       who = at_.session.now()](project::Project& p) -> Result<std::string> {
        std::string number;
        const auto done = p.issues().change(
            all, status,
            [&](issues::Issue& i) {
                i.status = status;
                number = i.number;
                if (!comment.empty())
                    i.comments.push_back({newUuid(), who.time, who.person, comment});
            },
            who);
        if (!done)
            return wendrix::fail(done.error());
        return (all.size() == 1 ? number : counted(done->changed, "issue", "issues")) + ": " + lowerCase(status) +
               (done->refused.empty()
                    ? std::string()
                    : "; " + std::to_string(done->refused.size()) + " may not: " + done->refused.front());
    });
}

void IssuesStage::editComment(const issues::Comment& comment)
{
    editedComment_ = q(comment.uuid);
    drafts_[shown_] = q(comment.text);
    show(false);
    if (comment_ != nullptr)
        comment_->setFocus();
}

void IssuesStage::sendComment()
{
    const QString words = comment_ != nullptr ? comment_->toPlainText().trimmed() : QString();
    if (shown_.isEmpty() || words.isEmpty())
        return;
    // Gone from the field at once, and back in it should it not be kept.
    const QString uuid = shown_, draft = drafts_.take(uuid), edited = std::exchange(editedComment_, {});
    comment_->clear();
    drafts_.remove(uuid);
    at_.session.write(
        [uuid = uuid.toStdString(), words = words.toStdString(), edited = edited.toStdString(),
         who = at_.session.now()](project::Project& p) {
            return Session::saying(edited.empty() ? p.issues().addComment(uuid, words, who)
                                                  : p.issues().editComment(uuid, edited, words, who));
        },
        [this, uuid, draft](bool isDone) {
            if (isDone)
                return;
            drafts_[uuid] = draft;
            if (shown_ == uuid && comment_ != nullptr)
                comment_->setPlainText(draft);
        });
}

} // namespace wendrix::app
