// Adding pages to PDFs made by other programs: cairo, LibreOffice, Ghostscript, QPDF, poppler, libtiff, Tesseract. QPDF
// and poppler examine them before and after.
#include "core/output/add_to_pdf.h"
#include "core/raster/image_file.h"
#include "core/saving/safe_file.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "support/drawn.h"
#include "support/support.h"

#include <cairo-pdf.h>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFNumberTreeObjectHelper.hh>
#include <qpdf/QPDFOutlineDocumentHelper.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include <poll.h>
#include <signal.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

// Pages with their numbers, bookmarks, and the labels i, ii, 1, 2 …
void draw_pdf(const fs::path& file, int pages) {
    cairo_surface_t* surface = cairo_pdf_surface_create(file.c_str(), 300, 400);
    cairo_t* cairo = cairo_create(surface);
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_TITLE, "Minutes");
    for (int i = 1; i <= pages; ++i) {
        cairo_pdf_surface_set_page_label(surface, i <= 2 ? std::string(static_cast<size_t>(i), 'i').c_str()
                                                         : std::to_string(i - 2).c_str());
        cairo_move_to(cairo, 40, 60);
        cairo_set_font_size(cairo, 20);
        cairo_show_text(cairo, fmt::format("Former {}", i).c_str());
        cairo_pdf_surface_add_outline(surface, CAIRO_PDF_OUTLINE_ROOT, fmt::format("Mark {}", i).c_str(),
                                      fmt::format("page={} pos=[0 0]", i).c_str(), CAIRO_PDF_OUTLINE_FLAG_OPEN);
        cairo_show_page(cairo);
    }
    cairo_destroy(cairo);
    cairo_surface_destroy(surface);
}

// A form with a field, signed if wanted.
void put_form_into(const fs::path& from, const fs::path& to, bool is_signed) {
    QPDF pdf;
    pdf.processFile(from.c_str());
    QPDFObjectHandle page = pdf.getAllPages().front();
    QPDFObjectHandle field = pdf.makeIndirectObject(QPDFObjectHandle::parse(fmt::format(
        "<< /Type /Annot /Subtype /Widget /Rect [20 20 120 40] /FT /{} /T (tenant) {} >>", is_signed ? "Sig" : "Tx",
        is_signed ? "/V << /Type /Sig /Filter /Adobe.PPKLite /Contents <00> /ByteRange [0 0 0 0] >>" : "/V (Heron)")));
    page.replaceKey("/Annots", QPDFObjectHandle::newArray({field}));
    QPDFObjectHandle form = QPDFObjectHandle::parse("<< >>");
    form.replaceKey("/Fields", QPDFObjectHandle::newArray({field}));
    pdf.getRoot().replaceKey("/AcroForm", pdf.makeIndirectObject(form));
    QPDFWriter writer(pdf, to.c_str());
    writer.write();
}

std::vector<std::string> pages_of_text(const fs::path& file, const std::string& password) {
    std::vector<std::string> pages;
    std::istringstream in(run({"pdftotext", "-opw", password, "-upw", password, file.string(), "-"}).out);
    for (std::string page; std::getline(in, page, '\f');)
        pages.push_back(page.substr(0, page.find_last_not_of("\n") + 1));
    return pages;
}

// Two pages, "Added 1" and "Added 2".
Result<std::vector<MadeFile>> add(const AddTo& to) {
    ReaderPool readers;
    SaveJob job;
    job.page_count = 2;
    job.folder = to.file.parent_path();
    job.add_to = to;
    job.ticket.make.bookmarks = true;
    job.page = [](size_t index) -> Result<std::optional<FinishedPage>> {
        TextLayer text{{}, 600, 800, "eng"};
        TextLine line{{}, {60, 100}, {300, 100}, 30, 8, "eng"};
        line.words.push_back({"Added", {60, 70, 100, 30}, 95});
        line.words.push_back({std::to_string(index + 1), {180, 70, 20, 30}, 95});
        text.lines.push_back(line);
        return std::optional(FinishedPage{Raster{cv::Mat(800, 600, CV_8UC1, cv::Scalar(255)), 150, Ink::Grey}, text});
    };
    return save_document(job, readers, {});
}

