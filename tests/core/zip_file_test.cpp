// ZIP files made of parts in unnamed files, and what another program reads from them.
#include "core/output/zip_file.h"

#include "support/support.h"

#include <sys/resource.h>

#include <csignal>

namespace yelvin::test {
namespace {

TEST(ZipFile, IsReadByOthersAndDamageIsDetected) {
    const TempFolder folder;
    const auto spool = std::make_shared<Spool>();
    const std::string large(300'000, 'x');
    ZipFile zip;
    ASSERT_TRUE(zip.add("mimetype", "application/epub+zip", ZipFile::Packed::No));
    const auto first = spooled(spool, "a beginning, "), second = spooled(spool, large),
               third = spooled(spool, " an end");
    ASSERT_TRUE(first && second && third);
    zip.add("text/whole.txt", {*first, *second, *third}, ZipFile::Packed::Yes);
    ZipFile other;
    ASSERT_TRUE(other.add("Größe.txt", "ß"));
    zip.take_over(other);
    const auto file = folder / "made.zip";
    ASSERT_TRUE(zip.write(file));
    EXPECT_EQ(folder.files().size(), 1U) << "nothing else was put beside it";
    EXPECT_EQ(run({"/usr/bin/python3", "-m", "zipfile", "-t", file.string()}).status, 0);
    const Ran read =
        run({"/usr/bin/python3", "-c",
             "import sys, zipfile; z = zipfile.ZipFile(sys.argv[1]); t = z.read('text/whole.txt').decode(); "
             "print([i.compress_type for i in z.infolist()], len(t), t[:13], t[-7:], z.namelist()[2], "
             "z.read(z.namelist()[2]).decode())",
             file.string()});
    EXPECT_EQ(read.out, "[0, 8, 8] 300020 a beginning,   an end Größe.txt ß\n") << read.err;
    EXPECT_TRUE(zip_is_whole(file, "mimetype"));
    EXPECT_FALSE(zip_is_whole(file, "text/whole.txt")) << "its kind does not come first";
    const std::string bytes = read_file(file);
    for (const size_t cut : {bytes.size() - 1, bytes.size() / 2, size_t{10}}) {
        write_file(folder / "cut.zip", bytes.substr(0, cut));
        EXPECT_FALSE(zip_is_whole(folder / "cut.zip", "mimetype")) << cut;
    }
    std::string damaged = bytes;
    damaged[damaged.find("application/epub") + 2] = 'x';
    write_file(folder / "damaged.zip", damaged);
    EXPECT_FALSE(zip_is_whole(folder / "damaged.zip", "mimetype")) << "a checksum does not fit";
    EXPECT_FALSE(zip.write(folder / "not there" / "made.zip"));
}

TEST(Spool, ReportsAnIncompleteWrite) {
    std::signal(SIGXFSZ, SIG_IGN); // NOLINT(concurrency-mt-unsafe)
    rlimit before{};
    ASSERT_EQ(getrlimit(RLIMIT_FSIZE, &before), 0);
    rlimit limit = before;
    limit.rlim_cur = 1000;
    Spool spool;
    setrlimit(RLIMIT_FSIZE, &limit);
    const auto kept = spool.append(std::string(700, 'a'));
    const auto cut = spool.append(std::string(700, 'b'));
    setrlimit(RLIMIT_FSIZE, &before);
    EXPECT_TRUE(kept);
    ASSERT_FALSE(cut) << "300 of 700 bytes are not all of them";
    EXPECT_NE(cut.error().sentence.find("temporary files"), std::string::npos) << cut.error().sentence;
}

TEST(ZipFile, AnIncompleteSpoolMakesNoFileThatLooksComplete) {
    const TempFolder folder;
    for (const ZipFile::Packed packed : {ZipFile::Packed::No, ZipFile::Packed::Yes}) {
        const auto spool = std::make_shared<Spool>();
        ZipFile zip;
        zip.add("text/whole.txt", *spooled(spool, std::string(300'000, 'x')), packed);
        std::filesystem::resize_file(spool->path(), 200'000);
        EXPECT_FALSE(zip.write(folder / "made.zip"));
        EXPECT_FALSE(zip_is_whole(folder / "made.zip", "text/whole.txt"));
    }
}

}
}
