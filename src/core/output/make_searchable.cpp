#include "core/output/make_searchable.h"

#include "core/output/add_to_pdf.h"
#include "core/output/pdf_changes.h"
#include "core/output/pdf_font.h"
#include "core/output/pdf_page.h"
#include "core/raster/image_file.h"
#include "core/text/pdf_text.h"

#include <fmt/format.h>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageObjectHelper.hh>

#include <algorithm>
#include <map>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

using Handle = QPDFObjectHandle;

constexpr const char* otherwise = "text cannot be added to it";
constexpr double compared_at_dpi = 150;

struct ReadPage {
    TextLayer layer;
    double dpi = 300;
};

// Returns the recognised pages that had no text before, by their index.
Result<std::map<size_t, ReadPage>> read_pages(const fs::path& pdf,
                                              const std::function<Result<TextLayer>(const Raster& page)>& read,
                                              const std::stop_token& stop) {
    const auto own = texts_in_pdf(pdf, compared_at_dpi, stop);
    if (!own) return std::unexpected(own.error());
    std::map<size_t, ReadPage> pages;
    const auto opened = PageFile::open(pdf);
    if (!opened) return std::unexpected(opened.error());
    for (size_t i = 0; i < own->size(); ++i) {
        if (stop.stop_requested()) return stopped();
        if ((*own)[i]) continue;
        const auto page = opened->page(static_cast<int>(i));
        if (!page) return std::unexpected(page.error());
        auto layer = read(page->raster);
        if (!layer) return std::unexpected(layer.error());
        if (!layer->lines.empty()) pages.emplace(i, ReadPage{std::move(*layer), page->raster.dpi});
    }
    return pages;
}

// The map from the page as it is shown, with its lower left corner at 0, to the page's own coordinates (ISO 32000-2,
// 8.3 and 7.7.3.3).
std::string as_it_lies(int turned, const Handle::Rectangle& box) {
    const double w = box.urx - box.llx, h = box.ury - box.lly;
    const auto matrix = [&](const char* turn, double x, double y) {
        return fmt::format("{} {:.4f} {:.4f} cm\n", turn, box.llx + x, box.lly + y);
    };
    switch (turned) {
    case 90:
        return matrix("0 1 -1 0", w, 0);
    case 180:
        return matrix("-1 0 0 -1", w, h);
    case 270:
        return matrix("0 -1 1 0", 0, h);
    default:
        return matrix("1 0 0 1", 0, 0);
    }
}

int turn_of(QPDFPageObjectHelper& page) {
    Handle turned = page.getAttribute("/Rotate", false);
    return turned.isInteger() ? ((turned.getIntValueAsInt() % 360) + 360) % 360 : 0;
}

// Returns a name that is not used by the page's fonts.
std::string free_name(Handle fonts) {
    std::string name = "/YelvinText";
    for (int i = 2; fonts.hasKey(name); ++i) name = fmt::format("/YelvinText{}", i);
    return name;
}

void put_words(QPDF& pdf, Handle sheet, const ReadPage& read, GlyphlessCodes& codes, const Handle& font) {
    QPDFPageObjectHelper page(sheet);
    Handle resources = page.getAttribute("/Resources", true); // its own from now on
    if (!resources.isDictionary()) resources = Handle::newDictionary();
    Handle fonts = resources.getKey("/Font");
    fonts = fonts.isDictionary() ? fonts.shallowCopy() : Handle::newDictionary();
    const std::string name = free_name(fonts);
    fonts.replaceKey(name, font);
    resources.replaceKey("/Font", fonts);
    sheet.replaceKey("/Resources", resources);
    const int turned = turn_of(page);
    const auto box = page.getCropBox().getArrayAsRectangle();
    double width = box.urx - box.llx, height = box.ury - box.lly;
    if (turned % 180 != 0) std::swap(width, height);
    // The page's own content may change the transformation and not restore it.
    page.addPageContents(Handle::newStream(&pdf, "q\n"), true);
    page.addPageContents(Handle::newStream(&pdf, "\nQ\nq\n" + as_it_lies(turned, box) +
                                                     words_content(width, height, read.dpi, read.layer, codes, name) +
                                                     "Q\n"),
                         false);
    page.coalesceContentStreams();
}

Result<void> may_be_changed(const fs::path& pdf, QPDF& whole, const PdfState& state) {
    if (whole.isEncrypted() && !whole.ownerPasswordMatched() && !whole.allowModifyOther())
        return fail(ErrorKind::Encrypted,
                    fmt::format("{} is protected against changes and was not changed.", pdf.string()));
    if (state.is_signed)
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is digitally signed; a change would break the signature, so nothing was changed.",
                                pdf.string()));
    return {};
}

bool has_words(const fs::path& pdf, const std::map<size_t, ReadPage>& pages) {
    const auto own = texts_in_pdf(pdf, compared_at_dpi);
    return own &&
           std::ranges::any_of(pages, [&](const auto& each) { return each.first < own->size() && (*own)[each.first]; });
}

}

Result<int> make_searchable(const fs::path& pdf, const std::function<Result<TextLayer>(const Raster& page)>& read,
                            const std::stop_token& stop, FileSteps& steps) {
    std::error_code failure;
    const fs::path file = fs::canonical(pdf, failure); // what a link leads to is what changes
    const FileTrace before = trace_of(file);
    const auto state = look_into_pdf(failure ? pdf : file, {});
    if (!state) return std::unexpected(state.error());
    auto whole = opened_pdf(file, {}, otherwise);
    if (!whole) return std::unexpected(whole.error());
    if (auto may = may_be_changed(pdf, **whole, *state); !may) return std::unexpected(may.error());
    const auto pages = read_pages(file, read, stop);
    if (!pages) return std::unexpected(pages.error());
    if (pages->empty()) return 0;
    try {
        GlyphlessCodes codes;
        const Handle font = (*whole)->makeIndirectObject(Handle::newDictionary());
        const auto sheets = (*whole)->getAllPages();
        for (const auto& [number, page] : *pages) put_words(**whole, sheets.at(number), page, codes, font);
        fill_font(**whole, font, codes);
        const auto opens_again = [&](const fs::path& growing) {
            const auto again = look_into_pdf(growing, {});
            return again && again->pages == state->pages && has_words(growing, *pages);
        };
        if (auto replaced = replace_pdf(file, **whole, before, opens_again, steps); !replaced)
            return std::unexpected(replaced.error());
    } catch (const std::exception& trouble) {
        return cannot_use_pdf(pdf, trouble.what(), otherwise);
    }
    return static_cast<int>(pages->size());
}

}
