#include "core/raster/pdf_image.h"

#include "core/raster/colour_profile.h"
#include "core/raster/picture_codings.h"
#include "core/raster/png_jpeg.h"

#include <opencv2/imgproc.hpp>
#include <qpdf/Buffer.hh>
#include <qpdf/Pipeline.hh>
#include <qpdf/QPDF.hh>

#include <algorithm>
#include <cmath>
#include <stdexcept>
#include <string>
#include <vector>

namespace yelvin {

namespace {

constexpr double most_image_pixels = 4e8;

// Collects data and refuses more than `most` bytes, because a few bytes may decompress to more than the memory holds.
class Bounded : public Pipeline {
  public:
    explicit Bounded(size_t most) : Pipeline("bounded", nullptr), most_(most) {}
    void write(const unsigned char* data, size_t count) override {
        if (bytes.size() + count > most_) throw std::runtime_error("a picture unpacks to more than its size");
        bytes.append(reinterpret_cast<const char*>(data), count);
    }
    void finish() override {}
    std::string bytes;

  private:
    size_t most_;
};

struct Coded {
    std::string bytes;
    std::string filter; // the one that is left, "/DCTDecode" and the like; empty: the bytes are samples
    QPDFObjectHandle parameters = QPDFObjectHandle::newNull();
};

bool is_picture_coding(const std::string& filter) {
    return filter == "/DCTDecode" || filter == "/JPXDecode" || filter == "/CCITTFaxDecode" || filter == "/JBIG2Decode";
}

std::string bytes_of(const std::shared_ptr<Buffer>& buffer) {
    return {reinterpret_cast<const char*>(buffer->getBuffer()), buffer->getSize()};
}

// Returns the stream's data with all filters decoded except that of a picture coding, which is the last one.
std::optional<Coded> coded_data(QPDFObjectHandle image, size_t most) {
    QPDFObjectHandle filters = image.getDict().getKey("/Filter"), parms = image.getDict().getKey("/DecodeParms");
    std::vector<QPDFObjectHandle> names, own;
    if (filters.isName()) names = {filters}, own = {parms};
    if (filters.isArray()) {
        names = filters.getArrayAsVector();
        for (int i = 0; i < filters.getArrayNItems(); ++i)
            own.push_back(parms.isArray() ? parms.getArrayItem(i) : QPDFObjectHandle::newNull());
    }
    Coded coded;
    if (!names.empty() && names.back().isName() && is_picture_coding(names.back().getName())) {
        coded.filter = names.back().getName();
        coded.parameters = own.back();
        if (names.size() == 1) {
            coded.bytes = bytes_of(image.getRawStreamData());
            return coded;
        }
        // Filters around the picture coding are decoded with a temporary stream that has only those filters.
        QPDF* const owner = image.getOwningQPDF();
        if (!owner) return std::nullopt;
        names.pop_back(), own.pop_back();
        QPDFObjectHandle around = QPDFObjectHandle::newStream(owner, bytes_of(image.getRawStreamData()));
        around.getDict().replaceKey("/Filter", QPDFObjectHandle::newArray(names));
        around.getDict().replaceKey("/DecodeParms", QPDFObjectHandle::newArray(own));
        image = around;
    }
    Bounded out(most);
    if (!image.pipeStreamData(&out, nullptr, 0, qpdf_dl_generalized, true)) return std::nullopt;
    coded.bytes = std::move(out.bytes);
    return coded;
}

// ---- colour spaces

struct Colours {
    int channels = 1;    // of a sample: 1 or 3
    std::string profile; // ICC; empty: the numbers are sRGB's
    cv::Mat palette;     // of an indexed space: 1 x n, CV_8UC3 (BGR)
};

std::optional<Colours> colours_of(QPDFObjectHandle space);

std::optional<Colours> indexed(QPDFObjectHandle space) {
    if (space.getArrayNItems() != 4) return std::nullopt;
    const auto base = colours_of(space.getArrayItem(1));
    QPDFObjectHandle table = space.getArrayItem(3);
    if (!base || !base->palette.empty()) return std::nullopt;
    const std::string bytes = table.isString()   ? table.getStringValue()
                              : table.isStream() ? bytes_of(table.getStreamData(qpdf_dl_generalized))
                                                 : "";
    const int count = static_cast<int>(std::min<size_t>(256, bytes.size() / static_cast<size_t>(base->channels)));
    if (count < 1) return std::nullopt;
    const cv::Mat entries(1, count, CV_8UC(base->channels), const_cast<char*>(bytes.data()));
    Colours out{1, {}, {}};
    cv::cvtColor(entries, out.palette, base->channels == 3 ? cv::COLOR_RGB2BGR : cv::COLOR_GRAY2BGR);
    to_srgb(out.palette, base->profile);
    return out;
}

std::optional<Colours> colours_of(QPDFObjectHandle space) {
    if (space.isName()) {
        const std::string name = space.getName();
        if (name == "/DeviceGray" || name == "/CalGray") return Colours{};
        if (name == "/DeviceRGB" || name == "/CalRGB") return Colours{3, {}, {}};
        return std::nullopt;
    }
    if (!space.isArray() || space.getArrayNItems() < 1 || !space.getArrayItem(0).isName()) return std::nullopt;
    const std::string family = space.getArrayItem(0).getName();
    if (family == "/CalGray" || family == "/DeviceGray") return Colours{};
    if (family == "/CalRGB" || family == "/DeviceRGB") return Colours{3, {}, {}};
    if (family == "/Indexed") return indexed(space);
    if (family != "/ICCBased" || space.getArrayNItems() < 2 || !space.getArrayItem(1).isStream()) return std::nullopt;
    QPDFObjectHandle stream = space.getArrayItem(1), count = stream.getDict().getKey("/N");
    if (!count.isInteger() || (count.getIntValue() != 1 && count.getIntValue() != 3)) return std::nullopt;
    return Colours{static_cast<int>(count.getIntValue()), bytes_of(stream.getStreamData(qpdf_dl_generalized)), {}};
}

// ---- samples

// Converts rows of samples, each beginning at a byte, to one byte per sample. Palette indices are kept; other values
// are scaled to 0 to 255.
cv::Mat samples(const std::string& bytes, int width, int height, int channels, int bits, bool are_indices) {
    const size_t a_row = static_cast<size_t>(width) * static_cast<size_t>(channels);
    const size_t stride = (a_row * static_cast<size_t>(bits) + 7) / 8;
    if (bytes.size() < stride * static_cast<size_t>(height)) return {};
    cv::Mat out(height, width, CV_8UC(channels));
    const unsigned spread = are_indices || bits >= 8 ? 1 : 255U / ((1U << static_cast<unsigned>(bits)) - 1);
    for (int y = 0; y < height; ++y) {
        const auto* from = reinterpret_cast<const uchar*>(bytes.data()) + static_cast<size_t>(y) * stride;
        uchar* to = out.ptr(y);
        if (bits == 8) std::copy_n(from, a_row, to);
        if (bits == 16)
            for (size_t i = 0; i < a_row; ++i) to[i] = from[2 * i];
        if (bits >= 8) continue;
        const auto width_bits = static_cast<unsigned>(bits);
        const unsigned mask = (1U << width_bits) - 1, per_byte = 8 / width_bits;
        for (size_t i = 0; i < a_row; ++i) {
            const auto within = static_cast<unsigned>(i % per_byte);
            const unsigned value = unsigned{from[i / per_byte]} >> (8 - width_bits * (within + 1)) & mask;
            to[i] = static_cast<uchar>(value * spread);
        }
    }
    return out;
}

// Whether a decode array inverts all values; nullopt if it does anything else (ISO 32000-1, table 90).
std::optional<bool> turns_round(QPDFObjectHandle decode) {
    if (decode.isNull()) return false;
    if (!decode.isArray() || decode.getArrayNItems() % 2 != 0) return std::nullopt;
    bool all = true, none = true;
    for (int i = 0; i < decode.getArrayNItems(); i += 2) {
        const double low = decode.getArrayItem(i).getNumericValue(),
                     high = decode.getArrayItem(i + 1).getNumericValue();
        all = all && low == 1 && high == 0;
        none = none && low == 0 && high == 1;
    }
    return all || none ? std::optional(all) : std::nullopt;
}

cv::Mat with_palette(const cv::Mat& indices, const cv::Mat& palette) {
    cv::Mat table(1, 256, CV_8UC3, cv::Scalar::all(0)), three, out;
    palette.copyTo(table.colRange(0, palette.cols));
    cv::cvtColor(indices, three, cv::COLOR_GRAY2BGR);
    cv::LUT(three, table, out);
    return out;
}

bool is_black_and_white(const cv::Mat& palette) {
    return std::ranges::all_of(cv::Mat_<cv::Vec3b>(palette),
                               [](const cv::Vec3b& c) { return c == cv::Vec3b::all(0) || c == cv::Vec3b::all(255); });
}

std::optional<cv::Mat> fax_samples(const Coded& coded, int width, int height) {
    QPDFObjectHandle about = coded.parameters;
    const auto number = [&](const char* key, long long otherwise) {
        QPDFObjectHandle value = about.isDictionary() ? about.getKey(key) : QPDFObjectHandle::newNull();
        return value.isInteger() ? value.getIntValue() : otherwise;
    };
    const auto is = [&](const char* key) {
        QPDFObjectHandle value = about.isDictionary() ? about.getKey(key) : QPDFObjectHandle::newNull();
        return value.isBool() && value.getBoolValue();
    };
    if (number("/K", 0) >= 0 || number("/Columns", 1728) != width || is("/EncodedByteAlign")) return std::nullopt;
    auto pixels = decode_g4(coded.bytes, width, height);
    if (pixels && is("/BlackIs1")) *pixels = 255 - *pixels;
    return pixels;
}

std::optional<cv::Mat> jbig2_samples(const Coded& coded) {
    QPDFObjectHandle about = coded.parameters;
    QPDFObjectHandle globals = about.isDictionary() ? about.getKey("/JBIG2Globals") : QPDFObjectHandle::newNull();
    const std::string shared = globals.isStream() ? bytes_of(globals.getStreamData(qpdf_dl_generalized)) : "";
    return decode_jbig2(coded.bytes, shared);
}

// Returns the samples of the picture, RGB converted to BGR; palette indices are unchanged.
std::optional<cv::Mat> decoded(const Coded& coded, cv::Size size, int bits, const Colours& colours) {
    cv::Mat out;
    if (coded.filter.empty()) {
        out = samples(coded.bytes, size.width, size.height, colours.channels, bits, !colours.palette.empty());
        if (out.channels() == 3) cv::cvtColor(out, out, cv::COLOR_RGB2BGR);
    } else if (coded.filter == "/DCTDecode") {
        // ISO 32000-1, 7.4.8: the colour transform that the PDF declares overrides the one in the JPEG. Data that need
        // the opposite of the usual transform are left to poppler.
        QPDFObjectHandle parameters = coded.parameters;
        const bool is_usual = !parameters.isDictionary() || !parameters.hasKey("/ColorTransform");
        const auto picture = is_usual ? decode_jpeg(coded.bytes, JpegColours::AsTheyAre) : std::nullopt;
        if (picture) out = picture->raster.pixels;
    } else if (coded.filter == "/JPXDecode") {
        out = decode_jpeg2000(coded.bytes).value_or(cv::Mat());
    } else if (bits == 1) {
        out = (coded.filter == "/CCITTFaxDecode" ? fax_samples(coded, size.width, size.height) : jbig2_samples(coded))
                  .value_or(cv::Mat());
    }
    if (out.empty() || out.size() != size || out.channels() != colours.channels) return std::nullopt;
    return out;
}

std::optional<PdfImage> image_from(QPDFObjectHandle image) {
    QPDFObjectHandle about = image.getDict();
    const auto number = [&](const char* key) {
        return about.getKey(key).isInteger() ? static_cast<double>(about.getKey(key).getIntValue()) : 0;
    };
    const double width = number("/Width"), height = number("/Height");
    if (width < 1 || height < 1 || width * height > most_image_pixels) return std::nullopt;
    const cv::Size size(static_cast<int>(width), static_cast<int>(height));
    const auto coded = coded_data(image, static_cast<size_t>(width * height) * 6 + 65536);
    if (!coded || about.getKey("/Mask").isArray()) return std::nullopt;

    PdfImage out;
    out.is_stencil = about.getKey("/ImageMask").isBool() && about.getKey("/ImageMask").getBoolValue();
    QPDFObjectHandle space = about.getKey("/ColorSpace");
    auto colours = out.is_stencil ? std::optional(Colours{}) : colours_of(space);
    // The colour space inside the JPEG 2000 data counts.
    if (!colours && coded->filter == "/JPXDecode" && space.isNull()) {
        const auto own = decode_jpeg2000(coded->bytes);
        if (own) colours = Colours{own->channels(), {}, {}};
    }
    const int bits = out.is_stencil || coded->filter == "/JBIG2Decode" || coded->filter == "/CCITTFaxDecode" ? 1
                     : coded->filter.empty() ? static_cast<int>(number("/BitsPerComponent"))
                                             : 8;
    const auto turned = turns_round(about.getKey("/Decode"));
    const bool known_bits = bits == 1 || bits == 2 || bits == 4 || bits == 8 || bits == 16;
    const bool has_palette = colours && !colours->palette.empty();
    if (!colours || !known_bits || (has_palette && (!about.getKey("/Decode").isNull() || bits == 16)))
        return std::nullopt;
    auto pixels = decoded(*coded, size, bits, *colours);
    if (!pixels || !turned) return std::nullopt;
    // Turns pixels of 0 and 255 into the indices 0 and 1.
    if (has_palette && bits == 1 && !coded->filter.empty()) *pixels &= 1;
    if (*turned) *pixels = 255 - *pixels;
    out.ink = pixels->channels() == 3 ? Ink::Colour : bits == 1 ? Ink::Black : Ink::Grey;
    if (has_palette) {
        const bool two = bits == 1 && is_black_and_white(colours->palette);
        out.pixels = with_palette(*pixels, colours->palette);
        out.ink = two ? Ink::Black : Ink::Colour;
        if (two) cv::extractChannel(out.pixels, out.pixels, 0);
    } else {
        out.pixels = *pixels;
        if (out.ink != Ink::Black) to_srgb(out.pixels, colours->profile);
    }
    return out;
}

}

std::optional<PdfImage> image_in_pdf(const QPDFObjectHandle& image) {
    try {
        return image_from(image);
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

}
