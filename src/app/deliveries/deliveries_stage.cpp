#include "deliveries/deliveries_stage.h"

#include "core/base/text.h"
#include "shell/theme.h"

#include <QDate>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace wendrix::app {

DeliveriesStage::DeliveriesStage(const StageContext& context, QObject* parent) : Stage(context, parent)
{
    page_ = new QWidget;
    page_->setObjectName("deliveries");
    page_->setAutoFillBackground(true);
    auto* layout = new QVBoxLayout(page_);
    layout->setContentsMargins(0, 10, 0, 0);
    layout->setSpacing(8);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 14, 0);
    auto* title = new QLabel("Deliveries");
    title->setFont(theme::font(15, 700));
    head->addWidget(title);
    head->addSpacing(18);
    summary_ = new QLabel;
    summary_->setObjectName("deliverySummary");
    head->addWidget(summary_);
    head->addStretch();
    auto* add = new QPushButton("Add files");
    add->setObjectName("addFiles");
    connect(add, &QPushButton::clicked, this, &DeliveriesStage::askFile);
    head->addWidget(add);
    layout->addLayout(head);
    auto* scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setStyleSheet("QScrollArea { border-top: 1px solid #DAD4C6; }");
    register_ = new Register;
    scroll->setWidget(register_);
    layout->addWidget(scroll, 1);
    connect(register_, &Register::deliveryChosen, this, [this] { showDetails(); });
}

int DeliveriesStage::waiting() const
{
    if (!at_.session.hasProject())
        return 0;
    const auto all = at_.session.project().deliveries();
    return static_cast<int>(std::count_if(all.begin(), all.end(), [](const auto& d) { return d.state == project::DeliveryState::Waiting; }));
}

void DeliveriesStage::refresh()
{
    if (!at_.session.hasProject())
        return;
    register_->setContent(at_.session.project().disciplines(), at_.session.project().deliveries());
    const int n = waiting();
    summary_->setText(n == 0 ? "nothing waits" : QString("<b style='color:#C8501E'>%1</b> waiting").arg(n));
}

void DeliveriesStage::enter()
{
    showPlain();
    if (register_->chosen() == 0)
        step(1);
    showDetails();
    register_->setFocus();
}

void DeliveriesStage::step(int by)
{
    // Waiting ones first: that is what the step is for.
    std::vector<project::Delivery> all = at_.session.project().deliveries();
    if (all.empty())
        return;
    std::stable_sort(all.begin(), all.end(), [](const auto& a, const auto& b) {
        return (a.state == project::DeliveryState::Waiting) > (b.state == project::DeliveryState::Waiting);
    });
    const auto now = std::find_if(all.begin(), all.end(), [&](const auto& d) { return d.id == register_->chosen(); });
    const int at = now == all.end() ? 0 : static_cast<int>(now - all.begin()) + by;
    register_->choose(all[static_cast<std::size_t>(std::clamp(at, 0, static_cast<int>(all.size()) - 1))].id);
}

