#include <QTest>

#include "core/sets/elements.h"
#include "support/ifc_text.h"
#include "support/made_model.h"

using namespace wendrix;
using test::MadeModel;

/// Which elements of a federation a line picks.
class TestElements : public QObject {
    Q_OBJECT
private slots:
    void picks_data();
    void picks();
    void asksTheProject();
    void namedSetsAreFollowed();
    void valuesThatExistAreOffered();
};

namespace {

federation::Member memberOf(const std::string& discipline, const std::string& text)
{
    static std::vector<std::unique_ptr<test::Read>> kept; // members share what was read
    kept.push_back(test::readText(text));
    federation::Member member;
    member.discipline = discipline;
    member.model = kept.back()->model;
    member.geometry = kept.back()->geometry;
    return member;
}

std::vector<federation::Member> members()
{
    MadeModel architecture, ventilation;
    architecture.boxes = {
        {"Outer wall", {0, 0, 0}, {10, 0.3, 3}, "IFCWALL", {}, {{"FireRating", "EI 60"}, {"Shelf", "3"}}},
        {"Inner wall", {0, 4, 0}, {10, 4.1, 3}, "IFCWALLSTANDARDCASE", {}, {{"FireRating", "ei 30"}}},
        {"Floor", {0, 0, -0.2}, {10, 10, 0}, "IFCSLAB"},
        {"Vault door", {2, 0, 0}, {3, 0.3, 2.1}, "IFCDOOR", {}, {{"Shelf", "12"}}},
        {"Drying room", {0, 0.3, 0}, {10, 4, 3}, "IFCSPACE"}};
    ventilation.boxes = {{"Supply duct 1", {0, 2, 2.6}, {10, 2.4, 2.9}, "IFCDUCTSEGMENT"},
                         {"Extract duct 2", {0, 3, 6.2}, {10, 3.4, 6.5}, "IFCDUCTSEGMENT"},
                         {"Fire damper", {5, 2, 2.6}, {5.2, 2.4, 2.9}, "IFCDAMPER"}};
    // Storeys, a classification and a quantity, as a file has them.
    std::string text = architecture.text();
    const auto numberOf = [&](const std::string& name) {
        const std::size_t at = text.find("'" + MadeModel::guidOf(name) + "'");
        const std::size_t hash = text.rfind('#', at);
        return text.substr(hash, text.find('=', hash) - hash);
    };
    const std::string outer = numberOf("Outer wall"), inner = numberOf("Inner wall");
    text.insert(text.rfind("ENDSEC;"), "#9001=IFCCLASSIFICATIONREFERENCE($,'Ss_25_10','Framed walls',$,$,$);"
                                       "#9002=IFCRELASSOCIATESCLASSIFICATION('c1',$,$,$,(" +
                                           outer + "," + inner +
                                           "),#9001);"
                                           "#9003=IFCQUANTITYLENGTH('Length',$,$,10.,$);"
                                           "#9004=IFCELEMENTQUANTITY('q1',$,'Qto_WallBaseQuantities',$,$,(#9003));"
                                           "#9005=IFCRELDEFINESBYPROPERTIES('q2',$,$,$,(" +
                                           outer + "),#9004);\n");
    return {memberOf("Architecture", text), memberOf("Ventilation", ventilation.text())};
}

QStringList namesIn(const std::vector<federation::Member>& members, const sets::Elements::Picked& picked)
{
    QStringList names;
    for (std::size_t m = 0; m < members.size(); ++m)
        for (ifc::ElementIndex e = 0; e < members[m].model->elements().size(); ++e)
            if (picked[m][e] != 0)
                names << QString::fromStdString(members[m].model->displayName(members[m].model->elements()[e]));
    names.sort();
    return names;
}

} // namespace

