// The steps in which our own files get their names and go. All of them pass here, so that a test can write them down
// and let the power go at any of them.
#pragma once

#include <filesystem>

namespace yelvin {

// Each gives 0, or the errno of what went wrong.
class FileSteps {
  public:
    virtual ~FileSteps() = default;
    // What was written into the file will be there after the power went, and so what happened in the folder.
    virtual int sync(const std::filesystem::path& file);
    virtual int sync_folder(const std::filesystem::path& folder);
    // The file takes a name that nobody has (EEXIST), and loses its own.
    virtual int give_name(const std::filesystem::path& growing, const std::filesystem::path& wanted);
    virtual int rename(const std::filesystem::path& from, const std::filesystem::path& to); // replaces what is there
    virtual int remove(const std::filesystem::path& file);                                  // 0 if it is not there
};

FileSteps& disk(); // the real ones; nothing is kept in them

}
