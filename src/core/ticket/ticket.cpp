#include "core/ticket/ticket.h"

#include <algorithm>

namespace yelvin {

namespace {

enum class Holds { OnePage, ManyPages };
enum class TextNeed { None, Optional, Required }; // whether files contain no text, can contain text, or consist of it

struct FormatFacts {
    Format format;
    std::string_view key, words, extension, mime;
    Holds holds;
    TextNeed takes;
};
constexpr FormatFacts format_table[] = {
    {Format::Pdf, "pdf", "PDF", "pdf", "application/pdf", Holds::ManyPages, TextNeed::Optional},
    {Format::PdfA, "pdf-a", "archive PDF", "pdf", "application/pdf", Holds::ManyPages, TextNeed::Optional},
    {Format::Jpeg, "jpeg", "JPEG", "jpg", "image/jpeg", Holds::OnePage, TextNeed::None},
    {Format::Png, "png", "PNG", "png", "image/png", Holds::OnePage, TextNeed::None},
    {Format::Tiff, "tiff", "TIFF", "tif", "image/tiff", Holds::ManyPages, TextNeed::None},
    {Format::Webp, "webp", "WebP", "webp", "image/webp", Holds::OnePage, TextNeed::None},
    {Format::Bmp, "bmp", "BMP", "bmp", "image/bmp", Holds::OnePage, TextNeed::None},
    {Format::Avif, "avif", "AVIF", "avif", "image/avif", Holds::OnePage, TextNeed::None},
    {Format::Heic, "heic", "HEIC", "heic", "image/heic", Holds::OnePage, TextNeed::None},
    {Format::Text, "text", "text file", "txt", "text/plain", Holds::ManyPages, TextNeed::Required},
    {Format::Docx, "docx", "DOCX", "docx", "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
     Holds::ManyPages, TextNeed::Required},
    {Format::Odt, "odt", "ODT", "odt", "application/vnd.oasis.opendocument.text", Holds::ManyPages, TextNeed::Required},
    {Format::Html, "html", "web page", "html", "text/html", Holds::ManyPages, TextNeed::Required},
    {Format::Epub, "epub", "e-book", "epub", "application/epub+zip", Holds::ManyPages, TextNeed::Required},
    {Format::Csv, "csv", "CSV of its tables", "csv", "text/csv", Holds::ManyPages, TextNeed::Required},
    {Format::Hocr, "hocr", "hOCR file", "hocr", "text/html", Holds::ManyPages, TextNeed::Required},
    {Format::Alto, "alto", "ALTO file", "xml", "application/xml", Holds::ManyPages, TextNeed::Required},
    {Format::Auto, "auto", "PDF or JPEG", "pdf", "application/pdf", Holds::ManyPages, TextNeed::Optional},
};
static_assert(has_each(format_table, &FormatFacts::format), "every format needs its facts");

const FormatFacts& facts(Format format) { return *std::ranges::find(format_table, format, &FormatFacts::format); }

}

std::string_view format_key(Format format) { return facts(format).key; }
std::string_view format_words(Format format) { return facts(format).words; }
std::string_view format_extension(Format format) { return facts(format).extension; }
std::string_view format_mime(Format format) { return facts(format).mime; }
bool holds_many_pages(Format format) { return facts(format).holds == Holds::ManyPages; }
bool takes_words(Format format) { return facts(format).takes != TextNeed::None; }
bool is_pdf(Format format) { return format == Format::Pdf || format == Format::PdfA; }
bool takes_words(const Ticket::Make& make) {
    const bool pdf_without = is_pdf(make.format) && !make.searchable && !make.bookmarks;
    return takes_words(make.format) && !pdf_without;
}
bool is_made_of_words(Format format) { return facts(format).takes == TextNeed::Required; }

std::optional<Format> format_of_key(std::string_view key) {
    const auto* at = std::ranges::find(format_table, key, &FormatFacts::key);
    return at == std::end(format_table) ? std::nullopt : std::optional(at->format);
}

std::vector<Format> all_formats() {
    std::vector<Format> formats;
    for (const FormatFacts& each : format_table) formats.push_back(each.format);
    return formats;
}

std::vector<std::string> languages_for(const Ticket& ticket, const std::vector<std::string>& wished) {
    return wished.empty() && is_made_of_words(ticket.make.format) ? std::vector<std::string>{"auto"} : wished;
}

bool adds_to_file(const Ticket& ticket) {
    const Ticket::Make& make = ticket.make;
    return ticket.save.grows != Ticket::Save::Grows::No && make.per == Per::Document &&
           (is_pdf(make.format) || make.format == Format::Auto);
}

int resolution_for(const Ticket::How& how, bool photograph, bool small) {
    constexpr int of_text = 300, of_small_photographs = 600;
    if (!how.dpi_auto) return how.dpi;
    return photograph && small ? of_small_photographs : of_text;
}

Ticket::Make make_for(const Ticket::Make& make, bool photographs) {
    Ticket::Make made = make;
    if (make.format != Format::Auto) return made;
    made.format = photographs ? Format::Jpeg : Format::Pdf;
    if (photographs) made.per = Per::Page;
    return made;
}

}
