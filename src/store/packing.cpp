#include "store/packing.h"

#include <array>
#include <memory>
#include <openssl/evp.h>
#include <stdexcept>
#include <zstd.h>

namespace kite::store {

namespace {
constexpr int kLevel = 1; // captures get no smaller with more work, only slower
}

std::string pack(std::string_view bytes) {
    const std::unique_ptr<ZSTD_CCtx, decltype(&ZSTD_freeCCtx)> context(ZSTD_createCCtx(),
                                                                       &ZSTD_freeCCtx);
    ZSTD_CCtx_setParameter(context.get(), ZSTD_c_compressionLevel, kLevel);
    ZSTD_CCtx_setParameter(context.get(), ZSTD_c_checksumFlag, 1);
    std::string out(ZSTD_compressBound(bytes.size()), '\0');
    const std::size_t size =
        ZSTD_compress2(context.get(), out.data(), out.size(), bytes.data(), bytes.size());
    if (ZSTD_isError(size) != 0)
        throw std::runtime_error(ZSTD_getErrorName(size));
    out.resize(size);
    return out;
}

std::optional<std::string> unpack(std::string_view packed, std::size_t most) {
    const unsigned long long size = ZSTD_getFrameContentSize(packed.data(), packed.size());
    if (size == ZSTD_CONTENTSIZE_ERROR || size == ZSTD_CONTENTSIZE_UNKNOWN || size > most)
        return std::nullopt;
    std::string out(static_cast<std::size_t>(size), '\0');
    const std::size_t got = ZSTD_decompress(out.data(), out.size(), packed.data(), packed.size());
    if (ZSTD_isError(got) != 0 || got != out.size())
        return std::nullopt;
    return out;
}

std::string sha256_of(std::string_view bytes) {
    std::array<unsigned char, 32> digest{};
    if (EVP_Digest(bytes.data(), bytes.size(), digest.data(), nullptr, EVP_sha256(), nullptr) != 1)
        throw std::runtime_error("SHA-256 is not to be had");
    constexpr std::string_view kDigits = "0123456789abcdef";
    std::string out;
    for (const unsigned char byte : digest) {
        out += kDigits[byte / 16U];
        out += kDigits[byte % 16U];
    }
    return out;
}

} // namespace kite::store
