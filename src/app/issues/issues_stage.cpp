#include "issues/issues_stage.h"

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/bcf/bcf.h"
#include "shell/theme.h"

#include <QFileDialog>
#include <QPlainTextEdit>
#include <QPushButton>

#include <algorithm>

namespace wendrix::app {

namespace {

Mark markOf(const std::string& status)
{
    if (status == issues::status::kInProgress)
        return Mark::CircleHalf;
    if (status == issues::status::kDone)
        return Mark::CircleFull;
    if (status == issues::status::kClosed)
        return Mark::CircleClosed;
    if (status == issues::status::kBack)
        return Mark::CircleBroken;
    return Mark::CircleOpen;
}

bool isClosed(const issues::Issue& i) { return i.status == issues::status::kClosed; }

int bars(const std::string& priority) { return priority == "High" ? 3 : priority == "Low" ? 1 : 2; }

/// Settled pairs and a decision still to make: somebody has to close.
bool isReady(const issues::Issue& issue, const issues::Evidence& evidence)
{
    return !isClosed(issue) && evidence.isSettled();
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
        connect(button, &QPushButton::clicked, this, QString(name) == "importBcf" ? &IssuesStage::askImport : &IssuesStage::askExport);
    }
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) {
        filter_ = id;
        fillList();
    });
}

int IssuesStage::waiting() const
{
    return static_cast<int>(std::count_if(items_.begin(), items_.end(), [](const Item& i) { return !isClosed(i.issue); }));
}

QMap<QString, int> IssuesStage::storeyCounts() const
{
    QMap<QString, int> counts;
    for (const Item& item : items_)
        if (!isClosed(item.issue) && !item.pairs.empty())
            ++counts[q(item.pairs[0].storey)];
    return counts;
}

void IssuesStage::setStorey(const QString& storey)
{
    Stage::setStorey(storey);
    fillList();
}

void IssuesStage::refresh()
{
    items_.clear();
    if (at_.session.hasProject())
        for (const issues::Issue& issue : at_.session.project().issues())
            items_.push_back({issue, at_.session.project().evidenceOf(issue.uuid), at_.session.project().pairsOf(issue.uuid)});
    fillList();
}

void IssuesStage::fillList()
{
    const auto count = [&](auto wanted) { return static_cast<int>(std::count_if(items_.begin(), items_.end(), wanted)); };
    const int open = waiting(), closed = static_cast<int>(items_.size()) - open;
    const int ready = count([](const Item& i) { return isReady(i.issue, i.evidence); });
    list_->setFigures({{QString::number(open), "open"}, {QString::number(ready), "can be closed", ready > 0},
                       {QString::number(closed), "closed"}});
    list_->setChips({{"open", "Open " + QString::number(open), filter_ == "open"},
                     {"ready", "Can be closed " + QString::number(ready), filter_ == "ready"},
                     {"closed", "Closed " + QString::number(closed), filter_ == "closed"},
                     {"all", "All " + QString::number(items_.size()), filter_ == "all"}});
    QVector<Row> rows;
    for (const Item& item : items_) {
        const issues::Issue& i = item.issue;
        if ((filter_ == "open" && isClosed(i)) || (filter_ == "closed" && !isClosed(i)) ||
            (filter_ == "ready" && !isReady(i, item.evidence)) ||
            (!storey_.isEmpty() && (item.pairs.empty() || q(item.pairs[0].storey) != storey_)))
            continue;
        Row row;
        row.id = q(i.uuid);
        row.mark = markOf(i.status);
        row.markColour = theme::kInk;
        row.title = q(i.title);
        row.right = q(item.evidence.inShort());
        row.subtitle = q(i.number) + " · " + q(i.assignee, "nobody") + " · " + q(i.status).toLower() +
                       (i.dueAt.empty() ? "" : " · due " + q(dayInWords(i.dueAt)));
        if (isReady(i, item.evidence))
            row.loud = "can be closed";
        else if (!isClosed(i) && !i.dueAt.empty() && i.dueAt < currentTime())
            row.loud = "late";
        rows.append(row);
    }
    list_->setEmptyText(items_.empty() ? "No issues yet. Choose a clash and press Fix (F), or import a BCF file."
                                       : "No issue answers to this filter. Choose another one above.");
    list_->setRows(rows);
}

const IssuesStage::Item* IssuesStage::chosen() const
{
    const QString id = list_->chosen();
    for (const Item& item : items_)
        if (q(item.issue.uuid) == id)
            return &item;
    return nullptr;
}

void IssuesStage::enter() { show(false); }

void IssuesStage::show(bool movesView)
{
    showPlain();
    const Item* item = chosen();
    comment_ = nullptr;
    if (item == nullptr) {
        at_.details.clear();
        at_.details.addText("Choose an issue on the left; the view goes back to where it was seen.");
        at_.details.finish();
        return;
    }
    view::Display& display = at_.scene.display();
    display.selected.clear();
    if (!item->issue.viewpoints.empty()) {
        const issues::Viewpoint& v = item->issue.viewpoints[0];
        display.isRestFaded = !v.selection.empty();
        for (const std::string& guid : v.selection)
            if (const auto key = at_.scene.find(guid))
                display.painted[*key] = view::colourOf(theme::kLeft.name().toStdString());
        for (const issues::Colouring& c : v.colouring)
            for (const std::string& guid : c.guids)
                if (const auto key = at_.scene.find(guid); key && c.colour.size() >= 6)
                    display.painted[*key] = view::colourOf(QString("#" + q(c.colour).right(6)).toStdString());
        if (v.camera && movesView)
            at_.scene.setCamera(view::fromViewpoint(*v.camera, 8), true);
    }
    std::vector<Marker> markers;
    for (const project::Pair& p : item->pairs)
        markers.push_back({p.point, p.isGone() ? QString("✓") : QString::number(markers.size() + 1),
                           p.isGone() ? theme::kPanel : theme::kOverlap, p.isGone() ? theme::kFocus : theme::kInk, false});
    at_.scene.setMarkers(markers);
    at_.scene.updateDisplay();
    showDetails(*item);
}

