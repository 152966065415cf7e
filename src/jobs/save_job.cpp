#include "jobs/save_job.h"

#include "core/output/protection.h"
#include "core/output/spool.h"
#include "core/saving/safe_file.h"
#include "jobs/pipeline.h"
#include "jobs/save_names.h"
#include "jobs/save_outputs.h"
#include "jobs/save_pages.h"
#include "jobs/trouble.h"

#include <fmt/format.h>

#include <atomic>
#include <set>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

// A page on its way through the pipeline.
struct Slot {
    size_t index = 0;
    PreparedPage page;
    NameValues values = {}; // found on this page alone, for a file of its own
    std::string stamp;
    Result<std::vector<EncodedPage>> encoded; // for each output
};

// One execution of a save job.
//
// A file of the whole document is begun before the first page and completed after the last one. Each of these files is
// written inside the call that reserves its place (save_file() calls its `write` function), so the calls are nested:
// write_documents(0) begins the first file and calls write_documents(1), and the innermost call processes the pages.
//
// The destructor removes the files and folders that were made unless all were completed, so an error, a stop or an
// exception leaves nothing behind.
class SaveRun {
  public:
    SaveRun(const SaveJob& job, std::vector<Output> outputs, ReaderPool& readers, std::stop_token stop);
    SaveRun(const SaveRun&) = delete;
    SaveRun& operator=(const SaveRun&) = delete;
    ~SaveRun();

    // Checks everything that can be checked before the first page is processed.
    Result<void> check();
    // Returns the files in the order of the outputs.
    Result<std::vector<MadeFile>> save();

  private:
    const SaveJob& job_;
    ReaderPool& readers_;
    std::stop_token stop_;
    std::vector<Output> outputs_;    // the ticket's own first
    std::vector<Output*> documents_; // those with one file for all pages, in the order in which they are begun
    SaveNames names_;                // used by the steps that process the pages in order
    std::string main_name_;          // of the ticket's own file, without extension; empty until it is known
    std::optional<Slot> first_page_; // prepared before its turn, because the folder is named by its text
    int pages_in_files_ = 0;         // pages that were handed to the files
    int pages_before_ = 0;           // pages of the PDF to which pages are added
    std::set<fs::path> ready_folders_;
    NewFolders made_folders_;
    std::vector<std::pair<const Output*, MadeFile>> made_;
    bool complete_ = false;

    Output& main() { return outputs_.front(); }
    bool is_main(const Output& output) const { return &output == &outputs_.front(); }
    Result<void> check_added_to();
    Result<void> choose_folders();
    Result<void> prepare_folder(const Output& output, const fs::path& folder);
    Result<void> write_documents(size_t from);
    Result<void> add_to_document(Output& output, size_t from);
    Result<void> process_pages();
    Slot prepared(size_t index) const;
    void number(Slot& slot, int& counter);
    Result<void> hand_over(Slot& slot);
    Result<void> append_waiting();
    Result<std::string> write_page_file(Output& output, EncodedPage page, const Slot& slot, const std::string& name);
    void record(const Output& output, const SavedFile& saved, int pages);
};

SaveRun::SaveRun(const SaveJob& job, std::vector<Output> outputs, ReaderPool& readers, std::stop_token stop)
    : job_(job), readers_(readers), stop_(std::move(stop)), outputs_(std::move(outputs)), names_(job) {
    if (job_.add_to) main().make.per = Per::Document;
    for (Output& output : outputs_)
        if (output.is_whole()) documents_.insert(documents_.begin(), &output); // the ticket's own is named first
    if (!job_.add_to || !main().is_whole()) return;
    std::ranges::rotate(documents_, documents_.end() - 1); // the existing file changes once all others are there
    main_name_ = job_.add_to->file.stem().string();
}

SaveRun::~SaveRun() {
    if (complete_) return;
    std::error_code ignored;
    for (const auto& [output, file] : made_)
        if (!job_.add_to || file.path != job_.add_to->file) fs::remove(file.path, ignored);
    made_folders_.remove();
}

// ---- checks and folders

Result<void> SaveRun::check() {
    if (auto can = check_added_to(); !can) return can;
    for (const Output& output : outputs_) {
        if (auto good = check_folder(output.is_made ? existing_part(output.folder) : output.folder); !good) return good;
        if (auto good = check_protection(output.make, job_.add_to ? Passwords{} : job_.passwords); !good) return good;
    }
    return {};
}

// Checks the file that pages are added to. Its password protection is kept, and an archive file (PDF/A) accepts only
// pages that comply with the standard.
Result<void> SaveRun::check_added_to() {
    if (!job_.add_to) return {};
    if (!is_pdf(main().make.format))
        return fail(ErrorKind::BadInput,
                    fmt::format("Pages can be added to {} only as PDF; choose PDF.", job_.add_to->file.string()));
    const auto state = look_into_pdf(job_.add_to->file, job_.add_to->password);
    if (!state) return std::unexpected(state.error());
    if (auto may = check_place(*job_.add_to, *state); !may) return may;
    pages_before_ = state->pages;
    main().folder = fs::absolute(job_.add_to->file).parent_path();
    main().make.password = false;
    main().make.permissions = {};
    if (!state->archive_part) return {};
    main().make.format = Format::PdfA;
    main().make.pdf_a_level = *state->archive_part == 1 ? PdfALevel::A1b : PdfALevel::A2u;
    return {};
}

