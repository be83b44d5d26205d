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
constexpr qsizetype kMostNamed = 3;

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

/// What an earlier session decided and the database does not have: who, what and from when until when.
void addMissing(Details& d, Session& session)
{
    const auto& steps = session.missingSteps();
    if (steps.empty())
        return;
    QStringList people, whats;
    for (const project::KeptStep& step : steps) {
        const project::KeptEvent& event = step.events.front();
        if (!people.contains(q(event.by.person)))
            people += q(event.by.person);
        if (whats.size() < kMostNamed)
            whats += q(event.what);
    }
    d.addHeading(q(counted(steps.size(), "step is", "steps are")) + " kept, but not in this project");
    d.addText("By " + people.join(", ") + ", " + q(timeInWords(steps.front().events.front().by.time)) + " to " +
              q(timeInWords(steps.back().events.back().by.time)) +
              ". The database was put back or replaced after they were decided. The first: " + whats.join("; ") +
              ". What no longer fits is left out and told; Ctrl+Z takes all of it back.");
    d.addButtons({{"bringStepsIn", "Bring them in", "", true, true, [&session] { session.bringStepsIn(); }},
                  {"setStepsAside", "Set aside", "", false, true, [&session] { session.setStepsAside(); }}});
}

} // namespace

void showHistory(Details& d, Session& session)
{
    d.clear();
    d.setOwner(kHistoryPanel);
    d.addTitle("History");
    addMissing(d, session);
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
