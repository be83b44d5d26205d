#include "shell/notes_panel.h"

#include "core/base/text.h"
#include "shell/details.h"
#include "shell/row_list.h"
#include "shell/session.h"
#include "shell/stage.h"
#include "shell/theme.h"

#include <QApplication>
#include <QPlainTextEdit>

namespace wendrix::app {

using project::Note;

namespace {

constexpr int kMostHigh = 230;

struct Status {
    const char* status;
    const char* words;
    Mark mark;
};
constexpr Status kStatuses[] = {{Note::kOpen, "open", Mark::CircleOpen},
                                {Note::kAnswered, "answered", Mark::CircleHalf},
                                {Note::kSettled, "settled", Mark::CircleClosed}};

const Status& statusOf(const std::string& status)
{
    for (const Status& s : kStatuses)
        if (status == s.status)
            return s;
    return kStatuses[0];
}

QPlainTextEdit* field(const QString& name, const QString& hint)
{
    auto* edit = new QPlainTextEdit;
    edit->setObjectName(name);
    edit->setPlaceholderText(hint);
    edit->setFixedHeight(64);
    edit->setTabChangesFocus(true);
    return edit;
}

} // namespace

NotesPanel::NotesPanel(Details& details, const ViewsContext& at, MarkTool& tool, QObject* parent)
    : QObject(parent), details_(details), at_(at), tool_(tool)
{
    connect(&tool_, &MarkTool::notePlaced, this, &NotesPanel::begin);
    connect(&at_.session, &Session::opened, this, [this] { setSigns(areSignsShown_); });
    connect(&at_.session, &Session::changed, this, [this](const project::Changed& what) {
        if (what.has(project::Book::Views))
            setSigns(areSignsShown_);
    });
}

void NotesPanel::setSigns(bool areShown)
{
    areSignsShown_ = areShown;
    std::vector<view::Marker> signs;
    if (areShown && at_.session.hasProject()) {
        const auto notes = orNothing(at_.session.project().views().notes());
        for (const Note& note : notes) {
            const bool isSettled = note.status() == Note::kSettled;
            signs.push_back({note.place, std::to_string(note.number),
                             toColour(note.uuid == current_ ? theme::kAction
                                      : isSettled           ? theme::kPanel
                                                            : theme::kInk),
                             toColour(note.uuid == current_ || !isSettled ? theme::kPanel : theme::kSoftInk)});
        }
        if (begun_)
            signs.push_back({*begun_, "?", toColour(theme::kAction), toColour(theme::kPanel)});
    }
    at_.scene.change([&](view::Scene& scene) { scene.setNoteSigns(std::move(signs)); });
}

void NotesPanel::begin(Point3 place)
{
    if (!at_.session.hasProject()) {
        at_.session.fail({project::kNoProject, "Open a project first; notes are kept in it."});
        return;
    }
    begun_ = place;
    setSigns(true);
    details_.clear();
    details_.setOwner("notes");
    details_.addTitle("A new note");
    details_.addText(
        "It gets the next number and keeps this view with all that is shown, cut, coloured, measured and drawn.");
    auto* words = field("noteWords", "What is to be looked at");
    details_.addWidget(words);
    details_.addButtons({{"writeNote",
                          "Write note",
                          {},
                          true,
                          true,
                          [this, words] {
                              Note note;
                              note.place = *begun_;
                              note.state = view::toJson(stateToKeep(at_));
                              note.said.push_back({Note::kOpen, words->toPlainText().trimmed().toStdString(), {}});
                              at_.session.write(
                                  [note, picture = pictureToKeep(at_), who = at_.session.now()](project::Project& p) {
                                      const auto number = p.views().addNote(note, picture, who);
                                      return Session::saying(
                                          number, number ? "Note " + std::to_string(*number) + " is written." : "");
                                  },
                                  [this](bool isDone) {
                                      const auto notes = orNothing(at_.session.project().views().notes());
                                      if (!isDone || notes.empty())
                                          return;
                                      begun_.reset();
                                      current_ = notes.back().uuid;
                                      show();
                                  });
                          }},
                         {"dropNote", "Not now", {}, false, true, [this] {
                              begun_.reset();
                              show();
                          }}});
    details_.finish();
    words->setFocus();
}

void NotesPanel::show()
{
    begun_.reset();
    setSigns(true);
    const bool isSteppedThrough = qobject_cast<RowList*>(QApplication::focusWidget()) != nullptr; // by the arrow keys
    details_.clear();
    details_.setOwner("notes");
    details_.addTitle("Notes");
    const auto notes =
        at_.session.hasProject() ? orNothing(at_.session.project().views().notes()) : std::vector<Note>{};
    if (notes.empty()) {
        details_.addText(at_.session.hasProject() ? "None yet. Press Note above the scene and click where one is to "
                                                    "stand. What is drawn is kept with the view: press Views."
                                                  : "Open a project; notes and views are kept in it.");
        details_.finish();
        return;
    }
    if (std::none_of(notes.begin(), notes.end(), [&](const Note& n) { return n.uuid == current_; }))
        current_ = notes.back().uuid;
    QStringList counts;
    for (const Status& s : kStatuses)
        if (const auto n =
                std::count_if(notes.begin(), notes.end(), [&](const Note& note) { return note.status() == s.status; });
            n > 0)
            counts << QString("%1 %2").arg(n).arg(s.words);
    details_.addText(counts.join(" · "));
    QVector<Row> rows;
    for (const Note& note : notes) {
        Row row;
        row.id = q(note.uuid);
        row.mark = statusOf(note.status()).mark;
        row.markColour = theme::kInk;
        row.title = QString::number(note.number) + "  " + q(note.words());
        row.subtitle = QString(statusOf(note.status()).words) + " · " + q(note.said.back().by.person);
        rows.append(row);
    }
    auto* list = new RowList("notes", std::move(rows), q(current_), kMostHigh);
    connect(list, &RowList::rowChosen, this, [this](const QString& id) { open(id.toStdString()); });
    details_.addWidget(list);
    for (const Note& note : notes)
        if (note.uuid == current_)
            writeNote(note);
    details_.finish();
    if (isSteppedThrough)
        list->setFocus();
}

void NotesPanel::writeNote(const Note& note)
{
    details_.addHeading("Note " + QString::number(note.number));
    for (const project::NoteWords& said : note.said) {
        if (!said.words.empty())
            details_.addText(q(said.words), false);
        const bool isFirst = &said == &note.said.front();
        details_.addCaption(q(said.by.person + ", " + timeInWords(said.by.time)) +
                            (isFirst ? QString() : ": " + QString(statusOf(said.status).words)));
    }
    auto* words = field("noteAnswer", "Say something to it");
    words->setPlainText(answers_.value(q(note.uuid)));
    connect(words, &QPlainTextEdit::textChanged, this,
            [this, words, uuid = q(note.uuid)] { answers_[uuid] = words->toPlainText(); });
    details_.addWidget(words);
    const auto say = [this, words](const char* status) {
        return [this, words, status, uuid = current_] {
            answers_.remove(q(uuid));
            at_.session.write(
                [uuid, status, words = words->toPlainText().trimmed().toStdString(),
                 who = at_.session.now()](project::Project& p) {
                    return Session::saying(p.views().sayToNote(uuid, status, words, who),
                                           std::string("The note is ") + statusOf(status).words + ".");
                },
                [this](bool) { show(); });
        };
    };
    const bool isSettled = note.status() == Note::kSettled;
    QVector<Details::Button> buttons{
        {"openNote", "To its view", {}, false, true, [this, uuid = current_] { open(uuid); }}};
    if (isSettled)
        buttons.append({"reopenNote", "Open again", {}, false, true, say(Note::kOpen)});
    else
        buttons += {{"answerNote", "Answer", {}, false, true, say(Note::kAnswered)},
                    {"settleNote", "Settle", {}, true, true, say(Note::kSettled)}};
    buttons.append({"removeNote", "Remove", {}, false, true, [this, uuid = current_] {
                        at_.session.write(
                            [uuid, who = at_.session.now()](project::Project& p) {
                                return Session::saying(p.views().removeNote(uuid, who),
                                                       "The note is removed; Ctrl+Z brings it back.");
                            },
                            [this](bool) { show(); });
                    }});
    details_.addButtons(buttons);
    details_.addCaption(
        "J and K step through the notes while Mark up is in hand. I makes an issue of the one that is open.");
}

std::optional<IssueStart> NotesPanel::issueStart() const
{
    if (current_.empty())
        return {};
    for (const Note& note : orNothing(at_.session.project().views().notes()))
        if (note.uuid == current_) {
            IssueStart start{{issues::made_from::kNote, note.words()}, {}};
            for (const project::NoteWords& said : note.said)
                start.material.said += (start.material.said.empty() ? "" : "\n") + said.by.person + ", " +
                                       timeInWords(said.by.time) + ": " + said.words;
            return start;
        }
    return {};
}

void NotesPanel::open(const std::string& uuid)
{
    current_ = uuid;
    for (const Note& note : orNothing(at_.session.project().views().notes()))
        if (note.uuid == uuid)
            openState(at_, note.state, "Note " + QString::number(note.number));
    show();
}

void NotesPanel::step(int by)
{
    if (!at_.session.hasProject())
        return;
    const auto notes = orNothing(at_.session.project().views().notes());
    if (notes.empty())
        return;
    const auto now = std::find_if(notes.begin(), notes.end(), [&](const Note& n) { return n.uuid == current_; });
    const auto last = static_cast<std::ptrdiff_t>(notes.size()) - 1;
    const std::ptrdiff_t at =
        now == notes.end() ? (by > 0 ? 0 : last) : std::clamp<std::ptrdiff_t>(now - notes.begin() + by, 0, last);
    open(notes[static_cast<std::size_t>(at)].uuid);
}

} // namespace wendrix::app
