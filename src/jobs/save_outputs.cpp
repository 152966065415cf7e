#include "jobs/save_outputs.h"

#include "core/naming/file_name.h"
#include "core/output/stamp.h"

#include <fmt/format.h>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

// Resolves symbolic links in the part of the path that exists, so that a link inside `base` cannot lead out of it.
bool is_below(const fs::path& folder, const fs::path& base) {
    std::error_code failure;
    const fs::path inner = fs::weakly_canonical(folder, failure), outer = fs::weakly_canonical(base, failure);
    if (failure) return false;
    return std::mismatch(outer.begin(), outer.end(), inner.begin(), inner.end()).first == outer.end();
}

Result<fs::path> folder_of(const FurtherFile& also, const SaveJob& job) {
    if (also.folder.empty()) return job.folder;
    const fs::path named = expanded_folder(also.folder);
    if (named.is_absolute()) {
        if (job.absolute_folders) return named;
        return fail(ErrorKind::BadInput,
                    fmt::format("The ticket saves a further file in {}, outside of {}; give that folder with --set "
                                "make.also=…, or use one without a leading slash in the ticket.",
                                also.folder, job.folder.string()));
    }
    const fs::path folder = (job.folder / named).lexically_normal();
    if (is_below(folder, job.folder)) return folder;
    return fail(
        ErrorKind::BadInput,
        fmt::format("The ticket's folder “{}” for a further file leads out of {}; use a folder without “..” in it.",
                    also.folder, job.folder.string()));
}

}

Result<std::vector<Output>> outputs_of(const SaveJob& job) {
    std::vector<Output> outputs;
    outputs.push_back({job.ticket.make, job.folder, true, false, std::nullopt, job.most_dpi, {}, nullptr, {}});
    for (const FurtherFile& also : job.ticket.make.also) {
        const auto folder = folder_of(also, job);
        if (!folder) return std::unexpected(folder.error());
        Ticket::Make make = job.ticket.make;
        make.format = also.format;
        const bool is_made = *folder != job.folder && !expanded_folder(also.folder).is_absolute();
        outputs.push_back({make, *folder, *folder == job.folder, is_made, also.ink, also.dpi, {}, nullptr, {}});
    }
    return outputs;
}

namespace {

EncodedPage drawn(const FinishedPage& page, const Ticket::Make& make) {
    EncodedPage out;
    out.width_px = page.raster.width_px();
    out.height_px = page.raster.height_px();
    out.dpi = page.raster.dpi;
    out.ink = page.raster.ink;
    out.make = make;
    out.drawing = page.drawing;
    return out;
}

}

Result<std::vector<EncodedPage>> encoded_for(const std::vector<Output>& outputs, const FinishedPage& page,
                                             const PageText& text, const std::string& stamp,
                                             const std::stop_token& stop) {
    std::vector<EncodedPage> all;
    for (const Output& output : outputs) {
        if (stop.stop_requested()) return stopped();
        const bool too_fine = output.most_dpi > 0 && page.raster.dpi > output.most_dpi;
        if (output.make.format == Format::Pdf && !output.ink && !too_fine && !page.drawing.empty()) {
            all.push_back(drawn(page, output.make));
            all.back().stamp = stamp;
            continue;
        }
        Raster brought = too_fine ? at_resolution(page.raster, output.most_dpi) : page.raster;
        if (output.ink) brought = with_ink(brought, *output.ink);
        PageText own_text;
        if (takes_words(output.make)) own_text = too_fine ? scaled(text, output.most_dpi / page.raster.dpi) : text;
        const bool in_pixels = !is_pdf(output.make.format) && !is_made_of_words(output.make.format);
        if (in_pixels) draw_stamp(brought, stamp, output.make.stamp);
        // A quality below the default asks for a smaller file, so the pictures are encoded again. Black pages have no
        // quality.
        const bool smaller = page.raster.ink != Ink::Black && output.make.jpeg_quality < Ticket::Make{}.jpeg_quality;
        const bool as_they_came =
            !output.ink && !too_fine && !smaller && takes_pictures(output.make.format, page.pictures);
        auto done = as_they_came ? with_pictures(brought, std::move(own_text), output.make, page.pictures)
                                 : encode_page(brought, std::move(own_text), output.make);
        if (!done) return std::unexpected(done.error());
        if (is_pdf(output.make.format)) done->stamp = stamp;
        all.push_back(std::move(*done));
    }
    return all;
}

}
