#include "shell/history_panel.h"

#include "core/base/text.h"
#include "shell/details.h"
#include "shell/form.h"
#include "shell/row_list.h"
#include "shell/session.h"
#include "shell/stage.h"

#include <QLineEdit>
#include <QVBoxLayout>

namespace wendrix::app {

namespace {

constexpr int kMostLines = 2000, kLeastHigh = 160, kAbove = 140; // what stands above the list in the panel

QVector<Row> rowsOf(const std::vector<project::HistoryLine>& lines, const QString& words)
{
    QVector<Row> rows;
    for (const project::HistoryLine& line : lines) {
        Row row;
        row.title = q(line.what);
        row.subtitle = q(line.by.person) + " · " + q(timeInWords(line.by.time));
        row.id = QString::number(rows.size());
        if (words.isEmpty() || row.title.contains(words, Qt::CaseInsensitive) ||
            row.subtitle.contains(words, Qt::CaseInsensitive))
            rows.append(row);
    }
    return rows;
}

} // namespace

void showHistory(Details& d, Session& session)
{
    d.clear();
    d.setOwner(kHistoryPanel);
    d.addTitle("History");
    const auto lines = orNothing(session.project().log().last(kMostLines));
    const std::string undoable = orNothing(session.project().log().undoable(session.person().toStdString()));
    d.addText("What was done, the newest first. Ctrl+Z takes your last step back: " +
              (undoable.empty() ? "there is none." : q(undoable) + "."));
    auto* form = new Form;
    auto* words = form->line("historyWords", "Narrow down", {}, "a delivery, a person, a word");
    d.addWidget(form);
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    // As high as the panel, so that only the list scrolls.
    const int high = std::max(kLeastHigh, d.viewport()->height() - kAbove);
    const auto fill = [column, lines, high](const QString& wanted) {
        while (QLayoutItem* item = column->takeAt(0)) {
            delete item->widget();
            delete item;
        }
        column->addWidget(new RowList("historyLines", rowsOf(lines, wanted.trimmed()), {}, high));
    };
    fill({});
    QObject::connect(words, &QLineEdit::textChanged, box, fill);
    d.addWidget(box);
    d.finish();
}

} // namespace wendrix::app
