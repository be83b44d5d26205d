#include <QTemporaryDir>
#include <QTest>

#include "core/base/binary.h"
#include "core/base/file.h"
#include "core/base/hash.h"
#include "core/federation/member_cache.h"
#include "support/demo.h"
#include "support/ifc_text.h"

#include <filesystem>
#include <fstream>

using namespace wendrix;
using federation::Member;
using federation::MemberCache;

/// A kept member is the same as one that is read, and whatever is wrong with a kept one is noticed.
class TestMemberCache : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void init();
    void givesBackTheSame_data();
    void givesBackTheSame();
    void noticesDamage_data();
    void noticesDamage();
    void madeUpPlacesHarmNothing();
    void shortenedWhileItIsRead();
    void isMadeByOpening();
    void dropsOlderVersions();

private:
    Member keptMember() const;
    std::string file_, sha_;
    std::unique_ptr<QTemporaryDir> folder_;
};

void TestMemberCache::initTestCase()
{
    file_ = test::demoFolder() + "/data/MSS-QMA-ARC-P01.ifc";
    sha_ = sha256OfFile(file_).value();
}

void TestMemberCache::init() { folder_ = std::make_unique<QTemporaryDir>(); }

Member TestMemberCache::keptMember() const
{
    Progress progress;
    const Member member = federation::openMember(file_, progress).value();
    MemberCache(folder_->path().toStdString()).keep(member, sha_);
    return member;
}

void TestMemberCache::givesBackTheSame_data()
{
    QTest::addColumn<QString>("file");
    for (const char* name : {"MSS-QMA-ARC-P01.ifc", "MSS-TBF-STR-P02.ifc", "MSS-VLW-VEN-P01.ifc"})
        QTest::newRow(name) << QString(name);
}

void TestMemberCache::givesBackTheSame()
{
    QFETCH(QString, file);
    const std::string path = test::demoFolder() + "/data/" + file.toStdString();
    const MemberCache cache(folder_->path().toStdString());
    Progress progress;
    const Member read = federation::openMember(path, progress).value();
    cache.keep(read, "abc");
    const auto kept = cache.find(path, "abc");
    QVERIFY(kept.has_value());
    const ifc::Model &a = *read.model, &b = *kept->model;
    QCOMPARE(b.projectGuid(), a.projectGuid());
    QCOMPARE(b.units().lengthToMetres, a.units().lengthToMetres);
    QVERIFY(b.units().byKind == a.units().byKind);
    QCOMPARE(b.georeference().eastings, a.georeference().eastings);
    QCOMPARE(b.georeference().trueNorth.has_value(), a.georeference().trueNorth.has_value());
    QCOMPARE(b.storeys().size(), a.storeys().size());
    QCOMPARE(b.grids().size(), a.grids().size());
    QCOMPARE(b.diagnostics().size(), a.diagnostics().size());
    for (std::size_t i = 0; i < a.grids().size(); ++i)
        for (std::size_t k = 0; k < a.grids()[i].axes.size(); ++k) {
            QCOMPARE(b.grids()[i].axes[k].tag, a.grids()[i].axes[k].tag);
            QVERIFY(b.grids()[i].axes[k].start == a.grids()[i].axes[k].start);
        }
    QCOMPARE(b.elements().size(), a.elements().size());
    for (std::size_t i = 0; i < a.elements().size(); ++i) {
        const ifc::Element &x = a.elements()[i], &y = b.elements()[i];
        QCOMPARE(y.guid, x.guid);
        QCOMPARE(b.text(y.name), a.text(x.name));
        QCOMPARE(b.text(y.material), a.text(x.material));
        QCOMPARE(b.text(y.system), a.text(x.system));
        QCOMPARE(y.storey, x.storey);
        QVERIFY(y.placement == x.placement);
        QCOMPARE(y.openings, x.openings);
        QVERIFY(b.find(x.guid) == a.find(x.guid));
        QVERIFY(b.properties(y) == a.properties(x)); // read from the file again, through the kept index
        const geometry::ElementShape &p = read.geometry->elements()[i], &q = kept->geometry->elements()[i];
        QCOMPARE(q.volume, p.volume);
        QCOMPARE(q.area, p.area);
        QCOMPARE(q.isClosed, p.isClosed);
        const geometry::Mesh m = read.geometry->meshOf(static_cast<std::uint32_t>(i)),
                             n = kept->geometry->meshOf(static_cast<std::uint32_t>(i));
        QVERIFY(m.points == n.points && m.triangles == n.triangles);
    }
}

