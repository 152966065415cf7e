#include "app/models/scanning/growing_picture.h"

#include "app/models/tray/page_pictures.h"
#include "core/raster/averaging.h"
#include "jobs/page_looker.h"

namespace yelvin {

namespace {
constexpr int shown_height = 900;
}

void GrowingPicture::begin(const PageStart& start) {
    const int expected = start.height_px > 0 ? start.height_px : static_cast<int>(start.width_px * 1.42);
    step_ = std::max(1, (expected + shown_height / 2) / shown_height);
    expected_rows_ = std::max(1, expected / step_);
    type_ = start.ink == Ink::Colour ? CV_8UC3 : CV_8UC1;
    picture_ = cv::Mat(expected_rows_, std::max(1, start.width_px / step_), type_, cv::Scalar::all(255));
    rows_ = 0;
    pending_ = cv::Mat();
}

void GrowingPicture::add(const cv::Mat& strip) {
    // Only complete groups of rows are reduced; the remaining rows wait for the next strip.
    cv::Mat rows = strip;
    if (!pending_.empty()) cv::vconcat(pending_, strip, rows);
    const int whole = rows.rows / step_;
    pending_ = rows.rowRange(whole * step_, rows.rows).clone();
    if (whole == 0) return;
    if (rows_ + whole > picture_.rows) {
        cv::Mat taller(rows_ + whole + shown_height / 4, picture_.cols, type_, cv::Scalar::all(255));
        if (rows_ > 0) picture_.rowRange(0, rows_).copyTo(taller.rowRange(0, rows_));
        picture_ = taller;
    }
    averaged(rows.rowRange(0, whole * step_), {picture_.cols, whole}).copyTo(picture_.rowRange(rows_, rows_ + whole));
    rows_ += whole;
}

QImage GrowingPicture::image() const {
    return to_image({picture_, 100, picture_.channels() == 3 ? Ink::Colour : Ink::Grey});
}

QImage GrowingPicture::small() const {
    if (rows_ == 0) return {};
    return to_image({picture_.rowRange(0, rows_), 100, picture_.channels() == 3 ? Ink::Colour : Ink::Grey})
        .scaled(thumbnail_side, thumbnail_side, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

int GrowingPicture::expected_rows() const { return std::max(expected_rows_, rows_); }

}
