#include <QTest>

#include "core/base/file.h"
#include "core/federation/member.h"
#include "support/demo.h"

#include <cmath>

using namespace wendrix;

/// Deliveries that something happened to on the way: they are refused or read with diagnostics, always to an end, and
/// whatever is built stands somewhere.
class TestDamagedFiles : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void bitsTurned_data();
    void bitsTurned();
    void cutAnywhere();
    void linesLost();
    void linesSwapped();

private:
    void readToTheEnd(const std::string& bytes) const;
    std::string text_;
};

void TestDamagedFiles::initTestCase()
{
    const auto file = MappedFile::open(test::demoFolder() + "/data/MSS-VLW-VEN-P01.ifc");
    QVERIFY(file.has_value());
    text_ = (*file)->bytes();
}

void TestDamagedFiles::readToTheEnd(const std::string& bytes) const
{
    Progress progress;
    const auto model = ifc::Model::fromBytes(bytes, "damaged.ifc", progress);
    if (!model) {
        QVERIFY(!model.error().message.empty());
        return;
    }
    for (const ifc::Element& e : (*model)->elements())
        (void)(*model)->properties(e);
    const auto geometry = geometry::MemberGeometry::build(**model, progress).value();
    for (const geometry::ElementShape& shape : geometry->elements())
        if (!shape.placed.empty())
            QVERIFY(length(shape.bounds.min) + length(shape.bounds.max) < 1e10 && std::isfinite(shape.area));
}

void TestDamagedFiles::bitsTurned_data()
{
    QTest::addColumn<int>("bits");
    QTest::newRow("one") << 1;
    QTest::newRow("ten") << 10;
    QTest::newRow("a thousand") << 1000;
}

void TestDamagedFiles::bitsTurned()
{
    QFETCH(int, bits);
    std::uint64_t state = 12345 + static_cast<std::uint64_t>(bits);
    const auto next = [&] { // Knuth's linear congruential generator: the same bits at every run
        state = state * 6364136223846793005ull + 1442695040888963407ull;
        return state >> 33;
    };
    for (int round = 0; round < 25; ++round) {
        std::string damaged = text_;
        for (int i = 0; i < bits; ++i)
            damaged[next() % damaged.size()] ^= static_cast<char>(1u << (next() % 8));
        readToTheEnd(damaged);
    }
}

void TestDamagedFiles::cutAnywhere()
{
    for (std::size_t part = 1; part < 40; ++part) {
        const std::string cut = text_.substr(0, text_.size() * part / 40);
        Progress progress;
        const auto model = ifc::Model::fromBytes(cut, "cut.ifc", progress);
        QVERIFY(!model.has_value());
        QCOMPARE(model.error().code.name, step::kTruncated.name);
    }
}

void TestDamagedFiles::linesLost()
{
    // Every seventh entity is gone: references lead nowhere all over the file.
    std::string damaged;
    std::size_t number = 0;
    for (std::size_t at = 0; at < text_.size();) {
        const std::size_t end = std::min(text_.find('\n', at), text_.size() - 1) + 1;
        if (text_[at] != '#' || ++number % 7 != 0 ||
            text_.substr(at, end - at).find("IFCPROJECT(") != std::string::npos)
            damaged += text_.substr(at, end - at);
        at = end;
    }
    readToTheEnd(damaged);
}

void TestDamagedFiles::linesSwapped()
{
    // Every reference leads to the entity after the one that is meant: each is of another kind.
    std::string damaged;
    for (std::size_t at = 0; at < text_.size(); ++at) {
        damaged += text_[at];
        if (text_[at] == '#' && at > 0 && (text_[at - 1] == ',' || text_[at - 1] == '(')) {
            std::size_t end = at + 1;
            while (end < text_.size() && std::isdigit(static_cast<unsigned char>(text_[end])))
                ++end;
            damaged += std::to_string(std::stoull(text_.substr(at + 1, end - at - 1)) + 1);
            at = end - 1;
        }
    }
    readToTheEnd(damaged);
}

QTEST_GUILESS_MAIN(TestDamagedFiles)
#include "test_damaged_files.moc"
