#include "core/bcf/archive.h"
#include "core/bcf/bcf.h"
#include "core/bcf/writer.h"

#include <cstdint>
#include <string>

/// Any bytes as a BCF archive, or as the parts of a sound one: markup, viewpoint and picture, parted by zero bytes.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    using namespace wendrix;
    const std::string bytes(reinterpret_cast<const char*>(data), size);
    const auto write = [](const Result<bcf::Document>& document) {
        if (document)
            for (const bcf::Version version : {bcf::Version::V21, bcf::Version::V30})
                (void)bcf::write(document->issues, version, "5c3a1f0e-0d0c-4b7e-9a46-0000000000ff", "Fuzz");
    };
    // The same laid over what came, and converted.
    const auto rewrite = [](const std::string& archive) {
        for (const bcf::Version version : {bcf::Version::V21, bcf::Version::V30})
            if (const auto file = bcf::File::ofBytes(archive)) {
                bcf::Writer writer(version);
                writer.goOnFrom(**file);
                for (std::size_t i = 0; i < (*file)->topicCount(); ++i)
                    if (const auto topic = (*file)->topic(i))
                        writer.add(*topic);
                (void)writer.bytes();
            }
    };
    if (bytes.starts_with("PK")) {
        write(bcf::read(bytes));
        rewrite(bytes);
        return 0;
    }
    const std::size_t first = bytes.find('\0'),
                      second = first == std::string::npos ? first : bytes.find('\0', first + 1);
    const std::string topic = "5c3a1f0e-0d0c-4b7e-9a46-000000000001/";
    bcf::Entries entries{{"bcf.version", "<Version VersionId=\"2.1\"/>"},
                         {topic + "markup.bcf", bytes.substr(0, first)}};
    if (first != std::string::npos)
        entries[topic + "viewpoint.bcfv"] = bytes.substr(first + 1, second - first - 1);
    if (second != std::string::npos)
        entries[topic + "snapshot.png"] = bytes.substr(second + 1);
    if (const auto packed = bcf::pack(entries)) {
        write(bcf::read(*packed));
        rewrite(*packed);
    }
    return 0;
}
