// PDF through QPDF. Encoded pictures wait in a nameless temporary file until the document is written, so that a hundred
// pages take no more memory than one.
#include "core/output/document_writer.h"
#include "core/output/pdf_page.h"
#include "core/output/spool.h"

#include "core/raster/units.h"
#include "core/saving/safe_file.h"

#include <fmt/format.h>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

#include <cerrno>
#include <cstdio>
#include <ctime>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

class SpooledImage : public QPDFObjectHandle::StreamDataProvider {
  public:
    explicit SpooledImage(Spooled bytes) : bytes_(std::move(bytes)) {}
    void provideStreamData(const QPDFObjGen&, Pipeline* pipeline) override {
        std::string out(bytes_.size, '\0');
        if (bytes_.spool->read(bytes_.offset, out.data(), out.size()) != static_cast<std::int64_t>(out.size()))
            throw std::runtime_error("the temporary file could not be read back");
        pipeline->write(reinterpret_cast<const unsigned char*>(out.data()), out.size());
        pipeline->finish();
    }

  private:
    Spooled bytes_;
};

bool is_full(int code) { return code == ENOSPC || code == EDQUOT; }

// `code`: the errno, 0 where there is none.
std::unexpected<Error> pdf_failed(const fs::path& file, int code, const std::string& detail) {
    if (is_full(code) || code == EFBIG) return folder_error(file.parent_path(), code);
    return fail(ErrorKind::NotWritable,
                fmt::format("The PDF could not be written into {}; choose another folder or try again.",
                            file.parent_path().string()),
                detail);
}

class PdfWriter : public DocumentWriter {
  public:
    PdfWriter(fs::path file, DocumentInfo info) : DocumentWriter(std::move(file), Format::Pdf), info_(std::move(info)) {
        pdf_.emptyPDF();
        font_ = pdf_.makeIndirectObject(QPDFObjectHandle::newDictionary());
    }

  private:
    Result<void> add(EncodedPage page) override {
        try {
            return with_page(page);
        } catch (const std::exception& failure) {
            return pdf_failed(file(), 0, failure.what());
        }
    }

    Result<void> complete() override {
        // QPDF does not look at how closing its own file ends.
        std::FILE* out = std::fopen(file().c_str(), "wb");
        if (!out) return pdf_failed(file(), errno, "cannot be opened");
        int code = 0;
        std::string detail;
        errno = 0;
        try {
            fill_font();
            pdf_.getTrailer().replaceKey("/Info", pdf_.makeIndirectObject(information()));
            QPDFWriter writer(pdf_, file().c_str(), out, false);
            writer.setMinimumPDFVersion("1.5");
            writer.setObjectStreamMode(qpdf_o_generate);
            writer.setStreamDataMode(qpdf_s_compress);
            writer.write();
        } catch (const std::exception& failure) {
            code = errno;
            detail = failure.what();
        }
        if (detail.empty() && (std::fflush(out) != 0 || std::ferror(out) != 0)) {
            code = errno;
            detail = "flush";
        }
        if (std::fclose(out) != 0 && detail.empty()) {
            code = errno;
            detail = "close";
        }
        if (!detail.empty()) return pdf_failed(file(), code, detail);
        return {};
    }

    Result<void> with_page(const EncodedPage& page) {
        auto kept = spooled(spool_, page.image);
        if (!kept) return std::unexpected(kept.error());
        QPDFObjectHandle image = QPDFObjectHandle::newStream(&pdf_);
        image.replaceDict(QPDFObjectHandle::parse(
            fmt::format("<< /Type /XObject /Subtype /Image /Width {} /Height {} /ColorSpace {} /BitsPerComponent {} >>",
                        page.width_px, page.height_px, page.ink == Ink::Colour ? "/DeviceRGB" : "/DeviceGray",
                        page.coding == ImageCoding::G4 ? 1 : 8)));
        const bool g4 = page.coding == ImageCoding::G4;
        image.replaceStreamData(
            std::make_shared<SpooledImage>(std::move(*kept)),
            QPDFObjectHandle::newName(g4 ? "/CCITTFaxDecode" : "/DCTDecode"),
            g4 ? QPDFObjectHandle::parse(fmt::format("<< /K -1 /Columns {} /Rows {} >>", page.width_px, page.height_px))
               : QPDFObjectHandle::newNull());

        const double width = px_to_pt(page.width_px, page.dpi), height = px_to_pt(page.height_px, page.dpi);
        const std::string content = page_content(width, height, page.dpi, page.text.layer, codes_);
        QPDFObjectHandle sheet = QPDFObjectHandle::parse(fmt::format(
            "<< /Type /Page /MediaBox [0 0 {:.4f} {:.4f}] /Resources << /XObject << >> >> >>", width, height));
        QPDFObjectHandle resources = sheet.getKey("/Resources");
        resources.getKey("/XObject").replaceKey("/Im0", image);
        if (!page.text.layer.lines.empty())
            resources.replaceKey("/Font", QPDFObjectHandle::parse("<< >>")),
                resources.getKey("/Font").replaceKey("/F0", font_);
        sheet.replaceKey("/Contents", QPDFObjectHandle::newStream(&pdf_, content));
        pdf_.addPage(pdf_.makeIndirectObject(sheet), false);
        return {};
    }

