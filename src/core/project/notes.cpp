#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/project/project.h"
#include "core/project/rows.h"

#include <unordered_map>

/// Numbered notes at places of the model, and groups of members.
namespace wendrix::project {

std::vector<Note> Project::notes() const
{
    SQLite::Statement q(db(), "SELECT uuid, number, x, y, z, state, picture FROM notes WHERE removed=0 ORDER BY number");
    std::vector<Note> notes;
    std::unordered_map<std::string, std::size_t> byUuid;
    while (q.executeStep()) {
        Note note;
        note.uuid = text(q, 0);
        note.number = q.getColumn(1).getInt();
        note.place = {q.getColumn(2).getDouble(), q.getColumn(3).getDouble(), q.getColumn(4).getDouble()};
        note.state = text(q, 5);
        note.picture = text(q, 6);
        byUuid[note.uuid] = notes.size();
        notes.push_back(std::move(note));
    }
    SQLite::Statement words(db(), "SELECT note, status, words, person, time FROM noteWords ORDER BY id");
    while (words.executeStep())
        if (const auto found = byUuid.find(text(words, 0)); found != byUuid.end())
            notes[found->second].said.push_back({text(words, 1), text(words, 2), {text(words, 3), text(words, 4)}});
    std::erase_if(notes, [](const Note& note) { return note.said.empty(); }); // none is ever written so
    return notes;
}

Result<int> Project::addNote(const Note& note, const std::string& picturePng, const WhoAndWhen& who)
{
    if (note.said.empty() || note.said.front().words.empty())
        return fail({kUnknown, "A note needs words; write what is to be looked at."});
    const std::string uuid = newUuid();
    const std::string picture = picturePng.empty() ? "" : "note-" + uuid + ".png";
    if (!picture.empty())
        if (auto written = writeFileWhole(folder_ / "pictures" / picture, picturePng); !written)
            return fail(written.error());
    // A number is not given twice, even where its note was removed: somebody may have written it down.
    SQLite::Statement last(db(), "SELECT IFNULL(MAX(number), 0) FROM notes");
    last.executeStep();
    const int number = last.getColumn(0).getInt() + 1;
    last.reset();
    const auto done = store_->act("Note " + std::to_string(number) + ": " + note.said.front().words, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO notes VALUES(?, ?, ?, ?, ?, ?, ?, 0)", uuid, number, note.place.x, note.place.y, note.place.z, note.state, picture);
        run(db, "INSERT INTO noteWords(note, status, words, person, time) VALUES(?, ?, ?, ?, ?)", uuid, std::string(Note::kOpen),
            note.said.front().words, who.person, who.time);
    });
    if (!done)
        return fail(done.error());
    return number;
}

Result<void> Project::sayToNote(const std::string& uuid, const std::string& status, const std::string& words, const WhoAndWhen& who)
{
    const std::string number = textOr(db(), "SELECT number FROM notes WHERE uuid=? AND removed=0", uuid);
    if (number.empty())
        return fail({kUnknown, "The note is no longer there."});
    if (status != Note::kOpen && status != Note::kAnswered && status != Note::kSettled)
        return fail({kUnknown, "A note is open, answered or settled; \"" + status + "\" says nothing of it."});
    return store_->act("Note " + number + " is " + status + (words.empty() ? "" : ": " + words), who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO noteWords(note, status, words, person, time) VALUES(?, ?, ?, ?, ?)", uuid, status, words, who.person, who.time);
    });
}

Result<void> Project::removeNote(const std::string& uuid, const WhoAndWhen& who)
{
    const std::string number = textOr(db(), "SELECT number FROM notes WHERE uuid=? AND removed=0", uuid);
    if (number.empty())
        return fail({kUnknown, "The note is no longer there."});
    return store_->act("Note " + number + " removed", who, [&](SQLite::Database& db) { run(db, "UPDATE notes SET removed=1 WHERE uuid=?", uuid); });
}

std::vector<MemberGroup> Project::memberGroups() const
{
    SQLite::Statement q(db(), "SELECT name, discipline FROM memberGroups ORDER BY name, discipline");
    std::vector<MemberGroup> groups;
    while (q.executeStep()) {
        if (groups.empty() || groups.back().name != text(q, 0))
            groups.push_back({text(q, 0), {}});
        groups.back().disciplines.push_back(text(q, 1));
    }
    return groups;
}

Result<void> Project::setMemberGroup(const MemberGroup& group, const WhoAndWhen& who)
{
    if (group.name.empty())
        return fail({kUnknown, "A group needs a name to be switched by."});
    const bool isDissolved = group.disciplines.empty();
    return store_->act((isDissolved ? "Group dissolved: " : "Group: ") + group.name, who, [&](SQLite::Database& db) {
        run(db, "DELETE FROM memberGroups WHERE name=?", group.name);
        for (const std::string& discipline : group.disciplines)
            run(db, "INSERT OR IGNORE INTO memberGroups VALUES(?, ?)", group.name, discipline);
    });
}

} // namespace wendrix::project
