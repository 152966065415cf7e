// A nameless file in the folder for temporary files: what waits there until a document is written, so that five hundred
// pages take no more memory than one. It goes with whoever has it, also when the program is killed.
#pragma once

#include "core/error.h"

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

namespace yelvin {

class Spool {
  public:
    Spool();
    Spool(const Spool&) = delete;
    Spool& operator=(const Spool&) = delete;
    ~Spool();

    // Errors: DiskFull, NotWritable; they name the folder.
    Result<void> append(std::string_view bytes);
    // Under which this process, and it alone, can open the file.
    std::filesystem::path path() const;
    std::uint64_t size() const { return size_; }
    // Up to `count` bytes from `offset` on; how many, -1 with errno set.
    std::int64_t read(std::uint64_t offset, void* into, std::uint64_t count) const;

  private:
    int descriptor_ = -1, code_ = 0; // an errno where it could not be made
    std::uint64_t size_ = 0;
};

// A part of a spool.
struct Spooled {
    std::shared_ptr<Spool> spool;
    std::uint64_t offset = 0, size = 0;
};
Result<Spooled> spooled(const std::shared_ptr<Spool>& spool, std::string_view bytes);

}
