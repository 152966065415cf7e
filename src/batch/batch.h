// The commands of yelvin-batch. Each returns the exit status: 0 all done, 1 something could not be done (one line each
// on standard error, the rest is done), 2 wrong usage.
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
// Whether folders outside of --out may be written to: those that the command line itself names may.
bool may_name_folders(const TicketArguments& arguments);
std::string quoted(const std::string& word); // for a shell

int exit_status(const Error& error);
void complain(const Error& error); // the one line on standard error
// On standard output, at once; in one line where nothing is indented. Bytes that are no UTF-8 are replaced.
void print(const nlohmann::json& what, int indented = -1);

int run_devices(bool as_json);
struct ScanArguments {
    std::string device;
    BenchArguments papers;
    TicketArguments ticket;
    std::filesystem::path out; // is made where it is missing
    std::string cabinet;       // its folder; empty: what is saved goes into none
    PasswordArguments passwords;
    double longest_silence_seconds = 600; // of a scanner; then the scan is ended
};
// Scans and saves. All that can fail is checked before the first sheet moves; pages that cannot be saved afterwards
// stay in a folder that is named on standard error, with the command that makes files of them.
int run_scan(const ScanArguments& arguments);
int run_separators(const std::filesystem::path& file, const std::vector<std::string>& texts);
struct MakeArguments {
    std::filesystem::path out; // may be empty where pages are added
    std::vector<std::string> inputs;
    PasswordArguments passwords;
    std::string add_to, at = "end"; // a PDF, or none; "start", "end" or a page
    bool although_signed = false;
    std::string cabinet;    // its folder; empty: it goes into none
    bool read_anew = false; // pages of PDFs as pictures, whatever words and drawings they bring
};
int run_make(const TicketArguments& ticket, const MakeArguments& arguments);
// Sizes differ only where `free_scale` says so.
int run_stitch(const std::vector<std::string>& inputs, const std::filesystem::path& out, bool free_scale);
// Prints the pages' text, a form feed between them, or as JSON each word with its place and certainty.
int run_read(const TicketArguments& ticket, bool as_json, const std::vector<std::string>& inputs);
struct NamingArguments {
    std::string kinds, before; // a person's kinds of paper, and what was saved before; may be empty
    std::vector<std::string> inputs;
};
// Prints what each file says of itself and the names that are proposed for it, as a JSON array.
int run_name(const TicketArguments& ticket, const NamingArguments& naming);
// Into `draft_file` or, where that is empty, to the person's mail program. Prints a JSON line for a draft.
struct MailDraft;
int run_mail(const MailDraft& draft, const std::string& draft_file);
int run_inspect(const std::vector<std::string>& inputs);

// Writes the pages' file(s) into `out`, enters them into the cabinet that is named, and prints a JSON line for each;
// shared by make and scan.
struct SaveJob;
int save_and_print(SaveJob job, const std::string& cabinet, const std::atomic<bool>& anything_left_out);

struct SendingArguments {
    std::string to, user;                              // an address; whoever signs in, may be empty
    PasswordArguments password;                        // its `open`
    std::string authorities, fingerprint, key, folder; // may be empty
    bool only_test = false, plain_password = false;
    int tries = 4; // where the connection breaks or the server is busy
    std::vector<std::string> files;
};
// Prints a JSON line for each file that arrived, or for each step of the test.
int run_send(const SendingArguments& sending);

// Prints the papers that have the words, the best first.
struct FindingArguments {
    std::vector<std::string> words;
    std::string cabinet; // its folder; empty: the person's own
    bool as_json = false, as_csv = false;
    int most = 50;
};
int run_find(const FindingArguments& finding);
struct TakingInArguments {
    std::string folder, cabinet;
    bool as_they_are = false; // what has no words is not read
    bool make_searchable = false;
    bool index_anew = false;
};
// Prints a JSON line for each file that came in.
int run_take_in(const TicketArguments& ticket, const TakingInArguments& taking_in);

}
