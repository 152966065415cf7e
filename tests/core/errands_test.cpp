// E-mail drafts as Python's email package and Perl's MIME tools read them, programs as gio lists them, and the layout
// of pages on a printer's sheets.
#include "core/errands/mail_draft.h"
#include "core/errands/print_layout.h"
#include "core/errands/programs.h"
#include "core/mail_address.h"
#include "core/ticket/ticket_json.h"
#include "support/support.h"

#include <cstdlib>
#include <sstream>

namespace yelvin::test {
namespace {

// Prints the subject, the recipients and the text, and for each attachment its name and whether it equals the file of
// that name beside the message.
constexpr const char* as_python_reads_it = R"py(
import email, email.policy, os, sys
raw = open(sys.argv[1], "rb").read()
assert max(len(line) for line in raw.split(b"\r\n")) <= 998 and b"\n" not in raw.replace(b"\r\n", b"")
assert all(byte < 128 for byte in raw)
mail = email.message_from_bytes(raw, policy=email.policy.default)
assert not mail.defects, mail.defects
print(mail["subject"]); print(mail["to"]); print(mail.get_body().get_content().replace("\r\n", "|"))
for part in mail.iter_attachments():
    name = part.get_filename()
    same = part.get_payload(decode=True) == open(os.path.join(os.path.dirname(sys.argv[1]), name), "rb").read()
    print(name, same, part.get_content_type())
)py";
constexpr const char* as_perl_reads_it = R"pl(
use MIME::Parser; use MIME::WordDecoder; use Digest::MD5;
my $parser = MIME::Parser->new; $parser->output_to_core(1);
my $mail = $parser->parse_open($ARGV[0]);
$mail->head->unfold;
print MIME::WordDecoder::mime_to_perl_string($mail->head->get("subject"));
for my $part ($mail->parts) { next unless $part->head->recommended_filename;
    print Digest::MD5::md5_hex($part->bodyhandle->as_string), "\n"; }
)pl";

TEST(Mail, DraftsAreReadByOthersWithFilesAndNames) {
    const TempFolder folder;
    std::string long_name = "ä";
    while (long_name.size() < 240) long_name += "ö";
    MailDraft draft{{"keeper@example.org", "Björn Öst <b.oest@example.org>"},
                    "Überblick über alle Schleusen, mit einem Betreff, der sehr viel länger als eine Zeile ist 🚤",
                    "Guten Tag,\n\nanbei = alles. Eine sehr lange Zeile, die umbrochen werden muss, weil sie mehr als "
                    "76 Zeichen hat.\n.\nFrom here: trailing space \n",
                    {}};
    std::string expected_sums;
    int seed = 1;
    for (const std::string& name : {std::string("lease.pdf"), std::string("Größe \"x\" 🚤.png"), long_name + ".txt"}) {
        std::string bytes;
        for (int i = 0; i < 3000 * seed + seed; ++i) bytes += static_cast<char>((i * 7919 * seed) >> 3);
        ++seed;
        write_file(folder / name, bytes);
        draft.files.push_back(folder / name);
        expected_sums += run({"md5sum", (folder / name).string()}).out.substr(0, 33);
    }
    const auto eml = folder / "draft.eml";
    ASSERT_TRUE(write_mail_draft(draft, eml));
    const Ran python = run({"/usr/bin/python3", "-c", as_python_reads_it, eml.string()});
    ASSERT_EQ(python.status, 0) << python.err;
    EXPECT_EQ(python.out, draft.subject + "\nkeeper@example.org, Björn Öst <b.oest@example.org>\n" +
                              "Guten Tag,||anbei = alles. Eine sehr lange Zeile, die umbrochen werden muss, weil sie "
                              "mehr als 76 Zeichen hat.|.|From here: trailing space |\nlease.pdf True "
                              "application/pdf\nGröße \"x\" 🚤.png True image/png\n" +
                              long_name + ".txt True text/plain\n");
    const Ran perl = run({"perl", "-CO", "-e", as_perl_reads_it, eml.string()});
    ASSERT_EQ(perl.status, 0) << perl.err;
    const size_t line = perl.out.find('\n');
    EXPECT_EQ(perl.out.substr(0, line), draft.subject);
    std::string sums;
    std::istringstream in(perl.out.substr(line + 1));
    for (std::string each; in >> each;) sums += each + " ";
    EXPECT_EQ(sums, expected_sums);
}