    void fill_font() {
        if (codes_.count() == 0) return;
        QPDFObjectHandle program = QPDFObjectHandle::newStream(&pdf_, glyphless_truetype(codes_.count()));
        program.getDict().replaceKey("/Length1", QPDFObjectHandle::newInteger(static_cast<long long>(
                                                     glyphless_truetype(codes_.count()).size())));
        const int ascent = static_cast<int>(1000 * font_ascent), descent = static_cast<int>(1000 * font_descent);
        QPDFObjectHandle descriptor = QPDFObjectHandle::parse(fmt::format(
            "<< /Type /FontDescriptor /FontName /YelvinText /Flags 4 /FontBBox [0 {} {} {}] /ItalicAngle 0 /Ascent {} "
            "/Descent {} /CapHeight {} /StemV 80 >>",
            -descent, glyph_width, ascent, ascent, -descent, ascent));
        descriptor.replaceKey("/FontFile2", program);
        QPDFObjectHandle descendant = QPDFObjectHandle::parse(
            fmt::format("<< /Type /Font /Subtype /CIDFontType2 /BaseFont /YelvinText /CIDToGIDMap /Identity /DW {} "
                        "/CIDSystemInfo << /Registry (Adobe) /Ordering (Identity) /Supplement 0 >> >>",
                        glyph_width));
        descendant.replaceKey("/FontDescriptor", pdf_.makeIndirectObject(descriptor));
        font_.replaceKey("/Type", QPDFObjectHandle::newName("/Font"));
        font_.replaceKey("/Subtype", QPDFObjectHandle::newName("/Type0"));
        font_.replaceKey("/BaseFont", QPDFObjectHandle::newName("/YelvinText"));
        font_.replaceKey("/Encoding", QPDFObjectHandle::newName("/Identity-H"));
        font_.replaceKey("/DescendantFonts", QPDFObjectHandle::newArray({pdf_.makeIndirectObject(descendant)}));
        font_.replaceKey("/ToUnicode", QPDFObjectHandle::newStream(&pdf_, codes_.to_unicode_map()));
    }

    QPDFObjectHandle information() const {
        std::time_t now = std::time(nullptr);
        std::tm utc{};
        gmtime_r(&now, &utc);
        QPDFObjectHandle info = QPDFObjectHandle::newDictionary();
        if (!info_.title.empty()) info.replaceKey("/Title", QPDFObjectHandle::newUnicodeString(info_.title));
        info.replaceKey("/Creator", QPDFObjectHandle::newString("Yelvin"));
        info.replaceKey("/CreationDate", QPDFObjectHandle::newString(fmt::format(
                                             "D:{:04}{:02}{:02}{:02}{:02}{:02}Z", utc.tm_year + 1900, utc.tm_mon + 1,
                                             utc.tm_mday, utc.tm_hour, utc.tm_min, utc.tm_sec)));
        return info;
    }

    DocumentInfo info_;
    std::shared_ptr<Spool> spool_ = std::make_shared<Spool>(); // the pictures, one after the other
    QPDF pdf_;
    QPDFObjectHandle font_;
    GlyphlessCodes codes_;
};

}

std::unique_ptr<DocumentWriter> new_pdf_writer(const std::filesystem::path& file, const DocumentInfo& info) {
    return std::make_unique<PdfWriter>(file, info);
}

}
