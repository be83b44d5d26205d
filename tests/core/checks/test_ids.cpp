#include <QTest>

#include "core/checks/ids_check.h"
#include "support/ifc_text.h"

using namespace wendrix;
using namespace wendrix::checks;

namespace {

/// A wall A with everything, a wall B with little, a door in an opening of A, an assembly with a beam; millimetres.
std::string model()
{
    return test::ifcFile("IFC4", R"(
#10=IFCBUILDING('1Building00000000000aa',$,'Store',$,$,#4,$,$,.ELEMENT.,$,$,$);
#11=IFCRELAGGREGATES('1Agg000000000000000001',$,$,$,#10,(#5));
#20=IFCWALL('1WallA0000000000000001',$,'Wall A','',$,#4,$,'T-1',.NOTDEFINED.);
#21=IFCWALL('1WallB0000000000000001',$,'Wall B',$,'Curved in plan',#4,$,$,.USERDEFINED.);
#22=IFCWALLTYPE('1WType0000000000000001',$,'WT-240',$,$,(#32,#36),$,$,$,.SOLIDWALL.);
#23=IFCRELDEFINESBYTYPE('1RType0000000000000001',$,$,$,(#20),#22);
#30=IFCPROPERTYSET('1Pset00000000000000001',$,'Pset_WallCommon',$,(#40,#41,#42,#43,#44));
#31=IFCRELDEFINESBYPROPERTIES('1RProp0000000000000001',$,$,$,(#20),#30);
#32=IFCPROPERTYSET('1Pset00000000000000002',$,'Pset_WallCommon',$,(#45,#46));
#33=IFCELEMENTQUANTITY('1Qset00000000000000001',$,'Qto_WallBaseQuantities',$,$,(#47,#48));
#34=IFCRELDEFINESBYPROPERTIES('1RProp0000000000000002',$,$,$,(#20),#33);
#35=IFCPROPERTYSET('1Pset00000000000000003',$,'Seed_Store',$,(#50,#51,#52,#53,#54));
#36=IFCPROPERTYSET('1Pset00000000000000004',$,'Seed_Type',$,(#55));
#37=IFCRELDEFINESBYPROPERTIES('1RProp0000000000000003',$,$,$,(#20),#35);
#40=IFCPROPERTYSINGLEVALUE('FireRating',$,IFCLABEL('EI 60'),$);
#41=IFCPROPERTYSINGLEVALUE('LoadBearing',$,IFCBOOLEAN(.T.),$);
#42=IFCPROPERTYSINGLEVALUE('ThermalTransmittance',$,IFCTHERMALTRANSMITTANCEMEASURE(0.24),$);
#43=IFCPROPERTYSINGLEVALUE('AcousticRating',$,$,$);
#44=IFCPROPERTYSINGLEVALUE('Reference',$,IFCIDENTIFIER(''),$);
#45=IFCPROPERTYSINGLEVALUE('FireRating',$,IFCLABEL('EI 30'),$);
#46=IFCPROPERTYSINGLEVALUE('IsExternal',$,IFCBOOLEAN(.F.),$);
#47=IFCQUANTITYLENGTH('Width',$,$,240.,$);
#48=IFCQUANTITYCOUNT('Layers',$,$,3,$);
#50=IFCPROPERTYENUMERATEDVALUE('Climate',$,(IFCLABEL('COLD'),IFCLABEL('DRY')),$);
#51=IFCPROPERTYLISTVALUE('Shelves',$,(IFCINTEGER(4),IFCINTEGER(6)),$);
#52=IFCPROPERTYBOUNDEDVALUE('Height',$,IFCLENGTHMEASURE(3200.),IFCLENGTHMEASURE(2400.),$,IFCLENGTHMEASURE(3000.));
#53=IFCPROPERTYSINGLEVALUE('Known',$,IFCLOGICAL(.U.),$);
#54=IFCPROPERTYSINGLEVALUE('Slope',$,IFCPLANEANGLEMEASURE(0.5),$);
#55=IFCPROPERTYSINGLEVALUE('Maker',$,IFCLABEL('Tarnbeck'),$);
#60=IFCCLASSIFICATION($,$,$,'Uniclass',$,$,$);
#61=IFCCLASSIFICATIONREFERENCE($,'EF_25','Walls',#60,$,$);
#62=IFCCLASSIFICATIONREFERENCE($,'EF_25_10','Inner walls',#61,$,$);
#63=IFCRELASSOCIATESCLASSIFICATION('1RClas0000000000000001',$,$,$,(#20),#62);
#64=IFCCLASSIFICATION($,$,$,'House code',$,$,$);
#65=IFCCLASSIFICATIONREFERENCE($,'H-7','Typed',#64,$,$);
#66=IFCRELASSOCIATESCLASSIFICATION('1RClas0000000000000002',$,$,$,(#22),#65);
#67=IFCCLASSIFICATIONREFERENCE($,'EF_99','Of the type',#60,$,$);
#68=IFCRELASSOCIATESCLASSIFICATION('1RClas0000000000000003',$,$,$,(#22),#67);
#70=IFCMATERIAL('Concrete',$,'concrete');
#71=IFCMATERIALLAYER(#70,240.,$,'Core',$,'loadbearing',$);
#72=IFCMATERIALLAYERSET((#71),'WT-240 layers',$);
#73=IFCRELASSOCIATESMATERIAL('1RMat00000000000000001',$,$,$,(#22),#72);
#80=IFCRELCONTAINEDINSPATIALSTRUCTURE('1RCon00000000000000001',$,$,$,(#20,#21,#83,#84),#5);
#81=IFCOPENINGELEMENT('1Open00000000000000001',$,'Hole',$,$,#4,$,$,.OPENING.);
#82=IFCRELVOIDSELEMENT('1RVoid0000000000000001',$,$,$,#20,#81);
#83=IFCDOOR('1Door00000000000000001',$,'Door 1',$,$,#4,$,$,2100.,1010.,.DOOR.,.SINGLE_SWING_LEFT.,$);
#84=IFCELEMENTASSEMBLY('1Assm00000000000000001',$,'Truss 1',$,$,#4,$,$,.SITE.,.TRUSS.);
#85=IFCBEAM('1Beam00000000000000001',$,'Beam 1',$,$,#4,$,$,.BEAM.);
#86=IFCRELAGGREGATES('1Agg000000000000000002',$,$,$,#84,(#85));
#87=IFCRELFILLSELEMENT('1RFill0000000000000001',$,$,$,#81,#83);
#88=IFCGROUP('1Grup00000000000000001',$,'Cold chain',$,$);
#89=IFCRELASSIGNSTOGROUP('1RGrup0000000000000001',$,$,$,(#20),$,#88);
#90=IFCSYSTEM('1Syst00000000000000001',$,'Cooling',$,$);
#91=IFCRELASSIGNSTOGROUP('1RGrup0000000000000002',$,$,$,(#88),$,#90);
)",
                         "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)");
}

