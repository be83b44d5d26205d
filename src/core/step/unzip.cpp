#include "core/step/unzip.h"

#include "core/base/text.h"
#include "core/step/file.h"
#include "core/step/parse.h"

#include <zip.h>

namespace wendrix::step {

namespace {

// Models come down to a tenth, the most repetitive to a sixtieth. What unpacks to less needs no bound.
constexpr std::size_t kMostInflation = 100, kSmallBytes = std::size_t{16} << 20;
constexpr std::size_t kMostBytes = std::size_t{8} << 30;
constexpr zip_int64_t kMostEntries = 10'000;

struct Discard {
    void operator()(zip_t* archive) const { zip_discard(archive); }
    void operator()(zip_file_t* file) const { zip_fclose(file); }
};

/// Whether a model begins so.
bool mayBeStep(std::string_view block)
{
    const std::string_view text = block.substr(skipBlank(block, block.starts_with("\xEF\xBB\xBF") ? 3 : 0));
    return text.starts_with("ISO-10303-21") || text.size() < 12;
}

} // namespace

Result<std::shared_ptr<const std::string>> unzipModel(std::string_view bytes, const std::string& name,
                                                      Progress& progress)
{
    const auto refuse = [&](const std::string& why, const std::string& entry = "") {
        return fail({kArchive, why + " Ask the sender to export it again as .ifc or .ifczip.", name, entry});
    };
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    const std::unique_ptr<zip_t, Discard> archive(source != nullptr ? zip_open_from_source(source, ZIP_RDONLY, &error)
                                                                    : nullptr);
    if (!archive) {
        if (source != nullptr)
            zip_source_free(source);
        return refuse("The zip archive is damaged.");
    }
    const zip_int64_t count = zip_get_num_entries(archive.get(), 0);
    zip_int64_t model = -1;
    zip_stat_t stat{};
    for (zip_int64_t i = 0; i < std::min(count, kMostEntries); ++i) {
        const char* entry = zip_get_name(archive.get(), static_cast<zip_uint64_t>(i), 0);
        if (entry == nullptr || !lowerCase(entry).ends_with(".ifc"))
            continue;
        if (model >= 0)
            return refuse("The zip archive holds more than one model, so it is not clear which one is meant.", entry);
        model = i;
    }
    if (model < 0 || zip_stat_index(archive.get(), static_cast<zip_uint64_t>(model), 0, &stat) != 0)
        return refuse("The zip archive holds no .ifc file.");
    const std::string entry = stat.name;
    // Packed sizes are the archive's own words too, but no more than it has bytes.
    const std::size_t packed =
        std::min<std::size_t>((stat.valid & ZIP_STAT_COMP_SIZE) != 0 ? stat.comp_size : SIZE_MAX, bytes.size());
    const std::size_t most = std::min(kMostBytes, std::max(kSmallBytes, packed * kMostInflation));
    const std::string tooLarge = "The model in the zip archive unpacks to more than any real model would.";
    const bool isSizeKnown = (stat.valid & ZIP_STAT_SIZE) != 0 && stat.size > 0;
    if (isSizeKnown && stat.size > most)
        return refuse(tooLarge, entry);
    const std::unique_ptr<zip_file_t, Discard> file(
        zip_fopen_index(archive.get(), static_cast<zip_uint64_t>(model), 0));
    if (!file)
        return refuse("The model in the zip archive can not be unpacked; it may be encrypted or damaged.", entry);
    auto content = std::make_shared<std::string>();
    char block[1 << 16];
    for (;;) {
        if (progress.isCancelled())
            return fail({kCancelled, "Reading was cancelled.", name});
        const zip_int64_t got = zip_fread(file.get(), block, sizeof block);
        if (got < 0)
            return refuse("The model in the zip archive is damaged.", entry);
        if (got == 0)
            return std::shared_ptr<const std::string>(std::move(content));
        if (content->empty()) {
            if (!mayBeStep({block, static_cast<std::size_t>(got)}))
                return refuse("What is called a model in the zip archive is none: it does not begin with ISO-10303-21.",
                              entry);
            content->reserve(isSizeKnown ? stat.size : 0); // else it is copied again and again as it grows
        }
        content->append(block, static_cast<std::size_t>(got));
        if (content->size() > most)
            return refuse(tooLarge, entry);
        if (isSizeKnown)
            progress.reportBytes("Unpacking " + entry, content->size(), stat.size);
    }
}

} // namespace wendrix::step
