#include "issues/issues_stage.h"

#include "core/base/text.h"
#include "core/project/issue_making.h"
#include "issues/agreed_page.h"
#include "issues/board_page.h"
#include "issues/calendar_page.h"
#include "issues/issue_rows.h"
#include "issues/issue_signs.h"
#include "issues/issues_bar.h"
#include "issues/merge_page.h"
#include "shell/theme.h"

#include <QPlainTextEdit>
#include <QPushButton>
#include <QStackedWidget>

#include <algorithm>

/// Issues: the pages, and going from one to the other.
namespace wendrix::app {

IssuesStage::IssuesStage(const StageContext& context, QObject* parent)
    : ListStage("Issues", context, parent), pages_(new QStackedWidget), bar_(new IssuesBar),
      merge_(new MergePage(context, this)), board_(new BoardPage), calendar_(new CalendarPage),
      agreed_(new AgreedPage(context, this)), signs_(new IssueSigns(context, this)), settle_(new QPushButton)
{
    pages_->addWidget(list_);
    pages_->addWidget(board_);
    pages_->addWidget(calendar_);
    pages_->addWidget(merge_->list());
    pages_->addWidget(agreed_->list());
    makeList();
    const auto button = [this](auto& on, const char* name, const QString& words, const QString& tip, auto press) {
        auto* made = new QPushButton(words);
        made->setObjectName(name);
        made->setToolTip(tip);
        connect(made, &QPushButton::clicked, this, press, Qt::QueuedConnection);
        on.addButton(made);
    };
    button(*list_, "showBoard", "Board", "Cards in a column for each status (V)", [this] { turnTo(board_); });
    button(*list_, "showCalendar", "Due", "What is due on which day (D)", [this] { turnTo(calendar_); });
    button(*list_, "importBcf", "Import", "Compare and take over a BCF file that came back", [this] { askImport(); });
    button(*list_, "exportBcf", "Export", "Write the issues that are shown as BCF", [this] { askExport(); });
    button(*board_, "boardCalendar", "Due", "What is due on which day (D)", [this] { turnTo(calendar_); });
    button(*board_, "showIssueList", "List", "The list, with the model (V)", [this] { turnTo(list_); });
    button(*calendar_, "calendarBoard", "Board", "Cards in a column for each status (V)", [this] { turnTo(board_); });
    button(*calendar_, "calendarList", "List", "The list, with the model (D)", [this] { turnTo(list_); });
    connect(&calendar_->view(), &CalendarView::dayOpened, this, [this](const QDate& day) {
        filter_ = "all";
        project::IssueQuestion question = bar_->question();
        question.line = "due is " + day.toString(Qt::ISODate).toStdString();
        bar_->setQuestion(question);
        turnTo(list_);
        refresh();
    });
    connect(signs_, &IssueSigns::chosen, this, [this](const QString& uuid) { choose(uuid); });
    connect(bar_, &IssuesBar::agreedWanted, this, [this] { turnTo(agreed_->list()); });
    connect(agreed_, &AgreedPage::left, this, [this] { turnTo(list_); });
    BoardView& board = board_->view();
    board.setMoves([this](const QString& uuid) {
        const auto issue = orNothing(at_.session.project().issues().find(uuid.toStdString(), false));
        return issue ? issues::movesFor(issues_->workflow(), *issue, issues_->standing()) : std::vector<std::string>{};
    });
    connect(&board, &BoardView::cardChosen, this, [this](const QString& uuid) {
        list_->choose(uuid);
        show(true);
    });
    connect(&board, &BoardView::cardOpened, this, [this](const QString& uuid) {
        turnTo(list_);
        choose(uuid);
    });
    connect(&board, &BoardView::moveWanted, this,
            [this](const QString& uuid, const QString& status) { setStatus({uuid}, status.toStdString(), {}); });
    connect(merge_, &MergePage::ended, this, [this] { turnTo(list_); });
    connect(merge_, &MergePage::topicShown, this, [this](const project::IncomingTopic& topic) {
        Item item;
        item.issue = topic.theirs;
        item.origins = topic.origins;
        for (const issues::Viewpoint& v : topic.theirs.viewpoints)
            if (auto in = project::inProject(at_.session.project(), v))
                item.viewpoints.push_back(std::move(*in));
        viewpoint_ = 0;
        showViewpoint(item, true);
    });
}

QWidget* IssuesStage::list() { return pages_; }

bool IssuesStage::isRegister() const
{
    return pages_->currentWidget() == board_ || pages_->currentWidget() == calendar_;
}

unsigned IssuesStage::books() const
{
    return app::books(project::Book::Issues, project::Book::Clashes, project::Book::Changes, project::Book::Setup);
}

void IssuesStage::setStorey(const QString& storey)
{
    if (storey_ == storey)
        return;
    Stage::setStorey(storey);
    becomeStale();
}

void IssuesStage::choose(const QString& id)
{
    if (merge_->isOpen())
        return; // what came back is looked at first
    if (isAgreedInFront())
        turnTo(list_);
    if (issues_->rowOf(id.toStdString()) >= 0) {
        list_->choose(id);
        board_->view().choose(id);
        return;
    }
    wanted_ = id;
    filter_ = "all"; // wherever it stands
    bar_->clear();
    refresh();
}

std::optional<IssuesStage::Item> IssuesStage::chosen() const
{
    const std::string uuid = list_->chosen().toStdString();
    const project::Project& p = at_.session.project();
    auto kept = uuid.empty() || uuid.starts_with("group:") ? std::nullopt : orNothing(p.issues().kept(uuid));
    if (!kept)
        return {};
    Item item{std::move(kept->issue),
              orNothing(project::evidenceOf(p, uuid)),
              orNothing(p.clashes().ofIssue(uuid)),
              orNothing(p.issues().history(uuid)),
              {},
              kept->madeFrom,
              kept->origins,
              kept->pictures};
    for (const issues::Viewpoint& v : item.issue.viewpoints)
        item.viewpoints.push_back(orNothing(project::inProject(p, v)));
    return item;
}

void IssuesStage::turnTo(QWidget* page)
{
    pages_->setCurrentWidget(page);
    agreed_->setFront(page == agreed_->list());
    emit layoutChanged();
    enter();
    if (page == board_) {
        board_->view().choose(list_->chosen());
        board_->view().setFocus();
    }
    if (page == calendar_) {
        calendar_->view().setDay(calendar_->view().day());
        calendar_->view().setFocus();
    }
}

void IssuesStage::enter()
{
    if (merge_->isOpen())
        merge_->showChosen();
    else if (isAgreedInFront())
        agreed_->show();
    else
        show(false);
}

void IssuesStage::step(int by)
{
    if (merge_->isOpen())
        merge_->list()->step(by);
    else if (isAgreedInFront())
        agreed_->list()->step(by);
    else if (pages_->currentWidget() == calendar_)
        calendar_->view().setDay(calendar_->view().day().addDays(by));
    else if (isRegister())
        board_->view().step(by);
    else
        list_->step(by);
}

void IssuesStage::focusFilter() { bar_->focusSearch(); }

bool IssuesStage::isAgreedInFront() const { return pages_->currentWidget() == agreed_->list(); }

void IssuesStage::show(bool movesView)
{
    if (merge_->isOpen() || isAgreedInFront())
        return;
    const QStringList all = list_->chosenAll();
    if (form_ != nullptr && form_->property("of").toStringList() != all)
        form_->keepBegun(); // another one is shown now
    if (all.size() > 1) {
        showSeveral(all);
        return;
    }
    const auto item = chosen();
    comment_ = nullptr;
    if (!item) {
        shown_.clear();
        form_ = nullptr;
        showSigns();
        at_.details.clear();
        at_.details.addText("Choose an issue; the view goes back to where it was seen.");
        at_.details.finish();
        return;
    }
    if (shown_ != q(item->issue.uuid)) {
        viewpoint_ = 0;
        isHistoryShown_ = false;
        isEditing_ = std::exchange(isEditWanted_, false);
        editedComment_.clear();
    }
    if (board_->view().chosen() != q(item->issue.uuid))
        board_->view().choose(q(item->issue.uuid));
    showViewpoint(*item, movesView);
    const bool isBegun = isEditing_ && form_ == nullptr;
    showDetails(*item);
    if (isBegun && form_ != nullptr)
        if (auto* title = form_->findChild<QPlainTextEdit*>("field:title")) {
            title->setFocus();
            title->selectAll();
        }
}

bool IssuesStage::press(Qt::Key key)
{
    if (merge_->isOpen())
        return merge_->press(key);
    if (isAgreedInFront())
        return agreed_->press(key);
    if (key == Qt::Key_A) {
        turnTo(agreed_->list());
        return true;
    }
    if (key == Qt::Key_V) {
        turnTo(pages_->currentWidget() == board_ ? static_cast<QWidget*>(list_) : board_);
        return true;
    }
    if (key == Qt::Key_D) {
        turnTo(pages_->currentWidget() == calendar_ ? static_cast<QWidget*>(list_) : calendar_);
        return true;
    }
    const QStringList uuids = list_->chosenAll();
    const auto item = uuids.size() == 1 ? chosen() : std::nullopt;
    switch (key) {
    case Qt::Key_X:
        if (uuids.size() > 1) {
            settle(uuids);
            return true;
        }
        if (!item || issues_->workflow().isClosed(item->issue.status))
            return false;
        setStatus(uuids, issues_->workflow().first(issues::StatusShape::Ticked),
                  "Closed. " + q(item->evidence.inWords()));
        return true;
    case Qt::Key_E:
        if (uuids.isEmpty())
            return false;
        isEditing_ = !isEditing_;
        form_ = nullptr;
        show(false);
        return true;
    case Qt::Key_N:
        if (!item || item->viewpoints.size() < 2)
            return false;
        stepViewpoint(1);
        return true;
    default:
        return false;
    }
}

QVector<QPair<QString, QString>> IssuesStage::keys() const
{
    return {
        {"X",
         "close the issue, with the evidence as its comment; of several, close and send back as the models propose"},
        {"E", "change its fields, or those of all that are chosen"},
        {"N", "its next viewpoint"},
        {"V", "the board, and back to the list"},
        {"D", "what is due on which day, and back to the list"},
        {"A", "what is agreed: statuses, fields, templates; and back to the list"},
        {"Shift Left, Shift Right", "on the board: to the status before or after"}};
}

} // namespace wendrix::app