std::vector<std::string> titles(const nlohmann::json& outlines) {
    std::vector<std::string> all;
    for (const auto& each : outlines) {
        all.push_back(fmt::format("{}@{}", each["title"].get<std::string>(), each["destpageposfrom1"].dump()));
        for (const std::string& below : titles(each["kids"])) all.push_back(below);
    }
    return all;
}

nlohmann::json said(const fs::path& file, const std::string& password, const std::string& part) {
    const Ran ran = run({"qpdf", "--json=1", "--json-key=" + part, "--password=" + password, file.string()});
    return ran.out.empty() ? nlohmann::json() : nlohmann::json::parse(ran.out)[part];
}

struct Foreign {
    std::string name, password = {};
};

// Every PDF that could be made on this machine, by name.
class Foreigners {
  public:
    const TempFolder folder;
    std::vector<Foreign> all;

    Foreigners() {
        const auto at = [&](const std::string& name) { return (folder / (name + ".pdf")).string(); };
        draw_pdf(at("cairo"), 5);
        note("cairo");
        write_file(folder / "Rules.html",
                   "<html><head><title>Rules</title></head><body><h1>Former 1</h1><p>Words</p>"
                   "<h1 style='page-break-before:always'>Former 2</h1><p>More</p></body></html>");
        for (
            const auto& [name, options] :
            {std::pair<std::string, std::string>{
                 "tagged",
                 R"({"UseTaggedPDF":{"type":"boolean","value":"true"},"ExportBookmarks":{"type":"boolean","value":"true"}})"},
             {"office-archive", R"({"SelectPdfVersion":{"type":"long","value":"1"}})"}}) {
            run({"soffice", "-env:UserInstallation=file://" + (folder / "office").string(), "--headless",
                 "--convert-to", "pdf:writer_web_pdf_Export:" + options, "--outdir", folder.path().string(),
                 (folder / "Rules.html").string()});
            std::error_code ignored;
            fs::rename(folder / "Rules.pdf", at(name), ignored);
            note(name);
        }
        make("ghostscript", {"ps2pdf", at("cairo"), at("ghostscript")});
        make("ghostscript-office", {"ps2pdf", at("tagged"), at("ghostscript-office")});
        make("united", {"pdfunite", at("cairo"), at("tagged"), at("united")});
        make("attached", {"pdfattach", at("cairo"), (folder / "Rules.html").string(), at("attached")});
        run({"convert", "-size", "300x400", "-density", "72", "-units", "PixelsPerInch", "-depth", "8", "xc:white",
             (folder / "p.tif").string()});
        make("tiff2pdf", {"tiff2pdf", "-o", at("tiff2pdf"), (folder / "p.tif").string()});
        make("tesseract", {"tesseract", (folder / "p.tif").string(), (folder / "tesseract").string(), "pdf"});
        const auto qpdf = [&](const std::string& name, const std::string& from, std::vector<std::string> options,
                              const std::string& password = {}) {
            options.insert(options.begin(), "qpdf");
            options.insert(options.end(), {at(from), at(name)});
            make(name, options, password);
        };
        qpdf("linear", "cairo", {"--linearize"});
        qpdf("objects", "tagged", {"--object-streams=generate"});
        qpdf("plain", "tagged", {"--qdf", "--object-streams=disable"});
        qpdf("aes256", "tagged", {"--encrypt", "open", "owner", "256", "--"}, "owner");
        qpdf("aes256-opened", "cairo", {"--encrypt", "open", "owner", "256", "--"}, "open");
        qpdf("aes128", "tagged", {"--encrypt", "", "owner", "128", "--use-aes=y", "--"});
        qpdf("rc4", "cairo", {"--allow-weak-crypto", "--encrypt", "old", "owner", "128", "--use-aes=n", "--"}, "old");
        qpdf("linear-aes", "cairo", {"--linearize", "--encrypt", "open", "owner", "256", "--"}, "open");
        put_form_into(at("cairo"), at("form"), false);
        note("form");
        put_form_into(at("tagged"), at("tagged-form"), false);
        note("tagged-form");
        qpdf("turned", "cairo", {"--rotate=+90"});
    }

  private:
    void note(const std::string& name, const std::string& password = {}) {
        EXPECT_TRUE(fs::exists(folder / (name + ".pdf"))) << name;
        all.push_back({name, password});
    }
    void make(const std::string& name, const std::vector<std::string>& how, const std::string& password = {}) {
        const Ran ran = run(how);
        EXPECT_EQ(ran.status, 0) << name << ": " << ran.err;
        note(name, password);
    }
};

