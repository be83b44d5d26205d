#include <QTest>

#include "core/base/date_time.h"
#include "core/issues/merge.h"

using namespace wendrix;
using namespace wendrix::issues;

/// Two sides of an issue over what both came from: every edit of either side against every edit of the other.
class TestIssueMerge : public QObject {
    Q_OBJECT
private slots:
    void allPairsOfEdits();
    void withoutABaseEveryDifferenceIsAConflict();
    void whatIsDecidedIsTaken();
    void listsAreSets_data();
    void listsAreSets();
    void deletedComments();
    void modifiedDatesNeverConflict();
    void aTimeIsTheSameInEveryZone_data();
    void aTimeIsTheSameInEveryZone();
};

namespace {

using Verdict = Difference::Verdict;

Issue sent()
{
    Issue i;
    i.uuid = "11111111-2222-3333-4444-555555555555";
    i.title = "Duct meets beam";
    i.type = "Clash";
    i.status = "Open";
    i.priority = "High";
    i.stage = "Design";
    i.assignee = "Ventilation";
    i.description = "Lower it.";
    i.createdAt = "2026-11-01T08:00:00Z";
    i.createdBy = "Ines Varga";
    i.modifiedAt = "2026-11-02T08:00:00Z";
    i.dueAt = "2026-11-20T00:00:00Z";
    i.index = 4;
    i.labels = {"Structure", "Level 2"};
    i.links = {"https://example.com/1"};
    i.related = {"r1"};
    i.documents = {{"d1", false, "plan.pdf", "plan.pdf", "Plan", ""}};
    i.snippet = Snippet{".ifc", "part.ifc", "s", false};
    i.comments = {{"c1", "2026-11-01T09:00:00Z", "Ines Varga", "See here", "v1", "", ""},
                  {"c2", "2026-11-01T10:00:00Z", "T. Okafor", "Seen", "", "", ""}};
    Viewpoint v;
    v.uuid = "v1";
    v.selection = {{0, "", "3rPX_Juz59peXXY6wDJl18", 0}};
    i.viewpoints = {v};
    return i;
}

/// One edit; those of the same thing can conflict.
struct Edit {
    const char *name, *thing;
    void (*make)(Issue&);
    bool isOfList = false; ///< what either side adds or takes away goes in, whatever the other one does
};

const std::vector<Edit>& edits()
{
    static const std::vector<Edit> kEdits{
        {"nothing", "", [](Issue&) {}},
        {"a title", "Title", [](Issue& i) { i.title = "Duct through beam"; }},
        {"another title", "Title", [](Issue& i) { i.title = "Duct under beam"; }},
        {"no title", "Title", [](Issue& i) { i.title.clear(); }},
        {"a type", "TopicType", [](Issue& i) { i.type = "Request"; }},
        {"no type", "TopicType", [](Issue& i) { i.type.clear(); }},
        {"done", "TopicStatus", [](Issue& i) { i.status = "Done by assignee"; }},
        {"closed", "TopicStatus", [](Issue& i) { i.status = "Closed"; }},
        {"low", "Priority", [](Issue& i) { i.priority = "Low"; }},
        {"no priority", "Priority", [](Issue& i) { i.priority.clear(); }},
        {"first", "Index", [](Issue& i) { i.index = 1; }},
        {"no place", "Index", [](Issue& i) { i.index.reset(); }},
        {"a later due date", "DueDate", [](Issue& i) { i.dueAt = "2026-12-01T00:00:00Z"; }},
        {"no due date", "DueDate", [](Issue& i) { i.dueAt.clear(); }},
        {"another assignee", "AssignedTo", [](Issue& i) { i.assignee = "Structure"; }},
        {"no assignee", "AssignedTo", [](Issue& i) { i.assignee.clear(); }},
        {"another stage", "Stage", [](Issue& i) { i.stage = "Site"; }},
        {"a description", "Description", [](Issue& i) { i.description = "Lower it by 120 mm."; }},
        {"no description", "Description", [](Issue& i) { i.description.clear(); }},
        {"no snippet", "BimSnippet", [](Issue& i) { i.snippet.reset(); }},
        {"another snippet", "BimSnippet", [](Issue& i) { i.snippet->reference = "b.ifc"; }},
        {"an edited comment", "Comment c1",
         [](Issue& i) {
             i.comments[0].text = "See there";
             i.comments[0].modifiedAt = "2026-11-05T00:00:00Z";
         }},
        {"an emptied comment", "Comment c1", [](Issue& i) { i.comments[0].text.clear(); }},
        {"another edited comment", "Comment c2", [](Issue& i) { i.comments[1].text = "Seen again"; }},
        {"another selection", "Viewpoint v1", [](Issue& i) { i.viewpoints[0].selection.clear(); }},
        {"a cut", "Viewpoint v1",
         [](Issue& i) {
             i.viewpoints[0].planes = {{{0, 0, 3}, {0, 0, 1}}};
         }},
        {"a label more", "labels", [](Issue& i) { i.labels.push_back("Fire"); }, true},
        {"a label less", "labels", [](Issue& i) { i.labels.erase(i.labels.begin()); }, true},
        {"a link more", "links", [](Issue& i) { i.links.push_back("https://example.com/2"); }, true},
        {"no related", "related", [](Issue& i) { i.related.clear(); }, true},
        {"a document more", "documents",
         [](Issue& i) {
             i.documents.push_back({"d2", true, "https://example.com/y", "", "", ""});
         },
         true},
        {"no document", "documents",
         [](Issue& i) {
             std::erase_if(i.documents, [](const DocumentReference& d) { return d.target == "plan.pdf"; });
         },
         true},
        {"a comment more", "comments",
         [](Issue& i) {
             i.comments.push_back({"c3", "2026-11-06T00:00:00Z", "x", "More", "", "", ""});
         },
         true},
        {"a viewpoint more", "viewpoints",
         [](Issue& i) {
             Viewpoint v;
             v.uuid = "v2";
             i.viewpoints.push_back(v);
         },
         true},
    };
    return kEdits;
}

template <class T, class Key>
std::vector<T> sorted(std::vector<T> list, Key key)
{
    std::sort(list.begin(), list.end(), [&](const T& a, const T& b) { return key(a) < key(b); });
    return list;
}

/// Lists in an order of their own: in which order two sides' additions stand means nothing.
Issue ordered(Issue i)
{
    const auto itself = [](const std::string& s) { return s; };
    i.labels = sorted(i.labels, itself);
    i.links = sorted(i.links, itself);
    i.documents = sorted(i.documents, [](const DocumentReference& d) { return d.target; });
    i.comments = sorted(i.comments, [](const Comment& c) { return c.uuid; });
    i.viewpoints = sorted(i.viewpoints, [](const Viewpoint& v) { return v.uuid; });
    return i;
}

std::string thingOf(const Difference& d) { return d.of.empty() ? d.field : d.field + " " + d.of; }

} // namespace