std::string simple(const std::string& value) { return "<ids:simpleValue>" + value + "</ids:simpleValue>"; }
std::string tag(const std::string& name, const std::string& inside)
{
    return "<ids:" + name + ">" + inside + "</ids:" + name + ">";
}
std::string restricted(const std::string& facets, const std::string& base = "string")
{
    return "<xs:restriction base=\"xs:" + base + "\">" + facets + "</xs:restriction>";
}
std::string limit(const std::string& name, const std::string& value)
{
    return "<xs:" + name + " value=\"" + value + "\"/>";
}
std::string entity(const std::string& name, const std::string& predefined = {})
{
    return tag("entity",
               tag("name", simple(name)) + (predefined.empty() ? "" : tag("predefinedType", simple(predefined))));
}
std::string attribute(const std::string& name, const std::string& value = {})
{
    return tag("name", simple(name)) + (value.empty() ? "" : tag("value", value));
}
std::string sought(const std::string& set, const std::string& name, const std::string& value = {})
{
    return tag("propertySet", simple(set)) + tag("baseName", simple(name)) + (value.empty() ? "" : tag("value", value));
}
std::string required(const std::string& facet, const std::string& inside, const std::string& more = {})
{
    return "<ids:" + facet + " " + more + ">" + inside + "</ids:" + facet + ">";
}

