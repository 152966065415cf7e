// A reduced picture of the page that is being scanned, updated from its strips. Thread-safe.
#pragma once

#include "core/scanner/scanner.h"

#include <QImage>

namespace yelvin {

class GrowingPicture {
  public:
    void begin(const PageStart& start);
    void add(const cv::Mat& strip);
    QImage image() const; // a deep copy; white where nothing was scanned yet
    QImage small() const; // what was scanned so far, as a thumbnail
    int rows() const { return rows_; }
    int expected_rows() const; // height of the picture; increases if the page is longer than expected

  private:
    cv::Mat picture_, pending_;
    int step_ = 1, rows_ = 0, expected_rows_ = 1, type_ = CV_8UC3;
};

}
