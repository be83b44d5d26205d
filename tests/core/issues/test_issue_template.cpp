#include <QTest>

#include "core/issues/issue_template.h"

#include <set>

using namespace wendrix;
using namespace wendrix::issues;

/// What issues begin with: words in braces, and files of templates.
class TestIssueTemplate : public QObject {
    Q_OBJECT
private slots:
    void wordsInBracesAreReplaced_data();
    void wordsInBracesAreReplaced();
    void mistakesNameTheField_data();
    void mistakesNameTheField();
    void rulesSayPriorityDaysAndWho_data();
    void rulesSayPriorityDaysAndWho();
    void everySourceHasItsOwn();
    void goesThroughAFile();
    void oddFilesAreRefused_data();
    void oddFilesAreRefused();
};

void TestIssueTemplate::wordsInBracesAreReplaced_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("filled");
    QTest::newRow("none") << "Lower it"
                          << "Lower it";
    QTest::newRow("one") << "{left}: lower it"
                         << "Duct: lower it";
    QTest::newRow("two") << "{left} and {right}"
                         << "Duct and Beam";
    QTest::newRow("twice") << "{left}, {left}"
                           << "Duct, Duct";
    QTest::newRow("stands for nothing") << "Where: {bay}."
                                        << "";
    QTest::newRow("a line of nothing between") << "{left}\nWhere: {bay}.\n{right}"
                                               << "Duct\nBeam";
    QTest::newRow("something beside nothing") << "{left} in {bay}"
                                              << "Duct in ";
    QTest::newRow("an empty line stays") << "{left}\n\nbelow"
                                         << "Duct\n\nbelow";
    QTest::newRow("no such word") << "{hello} {left}"
                                  << "{hello} Duct";
    QTest::newRow("open brace") << "{left"
                                << "{left";
    QTest::newRow("close brace") << "left} {right}"
                                 << "left} Beam";
    QTest::newRow("what was put in is not replaced again") << "{odd}"
                                                           << "{left}";
    QTest::newRow("empty") << ""
                           << "";
}

void TestIssueTemplate::wordsInBracesAreReplaced()
{
    QFETCH(QString, text);
    QFETCH(QString, filled);
    const Placeholders with{{"left", "Duct"}, {"right", "Beam"}, {"bay", ""}, {"odd", "{left}"}};
    QCOMPARE(QString::fromStdString(issues::filled(text.toStdString(), with)), filled);
}

void TestIssueTemplate::mistakesNameTheField_data()
{
    QTest::addColumn<QByteArray>("field");
    QTest::addColumn<QString>("mistake"); // empty: none
    QTest::newRow("as it is") << QByteArray() << "";
    QTest::newRow("no name") << QByteArray("name") << "A template of issues needs a name.";
    QTest::newRow("no title") << QByteArray("noTitle")
                              << "Title: an issue needs one; {title} is the sentence the group is called by.";
    for (const auto& [field, said] :
         {std::pair{"title", "Title"}, {"description", "Description"}, {"assignee", "Assignee"}, {"label", "Labels"}})
        QTest::newRow(field)
            << QByteArray(field)
            << QString("%1: {nothing} stands for nothing; {where}, {depth} or {pairs} would.").arg(said);
    QTest::newRow("kind") << QByteArray("kind")
                          << "Priority by kind: melted is no kind; there are hard, clearance, duplicate.";
    QTest::newRow("kind alone") << QByteArray("kindAlone")
                                << "Priority by kind: hard has no priority; there are hard, clearance, duplicate.";
    QTest::newRow("set alone") << QByteArray("setAlone")
                               << "Assignee by set: Ventilation stands alone; who is given it and a set belong "
                                  "together.";
    QTest::newRow("source") << QByteArray("source") << "Made from: dreams is nothing that issues are made from.";
    QTest::newRow("days by priority") << QByteArray("daysFor")
                                      << "Days by priority: a priority with a number from 0 to 3650.";
    QTest::newRow("days") << QByteArray("days") << "Days to fix: a number from 0 to 3650.";
}