void TestIssueMerge::allPairsOfEdits()
{
    for (const Edit& a : edits())
        for (const Edit& b : edits()) {
            const std::string name = std::string(a.name) + " and " + b.name;
            const Issue base = sent();
            Issue ours = base, theirs = base;
            a.make(ours);
            b.make(theirs);
            const Merge merge = merged(ours, theirs, &base);
            const bool isSame = &a == &b, isConflict = !isSame && !a.isOfList && !b.isOfList && *a.thing != '\0' &&
                                                       std::string(a.thing) == b.thing;
            QVERIFY2(merge.conflicts() == (isConflict ? 1 : 0), name.c_str());
            Issue wanted = base;
            a.make(wanted);
            if (!isSame && !isConflict)
                b.make(wanted);
            QVERIFY2(ordered(merge.issue) == ordered(wanted), name.c_str());
            QVERIFY2(merge.tookTheirs() == (!isSame && !isConflict && *b.thing != '\0'), name.c_str());
            for (const Difference& d : merge.differences) {
                const bool isTold = d.verdict == Verdict::Conflict ? thingOf(d) == a.thing && thingOf(d) == b.thing
                                    : d.verdict == Verdict::Theirs ? thingOf(d) == b.thing
                                                                   : thingOf(d) == a.thing;
                QVERIFY2(isTold, (name + ": " + thingOf(d)).c_str());
            }
        }
}

void TestIssueMerge::withoutABaseEveryDifferenceIsAConflict()
{
    for (const Edit& e : edits()) {
        Issue ours = sent(), theirs = sent();
        e.make(theirs);
        const Merge merge = merged(ours, theirs, nullptr);
        const bool isField = *e.thing != '\0' && !e.isOfList;
        QVERIFY2(merge.conflicts() == (isField ? 1 : 0), e.name);
        if (isField)
            QVERIFY2(merge.issue == ours, e.name);
    }
}

void TestIssueMerge::whatIsDecidedIsTaken()
{
    for (const Edit& a : edits())
        for (const Edit& b : edits()) {
            const Issue base = sent();
            Issue ours = base, theirs = base;
            a.make(ours);
            b.make(theirs);
            Merge merge = merged(ours, theirs, &base);
            if (merge.conflicts() == 0)
                continue;
            for (const Difference& d : merge.differences)
                takeTheirs(merge.issue, d, theirs);
            QVERIFY2(merge.issue == theirs, (std::string(a.name) + " and " + b.name).c_str());
        }
}

