// One save: all of its files or none, whatever throws, and names that depend on the pages only.
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "support/support.h"

#include <fmt/format.h>

#include <future>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

// A small page with its own heading, or with plain lines only.
FinishedPage page_with(const std::string& heading) {
    TextLayer layer{{}, 300, 400, "eng"};
    int y = 60;
    for (const int size : {40, 16, 16, 16}) {
        TextLine line{{}, {20.0, double(y)}, {280.0, double(y)}, double(size), size / 4.0, "eng"};
        const bool is_heading = size == 40;
        if (!is_heading || !heading.empty())
            line.words.push_back({is_heading ? heading : "some words in a line", {20, y - size, 200, size}, 96});
        if (!line.words.empty()) layer.lines.push_back(line);
        y += 2 * size;
    }
    return {Raster{cv::Mat(400, 300, CV_8UC1, cv::Scalar(255)), 100, Ink::Grey}, layer};
}

SaveJob job_of(const TempFolder& folder, size_t pages, Format format, Per per) {
    SaveJob job;
    job.page_count = pages;
    job.folder = folder.path();
    job.date = std::chrono::year{2026} / 5 / 4;
    job.ticket.make.format = format;
    job.ticket.make.per = per;
    job.ticket.save.name = {{NamePart::Kind::Words, "Lease"}, {NamePart::Kind::Counter, "", 2}};
    job.page = [](size_t index) -> Result<std::optional<FinishedPage>> {
        return std::optional(page_with(fmt::format("Heading{}", index + 1)));
    };
    return job;
}

Result<std::vector<MadeFile>> saved(const SaveJob& job) {
    ReaderPool readers;
    return save_document(job, readers, {});
}

[[noreturn]] void burst() { throw std::runtime_error("planted"); }

std::vector<std::string> all_in(const TempFolder& folder) {
    std::vector<std::string> names;
    for (const auto& entry : fs::recursive_directory_iterator(folder.path()))
        names.push_back(fs::relative(entry.path(), folder.path()));
    std::ranges::sort(names);
    return names;
}

// Each step of a save throws at its eighth page of ten, or when it is called if that happens once.
TEST(SaveJob, AnExceptionLeavesNoFilesAndNoFolders) {
    struct Planted {
        const char* where;
        std::function<void(SaveJob&)> plant;
        bool is_passed_on;
    };
    const std::vector<Planted> steps{{"page",
                                      [](SaveJob& job) {
                                          job.page = [page = job.page](size_t index) {
                                              if (index == 7) burst();
                                              return page(index);
                                          };
                                      },
                                      false},
                                     {"putting right",
                                      [](SaveJob& job) {
                                          job.page = [page = job.page](size_t index) {
                                              auto made = page(index);
                                              if (index == 7)
                                                  (*made)->put_right = [](const TextLayer&) -> PageText { burst(); };
                                              return made;
                                          };
                                      },
                                      false},
                                     {"encoding a page without pixels",
                                      [](SaveJob& job) {
                                          job.page = [page = job.page](size_t index) {
                                              auto made = page(index);
                                              if (index == 7) (*made)->raster.pixels = cv::Mat(); // OpenCV throws
                                              return made;
                                          };
                                      },
                                      false},
                                     {"words",
                                      [](SaveJob& job) {
                                          job.on_text = [seen = 0](const PageText&, double) mutable {
                                              if (++seen == 8) burst();
                                          };
                                      },
                                      true},
                                     {"progress",
                                      [](SaveJob& job) {
                                          job.progress = [](double done) {
                                              if (done > 0.75) burst();
                                          };
                                      },
                                      true},
                                     {"leaving out",
                                      [](SaveJob& job) {
                                          job.page =
                                              [page = job.page](size_t index) -> Result<std::optional<FinishedPage>> {
                                              if (index == 7) return fail(ErrorKind::BadInput, "No.");
                                              return page(index);
                                          };
                                          job.leave_out = [](size_t, const Error&) -> bool { burst(); };
                                      },
                                      true}};
    for (const Per per : {Per::Page, Per::Document})
        for (const Format format : {Format::Jpeg, Format::Pdf, Format::Text}) {
            if (per == Per::Document && format == Format::Jpeg) continue;
            for (const Planted& step : steps) {
                if (format == Format::Jpeg && std::string_view(step.where) == "putting right") continue; // has no words
                const std::string what = fmt::format("{} {} {}", step.where, format_key(format), int(per));
                const TempFolder folder;
                SaveJob job = job_of(folder, 10, format, per);
                job.ticket.save.within = {{NamePart::Kind::Words, "May"}};
                job.ticket.make.also = {{.format = Format::Png, .folder = "pictures"}};
                SaveJob broken = job;
                step.plant(broken);
                if (step.is_passed_on)
                    EXPECT_THROW((void)saved(broken), std::runtime_error) << what;
                else
                    EXPECT_FALSE(saved(broken)) << what;
                EXPECT_EQ(all_in(folder), std::vector<std::string>{}) << what;

                ASSERT_TRUE(saved(job)) << what;
                const bool is_page = per == Per::Page;
                EXPECT_TRUE(fs::exists(folder /
                                       fmt::format("May/Lease {}.{}", is_page ? "10" : "01", format_extension(format))))
                    << what << ": the numbers begin at 1";
            }
        }
}

