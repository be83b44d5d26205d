#include "core/base/hash.h"
#include "core/base/guid.h"

#include "core/base/file.h"
#include "core/base/folder_guard.h"

#include <fcntl.h>
#include <openssl/evp.h>

#include <array>
#include <cerrno>
#include <cstdint>
#include <cstring>
#include <random>
#include <vector>

namespace wendrix {

namespace {

std::string hex(const unsigned char* bytes, std::size_t count)
{
    static constexpr char kDigits[] = "0123456789abcdef";
    std::string text;
    text.reserve(2 * count);
    for (std::size_t i = 0; i < count; ++i) {
        text += kDigits[bytes[i] >> 4];
        text += kDigits[bytes[i] & 15];
    }
    return text;
}

std::string uuidText(std::array<unsigned char, 16> bytes, unsigned version)
{
    bytes[6] = static_cast<unsigned char>((bytes[6] & 0x0f) | (version << 4));
    bytes[8] = static_cast<unsigned char>((bytes[8] & 0x3f) | 0x80);
    std::string text = hex(bytes.data(), bytes.size());
    for (const std::size_t at : {20u, 16u, 12u, 8u})
        text.insert(at, 1, '-');
    return text;
}

} // namespace

Sha256::Sha256() : context_(EVP_MD_CTX_new(), &EVP_MD_CTX_free)
{
    EVP_DigestInit_ex(context_.get(), EVP_sha256(), nullptr);
}

void Sha256::add(std::string_view bytes) { EVP_DigestUpdate(context_.get(), bytes.data(), bytes.size()); }

std::string Sha256::finish()
{
    std::array<unsigned char, 32> digest{};
    EVP_DigestFinal_ex(context_.get(), digest.data(), nullptr);
    return hex(digest.data(), digest.size());
}

std::string sha256(std::string_view bytes)
{
    Sha256 sum;
    sum.add(bytes);
    return sum.finish();
}

Result<std::string> sha256OfFile(const std::filesystem::path& path)
{
    const Descriptor file = openFile(path, O_RDONLY);
    if (!file.isOpen())
        return fail(
            {kFileUnreadable, "The file can not be opened; check that it exists and may be read.", path.string()});
    Sha256 sum;
    std::vector<char> block(1 << 20);
    for (;;) {
        const ssize_t got = ::read(file.get(), block.data(), block.size());
        if (got < 0 && errno == EINTR)
            continue;
        if (got < 0)
            return fail({kFileUnreadable, "Reading the file failed half way.", path.string()});
        if (got == 0)
            break;
        sum.add({block.data(), static_cast<std::size_t>(got)});
    }
    return sum.finish();
}

std::string newUuid()
{
    // From the system each time: the state of a generator would be shared with a process that is forked.
    std::random_device device;
    std::array<unsigned char, 16> bytes{};
    for (std::size_t i = 0; i < bytes.size(); i += 4) {
        const auto four = static_cast<std::uint32_t>(device());
        std::memcpy(&bytes[i], &four, sizeof four);
    }
    return uuidText(bytes, 4);
}

std::string uuidFromText(std::string_view text)
{
    Sha256 sum;
    sum.add(text);
    const auto digest = sum.finish();
    std::array<unsigned char, 16> bytes{};
    std::copy_n(digest.begin(), bytes.size(), bytes.begin());
    return uuidText(bytes, 8);
}

bool isIfcGuid(std::string_view text)
{
    if (text.size() != 22 || text[0] < '0' || text[0] > '3')
        return false;
    for (const char c : text)
        if (!((c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || c == '_' || c == '$'))
            return false;
    return true;
}

} // namespace wendrix
