// The jobs between scanner, tray, files and servers, while one call of the file system after the other fails.
#include "core/output/make_searchable.h"
#include "core/storage/new_id.h"
#include "core/text/pdf_text.h"
#include "core/tray/originals.h"
#include "core/tray/tray_edits.h"
#include "failing/each_call.h"
#include "jobs/capture.h"
#include "jobs/page_looker.h"
#include "jobs/reader_pool.h"
#include "jobs/send_queue.h"
#include "jobs/tray_keeper.h"
#include "support/servers.h"

#include <deque>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

const Executor here_and_now = [](const Task& task) { task(); };

TEST(EachCall, FailingWhileAPageIsScannedLeavesItCompleteOrReported) {
    each_call_fails({[](const fs::path& base) { fs::create_directory(base / "tray"); },
                     [](const fs::path& base) -> std::optional<Error> {
                         CaptureSink sink(base / "tray");
                         std::optional<Captured> page;
                         sink.on_page = [&](const Captured& captured) { page = captured; };
                         if (auto done = sink.begin_page({40, 0, 200, Ink::Grey, 1, false}); !done) return done.error();
                         for (unsigned strip = 0; strip < 3; ++strip)
                             if (auto done = sink.strip(noisy(40, 64, CV_8UC1, strip)); !done) return done.error();
                         if (auto done = sink.end_page(); !done) return done.error();
                         EXPECT_TRUE(page);
                         return std::nullopt;
                     },
                     [](const fs::path& base, bool succeeded) {
                         int whole = 0;
                         for (const auto& each : fs::directory_iterator(base / "tray")) {
                             if (each.path().extension() != ".tif") continue;
                             const auto picture = read_own_tiff(each.path());
                             whole += picture && picture->height_px() == 3 * 64;
                             EXPECT_TRUE(picture);
                         }
                         EXPECT_TRUE(whole == 1 || !succeeded);
                     }});
}

TEST(EachCall, FailingWhilePagesAreCheckedKeepsTheirPictures) {
    PagePtr front, back;
    each_call_fails(
        {[&](const fs::path& base) {
             fs::create_directory(base / "tray");
             const auto page = [&](unsigned seed) {
                 Page made{new_id(), *keep_original(base / "tray", {noisy(30, 40, CV_8UC1, seed), 200, Ink::Grey})};
                 made.sheet = 1;
                 made.back = seed == 2;
                 return std::make_shared<const Page>(std::move(made));
             };
             front = page(1), back = page(2);
         },
         [&](const fs::path& base) -> std::optional<Error> {
             ReaderPool readers;
             PageLooker looker(base / "tray", readers, {here_and_now, here_and_now}, {});
             Ticket ticket;
             ticket.pages.turn_upright = ticket.pages.straighten = false;
             std::optional<Error> error;
             looker.look_at(front, ticket, PageLooker::Learn::Size,
                            [&](const Result<LookedAt>& found) { error = error_in(found); });
             if (error) return error;
             if (auto seen = looked_through(*front, *back, base / "tray"); !seen) return seen.error();
             looker.look_through(front, back, [](const Notices& seen) { EXPECT_FALSE(seen.in_doubt); });
             std::stop_source stop; // once its picture was read, a page is not read any further
             stop.request_stop();
             for (const auto& read : {looker.read(front, {"eng"}, stop.get_token(), {}),
                                      looker.read_part(front, {}, {2, 2, 10, 10}, {"eng"}, stop.get_token())})
                 if (!read && read.error().kind != ErrorKind::Stopped) return read.error();
             return std::nullopt;
         },
         [&](const fs::path& base, bool) {
             for (const PagePtr& page : {front, back}) EXPECT_TRUE(read_original(base / "tray", page->original));
         }});
}

