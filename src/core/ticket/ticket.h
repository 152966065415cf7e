// Every choice for a scan together: from where, how, what to do with the pages, what to make, where to put it. A value;
// its file form is in ticket_json.h.
#pragma once

#include "core/developing/adjust.h"
#include "core/raster/raster.h"
#include "core/raster/tiff_coding.h"
#include "core/scanner/scanner.h"
#include "core/ticket/paper_facts.h"

#include <nlohmann/json.hpp>

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// What becomes a page: each thing that is found on the glass, all of them together, the areas drawn by hand, all of it.
enum class Frames { EachItem, OneItem, Drawn, Whole };
// Auto: PDF for text, JPEG for photographs. Each has a line in the table of ticket.cpp, and one in output/crafts.cpp.
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
    Heic
};
enum class Per { Document, Page }; // one file for each
// Which pages become one document: those of scan after scan, those of one scan, or each item on the glass and each
// sheet of a stack for itself.
enum class Documents { Joined, EachScan, EachItem };
enum class SplitAt { Never, BlankSheet, Separator, Every }; // where a stack's next document begins

enum class PdfALevel { A1b, A2u }; // ISO 19005-1 and 19005-2; u: its words are Unicode
enum class Errand { Open, OpenWith, Show, Print, Mail, Clipboard, Send }; // with a finished file
enum class ClipboardAs { File, Picture, Text };

// How finished pages are printed.
struct PrintHow {
    std::string printer; // by CUPS' name; empty: the usual one
    int copies = 1;      // 1 to 99
    bool fitted = false; // to the sheet; else at true size
    bool two_on_a_sheet = false;
    bool both_sides = false;
    bool grey = false;
    bool look_first = false; // how the sheets will be is shown before
    bool as_copy = false;    // printed instead of saved, and nothing stays in the tray
    bool operator==(const PrintHow&) const = default;
};

// How finished files go into an e-mail.
struct MailHow {
    std::vector<std::string> to;   // addresses; may be none
    std::vector<NamePart> subject; // none: the document's name
    std::vector<NamePart> words;   // the message
    int limit_mb = 10;             // 1 to 1000; what is larger is asked about
    bool operator==(const MailHow&) const = default;
};

