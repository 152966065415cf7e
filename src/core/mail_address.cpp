#include "core/mail_address.h"

#include <fmt/format.h>
#include <gmime/gmime.h>

#include <algorithm>
#include <memory>
#include <mutex>

namespace yelvin {

namespace {

void begin_gmime() {
    static std::once_flag once;
    std::call_once(once, [] { g_mime_init(); });
}

// RFC 5322, 3.2.3 and 3.4.1, without the comments, folding and quoted local parts that no mailbox in use has.
bool is_addr_spec(std::string_view address) {
    const size_t at = address.rfind('@');
    if (at == std::string_view::npos || at == 0 || at + 1 == address.size()) return false;
    return std::ranges::none_of(address, [](unsigned char c) {
        return c <= 0x20 || c == 0x7F ||
               std::string_view("()<>[]:;,\\\"").find(static_cast<char>(c)) != std::string_view::npos;
    });
}

}

Result<MailAddress> mail_address(const std::string& text) {
    begin_gmime();
    const auto refused = [&] {
        return fail(ErrorKind::BadInput,
                    fmt::format("“{}” is not an e-mail address, such as keeper@example.org.", text));
    };
    if (std::ranges::any_of(text, [](unsigned char c) { return c < 0x20 || c == 0x7F; })) return refused();
    const std::unique_ptr<GMimeParserOptions, decltype(&g_mime_parser_options_free)> strict(g_mime_parser_options_new(),
                                                                                            g_mime_parser_options_free);
    g_mime_parser_options_set_address_compliance_mode(strict.get(), GMIME_RFC_COMPLIANCE_STRICT);
    g_mime_parser_options_set_allow_addresses_without_domain(strict.get(), FALSE);
    const std::unique_ptr<InternetAddressList, decltype([](gpointer list) { g_object_unref(list); })> list{
        internet_address_list_parse(strict.get(), text.c_str())};
    if (!list || internet_address_list_length(list.get()) != 1) return refused();
    InternetAddress* one = internet_address_list_get_address(list.get(), 0);
    if (!INTERNET_ADDRESS_IS_MAILBOX(one)) return refused();
    const char* address = internet_address_mailbox_get_addr(INTERNET_ADDRESS_MAILBOX(one));
    const char* name = internet_address_get_name(one);
    MailAddress out{name ? name : "", address ? address : ""};
    // The parser ignores what it does not understand, so the address must be the whole text.
    const bool is_bare = out.name.empty() && text == out.address;
    const bool is_named = text.ends_with("<" + out.address + ">");
    if (!is_addr_spec(out.address) || (!is_bare && !is_named)) return refused();
    return out;
}

Result<void> check_addresses(const std::vector<std::string>& to) {
    for (const std::string& each : to)
        if (auto address = mail_address(each); !address) return std::unexpected(address.error());
    return {};
}

}