// The list of files to send fails while a file is sent: the file has arrived once, or is still in the queue.
TEST(EachCall, FailingInTheSendListStillDeliversTheFileOnce) {
    StandInServer there;
    std::deque<Task> to_send;
    const SendQueue::Executors executors{here_and_now, [&](Task task) { to_send.push_back(std::move(task)); }};
    const auto run = [&] {
        while (!to_send.empty()) {
            const Task task = std::move(to_send.front());
            to_send.pop_front();
            task();
        }
    };
    each_call_fails(
        {[&](const fs::path& base) {
             write_file(base / "a.pdf", "the lease");
             fs::remove_all(there.files() / "Box");
             to_send.clear();
             auto queue = SendQueue::open(base / "sending", executors, {[] {}});
             ASSERT_TRUE(queue);
             (*queue)->add({{base / "a.pdf", "a document", there.server(), {"Box"}, "a.pdf"}}, [](const auto&) {});
             to_send.clear();
         },
         [&](const fs::path& base) -> std::optional<Error> {
             auto queue = SendQueue::open(base / "sending", executors, {[] {}});
             if (!queue) return queue.error();
             (*queue)->wake();
             run();
             const SendItem item = (*queue)->items().at(0);
             (*queue)->clear_sent();
             to_send.clear();
             if (item.state == SendItem::State::Sent) return std::nullopt;
             return Error{ErrorKind::Offline, item.why, {}};
         },
         [&](const fs::path& base, bool) {
             auto queue = SendQueue::open(base / "sending", executors, {[] {}});
             ASSERT_TRUE(queue) << queue.error().sentence;
             for (const SendItem& each : (*queue)->items()) (*queue)->retry(each.id);
             run();
             EXPECT_EQ(files_within(there.files()), std::vector<std::string>{"Box/a.pdf"});
             for (const SendItem& each : (*queue)->items()) (*queue)->remove(each.id);
             run();
             EXPECT_TRUE((*queue)->items().empty());
             to_send.clear();
         }});
}

TEST(EachCall, FailingWhileAPdfIsMadeSearchableLeavesItCompleteOrUnchanged) {
    const auto read = [](const Raster&) -> Result<TextLayer> {
        return TextLayer{{{{{"berth", {50, 50, 90, 20}, 95}}, {50, 70}, {140, 70}, 20, 4, "eng"}}, 1240, 1754, "eng"};
    };
    each_call_fails({[](const fs::path& base) { write_file(base / "a.pdf", pdf_with_text({})); },
                     [&](const fs::path& base) -> std::optional<Error> {
                         const auto made = make_searchable(base / "a.pdf", read, {});
                         if (!made) return made.error();
                         return *made == 1 ? std::nullopt : std::optional(Error{ErrorKind::BadInput, "no page", {}});
                     },
                     [](const fs::path& base, bool succeeded) {
                         const auto words = texts_in_pdf(base / "a.pdf", 150);
                         ASSERT_TRUE(words && words->size() == 1);
                         EXPECT_TRUE((*words)[0] || !succeeded);
                     },
                     25});
}

TEST(EachCall, FailingWhileTheTrayIsSavedIsCorrectedByTheNextTry) {
    each_call_fails(
        {[](const fs::path& base) { ASSERT_TRUE(TrayKeeper::open(base / "tray", here_and_now, [](const Error&) {})); },
         [](const fs::path& base) -> std::optional<Error> {
             std::optional<Error> error;
             auto keeper = TrayKeeper::open(base / "tray", here_and_now, [&](const Error& failed) { error = failed; });
             if (!keeper) return keeper.error();
             if (auto loaded = (*keeper)->load(); !loaded) return loaded.error();
             const auto original = keep_original(base / "tray", {noisy(30, 40, CV_8UC1, 1), 200, Ink::Grey});
             if (!original) return original.error();
             const auto page = std::make_shared<const Page>(Page{new_id(), *original});
             const TrayHistory none;
             (*keeper)->keep(with_page_added({}, page, true), &none);
             EXPECT_EQ((*keeper)->is_all_kept(), !error);
             (*keeper)->keep_text(page, "eng", {});
             (*keeper)->tell_kept({}, {}, [](const std::vector<KeptDocument>&) {});
             (*keeper)->retry();
             EXPECT_TRUE((*keeper)->is_all_kept()) << error->sentence << " " << error->detail;
             EXPECT_TRUE((*keeper)->text(*page, "eng") || (*keeper)->text(*page, "eng"))
                 << "else it is read again" << (error ? error->sentence : " no error");
             return error;
         },
         [](const fs::path& base, bool succeeded) {
             auto keeper = TrayKeeper::open(base / "tray", here_and_now, [](const Error&) {});
             ASSERT_TRUE(keeper);
             const auto loaded = (*keeper)->load();
             ASSERT_TRUE(loaded);
             EXPECT_LE(loaded->tray.page_count(), 1U);
             EXPECT_TRUE(loaded->tray.page_count() == 1 || !succeeded);
         }});
}

}
}
