// A ticket: all choices for a scan. Where paper is taken from and how it is scanned (the first half), what is made of
// the pages, where it is saved and what happens then (the second half). A value; ticket_json.h reads and writes its
// file.
#pragma once

#include "core/developing/adjust.h"
#include "core/enum_table.h"
#include "core/raster/raster.h"
#include "core/raster/tiff_coding.h"
#include "core/scanner/scanner.h"
#include "core/ticket/file_options.h"

#include <nlohmann/json.hpp>

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// What becomes a page: each item that is found on the glass, all items together, the areas that the user drew, or the
// whole glass.
enum class Frames { EachItem, OneItem, Drawn, Whole };
// Auto: PDF for text, JPEG for photographs. Each format has a line in the table of ticket.cpp and one in
// output/format_table.cpp; a missing one fails to compile.
enum class Format {
    Pdf,
    Jpeg,
    Png,
    Tiff,
    Auto,
    Webp,
    Bmp,
    Text,
    Docx,
    Odt,
    Html,
    Epub,
    Csv,
    Hocr,
    Alto,
    PdfA,
    Avif,
    Heic,
    Last = Heic
};
constexpr bool is_member(Format value) {
    switch (value) {
    case Format::Pdf:
    case Format::Jpeg:
    case Format::Png:
    case Format::Tiff:
    case Format::Auto:
    case Format::Webp:
    case Format::Bmp:
    case Format::Text:
    case Format::Docx:
    case Format::Odt:
    case Format::Html:
    case Format::Epub:
    case Format::Csv:
    case Format::Hocr:
    case Format::Alto:
    case Format::PdfA:
    case Format::Avif:
    case Format::Heic:
        return true;
    }
    return false;
}
static_assert(has_last<Format>());
enum class Per { Document, Page }; // one file for each
// Which pages become one document: those of all scans, those of each scan, or each item on the glass and each sheet of
// a stack.
enum class Documents { Joined, EachScan, EachItem };
enum class SplitAt { Never, BlankSheet, Separator, Every }; // where a stack's next document begins

enum class PdfALevel { A1b, A2u }; // ISO 19005-1 and 19005-2; u: with Unicode text
enum class Errand { Open, OpenWith, Show, Print, Mail, Clipboard, Send, Last = Send }; // with a finished file
constexpr bool is_member(Errand value) {
    switch (value) {
    case Errand::Open:
    case Errand::OpenWith:
    case Errand::Show:
    case Errand::Print:
    case Errand::Mail:
    case Errand::Clipboard:
    case Errand::Send:
        return true;
    }
    return false;
}
static_assert(has_last<Errand>());
enum class ClipboardAs { File, Picture, Text };

// How finished pages are printed.
struct PrintHow {
    std::string printer; // CUPS' name of it; empty: the default printer
    int copies = 1;      // 1 to 99
    bool fitted = false; // whether pages are scaled to fit the sheet instead of printed at true size
    bool two_on_a_sheet = false;
    bool both_sides = false;
    bool grey = false;
    bool look_first = false; // whether the print preview is shown before
    bool as_copy = false;    // whether pages are printed instead of saved, and then removed from the tray
    bool operator==(const PrintHow&) const = default;
};

// How finished files go into an e-mail.
struct MailHow {
    std::vector<std::string> to;   // addresses; may be empty
    std::vector<NamePart> subject; // empty: the document's name
    std::vector<NamePart> words;   // the text of the message
    int limit_mb = 10;             // 1 to 1000; the user is asked about larger e-mails
    bool operator==(const MailHow&) const = default;
};

// Where finished files are sent.
struct SendHow {
    std::string server;           // the user's name of the server
    std::string address;          // its address, for others who get the ticket
    std::vector<NamePart> folder; // below the server's address; empty: the address itself
    bool operator==(const SendHow&) const = default;
};

struct Ticket {
    std::string name = "Everyday paper";
    std::string colour = "plum"; // a role of the theme: plum, moss, amber, brick, ink

