#include "core/output/pdf_file.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

#include <cerrno>
#include <cstdio>

namespace yelvin {

PdfWritten write_pdf(QPDF& pdf, const std::filesystem::path& file, const std::function<void(QPDFWriter&)>& set_up) {
    std::FILE* out = std::fopen(file.c_str(), "wb");
    if (!out) return {errno, "cannot be opened"};
    PdfWritten how;
    errno = 0;
    try {
        QPDFWriter writer(pdf, file.c_str(), out, false);
        set_up(writer);
        writer.write();
    } catch (const std::exception& failure) {
        how = {errno, failure.what()};
    }
    if (how.detail.empty() && (std::fflush(out) != 0 || std::ferror(out) != 0))
        how = {errno == 0 ? EIO : errno, "flush"};
    if (std::fclose(out) != 0 && how.detail.empty()) how = {errno, "close"};
    return how;
}

}
