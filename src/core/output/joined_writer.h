// Base of writers whose files are a head, the pages and a tail, written one after the other. Also the factories of text
// formats. Threads and errors are those of DocumentWriter.
#pragma once

#include "core/output/document_writer.h"

#include <cstdio>

namespace yelvin {

class JoinedWriter : public DocumentWriter {
  public:
    JoinedWriter(std::filesystem::path file, Format format);
    ~JoinedWriter() override;

  protected:
    // The text before the first page, of a page (numbered from 1), and at the end.
    virtual std::string head(const EncodedPage& first) = 0;
    virtual std::string page(const EncodedPage& page, int number) = 0;
    virtual std::string tail() = 0;
    virtual Result<void> may_end() { return {}; } // an error if there is nothing to be saved

  private:
    Result<void> add(EncodedPage page) final;
    Result<void> complete() final;
    Result<void> put(const std::string& bytes);
    std::FILE* out_ = nullptr;
    int pages_ = 0;
};

// Returns <name attributes>words</name>, or an empty string if there are no words.
std::string element_with(std::string_view name, std::string_view words, std::string_view attributes = {});
// Returns the BCP 47 tag for Tesseract's name of a language, such as "en" for "eng"; "und" if it is not known.
std::string language_tag(const std::string& name);

// Each returns a writer for one file, which the caller owns. Nothing is written before the first page.
std::unique_ptr<DocumentWriter> new_text_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_csv_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_hocr_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_alto_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_html_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_epub_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_docx_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_odt_writer(const std::filesystem::path& file, const DocumentInfo& info);

}
