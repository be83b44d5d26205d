#include "deliveries/inside_page.h"

#include "core/base/text.h"
#include "core/project/change_words.h"
#include "core/project/proposal.h"
#include "core/project/requirements.h"
#include "deliveries/document_view.h"
#include "shell/long_text.h"
#include "shell/theme.h"

#include <QFileInfo>
#include <QPushButton>

#include <map>
#include <unordered_set>

namespace wendrix::app {

namespace {

QString signOf(Severity severity)
{
    return severity == Severity::Error ? "✕" : severity == Severity::Warning ? "!" : "i";
}
QColor colourOf(Severity severity)
{
    return severity == Severity::Error     ? theme::kAction
           : severity == Severity::Warning ? theme::kRemoved
                                           : theme::kSoftInk;
}

QString signOf(checks::Verdict verdict)
{
    return verdict == checks::Verdict::Met ? "✓" : verdict == checks::Verdict::Unmet ? "✕" : "–";
}
QColor colourOf(checks::Verdict verdict)
{
    return verdict == checks::Verdict::Met     ? theme::kReshaped
           : verdict == checks::Verdict::Unmet ? theme::kAction
                                               : theme::kSoftInk;
}

QString number(std::size_t n) { return q(grouped(n)); }

/// "Level 1 40 · Level 2 52", the largest first.
QString countsInWords(const std::map<std::string, std::size_t>& counts)
{
    std::vector<std::pair<std::string, std::size_t>> sorted(counts.begin(), counts.end());
    std::stable_sort(sorted.begin(), sorted.end(), [](const auto& a, const auto& b) { return a.second > b.second; });
    QStringList words;
    for (const auto& [name, count] : sorted)
        words += q(name) + ": " + QString::number(count);
    return words.join(" · ");
}

} // namespace

InsidePage::InsidePage(const StageContext& context, DocumentView& document, QObject* parent)
    : QObject(parent), at_(context), document_(document), list_(new Worklist("Inside"))
{
    list_->setObjectName("inside");
    auto* back = new QPushButton("Back to the register");
    back->setObjectName("closeInside");
    connect(back, &QPushButton::clicked, this, &InsidePage::closeWanted);
    list_->addButton(back);
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) { setTab(static_cast<Tab>(id.toInt())); });
    connect(list_, &Worklist::rowChosen, this, [this] {
        if (at_.session.inside() != nullptr)
            show(true);
    });
}

void InsidePage::setTab(Tab tab)
{
    tab_ = tab;
    if (tab != Tab::Documents)
        document_.close();
    fillList();
    show(false);
}

void InsidePage::refresh()
{
    document_.close();
    tab_ = Tab::Classes;
    if (at_.session.inside() == nullptr) {
        list_->setRows({});
        return;
    }
    bool hasFaults = false;
    for (const checks::ModelReport& report : inside().quality)
        hasFaults = hasFaults || report.quality.hasFaults();
    if (hasFaults) // what stands against taking it in comes first
        tab_ = Tab::Quality;
    fillList();
}

std::vector<InsidePage::Part> InsidePage::parts() const
{
    std::vector<Part> found;
    const auto& shown = at_.session.shown();
    for (std::uint32_t i = 0; i < shown.members.size(); ++i)
        if (shown.deliveries[i] == inside().delivery.id)
            found.push_back({&shown.members[i], i});
    return found;
}

std::optional<view::ElementKey> InsidePage::find(const ElementRef& element) const
{
    for (const Part& part : parts())
        if (const auto found = part.member->find(element))
            return view::ElementKey{part.index, *found};
    return {};
}

std::optional<view::ElementKey> InsidePage::findBefore(const project::ChangeRecord& c) const
{
    const auto& before = inside().before.members;
    const std::size_t first = at_.scene.members().size() - before.size();
    for (std::uint32_t i = 0; i < before.size(); ++i)
        if (const auto element = before[i].find(c.continues.value_or(c.element)))
            return view::ElementKey{static_cast<std::uint32_t>(first) + i, *element};
    return {};
}

