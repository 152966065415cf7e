// What a finished file permits, what it says about itself and what is on its pages, as QPDF, poppler, libtiff and
// exiftool report it.
#include "core/output/protection.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "support/ink_on.h"

#include <fmt/format.h>

#include <atomic>

namespace yelvin::test {
namespace {

// A5 pages, each with a heading and a line.
FinishedPage plain_page(const std::string& word) {
    TextLayer layer{{}, 874, 1240, "eng"};
    int y = 300;
    for (const int size : {44, 20, 20, 20, 20}) {
        TextLine line{{}, {120.0, double(y)}, {600.0, double(y)}, double(size), size / 4.0, "eng"};
        line.words.push_back({size == 44 ? "Heading" : "Text", {120, y - size, 6 * size, size}, 95});
        line.words.push_back({word, {120 + 7 * size, y - size, 4 * size, size}, 95});
        layer.lines.push_back(line);
        y += 2 * size;
    }
    return {Raster{cv::Mat(1240, 874, CV_8UC1, cv::Scalar(255)), 150, Ink::Grey}, layer};
}

SaveJob job_of(const TempFolder& folder, size_t pages) {
    SaveJob job;
    job.page_count = pages;
    job.folder = folder.path();
    job.fixed_name = "Lease";
    job.date = std::chrono::year{2026} / 5 / 4;
    job.page = [](size_t index) -> Result<std::optional<FinishedPage>> {
        return std::optional(plain_page(fmt::format("n{}", index + 1)));
    };
    return job;
}

Result<std::vector<MadeFile>> saved(const SaveJob& job) {
    ReaderPool readers;
    return save_document(job, readers, {});
}

// ISO 32000-2, table 22, as `qpdf --show-encryption` reads it back.
TEST(Finish, EveryPermissionFlagCanBeSetAndCleared) {
    using Print = Permissions::Print;
    for (const bool opens : {false, true})
        for (const Print print : {Print::None, Print::Coarse, Print::Full})
            for (const bool change : {false, true})
                for (const bool copy : {false, true}) {
                    const TempFolder folder;
                    SaveJob job = job_of(folder, 1);
                    job.ticket.make.password = opens;
                    job.ticket.make.permissions = {print, change, copy};
                    job.passwords = {opens ? Secret("Öffne dich") : Secret(), Secret("the owner's")};
                    const auto made = saved(job);
                    ASSERT_TRUE(made) << made.error().sentence;
                    const std::string file = made->front().path.string();
                    const Ran locked = run({"qpdf", "--requires-password", file});
                    EXPECT_EQ(locked.status, opens ? 0 : 3) << "opens without one";
                    const std::string user = opens ? "Öffne dich" : "";
                    const auto shown = run({"qpdf", "--show-encryption", "--password=" + user, file}).out;
                    const auto says = [&](const char* what, bool allowed) {
                        EXPECT_NE(shown.find(std::string(what) + (allowed ? ": allowed" : ": not allowed")),
                                  std::string::npos)
                            << what << "\n"
                            << shown;
                    };
                    says("extract for accessibility", true);
                    says("extract for any purpose", copy);
                    says("print low resolution", print != Print::None);
                    says("print high resolution", print == Print::Full);
                    for (const char* each : {"modify document assembly", "modify forms", "modify annotations",
                                             "modify other", "modify anything"})
                        says(each, change);
                    EXPECT_NE(shown.find("R = 6"), std::string::npos);
                    EXPECT_NE(shown.find("file encryption method: AESv3"), std::string::npos);
                    const auto about = run({"pdfinfo", "-upw", user, file});
                    EXPECT_NE(about.out.find("Encrypted:       yes"), std::string::npos) << about.err;
                    EXPECT_NE(about.out.find("AES-256"), std::string::npos) << about.out;
                    const auto flag = [&](const char* what, bool allowed) {
                        EXPECT_NE(about.out.find(std::string(what) + (allowed ? ":yes" : ":no")), std::string::npos)
                            << what << about.out;
                    };
                    flag("print", print != Print::None);
                    flag("copy", copy);
                    flag("change", change);
                    flag("addNotes", change);
                }
}

TEST(Finish, IneffectiveProtectionIsRejectedWithTheReason) {
    const TempFolder folder;
    const auto refused = [&](const std::function<void(SaveJob&)>& how) {
        SaveJob job = job_of(folder, 1);
        how(job);
        const auto made = saved(job);
        EXPECT_FALSE(made);
        EXPECT_TRUE(folder.files().empty());
        return made ? std::string() : made.error().sentence;
    };
    const auto has = [](const std::string& sentence, const char* part) {
        EXPECT_NE(sentence.find(part), std::string::npos) << sentence;
    };
    has(refused([](SaveJob& job) { job.ticket.make.permissions.copy = false; }), "Without an owner password");
    has(refused([](SaveJob& job) {
            job.ticket.make.permissions.copy = false;
            job.passwords = {Secret("same"), Secret("same")};
        }),
        "Both passwords are the same");
    has(refused([](SaveJob& job) { job.ticket.make.password = true; }), "none was entered");
    has(refused([](SaveJob& job) { job.passwords.open = Secret(std::string(128, 'a')); }), "longer than 127 bytes");
    for (const auto& [format, part] : {std::pair{Format::PdfA, "An archive PDF"}, {Format::Jpeg, "The format JPEG"}})
        has(refused([format = format](SaveJob& job) {
                job.ticket.make.format = format;
                job.passwords.open = Secret("open");
            }),
            part);
    has(refused([](SaveJob& job) { // nor is a copy left open beside a locked file
            job.passwords.open = Secret("open");
            job.ticket.make.also = {{Format::Tiff, {}, 0, {}}};
        }),
        "The format TIFF");
}

TEST(Finish, OnlyTheChosenPropertiesAreSaved) {
    const TempFolder folder;
    SaveJob job = job_of(folder, 2);
    job.ticket.read.languages = {"eng"};
    ASSERT_TRUE(saved(job));
    const auto said = [&](const std::string& name) { return run({"pdfinfo", (folder / name).string()}).out; };
    for (const char* none : {"Author:", "Subject:", "Keywords:", "Producer:"})
        EXPECT_EQ(said("Lease.pdf").find(none), std::string::npos) << said("Lease.pdf");
    EXPECT_NE(said("Lease.pdf").find("Title:           Lease\n"), std::string::npos);

    Properties& all = job.ticket.make.properties;
    all.title = {{NamePart::Kind::Words, "Über: \"a\" & <b>"}, {NamePart::Kind::Date, "dd.mm.yyyy"}};
    all.author = {{NamePart::Kind::Words, "Harriet Quillfeather"}};
    all.subject = {{NamePart::Kind::Heading, "", 3, 2}, {NamePart::Kind::Barcode, ""}};
    all.keywords = {{NamePart::Kind::Words, "lease, basin"}};
    job.barcode = "Top Lock";
    struct Kind {
        Format format;
        const char *ending, *part; // of a package
    };
    for (const auto& [format, ending, part] : {Kind{Format::Pdf, "pdf", ""},
                                               {Format::Docx, "docx", "docProps/core.xml"},
                                               {Format::Odt, "odt", "meta.xml"},
                                               {Format::Html, "html", ""},
                                               {Format::Epub, "epub", "EPUB/package.opf"}}) {
        job.ticket.make.format = format;
        job.fixed_name = std::string("All ") + ending;
        const auto made = saved(job);
        ASSERT_TRUE(made) << made.error().sentence;
        std::string bytes = run({"exiftool", "-charset", "utf8", made->front().path.string()}).out;
        if (*part)
            bytes =
                run({"/usr/bin/python3", "-c",
                     "import sys, zipfile; sys.stdout.write(zipfile.ZipFile(sys.argv[1]).read(sys.argv[2]).decode())",
                     made->front().path.string(), part})
                    .out;
        for (const char* words : {"04.05.2026", "Harriet Quillfeather", "Heading n1 Top Lock", "lease, basin"})
            EXPECT_NE(bytes.find(words), std::string::npos) << ending << " " << words << "\n" << bytes;
    }
    EXPECT_NE(said("All pdf.pdf").find("Title:           Über: \"a\" & <b> 04.05.2026\n"), std::string::npos);
    all.title.emplace(); // left out
    job.ticket.make.format = Format::Pdf;
    job.fixed_name = "Untitled";
    ASSERT_TRUE(saved(job));
    EXPECT_EQ(said("Untitled.pdf").find("Title:"), std::string::npos);
}

// In PDFs the words are found at their places; in pictures they are visible at the same places.
TEST(Finish, AStampIsInItsPlaceInEveryFormat) {
    const SizeMm a5{874 * 25.4 / 150, 1240 * 25.4 / 150};
    for (const bool turned : {false, true})
        for (const auto at : {Stamp::At::TopLeft, Stamp::At::Top, Stamp::At::TopRight, Stamp::At::BottomLeft,
                              Stamp::At::Bottom, Stamp::At::BottomRight}) {
            SCOPED_TRACE(fmt::format("{} {}", static_cast<int>(at), turned));
            const TempFolder folder;
            SaveJob job = job_of(folder, 1);
            job.page = [](size_t) -> Result<std::optional<FinishedPage>> {
                return std::optional(
                    FinishedPage{Raster{cv::Mat(1240, 874, CV_8UC3, cv::Scalar::all(255)), 150, Ink::Colour}, {}});
            };
            job.ticket.read.languages.clear();
            job.ticket.make.stamp = {
                {{NamePart::Kind::Words, "Copy of"}, {NamePart::Kind::Date, "dd.mm.yyyy"}}, at, 12, "#400000", turned};
            job.ticket.make.also = {{Format::Png, {}, 0, {}}, {Format::Tiff, Ink::Black, 0, {}}};
            const auto made = saved(job);
            ASSERT_TRUE(made) << made.error().sentence;
            const cv::Rect2d in_pdf = ink_on(made->at(0).path, 1, folder);
            for (const size_t other : {1U, 2U}) {
                const auto page = read_page(made->at(other).path);
                ASSERT_TRUE(page);
                cv::Mat grey = page->raster.pixels, points;
                if (grey.channels() == 3) cv::cvtColor(grey, grey, cv::COLOR_BGR2GRAY);
                cv::findNonZero(grey < 128, points);
                const cv::Rect box = cv::boundingRect(points);
                constexpr double pixel = 25.4 / 150;
                EXPECT_NEAR(box.x * pixel, in_pdf.x, 0.35);
                EXPECT_NEAR(box.y * pixel, in_pdf.y, 0.35);
                EXPECT_NEAR(box.width * pixel, in_pdf.width, 0.5);
                EXPECT_NEAR(box.height * pixel, in_pdf.height, 0.5);
            }
            EXPECT_EQ(in_pdf.height > in_pdf.width, turned);
            const double from_left = in_pdf.x, from_right = a5.width - in_pdf.br().x, from_top = in_pdf.y,
                         from_bottom = a5.height - in_pdf.br().y;
            const bool middle = at == Stamp::At::Top || at == Stamp::At::Bottom;
            const bool at_left = at == Stamp::At::TopLeft || at == Stamp::At::BottomLeft,
                       at_top = at == Stamp::At::TopLeft || at == Stamp::At::TopRight;
            if (turned) {
                EXPECT_NEAR(at_left || at == Stamp::At::Top ? from_left : from_right, 8, 1.5);
            } else {
                EXPECT_NEAR(middle ? from_left - from_right : (at_left ? from_left : from_right) - 8, 0, 1.5);
            }
            const double up = turned && middle                 ? from_top - from_bottom
                              : at_top || at == Stamp::At::Top ? from_top - 8
                                                               : from_bottom - 8;
            EXPECT_NEAR(up, 0, 2);
            const auto words = words_of_pdf(made->front().path);
            ASSERT_EQ(words.size(), 3U);
            EXPECT_EQ(words[2].text, "04.05.2026");
        }
}

TEST(Finish, TheStampCountsSavedPagesAndContinuesAcrossDocuments) {
    const TempFolder folder;
    SaveJob job = job_of(folder, 12);
    job.workers = 4;
    job.first_stamp = 41;
    const auto page = job.page;
    job.page = [page](size_t index) -> Result<std::optional<FinishedPage>> {
        return index % 3 == 1 ? std::optional<FinishedPage>() : page(index); // left out, as blank ones are
    };
    job.ticket.make.stamp.parts = {{NamePart::Kind::Words, "Basin"}, {NamePart::Kind::Counter, "", 3}};
    const auto made = saved(job);
    ASSERT_TRUE(made) << made.error().sentence;
    std::string numbers;
    for (const PrintedWord& word : words_of_pdf(made->front().path))
        if (word.text.starts_with("04")) numbers += word.text + " ";
    EXPECT_EQ(numbers, "041 042 043 044 045 046 047 048 ");
    // The stamp is visible beside the invisible text, and is not in the text of the page.
    const cv::Rect2d seen = ink_on(made->front().path, 3, folder);
    EXPECT_NEAR(seen.width, 15, 3);
    EXPECT_NEAR(seen.br().x, 874 * 25.4 / 150 - 8, 1);
    const auto words = words_of_pdf(made->front().path);
    const auto stamped = std::ranges::find(words, "Basin", &PrintedWord::text);
    ASSERT_NE(stamped, words.end());
    EXPECT_NEAR(stamped->box.width, 9, 2);
    // All stamps use one font.
    const auto fonts = run({"pdffonts", made->front().path.string()}).out;
    EXPECT_EQ(fonts.find("LiberationSans"), fonts.rfind("LiberationSans")) << fonts;
}

TEST(Finish, FurtherFilesAreMadeOfTheSamePagesInOnePass) {
    const TempFolder folder, archive;
    SaveJob job = job_of(folder, 3);
    std::atomic<int> asked = 0;
    const auto page = job.page;
    job.page = [&](size_t index) { return ++asked, page(index); };
    job.ticket.read.languages = {"eng"};
    job.ticket.make.also = {{Format::Tiff, Ink::Black, 75, archive.path().string()},
                            {Format::Pdf, {}, 100, archive.path().string()},
                            {Format::Jpeg, {}, 0, {}}};
    const auto made = saved(job);
    ASSERT_TRUE(made) << made.error().sentence;
    EXPECT_EQ(asked, 3);
    ASSERT_EQ(made->size(), 6U);
    EXPECT_EQ(folder.files(), (std::vector<std::string>{"Lease (2).jpg", "Lease (3).jpg", "Lease.jpg", "Lease.pdf"}));
    EXPECT_EQ(archive.files(), (std::vector<std::string>{"Lease.pdf", "Lease.tif"}));
    EXPECT_EQ(made->front().path, folder / "Lease.pdf");
    const auto tiff = run({"tiffinfo", (archive / "Lease.tif").string()}).out;
    EXPECT_NE(tiff.find("Resolution: 75, 75"), std::string::npos) << tiff;
    EXPECT_NE(tiff.find("CCITT Group 4"), std::string::npos) << tiff;
    // The words of the smaller file are where those of the full one are.
    const auto fine = words_of_pdf(folder / "Lease.pdf"), coarse = words_of_pdf(archive / "Lease.pdf");
    ASSERT_EQ(fine.size(), coarse.size());
    ASSERT_EQ(fine.size(), 30U);
    for (size_t i = 0; i < fine.size(); ++i) {
        EXPECT_EQ(fine[i].text, coarse[i].text);
        EXPECT_NEAR(fine[i].box.x, coarse[i].box.x, 0.3);
        EXPECT_NEAR(fine[i].box.y, coarse[i].box.y, 0.3);
    }
    // All files are saved, or none.
    job.fixed_name = "Other";
    job.page = [page](size_t index) -> Result<std::optional<FinishedPage>> {
        if (index == 2) return fail(ErrorKind::BadInput, "Page three is gone.");
        return page(index);
    };
    EXPECT_FALSE(saved(job));
    EXPECT_EQ(folder.files().size(), 4U);
    EXPECT_EQ(archive.files().size(), 2U);
    job.ticket.make.also[0].folder = (archive / "nowhere").string();
    EXPECT_FALSE(saved(job));
    EXPECT_EQ(folder.files().size(), 4U);
}

}
}