std::string file(const std::string& applicability, const std::string& requirements,
                 const std::string& occurs = "minOccurs=\"1\" maxOccurs=\"unbounded\"",
                 const std::string& schemas = "IFC4")
{
    return "<?xml version=\"1.0\" encoding=\"UTF-8\"?><ids:ids xmlns:ids=\"http://standards.buildingsmart.org/IDS\" "
           "xmlns:xs=\"http://www.w3.org/2001/XMLSchema\">"
           "<ids:info><ids:title>Seed store</ids:title><ids:author>Ines "
           "Varga</ids:author></ids:info><ids:specifications><ids:specification name=\"S\" ifcVersion=\"" +
           schemas + "\"><ids:applicability " + occurs + ">" + applicability +
           "</ids:applicability><ids:requirements>" + requirements +
           "</ids:requirements></ids:specification></ids:specifications></ids:ids>";
}

} // namespace

/// IDS 1.0: every facet and restriction against small models with verdicts worked out by hand from the standard.
class TestIds : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { model_ = test::readText(model()); }
    void facets_data();
    void facets();
    void applicability_data();
    void applicability();
    void restrictions_data();
    void restrictions();
    void readsAllOfAFile();
    void refusesWhatItCanNotFollow_data();
    void refusesWhatItCanNotFollow();
    void saysWhatIsMissing();
    void isCancelled();

private:
    std::unique_ptr<test::Read> model_;
};

