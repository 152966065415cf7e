// Blocks of a page as HTML that is XHTML too.
#pragma once

#include "core/output/flow.h"

#include <functional>

namespace yelvin {

// `source_of` says by which address a picture is shown; `heading_id` what a heading is known by, which may be empty.
struct HtmlHow {
    std::function<std::string(const FlowPicture&)> source_of;
    std::function<std::string(const FlowBlock&)> heading_id;
    std::string page_language; // by BCP 47; what is in another one says so
    int page = 1;
};
std::string html_blocks(const FlowPage& page, const HtmlHow& how);
std::string html_style(); // for a <style> or a style sheet

}
