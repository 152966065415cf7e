#include "batch/batch.h"

#include "batch/pages.h"

#include "core/naming/file_name.h"
#include "core/output/document_writer.h"
#include "core/raster/image_file.h"
#include "core/saving/safe_file.h"
#include "core/stitch/compose.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <opencv2/core.hpp>

#include <algorithm>
#include <mutex>

namespace yelvin {

namespace {

struct PieceInput {
    std::string file;
    int index = 0, count = 1;
    std::shared_ptr<OpenFiles> files; // shared by all pages
    Result<LoadedPage> page() const {
        const auto opened = files->of(file);
        return opened ? (*opened)->page(index) : std::unexpected(opened.error());
    }
    std::string name() const { return count > 1 ? fmt::format("{}, page {}", file, index + 1) : file; }
};

double rounded(double value, double to) { return std::round(value / to) * to; }

Result<Format> format_by_name(const std::filesystem::path& out) {
    std::string ending = out.extension().string();
    std::ranges::transform(ending, ending.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    if (ending == ".png") return Format::Png;
    if (ending == ".jpg" || ending == ".jpeg") return Format::Jpeg;
    if (ending == ".tif" || ending == ".tiff") return Format::Tiff;
    if (ending == ".pdf") return Format::Pdf;
    return fail(
        ErrorKind::Usage,
        fmt::format("{}: this file name extension is not supported. Use .png, .tif, .jpg or .pdf.", out.string()));
}

nlohmann::json described(const std::vector<PieceInput>& inputs, const std::vector<PieceLookPtr>& looks,
                         const Layout& layout) {
    nlohmann::json pieces = nlohmann::json::array(), seams = nlohmann::json::array();
    for (size_t i = 0; i < inputs.size(); ++i) {
        nlohmann::json piece{{"file", inputs[i].file}};
        if (inputs[i].count > 1) piece["page"] = inputs[i].index + 1;
        if (layout.pieces[i].placed) {
            const cv::Matx33d m = to_picture(layout, looks, i);
            piece["matrix"] = {{m(0, 0), m(0, 1), m(0, 2)}, {m(1, 0), m(1, 1), m(1, 2)}, {m(2, 0), m(2, 1), m(2, 2)}};
        } else {
            piece["reason"] = layout.pieces[i].reason;
        }
        pieces.push_back(std::move(piece));
    }
    for (const Seam& seam : layout.seams) {
        nlohmann::json one{{"pieces", {seam.a, seam.b}},
                           {"files", {inputs[seam.a].file, inputs[seam.b].file}},
                           {"quality", rounded(seam.quality(), 0.001)},
                           {"agreement", rounded(seam.agreement, 0.001)},
                           {"off_px", rounded(mm_to_px(seam.off_mm, layout.dpi), 0.001)},
                           {"overlap_mm2", rounded(seam.area_mm2, 1)}};
        if (!seam.doubt.empty()) one["doubt"] = seam.doubt;
        seams.push_back(std::move(one));
    }
    const bool any = layout.placed() > 1;
    return {{"width_px", any ? layout.size.width : 0},
            {"height_px", any ? layout.size.height : 0},
            {"dpi", layout.dpi},
            {"pieces", std::move(pieces)},
            {"seams", std::move(seams)},
            {"warnings", layout.warnings}};
}

// Writes the finished file atomically. If the name is taken, a number is added to it.
Result<SavedFile> write_picture(const Raster& picture, const std::filesystem::path& out, Format format) {
    const std::filesystem::path folder = out.has_parent_path() ? out.parent_path() : ".";
    if (auto there = check_folder(folder); !there) return std::unexpected(there.error());
    return save_file(
        folder, [&](int attempt) { return numbered_name(out.stem().string(), attempt) + out.extension().string(); },
        [&](const std::filesystem::path& growing) -> Result<void> {
            const auto writer = new_document_writer(growing, format, {out.stem().string()});
            auto page = encode_page(picture, {}, format, 90);
            if (!page) return std::unexpected(page.error());
            if (auto done = writer->append(std::move(*page)); !done) return done;
            return writer->finish();
        });
}

// Returns the pages of the files, in order. A file that cannot be used is reported and sets `status`.
std::vector<PieceInput> pages_of(const std::vector<std::string>& files, int& status) {
    std::vector<PieceInput> pages;
    const auto open_files = std::make_shared<OpenFiles>();
    for (const std::string& file : files) {
        const auto opened = open_files->of(file);
        const std::optional<Error> wrong = opened ? (*opened)->missing_pages() : opened.error();
        if (wrong) {
            complain(*wrong);
            status = 1;
        }
        if (!opened) continue;
        const int count = (*opened)->count();
        for (int i = 0; i < count; ++i) pages.push_back({file, i, count, open_files});
    }
    return pages;
}

// Analyses the pages. Removes those that cannot be read from `pages`, so that both lists correspond.
std::vector<PieceLookPtr> looked_at(std::vector<PieceInput>& pages, int& status) {
    std::vector<PieceLookPtr> all(pages.size()), looks;
    std::mutex standard_error;
    cv::parallel_for_({0, static_cast<int>(pages.size())}, [&](const cv::Range& range) {
        for (int i = range.start; i < range.end; ++i) {
            const auto& input = pages[static_cast<size_t>(i)];
            const auto loaded = input.page();
            if (loaded) all[static_cast<size_t>(i)] = look_at_piece(input.name(), loaded->raster);
            const std::scoped_lock lock(standard_error);
            if (!loaded) {
                complain(loaded.error());
                status = 1;
                continue;
            }
            if (!loaded->damage.empty()) {
                complain({ErrorKind::BadInput, loaded->damage, {}});
                status = 1;
            }
            if (!loaded->resolution_known)
                fmt::print(stderr, "Note: {} has no resolution; {:.0f} dpi is assumed.\n", input.file, customary_dpi);
        }
    });
    std::vector<PieceInput> read;
    for (size_t i = 0; i < pages.size(); ++i) {
        if (!all[i]) continue;
        read.push_back(pages[i]);
        looks.push_back(all[i]);
    }
    pages = std::move(read);
    return looks;
}

Result<SavedFile> make_picture(const std::vector<PieceInput>& inputs, const std::vector<PieceLookPtr>& looks,
                               const Layout& layout, const std::filesystem::path& out, Format format) {
    const StitchSource source{[&](size_t i) -> Result<Raster> {
        auto loaded = inputs[i].page();
        if (!loaded) return std::unexpected(loaded.error());
        return std::move(loaded->raster);
    }};
    const auto picture = composed(looks, layout, source);
    if (!picture) return std::unexpected(picture.error());
    return write_picture(*picture, out, format);
}

}

int run_stitch(const std::vector<std::string>& files, const std::filesystem::path& out, bool free_scale) {
    const auto format = format_by_name(out);
    if (!format) {
        complain(format.error());
        return exit_status(format.error());
    }
    int status = 0;
    std::vector<PieceInput> inputs = pages_of(files, status);
    const std::vector<PieceLookPtr> looks = looked_at(inputs, status);
    const auto layout = find_layout(looks, {free_scale ? Scale::Free : Scale::Known});
    if (!layout) {
        complain(layout.error());
        return 1;
    }
    for (size_t i = 0; i < inputs.size(); ++i) {
        if (layout->pieces[i].placed) continue;
        status = 1;
        fmt::print(stderr, "{} is left out. {}\n", inputs[i].name(), layout->pieces[i].reason);
    }
    for (const std::string& warning : layout->warnings) fmt::print(stderr, "Note: {}\n", warning);
    nlohmann::json all_of_it = described(inputs, looks, *layout);
    if (layout->placed() > 1) {
        const auto written = make_picture(inputs, looks, *layout, out, *format);
        if (!written) {
            complain(written.error());
            return exit_status(written.error());
        }
        all_of_it["path"] = written->path.string();
    } else {
        fmt::print(stderr, "No two pieces fit together; nothing was saved.\n");
        status = 1;
    }
    print(all_of_it, 2);
    return status;
}

}
