#include "shell/worklist.h"

#include "shell/flow_layout.h"
#include "shell/letters.h"
#include "shell/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QScrollBar>
#include <QVBoxLayout>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr int kMostKept = 500; // rows of a choice that stay chosen when the list is read anew

void clear(QLayout* layout)
{
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (item->layout() != nullptr)
            clear(item->layout());
        if (item->widget() != nullptr) {
            item->widget()->hide(); // gone from the screen now, deleted when it is safe
            item->widget()->deleteLater();
        }
        delete item;
    }
}

} // namespace

Worklist::Worklist(const QString& title, QWidget* parent) : QWidget(parent)
{
    setAutoFillBackground(true);
    layout_ = new QVBoxLayout(this);
    layout_->setContentsMargins(0, 12, 0, 0);
    layout_->setSpacing(0);
    auto* head = new QVBoxLayout;
    head_ = head;
    head->setContentsMargins(14, 0, 14, 0);
    head->setSpacing(8);
    titleRow_ = new QHBoxLayout;
    auto* name = new QLabel(title);
    name->setFont(theme::font(15, 700));
    titleRow_->addWidget(name);
    titleRow_->addStretch();
    head->addLayout(titleRow_);
    text_ = new QLabel;
    text_->setWordWrap(true);
    text_->setStyleSheet("color:#5F6B70");
    text_->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    connect(text_, &QLabel::linkActivated, this, &Worklist::linkChosen);
    text_->hide();
    head->addWidget(text_);
    figures_ = new QHBoxLayout;
    figures_->setSpacing(22);
    head->addLayout(figures_);
    chips_ = new QWidget;
    new FlowLayout(6, chips_);
    chips_->hide();
    head->addWidget(chips_);
    caption_ = new QLabel;
    caption_->setFont(theme::font(11));
    caption_->setStyleSheet("color:#5F6B70");
    caption_->hide();
    head->addWidget(caption_);
    head->addSpacing(4);
    layout_->addLayout(head);

    model_ = new RowModel(this);
    view_ = new LeavesLetters<QListView>;
    view_->setObjectName("rows");
    view_->setModel(model_);
    view_->setItemDelegate(new RowDelegate(view_));
    view_->setFrameShape(QFrame::NoFrame);
    view_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    view_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    view_->setUniformItemSizes(true);
    view_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    view_->setStyleSheet("QListView { border-top: 1px solid #DAD4C6; }");
    layout_->addWidget(view_, 1);
    empty_ = new QLabel;
    empty_->setWordWrap(true);
    empty_->setAlignment(Qt::AlignTop);
    empty_->setContentsMargins(14, 16, 14, 0);
    empty_->setStyleSheet("color:#5F6B70; border-top: 1px solid #DAD4C6;");
    empty_->hide();
    layout_->addWidget(empty_, 1);

    connect(view_->selectionModel(), &QItemSelectionModel::currentChanged, this, &Worklist::announce);
    connect(view_->selectionModel(), &QItemSelectionModel::selectionChanged, this, &Worklist::announce);
    connect(view_, &QListView::activated, this,
            [this](const QModelIndex& at) { emit rowOpened(model_->idOf(at.row())); });
}

void Worklist::announce()
{
    if (isQuiet_ || isAnnounced_)
        return;
    // Once, when both are settled: a click changes the current row before the selection, keys the other way.
    isAnnounced_ = true;
    QMetaObject::invokeMethod(
        this,
        [this] {
            isAnnounced_ = false;
            // All may be chosen with none of them the current one.
            const QString id = chosen();
            const QStringList all = id.isEmpty() ? chosenAll() : QStringList{id};
            if (!all.isEmpty())
                emit rowChosen(all.first());
        },
        Qt::QueuedConnection);
}

void Worklist::setFigures(const QVector<Figure>& figures)
{
    // Made once and written again: they change with every decision.
    const auto isSame = [](const Figure& a, const Figure& b) { return a.words == b.words && a.isLoud == b.isLoud; };
    if (!std::equal(figures.begin(), figures.end(), shownFigures_.begin(), shownFigures_.end(), isSame)) {
        clear(figures_);
        numbers_.clear();
        for (const Figure& f : figures) {
            auto* column = new QVBoxLayout;
            column->setSpacing(0);
            auto* number = new QLabel;
            number->setFont(theme::font(20, 600));
            if (f.isLoud)
                number->setStyleSheet("color:#C8501E");
            auto* words = new QLabel(f.words);
            words->setStyleSheet("color:#5F6B70");
            column->addWidget(number);
            column->addWidget(words);
            figures_->addLayout(column);
            numbers_.append(number);
        }
        figures_->addStretch();
    }
    shownFigures_ = figures;
    for (qsizetype i = 0; i < figures.size(); ++i)
        numbers_[i]->setText(figures[i].number);
}

