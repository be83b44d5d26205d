#include "issues/names_offered.h"

#include <QEvent>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr int kMostShown = 8;
constexpr int kNarrowest = 260; // pixels
constexpr int kLongest = 40;    // letters of a name that is begun

} // namespace

NamesOffered::NamesOffered(QPlainTextEdit* edit, Find find)
    : QObject(edit), edit_(edit), text_(edit), list_(new QListWidget(edit->window())), find_(std::move(find))
{
    connect(edit, &QPlainTextEdit::textChanged, this, &NamesOffered::offer);
    connect(edit, &QPlainTextEdit::cursorPositionChanged, this, [this] {
        if (list_->isVisible() && !begun())
            hide();
    });
    list_->hide();
    edit->installEventFilter(this);
}

NamesOffered::NamesOffered(QLineEdit* edit, Find find)
    : QObject(edit), edit_(edit), line_(edit), list_(new QListWidget(edit->window())), find_(std::move(find))
{
    connect(edit, &QLineEdit::textEdited, this, &NamesOffered::offer);
    list_->hide();
    edit->installEventFilter(this);
}

NamesOffered::~NamesOffered() { delete list_.data(); }

std::optional<QString> NamesOffered::begun() const
{
    if (line_ != nullptr) {
        const QString before = line_->text().left(line_->cursorPosition());
        const QString name = before.section(',', -1).trimmed();
        return name.isEmpty() ? std::nullopt : std::optional(name);
    }
    const QString before = text_->toPlainText().left(text_->textCursor().position());
    const auto at = before.lastIndexOf('@');
    if (at < 0 || (at > 0 && before[at - 1].isLetterOrNumber()) || before.size() - at > kLongest ||
        before.indexOf('\n', at) >= 0)
        return {};
    return before.mid(at + 1);
}

void NamesOffered::offer()
{
    const auto written = begun();
    if (isTaking_ || !written || !edit_->hasFocus())
        return hide();
    const QStringList names = find_(*written).mid(0, kMostShown);
    if (names.isEmpty() || (names.size() == 1 && names[0].section(line_ != nullptr ? ' ' : '\n', 0, 0) == *written))
        return hide();
    QWidget* window = edit_->window();
    if (list_->parentWidget() != window)
        list_->setParent(window);
    list_->setObjectName("namesOffered");
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setTextElideMode(Qt::ElideRight);
    list_->setStyleSheet("QListWidget::item{padding:2px 4px}QListWidget::item:selected{padding:2px 4px}");
    list_->clear();
    list_->addItems(names);
    list_->setCurrentRow(0);
    const int height = std::min<int>(kMostShown, static_cast<int>(names.size())) * (list_->sizeHintForRow(0) + 1) + 6;
    const QPoint below = edit_->mapTo(window, QPoint(0, edit_->height() + 2));
    const bool hasRoom = below.y() + height <= window->height();
    const int width = std::max(edit_->width(), kNarrowest), right = below.x() + edit_->width();
    list_->setGeometry(right - width, hasRoom ? below.y() : below.y() - edit_->height() - height - 4, width, height);
    list_->show();
    list_->raise();
    disconnect(list_, nullptr, this, nullptr);
    connect(list_, &QListWidget::itemClicked, this, &NamesOffered::take);
}

void NamesOffered::hide()
{
    if (!list_.isNull())
        list_->hide();
}

void NamesOffered::take()
{
    const auto written = begun();
    const QListWidgetItem* item = list_->currentItem();
    if (!written || item == nullptr)
        return hide();
    isTaking_ = true;
    if (line_ != nullptr) {
        const int cursor = line_->cursorPosition();
        const QString before = line_->text().left(cursor), after = line_->text().mid(cursor);
        const QString kept = before.left(before.lastIndexOf(',') + 1);
        const QString taken = kept + (kept.isEmpty() ? "" : " ") + item->text().section(' ', 0, 0);
        line_->setText(taken + after);
        line_->setCursorPosition(static_cast<int>(taken.size()));
        emit line_->textEdited(line_->text());
    } else {
        QTextCursor cursor = text_->textCursor();
        cursor.movePosition(QTextCursor::Left, QTextCursor::KeepAnchor, static_cast<int>(written->size()));
        cursor.insertText(item->text() + " ");
    }
    isTaking_ = false;
    hide();
}

bool NamesOffered::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::FocusOut || event->type() == QEvent::Hide)
        hide();
    if (event->type() != QEvent::KeyPress || list_.isNull() || !list_->isVisible())
        return QObject::eventFilter(watched, event);
    switch (static_cast<QKeyEvent*>(event)->key()) {
    case Qt::Key_Down:
    case Qt::Key_Up: {
        const int by = static_cast<QKeyEvent*>(event)->key() == Qt::Key_Down ? 1 : -1, all = list_->count();
        list_->setCurrentRow((list_->currentRow() + by + all) % all);
        return true;
    }
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_Tab:
        take();
        return true;
    case Qt::Key_Escape:
        hide();
        return true;
    default:
        return QObject::eventFilter(watched, event);
    }
}

} // namespace wendrix::app
