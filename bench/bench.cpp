// The measuring program behind ./dev bench.
//   yelvin-bench pages FOLDER COUNT      writes COUNT scanned A4 pages (300 dpi, grey PNG), each a little different
//   yelvin-bench develop                 prints develop()'s time against one plain warpAffine of the same page
#include "core/developing/develop.h"
#include "core/raster/image_file.h"
#include "core/saving/safe_file.h"
#include "devices/simulated/simulated_scanner.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <chrono>
#include <cstdlib>
#include <vector>

using namespace yelvin;

namespace {

Raster scanned(const std::string& originals, int index, Ink ink) {
    const char* papers[] = {"lease-1", "lease-2", "invoice", "log-sheet"};
    BenchSetup setup;
    setup.glass = {{originals + "/" + papers[index % 4] + ".svg", 105, 148.5, -2 + 0.37 * (index % 11)}};
    setup.sensor.seed = static_cast<std::uint64_t>(index);
    SimulatedScanner scanner(setup);
    RasterSink sink;
    if (!scanner.scan({Source::Glass, {0, 0, 210, 297}, 300, ink}, sink, {})) std::abort();
    return sink.pages.front();
}

template <class Work>
double seconds(Work work) {
    std::vector<double> times;
    for (int i = 0; i < 7; ++i) {
        const auto start = std::chrono::steady_clock::now();
        work();
        times.push_back(std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
    }
    std::ranges::nth_element(times, times.begin() + 3);
    return times[3];
}

}

int main(int argc, char** argv) {
    const std::vector<std::string> words(argv + 1, argv + argc);
    if (words.size() == 4 && words[0] == "pages") {
        for (int i = 0; i < std::atoi(words[2].c_str()); ++i) {
            const auto png = encode_png(scanned(words[3], i, Ink::Grey));
            if (!png || !write_bytes(fmt::format("{}/page-{:03}.png", words[1], i), *png)) return 1;
        }
        return 0;
    }
    if (words.size() == 2 && words[0] == "develop") {
        const Raster page = scanned(words[1], 0, Ink::Colour);
        Recipe recipe;
        recipe.tilt_degrees = 1.7;
        const cv::Matx23d map =
            page_to_original(recipe, {page.width_px(), page.height_px()}, 300).get_minor<2, 3>(0, 0);
        cv::Mat out;
        const double plain = seconds([&] { cv::warpAffine(page.pixels, out, map, page.pixels.size()); });
        const double cubic =
            seconds([&] { cv::warpAffine(page.pixels, out, map, page.pixels.size(), cv::INTER_CUBIC); });
        const double straightened = seconds([&] { develop(page, recipe); });
        recipe.adjust.brightness = 10;
        recipe.adjust.contrast = 20;
        const double toned = seconds([&] { develop(page, recipe); });
        fmt::print("develop A4 colour 300 dpi: straightened {:.0f} ms, {:.2f} of one plain warpAffine ({:.0f} ms); "
                   "with tone {:.0f} ms, {:.2f} "
                   "(goal: 2.5; a cubic warpAffine takes {:.2f})\n",
                   1000 * straightened, straightened / plain, 1000 * plain, 1000 * toned, toned / plain, cubic / plain);
        return 0;
    }
    fmt::print(stderr, "usage: yelvin-bench pages FOLDER COUNT ORIGINALS | develop ORIGINALS\n");
    return 2;
}
