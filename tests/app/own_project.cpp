#include "app/own_project.h"

#include "core/base/file.h"
#include "core/project/setup.h"
#include "support/ifc_text.h"

namespace wendrix::test {

void OwnProject::openEmpty(const std::vector<std::string>& disciplines)
{
    project::Setup setup;
    for (const std::string& name : disciplines)
        setup.disciplines.push_back({name, "", project::usualColour(name), setup.disciplines.empty(), {}, {}, {}});
    session().open(project::createProject((folder() + "/own").toStdString(), "Seed vault annexe", setup,
                                          {"Ines Varga", "2026-11-16T08:00:00Z"})
                       .value());
    window().show();
    QVERIFY(QTest::qWaitForWindowExposed(&window()));
    QApplication::setActiveWindow(&window());
    waitIdle();
}

std::filesystem::path OwnProject::boxes(const std::string& name, const std::vector<double>& places,
                                        const std::vector<std::string>& guids) const
{
    std::string body =
        "#10=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,2.);\n#11=IFCDIRECTION((0.,0.,1.));\n#12=IFCEXTRUDEDAREASOLID(#10,#8,"
        "#11,2.);\n"
        "#13=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#12));\n#14=IFCPRODUCTDEFINITIONSHAPE($,$,(#13));\n";
    std::string list;
    for (std::size_t i = 0; i < places.size(); ++i) {
        const int n = 100 + static_cast<int>(i) * 10;
        const std::string id = std::to_string(n);
        std::string guid = "1000000000000000000" + id;
        guid = i < guids.size() ? guids[i] : guid.substr(0, 22);
        body += "#" + id + "=IFCCARTESIANPOINT((" + std::to_string(places[i]) + ",0.,0.));\n#" + std::to_string(n + 1) +
                "=IFCAXIS2PLACEMENT3D(#" + id + ",$,$);\n#" + std::to_string(n + 2) + "=IFCLOCALPLACEMENT($,#" +
                std::to_string(n + 1) + ");\n#" + std::to_string(n + 3) + "=IFCBEAM('" + guid + "',$,'" + name + " " +
                std::to_string(i + 1) + "',$,$,#" + std::to_string(n + 2) + ",#14,$,$);\n";
        list += (list.empty() ? "#" : ",#") + std::to_string(n + 3);
    }
    body += "#90=IFCRELCONTAINEDINSPATIALSTRUCTURE('0000000000000000000093',$,$,$,(" + list + "),#5);\n";
    const std::filesystem::path file = std::filesystem::path(folder().toStdString()) / (name + ".ifc");
    (void)writeFileWhole(file, ifcFile("IFC4", body));
    return file;
}

std::filesystem::path OwnProject::fileOf(const MadeModel& made, const std::string& revision) const
{
    const std::filesystem::path file =
        std::filesystem::path(folder().toStdString()) / (made.name + "-" + revision + ".ifc");
    std::string text = made.text();
    text.insert(text.find("HEADER;"), "/* " + revision + " */\n"); // or it would be the same file
    (void)writeFileWhole(file, text);
    return file;
}

bool OwnProject::takeIn(const std::filesystem::path& file, const std::string& discipline, const std::string& revision)
{
    project::NewDelivery d;
    d.discipline = discipline;
    d.revision = revision;
    d.time = "2026-11-1" + revision.substr(2) + "T09:00:00Z";
    d.models = {{file, {}, {}, 0}};
    session().receive(d);
    waitIdle();
    const project::DeliveryId id = delivery(QString::fromStdString(discipline + " " + revision)).id;
    clickStage("Deliveries");
    clickCard(id);
    press(Qt::Key_T);
    waitIdle();
    return must(project().deliveries().get(id)).isUsed();
}

void OwnProject::acceptEveryPlace()
{
    clickStage("Coordinates");
    for (int i = 0; i < rows("Coordinates").rowCount(); ++i) {
        clickRow("Coordinates", i);
        QVERIFY(clickButton("acceptAsItStands"));
        QVERIFY(rows("Coordinates").row(i).subtitle.startsWith("to be tested as it stands, Ines Varga"));
    }
}

int OwnProject::rowWith(const QString& stage, const QString& words)
{
    const app::RowModel& model = rows(stage);
    for (int i = 0; i < model.rowCount(); ++i)
        if (model.row(i).title.contains(words) || model.row(i).subtitle.contains(words))
            return i;
    return -1;
}

QString OwnProject::words(const QString& stage)
{
    QStringList all;
    for (const QLabel* label : list(stage).findChildren<QLabel*>())
        if (label->isVisible())
            all += label->text();
    return all.join('\n');
}

} // namespace wendrix::test