TEST(Mail, AnInvalidAddressOrFileIsReported) {
    const TempFolder folder;
    EXPECT_TRUE(check_addresses({"a@b", "The Keeper <keeper@example.org>"}));
    for (const char* wrong :
         {"keeper", "@b", "a@", "a b@c", "x <a@b", "a@b, c@d", "a@b\r\nBcc: c@d", "",
          "Office <o@example.org>\r\nBcc: <x@example.net>", "Office <o@example.org>\nBcc: x@example.net",
          "Office <o@example.org> and more", "all: a@b, c@d;", "<a@b> <c@d>", "a@b (Bcc: c@d)", "a@b\x7f"}) {
        const auto checked = check_addresses({"good@example.org", wrong});
        ASSERT_FALSE(checked) << wrong;
        EXPECT_NE(checked.error().sentence.find(std::string("“") + wrong + "”"), std::string::npos);
    }
    const auto missing = write_mail_draft({{}, "", "", {folder / "gone.pdf"}}, folder / "d.eml");
    ASSERT_FALSE(missing);
    EXPECT_EQ(missing.error().kind, ErrorKind::Missing);
    for (const char* wrong : {"Office <o@example.org>\r\nBcc: <x@example.net>", "keeper"}) {
        EXPECT_FALSE(write_mail_draft({{wrong}, "", "", {}}, folder / "b.eml"));
        nlohmann::json file{{"yelvin_ticket", 1}};
        file["then"]["mail"]["to"] = std::vector<std::string>{wrong};
        const auto ticket = ticket_from_json(file);
        ASSERT_FALSE(ticket) << wrong;
        EXPECT_NE(ticket.error().sentence.find("then.mail.to"), std::string::npos) << ticket.error().sentence;
    }
    // A header cannot be used to add further headers.
    write_file(folder / "a.txt", "a");
    ASSERT_TRUE(write_mail_draft({{}, "one\r\nBcc: all@example.org", "", {folder / "a.txt"}}, folder / "e.eml"));
    EXPECT_EQ(read_file(folder / "e.eml").find("\nBcc:"), std::string::npos);
}

TEST(Mail, FilesAreDividedByTheLimit) {
    using Mails = std::vector<std::vector<size_t>>;
    constexpr std::uintmax_t mb = 1'000'000;
    EXPECT_EQ(parted_into_mails({mb, mb, mb}, 10 * mb), (Mails{{0, 1, 2}}));
    EXPECT_EQ(parted_into_mails({4 * mb, 4 * mb, 2 * mb}, 10 * mb), (Mails{{0}, {1, 2}})) << "5.5 MB each in a mail";
    EXPECT_EQ(parted_into_mails({20 * mb, mb}, 10 * mb), (Mails{{0}, {1}}));
    EXPECT_NEAR(static_cast<double>(bytes_in_mail(57 * 1000)), 78 * 1000, 1) << "57 bytes a line of 76 and its end";
}

