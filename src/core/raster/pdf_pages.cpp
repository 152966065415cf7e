#include "core/raster/pdf_pages.h"

#include "core/raster/pdf_pictures.h"
#include "core/raster/pdf_scan.h"
#include "core/raster/png_jpeg.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>
#include <poppler-document.h>
#include <poppler-global.h>
#include <poppler-page-renderer.h>
#include <poppler-page.h>
#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace yelvin {

struct PdfPages::Inside {
    std::filesystem::path file;
    std::unique_ptr<poppler::document> document;
    // The file as QPDF parses it. Null if QPDF cannot parse it although poppler can draw it.
    std::unique_ptr<QPDF> structure;
    std::vector<QPDFPageObjectHelper> pages;
};

PdfPages::PdfPages(std::unique_ptr<Inside> inside) : inside_(std::move(inside)) {}
PdfPages::~PdfPages() = default;
poppler::document& PdfPages::document() const { return *inside_->document; }
int PdfPages::count() const { return inside_->document->pages(); }

Result<std::unique_ptr<PdfPages>> PdfPages::open(const std::filesystem::path& file) {
    poppler::set_debug_error_function([](const std::string&, void*) {}, nullptr);
    auto inside = std::make_unique<Inside>();
    inside->file = file;
    inside->document.reset(poppler::document::load_from_file(file.string()));
    const std::string name = file.filename().string();
    if (!inside->document) {
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is damaged or incomplete and cannot be opened as PDF; get it again.", name));
    }
    if (inside->document->is_locked()) {
        return fail(ErrorKind::Encrypted, fmt::format("{} is protected by a password; add a copy without one.", name));
    }
    if (inside->document->pages() < 1)
        return fail(ErrorKind::BadInput, fmt::format("{} has no pages; leave it out.", name));
    try {
        inside->structure = std::make_unique<QPDF>();
        inside->structure->setSuppressWarnings(true);
        inside->structure->processFile(file.c_str());
        inside->pages = QPDFPageDocumentHelper(*inside->structure).getAllPages();
    } catch (const std::exception&) {
        inside->structure.reset();
        inside->pages.clear();
    }
    return std::unique_ptr<PdfPages>(new PdfPages(std::move(inside)));
}

namespace {

// Whether a picture of the page lost a part: a JPEG that ends early or cannot be decoded, or data that cannot be
// decompressed. The other codings (CCITT, JBIG2, JPEG 2000) are not checked.
bool is_picture_damaged(QPDFObjectHandle image) {
    QPDFObjectHandle filter = image.getDict().getKey("/Filter");
    if (filter.isArray() && filter.getArrayNItems() == 1) filter = filter.getArrayItem(0);
    if (!filter.isName()) return false;
    try {
        if (filter.getName() == "/DCTDecode") {
            const auto bytes = image.getRawStreamData();
            return !is_whole_jpeg({reinterpret_cast<const char*>(bytes->getBuffer()), bytes->getSize()});
        }
        if (filter.getName() == "/FlateDecode") return image.getStreamData(qpdf_dl_generalized)->getSize() == 0;
    } catch (const std::exception&) {
        return true;
    }
    return false;
}

bool has_damaged_picture(QPDFPageObjectHelper page) {
    bool damaged = false;
    page.forEachImage(true, [&](QPDFObjectHandle& image, QPDFObjectHandle&, const std::string&) {
        damaged = damaged || is_picture_damaged(image);
    });
    return damaged;
}

// A rendered page always has three channels. If it has no colours, it is converted to grey.
Raster least_channels(Raster page) {
    if (page.ink != Ink::Colour) return page;
    std::vector<cv::Mat> planes;
    cv::split(page.pixels, planes);
    if (cv::norm(planes[0], planes[1], cv::NORM_INF) == 0 && cv::norm(planes[1], planes[2], cv::NORM_INF) == 0)
        return {planes[0], page.dpi, Ink::Grey};
    return page;
}

// Whether a page contains only pictures, even if their pixels cannot be extracted.
bool is_a_picture(const PdfLook& look) {
    return look.is_scan || (look.picture_dpi && look.marks.letters == 0 && look.marks.paths == 0);
}

// Returns the resolution for rendering a page. A picture is rendered at its own resolution. Text and lines are rendered
// sharply enough for recognition and printing, whatever the resolution of a picture behind them.
double drawing_dpi(const PdfLook& look) {
    constexpr double finest_dpi = 600; // A higher resolution makes a page with type larger and no sharper.
    if (!look.picture_dpi) return customary_dpi;
    if (is_a_picture(look)) return *look.picture_dpi;
    return std::clamp(*look.picture_dpi, customary_dpi, finest_dpi);
}

LoadedPage with_damage(Raster raster, bool is_damaged, int index, const std::string& file) {
    LoadedPage loaded{std::move(raster), true, {}};
    if (is_damaged)
        loaded.damage =
            fmt::format("A picture on page {} of {} is damaged, so part of the page is missing; get the file again.",
                        index + 1, file);
    return loaded;
}

}

