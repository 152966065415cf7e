// The cabinet's database: its tables, and how words get into its index and out of it. Internal to the cabinet.
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
inline constexpr int cabinet_version = 1; // user_version; another one's index is made anew from the words it holds

// With its tables, made where they are missing. Throws SQLite::Exception; a newer version's file throws NewerCabinet.
struct NewerCabinet : std::runtime_error {
    using std::runtime_error::runtime_error;
};
std::unique_ptr<SQLite::Database> open_cabinet_file(const std::filesystem::path& file);
// Opens an existing one and never changes it. Throws if it is of another version.
std::unique_ptr<SQLite::Database> open_cabinet_file_to_read(const std::filesystem::path& file);

void make_shapes_anew(SQLite::Database& database);    // the tables of shapes, from that of terms
void remake_index_tables(SQLite::Database& database); // empty

// What packs and unpacks the words of its pages, by the number of the dictionary.
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

// Beginnings of two and three letters are too many words to be put together at each letter typed: which pages have a
// word that begins with these three letters, or is these two, is kept in blocks of pages.
inline constexpr unsigned block_pages = 4096;
using PageBlock = std::array<std::uint64_t, block_pages / 64>;
PageBlock unpacked_block(std::string_view bytes);
std::string packed_block(const PageBlock& block);
inline constexpr size_t shortest_beginning = 2, longest_beginning = 3;
// Its first `letters` letters; all of it where it has fewer.
std::string_view beginning(std::string_view folded, size_t letters);
size_t letters_in(std::string_view utf8);

// What the index holds of one page; the same for putting in and for taking out.
struct IndexedPage {
    std::string text; // its terms, parted by spaces; '+' before one that stands beside the one before it
    std::set<std::pair<std::string, std::string>> terms; // folded, accented
    std::set<std::string> beginnings, languages;
};
IndexedPage indexed(const PageWords& page);
std::string indexed_text(const std::vector<std::string>& words); // of a line

enum class Indexing { In, Out };
// Within the caller's transaction.
class IndexChange {
  public:
    IndexChange(SQLite::Database& database, Indexing which);
    void page(long long id, const IndexedPage& page);
    // Name, heading and the rest of what is known of a paper; each a line of words.
    void paper(long long id, const std::array<std::string, 3>& texts);
    void finish(); // what was gathered is written

  private:
    SQLite::Database& database_;
    Indexing which_;
    SQLite::Statement page_, paper_, term_, shape_, backwards_, language_;
    std::map<std::pair<std::string, long long>, std::vector<unsigned>> beginnings_; // by block: places in it
    std::set<std::pair<std::string, std::string>> known_; // terms that are in, as IndexedPage has them
};

}
