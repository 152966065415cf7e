#include "batch/batch.h"

#include "batch/progress.h"
#include "batch/scanners.h"
#include "core/errands/mail_draft.h"
#include "core/shown_text.h"
#include "core/ticket/ticket_folder.h"
#include "core/utf8.h"
#include "jobs/trouble.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <csignal>
#include <cstdio>
#include <optional>

namespace yelvin {

Result<Ticket> ticket_from(const TicketArguments& arguments) {
    Result<Ticket> ticket = Ticket{};
    if (!arguments.file.empty()) {
        const auto kept = load_with_halves(arguments.file);
        if (!kept) return std::unexpected(kept.error());
        if (!kept->trouble.empty())
            ProgressLine::of_standard_error().say(fmt::format("Note: {}", shown_text(kept->trouble)));
        if (kept->ticket.save.grows != Ticket::Save::Grows::No)
            ProgressLine::of_standard_error().say("Note: only the window adds to the file of a ticket; here each "
                                                  "document is a file of its own. See make --add-to.");
        ticket = kept->ticket;
    }
    for (const std::string& setting : arguments.settings) {
        if (!ticket) return ticket;
        ticket = with_setting(*ticket, setting);
    }
    return ticket;
}

// A ticket file may come from an untrusted source; settings on the command line come from the user.
bool may_name_folders(const TicketArguments& arguments) {
    return arguments.file.empty() || std::ranges::any_of(arguments.settings, [](const std::string& setting) {
               return setting.starts_with("make.also");
           });
}

std::string quoted(const std::string& word) {
    constexpr std::string_view plain = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789_./=:,@%+-";
    if (!word.empty() && word.find_first_not_of(plain) == std::string::npos) return word;
    std::string out = "'";
    for (const char c : word) out += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return out + "'";
}

int exit_status(const Error& error) { return error.kind == ErrorKind::Usage ? 2 : 1; }

void complain(const Error& error) { ProgressLine::of_standard_error().say(error.sentence); }

namespace {

// JSON escapes only the C0 control characters. Other characters that control a terminal can occur only inside strings,
// so they can be escaped wherever they are found.
std::string with_escapes(const std::string& text) {
    std::string out;
    for (size_t at = 0; at < text.size();) {
        const size_t begin = at;
        const auto c = next_code_point(text, at);
        if (c && *c >= 0x7F && steers_output(*c))
            out += fmt::format("\\u{:04x}", static_cast<unsigned>(*c));
        else
            out.append(text, begin, at - begin);
    }
    return out;
}

}

void print(const nlohmann::json& what, int indented) {
    ProgressLine::of_standard_error().clear();
    fmt::print("{}\n", with_escapes(what.dump(indented, ' ', false, nlohmann::json::error_handler_t::replace)));
    std::fflush(stdout); // whoever reads along knows at once
}

}

