#include "batch/batch.h"

#include "batch/progress.h"
#include "batch/scanners.h"
#include "core/errands/mail_draft.h"
#include "core/shown_text.h"
#include "core/ticket/ticket_folder.h"
#include "core/ticket/ticket_json.h"
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
            ProgressLine::of_standard_error().say("Note: only the window adds documents to one file; here each "
                                                  "document is its own file. See make --add-to.");
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
    std::fflush(stdout); // A program that reads the output gets each object at once.
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
    CLI::App* scan = app.add_subcommand("scan", "Scan documents and save them");
    scan->add_option("--device", scanning.device, "Name of the scanner, as printed by the command devices")->required();
    scan->add_option("--out", scanning.out, "Folder for the files; created if it does not exist")->required();
    add_passwords(scan, scanning.passwords);
    add_quiet(scan);
    scan->add_option("--on-glass", papers.on_glass,
                     "Simulated scanners only: put FILE on the glass; FILE@DEGREES turns it")
        ->allow_extra_args(false);
    scan->add_option(
            "--in-feeder", papers.in_feeder,
            "Simulated scanners only: add a sheet to the feeder, FRONT or FRONT,BACK, each with @DEGREES if it is "
            "turned; \"blank\" is an empty side")
        ->allow_extra_args(false);
    scan->add_option("--fault", papers.faults, "Simulated scanners only: a fault at a sheet, such as jam@3 or silent@1")
        ->allow_extra_args(false);
    scan->add_option("--wait-for-scanner", scanning.longest_silence_seconds,
                     "Seconds to wait for a scanner that sends no data (default 600)")
        ->check(CLI::Range(1.0, 86400.0));
    scan->add_option("--cabinet", scanning.cabinet, "Add the saved files to the cabinet in this folder");
    return scan;
}

CLI::App* add_mail(CLI::App& app, MailDraft& draft, std::string& draft_file, std::vector<std::string>& inputs) {
    CLI::App* mail =
        app.add_subcommand("mail", "Open an e-mail with the files in the mail program, or save it as a draft");
    mail->add_option("--to", draft.to, "Address of a recipient")->allow_extra_args(false);
    mail->add_option("--subject", draft.subject, "Subject of the e-mail");
    mail->add_option("--text", draft.text, "Text of the e-mail");
    mail->add_option("--draft", draft_file, "Save the e-mail as this draft, FILE.eml, instead of opening it");
    mail->add_option("FILE", inputs, "Files to send")->required();
    return mail;
}

CLI::App* add_stitch(CLI::App& app, std::vector<std::string>& inputs, std::string& out, bool& free_scale) {
    CLI::App* stitch = app.add_subcommand("stitch", "Stitch scans of overlapping pieces into one picture");
    stitch->add_option("INPUT", inputs, "Picture files and PDFs, in any order")->required();
    stitch->add_option("--out", out, "File name of the picture, ending in .png, .tif, .jpg or .pdf")->required();
    stitch->add_flag("--free-scale", free_scale, "Allow pieces to differ slightly in scale, as in photographs");
    return stitch;
}

CLI::App* add_make(CLI::App& app, MakeArguments& making) {
    CLI::App* make = app.add_subcommand("make", "Save picture files and PDFs as one document");
    make->add_option("--out", making.out, "Folder for the files; created if it does not exist");
    make->add_option("INPUT", making.inputs, "Picture files and PDFs")->required();
    add_passwords(make, making.passwords);
    add_quiet(make);
    auto* add_to = make->add_option("--add-to", making.add_to, "Add the pages to this PDF instead of creating a file");
    make->add_option("--at", making.at, "Where to add: start, end, or the page to add after")->needs(add_to);
    make->add_flag("--read-anew", making.read_anew, "Recognise the text of PDF pages again although they have text");
    make->add_flag("--although-signed", making.although_signed, "Add pages even if this breaks the PDF's signature")
        ->needs(add_to);
    make->add_option("--cabinet", making.cabinet, "Add the saved files to the cabinet in this folder");
    return make;
}

CLI::App* add_name(CLI::App& app, NamingArguments& naming) {
    CLI::App* name = app.add_subcommand("name", "Print the facts in documents and proposed names for them, as JSON");
    name->add_option("--kinds", naming.kinds, "JSON file with your own kinds of document")->check(CLI::ExistingFile);
    name->add_option("--before", naming.before, "Naming history to propose names from (saved-before.sqlite)")
        ->check(CLI::ExistingFile);
    name->add_option("INPUT", naming.inputs, "Picture files and PDFs; each is one document")->required();
    return name;
}