// Where finished files are sent.
struct SendHow {
    std::string server;           // as this person calls it
    std::string address;          // for whoever is given the ticket
    std::vector<NamePart> folder; // there; none: the server's own
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
        int next_sheet_seconds = 6;               // hand-fed: go on by itself after so many, 1 to 600; 0: ask
        std::map<std::string, OptionValues> more; // a scanner's own options, by its name
        bool operator==(const From&) const = default;
    } from;
    struct How {
        std::optional<Ink> ink; // nothing: automatic
        int dpi = 300;          // 50 to 4800
        bool dpi_auto = false;  // by what lies on the glass; `dpi` where that cannot be told
        bool operator==(const How&) const = default;
    } how;
    struct Pages {
        bool straighten = true;
        bool turn_upright = true;
        bool drop_blank = false;
        double blank_limit_percent = 0.15; // 0 to 100
        Documents documents = Documents::Joined;
        SplitAt split = SplitAt::Never; // of stacks, besides
        int split_every = 2;            // pages, 1 to 1000
        std::string separator;          // what the barcode on people's own separators begins with; empty: ours only
        Adjust adjust;                  // corrections that every page gets unasked; none by default
        bool operator==(const Pages&) const = default;
    } pages;
    struct Read {
        std::vector<std::string> languages{"eng"}; // Tesseract's names; a PDF is searchable when there are any
        bool operator==(const Read&) const = default;
    } read;
    struct Make {
        Format format = Format::Pdf;
        Per per = Per::Document;
        int jpeg_quality = 85;         // 1 to 100
        bool lines_as_printed = false; // of a text file; else its paragraphs are joined
        bool as_it_looks = false;      // of an editable document: each line in its place; else its paragraphs flow
        bool searchable = true;        // of a PDF: what was read stands under its pictures
        bool bookmarks = false;        // of a PDF: one for each heading that was read
        PdfALevel pdf_a_level = PdfALevel::A2u;
        TiffCoding tiff_coding = TiffCoding::Auto;
        bool password = false; // a PDF that opens only with one, which is asked for or in the keyring, never here
        Permissions permissions;
        Properties properties;
        Stamp stamp;
        std::vector<AlsoMade> also; // in one pass with the file itself
        bool is_protected() const { return password || !permissions.all(); }
        bool operator==(const Make&) const = default;
    } make;
    struct Save {
        // The folder, or one that is asked for each time, or one that is emptied by itself: for what is only looked at.
        enum class Where { Fixed, Asked, Temporary };
        Where where = Where::Fixed;
        std::string folder = "~/Documents"; // ~ is the home folder
        std::vector<NamePart> within;       // folders in it, made where they are missing; none: itself
        bool make_folder = false;           // the folder itself too is made where it is missing
        std::vector<NamePart> name{
            {NamePart::Kind::Date, "yyyy-mm-dd"}, {NamePart::Kind::Words, "Scan"}, {NamePart::Kind::Counter, "", 3}};
        bool at_once = false; // as soon as a run is in and read, without another press
        // A PDF that each document of the ticket is added to, and when the next one is begun: once the person says so,
        // on another day, in another month. No: each document is a file of its own.
        enum class Grows { No, Always, Day, Month };
        Grows grows = Grows::No;
        bool operator==(const Save&) const = default;
    } save;
    struct Then {
        std::vector<Errand> errands; // in this order, each once
        std::string program;         // of OpenWith: the name of a desktop entry, such as "viewer.desktop"
        ClipboardAs clipboard = ClipboardAs::File;
        PrintHow print;
        MailHow mail;
        SendHow send;
        bool operator==(const Then&) const = default;
    } then;

    // The names of the tickets whose halves it takes: how paper is scanned (from, how, pages, read), and what becomes
    // of it (make, save, then). Empty: its own. What it holds of such a half is what was last known of it.
    std::string scan_like, put_like;
    // What was changed since the ticket was saved is given up by itself.
    struct Back {
        int after_minutes = 0; // without a change and without a scan, 1 to 1440; 0: never
        bool on_close = false; // when the window is closed
        bool operator==(const Back&) const = default;
    } back;
    bool fixed = false; // its file is not changed, renamed or removed

    nlohmann::json rest = nlohmann::json::object(); // the file as it was read, for the keys this version does not know
    bool dpi_given = false; // the file or a --set named how.dpi, so finer pages are brought to it

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

// Whether its documents are added to one file; see Ticket::Save::grows.
bool adds_to_file(const Ticket& ticket);
// How photographs differ from text, where the ticket leaves it to the page. `small`: a print up to 180 mm long.
int resolution_for(const Ticket::How& how, bool photograph, bool small);
inline constexpr double small_photograph_mm = 180;
// The format and files of a document, all of whose pages are photographs or not. Never Auto.
Ticket::Make make_for(const Ticket::Make& make, bool photographs);

// In which pages are read: `wished`, or whichever it is in ("auto") where the file would be empty without words.
std::vector<std::string> languages_for(const Ticket& ticket, const std::vector<std::string>& wished);

std::string_view format_key(Format format);       // "pdf", "jpeg", …
std::string_view format_words(Format format);     // "PDF", "JPEG", …
std::string_view format_extension(Format format); // "pdf", "jpg", …
std::string_view format_mime(Format format);      // "application/pdf", … (IANA's media types)
bool holds_many_pages(Format format);
bool is_pdf(Format format);                 // of either kind
bool takes_words(Format format);            // what was read can go into it
bool takes_words(const Ticket::Make& make); // … and does
bool is_made_of_words(Format format);       // it would be empty without them
std::optional<Format> format_of_key(std::string_view key);
std::vector<Format> all_formats(); // in the order of the table

}