TEST(AddToPdf, PagesAreAddedAtTheirPlaceAndTheRestIsKept) {
    const Foreigners foreigners;
    EXPECT_GE(foreigners.all.size(), 20U);
    for (const Foreign& foreign : foreigners.all) {
        const fs::path before = foreigners.folder / (foreign.name + ".pdf");
        const auto former = pages_of_text(before, foreign.password);
        for (const std::optional<int> behind : {std::optional(0), std::optional(1), std::optional<int>()}) {
            SCOPED_TRACE(fmt::format("{} behind {}", foreign.name, behind.value_or(-1)));
            const TempFolder folder;
            const fs::path file = folder / "Growing.pdf";
            fs::copy_file(before, file);
            fs::permissions(file, fs::perms(0640));
            const auto made = add({file, behind, Secret(foreign.password)});
            ASSERT_TRUE(made) << made.error().sentence << made.error().detail;
            EXPECT_EQ(folder.files(), std::vector<std::string>{"Growing.pdf"});
            EXPECT_EQ(fs::status(file).permissions(), fs::perms(0640));
            const auto at = static_cast<std::ptrdiff_t>(behind.value_or(static_cast<int>(former.size())));
            auto expected = former;
            expected.insert(expected.begin() + at, {"Added 1", "Added 2"});
            EXPECT_EQ(pages_of_text(file, foreign.password), expected);
            EXPECT_EQ(made->front().pages, static_cast<int>(expected.size()));
            const Ran checked = run({"qpdf", "--check", "--password=" + foreign.password, file.string()});
            EXPECT_EQ(checked.status, 0) << checked.out << checked.err;
            // Bookmarks lead to the same pages as before, at their new positions.
            std::vector<std::string> marks;
            for (const std::string& mark : titles(said(before, foreign.password, "outlines"))) {
                const size_t split = mark.rfind('@');
                const int page = mark.substr(split + 1) == "null" ? 0 : std::stoi(mark.substr(split + 1));
                marks.push_back(page == 0 ? mark
                                          : fmt::format("{}@{}", mark.substr(0, split), page > at ? page + 2 : page));
            }
            EXPECT_EQ(titles(said(file, foreign.password, "outlines")), marks);
            const auto labels = [&](const fs::path& of) {
                std::vector<std::string> all;
                for (const auto& page : said(of, foreign.password, "pages")) all.push_back(page["label"].dump());
                return all;
            };
            auto labelled = labels(before);
            auto now = labels(file);
            if (behind) {
                now.erase(now.begin() + at, now.begin() + at + 2);
                EXPECT_EQ(now, labelled);
            }
            for (const char* part : {"attachments", "acroform"}) {
                auto was = said(before, foreign.password, part), is = said(file, foreign.password, part);
                if (part == std::string("acroform")) { // by their names and values; objects have other numbers
                    was = was.is_null() || was["fields"].empty() ? nlohmann::json() : was["fields"][0]["value"];
                    is = is.is_null() || is["fields"].empty() ? nlohmann::json() : is["fields"][0]["value"];
                } else {
                    was = was.size(), is = is.size();
                }
                EXPECT_EQ(was, is) << part;
            }
            const auto about = [&](const fs::path& of) {
                std::string kept;
                std::istringstream in(
                    run({"pdfinfo", "-opw", foreign.password, "-upw", foreign.password, of.string()}).out);
                for (std::string line; std::getline(in, line);)
                    for (const char* each : {"Title", "Creator", "Producer", "CreationDate", "Tagged", "Form",
                                             "Encrypted", "Optimized", "PDF subtype"})
                        if (line.starts_with(each)) kept += line + "\n";
                return kept;
            };
            EXPECT_EQ(about(file), about(before));
            const auto protection = [&](const fs::path& of) {
                return run({"qpdf", "--show-encryption", "--password=" + foreign.password, of.string()}).out;
            };
            EXPECT_EQ(protection(file), protection(before));
        }
    }
}