CLI::App* add_find(CLI::App& app, FindingArguments& finding) {
    CLI::App* find = app.add_subcommand("find", "Find documents in the cabinet by their text, best match first");
    find->add_option("WORDS", finding.words,
                     "Words, \"exact phrases\", -excluded, from:sender, in:folder, or dates such as last March")
        ->required();
    find->add_option("--cabinet", finding.cabinet, "Folder of the cabinet (default: your own)");
    find->add_flag("--json", finding.as_json, "Print a JSON array");
    find->add_flag("--csv", finding.as_csv, "Print comma-separated values, one line per document")->excludes("--json");
    find->add_option("--most", finding.most, "Most results to print (default 50)")->check(CLI::PositiveNumber);
    find->prefix_command(); // -words are not options
    return find;
}

CLI::App* add_take_in(CLI::App& app, TakingInArguments& taking_in) {
    CLI::App* take_in = app.add_subcommand("take-in", "Add the PDFs and pictures in a folder to the cabinet");
    take_in->add_option("FOLDER", taking_in.folder, "Folder to add, with its subfolders");
    take_in->add_option("--cabinet", taking_in.cabinet, "Folder of the cabinet (default: your own)");
    take_in->add_flag("--as-they-are", taking_in.as_they_are, "Do not recognise text in files that have none");
    take_in->add_flag("--make-searchable", taking_in.make_searchable, "Add the recognised text to the PDFs")
        ->excludes("--as-they-are");
    take_in->add_flag("--rebuild", taking_in.rebuild_index,
                      "Read every file in the cabinet again and rebuild the index");
    return take_in;
}

// `status` receives the exit status if the command was given.
void add_send(CLI::App& app, SendingArguments& sending, std::optional<int>& status) {
    CLI::App* send =
        app.add_subcommand("send", "Send files to a WebDAV or SFTP server, each once, never replacing others");
    send->add_option("FILE", sending.files, "Files to send");
    send->add_option("--to", sending.to, "Address of the server: https://…, http://… or sftp://…")->required();
    send->add_option("--folder", sending.folder, "Folder on the server; created if it does not exist");
    send->add_option("--user", sending.user, "User name to sign in with");
    send->add_option("--password-file", sending.password.open_file, "File whose first line is the password");
    send->add_option("--password-fd", sending.password.open_descriptor, "File descriptor to read the password from");
    send->add_option("--ca", sending.authorities, "File with additional trusted certificate authorities (PEM)");
    send->add_option("--fingerprint", sending.fingerprint,
                     "Accept only the certificate or host key with this fingerprint");
    send->add_option("--key", sending.key, "Private key file (SFTP only)");
    send->add_flag("--allow-plain-password", sending.plain_password,
                   "Allow sending the password unencrypted if an http:// server accepts nothing else");
    send->add_option("--tries", sending.tries, "Attempts if the connection fails (default 4)")
        ->check(CLI::PositiveNumber);
    send->add_flag("--test", sending.only_test, "Only test the connection, and print the result of each step");
    send->final_callback([&] { status = run_send(sending); });
}

void add_devices(CLI::App& app, bool& as_json, std::optional<int>& status) {
    CLI::App* devices = app.add_subcommand("devices", "List the scanners");
    devices->add_flag("--json", as_json, "Print a JSON array");
    devices->final_callback([&] { status = run_devices(as_json); });
}

CLI::App* add_read(CLI::App& app, bool& as_json, std::vector<std::string>& inputs) {
    CLI::App* read = app.add_subcommand("read", "Print the text of picture files and PDFs");
    read->add_flag("--json", as_json,
                   "Print JSON: each word with its position in points, confidence, paragraph and line");
    read->add_option("INPUT", inputs, "Picture files and PDFs")->required();
    return read;
}

CLI::App* add_separators(CLI::App& app, std::string& out, std::vector<std::string>& texts) {
    CLI::App* separators = app.add_subcommand("separators", "Create a PDF of separator sheets to print");
    separators->add_option("--out", out, "File name of the PDF")->required();
    separators->add_option(
        "TEXT", texts, "One sheet for each text, which names the document after it; without a text, one plain sheet");
    return separators;
}

void add_inspect(CLI::App& app, std::vector<std::string>& inputs, std::optional<int>& status) {
    CLI::App* inspect = app.add_subcommand("inspect", "Print what is noticed on each page, as JSON");
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
    CLI::App app{"Scans documents, recognises their text and saves them, without a window."};
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
        command->add_option("--ticket", ticket.file, "Ticket to use (JSON file)");
        command->add_option("--set", ticket.settings, "Set one choice of the ticket: key=value")
            ->allow_extra_args(false);
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
        complain({ErrorKind::NotWritable,
                  "The results could not be printed: standard output is full or closed. The files are saved.",
                  {}});
        return 1;
    }
    return *status;
}