void TestIssueTemplate::mistakesNameTheField()
{
    QFETCH(QByteArray, field);
    QFETCH(QString, mistake);
    IssueTemplate t = IssueTemplate::usual();
    const std::string wrong = "{nothing}";
    field == "name"          ? (void)t.name.clear()
    : field == "noTitle"     ? t.title.clear()
    : field == "title"       ? (void)(t.title = wrong)
    : field == "description" ? (void)(t.description += wrong)
    : field == "assignee"    ? (void)(t.assignee = wrong)
    : field == "label"       ? t.labels.push_back(wrong)
    : field == "kind"        ? (void)(t.priorityFor = {{"melted", "High"}})
    : field == "kindAlone"   ? (void)(t.priorityFor = {{"hard", ""}})
    : field == "setAlone"    ? (void)(t.assigneeFor = {{"", "Ventilation"}})
    : field == "source"      ? (void)(t.source = "dreams")
    : field == "daysFor"     ? (void)(t.daysFor = {{"High", -1}})
    : field == "days"        ? (void)(t.daysToFix = -1)
                             : (void)0;
    QCOMPARE(QString::fromStdString(mistakeIn(t)), mistake);
}

void TestIssueTemplate::rulesSayPriorityDaysAndWho_data()
{
    QTest::addColumn<QString>("priority"); // of the template
    QTest::addColumn<QStringList>("kinds");
    QTest::addColumn<QString>("weight");
    QTest::addColumn<QString>("is");
    QTest::addColumn<QString>("due");
    QTest::newRow("by its weight") << "" << QStringList{"moved"} << "Low"
                                   << "Low"
                                   << "2026-12-08";
    QTest::newRow("none") << "" << QStringList{} << ""
                          << ""
                          << "2026-12-08";
    QTest::newRow("the template's") << "Normal" << QStringList{"moved"} << "Low"
                                    << "Normal"
                                    << "2026-12-15";
    QTest::newRow("by kind") << "Normal" << QStringList{"removed"} << "Low"
                             << "High"
                             << "2026-12-03";
    QTest::newRow("the first rule of several kinds") << "" << QStringList{"reshaped", "removed"} << ""
                                                     << "High"
                                                     << "2026-12-03";
    QTest::newRow("of another kind") << "" << QStringList{"added"} << ""
                                     << ""
                                     << "2026-12-08";
}

void TestIssueTemplate::rulesSayPriorityDaysAndWho()
{
    QFETCH(QString, priority);
    QFETCH(QStringList, kinds);
    QFETCH(QString, weight);
    QFETCH(QString, is);
    QFETCH(QString, due);
    IssueTemplate t = IssueTemplate::usual(made_from::kChange);
    t.priority = priority.toStdString();
    t.priorityFor = {{"removed", "High"}, {"reshaped", "Normal"}};
    t.daysFor = {{"High", 2}, {"Normal", 14}};
    t.daysToFix = 7;
    Ground ground{{{"title", "Beam"}, {"discipline", "Structure"}}};
    for (const QString& kind : kinds)
        ground.kinds.push_back(kind.toStdString());
    ground.weight = weight.toStdString();
    const Issue i = drafted(t, ground, "2026-12-01T08:00:00Z");
    QCOMPARE(QString::fromStdString(i.priority), is);
    QCOMPARE(QString::fromStdString(i.dueAt.substr(0, 10)), due);
    QVERIFY(i.title == "Beam: is this meant?" && i.assignee == "Structure" && i.labels.size() == 1);
}

void TestIssueTemplate::everySourceHasItsOwn()
{
    std::set<std::string> sources;
    for (const IssueTemplate& t : IssueTemplate::usuals()) {
        QVERIFY2(mistakeIn(t).empty(), mistakeIn(t).c_str());
        QVERIFY(sources.insert(t.source).second);
        QCOMPARE(IssueTemplate::usual(t.source), t);
        // An issue of nothing that is known still has a title, and what is said of nothing is left out.
        const Issue i = drafted(t, {{{"title", ""}}}, "2026-12-01T08:00:00Z");
        QVERIFY2(!i.title.empty(), t.name.c_str());
    }
    QCOMPARE(sources.size(), std::size_t{6});
    QVERIFY(IssueTemplate::usual("nothing such").source == made_from::kClash);
}

