// Writing a PDF with every write, flush and close checked; QPDF itself ignores errors of closing its file. Internal to
// core/output.
#pragma once

#include <filesystem>
#include <functional>
#include <string>

class QPDF;
class QPDFWriter;

namespace yelvin {

struct PdfWritten {
    int code = 0;       // an errno; 0 if there is none
    std::string detail; // empty if there was no error
};
PdfWritten write_pdf(QPDF& pdf, const std::filesystem::path& file, const std::function<void(QPDFWriter&)>& set_up);

}
