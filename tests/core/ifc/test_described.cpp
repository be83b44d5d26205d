#include <QTest>

#include "core/ifc/described.h"
#include "support/ifc_text.h"

#include <algorithm>

using namespace wendrix;

/// What a file says of an element but its shape, and the digest of it.
class TestDescribed : public QObject {
    Q_OBJECT
private slots:
    void eachFieldIsRead_data();
    void eachFieldIsRead();
    void layersAreDescribed_data();
    void layersAreDescribed();
    void theDigestIsOfWhatIsSaid_data();
    void theDigestIsOfWhatIsSaid();
};

namespace {

constexpr const char* kBody =
    "#10=IFCCARTESIANPOINT((0.,0.));\n#12=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,2.);\n"
    "#14=IFCDIRECTION((0.,0.,1.));\n#15=IFCEXTRUDEDAREASOLID(#12,$,#14,3.);\n"
    "#16=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#15));\n#17=IFCPRODUCTDEFINITIONSHAPE($,$,(#16));\n"
    "#20=IFCWALL('0000000000000000000001',$,'Wall 1','North side','Inner wall',#4,#17,'W-1',.SOLIDWALL.);\n"
    "#21=IFCWALLTYPE('0000000000000000000002',$,'Wall 200',$,$,$,$,$,$,.SOLIDWALL.);\n"
    "#22=IFCRELDEFINESBYTYPE('0000000000000000000003',$,$,$,(#20),#21);\n"
    "#23=IFCMATERIAL('Brick',$,$);\n#24=IFCRELASSOCIATESMATERIAL('0000000000000000000004',$,$,$,(#20),#23);\n"
    "#25=IFCCLASSIFICATION($,$,$,'Houses',$,$,$);\n#26=IFCCLASSIFICATIONREFERENCE($,'W.1','Inner walls',#25,$,$);\n"
    "#27=IFCRELASSOCIATESCLASSIFICATION('0000000000000000000005',$,$,$,(#20),#26);\n"
    "#28=IFCSYSTEM('0000000000000000000006',$,'Enclosure',$,$);\n"
    "#29=IFCRELASSIGNSTOGROUP('0000000000000000000007',$,$,$,(#20),$,#28);\n"
    "#30=IFCQUANTITYLENGTH('Length',$,$,4.5,$);\n#31=IFCELEMENTQUANTITY('0000000000000000000008',$,'Qto_Wall',$,$,(#30)"
    ");\n"
    "#32=IFCRELDEFINESBYPROPERTIES('0000000000000000000009',$,$,$,(#20),#31);\n"
    "#33=IFCPROPERTYSINGLEVALUE('Load',$,IFCFORCEMEASURE(1500.),$);\n"
    "#34=IFCPROPERTYSINGLEVALUE('Rating',$,IFCLABEL('EI 30'),$);\n"
    "#35=IFCPROPERTYSET('000000000000000000000A',$,'Pset_Own',$,(#33,#34));\n"
    "#36=IFCRELDEFINESBYPROPERTIES('000000000000000000000B',$,$,$,(#20),#35);\n"
    "#37=IFCRELCONTAINEDINSPATIALSTRUCTURE('000000000000000000000C',$,$,$,(#20),#5);\n";

std::string with(std::string body, const std::string& what, const std::string& instead)
{
    const std::size_t at = body.find(what);
    if (at == std::string::npos)
        qFatal("no %s", what.c_str());
    return body.replace(at, what.size(), instead);
}

Digest digestOf(const std::string& body)
{
    const auto read = test::readText(test::ifcFile("IFC4", body));
    return read->model->descriptions()[0];
}

} // namespace

void TestDescribed::eachFieldIsRead_data()
{
    QTest::addColumn<QString>("set");
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("value");
    for (const auto& [set, name, value] : {std::tuple("", "Class", "IfcWall"),
                                           {"", "Name", "Wall 1"},
                                           {"", "Description", "North side"},
                                           {"", "ObjectType", "Inner wall"},
                                           {"", "Tag", "W-1"},
                                           {"", "PredefinedType", "SOLIDWALL"},
                                           {"", "Type", "Wall 200"},
                                           {"", "Material", "Brick"},
                                           {"", "System", "Enclosure"},
                                           {"", "Classification", "W.1: Inner walls"},
                                           {"Qto_Wall", "Length", "4.5 m"},
                                           {"Pset_Own", "Load", "1500 N"},
                                           {"Pset_Own", "Rating", "EI 30"}})
        QTest::newRow(name) << set << name << value;
}

void TestDescribed::eachFieldIsRead()
{
    QFETCH(QString, set);
    QFETCH(QString, name);
    QFETCH(QString, value);
    const auto read = test::readText(test::ifcFile("IFC4", kBody));
    const auto fields = ifc::descriptionOf(*read->model, read->model->elements()[0]);
    const auto found = std::find_if(fields.begin(), fields.end(), [&](const ifc::Described& f) {
        return f.set == set.toStdString() && f.name == name.toStdString();
    });
    QVERIFY(found != fields.end());
    QCOMPARE(QString::fromStdString(found->value + (found->unit.empty() ? "" : " " + found->unit)), value);
}

