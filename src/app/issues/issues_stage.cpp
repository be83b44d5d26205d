#include "issues/issues_stage.h"

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/bcf/bcf.h"
#include "core/project/issue_making.h"
#include "issues/issue_rows.h"
#include "shell/theme.h"

#include <QFileDialog>
#include <QPlainTextEdit>
#include <QPushButton>

#include <algorithm>
#include <set>

namespace wendrix::app {

namespace {

constexpr ErrorCode kWritingCancelled{"issues.writing-cancelled"};

constexpr std::pair<const char*, project::IssueFilter> kFilters[] = {{"open", project::IssueFilter::Open},
                                                                     {"ready", project::IssueFilter::CanBeClosed},
                                                                     {"closed", project::IssueFilter::Closed},
                                                                     {"all", project::IssueFilter::All}};

project::IssueFilter filterOf(const QString& id)
{
    for (const auto& [name, filter] : kFilters)
        if (id == name)
            return filter;
    return project::IssueFilter::Open;
}

} // namespace

IssuesStage::IssuesStage(const StageContext& context, QObject* parent) : ListStage("Issues", context, parent)
{
    for (const auto& [name, words, tip] : {std::tuple{"importBcf", "Import", "Take over a returned BCF file"},
                                           {"exportBcf", "Export BCF", "Write all issues as BCF 2.1"}}) {
        auto* button = new QPushButton(words);
        button->setObjectName(name);
        button->setToolTip(tip);
        list_->addButton(button);
        connect(button, &QPushButton::clicked, this,
                QString(name) == "importBcf" ? &IssuesStage::askImport : &IssuesStage::askExport);
    }
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) {
        filter_ = id;
        refresh();
    });
}

unsigned IssuesStage::books() const
{
    return app::books(project::Book::Issues, project::Book::Clashes, project::Book::Changes);
}

Stage::Counting IssuesStage::waiting() const
{
    return [](const project::Project& p) { return static_cast<int>(orNothing(p.issues().open())); };
}

QMap<QString, int> IssuesStage::storeyCounts() const
{
    QMap<QString, int> counts;
    for (const auto& [storey, n] : issues_->byStorey())
        counts[q(storey)] = static_cast<int>(n);
    return counts;
}

void IssuesStage::setStorey(const QString& storey)
{
    if (storey_ == storey)
        return;
    Stage::setStorey(storey);
    becomeStale();
}

void IssuesStage::refresh()
{
    using List = std::shared_ptr<const project::IssueList>;
    at_.session.ask<List>(
        this,
        [question =
             project::IssueQuestion{filterOf(filter_), storey_.toStdString()}](const project::Project& p) -> List {
            return std::make_shared<project::IssueList>(orNothing(p.issues().keys()), orNothing(p.clashes().byIssue()),
                                                        question);
        },
        [this](List list) {
            auto former = std::exchange(issues_, std::move(list));
            fillList();
            Session::letGo(std::move(former));
            emit countsChanged();
            if (isFront() && at_.details.owner().isEmpty())
                show(false);
        });
}

void IssuesStage::fillList()
{
    const std::size_t open = issues_->open(), closed = issues_->total() - open, ready = issues_->canBeClosed();
    const auto number = [](std::size_t n) { return QString::number(n); };
    list_->setFigures(
        {{number(open), "open"}, {number(ready), "can be closed", ready > 0}, {number(closed), "closed"}});
    list_->setChips({{"open", "Open " + number(open), filter_ == "open"},
                     {"ready", "Can be closed " + number(ready), filter_ == "ready"},
                     {"closed", "Closed " + number(closed), filter_ == "closed"},
                     {"all", "All " + number(issues_->total()), filter_ == "all"}});
    list_->setEmptyText(issues_->total() == 0 ? "No issues yet. Choose a clash and press Fix (F), or import a BCF file."
                                              : "No issue answers to this filter. Choose another one above.");
    list_->setSource(std::make_shared<IssueRows>(issues_, at_.session));
    if (!wanted_.isEmpty())
        list_->choose(std::exchange(wanted_, {}));
}

