#include "core/project/views_book.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/project/rows.h"

#include <unordered_map>

namespace wendrix::project {

namespace {

constexpr Table kTables[] = {
    {"keptViews",
     "uuid TEXT, version INTEGER, title TEXT, folder TEXT, description TEXT, isShared INTEGER, state TEXT, "
     "picture TEXT, person TEXT, time TEXT, removed INTEGER, PRIMARY KEY (uuid, version)",
     Book::Views},
    {"notes",
     "uuid TEXT PRIMARY KEY, number INTEGER, x REAL, y REAL, z REAL, state TEXT, picture TEXT, removed INTEGER",
     Book::Views},
    {"noteWords", "id INTEGER PRIMARY KEY, note TEXT, status TEXT, words TEXT, person TEXT, time TEXT", Book::Views},
};
constexpr const char* kIndexes[] = {"CREATE INDEX wordsByNote ON noteWords(note)"};

constexpr const char* kColumns =
    "SELECT uuid, version, title, folder, description, isShared, state, picture, person, time FROM keptViews AS k ";

KeptView viewOf(SQLite::Statement& q)
{
    KeptView v;
    v.uuid = text(q, 0);
    v.version = q.getColumn(1).getInt();
    v.title = text(q, 2);
    v.folder = text(q, 3);
    v.description = text(q, 4);
    v.isShared = q.getColumn(5).getInt() != 0;
    v.state = text(q, 6);
    v.picture = text(q, 7);
    v.by.person = text(q, 8);
    v.by.time = text(q, 9);
    return v;
}

Deed deed(std::string what) { return {Book::Views, std::move(what)}; }

} // namespace

std::span<const Table> ViewsBook::tables() { return kTables; }
std::span<const char* const> ViewsBook::indexes() { return kIndexes; }

Result<std::vector<KeptView>> ViewsBook::views(const std::string& person) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(
            db,
            std::string(kColumns) +
                "WHERE removed=0 AND version=(SELECT MAX(version) FROM keptViews WHERE uuid=k.uuid) AND (isShared=1 OR "
                "(SELECT person FROM keptViews WHERE uuid=k.uuid AND version=1)=?) ORDER BY folder, title",
            viewOf, person);
    });
}

Result<std::vector<KeptView>> ViewsBook::versionsOf(const std::string& uuid) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(db, std::string(kColumns) + "WHERE uuid=? AND removed=0 ORDER BY version DESC", viewOf, uuid);
    });
}

Result<std::string> ViewsBook::keepPicture(const std::string& name, const std::string& png) const
{
    if (png.empty())
        return std::string();
    // Before the transaction: a picture nobody refers to is harmless, a reference to none is not.
    if (auto written = writeFileWhole(folder_ / "pictures" / name, png); !written)
        return fail(written.error());
    return name;
}

Result<std::string> ViewsBook::keep(const KeptView& view, const std::string& picturePng, const WhoAndWhen& who)
{
    if (view.title.empty())
        return fail({kUnknown, "A kept view needs a title to be found by."});
    const std::string uuid = view.uuid.empty() ? newUuid() : view.uuid;
    const auto versions = versionsOf(uuid);
    if (!versions)
        return fail(versions.error());
    const int version = versions->empty() ? 1 : versions->front().version + 1;
    const auto picture = keepPicture("view-" + uuid + "-" + std::to_string(version) + ".png", picturePng);
    if (!picture)
        return fail(picture.error());
    const auto done = store_.act(
        deed((version == 1 ? "View kept: " : "View updated: ") + view.title), who, [&](SQLite::Database& db) {
            run(db, "INSERT INTO keptViews VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 0)", uuid, version, view.title,
                view.folder, view.description, view.isShared ? 1 : 0, view.state, *picture, who.person, who.time);
        });
    if (!done)
        return fail(done.error());
    return uuid;
}

Result<void> ViewsBook::remove(const std::string& uuid, const WhoAndWhen& who)
{
    const auto versions = versionsOf(uuid);
    if (!versions)
        return fail(versions.error());
    if (versions->empty())
        return fail({kUnknown, "The view is no longer there."});
    return store_.act(deed("View removed: " + versions->front().title), who,
                      [&](SQLite::Database& db) { run(db, "UPDATE keptViews SET removed=1 WHERE uuid=?", uuid); });
}

