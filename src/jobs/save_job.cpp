#include "jobs/save_job.h"

#include "core/naming/file_name.h"
#include "core/naming/paper_name.h"
#include "core/naming/taken_names.h"
#include "core/output/protection.h"
#include "core/output/spool.h"
#include "core/output/stamp.h"
#include "jobs/pipeline.h"
#include "jobs/save_outputs.h"
#include "jobs/trouble.h"

#include <fmt/format.h>

#include <atomic>
#include <set>

namespace yelvin {

namespace {

namespace fs = std::filesystem;

struct Slot {
    size_t index = 0;
    Result<std::optional<FinishedPage>> page;
    PageText text;
    PageText known;         // where the files have no use for it
    NameValues values = {}; // read on this page alone, of a file for itself
    std::string stamp;
    Result<std::vector<EncodedPage>> encoded; // for each output
};

// One execution of a save job. Its destructor removes the files that it made unless all of them were completed, so an
// error, a stop or an exception leaves nothing behind.
class Run {
  public:
    Run(const SaveJob& job, std::vector<Output> outputs, ReaderPool& readers, std::stop_token stop)
        : job_(job), readers_(readers), stop_(std::move(stop)), outputs_(std::move(outputs)), names_(job.date) {
        if (job_.add_to) outputs_.front().make.per = Per::Document;
        for (Output& output : outputs_)
            if (output.is_whole()) wholes_.insert(wholes_.begin(), &output); // the ticket's own is named first
        if (!job_.add_to || !outputs_.front().is_whole()) return;
        std::ranges::rotate(wholes_, wholes_.end() - 1); // it gets the pages last, once all else is there
        name_ = job_.add_to->file.stem().string();
    }
    Run(const Run&) = delete;
    Run& operator=(const Run&) = delete;
    ~Run() {
        if (complete_) return;
        std::error_code ignored;
        for (const auto& [output, file] : made_)
            if (!job_.add_to || file.path != job_.add_to->file) fs::remove(file.path, ignored);
        made_folders_.remove();
    }

    // Checks everything that can be checked before the first page is processed.
    Result<void> check() {
        if (auto can = can_be_added_to(); !can) return can;
        for (const Output& output : outputs_) {
            if (auto checked = check_folder(output.is_made ? existing_part(output.folder) : output.folder); !checked)
                return checked;
            if (auto allowed = check_protection(output.make, job_.add_to ? Passwords{} : job_.passwords); !allowed)
                return allowed;
        }
        return {};
    }

    Result<std::vector<MadeFile>> all() {
        if (auto good = check(); !good) return std::unexpected(good.error());
        if (auto there = go_into_folder(); !there) return std::unexpected(there.error());
        for (const Output& output : outputs_)
            if (auto there = ready_folder(output, output.folder); !there) return std::unexpected(there.error());
        if (auto made = whole_files(0); !made) return std::unexpected(made.error());
        std::vector<MadeFile> files;
        for (const Output& of : outputs_)
            for (const auto& [output, file] : made_)
                if (output == &of) files.push_back(file);
        complete_ = true;
        return files;
    }

  private:
    const SaveJob& job_;
    ReaderPool& readers_;
    std::stop_token stop_;
    std::vector<Output> outputs_;
    std::vector<Output*> wholes_; // files of the whole document, in the order in which they are begun
    std::vector<std::pair<const Output*, MadeFile>> made_;
    bool complete_ = false;
    int taken_ = 0, pages_before_ = 0;
    std::vector<PageText> says_from_; // the first pages that go into the files
    PaperFacts says_;                 // as far as they say
    std::optional<Slot> first_;       // prepared before its turn, to see what it says
    TakenNames names_;
    std::set<fs::path> ready_folders_;
    NewFolders made_folders_;
    std::string name_; // the ticket's own file's, once it has one; without its extension

    Result<void> ready_folder(const Output& output, const fs::path& folder) {
        if (!ready_folders_.insert(folder).second) return {};
        if (output.is_made || (output.within_ticket && folder != job_.folder && !job_.add_to))
            if (auto made = made_folders_.make(folder); !made) return made;
        if (auto checked = check_folder(folder); !checked) return checked;
        remove_left_behind(folder);
        return {};
    }

