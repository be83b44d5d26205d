#include "issues/issues_bar.h"

#include "shell/stage.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

using project::IssueGrouping;
using project::IssueOrder;

constexpr std::pair<IssueGrouping, const char*> kGroupings[] = {
    {IssueGrouping::None, "Not grouped"},  {IssueGrouping::Status, "Status"}, {IssueGrouping::Assignee, "Assigned to"},
    {IssueGrouping::Priority, "Priority"}, {IssueGrouping::Storey, "Storey"}, {IssueGrouping::Type, "Type"},
    {IssueGrouping::Stage, "Stage"},       {IssueGrouping::Label, "Label"},   {IssueGrouping::Due, "Due date"}};
constexpr std::pair<IssueOrder, const char*> kOrders[] = {
    {IssueOrder::Number, "Number"}, {IssueOrder::Due, "Due date"},      {IssueOrder::Priority, "Priority"},
    {IssueOrder::Title, "Title"},   {IssueOrder::Modified, "Modified"}, {IssueOrder::Assignee, "Assigned to"}};

} // namespace

IssuesBar::IssuesBar(QWidget* parent)
    : QWidget(parent), wordsField_(new QLineEdit), line_(new QLineEdit), mistake_(new QLabel),
      menu_(new QPushButton("Order"))
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    wordsField_->setObjectName("searchIssues");
    wordsField_->setPlaceholderText("Words in titles, comments, labels");
    wordsField_->setClearButtonEnabled(true);
    row->addWidget(wordsField_, 1);
    menu_->setObjectName("issuesOrder");
    menu_->setToolTip("Order, groups, and filters that are kept");
    connect(menu_, &QPushButton::clicked, this, &IssuesBar::openMenu, Qt::QueuedConnection);
    row->addWidget(menu_);
    column->addLayout(row);
    line_->setObjectName("narrowIssues");
    line_->setPlaceholderText("status is Open and due < today");
    line_->setToolTip(
        "Narrow by any field: number, title, status, priority, assignee, type, stage, label, due, start, created, "
        "modified, "
        "author, requester, cause, storey, bay, space, from, evidence; field.Name for a field of the project's own");
    line_->setClearButtonEnabled(true);
    column->addWidget(line_);
    mistake_->setObjectName("narrowIssuesMistake");
    mistake_->setWordWrap(true);
    mistake_->setFont(theme::font(11));
    mistake_->setStyleSheet("color:#B0401A");
    mistake_->hide();
    column->addWidget(mistake_);
    for (QLineEdit* field : {wordsField_, line_}) {
        // Letters are the window's keys until somebody goes here: by a click, by /, and on with Tab.
        field->setFocusPolicy(Qt::ClickFocus);
        field->installEventFilter(this);
        connect(field, &QLineEdit::textChanged, this, &IssuesBar::typed);
    }
}

bool IssuesBar::eventFilter(QObject* watched, QEvent* event)
{
    const auto* key = event->type() == QEvent::KeyPress ? static_cast<QKeyEvent*>(event) : nullptr;
    if (key == nullptr)
        return false;
    if (key->key() == Qt::Key_Tab && watched == wordsField_) {
        line_->setFocus();
        return true;
    }
    if (key->key() == Qt::Key_Escape || key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
        emit left();
        return true;
    }
    return false;
}

void IssuesBar::typed()
{
    question_.words = wordsField_->text().trimmed().toStdString();
    const std::string line = line_->text().trimmed().toStdString();
    const sets::Mistake mistake = project::mistakeInIssueLine(line);
    mistake_->setText(q(mistake.message));
    mistake_->setVisible(!mistake.message.empty());
    if (mistake.message.empty()) // a line that is not finished narrows as the last one that was
        question_.line = line;
    emit changed();
}

void IssuesBar::setQuestion(const project::IssueQuestion& question)
{
    question_ = question;
    const QSignalBlocker words(wordsField_), line(line_);
    wordsField_->setText(q(question.words));
    line_->setText(q(question.line));
    mistake_->hide();
    showWords();
}

void IssuesBar::showWords()
{
    QString words = "Order";
    if (question_.grouping != IssueGrouping::None)
        for (const auto& [grouping, name] : kGroupings)
            if (grouping == question_.grouping)
                words = "By " + QString(name).toLower();
    menu_->setText(words);
}

void IssuesBar::clear()
{
    project::IssueQuestion plain;
    plain.grouping = question_.grouping;
    plain.order = question_.order;
    plain.isDescending = question_.isDescending;
    setQuestion(plain);
}

void IssuesBar::focusSearch()
{
    wordsField_->setFocus();
    wordsField_->selectAll();
}

void IssuesBar::openMenu()
{
    auto* menu = new QMenu(this);
    menu->setObjectName("issuesOrderMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    QMenu* groups = menu->addMenu("Group by");
    groups->setObjectName("issuesGroupMenu");
    for (const auto& [grouping, name] : kGroupings) {
        QAction* action = groups->addAction(name, this, [this, grouping = grouping] {
            question_.grouping = grouping;
            showWords();
            emit changed();
        });
        action->setCheckable(true);
        action->setChecked(question_.grouping == grouping);
    }
    QMenu* orders = menu->addMenu("Order by");
    orders->setObjectName("issuesSortMenu");
    for (const auto& [order, name] : kOrders) {
        QAction* action = orders->addAction(name, this, [this, order = order] {
            question_.isDescending = question_.order == order && !question_.isDescending;
            question_.order = order;
            emit changed();
        });
        action->setCheckable(true);
        action->setChecked(question_.order == order);
    }
    QAction* down = menu->addAction("The other way round", this, [this] {
        question_.isDescending = !question_.isDescending;
        emit changed();
    });
    down->setCheckable(true);
    down->setChecked(question_.isDescending);
    menu->addSeparator();
    for (const project::IssueFilterRecord& filter : filters_)
        menu->addAction(q(filter.name), this, [this, body = filter.body] { emit filterChosen(q(body)); });
    menu->addAction("Keep this filter…", this, [this] {
        bool isGiven = false;
        const QString name =
            QInputDialog::getText(this, "Keep this filter", "Its name", QLineEdit::Normal, {}, &isGiven).trimmed();
        if (isGiven && !name.isEmpty())
            emit keepWanted(name);
    });
    if (!filters_.empty()) {
        QMenu* remove = menu->addMenu("Remove a filter");
        for (const project::IssueFilterRecord& filter : filters_)
            remove->addAction(q(filter.name), this, [this, name = filter.name] { emit removeWanted(q(name)); });
    }
    menu->addSeparator();
    menu->addAction("What is agreed", this, [this] { emit agreedWanted(); });
    menu->popup(menu_->mapToGlobal(QPoint(0, menu_->height())));
}

} // namespace wendrix::app
