#include "issues/agreed_page.h"

#include "core/base/text.h"
#include "issues/lists_of_names.h"
#include "shell/form.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QPlainTextEdit>

#include <algorithm>

/// What is agreed: the forms of statuses and their moves, of fields, values and coordinates.
namespace wendrix::app {

namespace {

using issues::StatusShape;

const QVector<QPair<QString, QString>> kShapes{
    {"nothing done yet", "0"}, {"begun", "1"}, {"said to be done", "2"}, {"closed", "3"}, {"opened again", "4"}};

const issues::Move* moveOf(const issues::Workflow& w, const std::string& from, const std::string& to)
{
    const auto at = std::find_if(w.moves.begin(), w.moves.end(),
                                 [&](const issues::Move& m) { return m.from == from && m.to == to; });
    return at == w.moves.end() ? nullptr : &*at;
}

} // namespace

void AgreedPage::showStatus(const issues::Status& status)
{
    const issues::Workflow& w = read_.workflow;
    const Called own = std::make_shared<std::string>(status.name);
    Details& d = at_.details;
    d.addCaption("Status");
    d.addTitle(q(status.name));
    auto* form = new Form;
    auto* name = form->line("statusName", "Name", q(status.name));
    connect(name, &QLineEdit::editingFinished, this, [this, name, own] {
        const std::string former = *own;
        const std::string now = name->text().trimmed().toStdString();
        if (now == former)
            return;
        change("Status " + former + " is called " + now,
               [&](issues::Workflow& x) {
                   if (issues::Status* one = named(x.statuses, former))
                       one->name = now;
                   for (issues::Move& m : x.moves)
                       for (std::string* end : {&m.from, &m.to})
                           if (*end == former)
                               *end = now;
               },
               {{{former, now}}, {}});
        if (named(read_.workflow.statuses, former) == nullptr) { // it is called otherwise from now on
            *own = now;
            wanted_ = idOf("status", now);
        }
    });
    auto* shape = form->choice("statusShape", "It means", kShapes, QString::number(static_cast<int>(status.shape)));
    connect(shape, &QComboBox::activated, this, [this, shape, own] {
        const std::string called = *own;
        change(called + " means something else", [&](issues::Workflow& x) {
            if (issues::Status* one = named(x.statuses, called))
                one->shape = static_cast<StatusShape>(shape->currentData().toInt());
        });
    });
    auto* closed = form->tick("statusClosed", "Nobody waits for it any more", status.isClosed);
    connect(closed, &QCheckBox::clicked, this, [this, closed, own] {
        const std::string called = *own;
        const bool isClosed = closed->isChecked();
        change(called + (isClosed ? " is closed" : " is open"), [&](issues::Workflow& x) {
            if (issues::Status* one = named(x.statuses, called))
                one->isClosed = isClosed;
        });
    });
    d.addWidget(form);
    d.addHeading("From here it may go to");
    d.addText("By everybody, or by people, groups and disciplines with commas between; “assignee” is whoever it is "
              "given to, “requester” whoever asked for it.");
    auto* moves = new Form;
    for (const issues::Status& to : w.statuses) {
        if (to.name == status.name)
            continue;
        const issues::Move* move = moveOf(w, status.name, to.name);
        const QString id = q(to.name);
        auto* isAllowed = moves->tick("moveTo:" + id, id, move != nullptr);
        auto* who =
            moves->line("moveBy:" + id, "by", move != nullptr ? joined(move->who, ", ") : QString(), "everybody");
        moves->setShown(who, move != nullptr);
        connect(isAllowed, &QCheckBox::clicked, this, [this, moves, isAllowed, who, own, other = to.name] {
            const std::string from = *own;
            const bool isOn = isAllowed->isChecked();
            moves->setShown(who, isOn);
            change((isOn ? "May go from " : "May not go from ") + from + " to " + other, [&](issues::Workflow& x) {
                std::erase_if(x.moves, [&](const issues::Move& m) { return m.from == from && m.to == other; });
                if (isOn)
                    x.moves.push_back({from, other, parted(who->text(), ',')});
            });
        });
        connect(who, &QLineEdit::editingFinished, this, [this, who, own, other = to.name] {
            const std::string from = *own;
            change("Who moves from " + from + " to " + other, [&](issues::Workflow& x) {
                for (issues::Move& m : x.moves)
                    if (m.from == from && m.to == other)
                        m.who = parted(who->text(), ',');
            });
        });
    }
    d.addWidget(moves);
    const std::size_t all = w.statuses.size(), number = static_cast<std::size_t>(&status - w.statuses.data());
    d.addButtons({{"addStatus", "Another status", "N", false, true, [this] { addStatus(); }},
                  {"statusUp", "Up", "", false, number > 0, [this, own] { moveStatus(*own, -1); }},
                  {"statusDown", "Down", "", false, number + 1 < all, [this, own] { moveStatus(*own, 1); }},
                  {"removeStatus", "Remove", "", false, all > 2, [this, own] { removeStatus(*own); }}});
}

void AgreedPage::showLists()
{
    Details& d = at_.details;
    d.addTitle("Types, priorities, stages, labels");
    d.addText("One a line, in the order they are offered. The first priority is the highest.");
    auto* form = new Form;
    using List = std::vector<std::string> issues::Workflow::*;
    for (const auto& [id, words, list, lines] :
         {std::tuple<const char*, const char*, List, int>{"agreedTypes", "Types", &issues::Workflow::types, 6},
          {"agreedPriorities", "Priorities", &issues::Workflow::priorities, 4},
          {"agreedStages", "Stages", &issues::Workflow::stages, 4},
          {"agreedLabels", "Labels", &issues::Workflow::labels, 5}}) {
        auto* text = form->text(id, words, joined(read_.workflow.*list, "\n"), lines);
        form->whenLeft(text, [this, list = list, words = words](const QString& now) {
            change(std::string(words) + " changed", [&](issues::Workflow& x) { x.*list = parted(now, '\n'); });
        });
    }
    d.addWidget(form);
}

void AgreedPage::showField(const issues::CustomField& field)
{
    const Called own = std::make_shared<std::string>(field.name);
    Details& d = at_.details;
    d.addCaption("Field of the project's own");
    d.addTitle(q(field.name));
    auto* form = new Form;
    auto* name = form->line("fieldName", "Name", q(field.name));
    connect(name, &QLineEdit::editingFinished, this, [this, name, own] {
        const std::string former = *own;
        const std::string now = name->text().trimmed().toStdString();
        if (now != former)
            change("Field " + former + " is called " + now,
                   [&](issues::Workflow& x) {
                       if (issues::CustomField* one = named(x.fields, former))
                           one->name = now;
                   },
                   {{}, {{former, now}}});
        if (named(read_.workflow.fields, former) == nullptr) {
            *own = now;
            wanted_ = idOf("field", now);
        }
    });
    auto* choices = form->text("fieldChoices", "Offers", joined(field.choices, "\n"), 5);
    form->whenLeft(choices, [this, own](const QString& now) {
        const std::string called = *own;
        change("What " + called + " offers", [&](issues::Workflow& x) {
            if (issues::CustomField* one = named(x.fields, called))
                one->choices = parted(now, '\n');
        });
    });
    auto* asLabel = form->tick("fieldAsLabel", "Goes along in BCF, as a label", field.asLabel);
    connect(asLabel, &QCheckBox::clicked, this, [this, asLabel, own] {
        const std::string called = *own;
        const bool isOn = asLabel->isChecked();
        change(called + (isOn ? " goes along as a label" : " stays here"), [&](issues::Workflow& x) {
            if (issues::CustomField* one = named(x.fields, called))
                one->asLabel = isOn;
        });
    });
    d.addWidget(form);
    d.addText("BCF has no place for fields of a project: as a label it reads “" + q(field.name) +
              ": value”, and is taken from there when a file comes back. Without lines to offer it holds any text.");
    d.addButtons({{"addField", "Another field", "N", false, true, [this] { addField(); }},
                  {"removeField", "Remove", "", false, true, [this, own] { removeField(*own); }}});
}

void AgreedPage::showCoordinates()
{
    Details& d = at_.details;
    d.addTitle("Coordinates of viewpoints");
    auto* form = new Form;
    auto* choice = form->choice("coordinates", "Written",
                                {{"as models are delivered", "delivered"}, {"in the project's own", "project"}},
                                read_.workflow.coordinates == issues::Coordinates::Delivered ? "delivered" : "project");
    connect(choice, &QComboBox::activated, this, [this, choice] {
        const bool isDelivered = choice->currentData().toString() == "delivered";
        change(isDelivered ? "Viewpoints are written as models are delivered"
                           : "Viewpoints are written in the project's coordinates",
               [&](issues::Workflow& x) {
                   x.coordinates = isDelivered ? issues::Coordinates::Delivered : issues::Coordinates::Project;
               });
    });
    d.addWidget(form);
    d.addText("As models are delivered: what an alignment here moved is moved back when BCF is written, so that a "
              "viewpoint lands right beside the models as their authors have them. Files that come are read the same "
              "way.");
    d.addText("In the project's own: those of the reference, for partners who all work with models that stand right.");
}

} // namespace wendrix::app
