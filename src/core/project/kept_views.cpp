#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/project/project.h"
#include "core/project/rows.h"

/// Views of the scene that are kept by name, every version of them.
namespace wendrix::project {

namespace {

constexpr const char* kColumns = "uuid, version, title, folder, description, isShared, state, picture, person, time, removed";

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

} // namespace

std::vector<KeptView> Project::keptViews(const std::string& person) const
{
    SQLite::Statement q(db(), std::string("SELECT ") + kColumns + " FROM keptViews AS k WHERE removed=0 AND version=(SELECT MAX(version) "
                              "FROM keptViews WHERE uuid=k.uuid) AND (isShared=1 OR (SELECT person FROM keptViews WHERE uuid=k.uuid "
                              "AND version=1)=?) ORDER BY folder, title");
    q.bind(1, person);
    std::vector<KeptView> views;
    while (q.executeStep())
        views.push_back(viewOf(q));
    return views;
}

std::vector<KeptView> Project::versionsOf(const std::string& uuid) const
{
    SQLite::Statement q(db(), std::string("SELECT ") + kColumns + " FROM keptViews WHERE uuid=? AND removed=0 ORDER BY version DESC");
    q.bind(1, uuid);
    std::vector<KeptView> views;
    while (q.executeStep())
        views.push_back(viewOf(q));
    return views;
}

Result<std::string> Project::keepView(const KeptView& view, const std::string& picturePng, const WhoAndWhen& who)
{
    if (view.title.empty())
        return fail({kUnknown, "A kept view needs a title to be found by."});
    const std::string uuid = view.uuid.empty() ? newUuid() : view.uuid;
    const auto versions = versionsOf(uuid);
    const int version = versions.empty() ? 1 : versions.front().version + 1;
    const std::string picture = picturePng.empty() ? "" : "view-" + uuid + "-" + std::to_string(version) + ".png";
    if (!picture.empty())
        if (auto written = writeFileWhole(folder_ / "pictures" / picture, picturePng); !written)
            return fail(written.error());
    const auto done = store_->act((version == 1 ? "View kept: " : "View updated: ") + view.title, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO keptViews VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 0)", uuid, version, view.title, view.folder, view.description,
            view.isShared ? 1 : 0, view.state, picture, who.person, who.time);
    });
    if (!done)
        return fail(done.error());
    return uuid;
}

Result<void> Project::removeView(const std::string& uuid, const WhoAndWhen& who)
{
    const auto versions = versionsOf(uuid);
    if (versions.empty())
        return fail({kUnknown, "The view is no longer there."});
    return store_->act("View removed: " + versions.front().title, who,
                       [&](SQLite::Database& db) { run(db, "UPDATE keptViews SET removed=1 WHERE uuid=?", uuid); });
}

} // namespace wendrix::project
