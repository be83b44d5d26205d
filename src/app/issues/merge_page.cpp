#include "issues/merge_page.h"

#include "core/base/text.h"
#include "issues/lists_of_names.h"
#include "shell/long_text.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QPushButton>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr const char* kFaults = "faults"; // the row that tells of them

using Verdict = issues::Difference::Verdict;

/// "TopicStatus" as people read it.
QString fieldInWords(const std::string& field)
{
    static const QMap<QString, QString> kWords{
        {"TopicStatus", "Status"},     {"TopicType", "Type"},
        {"AssignedTo", "Assigned to"}, {"DueDate", "Due"},
        {"CreationDate", "Made"},      {"CreationAuthor", "Made by"},
        {"BimSnippet", "Snippet"},     {"ServerAssignedId", "Number of a server"}};
    return kWords.value(q(field), q(field));
}

QString valueInWords(const issues::Difference& d, const std::string& value)
{
    if (value.empty())
        return "nothing";
    return d.field == "DueDate" ? q(dayInWords(value)) : d.field.ends_with("Date") ? q(timeInWords(value)) : q(value);
}

QString inShort(const project::IncomingTopic& t, std::size_t undecided)
{
    if (t.isNew())
        return "new here";
    QStringList parts;
    std::size_t theirs = 0;
    for (const issues::Difference& d : t.merge.differences)
        theirs += d.verdict == Verdict::Theirs ? 1 : 0;
    theirs += t.merge.newInLists.size() + t.merge.goneFromLists.size();
    if (theirs > 0)
        parts << q(counted(theirs, "change", "changes"));
    if (!t.merge.newComments.empty())
        parts << q(counted(t.merge.newComments.size(), "comment", "comments"));
    if (!t.merge.newViewpoints.empty())
        parts << q(counted(t.merge.newViewpoints.size(), "viewpoint", "viewpoints"));
    if (t.merge.conflicts() > 0)
        parts << (undecided > 0 ? q(counted(undecided, "conflict", "conflicts")) + " to decide"
                                : QString("conflicts decided"));
    if (!t.merge.lacking.empty())
        parts << "lacks " + q(counted(t.merge.lacking.size(), "comment", "comments"));
    return parts.join(", ");
}

} // namespace

MergePage::MergePage(const StageContext& context, QObject* parent)
    : QObject(parent), at_(context), list_(new Worklist("What came back")), take_(new QPushButton("Take over"))
{
    list_->setObjectName("mergeList");
    auto* footer = new QWidget;
    auto* row = new QHBoxLayout(footer);
    row->setContentsMargins(14, 8, 14, 8);
    take_->setObjectName("takeOver");
    take_->setProperty("loud", true);
    connect(take_, &QPushButton::clicked, this, &MergePage::takeOver, Qt::QueuedConnection);
    row->addWidget(take_);
    auto* leave = new QPushButton("Leave it");
    leave->setObjectName("leaveIncoming");
    leave->setToolTip("Nothing is taken over; the file can be read again");
    connect(
        leave, &QPushButton::clicked, this,
        [this] {
            project::leave(at_.session.project(), *incoming_);
            incoming_.reset();
            at_.session.say("Nothing was taken over.");
            emit ended();
        },
        Qt::QueuedConnection);
    row->addWidget(leave);
    row->addStretch();
    list_->setFooter(footer);
    for (const auto& [name, words, isTheirs] :
         {std::tuple{"allTheirs", "All theirs", true}, std::tuple{"allOurs", "All ours", false}}) {
        auto* all = new QPushButton(words);
        all->setObjectName(name);
        all->setToolTip(isTheirs ? "Settle every conflict on their side" : "Settle every conflict on our side");
        connect(
            all, &QPushButton::clicked, this, [this, isTheirs = isTheirs] { decideAll(isTheirs); },
            Qt::QueuedConnection);
        list_->addButton(all);
    }
    connect(list_, &Worklist::linkChosen, this, [this] {
        if (incoming_ == nullptr)
            return;
        at_.session.write([values = incoming_->values, who = at_.session.now()](project::Project& p) {
            return Session::saying(project::offerValues(p, values, who), "They are offered here, too.");
        });
        list_->setText({});
    });
    connect(list_, &Worklist::rowChosen, this, [this] { showChosen(); });
}

void MergePage::show(std::shared_ptr<const project::Incoming> incoming)
{
    incoming_ = std::move(incoming);
    decisions_ = {};
    fill();
    if (!incoming_->topics.empty())
        list_->choose(q(incoming_->topics.front().theirs.uuid));
    showChosen();
}

std::size_t MergePage::undecidedOf(const project::IncomingTopic& t) const
{
    std::size_t open = 0;
    if (decisions_.leftOut.contains(t.theirs.uuid))
        return 0;
    for (std::size_t i = 0; i < t.merge.differences.size(); ++i) {
        const auto key = std::pair(t.theirs.uuid, i);
        open += t.merge.differences[i].verdict == Verdict::Conflict && !decisions_.theirs.contains(key) &&
                        !decisions_.ours.contains(key)
                    ? 1
                    : 0;
    }
    return open;
}

