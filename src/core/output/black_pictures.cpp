#include "core/output/black_pictures.h"

#include "core/raster/picture_codings.h"

#include <fmt/format.h>

#include <algorithm>
#include <utility>

namespace yelvin {

Result<void> BlackPictures::store_g4(const Waiting& picture) {
    return store_(picture.image, picture.g4, "/CCITTFaxDecode",
                  QPDFObjectHandle::parse(
                      fmt::format("<< /K -1 /Columns {} /Rows {} >>", picture.size.width, picture.size.height)));
}

Result<void> BlackPictures::add(const QPDFObjectHandle& image, std::string g4, cv::Size size, double dpi) {
    constexpr size_t most_together = 32;
    const auto pixels = decode_g4(g4, size.width, size.height);
    Waiting picture{image, std::move(g4), size};
    if (!pixels) return store_g4(picture);
    encoder_.add(*pixels == 0, dpi);
    waiting_.push_back(std::move(picture));
    return waiting_.size() < most_together ? Result<void>() : finish();
}

Result<void> BlackPictures::finish() {
    if (waiting_.empty()) return {};
    const Jbig2Document encoded = encoder_.finish();
    QPDFObjectHandle parameters = QPDFObjectHandle::newNull();
    if (!encoded.globals.empty()) {
        QPDFObjectHandle globals = QPDFObjectHandle::newStream(&pdf_);
        if (auto stored = store_(globals, encoded.globals, {}, QPDFObjectHandle::newNull()); !stored) return stored;
        parameters = QPDFObjectHandle::newDictionary();
        parameters.replaceKey("/JBIG2Globals", globals);
    }
    const std::vector<Waiting> pictures = std::exchange(waiting_, {});
    for (size_t i = 0; i < pictures.size(); ++i) {
        // Pictures of noise are smaller as fax.
        const bool is_smaller = encoded.pages[i].size() < pictures[i].g4.size();
        auto stored = is_smaller ? store_(pictures[i].image, encoded.pages[i], "/JBIG2Decode", parameters)
                                 : store_g4(pictures[i]);
        if (!stored) return stored;
    }
    return {};
}

size_t bytes_of_black_picture(const std::string& g4, cv::Size size) {
    const auto pixels = decode_g4(g4, size.width, size.height);
    if (!pixels) return g4.size();
    Jbig2Encoder encoder;
    encoder.add(*pixels == 0, 300);
    const Jbig2Document encoded = encoder.finish();
    return std::min(g4.size(), encoded.globals.size() + encoded.pages.front().size());
}

}
