#include "core/raster/pdf_scan.h"

#include "core/raster/pdf_image.h"
#include "core/raster/units.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

constexpr double least_dpi = 50, most_dpi = 2400;

bool is_stencil(const PdfPicture& picture) {
    QPDFObjectHandle mask = QPDFObjectHandle(picture.image).getDict().getKey("/ImageMask");
    return mask.isBool() && mask.getBoolValue();
}

bool is_turned(QPDFPageObjectHelper page, int& degrees) {
    QPDFObjectHandle rotate = page.getAttribute("/Rotate", false);
    const long long turned = rotate.isInteger() ? rotate.getIntValue() : 0;
    degrees = static_cast<int>((turned % 360 + 360) % 360);
    return degrees % 90 == 0;
}

// Whether the pictures tile the page: they do if the sum of their areas is the area of the page.
bool fill_without_gaps(const std::vector<cv::Rect2d>& places, cv::Size2d page) {
    double area = 0;
    for (size_t i = 0; i < places.size(); ++i) {
        area += (places[i] & cv::Rect2d({0, 0}, page)).area();
        for (size_t j = 0; j < i; ++j) {
            const cv::Rect2d shared = places[i] & places[j];
            if (std::min(shared.width, shared.height) > rim_pt) return false;
        }
    }
    return area >= page.area() - 2 * rim_pt * (page.width + page.height);
}

// Returns the resolution of the finest pictures: their total pixels divided by their total length, because the position
// of a single narrow strip is rounded too much. Masks count as pictures. Returns zero if there are none.
cv::Size2d resolution_of(const PdfLook& look, bool covering_only = false) {
    struct Seen {
        cv::Size2d dpi, pixels, inches;
    };
    std::vector<Seen> all;
    const auto add = [&](const PdfPicture& picture) {
        const PicturePlacement placement = placement_of(look, picture);
        const cv::Size2d dpi = dpi_of(picture, placement);
        const cv::Size2d inches(placement.place.width / points_per_inch, placement.place.height / points_per_inch);
        all.push_back({dpi, {dpi.width * inches.width, dpi.height * inches.height}, inches});
    };
    cv::Size2d finest;
    for (const PdfPicture& picture : look.marks.pictures) {
        if (covering_only && !covers(placement_of(look, picture).place, shown_size(look))) continue;
        add(picture);
        for (const char* key : {"/SMask", "/Mask"}) {
            QPDFObjectHandle mask = QPDFObjectHandle(picture.image).getDict().getKey(key);
            if (mask.isStream()) add({mask, picture.matrix, picture.shown, {}});
        }
    }
    for (const Seen& seen : all)
        finest = {std::max(finest.width, seen.dpi.width), std::max(finest.height, seen.dpi.height)};
    Seen sum{};
    for (const Seen& seen : all) {
        if (seen.dpi.width < 0.97 * finest.width || seen.dpi.height < 0.97 * finest.height) continue;
        sum.pixels += seen.pixels;
        sum.inches += seen.inches;
    }
    if (sum.inches.area() <= 0) return finest;
    return {sum.pixels.width / sum.inches.width, sum.pixels.height / sum.inches.height};
}

constexpr size_t most_pictures = 4000;

bool makes_up_the_page(const PdfLook& look) {
    const PdfMarks& marks = look.marks;
    if (!marks.has_only_pictures() || marks.pictures.empty() || marks.pictures.size() > most_pictures) return false;
    const cv::Size2d page = shown_size(look);
    std::vector<cv::Rect2d> opaque;
    bool all_cover = true;
    const cv::Size2d finest = resolution_of(look);
    if (std::min(finest.width, finest.height) < least_dpi || std::max(finest.width, finest.height) > most_dpi)
        return false;
    for (const PdfPicture& picture : marks.pictures) {
        const PicturePlacement placement = placement_of(look, picture);
        const cv::Size2d dpi = dpi_of(picture, placement);
        const double low = std::min(dpi.width, dpi.height), high = std::max(dpi.width, dpi.height);
        if (!is_upright(placement) || high > most_dpi || high > 2.5 * low) return false;
        const cv::Rect2d whole = unit_square_in(picture.matrix) & look.box;
        const bool is_clipped = picture.shown.area() < 0.995 * whole.area();
        if (is_clipped || (is_stencil(picture) && !picture.fill_rgb)) return false;
        if (!is_stencil(picture)) opaque.push_back(placement.place);
        all_cover = all_cover && covers(placement.place, page);
    }
    if (all_cover) return true;
    // If a background covers the page, smaller pictures may be placed on it in any way.
    const bool has_background = covers(placement_of(look, marks.pictures.front()).place, page);
    return has_background || (opaque.size() == marks.pictures.size() && fill_without_gaps(opaque, page));
}

}

