#include "core/output/zip_file.h"

#include "core/saving/safe_file.h"

#include <zip.h>

#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <ctime>

namespace yelvin {

namespace {

// A data source for libzip: the bytes of one part.
struct Slice {
    std::vector<Spooled> bytes;
    std::uint64_t at = 0;
    zip_error_t error{};

    std::uint64_t size() const {
        std::uint64_t all = 0;
        for (const Spooled& each : bytes) all += each.size;
        return all;
    }
    // Reads at most `count` bytes from the current piece. Returns -1 and sets errno on failure.
    std::int64_t read(void* into, std::uint64_t count) {
        std::uint64_t begin = 0;
        for (const Spooled& each : bytes) {
            if (at < begin + each.size) {
                const std::uint64_t wanted = std::min(count, begin + each.size - at);
                return each.spool->read(each.offset + at - begin, into, wanted);
            }
            begin += each.size;
        }
        return 0;
    }
};

zip_int64_t stat_of(void* data, zip_uint64_t length, std::uint64_t size, zip_error_t& error) {
    auto* stat = static_cast<zip_stat_t*>(data);
    if (length < sizeof *stat) {
        zip_error_set(&error, ZIP_ER_INVAL, 0);
        return -1;
    }
    zip_stat_init(stat);
    stat->valid = ZIP_STAT_SIZE;
    stat->size = size;
    return sizeof *stat;
}

zip_int64_t read_slice(void* of, void* data, zip_uint64_t length, zip_source_cmd_t command) {
    auto& slice = *static_cast<Slice*>(of);
    switch (command) {
    case ZIP_SOURCE_OPEN:
        slice.at = 0;
        return 0;
    case ZIP_SOURCE_READ: {
        const auto got = slice.read(data, length);
        if (got < 0 || (got == 0 && slice.at < slice.size())) {
            zip_error_set(&slice.error, ZIP_ER_READ, errno);
            return -1;
        }
        slice.at += static_cast<std::uint64_t>(got);
        return got;
    }
    case ZIP_SOURCE_CLOSE:
        return 0;
    case ZIP_SOURCE_STAT:
        return stat_of(data, length, slice.size(), slice.error);
    case ZIP_SOURCE_ERROR:
        return zip_error_to_data(&slice.error, data, length);
    case ZIP_SOURCE_FREE:
        delete &slice;
        return 0;
    case ZIP_SOURCE_SUPPORTS:
        return ZIP_SOURCE_SUPPORTS_READABLE;
    default:
        zip_error_set(&slice.error, ZIP_ER_OPNOTSUPP, 0);
        return -1;
    }
}

// A data target for libzip: the file being written.
struct Growing {
    int descriptor = -1, code = 0;
    std::int64_t at = 0, size = 0;
    zip_error_t error{};

