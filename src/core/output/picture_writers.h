// The writers of picture formats. Each function returns a writer for one file, which the caller owns; threads and
// errors are those of DocumentWriter. Except for TIFF, a file holds one page: append() is called once.
#pragma once

#include "core/output/document_writer.h"

namespace yelvin {

std::unique_ptr<DocumentWriter> new_jpeg_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_png_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_avif_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_heic_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_tiff_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_webp_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_bmp_writer(const std::filesystem::path& file, const DocumentInfo& info);

}