    const PaperWords& words() const { return job_.words ? *job_.words : common_paper_words(); }
    NameValues values_in(const PaperFacts& says) const { return name_values(says, job_.barcode, job_.ticket.name); }
    // The values for names that were found in the document's text. They change until the text of its first pages is
    // known, so only the steps that process the pages in order may call this.
    NameValues values() const { return values_in(says_); }

    // Makes the subfolders of the ticket's folder that are named by values. Values that hold for the whole document are
    // taken from its first page.
    Result<void> go_into_folder() {
        const auto& within = job_.ticket.save.within;
        if (within.empty() || job_.add_to) return {};
        if (needs_reading(within) && job_.page_count > 0 && !wholes_.empty()) {
            first_ = prepared_slot(0); // a failure is dealt with when the page's turn comes
            if (first_->page && *first_->page) look_at(first_->text);
        }
        for (Output& output : outputs_)
            if (output.within_ticket && (output.is_whole() || !needs_reading(within)))
                output.folder = folder_within(job_.folder, within, values(), job_.date);
        says_ = {};
        says_from_.clear();
        return {};
    }

    fs::path folder_of_page(const Output& output, const Slot& slot) const {
        const auto& within = job_.ticket.save.within;
        if (!output.within_ticket || !needs_reading(within) || job_.add_to) return output.folder;
        return folder_within(job_.folder, within, slot.values, job_.date);
    }

    void look_at(const PageText& text) {
        if (says_from_.size() >= pages_with_facts) return; // only one thread at a time comes here
        says_from_.push_back(text);
        says_ = facts_of_document(says_from_, words(), job_.date);
    }
    // Whether values() will not change any more, given the number of pages that were processed.
    bool is_settled() const { return static_cast<size_t>(taken_) >= pages_with_facts; }

    // Checks the file that pages are added to. Its password protection is kept, and an archive file (PDF/A) accepts
    // only pages that comply with the standard.
    Result<void> can_be_added_to() {
        if (!job_.add_to) return {};
        Output& output = outputs_.front();
        if (!is_pdf(output.make.format))
            return fail(ErrorKind::BadInput,
                        fmt::format("Pages can be added to {} only as PDF; choose PDF.", job_.add_to->file.string()));
        const auto state = look_into_pdf(job_.add_to->file, job_.add_to->password);
        if (!state) return std::unexpected(state.error());
        if (auto may = check_place(*job_.add_to, *state); !may) return may;
        pages_before_ = state->pages;
        output.folder = fs::absolute(job_.add_to->file).parent_path();
        output.make.password = false;
        output.make.permissions = {};
        if (!state->archive_part) return {};
        output.make.format = Format::PdfA;
        output.make.pdf_a_level = *state->archive_part == 1 ? PdfALevel::A1b : PdfALevel::A2u;
        return {};
    }

    Result<void> added_to_file(Output& output, size_t from) {
        const Spool pages; // nobody else can open it, also where the file is protected
        output.growing = pages.path();
        if (auto others = whole_files(from + 1); !others) return others;
        if (auto finished = output.writer->finish(); !finished) return finished;
        if (auto added = add_to_pdf(*job_.add_to, pages.path()); !added) return added;
        std::error_code ignored;
        note(output, {job_.add_to->file, fs::file_size(job_.add_to->file, ignored)}, pages_before_ + taken_);
        return {};
    }

    // Writes the whole-document file with the index `from` and all later ones. Their names are reserved in order.
    Result<void> whole_files(size_t from) {
        if (from == wholes_.size()) return pages();
        Output& output = *wholes_[from];
        if (job_.add_to && &output == &outputs_.front()) return added_to_file(output, from);
        const auto write = [&](const fs::path& growing) -> Result<void> {
            output.growing = growing;
            if (auto others = whole_files(from + 1); !others) return others;
            return output.writer->finish();
        };
        const auto name = [&](int attempt) { // asked for once the pages are in, when their heading is known
            return names_for(output, output.folder, values(), name_)(attempt);
        };
        const auto saved = save_file(output.folder, name, write);
        if (!saved) return std::unexpected(saved.error());
        note(output, *saved, taken_);
        return {};
    }

