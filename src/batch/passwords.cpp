#include "batch/passwords.h"

#include <fmt/format.h>

#include <array>
#include <cstring>

#include <fcntl.h>
#include <unistd.h>

namespace yelvin {

namespace {

// Reads up to the end of the line. No buffered stream is used: the password would remain in its buffer.
Result<Secret> first_line(int descriptor, const std::string& where) {
    std::array<char, 4096> bytes{};
    size_t count = 0;
    ssize_t got = 0;
    while (count < bytes.size() && (got = ::read(descriptor, bytes.data() + count, 1)) > 0 && bytes[count] != '\n')
        ++count;
    if (count > 0 && bytes[count - 1] == '\r') --count;
    const Secret password(std::string_view(bytes.data(), count));
    ::explicit_bzero(bytes.data(), bytes.size());
    if (got < 0)
        return fail(ErrorKind::Missing,
                    fmt::format("The password cannot be read from {}: {}.", where, std::strerror(errno)));
    if (password.empty())
        return fail(ErrorKind::BadInput, fmt::format("The first line of {} contains no password.", where));
    return password;
}

Result<Secret> password_from(const std::string& file, int descriptor) {
    if (descriptor >= 0) return first_line(descriptor, fmt::format("descriptor {}", descriptor));
    if (file.empty()) return Secret();
    const int opened = ::open(file.c_str(), O_RDONLY | O_CLOEXEC);
    if (opened < 0)
        return fail(ErrorKind::Missing,
                    fmt::format("The password cannot be read from {}: {}.", file, std::strerror(errno)));
    auto password = first_line(opened, file);
    ::close(opened);
    return password;
}

}

Result<Passwords> passwords_from(const PasswordArguments& arguments) {
    const auto open = password_from(arguments.open_file, arguments.open_descriptor);
    if (!open) return std::unexpected(open.error());
    const auto owner = password_from(arguments.owner_file, arguments.owner_descriptor);
    if (!owner) return std::unexpected(owner.error());
    return Passwords{*open, *owner};
}

}
