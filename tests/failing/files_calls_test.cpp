// Files, stored data, and files that wait to be sent, while one call of the file system after the other fails.
#include "core/cabinet/cabinet_updater.h"
#include "core/naming/naming_history.h"
#include "core/output/add_to_pdf.h"
#include "core/output/make_searchable.h"
#include "core/saving/move_file.h"
#include "core/saving/part_file.h"
#include "core/saving/safe_file.h"
#include "failing/each_call.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "jobs/send_queue.h"

#include <sys/stat.h>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

std::string always_lease(int attempt) { return attempt == 0 ? "Lease.pdf" : "Lease (2).pdf"; }

std::vector<std::string> names_below(const fs::path& folder) {
    std::vector<std::string> names;
    for (const auto& each : fs::recursive_directory_iterator(folder))
        // Partial files that could not be removed are removed by the next program that saves there.
        if (each.is_regular_file() && !is_part_name(each.path().filename()))
            names.push_back(fs::relative(each.path(), folder));
    std::ranges::sort(names);
    return names;
}

TEST(EachCall, FailingWhileAFileIsWrittenReplacedOrMovedLeavesItCompleteOrUnchanged) {
    each_call_fails({[](const fs::path& base) {
                         fs::create_directory(base / "there");
                         write_file(base / "list.json", "before");
                         write_file(base / "Lease.pdf", "the lease");
                     },
                     [](const fs::path& base) -> std::optional<Error> {
                         const auto write = [](const fs::path& growing) { return write_bytes(growing, "another"); };
                         NewFolders made;
                         if (auto done = made.make(base / "new/folder"); !done) return done.error();
                         remove_left_behind(base / "there");
                         if (auto done = check_folder(base / "new/folder", 1000); !done) return done.error();
                         if (auto done = save_file(base / "there", always_lease, write); !done) return done.error();
                         if (auto done = replace_file(base / "list.json", "after"); !done) return done.error();
                         return error_in(move_file(base / "Lease.pdf", base / "there", always_lease));
                     },
                     [](const fs::path& base, bool succeeded) {
                         const std::string list = read_file(base / "list.json");
                         EXPECT_TRUE(list == "after" || (list == "before" && !succeeded)) << list;
                         int leases = 0;
                         for (const std::string& name : names_below(base)) {
                             if (name == "list.json") continue;
                             const std::string bytes = read_file(base / name);
                             EXPECT_TRUE(bytes == "the lease" || bytes == "another") << name << ": " << bytes;
                             leases += bytes == "the lease";
                         }
                         EXPECT_EQ(leases, 1) << testing::PrintToString(names_below(base));
                     }});
}

// A page with a line of words and one without.
SaveJob job_into(const fs::path& folder, Format format) {
    SaveJob job;
    job.page_count = 2;
    job.page = [](size_t index) -> Result<std::optional<FinishedPage>> {
        TextLayer layer{{}, 80, 60, "eng"};
        if (index == 0)
            for (const char* word : {"lease", "berth"})
                layer.lines.push_back({{{word, {5, 10, 40, 9}, 95}}, {5, 19}, {45, 19}, 9, 2, "eng"});
        return std::optional(
            FinishedPage{{noisy(60, 80, CV_8UC1, static_cast<unsigned>(index)), 100, Ink::Grey}, layer});
    };
    job.ticket.make = {format, holds_many_pages(format) ? Per::Document : Per::Page, 90};
    job.ticket.make.stamp.parts = {{NamePart::Kind::Counter, "", 2}};
    job.fixed_name = "Lease";
    job.folder = folder / "out";
    job.date = std::chrono::year{2026} / 11 / 5;
    return job;
}

class FormatCalls : public testing::TestWithParam<Format> {};

