#pragma once

#include "core/base/result.h"

#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

struct evp_md_ctx_st;

namespace wendrix {

/// A SHA-256 that is fed in pieces.
class Sha256 {
public:
    Sha256();
    void add(std::string_view bytes);
    /// 64 lower-case hexadecimal digits; nothing can be added afterwards.
    [[nodiscard]] std::string finish();

private:
    std::unique_ptr<evp_md_ctx_st, void (*)(evp_md_ctx_st*)> context_;
};

/// SHA-256 as 64 lower-case hexadecimal digits.
[[nodiscard]] std::string sha256(std::string_view bytes);
/// The same of a file's content, read in pieces.
[[nodiscard]] Result<std::string> sha256OfFile(const std::filesystem::path& path);

} // namespace wendrix
