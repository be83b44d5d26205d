#include "core/bcf/picture.h"

#include <zlib.h>

#include <algorithm>

namespace wendrix::bcf {

namespace {

constexpr std::uint64_t kMostPixels = 100'000'000;

std::uint32_t number(std::string_view bytes, std::size_t at, int length)
{
    std::uint32_t value = 0;
    for (int i = 0; i < length; ++i)
        value = (value << 8) | static_cast<unsigned char>(bytes[at + static_cast<std::size_t>(i)]);
    return value;
}

/// What is wrong with a PNG's pixels (ISO/IEC 15948, clause 10).
/// @param row  bytes of a row, 0 where rows are interlaced
std::string pixelTrouble(const std::string& packed, std::uint64_t width, std::uint64_t height, std::uint64_t row)
{
    if (packed.empty() || width == 0 || height == 0)
        return "has no pixels";
    z_stream stream{};
    if (inflateInit(&stream) != Z_OK)
        return "can not be looked at";
    stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(packed.data()));
    stream.avail_in = static_cast<uInt>(packed.size());
    const std::uint64_t limit = (row > 0 ? row : width * 8 + 16) * (height + 16);
    std::uint64_t size = 0;
    unsigned char block[1 << 16];
    int result = Z_OK;
    while (result == Z_OK && size <= limit) {
        stream.next_out = block;
        stream.avail_out = sizeof block;
        result = inflate(&stream, Z_NO_FLUSH);
        size += sizeof block - stream.avail_out;
        if (result == Z_BUF_ERROR)
            break;
    }
    inflateEnd(&stream);
    if (result != Z_OK && result != Z_STREAM_END && result != Z_BUF_ERROR)
        return "has broken pixels";
    if (size > limit || (row > 0 && size > row * height))
        return "has too many pixels";
    return result != Z_STREAM_END || (row > 0 && size < row * height) ? "has too few pixels" : "";
}

PictureFacts pngFacts(std::string_view bytes, bool isWhole)
{
    PictureFacts facts{"png", 0, 0, {}};
    std::uint64_t row = 0;
    std::string pixels;
    for (std::size_t at = 8; at + 12 <= bytes.size();) {
        const std::size_t size = number(bytes, at, 4);
        const std::string_view kind = bytes.substr(at + 4, 4);
        if (size > bytes.size() - at - 12)
            break;
        if (at == 8) {
            if (kind != "IHDR" || size != 13) {
                facts.trouble = "does not begin with a header chunk";
                return facts;
            }
            facts.width = number(bytes, at + 8, 4);
            facts.height = number(bytes, at + 12, 4);
            const auto depth = number(bytes, at + 16, 1), colour = number(bytes, at + 17, 1);
            const std::uint64_t channels = colour == 2                  ? 3
                                           : colour == 4                ? 2
                                           : colour == 6                ? 4
                                           : colour == 0 || colour == 3 ? 1
                                                                        : 0;
            row = number(bytes, at + 20, 1) != 0 ? 0 : (facts.width * channels * depth + 7) / 8 + 1;
            if (!isWhole)
                return facts;
        }
        const auto* data = reinterpret_cast<const Bytef*>(bytes.data() + at + 4);
        if (number(bytes, at + 8 + size, 4) != crc32(0, data, static_cast<uInt>(size + 4))) {
            facts.trouble = "has a chunk whose checksum is wrong";
            return facts;
        }
        if (kind == "IDAT")
            pixels.append(bytes.substr(at + 8, size));
        if (kind == "IEND") {
            if (!isTooLarge(facts))
                facts.trouble = pixelTrouble(pixels, facts.width, facts.height, row);
            return facts;
        }
        at += 12 + size;
    }
    facts.trouble = "is cut short";
    return facts;
}

PictureFacts jpegFacts(std::string_view bytes)
{
    PictureFacts facts{"jpg", 0, 0, "is cut short"};
    for (std::size_t at = 2; at + 4 <= bytes.size();) {
        if (number(bytes, at, 1) != 0xFF) {
            facts.trouble = "is broken between its segments";
            return facts;
        }
        const auto marker = number(bytes, at + 1, 1);
        if (marker == 0xFF) {
            ++at;
            continue;
        }
        const std::size_t size = number(bytes, at + 2, 2);
        if (marker >= 0xC0 && marker <= 0xCF && marker != 0xC4 && marker != 0xC8 && marker != 0xCC) {
            if (at + 9 > bytes.size())
                break;
            facts.height = number(bytes, at + 5, 2);
            facts.width = number(bytes, at + 7, 2);
        }
        if (marker == 0xDA) {
            const auto tail = bytes.substr(bytes.size() - std::min<std::size_t>(bytes.size(), 64));
            if (tail.find("\xFF\xD9") != std::string_view::npos && facts.width > 0 && facts.height > 0)
                facts.trouble.clear();
            return facts;
        }
        at += 2 + size;
    }
    return facts;
}

} // namespace

PictureFacts factsOf(std::string_view bytes, bool isWhole)
{
    if (bytes.starts_with("\x89PNG\r\n\x1a\n"))
        return pngFacts(bytes, isWhole);
    if (bytes.starts_with("\xFF\xD8\xFF"))
        return jpegFacts(bytes);
    return {};
}

bool isTooLarge(const PictureFacts& picture) { return std::uint64_t{picture.width} * picture.height > kMostPixels; }

} // namespace wendrix::bcf
