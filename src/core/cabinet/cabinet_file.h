// The cabinet's database: its tables, and adding words to its index and removing them. Internal to core/cabinet.
// Functions throw SQLite::Exception.
#pragma once

#include "core/cabinet/page_words.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <array>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <set>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

inline constexpr const char* cabinet_file_name = "cabinet.sqlite";
inline constexpr int cabinet_version = 1; // user_version; the index of an older version is rebuilt from its words

// Opens the database and creates missing tables. Throws NewerCabinet for the file of a newer version.
struct NewerCabinet : std::runtime_error {
    using std::runtime_error::runtime_error;
};
std::unique_ptr<SQLite::Database> open_cabinet_file(const std::filesystem::path& file);
// Opens an existing database read-only. Throws if it is of another version.
std::unique_ptr<SQLite::Database> open_cabinet_file_to_read(const std::filesystem::path& file);

void rebuild_shapes(SQLite::Database& database);        // rebuilds the tables of shapes from that of terms
void recreate_index_tables(SQLite::Database& database); // makes them empty

// The codecs of packed words, by the id of their dictionary.
class Packers {
  public:
    explicit Packers(SQLite::Database& database) : database_(database) {}
    long long newest();
    WordPacker& of(long long dictionary);
    void look_again() { newest_ = -1; }

  private:
    SQLite::Database& database_;
    long long newest_ = -1;
    std::map<long long, WordPacker> packers_;
};

// Prefixes of two and three letters match too many words to be merged at each typed letter. Which pages have a word
// that begins with these three letters, or consists of these two, is stored as bits in blocks of pages.
inline constexpr unsigned block_pages = 4096;
using PageBlock = std::array<std::uint64_t, block_pages / 64>;
PageBlock unpacked_block(std::string_view bytes);
std::string packed_block(const PageBlock& block);
inline constexpr size_t shortest_beginning = 2, longest_beginning = 3;
// Returns the first `letters` letters, or all if there are fewer.
std::string_view beginning(std::string_view folded, size_t letters);
size_t letters_in(std::string_view utf8);

// What the index stores of one page, for adding and for removing it.
struct IndexedPage {
    std::string text; // its terms, separated by spaces; '+' before a term at the same position as the one before it
    std::set<std::pair<std::string, std::string>> terms; // folded, accented
    std::set<std::string> beginnings, languages;
};
IndexedPage indexed(const PageWords& page);
std::string indexed_text(const std::vector<std::string>& words); // the words of a line

enum class Indexing { In, Out };
// Adds or removes pages and documents, within the caller's transaction.
class IndexChange {
  public:
    IndexChange(SQLite::Database& database, Indexing which);
    void page(long long id, const IndexedPage& page);
    // `texts`: name, heading and the other facts of a document, each a line of words.
    void paper(long long id, const std::array<std::string, 3>& texts);
    void finish(); // writes what was collected; call it last

  private:
    SQLite::Database& database_;
    Indexing which_;
    SQLite::Statement page_, paper_, term_, shape_, backwards_, language_;
    std::map<std::pair<std::string, long long>, std::vector<unsigned>> beginnings_; // by prefix and block: pages in it
    std::set<std::pair<std::string, std::string>> known_; // terms that are in the index already
};

}