std::vector<view::ElementKey> InsidePage::elementsOf(std::size_t model,
                                                     std::span<const checks::Concerned> concerned) const
{
    const auto all = parts();
    if (model >= all.size())
        return {};
    std::unordered_set<ifc::EntityId> wanted;
    for (const checks::Concerned& c : concerned)
        wanted.insert(c.entity);
    const ifc::Model& m = *all[model].member->model;
    std::vector<view::ElementKey> keys;
    for (ifc::ElementIndex e = 0; e < m.elements().size(); ++e) {
        const ifc::Element& element = m.elements()[e];
        // What is said of a storey concerns all that stands on it.
        const bool isOnStorey = element.storey != ifc::kNoStorey &&
                                wanted.contains(m.storeys()[static_cast<std::size_t>(element.storey)].entity);
        if (isOnStorey || wanted.contains(element.entity))
            keys.push_back({all[model].index, e});
    }
    return keys;
}

void InsidePage::fillList()
{
    const project::Inside& in = inside();
    std::size_t findings = 0;
    for (const checks::ModelReport& report : in.quality) {
        findings += report.quality.findings.size();
        for (const auto& ids : report.quality.ids)
            for (const auto& s : ids.specifications)
                findings += s.verdict == checks::Verdict::Unmet ? 1 : 0;
    }
    list_->setText("<b>" + q(in.delivery.name()).toHtmlEscaped() + "</b>" +
                   (in.delivery.title.empty() ? QString() : " · " + endsOf(q(in.delivery.title)).toHtmlEscaped()));
    QVector<Worklist::Chip> chips;
    const auto chip = [&](Tab tab, const QString& words) {
        chips.append({QString::number(static_cast<int>(tab)), words, tab_ == tab});
    };
    chip(Tab::Classes, "By class");
    chip(Tab::Storeys, "By storey");
    chip(Tab::Quality, "Quality " + QString::number(findings));
    chip(Tab::Changes, "Changes " + QString::number(in.changes.size()));
    chip(Tab::Documents,
         "Documents " +
             QString::number(orNothing(at_.session.project().deliveries().documentsOf(in.delivery.id)).size()));
    list_->setChips(chips);
    switch (tab_) {
    case Tab::Classes:
    case Tab::Storeys:
        list_->setCaption(tab_ == Tab::Classes ? "elements by class, the most first"
                                               : "elements by storey, the highest first");
        list_->setEmptyText("The model holds no elements.");
        list_->setRows(contents(tab_ == Tab::Storeys));
        break;
    case Tab::Quality: {
        QStringList facts;
        for (const checks::ModelReport& report : in.quality)
            facts += q(report.quality.facts.schema) + ", " + q(report.quality.facts.lengthUnit, "no length unit") +
                     (report.quality.facts.coordinates.empty() ? "" : ", " + q(report.quality.facts.coordinates));
        facts.removeDuplicates();
        list_->setCaption(facts.join(" · "));
        list_->setEmptyText("Nothing to complain of.");
        list_->setRows(qualityRows());
        break;
    }
    case Tab::Changes:
        list_->setCaption(
            in.against ? "against " + q(in.against->name()) + ", delivered " + q(timeInWords(in.against->time)) : "");
        list_->setEmptyText(in.against ? "Nothing changed." : "There is no delivery of this team before it.");
        list_->setRows(changeRows());
        break;
    case Tab::Documents:
        list_->setCaption("");
        list_->setEmptyText("No documents came with it.");
        list_->setRows(documentRows());
        break;
    }
}