/// Requirements on wall A, which is picked by its name.
void TestIds::facets_data()
{
    QTest::addColumn<QString>("requirement");
    QTest::addColumn<bool>("isMet");
    const auto row = [](const char* name, const std::string& requirement, bool isMet) {
        QTest::newRow(name) << QString::fromStdString(requirement) << isMet;
    };

    row("entity: itself", entity("IFCWALL"), true);
    row("entity: not a superclass", entity("IFCBUILDINGELEMENT"), false);
    row("entity: another", entity("IFCSLAB"), false);
    row("entity: class must be in capitals", entity("IfcWall"), false);
    row("entity: predefined type of its type", entity("IFCWALL", "SOLIDWALL"), true);
    row("entity: its own not defined", entity("IFCWALL", "NOTDEFINED"), false);
    row("entity: one of several",
        tag("entity", tag("name", restricted(limit("enumeration", "IFCSLAB") + limit("enumeration", "IFCWALL")))),
        true);
    row("entity: by pattern", tag("entity", tag("name", restricted(limit("pattern", "IFC(WALL|SLAB)")))), true);

    row("attribute: there", required("attribute", attribute("Name")), true);
    row("attribute: with its value", required("attribute", attribute("Name", simple("Wall A"))), true);
    row("attribute: another value", required("attribute", attribute("Name", simple("wall a"))), false);
    row("attribute: an empty text is missing", required("attribute", attribute("Description")), false);
    row("attribute: omitted is missing", required("attribute", attribute("ObjectType")), false);
    row("attribute: not of the class", required("attribute", attribute("OverallWidth")), false);
    row("attribute: inverse never", required("attribute", attribute("IsDefinedBy")), false);
    row("attribute: an object is there", required("attribute", attribute("ObjectPlacement")), true);
    row("attribute: an object has no value", required("attribute", attribute("ObjectPlacement", simple("#4"))), false);
    row("attribute: an enumeration", required("attribute", attribute("PredefinedType", simple("NOTDEFINED"))), true);
    row("attribute: prohibited and missing",
        required("attribute", attribute("ObjectType"), "cardinality=\"prohibited\""), true);
    row("attribute: prohibited and there", required("attribute", attribute("Tag"), "cardinality=\"prohibited\""),
        false);
    row("attribute: prohibited value, another there",
        required("attribute", attribute("Tag", simple("T-2")), "cardinality=\"prohibited\""), true);
    row("attribute: optional and missing",
        required("attribute", attribute("ObjectType", simple("x")), "cardinality=\"optional\""), true);
    row("attribute: optional, there and wrong",
        required("attribute", attribute("Tag", simple("x")), "cardinality=\"optional\""), false);
    row("attribute: name by pattern",
        required("attribute", tag("name", restricted(limit("pattern", "N.me"))) + tag("value", simple("Wall A"))),
        true);

    row("property: there", required("property", sought("Pset_WallCommon", "FireRating")), true);
    row("property: its own word goes before its type's",
        required("property", sought("Pset_WallCommon", "FireRating", simple("EI 60"))), true);
    row("property: its type's is overridden",
        required("property", sought("Pset_WallCommon", "FireRating", simple("EI 30"))), false);
    row("property: of its type", required("property", sought("Seed_Type", "Maker", simple("Tarnbeck"))), true);
    row("property: of its type in a set it has too",
        required("property", sought("Pset_WallCommon", "IsExternal", simple("false"))), true);
    row("property: no such set", required("property", sought("Pset_DoorCommon", "FireRating")), false);
    row("property: without a value", required("property", sought("Pset_WallCommon", "AcousticRating")), false);
    row("property: with an empty text", required("property", sought("Pset_WallCommon", "Reference")), false);
    row("property: unknown truth", required("property", sought("Seed_Store", "Known")), false);
    row("property: truth", required("property", sought("Pset_WallCommon", "LoadBearing", simple("true"))), true);
    row("property: truth in capitals", required("property", sought("Pset_WallCommon", "LoadBearing", simple("TRUE"))),
        false);
    row("property: data type", required("property", sought("Pset_WallCommon", "FireRating"), "dataType=\"IFCLABEL\""),
        true);
    row("property: another data type",
        required("property", sought("Pset_WallCommon", "FireRating"), "dataType=\"IFCTEXT\""), false);
    row("property: real number",
        required("property", sought("Pset_WallCommon", "ThermalTransmittance", simple("0.2400001")),
                 "dataType=\"IFCTHERMALTRANSMITTANCEMEASURE\""),
        true);
    row("property: real number beyond tolerance",
        required("property", sought("Pset_WallCommon", "ThermalTransmittance", simple("0.24001"))), false);
    row("property: a number asked as words",
        required("property", sought("Pset_WallCommon", "ThermalTransmittance", simple("low"))), false);
    row("property: any of enumerated", required("property", sought("Seed_Store", "Climate", simple("DRY"))), true);
    row("property: none of enumerated", required("property", sought("Seed_Store", "Climate", simple("WET"))), false);
    row("property: any of a list", required("property", sought("Seed_Store", "Shelves", simple("6"))), true);
    row("property: bound, in metres", required("property", sought("Seed_Store", "Height", simple("3.2"))), true);
    row("property: set point, in metres", required("property", sought("Seed_Store", "Height", simple("3"))), true);
    row("property: as the file writes it", required("property", sought("Seed_Store", "Height", simple("3200"))), false);
    row("property: angle in radians",
        required("property", sought("Seed_Store", "Slope", simple("0.5")), "dataType=\"IFCPLANEANGLEMEASURE\""), true);
    row("property: quantity in metres",
        required("property", sought("Qto_WallBaseQuantities", "Width", simple("0.24")),
                 "dataType=\"IFCLENGTHMEASURE\""),
        true);
    row("property: quantity of another type",
        required("property", sought("Qto_WallBaseQuantities", "Width"), "dataType=\"IFCAREAMEASURE\""), false);
    row("property: count", required("property", sought("Qto_WallBaseQuantities", "Layers", simple("3"))), true);
    row("property: set by pattern",
        required("property",
                 tag("propertySet", restricted(limit("pattern", "Pset_.*"))) + tag("baseName", simple("FireRating"))),
        true);
    row("property: all that match must hold",
        required("property", tag("propertySet", restricted(limit("pattern", "Pset_.*"))) +
                                 tag("baseName", restricted(limit("pattern", "(FireRating|ThermalTransmittance)"))) +
                                 tag("value", simple("EI 60"))),
        false);
    row("property: optional and missing",
        required("property", sought("Pset_WallCommon", "Combustible", simple("false")), "cardinality=\"optional\""),
        true);
    row("property: optional, there and wrong",
        required("property", sought("Pset_WallCommon", "FireRating", simple("EI 90")), "cardinality=\"optional\""),
        false);
    row("property: prohibited and there",
        required("property", sought("Pset_WallCommon", "FireRating"), "cardinality=\"prohibited\""), false);

    row("classification: any", required("classification", ""), true);
    row("classification: system", required("classification", tag("system", simple("Uniclass"))), true);
    row("classification: no such system", required("classification", tag("system", simple("Omniclass"))), false);
    row("classification: code",
        required("classification", tag("system", simple("Uniclass")) + tag("value", simple("EF_25_10"))), true);
    row("classification: code above", required("classification", tag("value", simple("EF_25"))), true);
    row("classification: code by pattern",
        required("classification", tag("value", restricted(limit("pattern", "EF_25_[0-9]{2}")))), true);
    row("classification: of its type in another system",
        required("classification", tag("system", simple("House code")) + tag("value", simple("H-7"))), true);
    row("classification: of its type in its own system is overridden",
        required("classification", tag("value", simple("EF_99"))), false);
    row("classification: prohibited",
        required("classification", tag("system", simple("Uniclass")), "cardinality=\"prohibited\""), false);
    row("classification: optional in a system it has not",
        required("classification", tag("system", simple("Omniclass")) + tag("value", simple("x")),
                 "cardinality=\"optional\""),
        true);

    row("material: any", required("material", ""), true);
    row("material: by name", required("material", tag("value", simple("Concrete"))), true);
    row("material: by category", required("material", tag("value", simple("concrete"))), true);
    row("material: by layer", required("material", tag("value", simple("Core"))), true);
    row("material: by layer's category", required("material", tag("value", simple("loadbearing"))), true);
    row("material: by layer set", required("material", tag("value", simple("WT-240 layers"))), true);
    row("material: another", required("material", tag("value", simple("Brick"))), false);
    row("material: optional and wrong", required("material", tag("value", simple("Brick")), "cardinality=\"optional\""),
        false);

    row("part of: its storey",
        required("partOf", entity("IFCBUILDINGSTOREY"), "relation=\"IFCRELCONTAINEDINSPATIALSTRUCTURE\""), true);
    row("part of: the storey's building",
        required("partOf", entity("IFCBUILDING"), "relation=\"IFCRELCONTAINEDINSPATIALSTRUCTURE\""), true);
    row("part of: by another relation",
        required("partOf", entity("IFCBUILDINGSTOREY"), "relation=\"IFCRELAGGREGATES\""), false);
    row("part of: a group", required("partOf", entity("IFCGROUP"), "relation=\"IFCRELASSIGNSTOGROUP\""), true);
    row("part of: a group of the group", required("partOf", entity("IFCSYSTEM"), "relation=\"IFCRELASSIGNSTOGROUP\""),
        true);
    row("part of: any relation", required("partOf", entity("IFCSYSTEM")), true);
    row("part of: not itself", required("partOf", entity("IFCWALL")), false);
    row("part of: prohibited", required("partOf", entity("IFCSYSTEM"), "cardinality=\"prohibited\""), false);
}