void IssuesStage::choose(const QString& id)
{
    if (issues_->rowOf(id.toStdString()) >= 0) {
        list_->choose(id);
        return;
    }
    wanted_ = id;
    filter_ = "all"; // wherever it stands
    refresh();
}

std::optional<IssuesStage::Item> IssuesStage::chosen() const
{
    const std::string uuid = list_->chosen().toStdString();
    auto issue = uuid.empty() ? std::nullopt : orNothing(at_.session.project().issues().find(uuid, false));
    if (!issue)
        return {};
    return Item{std::move(*issue), orNothing(project::evidenceOf(at_.session.project(), uuid)),
                orNothing(at_.session.project().clashes().ofIssue(uuid))};
}

void IssuesStage::enter() { show(false); }

void IssuesStage::show(bool movesView)
{
    const auto item = chosen();
    comment_ = nullptr;
    shown_.clear();
    if (!item) {
        showPlain();
        at_.details.clear();
        at_.details.addText("Choose an issue on the left; the view goes back to where it was seen.");
        at_.details.finish();
        return;
    }
    view::Subject subject;
    if (!item->issue.viewpoints.empty()) {
        const issues::Viewpoint& v = item->issue.viewpoints[0];
        subject.isRestFaded = !v.selection.empty();
        for (const ElementRef& element : v.selection)
            if (const auto key = at_.scene.find(element))
                subject.painted[*key] = toColour(theme::kLeft);
        for (const issues::Colouring& c : v.colouring)
            for (const ElementRef& element : c.elements)
                if (const auto key = at_.scene.find(element); key && c.colour.size() >= 6)
                    subject.painted[*key] = view::colourOf(QString("#" + q(c.colour).right(6)).toStdString());
        if (v.camera && movesView)
            at_.scene.setCamera(view::fromViewpoint(*v.camera, 8), true);
    }
    for (const project::Pair& p : item->pairs)
        subject.markers.push_back({p.point, p.isGone() ? "✓" : std::to_string(subject.markers.size() + 1),
                                   toColour(p.isGone() ? theme::kPanel : theme::kOverlap),
                                   toColour(p.isGone() ? theme::kFocus : theme::kInk)});
    Box3 place;
    for (const auto& [key, colour] : subject.painted)
        subject.about.push_back(key);
    for (const project::Pair& p : item->pairs)
        place.add(p.point);
    if (place.isEmpty()) // no pair says where: where its elements are
        for (const view::ElementKey& key : subject.about)
            place.add(view::boundsOf(at_.scene.members(), key));
    if (!subject.about.empty())
        subject.place = place;
    subject.grid = gridOn(subject.place && !item->pairs.empty() ? q(item->pairs[0].storey) : QString());
    at_.scene.change([&](view::Scene& scene) {
        scene.choose({});
        scene.show(std::move(subject));
    });
    showDetails(*item);
}

void IssuesStage::addEvidence(const Item& item)
{
    Details& d = at_.details;
    if (item.evidence.pairs.empty())
        return;
    d.addHeading("Evidence");
    // The latest few runs; the column that matters is the last.
    constexpr std::size_t kRuns = 3;
    std::set<std::int64_t> runs;
    for (const issues::PairEvidence& p : item.evidence.pairs)
        for (const issues::PairMoment& m : p.moments)
            runs.insert(m.run);
    while (runs.size() > kRuns)
        runs.erase(runs.begin());
    QStringList header{"run"};
    for (const std::int64_t run : runs)
        header.append(QString::number(run));
    QVector<QStringList> rows;
    for (const issues::PairEvidence& p : item.evidence.pairs) {
        QStringList row{q(p.title)};
        for (const std::int64_t run : runs) {
            const auto m = std::find_if(p.moments.begin(), p.moments.end(),
                                        [&](const issues::PairMoment& x) { return x.run == run; });
            const bool wasGone = std::any_of(p.moments.begin(), m, [&](const issues::PairMoment& x) {
                return clash::isGone(x.outcome) && x.run < run;
            });
            if (m == p.moments.end())
                row.append(wasGone ? QString("✓") : QString("–")); // what is gone is not asked again
            else if (clash::isGone(m->outcome))
                row.append(m->outcome == clash::Outcome::Removed ? QString("✓ removed") : QString("✓ gone"));
            else if (!clash::isTested(m->outcome))
                row.append("not tested");
            else
                row.append(m == std::prev(p.moments.end()) ? "● " + q(p.extent) : QString("●"));
        }
        rows.append(row);
    }
    d.addTable(header, rows, "evidence");
    d.addText(q(item.evidence.inWords()));
}