double whole_dpi_near(double dpi) {
    const double whole = std::round(dpi);
    return std::abs(dpi - whole) <= 0.003 * whole ? whole : dpi;
}

PdfLook look_at_pdf_page(const QPDFPageObjectHelper& page) {
    PdfLook look{marks_of(page), shown_box(page)};
    const bool straight = is_turned(page, look.turned);
    const cv::Size2d dpi = resolution_of(look, true);
    if (dpi.area() > 0) look.picture_dpi = whole_dpi_near(std::max(dpi.width, dpi.height));
    look.is_scan = straight && makes_up_the_page(look);
    return look;
}

namespace {

// The page onto which pictures are drawn, in pixels of one resolution.
class Canvas {
  public:
    // `dpi` is the exact resolution of the pictures, so that strips adjoin without gaps.
    Canvas(const PdfLook& look, cv::Size2d dpi)
        : look_(look), dpi_(dpi),
          size_(px(shown_size(look).width, dpi.width), px(shown_size(look).height, dpi.height)) {
        for (const PdfPicture& picture : look.marks.pictures) {
            const PicturePlacement placement = placement_of(look, picture);
            const cv::Size own = place_of(picture, placement).size();
            // A page size that was rounded to whole points does not crop the picture.
            if (std::abs(own.width - size_.width) <= px(rim_pt, dpi.width) &&
                std::abs(own.height - size_.height) <= px(rim_pt, dpi.height)) {
                size_ = own;
                break;
            }
        }
    }

    // Returns false if the picture cannot be decoded.
    bool draw(const PdfPicture& picture) {
        auto image = image_in_pdf(picture.image);
        if (!image) return false;
        QPDFObjectHandle about = QPDFObjectHandle(picture.image).getDict();
        const PicturePlacement placement = placement_of(look_, picture);
        const cv::Rect place = place_of(picture, placement);
        cv::Mat cover;
        for (const char* key : {"/SMask", "/Mask"}) {
            if (!about.getKey(key).isStream()) continue;
            QPDFObjectHandle stream = about.getKey(key);
            const auto mask = image_in_pdf(stream);
            const bool is_mixed_in = stream.getDict().hasKey("/Matte"); // ISO 32000-1, 11.6.5.3
            if (!mask || mask->pixels.channels() != 1 || is_mixed_in) return false;
            // In a stencil that is used as a mask, 1 is masked out; in a soft mask, 0 is transparent (ISO
            // 32000-1, 8.9.6.3).
            cover = fitted(as_placed(mask->is_stencil ? cv::Mat(255 - mask->pixels) : mask->pixels, placement),
                           place.size(), mask->ink);
            break;
        }
        cv::Mat pixels = fitted(as_placed(image->pixels, placement), place.size(), image->ink);
        if (image->is_stencil) {
            cover = 255 - pixels;
            pixels = painted(picture, place.size());
        }
        put(pixels, image->is_stencil ? ink_of(picture) : image->ink, cover, place);
        return true;
    }

    Raster taken() const { return {pixels_, std::max(dpi_.width, dpi_.height), ink_}; }

  private:
    const PdfLook& look_;
    cv::Size2d dpi_;
    cv::Size size_;
    cv::Mat pixels_;
    Ink ink_ = Ink::Black;

    static int px(double pt, double dpi) {
        return std::max(1, static_cast<int>(std::lround(pt * dpi / points_per_inch)));
    }

    // Returns the rectangle of the picture in pixels of the page. A picture in the page's resolution keeps its size.
    cv::Rect place_of(const PdfPicture& picture, const PicturePlacement& placement) const {
        const auto at = [](double pt, double dpi) { return static_cast<int>(std::lround(pt * dpi / points_per_inch)); };
        const cv::Point from(at(placement.place.x, dpi_.width), at(placement.place.y, dpi_.height));
        cv::Size own = pixels_of(picture);
        if (lies_on_its_side(placement)) std::swap(own.width, own.height);
        const cv::Size wanted(px(placement.place.width, dpi_.width), px(placement.place.height, dpi_.height));
        const bool as_it_is = std::abs(own.width - wanted.width) <= 1 + wanted.width / 500 &&
                              std::abs(own.height - wanted.height) <= 1 + wanted.height / 500;
        return {from, as_it_is ? own : wanted};
    }

