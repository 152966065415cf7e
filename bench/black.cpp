// Black-and-white pages: the bytes and the time of JBIG2 against fax (G4) and, if it is installed, against DjVuLibre's
// lossless coder. Each document has ten pages of one kind.
#include "core/jbig2/jbig2_encoder.h"
#include "core/raster/image_file.h"
#include "support/hard_pages.h"
#include "support/support.h"

#include <fmt/format.h>

#include <chrono>
#include <fstream>
#include <vector>

using namespace yelvin;

namespace {

double seconds_since(std::chrono::steady_clock::time_point start) {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

// Returns the bytes of the pages as cjb2 stores them; 0 if it is not installed.
size_t by_cjb2(const std::vector<cv::Mat>& pages) {
    const test::TempFolder folder;
    size_t bytes = 0;
    for (const cv::Mat& ink : pages) {
        std::ofstream file(folder / "page.pbm", std::ios::binary);
        file << "P4\n" << ink.cols << ' ' << ink.rows << '\n';
        for (int y = 0; y < ink.rows; ++y)
            for (int x = 0; x < ink.cols; x += 8) {
                unsigned byte = 0;
                for (int i = 0; i < 8; ++i) byte = byte << 1 | (x + i < ink.cols && ink.at<uchar>(y, x + i) != 0);
                file.put(static_cast<char>(byte));
            }
        file.close();
        const auto made = folder / "page.djvu";
        if (test::run({"cjb2", "-lossless", "-dpi", "300", (folder / "page.pbm").string(), made.string()}).status != 0)
            return 0;
        bytes += std::filesystem::file_size(made);
    }
    return bytes;
}

struct Bytes {
    size_t g4 = 0, pixels = 0, jbig2 = 0, cjb2 = 0;
};

Bytes measured(const std::string& name, const std::vector<cv::Mat>& pages) {
    Bytes out;
    auto start = std::chrono::steady_clock::now();
    for (const cv::Mat& ink : pages) out.g4 += encode_g4({255 - ink, 300, Ink::Black})->size();
    const double g4_seconds = seconds_since(start);
    for (const cv::Mat& ink : pages) out.pixels += jbig2_of_pixels(ink, 300).size();
    start = std::chrono::steady_clock::now();
    Jbig2Encoder encoder;
    for (const cv::Mat& ink : pages) encoder.add(ink, 300);
    const Jbig2Document document = encoder.finish();
    const double seconds = seconds_since(start);
    out.jbig2 = document.globals.size();
    for (const std::string& page : document.pages) out.jbig2 += page.size();
    out.cjb2 = by_cjb2(pages);
    const auto share = [](size_t a, size_t b) {
        return b == 0 ? 0.0 : static_cast<double>(a) / static_cast<double>(b);
    };
    fmt::print("  {:24} {:7} bytes as G4; JBIG2 {:.3f} of it, as pixels {:.3f}; {:.3f} of cjb2; {:4.0f} ms a page (G4 "
               "{:.0f})\n",
               name, out.g4, share(out.jbig2, out.g4), share(out.pixels, out.g4), share(out.jbig2, out.cjb2),
               1000 * seconds / static_cast<double>(pages.size()),
               1000 * g4_seconds / static_cast<double>(pages.size()));
    std::fflush(stdout);
    return out;
}

}

int main() {
    constexpr unsigned pages = 10;
    double of_g4 = 0, of_cjb2 = 0;
    size_t documents = 0;
    for (const bool clean : {true, false})
        for (size_t kind = 0; kind < (clean ? 1 : test::hard_kinds()); ++kind) {
            std::vector<cv::Mat> document;
            for (unsigned seed = 1; seed <= pages; ++seed) {
                const test::HardPage page = test::hard_page(kind, seed);
                document.push_back(with_ink(at_resolution(clean ? page.clean : page.scanned, 300), Ink::Black).pixels ==
                                   0);
            }
            const Bytes bytes = measured(clean ? "clean" : test::hard_kind(kind), document);
            of_g4 += static_cast<double>(bytes.jbig2) / static_cast<double>(bytes.g4);
            if (bytes.cjb2 > 0) of_cjb2 += static_cast<double>(bytes.jbig2) / static_cast<double>(bytes.cjb2);
            ++documents;
        }
    fmt::print("  on average {:.3f} of G4 (goal: at most 0.45), {:.3f} of cjb2 (goal: at most 1.05)\n",
               of_g4 / static_cast<double>(documents), of_cjb2 / static_cast<double>(documents));
    return 0;
}