// Adds the subfolders that the ticket names by values (save.within). Those of a whole document are found in the text of
// its first page; a file of a single page goes where its own text says.
Result<void> SaveRun::choose_folders() {
    const auto& within = job_.ticket.save.within;
    if (within.empty() || job_.add_to) return {};
    const bool by_text = needs_reading(within);
    if (by_text && job_.page_count > 0 && !documents_.empty()) {
        first_page_ = prepared(0); // a failure is dealt with when the page's turn comes
        if (const auto& finished = first_page_->page.finished; finished && *finished)
            names_.look_at(first_page_->page.text);
    }
    for (Output& output : outputs_)
        if (output.within_ticket && (output.is_whole() || !by_text)) output.folder = names_.folder_for(names_.values());
    names_.start_again();
    return {};
}

// Creates the folder if that is wanted, and checks it, once.
Result<void> SaveRun::prepare_folder(const Output& output, const fs::path& folder) {
    if (!ready_folders_.insert(folder).second) return {};
    if (output.is_made || (output.within_ticket && folder != job_.folder && !job_.add_to))
        if (auto made = made_folders_.make(folder); !made) return made;
    if (auto good = check_folder(folder); !good) return good;
    remove_left_behind(folder);
    return {};
}

// ---- files

Result<std::vector<MadeFile>> SaveRun::save() {
    if (auto good = check(); !good) return std::unexpected(good.error());
    if (auto chosen = choose_folders(); !chosen) return std::unexpected(chosen.error());
    for (const Output& output : outputs_)
        if (auto ready = prepare_folder(output, output.folder); !ready) return std::unexpected(ready.error());
    if (auto written = write_documents(0); !written) return std::unexpected(written.error());
    complete_ = true;
    std::vector<MadeFile> files;
    for (const Output& wanted : outputs_)
        for (const auto& [output, file] : made_)
            if (output == &wanted) files.push_back(file);
    return files;
}

// Writes the files of the whole document from the index `from` on, and all files of single pages.
Result<void> SaveRun::write_documents(size_t from) {
    if (from == documents_.size()) return process_pages();
    Output& output = *documents_[from];
    if (job_.add_to && is_main(output)) return add_to_document(output, from);
    const auto write = [&](const fs::path& growing) -> Result<void> {
        output.growing = growing;
        if (auto others = write_documents(from + 1); !others) return others;
        return output.writer->finish();
    };
    // Called when the file is complete, and the text of its first pages is known.
    const auto name = [&](int attempt) {
        return names_.candidates(output, output.folder, names_.values(), main(), main_name_)(attempt);
    };
    const auto saved = save_file(output.folder, name, write);
    if (!saved) return std::unexpected(saved.error());
    record(output, *saved, pages_in_files_);
    return {};
}

Result<void> SaveRun::add_to_document(Output& output, size_t from) {
    const Spool pages; // the PDF may be protected, so its new pages are in a file that no other user can open
    output.growing = pages.path();
    if (auto others = write_documents(from + 1); !others) return others;
    if (auto finished = output.writer->finish(); !finished) return finished;
    if (auto added = add_to_pdf(*job_.add_to, pages.path()); !added) return added;
    std::error_code ignored;
    record(output, {job_.add_to->file, fs::file_size(job_.add_to->file, ignored)}, pages_before_ + pages_in_files_);
    return {};
}

// Writes a page as a file of its own, named by its own text or, in a further format, by `name`, the name of its file in
// the main format. Returns the file's name without its extension.
Result<std::string> SaveRun::write_page_file(Output& output, EncodedPage page, const Slot& slot,
                                             const std::string& name) {
    const bool by_text = output.within_ticket && !job_.add_to && needs_reading(job_.ticket.save.within);
    const fs::path folder = by_text ? names_.folder_for(slot.values) : output.folder;
    if (auto ready = prepare_folder(output, folder); !ready) return std::unexpected(ready.error());
    const auto write = [&](const fs::path& growing) -> Result<void> {
        const auto writer = new_document_writer(growing, output.make.format, names_.info(output, folder, slot.values));
        if (auto added = writer->append(std::move(page)); !added) return added;
        return writer->finish();
    };
    const auto saved = save_file(folder, names_.candidates(output, folder, slot.values, main(), name), write);
    if (!saved) return std::unexpected(saved.error());
    record(output, *saved, 1);
    return saved->path.stem().string();
}