// The structure for screen readers continues from the old pages to the new ones.
TEST(AddToPdf, TagsOfTheNewPagesBelongToTheDocument) {
    const Foreigners foreigners;
    for (const auto& [behind, order] : {std::pair{std::optional<int>(), "Former 1|Words|Former 2|More|Added 1|Added 2"},
                                        {std::optional(1), "Former 1|Words|Added 1|Added 2|Former 2|More"},
                                        {std::optional(0), "Added 1|Added 2|Former 1|Words|Former 2|More"}}) {
        const TempFolder folder;
        const fs::path file = folder / "Growing.pdf";
        fs::copy_file(foreigners.folder / "tagged.pdf", file);
        const auto made = add({file, behind});
        ASSERT_TRUE(made) << made.error().sentence;
        const Ran text = run({"pdfinfo", "-struct-text", file.string()});
        std::string found;
        std::istringstream in(text.out);
        for (std::string line; std::getline(in, line);) {
            const size_t first = line.find('"'), last = line.rfind('"');
            if (first == std::string::npos || last == first) continue;
            std::string words = line.substr(first + 1, last - first - 1);
            while (words.ends_with(' ')) words.pop_back();
            found += (found.empty() ? "" : "|") + words;
        }
        EXPECT_EQ(found, order) << text.out << text.err;
        EXPECT_EQ(text.err, "");
    }
}

// ISO 32000-2, 14.7.5.4 and 12.3.3: a page's number in the parent tree leads to the elements of that page, and the
// items of the outline form one chain.
TEST(AddToPdf, NewPagesReferToTheirOwnElementsAndMarkedContentContinues) {
    const TempFolder folder;
    Ticket::Make make = make_as(Format::Pdf);
    make.bookmarks = true;
    fs::create_directory(folder / "more");
    const fs::path file = made_of(drawn_document(), folder.path(), make).value().front().path;
    const fs::path more = made_of(drawn_document(), folder / "more", make).value().front().path;
    const auto marks_in = [](const fs::path& pdf) {
        QPDF whole;
        whole.processFile(pdf.c_str());
        return QPDFOutlineDocumentHelper(whole).getTopLevelOutlines().size();
    };
    const size_t before = marks_in(file);
    ASSERT_GT(before, 0U);
    ASSERT_TRUE(add_to_pdf({file}, more));
    EXPECT_EQ(marks_in(file), 2 * before);
    QPDF whole;
    whole.processFile(file.c_str());
    QPDFObjectHandle tree = whole.getRoot().getKey("/StructTreeRoot").getKey("/ParentTree");
    QPDFNumberTreeObjectHelper numbers(tree, whole);
    std::set<long long> seen;
    ASSERT_EQ(whole.getAllPages().size(), 4U);
    for (QPDFObjectHandle page : whole.getAllPages()) {
        const long long number = page.getKey("/StructParents").getIntValue();
        EXPECT_TRUE(seen.insert(number).second) << number;
        QPDFObjectHandle elements;
        ASSERT_TRUE(numbers.findObject(number, elements)) << number;
        for (QPDFObjectHandle element : elements.getArrayAsVector())
            if (element.isDictionary() && element.getKey("/Pg").isDictionary()) {
                EXPECT_TRUE(element.getKey("/Pg").getObjGen() == page.getObjGen()) << number;
            }
    }
}

TEST(AddToPdf, AnUnusableFileIsReportedAndNotChanged) {
    const Foreigners foreigners;
    const TempFolder folder;
    const fs::path file = folder / "Growing.pdf";
    const auto refused = [&](const std::string& bytes, const AddTo& to, const char* part) {
        write_file(file, bytes);
        const auto made = add(to);
        ASSERT_FALSE(made) << part;
        EXPECT_NE(made.error().sentence.find(part), std::string::npos) << made.error().sentence;
        EXPECT_EQ(read_file(file), bytes);
        EXPECT_EQ(folder.files(), std::vector<std::string>{"Growing.pdf"});
    };
    const std::string whole = read_file(foreigners.folder / "cairo.pdf"),
                      locked = read_file(foreigners.folder / "aes256.pdf");
    refused("", {file}, "is damaged or not a PDF");
    refused("Not a PDF at all.", {file}, "is damaged or not a PDF");
    refused(whole.substr(0, whole.size() / 2), {file}, "is damaged or not a PDF");
    std::string broken = whole;
    broken.replace(broken.rfind("startxref") + 10, 3, "999");
    refused(broken, {file}, "is damaged or not a PDF");
    refused(locked, {file}, "is protected; enter its password");
    refused(locked, {file, {}, Secret("wrong")}, "Wrong password for");
    refused(whole, {file, 6}, "has 5 pages");
    run({"qpdf", "--encrypt", "", "owner", "256", "--modify=none", "--", (foreigners.folder / "cairo.pdf").string(),
         (foreigners.folder / "closed.pdf").string()});
    refused(read_file(foreigners.folder / "closed.pdf"), {file},
            "is protected against changes; enter its owner password");
    EXPECT_TRUE(add({file, {}, Secret("owner")}));
    put_form_into(foreigners.folder / "cairo.pdf", foreigners.folder / "signed.pdf", true);
    refused(read_file(foreigners.folder / "signed.pdf"), {file},
            "is digitally signed; a change would break the signature");
    EXPECT_TRUE(add({file, {}, {}, true}));
    fs::remove(file);
    const auto missing = add({file});
    ASSERT_FALSE(missing);
    EXPECT_NE(missing.error().sentence.find("is not a file that can be changed"), std::string::npos);
}