void TestIds::facets()
{
    QFETCH(QString, requirement);
    QFETCH(bool, isMet);
    const auto ids = readIdsText(
        file(entity("IFCWALL") + required("attribute", attribute("Name", simple("Wall A"))), requirement.toStdString()),
        "test.ids");
    QVERIFY2(ids.has_value() && ids->notes.empty(),
             ids ? qPrintable(QString::fromStdString(ids->notes.empty() ? "" : ids->notes[0].message)) : "unreadable");
    Progress progress;
    const auto results = checkIds(*ids, *model_->model, progress);
    QVERIFY(results.has_value());
    QCOMPARE(results->front().applicable, std::size_t{1});
    QCOMPARE(results->front().verdict == Verdict::Met, isMet);
    if (!isMet)
        QVERIFY(!results->front().failed.front().why.empty());
}

void TestIds::applicability_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<int>("applicable");
    QTest::addColumn<int>("failed");
    QTest::addColumn<int>("verdict");
    const auto row = [](const char* name, const std::string& text, int applicable, int failed, Verdict verdict) {
        QTest::newRow(name) << QString::fromStdString(text) << applicable << failed << static_cast<int>(verdict);
    };
    const std::string rated = required("property", sought("Pset_WallCommon", "FireRating"));
    const std::string any = "minOccurs=\"0\" maxOccurs=\"unbounded\"", none = "minOccurs=\"0\" maxOccurs=\"0\"";
    row("both walls, one without", file(entity("IFCWALL"), rated), 2, 1, Verdict::Unmet);
    row("user-defined by its words", file(entity("IFCWALL", "Curved in plan"), ""), 1, 0, Verdict::Met);
    row("USERDEFINED itself is no words", file(entity("IFCWALL", "USERDEFINED"), ""), 0, 0, Verdict::Unmet);
    row("types are their own class", file(entity("IFCWALLTYPE"), required("attribute", attribute("Name"))), 1, 0,
        Verdict::Met);
    row("a type's own sets", file(entity("IFCWALLTYPE"), required("property", sought("Seed_Type", "Maker"))), 1, 0,
        Verdict::Met);
    row("materials too", file(entity("IFCMATERIAL"), required("attribute", attribute("Category"))), 1, 0, Verdict::Met);
    row("nothing there, but required", file(entity("IFCSLAB"), rated), 0, 0, Verdict::Unmet);
    row("nothing there, and optional", file(entity("IFCSLAB"), rated, any), 0, 0, Verdict::Met);
    row("prohibited and there", file(entity("IFCDOOR"), "", none), 1, 1, Verdict::Unmet);
    row("prohibited and not there", file(entity("IFCSLAB"), "", none), 0, 0, Verdict::Met);
    row("another schema", file(entity("IFCWALL"), rated, any, "IFC2X3"), 0, 0, Verdict::NotForThisSchema);
    row("one of several schemas", file(entity("IFCWALL"), rated, any, "IFC2X3 IFC4 IFC4X3_ADD2"), 2, 1, Verdict::Unmet);
    row("the newer schema is another", file(entity("IFCWALL"), rated, any, "IFC4X3_ADD2"), 0, 0,
        Verdict::NotForThisSchema);
    row("by property alone", file(required("property", sought("Qto_WallBaseQuantities", "Width")), entity("IFCWALL")),
        1, 0, Verdict::Met);
    row("by classification alone, its type's too",
        file(required("classification", tag("system", simple("House code"))), ""), 2, 0, Verdict::Met);
    row("by material alone", file(required("material", tag("value", simple("Concrete"))), ""), 2, 0, Verdict::Met);
    row("all facets of it must hold", file(entity("IFCWALL") + required("material", ""), rated), 1, 0, Verdict::Met);
    row("in the building, through assembly and storey",
        file(required("partOf", entity("IFCBUILDING"), "relation=\"IFCRELCONTAINEDINSPATIALSTRUCTURE\""), ""), 5, 0,
        Verdict::Met);
    row("a beam of the assembly",
        file(required("partOf", entity("IFCELEMENTASSEMBLY", "TRUSS"), "relation=\"IFCRELAGGREGATES\""),
             entity("IFCBEAM")),
        1, 0, Verdict::Met);
    row("a door through its opening in the wall",
        file(required("partOf", entity("IFCWALL"), "relation=\"IFCRELVOIDSELEMENT IFCRELFILLSELEMENT\"") +
                 entity("IFCDOOR"),
             ""),
        1, 0, Verdict::Met);
}

