// What several tests need: a temporary folder, other programs, scans with known truth, and the words of a PDF.
#pragma once

#include "core/raster/raster.h"
#include "devices/simulated/simulated_scanner.h"

#include <gtest/gtest.h>

#include <filesystem>
#include <string>
#include <vector>

namespace yelvin::test {

class TempFolder {
  public:
    TempFolder();
    ~TempFolder();
    TempFolder(const TempFolder&) = delete;
    TempFolder& operator=(const TempFolder&) = delete;
    const std::filesystem::path& path() const { return path_; }
    std::filesystem::path operator/(const std::string& name) const { return path_ / name; }
    std::vector<std::string> files() const; // names, sorted

  private:
    std::filesystem::path path_;
};

struct Ran {
    int status = -1;
    std::string out, err;
};
Ran run(const std::vector<std::string>& program_and_arguments);

std::string read_file(const std::filesystem::path& file);
void write_file(const std::filesystem::path& file, const std::string& bytes);

std::filesystem::path original(const std::string& name); // of the demo, without ".svg"

inline constexpr RectMm a4_area{0, 0, 210, 297};

// A demo original, scanned by the simulated scanner with its centre in the middle of an A4 area.
Raster scan(const std::string& name, double angle_degrees, double dpi, Ink ink, RectMm area = a4_area,
            const Sensor& sensor = {});

struct PrintedWord {
    std::string text;
    RectMm box;
};
// The words of a PDF by poppler's pdftotext, which is used for originals and for our files.
std::vector<PrintedWord> words_of_pdf(const std::filesystem::path& pdf);
std::string text_of_pdf(const std::filesystem::path& pdf); // its lines in order, as poppler copies them
// The truth: the original's own drawing, turned into a PDF by librsvg and cairo.
std::vector<PrintedWord> words_of_original(const std::string& name);

std::string pdf_with_text(const std::vector<std::string>& lines); // one A4 page, drawn by cairo

// The longest common subsequence of two lists of words, as pairs of indices.
std::vector<std::pair<size_t, size_t>> common_in_order(const std::vector<PrintedWord>& a,
                                                       const std::vector<PrintedWord>& b);

// Grey pictures for tests that need any picture: reproducible noise on a gradient.
cv::Mat noisy(int width, int height, int type, unsigned seed);

}
