#include "core/strip/test_strip.h"

#include "core/output/document_writer.h"
#include "core/raster/averaging.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <random>

namespace yelvin {

std::vector<StripCell> strip_cells(const Raster& best) {
    std::vector<StripCell> cells;
    for (const Ink ink : strip_inks) {
        if (ink < best.ink) continue;
        for (const int dpi : strip_resolutions) {
            if (dpi <= best.dpi + 0.5) cells.push_back({dpi, ink});
        }
    }
    return cells;
}

Raster strip_picture(const Raster& best, int dpi, Ink ink) {
    // A scanner drops colour first and decides between black and white last, at the resolution of the scan.
    return with_ink(at_resolution(ink == Ink::Colour ? best : with_ink(best, Ink::Grey), dpi), ink);
}

double grain_of(const Raster& raster) {
    const int channels = raster.pixels.channels();
    double sum = 0, count = 0;
    for (int y = 1; y < raster.height_px(); y += 5) {
        const uchar* row = raster.pixels.ptr(y);
        for (int x = 2 * channels; x < raster.width_px() * channels; ++x) {
            // Whether the surroundings are uniform up to two pixels away; the middle pixel is ignored, so that the
            // grain itself does not select.
            if (std::abs(row[x] - row[x - 2 * channels]) > 12) continue;
            const int step = std::abs(row[x] - row[x - channels]);
            if (step > 12) continue;
            sum += step;
            ++count;
        }
    }
    // The mean of |difference| of two normal values is 2/sqrt(pi) of the standard deviation of one.
    return count > 0 ? sum / count * std::sqrt(CV_PI) / 2 : 0;
}

Raster strip_weighed(const Raster& best, int dpi, Ink ink) {
    Raster page = strip_picture(best, dpi, ink);
    if (ink == Ink::Black || dpi >= best.dpi) return page;
    const double fine = grain_of(ink == Ink::Colour ? best : with_ink(best, Ink::Grey)), coarse = grain_of(page);
    const double lacking = std::sqrt(std::max(0.0, fine * fine - coarse * coarse));
    if (lacking < 0.2) return page;
    cv::Mat noise(1, page.width_px(), CV_MAKETYPE(CV_32F, page.pixels.channels())), row;
    cv::RNG random(2026);
    page.pixels = page.pixels.clone();
    for (int y = 0; y < page.height_px(); ++y) {
        random.fill(noise, cv::RNG::NORMAL, cv::Scalar::all(0), cv::Scalar::all(lacking));
        page.pixels.row(y).convertTo(row, CV_32F);
        row += noise;
        row.convertTo(page.pixels.row(y), CV_8U);
    }
    return page;
}

int black_threshold_at(const Raster& best, int dpi) {
    return black_threshold(at_resolution(with_ink(best, Ink::Grey), dpi).pixels);
}

Raster strip_detail(const Raster& best, int dpi, Ink ink, const RectMm& detail, int threshold) {
    // Whole pixels of the coarser picture, so that they are averaged from the same pixels as in the whole page.
    const double step = best.dpi / dpi;
    const int width = scanned_px(best.size_mm().width, dpi), height = scanned_px(best.size_mm().height, dpi);
    const auto to_px = [dpi](double mm) { return static_cast<int>(std::lround(mm_to_px(mm, dpi))); };
    const int left = std::clamp(to_px(detail.x), 0, width - 1), top = std::clamp(to_px(detail.y), 0, height - 1),
              right = std::clamp(to_px(detail.x + detail.width), left + 1, width),
              bottom = std::clamp(to_px(detail.y + detail.height), top + 1, height);
    const int x = std::min(best.width_px() - 1, static_cast<int>(std::lround(left * step))),
              y = std::min(best.height_px() - 1, static_cast<int>(std::lround(top * step)));
    const int w = std::clamp(static_cast<int>(std::lround((right - left) * step)), 1, best.width_px() - x),
              h = std::clamp(static_cast<int>(std::lround((bottom - top) * step)), 1, best.height_px() - y);
    Raster part{best.pixels(cv::Rect(x, y, w, h)), best.dpi, best.ink};
    if (ink != Ink::Colour) part = with_ink(part, Ink::Grey);
    Raster out{{}, static_cast<double>(dpi), part.ink};
    const cv::Size size(right - left, bottom - top);
    if (w >= size.width && h >= size.height)
        out.pixels = averaged(part.pixels, size); // as the whole picture is
    else
        cv::resize(part.pixels, out.pixels, size, 0, 0, cv::INTER_AREA);
    if (ink == Ink::Black) {
        cv::threshold(out.pixels, out.pixels, threshold, 255, cv::THRESH_BINARY);
        out.ink = Ink::Black;
    }
    return out;
}

Result<double> finished_bytes(const Raster& page, const TextLayer& text, const Ticket::Make& make) {
    auto encoded = encode_page(page, as_it_was_read(text), make);
    if (!encoded) return std::unexpected(encoded.error());
    if (!is_pdf(make.format)) return static_cast<double>(encoded->image.size());
    // A PDF contains more than its picture; its overhead is measured once by writing one.
    std::random_device random;
    const auto file =
        std::filesystem::temp_directory_path() / fmt::format("yelvin-strip-{:08x}{:08x}.pdf", random(), random());
    const auto writer = new_document_writer(file, make.format, {"Test strip", make});
    Result<void> done = writer->append(std::move(*encoded));
    if (done) done = writer->finish();
    std::error_code error;
    const auto bytes = std::filesystem::file_size(file, error);
    std::filesystem::remove(file, error);
    if (!done) return std::unexpected(done.error());
    return static_cast<double>(bytes);
}

std::optional<ReadsAs> reads_as(const TextLayer& truth, const TextLayer& reading) {
    struct Read {
        std::string text;
        double confidence = 0;
    };
    const auto words = [](const TextLayer& layer, double least) {
        std::vector<Read> out;
        for (const TextLine& line : layer.lines) {
            for (const Word& word : line.words) {
                if (word.confidence >= least) out.push_back({word.text, word.confidence});
            }
        }
        return out;
    };
    const std::vector<Read> a = words(truth, doubtful_confidence), b = words(reading, 0);
    if (a.size() < 3) return std::nullopt;
    // The longest common subsequence, and the confidences of its words.
    std::vector<std::vector<int>> length(a.size() + 1, std::vector<int>(b.size() + 1, 0));
    for (size_t i = a.size(); i-- > 0;) {
        for (size_t j = b.size(); j-- > 0;)
            length[i][j] =
                a[i].text == b[j].text ? length[i + 1][j + 1] + 1 : std::max(length[i + 1][j], length[i][j + 1]);
    }
    ReadsAs out;
    for (size_t i = 0, j = 0; i < a.size() && j < b.size();) {
        if (a[i].text == b[j].text) {
            out.confidence += b[j].confidence;
            ++i;
            ++j;
        } else if (length[i + 1][j] >= length[i][j + 1]) {
            ++i;
        } else {
            ++j;
        }
    }
    const int same = length[0][0];
    out.share = static_cast<double>(same) / static_cast<double>(a.size());
    out.confidence = same > 0 ? out.confidence / same : 0;
    return out;
}

namespace {

const StripCell* cell_at(const std::vector<StripCell>& cells, int dpi, Ink ink) {
    const auto at = std::ranges::find_if(cells, [&](const StripCell& c) { return c.dpi == dpi && c.ink == ink; });
    return at == cells.end() ? nullptr : &*at;
}

// Returns the coarsest cell of this colour mode in which the words are still legible; nothing if there are no words to
// decide by.
const StripCell* coarsest_that_reads(const std::vector<StripCell>& cells, Ink ink, int floor_dpi) {
    constexpr double enough = 0.98;
    double best = 0;
    for (const StripCell& cell : cells) best = std::max(best, cell.reads.value_or(0));
    if (best <= 0) return nullptr;
    for (const StripCell& cell : cells) {
        if (cell.ink == ink && cell.dpi >= floor_dpi && cell.reads.value_or(0) >= enough * best) return &cell;
    }
    return nullptr;
}

}

std::vector<StripAdvice> strip_advice(const std::vector<StripCell>& cells, const Notices& notices, SizeMm size) {
    using Reason = StripAdvice::Reason;
    if (cells.empty()) return {};
    // 200 dpi is the minimum for text that is kept, 300 for pencil and for photographs, 600 for small ones (common
    // practice, no source).
    const bool photograph = notices.kind == PageKind::Photo;
    const bool faint = notices.ink.least != Ink::Black;
    const Ink ink = std::max(notices.ink.least, cells.front().ink);
    const bool small = std::max(size.width, size.height) <= small_photograph_mm;
    const int finest = std::ranges::max(cells, {}, &StripCell::dpi).dpi;
    const StripCell* first = photograph ? nullptr : coarsest_that_reads(cells, ink, faint ? 300 : 200);
    Reason reason = Reason::SmallestThatReads;
    if (!first && !photograph && ink == Ink::Black) first = coarsest_that_reads(cells, Ink::Grey, 200);
    if (!first) {
        reason = photograph ? Reason::Photograph : Reason::NoWords;
        first = cell_at(cells, std::min(finest, photograph && small ? 600 : 300), ink);
    }
    if (!first) first = &cells.back();
    std::vector<StripAdvice> advice{{first->dpi, first->ink, reason, 1}};
    const auto ratio = [&](const StripCell& cell) { return first->bytes > 0 ? cell.bytes / first->bytes : 0; };
    const auto add = [&](const StripCell* cell, Reason why) {
        if (cell) advice.push_back({cell->dpi, cell->ink, why, ratio(*cell)});
    };
    if (first->ink == Ink::Colour) add(cell_at(cells, first->dpi, Ink::Grey), Reason::GreyLosesColour);
    if (first->ink != Ink::Black)
        add(cell_at(cells, first->dpi, Ink::Black), faint ? Reason::BlackLosesFaint : Reason::BlackLosesNothing);
    if (first->dpi < finest) add(cell_at(cells, finest, first->ink), Reason::NothingMore);
    return advice;
}

}
