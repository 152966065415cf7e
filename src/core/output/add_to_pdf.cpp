#include "core/output/add_to_pdf.h"

#include "core/output/pdf_changes.h"
#include "core/output/pdf_merge.h"

#include <fmt/format.h>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFAcroFormDocumentHelper.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>

#include <algorithm>
#include <regex>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

bool has_signature(QPDF& pdf) {
    if (pdf.getRoot().getKey("/Perms").isDictionary()) return true;
    QPDFAcroFormDocumentHelper form(pdf);
    return std::ranges::any_of(form.getFormFields(), [](QPDFFormFieldObjectHelper field) {
        return field.getFieldType() == "/Sig" && field.getObjectHandle().getKey("/V").isDictionary();
    });
}

std::optional<int> archive_part_of(QPDF& pdf) {
    QPDFObjectHandle said = pdf.getRoot().getKey("/Metadata");
    if (!said.isStream()) return std::nullopt;
    const auto bytes = said.getStreamData();
    const std::string text(reinterpret_cast<const char*>(bytes->getBuffer()), bytes->getSize());
    std::smatch found;
    if (!std::regex_search(text, found, std::regex(R"(pdfaid:part[>="'\s]+(\d))"))) return std::nullopt;
    return std::stoi(found[1]);
}

}

Result<PdfState> look_into_pdf(const fs::path& file, const Secret& password) {
    auto pdf = opened_pdf(file, password);
    if (!pdf) return std::unexpected(pdf.error());
    QPDF& whole = **pdf;
    try {
        if (whole.isEncrypted() && !whole.ownerPasswordMatched() && !whole.allowModifyAssembly())
            return fail(ErrorKind::Encrypted,
                        fmt::format("{} is protected against changes; enter its owner password.", file.string()));
        return PdfState{static_cast<int>(whole.getAllPages().size()), whole.isEncrypted(), has_signature(whole),
                        archive_part_of(whole)};
    } catch (const std::exception& failure) {
        return cannot_use_pdf(file, failure.what());
    }
}

Result<void> check_place(const AddTo& to, const PdfState& state) {
    if (state.is_signed && !to.although_signed)
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is digitally signed; a change would break the signature, so nothing was changed.",
                                to.file.string()));
    if (to.behind && (*to.behind < 0 || *to.behind > state.pages))
        return fail(ErrorKind::BadInput, fmt::format("{} has {} pages, so pages cannot be added after page {}.",
                                                     to.file.string(), state.pages, *to.behind));
    return {};
}

Result<void> add_to_pdf(const AddTo& to, const fs::path& pages, FileSteps& steps) {
    std::error_code failure;
    const fs::path file = fs::canonical(to.file, failure); // Changes the file that a symbolic link leads to.
    const FileTrace before = trace_of(file);
    const auto state = look_into_pdf(failure ? to.file : file, to.password);
    if (!state) return std::unexpected(state.error());
    if (auto may = check_place(to, *state); !may) return may;
    auto whole = opened_pdf(file, to.password);
    if (!whole) return std::unexpected(whole.error());
    auto more = opened_pdf(pages, {});
    if (!more) return std::unexpected(more.error());
    const int added = static_cast<int>((*more)->getAllPages().size());
    try {
        insert_pages(**whole, **more, to.behind.value_or(state->pages));
        return replace_pdf(
            file, **whole, before,
            [&](const fs::path& growing) {
                const auto again = look_into_pdf(growing, to.password);
                return again && again->pages == state->pages + added;
            },
            steps);
    } catch (const std::exception& trouble) {
        return cannot_use_pdf(to.file, trouble.what());
    }
}

}
