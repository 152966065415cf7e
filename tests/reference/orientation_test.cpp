// Which way up a page lies: by the text of the demo's papers in all four directions.
#include "core/ocr/orientation.h"
#include "jobs/page_work.h"
#include "jobs/reader_pool.h"
#include "support/support.h"

#include <iostream>

namespace yelvin::test {
namespace {

TEST(Orientation, IsFoundInAllFourDirections) {
    ReaderPool readers;
    const Ticket ticket;
    int right = 0, all = 0;
    for (const char* paper : {"lease-1", "invoice", "log-sheet", "till-receipt"}) {
        for (const int lies : {0, 90, 180, 270}) {
            const Notices notices = noticed(scan(paper, lies + 0.7, 200, Ink::Grey), ticket, readers);
            ++all;
            const int expected = (360 - lies) % 360;
            if (notices.turn_degrees == expected)
                ++right;
            else
                std::cout << paper << " lying at " << lies << ": " << notices.turn_degrees.value_or(-1)
                          << " instead of " << expected << "\n";
        }
    }
    EXPECT_EQ(right, all);
}

TEST(Orientation, IsNotReportedForAPhotographOrAnEmptyPage) {
    ReaderPool readers;
    const Ticket ticket;
    EXPECT_FALSE(noticed(scan("photo-patient-heron", 0, 150, Ink::Colour), ticket, readers).turn_degrees);
    EXPECT_FALSE(
        noticed(Raster{cv::Mat(1500, 1000, CV_8UC1, cv::Scalar(245)), 150, Ink::Grey}, ticket, readers).turn_degrees);
}

}
}