// The disk is full after so many bytes, wherever in the new file that is.
TEST(AddToPdf, AFullDiskIsReportedAndKeepsTheOldFile) {
    const TempFolder folder, more;
    draw_pdf(folder / "Growing.pdf", 40);
    draw_pdf(more / "more.pdf", 2);
    const std::string old = read_file(folder / "Growing.pdf");
    for (const size_t room : {size_t{1}, size_t{4096}, old.size() / 2}) {
        const pid_t child = ::fork();
        if (child == 0) {
            ::signal(SIGXFSZ, SIG_IGN);
            const rlimit limit{room, room};
            ::setrlimit(RLIMIT_FSIZE, &limit);
            const auto added = add_to_pdf({folder / "Growing.pdf"}, more / "more.pdf");
            const bool said = !added && added.error().sentence.find(folder.path().string()) != std::string::npos &&
                              added.error().sentence.find("could not be read back") == std::string::npos;
            ::_exit(said ? 0 : 1);
        }
        int status = -1;
        ::waitpid(child, &status, 0);
        EXPECT_EQ(status, 0) << room;
        EXPECT_TRUE(read_file(folder / "Growing.pdf") == old) << room;
        EXPECT_EQ(folder.files(), std::vector<std::string>{"Growing.pdf"});
    }
}

// The program is killed at twenty moments: the file is the old one or the new one.
TEST(AddToPdf, KillingTheProgramLeavesTheOldFileOrTheNewOne) {
    const TempFolder folder, more;
    constexpr int pages = 400;
    draw_pdf(folder / "old.pdf", pages);
    draw_pdf(more / "more.pdf", 2);
    const fs::path file = folder / "Growing.pdf";
    const std::string old = read_file(folder / "old.pdf");
    fs::remove(folder / "old.pdf");
    const auto begin_adding = [&] {
        write_file(file, old);
        const pid_t child = ::fork();
        if (child == 0) ::_exit(add_to_pdf({file}, more / "more.pdf") ? 0 : 1);
        return child;
    };
    const auto start = std::chrono::steady_clock::now();
    int status = -1;
    ::waitpid(begin_adding(), &status, 0);
    ASSERT_EQ(status, 0);
    const std::chrono::duration<double, std::milli> takes = std::chrono::steady_clock::now() - start;
    int still_old = 0, already_new = 0;
    // On a busy machine it takes longer than the first time, so later moments are tried until one is late enough.
    for (int moment = 0; moment < 20 || (already_new == 0 && moment < 200); ++moment) {
        const pid_t child = begin_adding();
        ::poll(nullptr, 0, static_cast<int>(takes.count() * moment / 18));
        ::kill(child, SIGKILL);
        ::waitpid(child, &status, 0);
        if (read_file(file) == old) {
            ++still_old;
            continue;
        }
        ++already_new;
        EXPECT_EQ(*count_pages(file), pages + 2);
        EXPECT_EQ(run({"qpdf", "--check", file.string()}).status, 0);
    }
    EXPECT_GT(still_old, 0);
    EXPECT_GT(already_new, 0);
    remove_left_behind(folder.path());
    EXPECT_EQ(folder.files(), std::vector<std::string>{"Growing.pdf"});
}

}
}