void TestElements::picks_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QStringList>("names");
    const QStringList all{"Drying room", "Extract duct 2", "Fire damper",   "Floor",
                          "Inner wall",  "Outer wall",     "Supply duct 1", "Vault door"},
        walls{"Inner wall", "Outer wall"}, ducts{"Extract duct 2", "Supply duct 1"};
    const auto row = [](const char* line, const QStringList& names) { QTest::newRow(line) << QString(line) << names; };
    row("everything", all);
    row("not everything", {});
    row("class is Wall", walls);
    row("class is ifcwall", walls);
    row("class is WallStandardCase", {"Inner wall"});
    row("class is BuildingElement, BuiltElement", {"Floor", "Inner wall", "Outer wall", "Vault door"});
    row("class is \"duct segment\"", ducts);
    row("class is Elephant", {});
    row("class is not Wall, Slab", {"Drying room", "Extract duct 2", "Fire damper", "Supply duct 1", "Vault door"});
    row("class has damp", {"Fire damper"});
    row("class starts with Duct", ducts);
    row("name is \"outer WALL\"", {"Outer wall"});
    row("name has wall", walls);
    row("name has wall, duct", {"Extract duct 2", "Inner wall", "Outer wall", "Supply duct 1"});
    row("name starts with \"fire\"", {"Fire damper"});
    row("name is not Floor and class is Slab", {});
    row("type is missing", all);
    row("type is given", {});
    row("discipline is ventilation", {"Extract duct 2", "Fire damper", "Supply duct 1"});
    row("discipline is not Ventilation", {"Drying room", "Floor", "Inner wall", "Outer wall", "Vault door"});
    row("classification is Ss_25_10", walls);
    row("classification is \"framed walls\"", walls);
    row("classification starts with Ss_25 and not name has inner", {"Outer wall"});
    row("classification is missing and discipline is Architecture", {"Drying room", "Floor", "Vault door"});
    row("\"Seed store\".FireRating is \"EI 60\"", {"Outer wall"});
    row("\"seed STORE\".firerating is \"EI 30\"", {"Inner wall"});
    row("\"Seed store\".FireRating is missing and discipline is Architecture", {"Drying room", "Floor", "Vault door"});
    row("\"Seed store\".FireRating is given", walls);
    row("\"Seed store\".FireRating starts with EI", walls);
    row("\"Seed store\".Shelf is 3", {"Outer wall"});
    row("\"Seed store\".Shelf > 3", {"Vault door"});
    row("\"Seed store\".Shelf >= 3", {"Outer wall", "Vault door"});
    row("\"Seed store\".Shelf != 3", {"Vault door"});
    row("\"Seed store\".Shelf < 3", {});
    row("\"Seed store\".Shelf > 3 mm", {}); // it is no length
    row("Qto_WallBaseQuantities.Length = 10 m", {"Outer wall"});
    row("Qto_WallBaseQuantities.Length is 10000 mm", {"Outer wall"});
    row("Qto_WallBaseQuantities.Length > 9999 mm and class is Wall", {"Outer wall"});
    row("Qto_WallBaseQuantities.Length > 10 m", {});
    row("Qto_WallBaseQuantities.Length < 33 ft", {"Outer wall"});
    row("Qto_WallBaseQuantities.Length > 1 m2", {});
    row("No_Such.Thing is missing", all);
    row("No_Such.Thing is given", {});
    row("\"duct\"", ducts);
    row("\"DUCT supply\"", {"Supply duct 1"});
    row("\"duct damper\"", {});
    row("inside 0 0 2.5 to 10 10 3", {"Fire damper", "Supply duct 1"});
    row("inside 4.9 2 2.7 to 5.05 2.3 2.8", {"Supply duct 1"});
    row("class is Wall or class is Door and name has vault", {"Inner wall", "Outer wall", "Vault door"});
    row("(class is Wall or class is Door) and name has vault", {"Vault door"});
    row("inside space \"drying room\"", {"Fire damper", "Supply duct 1"});
    row("inside space \"Wet room\"", {});
    row("bay is \"A-B / 1-2\"",
        {"Drying room", "Extract duct 2", "Fire damper", "Floor", "Inner wall", "Supply duct 1"});
    row("bay is missing", {});
    row("not (class is Wall or class is DuctSegment)", {"Drying room", "Fire damper", "Floor", "Vault door"});
}

void TestElements::picks()
{
    QFETCH(QString, line);
    const auto federation = members();
    const sets::Elements elements(federation);
    const sets::Parsed parsed = sets::parse(line.toStdString());
    QVERIFY2(parsed.expression.has_value(), parsed.mistake.message.c_str());
    const auto answer = elements.in(*parsed.expression);
    QTEST(namesIn(federation, answer.picked), "names");
    QCOMPARE(answer.count, static_cast<std::size_t>(namesIn(federation, answer.picked).size()));
    QVERIFY(answer.problem.empty());
    // Asked again, out of the columns, it is the same.
    QCOMPARE(elements.in(*parsed.expression).picked, answer.picked);
}