void Worklist::setChips(const QVector<Chip>& chips)
{
    if (!std::equal(chips.begin(), chips.end(), shownChips_.begin(), shownChips_.end(),
                    [](const Chip& a, const Chip& b) { return a.id == b.id; })) {
        clear(chips_->layout());
        chipButtons_.clear();
        for (const Chip& c : chips) {
            auto* button = new QPushButton;
            button->setObjectName("chip-" + c.id);
            button->setProperty("chip", true);
            button->setCheckable(true);
            connect(button, &QPushButton::clicked, this, [this, id = c.id] { emit chipChosen(id); });
            chips_->layout()->addWidget(button);
            button->show();
            chipButtons_.append(button);
        }
    }
    shownChips_ = chips;
    for (qsizetype i = 0; i < chips.size(); ++i) {
        chipButtons_[i]->setText(chips[i].words);
        chipButtons_[i]->setAccessibleName(chips[i].words);
        chipButtons_[i]->setChecked(chips[i].isOn);
    }
    chips_->setVisible(!chips.isEmpty());
    chips_->updateGeometry();
}

void Worklist::setCaption(const QString& words)
{
    caption_->setText(words);
    caption_->setVisible(!words.isEmpty());
}

void Worklist::setText(const QString& richText)
{
    text_->setText(richText);
    text_->setVisible(!richText.isEmpty());
}

void Worklist::setSource(std::shared_ptr<const RowSource> source, bool isNextChosen)
{
    const QString before = chosen();
    int selected = 0;
    for (const QItemSelectionRange& range : view_->selectionModel()->selection())
        selected += range.height();
    const QStringList all = selected > kMostKept ? QStringList{} : chosenAll();
    const int place = view_->currentIndex().row(), scrolled = view_->verticalScrollBar()->value();
    isQuiet_ = true;
    const bool isEmpty = source->count() == 0;
    model_->setSource(std::move(source));
    int at = before.isEmpty() ? -1 : model_->indexOf(before);
    const bool isLeft = at < 0 && !before.isEmpty();
    if (isLeft && isNextChosen)
        at = std::min(place, model_->rowCount() - 1);
    if (at >= 0) {
        view_->setCurrentIndex(model_->index(at));
        for (const QString& id : all)
            if (const int other = isLeft ? -1 : model_->indexOf(id); other >= 0 && other != at)
                view_->selectionModel()->select(model_->index(other), QItemSelectionModel::Select);
    }
    isQuiet_ = false;
    view_->verticalScrollBar()->setValue(scrolled);
    if (isLeft && isNextChosen && at >= 0)
        view_->scrollTo(model_->index(at));
    view_->setVisible(!isEmpty);
    empty_->setVisible(isEmpty);
}

void Worklist::setEmptyText(const QString& words) { empty_->setText(words); }
void Worklist::setBar(QWidget* bar) { head_->insertWidget(head_->indexOf(caption_), bar); }
void Worklist::setFooter(QWidget* footer) { layout_->addWidget(footer); }
void Worklist::addButton(QWidget* button) { titleRow_->addWidget(button); }

void Worklist::choose(const QString& id)
{
    if (const int at = model_->indexOf(id); at >= 0) {
        view_->setCurrentIndex(model_->index(at));
        view_->scrollTo(model_->index(at));
    }
}

void Worklist::step(int by)
{
    const int count = model_->rowCount();
    if (count == 0)
        return;
    const int now = view_->currentIndex().isValid() ? view_->currentIndex().row() : (by > 0 ? -1 : count);
    const QModelIndex next = model_->index(std::clamp(now + by, 0, count - 1));
    view_->setCurrentIndex(next);
    view_->scrollTo(next);
}

void Worklist::focusFilter()
{
    for (QPushButton* chip : chips_->findChildren<QPushButton*>())
        if (chip->isVisible() && chip->isChecked())
            chip->setFocus(Qt::ShortcutFocusReason);
}

QString Worklist::chosen() const
{
    const QModelIndex now = view_->currentIndex();
    return now.isValid() ? model_->idOf(now.row()) : QString();
}

QStringList Worklist::chosenAll() const
{
    QStringList ids;
    for (const QModelIndex& index : view_->selectionModel()->selectedIndexes())
        ids.append(model_->idOf(index.row()));
    return ids;
}

} // namespace wendrix::app
