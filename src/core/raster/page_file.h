// A picture file or a PDF, opened once and read page by page.
//
// A PDF stays open: its structure is parsed once and its pages are taken from disk as they are asked for, so that 500
// pages cost 500 times a page and take the memory of a few. Of a picture nothing is kept in memory.
//
// Thread-safe: each thread that works on a PDF at the same time gets an open document of its own, and these are kept
// for the next page.
#pragma once

#include "core/raster/image_file.h"

#include <memory>

namespace yelvin {

class PdfPages;

class PageFile {
  public:
    // Opens the file; its type is recognised by its contents. Errors: Missing if it does not exist or cannot be read;
    // BadInput if it is a folder, a pipe or a device, empty, damaged, or neither picture nor PDF; Encrypted for a PDF
    // with a password.
    static Result<PageFile> open(const std::filesystem::path& file);
    PageFile(PageFile&&) noexcept;
    PageFile& operator=(PageFile&&) noexcept;
    ~PageFile();

    const std::filesystem::path& path() const;
    int count() const; // number of pages that can be read, at least 1

    // An error about pages that are missing because the file was cut off; nullopt if it is complete.
    std::optional<Error> missing_pages() const;

    // See read_page() and glimpse_of_page() in image_file.h.
    Result<LoadedPage> page(int index) const;
    Result<Raster> glimpse(int index, int most_px) const;
    // Returns a PDF of page `index` alone if the page is drawn (text and lines, not one picture that fills it). Returns
    // nullopt for a scan, for files that are not PDFs, and for pages that cannot be extracted without loss.
    std::optional<std::string> drawing(int index) const;
    // Returns a one-page PDF that holds only the pictures of page `index`, with their compressed bytes as they are in
    // the file; it is meant for FinishedPage::pictures. Returns nullopt unless the page of a PDF is a scan. Call it
    // only for a page whose LoadedPage::damage is empty.
    std::optional<std::string> pictures(int index) const;

    // Lends an open PDF to this thread as long as the Loan exists. Loan::get() returns null if the file is not a PDF or
    // can no longer be opened. The PageFile must outlive the Loan.
    class Loan {
      public:
        Loan(const PageFile& file, std::unique_ptr<PdfPages> pdf);
        Loan(const Loan&) = delete;
        Loan& operator=(const Loan&) = delete;
        ~Loan();
        PdfPages* get() const { return pdf_.get(); }

      private:
        const PageFile& file_;
        std::unique_ptr<PdfPages> pdf_;
    };
    Loan pdf() const;

  private:
    struct Inside;
    std::unique_ptr<Inside> inside_;
    explicit PageFile(std::unique_ptr<Inside> inside);
    void give_back(std::unique_ptr<PdfPages> pdf) const;
};

}
