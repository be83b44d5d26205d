#include "shell/go_to.h"

#include "shell/long_text.h"
#include "shell/theme.h"

#include <QAction>
#include <QKeyEvent>
#include <QListWidget>

namespace wendrix::app {

namespace {

constexpr int kMostSearched = 500; // nothing is looked up by more, and long words in long titles take their product

} // namespace

GoTo::GoTo(Search search, QWidget* parent) : QLineEdit(parent), search_(std::move(search))
{
    setObjectName("goTo");
    setPlaceholderText("Go to an element, issue, clash or command   Ctrl K");
    setClearButtonEnabled(true);
    setMaxLength(kMostSearched);
    popup_ = new QListWidget(parent != nullptr ? parent->window() : nullptr);
    popup_->setObjectName("goToHits");
    popup_->setFocusPolicy(Qt::NoFocus);
    popup_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    popup_->setStyleSheet(
        "QListWidget { background:#FFFFFF; border:1px solid #DAD4C6; border-radius:4px; padding:4px }"
        "QListWidget::item { padding:4px 6px } QListWidget::item:selected { background:#E7EFEE; color:#1F2B30 }");
    popup_->hide();
    connect(this, &QLineEdit::textEdited, this, &GoTo::find);
    connect(popup_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) { go(popup_->row(item)); });
}

QString GoTo::typed() const
{
    const QString words = text().trimmed();
    return words.isEmpty() || !text().endsWith(' ') ? words : words + ' ';
}

void GoTo::find()
{
    const QString words = typed();
    isAll_ = words.isEmpty();
    isGoWanted_ = false;
    hits_ = words.isEmpty() ? QVector<Hit>{} : search_(words);
    show();
}

void GoTo::add(const QString& words, const QVector<Hit>& hits, bool isAll)
{
    if (words != typed())
        return;
    hits_ += hits;
    isAll_ = isAll;
    show();
    if (isGoWanted_ && isAll_)
        go(popup_->currentRow());
}

void GoTo::show()
{
    const int chosen = std::max(0, popup_->currentRow());
    popup_->clear();
    for (const Hit& hit : hits_) {
        // Of a line that goes on what is added is what one looks for.
        const QString added = hit.completed.isEmpty() ? QString() : hit.completed.mid(typed().lastIndexOf(' ') + 1);
        auto* item = new QListWidgetItem(added.isEmpty() ? endsOf(hit.words) + "   " + hit.kind : "… " + added);
        item->setToolTip(endsOf(hit.words));
        popup_->addItem(item);
    }
    if (!text().trimmed().isEmpty() && hits_.isEmpty())
        popup_->addItem(isAll_ ? "Nothing is called like that" : "Looking…");
    popup_->setVisible(popup_->count() > 0);
    if (popup_->count() == 0)
        return;
    popup_->setCurrentRow(std::min(chosen, popup_->count() - 1));
    popup_->setParent(window());
    const QPoint at = mapTo(window(), QPoint(0, height() + 2));
    popup_->setGeometry(at.x(), at.y(), width(), std::min(12, popup_->count()) * 27 + 12);
    popup_->show();
    popup_->raise();
}

void GoTo::go(int row)
{
    isGoWanted_ = hits_.isEmpty() && !isAll_; // who types fast is not made to press it twice
    if (isGoWanted_)
        return;
    if (row >= 0 && row < hits_.size() && !hits_[row].go) {
        if (const QString line = hits_[row].completed; !line.isEmpty()) {
            setText(line + " ");
            find();
        }
        return;
    }
    popup_->hide();
    if (row < 0 || row >= hits_.size())
        return;
    const auto what = hits_[row].go;
    clear();
    clearFocus();
    what();
}

void GoTo::keyPressEvent(QKeyEvent* event)
{
    const int row = popup_->currentRow();
    if (popup_->isVisible() && event->key() == Qt::Key_Down)
        popup_->setCurrentRow(std::min(row + 1, popup_->count() - 1));
    else if (popup_->isVisible() && event->key() == Qt::Key_Up)
        popup_->setCurrentRow(std::max(row - 1, 0));
    else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        go(row);
    else if (event->key() == Qt::Key_Escape) {
        popup_->hide();
        clear();
        clearFocus();
    } else
        QLineEdit::keyPressEvent(event);
}

void GoTo::focusOutEvent(QFocusEvent* event)
{
    popup_->hide();
    QLineEdit::focusOutEvent(event);
}

} // namespace wendrix::app
