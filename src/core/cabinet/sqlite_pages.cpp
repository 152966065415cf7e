#include "core/cabinet/sqlite_pages.h"

#include <bit>
#include <fstream>
#include <optional>
#include <string_view>

namespace yelvin {

namespace {

constexpr size_t customary_page = 16'384; // of our own databases, where the header does not say
constexpr size_t database_header = 100, log_header = 32, frame_header = 24;
constexpr unsigned char table_leaf = 0x0D;

// Reads big-endian numbers from untrusted bytes. After a read past their end, all further reads fail.
class Bytes {
  public:
    explicit Bytes(std::string_view bytes) : bytes_(bytes) {}
    bool failed() const { return failed_; }
    size_t at() const { return at_; }

    std::string_view take(size_t count) {
        if (failed_ || count > bytes_.size() - at_) return failed_ = true, std::string_view();
        at_ += count;
        return bytes_.substr(at_ - count, count);
    }
    std::uint64_t number(size_t bytes) {
        std::uint64_t value = 0;
        for (const char c : take(bytes)) value = value << 8 | static_cast<unsigned char>(c);
        return value;
    }
    // A variable-length integer: seven bits in each of up to eight bytes, and eight bits in a ninth one.
    std::uint64_t varint() {
        std::uint64_t value = 0;
        for (int i = 0; i < 9; ++i) {
            const auto byte = static_cast<unsigned char>(number(1));
            if (i == 8) return value << 8 | byte;
            value = value << 7 | (byte & 0x7F);
            if ((byte & 0x80) == 0) break;
        }
        return value;
    }

  private:
    std::string_view bytes_;
    size_t at_ = 0;
    bool failed_ = false;
};

std::int64_t with_sign(std::uint64_t value, size_t bytes) {
    if (bytes == 0 || bytes == 8) return static_cast<std::int64_t>(value);
    const size_t shift = 64 - 8 * bytes;
    return static_cast<std::int64_t>(value << shift) >> shift;
}

// The length in bytes of a value of this serial type (SQLite file format, section 2.1).
size_t length_of(std::uint64_t type) {
    constexpr size_t lengths[] = {0, 1, 2, 3, 4, 6, 8, 8, 0, 0, 0, 0};
    return type < std::size(lengths) ? lengths[type] : static_cast<size_t>((type - 12) / 2);
}

std::optional<SqliteRow> row_in(std::int64_t id, std::string_view record) {
    constexpr size_t most_columns = 100;
    Bytes head(record);
    const std::uint64_t head_size = head.varint();
    std::vector<std::uint64_t> types;
    while (!head.failed() && head.at() < head_size && types.size() < most_columns) types.push_back(head.varint());
    if (head.failed() || head.at() != head_size) return std::nullopt;
    Bytes body(record.substr(head.at()));
    SqliteRow row{id, {}};
    for (const std::uint64_t type : types) {
        const size_t length = length_of(type);
        if (type == 0)
            row.values.emplace_back();
        else if (type == 7)
            row.values.emplace_back(std::bit_cast<double>(body.number(length)));
        else if (type == 8 || type == 9)
            row.values.emplace_back(static_cast<std::int64_t>(type - 8));
        else if (type < 12)
            row.values.emplace_back(with_sign(body.number(length), length));
        else
            row.values.emplace_back(std::string(body.take(length)));
        if (body.failed()) return std::nullopt;
    }
    return row;
}

void for_rows_on(std::string_view page, size_t header_at, const std::function<void(const SqliteRow&)>& each) {
    Bytes header(page.substr(std::min(header_at, page.size())));
    if (header.number(1) != table_leaf) return;
    header.take(2); // the first free block
    const std::uint64_t cells = header.number(2);
    header.take(3); // where cells begin, and bytes between them
    for (std::uint64_t i = 0; i < cells && !header.failed(); ++i) {
        const auto at = static_cast<size_t>(header.number(2));
        if (at >= page.size()) continue;
        Bytes cell(page.substr(at));
        const std::uint64_t size = cell.varint();
        const auto id = static_cast<std::int64_t>(cell.varint());
        if (size > page.size() - 35) continue; // The record continues on an overflow page, which is not followed.
        const std::string_view record = cell.take(static_cast<size_t>(size));
        if (cell.failed()) continue;
        if (auto row = row_in(id, record)) each(*row);
    }
}

}

void for_rows_in_pages(const std::filesystem::path& file, const std::function<void(const SqliteRow&)>& each) {
    const bool is_log = file.string().ends_with("-wal");
    std::ifstream in(file, std::ios::binary);
    std::string header(database_header, '\0');
    in.read(header.data(), static_cast<std::streamsize>(header.size()));
    Bytes bytes(header);
    bytes.take(is_log ? 8 : 16);
    auto page_size = static_cast<size_t>(bytes.number(is_log ? 4 : 2));
    if (page_size == 1) page_size = 65'536;
    if (page_size < 512 || page_size > 65'536 || !std::has_single_bit(page_size)) page_size = customary_page;
    std::string page(page_size, '\0');
    in.clear();
    in.seekg(is_log ? log_header : 0);
    for (bool first = true; in; first = false) {
        if (is_log) in.ignore(frame_header);
        if (!in.read(page.data(), static_cast<std::streamsize>(page.size()))) break;
        for_rows_on(page, first && !is_log ? database_header : 0, each);
    }
}

}
