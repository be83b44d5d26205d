#include "clashes/clashes_stage.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/clash/words.h"
#include "core/project/clash_cause.h"
#include "core/project/clash_export.h"
#include "core/project/issue_making.h"
#include "shell/form.h"
#include "shell/theme.h"

#include <QBuffer>
#include <QClipboard>
#include <QDate>
#include <QFileDialog>
#include <QGuiApplication>
#include <QLabel>
#include <QLineEdit>

#include <algorithm>

/// Clashes: what is chosen in scene and details, and what is decided about it.
namespace wendrix::app {

namespace {

constexpr std::size_t kMostShown = 2000; // pairs that a view can still tell apart

QByteArray png(const QImage& image)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return bytes;
}

} // namespace

void ClashesStage::show(bool movesView)
{
    auto ids = chosenPairs();
    const std::size_t all = ids.size();
    ids.resize(std::min(all, kMostShown));
    const std::vector<project::Pair> pairs = orNothing(at_.session.project().clashes().get(ids));
    showDetails(pairs);
    if (pairs.empty()) {
        showPlain();
        return;
    }
    view::Subject subject;
    Box3 box;
    Vector3 middle;
    for (const project::Pair& p : pairs) {
        for (const bool isLeft : {true, false})
            if (const auto key = at_.scene.find((isLeft ? p.left : p.right).element)) {
                subject.painted[*key] = toColour(isLeft ? theme::kLeft : theme::kRight);
                subject.about.push_back(*key);
            }
        subject.markers.push_back({p.point, pairs.size() > 1 ? std::to_string(subject.markers.size() + 1) : "!",
                                   toColour(p.isGone() ? theme::kPanel : theme::kOverlap), toColour(theme::kInk)});
        box.add(p.point);
        middle = middle + (1.0 / static_cast<double>(pairs.size())) * p.point;
    }
    subject.grid = gridOn(q(pairs[0].storey));
    subject.place = box;
    at_.scene.change([&](view::Scene& scene) {
        scene.choose({});
        scene.show(subject);
    });
    if (!movesView)
        return;
    const double reach = std::max(6.0, 1.2 * length(box.size()));
    const Vector3 from = at_.scene.freeDirection(middle, reach, {-0.55, -0.75, 0.5}, subject.about);
    at_.scene.setCamera(view::lookingAt(box.grownBy(2.2), from, at_.scene.viewport().aspect()), true);
}

