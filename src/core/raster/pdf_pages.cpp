#include "core/raster/pdf_pages.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>
#include <poppler-document.h>
#include <poppler-global.h>
#include <poppler-page-renderer.h>
#include <poppler-page.h>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>
#include <qpdf/QPDFWriter.hh>

namespace yelvin {

namespace {

Result<std::unique_ptr<poppler::document>> open(const std::filesystem::path& file, const std::string& bytes) {
    poppler::set_debug_error_function([](const std::string&, void*) {}, nullptr);
    std::unique_ptr<poppler::document> document{
        poppler::document::load_from_raw_data(bytes.data(), static_cast<int>(bytes.size()))};
    const std::string name = file.filename().string();
    if (!document) {
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is damaged or cut off and cannot be read as PDF; get it again.", name));
    }
    if (document->is_locked()) {
        return fail(ErrorKind::Encrypted,
                    fmt::format("{} is locked with a password; save a copy without one and add that.", name));
    }
    if (document->pages() < 1) return fail(ErrorKind::BadInput, fmt::format("{} has no pages; leave it out.", name));
    return document;
}

// The resolution of the one picture that fills the page; nothing where the page is anything else.
std::optional<double> picture_dpi(QPDFPageObjectHelper page) {
    const auto images = page.getImages();
    if (images.size() != 1) return std::nullopt;
    QPDFObjectHandle image = images.begin()->second;
    const double width = image.getDict().getKey("/Width").getNumericValue();
    const double height = image.getDict().getKey("/Height").getNumericValue();
    const auto box = page.getMediaBox().getArrayAsRectangle();
    const double across = width / ((box.urx - box.llx) / points_per_inch);
    const double down = height / ((box.ury - box.lly) / points_per_inch);
    const bool fills = std::abs(across - down) < 0.02 * across && across >= 60 && across <= 1300;
    return fills ? std::optional(std::round(across)) : std::nullopt;
}

double scan_dpi(const std::string& bytes, int index) {
    try {
        QPDF pdf;
        pdf.setSuppressWarnings(true);
        pdf.processMemoryFile("pdf", bytes.data(), bytes.size());
        auto pages = QPDFPageDocumentHelper(pdf).getAllPages();
        return picture_dpi(pages.at(static_cast<size_t>(index))).value_or(customary_dpi);
    } catch (const std::exception&) {
        return customary_dpi; // what poppler can draw and QPDF cannot parse is still drawn
    }
}

// A drawing has three channels whatever is on it; without any colour it is kept as grey.
Raster least_channels(cv::Mat bgr, double dpi) {
    std::vector<cv::Mat> planes;
    cv::split(bgr, planes);
    if (cv::norm(planes[0], planes[1], cv::NORM_INF) == 0 && cv::norm(planes[1], planes[2], cv::NORM_INF) == 0) {
        return {planes[0], dpi, Ink::Grey};
    }
    return {std::move(bgr), dpi, Ink::Colour};
}

}

std::optional<std::string> drawing_of_pdf_page(const std::string& bytes, int index) {
    try {
        QPDF pdf;
        pdf.setSuppressWarnings(true);
        pdf.processMemoryFile("pdf", bytes.data(), bytes.size());
        auto pages = QPDFPageDocumentHelper(pdf).getAllPages();
        QPDFPageObjectHelper page = pages.at(static_cast<size_t>(index));
        // What hangs together with the rest of its file would be lost: fields, comments, layers.
        QPDFObjectHandle turned = page.getAttribute("/Rotate", false);
        const bool has_more = page.getObjectHandle().hasKey("/Annots") || pdf.getRoot().hasKey("/OCProperties") ||
                              (turned.isInteger() && turned.getIntValue() % 360 != 0);
        if (pdf.isEncrypted() || pdf.anyWarnings() || has_more || picture_dpi(page)) return std::nullopt;
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

Result<int> count_pdf_pages(const std::filesystem::path& file, const std::string& bytes) {
    const auto document = open(file, bytes);
    if (!document) return std::unexpected(document.error());
    return (*document)->pages();
}

Result<LoadedPage> read_pdf_page(const std::filesystem::path& file, const std::string& bytes, int index, int most_px) {
    const auto document = open(file, bytes);
    if (!document) return std::unexpected(document.error());
    const auto unreadable = [&] {
        return fail(ErrorKind::BadInput,
                    fmt::format("Page {} of {} cannot be drawn; leave it out or get the file again.", index + 1,
                                file.filename().string()));
    };
    const std::unique_ptr<poppler::page> page{(*document)->create_page(index)};
    if (!page) return unreadable();
    const auto size = page->page_rect();
    const double dpi =
        most_px > 0 ? points_per_inch * most_px / std::max({1.0, size.width(), size.height()}) : scan_dpi(bytes, index);
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
    return LoadedPage{least_channels(drawn.clone(), dpi), true};
}

}