QVector<Row> InsidePage::contents(bool byStorey) const
{
    struct Line {
        std::size_t count = 0;
        std::map<std::string, std::size_t> other;
        double height = -1e9;
    };
    std::map<std::string, Line> lines;
    for (const Part& part : parts()) {
        const ifc::Model& model = *part.member->model;
        std::map<std::pair<ifc::TypeId, ifc::StoreyIndex>, std::pair<std::size_t, ifc::ElementIndex>>
            counts; // and one of them
        for (ifc::ElementIndex e = 0; e < model.elements().size(); ++e) {
            auto& [count, first] = counts[{model.elements()[e].type, model.elements()[e].storey}];
            first = count++ == 0 ? e : first;
        }
        for (const auto& [kind, counted] : counts) {
            const auto& [count, first] = counted;
            const std::string name = classInWords(model.className(model.elements()[first]));
            const ifc::Storey* storey =
                kind.second == ifc::kNoStorey ? nullptr : &model.storeys()[static_cast<std::size_t>(kind.second)];
            const std::string on = storey != nullptr ? storey->name : "no storey";
            Line& line = lines[byStorey ? on : name];
            line.count += count;
            line.other[byStorey ? lowerCase(name) : on] += count;
            line.height = storey != nullptr ? storey->height.value : line.height;
        }
    }
    std::vector<std::pair<std::string, Line>> sorted(lines.begin(), lines.end());
    std::stable_sort(sorted.begin(), sorted.end(), [&](const auto& a, const auto& b) {
        return byStorey ? a.second.height > b.second.height : a.second.count > b.second.count;
    });
    QVector<Row> rows;
    for (const auto& [name, line] : sorted) {
        Row row;
        row.id = q(name);
        row.title = q(name);
        row.right = number(line.count);
        row.subtitle = countsInWords(line.other);
        rows.append(row);
    }
    return rows;
}