void SaveRun::record(const Output& output, const SavedFile& saved, int pages) {
    made_.push_back({&output, {saved.path, output.make.format, pages, saved.bytes}});
    if (is_main(output) && main_name_.empty()) main_name_ = saved.path.stem().string();
}

// ---- pages

Result<void> SaveRun::process_pages() {
    std::optional<Error> first_error;
    std::atomic<bool> ended = false;
    size_t next = 0;
    int counter = job_.first_stamp;
    Pipeline<Slot> line;
    line.next = [&]() -> std::optional<size_t> {
        if (next >= job_.page_count || ended || stop_.stop_requested()) return std::nullopt;
        return next++;
    };
    line.made = [&](size_t index) {
        return index == 0 && first_page_ ? *std::exchange(first_page_, std::nullopt) : prepared(index);
    };
    line.counted = [&](Slot& slot) { number(slot, counter); };
    line.worked_on = [&](Slot& slot) {
        if (const auto& finished = slot.page.finished; finished && *finished)
            slot.encoded =
                caught("a page", [&] { return encoded_for(outputs_, **finished, slot.page.text, slot.stamp, stop_); });
    };
    line.taken = [&](Slot& slot) {
        if (ended) return;
        if (auto handed = hand_over(slot); !handed) {
            // Whether the error is about the page instead of the file.
            const bool is_of_page = !slot.page.finished || !slot.encoded;
            const bool may_go = handed.error().kind != ErrorKind::Stopped && is_of_page && job_.leave_out;
            if (may_go && job_.leave_out(slot.index, handed.error())) return;
            first_error = handed.error();
            ended = true;
            return;
        }
        if (job_.progress) job_.progress(static_cast<double>(slot.index + 1) / static_cast<double>(job_.page_count));
    };
    run_pipeline(line, job_.workers);
    if (stop_.stop_requested()) return stopped();
    if (first_error) return std::unexpected(*first_error);
    if (pages_in_files_ == 0)
        return fail(ErrorKind::BadInput, "No page is left to save: all were blank or unusable. Nothing was saved.");
    return append_waiting();
}

// Runs in parallel.
Slot SaveRun::prepared(size_t index) const {
    Slot slot;
    slot.index = index;
    slot.page = prepared_page(job_, index, needs_text(job_, outputs_), readers_, stop_);
    if (documents_.size() < outputs_.size()) slot.values = names_.values_in(slot.page.text);
    return slot;
}

// In order: gives the page its stamp, with the next number of the counter. A page that is left out has no number.
void SaveRun::number(Slot& slot, int& counter) {
    PreparedPage& page = slot.page;
    if (!page.finished || !*page.finished) return;
    names_.look_at(page.text);
    if (job_.on_text)
        job_.on_text(page.unused_text.paragraphs.empty() ? page.text : page.unused_text, (*page.finished)->raster.dpi);
    page.text = without_left_out(std::move(page.text));
    slot.stamp = joined_parts(with_values(job_.ticket.make.stamp.parts, names_.values()), job_.date, counter++);
}

// In order: hands an encoded page to every file.
Result<void> SaveRun::hand_over(Slot& slot) {
    if (!slot.page.finished) return std::unexpected(slot.page.finished.error());
    if (!*slot.page.finished) return {};
    if (!slot.encoded) return std::unexpected(slot.encoded.error());
    std::string main_name;
    for (size_t i = 0; i < outputs_.size(); ++i) {
        Output& output = outputs_[i];
        EncodedPage& page = (*slot.encoded)[i];
        if (output.is_whole()) {
            output.before_writer.push_back(std::move(page));
            continue;
        }
        auto name = write_page_file(output, std::move(page), slot, main_name);
        if (!name) return std::unexpected(name.error());
        if (is_main(output)) main_name = std::move(*name);
    }
    ++pages_in_files_;
    // The title of a document can be found on its first pages; they wait until it is known.
    const bool title_is_known = static_cast<size_t>(pages_in_files_) >= pages_with_facts;
    return title_is_known ? append_waiting() : Result<void>();
}

Result<void> SaveRun::append_waiting() {
    for (Output* output : documents_) {
        if (!output->writer)
            output->writer = new_document_writer(output->growing, output->make.format,
                                                 names_.info(*output, output->folder, names_.values()));
        for (EncodedPage& page : std::exchange(output->before_writer, {}))
            if (auto added = output->writer->append(std::move(page)); !added) return added;
    }
    return {};
}

}

Result<std::vector<MadeFile>> save_document(const SaveJob& job, ReaderPool& readers, std::stop_token stop) {
    auto outputs = outputs_of(job);
    if (!outputs) return std::unexpected(outputs.error());
    return SaveRun(job, std::move(*outputs), readers, std::move(stop)).save();
}

Result<void> check_job(const SaveJob& job, ReaderPool& readers) {
    auto outputs = outputs_of(job);
    if (!outputs) return std::unexpected(outputs.error());
    return SaveRun(job, std::move(*outputs), readers, {}).check();
}

}