TEST(SaveJob, APageWithAnExceptionCanBeLeftOut) {
    const TempFolder folder;
    SaveJob job = job_of(folder, 4, Format::Jpeg, Per::Page);
    job.page = [page = job.page](size_t index) {
        if (index == 2) burst();
        return page(index);
    };
    std::vector<size_t> left_out;
    job.leave_out = [&](size_t index, const Error& error) {
        EXPECT_EQ(error.kind, ErrorKind::Internal);
        left_out.push_back(index);
        return true;
    };
    const auto made = saved(job);
    ASSERT_TRUE(made) << made.error().sentence;
    EXPECT_EQ(left_out, std::vector<size_t>{2});
    EXPECT_EQ(folder.files(), (std::vector<std::string>{"Lease 01.jpg", "Lease 02.jpg", "Lease 03.jpg"}));
}

TEST(SaveJob, WithManyThreadsEachFileIsStillNamedFromItsOwnPage) {
    for (const int workers : {1, 2, 5}) {
        const TempFolder folder;
        SaveJob job = job_of(folder, 9, Format::Jpeg, Per::Page);
        job.workers = workers;
        job.ticket.save.name = {{NamePart::Kind::Heading, "", 3, 6}};
        job.ticket.save.within = {{NamePart::Kind::Heading, "", 3, 6}};
        job.ticket.make.also = {{.format = Format::Png}};
        const auto made = saved(job);
        ASSERT_TRUE(made) << made.error().sentence;
        ASSERT_EQ(made->size(), 18U);
        for (size_t i = 0; i < 9; ++i) {
            const std::string own = fmt::format("Heading{}", i + 1);
            EXPECT_EQ((*made)[i].path, folder / own / (own + ".jpg"));
            EXPECT_EQ((*made)[i + 9].path, folder / own / (own + ".png")) << "called like the page's own file";
        }
    }
}

// The facts on the second page are used for the title too, also if that page is ready long after the first.
TEST(SaveJob, TheTitleDoesNotDependOnTheOrderInWhichPagesFinish) {
    for (const bool late : {false, true}) {
        const TempFolder folder;
        SaveJob job = job_of(folder, 3, Format::Pdf, Per::Document);
        job.workers = 3;
        job.ticket.save.name = {{NamePart::Kind::Number, "", 3, 6, NamePart::Missing::Words, "nothing"}};
        std::promise<void> first_is_in;
        const std::shared_future<void> in = first_is_in.get_future().share();
        job.progress = [&, told = false](double) mutable {
            if (!std::exchange(told, true)) first_is_in.set_value();
        };
        job.page = [&](size_t index) -> Result<std::optional<FinishedPage>> {
            if (late && index == 1) in.wait();
            FinishedPage page = page_with("");
            if (index == 1) {
                auto& words = page.text->lines[0].words;
                words = {{"Invoice", {20, 44, 60, 16}, 96},
                         {"number:", {86, 44, 60, 16}, 96},
                         {"20417", {152, 44, 60, 16}, 96}};
            }
            return std::optional(std::move(page));
        };
        const auto made = saved(job);
        ASSERT_TRUE(made) << made.error().sentence;
        EXPECT_EQ(made->front().path, folder / "20417.pdf");
        EXPECT_NE(run({"pdfinfo", made->front().path.string()}).out.find("20417"), std::string::npos);
    }
}

TEST(SaveJob, TheFolderOfAFurtherFileStaysWithinTheJobsFolder) {
    const TempFolder folder, elsewhere;
    fs::create_directory_symlink(elsewhere.path(), folder / "link");
    SaveJob job = job_of(folder, 1, Format::Pdf, Per::Document);
    const auto into = [&](const std::string& where) {
        job.ticket.make.also = {{.format = Format::Png, .folder = where}};
        return saved(job);
    };
    for (const char* out : {"../out", "a/../../out", "link", "link/deeper"}) {
        const auto made = into(out);
        ASSERT_FALSE(made) << out;
        EXPECT_NE(made.error().sentence.find(out), std::string::npos) << made.error().sentence;
    }
    job.absolute_folders = false;
    EXPECT_FALSE(into(elsewhere.path().string()));
    EXPECT_TRUE(elsewhere.files().empty());
    EXPECT_EQ(folder.files(), std::vector<std::string>{"link"});
    const auto below = into("black/deeper");
    ASSERT_TRUE(below) << below.error().sentence;
    EXPECT_EQ(below->back().path, folder / "black/deeper/Lease 01.png");
    job.absolute_folders = true;
    EXPECT_TRUE(into(elsewhere.path().string()));
    EXPECT_EQ(elsewhere.files(), std::vector<std::string>{"Lease 02.png"});
}

}
}
