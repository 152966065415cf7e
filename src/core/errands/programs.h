// The programs of this desktop that open files, by the freedesktop.org rules (Desktop Entry Specification 1.5, MIME
// Applications Associations 1.0), which GIO implements. The functions read the disk and may be called on any thread.
#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

struct Program {
    std::string id;   // the name of its desktop entry: "viewer.desktop"
    std::string name; // in the user's language
    std::string exec; // the Exec key of the entry
    bool in_terminal = false;
    bool operator==(const Program&) const = default;
};

// Returns the programs for a media type such as "application/pdf", the default one first; may be empty.
std::vector<Program> programs_for(const std::string& mime);
std::optional<Program> usual_program(const std::string& mime);
// Returns a program whose entry names the type itself, not only a parent type: a text editor is not an e-mail program.
std::optional<Program> program_made_for(const std::string& mime);
std::optional<Program> program_named(const std::string& id); // nullopt if it does not exist

// Returns the commands to be started, each with its arguments: one if the program takes several files, otherwise one
// for each file.
std::vector<std::vector<std::string>> commands_of(const Program& program,
                                                  const std::vector<std::filesystem::path>& files);

}