std::optional<std::string> PdfPages::drawing(int index) {
    try {
        if (!inside_->structure) return std::nullopt;
        QPDF& pdf = *inside_->structure;
        QPDFPageObjectHelper page = inside_->pages.at(static_cast<size_t>(index));
        // Form fields, comments and layers refer to the rest of the file and would be lost.
        QPDFObjectHandle turned = page.getAttribute("/Rotate", false);
        const bool has_more = page.getObjectHandle().hasKey("/Annots") || pdf.getRoot().hasKey("/OCProperties") ||
                              (turned.isInteger() && turned.getIntValue() % 360 != 0);
        if (pdf.isEncrypted() || pdf.anyWarnings() || has_more || is_a_picture(look_at_pdf_page(page)))
            return std::nullopt;
        QPDF alone;
        alone.emptyPDF();
        alone.addPage(page.getObjectHandle(), false);
        QPDFWriter writer(alone);
        writer.setOutputMemory();
        writer.setStreamDataMode(qpdf_s_preserve);
        writer.write();
        const std::unique_ptr<Buffer> buffer(writer.getBuffer());
        return std::string(reinterpret_cast<const char*>(buffer->getBuffer()), buffer->getSize());
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

std::optional<std::string> PdfPages::pictures(int index) {
    try {
        if (!inside_->structure) return std::nullopt;
        const PdfLook look = look_at_pdf_page(inside_->pages.at(static_cast<size_t>(index)));
        return look.is_scan ? std::optional(pictures_alone(look)) : std::nullopt;
    } catch (const std::exception&) {
        return std::nullopt; // The caller then encodes the pixels.
    }
}

Result<LoadedPage> PdfPages::page(int index, int most_px) {
    const std::string name = inside_->file.filename().string();
    const auto unreadable = [&] {
        return fail(ErrorKind::BadInput,
                    fmt::format("Page {} of {} cannot be shown; leave it out or get the file again.", index + 1, name));
    };
    const std::unique_ptr<poppler::page> page{inside_->document->create_page(index)};
    if (!page) return unreadable();
    double dpi = customary_dpi;
    bool damaged = false;
    if (most_px == 0 && static_cast<size_t>(index) < inside_->pages.size()) {
        try {
            const QPDFPageObjectHelper& structure = inside_->pages[static_cast<size_t>(index)];
            const PdfLook look = look_at_pdf_page(structure);
            dpi = drawing_dpi(look);
            damaged = has_damaged_picture(structure);
            if (auto pixels = damaged ? std::nullopt : scan_of(look))
                return with_damage(least_channels(std::move(*pixels)), false, index, name);
        } catch (const std::exception&) {
            damaged = true; // Poppler can draw some pages that QPDF cannot parse.
        }
    }
    const auto size = page->page_rect();
    if (most_px > 0) dpi = points_per_inch * most_px / std::max({1.0, size.width(), size.height()});
    if (px_to_pt(1, dpi) <= 0 || size.width() < 1 || size.height() < 1 ||
        size.width() * size.height() * dpi * dpi / (points_per_inch * points_per_inch) > 4e8) {
        return unreadable();
    }
    poppler::page_renderer renderer;
    renderer.set_image_format(poppler::image::format_bgr24);
    renderer.set_render_hint(poppler::page_renderer::antialiasing);
    renderer.set_render_hint(poppler::page_renderer::text_antialiasing);
    poppler::image image = renderer.render_page(page.get(), dpi, dpi);
    if (!image.is_valid()) return unreadable();
    const cv::Mat drawn(image.height(), image.width(), CV_8UC3, image.data(),
                        static_cast<size_t>(image.bytes_per_row()));
    return with_damage(least_channels({drawn.clone(), dpi, Ink::Colour}), damaged, index, name);
}

}
