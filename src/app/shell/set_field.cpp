#include "shell/set_field.h"

#include "core/base/text.h"
#include "core/project/test_sheets.h"
#include "core/sets/completion.h"
#include "shell/flow_layout.h"
#include "shell/session.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTextDocument>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

constexpr std::size_t kMostNext = 9;
constexpr int kNextWidth = 260; // pixels
constexpr int kRestMs = 120;    // a person who types is not counted for at every sign

/// The parts that a line joins, and by which word.
std::pair<std::vector<sets::Expression>, std::string> partsOf(const sets::Expression& e)
{
    if (e.kind == sets::Expression::Kind::AllOf)
        return {e.parts, "and"};
    if (e.kind == sets::Expression::Kind::AnyOf)
        return {e.parts, "or"};
    return {{e}, "and"};
}

std::string joined(std::vector<sets::Expression> parts, const std::string& between)
{
    if (parts.size() == 1)
        return sets::lineOf(parts[0]);
    sets::Expression all;
    all.kind = between == "or" ? sets::Expression::Kind::AnyOf : sets::Expression::Kind::AllOf;
    all.parts = std::move(parts);
    return all.parts.empty() ? std::string() : sets::lineOf(all);
}

} // namespace

SetField::SetField(Session& session, const QString& name, QWidget* parent)
    : QWidget(parent), session_(session), name_(name), edit_(new QPlainTextEdit), chips_(new QWidget),
      count_(new QLabel), next_(new QListWidget(this))
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    edit_->setObjectName(name);
    edit_->setTabChangesFocus(true);
    edit_->setFixedHeight(3 * 18 + 10);
    edit_->installEventFilter(this);
    column->addWidget(edit_);
    new FlowLayout(4, chips_);
    chips_->setObjectName(name + "Chips");
    column->addWidget(chips_);
    count_->setObjectName(name + "Count");
    count_->setTextFormat(Qt::PlainText);
    count_->setWordWrap(true);
    count_->setFont(theme::font(11));
    column->addWidget(count_);
    next_->setObjectName(name + "Next");
    next_->setFocusPolicy(Qt::NoFocus);
    next_->setWindowFlags(Qt::ToolTip);
    next_->setStyleSheet(
        "QListWidget { background:#FFFFFF; border:1px solid #DAD4C6; border-radius:4px; padding:4px }"
        "QListWidget::item { padding:2px 6px } QListWidget::item:selected { background:#E7EFEE; color:#1F2B30 }");
    next_->hide();
    connect(next_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) { take(next_->row(item)); });
    connect(edit_, &QPlainTextEdit::textChanged, this, [this] {
        if (isQuiet_)
            return;
        changed();
        emit edited();
    });
    rest_.setSingleShot(true);
    rest_.setInterval(kRestMs);
    connect(&rest_, &QTimer::timeout, this, &SetField::count);
}

void SetField::setLine(const QString& line)
{
    isQuiet_ = true;
    edit_->setPlainText(line);
    isQuiet_ = false;
    showChips();
    count();
}

QString SetField::line() const { return edit_->toPlainText().simplified(); }

void SetField::setEmptyWords(const QString& words)
{
    emptyWords_ = words;
    setPlaceholder(words);
}

void SetField::setPlaceholder(const QString& words) { edit_->setPlaceholderText(words); }

void SetField::say(const QString& words, bool isWrong)
{
    count_->setText(words);
    theme::setInk(*count_, isWrong ? theme::kAction : theme::kSoftInk);
}

void SetField::changed()
{
    showChips();
    rest_.start();
}

