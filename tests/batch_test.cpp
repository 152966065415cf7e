// yelvin-batch from outside: what it prints, which files it writes, and its exit status.
#include "core/raster/image_file.h"
#include "support/batch.h"
#include "support/pieces.h"

#include <fmt/format.h>

namespace yelvin::test {
namespace {

std::string scanned_png(const TempFolder& folder, const std::string& name, const std::string& paper, double angle,
                        double dpi = 150) {
    const auto file = folder / name;
    write_file(file, *encode_png(scan(paper, angle, dpi, Ink::Colour)));
    return file.string();
}

TEST(Batch, SavesValidFilesAndReportsEachInvalidOneInOneSentence) {
    const TempFolder folder, out;
    const std::string good = scanned_png(folder, "good.png", "till-receipt", 0),
                      second = scanned_png(folder, "second.png", "membership-card-back", 0);
    write_file(folder / "cut.png", read_file(good).substr(0, 5000));
    write_file(folder / "zero.png", "");
    write_file(folder / "text.png", "just words\n");
    write_file(folder / "dot.png", *encode_png({cv::Mat(1, 1, CV_8UC1, cv::Scalar(0)), 300, Ink::Grey}));
    ASSERT_EQ(run({"tiff2pdf", "-o", (folder / "plain.pdf").string(),
                   [&] {
                       write_file(folder / "t.tif", *encode_tiff(scan("till-receipt", 0, 75, Ink::Grey)));
                       return (folder / "t.tif").string();
                   }()})
                  .status,
              0);
    ASSERT_EQ(run({"qpdf", "--encrypt", "a", "b", "256", "--", (folder / "plain.pdf").string(),
                   (folder / "locked.pdf").string()})
                  .status,
              0);

    const Ran ran =
        batch({"make", "--out", out.path().string(), "--set", "save.name=Receipts", good, (folder / "cut.png").string(),
               (folder / "zero.png").string(), (folder / "text.png").string(), (folder / "dot.png").string(),
               (folder / "locked.pdf").string(), second});
    EXPECT_EQ(ran.status, 1);
    const auto errors = lines(ran.err);
    ASSERT_EQ(errors.size(), 5U) << ran.err;
    for (const char* name : {"cut.png", "zero.png", "text.png", "dot.png", "locked.pdf"}) {
        EXPECT_EQ(std::ranges::count_if(errors,
                                        [&](const std::string& line) {
                                            return line.find(name) != std::string::npos && line.ends_with('.');
                                        }),
                  1)
            << name << "\n"
            << ran.err;
    }
    const auto made = lines(ran.out);
    ASSERT_EQ(made.size(), 1U) << ran.out;
    const json file = json::parse(made[0]);
    EXPECT_EQ(file["format"], "pdf");
    EXPECT_EQ(file["pages"], 2);
    EXPECT_EQ(file["path"], (out / "Receipts.pdf").string());
    EXPECT_EQ(file["bytes"], std::filesystem::file_size(out / "Receipts.pdf"));
    const Ran text = run({"pdftotext", (out / "Receipts.pdf").string(), "-"});
    EXPECT_NE(text.out.find("LOCKSIDE"), std::string::npos) << text.out;
    EXPECT_NE(text.out.find("showers"), std::string::npos) << text.out;
}

TEST(Batch, UsesTheNextNumberInsteadOfReplacing) {
    const TempFolder folder, out;
    const std::string page = scanned_png(folder, "page.png", "till-receipt", 0, 75);
    for (int i = 0; i < 2; ++i)
        EXPECT_EQ(batch({"make", "--out", out.path().string(), "--set", "read.languages=[]", "--set",
                         R"(save.name=[{"words":"Till"},{"counter":2}])", page})
                      .status,
                  0);
    EXPECT_EQ(out.files(), (std::vector<std::string>{"Till 01.pdf", "Till 02.pdf"}));
}

TEST(Batch, TakesATicketAndItsSettings) {
    const TempFolder folder, out;
    const std::string page = scanned_png(folder, "page.png", "lease-2", 0);
    write_file(
        folder / "ticket.json",
        R"({"yelvin_ticket": 1, "name": "x", "how": {"ink": "black"}, "read": {"languages": []}, "make": {"format": "tiff"}, "save": {"name": [{"words": "T"}]}})");
    ASSERT_EQ(batch({"make", "--ticket", (folder / "ticket.json").string(), "--out", out.path().string(), page}).status,
              0);
    EXPECT_EQ(read_page(out / "T.tif")->raster.ink, Ink::Black);
    ASSERT_EQ(batch({"make", "--ticket", (folder / "ticket.json").string(), "--set", "make.format=png", "--set",
                     "how.dpi=75", "--set", "how.ink=colour", "--out", out.path().string(), page})
                  .status,
              0);
    const auto png = read_page(out / "T.png");
    EXPECT_EQ(png->raster.ink, Ink::Colour);
    EXPECT_EQ(png->raster.dpi, 75);
    EXPECT_EQ(png->raster.width_px(), scanned_px(210, 75));
}

// Without corrections every pixel of the input is in the output.
TEST(Batch, APageWithoutCorrectionsKeepsEveryPixel) {
    const TempFolder folder, out;
    const std::string page = scanned_png(folder, "page.png", "photo-top-lock", 3, 100);
    for (const char* format : {"png", "tiff"}) {
        ASSERT_EQ(batch({"make", "--out", out.path().string(), "--set", "pages.straighten=false", "--set",
                         "pages.turn_upright=false", "--set", "how.ink=colour", "--set",
                         std::string("make.format=") + format, "--set", "save.name=same", page})
                      .status,
                  0);
    }
    const auto before = read_page(page);
    for (const char* name : {"same.png", "same.tif"})
        EXPECT_EQ(cv::norm(read_page(out / name)->raster.pixels, before->raster.pixels, cv::NORM_INF), 0) << name;
}

// A scanned PDF is made searchable with the unchanged bytes of its pictures, as poppler's pdfimages extracts them. If
// the page is changed or a smaller file is asked for, they are encoded again.
TEST(Batch, AScannedPdfKeepsItsPicturesUnderNewText) {
    const TempFolder folder;
    write_file(folder / "black.tif", *encode_tiff(scan("lease-1", 0, 200, Ink::Black)));
    write_file(folder / "grey.tif", *encode_tiff(scan("invoice", 0, 150, Ink::Grey), TiffCoding::Jpeg, 70));
    const auto bytes_in = [&](const std::string& pdf, const std::string& suffix) {
        run({"pdfimages", "-all", pdf, (folder / "picture").string()});
        return read_file(folder / ("picture-000." + suffix));
    };
    for (const auto& [name, suffix] : {std::pair<std::string, std::string>("black", "ccitt"), {"grey", "jpg"}}) {
        const std::string from = (folder / (name + ".pdf")).string();
        ASSERT_EQ(run({"tiff2pdf", "-o", from, (folder / (name + ".tif")).string()}).status, 0);
        const std::string before = bytes_in(from, suffix);
        ASSERT_GT(before.size(), 1000U) << name;
        const auto made_with = [&](const std::string& setting) {
            const TempFolder out;
            const Ran ran = batch({"make", "--out", out.path().string(), "--set", "save.name=Made", "--set",
                                   "pages.straighten=false", "--set", setting, from});
            EXPECT_EQ(ran.status, 0) << ran.err;
            if (setting == "read.languages=eng") {
                EXPECT_GT(words_of_pdf(out / "Made.pdf").size(), 40U) << name;
            }
            return bytes_in((out / "Made.pdf").string(), suffix);
        };
        EXPECT_TRUE(made_with("read.languages=eng") == before) << name << " as it came";
        EXPECT_FALSE(made_with("pages.adjust.specks_mm=0.5") == before && name == "grey") << name << " corrected";
        if (name == "grey") {
            EXPECT_FALSE(made_with("make.jpeg_quality=40") == before) << "smaller";
        }
    }
}

TEST(Batch, InspectsPages) {
    const TempFolder folder;
    const std::string tilted = scanned_png(folder, "tilted.png", "lease-1", 182.4),
                      photo = scanned_png(folder, "photo.png", "photo-top-lock", 0, 100);
    write_file(folder / "blank.png", *encode_png({cv::Mat(1200, 850, CV_8UC1, cv::Scalar(243)), 100, Ink::Grey}));
    const Ran ran =
        batch({"inspect", tilted, photo, (folder / "blank.png").string(), (folder / "absent.png").string()});
    EXPECT_EQ(ran.status, 1);
    EXPECT_EQ(lines(ran.err).size(), 1U) << ran.err;
    const json pages = json::parse(ran.out);
    ASSERT_EQ(pages.size(), 3U);
    EXPECT_EQ(pages[0]["file"], tilted);
    EXPECT_EQ(pages[0]["page"], 1);
    EXPECT_EQ(pages[0]["width_px"], scanned_px(210, 150));
    EXPECT_EQ(pages[0]["dpi"], 150);
    EXPECT_NEAR(pages[0]["tilt_degrees"].get<double>(), 2.4, 0.1);
    EXPECT_EQ(pages[0]["turn"], 180);
    EXPECT_EQ(pages[0]["kind"], "text");
    EXPECT_FALSE(pages[0]["blank"].get<bool>());
    EXPECT_EQ(pages[1]["ink"], "colour");
    EXPECT_EQ(pages[1]["kind"], "photo");
    ASSERT_EQ(pages[1]["regions"].size(), 1U);
    EXPECT_NEAR(pages[1]["regions"][0]["w_mm"].get<double>(), 150, 1.5);
    EXPECT_TRUE(pages[2]["blank"].get<bool>());
    EXPECT_EQ(pages[2]["ink_percent"], 0);
}

// Each item on the glass becomes a page and a file of its own, or all of it one page; the format depends on the
// contents.
TEST(Batch, AutomaticFormatIsPdfForTextAndJpegForPhotographs) {
    const TempFolder folder, out;
    const auto png = [&](const std::string& name, RectMm area) {
        const auto file = folder / (name + ".png");
        write_file(file, *encode_png(scan(name, 0, 150, Ink::Colour, area)));
        return file.string();
    };
    const RectMm inside{35, 102, 140, 92}; // of the print as it lies in the middle of the glass
    const std::string photo = png("photo-top-lock", inside), letter = png("lease-1", a4_area);
    const std::vector<std::string> make{"make",
                                        "--out",
                                        out.path().string(),
                                        "--set",
                                        "make.format=auto",
                                        "--set",
                                        "read.languages=[]",
                                        "--set",
                                        "pages.turn_upright=false"};
    const auto formats = [&](std::vector<std::string> inputs) {
        std::vector<std::string> arguments = make;
        arguments.insert(arguments.end(), inputs.begin(), inputs.end());
        std::string all;
        for (const std::string& line : lines(batch(arguments).out))
            all += json::parse(line)["format"].get<std::string>() + " ";
        return all;
    };
    EXPECT_EQ(formats({photo}), "jpeg ");
    EXPECT_EQ(formats({letter}), "pdf ");
    EXPECT_EQ(formats({photo, letter}), "pdf ") << "one document of both";
    EXPECT_EQ(formats({photo, photo}), "jpeg jpeg ");
}

TEST(Batch, TheHandbookHasAnExampleOfEveryCommand) {
    const std::string handbook =
        read_file(std::filesystem::path(YELVIN_SOURCES).parent_path() / "docs/handbook/command-line.md");
    const std::string help = batch({"--help"}).out;
    const auto list = help.find("Subcommands:");
    ASSERT_NE(list, std::string::npos) << help;
    size_t commands = 0;
    for (const std::string& line : lines(help.substr(list))) {
        if (!line.starts_with("  ") || line[2] == ' ') continue;
        const std::string command = line.substr(2, line.find(' ', 2) - 2);
        EXPECT_NE(handbook.find("yelvin-batch " + command + " "), std::string::npos) << command;
        ++commands;
    }
    EXPECT_GE(commands, 12U);
}

TEST(Batch, ReportsWrongUsageAndFailures) {
    const TempFolder folder, out;
    const std::string page = scanned_png(folder, "page.png", "till-receipt", 0, 75);
    EXPECT_EQ(batch({}).status, 2);
    EXPECT_EQ(batch({"make"}).status, 2);
    EXPECT_EQ(batch({"fly", "--out", "x"}).status, 2);
    EXPECT_EQ(batch({"make", "--out", out.path().string(), "--set", "how.dots=3", page}).status, 2);
    EXPECT_EQ(batch({"--help"}).status, 0);
    const std::pair<std::vector<std::string>, const char*> impossible[] = {
        {{"make", "--out", page, page}, "is a file, not a folder"},
        {{"make", "--out", out.path().string(), "--set", "how.dpi=3", page}, "how.dpi is 3"},
        {{"make", "--out", out.path().string(), "--set", R"(read.languages=["xyz"])", page}, "\"xyz\""},
        {{"make", "--out", out.path().string(), (folder / "nothing.png").string()}, "does not exist"},
        {{"make", "--out", out.path().string(), "--ticket", page, page}, "not valid JSON"},
        {{"scan", "--device", "Nobody's scanner", "--out", out.path().string()}, "no scanner \"Nobody's scanner\""},
        {{"scan", "--device", "Simulated feeder", "--set", "from.source=feeder-both", "--out", out.path().string()},
         "Simulated feeder has no feeder-both; use --set from.source=feeder-front"},
        {{"scan", "--device", "simulated", "--set", "from.source=feeder-both", "--out", out.path().string()},
         "The feeder of Simulated scanner is empty"},
    };
    for (const auto& [arguments, words] : impossible) {
        const Ran ran = batch(arguments);
        EXPECT_EQ(ran.status, 1) << words;
        EXPECT_EQ(lines(ran.err).size(), 1U) << ran.err;
        EXPECT_NE(ran.err.find(words), std::string::npos) << ran.err;
        EXPECT_TRUE(ran.out.empty()) << ran.out;
    }
    EXPECT_TRUE(out.files().empty());
}

// libsane's test backend scans a stack by a ticket file: blank sides are left out, and documents are divided at
// separator sheets and named by them. Without corrections in the ticket, every kind of page is unchanged pixel by
// pixel, whatever its size.
TEST(Batch, AppliesOnlyTheCorrectionsOfTheTicket) {
    const TempFolder folder, out, plain;
    const std::string minutes = scanned_png(folder, "minutes.png", "minutes-punched", 0, 100);
    const Ran corrected = batch({"make", "--out", out.path().string(), "--set", "make.format=png", "--set",
                                 "pages.adjust.punch_holes=true", "--set", "pages.adjust.brightness=-10", "--set",
                                 "how.ink=colour", "--set", "save.name=minutes", minutes});
    ASSERT_EQ(corrected.status, 0) << corrected.err;
    const Raster before = read_page(minutes)->raster,
                 after = read_page(json::parse(lines(corrected.out)[0])["path"].get<std::string>())->raster;
    ASSERT_EQ(after.pixels.size(), before.pixels.size());
    const cv::Point hole(static_cast<int>(mm_to_px(12, 100)), static_cast<int>(mm_to_px(108.5, 100)));
    EXPECT_LT(before.pixels.at<cv::Vec3b>(hole)[1], 110);
    EXPECT_GT(after.pixels.at<cv::Vec3b>(hole)[1], 190);
    const cv::Point paper(500, 1100);
    EXPECT_NEAR(after.pixels.at<cv::Vec3b>(paper)[1], before.pixels.at<cv::Vec3b>(paper)[1] - 12.7, 4);

    int number = 0;
    for (const Ink ink : {Ink::Colour, Ink::Grey, Ink::Black}) {
        Raster odd{noisy(301 + number, 417, ink == Ink::Colour ? CV_8UC3 : CV_8UC1, 5), 240, ink};
        if (ink == Ink::Black) odd.pixels = (odd.pixels > 127);
        const auto file = folder / ("odd-" + std::to_string(number) + ".png");
        write_file(file, *encode_png(odd));
        for (const char* format : {"png", "tiff"}) {
            const Ran made = batch({"make", "--out", plain.path().string(), "--set",
                                    std::string("make.format=") + format, "--set", "how.ink=colour", file.string()});
            ASSERT_EQ(made.status, 0) << made.err;
            const Raster back = read_page(json::parse(lines(made.out)[0])["path"].get<std::string>())->raster;
            ASSERT_EQ(back.pixels.size(), odd.pixels.size());
            ASSERT_EQ(back.pixels.channels(), odd.pixels.channels());
            EXPECT_EQ(cv::norm(back.pixels, odd.pixels, cv::NORM_INF), 0) << format << " " << ink_word(ink);
            EXPECT_NEAR(back.dpi, 240, 0.1);
        }
        ++number;
    }
    const Ran wrong = batch({"make", "--out", out.path().string(), "--set", "pages.adjust.sharpen=9999", minutes});
    EXPECT_NE(wrong.status, 0);
    EXPECT_NE(wrong.err.find("pages.adjust.sharpen"), std::string::npos);
}

// The promised output: the size, the resolution, and for each piece a 3x3 matrix from its pixels to those of the
// result, or a reason.
TEST(Batch, StitchesPiecesAndNamesWhatDoesNotBelong) {
    const TempFolder folder;
    const PieceSet set = laid_in_pieces(folder.path(), "map", ObjectKind::Drawing, 7, {.columns = 2, .rows = 2});
    std::vector<std::string> files;
    for (size_t i = 0; i < set.pieces.size(); ++i) {
        files.push_back((folder / fmt::format("piece-{}.png", i)).string());
        write_file(files.back(), *encode_png(set.pieces[i].raster));
    }
    const std::string stranger = scanned_png(folder, "stranger.png", "till-receipt", 2);
    write_file(folder / "broken.png", read_file(stranger).substr(0, 4000));
    const std::string out = (folder / "whole.png").string();
    std::vector<std::string> call{"stitch", files[2], files[0], stranger, (folder / "broken.png").string(),
                                  files[3], files[1], "--out",  out};
    const Ran ran = batch(call);
    EXPECT_EQ(ran.status, 1) << "two could not be used";
    EXPECT_EQ(lines(ran.err).size(), 2U) << ran.err;
    const json said = json::parse(ran.out);
    const auto picture = read_page(out);
    ASSERT_TRUE(picture);
    EXPECT_EQ(said["width_px"], picture->raster.width_px());
    EXPECT_EQ(said["height_px"], picture->raster.height_px());
    EXPECT_EQ(said["dpi"], 150);
    EXPECT_NEAR(picture->raster.dpi, 150, 0.1);
    ASSERT_EQ(said["pieces"].size(), 5U);
    EXPECT_EQ(said["pieces"][2]["file"], stranger);
    EXPECT_FALSE(said["pieces"][2].contains("matrix"));
    EXPECT_FALSE(said["pieces"][2]["reason"].get<std::string>().empty());
    EXPECT_GE(said["seams"].size(), 4U);
    for (const json& seam : said["seams"]) EXPECT_GT(seam["quality"].get<double>(), 0.9) << seam;
    // The pixels of a piece are where its matrix says, in the written picture.
    const std::vector<size_t> order{2, 0, 99, 3, 1};
    for (size_t k : {0U, 1U, 3U, 4U}) {
        const json& m = said["pieces"][k]["matrix"];
        const cv::Mat& piece = set.pieces[order[k]].raster.pixels;
        double off = 0;
        int count = 0;
        for (int y = piece.rows / 3; y < piece.rows * 2 / 3; y += 7) {
            for (int x = piece.cols / 3; x < piece.cols * 2 / 3; x += 7) {
                const auto to = [&](int row) {
                    return m[row][0].get<double>() * x + m[row][1].get<double>() * y + m[row][2].get<double>();
                };
                const int px = cvRound(to(0)), py = cvRound(to(1));
                if (px < 0 || py < 0 || px >= picture->raster.width_px() || py >= picture->raster.height_px()) continue;
                off += std::abs(piece.at<cv::Vec3b>(y, x)[1] - picture->raster.pixels.at<cv::Vec3b>(py, px)[1]);
                ++count;
            }
        }
        ASSERT_GT(count, 500);
        EXPECT_LT(off / count, 14) << k;
    }
    // No existing file is replaced, and what cannot be written is reported.
    const Ran again = batch({"stitch", files[0], files[1], "--out", out});
    EXPECT_EQ(again.status, 0) << again.err;
    EXPECT_NE(json::parse(again.out)["path"], out);
    EXPECT_EQ(batch({"stitch", files[0], "--out", out}).status, 1);
    EXPECT_EQ(batch({"stitch", files[0], files[1], "--out", (folder / "whole.xyz").string()}).status, 2);
    EXPECT_EQ(batch({"stitch", files[0], files[1], "--out", "/no/such/folder/whole.png"}).status, 1);
    const Ran none = batch({"stitch", files[0], stranger, "--out", (folder / "none.png").string()});
    EXPECT_EQ(none.status, 1);
    EXPECT_FALSE(std::filesystem::exists(folder / "none.png"));
    EXPECT_EQ(json::parse(none.out)["width_px"], 0);
}

// Standard output on a full disk, settings that are not text, folders in place of files: each is reported in a
// sentence, and the exit status is never 0.
TEST(Batch, FailuresAreReportedAndNeverEndWithStatusZero) {
    const TempFolder folder, out;
    const std::string good = scanned_png(folder, "good.png", "till-receipt", 0, 75);
    const auto shell = [&](const std::string& arguments, const std::string& behind = {}) {
        return run({"bash", "-c", std::string(YELVIN_BATCH) + " " + arguments + " " + behind});
    };
    const std::string make = "make --set read.languages=[] --out " + out.path().string() + " ";
    const Ran full = shell(make + good, "> /dev/full");
    EXPECT_EQ(full.status, 1);
    EXPECT_NE(full.err.find("could not be printed"), std::string::npos) << full.err;
    const Ran bytes = shell(make + "--set make.format=$'\\xff' " + good);
    EXPECT_EQ(bytes.status, 2);
    EXPECT_EQ(lines(bytes.err).size(), 1U) << bytes.err;
    const Ran ticket = shell(make + "--ticket " + folder.path().string() + " " + good);
    EXPECT_EQ(ticket.status, 1);
    EXPECT_NE(ticket.err.find("is a folder"), std::string::npos) << ticket.err;
    write_file(folder / "deep.json", std::string(100'000, '['));
    EXPECT_EQ(shell(make + "--ticket " + (folder / "deep.json").string() + " " + good).status, 1);
#ifndef __SANITIZE_ADDRESS__ // which takes far more memory for itself
    const Ran memory = shell(make + good, "2>&1; ulimit -v 180000; " + std::string(YELVIN_BATCH) + " " + make + good);
    EXPECT_EQ(memory.status, 1) << "out of memory is an end with a sentence: " << memory.out;
#endif
}

// A page smaller than a millimetre is saved as it is, or refused with a sentence.
TEST(Batch, AnAlmostEmptyPictureIsSavedNormally) {
    const TempFolder folder, out;
    std::vector<std::string> make{"make", "--out", out.path().string(), "--set", "read.languages=[\"eng\"]"};
    for (const auto& [width, height, dpi] : {std::tuple(9, 9, 300.0), {1000, 12, 600.0}, {8, 8, 1200.0}}) {
        const auto file = folder / fmt::format("{}x{}.png", width, height);
        write_file(file, *encode_png({noisy(width, height, CV_8UC3, 1), dpi, Ink::Colour}));
        const Ran inspected = batch({"inspect", file.string()});
        EXPECT_EQ(inspected.status, 0) << inspected.err;
        make.push_back(file.string());
    }
    const Ran made = batch(make);
    ASSERT_EQ(made.status, 0) << made.err;
    EXPECT_EQ(json::parse(made.out)["pages"], 3);
}

// Prints the text of pages and, with --json, the place in points, the confidence and the paragraph of each word.
TEST(Batch, PrintsTextAndWordsWithPositions) {
    const TempFolder folder;
    const Raster page = scan("lease-1", 0, 200, Ink::Grey);
    write_file(folder / "lease.png", encode_png(page).value());
    const std::string file = (folder / "lease.png").string();
    const Ran text = batch({"read", file});
    EXPECT_EQ(text.status, 0) << text.err;
    EXPECT_NE(text.out.find("Lease of a mooring"), std::string::npos) << text.out;
    const Ran ran = batch({"read", "--json", file});
    ASSERT_EQ(ran.status, 0) << ran.err;
    const auto read = nlohmann::json::parse(ran.out).at(0);
    EXPECT_NEAR(read.at("width").get<double>(), 595, 2);
    // The words by poppler, from the original's own drawing.
    const auto truth = words_of_original("lease-1");
    std::vector<PrintedWord> words;
    for (const auto& word : read.at("words")) {
        const auto box = word.at("box");
        const auto mm = [&](int i) { return box.at(static_cast<size_t>(i)).get<double>() * 25.4 / 72; };
        words.push_back({word.at("text"), {mm(0), mm(1), mm(2), mm(3)}});
        EXPECT_LT(word.at("paragraph").get<size_t>(), read.at("paragraphs").size());
    }
    const auto pairs = common_in_order(truth, words);
    EXPECT_GT(pairs.size(), truth.size() * 95 / 100) << "in the order of the original";
    for (const auto& [a, b] : pairs) EXPECT_NEAR(truth[a].box.x, words[b].box.x, 1) << truth[a].text;
    EXPECT_EQ(batch({"read", "--set", "read.languages=[]", file}).status, 2);
    const Ran missing = batch({"read", "--set", "read.languages=eng+xxx", file, file});
    EXPECT_EQ(missing.status, 1);
    EXPECT_NE(missing.err.find("tesseract-ocr-xxx"), std::string::npos) << missing.err;
}

}
}
