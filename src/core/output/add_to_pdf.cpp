#include "core/output/add_to_pdf.h"

#include "core/output/pdf_file.h"
#include "core/output/pdf_merge.h"
#include "core/saving/safe_file.h"

#include <fmt/format.h>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFAcroFormDocumentHelper.hh>
#include <qpdf/QPDFExc.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include <algorithm>
#include <regex>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

std::unexpected<Error> cannot_use(const fs::path& file, const std::string& detail) {
    return fail(ErrorKind::BadInput,
                fmt::format("{} is damaged or no PDF, and stays as it is; save the pages as a file of their own.",
                            file.string()),
                detail);
}

// Open, with everything in it looked at: damage is found before anything is written.
Result<std::unique_ptr<QPDF>> opened(const fs::path& file, const Secret& password) {
    std::error_code ignored;
    if (!fs::is_regular_file(file, ignored))
        return fail(ErrorKind::Missing,
                    fmt::format("{} is no file that pages could be added to; check its name.", file.string()));
    auto pdf = std::make_unique<QPDF>();
    pdf->setSuppressWarnings(true);
    try {
        pdf->processFile(file.c_str(), password.c_str());
        pdf->getAllPages();
        pdf->fixDanglingReferences();
    } catch (const QPDFExc& failure) {
        if (failure.getErrorCode() != qpdf_e_password) return cannot_use(file, failure.what());
        return fail(ErrorKind::Encrypted,
                    password.empty()
                        ? fmt::format("{} opens only with its password; give it.", file.string())
                        : fmt::format("{} does not open with that password; give another one.", file.string()));
    } catch (const std::exception& failure) {
        return cannot_use(file, failure.what());
    }
    // Small faults every reader passes over; what had to be put together anew may have lost something.
    for (const QPDFExc& warning : pdf->getWarnings())
        if (std::string_view(warning.what()).find("reconstruct") != std::string_view::npos)
            return cannot_use(file, warning.what());
    return pdf;
}

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

// Size and time of a file, which differ once somebody wrote into it.
struct Trace {
    std::uintmax_t bytes = 0;
    fs::file_time_type time;
    bool operator==(const Trace&) const = default;
};
Trace trace_of(const fs::path& file) {
    std::error_code ignored;
    return {fs::file_size(file, ignored), fs::last_write_time(file, ignored)};
}

Result<void> write_whole(QPDF& pdf, bool linear, const fs::path& growing) {
    const PdfWritten how = write_pdf(pdf, growing, [linear](QPDFWriter& writer) { // protected as it was
        writer.setStreamDataMode(qpdf_s_preserve);
        writer.setObjectStreamMode(qpdf_o_preserve);
        writer.setNewlineBeforeEndstream(true); // ISO 19005-1, 6.1.7; it harms nobody else
        writer.setLinearization(linear);
    });
    if (how.code != 0) return folder_error(growing.parent_path(), how.code);
    if (how.detail.empty()) return {};
    return fail(ErrorKind::BadInput, "The PDF could not be written anew; it stays as it is.", how.detail);
}

}

Result<PdfState> look_into_pdf(const fs::path& file, const Secret& password) {
    auto pdf = opened(file, password);
    if (!pdf) return std::unexpected(pdf.error());
    QPDF& whole = **pdf;
    try {
        if (whole.isEncrypted() && !whole.ownerPasswordMatched() && !whole.allowModifyAssembly())
            return fail(ErrorKind::Encrypted,
                        fmt::format("{} forbids to be changed; give its owner's password.", file.string()));
        return PdfState{static_cast<int>(whole.getAllPages().size()), whole.isEncrypted(), has_signature(whole),
                        archive_part_of(whole)};
    } catch (const std::exception& failure) {
        return cannot_use(file, failure.what());
    }
}

Result<void> check_place(const AddTo& to, const PdfState& state) {
    if (state.is_signed && !to.although_signed)
        return fail(
            ErrorKind::BadInput,
            fmt::format("{} is signed, and its signature would no longer hold; it stays as it is unless that is "
                        "wanted.",
                        to.file.string()));
    if (to.behind && (*to.behind < 0 || *to.behind > state.pages))
        return fail(ErrorKind::BadInput, fmt::format("{} has {} pages, so nothing can go behind page {}.",
                                                     to.file.string(), state.pages, *to.behind));
    return {};
}

Result<void> add_to_pdf(const AddTo& to, const fs::path& pages, FileSteps& steps) {
    std::error_code failure;
    const fs::path file = fs::canonical(to.file, failure); // what a link leads to is what changes
    const Trace before = trace_of(file);
    const auto state = look_into_pdf(failure ? to.file : file, to.password);
    if (!state) return std::unexpected(state.error());
    if (auto may = check_place(to, *state); !may) return may;
    auto whole = opened(file, to.password);
    if (!whole) return std::unexpected(whole.error());
    auto more = opened(pages, {});
    if (!more) return std::unexpected(more.error());
    const int added = static_cast<int>((*more)->getAllPages().size());
    try {
        const bool linear = (*whole)->isLinearized();
        insert_pages(**whole, **more, to.behind.value_or(state->pages));
        return replace_file_with(
            file,
            [&](const fs::path& growing) -> Result<void> {
                if (auto written = write_whole(**whole, linear, growing); !written) return written;
                const auto again = look_into_pdf(growing, to.password);
                if (!again || again->pages != state->pages + added)
                    return fail(ErrorKind::NotWritable,
                                fmt::format("What was written beside {} does not open again; the file stays as it is. "
                                            "Try again, or save the pages as a file of their own.",
                                            to.file.string()));
                if (trace_of(file) == before) return {};
                return fail(ErrorKind::Busy,
                            fmt::format("Another program changed {} meanwhile, so nothing was added; try again.",
                                        to.file.string()));
            },
            steps);
    } catch (const std::exception& trouble) {
        return cannot_use(to.file, trouble.what());
    }
}

}