Result<std::vector<Note>> ViewsBook::notes() const
{
    return store_.read([](SQLite::Database& db) {
        std::unordered_map<std::string, std::size_t> byUuid;
        std::vector<Note> notes;
        SQLite::Statement q(db,
                            "SELECT uuid, number, x, y, z, state, picture FROM notes WHERE removed=0 ORDER BY number");
        while (q.executeStep()) {
            Note note;
            note.uuid = text(q, 0);
            note.number = q.getColumn(1).getInt();
            note.place = point(q, 2);
            note.state = text(q, 5);
            note.picture = text(q, 6);
            byUuid[note.uuid] = notes.size();
            notes.push_back(std::move(note));
        }
        SQLite::Statement words(db, "SELECT note, status, words, person, time FROM noteWords ORDER BY id");
        while (words.executeStep())
            if (const auto found = byUuid.find(text(words, 0)); found != byUuid.end())
                notes[found->second].said.push_back({text(words, 1), text(words, 2), {text(words, 3), text(words, 4)}});
        std::erase_if(notes, [](const Note& note) { return note.said.empty(); }); // none is ever written so
        return notes;
    });
}

Result<int> ViewsBook::addNote(const Note& note, const std::string& picturePng, const WhoAndWhen& who)
{
    if (note.said.empty() || note.said.front().words.empty())
        return fail({kUnknown, "A note needs words; write what is to be looked at."});
    const std::string uuid = newUuid();
    const auto picture = keepPicture("note-" + uuid + ".png", picturePng);
    if (!picture)
        return fail(picture.error());
    int number = 0;
    Deed written = deed("Note: " + note.said.front().words);
    const auto done = store_.act(written, who, [&](SQLite::Database& db) {
        // Never given twice, even where its note was removed: somebody may have written it down.
        number = static_cast<int>(nextNumber(db, "note"));
        written.what = "Note " + std::to_string(number) + ": " + note.said.front().words;
        run(db, "INSERT INTO notes VALUES(?, ?, ?, ?, ?, ?, ?, 0)", uuid, number, note.place.x, note.place.y,
            note.place.z, note.state, *picture);
        run(db, "INSERT INTO noteWords(note, status, words, person, time) VALUES(?, ?, ?, ?, ?)", uuid,
            std::string(Note::kOpen), note.said.front().words, who.person, who.time);
    });
    if (!done)
        return fail(done.error());
    return number;
}

Result<std::string> ViewsBook::numberOf(const std::string& uuid) const
{
    return store_.read([&](SQLite::Database& db) {
        std::string number = textOr(db, "SELECT number FROM notes WHERE uuid=? AND removed=0", uuid);
        if (number.empty())
            throw Refused{{kUnknown, "The note is no longer there."}};
        return number;
    });
}

Result<void> ViewsBook::sayToNote(const std::string& uuid, const std::string& status, const std::string& words,
                                  const WhoAndWhen& who)
{
    const auto number = numberOf(uuid);
    if (!number)
        return fail(number.error());
    if (status != Note::kOpen && status != Note::kAnswered && status != Note::kSettled)
        return fail({kUnknown, "A note is open, answered or settled; \"" + status + "\" says nothing of it."});
    return store_.act(deed("Note " + *number + " is " + status + (words.empty() ? "" : ": " + words)), who,
                      [&](SQLite::Database& db) {
                          run(db, "INSERT INTO noteWords(note, status, words, person, time) VALUES(?, ?, ?, ?, ?)",
                              uuid, status, words, who.person, who.time);
                      });
}

Result<void> ViewsBook::removeNote(const std::string& uuid, const WhoAndWhen& who)
{
    const auto number = numberOf(uuid);
    if (!number)
        return fail(number.error());
    return store_.act(deed("Note " + *number + " removed"), who,
                      [&](SQLite::Database& db) { run(db, "UPDATE notes SET removed=1 WHERE uuid=?", uuid); });
}

} // namespace wendrix::project