namespace yelvin {
namespace {

void add_passwords(CLI::App* command, PasswordArguments& passwords) {
    auto* file = command->add_option("--password-file", passwords.open_file,
                                     "File whose first line is the password that opens the PDF");
    command->add_option("--password-fd", passwords.open_descriptor, "File descriptor to read the opening password from")
        ->excludes(file);
    auto* owner = command->add_option("--owner-password-file", passwords.owner_file,
                                      "File whose first line is the owner password, which lifts restrictions");
    command
        ->add_option("--owner-password-fd", passwords.owner_descriptor,
                     "File descriptor to read the owner password from")
        ->excludes(owner);
}

void add_quiet(CLI::App* command) {
    command->add_flag_callback(
        "-q,--quiet", [] { ProgressLine::of_standard_error().silence(); }, "Show no progress on a terminal");
}

CLI::App* add_scan(CLI::App& app, ScanArguments& scanning) {
    BenchArguments& papers = scanning.papers;
    CLI::App* scan = app.add_subcommand("scan", "Scan with a scanner and save");
    scan->add_option("--device", scanning.device, "The scanner's name")->required();
    scan->add_option("--out", scanning.out, "Folder for the files, created where it is missing")->required();
    add_passwords(scan, scanning.passwords);
    add_quiet(scan);
    scan->add_option("--on-glass", papers.on_glass,
                     "For the simulated scanners: FILE or FILE@DEGREES laid on the glass")
        ->allow_extra_args(false);
    scan->add_option(
            "--in-feeder", papers.in_feeder,
            "For the simulated scanners: a sheet, FRONT or FRONT,BACK, either with @DEGREES; \"blank\" is bare")
        ->allow_extra_args(false);
    scan->add_option("--fault", papers.faults,
                     "For the simulated scanners: a fault at a sheet, such as jam@3 or silent@1")
        ->allow_extra_args(false);
    scan->add_option("--wait-for-scanner", scanning.longest_silence_seconds,
                     "Seconds to wait for a scanner that sends nothing (600)")
        ->check(CLI::Range(1.0, 86400.0));
    scan->add_option("--cabinet", scanning.cabinet, "Enter what is saved into the cabinet in this folder");
    return scan;
}

CLI::App* add_mail(CLI::App& app, MailDraft& draft, std::string& draft_file, std::vector<std::string>& inputs) {
    CLI::App* mail = app.add_subcommand("mail", "Attach files to an e-mail in the mail program, or write its draft");
    mail->add_option("--to", draft.to, "An address")->allow_extra_args(false);
    mail->add_option("--subject", draft.subject, "The subject");
    mail->add_option("--text", draft.text, "The message");
    mail->add_option("--draft", draft_file, "Write the message into this file, FILE.eml, instead");
    mail->add_option("FILE", inputs, "The files")->required();
    return mail;
}

CLI::App* add_stitch(CLI::App& app, std::vector<std::string>& inputs, std::string& out, bool& free_scale) {
    CLI::App* stitch = app.add_subcommand("stitch", "Put scans of parts of one thing into one picture");
    stitch->add_option("INPUT", inputs, "Picture files and PDFs, in any order")->required();
    stitch->add_option("--out", out, "The picture's name, ending in .png, .tif, .jpg or .pdf")->required();
    stitch->add_flag("--free-scale", free_scale, "Let the pieces differ a little in size, as photographs of them do");
    return stitch;
}

CLI::App* add_make(CLI::App& app, MakeArguments& making) {
    CLI::App* make = app.add_subcommand("make", "Save picture files and PDFs as one document");
    make->add_option("--out", making.out, "Folder for the files, created where it is missing");
    make->add_option("INPUT", making.inputs, "Picture files and PDFs")->required();
    add_passwords(make, making.passwords);
    add_quiet(make);
    auto* add_to = make->add_option("--add-to", making.add_to, "Add the pages to this PDF instead");
    make->add_option("--at", making.at, "Where: start, end, or behind which page")->needs(add_to);
    make->add_flag("--read-anew", making.read_anew, "Read pages of PDFs that already have their words, as pictures");
    make->add_flag("--although-signed", making.although_signed, "Even if its signature no longer holds then")
        ->needs(add_to);
    make->add_option("--cabinet", making.cabinet, "Enter what is saved into the cabinet in this folder");
    return make;
}

CLI::App* add_name(CLI::App& app, NamingArguments& naming) {
    CLI::App* name = app.add_subcommand("name", "Say what papers are and propose names for them, as JSON");
    name->add_option("--kinds", naming.kinds, "A JSON file with kinds of paper of one's own")->check(CLI::ExistingFile);
    name->add_option("--before", naming.before, "What was saved before, a saved-before.sqlite")
        ->check(CLI::ExistingFile);
    name->add_option("INPUT", naming.inputs, "Picture files and PDFs, each a paper")->required();
    return name;
}

CLI::App* add_find(CLI::App& app, FindingArguments& finding) {
    CLI::App* find = app.add_subcommand("find", "Find papers in the cabinet by their words, the best first");
    find->add_option("WORDS", finding.words,
                     "Words, \"exact words\", -not these, from:sender, in:folder, dates such as last March")
        ->required();
    find->add_option("--cabinet", finding.cabinet, "Another cabinet than one's own: its folder");
    find->add_flag("--json", finding.as_json, "As a JSON array");
    find->add_flag("--csv", finding.as_csv, "As a list for other programs, a line a paper")->excludes("--json");
    find->add_option("--most", finding.most, "How many at most (50)")->check(CLI::PositiveNumber);
    find->prefix_command(); // -words are not options
    return find;
}

CLI::App* add_take_in(CLI::App& app, TakingInArguments& taking_in) {
    CLI::App* take_in = app.add_subcommand("take-in", "Take the PDFs and pictures of a folder into the cabinet");
    take_in->add_option("FOLDER", taking_in.folder, "The folder, with those within it");
    take_in->add_option("--cabinet", taking_in.cabinet, "Another cabinet than one's own: its folder");
    take_in->add_flag("--as-they-are", taking_in.as_they_are, "Do not read files that have no words");
    take_in->add_flag("--make-searchable", taking_in.make_searchable, "Put the words that were read into their PDFs")
        ->excludes("--as-they-are");
    take_in->add_flag("--rebuild", taking_in.rebuild_index,
                      "Look at every file of the cabinet again, and make its index anew");
    return take_in;
}

// `status` receives the exit status if the command was given.
void add_send(CLI::App& app, SendingArguments& sending, std::optional<int>& status) {
    CLI::App* send = app.add_subcommand("send", "Send files to a WebDAV or SFTP server, each once, never over another");
    send->add_option("FILE", sending.files, "The files");
    send->add_option("--to", sending.to, "The address: https://…, http://… or sftp://…")->required();
    send->add_option("--folder", sending.folder, "A folder below it, made where it is missing");
    send->add_option("--user", sending.user, "Whoever signs in");
    send->add_option("--password-file", sending.password.open_file, "Its first line is the password");
    send->add_option("--password-fd", sending.password.open_descriptor, "Likewise, of a descriptor");
    send->add_option("--ca", sending.authorities, "Certificates of authorities besides the system's (PEM)");
    send->add_option("--fingerprint", sending.fingerprint, "Of the one certificate or host key that is accepted");
    send->add_option("--key", sending.key, "SFTP: a private key");
    send->add_flag("--allow-plain-password", sending.plain_password,
                   "Let the password go unencrypted to an http:// address that takes it in no other way");
    send->add_option("--tries", sending.tries, "Where the connection breaks (4)")->check(CLI::PositiveNumber);
    send->add_flag("--test", sending.only_test, "Only say step by step what works");
    send->final_callback([&] { status = run_send(sending); });
}

void add_devices(CLI::App& app, bool& as_json, std::optional<int>& status) {
    CLI::App* devices = app.add_subcommand("devices", "List the scanners");
    devices->add_flag("--json", as_json, "As a JSON array");
    devices->final_callback([&] { status = run_devices(as_json); });
}

CLI::App* add_read(CLI::App& app, bool& as_json, std::vector<std::string>& inputs) {
    CLI::App* read = app.add_subcommand("read", "Print the text of picture files and PDFs");
    read->add_flag("--json", as_json, "Each word with its place in points, its certainty, paragraph and line");
    read->add_option("INPUT", inputs, "Picture files and PDFs")->required();
    return read;
}

CLI::App* add_separators(CLI::App& app, std::string& out, std::vector<std::string>& texts) {
    CLI::App* separators = app.add_subcommand("separators", "Write separator sheets to print, as a PDF");
    separators->add_option("--out", out, "The PDF's name")->required();
    separators->add_option("TEXT", texts,
                           "A sheet for each text, which names the document behind it; none: one plain sheet");
    return separators;
}

void add_inspect(CLI::App& app, std::vector<std::string>& inputs, std::optional<int>& status) {
    CLI::App* inspect = app.add_subcommand("inspect", "Say what is noticed about each page, as JSON");
    inspect->add_option("INPUT", inputs, "Picture files and PDFs")->required();
    inspect->final_callback([&] { status = run_inspect(inputs); });
}

// Returns the exit status if nothing more is to be done: help was requested, or the arguments are wrong.
std::optional<int> parsed(CLI::App& app, int argc, char** argv) {
    try {
        app.parse(argc, argv);
        return std::nullopt;
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? 0 : 2;
    }
}

int run_command(int argc, char** argv) {
    CLI::App app{"Scans, reads and saves paper without a window."};
    app.set_version_flag("--version", YELVIN_VERSION);
    app.require_subcommand(1);

    bool as_json = false;
    std::optional<int> done;
    add_devices(app, as_json, done);
    SendingArguments sending;
    add_send(app, sending, done);
    TicketArguments ticket;
    std::string out;
    std::vector<std::string> inputs, texts;
    const auto with_choices = [&](CLI::App* command) {
        command->add_option("--ticket", ticket.file, "The ticket's JSON file");
        command->add_option("--set", ticket.settings, "One choice of the ticket: key=value")->allow_extra_args(false);
    };
    ScanArguments scanning;
    CLI::App* scan = add_scan(app, scanning);
    with_choices(scan);
    MakeArguments making;
    CLI::App* make = add_make(app, making);
    with_choices(make);
    FindingArguments finding;
    CLI::App* find = add_find(app, finding);
    TakingInArguments taking_in;
    CLI::App* take_in = add_take_in(app, taking_in);
    with_choices(take_in);
    CLI::App* read = add_read(app, as_json, inputs);
    with_choices(read);
    NamingArguments naming;
    with_choices(add_name(app, naming));
    add_inspect(app, inputs, done);
    bool free_scale = false;
    CLI::App* stitch = add_stitch(app, inputs, out, free_scale);
    MailDraft draft;
    std::string draft_file;
    CLI::App* mail = add_mail(app, draft, draft_file, inputs);
    CLI::App* separators = add_separators(app, out, texts);

    if (const auto ended = parsed(app, argc, argv)) return *ended;
    if (done) return *done;
    if (*scan) {
        scanning.ticket = ticket;
        return run_scan(scanning);
    }
    if (*separators) return run_separators(out, texts);
    if (*mail) {
        draft.files.assign(inputs.begin(), inputs.end());
        return run_mail(draft, draft_file);
    }
    if (*stitch) return run_stitch(inputs, out, free_scale);
    if (*read) return run_read(ticket, as_json, inputs);
    if (*make) return run_make(ticket, making);
    if (*find) return run_find(finding);
    if (*take_in) return run_take_in(ticket, taking_in);
    return run_name(ticket, naming);
}

// Whether all output was written. Standard output may be a file on a full disk.
bool printed() { return std::fflush(stdout) == 0 && std::ferror(stdout) == 0; }

}
}

int main(int argc, char** argv) {
    using namespace yelvin;
    std::signal(SIGXFSZ, SIG_IGN); // a file that grows too large is an error of writing, not the end
    const Result<int> status = caught("yelvin-batch", [&]() -> Result<int> { return run_command(argc, argv); });
    if (!status) {
        complain({status.error().kind, fmt::format("{} ({})", status.error().sentence, status.error().detail), {}});
        return 1;
    }
    if (!printed()) {
        complain(
            {ErrorKind::NotWritable,
             "What was done could not be printed: standard output is full or closed. Files that were made are saved.",
             {}});
        return 1;
    }
    return *status;
}
