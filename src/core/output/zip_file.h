// A ZIP file of parts that wait in spools. It is written directly into the given file; libzip by itself would create
// another one beside it. Not thread-safe.
#pragma once

#include "core/output/spool.h"

#include <filesystem>
#include <vector>

namespace yelvin {

class ZipFile {
  public:
    enum class Packed { No, Yes };
    // Adds a part. Parts are written in the order in which they were added. Names are UTF-8 with '/' between folders.
    void add(std::string name, Spooled bytes, Packed packed) {
        add(std::move(name), std::vector{std::move(bytes)}, packed);
    }
    void add(std::string name, std::vector<Spooled> bytes, Packed packed); // concatenated
    Result<void> add(std::string name, std::string_view bytes, Packed packed = Packed::Yes);
    void take_over(ZipFile& other); // moves the parts of `other` behind the present ones
    // Writes the file. Errors: NotWritable, DiskFull.
    Result<void> write(const std::filesystem::path& file) const;

  private:
    struct Part {
        std::string name;
        std::vector<Spooled> bytes;
        Packed packed;
    };
    std::vector<Part> parts_;
    std::shared_ptr<Spool> small_ = std::make_shared<Spool>(); // of parts that were given as bytes
};

// Whether the file is a ZIP whose parts have the stated sizes and checksums, and whose first part is called `first`.
bool zip_is_whole(const std::filesystem::path& file, std::string_view first);

}