    // Writes the page as a file of its own. Its name comes from the text of this page alone or, for a further format,
    // is the same as `first`, the name of the file in the ticket's main format. Returns the file's name without its
    // extension.
    Result<std::string> own_file(Output& output, EncodedPage page, const Slot& slot, const std::string& first) {
        const fs::path folder = folder_of_page(output, slot);
        if (auto there = ready_folder(output, folder); !there) return std::unexpected(there.error());
        const auto write = [&](const fs::path& growing) -> Result<void> {
            const auto writer = new_document_writer(growing, output.make.format, about(output, folder, slot.values));
            if (auto added = writer->append(std::move(page)); !added) return added;
            return writer->finish();
        };
        const auto saved = save_file(folder, names_for(output, folder, slot.values, first), write);
        if (!saved) return std::unexpected(saved.error());
        note(output, *saved, 1);
        return saved->path.stem().string();
    }

    void note(const Output& output, const SavedFile& saved, int pages) {
        made_.push_back({&output, {saved.path, output.make.format, pages, saved.bytes}});
        if (&output == &outputs_.front() && name_.empty()) name_ = saved.path.stem().string();
    }

    // Returns the names to try, in order. Files in further formats are called `first`, as the file in the ticket's main
    // format, once that file has a name.
    std::function<std::string(int)> names_for(const Output& output, const fs::path& folder, const NameValues& values,
                                              const std::string& first) {
        const std::string fixed = &output == &outputs_.front() || first.empty() ? job_.fixed_name : first;
        const std::string extension = fmt::format(".{}", format_extension(output.make.format));
        if (!fixed.empty()) return names_.candidates(folder, fixed, extension);
        const auto parts = with_values(job_.ticket.save.name, values);
        if (&output == &outputs_.front()) return names_.candidates(folder, parts, extension);
        // The number that the file in the main format will have. It is counted in the folder of that file.
        const int number = names_.next_number(outputs_.front().folder, parts);
        return names_.candidates(folder, make_name(parts, job_.date, number), extension);
    }

    DocumentInfo about(const Output& output, const fs::path& folder, const NameValues& values) {
        const auto parts = with_values(job_.ticket.save.name, values);
        const int number = names_.next_number(folder, parts);
        const Properties& properties = output.make.properties;
        const auto said = [&](const std::vector<NamePart>& said_parts) {
            return joined_parts(with_values(said_parts, values), job_.date, number);
        };
        const std::string name = job_.fixed_name.empty() ? make_name(parts, job_.date, number) : job_.fixed_name;
        return {properties.title ? said(*properties.title) : name,
                output.make,
                said(properties.author),
                said(properties.subject),
                said(properties.keywords),
                job_.add_to ? Passwords{} : job_.passwords};
    }

    // Prepares all pages on the thread pool and hands them to take() in order.
    Result<void> pages() {
        std::optional<Error> first_error;
        std::atomic<bool> ended = false;
        size_t next = 0;
        int number = job_.first_stamp;
        Pipeline<Slot> line;
        line.next = [&]() -> std::optional<size_t> {
            if (next >= job_.page_count || ended || stop_.stop_requested()) return std::nullopt;
            return next++;
        };
        line.made = [&](size_t index) {
            return index == 0 && first_ ? *std::exchange(first_, std::nullopt) : prepared_slot(index);
        };
        line.counted = [&](Slot& slot) { // in order: what was left out has no number
            if (!slot.page || !*slot.page) return;
            look_at(slot.text);
            if (job_.on_text)
                job_.on_text(slot.known.paragraphs.empty() ? slot.text : slot.known, (*slot.page)->raster.dpi);
            slot.text = without_left_out(std::move(slot.text));
            slot.stamp = joined_parts(with_values(job_.ticket.make.stamp.parts, values()), job_.date, number++);
        };
        line.worked_on = [&](Slot& slot) {
            if (slot.page && *slot.page)
                slot.encoded =
                    caught("a page", [&] { return encoded_for(outputs_, **slot.page, slot.text, slot.stamp, stop_); });
        };
        line.taken = [&](Slot& slot) {
            if (ended) return;
            if (auto taken = take(slot); !taken) {
                const bool of_page = !slot.page || !slot.encoded; // and not of a file
                const bool may_go = taken.error().kind != ErrorKind::Stopped && of_page && job_.leave_out;
                if (may_go && job_.leave_out(slot.index, taken.error())) return;
                first_error = taken.error();
                ended = true;
                return;
            }
            if (job_.progress)
                job_.progress(static_cast<double>(slot.index + 1) / static_cast<double>(job_.page_count));
        };
        run_pipeline(line, job_.workers);
        if (stop_.stop_requested()) return stopped();
        if (first_error) return std::unexpected(*first_error);
        if (taken_ == 0)
            return fail(ErrorKind::BadInput, "No page is left to save: all were blank or unusable. Nothing was saved.");
        return append_waiting();
    }

