// Saving with too little room: it is reported, nothing is left behind, and a file that others cannot open is never
// reported as saved.
#include "core/output/document_writer.h"
#include "core/raster/image_file.h"
#include "core/saving/safe_file.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "support/support.h"
#include "support/trials.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/mount.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <unistd.h>

#include <csignal>
#include <random>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

constexpr Format every_format[] = {Format::Pdf,  Format::Tiff, Format::Png,  Format::Jpeg, Format::Docx, Format::Odt,
                                   Format::Epub, Format::Html, Format::Webp, Format::PdfA, Format::Avif, Format::Heic};

// Noise, which hardly compresses: 50 to 200 kB in all.
SaveJob job_into(const fs::path& folder, Format format) {
    SaveJob job;
    job.page_count = 3;
    job.page = [](size_t index) -> Result<std::optional<FinishedPage>> {
        const Raster page{noisy(180, 240, CV_8UC1, static_cast<unsigned>(index)), 100, Ink::Grey};
        return std::optional(FinishedPage{page, TextLayer{}});
    };
    job.ticket.make = {format, holds_many_pages(format) ? Per::Document : Per::Page, 90};
    job.ticket.read.languages.clear();
    job.fixed_name = "Lease";
    job.folder = folder;
    job.date = std::chrono::year{2026} / 11 / 5;
    return job;
}

// Whether programs that are not ours can open it.
bool opens(const MadeFile& file) {
    const std::string name = file.path.string();
    if (is_pdf(file.format))
        return run({"qpdf", "--check", name}).status == 0 &&
               run({"qpdf", "--show-npages", name}).out == std::to_string(file.pages) + "\n";
    if (file.format == Format::Tiff) {
        const Ran info = run({"tiffinfo", name});
        return info.status == 0 && info.err.empty();
    }
    if (file.format == Format::Docx || file.format == Format::Odt || file.format == Format::Epub)
        return run({"/usr/bin/python3", "-m", "zipfile", "-t", name}).status == 0;
    if (file.format == Format::Html) return read_file(name).ends_with("</html>\n");
    return run({"identify", "-regard-warnings", "-verbose", name}).status == 0;
}

// Saves, and returns the number of bytes; 0 if it was reported that nothing was saved.
std::uintmax_t saved_honestly(const fs::path& folder, Format format) {
    ReaderPool readers;
    const auto made = save_document(job_into(folder, format), readers, {});
    std::uintmax_t bytes = 0;
    if (!made) {
        EXPECT_EQ(made.error().kind, ErrorKind::DiskFull) << made.error().sentence << " " << made.error().detail;
        EXPECT_NE(made.error().sentence.find("othing was saved"), std::string::npos) << made.error().sentence;
    } else {
        for (const MadeFile& file : *made) {
            EXPECT_TRUE(opens(file)) << file.path << " was called saved";
            bytes += file.bytes;
        }
    }
    for (const auto& entry : fs::directory_iterator(folder)) {
        if (entry.path().filename() == "what was there") continue;
        EXPECT_TRUE(made && entry.path().filename().string().starts_with("Lease")) << entry.path() << " is left";
        fs::remove(entry.path());
    }
    return bytes;
}