void DeliveriesStage::showDetails()
{
    Details& d = at_.details;
    d.clear();
    const auto delivery = at_.session.project().delivery(register_->chosen());
    if (!delivery) {
        d.addText("No deliveries yet. Add the IFC files that came in with Add files; they wait here until you take them in.");
        d.finish();
        return;
    }
    const project::Delivery& x = *delivery;
    d.addTitle(q(x.name()) + " · " + q(x.title));
    d.addCaption(q(x.sender) + " · " + q(timeInWords(x.time)) + " · " + q(x.schema) + " · " + q(counted(x.elements, "element", "elements")));
    const auto used = at_.session.project().inUse(x.discipline);
    switch (x.state) {
    case project::DeliveryState::Waiting:
        d.addText(used ? "The federation is on " + q(used->revision) + ". Taking in compares the two, verifies the fit and runs "
                                                                      "the tests again."
                       : "Nothing of this discipline is in use yet.",
                  false);
        d.addButtons({{"takeIn", "Take in " + q(x.revision), "T", true, !at_.session.isBusy(), [this] { takeIn(); }},
                      {"decline", "Decline with a reason", "", false, true, [this] { decline(); }}});
        break;
    case project::DeliveryState::Held:
    case project::DeliveryState::InUse: {
        if (const auto held = at_.session.project().hold(x.discipline, at_.session.now().time)) {
            d.addText("Held" + (held->until.empty() ? QString(" until it is released") : " until " + q(dayInWords(held->until + "T12:00:00Z"))) + " by " + q(held->by.person) +
                          (held->reason.empty() ? "." : ": " + q(held->reason)),
                      false);
            d.addButtons({{"release", "Release", {}, false, true, [this, discipline = x.discipline] {
                               if (at_.session.apply(at_.session.project().release(discipline, at_.session.now()), "Released: it follows the latest again."))
                                   showDetails();
                           }}});
        } else {
            d.addText("In use: this is what the federation shows.", false);
            d.addButtons({{"hold", "Hold at " + q(x.revision), {}, false, true, [this, discipline = x.discipline] { hold(discipline); }}});
        }
        const auto changes = at_.session.project().changesOf(x.discipline, x.id);
        if (!changes.empty()) {
            const auto before = at_.session.project().delivery(changes[0].from);
            d.addHeading("Against " + (before ? q(before->revision) : QString("the one before")));
            const std::pair<project::ChangeKind, const char*> kinds[] = {
                {project::Added, "+ added"}, {project::Removed, "− removed"}, {project::Reshaped, "△ reshaped"},
                {project::Moved, "→ moved"}, {project::Redescribed, "≡ redescribed"}, {project::Rekeyed, "# new id only"}};
            QVector<QStringList> rows;
            for (const auto& [kind, words] : kinds) {
                const auto n = std::count_if(changes.begin(), changes.end(), [k = kind](const auto& c) { return (c.kinds & k) != 0; });
                if (n > 0)
                    rows.append({words, QString::number(n)});
            }
            d.addTable({}, rows, "changeCounts");
        }
        break;
    }
    case project::DeliveryState::Replaced:
        d.addText("Replaced by " + (used ? q(used->revision) : QString("a newer one")) + ".", false);
        break;
    case project::DeliveryState::Declined:
        d.addText("Declined: " + q(x.declined), false);
        d.addButtons({{"takeIn", "Take in after all", "T", false, !at_.session.isBusy(), [this] { takeIn(); }}});
        break;
    }
    d.addHeading("File");
    d.addFact("Name", q(x.fileName));
    d.addFact("SHA-256", q(x.sha256.substr(0, 16)) + "…");
    d.finish();
}

void DeliveriesStage::takeIn()
{
    const auto delivery = at_.session.project().delivery(register_->chosen());
    if (delivery && (delivery->state == project::DeliveryState::Waiting || delivery->state == project::DeliveryState::Declined))
        at_.session.takeIn(delivery->id);
}

void DeliveriesStage::decline()
{
    bool isGiven = false;
    const QString reason = QInputDialog::getText(page_, "Decline this delivery", "Reason, as the sender will read it:",
                                                 QLineEdit::Normal, {}, &isGiven);
    if (isGiven && !reason.trimmed().isEmpty() &&
        at_.session.apply(at_.session.project().decline(register_->chosen(), reason.trimmed().toStdString(), at_.session.now()), "Declined"))
        showDetails();
}

void DeliveriesStage::hold(const std::string& discipline)
{
    bool isGiven = false;
    const QString day = QInputDialog::getText(page_, "Hold " + q(discipline), "Until which day (as 2026-11-28)? Empty: until it is released.", QLineEdit::Normal, {}, &isGiven).trimmed();
    if (!isGiven)
        return;
    if (!day.isEmpty() && !QDate::fromString(day, Qt::ISODate).isValid()) {
        at_.session.apply(fail({project::kUnknown, QString("\"%1\" is no day; write it as 2026-11-28.").arg(day).toStdString()}));
        return;
    }
    if (at_.session.apply(at_.session.project().hold({discipline, day.toStdString(), {}, {}}, at_.session.now()), "Held. Newer deliveries wait until then."))
        showDetails();
}

QString DeliveriesStage::nextRevision(const std::string& discipline) const
{
    int highest = 0;
    for (const project::Delivery& d : at_.session.project().deliveries())
        if (d.discipline == discipline)
            highest = std::max(highest, q(d.revision).mid(1).toInt());
    return QString("P%1").arg(highest + 1, 2, 10, QChar('0'));
}

void DeliveriesStage::receive(const QString& file, const QString& discipline)
{
    at_.session.receive(file.toStdString(), discipline, nextRevision(discipline.toStdString()));
}

void DeliveriesStage::askFile()
{
    const QString file = QFileDialog::getOpenFileName(page_, "Add a delivery", {}, "IFC models (*.ifc)");
    if (file.isEmpty())
        return;
    QStringList names;
    for (const project::Discipline& d : at_.session.project().disciplines())
        names.append(q(d.name));
    bool isGiven = false;
    const QString discipline = QInputDialog::getItem(page_, "Add a delivery", "From which discipline?", names, 0, false, &isGiven);
    if (isGiven)
        receive(file, discipline);
}

bool DeliveriesStage::press(Qt::Key key)
{
    if (key != Qt::Key_T)
        return false;
    takeIn();
    return true;
}

QVector<QPair<QString, QString>> DeliveriesStage::keys() const { return {{"T", "take in the chosen delivery"}, {"Arrows", "from card to card"}}; }

} // namespace wendrix::app