TEST_P(FormatCalls, FailingLeavesNoIncompleteFile) {
    size_t whole = 0; // files of an undisturbed save
    each_call_fails({[](const fs::path& base) {
                         fs::create_directory(base / "out");
                         fs::create_directory(base / "tmp");
                     },
                     [](const fs::path& base) -> std::optional<Error> {
                         setenv("TMPDIR", (base / "tmp").c_str(), 1); // NOLINT(concurrency-mt-unsafe)
                         ReaderPool readers;
                         return error_in(save_document(job_into(base, GetParam()), readers, {}));
                     },
                     [&whole](const fs::path& base, bool succeeded) {
                         unsetenv("TMPDIR"); // NOLINT(concurrency-mt-unsafe)
                         const auto files = names_below(base / "out");
                         if (succeeded) whole = std::max(whole, files.size());
                         EXPECT_EQ(files.size(), succeeded ? whole : 0U) << testing::PrintToString(files);
                         EXPECT_TRUE(names_below(base / "tmp").empty());
                     }});
    EXPECT_GT(whole, 0U);
}

INSTANTIATE_TEST_SUITE_P(Each, FormatCalls,
                         testing::Values(Format::Pdf, Format::PdfA, Format::Tiff, Format::Png, Format::Jpeg,
                                         Format::Webp, Format::Bmp, Format::Docx, Format::Odt, Format::Epub,
                                         Format::Html, Format::Text, Format::Hocr, Format::Alto),
                         [](const auto& each) {
                             return std::string(format_extension(each.param)) + std::to_string(each.index);
                         });

void make_pdf(const fs::path& file) { write_file(file, pdf_with_text({"the lease of a berth"})); }

TEST(EachCall, FailingWhilePagesAreAddedToAPdfLeavesItCompleteOrUnchanged) {
    each_call_fails({[](const fs::path& base) {
                         make_pdf(base / "a.pdf");
                         make_pdf(base / "b.pdf");
                     },
                     [](const fs::path& base) -> std::optional<Error> {
                         return error_in(add_to_pdf({base / "a.pdf"}, base / "b.pdf"));
                     },
                     [](const fs::path& base, bool succeeded) {
                         const auto now = look_into_pdf(base / "a.pdf", {});
                         ASSERT_TRUE(now) << now.error().sentence;
                         EXPECT_TRUE(now->pages == 2 || (now->pages == 1 && !succeeded)) << now->pages;
                         EXPECT_EQ(names_below(base), (std::vector<std::string>{"a.pdf", "b.pdf"}));
                     }});
}

TEST(EachCall, FailingInTheNamingHistoryKeepsTheRest) {
    const auto paper = [](const std::string& name) {
        return SavedDocument{0, "/home/desk/" + name, {"Heron Marina", "invoice", "", "", "", {"berth", "lease"}}};
    };
    each_call_fails({[paper](const fs::path& base) {
                         auto saved = NamingHistory::open(base / "kept/saved.sqlite");
                         ASSERT_TRUE(saved && saved->add(paper("a.pdf")) && saved->add(paper("b.pdf")));
                     },
                     [paper](const fs::path& base) -> std::optional<Error> {
                         auto saved = NamingHistory::open(base / "kept/saved.sqlite");
                         if (!saved) return saved.error();
                         if (auto all = saved->all(); !all) return all.error();
                         if (auto done = saved->add(paper("c.pdf")); !done) return done.error();
                         return error_in(saved->moved("/home/desk/a.pdf", "/home/desk/d.pdf"));
                     },
                     [](const fs::path& base, bool succeeded) {
                         auto saved = NamingHistory::open(base / "kept/saved.sqlite");
                         ASSERT_TRUE(saved) << saved.error().sentence;
                         const auto all = saved->all();
                         ASSERT_TRUE(all);
                         EXPECT_GE(all->size(), succeeded ? 3U : 2U);
                         EXPECT_TRUE(saved->forget_all());
                         EXPECT_TRUE(saved->all()->empty());
                     }});
}