/// Counts what the line picks, and finds what could come next, beside the interface.
void SetField::count()
{
    if (!session_.hasProject())
        return;
    struct Counted {
        std::vector<view::ElementKey> keys;
        std::string problem;
        std::vector<std::string> next;
    };
    const QString asked = line();
    const std::string begun = edit_->toPlainText().toStdString();
    const bool isWritten = edit_->hasFocus() && edit_->textCursor().atEnd();
    session_.ask<Counted>(
        this, "count",
        [line = asked.toStdString(), begun, isWritten, elements = session_.elements(),
         sheet = sheet_](const project::Project& p) {
            Counted counted;
            if (isWritten && !begun.empty())
                counted.next = sets::completionsOf(begun, *elements, kMostNext);
            if (line.empty())
                return counted;
            const auto parsed = sets::parse(line);
            if (!parsed.expression) {
                counted.problem = parsed.mistake.message;
                return counted;
            }
            const auto whole = clash::wholeLine(line, sheet);
            if (!whole) {
                counted.problem = whole.error().message;
                return counted;
            }
            const auto set = sets::parse(*whole);
            if (!set.expression) {
                counted.problem = set.mistake.message;
                return counted;
            }
            const auto answer =
                elements->in(*set.expression, project::knowledgeFor(p, *set.expression).value_or(sets::Knowledge{}));
            counted.problem = answer.problem;
            for (std::uint32_t m = 0; m < answer.picked.size(); ++m)
                for (std::uint32_t e = 0; e < answer.picked[m].size(); ++e)
                    if (answer.picked[m][e] != 0)
                        counted.keys.push_back({m, e});
            return counted;
        },
        [this, asked](const Counted& counted) {
            if (asked != line())
                return;
            if (!counted.problem.empty())
                say(q(counted.problem), true);
            else if (asked.isEmpty())
                say(emptyWords_.isEmpty() ? "A set is expected here." : emptyWords_, emptyWords_.isEmpty());
            else
                say(q(wendrix::counted(counted.keys.size(), "element", "elements")), counted.keys.empty());
            showNext(counted.next);
            emit picked(counted.keys);
        });
}

void SetField::showChips()
{
    qDeleteAll(chips_->findChildren<QPushButton*>(QString(), Qt::FindDirectChildrenOnly));
    const auto parsed = sets::parse(line().toStdString());
    auto* flow = chips_->layout();
    if (parsed.expression) {
        const auto [parts, between] = partsOf(*parsed.expression);
        for (std::size_t k = 0; k < parts.size(); ++k) {
            auto* chip = new QPushButton((k > 0 ? q(between) + " " : QString()) + q(sets::lineOf(parts[k])) + "  ×");
            chip->setObjectName(name_ + "Chip" + QString::number(k));
            chip->setProperty("chip", true);
            chip->setToolTip("Take this condition away");
            connect(
                chip, &QPushButton::clicked, this,
                [this, k, parts = parts, between = between] {
                    auto left = parts;
                    left.erase(left.begin() + static_cast<std::ptrdiff_t>(k));
                    edit_->setPlainText(q(left.empty() ? std::string() : joined(left, between)));
                },
                Qt::QueuedConnection);
            flow->addWidget(chip);
            chip->show(); // else it takes no room until the next turn of the loop
        }
    }
    if (parsed.expression || line().isEmpty()) {
        auto* add = new QPushButton("+ condition");
        add->setObjectName(name_ + "Add");
        add->setProperty("chip", true);
        connect(add, &QPushButton::clicked, this, &SetField::offerConditions, Qt::QueuedConnection);
        flow->addWidget(add);
        add->show();
    }
    chips_->setVisible(flow->count() > 0);
    fitChips();
}

/// Forms do not ask how high something becomes where it is narrower.
void SetField::fitChips() { chips_->setFixedHeight(chips_->layout()->heightForWidth(std::max(1, width()))); }

void SetField::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    fitChips();
}

