#include "core/errands/mail_draft.h"

#include "core/raster/base64.h"
#include "core/saving/safe_file.h"
#include "core/ticket/ticket.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <ctime>
#include <fstream>
#include <random>

namespace yelvin {

namespace {

constexpr size_t longest_line = 76; // RFC 2045, 6.7 and 6.8; RFC 5322 asks for 78

bool is_plain(std::string_view text) {
    return std::ranges::all_of(text, [](unsigned char c) { return c >= 0x20 && c < 0x7F; });
}

// How many bytes a character begins with byte `c` has.
size_t bytes_of_character(unsigned char c) { return c < 0xC0 ? 1 : c < 0xE0 ? 2 : c < 0xF0 ? 3 : 4; }

// Text without line ends for a header, folded (RFC 5322, 2.2.3).
std::string in_header(const std::string& name, std::string text) {
    std::ranges::replace_if(
        text, [](unsigned char c) { return c < 0x20 || c == 0x7F; }, ' ');
    std::string out = name + ":";
    if (is_plain(text) && name.size() + text.size() + 2 <= longest_line && text.find("=?") == std::string::npos)
        return out + " " + text + "\r\n";
    // Encoded words (RFC 2047, 2), each of whole characters, 75 bytes at most.
    constexpr size_t most = 42;
    for (size_t at = 0; at < text.size();) {
        size_t end = at;
        while (end < text.size()) {
            const size_t next = end + bytes_of_character(static_cast<unsigned char>(text[end]));
            if (next - at > most) break;
            end = std::min(next, text.size());
        }
        out +=
            (at == 0 ? " =?utf-8?B?" : "\r\n =?utf-8?B?") + base64(std::string_view(text).substr(at, end - at)) + "?=";
        at = end;
    }
    return out + "\r\n";
}

// A parameter with any characters and of any length (RFC 2231, 3 and 4).
std::string parameter(const std::string& name, const std::string& value) {
    const bool quotable = value.find_first_of("\"\\") == std::string::npos;
    if (is_plain(value) && quotable && name.size() + value.size() < longest_line - 6)
        return fmt::format(";\r\n {}=\"{}\"", name, value);
    constexpr std::string_view allowed = "!#$&+-.^_`{}~";
    std::string out, part = "utf-8''";
    int number = 0;
    const auto put = [&] { out += fmt::format(";\r\n {}*{}*={}", name, number++, std::exchange(part, "")); };
    for (const char c : value) {
        const auto byte = static_cast<unsigned char>(c);
        const bool as_it_is = byte < 0x80 && (std::isalnum(byte) || allowed.find(c) != std::string_view::npos);
        const std::string coded = as_it_is ? std::string(1, c) : fmt::format("%{:02X}", byte);
        if (part.size() + coded.size() > longest_line - name.size() - 8) put();
        part += coded;
    }
    put();
    return out;
}

// RFC 2045, 6.7.
std::string quoted_printable(std::string_view text) {
    std::string out;
    size_t column = 0;
    for (size_t i = 0; i < text.size(); ++i) {
        const auto byte = static_cast<unsigned char>(text[i]);
        if (byte == '\r') continue;
        if (byte == '\n') {
            out += "\r\n", column = 0;
            continue;
        }
        const bool last_of_line = i + 1 == text.size() || text[i + 1] == '\n' || text[i + 1] == '\r';
        const bool as_it_is = (byte > 0x20 && byte < 0x7F && byte != '=') || (byte == ' ' && !last_of_line);
        const std::string coded = as_it_is ? std::string(1, text[i]) : fmt::format("={:02X}", byte);
        if (column + coded.size() > longest_line - 1) out += "=\r\n", column = 0;
        out += coded;
        column += coded.size();
    }
    return out + "\r\n";
}

std::string random_words() {
    std::random_device random;
    return fmt::format("{:08x}{:08x}{:08x}", random(), random(), random());
}

// A message growing on disk.
class MailFile {
  public:
    explicit MailFile(const std::filesystem::path& file) : file_(file), out_(std::fopen(file.c_str(), "wb")) {}
    MailFile(const MailFile&) = delete;
    MailFile& operator=(const MailFile&) = delete;
    ~MailFile() {
        if (out_) std::fclose(out_);
    }
    Result<void> put(std::string_view bytes) {
        errno = 0;
        if (!out_ || std::fwrite(bytes.data(), 1, bytes.size(), out_) != bytes.size())
            return folder_error(file_.parent_path(), errno);
        return {};
    }
    Result<void> close() {
        errno = 0;
        if (out_ && std::fclose(std::exchange(out_, nullptr)) == 0) return {};
        return folder_error(file_.parent_path(), errno);
    }

