#include "deliveries/delivery_forms.h"

#include "core/base/file_name.h"
#include "core/base/text.h"
#include "shell/form.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSpinBox>

#include <map>

namespace wendrix::app {

namespace fs = std::filesystem;

namespace {

QVector<QPair<QString, QString>> suitabilities()
{
    QVector<QPair<QString, QString>> values{{"not said", ""}};
    for (const std::string& code : project::suitabilityCodes())
        values.append({q(code) + "  " + q(project::suitabilityInWords(code)), q(code)});
    return values;
}

std::string trimmed(const QLineEdit* field) { return field->text().trimmed().toStdString(); }

/// Buttons that end a form: what it does, and giving it up.
void addEnd(const StageContext& at, const QString& id, const QString& words, bool isEnabled,
            const std::function<void()>& press, const Done& giveUp)
{
    at.details.addButtons({{id, words, {}, true, isEnabled, press}, {"giveUp", "Cancel", "", false, true, giveUp}});
    at.details.finish();
}

} // namespace

void showAddForm(const StageContext& at, const project::Draft& draft, int draftsLeft, const Done& done,
                 const Done& giveUp)
{
    Details& d = at.details;
    d.clear();
    d.addTitle(draftsLeft > 0 ? QString("Add a delivery (%1 more after it)").arg(draftsLeft) : "Add a delivery");
    for (const std::string& same : draft.known)
        d.addText("✕ " + q(same), false);
    if (!draft.models.empty())
        d.addText(draft.known.empty() ? q(draft.proposal.why)
                                      : QString("The rest makes a delivery: ") + q(draft.proposal.why));
    // Side by side, so that the button is in sight without scrolling.
    auto* both = new QWidget;
    auto* row = new QHBoxLayout(both);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(14);
    auto *form = new Form, *right = new Form;
    row->addWidget(form, 1);
    row->addWidget(right, 1);
    QVector<QPair<QString, QString>> disciplines{{"choose", ""}};
    for (const project::Discipline& x : orNothing(at.session.project().setup().disciplines()))
        disciplines.append({q(x.name), q(x.name)});
    auto* discipline = form->choice("addDiscipline", "Discipline", disciplines, q(draft.proposal.discipline));
    auto* revision = form->line("addRevision", "Revision", q(draft.proposal.revision));
    auto* title = form->line("addTitle", "Title", q(draft.proposal.title));
    auto* sender = form->line("addSender", "Sender", q(draft.proposal.sender));
    auto* suitability = right->choice("addSuitability", "Suitability", suitabilities(), q(draft.proposal.suitability));
    const int present = orNothing(at.session.project().deliveries().cycle());
    auto* cycle = right->number("addCycle", "Cycle", present, 1, present + 1);
    auto* note = right->text("addNote", "Note", {}, 3);
    d.addWidget(both);
    QStringList names;
    for (const fs::path& model : draft.models)
        names += q(nameInUtf8(model));
    if (!names.isEmpty())
        d.addFact(names.size() == 1 ? "Model" : "Models", names.join("\n"));
    names.clear();
    for (const fs::path& document : draft.documents)
        names += q(nameInUtf8(document));
    if (!names.isEmpty())
        d.addFact(draft.documents.size() == 1 ? "Document" : "Documents", names.join("\n"));
    const auto press = [=, &session = at.session] {
        project::NewDelivery x;
        x.discipline = discipline->currentData().toString().toStdString();
        x.revision = trimmed(revision);
        x.title = trimmed(title);
        x.sender = trimmed(sender);
        x.suitability = suitability->currentData().toString().toStdString();
        x.cycle = cycle->value();
        x.note = note->toPlainText().trimmed().toStdString();
        x.time = session.now().time;
        for (const fs::path& model : draft.models)
            x.models.push_back({model, {}, {}, 0});
        x.documents = draft.documents;
        if (x.discipline.empty() || x.revision.empty()) {
            session.fail(
                {project::kUnknown, x.discipline.empty() ? "Choose the discipline it is of." : "Give it a revision."});
            return;
        }
        session.receive(std::move(x));
        done();
    };
    addEnd(at, "addDelivery", "Add it to the register", !draft.models.empty(), press, giveUp);
    discipline->setFocus();
}

namespace {

/// Ends a form once what it asked for is done; else it stays for another try.
std::function<void(bool)> doneIf(const Done& done)
{
    return [done](bool isDone) {
        if (isDone)
            done();
    };
}

} // namespace

void showDeclineForm(const StageContext& at, const project::Delivery& delivery, const Done& done)
{
    Details& d = at.details;
    d.clear();
    d.addTitle("Decline " + q(delivery.name()));
    d.addText("It stays in the register with the reason; it can still be taken in later.");
    auto* form = new Form;
    auto* reason = form->text("declineReason", "Reason", {}, 4);
    auto* attach = form->tick("attachReport", "The quality report goes with it", true);
    d.addWidget(form);
    const auto press = [=, &session = at.session, id = delivery.id] {
        const std::string words = reason->toPlainText().trimmed().toStdString();
        if (words.empty()) {
            session.fail({project::kUnknown, "Write the reason, as the sender will read it."});
            return;
        }
        session.decline(id, words, attach->isChecked(), doneIf(done));
    };
    addEnd(at, "declineIt", "Decline it", true, press, done);
    reason->setFocus();
}

void showHoldForm(const StageContext& at, const project::Delivery& delivery, const Done& done)
{
    Details& d = at.details;
    d.clear();
    d.addTitle("Hold " + q(delivery.name()));
    d.addText("Newer deliveries of " + q(delivery.discipline) + " wait while it is held; taking one in ends the hold.");
    auto* form = new Form;
    auto* hasEnd = form->tick("holdHasEnd", "Until the end of a day", true);
    auto* day = form->day("holdUntil", "Day",
                          QDate::fromString(q(at.session.now().time.substr(0, 10)), Qt::ISODate).addDays(14));
    QObject::connect(hasEnd, &QCheckBox::toggled, day, &QWidget::setEnabled);
    auto* reason = form->line("holdReason", "Reason", {}, "as: until the tender is out");
    d.addWidget(form);
    const auto press = [=, &session = at.session, discipline = delivery.discipline] {
        const std::string until = hasEnd->isChecked() ? day->date().toString(Qt::ISODate).toStdString() : "";
        session.write(
            [hold = project::Hold{discipline, until, trimmed(reason), {}}, who = session.now()](project::Project& p) {
                return Session::saying(p.deliveries().hold(hold, who), "Held. Newer deliveries wait until then.");
            },
            doneIf(done));
    };
    addEnd(at, "holdIt", "Hold it", true, press, done);
}

void showDescribeForm(const StageContext& at, const project::Delivery& delivery, const Done& done)
{
    Details& d = at.details;
    d.clear();
    d.addTitle("Describe " + q(delivery.name()));
    auto* form = new Form;
    auto* title = form->line("describeTitle", "Title", q(delivery.title));
    auto* sender = form->line("describeSender", "Sender", q(delivery.sender));
    auto* suitability = form->choice("describeSuitability", "Suitability", suitabilities(), q(delivery.suitability));
    auto* note = form->text("describeNote", "Note", q(delivery.note), 4);
    d.addWidget(form);
    const auto press = [=, &session = at.session, id = delivery.id] {
        const project::DeliveryWords words{trimmed(title), trimmed(sender),
                                           suitability->currentData().toString().toStdString(),
                                           note->toPlainText().trimmed().toStdString()};
        session.write(
            [id, words, who = session.now()](project::Project& p) {
                return Session::saying(p.deliveries().describe(id, words, who), "Described.");
            },
            doneIf(done));
    };
    addEnd(at, "describeIt", "Keep", true, press, done);
}

void showLeaveOutForm(const StageContext& at, const std::string& discipline, const Done& done)
{
    Details& d = at.details;
    d.clear();
    d.addTitle("Leave out of " + q(discipline));
    d.addText("Classes that are ticked are not read, with their subclasses: not shown, not tested, not compared. The "
              "sender's file stays whole.");
    project::Discipline now;
    for (project::Discipline& x : orNothing(at.session.project().setup().disciplines()))
        if (x.name == discipline)
            now = std::move(x);
    std::map<std::string, std::size_t> classes; // with how many there are
    for (const std::string& name : now.leftOut)
        classes[name] = 0;
    const project::Inside* inside = at.session.inside();
    const bool isLookedInto = inside != nullptr && inside->delivery.discipline == discipline;
    for (const federation::Member& member : isLookedInto ? inside->alone.members : at.session.workspace().members)
        if (member.discipline == discipline)
            for (const ifc::Element& e : member.model->elements())
                ++classes[std::string(member.model->className(e))];
    auto* form = new Form;
    QVector<QPair<QCheckBox*, std::string>> ticks;
    for (const auto& [name, count] : classes)
        ticks.append(
            {form->tick("leaveOut-" + q(name),
                        q(classInWords(name)) + (count > 0 ? " · " + QString::number(count) : " · left out now"),
                        std::find(now.leftOut.begin(), now.leftOut.end(), name) != now.leftOut.end()),
             name});
    d.addWidget(form);
    const auto press = [=, &session = at.session] {
        project::Discipline next = now;
        next.leftOut.clear();
        for (const auto& [tick, name] : ticks)
            if (tick->isChecked())
                next.leftOut.push_back(name);
        session.write([next, who = session.now()](
                          project::Project& p) { return Session::saying(p.setup().setDiscipline(next, who)); },
                      [done, &session](bool isDone) {
                          if (!isDone)
                              return;
                          done();
                          if (session.inside() != nullptr && !session.isComposing())
                              session.composeAgain(); // also where nothing of it is in use
                      });
    };
    addEnd(at, "leaveOutIt", "Leave out what is ticked", !at.session.isComposing(), press, done);
}

void showWatchForm(const StageContext& at, const QVector<QPair<QString, QString>>& folders, const Done& agreed,
                   const Done& done)
{
    Details& d = at.details;
    d.clear();
    d.addTitle(folders.size() == 1 ? "Watch a drop folder here" : "Watch drop folders here");
    d.addText(
        "This project names these folders. Watched on this computer, every model that lies or arrives there is copied "
        "into the project's folder and goes with it to whoever gets it. Agree only to folders that are meant for "
        "this project.");
    for (const auto& [discipline, folder] : folders)
        d.addFact(discipline, folder);
    addEnd(at, "watchThem", folders.size() == 1 ? "Watch it" : "Watch them", true, agreed, done);
}

} // namespace wendrix::app