void TestIds::applicability()
{
    QFETCH(QString, text);
    QFETCH(int, applicable);
    QFETCH(int, failed);
    QFETCH(int, verdict);
    const auto ids = readIdsText(text.toStdString(), "test.ids");
    QVERIFY(ids.has_value() && ids->notes.empty());
    Progress progress;
    const auto results = checkIds(*ids, *model_->model, progress).value();
    QCOMPARE(static_cast<int>(results[0].applicable), applicable);
    QCOMPARE(static_cast<int>(results[0].failed.size()), failed);
    QCOMPARE(static_cast<int>(results[0].verdict), verdict);
}

void TestIds::restrictions_data()
{
    QTest::addColumn<QString>("restriction");
    QTest::addColumn<QString>("text");
    QTest::addColumn<double>("number"); // NaN: it is text
    QTest::addColumn<bool>("isMet");
    const auto words = [](const char* name, const std::string& restriction, const char* text, bool isMet) {
        QTest::newRow(name) << QString::fromStdString(restriction) << QString(text) << std::nan("") << isMet;
    };
    const auto number = [](const char* name, const std::string& restriction, double value, bool isMet) {
        QTest::newRow(name) << QString::fromStdString(restriction) << QString::number(value) << value << isMet;
    };
    const std::string ratings = limit("enumeration", "EI 30") + limit("enumeration", "EI 60");
    words("enumeration: in it", ratings, "EI 60", true);
    words("enumeration: not in it", ratings, "EI 90", false);
    number("enumeration of numbers", limit("enumeration", "1") + limit("enumeration", "2.5"), 2.5, true);
    words("pattern: the whole text", limit("pattern", "[A-Z]{2}[0-9]{3}"), "AB123", true);
    words("pattern: a part is not enough", limit("pattern", "[A-Z]{2}[0-9]{3}"), "xAB123", false);
    words("pattern: one of two", limit("pattern", "A.*") + limit("pattern", "B.*"), "Bay", true);
    words("pattern: letters of all scripts", limit("pattern", "\\p{Lu}\\p{Ll}+"), "Öl", true);
    words("pattern: subtracted characters", limit("pattern", "[a-z-[aeiou]]+"), "bcd", true);
    words("pattern: subtracted characters, one of them", limit("pattern", "[a-z-[aeiou]]+"), "bad", false);
    number("pattern: says nothing of numbers", limit("pattern", ".*"), 5, false);
    number("at least: the bound", limit("minInclusive", "0.2"), 0.2, true);
    number("at least: below", limit("minInclusive", "0.2"), 0.19, false);
    number("at least: rounded just below", limit("minInclusive", "0.2"), 0.2 - 1e-9, true);
    number("at most: above", limit("maxInclusive", "5"), 5.1, false);
    number("more than: the bound", limit("minExclusive", "5"), 5, false);
    number("less than: below", limit("maxExclusive", "5"), 4.9, true);
    number("between", limit("minExclusive", "0") + limit("maxInclusive", "1"), 1, true);
    words("a bound speaks of numbers", limit("minInclusive", "0"), "5", false);
    words("length", limit("length", "4"), "Löß1", true);
    words("length: another", limit("length", "4"), "abc", false);
    words("least length", limit("minLength", "2") + limit("maxLength", "3"), "a", false);
    words("most length", limit("minLength", "2") + limit("maxLength", "3"), "abc", true);
}

