#include "core/output/pdf_changes.h"

#include "core/output/pdf_file.h"
#include "core/saving/safe_file.h"

#include <fmt/format.h>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFExc.hh>
#include <qpdf/QPDFWriter.hh>

namespace fs = std::filesystem;

namespace yelvin {

std::unexpected<Error> cannot_use_pdf(const fs::path& file, const std::string& detail, const std::string& instead) {
    return fail(ErrorKind::BadInput,
                fmt::format("{} is damaged or not a PDF and was not changed; {}.", file.string(), instead), detail);
}

Result<std::unique_ptr<QPDF>> opened_pdf(const fs::path& file, const Secret& password, const std::string& instead) {
    std::error_code ignored;
    if (!fs::is_regular_file(file, ignored))
        return fail(ErrorKind::Missing,
                    fmt::format("{} is not a file that can be changed; check its name.", file.string()));
    auto pdf = std::make_unique<QPDF>();
    pdf->setSuppressWarnings(true);
    try {
        pdf->processFile(file.c_str(), password.c_str());
        pdf->getAllPages();
        pdf->fixDanglingReferences();
    } catch (const QPDFExc& failure) {
        if (failure.getErrorCode() != qpdf_e_password) return cannot_use_pdf(file, failure.what(), instead);
        return fail(ErrorKind::Encrypted, password.empty()
                                              ? fmt::format("{} is protected; enter its password.", file.string())
                                              : fmt::format("Wrong password for {}; try again.", file.string()));
    } catch (const std::exception& failure) {
        return cannot_use_pdf(file, failure.what(), instead);
    }
    // Minor faults are ignored by every reader. A file whose structure had to be reconstructed may have lost content.
    for (const QPDFExc& warning : pdf->getWarnings())
        if (std::string_view(warning.what()).find("reconstruct") != std::string_view::npos)
            return cannot_use_pdf(file, warning.what(), instead);
    return pdf;
}

FileTrace trace_of(const fs::path& file) {
    std::error_code ignored;
    return {fs::file_size(file, ignored), fs::last_write_time(file, ignored)};
}

namespace {

Result<void> write_whole(QPDF& pdf, bool linear, const fs::path& growing) {
    const PdfWritten how = write_pdf(pdf, growing, [linear](QPDFWriter& writer) { // protected as it was
        writer.setStreamDataMode(qpdf_s_preserve);
        writer.setObjectStreamMode(qpdf_o_preserve);
        writer.setNewlineBeforeEndstream(true); // ISO 19005-1, 6.1.7; harmless in other PDFs.
        writer.setLinearization(linear);
    });
    if (how.code != 0) return folder_error(growing.parent_path(), how.code);
    if (how.detail.empty()) return {};
    return fail(ErrorKind::BadInput, "The PDF could not be saved again and was not changed.", how.detail);
}

}

Result<void> replace_pdf(const fs::path& file, QPDF& changed, const FileTrace& before,
                         const std::function<bool(const fs::path& growing)>& opens_again, FileSteps& steps) {
    const bool linear = changed.isLinearized();
    return replace_file_with(
        file,
        [&](const fs::path& growing) -> Result<void> {
            if (auto written = write_whole(changed, linear, growing); !written) return written;
            if (!opens_again(growing))
                return fail(ErrorKind::NotWritable,
                            fmt::format("The changed copy of {} could not be read back, so the file was not changed. "
                                        "Try again, or save the pages as a new file.",
                                        file.string()));
            if (trace_of(file) == before) return {};
            return fail(
                ErrorKind::Busy,
                fmt::format("Another program changed {} meanwhile, so nothing was added; try again.", file.string()));
        },
        steps);
}

}
