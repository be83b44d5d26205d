#include "support/bcf_samples.h"

#include "core/bcf/check.h"

#include <zip.h>
#include <zlib.h>

#include <cstdio>
#include <cstdlib>
#include <vector>

namespace wendrix::test {

namespace {

using bcf::Version;

const std::string kXml = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n";

std::string bigEndian(std::uint32_t n)
{
    std::string bytes;
    for (int shift = 24; shift >= 0; shift -= 8)
        bytes += static_cast<char>((n >> shift) & 0xFF);
    return bytes;
}

std::string chunk(const std::string& kind, const std::string& data)
{
    const std::string body = kind + data;
    return bigEndian(static_cast<std::uint32_t>(data.size())) + body +
           bigEndian(static_cast<std::uint32_t>(
               crc32(0, reinterpret_cast<const Bytef*>(body.data()), static_cast<uInt>(body.size()))));
}

std::string point(const std::string& name, const std::string& x, const std::string& y, const std::string& z)
{
    return "<" + name + "><X>" + x + "</X><Y>" + y + "</Y><Z>" + z + "</Z></" + name + ">";
}

std::string camera(const std::string& kind, bool isNew)
{
    return "<" + kind + "Camera>" + point("CameraViewPoint", "1", "-2.5", "1e1") +
           point("CameraDirection", "0", "1", "0") + point("CameraUpVector", "0", "0", "1") +
           (kind == "Perspective" ? "<FieldOfView>50</FieldOfView>" : "<ViewToWorldScale>12.5</ViewToWorldScale>") +
           (isNew ? "<AspectRatio>1.5</AspectRatio>" : "") + "</" + kind + "Camera>";
}

std::string visualisation(const std::string& guid, const std::string& kind, bool isNew)
{
    const std::string
        hints = R"(<ViewSetupHints SpacesVisible="true" SpaceBoundariesVisible="false" OpeningsVisible="0"/>)",
        part = "<Component IfcGuid=\"" + std::string(kElement) +
               "\"><OriginatingSystem>x</OriginatingSystem><AuthoringToolId>7</AuthoringToolId></Component>",
        painted = isNew ? "<Components>" + part + "</Components>" : part,
        format = isNew ? "<Format>png</Format>" : "<Bitmap>PNG</Bitmap>",
        bitmap = "<Bitmap>" + format + "<Reference>note.png</Reference>" + point("Location", "0", "0", "0") +
                 point("Normal", "0", "0", "1") + point("Up", "0", "1", "0") + "<Height>2</Height></Bitmap>";
    return kXml + "<VisualizationInfo Guid=\"" + guid + "\"><Components>" + (isNew ? "" : hints) + "<Selection>" +
           part + "</Selection><Visibility DefaultVisibility=\"true\">" + (isNew ? hints : "") + "<Exceptions>" + part +
           "</Exceptions></Visibility><Coloring><Color Color=\"80FF0000\">" + painted +
           "</Color><Color Color=\"00ff00\">" + painted + "</Color></Coloring></Components>" + camera(kind, isNew) +
           "<Lines><Line>" + point("StartPoint", "0", "0", "0") + point("EndPoint", "1", "1", "1") +
           "</Line></Lines><ClippingPlanes><ClippingPlane>" + point("Location", "0", "0", "3") +
           point("Direction", "0", "0", "1") + "</ClippingPlane></ClippingPlanes>" +
           (isNew ? "<Bitmaps>" + bitmap + "</Bitmaps>" : bitmap) + "</VisualizationInfo>";
}

std::string comment()
{
    return "<Comment Guid=\"" + std::string(kComment) +
           "\"><Date>2024-02-29T10:00:00+02:00</Date><Author>ada@example.com</Author><Comment>See "
           "here</Comment><Viewpoint Guid=\"" +
           kView +
           "\"/><ModifiedDate>2024-03-01T10:00:00.25Z</ModifiedDate><ModifiedAuthor>ada@example.com</ModifiedAuthor></"
           "Comment>";
}

std::string views(bool isNew)
{
    const std::string tag = isNew ? "ViewPoint" : "Viewpoints";
    return "<" + tag + " Guid=\"" + kView +
           "\"><Viewpoint>viewpoint.bcfv</Viewpoint><Snapshot>snapshot.png</Snapshot><Index>1</Index></" + tag + "><" +
           tag + " Guid=\"" + kSecondView + "\"><Viewpoint>two.bcfv</Viewpoint><Snapshot>two.jpg</Snapshot></" + tag +
           ">";
}

std::string common()
{
    return "<CreationDate>2024-02-28T10:00:00Z</CreationDate><CreationAuthor>ada@example.com</CreationAuthor>"
           "<ModifiedDate>2024-03-01T10:00:00Z</ModifiedDate><ModifiedAuthor>ada@example.com</ModifiedAuthor>"
           "<DueDate>2024-04-01T00:00:00Z</DueDate><AssignedTo>ada@example.com</AssignedTo><Stage>Design</Stage>"
           "<Description>Lines\nof text</Description>";
}

const std::string kHead = "<Title>Duct meets beam</Title><Priority>High</Priority><Index>3</Index>";
const std::string kBare = "<Title>Bare</Title><CreationDate>2024-02-28T10:00:00Z</"
                          "CreationDate><CreationAuthor>ada@example.com</CreationAuthor>";

std::string markup21()
{
    return kXml + "<Markup><Header><File IfcProject=\"" + kElement +
           "\" isExternal=\"false\"><Filename>a.ifc</Filename>"
           "<Date>2024-01-01T00:00:00Z</Date><Reference>../a.ifc</Reference></File></Header><Topic Guid=\"" +
           kTopic +
           "\" TopicType=\"Clash\" TopicStatus=\"Open\"><ReferenceLink>https://example.com/1</ReferenceLink>"
           "<ReferenceLink>https://example.com/2</ReferenceLink>" +
           kHead + "<Labels>Structure</Labels><Labels>Architecture</Labels>" + common() +
           "<BimSnippet SnippetType=\".ifc\" isExternal=\"false\"><Reference>part.ifc</Reference><ReferenceSchema>"
           "https://example.com/s</ReferenceSchema></BimSnippet><DocumentReference Guid=\"" +
           kDocument +
           "\"><ReferencedDocument>../plan.pdf</ReferencedDocument><Description>Plan</Description></DocumentReference>"
           "<DocumentReference "
           "isExternal=\"true\"><ReferencedDocument>https://example.com/x</ReferencedDocument></DocumentReference>"
           "<RelatedTopic Guid=\"" +
           kOther + "\"/></Topic>" + comment() + views(false) + "</Markup>";
}

std::string markup30()
{
    return kXml + "<Markup><Header><Files><File IfcProject=\"" + kElement +
           "\" IsExternal=\"false\"><Filename>a.ifc</Filename>"
           "<Date>2024-01-01T00:00:00Z</Date><Reference>../a.ifc</Reference></File></Files></Header><Topic Guid=\"" +
           kTopic +
           "\" ServerAssignedId=\"A-7\" TopicType=\"Clash\" "
           "TopicStatus=\"Open\"><ReferenceLinks><ReferenceLink>https://example.com/1"
           "</ReferenceLink></ReferenceLinks>" +
           kHead + "<Labels><Label>Structure</Label><Label>Architecture</Label></Labels>" + common() +
           "<BimSnippet SnippetType=\".ifc\" IsExternal=\"false\"><Reference>part.ifc</Reference><ReferenceSchema>"
           "https://example.com/s</ReferenceSchema></BimSnippet><DocumentReferences><DocumentReference Guid=\"" +
           kComment + "\"><DocumentGuid>" + kDocument +
           "</DocumentGuid><Description>Plan</Description></DocumentReference><DocumentReference Guid=\"" + kView +
           "\"><Url>https://example.com/x</Url></DocumentReference></DocumentReferences><RelatedTopics><RelatedTopic "
           "Guid=\"" +
           kOther + "\"/></RelatedTopics><Comments>" + comment() + "</Comments><Viewpoints>" + views(true) +
           "</Viewpoints></Topic></Markup>";
}

std::string extensions21()
{
    std::string types;
    for (const auto& [name, values] :
         std::vector<std::pair<const char*, std::vector<const char*>>>{{"TopicType", {"Clash", "Request"}},
                                                                       {"TopicStatus", {"Open", "Closed"}},
                                                                       {"TopicLabel", {"Structure", "Architecture"}},
                                                                       {"SnippetType", {".ifc"}},
                                                                       {"Priority", {"Low", "High"}},
                                                                       {"UserIdType", {"ada@example.com"}},
                                                                       {"Stage", {"Design"}}}) {
        types += "<xs:simpleType name=\"" + std::string(name) + "\"><xs:restriction base=\"" + name + "\">";
        for (const char* value : values)
            types += "<xs:enumeration value=\"" + std::string(value) + "\"/>";
        types += "</xs:restriction></xs:simpleType>";
    }
    return kXml +
           "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"><xs:redefine schemaLocation=\"markup.xsd\">" +
           types + "</xs:redefine></xs:schema>";
}

std::string extensions30()
{
    return kXml + "<Extensions><TopicTypes><TopicType>Clash</TopicType></TopicTypes><TopicStatuses><TopicStatus>Open</"
                  "TopicStatus>"
                  "</TopicStatuses><Priorities><Priority>High</Priority></"
                  "Priorities><TopicLabels><TopicLabel>Structure</TopicLabel><TopicLabel>"
                  "Architecture</TopicLabel></TopicLabels><Users><User>ada@example.com</User></"
                  "Users><SnippetTypes><SnippetType>.ifc</SnippetType>"
                  "</SnippetTypes><Stages><Stage>Design</Stage></Stages></Extensions>";
}

} // namespace

std::string png(int width, int height)
{
    std::string rows;
    for (int y = 0; y < height; ++y)
        rows += std::string(1, '\0') + std::string(static_cast<std::size_t>(width), '\x80');
    std::string packed(compressBound(static_cast<uLong>(rows.size())), '\0');
    auto size = static_cast<uLongf>(packed.size());
    compress(reinterpret_cast<Bytef*>(packed.data()), &size, reinterpret_cast<const Bytef*>(rows.data()),
             static_cast<uLong>(rows.size()));
    packed.resize(size);
    const std::string header = bigEndian(static_cast<std::uint32_t>(width)) +
                               bigEndian(static_cast<std::uint32_t>(height)) + std::string("\x08\0\0\0\0", 5);
    return "\x89PNG\r\n\x1a\n" + chunk("IHDR", header) + chunk("IDAT", packed) + chunk("IEND", "");
}

std::string jpeg()
{
    using namespace std::string_literals;
    return "\xff\xd8\xff\xe0\0\x10JFIF\0\1\1\0\0\1\0\1\0\0"s + "\xff\xc0\0\x0b\x08\0\x02\0\x02\x01\x01\x11\0"s +
           "\xff\xda\0\x08\x01\x01\0\0\x3f\0\x00\xff\xd9"s;
}

bcf::Entries wholeBcf(Version version)
{
    const bool isNew = version == Version::V30;
    const std::string topic = std::string(kTopic) + "/", other = std::string(kOther) + "/";
    bcf::Entries files{
        {"bcf.version", kXml + (isNew ? "<Version VersionId=\"3.0\"/>"
                                      : "<Version VersionId=\"2.1\"><DetailedVersion>2.1</DetailedVersion></Version>")},
        {"project.bcfp",
         kXml +
             (isNew
                  ? "<ProjectInfo><Project ProjectId=\"p\"><Name>P</Name></Project></ProjectInfo>"
                  : "<ProjectExtension><Project ProjectId=\"p\"><Name>P</Name></Project><ExtensionSchema>extensions.xsd"
                    "</ExtensionSchema></ProjectExtension>")},
        {isNew ? "extensions.xml" : "extensions.xsd", isNew ? extensions30() : extensions21()},
        {isNew ? "Documents/" + std::string(kDocument) : "plan.pdf", "%PDF-"},
        {"a.ifc", "ISO-10303-21;"},
        {topic + "markup.bcf", isNew ? markup30() : markup21()},
        {topic + "viewpoint.bcfv", visualisation(kView, "Perspective", isNew)},
        {topic + "snapshot.png", png()},
        {topic + "two.bcfv", visualisation(kSecondView, "Orthogonal", isNew)},
        {topic + "two.jpg", jpeg()},
        {topic + "note.png", png()},
        {topic + "part.ifc", "x"},
        {other + "markup.bcf", kXml + "<Markup><Topic Guid=\"" + kOther +
                                   (isNew ? "\" TopicType=\"Clash\" TopicStatus=\"Open\">" : "\">") + kBare +
                                   "</Topic></Markup>"}};
    if (isNew)
        files["documents.xml"] =
            kXml + "<DocumentInfo><Documents><Document Guid=\"" + kDocument +
            "\"><Filename>plan.pdf</Filename><Description>Plan</Description></Document></Documents></DocumentInfo>";
    return files;
}

void zipTo(const bcf::Entries& entries, const std::filesystem::path& path)
{
    int code = 0;
    zip_t* archive = zip_open(path.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &code);
    for (const auto& [name, bytes] : entries)
        zip_file_add(archive, name.c_str(), zip_source_buffer(archive, bytes.data(), bytes.size(), 0),
                     ZIP_FL_ENC_UTF_8);
    if (zip_close(archive) != 0)
        std::abort();
}

std::string problems(const std::filesystem::path& file)
{
    const auto checked = bcf::check(file);
    if (!checked)
        return checked.error().inWords();
    std::string text;
    for (const Diagnostic& d : checked->problems)
        text += d.entity + ": " + d.message + "\n";
    return text;
}

void edit(bcf::Entries& entries, const std::string& entry, const std::string& from, const std::string& to)
{
    const auto found = entries.find(entry);
    const std::size_t at = found == entries.end() ? std::string::npos : found->second.find(from);
    if (at == std::string::npos) {
        std::fprintf(stderr, "no \"%s\" in %s\n", from.c_str(), entry.c_str());
        std::abort();
    }
    found->second.replace(at, from.size(), to);
}

} // namespace wendrix::test
