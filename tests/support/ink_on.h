// Where ink is on a page, measured in another program's drawing.
#pragma once

#include "core/raster/image_file.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

#include <gtest/gtest.h>

namespace yelvin::test {

// Returns the bounding box of the ink on a page of a PDF in mm, as poppler draws it.
inline cv::Rect2d ink_on(const std::filesystem::path& pdf, int page, const TempFolder& folder) {
    const std::string out = (folder / "seen").string(), number = std::to_string(page);
    EXPECT_EQ(
        run({"pdftoppm", "-r", "200", "-gray", "-png", "-singlefile", "-f", number, "-l", number, pdf.string(), out})
            .status,
        0);
    const auto seen = read_page(out + ".png");
    EXPECT_TRUE(seen);
    cv::Mat points;
    cv::Mat grey = seen->raster.pixels;
    if (grey.channels() == 3) cv::cvtColor(seen->raster.pixels, grey, cv::COLOR_BGR2GRAY);
    cv::findNonZero(grey < 128, points);
    const cv::Rect box = cv::boundingRect(points);
    const double mm = 25.4 / 200;
    return {box.x * mm, box.y * mm, box.width * mm, box.height * mm};
}

}