  private:
    std::filesystem::path file_;
    std::FILE* out_;
};

std::unexpected<Error> not_read(const std::filesystem::path& file) {
    return fail(ErrorKind::Missing,
                fmt::format("{} cannot be read, so no e-mail was made of it; check that it is there.", file.string()));
}

Result<void> put_attachment(MailFile& mail, const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    std::error_code failure;
    if (!in || !std::filesystem::is_regular_file(file, failure)) return not_read(file);
    const std::string name = file.filename().string();
    if (auto head = mail.put("Content-Type: " + mime_type_of(file) + parameter("name", name) +
                             "\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment" +
                             parameter("filename", name) + "\r\n\r\n");
        !head)
        return head;
    constexpr size_t of_a_line = longest_line / 4 * 3;
    std::string bytes(of_a_line * 1024, '\0');
    while (in) {
        in.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
        const auto count = static_cast<size_t>(in.gcount());
        std::string lines;
        for (size_t at = 0; at < count; at += of_a_line)
            lines += base64(std::string_view(bytes).substr(at, std::min(of_a_line, count - at))) + "\r\n";
        if (auto put = mail.put(lines); !put) return put;
    }
    if (in.bad()) return not_read(file);
    return {};
}

}

Result<void> check_addresses(const std::vector<std::string>& to) {
    for (const std::string& each : to) {
        const size_t open = each.find('<');
        const std::string address =
            open == std::string::npos ? each : each.substr(open + 1, each.find('>', open) - open - 1);
        const size_t at = address.rfind('@');
        const bool good = at != std::string::npos && at > 0 && at + 1 < address.size() &&
                          (open == std::string::npos || each.ends_with('>')) &&
                          std::ranges::none_of(address, [](unsigned char c) {
                              return c <= 0x20 || c == 0x7F || c == ',' || c == ';' || c == '<' || c == '>';
                          });
        if (!good)
            return fail(ErrorKind::BadInput,
                        fmt::format("\"{}\" is no e-mail address; one looks like keeper@example.org.", each));
    }
    return {};
}

Result<void> write_mail_draft(const MailDraft& draft, const std::filesystem::path& file) {
    if (auto good = check_addresses(draft.to); !good) return good;
    MailFile mail(file);
    const std::string boundary = "=_" + random_words(); // stands in no base64 and no quoted-printable text
    std::string head = fmt::format("Date: {:%a, %d %b %Y %H:%M:%S} +0000\r\nMessage-ID: <{}@yelvin.invalid>\r\n",
                                   fmt::gmtime(std::time(nullptr)), random_words());
    for (size_t i = 0; i < draft.to.size(); ++i) {
        // A name that is not ASCII is an encoded word of its own.
        const size_t open = draft.to[i].find('<');
        std::string said = draft.to[i];
        if (open != std::string::npos && !is_plain(said)) {
            std::string name = in_header("", said.substr(0, open == 0 ? 0 : open - 1));
            said = name.substr(2, name.size() - 4) + " " + said.substr(open);
        }
        head += (i == 0 ? "To: " : ",\r\n ") + said;
    }
    head += draft.to.empty() ? "" : "\r\n";
    head += in_header("Subject", draft.subject);
    head += "MIME-Version: 1.0\r\nX-Unsent: 1\r\nContent-Type: multipart/mixed;\r\n boundary=\"" + boundary +
            "\"\r\n\r\n--" + boundary +
            "\r\nContent-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n" +
            quoted_printable(draft.text);
    if (auto put = mail.put(head); !put) return put;
    for (const auto& each : draft.files) {
        if (auto put = mail.put("--" + boundary + "\r\n"); !put) return put;
        if (auto put = put_attachment(mail, each); !put) return put;
    }
    if (auto put = mail.put("--" + boundary + "--\r\n"); !put) return put;
    return mail.close();
}

std::uintmax_t bytes_in_mail(std::uintmax_t file_bytes) {
    constexpr std::uintmax_t line = longest_line / 4 * 3;
    return (file_bytes + line - 1) / line * (longest_line + 2);
}

std::vector<std::vector<size_t>> parted_into_mails(const std::vector<std::uintmax_t>& files, std::uintmax_t limit) {
    constexpr std::uintmax_t besides = 2000; // headers and words
    std::vector<std::vector<size_t>> mails;
    std::uintmax_t filled = 0;
    for (size_t i = 0; i < files.size(); ++i) {
        const std::uintmax_t bytes = bytes_in_mail(files[i]);
        if (mails.empty() || filled + bytes > limit) mails.emplace_back(), filled = besides;
        mails.back().push_back(i);
        filled += bytes;
    }
    return mails;
}

std::vector<std::string> xdg_email_command(const MailDraft& draft) {
    std::vector<std::string> words{"xdg-email", "--utf8"};
    if (!draft.subject.empty()) words.insert(words.end(), {"--subject", draft.subject});
    if (!draft.text.empty()) words.insert(words.end(), {"--body", draft.text});
    for (const auto& file : draft.files)
        words.insert(words.end(), {"--attach", std::filesystem::absolute(file).string()});
    for (const std::string& each : draft.to) {
        const size_t open = each.find('<');
        words.push_back(open == std::string::npos ? each : each.substr(open + 1, each.find('>', open) - open - 1));
    }
    return words;
}

std::string mime_type_of(const std::filesystem::path& file) {
    const std::string ending = file.extension().string();
    for (const Format format : all_formats())
        if (ending == "." + std::string(format_extension(format))) return std::string(format_mime(format));
    return "application/octet-stream";
}

}
