// Every kind of file made of many pages: how much memory it takes, and its time against what its encoder alone needs.
//   yelvin-formats-bench [PAGES [FORMAT…]]
#include "core/output/format_table.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>

using namespace yelvin;

namespace {

// A4 at 150 dpi: 40 lines of ten words, a picture of 60 x 40 mm, a heading, and a table.
struct Sample {
    Raster page{cv::Mat(1754, 1240, CV_8UC1, cv::Scalar(250)), 150, Ink::Grey};
    TextLayer text{{}, 1240, 1754, "eng"};

    Sample() {
        cv::RNG random(4);
        random.fill(page.pixels, cv::RNG::NORMAL, 245, 2);
        for (int row = 0; row < 40; ++row) line(110, 150 + row * 28, row % 10 == 0 ? "Mooring" : "number", 10, 105);
        for (int row = 0; row < 6; ++row) line(110, 1330 + row * 40, "24.00", 3, 300);
        cv::Mat picture = page.pixels(cv::Rect(500, 1480, 354, 236));
        random.fill(picture, cv::RNG::UNIFORM, 0, 160);
    }
    void line(int x, int y, const std::string& word, int count, int step) {
        TextLine out{{}, {double(x), double(y)}, {double(x + count * step), double(y)}, 18, 5, "eng"};
        for (int i = 0; i < count; ++i) {
            out.words.push_back({word, {x + i * step, y - 18, 12 * static_cast<int>(word.size()), 18}, 95});
            cv::putText(page.pixels, word, {x + i * step, y}, cv::FONT_HERSHEY_SIMPLEX, 0.6, 30);
        }
        text.lines.push_back(std::move(out));
    }
};

double seconds_since(std::chrono::steady_clock::time_point start) {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

int make_all(Format format, size_t pages, const std::filesystem::path& folder) {
    const Sample sample;
    Ticket::Make make;
    make.format = format;
    // The encoder alone, on one thread.
    const auto alone_start = std::chrono::steady_clock::now();
    constexpr int tries = 10;
    for (int i = 0; i < tries; ++i)
        if (!encode_page(sample.page, as_it_was_read(sample.text), make)) return 1;
    const double alone = seconds_since(alone_start) / tries;
    ReaderPool readers;
    SaveJob job;
    job.page_count = pages;
    job.folder = folder;
    job.fixed_name = "many";
    job.ticket.make = make;
    job.page = [&](size_t) { return std::optional(FinishedPage{sample.page, sample.text}); };
    const auto start = std::chrono::steady_clock::now();
    const auto made = save_document(job, readers, {});
    if (!made) {
        fmt::print("  {}: {}\n", format_key(format), made.error().sentence);
        return 1;
    }
    const double each = seconds_since(start) / static_cast<double>(pages);
    struct rusage use {};
    getrusage(RUSAGE_SELF, &use);
    std::uintmax_t bytes = 0;
    for (const MadeFile& file : *made) bytes += file.bytes;
    fmt::print(
        "  {:5} {:4} pages: {:6.1f} ms a page, {:5.2f} of its encoder alone on one core; {:4} MB at most; {:6.1f} MB\n",
        format_key(format), pages, 1000 * each, each / alone, use.ru_maxrss / 1024,
        static_cast<double>(bytes) / (1 << 20));
    std::fflush(stdout);
    return 0;
}

}

int main(int argc, char** argv) {
    const size_t pages = argc > 1 ? std::stoul(argv[1]) : 500;
    const std::vector<std::string_view> only(argv + std::min(argc, 2), argv + argc);
    int failed = 0;
    for (const Format format : all_formats()) {
        if (format == Format::Auto) continue;
        if (!only.empty() && std::ranges::find(only, format_key(format)) == only.end()) continue;
        for (const size_t count : {pages / 10, pages}) {
            // A process for each, so that its memory is measured alone.
            std::string name = (std::filesystem::temp_directory_path() / "yelvin-formats-XXXXXX").string();
            const std::filesystem::path folder = ::mkdtemp(name.data());
            if (const pid_t child = ::fork(); child == 0) {
                ::_exit(make_all(format, count, folder));
            } else {
                int status = 0;
                ::waitpid(child, &status, 0);
                failed += status == 0 ? 0 : 1;
            }
            std::filesystem::remove_all(folder);
        }
    }
    return failed == 0 ? 0 : 1;
}