// gio and we search the same folders: the test's own and the system's.
TEST(Programs, MatchTheListOfGio) {
    const TempFolder home;
    const auto entry = [&](const std::string& name, const std::string& exec, const std::string& more = {}) {
        write_file(home / ("applications/" + name + ".desktop"), "[Desktop Entry]\nType=Application\nName=" + name +
                                                                     "\nExec=" + exec +
                                                                     "\nMimeType=application/pdf;\n" + more);
    };
    std::filesystem::create_directories(home / "applications");
    entry("reader", "true --page=1 %F");
    entry("viewer", "true \"%f\" --name=%c --sure=100%%");
    entry("hidden", "true %f", "Hidden=true\n");
    entry("gone", "no-such-program-here %f", "TryExec=no-such-program-here\n");
    write_file(home / "applications/mimeapps.list",
               "[Default Applications]\napplication/pdf=viewer.desktop\n[Added Associations]\napplication/pdf=reader."
               "desktop;\n");
    ASSERT_EQ(run({"update-desktop-database", (home / "applications").string()}).status, 0);
    // A separate process, because GIO caches the folders of this one.
    ::setenv("XDG_DATA_HOME", home.path().c_str(), 1);
    ::setenv("XDG_CONFIG_HOME", home.path().c_str(), 1);
    const std::string listed = run({"gio", "mime", "application/pdf"}).out;
    const auto programs = programs_for("application/pdf");
    const auto usual = usual_program("application/pdf");
    ::unsetenv("XDG_DATA_HOME");
    ::unsetenv("XDG_CONFIG_HOME");
    ASSERT_TRUE(usual);
    EXPECT_EQ(usual->id, "viewer.desktop");
    EXPECT_NE(listed.find("viewer.desktop\n"), std::string::npos) << listed;
    std::set<std::string> ours, gios;
    for (const Program& each : programs) ours.insert(each.id);
    std::istringstream lines(listed.substr(listed.find("Registered")));
    for (std::string word; lines >> word;)
        if (word.ends_with(".desktop")) gios.insert(word);
    EXPECT_EQ(ours, gios) << listed;
    EXPECT_EQ(programs.front().id, "viewer.desktop");
    EXPECT_FALSE(ours.contains("hidden.desktop") || ours.contains("gone.desktop"));
    const std::vector<std::filesystem::path> files{"/tmp/a b.pdf", "/tmp/c.pdf"};
    using Commands = std::vector<std::vector<std::string>>;
    EXPECT_EQ(commands_of(*usual, files), (Commands{{"true", "/tmp/a b.pdf", "--name=viewer", "--sure=100%"},
                                                    {"true", "/tmp/c.pdf", "--name=viewer", "--sure=100%"}}));
    EXPECT_EQ(commands_of({"", "", "true --page=1 %F", false}, files),
              (Commands{{"true", "--page=1", "/tmp/a b.pdf", "/tmp/c.pdf"}}));
    EXPECT_EQ(commands_of({"", "", "see %U", true}, {files[0]}),
              (Commands{{"x-terminal-emulator", "-e", "see", "file:///tmp/a%20b.pdf"}}));
}

TEST(Sheets, PagesAreAtTrueSizeOrFitted) {
    const SizeMm a4{210, 297}, a5{148, 210}, card{85.6, 54}, a3{297, 420};
    PrintHow how;
    auto layout = print_layout({a4, card, a3}, a4, 4, how);
    ASSERT_EQ(layout.sides.size(), 3U);
    EXPECT_EQ(layout.sides[0][0].place, (RectMm{0, 0, 210, 297}))
        << "as large as it is, even where that is not reached";
    EXPECT_NEAR(layout.sides[1][0].place.x, (210 - 85.6) / 2, 1e-9);
    EXPECT_NEAR(layout.sides[1][0].place.width, 85.6, 1e-9);
    EXPECT_TRUE(layout.reaches_over) << "A3 on A4";
    EXPECT_FALSE(print_layout({a4, {297, 210}}, a4, 4, how).reaches_over);
    EXPECT_TRUE(print_layout({{297, 210}}, a4, 4, how).sides[0][0].turned);
    how.fitted = true;
    layout = print_layout({a3, card}, a4, 5, how);
    EXPECT_FALSE(layout.reaches_over);
    EXPECT_NEAR(layout.sides[0][0].place.width, 200, 0.1);
    EXPECT_TRUE(layout.sides[1][0].turned) << "a lying card is larger on its side";
    EXPECT_NEAR(layout.sides[1][0].place.height / layout.sides[1][0].place.width, 85.6 / 54, 1e-6);
    how = {};
    how.two_on_a_sheet = how.both_sides = true;
    layout = print_layout({a4, a4, a5}, a4, 4, how);
    ASSERT_EQ(layout.sides.size(), 2U);
    EXPECT_EQ(layout.sheets(true), 1);
    ASSERT_EQ(layout.sides[0].size(), 2U);
    EXPECT_TRUE(layout.sides[0][0].turned);
    EXPECT_LE(layout.sides[0][0].place.y + layout.sides[0][0].place.height, layout.sides[0][1].place.y);
    EXPECT_GE(layout.sides[0][0].place.width, 190) << "A4 on half of A4 is 0.7 of its size";
    EXPECT_LE(layout.sides[1][0].place.height, 148 + 1e-9) << "never larger than it is";
}

TEST(Sheets, PagesAreSelectedByNumber) {
    using Pages = std::vector<size_t>;
    EXPECT_EQ(*pages_to_print("", 3), (Pages{0, 1, 2}));
    EXPECT_EQ(*pages_to_print(" 1-2, 5 ,4", 5), (Pages{0, 1, 4, 3}));
    for (const char* wrong : {"0", "4", "2-1", "1-", "a", "1,,2", "1,", "-1", "1 2-9"})
        EXPECT_FALSE(pages_to_print(wrong, 3)) << wrong;
}

}
}
