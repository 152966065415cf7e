#include "devices/simulated/simulated_scanner.h"

#include <cairo.h>
#include <opencv2/imgproc.hpp>

#include <chrono>
#include <condition_variable>
#include <numbers>

namespace yelvin {

namespace {

constexpr SizeMm a4_glass{216, 297};
constexpr int strip_rows = 128;

struct Laid {
    PaperOriginal original;
    LaidPaper place;
};

// The light from `rows` rows of the area, starting at `first_row`, before the sensor.
cv::Mat drawn_strip(const std::vector<Laid>& papers, const ScanRequest& request, int width, int first_row, int rows,
                    int lid_level) {
    cv::Mat bgra(rows, width, CV_8UC4);
    cairo_surface_t* surface =
        cairo_image_surface_create_for_data(bgra.data, CAIRO_FORMAT_RGB24, width, rows, static_cast<int>(bgra.step));
    cairo_t* cairo = cairo_create(surface);
    const double lid = lid_level / 255.0;
    cairo_set_source_rgb(cairo, lid, lid, lid);
    cairo_paint(cairo);
    const double scale = request.dpi / mm_per_inch;
    cairo_translate(cairo, 0, -first_row);
    cairo_scale(cairo, scale, scale);
    cairo_translate(cairo, -request.area.x, -request.area.y);
    for (const Laid& paper : papers) {
        const SizeMm size = paper.original.size();
        cairo_save(cairo);
        cairo_translate(cairo, paper.place.x_mm, paper.place.y_mm);
        cairo_rotate(cairo, paper.place.angle_degrees * std::numbers::pi / 180);
        cairo_translate(cairo, -size.width / 2, -size.height / 2);
        // The lamp stands to one side: the paper's thickness throws a thin shadow.
        cairo_rectangle(cairo, 0.15, 0.25, size.width, size.height);
        cairo_set_source_rgba(cairo, 0, 0, 0, 0.18);
        cairo_fill(cairo);
        cairo_rectangle(cairo, 0, 0, size.width, size.height);
        cairo_set_source_rgb(cairo, 1, 1, 1);
        cairo_fill_preserve(cairo);
        cairo_clip(cairo);
        paper.original.draw(cairo);
        cairo_restore(cairo);
    }
    cairo_destroy(cairo);
    cairo_surface_flush(surface);
    cairo_surface_destroy(surface);
    cv::Mat bgr;
    cv::cvtColor(bgra, bgr, cv::COLOR_BGRA2BGR);
    return bgr;
}

cv::Mat in_ink(const cv::Mat& bgr, Ink ink) {
    if (ink == Ink::Colour) return bgr;
    cv::Mat grey;
    cv::cvtColor(bgr, grey, cv::COLOR_BGR2GRAY);
    if (ink == Ink::Black) cv::threshold(grey, grey, 127, 255, cv::THRESH_BINARY); // the sensor's own threshold
    return grey;
}

// Waits, unless stopped before.
void pause(std::chrono::duration<double> time, const std::stop_token& stop) {
    std::mutex mutex;
    std::condition_variable_any never;
    std::unique_lock lock(mutex);
    never.wait_for(lock, stop, time, [] { return false; });
}

struct BusyMark {
    std::mutex& mutex;
    bool& busy;
    ~BusyMark() {
        const std::scoped_lock lock(mutex);
        busy = false;
    }
};

}

Result<SizeMm> original_size(const std::filesystem::path& file) {
    const auto original = PaperOriginal::load(file);
    if (!original) return std::unexpected(original.error());
    return original->size();
}

void SimulatedScanner::set_bench(BenchSetup setup) {
    const std::scoped_lock lock(mutex_);
    setup_ = std::move(setup);
}

BenchSetup SimulatedScanner::bench() const {
    const std::scoped_lock lock(mutex_);
    return setup_;
}

Capabilities SimulatedScanner::capabilities() const {
    return {{Source::Glass}, {Ink::Colour, Ink::Grey, Ink::Black}, {75, 100, 150, 200, 300, 400, 600, 1200}, a4_glass};
}

ScannerState SimulatedScanner::state() const {
    const std::scoped_lock lock(mutex_);
    return busy_ ? ScannerState::Busy : ScannerState::Ready;
}

Result<void> SimulatedScanner::scan(const ScanRequest& asked, PageSink& sink, std::stop_token stop) {
    BenchSetup setup;
    {
        const std::scoped_lock lock(mutex_);
        if (busy_)
            return fail(ErrorKind::Device, "The bench scanner is busy with another scan; wait until it is done.");
        busy_ = true;
        setup = setup_;
    }
    const BusyMark mark{mutex_, busy_};
    std::vector<Laid> papers;
    for (const LaidPaper& paper : setup.glass) {
        auto original = PaperOriginal::load(paper.file);
        if (!original) return std::unexpected(original.error());
        papers.push_back({std::move(*original), paper});
    }
    const ScanRequest request = fitted(asked, capabilities());
    const int width = scanned_px(request.area.width, request.dpi),
              height = scanned_px(request.area.height, request.dpi);
    if (auto begun = sink.begin_page({width, height, request.dpi, request.ink}); !begun) return begun;
    const int reach = blur_reach_px(setup.sensor, request.dpi);
    const double seconds_per_row = setup.seconds_for_a4 / 3508 * std::max(0.3, request.dpi / 300);
    for (int row = 0; row < height; row += strip_rows) {
        if (stop.stop_requested()) return stopped();
        const int rows = std::min(strip_rows, height - row);
        const cv::Mat light = drawn_strip(papers, request, width, row - reach, rows + 2 * reach, setup.lid_level);
        const cv::Mat strip = sensed(light, setup.sensor, request.dpi, reach, row, request.area.x, a4_glass.width);
        if (setup.real_pace) pause(std::chrono::duration<double>(rows * seconds_per_row), stop);
        if (auto taken = sink.strip(in_ink(strip, request.ink)); !taken) return taken;
    }
    if (stop.stop_requested()) return stopped();
    return sink.end_page();
}

}
