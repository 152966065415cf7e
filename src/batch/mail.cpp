// `yelvin-batch mail`: opens the files as an e-mail in the user's mail program, or writes them as a draft.
#include "batch/batch.h"

#include "core/errands/mail_draft.h"
#include "core/mail_address.h"
#include "core/naming/file_name.h"
#include "core/saving/safe_file.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

namespace yelvin {

namespace {

Result<void> hand_over(const MailDraft& draft) {
    std::vector<std::string> words = xdg_email_command(draft);
    std::vector<char*> arguments;
    for (std::string& word : words) arguments.push_back(word.data());
    arguments.push_back(nullptr);
    pid_t child = 0;
    const char* instead = " Use --draft FILE.eml to save a draft instead.";
    if (::posix_spawnp(&child, arguments.front(), nullptr, nullptr, arguments.data(), environ) != 0)
        return fail(ErrorKind::Missing,
                    std::string("No program was found that passes files to an e-mail program; install xdg-utils.") +
                        instead);
    int status = 0;
    while (::waitpid(child, &status, 0) < 0 && errno == EINTR) {
    }
    if (WIFEXITED(status) && WEXITSTATUS(status) == 0) return {};
    return fail(ErrorKind::Missing, std::string("The e-mail program did not accept the files.") + instead);
}

}

int run_mail(const MailDraft& draft, const std::string& file) {
    int status = 0;
    MailDraft there = draft;
    std::erase_if(there.files, [&](const std::filesystem::path& each) {
        std::error_code failure;
        if (std::filesystem::is_regular_file(each, failure)) return false;
        complain(
            {ErrorKind::Missing, fmt::format("{} does not exist; check the name and the folder.", each.string()), {}});
        status = 1;
        return true;
    });
    if (there.files.empty()) return 1;
    if (auto good = check_addresses(draft.to); !good) {
        complain(good.error());
        return 1;
    }
    if (file.empty()) {
        if (auto given = hand_over(there); !given) {
            complain(given.error());
            return 1;
        }
        return status;
    }
    const std::filesystem::path out(file), folder = out.has_parent_path() ? out.parent_path() : ".";
    Result<SavedFile> saved = std::unexpected(Error{});
    if (auto usable = check_folder(folder); !usable)
        saved = std::unexpected(usable.error());
    else
        saved = save_file(
            folder, [&](int attempt) { return numbered_name(out.stem().string(), attempt) + out.extension().string(); },
            [&](const std::filesystem::path& growing) { return write_mail_draft(there, growing); });
    if (!saved) {
        complain(saved.error());
        return 1;
    }
    const nlohmann::json line{{"path", saved->path.string()}, {"files", there.files.size()}, {"bytes", saved->bytes}};
    print(line);
    return status;
}

}