std::size_t MergePage::undecided() const
{
    std::size_t open = 0;
    for (const project::IncomingTopic& t : incoming_->topics)
        open += undecidedOf(t);
    return open;
}

void MergePage::fill()
{
    std::size_t fresh = 0;
    for (const project::IncomingTopic& t : incoming_->topics)
        fresh += t.isNew() ? 1 : 0;
    const std::size_t open = undecided();
    const auto number = [](std::size_t n) { return QString::number(n); };
    list_->setFigures({{number(fresh), "new"},
                       {number(incoming_->topics.size() - fresh), "changed"},
                       {number(open), "to decide", open > 0},
                       {number(incoming_->unchanged), "as we have it"}});
    QString caption = q(incoming_->file.filename().string()) + ", BCF " + q(incoming_->version) +
                      (incoming_->projectName.empty() ? "" : ", " + q(incoming_->projectName)) + ".";
    list_->setCaption(caption);
    QStringList values;
    for (const auto& [words, of] :
         {std::pair{"types", &incoming_->values.types}, std::pair{"priorities", &incoming_->values.priorities},
          std::pair{"stages", &incoming_->values.stages}, std::pair{"labels", &incoming_->values.labels}})
        if (!of->empty())
            values << QString(words) + " " + endsOf(joined(*of, ", ")).toHtmlEscaped();
    list_->setText(values.isEmpty() ? QString()
                                    : "It offers what we do not: " + values.join("; ") +
                                          ". <a href=\"offer\" style=\"color:#2B7A84\">Offer it here, too</a>");
    QVector<Row> rows;
    if (!incoming_->faults.empty()) {
        Row row;
        row.id = kFaults;
        row.mark = Mark::Sign;
        row.markText = "!";
        row.markColour = theme::kAction;
        row.title = q(counted(incoming_->faults.size(), "fault", "faults")) + " in the file";
        row.subtitle = "read all the same, but for what is wrong";
        rows.append(row);
    }
    for (const project::IncomingTopic& t : incoming_->topics) {
        Row row;
        row.id = q(t.theirs.uuid);
        row.mark = t.isNew() ? Mark::Sign : Mark::None;
        row.markText = "+";
        row.markColour = theme::kInk;
        row.title = q(t.isNew() ? t.theirs.title : t.ours.title);
        const std::size_t left = undecidedOf(t);
        const bool isOut = decisions_.leftOut.contains(t.theirs.uuid);
        row.subtitle = (t.isNew() ? q(t.theirs.assignee, "nobody") : q(t.number)) + " · " +
                       (isOut ? QString("left out") : inShort(t, left));
        row.isStruck = isOut;
        if (left > 0)
            row.loud = "decide";
        rows.append(row);
    }
    list_->setEmptyText("Everything in this file is as we have it.");
    list_->setRows(std::move(rows));
    take_->setText(incoming_->topics.empty() ? "Done" : open == 0 ? "Take over" : QString("%1 to decide").arg(open));
    take_->setEnabled(open == 0);
    take_->setToolTip(open == 0 ? "Take over everything as one step (Y)" : "Decide what both sides changed first");
}

const project::IncomingTopic* MergePage::chosen() const
{
    if (incoming_ == nullptr)
        return nullptr;
    const std::string uuid = list_->chosen().toStdString();
    const auto found = std::find_if(incoming_->topics.begin(), incoming_->topics.end(),
                                    [&](const project::IncomingTopic& t) { return t.theirs.uuid == uuid; });
    return found == incoming_->topics.end() ? nullptr : &*found;
}

