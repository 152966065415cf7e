#include "core/errands/mail_draft.h"

#include "core/mail_address.h"
#include "core/saving/safe_file.h"
#include "core/ticket/ticket.h"

#include <fmt/format.h>
#include <gmime/gmime.h>

#include <algorithm>
#include <cerrno>
#include <memory>

#include <fcntl.h>

namespace yelvin {

namespace {

constexpr size_t longest_line = 76; // RFC 2045, 6.8

struct Unref {
    void operator()(gpointer object) const { g_object_unref(object); }
};
template <class T>
using Held = std::unique_ptr<T, Unref>;

std::unexpected<Error> not_read(const std::filesystem::path& file) {
    return fail(ErrorKind::Missing,
                fmt::format("{} cannot be opened, so no e-mail was created; check that it exists.", file.string()));
}

// Replaces line breaks, which are not allowed in a header. GMime encodes and folds the rest (RFC 2047, RFC
// 5322, 2.2.3).
std::string on_one_line(std::string text) {
    std::ranges::replace_if(
        text, [](unsigned char c) { return c < 0x20 || c == 0x7F; }, ' ');
    return text;
}

Held<GMimePart> text_part(const std::string& text) {
    GMimeTextPart* part = g_mime_text_part_new_with_subtype("plain");
    g_mime_text_part_set_charset(part, "utf-8");
    g_mime_text_part_set_text(part, text.c_str());
    g_mime_part_set_content_encoding(GMIME_PART(part), GMIME_CONTENT_ENCODING_QUOTEDPRINTABLE);
    return Held<GMimePart>(GMIME_PART(part));
}

Result<Held<GMimePart>> attachment(const std::filesystem::path& file) {
    std::error_code failure;
    if (!std::filesystem::is_regular_file(file, failure)) return not_read(file);
    const Held<GMimeStream> stream{g_mime_stream_fs_open(file.c_str(), O_RDONLY | O_CLOEXEC, 0, nullptr)};
    if (!stream) return not_read(file);
    const Held<GMimeDataWrapper> content{
        g_mime_data_wrapper_new_with_stream(stream.get(), GMIME_CONTENT_ENCODING_DEFAULT)};
    const std::string type = mime_type_of(file);
    const size_t slash = type.find('/');
    Held<GMimePart> part{g_mime_part_new_with_type(type.substr(0, slash).c_str(), type.substr(slash + 1).c_str())};
    g_mime_part_set_content(part.get(), content.get());
    g_mime_part_set_content_encoding(part.get(), GMIME_CONTENT_ENCODING_BASE64);
    g_mime_object_set_disposition(GMIME_OBJECT(part.get()), GMIME_DISPOSITION_ATTACHMENT);
    g_mime_part_set_filename(part.get(), on_one_line(file.filename().string()).c_str());
    return part;
}

Result<void> write_message(GMimeMessage* message, const std::filesystem::path& file) {
    errno = 0;
    const Held<GMimeStream> out{
        g_mime_stream_fs_open(file.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666, nullptr)};
    if (!out) return folder_error(file.parent_path(), errno);
    const std::unique_ptr<GMimeFormatOptions, decltype(&g_mime_format_options_free)> options(
        g_mime_format_options_new(), g_mime_format_options_free);
    g_mime_format_options_set_newline_format(options.get(), GMIME_NEWLINE_FORMAT_DOS);
    g_mime_format_options_set_param_encoding_method(options.get(), GMIME_PARAM_ENCODING_METHOD_RFC2231);
    const bool written = g_mime_object_write_to_stream(GMIME_OBJECT(message), options.get(), out.get()) >= 0 &&
                         g_mime_stream_flush(out.get()) == 0 && g_mime_stream_close(out.get()) == 0;
    return written ? Result<void>() : folder_error(file.parent_path(), errno == 0 ? EIO : errno);
}

}

Result<void> write_mail_draft(const MailDraft& draft, const std::filesystem::path& file) {
    std::vector<MailAddress> to;
    for (const std::string& each : draft.to) {
        auto address = mail_address(each); // mail_address() also initialises GMime.
        if (!address) return std::unexpected(address.error());
        to.push_back(std::move(*address));
    }
    g_mime_init();
    const Held<GMimeMessage> message{g_mime_message_new(TRUE)};
    for (const MailAddress& each : to)
        g_mime_message_add_mailbox(message.get(), GMIME_ADDRESS_TYPE_TO,
                                   each.name.empty() ? nullptr : each.name.c_str(), each.address.c_str());
    g_mime_message_set_subject(message.get(), on_one_line(draft.subject).c_str(), "utf-8");
    const std::unique_ptr<GDateTime, decltype(&g_date_time_unref)> now(g_date_time_new_now_utc(), g_date_time_unref);
    g_mime_message_set_date(message.get(), now.get());
    const std::unique_ptr<char, decltype(&g_free)> id(g_mime_utils_generate_message_id("yelvin.invalid"), g_free);
    g_mime_message_set_message_id(message.get(), id.get());
    g_mime_object_set_header(GMIME_OBJECT(message.get()), "X-Unsent", "1", nullptr); // opened for writing, not reading
    const Held<GMimeMultipart> parts{g_mime_multipart_new_with_subtype("mixed")};
    g_mime_multipart_add(parts.get(), GMIME_OBJECT(text_part(draft.text).get()));
    for (const auto& each : draft.files) {
        auto part = attachment(each);
        if (!part) return std::unexpected(part.error());
        g_mime_multipart_add(parts.get(), GMIME_OBJECT(part->get()));
    }
    g_mime_message_set_mime_part(message.get(), GMIME_OBJECT(parts.get()));
    return write_message(message.get(), file);
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
    for (const std::string& each : draft.to)
        if (const auto address = mail_address(each)) words.push_back(address->address);
    return words;
}

std::string mime_type_of(const std::filesystem::path& file) {
    const std::string ending = file.extension().string();
    for (const Format format : all_formats())
        if (ending == "." + std::string(format_extension(format))) return std::string(format_mime(format));
    return "application/octet-stream";
}

}