void ClashesStage::showDetails(const std::vector<project::Pair>& pairs)
{
    Details& d = at_.details;
    d.clear();
    reason_ = until_ = nullptr;
    const auto* group = pairs_->groupOf(list_->chosen().toStdString());
    if (group == nullptr || pairs.empty()) {
        d.addText(
            "Choose a group or a pair on the left; the view goes there and this panel says where it is, how deep, "
            "and whose.");
        d.finish();
        return;
    }
    const project::Pair& p = pairs[0];
    const bool isOne = pairs.size() == 1;
    d.addCaption((isOne ? "Pair · " : "Group · ") + q(std::string(clash::stateInWords(p.state))) + " · " + q(p.test));
    d.addTitle(titleOf(pairs));
    const project::Pair& deepest =
        *std::max_element(pairs.begin(), pairs.end(), [](const project::Pair& a, const project::Pair& b) {
            return a.extent().missing() < b.extent().missing();
        });
    double low = 1e9, high = -1e9;
    for (const project::Pair& one : pairs) {
        low = std::min(low, one.point.z);
        high = std::max(high, one.point.z);
    }
    d.addFact("Where", q(project::whereInWords(pairs), "no storey"),
              q(elevationInWords(Metres{low})) +
                  (high - low > 0.005 ? " to " + q(elevationInWords(Metres{high})) : "") + " m");
    if (p.kind == clash::Kind::Hard)
        d.addFact(isOne ? "Depth" : "Deepest", q(clash::depthInWords(deepest.depth, deepest.isApproximate)),
                  deepest.isOpen ? "to part them; one is open, its surface was tested" : "to part them");
    else if (p.kind == clash::Kind::Clearance)
        d.addFact(isOne ? "Free" : "Least free", q(lengthInWords(Metres{deepest.distance})),
                  "of " + q(lengthInWords(Metres{deepest.clearance})) + " that are wanted");
    else
        d.addFact("Doubled", "the same shape at the same place",
                  "no farther apart than " + q(lengthInWords(Metres{deepest.distance})));
    if (const std::string cause = isOne ? orNothing(project::causeOf(at_.session.project(), p)) : ""; !cause.empty())
        d.addFact("Cause", q(cause));
    const auto silent = std::count_if(pairs.begin(), pairs.end(),
                                      [](const project::Pair& one) { return !one.isGone() && !one.isTested(); });
    if (silent > 0)
        d.addFact("Not tested", isOne ? q(std::string(clash::whyNotTested(p.outcome)))
                                      : q(counted(static_cast<std::size_t>(silent), "pair", "pairs")));
    const auto side = [&](bool isLeft) {
        const project::PairSide& own = isLeft ? p.left : p.right;
        const bool isShared = std::all_of(pairs.begin(), pairs.end(), [&](const project::Pair& one) {
            return (isLeft ? one.left : one.right).element == own.element;
        });
        const QString name = isOne || isShared ? q(own.name) : QString::number(pairs.size()) + " elements";
        QString second = q(own.memberTitle());
        if (const auto key = at_.scene.find(own.element)) {
            const federation::Member& m = at_.scene.members()[key->member];
            const ifc::Element& e = m.model->elements()[key->element];
            const std::string& system = m.model->text(e.system);
            const std::string& type = m.model->text(e.typeName);
            second += " · " + q(std::string(m.model->className(e)));
            if (!system.empty() || !type.empty())
                second += " · " + q(system.empty() ? type : system);
        } else {
            second += " · not in the federation that is looked at";
        }
        d.addFact(isLeft ? "Left" : "Right", name, second, Mark::Swatch, isLeft ? theme::kLeft : theme::kRight);
    };
    side(true);
    side(false);
    if (!p.decision.empty())
        d.addFact("Decided", q(p.decision) + (p.reason.empty() ? "" : ": " + q(p.reason)),
                  q(p.decidedBy.person) + ", " + q(timeInWords(p.decidedBy.time)) +
                      (p.decision != "let stand" ? QString()
                       : p.until.empty()         ? QString(" · until one of them changes")
                                                 : " · until " + q(dayInWords(p.until))));
    if (p.decision.empty() && !p.returned.empty())
        d.addFact("Came back", q(p.returned));
    const bool isOpen = !p.isGone();
    d.addButtons({{"fix", "Fix", "F", true, isOpen && p.issue.empty(), [this] { makeIssue(); }},
                  {"letStand", "Let stand", "S", false, isOpen, [this] { decide("let stand"); }},
                  {"later", "Later", "L", false, isOpen, [this] { decide("later"); }}});
    if (isOpen) {
        auto* form = new Form;
        reason_ = form->line("standReason", "Reason", lastReason_, "why it may stand");
        connect(reason_, &QLineEdit::textEdited, this, [this](const QString& words) { lastReason_ = words; });
        connect(reason_, &QLineEdit::returnPressed, this, [this] { decide("let stand"); });
        until_ = form->line("standUntil", "Until", {}, "2026-12-24, or until one changes");
        d.addHeading("If it may stand");
        d.addWidget(form);
    }
    if (isOpen && p.issue.empty()) {
        d.addHeading("If fixed");
        d.addText("One issue for " + q(counted(pairs.size(), "pair", "pairs")) + " to " + q(p.right.discipline) +
                      ", due in 7 days.",
                  false);
    }
    d.addHeading("History");
    QVector<QStringList> rows;
    for (const project::PairMoment& m : orNothing(at_.session.project().clashes().historyOf(p.id)))
        rows.append(
            {"Run " + QString::number(m.run) + ", " + q(dayInWords(m.by.time)),
             clash::isTested(m.outcome)
                 ? q(std::string(m.outcome == clash::Outcome::Removed ? "removed" : clash::stateInWords(m.state)))
                 : QString("not tested")});
    d.addTable({}, rows, "pairHistory");
    d.finish();
}

