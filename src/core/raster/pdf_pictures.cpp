#include "core/raster/pdf_pictures.h"

#include <fmt/format.h>
#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include <algorithm>
#include <array>
#include <memory>
#include <set>

namespace yelvin {

namespace {

// The keys that determine how a picture looks (ISO 32000-1, table 89). All others concern the file that it came from.
constexpr std::array<const char*, 12> kept_keys{"/Type",       "/Subtype",   "/Width",  "/Height",
                                                "/ColorSpace", "/Mask",      "/SMask",  "/BitsPerComponent",
                                                "/Decode",     "/ImageMask", "/Filter", "/DecodeParms"};

QPDFObjectHandle copy_of(QPDF& to, const QPDFObjectHandle& picture) {
    QPDFObjectHandle copy = to.copyForeignObject(picture);
    for (QPDFObjectHandle each : {copy, copy.getDict().getKey("/SMask"), copy.getDict().getKey("/Mask")}) {
        if (!each.isStream()) continue;
        QPDFObjectHandle about = each.getDict();
        for (const std::string& key : about.getKeys())
            if (std::ranges::find(kept_keys, key) == kept_keys.end() && key != "/Length") about.removeKey(key);
    }
    return copy;
}

std::string matrix_words(const PdfMatrix& m) {
    return fmt::format("{:.6f} {:.6f} {:.6f} {:.6f} {:.6f} {:.6f} cm", m.a, m.b, m.c, m.d, m.e, m.f);
}

std::string content_of_one(const QPDFObjectHandle::Rectangle& sheet) {
    return fmt::format("q {} /P0 Do Q\n", matrix_words({sheet.urx, 0, 0, sheet.ury, 0, 0}));
}

std::string as_string(const std::shared_ptr<Buffer>& buffer) {
    return {reinterpret_cast<const char*>(buffer->getBuffer()), buffer->getSize()};
}

// An open PDF of pictures and its only page.
struct Opened {
    QPDF pdf;
    std::optional<QPDFPageObjectHelper> page;
    explicit Opened(const std::string& pictures) {
        pdf.setSuppressWarnings(true);
        pdf.setImmediateCopyFrom(true); // Copies streams at once, so that this document need not outlive its copies.
        pdf.processMemoryFile("pictures", pictures.data(), pictures.size());
        page = QPDFPageDocumentHelper(pdf).getAllPages().at(0);
    }
};

}

std::string pictures_alone(const PdfLook& look) {
    const cv::Size2d size = shown_size(look);
    QPDF out;
    out.emptyPDF();
    QPDFObjectHandle page = out.makeIndirectObject(QPDFObjectHandle::parse(fmt::format(
        "<< /Type /Page /MediaBox [0 0 {:.6f} {:.6f}] /Resources << /XObject << >> >> >>", size.width, size.height)));
    QPDFObjectHandle named = page.getKey("/Resources").getKey("/XObject");
    std::string content;
    size_t number = 0;
    for (const PdfPicture& picture : look.marks.pictures) {
        const std::string name = fmt::format("/P{}", number++);
        named.replaceKey(name, copy_of(out, picture.image));
        const auto& fill = picture.fill_rgb.value_or(std::array<double, 3>{0, 0, 0});
        const bool is_stencil = named.getKey(name).getDict().hasKey("/ImageMask");
        const std::string colour = is_stencil ? fmt::format("{} {} {} rg ", fill[0], fill[1], fill[2]) : "";
        content += fmt::format("q {}{} {} Do Q\n", colour, matrix_words(matrix_as_shown(look, picture)), name);
    }
    page.replaceKey("/Contents", QPDFObjectHandle::newStream(&out, content));
    out.addPage(page, false);
    QPDFWriter writer(out);
    writer.setOutputMemory();
    writer.setStreamDataMode(qpdf_s_preserve);
    writer.write();
    const std::unique_ptr<Buffer> buffer(writer.getBuffer());
    return {reinterpret_cast<const char*>(buffer->getBuffer()), buffer->getSize()};
}

QPDFObjectHandle picture_in_unit_square(QPDF& to, const std::string& pictures) {
    Opened from(pictures);
    const auto sheet = from.page->getMediaBox().getArrayAsRectangle();
    QPDFObjectHandle named = from.page->getAttribute("/Resources", false).getKey("/XObject");
    const std::string content = as_string(from.page->getPageContents().at(0).getStreamData(qpdf_dl_generalized));
    if (named.getKeys().size() == 1 && content == content_of_one(sheet))
        return to.copyForeignObject(named.getKey("/P0"));
    QPDFObjectHandle form = to.copyForeignObject(from.page->getFormXObjectForPage());
    form.getDict().replaceKey(
        "/Matrix", QPDFObjectHandle::parse(fmt::format("[{:.9f} 0 0 {:.9f} 0 0]", 1 / sheet.urx, 1 / sheet.ury)));
    form.getDict().removeKey("/Group"); // ISO 19005-1, 6.4 knows no transparency
    return form;
}

bool may_be_archived(const std::string& pictures) {
    Opened from(pictures);
    const std::set<std::string> codings{"/DCTDecode", "/CCITTFaxDecode", "/JBIG2Decode", "/FlateDecode",
                                        "/ASCII85Decode"};
    const auto is_allowed = [&](QPDFObjectHandle filter) {
        return filter.isName() && codings.contains(filter.getName());
    };
    for (const auto& [name, stream] : from.page->getAttribute("/Resources", false).getKey("/XObject").getDictAsMap()) {
        QPDFObjectHandle about = QPDFObjectHandle(stream).getDict();
        QPDFObjectHandle filter = about.getKey("/Filter"), space = about.getKey("/ColorSpace");
        const bool coding = filter.isNull() || is_allowed(filter) ||
                            (filter.isArray() && std::ranges::all_of(filter.getArrayAsVector(), is_allowed));
        const bool colours =
            space.isNull() || space.isNameAndEquals("/DeviceGray") || space.isNameAndEquals("/DeviceRGB");
        if (!coding || !colours || about.hasKey("/SMask") || about.hasKey("/Mask")) return false;
    }
    return true;
}

}
