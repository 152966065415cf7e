// A picture file or a PDF, opened once and read page by page.
//
// A PDF stays open: its structure is parsed once and its pages are taken from disk as they are asked for, so that 500
// pages cost 500 times a page and take the memory of a few. Of a picture nothing is kept in memory.
//
// Everything may be called on several threads at once: each thread that works on a PDF at the same time gets an open
// document of its own, and these are kept for the next page.
#pragma once

#include "core/raster/image_file.h"

#include <memory>

namespace yelvin {

class PdfPages;

class PageFile {
  public:
    // Opens the file by what is in it, never by its name. Errors: Missing, no such file or not readable; BadInput, a
    // folder, a pipe or device, an empty or damaged file, neither picture nor PDF; Encrypted, a PDF with a password.
    static Result<PageFile> open(const std::filesystem::path& file);
    PageFile(PageFile&&) noexcept;
    PageFile& operator=(PageFile&&) noexcept;
    ~PageFile();

    const std::filesystem::path& path() const;
    int count() const; // of the pages that are there, at least 1

    // What the file lacks as a whole: pages behind the place where it was cut off. Nothing if it is complete.
    std::optional<Error> missing_pages() const;

    // As read_page(), glimpse_of_page() and drawing_of_page() of image_file.h, which open the file each time.
    Result<LoadedPage> page(int index) const;
    Result<Raster> glimpse(int index, int most_px) const;
    std::optional<std::string> drawing(int index) const;
    // Returns a one-page PDF that holds only the pictures of page `index`, with their compressed bytes as they are in
    // the file; it is meant for FinishedPage::pictures. Returns nullopt unless the page of a PDF is a scan. Call it
    // only for a page whose LoadedPage::damage is empty.
    std::optional<std::string> pictures(int index) const;

    // An open PDF, for as long as the loan lives; null if the file is not a PDF or cannot be opened any more.
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
