#include "clashes/clash_report_job.h"
#include "clashes/clashes_stage.h"

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/project/clash_export.h"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>

/// Clashes: what leaves the list for others.
namespace wendrix::app {

void ClashesStage::copyRows()
{
    const auto ids = chosenPairs();
    if (ids.empty())
        return;
    const auto table = project::tableOf(at_.session.project().clashes(), *pairs_, ids);
    if (!table)
        return at_.session.fail(table.error());
    QGuiApplication::clipboard()->setText(q(project::toTabs(*table)));
    at_.session.say(q(counted(ids.size(), "pair", "pairs")) + " copied, to be put into a spreadsheet.");
}

void ClashesStage::exportList()
{
    QString chosen;
    QString file = QFileDialog::getSaveFileName(
        list_->window(), "Write this list", "clashes.xlsx",
        "Workbook (*.xlsx);;Comma separated (*.csv);;Report with pictures (*.html);;Report for print (*.pdf)", &chosen);
    if (file.isEmpty())
        return;
    static const QRegularExpression known("\\.(xlsx|csv|html|pdf)$", QRegularExpression::CaseInsensitiveOption);
    if (!known.match(file).hasMatch())
        file += "." + chosen.section("*.", 1).section(')', 0, 0);
    if (file.endsWith(".html", Qt::CaseInsensitive) || file.endsWith(".pdf", Qt::CaseInsensitive))
        exportReport(file);
    else
        exportTable(file);
}

void ClashesStage::exportTable(const QString& file)
{
    at_.session.ask<Result<void>>(
        this, "table",
        [list = pairs_, file](const project::Project& p) -> Result<void> {
            const auto table = project::tableOf(p.clashes(), *list);
            if (!table)
                return wendrix::fail(table.error());
            if (file.endsWith(".csv", Qt::CaseInsensitive))
                return writeFileWhole(file.toStdString(), project::toCsv(*table));
            return project::writeXlsx(*table, file.toStdString(), "Clashes");
        },
        [this, file, n = pairs_->pairCount()](const Result<void>& done) {
            if (!done)
                return at_.session.fail(done.error());
            at_.session.say(q(counted(n, "pair", "pairs")) + " written: " + file);
        });
}

void ClashesStage::exportReport(const QString& file)
{
    at_.session.ask<Result<project::ClashReport>>(
        this, "report",
        [list = pairs_, by = at_.session.now()](const project::Project& p) { return project::reportOf(p, *list, by); },
        [this, file](Result<project::ClashReport> report) {
            if (!report)
                return at_.session.fail(report.error());
            writeClashReport(at_, this, std::move(*report), file,
                             [this](const QString& storey) { return gridOn(storey); });
        });
}

} // namespace wendrix::app