void TestIds::restrictions()
{
    QFETCH(QString, restriction);
    QFETCH(QString, text);
    QFETCH(double, number);
    QFETCH(bool, isMet);
    const auto ids = readIdsText(
        file(entity("IFCWALL"),
             required("attribute", tag("name", simple("Name")) + tag("value", restricted(restriction.toStdString())))),
        "test.ids");
    QVERIFY(ids.has_value() && ids->notes.empty());
    Candidate value = Candidate::of(text.toStdString());
    if (!std::isnan(number))
        value.number = number;
    QCOMPARE(ids->specifications[0].requirements[0].value->matches(value), isMet);
    QVERIFY(!ids->specifications[0].requirements[0].value->inWords().empty());
}

void TestIds::readsAllOfAFile()
{
    // Without prefixes, as other writers have it.
    const auto ids =
        readIdsText(R"(<ids xmlns="http://standards.buildingsmart.org/IDS" xmlns:xs="http://www.w3.org/2001/XMLSchema">
<info><title> Fire </title><version>1.2</version><author>a@b.c</author><date>2026-10-01</date><purpose>Handover</purpose></info>
<specifications><specification name="Doors" ifcVersion="IFC2X3 IFC4" identifier="D1" description="why" instructions="how">
<applicability minOccurs="0" maxOccurs="unbounded"><entity><name><simpleValue>IFCDOOR</simpleValue></name></entity></applicability>
<requirements><property dataType="IFCLABEL" cardinality="optional" instructions="Ask the maker"><propertySet><simpleValue>Pset_DoorCommon</simpleValue></propertySet>
<baseName><simpleValue>FireRating</simpleValue></baseName></property></requirements></specification></specifications></ids>)",
                    "fire.ids");
    QVERIFY(ids.has_value() && ids->notes.empty());
    QCOMPARE(ids->title, std::string("Fire"));
    QCOMPARE(ids->purpose, std::string("Handover"));
    const Specification& s = ids->specifications.at(0);
    QCOMPARE(s.schemas, (std::vector<std::string>{"IFC2X3", "IFC4"}));
    QVERIFY(s.identifier == "D1" && s.description == "why" && s.instructions == "how" && s.least == 0);
    const Facet& f = s.requirements.at(0);
    QVERIFY(f.cardinality == Cardinality::Optional && f.dataType == "IFCLABEL" && f.instructions == "Ask the maker");
}

