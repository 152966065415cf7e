// The commands of yelvin-batch. Each returns the exit status: 0 if everything was done, 1 if something could not be
// done (one line each on standard error; the rest is done), 2 for wrong usage.
#pragma once

#include "batch/passwords.h"
#include "batch/scanners.h"
#include "core/error.h"
#include "core/ticket/ticket.h"

#include <nlohmann/json_fwd.hpp>

#include <atomic>
#include <filesystem>
#include <string>
#include <vector>

namespace yelvin {

struct TicketArguments {
    std::string file;                  // may be empty: the built-in ticket
    std::vector<std::string> settings; // key=value
};
Result<Ticket> ticket_from(const TicketArguments& arguments);
// Whether folders outside of --out may be written to, because the command line itself names them.
bool may_name_folders(const TicketArguments& arguments);
std::string quoted(const std::string& word); // quoted for a shell

int exit_status(const Error& error);
void complain(const Error& error); // prints the error's sentence on standard error
// Prints JSON on standard output and flushes it; in one line if `indented` is negative. Bytes that are not UTF-8 are
// replaced.
void print(const nlohmann::json& what, int indented = -1);

int run_devices(bool as_json);
struct ScanArguments {
    std::string device;
    BenchArguments papers;
    TicketArguments ticket;
    std::filesystem::path out; // created if it is missing
    std::string cabinet;       // its folder; empty: files are added to no cabinet
    PasswordArguments passwords;
    double longest_silence_seconds = 600; // of a scanner; the scan is ended after it
};
// Scans and saves. Everything that can be checked is checked before the first sheet moves; pages that cannot be saved
// afterwards stay in a folder that is named on standard error, with the command that saves them.
int run_scan(const ScanArguments& arguments);
int run_separators(const std::filesystem::path& file, const std::vector<std::string>& texts);
struct MakeArguments {
    std::filesystem::path out; // may be empty if pages are added to a PDF
    std::vector<std::string> inputs;
    PasswordArguments passwords;
    std::string add_to, at = "end"; // a PDF, may be empty; "start", "end" or a page number
    bool although_signed = false;
    std::string cabinet;    // its folder; may be empty
    bool read_anew = false; // treat pages of PDFs as pictures and read them by OCR
};
int run_make(const TicketArguments& ticket, const MakeArguments& arguments);
// Stitches pieces; their scales may differ if `free_scale`.
int run_stitch(const std::vector<std::string>& inputs, const std::filesystem::path& out, bool free_scale);
// Prints the text of the pages with form feeds between them, or JSON with the place and confidence of each word.
int run_read(const TicketArguments& ticket, bool as_json, const std::vector<std::string>& inputs);
struct NamingArguments {
    std::string kinds, before; // files with the user's kinds of documents and the naming history; may be empty
    std::vector<std::string> inputs;
};
// Prints the facts of each file and the proposed names as a JSON array.
int run_name(const TicketArguments& ticket, const NamingArguments& naming);
// Writes the draft into `draft_file` or, if that is empty, opens it in the user's e-mail program. Prints a JSON line
// for a draft.
struct MailDraft;
int run_mail(const MailDraft& draft, const std::string& draft_file);
int run_inspect(const std::vector<std::string>& inputs);

// Saves the job's files, adds them to the cabinet if one is named, and prints a JSON line for each. Shared by make and
// scan.
struct SaveJob;
int save_and_print(SaveJob job, const std::string& cabinet, const std::atomic<bool>& anything_left_out);

struct SendingArguments {
    std::string to, user;                              // an address; the user name, may be empty
    PasswordArguments password;                        // uses its `open` password
    std::string authorities, fingerprint, key, folder; // may be empty
    bool only_test = false, plain_password = false;
    int tries = 4; // if the connection breaks or the server is busy
    std::vector<std::string> files;
};
// Sends files and prints a JSON line for each, or tests the server and prints one for each step.
int run_send(const SendingArguments& sending);

// Prints the documents that match, the best first.
struct FindingArguments {
    std::vector<std::string> words;
    std::string cabinet; // its folder; empty: the user's own
    bool as_json = false, as_csv = false;
    int most = 50;
};
int run_find(const FindingArguments& finding);
struct TakingInArguments {
    std::string folder, cabinet;
    bool as_they_are = false; // files without text are not read
    bool make_searchable = false;
    bool rebuild_index = false;
};
// Adds a folder to the cabinet and prints a JSON line for each file.
int run_take_in(const TicketArguments& ticket, const TakingInArguments& taking_in);

}