void TestMemberCache::noticesDamage_data()
{
    QTest::addColumn<QString>("what");
    for (const char* what : {"a bit turned at the start", "a bit turned in the middle", "a bit turned at the end",
                             "cut off", "empty", "longer", "of another delivery", "the delivery itself changed"})
        QTest::newRow(what) << QString(what);
}

void TestMemberCache::noticesDamage()
{
    QFETCH(QString, what);
    (void)keptMember();
    const MemberCache cache(folder_->path().toStdString());
    const std::string kept = cache.fileOf(sha_).string();
    std::string delivery = file_, bytes;
    {
        std::ifstream in(kept, std::ios::binary);
        bytes.assign(std::istreambuf_iterator<char>(in), {});
    }
    QVERIFY(cache.find(delivery, sha_).has_value());
    if (what.contains("start"))
        bytes[9] = static_cast<char>(bytes[9] ^ 1);
    else if (what.contains("middle"))
        bytes[bytes.size() / 2] = static_cast<char>(bytes[bytes.size() / 2] ^ 0x40);
    else if (what.contains("end"))
        bytes.back() = static_cast<char>(bytes.back() ^ 1);
    else if (what == "cut off")
        bytes.resize(bytes.size() / 2);
    else if (what == "empty")
        bytes.clear();
    else if (what == "longer")
        bytes += "more";
    else if (what == "of another delivery")
        bytes[20] = bytes[20] == 'a' ? 'b' : 'a';
    else {
        delivery = folder_->filePath("changed.ifc").toStdString();
        QVERIFY(writeFileWhole(delivery, "ISO-10303-21;HEADER;ENDSEC;DATA;ENDSEC;END-ISO-10303-21;").has_value());
    }
    std::ofstream(kept, std::ios::binary | std::ios::trunc) << bytes;
    QVERIFY(!cache.find(delivery, sha_).has_value());
}

namespace {

/// Everything that a window asks of a member.
std::size_t askEverything(const Member& member)
{
    std::size_t sum = 0;
    const ifc::Model& model = *member.model;
    for (const ifc::Element& e : model.elements()) {
        sum += model.properties(e).size() + model.text(e.name).size() + model.text(e.system).size();
        sum += model.className(e).size() + (model.find(e.guid) ? 1 : 0) + model.relations().of(e.entity).size();
        sum += model.relations().others(e.entity, "IfcRelContainedInSpatialStructure", false).size();
        sum += e.storey >= 0 ? model.storeys()[static_cast<std::size_t>(e.storey)].name.size() : 0;
    }
    for (const step::Entry& entry : model.source().file().entities().all())
        sum += model.source().entity(entry.id()).typeName().size();
    sum += model.source().positions("IfcProduct").size();
    for (ifc::ElementIndex i = 0; i < model.elements().size(); ++i)
        sum += member.geometry->meshOf(i).triangles.size();
    for (const auto& shape : member.geometry->shapes())
        for (const auto& edge : shape.edges)
            sum += shape.mesh.points[edge[0]].x + shape.mesh.points[edge[1]].x > 0 ? 1 : 0;
    return sum;
}

/// A kept member whose bytes were changed by somebody who knows the checksum.
void writeChanged(const std::string& file, std::string all, std::size_t at, std::string_view bytes)
{
    constexpr std::size_t kHeadBytes = 96;
    all.replace(kHeadBytes + at, bytes.size(), bytes);
    const std::uint64_t sum = checksum(std::string_view(all).substr(kHeadBytes));
    std::memcpy(all.data() + kHeadBytes - sizeof sum, &sum, sizeof sum);
    std::filesystem::remove(file); // writing over one that is there waits for the disk
    std::ofstream(file, std::ios::binary) << all;
}

} // namespace

void TestMemberCache::madeUpPlacesHarmNothing()
{
    // A small file, so that most of its bytes are numbers and places; each is made up in turn.
    const std::string delivery = folder_->filePath("small.ifc").toStdString();
    const std::string text = test::ifcFile("IFC4", "#80=IFCBLOCK(#8,1.,2.,3.);" + test::proxyOver("#80", "CSG"));
    QVERIFY(writeFileWhole(delivery, text).has_value());
    const MemberCache cache(folder_->path().toStdString());
    Progress progress;
    const Member member = federation::openMember(delivery, progress).value();
    QCOMPARE(member.geometry->elements().size(), std::size_t{1});
    QVERIFY(member.geometry->triangleCount() > 0);
    cache.keep(member, sha_);
    const std::string kept = cache.fileOf(sha_).string(), sound = readFileWhole(kept).value();
    const std::size_t bytes = sound.size() - 96;
    std::size_t refused = 0, taken = 0;
    for (std::size_t at = 0; at + 4 <= bytes; at += 4)
        for (const std::uint32_t value : {0u, 1u, 0x7Fu, 0xFFFFu, 0x7FFFFFFFu, 0x80000000u, 0xFFFFFFFFu}) {
            writeChanged(kept, sound, at, std::string_view(reinterpret_cast<const char*>(&value), sizeof value));
            if (const auto found = cache.find(delivery, sha_)) {
                ++taken;
                (void)askEverything(*found);
            } else {
                ++refused;
            }
        }
    QVERIFY(refused > taken / 4); // both happen: numbers may be others, places may not
    QVERIFY(taken > 0);
}

