// The programs of this desktop that open a file, by the freedesktop.org rules (Desktop Entry Specification 1.5, MIME
// Applications Associations 1.0) as GIO follows them.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

struct Program {
    std::string id;   // the name of its desktop entry: "viewer.desktop"
    std::string name; // as the entry says it in the person's language
    std::string exec; // the entry's Exec
    bool in_terminal = false;
    bool operator==(const Program&) const = default;
};

// Those for a media type such as "application/pdf", the usual one first; may be none. Reads the disk.
std::vector<Program> programs_for(const std::string& mime);
std::optional<Program> usual_program(const std::string& mime);
// One that says of itself that it opens the type, and not only what the type is a kind of: an editor of text is no mail
// program.
std::optional<Program> program_made_for(const std::string& mime);
std::optional<Program> program_named(const std::string& id); // nothing: it is no longer there

// What is to be started, each with its arguments: once where the program takes several files, else once for each.
std::vector<std::vector<std::string>> commands_of(const Program& program,
                                                  const std::vector<std::filesystem::path>& files);

}
