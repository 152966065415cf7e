// Writes PDF files with QPDF. Encoded pictures are kept in an unnamed temporary file until the document is written, so
// that a hundred pages need no more memory than one.
#include "core/output/black_pictures.h"
#include "core/output/document_writer.h"
#include "core/output/joined_writer.h"
#include "core/output/pdf_file.h"
#include "core/output/pdf_font.h"
#include "core/output/pdf_page.h"
#include "core/output/pdf_shared.h"
#include "core/output/pdf_structure.h"
#include "core/output/protection.h"
#include "core/output/spool.h"
#include "core/output/stamp.h"

#include "core/raster/pdf_pictures.h"
#include "core/raster/units.h"
#include "core/saving/safe_file.h"

#include <fmt/format.h>
#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include <cerrno>
#include <cstdio>
#include <optional>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

class SpooledStream : public QPDFObjectHandle::StreamDataProvider {
  public:
    explicit SpooledStream(Spooled bytes) : bytes_(std::move(bytes)) {}
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

// `code` is the errno, or 0 if there is none.
std::unexpected<Error> pdf_failed(const fs::path& file, int code, const std::string& detail) {
    if (is_full(code) || code == EFBIG) return folder_error(file.parent_path(), code);
    return fail(ErrorKind::NotWritable,
                fmt::format("The PDF could not be saved in {}; choose another folder or try again.",
                            file.parent_path().string()),
                detail);
}

class PdfWriter : public DocumentWriter {
  public:
    PdfWriter(fs::path file, DocumentInfo info, Format format)
        : DocumentWriter(std::move(file), format, info.passwords.open), info_(std::move(info)), format_(format) {
        pdf_.emptyPDF();
        if (info_.make.searchable) structure_.emplace(pdf_);
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
        try {
            if (auto stored = black_pictures_.finish(); !stored) return stored;
            fill_font(pdf_, font_, codes_);
            add_stamps();
            about_document();
        } catch (const std::exception& failure) {
            return pdf_failed(file(), errno, failure.what());
        }
        const bool first_archive = format_ == Format::PdfA && info_.make.pdf_a_level == PdfALevel::A1b;
        const PdfWritten how = write_pdf(pdf_, file(), [&](QPDFWriter& writer) {
            writer.setMinimumPDFVersion(first_archive ? "1.4" : format_ == Format::PdfA ? "1.7" : "1.5");
            // ISO 19005-1 is based on PDF 1.4, which has no object streams.
            writer.setObjectStreamMode(first_archive ? qpdf_o_disable : qpdf_o_generate);
            writer.setStreamDataMode(qpdf_s_compress);
            writer.setNewlineBeforeEndstream(true); // ISO 19005-1, 6.1.7
            protect(writer, info_.make.permissions, info_.passwords);
        });
        if (!how.detail.empty()) return pdf_failed(file(), how.code, how.detail);
        return {};
    }

    // Adds the page of a PDF with its original drawing. Its own text is kept; no text layer is added.
    Result<void> with_drawing(const EncodedPage& page) {
        QPDF from;
        from.setSuppressWarnings(true);
        from.setImmediateCopyFrom(true); // Copy streams now, because `from` is destroyed with this function.
        from.processMemoryFile("page", page.drawing.data(), page.drawing.size());
        pdf_.addPage(from.getAllPages().front(), false);
        QPDFObjectHandle sheet = pdf_.getAllPages().back();
        sheet.removeKey("/StructParents");
        shared_.share_resources(sheet);
        if (!page.stamp.empty()) {
            // The page's own content may change the transformation and not restore it.
            QPDFPageObjectHelper helper(sheet);
            const auto box = helper.getMediaBox().getArrayAsRectangle();
            helper.addPageContents(QPDFObjectHandle::newStream(&pdf_, "q\n"), true);
            helper.addPageContents(
                QPDFObjectHandle::newStream(
                    &pdf_, fmt::format("\nQ\nq 1 0 0 1 {:.3f} {:.3f} cm\n{}Q\n", box.llx, box.lly,
                                       stamp_content(page.stamp, {box.urx - box.llx, box.ury - box.lly}))),
                false);
            QPDFObjectHandle resources = helper.getAttribute("/Resources", true);
            if (!resources.isDictionary()) resources = QPDFObjectHandle::newDictionary();
            if (!resources.getKey("/XObject").isDictionary())
                resources.replaceKey("/XObject", QPDFObjectHandle::newDictionary());
            sheet.replaceKey("/Resources", resources);
        }
        if (auto marks = with_marks_spooled(sheet); !marks) return marks;
        ++pages_;
        printed_numbers_.emplace_back();
        stamps_.push_back(page.stamp);
        return {};
    }

