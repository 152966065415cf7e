// The page as it grows, small enough to be drawn often, made from the strips as they pass.
#pragma once

#include "core/scanner/scanner.h"

#include <QImage>

namespace yelvin {

class GrowingPicture {
  public:
    void begin(const PageStart& start);
    void add(const cv::Mat& strip);
    QImage image() const; // deep copy; white where nothing has come yet
    QImage small() const; // what has come, as a thumbnail
    int rows() const { return rows_; }
    int expected_rows() const; // of the picture; grows with a page that is longer than thought

  private:
    cv::Mat picture_, pending_;
    int step_ = 1, rows_ = 0, expected_rows_ = 1, type_ = CV_8UC3;
};

}
