#include "core/ticket/estimates.h"

#include <fmt/format.h>

#include <cmath>

using nlohmann::json;

namespace yelvin {

namespace {

// A pixel of a finer scan carries less new information: measured on the demo's originals from 75 to 600 dpi.
constexpr double coded_exponent = -0.75, g4_exponent = -0.95, jbig2_exponent = -1.25;

bool is_g4(const Ticket::Make& make, Ink ink) {
    return ink == Ink::Black && make.format == Format::Tiff &&
           (make.tiff_coding == TiffCoding::Auto || make.tiff_coding == TiffCoding::Jpeg);
}
bool is_jbig2(const Ticket::Make& make, Ink ink) {
    return ink == Ink::Black && (is_pdf(make.format) || make.format == Format::Auto);
}
bool is_packed_whole(const Ticket::Make& make) {
    return make.format == Format::Png || (make.format == Format::Tiff && make.tiff_coding != TiffCoding::Jpeg);
}
double exponent(const Ticket::Make& make, Ink ink) {
    if (is_g4(make, ink)) return g4_exponent;
    if (is_jbig2(make, ink)) return jbig2_exponent;
    return is_packed_whole(make) && ink != Ink::Black ? -0.1 : coded_exponent;
}

std::string page_key(const Ticket::Make& make, const std::string& ticket, Ink ink) {
    const bool lossy = ink != Ink::Black && !is_packed_whole(make);
    const std::string packed = is_jbig2(make, ink) ? "-jbig2"
                               : make.format == Format::Tiff && make.tiff_coding != TiffCoding::Auto
                                   ? fmt::format("-{}", static_cast<int>(make.tiff_coding))
                                   : "";
    return fmt::format("{}|{}{}|{}|{}", ticket, format_key(make.format), packed, ink_word(ink),
                       lossy ? make.jpeg_quality : 0);
}

// Measured on the demo's originals at 300 dpi and quality 85; used until pages have been saved.
double customary_bytes(const Ticket::Make& make, Ink ink) {
    constexpr double words = 0.0006; // a page of 300 dpi in 5 kB
    if (is_made_of_words(make.format)) return words;
    if (make.format == Format::Bmp) return ink == Ink::Colour ? 3 : ink == Ink::Grey ? 1 : 0.125;
    if (is_packed_whole(make)) return ink == Ink::Colour ? 1.35 : ink == Ink::Grey ? 0.38 : 0.008;
    const double of_a_jpeg = make.format == Format::Avif   ? 0.25
                             : make.format == Format::Webp ? 0.3
                             : make.format == Format::Heic ? 0.8
                                                           : 1;
    const double by_quality = of_a_jpeg * std::pow(2.0, (make.jpeg_quality - 85) / 12.0);
    if (is_jbig2(make, ink)) return 0.0025;
    return ink == Ink::Colour            ? 0.085 * by_quality
           : ink == Ink::Grey            ? 0.062 * by_quality
           : make.format == Format::Jpeg ? 0.1
                                         : 0.006;
}

template <class Known>
void learn(Known& known, double value, double dpi, double power) {
    // Earlier pages count as at most nine, so that the estimate follows a change of paper.
    const double at_known = known.count == 0 ? value : value * std::pow(known.dpi / dpi, power);
    if (known.count == 0) known.dpi = dpi;
    const int weight = std::min(known.count, 9);
    known.value = (known.value * weight + at_known) / (weight + 1);
    ++known.count;
}

}

void Estimates::learn_page(const Ticket::Make& make, const std::string& ticket, Ink ink, double dpi, double bytes,
                           double pixels) {
    if (pixels <= 0 || bytes <= 0 || dpi <= 0) return;
    for (const std::string& whose : {ticket, std::string()})
        learn(bytes_[page_key(make, whose, ink)], bytes / pixels, dpi, exponent(make, ink));
}

void Estimates::learn_pass(const std::string& scanner, double dpi, Ink ink, double mm, double seconds) {
    if (mm < 20 || seconds <= 0) return;
    learn(seconds_[fmt::format("{}|{:.0f}|{}", scanner, dpi, ink_word(ink))],
          std::max(0.0, seconds - seconds_per_pass) / mm, dpi, 0);
    learn(seconds_[scanner], std::max(0.0, seconds - seconds_per_pass) / mm, dpi, 1);
}

bool Estimates::learnt(const Ticket::Make& make, const std::string& ticket, Ink ink) const {
    return bytes_.contains(page_key(make, ticket, ink));
}

double Estimates::page_bytes(const Ticket::Make& make, const std::string& ticket, SizeMm size, double dpi,
                             Ink ink) const {
    const double pixels = mm_to_px(size.width, dpi) * mm_to_px(size.height, dpi), power = exponent(make, ink);
    for (const std::string& whose : {ticket, std::string()}) {
        if (const auto known = bytes_.find(page_key(make, whose, ink)); known != bytes_.end())
            return pixels * known->second.value * std::pow(dpi / known->second.dpi, power);
    }
    return pixels * customary_bytes(make, ink) * std::pow(dpi / 300, power);
}

double Estimates::seconds_per_mm(const std::string& scanner, double dpi, Ink ink) const {
    if (const auto same = seconds_.find(fmt::format("{}|{:.0f}|{}", scanner, dpi, ink_word(ink)));
        same != seconds_.end())
        return same->second.value;
    if (const auto near = seconds_.find(scanner); near != seconds_.end())
        return near->second.value * std::max(0.3, dpi / near->second.dpi);
    return 8.0 / 297 * std::max(0.3, dpi / 300); // eight seconds for an A4 page at 300 dpi; common practice, no source
}

json Estimates::to_json() const {
    json out{{"bytes", json::object()}, {"seconds", json::object()}};
    for (const auto& [key, k] : bytes_) out["bytes"][key] = {k.value, k.dpi, k.count};
    for (const auto& [key, k] : seconds_) out["seconds"][key] = {k.value, k.dpi, k.count};
    return out;
}

Estimates Estimates::from_json(const json& j) {
    Estimates out;
    const auto read = [&](const char* group, std::map<std::string, Known>& into) {
        if (!j.is_object() || !j.contains(group) || !j[group].is_object()) return;
        for (const auto& [key, k] : j[group].items()) {
            const bool good =
                k.is_array() && k.size() == 3 && k[0].is_number() && k[1].is_number() && k[2].is_number_integer();
            if (good && k[0].get<double>() >= 0 && k[1].get<double>() > 0) into[key] = {k[0], k[1], k[2]};
        }
    };
    read("bytes", out.bytes_);
    read("seconds", out.seconds_);
    return out;
}

}
