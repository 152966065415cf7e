// The file system steps by which our own files become durable, get their names and are deleted. All of them go through
// this interface, so that a test can record them and simulate a power cut after each.
#pragma once

#include <filesystem>

namespace yelvin {

// Each function returns 0 or an errno. Thread-safe.
class FileSteps {
  public:
    virtual ~FileSteps() = default;
    // Makes the contents of the file, or the names in the folder, survive a power cut.
    virtual int sync(const std::filesystem::path& file);
    virtual int sync_folder(const std::filesystem::path& folder);
    // Renames the file. Fails with EEXIST if something has that name.
    virtual int rename_to_new(const std::filesystem::path& growing, const std::filesystem::path& wanted);
    virtual int rename(const std::filesystem::path& from, const std::filesystem::path& to); // replaces an existing file
    virtual int remove(const std::filesystem::path& file);                                  // 0 if it does not exist
};

// The real file system. Has no state; lives as long as the program.
FileSteps& disk();

}