    Result<void> append_waiting() {
        for (Output* output : wholes_) {
            if (!output->writer)
                output->writer =
                    new_document_writer(output->growing, output->make.format, about(*output, output->folder, values()));
            for (EncodedPage& page : std::exchange(output->before_writer, {}))
                if (auto added = output->writer->append(std::move(page)); !added) return added;
        }
        return {};
    }

    // Adds a prepared page to every file. Called for the pages in order.
    Result<void> take(Slot& slot) {
        if (!slot.page) return std::unexpected(slot.page.error());
        if (!*slot.page) return {};
        if (!slot.encoded) return std::unexpected(slot.encoded.error());
        std::string first;
        for (size_t i = 0; i < outputs_.size(); ++i) {
            Output& output = outputs_[i];
            EncodedPage& page = (*slot.encoded)[i];
            if (output.is_whole()) {
                output.before_writer.push_back(std::move(page));
                continue;
            }
            auto named = own_file(output, std::move(page), slot, first);
            if (!named) return std::unexpected(named.error());
            if (i == 0) first = std::move(*named);
        }
        ++taken_;
        return is_settled() ? append_waiting() : Result<void>();
    }

    bool wants_words() const {
        const auto takes = [](const Output& output) { return takes_words(output.make); };
        const Ticket::Make& make = job_.ticket.make;
        const Ticket::Save& save = job_.ticket.save;
        const bool in_name = job_.fixed_name.empty() && needs_reading(save.name);
        return needs_reading(make.stamp.parts) || in_name || needs_reading(save.within) ||
               std::ranges::any_of(outputs_, takes);
    }

    Slot prepared_slot(size_t index) {
        Slot slot;
        slot.index = index;
        slot.page = caught("a page", [&] { return prepared(slot); });
        if (wholes_.size() < outputs_.size())
            slot.values = values_in(facts_of_document({&slot.text, 1}, words(), job_.date));
        return slot;
    }

    // Returns the page ready for encoding, or no page if it is to be left out. Its text is stored in the slot.
    Result<std::optional<FinishedPage>> prepared(Slot& slot) {
        if (stop_.stop_requested()) return stopped();
        auto finished = job_.page(slot.index);
        if (!finished || !*finished) return finished;
        FinishedPage& page = **finished;
        const auto languages =
            languages_for(job_.ticket, page.languages ? *page.languages : job_.ticket.read.languages);
        if (languages.empty() || !wants_words()) {
            if (page.text && job_.on_text)
                slot.known = page.put_right ? page.put_right(*page.text) : as_it_was_read(*page.text);
            return finished;
        }
        if (!page.text) {
            auto read = readers_.borrow()->read(page.raster, languages, stop_);
            if (!read) return std::unexpected(read.error());
            if (job_.on_read) job_.on_read(slot.index, *read);
            page.text = std::move(*read);
        }
        slot.text = page.put_right ? page.put_right(*page.text) : as_it_was_read(*page.text);
        return finished;
    }
};

}

Result<std::vector<MadeFile>> save_document(const SaveJob& job, ReaderPool& readers, std::stop_token stop) {
    auto outputs = outputs_of(job);
    if (!outputs) return std::unexpected(outputs.error());
    return Run(job, std::move(*outputs), readers, std::move(stop)).all();
}

Result<void> check_job(const SaveJob& job, ReaderPool& readers) {
    auto outputs = outputs_of(job);
    if (!outputs) return std::unexpected(outputs.error());
    return Run(job, std::move(*outputs), readers, {}).check();
}

}