void TestIssueMerge::listsAreSets_data()
{
    using List = QStringList;
    QTest::addColumn<List>("base");
    QTest::addColumn<List>("ours");
    QTest::addColumn<List>("theirs");
    QTest::addColumn<List>("result");
    QTest::newRow("both add") << List{"a"} << List{"a", "b"} << List{"a", "c"} << List{"a", "b", "c"};
    QTest::newRow("both add the same") << List{"a"} << List{"a", "b"} << List{"a", "b"} << List{"a", "b"};
    QTest::newRow("one adds, one takes away") << List{"a"} << List{"a", "b"} << List{} << List{"b"};
    QTest::newRow("both take away") << List{"a", "b"} << List{"a"} << List{"b"} << List{};
    QTest::newRow("one empties") << List{"a", "b"} << List{"a", "b"} << List{} << List{};
    QTest::newRow("ours empties") << List{"a", "b"} << List{} << List{"a", "b"} << List{};
}

void TestIssueMerge::listsAreSets()
{
    QFETCH(QStringList, base);
    QFETCH(QStringList, ours);
    QFETCH(QStringList, theirs);
    QFETCH(QStringList, result);
    const auto issue = [](const QStringList& labels) {
        Issue i = sent();
        i.labels.clear();
        for (const QString& l : labels)
            i.labels.push_back(l.toStdString());
        return i;
    };
    const Issue from = issue(base);
    QVERIFY(merged(issue(ours), issue(theirs), &from).issue.labels == issue(result).labels);
}

void TestIssueMerge::deletedComments()
{
    const Issue base = sent();
    Issue with = base, without = base;
    without.comments.pop_back();
    // They lack it: it stays, and that is told.
    const Merge lacking = merged(with, without, &base);
    QVERIFY(lacking.issue.comments.size() == 2 && lacking.lacking == std::vector<std::string>{"c2"});
    // We deleted it: it comes back where everything is kept, and stays deleted where that was meant.
    QCOMPARE(merged(without, with, &base).issue.comments.size(), std::size_t{2});
    QCOMPARE(merged(without, with, &base, Deleted::StaysDeleted).issue.comments.size(), std::size_t{1});
    // Unless they went on with it.
    with.comments[1].text = "But see";
    QCOMPARE(merged(without, with, &base, Deleted::StaysDeleted).issue.comments.size(), std::size_t{2});
}

void TestIssueMerge::modifiedDatesNeverConflict()
{
    const Issue base = sent();
    Issue ours = base, theirs = base;
    ours.modifiedAt = "2026-11-10T00:00:00Z";
    ours.modifiedBy = "us";
    theirs.modifiedAt = "2026-11-10T00:30:00+02:00"; // an hour and a half earlier
    theirs.modifiedBy = "them";
    theirs.title = "T";
    Merge merge = merged(ours, theirs, &base);
    QVERIFY(merge.conflicts() == 0 && merge.issue.modifiedBy == "us" && merge.issue.title == "T");
    theirs.modifiedAt = "2026-11-11T00:00:00";
    merge = merged(ours, theirs, &base);
    QVERIFY(merge.issue.modifiedBy == "them");
    theirs.modifiedAt.clear(); // who says no time is not the later one
    QVERIFY(merged(ours, theirs, &base).issue.modifiedBy == "us");
}

void TestIssueMerge::aTimeIsTheSameInEveryZone_data()
{
    QTest::addColumn<QString>("a");
    QTest::addColumn<QString>("b");
    QTest::addColumn<bool>("isSame");
    const auto row = [](const char* a, const char* b, bool isSame) {
        QTest::addRow("%s %s", a, b) << QString(a) << QString(b) << isSame;
    };
    row("2026-11-28T10:00:00Z", "2026-11-28T10:00:00", true);
    row("2026-11-28T10:00:00Z", "2026-11-28T11:00:00+01:00", true);
    row("2026-11-28T10:00:00Z", "2026-11-28T06:30:00-03:30", true);
    row("2026-11-28T24:00:00Z", "2026-11-29T00:00:00Z", true);
    row("2026-11-28T10:00:00Z", "2026-11-28T10:00:00.000", true);
    row("2026-11-28T10:00:00Z", "2026-11-28T10:00:00.5Z", false);
    row("2024-02-29T00:00:00+14:00", "2024-02-28T10:00:00Z", true);
    row("28.11.2026", "28.11.2026", true); // texts
    row("28.11.2026", "2026-11-28T00:00:00Z", false);
    row("2023-02-29T00:00:00Z", "2023-03-01T00:00:00Z", false);     // no such day
    row("2026-11-28T10:00:00+0100", "2026-11-28T09:00:00Z", false); // no such zone
    row("", "2026-11-28T09:00:00Z", false);
}

void TestIssueMerge::aTimeIsTheSameInEveryZone()
{
    QFETCH(QString, a);
    QFETCH(QString, b);
    QFETCH(bool, isSame);
    QCOMPARE(isSameMoment(a.toStdString(), b.toStdString()), isSame);
    if (microsecondsOf(a.toStdString()) && microsecondsOf(b.toStdString()))
        QCOMPARE(!isEarlier(a.toStdString(), b.toStdString()) && !isEarlier(b.toStdString(), a.toStdString()), isSame);
}

QTEST_GUILESS_MAIN(TestIssueMerge)
#include "test_issue_merge.moc"
