#include "core/output/joined_writer.h"

#include "core/saving/safe_file.h"
#include "core/xml_text.h"

#include <fmt/format.h>
#include <unicode/locid.h>

#include <cerrno>

namespace yelvin {

JoinedWriter::JoinedWriter(std::filesystem::path file, Format format) : DocumentWriter(std::move(file), format) {}

JoinedWriter::~JoinedWriter() {
    if (out_) std::fclose(out_);
}

Result<void> JoinedWriter::put(const std::string& bytes) {
    if (!out_) out_ = std::fopen(file().c_str(), "wb");
    if (!out_ || std::fwrite(bytes.data(), 1, bytes.size(), out_) != bytes.size())
        return folder_error(file().parent_path(), errno);
    return {};
}

Result<void> JoinedWriter::add(EncodedPage each) {
    if (++pages_ == 1)
        if (auto begun = put(head(each)); !begun) return begun;
    return put(page(each, pages_));
}

Result<void> JoinedWriter::complete() {
    if (auto may = may_end(); !may) return may;
    if (auto ended = put(tail()); !ended) return ended;
    int code = std::fflush(out_) == 0 ? 0 : errno;
    if (std::fclose(std::exchange(out_, nullptr)) != 0 && code == 0) code = errno;
    if (code != 0) return folder_error(file().parent_path(), code);
    return {};
}

std::string element_with(std::string_view name, std::string_view words, std::string_view attributes) {
    if (words.empty()) return {};
    return fmt::format("<{}{}{}>{}</{}>", name, attributes.empty() ? "" : " ", attributes, xml_text(words), name);
}

std::string language_tag(const std::string& name) {
    if (name.empty()) return "und";
    if (name == "chi_sim") return "zh-Hans";
    if (name == "chi_tra") return "zh-Hant";
    UErrorCode failed = U_ZERO_ERROR;
    const auto tag =
        icu::Locale::createCanonical(name.substr(0, name.find('_')).c_str()).toLanguageTag<std::string>(failed);
    return U_FAILURE(failed) || tag.empty() ? "und" : tag;
}

}
