#include "deliveries/inside_page.h"
#include "shell/long_text.h"

#include "core/base/file.h"
#include "core/base/text.h"
#include "core/project/change_words.h"
#include "core/project/proposal.h"
#include "deliveries/report_export.h"

#include <QDesktopServices>
#include <QFileDialog>
#include <QFileInfo>
#include <QListWidget>
#include <QUrl>

/// The inside of a delivery: what the details say of what is chosen, its report, and what is asked for.
namespace wendrix::app {

namespace {

constexpr std::size_t kMostListed = 500; // of the elements a finding concerns; the report has more

} // namespace

void InsidePage::showDocument(const QString& id)
{
    Details& d = at_.details;
    for (const project::Document& document :
         orNothing(at_.session.project().deliveries().documentsOf(inside().delivery.id))) {
        if (q(document.sha256) != id)
            continue;
        const QString file = q(at_.session.project().deliveries().fileOf(document).string());
        const QFileInfo info(file);
        const bool isThere = !file.isEmpty() && info.isFile() && !info.isSymLink();
        d.addHeading(q(document.fileName));
        if (!isThere)
            d.addText("The file is not in the project's folder any more. Receive it again with its delivery.", false);
        else if (!file.endsWith(".pdf"))
            d.addText("It came from " + q(inside().delivery.sender, "the sender") +
                      ". Wendrix shows PDF itself and does not look into other documents; another program may run what "
                      "stands in them.");
        if (isThere && !file.endsWith(".pdf"))
            d.addButtons({{"openDocument", "Open with another program", {}, false, true, [file] {
                               QDesktopServices::openUrl(QUrl::fromLocalFile(file));
                           }}});
        return;
    }
}

void InsidePage::showDetails()
{
    const project::Inside& in = inside();
    Details& d = at_.details;
    d.clear();
    d.addCaption("Inside, " + QString(in.delivery.isUsed() ? "in use" : "not taken in"));
    d.addTitle(q(in.delivery.name()) + (in.delivery.title.empty() ? "" : " · " + q(in.delivery.title)));
    QVector<Details::Button> buttons;
    if (!in.delivery.isUsed()) {
        buttons.append({"takeIn", "Take in " + q(in.delivery.revision), "T", true, !at_.session.isComposing(),
                        [this] { emit takeInWanted(); }});
        buttons.append({"decline", "Decline with a reason", "", false, true, [this] { emit declineWanted(); }});
    }
    const bool isAlone = at_.session.isInsideAlone();
    buttons.append({isAlone ? "insideWithin" : "insideAlone", isAlone ? "Show within the federation" : "Show alone",
                    "W", false, true, [this, isAlone] { at_.session.setInsideAlone(!isAlone); }});
    if (tab_ == Tab::Classes)
        buttons.append({"leaveOut", "Leave out classes", "", false, !at_.session.isComposing(),
                        [this] { emit leaveOutWanted(); }});
    d.addButtons(buttons);
    const QString id = list_->chosen();
    if (tab_ == Tab::Quality) {
        if (!id.isEmpty())
            showFinding(id);
        d.addHeading("The report");
        for (const checks::ModelReport& report : in.quality)
            d.addText((in.quality.size() > 1 ? q(report.fileName) + ": " : QString()) + q(report.quality.inWords()) +
                      ".");
        d.addButtons({{"exportReport", "Save the report…", "", false, true, [this] { exportReport(); }},
                      {"addSpecifications", "Add an IDS…", "", false, true, [this] { addSpecifications(); }}});
        for (const auto& [name, text] : orNothing(at_.session.project().setup().specifications()))
            d.addButtons(
                {{"removeSpecification-" + q(name), "Stop asking for " + q(name), "", false, true, [this, file = name] {
                      at_.session.write(
                          [file, who = at_.session.now()](project::Project& p) {
                              return Session::saying(p.setup().setSpecification(file, "", who),
                                                     "Not asked for any more: " + file);
                          },
                          [this](bool isDone) {
                              if (isDone && at_.session.inside() != nullptr)
                                  at_.session.lookInside(inside().delivery.id);
                          });
                  }}});
    } else if ((tab_ == Tab::Classes || tab_ == Tab::Storeys) && !id.isEmpty()) {
        showContents(id);
    } else if (tab_ == Tab::Changes && !id.isEmpty() && id.toUInt() < in.changes.size()) {
        const project::ChangeRecord& c = in.changes[id.toUInt()];
        d.addHeading(q(c.name));
        d.addFact("Kind", q(project::kindsInWords(c.kinds)), q(project::measureInWords(c)));
        d.addFact("Storey", q(c.storey, "none"));
        d.addFact("GlobalId", q(c.element.guid));
        for (const changes::FieldChange& f : c.fields)
            d.addFact(q(f.name), q(f.after, "–"), "was " + q(f.before, "–") + (f.set.empty() ? "" : " · " + q(f.set)));
    }
    if (tab_ == Tab::Documents && !id.isEmpty())
        showDocument(id);
    QStringList leftOut;
    for (const std::string& name : in.alone.leftOut.empty() ? std::vector<std::string>() : in.alone.leftOut[0])
        leftOut += q(classInWords(name)).toLower();
    d.addHeading("Delivery");
    if (!leftOut.isEmpty())
        d.addFact("Left out", leftOut.join(", "), "not read, not tested");
    d.addFact("Sender", q(in.delivery.sender, "not said"), q(timeInWords(in.delivery.time)));
    if (!in.delivery.suitability.empty())
        d.addFact("Suitability", q(in.delivery.suitability), q(project::suitabilityInWords(in.delivery.suitability)));
    if (!in.alignment.empty())
        d.addFact("Place", q(in.alignment));
    if (!in.delivery.note.empty())
        d.addFact("Note", q(in.delivery.note));
    d.finish();
}

void InsidePage::showContents(const QString& id)
{
    std::map<std::string, std::size_t> counts;
    for (const Row& row : contents(tab_ == Tab::Storeys))
        if (row.id == id) {
            QVector<QStringList> lines;
            for (const QString& one : row.subtitle.split(" · "))
                lines.append({one.left(one.lastIndexOf(": ")), one.mid(one.lastIndexOf(": ") + 2)});
            at_.details.addHeading(row.title + " · " + row.right);
            at_.details.addTable({}, lines, "contentCounts");
        }
}

void InsidePage::showFinding(const QString& id)
{
    Details& d = at_.details;
    std::size_t model = 0;
    const auto* concerned = concernedOf(id, model);
    if (concerned == nullptr)
        return;
    const QStringList place = id.split('/');
    const checks::QualityReport& report = inside().quality[model].quality;
    std::size_t count = concerned->size();
    if (place[0] == "f") {
        const checks::Finding& finding = report.findings[place[2].toUInt()];
        count = finding.count;
        d.addHeading(finding.severity == Severity::Error     ? "Fault"
                     : finding.severity == Severity::Warning ? "Warning"
                                                             : "Note");
        d.addText(q(finding.title), false);
        d.addText(q(finding.advice));
    } else {
        const checks::SpecificationResult& s = report.ids[place[2].toUInt()].specifications[place[3].toUInt()];
        d.addHeading(s.verdict == checks::Verdict::Met     ? "Met"
                     : s.verdict == checks::Verdict::Unmet ? "Not met"
                                                           : "Not for this schema");
        d.addText(q(s.name), false);
        for (const std::string& words : {s.description, s.instructions, s.why})
            if (!words.empty())
                d.addText(q(words));
        d.addText("It speaks of " + q(counted(s.applicable, "element", "elements")) + ".");
    }
    addConcerned(model, *concerned, count);
}

void InsidePage::addConcerned(std::size_t model, const std::vector<checks::Concerned>& concerned, std::size_t count)
{
    if (concerned.empty())
        return;
    auto* list = new QListWidget;
    list->setObjectName("concerned");
    list->setUniformItemSizes(true);
    list->setFixedHeight(std::clamp(static_cast<int>(concerned.size()), 2, 9) * 20 + 6);
    for (std::size_t i = 0; i < std::min(kMostListed, concerned.size()); ++i) {
        const checks::Concerned& c = concerned[i];
        auto* item =
            new QListWidgetItem(endsOf(q(c.name.empty() ? c.className + " #" + std::to_string(c.entity) : c.name)));
        item->setToolTip(tipOf(q(c.className) + " " + q(c.guid) + (c.why.empty() ? "" : "\n" + q(c.why))));
        list->addItem(item);
    }
    connect(list, &QListWidget::currentRowChanged, this, [this, model, &concerned](int row) {
        if (row < 0)
            return;
        const auto keys = elementsOf(model, std::span(&concerned[static_cast<std::size_t>(row)], 1));
        at_.scene.change([&](view::Scene& scene) { scene.choose({keys.begin(), keys.end()}); });
        if (!keys.empty())
            at_.scene.lookAt(keys);
    });
    at_.details.addWidget(list);
    if (count > kMostListed)
        at_.details.addText(
            QString("The first %1 of %2; the report lists more.").arg(kMostListed).arg(q(grouped(count))));
    if (!concerned[0].why.empty())
        at_.details.addText(q(concerned[0].why));
}

void InsidePage::exportReport()
{
    const QString proposed = QString("Quality report %1.html").arg(q(inside().delivery.name()));
    const QString file = QFileDialog::getSaveFileName(list_->window(), "Save the quality report",
                                                      lastFolder_.isEmpty() ? proposed : lastFolder_ + "/" + proposed,
                                                      "Web page (*.html);;PDF (*.pdf);;Table (*.csv)");
    if (file.isEmpty())
        return;
    lastFolder_ = QFileInfo(file).path();
    at_.session.run(Jobs::Lane::Checking, "Writing the report",
                    [&session = at_.session, file,
                     report = project::reportOf(at_.session.project(), inside().delivery, inside().quality,
                                                at_.session.now())](Progress&) -> Jobs::Finish {
                        auto written = writeReport(report, file);
                        return [&session, written = std::move(written)] {
                            if (written)
                                emit session.said("Saved as " + *written, false);
                            else
                                session.fail(written.error());
                        };
                    });
}

void InsidePage::addSpecifications()
{
    const QStringList files = QFileDialog::getOpenFileNames(list_->window(), "Add information delivery specifications",
                                                            lastFolder_, "IDS (*.ids *.xml)");
    std::vector<std::array<std::string, 3>> wanted; // file name, text, title
    for (const QString& file : files) {
        const std::string name = QFileInfo(file).fileName().toStdString();
        const auto text = readFileWhole(file.toStdString(), 16u << 20);
        const auto ids = text ? checks::readIdsText(*text, name) : Result<checks::Ids>(wendrix::fail(text.error()));
        if (!ids) {
            at_.session.fail(ids.error());
            continue;
        }
        wanted.push_back({name, *text, ids->title.empty() ? name : ids->title});
    }
    if (wanted.empty())
        return;
    at_.session.write(
        [wanted, who = at_.session.now()](project::Project& p) -> Result<std::string> {
            std::string titles;
            for (const auto& [name, text, title] : wanted) {
                if (auto done = p.setup().setSpecification(name, text, who); !done)
                    return wendrix::fail(done.error());
                titles += (titles.empty() ? "" : ", ") + title;
            }
            return "Asked for from now on: " + titles;
        },
        [this](bool isDone) {
            if (isDone && at_.session.inside() != nullptr)
                at_.session.lookInside(inside().delivery.id); // checked again with them
        });
}

} // namespace wendrix::app