TEST(EachCall, FailingWhileFilesAreQueuedKeepsThemOrReportsIt) {
    const Server server{"Office", "http://localhost:9/"};
    const SendQueue::Executors by_nobody{[](const Task& task) { task(); }, [](const Task&) {}};
    each_call_fails({[=](const fs::path& base) {
                         write_file(base / "a.pdf", "the lease");
                         write_file(base / "b.pdf", "the bill");
                         auto queue = SendQueue::open(base / "sending", by_nobody, {[] {}});
                         ASSERT_TRUE(queue);
                         (*queue)->add({{base / "a.pdf", "a document", server, {}, "a.pdf"}}, [](const auto&) {});
                     },
                     [=](const fs::path& base) -> std::optional<Error> {
                         auto queue = SendQueue::open(base / "sending", by_nobody, {[] {}});
                         if (!queue) return queue.error();
                         std::optional<Error> error;
                         (*queue)->add({{base / "b.pdf", "another", server, {}, "b.pdf"}},
                                       [&](const Result<void>& done) { error = error_in(done); });
                         EXPECT_EQ((*queue)->items().size(), error ? 1U : 2U);
                         (*queue)->pause(1);
                         (*queue)->retry(1);
                         return error;
                     },
                     [=](const fs::path& base, bool succeeded) {
                         auto queue = SendQueue::open(base / "sending", by_nobody, {[] {}});
                         ASSERT_TRUE(queue) << queue.error().sentence;
                         const auto items = (*queue)->items();
                         EXPECT_TRUE(items.size() == 2 || (items.size() == 1 && !succeeded)) << items.size();
                         size_t held = 0;
                         for (const std::string& name : names_below(base / "sending"))
                             held += name.ends_with(".sending");
                         EXPECT_EQ(held, items.size()) << "each file is there, and no stray";
                         (*queue)->remove(items.front().id);
                         EXPECT_EQ((*queue)->items().size(), items.size() - 1);
                     }});
}

TEST(EachCall, FailingInTheCabinetKeepsItsDocuments) {
    each_call_fails({[](const fs::path& base) {
                         fs::create_directory(base / "papers");
                         make_pdf(base / "papers/a.pdf");
                         write_file(base / "papers/b.pdf", pdf_with_text({"a bill for mooring"}));
                         auto cabinet = Cabinet::open(base / "cabinet");
                         ASSERT_TRUE(cabinet);
                         CabinetUpdater taking(*cabinet, common_paper_words(), {}, {});
                         ASSERT_TRUE(taking.take(base / "papers/a.pdf", {}));
                         fs::rename(base / "papers/a.pdf", base / "papers/moved.pdf");
                     },
                     [](const fs::path& base) -> std::optional<Error> {
                         auto cabinet = Cabinet::open(base / "cabinet");
                         if (!cabinet) return cabinet.error();
                         if (!cabinet->rebuilt().empty()) return Error{ErrorKind::BadInput, cabinet->rebuilt(), {}};
                         CabinetUpdater taking(*cabinet, common_paper_words(), {}, {});
                         if (auto done = taking.take(base / "papers/b.pdf", base / "papers"); !done)
                             return done.error();
                         if (auto done = taking.look_after(); !done) return done.error();
                         if (auto done = cabinet->watch_folder({base / "papers", WithoutText::Leave}); !done)
                             return done.error();
                         return error_in(cabinet->do_upkeep());
                     },
                     [](const fs::path& base, bool succeeded) {
                         auto cabinet = Cabinet::open(base / "cabinet");
                         ASSERT_TRUE(cabinet) << cabinet.error().sentence;
                         const auto all = cabinet->all();
                         ASSERT_TRUE(all);
                         EXPECT_TRUE(all->size() == 2 || (all->size() == 1 && !succeeded)) << all->size();
                         const auto whole = cabinet->is_whole();
                         EXPECT_TRUE(whole && *whole);
                         for (const CabinetPaper& each : *all) {
                             const auto words = cabinet->words(each.id);
                             const bool has_words = words && !words->empty() && !words->front().empty();
                             EXPECT_TRUE(has_words || each.text_state == TextState::Missing) << each.file;
                         }
                     }});
}

}
}