void IssuesStage::showDetails(const Item& item)
{
    const issues::Issue& i = item.issue;
    Details& d = at_.details;
    d.clear();
    d.addCaption(q(i.number) + (i.type.empty() ? "" : " · " + q(i.type)) + (i.stage.empty() ? "" : " · " + q(i.stage)));
    d.addTitle(q(i.title));
    d.addFact("Status", q(i.status), {}, markOf(i.status), theme::kInk);
    d.addFact("Assigned", q(i.assignee, "nobody"));
    if (!i.dueAt.empty())
        d.addFact("Due", q(dayInWords(i.dueAt)));
    d.addFact("Priority", q(i.priority, "none"), {}, Mark::Bars, theme::kInk, QString::number(barsOf(i.priority)));
    if (!item.pairs.empty())
        d.addFact("Where", q(project::whereInWords(item.pairs), "no storey"));
    addEvidence(item);
    const bool canClose = item.evidence.isSettled();
    const QString words = q(item.evidence.inWords());
    if (isClosed(i.status))
        d.addButtons({{"reopen", "Reopen", "", false, true, [this] { setStatus(issues::status::kOpen, ""); }}});
    else
        d.addButtons({{"close", canClose ? "Close on evidence" : "Close anyway", "X", canClose, true,
                       [this, words] { setStatus(issues::status::kClosed, "Closed. " + words); }},
                      {"inProgress", "In progress", "", false, i.status != issues::status::kInProgress,
                       [this] { setStatus(issues::status::kInProgress, ""); }},
                      {"done", "Done by assignee", "", false, i.status != issues::status::kDone,
                       [this] { setStatus(issues::status::kDone, ""); }}});
    if (!i.description.empty()) {
        d.addHeading("Description");
        d.addText(q(i.description), false);
    }
    addComments(item);
    d.finish();
}

void IssuesStage::addComments(const Item& item)
{
    Details& d = at_.details;
    d.addHeading("Comments");
    for (const issues::Comment& c : item.issue.comments) {
        d.addText(q(c.author) + " · " + q(timeInWords(c.time)));
        d.addText(q(c.text), false);
    }
    comment_ = new QPlainTextEdit;
    comment_->setObjectName("comment");
    comment_->setPlaceholderText("Write a comment");
    comment_->setFixedHeight(58);
    comment_->setTabChangesFocus(true);
    shown_ = q(item.issue.uuid);
    comment_->setPlainText(drafts_.value(shown_));
    comment_->moveCursor(QTextCursor::End);
    connect(comment_, &QPlainTextEdit::textChanged, this,
            [this, edit = comment_, uuid = shown_] { drafts_[uuid] = edit->toPlainText(); });
    d.addWidget(comment_);
    d.addButtons({{"sendComment", "Comment", "", false, true, [this] { sendComment(); }}});
}

void IssuesStage::setStatus(const char* status, const QString& comment)
{
    const auto item = chosen();
    if (!item)
        return;
    at_.session.write([uuid = item->issue.uuid, number = item->issue.number, status = std::string(status),
                       comment = comment.toStdString(), who = at_.session.now()](project::Project& p) {
        return Session::saying(p.issues().setStatus(uuid, status, comment, who), number + ": " + lowerCase(status));
    });
}

void IssuesStage::sendComment()
{
    const QString words = comment_ != nullptr ? comment_->toPlainText().trimmed() : QString();
    if (shown_.isEmpty() || words.isEmpty())
        return;
    // Gone from the field at once, and back in it should it not be kept.
    const QString uuid = shown_, draft = drafts_.take(uuid);
    comment_->clear();
    drafts_.remove(uuid);
    at_.session.write([uuid = uuid.toStdString(), words = words.toStdString(), who = at_.session.now()](
                          project::Project& p) { return Session::saying(p.issues().addComment(uuid, words, who)); },
                      [this, uuid, draft](bool isDone) {
                          if (isDone)
                              return;
                          drafts_[uuid] = draft;
                          if (shown_ == uuid && comment_ != nullptr)
                              comment_->setPlainText(draft);
                      });
}