void TestMemberCache::shortenedWhileItIsRead()
{
    // Larger than what the system reads ahead of, so that what is gone has not been seen yet.
    const std::string delivery = folder_->filePath("shortened.ifc").toStdString();
    const std::string whole = readFileWhole(file_).value();
    for (const std::size_t left : {std::size_t{0}, std::size_t{1}, std::size_t{4096}, whole.size() / 2}) {
        QVERIFY(writeFileWhole(delivery, whole).has_value());
        const auto mapped = MappedFile::open(delivery).value();
        QVERIFY(mapped->isWhole());
        std::filesystem::resize_file(delivery, left);
        const std::string_view bytes = mapped->bytes();
        QCOMPARE(bytes.size(), whole.size());
        QCOMPARE(std::string(bytes.substr(0, left)), whole.substr(0, left));
        QCOMPARE(bytes.back(), '\0');
        QVERIFY(!mapped->isWhole());
        Progress progress;
        QVERIFY(!step::File::index(bytes, delivery, progress).has_value());
    }
    // A member that is open when its file is shortened: what was read stays, what is asked for now is not there.
    QVERIFY(writeFileWhole(delivery, whole).has_value());
    const MemberCache cache(folder_->path().toStdString());
    Progress progress;
    Member member = federation::openMember(delivery, progress).value();
    cache.keep(member, sha_);
    for (const bool isKept : {false, true}) {
        if (isKept)
            member = cache.find(delivery, sha_).value();
        const std::size_t before = askEverything(member);
        std::filesystem::resize_file(isKept ? cache.fileOf(sha_).string() : delivery, 5000);
        QVERIFY(askEverything(member) < before);
        QVERIFY(writeFileWhole(delivery, whole).has_value());
        QVERIFY(isKept || cache.find(delivery, sha_).has_value());
    }
    // What was kept of it is of no use any more, and it is read again.
    QVERIFY(!cache.find(delivery, sha_).has_value());
    QVERIFY(federation::openMember(delivery, sha_, {}, cache, progress).has_value());
    QVERIFY(cache.find(delivery, sha_).has_value());
}

void TestMemberCache::isMadeByOpening()
{
    const MemberCache cache(folder_->path().toStdString());
    QVERIFY(!std::filesystem::exists(cache.fileOf(sha_)));
    Progress progress;
    QVERIFY(federation::openMember(file_, sha_, {}, cache, progress).has_value());
    QVERIFY(std::filesystem::exists(cache.fileOf(sha_)));
    // Without a folder nothing is kept, above all not in the working folder.
    const MemberCache none{{}};
    QVERIFY(federation::openMember(file_, sha_, {}, none, progress).has_value());
    QVERIFY(!std::filesystem::exists(none.fileOf(sha_)) && !none.find(file_, sha_));
    // Damaged, it is made anew.
    std::filesystem::resize_file(cache.fileOf(sha_), 100);
    QVERIFY(federation::openMember(file_, sha_, {}, cache, progress).has_value());
    QVERIFY(cache.find(file_, sha_).has_value());
    // A cancelled opening leaves nothing behind.
    std::filesystem::remove(cache.fileOf(sha_));
    Progress cancelled;
    cancelled.cancel();
    QVERIFY(!federation::openMember(file_, sha_, {}, cache, cancelled).has_value());
    QVERIFY(std::filesystem::is_empty(folder_->path().toStdString()));
}

void TestMemberCache::dropsOlderVersions()
{
    const std::string old = folder_->filePath("0123-00000000deadbeef.member").toStdString();
    const std::string other = folder_->filePath("notes.txt").toStdString();
    std::ofstream(old) << "x";
    std::ofstream(other) << "x";
    (void)keptMember();
    QVERIFY(!std::filesystem::exists(old));
    QVERIFY(std::filesystem::exists(other)); // not ours to drop
}

QTEST_GUILESS_MAIN(TestMemberCache)
#include "test_member_cache.moc"
