#include "core/base/file.h"
#include "core/federation/member_cache.h"

#include <cstdint>
#include <cstring>
#include <filesystem>

/// Any bytes as what was kept of a file, or, after a zero, bytes laid over what was kept soundly, by place and length:
/// restored, if it is, everything of it is asked for.
namespace {

using namespace wendrix;

const std::string kText =
    "ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4'));ENDSEC;DATA;\n"
    "#1=IFCPROJECT('0000000000000000000001',$,'Fuzz',$,$,$,$,(#3),#2);#2=IFCUNITASSIGNMENT((#6,#7));\n"
    "#3=IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-5,#8,$);#4=IFCLOCALPLACEMENT($,#8);\n"
    "#5=IFCBUILDINGSTOREY('0000000000000000000005',$,'Level 1',$,$,#4,$,$,.ELEMENT.,0.);\n"
    "#6=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#7=IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.);\n"
    "#8=IFCAXIS2PLACEMENT3D(#9,$,$);#9=IFCCARTESIANPOINT((0.,0.,0.));#80=IFCBLOCK(#8,1.,2.,3.);\n"
    "#90=IFCSHAPEREPRESENTATION(#3,'Body','CSG',(#80));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));\n"
    "#92=IFCBUILDINGELEMENTPROXY('0000000000000000000092',$,'Proxy',$,$,#4,#91,$,$);\n"
    "#93=IFCRELCONTAINEDINSPATIALSTRUCTURE('0000000000000000000093',$,$,$,(#92),#5);\nENDSEC;END-ISO-10303-21;";

struct Kept {
    Kept()
    {
        std::string name = (std::filesystem::temp_directory_path() / "wendrix-fuzz-XXXXXX").string();
        folder = ::mkdtemp(name.data());
        file = folder / "a.ifc";
        (void)writeFileWhole(file, kText);
        Progress progress;
        const auto member = federation::openMember(file, progress).value();
        federation::MemberCache(folder).keep(member, "0");
        const std::string whole = readFileWhole(federation::MemberCache(folder).fileOf("0")).value();
        head = whole.substr(0, 96);
        payload = whole.substr(96);
    }
    ~Kept()
    {
        std::error_code ignored;
        std::filesystem::remove_all(folder, ignored);
    }
    std::filesystem::path folder, file;
    std::string head, payload;
};

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    static const Kept kept;
    const federation::MemberCache cache(kept.folder);
    // Whoever makes one up can make up its checksum too.
    std::string payload(reinterpret_cast<const char*>(data), size);
    if (size > 0 && data[0] == 0) {
        payload = kept.payload;
        for (std::size_t at = 1; at + 4 < size;) {
            std::uint32_t place = 0;
            std::memcpy(&place, data + at, 3);
            place %= static_cast<std::uint32_t>(payload.size());
            const std::size_t length = std::min<std::size_t>(data[at + 3], size - at - 4);
            std::memcpy(payload.data() + place, data + at + 4, std::min(length, payload.size() - place));
            at += 4 + length;
        }
    }
    std::string head = kept.head;
    const std::uint64_t sizes[2] = {payload.size(), checksum(payload)};
    std::memcpy(head.data() + head.size() - sizeof sizes, sizes, sizeof sizes);
    const auto file = cache.fileOf("0");
    std::filesystem::remove(file);
    (void)writeFileWhole(file, head + payload);
    const auto member = cache.find(kept.file, "0");
    if (!member)
        return 0;
    const ifc::Model& model = *member->model;
    volatile std::size_t sum = 0;
    for (const ifc::Element& e : model.elements()) {
        sum = sum + model.properties(e).size() + model.text(e.name).size() + model.className(e).size();
        sum = sum + model.relations().others(e.entity, "IfcRelContainedInSpatialStructure", false).size();
    }
    for (const step::Entry& entry : model.source().file().entities().all())
        sum = sum + model.source().entity(entry.id()).typeName().size();
    for (ifc::ElementIndex i = 0; i < model.elements().size(); ++i)
        sum = sum + member->geometry->meshOf(i).triangles.size();
    return 0;
}
