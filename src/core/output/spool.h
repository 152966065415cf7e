// A temporary file without a name, which holds data until a document is written, so that five hundred pages take no
// more memory than one. It disappears with this object and with the process, even if that is killed. Appending is for
// one thread at a time.
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

    // Appends bytes. Errors: DiskFull, NotWritable; they name the folder.
    Result<void> append(std::string_view bytes);
    // A path by which only this process can open the file.
    std::filesystem::path path() const;
    std::uint64_t size() const { return size_; }
    // Reads up to `count` bytes from `offset` on. Returns their number, or -1 with errno set.
    std::int64_t read(std::uint64_t offset, void* into, std::uint64_t count) const;

  private:
    int descriptor_ = -1, code_ = 0; // the errno if it could not be created
    std::uint64_t size_ = 0;
};

// A range of a spool.
struct Spooled {
    std::shared_ptr<Spool> spool;
    std::uint64_t offset = 0, size = 0;
};
// Appends bytes to a spool and returns their range.
Result<Spooled> spooled(const std::shared_ptr<Spool>& spool, std::string_view bytes);

}