    zip_int64_t failed(int libzips, int own) {
        code = own;
        zip_error_set(&error, libzips, own);
        return -1;
    }
    zip_int64_t write(const char* bytes, std::uint64_t count) {
        std::uint64_t done = 0;
        while (done < count) {
            const ssize_t wrote = ::pwrite(descriptor, bytes + done, count - done, at);
            if (wrote < 0 && errno == EINTR) continue;
            if (wrote <= 0) return failed(ZIP_ER_WRITE, wrote < 0 ? errno : ENOSPC);
            done += static_cast<std::uint64_t>(wrote);
            at += wrote;
        }
        size = std::max(size, at);
        return static_cast<zip_int64_t>(count);
    }
};

zip_int64_t write_growing(void* of, void* data, zip_uint64_t length, zip_source_cmd_t command) {
    auto& file = *static_cast<Growing*>(of);
    switch (command) {
    case ZIP_SOURCE_BEGIN_WRITE:
    case ZIP_SOURCE_ROLLBACK_WRITE:
        file.at = file.size = 0;
        return ::ftruncate(file.descriptor, 0) == 0 ? 0 : file.failed(ZIP_ER_WRITE, errno);
    case ZIP_SOURCE_WRITE:
        return file.write(static_cast<const char*>(data), length);
    case ZIP_SOURCE_SEEK_WRITE: {
        const auto to = zip_source_seek_compute_offset(static_cast<zip_uint64_t>(file.at),
                                                       static_cast<zip_uint64_t>(file.size), data, length, &file.error);
        if (to < 0) return -1;
        file.at = to;
        return 0;
    }
    case ZIP_SOURCE_TELL_WRITE:
        return file.at;
    case ZIP_SOURCE_STAT:
        return stat_of(data, length, static_cast<std::uint64_t>(file.size), file.error);
    case ZIP_SOURCE_ERROR:
        return zip_error_to_data(&file.error, data, length);
    case ZIP_SOURCE_SUPPORTS:
        return ZIP_SOURCE_SUPPORTS_WRITABLE;
    case ZIP_SOURCE_OPEN:
    case ZIP_SOURCE_CLOSE:
    case ZIP_SOURCE_COMMIT_WRITE:
    case ZIP_SOURCE_FREE:
        return 0;
    default:
        return file.failed(ZIP_ER_OPNOTSUPP, 0);
    }
}

std::unexpected<Error> zip_failed(const std::filesystem::path& file, int code, const char* detail) {
    auto failed = folder_error(file.parent_path(), code == 0 ? EIO : code);
    Error error = failed.error();
    error.detail = detail;
    return std::unexpected(error);
}

}

void ZipFile::add(std::string name, std::vector<Spooled> bytes, Packed packed) {
    parts_.push_back({std::move(name), std::move(bytes), packed});
}

void ZipFile::take_over(ZipFile& other) { std::ranges::move(other.parts_, std::back_inserter(parts_)); }

Result<void> ZipFile::add(std::string name, std::string_view bytes, Packed packed) {
    auto kept = spooled(small_, bytes);
    if (!kept) return std::unexpected(kept.error());
    add(std::move(name), std::move(*kept), packed);
    return {};
}

Result<void> ZipFile::write(const std::filesystem::path& file) const {
    Growing growing;
    growing.descriptor = ::open(file.c_str(), O_WRONLY | O_CREAT | O_CLOEXEC, 0666);
    if (growing.descriptor < 0) return zip_failed(file, errno, "cannot be opened");
    zip_error_t error{};
    zip_source_t* target = zip_source_function_create(write_growing, &growing, &error);
    zip_t* zip = target ? zip_open_from_source(target, ZIP_TRUNCATE, &error) : nullptr;
    std::string trouble = zip ? "" : zip_error_strerror(&error);
    const std::time_t now = std::time(nullptr);
    for (const Part& part : parts_) {
        if (!trouble.empty()) break;
        auto* slice = new Slice{part.bytes, 0, {}}; // freed by libzip
        zip_source_t* source = zip_source_function(zip, read_slice, slice);
        const auto at = source ? zip_file_add(zip, part.name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
        if (at < 0) {
            trouble = zip_strerror(zip);
            if (source) zip_source_free(source);
            break;
        }
        const auto index = static_cast<zip_uint64_t>(at);
        zip_set_file_compression(zip, index, part.packed == Packed::Yes ? ZIP_CM_DEFLATE : ZIP_CM_STORE, 0);
        zip_file_set_mtime(zip, index, now, 0);
    }
    if (zip && trouble.empty() && zip_close(zip) != 0) trouble = zip_strerror(zip);
    if (zip && !trouble.empty()) zip_discard(zip);
    if (::close(growing.descriptor) != 0 && trouble.empty()) trouble = "close", growing.code = errno;
    if (!trouble.empty()) return zip_failed(file, growing.code, trouble.c_str());
    return {};
}

bool zip_is_whole(const std::filesystem::path& file, std::string_view first) {
    int code = 0;
    const std::unique_ptr<zip_t, decltype([](zip_t* z) { zip_discard(z); })> zip{
        zip_open(file.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &code)};
    if (!zip || zip_get_num_entries(zip.get(), 0) < 1 || first != zip_get_name(zip.get(), 0, 0)) return false;
    std::array<char, 1 << 16> bytes{};
    for (zip_int64_t i = 0; i < zip_get_num_entries(zip.get(), 0); ++i) {
        const std::unique_ptr<zip_file_t, decltype([](zip_file_t* f) { zip_fclose(f); })> part{
            zip_fopen_index(zip.get(), static_cast<zip_uint64_t>(i), 0)};
        zip_int64_t got = part ? 1 : -1;
        // At the end of the data libzip compares the checksum.
        while (got > 0) got = zip_fread(part.get(), bytes.data(), bytes.size());
        if (got < 0) return false;
    }
    return true;
}

}
