#include "core/raster/colour_profile.h"

#include <lcms2.h>
#include <zlib.h>

#include <array>
#include <cmath>
#include <cstdint>
#include <memory>

namespace yelvin {

namespace {

using Profile = std::unique_ptr<void, decltype([](void* profile) { cmsCloseProfile(profile); })>;
using Curve = std::unique_ptr<cmsToneCurve, decltype([](cmsToneCurve* curve) { cmsFreeToneCurve(curve); })>;
using Transform = std::unique_ptr<void, decltype([](void* transform) { cmsDeleteTransform(transform); })>;
using Words = std::unique_ptr<cmsMLU, decltype([](cmsMLU* words) { cmsMLUfree(words); })>;

// The transfer function of sRGB (IEC 61966-2-1, 5.2) as a table, because version 2 profiles have no piecewise curve.
Curve srgb_curve() {
    constexpr size_t count = 1024;
    std::array<cmsUInt16Number, count> table{};
    for (size_t i = 0; i < count; ++i) {
        const double v = static_cast<double>(i) / (count - 1);
        const double light = v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
        table[i] = static_cast<cmsUInt16Number>(std::lround(light * 65535));
    }
    return Curve(cmsBuildTabulatedToneCurve16(nullptr, count, table.data()));
}

std::string profile_of(bool colour) {
    const Curve curve = srgb_curve();
    const cmsCIExyY white{0.3127, 0.3290, 1.0};
    const cmsCIExyYTRIPLE primaries{{0.6400, 0.3300, 1.0}, {0.3000, 0.6000, 1.0}, {0.1500, 0.0600, 1.0}}; // BT.709
    cmsToneCurve* const curves[] = {curve.get(), curve.get(), curve.get()};
    const Profile profile(colour ? cmsCreateRGBProfile(&white, &primaries, curves)
                                 : cmsCreateGrayProfile(&white, curve.get()));
    cmsSetProfileVersion(profile.get(), 2.1);
    const auto say = [&](cmsTagSignature tag, const char* said) {
        const Words words(cmsMLUalloc(nullptr, 1));
        cmsMLUsetASCII(words.get(), "en", "US", said);
        cmsWriteTag(profile.get(), tag, words.get());
    };
    say(cmsSigProfileDescriptionTag, colour ? "sRGB IEC61966-2.1" : "Grey with the curve of sRGB");
    say(cmsSigCopyrightTag, "No copyright, use freely");
    cmsUInt32Number size = 0;
    cmsSaveProfileToMem(profile.get(), nullptr, &size);
    std::string out(size, '\0');
    cmsSaveProfileToMem(profile.get(), out.data(), &size);
    return out;
}

// Returns samples over the whole range: steps of 17 for one channel, of 51 for three.
cv::Mat samples_of_all_colours(int channels) {
    if (channels == 1) {
        cv::Mat out(1, 16, CV_8UC1);
        for (int i = 0; i < 16; ++i) out.at<uchar>(0, i) = static_cast<uchar>(17 * i);
        return out;
    }
    cv::Mat out(1, 6 * 6 * 6, CV_8UC3);
    for (int i = 0; i < out.cols; ++i)
        out.at<cv::Vec3b>(0, i) = {static_cast<uchar>(51 * (i % 6)), static_cast<uchar>(51 * (i / 6 % 6)),
                                   static_cast<uchar>(51 * (i / 36))};
    return out;
}

std::string high_first(std::uint32_t value, int bytes) {
    std::string out;
    for (int i = bytes; i-- > 0;) out += static_cast<char>(value >> (8 * i) & 0xFFU);
    return out;
}

}

const std::string& colour_profile(Ink ink) {
    static const std::string colour = profile_of(true), grey = profile_of(false);
    return ink == Ink::Colour ? colour : grey;
}

void to_srgb(cv::Mat& pixels, const std::string& profile) {
    if (profile.empty() || pixels.empty()) return;
    const bool colour = pixels.channels() == 3;
    const std::string& to_bytes = colour_profile(colour ? Ink::Colour : Ink::Grey);
    if (profile == to_bytes) return;
    const auto opened = [](const std::string& bytes) {
        return Profile(cmsOpenProfileFromMem(bytes.data(), static_cast<cmsUInt32Number>(bytes.size())));
    };
    const Profile from = opened(profile), to = opened(to_bytes);
    if (!from || !to || cmsGetColorSpace(from.get()) != (colour ? cmsSigRgbData : cmsSigGrayData)) return;
    const cmsUInt32Number layout = colour ? TYPE_BGR_8 : TYPE_GRAY_8;
    const Transform transform(cmsCreateTransform(from.get(), layout, to.get(), layout, INTENT_RELATIVE_COLORIMETRIC,
                                                 cmsFLAGS_BLACKPOINTCOMPENSATION));
    if (!transform) return;
    const cv::Mat before = samples_of_all_colours(pixels.channels());
    cv::Mat after(before.size(), before.type());
    cmsDoTransform(transform.get(), before.data, after.data, static_cast<cmsUInt32Number>(before.cols));
    constexpr double same = 2;
    if (cv::norm(before, after, cv::NORM_INF) <= same) return;
    for (int y = 0; y < pixels.rows; ++y) {
        uchar* const row = pixels.ptr(y);
        cmsDoTransform(transform.get(), row, row, static_cast<cmsUInt32Number>(pixels.cols));
    }
}

std::string jpeg_with_profile(std::string bytes, Ink ink) {
    if (!bytes.starts_with("\xFF\xD8\xFF\xE0") || bytes.size() < 6) return bytes;
    const std::string& profile = colour_profile(ink);
    const auto byte = [&](size_t at) { return static_cast<size_t>(static_cast<unsigned char>(bytes[at])); };
    std::string chunk("\xFF\xE2", 2);
    chunk += high_first(static_cast<std::uint32_t>(2 + 14 + profile.size()), 2);
    chunk += std::string("ICC_PROFILE\0\1\1", 14) + profile;
    return bytes.insert(4 + (byte(4) << 8U) + byte(5), chunk);
}

std::string png_with_profile(std::string bytes, Ink ink) {
    constexpr size_t behind_header = 8 + 4 + 4 + 13 + 4;
    if (bytes.size() < behind_header) return bytes;
    const std::string& profile = colour_profile(ink);
    uLongf size = compressBound(profile.size());
    std::string packed(size, '\0');
    compress(reinterpret_cast<Bytef*>(packed.data()), &size, reinterpret_cast<const Bytef*>(profile.data()),
             profile.size());
    packed.resize(size);
    const std::string chunk =
        std::string("iCCP") + (ink == Ink::Colour ? "sRGB" : "Grey") + std::string(2, '\0') + packed;
    const auto sum = crc32(0, reinterpret_cast<const Bytef*>(chunk.data()), static_cast<uInt>(chunk.size()));
    return bytes.insert(behind_header, high_first(static_cast<std::uint32_t>(chunk.size() - 4), 4) + chunk +
                                           high_first(static_cast<std::uint32_t>(sum), 4));
}

// Returns little-endian EXIF data: one directory of three entries, followed by two fractions.
std::string exif_of(double dpi) {
    std::string out("II*\0\x08\0\0\0\x03\0", 10);
    const auto number = [&out](std::uint32_t value, int bytes) {
        for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> (8 * i) & 0xFFU);
    };
    const auto entry = [&](std::uint32_t tag, std::uint32_t type, std::uint32_t value) {
        number(tag, 2), number(type, 2), number(1, 4), number(value, 4);
    };
    constexpr std::uint32_t fractions = 10 + 3 * 12 + 4;
    entry(0x011A, 5, fractions);     // XResolution, a fraction
    entry(0x011B, 5, fractions + 8); // YResolution
    entry(0x0128, 3, 2);             // ResolutionUnit: inch
    number(0, 4);                    // no directory follows
    for (int i = 0; i < 2; ++i) number(static_cast<std::uint32_t>(std::lround(dpi * 100)), 4), number(100, 4);
    return out;
}

}
