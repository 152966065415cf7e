// A ZIP file of parts that wait in spools, written straight into the file that grows: libzip's own way would put
// another one beside it.
#pragma once

#include "core/output/spool.h"

#include <filesystem>
#include <vector>

namespace yelvin {

class ZipFile {
  public:
    enum class Packed { No, Yes };
    // In the order in which they are to stand. Names are UTF-8 with '/' between folders.
    void add(std::string name, Spooled bytes, Packed packed) {
        add(std::move(name), std::vector{std::move(bytes)}, packed);
    }
    void add(std::string name, std::vector<Spooled> bytes, Packed packed); // one behind the other
    Result<void> add(std::string name, std::string_view bytes, Packed packed = Packed::Yes);
    void take_over(ZipFile& other); // its parts, behind those that are there
    Result<void> write(const std::filesystem::path& file) const;

  private:
    struct Part {
        std::string name;
        std::vector<Spooled> bytes;
        Packed packed;
    };
    std::vector<Part> parts_;
    std::shared_ptr<Spool> small_ = std::make_shared<Spool>(); // of parts that were given as they are
};

// Whether the file is a ZIP whose parts all have the size and the checksum that they say, `first` being the first.
bool zip_is_whole(const std::filesystem::path& file, std::string_view first);

}
