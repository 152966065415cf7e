// The measuring program behind ./dev bench.
//   yelvin-bench pages FOLDER COUNT      writes COUNT scanned A4 pages (300 dpi, grey PNG), each a little different
//   yelvin-bench develop ORIGINALS       prints develop()'s time against one plain warpAffine of the same page
//   yelvin-bench observe ORIGINALS       prints what each observation of a page costs, against encoding it losslessly
//   yelvin-bench tray FOLDER COUNT       makes an out tray of so many pages in FOLDER/tray
#include "core/developing/develop.h"
#include "core/raster/image_file.h"
#include "core/saving/safe_file.h"
#include "core/seeing/barcode.h"
#include "core/seeing/red_eyes.h"
#include "core/seeing/sheet.h"
#include "core/seeing/tilt.h"
#include "core/seeing/traces.h"
#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "core/tray/tray_edits.h"
#include "core/tray/tray_store.h"
#include "devices/simulated/simulated_scanner.h"
#include "jobs/page_work.h"
#include "jobs/reader_pool.h"

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

struct TempStore {
    std::filesystem::path path = std::filesystem::temp_directory_path() / ("yelvin-bench-" + new_id());
    TempStore() { std::filesystem::create_directories(path); }
    ~TempStore() { std::filesystem::remove_all(path); }
};

// Each observation alone, on a colour page from a feeder at 300 dpi. What several observations share is listed
// separately.
void print_observations(const std::string& originals) {
    cv::setNumThreads(1); // as in the window, where pages are looked at side by side
    BenchSetup setup;
    setup.stack = {{{originals + "/invoice.svg"}, {}, 0.8}};
    SimulatedScanner scanner(setup);
    RasterSink sink;
    if (!scanner.scan({Source::FeederFront, {}, 300, Ink::Colour, true}, sink, {})) std::abort();
    const Raster original = sink.pages.front();
    const Raster work = at_resolution(original, 200);
    const Marks marks = find_marks(work);
    const Letters letters_found = letters(marks);
    ReaderPool readers;
    const TempStore store;
    const double kept = seconds([&] {
        if (!keep_original(store.path, original)) std::abort();
    });
    fmt::print("observing an A4 page from the feeder, 300 dpi colour; keeping it (compress, write, sync) takes {:.0f} "
               "ms\n",
               1000 * kept);
    const auto print = [&](const char* what, double took) {
        fmt::print("  {:<34} {:5.1f} ms, {:.2f} of keeping it\n", what, 1000 * took, took / kept);
    };
    print("brought to 200 dpi", seconds([&] { at_resolution(original, 200); }));
    print("where the sheet lies", seconds([&] { find_sheet(work); }));
    print("marks", seconds([&] { find_marks(work); }));
    print("letters", seconds([&] { letters(marks); }));
    print("tilt by the text", seconds([&] { text_tilt(letters_found); }));
    print("traces of ink (blank or used)", seconds([&] { find_traces(marks); }));
    print("which ink it needs", seconds([&] { ink_need(work, marks); }));
    print("blemishes", seconds([&] { find_blemishes(work, marks, letters_found); }));
    print("a print's screen", seconds([&] { screen_of(original); }));
    print("red eyes", seconds([&] { find_red_eyes(work); }));
    print("barcodes (only where asked for)", seconds([&] { barcodes(work); }));
    Ticket ticket;
    const PageOrigin origin{true, false};
    print("all of it, with which way is up", seconds([&] { noticed(original, ticket, readers, origin); }));
    ticket.pages.turn_upright = ticket.pages.straighten = false;
    print("all of it, without", seconds([&] { noticed(original, ticket, readers, origin); }));
}

// An out tray as a busy day leaves it.
void make_tray(const std::filesystem::path& folder, int count) {
    auto store = TrayStore::open(folder);
    if (!store) std::abort();
    Tray tray;
    for (int i = 0; i < count; ++i) {
        const Raster page{cv::Mat(877, 620, CV_8UC1, cv::Scalar(200 + i % 50)), 75, Ink::Grey};
        const auto original = keep_original(folder, page);
        if (!original) std::abort();
        Page looked{new_id(), *original};
        looked.noticed = true;
        tray = with_page_added(tray, std::make_shared<const Page>(std::move(looked)), i % 5 == 0);
    }
    TrayHistory history;
    history.undo.push_back({{}, "scan"});
    if (!store->keep(tray, &history)) std::abort();

    // The state that is stored after each step: a turned page, and the steps that led to it.
    std::vector<double> times;
    for (size_t i = 0; i < 30; ++i) {
        history.undo.push_back({tray, "turn"});
        tray = with_changed(tray, {page_ids(tray)[i * 13]}, [](Page& page) { page.recipe.turn_degrees = 90; });
        times.push_back(seconds([&] {
            if (!store->keep(tray, &history)) std::abort();
        }));
    }
    std::ranges::sort(times);
    fmt::print("keeping a tray of {} pages after a step: {:.0f} ms, {:.0f} at worst (goal: 60)\n", count,
               1000 * times[times.size() / 2], 1000 * times.back());
}

}

int main(int argc, char** argv) {
    const std::vector<std::string> words(argv + 1, argv + argc);
    if (words.size() == 2 && words[0] == "observe") {
        print_observations(words[1]);
        return 0;
    }
    if (words.size() == 3 && words[0] == "tray") {
        make_tray(std::filesystem::path(words[1]) / "tray", std::atoi(words[2].c_str()));
        return 0;
    }
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
    fmt::print(stderr, "usage: yelvin-bench pages FOLDER COUNT ORIGINALS | develop ORIGINALS | observe ORIGINALS | "
                       "tray FOLDER COUNT\n");
    return 2;
}