QVector<Row> InsidePage::qualityRows() const
{
    QVector<QPair<int, Row>> graded; // what stands against it first, over all models
    for (std::size_t m = 0; m < inside().quality.size(); ++m) {
        const checks::ModelReport& model = inside().quality[m];
        const QString which =
            inside().quality.size() > 1 ? q(project::partName(model.fileName, inside().delivery.revision)) + " · " : "";
        for (std::size_t f = 0; f < model.quality.findings.size(); ++f) {
            const checks::Finding& finding = model.quality.findings[f];
            Row row;
            row.id = QString("f/%1/%2").arg(m).arg(f);
            row.mark = Mark::Sign;
            row.markText = signOf(finding.severity);
            row.markColour = colourOf(finding.severity);
            row.title = q(finding.title);
            row.right = finding.concerned.empty() ? "" : number(finding.count);
            row.subtitle = which + q(checks::severityInWords(finding.severity)) + " · " + q(finding.advice);
            graded.append({finding.severity == Severity::Error     ? 0
                           : finding.severity == Severity::Warning ? 2
                                                                   : 3,
                           row});
        }
        for (std::size_t i = 0; i < model.quality.ids.size(); ++i)
            for (std::size_t s = 0; s < model.quality.ids[i].specifications.size(); ++s) {
                const checks::SpecificationResult& result = model.quality.ids[i].specifications[s];
                Row row;
                row.id = QString("s/%1/%2/%3").arg(m).arg(i).arg(s);
                row.mark = Mark::Sign;
                row.markText = signOf(result.verdict);
                row.markColour = colourOf(result.verdict);
                row.title = q(result.name);
                row.right = result.verdict == checks::Verdict::Unmet ? number(result.failed.size()) : "";
                row.subtitle = which +
                               (result.verdict == checks::Verdict::Met
                                    ? result.applicable == 0 ? QString("nothing it speaks of")
                                                             : QString("met by all %1").arg(result.applicable)
                                : result.verdict == checks::Verdict::Unmet
                                    ? QString("not met · ") + q(result.why.empty() ? result.instructions : result.why)
                                    : QString("not for this schema")) +
                               " · " + q(model.quality.ids[i].title);
                graded.append({result.verdict == checks::Verdict::Unmet ? 1
                               : result.verdict == checks::Verdict::Met ? 4
                                                                        : 5,
                               row});
            }
    }
    std::stable_sort(graded.begin(), graded.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    QVector<Row> rows;
    for (const auto& [grade, row] : graded)
        rows.append(row);
    return rows;
}

QVector<Row> InsidePage::changeRows() const
{
    QVector<Row> rows;
    for (std::size_t i = 0; i < inside().changes.size(); ++i) {
        const project::ChangeRecord& c = inside().changes[i];
        const ChangeLook& look = changeLook(c.mainKind());
        Row row;
        row.id = QString::number(i);
        row.mark = Mark::Sign;
        row.markText = look.sign;
        row.markColour = look.colour;
        row.title = q(c.name);
        row.right = q(project::measureInWords(c));
        row.subtitle = q(project::kindsInWords(c.kinds)) + " · " + q(c.storey, "no storey");
        row.isStruck = (c.kinds & project::Removed) != 0;
        rows.append(row);
    }
    return rows;
}

QVector<Row> InsidePage::documentRows() const
{
    QVector<Row> rows;
    for (const project::Document& document :
         orNothing(at_.session.project().deliveries().documentsOf(inside().delivery.id))) {
        Row row;
        row.id = q(document.sha256);
        row.title = q(document.fileName);
        const qint64 size = QFileInfo(q(at_.session.project().deliveries().fileOf(document).string())).size();
        row.right = size < 100'000 ? QString("%1 kB").arg(static_cast<double>(size) / 1000, 0, 'f', 0)
                                   : QString("%1 MB").arg(static_cast<double>(size) / 1e6, 0, 'f', 1);
        row.subtitle = "came with " + q(inside().delivery.name());
        rows.append(row);
    }
    return rows;
}

const std::vector<checks::Concerned>* InsidePage::concernedOf(const QString& id, std::size_t& model) const
{
    const QStringList place = id.split('/');
    model = place.value(1).toUInt();
    if (model >= inside().quality.size())
        return nullptr;
    const checks::QualityReport& report = inside().quality[model].quality;
    if (place[0] == "f" && place.size() == 3 && place[2].toUInt() < report.findings.size())
        return &report.findings[place[2].toUInt()].concerned;
    if (place[0] == "s" && place.size() == 4 && place[2].toUInt() < report.ids.size() &&
        place[3].toUInt() < report.ids[place[2].toUInt()].specifications.size())
        return &report.ids[place[2].toUInt()].specifications[place[3].toUInt()].failed;
    return nullptr;
}

std::optional<IssueStart> InsidePage::issueStart() const
{
    constexpr std::size_t kMostNamed = 40;
    std::size_t model = 0;
    const QString id = list_->chosen();
    const auto* concerned = tab_ == Tab::Quality && !id.isEmpty() ? concernedOf(id, model) : nullptr;
    if (concerned == nullptr)
        return {};
    const QStringList place = id.split('/');
    const checks::QualityReport& report = inside().quality[model].quality;
    IssueStart start;
    project::Material& m = start.material;
    m.source = issues::made_from::kCheck;
    m.discipline = inside().delivery.discipline;
    m.revisions = inside().delivery.name();
    issues::Requirement wanted;
    std::size_t failing = concerned->size();
    if (place[0] == "f") {
        const checks::Finding& finding = report.findings[place[2].toUInt()];
        m.title = finding.title;
        m.said = finding.advice;
        m.kinds = {checks::severityInWords(finding.severity)};
        wanted.rule = project::ruleOf(finding);
        failing = std::max<std::size_t>(finding.count, 1);
    } else {
        const auto& ids = report.ids[place[2].toUInt()];
        const checks::SpecificationResult& s = ids.specifications[place[3].toUInt()];
        m.title = s.name;
        m.said = s.instructions.empty() ? s.description : s.instructions;
        m.kinds = {"fault"};
        wanted.rule = project::ruleOf(ids, s);
    }
    for (std::size_t i = 0; i < std::min(kMostNamed, concerned->size()); ++i) {
        const checks::Concerned& c = (*concerned)[i];
        m.elements.push_back((c.name.empty() ? c.className + " #" + std::to_string(c.entity) : c.name) +
                             (c.why.empty() ? "" : ": " + c.why));
    }
    m.more = concerned->size() - m.elements.size();
    for (const project::Discipline& d : orNothing(at_.session.project().setup().disciplines()))
        if (d.name == inside().delivery.discipline)
            wanted.discipline = d.id;
    for (const view::ElementKey& key : elementsOf(model, *concerned))
        start.about.push_back(at_.scene.members()[key.member].refOf(key.element));
    wanted.title = m.title;
    wanted.moments = {
        {inside().delivery.id, inside().delivery.revision, failing, start.about.size(), start.about.size()}};
    start.requirement = std::move(wanted);
    return start;
}

void InsidePage::show(bool movesView)
{
    view::Subject subject;
    const QString id = list_->chosen();
    std::vector<view::ElementKey>& about = subject.about;
    const auto paint = [&](const view::ElementKey& key, const QColor& colour, float alpha = 1) {
        subject.painted[key] = view::Colour{colour.redF(), colour.greenF(), colour.blueF(), alpha};
        about.push_back(key);
    };
    if (tab_ == Tab::Classes || tab_ == Tab::Storeys) {
        for (const Part& part : parts()) {
            const ifc::Model& model = *part.member->model;
            std::map<ifc::TypeId, bool> isOfClass;
            for (ifc::ElementIndex e = 0; !id.isEmpty() && e < model.elements().size(); ++e) {
                const ifc::Element& element = model.elements()[e];
                bool isMeant = false;
                if (tab_ == Tab::Storeys)
                    isMeant = element.storey == ifc::kNoStorey
                                  ? id == "no storey"
                                  : q(model.storeys()[static_cast<std::size_t>(element.storey)].name) == id;
                else if (const auto known = isOfClass.find(element.type); known != isOfClass.end())
                    isMeant = known->second;
                else
                    isMeant = isOfClass[element.type] = q(classInWords(model.className(element))) == id;
                if (isMeant)
                    paint({part.index, e}, theme::kReshaped);
            }
        }
    } else if (tab_ == Tab::Quality) {
        std::size_t model = 0;
        if (const auto* concerned = concernedOf(id, model))
            for (const view::ElementKey& key : elementsOf(model, *concerned))
                paint(key, theme::kAction);
    } else if (tab_ == Tab::Changes) {
        for (std::size_t i = 0; i < inside().changes.size(); ++i) {
            const project::ChangeRecord& c = inside().changes[i];
            if (!id.isEmpty() && id != QString::number(i))
                continue;
            const QColor colour = changeLook(c.mainKind()).colour;
            const bool isRemoved = (c.kinds & project::Removed) != 0;
            if (const auto after = isRemoved ? std::nullopt : find(c.element))
                paint(*after, colour);
            if (isRemoved || (!id.isEmpty() && (c.kinds & (project::Moved | project::Reshaped)) != 0))
                if (const auto before = findBefore(c))
                    paint(*before, isRemoved ? colour : theme::kRemoved, isRemoved ? 1.0f : 0.35f);
        }
    }
    subject.isRestFaded = !about.empty();
    // Alone its own grid, if it has one; within the federation that of the reference.
    const federation::Member* gridded =
        at_.session.isInsideAlone() ? nullptr
                                    : at_.session.shown().find(orNothing(at_.session.project().setup().reference()));
    for (const Part& part : parts())
        if (gridded == nullptr && !part.member->model->grids().empty())
            gridded = part.member;
    if (gridded != nullptr)
        subject.grid = gridLinesOf(*gridded, kGridColour, true);
    at_.scene.change([&](view::Scene& scene) { scene.show(subject); });
    if (movesView && !about.empty())
        at_.scene.lookAt(about);
    if (tab_ == Tab::Documents && !id.isEmpty())
        for (const project::Document& document :
             orNothing(at_.session.project().deliveries().documentsOf(inside().delivery.id)))
            if (q(document.sha256) == id) {
                const QString file = q(at_.session.project().deliveries().fileOf(document).string());
                if (file.endsWith(".pdf")) // for others a program would be started that nobody asked for
                    document_.open(file, q(document.fileName));
            }
    showDetails();
}

} // namespace wendrix::app
