#include "core/raster/base64.h"

#include <algorithm>
#include <cstdint>

namespace yelvin {

std::string base64(std::string_view bytes) {
    constexpr std::string_view letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string out;
    out.reserve((bytes.size() + 2) / 3 * 4);
    for (size_t i = 0; i < bytes.size(); i += 3) {
        std::uint32_t three = 0;
        const size_t have = std::min<size_t>(3, bytes.size() - i);
        for (size_t k = 0; k < 3; ++k) three = three << 8U | (k < have ? static_cast<unsigned char>(bytes[i + k]) : 0U);
        for (size_t k = 0; k < 4; ++k) out += k > have ? '=' : letters[three >> (18 - 6 * k) & 63U];
    }
    return out;
}

}
