#include "core/base/binary.h"

namespace wendrix {

void BinaryWriter::diagnostics(const std::vector<Diagnostic>& list)
{
    value(static_cast<std::uint64_t>(list.size()));
    for (const Diagnostic& d : list) {
        value(static_cast<std::uint8_t>(d.severity));
        text(d.code);
        text(d.entity);
        text(d.message);
    }
}

std::string BinaryReader::text()
{
    const auto size = value<std::uint64_t>();
    const char* p = take(size);
    return p != nullptr ? std::string(p, size) : std::string();
}

std::size_t BinaryReader::count()
{
    const auto n = value<std::uint64_t>();
    if (n > bytes_.size() - at_) {
        isSound_ = false;
        return 0;
    }
    return n;
}

std::vector<Diagnostic> BinaryReader::diagnostics()
{
    std::vector<Diagnostic> list;
    for (std::size_t n = count(); n > 0 && isSound_; --n) {
        Diagnostic d;
        const auto severity = value<std::uint8_t>();
        isSound_ = isSound_ && severity <= static_cast<std::uint8_t>(Severity::Error);
        d.severity = isSound_ ? static_cast<Severity>(severity) : Severity::Error;
        d.code = text();
        d.entity = text();
        d.message = text();
        list.push_back(std::move(d));
    }
    return list;
}

std::uint64_t checksum(std::string_view bytes)
{
    // Four lanes, so that the multiplications overlap.
    std::uint64_t lanes[4] = {1, 2, 3, 4};
    constexpr std::uint64_t kFactor = 0x9E3779B97F4A7C15ull;
    std::size_t at = 0;
    for (; at + 32 <= bytes.size(); at += 32)
        for (std::size_t k = 0; k < 4; ++k) {
            std::uint64_t word = 0;
            std::memcpy(&word, bytes.data() + at + 8 * k, 8);
            lanes[k] = (lanes[k] ^ word) * kFactor;
            lanes[k] ^= lanes[k] >> 29;
        }
    std::uint64_t sum = bytes.size();
    for (; at < bytes.size(); ++at)
        sum = (sum ^ static_cast<unsigned char>(bytes[at])) * kFactor;
    for (const std::uint64_t lane : lanes)
        sum = (sum ^ lane ^ (lane >> 32)) * kFactor;
    return sum ^ (sum >> 31);
}

} // namespace wendrix