// Files are limited in size, so writing fails at some point, also in the middle of a write.
TEST(FullDisk, NoIncompleteFileIsReportedAsSaved) {
    std::signal(SIGXFSZ, SIG_IGN); // NOLINT(concurrency-mt-unsafe)
    rlimit before{};
    ASSERT_EQ(getrlimit(RLIMIT_FSIZE, &before), 0);
    for (const Format format : every_format) {
        const TempFolder folder;
        const std::uintmax_t whole = saved_honestly(folder.path(), format);
        ASSERT_GT(whole, 20'000U);
        int refused = 0;
        const int tries = trials(12);
        for (int i = 0; i < tries; ++i) {
            rlimit limit = before;
            limit.rlim_cur = 1 + whole * static_cast<unsigned>(i) / static_cast<unsigned>(tries);
            // Programs that the test starts inherit the limit, so they are started without it.
            setrlimit(RLIMIT_FSIZE, &limit);
            ReaderPool readers;
            const auto made = save_document(job_into(folder.path(), format), readers, {});
            setrlimit(RLIMIT_FSIZE, &before);
            if (made) {
                for (const MadeFile& file : *made) EXPECT_TRUE(opens(file)) << file.path << " at " << limit.rlim_cur;
            } else {
                ++refused;
                EXPECT_FALSE(made.error().sentence.empty());
                EXPECT_TRUE(folder.files().empty()) << "nothing is left behind";
            }
            for (const std::string& name : folder.files()) fs::remove(folder / name);
        }
        EXPECT_GT(refused, tries / 4) << "the limit bit";
    }
}

// A file system of 2 MB, filled so that a random part of it is free.
TEST(FullDisk, AFullDiskIsReportedInEveryFormat) {
    const TempFolder place;
    if (mount("tmpfs", place.path().c_str(), "tmpfs", 0, "size=2m") != 0)
        GTEST_SKIP() << "this user may not mount a file system of its own";
    std::mt19937 random(11);
    int full = 0;
    const int tries = trials(10);
    for (const Format format : every_format) {
        for (int i = 0; i < tries; ++i) {
            write_file(place / "what was there", std::string(2'097'152 - random() % 220'000, 'x'));
            full += saved_honestly(place.path(), format) == 0;
            fs::remove(place / "what was there");
        }
    }
    EXPECT_GT(full, tries);
    umount(place.path().c_str());
}

TEST(FullDisk, AFullTemporaryFolderIsReported) {
    const TempFolder folder, temporary;
    const std::string before = fs::temp_directory_path();
    setenv("TMPDIR", (temporary / "not there").c_str(), 1); // NOLINT(concurrency-mt-unsafe)
    fs::create_directories(temporary / "not there");
    fs::remove(temporary / "not there");
    ReaderPool readers;
    const auto made = save_document(job_into(folder.path(), Format::Pdf), readers, {});
    setenv("TMPDIR", before.c_str(), 1); // NOLINT(concurrency-mt-unsafe)
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().sentence.find(folder.path().string()), std::string::npos) << made.error().sentence;
    EXPECT_NE(made.error().sentence.find("temporary files"), std::string::npos) << made.error().sentence;
    EXPECT_TRUE(folder.files().empty());
}

// A file that is cut anywhere, or has a hole in it, is not taken for complete.
TEST(OpensAgain, DetectsMissingParts) {
    for (const Format format : every_format) {
        const TempFolder folder;
        ReaderPool readers;
        const auto made = save_document(job_into(folder.path(), format), readers, {});
        ASSERT_TRUE(made);
        const MadeFile& file = made->front();
        EXPECT_TRUE(opens_again(file.path, format, file.pages));
        // Formats made of text have no pages that could be counted.
        if (!is_made_of_words(format)) {
            EXPECT_FALSE(opens_again(file.path, format, file.pages + 1));
        }
        const std::string bytes = read_file(file.path);
        for (const size_t length : {size_t{0}, size_t{1}, size_t{100}, bytes.size() / 2, bytes.size() - 1}) {
            write_file(file.path, bytes.substr(0, length));
            EXPECT_FALSE(opens_again(file.path, format, file.pages)) << format_key(format) << " cut at " << length;
        }
        EXPECT_FALSE(opens_again(folder / "absent", format, 1));
    }
}

// Saving removes what a killed program left, but not what another program is writing.
TEST(SafeFile, CleansUpOnlyAfterEndedProcesses) {
    const TempFolder folder;
    write_file(folder / ".yelvin-0123456789abcdef.part", "half");
    write_file(folder / ".yelvin-fedcba9876543210.part", "being written");
    write_file(folder / ".yelvin", "a person's");
    for (const char* old : {".yelvin-0123456789abcdef.part", ".yelvin-fedcba9876543210.part"})
        fs::last_write_time(folder / old, fs::file_time_type::clock::now() - std::chrono::hours(24 * 8));
    const int other = open((folder / ".yelvin-fedcba9876543210.part").c_str(), O_RDONLY);
    ASSERT_EQ(flock(other, LOCK_EX), 0);
    const auto saved = save_file(
        folder.path(), [](int) { return std::string("a.pdf"); },
        [&](const fs::path& growing) {
            EXPECT_TRUE(is_in_use(growing));
            remove_left_behind(folder.path());
            return write_bytes(growing, "contents");
        });
    ASSERT_TRUE(saved) << saved.error().sentence;
    EXPECT_EQ(folder.files(), (std::vector<std::string>{".yelvin", ".yelvin-fedcba9876543210.part", "a.pdf"}));
    close(other);
}

// On a disk without hard links an existing file is still never replaced, and no empty file is left.
TEST(SafeFile, WorksWithoutHardLinks) {
    struct NoLinks : FileSteps {
        int rename_to_new(const fs::path& growing, const fs::path& wanted) override {
            return fs::exists(wanted) ? EEXIST : fail_once-- > 0 ? EIO : FileSteps::rename(growing, wanted);
        }
        int fail_once = 1;
    } steps;
    const TempFolder folder;
    write_file(folder / "a.pdf", "first");
    const auto name = [](int attempt) { return std::string(attempt == 0 ? "a" : "b") + ".pdf"; };
    const auto write = [](const fs::path& growing) { return write_bytes(growing, "second"); };
    EXPECT_FALSE(save_file(folder.path(), name, write, steps));
    EXPECT_EQ(folder.files(), std::vector<std::string>{"a.pdf"}) << "the name that failed is not left empty";
    EXPECT_EQ(save_file(folder.path(), name, write, steps)->path, folder / "b.pdf");
    EXPECT_EQ(read_file(folder / "a.pdf"), "first");
}

}
}