/// Fields with the values that exist; what is chosen is joined to the line by "and".
void SetField::offerConditions()
{
    using sets::Field;
    auto* menu = new QMenu(this);
    menu->setObjectName(name_ + "Menu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto append = [this](const std::string& condition) {
        const auto parsed = sets::parse(line().toStdString());
        const bool isEither = parsed.expression && parsed.expression->kind == sets::Expression::Kind::AnyOf;
        edit_->setPlainText(line().isEmpty() ? q(condition)
                                             : (isEither ? "(" + line() + ")" : line()) + " and " + q(condition));
    };
    for (const Field field : {Field::Discipline, Field::Class, Field::Type, Field::System, Field::Storey, Field::Bay,
                              Field::Material, Field::Classification}) {
        QMenu* values = menu->addMenu(q(std::string(sets::nameOf(field))) + " is");
        values->setObjectName(name_ + "Menu" + q(std::string(sets::nameOf(field))));
        connect(values, &QMenu::aboutToShow, this, [this, values, field, append] {
            if (!values->isEmpty())
                return;
            constexpr std::size_t kMost = 25;
            for (const std::string& value : session_.elements()->valuesOf(field, "", kMost)) {
                sets::Expression e;
                e.kind = sets::Expression::Kind::Condition;
                e.condition.field = field;
                e.condition.values.push_back({value, {}, {}, false});
                values->addAction(q(value), this, [append, line = sets::lineOf(e)] { append(line); });
            }
            if (values->isEmpty())
                values->addAction("no element has one")->setEnabled(false);
        });
    }
    menu->addSeparator();
    for (const clash::NamedSet& set : sheet_.sets)
        menu->addAction("set \"" + q(set.name) + "\"", this, [append, name = set.name] {
            sets::Expression e;
            e.kind = sets::Expression::Kind::Set;
            e.text = name;
            append(sets::lineOf(e));
        });
    menu->addAction("has issue", this, [append] { append("has issue"); });
    menu->addAction("everything", this, [append] { append("everything"); });
    menu->popup(chips_->mapToGlobal(QPoint(0, chips_->height())));
}

void SetField::showNext(const std::vector<std::string>& lines)
{
    next_->clear();
    const QString now = edit_->toPlainText();
    if (!edit_->hasFocus() || lines.empty() || (lines.size() == 1 && q(lines[0]) == now))
        return next_->hide();
    for (const std::string& line : lines) {
        // What is added, not the whole line again.
        auto* item = new QListWidgetItem(q(line).mid(static_cast<qsizetype>(now.lastIndexOf(' ') + 1)));
        item->setData(Qt::UserRole, q(line));
        next_->addItem(item);
    }
    next_->setCurrentRow(-1);
    const QRect cursor = edit_->cursorRect();
    const QPoint at = edit_->viewport()->mapToGlobal(cursor.bottomLeft() + QPoint(0, 4));
    const int right = window()->mapToGlobal(window()->rect().topRight()).x();
    next_->setGeometry(std::min(at.x(), right - kNextWidth), at.y(), kNextWidth, next_->count() * 22 + 12);
    next_->show();
    next_->raise();
}

void SetField::take(int row)
{
    if (row < 0 || row >= next_->count())
        return;
    const QString line = next_->item(row)->data(Qt::UserRole).toString();
    next_->hide();
    edit_->setPlainText(line + " ");
    edit_->moveCursor(QTextCursor::End);
}

bool SetField::eventFilter(QObject* watched, QEvent* event)
{
    if (watched != edit_)
        return QWidget::eventFilter(watched, event);
    if (event->type() == QEvent::FocusOut) {
        next_->hide();
        emit committed();
        return false;
    }
    if (event->type() != QEvent::KeyPress)
        return false;
    const int key = static_cast<QKeyEvent*>(event)->key(), row = next_->currentRow();
    if (next_->isVisible() && key == Qt::Key_Down)
        next_->setCurrentRow(std::min(row + 1, next_->count() - 1));
    else if (next_->isVisible() && key == Qt::Key_Up)
        next_->setCurrentRow(std::max(row - 1, 0));
    else if (next_->isVisible() && key == Qt::Key_Escape)
        next_->hide();
    else if (next_->isVisible() && row >= 0 && (key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Tab))
        take(row);
    else if (key == Qt::Key_Return || key == Qt::Key_Enter) {
        next_->hide();
        emit committed(); // a line has one line
    } else
        return false;
    return true;
}

} // namespace wendrix::app