    struct From {
        Source source = Source::Glass;
        Flip flip = Flip::Book;
        std::string paper = "auto"; // "auto", a name of paper_sizes(), or own_paper
        std::optional<SizeMm> own_paper;
        Frames frames = Frames::EachItem;
        int next_sheet_seconds = 6;               // hand-fed: the next sheet is scanned after 1 to 600 s; 0: ask
        std::map<std::string, OptionValues> more; // options of the driver, by the scanner's name
        bool operator==(const From&) const = default;
    } from;
    struct How {
        std::optional<Ink> ink; // nullopt: automatic
        int dpi = 300;          // 50 to 4800
        bool dpi_auto = false;  // by what is on the glass; `dpi` if that is not known
        bool operator==(const How&) const = default;
    } how;
    struct Pages {
        bool straighten = true;
        bool turn_upright = true;
        bool drop_blank = false;
        double blank_limit_percent = 0.15; // 0 to 100
        Documents documents = Documents::Joined;
        SplitAt split = SplitAt::Never; // of stacks, in addition
        int split_every = 2;            // pages, 1 to 1000
        std::string separator;          // prefix of the barcodes of the user's own separator sheets; empty: only ours
        Adjust adjust;                  // corrections applied to every page; none by default
        bool operator==(const Pages&) const = default;
    } pages;
    struct Read {
        std::vector<std::string> languages{"eng"}; // Tesseract's names; empty: no text is read
        bool operator==(const Read&) const = default;
    } read;
    struct Make {
        Format format = Format::Pdf;
        Per per = Per::Document;
        int jpeg_quality = 85;         // 1 to 100
        bool lines_as_printed = false; // text file: one line for each printed line, instead of joined paragraphs
        bool as_it_looks = false;      // DOCX and ODT: each line in its place, instead of flowing paragraphs
        bool searchable = true;        // PDF: with the text under the pictures
        bool bookmarks = false;        // PDF: with a bookmark for each heading
        PdfALevel pdf_a_level = PdfALevel::A2u;
        TiffCoding tiff_coding = TiffCoding::Auto;
        bool password = false; // PDF: needs a password to open, which the user or the keyring provides
        Permissions permissions;
        Properties properties;
        Stamp stamp;
        std::vector<FurtherFile> also; // made in the same pass
        bool is_protected() const { return password || !permissions.all(); }
        bool operator==(const Make&) const = default;
    } make;
    struct Save {
        // The ticket's folder, one that is asked for each time, or a temporary one that is emptied automatically.
        enum class Where { Fixed, Asked, Temporary };
        Where where = Where::Fixed;
        std::string folder = "~/Documents"; // ~ is the home folder
        std::vector<NamePart> within;       // subfolders, created if they are missing; empty: the folder itself
        bool make_folder = false;           // whether the folder itself is created too if it is missing
        std::vector<NamePart> name{
            {NamePart::Kind::Date, "yyyy-mm-dd"}, {NamePart::Kind::Words, "Scan"}, {NamePart::Kind::Counter, "", 3}};
        bool at_once = false; // whether documents are saved automatically when they are scanned and read
        // Whether the ticket's documents are added to one PDF, and when the next one is begun: when the user says so,
        // each day, or each month.
        enum class Grows { No, Always, Day, Month };
        Grows grows = Grows::No;
        bool operator==(const Save&) const = default;
    } save;
    struct Then {
        std::vector<Errand> errands; // done in this order, each once
        std::string program;         // for OpenWith: the name of a desktop entry, such as "viewer.desktop"
        ClipboardAs clipboard = ClipboardAs::File;
        PrintHow print;
        MailHow mail;
        SendHow send;
        bool operator==(const Then&) const = default;
    } then;

    // The names of the tickets from which it takes the first half (from, how, pages, read) and the second half (make,
    // save, then). Empty: the half is its own. A half that is taken is stored as it was last known.
    std::string scan_like, put_like;
    // When unsaved changes are discarded automatically.
    struct Back {
        int after_minutes = 0; // after 1 to 1440 minutes without a change or a scan; 0: never
        bool on_close = false; // when the window is closed
        bool operator==(const Back&) const = default;
    } back;
    bool fixed = false; // whether the file may not be changed, renamed or removed

    nlohmann::json rest = nlohmann::json::object(); // the file as it was read, with keys that are not known
    bool dpi_given = false;                         // whether how.dpi was given, so that finer pages are reduced to it

    bool scans_same(const Ticket& other) const {
        return from == other.from && how == other.how && pages == other.pages && read == other.read;
    }
    bool puts_same(const Ticket& other) const { return make == other.make && save == other.save && then == other.then; }
    bool same_choices(const Ticket& other) const {
        return scans_same(other) && puts_same(other) && scan_like == other.scan_like && put_like == other.put_like &&
               back == other.back;
    }
    void take_scanning_of(const Ticket& other) {
        from = other.from, how = other.how, pages = other.pages, read = other.read, dpi_given = other.dpi_given;
    }
    void take_putting_of(const Ticket& other) { make = other.make, save = other.save, then = other.then; }
};

// Whether the ticket's documents are added to one file (Ticket::Save::grows and a PDF).
bool adds_to_file(const Ticket& ticket);
// Returns the resolution in dpi for a photograph or for text if the ticket chooses it automatically. `small`: a print
// up to small_photograph_mm long.
int resolution_for(const Ticket::How& how, bool photograph, bool small);
inline constexpr double small_photograph_mm = 180;
// Returns `make` with Format::Auto replaced by the format for photographs or for text.
Ticket::Make make_for(const Ticket::Make& make, bool photographs);

// Returns the languages in which pages are read: `wished`, or "auto" if that is empty and the format consists of text.
std::vector<std::string> languages_for(const Ticket& ticket, const std::vector<std::string>& wished);

std::string_view format_key(Format format);       // "pdf", "jpeg", …
std::string_view format_words(Format format);     // "PDF", "JPEG", …
std::string_view format_extension(Format format); // "pdf", "jpg", …
std::string_view format_mime(Format format);      // "application/pdf", … (IANA's media types)
bool holds_many_pages(Format format);
bool is_pdf(Format format);                 // Pdf or PdfA
bool takes_words(Format format);            // whether files of this format can contain text
bool takes_words(const Ticket::Make& make); // whether the ticket's files do
bool is_made_of_words(Format format);       // whether the format consists of text
std::optional<Format> format_of_key(std::string_view key);
std::vector<Format> all_formats(); // in the order of the table

}