void TestIssueTemplate::goesThroughAFile()
{
    IssueTemplate t;
    t.name = "Holes \"to\" cut";
    t.title = "Hole for {left}";
    t.description = "{pairs}\n{revisions}";
    t.type = "Request";
    t.stage = "Execution";
    t.priority = "High";
    t.labels = {"Holes", "{test}"};
    t.assignee = "{left}";
    t.daysToFix = 14;
    t.priorityFor = {{"hard", "High"}, {"duplicate", "Low"}};
    t.assigneeFor = {{"class is Duct", "Ventilation"}};
    t.daysFor = {{"High", 3}};
    QCOMPARE(issueTemplateFromJson(toJson(t)).value(), t);
    for (const auto& [word, says] : placeholders()) {
        IssueTemplate each = IssueTemplate::usual();
        each.description = "{" + word + "}";
        QVERIFY(mistakeIn(each).empty() && !says.empty());
    }
}

void TestIssueTemplate::oddFilesAreRefused_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QByteArray>("says"); // empty: it is taken
    const auto with = [](const QByteArray& more) {
        return QByteArray(R"({"kind": "wendrix-issue-template", "name": "T")") + more + "}";
    };
    QTest::newRow("the least") << with("") << QByteArray();
    QTest::newRow("nothing") << QByteArray() << QByteArray("no template");
    QTest::newRow("a list") << QByteArray("[]") << QByteArray("no template");
    QTest::newRow("another file") << QByteArray(R"({"kind": "wendrix-setup"})") << QByteArray("no template");
    QTest::newRow("kind is a number") << QByteArray(R"({"kind": 3})") << QByteArray("no template");
    QTest::newRow("no name") << QByteArray(R"({"kind": "wendrix-issue-template"})") << QByteArray("needs a name");
    QTest::newRow("title is a list") << with(R"(, "title": [])") << QByteArray("title is not");
    QTest::newRow("title too long") << with(R"(, "title": ")" + QByteArray(30'000, 'x') + '"')
                                    << QByteArray("title is not");
    QTest::newRow("labels are a text") << with(R"(, "labels": "a")") << QByteArray("labels is not");
    QTest::newRow("a label is a number") << with(R"(, "labels": ["a", 3])") << QByteArray("labels is not");
    QTest::newRow("days are a text") << with(R"(, "daysToFix": "7")") << QByteArray("daysToFix is not");
    QTest::newRow("days beyond reason") << with(R"(, "daysToFix": 1e9)") << QByteArray("daysToFix is not");
    QTest::newRow("rules are a text") << with(R"(, "priorityFor": "High")") << QByteArray("priorityFor is not");
    QTest::newRow("a rule is a number") << with(R"(, "daysFor": [3])") << QByteArray("daysFor is not");
    QTest::newRow("days of a rule are a text")
        << with(R"(, "daysFor": [{"of": "High", "is": "3"}])") << QByteArray("daysFor is not");
    QTest::newRow("a set that is none") << with(R"(, "assigneeFor": [{"of": "class is", "is": "A"}])")
                                        << QByteArray("Assignee by set: class is:");
    QTest::newRow("a word that is none") << with(R"(, "title": "{what}")") << QByteArray("Title: {what}");
}

void TestIssueTemplate::oddFilesAreRefused()
{
    QFETCH(QByteArray, text);
    QFETCH(QByteArray, says);
    const auto read = issueTemplateFromJson(text.toStdString());
    QCOMPARE(read.has_value(), says.isEmpty());
    if (!read)
        QVERIFY2(QByteArray::fromStdString(read.error().message).contains(says), read.error().message.c_str());
}

QTEST_GUILESS_MAIN(TestIssueTemplate)
#include "test_issue_template.moc"
