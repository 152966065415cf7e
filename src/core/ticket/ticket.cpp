#include "core/ticket/ticket.h"

#include <array>

namespace yelvin {

namespace {
struct FormatNames {
    std::string_view key, words, extension;
};
constexpr std::array<FormatNames, 5> format_names{{{"pdf", "PDF", "pdf"},
                                                   {"jpeg", "JPEG", "jpg"},
                                                   {"png", "PNG", "png"},
                                                   {"tiff", "TIFF", "tif"},
                                                   {"auto", "PDF or JPEG", "pdf"}}};
}

std::string_view format_key(Format format) { return format_names[static_cast<size_t>(format)].key; }
std::string_view format_words(Format format) { return format_names[static_cast<size_t>(format)].words; }
std::string_view format_extension(Format format) { return format_names[static_cast<size_t>(format)].extension; }
bool holds_many_pages(Format format) { return format != Format::Jpeg && format != Format::Png; }

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