void IssuesStage::addEvidence(const Item& item)
{
    Details& d = at_.details;
    if (item.evidence.pairs.empty())
        return;
    d.addHeading("Evidence");
    std::size_t runs = 0;
    for (const issues::PairEvidence& p : item.evidence.pairs)
        runs = std::max(runs, p.states.size());
    QStringList header{"run"};
    const auto all = at_.session.project().runs();
    // The latest few runs; the column that matters is the last.
    const std::size_t shown = std::min<std::size_t>({runs, all.size(), 3});
    for (std::size_t r = all.size() - shown; r < all.size(); ++r)
        header.append(QString::number(all[r].id));
    QVector<QStringList> rows;
    for (const issues::PairEvidence& p : item.evidence.pairs) {
        QStringList row{q(p.title)};
        for (std::size_t r = 0; r < shown; ++r) {
            const std::size_t fromEnd = shown - r;
            if (p.states.size() < fromEnd) {
                row.append("–");
                continue;
            }
            const clash::PairState state = p.states[p.states.size() - fromEnd];
            row.append(state == clash::PairState::Gone ? QString("✓ gone")
                       : fromEnd == 1                  ? "● " + q(lengthInWords(Metres{p.depth}))
                                                       : QString("●"));
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
    d.addFact("Priority", q(i.priority, "none"), {}, Mark::Bars, theme::kInk, QString::number(bars(i.priority)));
    if (!item.pairs.empty())
        d.addFact("Where", q(item.pairs[0].storey) + ", " + q(item.pairs[0].bay));
    addEvidence(item);
    const bool canClose = item.evidence.isSettled();
    const QString words = q(item.evidence.inWords());
    if (isClosed(i))
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
    d.addHeading("Comments");
    for (const issues::Comment& c : i.comments) {
        d.addText(q(c.author) + " · " + q(timeInWords(c.time)));
        d.addText(q(c.text), false);
    }
    comment_ = new QPlainTextEdit;
    comment_->setObjectName("comment");
    comment_->setPlaceholderText("Write a comment");
    comment_->setFixedHeight(58);
    comment_->setTabChangesFocus(true);
    d.addWidget(comment_);
    d.addButtons({{"sendComment", "Comment", "", false, true, [this] { sendComment(); }}});
    d.finish();
}

void IssuesStage::setStatus(const char* status, const QString& comment)
{
    const Item* item = chosen();
    if (item == nullptr)
        return;
    const QString number = q(item->issue.number);
    if (at_.session.apply(at_.session.project().setStatus(item->issue.uuid, status, comment.toStdString(), at_.session.now()),
                          number + ": " + QString(status).toLower()))
        show(false);
}

void IssuesStage::sendComment()
{
    const Item* item = chosen();
    const QString words = comment_ != nullptr ? comment_->toPlainText().trimmed() : QString();
    if (item == nullptr || words.isEmpty())
        return;
    if (at_.session.apply(at_.session.project().addComment(item->issue.uuid, words.toStdString(), at_.session.now())))
        show(false);
}

bool IssuesStage::exportTo(const QString& file)
{
    std::vector<issues::Issue> all;
    for (const Item& item : items_)
        if (auto whole = at_.session.project().issue(item.issue.uuid, true))
            all.push_back(std::move(*whole));
    std::vector<bcf::ModelFile> models;
    for (const project::Delivery& d : at_.session.project().deliveries())
        if (d.isUsed())
            models.push_back({d.projectGuid, d.fileName, d.time});
    const auto bytes = bcf::write21(all, models, at_.session.project().id(), at_.session.project().name());
    if (!bytes)
        return at_.session.apply(tl::unexpected<Error>(bytes.error()));
    return at_.session.apply(writeFileWhole(file.toStdString(), *bytes),
                             q(counted(all.size(), "issue", "issues")) + " written to " + file.section('/', -1));
}

bool IssuesStage::importFrom(const QString& file)
{
    const auto document = bcf::readFile(file.toStdString());
    if (!document)
        return at_.session.apply(tl::unexpected<Error>(document.error()));
    const auto merged = at_.session.project().mergeIssues(document->issues, at_.session.now());
    if (!merged)
        return at_.session.apply(tl::unexpected<Error>(merged.error()));
    QString words = q(*merged);
    if (!document->diagnostics.empty())
        words += "; " + q(counted(document->diagnostics.size(), "entry", "entries")) + " could not be read whole";
    const bool isDone = at_.session.apply({}, words);
    show(false);
    return isDone;
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
    const Item* item = chosen();
    if (key != Qt::Key_X || item == nullptr || isClosed(item->issue))
        return false;
    setStatus(issues::status::kClosed, "Closed. " + q(item->evidence.inWords()));
    return true;
}

QVector<QPair<QString, QString>> IssuesStage::keys() const { return {{"X", "close the issue, with the evidence as its comment"}}; }

} // namespace wendrix::app
