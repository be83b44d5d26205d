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
        this, "table",
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
        this, "report",
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
    struct Topics {
        std::vector<std::pair<project::ChangeRow, std::vector<project::ChangeRecord>>> rows;
        std::size_t leftOut = 0;
        std::vector<issues::ModelFile> models;
        std::string id, name;
    };
    at_.session.ask<Result<Topics>>(
        this, "topics",
        [list = read_->list](const project::Project& p) -> Result<Topics> {
            Topics topics;
            auto rows = list->page(p.changes(), 0, list->rowCount());
            if (!rows)
                return wendrix::fail(rows.error());
            for (project::ChangeRow& row : *rows) {
                if (row.isInGroup)
                    continue;
                if (topics.rows.size() == kMostTopics) {
                    ++topics.leftOut;
                    continue;
                }
                auto records = p.changes().get(list->keysOf({&row.id, 1}));
                if (!records)
                    return wendrix::fail(records.error());
                if (!records->empty())
                    topics.rows.emplace_back(std::move(row), std::move(*records));
            }
            for (const project::ComparisonRecord& k : list->comparisons())
                if (const auto to = orNothing(p.deliveries().find(k.to)))
                    topics.models.push_back({to->projectGuid, "", to->fileName, to->time, "", true});
            topics.id = p.id();
            topics.name = p.name();
            return topics;
        },
        [this, file](Result<Topics> topics) {
            if (!topics)
                return at_.session.fail(topics.error());
            if (topics->rows.empty())
                return at_.session.say("There is no change to write.");
            Pictured all;
            const WhoAndWhen now = at_.session.now();
            const auto templates = orNothing(at_.session.project().issues().templatesFor(issues::made_from::kChange));
            const issues::IssueTemplate with =
                templates.empty() ? issues::IssueTemplate::usual(issues::made_from::kChange) : templates.front();
            for (const auto& [row, records] : topics->rows) {
                add(all, titleOf(row), records, {}, with);
                issues::Issue& issue = all.questions.back().issue;
                issue.uuid = newUuid();
                issue.createdBy = issue.modifiedBy = now.person;
                issue.createdAt = issue.modifiedAt = now.time;
            }
            at_.session.run(
                Jobs::Lane::Reporting, "Writing BCF",
                [session = &at_.session, owner = QPointer<QObject>(this), all = std::move(all),
                 topics = std::move(*topics), file](Progress& progress) -> Jobs::Finish {
                    const auto taken = takePictures(*session, owner, all.pictures, "Writing BCF", progress);
                    if (taken.size() < all.pictures.size())
                        return [session] { session->say("Writing BCF was cancelled; nothing was written."); };
                    Pictured whole = all;
                    finish(whole, taken);
                    std::vector<issues::Issue> issues;
                    for (project::Question& one : whole.questions) {
                        one.issue.files = topics.models;
                        issues.push_back(std::move(one.issue));
                    }
                    const auto bytes = bcf::write(issues, bcf::Version::V21, topics.id, topics.name);
                    const auto written = bytes ? writeFileWhole(file.toStdString(), *bytes) : fail(bytes.error());
                    return [session, written, file, n = issues.size(), leftOut = topics.leftOut] {
                        if (!written)
                            return session->fail(written.error());
                        session->say(q(counted(n, "topic", "topics")) + " written: " + file +
                                     (leftOut > 0
                                          ? QString("; %1 more rows are beyond what one file takes").arg(leftOut)
                                          : QString()));
                    };
                });
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
