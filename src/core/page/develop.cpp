#include "core/page/develop.h"

#include <opencv2/imgproc.hpp>

namespace yelvin {

namespace {

// What a straightened page shows where it reaches beyond the original: the colour of its paper.
cv::Scalar paper_colour(const cv::Mat& pixels) {
    cv::Mat small;
    const double scale = std::min(1.0, 400.0 / std::max(pixels.cols, pixels.rows));
    cv::resize(pixels, small, {}, scale, scale, cv::INTER_NEAREST);
    std::vector<cv::Mat> planes;
    cv::split(small, planes);
    cv::Scalar colour;
    for (size_t i = 0; i < planes.size(); ++i) colour[static_cast<int>(i)] = paper_level(planes[i]);
    return colour;
}

cv::Mat quarter_turned(const cv::Mat& pixels, int turn_degrees) {
    if (turn_degrees == 0) return pixels;
    cv::Mat out;
    cv::rotate(pixels, out,
               turn_degrees == 90    ? cv::ROTATE_90_CLOCKWISE
               : turn_degrees == 180 ? cv::ROTATE_180
                                     : cv::ROTATE_90_COUNTERCLOCKWISE);
    return out;
}

}

Raster develop(const Raster& original, const Recipe& recipe) {
    const SizePx size{original.width_px(), original.height_px()};
    const SizePx out_size = developed_size(recipe, size, original.dpi);
    const cv::Matx33d map = page_to_original(recipe, size, original.dpi);
    Raster page{{}, original.dpi, original.ink};
    if (recipe.tilt_degrees == 0) {
        // The crop on the original, then turned: nothing is interpolated.
        const cv::Vec3d a = map * cv::Vec3d(0, 0, 1), b = map * cv::Vec3d(out_size.width - 1, out_size.height - 1, 1);
        const int left = cvRound(std::min(a[0], b[0])), top = cvRound(std::min(a[1], b[1]));
        const int right = cvRound(std::max(a[0], b[0])), bottom = cvRound(std::max(a[1], b[1]));
        page.pixels = quarter_turned(original.pixels(cv::Rect(left, top, right - left + 1, bottom - top + 1)),
                                     recipe.turn_degrees);
    } else {
        cv::warpAffine(original.pixels, page.pixels, map.get_minor<2, 3>(0, 0), {out_size.width, out_size.height},
                       cv::INTER_CUBIC | cv::WARP_INVERSE_MAP, cv::BORDER_CONSTANT, paper_colour(original.pixels));
        if (page.ink == Ink::Black) cv::threshold(page.pixels, page.pixels, 127, 255, cv::THRESH_BINARY);
    }
    if (const int rim = static_cast<int>(std::lround(mm_to_px(recipe.rim_mm, page.dpi)));
        rim > 0 && 4 * rim < std::min(page.width_px(), page.height_px())) {
        const cv::Mat inside =
            page.pixels(cv::Rect(rim, rim, page.width_px() - 2 * rim, page.height_px() - 2 * rim)).clone();
        cv::copyMakeBorder(inside, page.pixels, rim, rim, rim, rim, cv::BORDER_REPLICATE);
    }
    return recipe.ink ? with_ink(page, *recipe.ink) : page;
}

}
