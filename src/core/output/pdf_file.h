// A PDF into a file, with every write, flush and close looked at: QPDF itself does not look at how closing ends.
#pragma once

#include <filesystem>
#include <functional>
#include <string>

class QPDF;
class QPDFWriter;

namespace yelvin {

struct PdfWritten {
    int code = 0;       // an errno; 0: none
    std::string detail; // empty: all went well
};
PdfWritten write_pdf(QPDF& pdf, const std::filesystem::path& file, const std::function<void(QPDFWriter&)>& set_up);

}
