// Blocks of a page as HTML that is also valid XHTML. Pure functions.
#pragma once

#include "core/output/flow.h"

#include <functional>

namespace yelvin {

// `source_of` returns the address of a picture; `heading_id` the id of a heading, which may be empty.
struct HtmlHow {
    std::function<std::string(const FlowPicture&)> source_of;
    std::function<std::string(const FlowBlock&)> heading_id;
    std::string page_language; // BCP 47; blocks in another language are marked
    int page = 1;
};
std::string html_blocks(const FlowPage& page, const HtmlHow& how);
std::string html_style(); // for a style element or a style sheet

}