void TestElements::asksTheProject()
{
    auto federation = members();
    for (std::size_t m = 0; m < federation.size(); ++m)
        federation[m].disciplineId = static_cast<DisciplineId>(m + 1);
    const sets::Elements elements(federation);
    const auto refOf = [&](const QString& name) {
        for (const federation::Member& m : federation)
            for (ifc::ElementIndex i = 0; i < m.model->elements().size(); ++i)
                if (QString::fromStdString(m.model->displayName(m.model->elements()[i])) == name)
                    return m.refOf(i);
        return ElementRef{};
    };
    ElementRef elsewhere = refOf("Outer wall"), anywhere = refOf("Vault door");
    elsewhere.discipline = 77;
    anywhere.discipline = 0; // as a file from elsewhere names it
    sets::Knowledge known;
    known.withIssue = [&](const std::string& status) {
        return status.empty()       ? sets::Knowledge::Refs{refOf("Supply duct 1"), anywhere, elsewhere}
               : status == "Closed" ? sets::Knowledge::Refs{refOf("Floor")}
                                    : sets::Knowledge::Refs{};
    };
    known.changedSince = [&](const std::string& since) {
        return since == "3" ? sets::Knowledge::Refs{refOf("Supply duct 1"), refOf("Floor")} : sets::Knowledge::Refs{};
    };
    const auto ask = [&](const char* line) {
        return namesIn(federation, elements.in(*sets::parse(line).expression, known).picked);
    };
    QCOMPARE(ask("has issue"), (QStringList{"Supply duct 1", "Vault door"}));
    QCOMPARE(ask("has issue Closed"), QStringList{"Floor"});
    QCOMPARE(ask("has issue Open"), QStringList{});
    QCOMPARE(ask("has issue and changed since cycle 3"), QStringList{"Supply duct 1"});
    QCOMPARE(ask("changed since cycle 3 and not has issue"), QStringList{"Floor"});
    QCOMPARE(elements.in(*sets::parse("has issue").expression).count, std::size_t{0}); // nobody knows of any
}

void TestElements::namedSetsAreFollowed()
{
    const auto federation = members();
    const sets::Elements elements(federation);
    const std::map<std::string, std::string> lines{{"Walls", "class is Wall"},
                                                   {"Both", "set \"Walls\" or class is Door"},
                                                   {"Circle", "set \"Round\""},
                                                   {"Round", "not set \"Circle\""},
                                                   {"Broken", "class is"}};
    sets::Knowledge named;
    named.named = [&](const std::string& name) {
        const auto at = lines.find(name);
        return at != lines.end() ? std::optional(at->second) : std::nullopt;
    };
    const auto ask = [&](const char* line) { return elements.in(*sets::parse(line).expression, named); };
    QCOMPARE(namesIn(federation, ask("set \"Both\" and not name has inner").picked),
             (QStringList{"Outer wall", "Vault door"}));
    for (const auto& [line, says] :
         {std::pair{"set \"Nobody\"", "no set called \"Nobody\""}, std::pair{"set \"Circle\"", "leads back to itself"},
          std::pair{"not set \"Broken\"", "not well formed"}}) {
        const auto answer = ask(line);
        QVERIFY2(QString::fromStdString(answer.problem).contains(says), answer.problem.c_str());
        QCOMPARE(answer.count, std::size_t{0});
    }
}

void TestElements::valuesThatExistAreOffered()
{
    const auto federation = members();
    const sets::Elements elements(federation);
    QCOMPARE(elements.valuesOf(sets::Field::Class, "d", 5),
             (std::vector<std::string>{"DuctSegment", "Damper", "Door"}));
    QCOMPARE(elements.valuesOf(sets::Field::Discipline, "", 1), std::vector<std::string>{"Architecture"});
    QCOMPARE(elements.valuesOf(sets::Field::Classification, "ss", 5), std::vector<std::string>{"Ss_25_10"});
    QCOMPARE(elements.propertiesOf("seed store.s", 5), std::vector<std::string>{"Seed store.Shelf"});
}

QTEST_GUILESS_MAIN(TestElements)
#include "test_elements.moc"