void TestDescribed::layersAreDescribed_data()
{
    QTest::addColumn<QString>("material"); ///< its entities; #23 is what the wall has
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("value");
    QTest::addColumn<QString>("what"); ///< that is changed
    QTest::addColumn<QString>("instead");
    const QString brick = "#60=IFCMATERIAL('Brick',$,$);\n#61=IFCMATERIAL('Wool',$,$);\n",
                  layers =
                      brick + "#62=IFCMATERIALLAYER(#60,0.24,$,$,$,$,$);\n#63=IFCMATERIALLAYER(#61,0.1,$,$,$,$,$);\n";
    QTest::newRow("a layer's thickness") << layers + "#23=IFCMATERIALLAYERSET((#62,#63),$,$);\n"
                                         << "Layer 2 thickness"
                                         << "0.1 m"
                                         << ",0.1,"
                                         << ",0.12,";
    QTest::newRow("of a usage") << layers + "#64=IFCMATERIALLAYERSET((#62,#63),$,$);\n"
                                            "#23=IFCMATERIALLAYERSETUSAGE(#64,.AXIS2.,.POSITIVE.,0.,$);\n"
                                << "Layer 1 thickness"
                                << "0.24 m"
                                << ",0.24,"
                                << ",0.365,";
    QTest::newRow("a layer of air") << brick + "#62=IFCMATERIALLAYER(#60,0.24,$,$,$,$,$);\n"
                                               "#63=IFCMATERIALLAYER($,0.04,.T.,$,$,$,$);\n"
                                               "#23=IFCMATERIALLAYERSET((#62,#63),$,$);\n"
                                    << "Layer 2 thickness"
                                    << "0.04 m"
                                    << ",0.04,"
                                    << ",0.06,";
    QTest::newRow("a constituent's share")
        << brick + "#62=IFCMATERIALCONSTITUENT('Fill',$,#61,0.3,$);\n#23=IFCMATERIALCONSTITUENTSET($,$,(#62));\n"
        << "Constituent Fill share"
        << "0.3"
        << ",0.3,"
        << ",0.4,";
    QTest::newRow("a profile's name")
        << brick + "#62=IFCRECTANGLEPROFILEDEF(.AREA.,'RHS 100x50',$,0.1,0.05);\n"
                   "#63=IFCMATERIALPROFILE($,$,#60,#62,$,$);\n#23=IFCMATERIALPROFILESET($,$,(#63),$);\n"
        << "Profile 1"
        << "RHS 100x50"
        << "RHS 100x50"
        << "RHS 120x60";
}

void TestDescribed::layersAreDescribed()
{
    QFETCH(QString, material);
    QFETCH(QString, name);
    QFETCH(QString, value);
    QFETCH(QString, what);
    QFETCH(QString, instead);
    const auto bodyOf = [](const QString& entities) {
        return with(kBody, "#23=IFCMATERIAL('Brick',$,$);\n", entities.toStdString());
    };
    const auto read = test::readText(test::ifcFile("IFC4", bodyOf(material)));
    const auto fields = ifc::descriptionOf(*read->model, read->model->elements()[0]);
    const auto found =
        std::find_if(fields.begin(), fields.end(), [&](const auto& f) { return f.name == name.toStdString(); });
    QVERIFY(found != fields.end());
    QCOMPARE(QString::fromStdString(found->value + (found->unit.empty() ? "" : " " + found->unit)), value);
    QVERIFY(!(digestOf(bodyOf(material)) == digestOf(bodyOf(QString(material).replace(what, instead)))));
}

void TestDescribed::theDigestIsOfWhatIsSaid_data()
{
    QTest::addColumn<QString>("what");
    QTest::addColumn<QString>("instead");
    QTest::addColumn<bool>("isTheSame");
    const auto row = [](const char* name, const char* what, const char* instead, bool isTheSame) {
        QTest::newRow(name) << what << instead << isTheSame;
    };
    row("properties in another order", "(#33,#34)", "(#34,#33)", true);
    row("another id of a set", "000000000000000000000A", "000000000000000000000Z", true);
    row("another number of an entity",
        "#34=IFCPROPERTYSINGLEVALUE('Rating',$,IFCLABEL('EI "
        "30'),$);\n#35=IFCPROPERTYSET('000000000000000000000A',$,'Pset_Own',$,(#33,#34))",
        "#99=IFCPROPERTYSINGLEVALUE('Rating',$,IFCLABEL('EI "
        "30'),$);\n#35=IFCPROPERTYSET('000000000000000000000A',$,'Pset_Own',$,(#33,#99))",
        true);
    row("a size", "1.,2.)", "1.,2.5)", true);
    row("a name", "'Wall 1'", "'Wall 2'", false);
    row("a description", "'North side'", "'South side'", false);
    row("a type's name", "'Wall 200'", "'Wall 240'", false);
    row("a material", "'Brick'", "'Concrete'", false);
    row("a classification", "'W.1'", "'W.2'", false);
    row("a system", "'Enclosure'", "'Frame'", false);
    row("a quantity", "4.5", "4.6", false);
    row("a value", "'EI 30'", "'EI 60'", false);
    row("a set's name", "'Pset_Own'", "'Pset_Other'", false);
    row("a class", "IFCWALL(", "IFCWALLSTANDARDCASE(", false);
}

void TestDescribed::theDigestIsOfWhatIsSaid()
{
    QFETCH(QString, what);
    QFETCH(QString, instead);
    QFETCH(bool, isTheSame);
    QCOMPARE(digestOf(with(kBody, what.toStdString(), instead.toStdString())) == digestOf(kBody), isTheSame);
}

QTEST_GUILESS_MAIN(TestDescribed)
#include "test_described.moc"