    static cv::Mat fitted(const cv::Mat& pixels, cv::Size size, Ink ink) {
        if (pixels.size() == size) return pixels;
        cv::Mat out;
        cv::resize(pixels, out, size, 0, 0, ink == Ink::Black ? cv::INTER_NEAREST : cv::INTER_LINEAR);
        return out;
    }

    static std::array<int, 3> fill_of(const PdfPicture& picture) {
        std::array<int, 3> out{};
        for (size_t i = 0; i < 3; ++i)
            out.at(i) = static_cast<int>(std::lround(255 * std::clamp((*picture.fill_rgb).at(i), 0.0, 1.0)));
        return out;
    }
    static Ink ink_of(const PdfPicture& picture) {
        const auto [red, green, blue] = fill_of(picture);
        if (red != green || green != blue) return Ink::Colour;
        return red == 0 || red == 255 ? Ink::Black : Ink::Grey;
    }
    static cv::Mat painted(const PdfPicture& picture, cv::Size size) {
        const auto [red, green, blue] = fill_of(picture);
        return ink_of(picture) == Ink::Colour ? cv::Mat(size, CV_8UC3, cv::Scalar(blue, green, red))
                                              : cv::Mat(size, CV_8UC1, cv::Scalar(red));
    }

    void become(Ink ink) {
        if (ink == Ink::Colour && ink_ != Ink::Colour) cv::cvtColor(pixels_, pixels_, cv::COLOR_GRAY2BGR);
        if (static_cast<int>(ink) < static_cast<int>(ink_)) ink_ = ink;
    }

    void put(cv::Mat pixels, Ink ink, const cv::Mat& cover, cv::Rect place) {
        if (place.size() == size_) place = {{0, 0}, size_};
        if (pixels_.empty() && place.size() == size_ && cover.empty()) {
            pixels_ = pixels;
            ink_ = ink;
            return;
        }
        if (pixels_.empty()) pixels_ = cv::Mat(size_, CV_8UC1, cv::Scalar(255));
        become(cover.empty() || ink != Ink::Black || is_two_valued(cover) ? ink : Ink::Grey);
        if (pixels.channels() < pixels_.channels()) cv::cvtColor(pixels, pixels, cv::COLOR_GRAY2BGR);
        const cv::Rect seen = place & cv::Rect({0, 0}, size_);
        if (seen.empty()) return;
        const cv::Rect from = seen - place.tl();
        cv::Mat to = pixels_(seen);
        if (cover.empty())
            pixels(from).copyTo(to);
        else
            blend(pixels(from), cover(from), to);
    }

    static bool is_two_valued(const cv::Mat& cover) {
        return cv::countNonZero(cover) == cv::countNonZero(cover == 255);
    }

    static void blend(const cv::Mat& over, const cv::Mat& cover, cv::Mat& under) {
        const int channels = under.channels();
        for (int y = 0; y < under.rows; ++y) {
            const uchar *from = over.ptr(y), *how = cover.ptr(y);
            uchar* to = under.ptr(y);
            for (int x = 0; x < under.cols * channels; ++x) {
                const int share = how[x / channels];
                to[x] = static_cast<uchar>((from[x] * share + to[x] * (255 - share) + 127) / 255);
            }
        }
    }
};

// Sets the resolution. Fax pages have non-square pixels, which are resampled to square ones. If both resolutions differ
// only by the rounding of sizes to whole points, the pixels are kept.
Raster with_its_resolution(Raster raster, cv::Size2d dpi) {
    const double high = std::max(dpi.width, dpi.height), low = std::min(dpi.width, dpi.height);
    if (high - low <= 0.03 * high) {
        raster.dpi = whole_dpi_near((high + low) / 2);
        return raster;
    }
    raster.pixels = scaled(raster.pixels, high / dpi.width, high / dpi.height,
                           raster.ink == Ink::Black ? cv::INTER_NEAREST : cv::INTER_LINEAR);
    raster.dpi = whole_dpi_near(high);
    return raster;
}

}

std::optional<Raster> scan_of(const PdfLook& look) {
    if (!look.is_scan) return std::nullopt;
    const cv::Size2d dpi = resolution_of(look), page = shown_size(look);
    constexpr double most_pixels = 4e8;
    if (page.area() * dpi.area() / (points_per_inch * points_per_inch) > most_pixels) return std::nullopt;
    Canvas canvas(look, dpi);
    for (const PdfPicture& picture : look.marks.pictures)
        if (!canvas.draw(picture)) return std::nullopt;
    return with_its_resolution(canvas.taken(), dpi);
}

}
