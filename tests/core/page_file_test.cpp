// Files that are opened once and read page by page, and what they report if a part of them is missing.
#include "core/raster/page_file.h"

#include "core/output/document_writer.h"
#include "core/text/pdf_text.h"
#include "support/support.h"

#include <fmt/format.h>

#include <fstream>
#include <thread>

#include <sys/stat.h>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

std::string tiff(const TempFolder& folder, const std::string& name, int pages, const std::string& coding) {
    std::vector<std::string> command{"convert"};
    for (int i = 0; i < pages; ++i) {
        const fs::path page = folder / fmt::format("{}{}.png", name, i);
        write_file(page, *encode_png({noisy(300, 400, CV_8UC1, static_cast<unsigned>(i)), 150, Ink::Grey}));
        command.push_back(page.string());
    }
    command.insert(command.end(), {"-compress", coding, (folder / (name + ".tif")).string()});
    EXPECT_EQ(run(command).status, 0);
    return (folder / (name + ".tif")).string();
}

void cut(const fs::path& file, double share) {
    const std::string bytes = read_file(file);
    write_file(file, bytes.substr(0, static_cast<size_t>(static_cast<double>(bytes.size()) * share)));
}

TEST(PageFile, AnIncompleteTiffReportsWhichPagesExist) {
    const TempFolder folder;
    const std::string file = tiff(folder, "many", 11, "LZW");
    const auto whole = PageFile::open(file);
    ASSERT_TRUE(whole) << whole.error().sentence;
    EXPECT_EQ(whole->count(), 11);
    EXPECT_FALSE(whole->missing_pages());
    for (int i = 0; i < 11; ++i) EXPECT_EQ(whole->page(i)->damage, "") << i;
    for (const double share : {0.9, 0.5, 0.3}) {
        cut(file, share);
        const auto opened = PageFile::open(file);
        ASSERT_TRUE(opened) << opened.error().sentence;
        EXPECT_GE(opened->count(), 1);
        EXPECT_LT(opened->count(), 11) << share;
        const auto missing = opened->missing_pages();
        ASSERT_TRUE(missing) << share;
        EXPECT_NE(missing->sentence.find(opened->count() == 1 ? "first page is"
                                                              : fmt::format("{} pages are", opened->count())),
                  std::string::npos)
            << missing->sentence;
    }
}

// The writers of libtiff and ImageMagick put a page's data before its directory, so a file that is cut is no TIFF any
// more. Scanners and copiers write the directory first.
TEST(PageFile, AnIncompletePageIsAddedAndReported) {
    const TempFolder folder;
    for (const char* coding : {"None", "Zip", "LZW", "JPEG"}) {
        const fs::path file = tiff(folder, coding, 1, coding);
        std::string bytes = read_file(file);
        uint32_t directory = 0;
        std::memcpy(&directory, bytes.data() + 4, 4);
        ASSERT_EQ(bytes.substr(0, 2), "II");
        // Moves the directory and what follows it to the front; the lower half of the data is missing.
        const auto damaged = [&](std::string now, const char* how) {
            write_file(file, now);
            const auto opened = PageFile::open(file);
            ASSERT_TRUE(opened) << coding << how << ": " << opened.error().sentence;
            const auto page = opened->page(0);
            if (!page) return; // or refused, in a sentence
            EXPECT_NE(page->damage.find("Page 1 of"), std::string::npos) << coding << how;
            EXPECT_EQ(page->raster.height_px(), 400);
        };
        std::string spoilt = bytes;
        for (size_t i = directory / 2; i < directory * 3 / 4; ++i) spoilt[i] = static_cast<char>(i * 37);
        if (std::string_view(coding) != "None") damaged(spoilt, " spoilt");
        // Half of the data is beyond the end of the file: the offsets of the strips point there.
        std::string moved = bytes.substr(0, 8) + bytes.substr(directory);
        const uint32_t back = directory - 8, now_at = 8;
        std::memcpy(moved.data() + 4, &now_at, 4);
        uint16_t entries = 0;
        std::memcpy(&entries, moved.data() + 8, 2);
        constexpr size_t bytes_of_type[] = {0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8};
        for (size_t i = 0; i < entries; ++i) {
            char* entry = moved.data() + 10 + 12 * i;
            uint16_t type = 0;
            uint32_t count = 0, value = 0;
            std::memcpy(&type, entry + 2, 2);
            std::memcpy(&count, entry + 4, 4);
            std::memcpy(&value, entry + 8, 4);
            if (bytes_of_type[type] * count <= 4 || value < directory) continue;
            value -= back;
            std::memcpy(entry + 8, &value, 4);
        }
        damaged(moved, " cut off");
    }
}

