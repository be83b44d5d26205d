#include "changes/changes_stage.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/bcf/bcf.h"
#include "core/project/change_digest.h"
#include "core/project/change_report.h"
#include "core/project/change_table.h"
#include "core/project/change_words.h"
#include "core/project/clash_export.h"
#include "shell/page_export.h"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QRegularExpression>

/// Changes: what leaves the list for others.
namespace wendrix::app {

void ChangesStage::copyRows()
{
    const auto keys = chosenKeys();
    if (keys.empty())
        return;
    const auto records = at_.session.project().changes().get(keys);
    if (!records)
        return at_.session.fail(records.error());
    QGuiApplication::clipboard()->setText(q(project::toTabs(project::tableOf(*records))));
    at_.session.say(q(counted(keys.size(), "change", "changes")) + " copied, to be put into a spreadsheet.");
}

void ChangesStage::exportList()
{
    QString chosen;
    QString file = QFileDialog::getSaveFileName(list_->window(), "Write this list", "changes.xlsx",
                                                "Workbook (*.xlsx);;Comma separated (*.csv);;Report with pictures "
                                                "(*.html);;Report for print (*.pdf);;BCF 2.1, one topic a row (*.bcf)",
                                                &chosen);
    if (file.isEmpty())
        return;
    static const QRegularExpression known("\\.(xlsx|csv|html|pdf|bcf)$", QRegularExpression::CaseInsensitiveOption);
    if (!known.match(file).hasMatch())
        file += "." + chosen.section("*.", 1).section(')', 0, 0);
    if (file.endsWith(".html", Qt::CaseInsensitive) || file.endsWith(".pdf", Qt::CaseInsensitive))
        exportReport(file);
    else if (file.endsWith(".bcf", Qt::CaseInsensitive))
        exportBcf(file);
    else
        exportTable(file);
}

void ChangesStage::exportTable(const QString& file)
{
    at_.session.ask<Result<void>>(
        between_,
        [list = read_->list, file](const project::Project& p) -> Result<void> {
            const auto records = p.changes().get(list->allKeys());
            if (!records)
                return wendrix::fail(records.error());
            const auto table = project::tableOf(*records);
            if (file.endsWith(".csv", Qt::CaseInsensitive))
                return writeFileWhole(file.toStdString(), project::toCsv(table));
            return project::writeXlsx(table, file.toStdString(), "Changes");
        },
        [this, file, n = changes().shown()](const Result<void>& done) {
            if (!done)
                return at_.session.fail(done.error());
            at_.session.say(q(counted(n, "change", "changes")) + " written: " + file);
        });
}

void ChangesStage::exportReport(const QString& file)
{
    at_.session.ask<Result<project::ChangeReport>>(
        bar_,
        [list = read_->list, by = at_.session.now()](const project::Project& p) {
            return project::reportOf(p, *list, by);
        },
        [this, file](Result<project::ChangeReport> report) {
            if (!report)
                return at_.session.fail(report.error());
            ReportOrder order;
            order.title = "Changes " + q(report->project);
            order.file = file;
            order.written = q(counted(report->changes, "change", "changes")) + " written: " + file;
            for (const project::ChangeReport::Part& part : report->parts)
                order.pictures.push_back(pictureOf(part.changes, Between{0.5}));
            order.html = [report = std::move(*report)](const std::vector<std::string>& pictures) {
                project::ChangeReport whole = report;
                for (std::size_t i = 0; i < pictures.size(); ++i)
                    whole.parts[i].picture = pictures[i];
                return project::toHtml(whole);
            };
            writeReport(at_.session, this, std::move(order));
        });
}

void ChangesStage::exportBcf(const QString& file)
{
    constexpr std::size_t kMostTopics = 500;
    const auto rows = changes().page(at_.session.project().changes(), 0, changes().rowCount());
    if (!rows)
        return at_.session.fail(rows.error());
    std::vector<project::Question> topics;
    std::vector<PictureWork> pictures;
    for (const project::ChangeRow& row : *rows) {
        if (row.isInGroup || topics.size() == kMostTopics)
            continue;
        const auto keys = changes().keysOf(std::span(&row.id, 1));
        const auto some = orNothing(at_.session.project().changes().get(keys));
        if (some.empty())
            continue;
        topics.push_back(draftQuestion(titleOf(row), some, keys));
        topics.back().issue.uuid = newUuid();
        topics.back().issue.createdBy = topics.back().issue.modifiedBy = at_.session.now().person;
        topics.back().issue.createdAt = topics.back().issue.modifiedAt = at_.session.now().time;
        for (const double at : {0.0, 1.0})
            pictures.push_back(pictureOf(some, Between{at}));
    }
    if (topics.empty())
        return at_.session.say("There is no change to write.");
    std::vector<bcf::ModelFile> models;
    for (const project::ComparisonRecord& k : changes().comparisons())
        if (const auto to = orNothing(at_.session.project().deliveries().find(k.to)))
            models.push_back({to->projectGuid, to->fileName, to->time});
    at_.session.run(Jobs::Lane::Reporting, "Writing BCF",
                    [session = &at_.session, owner = QPointer<QObject>(this), topics = std::move(topics),
                     pictures = std::move(pictures), models = std::move(models), id = at_.session.project().id(),
                     name = at_.session.project().name(), file](Progress& progress) -> Jobs::Finish {
                        const auto taken = takePictures(*session, owner, pictures, "Writing BCF", progress);
                        if (taken.size() < pictures.size())
                            return [session] { session->say("Writing BCF was cancelled; nothing was written."); };
                        std::vector<issues::Issue> issues;
                        for (std::size_t i = 0; i < topics.size(); ++i) {
                            issues.push_back(topics[i].issue);
                            for (std::size_t k = 0; k < 2; ++k)
                                issues.back().viewpoints[k].snapshot = pngOf(taken[2 * i + k]);
                        }
                        const auto bytes = bcf::write21(issues, models, id, name);
                        const auto written = bytes ? writeFileWhole(file.toStdString(), *bytes) : fail(bytes.error());
                        return [session, written, file, n = issues.size()] {
                            if (!written)
                                return session->fail(written.error());
                            session->say(q(counted(n, "topic", "topics")) + " written: " + file);
                        };
                    });
}

void ChangesStage::exportDigest(const QString& discipline, double metres, const QString& file)
{
    const QString folder = q(at_.session.project().folder().string());
    at_.session.run(
        Jobs::Lane::Reporting, "Digest for " + discipline,
        [session = &at_.session, list = read_->list, members = at_.session.workspace().members,
         before = at_.session.previous().members, discipline, metres, file, folder,
         by = at_.session.now()](Progress& progress) -> Jobs::Finish {
            const auto project = project::Project::open(folder.toStdString(), project::Project::Access::Read);
            if (!project)
                return [session, error = project.error()] { session->fail(error); };
            const project::Surroundings around(members, before);
            const auto digest =
                project::digestFor(**project, *list, discipline.toStdString(), around, metres, by, progress);
            if (progress.isCancelled())
                return [session] { session->say("The digest was cancelled; nothing was written."); };
            if (!digest)
                return [session, error = digest.error()] { session->fail(error); };
            const std::string html = project::toHtml(*digest);
            const bool isPdf = file.endsWith(".pdf", Qt::CaseInsensitive);
            const auto written =
                writeFileWhole(file.toStdString(),
                               isPdf ? pdfOf("What concerns " + discipline, QString::fromStdString(html), {}) : html);
            return [session, written, file, discipline, n = digest->concerning] {
                if (!written)
                    return session->fail(written.error());
                session->say(q(counted(n, "change concerns ", "changes concern ")) + discipline + ": " + file);
            };
        });
}

} // namespace wendrix::app
