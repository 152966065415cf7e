// Compared with OpenCV's labelling of connected components.
#include "core/raster/ink_pieces.h"
#include "support/support.h"

#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <tuple>

namespace yelvin::test {
namespace {

using Told = std::tuple<int, int, int, int, int>;

std::vector<Told> told(const std::vector<InkPiece>& pieces) {
    std::vector<Told> out;
    for (const auto& [box, area] : pieces) out.emplace_back(box.x, box.y, box.width, box.height, area);
    std::ranges::sort(out);
    return out;
}

std::vector<Told> told_by_opencv(const cv::Mat& ink) {
    cv::Mat labels, stats, middles;
    const int count = cv::connectedComponentsWithStats(ink, labels, stats, middles, 8, CV_32S);
    std::vector<Told> out;
    for (int i = 1; i < count; ++i) {
        const int* s = stats.ptr<int>(i);
        out.emplace_back(s[cv::CC_STAT_LEFT], s[cv::CC_STAT_TOP], s[cv::CC_STAT_WIDTH], s[cv::CC_STAT_HEIGHT],
                         s[cv::CC_STAT_AREA]);
    }
    std::ranges::sort(out);
    return out;
}

// Random pixels of several densities, with pieces that wind, enclose each other and touch at corners.
TEST(InkPieces, MatchOpenCvsConnectedComponents) {
    const cv::Mat grey = noisy(301, 227, CV_8UC1, 5);
    for (const double under : {10.0, 60.5, 90.0, 128.0, 200.0, 256.0}) {
        const auto pieces = told(InkPieces::darker_than(under, grey).pieces());
        EXPECT_EQ(pieces, told_by_opencv(grey < under)) << under;
    }
    EXPECT_EQ(InkPieces::darker_than(256, grey).pieces().size(), 1U);
    EXPECT_TRUE(InkPieces::darker_than(0, grey).pieces().empty());
}

TEST(InkPieces, SelectedOnesAreSetPixelByPixel) {
    cv::Mat grey = noisy(301, 227, CV_8UC1, 7);
    const cv::Mat before = grey.clone();
    const auto is_small = [](const InkPiece& piece) { return piece.area < 4; };
    InkPieces::darker_than(70, grey).set(grey, 255, is_small);
    cv::Mat labels, stats, middles;
    cv::connectedComponentsWithStats(before < 70, labels, stats, middles, 8, CV_32S);
    for (int y = 0; y < grey.rows; ++y)
        for (int x = 0; x < grey.cols; ++x) {
            const int label = labels.at<int>(y, x);
            const bool small = label > 0 && stats.at<int>(label, cv::CC_STAT_AREA) < 4;
            ASSERT_EQ(grey.at<uchar>(y, x), small ? 255 : before.at<uchar>(y, x)) << x << "," << y;
        }
}

}
}
