#include "core/ticket/ticket.h"

#include <array>

namespace yelvin {

namespace {
struct FormatNames {
    std::string_view key, words, extension;
};
constexpr std::array<FormatNames, 4> formats{
    {{"pdf", "PDF", "pdf"}, {"jpeg", "JPEG", "jpg"}, {"png", "PNG", "png"}, {"tiff", "TIFF", "tif"}}};
}

std::string_view format_key(Format format) { return formats[static_cast<size_t>(format)].key; }
std::string_view format_words(Format format) { return formats[static_cast<size_t>(format)].words; }
std::string_view format_extension(Format format) { return formats[static_cast<size_t>(format)].extension; }
bool holds_many_pages(Format format) { return format == Format::Pdf || format == Format::Tiff; }

}
