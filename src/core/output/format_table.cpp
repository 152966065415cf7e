#include "core/output/format_table.h"

#include "core/output/black_pictures.h"
#include "core/output/joined_writer.h"
#include "core/output/picture_writers.h"
#include "core/raster/colour_profile.h"
#include "core/raster/image_file.h"
#include "core/raster/pdf_pictures.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

Result<void> take(Result<std::string> bytes, EncodedPage& out) {
    if (!bytes) return std::unexpected(bytes.error());
    out.image = std::move(*bytes);
    return {};
}

Result<void> encode_for_pdf(const Raster& page, const Ticket::Make& make, EncodedPage& out) {
    if (make.searchable && !out.text.layer.lines.empty()) out.pictures = pictures_on(out.text, page);
    out.coding = page.ink == Ink::Black ? ImageCoding::G4 : ImageCoding::Jpeg;
    return take(page.ink == Ink::Black ? encode_g4(page) : encode_jpeg(page, make.jpeg_quality), out);
}
Result<void> encode_as_jpeg(const Raster& page, const Ticket::Make& make, EncodedPage& out) {
    auto taken = take(encode_jpeg(page, make.jpeg_quality), out);
    if (taken) out.image = jpeg_with_profile(std::move(out.image), page.ink);
    return taken;
}
Result<void> encode_as_png(const Raster& page, const Ticket::Make&, EncodedPage& out) {
    auto taken = take(encode_png(page), out);
    if (taken) out.image = png_with_profile(std::move(out.image), page.ink);
    return taken;
}
Result<void> encode_as_tiff(const Raster& page, const Ticket::Make& make, EncodedPage& out) {
    return take(encode_tiff(page, make.tiff_coding, make.jpeg_quality), out);
}
Result<void> encode_as_avif(const Raster& page, const Ticket::Make& make, EncodedPage& out) {
    return take(encode_avif(page, make.jpeg_quality), out);
}
Result<void> encode_as_heic(const Raster& page, const Ticket::Make& make, EncodedPage& out) {
    return take(encode_heic(page, make.jpeg_quality), out);
}
Result<void> encode_as_webp(const Raster& page, const Ticket::Make& make, EncodedPage& out) {
    return take(encode_webp(page, make.jpeg_quality), out);
}
Result<void> encode_as_bmp(const Raster& page, const Ticket::Make&, EncodedPage& out) {
    return take(encode_bmp(page), out);
}

Result<void> words_alone(const Raster&, const Ticket::Make&, EncodedPage&) { return {}; }
Result<void> set_as_flow(const Raster& page, const Ticket::Make& make, EncodedPage& out) {
    out.flow = flow_of(out.text, page, make.jpeg_quality);
    return {};
}
Result<void> set_for_office(const Raster& page, const Ticket::Make& make, EncodedPage& out) {
    out.flow = flow_of(out.text, page, make.jpeg_quality, make.as_it_looks ? FlowAs::LinesInPlace : FlowAs::Paragraphs);
    return {};
}
Result<void> set_as_chapter(const Raster& page, const Ticket::Make& make, EncodedPage& out) {
    constexpr double cover_height = 1000;
    out.flow = flow_of(out.text, page, make.jpeg_quality);
    Raster small = page;
    const double by = std::min(1.0, cover_height / page.height_px());
    small.pixels = scaled(page.pixels, by, by, cv::INTER_AREA);
    if (small.ink == Ink::Black) small.ink = Ink::Grey;
    auto cover = encode_jpeg(small, 75);
    if (!cover) return std::unexpected(cover.error());
    out.cover = std::move(*cover);
    return {};
}

EncodedPage described(const Raster& page, PageText text, const Ticket::Make& make) {
    EncodedPage out;
    out.width_px = page.width_px();
    out.height_px = page.height_px();
    out.dpi = page.dpi;
    out.ink = page.ink;
    out.text = std::move(text);
    out.make = make;
    return out;
}

constexpr FormatEntry format_entries[] = {
    {Format::Pdf, encode_for_pdf, new_pdf_writer, pdf_opens},
    {Format::PdfA, encode_for_pdf, new_pdf_a_writer, pdf_opens},
    // Callers choose a picture format by the page; otherwise Auto is a PDF.
    {Format::Auto, encode_for_pdf, new_pdf_writer, pdf_opens},
    {Format::Jpeg, encode_as_jpeg, new_jpeg_writer, jpeg_opens},
    {Format::Png, encode_as_png, new_png_writer, png_opens},
    {Format::Tiff, encode_as_tiff, new_tiff_writer, tiff_opens},
    {Format::Webp, encode_as_webp, new_webp_writer, webp_opens},
    {Format::Bmp, encode_as_bmp, new_bmp_writer, bmp_opens},
    {Format::Avif, encode_as_avif, new_avif_writer, heif_opens},
    {Format::Heic, encode_as_heic, new_heic_writer, heif_opens},
    {Format::Text, words_alone, new_text_writer, text_opens},
    {Format::Docx, set_for_office, new_docx_writer, docx_opens},
    {Format::Odt, set_for_office, new_odt_writer, zip_with_kind_opens},
    {Format::Html, set_as_flow, new_html_writer, html_opens},
    {Format::Epub, set_as_chapter, new_epub_writer, zip_with_kind_opens},
    {Format::Csv, words_alone, new_csv_writer, text_opens},
    {Format::Hocr, words_alone, new_hocr_writer, html_opens},
    {Format::Alto, words_alone, new_alto_writer, alto_opens},
};
static_assert(has_each(format_entries, &FormatEntry::format), "every format needs its encoder, writer and check");

}

const FormatEntry& format_entry(Format format) {
    return *std::ranges::find(format_entries, format, &FormatEntry::format);
}

Result<EncodedPage> encode_page(const Raster& page, PageText text, const Ticket::Make& make) {
    EncodedPage out = described(page, std::move(text), make);
    if (auto done = format_entry(make.format).encode(page, make, out); !done) return std::unexpected(done.error());
    return out;
}

Result<EncodedPage> with_pictures(const Raster& page, PageText text, const Ticket::Make& make, std::string pictures) {
    EncodedPage out = described(page, std::move(text), make);
    if (make.searchable && !out.text.layer.lines.empty()) out.pictures = pictures_on(out.text, page);
    out.coding = ImageCoding::Pictures;
    out.image = std::move(pictures);
    return out;
}

bool takes_pictures(Format format, const std::string& pictures) {
    return is_pdf(format) && !pictures.empty() && (format != Format::PdfA || may_be_archived(pictures));
}

Result<EncodedPage> encode_page(const Raster& page, const TextLayer& text, Format format, int jpeg_quality) {
    Ticket::Make make;
    make.format = format;
    make.jpeg_quality = jpeg_quality;
    return encode_page(page, as_it_was_read(text), make);
}

double picture_bytes(const EncodedPage& page) {
    return static_cast<double>(page.coding == ImageCoding::G4
                                   ? bytes_of_black_picture(page.image, {page.width_px, page.height_px})
                                   : page.image.size());
}

std::unique_ptr<DocumentWriter> new_document_writer(const std::filesystem::path& file, Format format,
                                                    const DocumentInfo& info) {
    return format_entry(format).writer(file, info);
}

}