    // Replaces the page's content streams by one in the temporary file, which releases their memory.
    Result<void> with_marks_spooled(QPDFObjectHandle sheet) {
        QPDFPageObjectHelper helper(sheet);
        std::string marks;
        std::vector<QPDFObjectHandle> parts = helper.getPageContents();
        for (QPDFObjectHandle& part : parts) {
            const auto bytes = part.getStreamData(qpdf_dl_generalized);
            marks.append(reinterpret_cast<const char*>(bytes->getBuffer()), bytes->getSize());
            marks += '\n'; // ISO 32000-2, 7.8.2: streams part between lexical tokens
            part.replaceStreamData(std::string(), QPDFObjectHandle::newNull(), QPDFObjectHandle::newNull());
        }
        auto kept = spooled(spool_, marks);
        if (!kept) return std::unexpected(kept.error());
        QPDFObjectHandle contents = QPDFObjectHandle::newStream(&pdf_);
        contents.replaceStreamData(std::make_shared<SpooledStream>(std::move(*kept)), QPDFObjectHandle::newNull(),
                                   QPDFObjectHandle::newNull());
        sheet.replaceKey("/Contents", contents);
        return {};
    }

    void store(QPDFObjectHandle& stream, const std::string& bytes) {
        auto kept = spooled(spool_, bytes);
        if (!kept) throw std::runtime_error(kept.error().sentence);
        QPDFObjectHandle about = stream.getDict();
        stream.replaceStreamData(std::make_shared<SpooledStream>(std::move(*kept)), about.getKey("/Filter"),
                                 about.getKey("/DecodeParms"));
    }

    Result<void> with_page(const EncodedPage& page) {
        if (!page.drawing.empty()) return with_drawing(page);
        const Result<QPDFObjectHandle> image =
            page.coding == ImageCoding::Pictures ? as_they_came(page) : encoded(page);
        if (!image) return std::unexpected(image.error());
        const double width = px_to_pt(page.width_px, page.dpi), height = px_to_pt(page.height_px, page.dpi);
        QPDFObjectHandle sheet = pdf_.makeIndirectObject(QPDFObjectHandle::parse(fmt::format(
            "<< /Type /Page /MediaBox [0 0 {:.4f} {:.4f}] /Resources << /XObject << >> >> >>", width, height)));
        QPDFObjectHandle resources = sheet.getKey("/Resources");
        resources.getKey("/XObject").replaceKey("/Im0", *image);
        const TextLayer& text = page.text.layer;
        const int number = ++pages_;
        if (language_.empty() && !text.language.empty()) language_ = language_tag(text.language);
        if (info_.make.bookmarks)
            for (PdfBookmark& each : bookmarks_of(page.text, sheet, height, page.dpi))
                bookmarks_.push_back(std::move(each));
        printed_numbers_.push_back(printed_number(page.text));
        std::string content;
        if (structure_) {
            const PdfTags tags = pdf_tags_of(page.text, page.pictures, number, {page.width_px, page.height_px});
            content = page_content(width, height, page.dpi, text, codes_, &tags);
            structure_->add(sheet, tags, height, page.dpi);
        } else {
            content = page_content(width, height, page.dpi, {}, codes_);
        }
        content += stamp_content(page.stamp, {width, height});
        if (structure_ && !text.lines.empty())
            resources.replaceKey("/Font", QPDFObjectHandle::parse("<< >>")),
                resources.getKey("/Font").replaceKey("/F0", font_);
        auto marks = spooled(spool_, content);
        if (!marks) return std::unexpected(marks.error());
        QPDFObjectHandle contents = QPDFObjectHandle::newStream(&pdf_);
        contents.replaceStreamData(std::make_shared<SpooledStream>(std::move(*marks)), QPDFObjectHandle::newNull(),
                                   QPDFObjectHandle::newNull());
        sheet.replaceKey("/Contents", contents);
        pdf_.addPage(sheet, false);
        stamps_.push_back(page.stamp);
        return {};
    }

    // Adds the pictures of a scan with their existing data, through the temporary file.
    Result<QPDFObjectHandle> as_they_came(const EncodedPage& page) {
        QPDFObjectHandle picture = picture_in_unit_square(pdf_, page.image);
        QPDFObjectHandle holder = QPDFObjectHandle::parse("<< /Resources << /XObject << >> >> >>");
        holder.getKey("/Resources").getKey("/XObject").replaceKey("/Im0", picture);
        shared_.share_resources(holder);
        return holder.getKey("/Resources").getKey("/XObject").getKey("/Im0");
    }

    Result<QPDFObjectHandle> encoded(const EncodedPage& page) {
        const bool black = page.coding == ImageCoding::G4;
        QPDFObjectHandle image = QPDFObjectHandle::newStream(&pdf_);
        image.replaceDict(QPDFObjectHandle::parse(fmt::format(
            "<< /Type /XObject /Subtype /Image /Width {} /Height {} /ColorSpace {} /BitsPerComponent {} >>",
            page.width_px, page.height_px, page.ink == Ink::Colour ? "/DeviceRGB" : "/DeviceGray", black ? 1 : 8)));
        const auto stored = black ? black_pictures_.add(image, page.image, {page.width_px, page.height_px}, page.dpi)
                                  : fill(image, page.image, "/DCTDecode", QPDFObjectHandle::newNull());
        if (!stored) return std::unexpected(stored.error());
        return image;
    }