void TestIds::refusesWhatItCanNotFollow_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<bool>("isRead"); // as a file; then the one specification is left out with a note
    const auto row = [](const char* name, const std::string& text, bool isRead) {
        QTest::newRow(name) << QString::fromStdString(text) << isRead;
    };
    row("no XML", "ISO-10303-21;", false);
    row("cut short", file(entity("IFCWALL"), "").substr(0, 300), false);
    row("other XML", "<html><body/></html>", false);
    row("an entity that would be expanded", "<!DOCTYPE a [<!ENTITY x \"y\">]>" + std::string("<ids><info/></ids>"),
        false);
    row("an unknown facet", file(entity("IFCWALL"), required("colour", "")), true);
    row("a facet without its name", file(entity("IFCWALL"), required("attribute", "")), true);
    row("a bad expression",
        file(entity("IFCWALL"), required("attribute", tag("name", restricted(limit("pattern", "[a-"))))), true);
    row("a bad number",
        file(entity("IFCWALL"), required("attribute", tag("name", simple("Tag")) +
                                                          tag("value", restricted(limit("minInclusive", "much"))))),
        true);
    row("an unknown cardinality",
        file(entity("IFCWALL"), required("attribute", attribute("Tag"), "cardinality=\"maybe\"")), true);
    row("neither value nor restriction", file(entity("IFCWALL"), required("attribute", tag("name", "Tag"))), true);
    row("no applicability",
        "<ids><specifications><specification name=\"S\" ifcVersion=\"IFC4\"/></specifications></ids>", true);
    row("occurrences that are none", file(entity("IFCWALL"), "", "minOccurs=\"some\""), true);
    row("fewer than no occurrences", file(entity("IFCWALL"), "", "minOccurs=\"-1\""), true);
    row("half an occurrence", file(entity("IFCWALL"), "", "minOccurs=\"0.5\""), true);
    row("occurrences beyond all", file(entity("IFCWALL"), "", "minOccurs=\"1e300\""), true);
}

void TestIds::refusesWhatItCanNotFollow()
{
    QFETCH(QString, text);
    QFETCH(bool, isRead);
    const auto ids = readIdsText(text.toStdString(), "bad.ids");
    QCOMPARE(ids.has_value(), isRead);
    if (!isRead) {
        QVERIFY(ids.error().code == kNoIds && ids.error().inWords().find("bad.ids") != std::string::npos);
        return;
    }
    QVERIFY(ids->specifications.empty());
    QCOMPARE(ids->notes.size(), std::size_t{1});
    QCOMPARE(ids->notes[0].entity, std::string("S"));
}

void TestIds::saysWhatIsMissing()
{
    const auto ids = readIdsText(file(entity("IFCWALL"),
                                      required("property", sought("Pset_WallCommon", "FireRating", simple("EI 60")))),
                                 "test.ids")
                         .value();
    Progress progress;
    const auto results = checkIds(ids, *model_->model, progress).value();
    const Concerned& wall = results[0].failed.at(0);
    QCOMPARE(wall.guid, std::string("1WallB0000000000000001"));
    QCOMPARE(wall.name, std::string("Wall B"));
    QCOMPARE(wall.why, std::string("Pset_WallCommon.FireRating is missing."));
}

void TestIds::isCancelled()
{
    const auto ids = readIdsText(file(entity("IFCWALL"), ""), "test.ids").value();
    Progress progress;
    progress.cancel();
    const auto results = checkIds(ids, *model_->model, progress);
    QVERIFY(!results && results.error().code == step::kCancelled);
}

QTEST_GUILESS_MAIN(TestIds)
#include "test_ids.moc"
