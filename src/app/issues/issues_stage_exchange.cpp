#include "issues/issues_stage.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/base/hashed_copy.h"
#include "core/base/text.h"
#include "core/federation/location.h"
#include "core/project/stored_files.h"
#include "issues/issues_bar.h"
#include "issues/merge_page.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QStackedWidget>

#include <algorithm>

/// Issues: handed over, and taken over when they come back.
namespace wendrix::app {

void IssuesStage::exportTo(const QString& file, bcf::Version version)
{
    project::SendOrder order;
    const QStringList chosen = list_->chosenAll();
    if (chosen.size() > 1)
        for (const QString& uuid : chosen)
            order.uuids.push_back(uuid.toStdString());
    else
        for (std::size_t row = 0; row < issues_->rowCount(); ++row)
            if (!issues_->idOf(row).empty())
                order.uuids.push_back(issues_->idOf(row));
    order.version = version;
    order.file = file.toStdString();
    at_.session.run(
        Jobs::Lane::Checking, "Writing the issues",
        [this, order, folder = at_.session.project().folder(), write = at_.session.writerForJob(),
         who = at_.session.now()](Progress& progress) -> Jobs::Finish {
            const auto project = project::Project::open(folder, project::Project::Access::Read);
            const auto sent = project ? project::writeIssues(**project, order, who, progress)
                                      : Result<project::Sent>(tl::unexpected<Error>(project.error()));
            const auto noted =
                sent ? write([&](project::Project& p) { return project::recordSent(p, *sent, who); }) : Result<void>();
            return [this, sent, noted] {
                if (!sent || !noted)
                    return at_.session.fail(sent ? noted.error() : sent.error());
                at_.session.say(q(counted(sent->topics.size(), "issue", "issues")) + " written to " +
                                q(sent->exchange.fileName) +
                                (sent->mapped.empty() ? QString()
                                                      : "; BCF " + q(sent->exchange.version) + " can not say " +
                                                            q(counted(sent->mapped.size(), "thing", "things")) +
                                                            ", the first: " + q(sent->mapped.front())));
            };
        });
}

namespace {

/// Where elements are, by the models in place.
project::FindElement finder(const Session& session)
{
    const auto locator =
        session.reference() != nullptr ? std::make_shared<federation::Locator>(*session.reference()->model) : nullptr;
    return [members = session.workspace().members,
            locator](const std::string& guid) -> std::optional<project::ElementWhere> {
        for (std::uint32_t m = 0; m < members.size(); ++m) {
            const auto element = members[m].find({0, "", guid, 0});
            if (!element)
                continue;
            project::ElementWhere where{members[m].disciplineId, {}};
            if (const Box3 box = view::boundsOf(members, {m, *element}); locator != nullptr && !box.isEmpty()) {
                const federation::Location at = locator->at(box.centre());
                where.location = {at.storey, at.bay, {}};
            }
            return where;
        }
        return {};
    };
}

} // namespace

void IssuesStage::importFrom(const QString& file)
{
    at_.session.run(Jobs::Lane::Checking, "Reading " + file.section('/', -1),
                    [this, file, find = finder(at_.session),
                     folder = at_.session.project().folder()](Progress& progress) -> Jobs::Finish {
                        const auto project = project::Project::open(folder, project::Project::Access::Read);
                        auto read = project ? project::readIncoming(**project, file.toStdString(), find, progress)
                                            : Result<project::Incoming>(tl::unexpected<Error>(project.error()));
                        if (!read)
                            return [this, why = read.error()] { at_.session.fail(why); };
                        return [this, incoming = std::make_shared<project::Incoming>(std::move(*read))] {
                            merge_->show(incoming);
                            turnTo(merge_->list());
                            at_.session.say(q(counted(incoming->topics.size(), "topic brings", "topics bring")) +
                                            " something, " + QString::number(incoming->conflicts()) + " to decide; " +
                                            QString::number(incoming->unchanged) + " as we have them.");
                        };
                    });
}

void IssuesStage::askExport()
{
    if (issues_->issueCount() == 0)
        return at_.session.say("No issue is shown that could be written.");
    const QString old = "BCF 2.1 (*.bcf)", recent = "BCF 3.0 (*.bcf)";
    QString chosen = old;
    const QString file = QFileDialog::getSaveFileName(list_, "Write the issues that are shown as BCF", "issues.bcf",
                                                      old + ";;" + recent, &chosen);
    if (!file.isEmpty())
        exportTo(file.endsWith(".bcf") ? file : file + ".bcf",
                 chosen == recent ? bcf::Version::V30 : bcf::Version::V21);
}

void IssuesStage::askImport()
{
    if (at_.session.refusesToChange())
        return;
    const QString file =
        QFileDialog::getOpenFileName(list_, "Compare a BCF file that came back", {}, "BCF (*.bcf *.bcfzip)");
    if (!file.isEmpty())
        importFrom(file);
}

void IssuesStage::saveDocument(const issues::DocumentReference& document,
                               const std::vector<project::KeptIssue::Origin>& origins)
{
    // Whoever sent it gave the name, which may lead anywhere.
    const QString name = QFileInfo(q(document.name.empty() ? document.target : document.name)).fileName();
    const QString file = QFileDialog::getSaveFileName(list_, "Save the document", name);
    if (file.isEmpty())
        return;
    at_.session.run(
        Jobs::Lane::Reporting, "Saving " + name,
        [this, document, origins, file, folder = at_.session.project().folder()](Progress&) -> Jobs::Finish {
            const auto project = project::Project::open(folder, project::Project::Access::Read);
            const auto bytes = project ? project::documentOf(**project, origins, document)
                                       : Result<std::string>(tl::unexpected<Error>(project.error()));
            const auto done =
                bytes ? writeFileWhole(file.toStdString(), *bytes) : Result<void>(tl::unexpected<Error>(bytes.error()));
            return [this, done, file] {
                done ? at_.session.say(file.section('/', -1) + " saved") : at_.session.fail(done.error());
            };
        });
}

void IssuesStage::attach()
{
    const QString file =
        shown_.isEmpty() ? QString() : QFileDialog::getOpenFileName(list_, "Attach a file to the issue");
    if (file.isEmpty())
        return;
    at_.session.run(Jobs::Lane::Checking, "Attaching " + file.section('/', -1),
                    [this, file, uuid = shown_.toStdString(), folder = at_.session.project().folder(),
                     write = at_.session.writerForJob(), who = at_.session.now()](Progress& progress) -> Jobs::Finish {
                        HashedCopies copies(folder / project::kExchanges);
                        const auto sha256 = copies.add(file.toStdString(), "", progress);
                        const auto done = sha256 ? write([&](project::Project& p) -> Result<void> {
                            const auto changed = p.issues().change(
                                {&uuid, 1}, "Attached: " + file.section('/', -1).toStdString(),
                                [&](issues::Issue& i) {
                                    i.documents.push_back({newUuid(), false, "Documents/" + newUuid(),
                                                           file.section('/', -1).toStdString(), "", *sha256});
                                },
                                who);
                            return changed ? Result<void>() : Result<void>(tl::unexpected<Error>(changed.error()));
                        })
                                                 : Result<void>(tl::unexpected<Error>(sha256.error()));
                        if (done)
                            copies.keep();
                        return [this, done, file] {
                            if (!done)
                                return at_.session.fail(done.error());
                            at_.session.say(file.section('/', -1) + " attached");
                        };
                    });
}

} // namespace wendrix::app
