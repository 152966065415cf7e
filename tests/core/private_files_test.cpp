// Only the owner can read what Yelvin stores, whatever the umask.
#include "core/private_files.h"

#include "core/cabinet/cabinet.h"
#include "core/naming/naming_history.h"
#include "core/saving/safe_file.h"
#include "core/storage/new_id.h"
#include "core/storage/set_aside.h"
#include "core/ticket/ticket_folder.h"
#include "core/ticket/ticket_json.h"
#include "core/tray/originals.h"
#include "core/tray/tray_store.h"
#include "jobs/send_queue.h"
#include "jobs/trouble.h"
#include "support/support.h"

#include <sys/stat.h>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

class OpenUmask {
  public:
    OpenUmask() : before_(::umask(0)) {}
    ~OpenUmask() { ::umask(before_); }
    OpenUmask(const OpenUmask&) = delete;
    OpenUmask& operator=(const OpenUmask&) = delete;

  private:
    mode_t before_;
};

std::vector<std::string> readable_by_others(const fs::path& folder) {
    std::vector<std::string> open;
    for (const auto& entry : fs::recursive_directory_iterator(folder)) {
        struct stat about {};
        if (::lstat(entry.path().c_str(), &about) == 0 && (about.st_mode & 0077) != 0) open.push_back(entry.path());
    }
    return open;
}

TEST(PrivateFiles, StoredFilesAreReadableByTheirOwnerOnly) {
    const OpenUmask open;
    const TempFolder base;
    const fs::path kept = base / "data/yelvin";
    {
        auto store = TrayStore::open(kept / "tray");
        ASSERT_TRUE(store) << store.error().sentence;
        const Raster large{cv::Mat(60, 6400, CV_8UC1, cv::Scalar(200)), 600, Ink::Grey}; // with coarse copies
        const auto original = keep_original(kept / "tray", large);
        ASSERT_TRUE(original);
        Tray tray = with_page_added({}, std::make_shared<const Page>(Page{new_id(), *original}), true);
        ASSERT_TRUE(store->keep(tray));
        auto cabinet = Cabinet::open(kept / "cabinet");
        ASSERT_TRUE(cabinet) << cabinet.error().sentence;
        auto names = NamingHistory::open(kept / "names/saved-before.sqlite");
        ASSERT_TRUE(names) << names.error().sentence;
        ASSERT_TRUE(names->add({0, "/papers/Lease.pdf", {}}));
        auto sending = SendQueue::open(kept / "sending", {}, {});
        ASSERT_TRUE(sending) << sending.error().sentence;
        ASSERT_TRUE(keep_ticket(kept / "settings/tickets", Ticket{}));
        ASSERT_TRUE(new_set_aside_folder(kept / "tray"));
        start_log(kept / "state");
        for (int i = 0; i < 12000; ++i)
            log_trouble("a line that is long enough to let the log begin another file, some "
                        "hundred bytes of it each, so that it is rotated");
        EXPECT_TRUE(fs::exists(kept / "state/yelvin.1.log"));
        EXPECT_EQ(readable_by_others(base.path()), std::vector<std::string>{});
    }
    // Files of an earlier version that others could read become private.
    for (const auto& entry : fs::recursive_directory_iterator(kept)) {
        std::error_code ignored;
        fs::permissions(entry.path(), fs::perms(entry.is_directory() ? 0755 : 0644), ignored);
    }
    ASSERT_TRUE(TrayStore::open(kept / "tray"));
    ASSERT_TRUE(Cabinet::open(kept / "cabinet"));
    for (const char* folder : {"tray", "cabinet"})
        EXPECT_EQ(fs::status(kept / folder).permissions(), fs::perms::owner_all) << folder;
    EXPECT_EQ(fs::status(kept / "tray/tray.sqlite").permissions(), fs::perms(0600));
}

TEST(PrivateFiles, ATicketBehindALinkKeepsItsPlaceAndMode) {
    const TempFolder shared, own;
    const auto ticket = keep_ticket(shared.path(), Ticket{});
    ASSERT_TRUE(ticket);
    fs::permissions(*ticket, fs::perms(0664));
    fs::create_symlink(*ticket, own / "shared.json");
    Ticket changed;
    changed.how.dpi = 200;
    ASSERT_TRUE(keep_ticket(own.path(), changed, own / "shared.json"));
    EXPECT_TRUE(fs::is_symlink(own / "shared.json"));
    EXPECT_EQ(load_ticket(*ticket)->how.dpi, 200);
    EXPECT_EQ(fs::status(*ticket).permissions(), fs::perms(0664));
    EXPECT_EQ(own.files(), std::vector<std::string>{"shared.json"});
}

TEST(PrivateFiles, SavedDocumentsFollowTheUmask) {
    const TempFolder folder;
    for (const auto& [umask, mode] : {std::pair{0022, 0644}, {0007, 0660}, {0077, 0600}}) {
        const mode_t before = ::umask(static_cast<mode_t>(umask));
        const auto saved = save_file(
            folder.path(), [&](int) { return std::to_string(umask); },
            [](const fs::path& growing) { return write_bytes(growing, "x"); });
        EXPECT_TRUE(replace_file(folder / ("list" + std::to_string(umask)), "x"));
        ::umask(before);
        ASSERT_TRUE(saved);
        EXPECT_EQ(fs::status(saved->path).permissions(), fs::perms(mode));
        EXPECT_EQ(fs::status(folder / ("list" + std::to_string(umask))).permissions(), fs::perms(mode));
    }
}

}
}
