#include "shell/long_text.h"

#include <QDialog>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QVBoxLayout>

#include <algorithm>

namespace wendrix::app {

QString endsOf(const QString& text, qsizetype most)
{
    return text.size() <= most ? text : text.left(most / 2) + "…" + text.right(most / 2);
}

QString tipOf(const QString& text)
{
    return Qt::convertFromPlainText(endsOf(text, 2 * kMostInLine), Qt::WhiteSpaceNormal);
}

void setWhole(QLineEdit& field, const QString& text)
{
    field.setMaxLength(std::max(field.maxLength(), 2 * static_cast<int>(text.size())));
    field.setText(text);
}

void showWhole(QWidget* over, const QString& text)
{
    constexpr int kWide = 720, kHigh = 520, kLine = 2'000;
    auto* dialog = new QDialog(over != nullptr ? over->window() : nullptr);
    dialog->setObjectName("wholeText");
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle("All of it");
    dialog->resize(kWide, kHigh);
    auto* column = new QVBoxLayout(dialog);
    auto* words = new QPlainTextEdit;
    words->setObjectName("wholeTextWords");
    words->setReadOnly(true);
    // A line is laid out whole, so a very long one is shown as several; what is copied has the breaks too.
    QString shown;
    shown.reserve(text.size() + text.size() / kLine + 1);
    for (qsizetype i = 0, line = 0; i < text.size(); ++i) {
        line = text[i] == '\n' ? 0 : line + 1;
        shown += text[i];
        if (line >= kLine) {
            shown += '\n';
            line = 0;
        }
    }
    words->setPlainText(shown);
    column->addWidget(words);
    dialog->show();
}

} // namespace wendrix::app
