// The sheets about formats: the usual ones, and the others one click away.
#include "app/models/scanning/next_scan.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/sheet_parts.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/ticketbar/wording.h"

#include <algorithm>

namespace yelvin::sheets {

namespace {

struct FileKind {
    Format format;
    const char* advice;
};

void add_kind(PhraseSheet& sheet, const TicketModels& models, const FileKind& kind, Per per) {
    Ticket as_it_would_be = shown(models);
    as_it_would_be.make.format = kind.format;
    as_it_would_be.make.per = per;
    const Ticket::Make& now = shown(models).make;
    const bool chosen = now.format == kind.format && (now.per == per || !holds_many_pages(kind.format));
    const QString size =
        is_made_of_words(kind.format)
            ? SheetText::tr(kind.advice)
            : SheetText::tr("%1 · about %2")
                  .arg(SheetText::tr(kind.advice), bytes_words(models.next_scan.bytes(as_it_would_be.make)));
    const bool one = per == Per::Document && holds_many_pages(kind.format);
    const QString name = QString::fromUtf8(format_words(kind.format).data());
    sheet.add_row((one ? SheetText::tr("one %1 per document") : SheetText::tr("one %1 per page")).arg(name), size,
                  chosen, [&models, format = kind.format, per] {
                      change(models, [&](Ticket& t) {
                          t.make.format = format;
                          t.make.per = per;
                      });
                  });
}

// For formats that hold many pages, and for text formats.
void add_ticks(PhraseSheet& sheet, const TicketModels& models) {
    const Ticket::Make& now = shown(models).make;
    const auto tick = [&](const QString& text, const char* name, bool on, auto apply) {
        auto* box = new QCheckBox(text);
        box->setObjectName(name);
        box->setChecked(on);
        QObject::connect(box, &QCheckBox::toggled, &sheet,
                         [&models, apply](bool is) { change(models, [&](Ticket& t) { apply(t.make, is); }); });
        sheet.add_widget(box);
    };
    if (holds_many_pages(now.format) && now.format != Format::Auto)
        tick(SheetText::tr("one file per page"), "per-page", now.per == Per::Page,
             [](Ticket::Make& make, bool is) { make.per = is ? Per::Page : Per::Document; });
    if (is_pdf(now.format)) {
        tick(SheetText::tr("searchable: text can be found and copied"), "searchable", now.searchable,
             [](Ticket::Make& make, bool is) { make.searchable = is; });
        tick(SheetText::tr("one bookmark per heading"), "bookmarks", now.bookmarks,
             [](Ticket::Make& make, bool is) { make.bookmarks = is; });
    }
    if (now.format == Format::PdfA)
        tick(SheetText::tr("PDF/A-1b, if an archive requires it"), "level-1b", now.pdf_a_level == PdfALevel::A1b,
             [](Ticket::Make& make, bool is) { make.pdf_a_level = is ? PdfALevel::A1b : PdfALevel::A2u; });
    if (now.format == Format::Docx || now.format == Format::Odt)
        tick(SheetText::tr("exact layout: each line in its place"), "as-it-looks", now.as_it_looks,
             [](Ticket::Make& make, bool is) { make.as_it_looks = is; });
    if (now.format == Format::Text)
        tick(SheetText::tr("line breaks as printed"), "lines-as-printed", now.lines_as_printed,
             [](Ticket::Make& make, bool is) { make.lines_as_printed = is; });
}

// The compression of TIFF files, if that format is chosen.
void add_packing(PhraseSheet& sheet, const TicketModels& models) {
    const Ticket::Make& now = shown(models).make;
    if (now.format != Format::Tiff) return;
    sheet.add_heading(SheetText::tr("Compression"));
    for (const auto& [coding, advice] :
         {std::pair{TiffCoding::Auto, "G4 for black and white, Deflate for the rest; lossless"},
          {TiffCoding::Lzw, "for older programs; lossless"},
          {TiffCoding::Deflate, "also for black and white; lossless"},
          {TiffCoding::Jpeg, "much smaller, with loss as in JPEG; black and white stays G4"}})
        sheet.add_row(wording::tiff_coding(coding), SheetText::tr(advice), now.tiff_coding == coding,
                      [&models, coding = coding] { change(models, [&](Ticket& t) { t.make.tiff_coding = coding; }); });
}

constexpr FileKind others[] = {{Format::Avif, "photographs, much smaller than JPEG"},
                               {Format::Heic, "photographs, as phones save them"},
                               {Format::Html, "opens in every browser, pictures included"},
                               {Format::Epub, "for reading on a small screen"},
                               {Format::Csv, "for spreadsheets; tables only"},
                               {Format::Webp, "photographs, smaller than JPEG"},
                               {Format::Bmp, "for old programs, very large"},
                               {Format::Hocr, "each word with its position, for other programs"},
                               {Format::Alto, "each word with its position, for libraries"}};

QString growth_advice(Ticket::Save::Grows grows) {
    switch (grows) {
    case Ticket::Save::Grows::Day:
        return SheetText::tr("the first document of a day starts it, others are added");
    case Ticket::Save::Grows::Month:
        return SheetText::tr("the first document of a month starts it, others are added");
    case Ticket::Save::Grows::Always:
        return SheetText::tr("documents are added until you start another file on a document's tab");
    case Ticket::Save::Grows::No:
        break;
    }
    return SheetText::tr("one file per document");
}

}

// All documents of one day or month, or all documents, in one PDF.
void fill_growth(PhraseSheet& sheet, const TicketModels& models) {
    using Grows = Ticket::Save::Grows;
    const Ticket& now = shown(models);
    const QString name = QString::fromUtf8(format_words(now.make.format).data());
    for (const Grows grows : {Grows::No, Grows::Day, Grows::Month, Grows::Always})
        sheet.add_row(wording::growth(grows).arg(name), growth_advice(grows), now.save.grows == grows,
                      [&models, grows] { change(models, [&](Ticket& t) { t.save.grows = grows; }); });
    sheet.add_advice(
        SheetText::tr("New pages go after those in the file. If the file is missing, another is started. A "
                      "document with its own folder becomes its own file."));
}

void fill_make(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    add_kind(sheet, models, {Format::Pdf, "documents; searchable when read"}, Per::Document);
    add_kind(sheet, models, {Format::Pdf, "one file per page"}, Per::Page);
    add_kind(sheet, models, {Format::PdfA, "for long-term storage"}, Per::Document);
    add_kind(sheet, models, {Format::Jpeg, "photographs"}, Per::Page);
    add_kind(sheet, models, {Format::Png, "lossless, large"}, Per::Page);
    add_kind(sheet, models, {Format::Tiff, "lossless, many pages"}, Per::Document);
    const Ticket::Make& now = shown(models).make;
    sheet.add_row(
        SheetText::tr("automatic"), SheetText::tr("PDF for text, JPEG for photographs"), now.format == Format::Auto,
        [&models] { change(models, [](Ticket& t) { t.make.format = Format::Auto, t.make.per = Per::Document; }); });
    sheet.add_heading(SheetText::tr("For editing"));
    add_kind(sheet, models, {Format::Docx, "an office document: headings, tables, pictures"}, Per::Document);
    add_kind(sheet, models, {Format::Odt, "the same in OpenDocument format"}, Per::Document);
    add_kind(sheet, models, {Format::Text, "only the text"}, Per::Document);
    const bool other = std::ranges::find(others, now.format, &FileKind::format) != std::end(others);
    sheet.add_row(SheetText::tr("other formats…"), SheetText::tr("web page, e-book, tables, AVIF, OCR data"), other,
                  doors.formats);
    const bool special =
        now.is_protected() || !now.stamp.parts.empty() || !now.also.empty() || now.properties != Properties{};
    if (is_pdf(now.format) && now.per == Per::Document)
        sheet.add_row(SheetText::tr("several documents in one file…"), growth_advice(shown(models).save.grows),
                      adds_to_file(shown(models)), doors.growth);
    sheet.add_row(SheetText::tr("file options…"), SheetText::tr("protection, properties, a stamp, further files"),
                  special, doors.file);
    add_packing(sheet, models);
    add_ticks(sheet, models);
    sheet.add_widget(quality_box(sheet, models));
    sheet.add_advice(
        SheetText::tr("85 looks like the paper; below 60, traces show around letters. Black and white pages are "
                      "stored without loss."));
}

void fill_other_formats(PhraseSheet& sheet, const TicketModels& models) {
    sheet.add_heading(SheetText::tr("Other formats"));
    for (const FileKind& kind : others) add_kind(sheet, models, kind, Per::Document);
    add_ticks(sheet, models);
    sheet.add_advice(SheetText::tr("If the ticket names no language, text formats use the one detected on each page."));
}

}
