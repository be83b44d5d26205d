#include "shell/form.h"

#include "shell/long_text.h"
#include "shell/theme.h"

#include <QCalendarWidget>
#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QDoubleSpinBox>
#include <QEvent>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSpinBox>

namespace wendrix::app {

Form::Form(QWidget* parent) : QWidget(parent), layout_(new QFormLayout(this))
{
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setHorizontalSpacing(8);
    layout_->setVerticalSpacing(6);
    layout_->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    layout_->setLabelAlignment(Qt::AlignLeft | Qt::AlignTop);
}

void Form::setShown(QWidget* field, bool isShown) { layout_->setRowVisible(field, isShown); }

void Form::add(QWidget* widget, const QString& words)
{
    if (words.isEmpty())
        return layout_->addRow(widget);
    auto* label = new QLabel(words);
    label->setFont(theme::font(12));
    label->setStyleSheet("color:#5F6B70");
    label->setBuddy(widget);
    widget->setAccessibleName(words);
    layout_->addRow(label, widget);
}

QLineEdit* Form::line(const QString& name, const QString& words, const QString& text, const QString& hint)
{
    auto* field = new QLineEdit;
    setWhole(*field, text);
    field->setObjectName(name);
    field->setPlaceholderText(hint);
    field->setCursorPosition(0);
    add(field, words);
    return field;
}

QPlainTextEdit* Form::text(const QString& name, const QString& words, const QString& text, int lines)
{
    auto* field = new QPlainTextEdit(text);
    field->setObjectName(name);
    field->setTabChangesFocus(true);
    field->setFixedHeight(lines * 18 + 12);
    add(field, words);
    return field;
}

void Form::whenLeft(QPlainTextEdit* text, std::function<void(const QString& now)> then)
{
    leaving_[text] = {text->toPlainText(), std::move(then)};
    text->installEventFilter(this);
}

bool Form::eventFilter(QObject* watched, QEvent* event)
{
    if (const auto at = leaving_.find(watched); at != leaving_.end() && event->type() == QEvent::FocusOut)
        if (const QString now = static_cast<QPlainTextEdit*>(watched)->toPlainText(); now != at->kept) {
            at->kept = now;
            at->then(now);
        }
    return QWidget::eventFilter(watched, event);
}

QComboBox* Form::choice(const QString& name, const QString& words, const QVector<QPair<QString, QString>>& values,
                        const QString& chosen)
{
    auto* field = new QComboBox;
    field->setObjectName(name);
    field->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    field->setMinimumContentsLength(12);
    for (const auto& [shown, value] : values)
        field->addItem(shown, value);
    field->setCurrentIndex(std::max(0, field->findData(chosen)));
    add(field, words);
    return field;
}

QDateEdit* Form::day(const QString& name, const QString& words, const QDate& day)
{
    auto* field = new QDateEdit(day);
    field->setObjectName(name);
    field->setCalendarPopup(true);
    field->calendarWidget()->setFirstDayOfWeek(Qt::Monday);
    field->setDisplayFormat("ddd d MMM yyyy");
    add(field, words);
    return field;
}

QSpinBox* Form::number(const QString& name, const QString& words, int value, int least, int most)
{
    auto* field = new QSpinBox;
    field->setObjectName(name);
    field->setRange(least, most);
    field->setValue(value);
    add(field, words);
    return field;
}

QDoubleSpinBox* Form::decimal(const QString& name, const QString& words, double value, double least, double most,
                              const QString& unit)
{
    auto* field = new QDoubleSpinBox;
    field->setObjectName(name);
    field->setDecimals(1);
    field->setRange(least, most);
    field->setSuffix(unit);
    field->setMinimumHeight(28);
    field->setValue(value);
    add(field, words);
    return field;
}

QCheckBox* Form::tick(const QString& name, const QString& words, bool isOn)
{
    auto* field = new QCheckBox(words);
    field->setObjectName(name);
    field->setChecked(isOn);
    layout_->addRow(field);
    return field;
}

} // namespace wendrix::app
