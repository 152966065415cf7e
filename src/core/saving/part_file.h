// Names of files that are being written, and how to tell an abandoned one from one that is still being written.
//
// Such a file is named ".yelvin-HOST-PROCESS-START-RANDOM.part" after its writer. A lock alone is not enough: the
// folder may be a network share without locks, or a server's folder into which a colleague is uploading.
#pragma once

#include <filesystem>
#include <string>

namespace yelvin {

// Returns a new name for a file that this process is going to write. Thread-safe.
std::string new_part_name();

// Whether `name` is the name of a file being written, by this process or by another one.
bool is_part_name(const std::string& name);

// Whether the file is no longer being written. A file of this computer is abandoned if its process has ended and nobody
// holds a lock on it. Any other file with such a name, uploads included, is abandoned if nobody holds a lock on it and
// it has not changed for a week. Returns false if the file cannot be examined.
bool is_abandoned(const std::filesystem::path& part_file);

}
