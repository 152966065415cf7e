// The names of the files of one save: file names, folders that are named by the document's text, and the properties of
// PDFs. Internal to save_job.
#pragma once

#include "core/naming/file_name.h"
#include "core/naming/taken_names.h"
#include "core/paper_facts/paper_facts.h"
#include "jobs/save_outputs.h"

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace yelvin {

// Refers to the job, which must outlive it. Only values_in() may be called on several threads at the same time; for the
// others one thread after the other is enough.
class SaveNames {
  public:
    explicit SaveNames(const SaveJob& job) : job_(job), taken_(job.date) {}

    // Looks for the document's facts in the texts of its first pages, which are given in their order. Ignores the pages
    // after the first `pages_with_facts`.
    void look_at(const PageText& text);
    // Forgets the pages that were looked at.
    void start_again();

    // Returns the document's values for names, as far as the pages that were looked at contain them.
    NameValues values() const { return values_of(facts_); }
    // Returns the values of a page that becomes a file of its own.
    NameValues values_in(const PageText& page) const;

    // Returns the job's folder with the subfolders that the ticket names (save.within).
    std::filesystem::path folder_for(const NameValues& values) const;

    // Returns the names to try in `folder`, in order, with their extension. `main` is the ticket's own output and
    // `name_of_main` the name of its file, or empty while it has none: files in further formats are called like it.
    // The returned function must not outlive this object.
    std::function<std::string(int attempt)> candidates(const Output& output, const std::filesystem::path& folder,
                                                       const NameValues& values, const Output& main,
                                                       const std::string& name_of_main);

    // Returns what a file in `folder` says about itself: title, author, subject, keywords, passwords.
    DocumentInfo info(const Output& output, const std::filesystem::path& folder, const NameValues& values);

  private:
    const SaveJob& job_;
    TakenNames taken_;
    std::vector<PageText> first_pages_;
    PaperFacts facts_; // of first_pages_

    const PaperWords& words() const { return job_.words ? *job_.words : common_paper_words(); }
    NameValues values_of(const PaperFacts& facts) const;
};

}