void IssuesStage::exportTo(const QString& file)
{
    at_.session.run(
        Jobs::Lane::Checking, "Writing the issues",
        [this, file, folder = at_.session.project().folder()](Progress& progress) -> Jobs::Finish {
            const auto written = [&]() -> Result<std::size_t> {
                const auto project = project::Project::open(folder, project::Project::Access::Read);
                if (!project)
                    return tl::unexpected<Error>(project.error());
                const auto keys = (*project)->issues().keys();
                const auto deliveries = (*project)->deliveries().allInUse();
                if (const auto error = firstError(keys, deliveries))
                    return tl::unexpected<Error>(*error);
                std::vector<issues::Issue> all;
                for (const project::IssueKey& key : *keys) {
                    progress.report("Writing the issues", all.size(), keys->size(), "issues");
                    if (progress.isCancelled())
                        return tl::unexpected<Error>({kWritingCancelled, "Cancelled; no file was written."});
                    auto whole = (*project)->issues().find(key.uuid, true);
                    if (!whole)
                        return tl::unexpected<Error>(whole.error());
                    if (*whole)
                        all.push_back(std::move(**whole));
                }
                std::vector<bcf::ModelFile> models;
                for (const project::Delivery& d : *deliveries)
                    models.push_back({d.projectGuid, d.fileName, d.time});
                const auto bytes = bcf::write21(all, models, (*project)->id(), (*project)->name());
                if (!bytes)
                    return tl::unexpected<Error>(bytes.error());
                if (auto done = writeFileWhole(file.toStdString(), *bytes); !done)
                    return tl::unexpected<Error>(done.error());
                return all.size();
            }();
            return [this, file, written] {
                if (!written)
                    at_.session.fail(written.error());
                else
                    at_.session.say(q(counted(*written, "issue", "issues")) + " written to " + file.section('/', -1));
            };
        });
}

void IssuesStage::importFrom(const QString& file)
{
    at_.session.run(
        Jobs::Lane::Checking, "Reading " + file.section('/', -1),
        [this, file, write = at_.session.writerForJob(), who = at_.session.now()](Progress&) -> Jobs::Finish {
            const auto document = bcf::readFile(file.toStdString());
            if (!document)
                return [this, why = document.error()] { at_.session.fail(why); };
            std::string words;
            const auto done = write([&](project::Project& p) -> Result<void> {
                const auto merged = project::takeOverIssues(p, document->issues, who);
                if (!merged)
                    return tl::unexpected<Error>(merged.error());
                words = *merged;
                return {};
            });
            if (!document->diagnostics.empty())
                words += "; " + counted(document->diagnostics.size(), "entry", "entries") + " could not be read whole";
            return [this, done, words] {
                if (!done)
                    at_.session.fail(done.error());
                else
                    at_.session.say(q(words));
            };
        });
}

void IssuesStage::askExport()
{
    const QString file = QFileDialog::getSaveFileName(list_, "Write the issues as BCF", "issues.bcf", "BCF (*.bcf)");
    if (!file.isEmpty())
        exportTo(file.endsWith(".bcf") ? file : file + ".bcf");
}

void IssuesStage::askImport()
{
    const QString file = QFileDialog::getOpenFileName(list_, "Take over a BCF file", {}, "BCF (*.bcf *.bcfzip)");
    if (!file.isEmpty())
        importFrom(file);
}

bool IssuesStage::press(Qt::Key key)
{
    const auto item = key == Qt::Key_X ? chosen() : std::nullopt;
    if (!item || isClosed(item->issue.status))
        return false;
    setStatus(issues::status::kClosed, "Closed. " + q(item->evidence.inWords()));
    return true;
}

QVector<QPair<QString, QString>> IssuesStage::keys() const
{
    return {{"X", "close the issue, with the evidence as its comment"}};
}

} // namespace wendrix::app