void write_pdf(const fs::path& file, const std::vector<Raster>& pages) {
    const auto writer = new_document_writer(file, Format::Pdf, {});
    for (const Raster& page : pages) {
        auto encoded = encode_page(page, TextLayer{}, Format::Pdf, 85);
        ASSERT_TRUE(encoded && writer->append(std::move(*encoded)));
    }
    ASSERT_TRUE(writer->finish());
}

TEST(PageFile, ADamagedJpegInAPdfIsReported) {
    const TempFolder folder;
    const fs::path file = folder / "page.pdf";
    write_pdf(file, {scan("lease-1", 0, 150, Ink::Colour)});
    EXPECT_EQ(PageFile::open(file)->page(0)->damage, "");
    std::string bytes = read_file(file);
    const size_t begin = bytes.find("\xff\xd8"), end = bytes.find("endstream", begin);
    ASSERT_LT(begin, end);
    for (size_t i = (begin + end) / 2; i < end - 200; ++i) bytes[i] = 0;
    write_file(file, bytes);
    const auto page = PageFile::open(file)->page(0);
    ASSERT_TRUE(page) << page.error().sentence;
    EXPECT_NE(page->damage.find("page 1 of page.pdf is damaged"), std::string::npos) << page->damage;
}

std::uint64_t bytes_read_so_far() {
    std::ifstream io("/proc/self/io");
    std::string key;
    std::uint64_t value = 0;
    io >> key >> value;
    return value;
}

// The file is parsed once: the amount that is read grows with the contents of its pages, not with the number of pages
// times the size of the file.
TEST(PageFile, ReadingAllPagesOfAPdfReadsTheFileOnce) {
    const TempFolder folder;
    std::vector<Raster> rasters;
    for (int i = 0; i < 60; ++i)
        rasters.push_back({noisy(700, 900, CV_8UC1, static_cast<unsigned>(i)), 100, Ink::Grey});
    const fs::path file = folder / "many.pdf";
    write_pdf(file, rasters);
    const std::uint64_t before = bytes_read_so_far();
    const auto opened = PageFile::open(file);
    ASSERT_TRUE(opened) << opened.error().sentence;
    ASSERT_EQ(opened->count(), 60);
    for (int i = 0; i < 60; ++i) {
        const auto page = opened->page(i);
        ASSERT_TRUE(page) << page.error().sentence;
        EXPECT_NEAR(page->raster.dpi, 100, 1);
        EXPECT_FALSE(text_in_pdf(*opened, i, {700, 900}, 100));
        EXPECT_FALSE(opened->drawing(i));
    }
    EXPECT_LT(bytes_read_so_far() - before, 4 * fs::file_size(file)) << "of " << fs::file_size(file);
}

TEST(PageFile, SeveralThreadsReadAPdfAtOnce) {
    const TempFolder folder;
    write_file(folder / "a.pdf", pdf_with_text({"one", "two"}));
    const auto opened = PageFile::open(folder / "a.pdf");
    ASSERT_TRUE(opened);
    const auto alone = opened->page(0);
    ASSERT_TRUE(alone);
    std::vector<std::thread> threads;
    std::vector<int> same(4, 0);
    for (size_t i = 0; i < same.size(); ++i)
        threads.emplace_back([&, i] {
            const auto page = opened->page(0);
            same[i] = page && cv::norm(page->raster.pixels, alone->raster.pixels, cv::NORM_INF) == 0 &&
                      text_in_pdf(*opened, 0, {alone->raster.width_px(), alone->raster.height_px()}, 300).has_value();
        });
    for (std::thread& thread : threads) thread.join();
    EXPECT_EQ(same, std::vector<int>(4, 1));
}

TEST(PageFile, APipeOrDeviceIsRejectedWithoutWaiting) {
    const TempFolder folder;
    ASSERT_EQ(mkfifo((folder / "pipe").c_str(), 0600), 0);
    for (const auto& [file, said] : {std::pair{(folder / "pipe").string(), "is a pipe or a device"},
                                     {std::string("/dev/zero"), "is a pipe or a device"},
                                     {folder.path().string(), "is a folder"},
                                     {(folder / "absent").string(), "does not exist"}}) {
        const auto opened = PageFile::open(file);
        ASSERT_FALSE(opened) << file;
        EXPECT_NE(opened.error().sentence.find(said), std::string::npos) << opened.error().sentence;
    }
}

}
}