    // Sets the data of a stream, through the temporary file. `filter` may be empty.
    Result<void> fill(QPDFObjectHandle stream, const std::string& bytes, const std::string& filter,
                      const QPDFObjectHandle& parameters) {
        auto kept = spooled(spool_, bytes);
        if (!kept) return std::unexpected(kept.error());
        stream.replaceStreamData(std::make_shared<SpooledStream>(std::move(*kept)),
                                 filter.empty() ? QPDFObjectHandle::newNull() : QPDFObjectHandle::newName(filter),
                                 parameters);
        return {};
    }

    // Returns the content that draws the stamp in its place, marked as an artifact: it is not part of the page's
    // content (ISO 32000-2, 14.8.2.2).
    std::string stamp_content(const std::string& words, SizePt sheet) const {
        if (words.empty()) return {};
        const SizePt size = stamp_size(words, info_.make.stamp);
        const cv::Matx23d at = stamp_place(info_.make.stamp, size, sheet);
        // In the form, y points up from the lower left corner; in the place, y points down from the upper left corner.
        const double x = at(0, 1) * size.height + at(0, 2), y = at(1, 1) * size.height + at(1, 2);
        return fmt::format("/Artifact BMC\nq {:.5f} {:.5f} {:.5f} {:.5f} {:.3f} {:.3f} cm /Stamp Do Q\nEMC\n", at(0, 0),
                           -at(1, 0), -at(0, 1), at(1, 1), x, sheet.height - y);
    }

    // All stamps share one font, so they are drawn together once all are known.
    void add_stamps() {
        std::vector<std::string> words;
        for (const std::string& each : stamps_)
            if (!each.empty()) words.push_back(each);
        if (words.empty()) return;
        stamps_pdf_ = stamps_as_pdf(words, info_.make.stamp);
        drawn_stamps_.processMemoryFile("stamps", stamps_pdf_.data(), stamps_pdf_.size());
        if (format_ == Format::PdfA) complete_fonts(drawn_stamps_);
        const auto drawn = QPDFPageDocumentHelper(drawn_stamps_).getAllPages();
        const auto sheets = pdf_.getAllPages();
        size_t next = 0;
        for (size_t i = 0; i < stamps_.size(); ++i) {
            if (stamps_[i].empty()) continue;
            QPDFObjectHandle form = QPDFPageObjectHelper(drawn.at(next++)).getFormXObjectForPage();
            form.getDict().removeKey("/Group"); // ISO 19005-1, 6.4 knows no transparency
            QPDFObjectHandle sheet = sheets.at(i);
            sheet.getKey("/Resources").getKey("/XObject").replaceKey("/Stamp", pdf_.copyForeignObject(form));
        }
    }

    void about_document() {
        QPDFObjectHandle root = pdf_.getRoot();
        if (structure_) structure_->finish();
        add_bookmarks(pdf_, bookmarks_);
        add_page_labels(pdf_, printed_numbers_);
        if (language_ == "und") language_.clear();
        if (!language_.empty()) root.replaceKey("/Lang", QPDFObjectHandle::newString(language_));
        if (!info_.title.empty())
            root.replaceKey("/ViewerPreferences", QPDFObjectHandle::parse("<< /DisplayDocTitle true >>"));
        const PdfAbout about{info_.title, info_.author, info_.subject, info_.keywords, language_, std::time(nullptr)};
        pdf_.getTrailer().replaceKey("/Info", pdf_.makeIndirectObject(pdf_information(about)));
        if (format_ != Format::PdfA) return;
        const bool first = info_.make.pdf_a_level == PdfALevel::A1b;
        add_archive_parts(pdf_, about, first ? 1 : 2, first ? 'B' : 'U');
    }

    DocumentInfo info_;
    Format format_;
    std::shared_ptr<Spool> spool_ = std::make_shared<Spool>(); // pictures and pages' marks, one after the other
    QPDF pdf_;
    std::optional<PdfStructure> structure_;
    std::vector<PdfBookmark> bookmarks_;
    std::vector<std::optional<int>> printed_numbers_;
    std::vector<std::string> stamps_; // of each page; may be empty
    std::string stamps_pdf_;
    QPDF drawn_stamps_; // Must exist until the file is written.
    SharedPdfObjects shared_{[this](QPDFObjectHandle stream, const std::string& bytes) { store(stream, bytes); }};
    BlackPictures black_pictures_{pdf_, [this](const auto&... about) { return fill(about...); }};
    std::string language_;
    int pages_ = 0;
    QPDFObjectHandle font_;
    GlyphlessCodes codes_;
};

}

std::unique_ptr<DocumentWriter> new_pdf_writer(const std::filesystem::path& file, const DocumentInfo& info) {
    return std::make_unique<PdfWriter>(file, info, Format::Pdf);
}
std::unique_ptr<DocumentWriter> new_pdf_a_writer(const std::filesystem::path& file, const DocumentInfo& info) {
    return std::make_unique<PdfWriter>(file, info, Format::PdfA);
}

}
