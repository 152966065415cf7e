// Files that are being written, and telling an abandoned one from one that somebody is writing.
//
// Such a file is named ".yelvin-HOST-PROCESS-START-RANDOM.part" after whoever writes it, because a lock alone does not
// say enough: a folder may be a network share without locks, or a server's folder into which a colleague is uploading.
#pragma once

#include <filesystem>
#include <string>

namespace yelvin {

// Returns a new name for a file that this process is going to write. Thread-safe.
std::string new_part_name();

// Whether the file bears the name of a file being written, by this program or by another one of its kind.
bool is_part_name(const std::string& name);

// Whether nobody writes this file any more. For a file of this computer: its process has ended, and nobody holds a lock
// on it. For any other file with such a name, uploads included: nobody holds a lock on it and it has not changed for a
// week. False if the file cannot be looked at.
bool is_abandoned(const std::filesystem::path& part_file);

}