void ClashesStage::decide(const QString& decision)
{
    auto ids = chosenPairs();
    if (ids.empty())
        return;
    std::string reason, until;
    if (decision == "let stand") {
        reason = lastReason_.trimmed().toStdString();
        until = until_ != nullptr ? until_->text().trimmed().toStdString() : std::string();
        if (!until.empty() && !QDate::fromString(q(until), Qt::ISODate).isValid())
            return at_.session.fail(
                {project::kUnknown, "\"" + until + "\" is no day; write it as 2026-12-24, or leave it empty."});
    }
    if (reason_ != nullptr && reason_->hasFocus())
        reason_->window()->setFocus(); // keys are decisions again
    isNextWanted_ = true;
    at_.session.write(
        [ids, decision = decision.toStdString(), reason, until, who = at_.session.now()](project::Project& p) {
            return Session::saying(p.clashes().decide(ids, decision, reason, who, until),
                                   counted(ids.size(), "pair", "pairs") + ": " + decision +
                                       (reason.empty() ? "" : ", " + reason));
        },
        [this, ids, isSaid = !reason.empty()](bool isDone) {
            isNextWanted_ = isNextWanted_ && isDone;
            if (isDone && isSaid)
                offerAlike(ids);
        });
}

void ClashesStage::offerAlike(const std::vector<project::PairId>& decided)
{
    at_.session.ask<std::optional<project::AlikeOffer>>(
        offerBox_, [decided](const project::Project& p) { return orNothing(project::alikeTo(p.clashes(), decided)); },
        [this](std::optional<project::AlikeOffer> offer) {
            offer_ = std::move(offer);
            if (offer_)
                offerWords_->setText("For the same reason, " + q(offer_->reason) + ": " + q(offer_->words) +
                                     ". They are undecided.");
            offerBox_->setVisible(offer_.has_value());
        });
}

void ClashesStage::takeOffer(bool isTaken)
{
    const auto offer = std::exchange(offer_, std::nullopt);
    offerBox_->hide();
    if (!isTaken || !offer)
        return;
    isNextWanted_ = true;
    at_.session.write([offer = *offer, who = at_.session.now()](project::Project& p) {
        return Session::saying(p.clashes().decide(offer.pairs, "let stand", offer.reason, who, offer.until),
                               counted(offer.pairs.size(), "pair", "pairs") + ": let stand, " + offer.reason);
    });
}

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

void ClashesStage::exportTable()
{
    QString chosen;
    QString file = QFileDialog::getSaveFileName(list_->window(), "Write the pairs of this list", "clashes.xlsx",
                                                "Workbook (*.xlsx);;Comma separated (*.csv)", &chosen);
    if (file.isEmpty())
        return;
    if (!file.endsWith(".csv", Qt::CaseInsensitive) && !file.endsWith(".xlsx", Qt::CaseInsensitive))
        file += chosen.contains("csv") ? ".csv" : ".xlsx";
    at_.session.ask<Result<void>>(
        matrix_,
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

issues::Viewpoint ClashesStage::viewpoint(const std::vector<project::Pair>& pairs)
{
    issues::Viewpoint v;
    v.uuid = newUuid();
    v.camera = view::toViewpoint(at_.scene.camera());
    issues::Colouring left{"FF" + theme::kLeft.name().mid(1).toUpper().toStdString(), {}};
    issues::Colouring right{"FF" + theme::kRight.name().mid(1).toUpper().toStdString(), {}};
    for (const project::Pair& p : pairs) {
        const auto add = [](std::vector<ElementRef>& list, const ElementRef& element) {
            if (std::find(list.begin(), list.end(), element) == list.end())
                list.push_back(element);
        };
        add(left.elements, p.left.element);
        add(right.elements, p.right.element);
        add(v.selection, p.left.element);
        add(v.selection, p.right.element);
    }
    v.colouring = {left, right};
    return v;
}

void ClashesStage::makeIssue()
{
    const auto ids = chosenPairs();
    const std::vector<project::Pair> pairs = orNothing(at_.session.project().clashes().get(ids));
    if (pairs.empty() || !pairs[0].issue.empty())
        return;
    show(false);
    issues::Issue issue = project::draftIssue(titleOf(pairs).toStdString(), pairs, at_.session.now().time);
    issue.viewpoints = {viewpoint(pairs)};
    const QByteArray picture = png(at_.scene.picture());
    issue.viewpoints[0].snapshot.assign(picture.constData(), static_cast<std::size_t>(picture.size()));
    isNextWanted_ = true;
    at_.session.write(
        [ids, issue = std::move(issue), who = at_.session.now()](project::Project& p) {
            const auto number = project::makeIssue(p, issue, ids, who);
            return Session::saying(number, number ? *number + " made for " + counted(ids.size(), "pair", "pairs") : "");
        },
        [this](bool isDone) { isNextWanted_ = isNextWanted_ && isDone; });
}

} // namespace wendrix::app