void MergePage::showChosen()
{
    Details& d = at_.details;
    d.clear();
    const project::IncomingTopic* t = chosen();
    if (list_->chosen() == kFaults) {
        constexpr std::size_t kMost = 200;
        d.addTitle("What is wrong with the file");
        d.addText("Each costs only what it is wrong with.");
        for (std::size_t i = 0; i < std::min(kMost, incoming_->faults.size()); ++i) {
            d.addText(q(incoming_->faults[i].entity, "the file"));
            d.addText(q(incoming_->faults[i].message), false);
        }
        if (incoming_->faults.size() > kMost)
            d.addText(QString("and %1 more").arg(incoming_->faults.size() - kMost));
        d.finish();
        return;
    }
    if (t == nullptr) {
        d.addText(
            "Choose a topic on the left: what it brings is told here, with both sides where both changed something.");
        d.finish();
        return;
    }
    emit topicShown(*t);
    const QString uuid = q(t->theirs.uuid);
    d.addCaption(t->isNew() ? QString("New here")
                            : q(t->number) + (t->hasBase ? QString() : " · never sent from here"));
    d.addTitle(q(t->theirs.title));
    const bool isOut = decisions_.leftOut.contains(t->theirs.uuid);
    if (t->isNew()) {
        d.addFact("Status", q(t->theirs.status, "none"));
        d.addFact("Assigned", q(t->theirs.assignee, "nobody"));
        d.addFact("By", q(t->theirs.createdBy, "nobody") +
                            (t->theirs.createdAt.empty() ? "" : ", " + q(timeInWords(t->theirs.createdAt))));
        if (!t->theirs.description.empty())
            d.addText(q(t->theirs.description), false);
        for (const issues::Comment& c : t->theirs.comments)
            d.addText(q(c.author) + " · " + q(timeInWords(c.time)) + "\n" + q(c.text));
    }
    for (std::size_t i = 0; i < t->merge.differences.size(); ++i) {
        const issues::Difference& difference = t->merge.differences[i];
        const bool isConflict = difference.verdict == Verdict::Conflict;
        if (difference.verdict == Verdict::Ours)
            continue; // theirs is what was sent
        const auto key = std::pair(t->theirs.uuid, i);
        const bool isDecided = !isConflict || decisions_.theirs.contains(key) || decisions_.ours.contains(key);
        const bool isTheirs = project::isTheirs(*t, i, decisions_);
        d.addHeading(fieldInWords(difference.field) + (isConflict ? ": both changed it" : ": they changed it"));
        if (isConflict && t->hasBase)
            d.addFact("Sent", valueInWords(difference, difference.base));
        d.addFact("Ours", valueInWords(difference, difference.ours), {},
                  isDecided && !isTheirs ? Mark::CircleClosed : Mark::CircleOpen, theme::kInk);
        d.addFact("Theirs", valueInWords(difference, difference.theirs), {},
                  isDecided && isTheirs ? Mark::CircleClosed : Mark::CircleOpen, theme::kInk);
        d.addButtons({{QString("theirs%1").arg(i), "Take theirs", "", isConflict && !isDecided, !isDecided || !isTheirs,
                       [this, uuid, i] { decide(uuid, i, true); }},
                      {QString("ours%1").arg(i), "Keep ours", "", false, !isDecided || isTheirs,
                       [this, uuid, i] { decide(uuid, i, false); }}});
    }
    if (!t->merge.newInLists.empty() || !t->merge.goneFromLists.empty()) {
        d.addHeading("Lists");
        for (const std::string& one : t->merge.newInLists)
            d.addText("+ " + q(one), false);
        for (const std::string& one : t->merge.goneFromLists)
            d.addText("− " + q(one), false);
    }
    if (!t->merge.newComments.empty()) {
        d.addHeading("New comments");
        for (const issues::Comment& c : t->theirs.comments)
            if (std::find(t->merge.newComments.begin(), t->merge.newComments.end(), c.uuid) !=
                t->merge.newComments.end())
                d.addText(q(c.author) + " · " + q(timeInWords(c.time)) + "\n" + q(c.text), false);
    }
    if (!t->merge.newViewpoints.empty())
        d.addText(q(counted(t->merge.newViewpoints.size(), "new viewpoint", "new viewpoints")) + ".");
    if (!t->merge.lacking.empty())
        d.addText("They no longer have " + q(counted(t->merge.lacking.size(), "comment", "comments")) +
                  " that was sent; ours stays.");
    d.addButtons({{"leaveTopic", isOut ? "Take it over after all" : "Leave this one out", "", false, true,
                   [this, uuid, isOut] { setLeftOut(uuid, !isOut); }}});
    d.finish();
}

void MergePage::decide(const QString& uuid, std::size_t difference, bool isTheirs)
{
    const auto key = std::pair(uuid.toStdString(), difference);
    decisions_.theirs.erase(key);
    decisions_.ours.erase(key);
    (isTheirs ? decisions_.theirs : decisions_.ours).insert(key);
    fill();
    showChosen();
}

void MergePage::decideAll(bool isTheirs)
{
    for (const project::IncomingTopic& t : incoming_->topics)
        for (std::size_t i = 0; i < t.merge.differences.size(); ++i)
            if (t.merge.differences[i].verdict == Verdict::Conflict) {
                const auto key = std::pair(t.theirs.uuid, i);
                decisions_.theirs.erase(key);
                decisions_.ours.erase(key);
                (isTheirs ? decisions_.theirs : decisions_.ours).insert(key);
            }
    fill();
    showChosen();
}

void MergePage::setLeftOut(const QString& uuid, bool isLeftOut)
{
    if (isLeftOut)
        decisions_.leftOut.insert(uuid.toStdString());
    else
        decisions_.leftOut.erase(uuid.toStdString());
    fill();
    showChosen();
}

void MergePage::takeOver()
{
    if (incoming_ == nullptr || undecided() > 0)
        return;
    if (incoming_->topics.empty()) {
        incoming_.reset();
        emit ended();
        return;
    }
    at_.session.write([incoming = incoming_, decisions = decisions_, who = at_.session.now()](
                          project::Project& p) { return project::takeOver(p, *incoming, decisions, who); },
                      [this](bool isDone) {
                          if (!isDone)
                              return; // said; what was decided is still here
                          incoming_.reset();
                          emit ended();
                      });
}

bool MergePage::press(Qt::Key key)
{
    if (key != Qt::Key_Y || undecided() > 0)
        return false;
    takeOver();
    return true;
}

} // namespace wendrix::app
