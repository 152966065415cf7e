#include "jobs/save_job.h"

#include "core/output/protection.h"
#include "core/output/spool.h"
#include "core/output/stamp.h"
#include "core/saving/file_name.h"
#include "core/saving/paper_name.h"
#include "jobs/working_line.h"

#include <fmt/format.h>

#include <atomic>
#include <mutex>
#include <set>

namespace yelvin {

namespace {

namespace fs = std::filesystem;

// One of the kinds of file that are made of the same pages.
struct Output {
    Ticket::Make make;
    fs::path folder;
    std::optional<Ink> ink; // brought to
    int most_dpi = 0;
    fs::path growing; // of a whole document
    std::unique_ptr<DocumentWriter> writer;

    bool is_whole() const { return make.per == Per::Document && holds_many_pages(make.format); }
};

std::vector<Output> outputs_of(const SaveJob& job) {
    std::vector<Output> outputs;
    outputs.push_back({job.ticket.make, job.folder, std::nullopt, job.most_dpi, {}, nullptr});
    for (const AlsoMade& also : job.ticket.make.also) {
        Ticket::Make make = job.ticket.make;
        make.format = also.format;
        outputs.push_back(
            {make, also.folder.empty() ? job.folder : expanded_folder(also.folder), also.ink, also.dpi, {}, nullptr});
    }
    return outputs;
}

struct Slot {
    size_t index = 0;
    Result<std::optional<FinishedPage>> page;
    PageText text;
    PageText known; // where the files have no use for it
    std::string stamp;
    Result<std::vector<EncodedPage>> encoded; // for each output
};

class Run {
  public:
    Run(const SaveJob& job, ReaderPool& readers, std::stop_token stop)
        : job_(job), readers_(readers), stop_(std::move(stop)), outputs_(outputs_of(job)) {
        if (job_.add_to) outputs_.front().make.per = Per::Document;
        for (Output& output : outputs_)
            if (output.is_whole()) wholes_.insert(wholes_.begin(), &output); // the ticket's own is named first
        if (!job_.add_to || !outputs_.front().is_whole()) return;
        std::ranges::rotate(wholes_, wholes_.end() - 1); // it gets the pages last, once all else is there
        name_ = job_.add_to->file.stem().string();
    }

    Result<std::vector<MadeFile>> all() {
        if (auto can = can_be_added_to(); !can) return std::unexpected(can.error());
        auto files = made_files();
        if (!files) made_folders_.remove();
        return files;
    }

  private:
    Result<std::vector<MadeFile>> made_files() {
        if (auto there = go_into_folder(); !there) return std::unexpected(there.error());
        std::set<fs::path> folders;
        for (const Output& output : outputs_) {
            if (auto checked = check_folder(output.folder); !checked) return std::unexpected(checked.error());
            if (auto allowed = check_protection(output.make, job_.add_to ? Passwords{} : job_.passwords); !allowed)
                return std::unexpected(allowed.error());
            if (folders.insert(output.folder).second) remove_left_behind(output.folder);
        }
        if (auto made = whole_files(0); !made) {
            // A stop or an error half way leaves none of this document's files behind: all of them, or nothing.
            std::error_code ignored;
            for (const auto& [output, file] : made_) fs::remove(file.path, ignored);
            return std::unexpected(made.error());
        }
        std::vector<MadeFile> files;
        for (const Output& of : outputs_)
            for (const auto& [output, file] : made_)
                if (output == &of) files.push_back(file);
        return files;
    }

    const SaveJob& job_;
    ReaderPool& readers_;
    std::stop_token stop_;
    std::vector<Output> outputs_;
    std::vector<Output*> wholes_; // files of the whole document, in the order in which they are begun
    std::vector<std::pair<const Output*, MadeFile>> made_;
    int taken_ = 0, pages_before_ = 0;
    std::vector<PageText> says_from_; // the first pages that went into the files
    mutable std::mutex says_mutex_;
    PaperSays says_;            // as far as they say
    std::optional<Slot> first_; // prepared before its turn, to see what it says
    std::optional<int> number_; // of the counter in the name
    NewFolders made_folders_;
    std::string name_; // the ticket's own file's, once it has one; without its extension

    // The folders within the ticket's that its parts make; what they say of the paper stands on its first page.
    Result<void> go_into_folder() {
        const auto& within = job_.ticket.save.within;
        if (within.empty() || job_.add_to) return {};
        if (auto base = check_folder(job_.folder); !base) return base;
        if (needs_reading(within) && job_.page_count > 0) {
            first_ = prepared_slot(0);
            if (!first_->page) return std::unexpected(first_->page.error());
            if (*first_->page) look_at(first_->text);
        }
        const fs::path folder = folder_within(job_.folder, within, values(), job_.date);
        if (auto made = made_folders_.make(folder); !made) return made;
        for (Output& output : outputs_)
            if (output.folder == job_.folder) output.folder = folder;
        says_ = {};
        says_from_.clear();
        return {};
    }

    void look_at(const PageText& text) {
        if (says_from_.size() >= pages_that_say) return; // only one thread at a time comes here
        says_from_.push_back(text);
        PaperSays says = what_papers_say(says_from_, job_.words ? *job_.words : common_paper_words(), job_.date);
        const std::lock_guard lock(says_mutex_); // the page before it may just be put into its file
        says_ = std::move(says);
    }

    NameValues values() const {
        const std::lock_guard lock(says_mutex_);
        return name_values(says_, job_.barcode, job_.ticket.name);
    }
    int number() {
        if (!number_)
            number_ = next_number(with_values(job_.ticket.save.name, values()), job_.date, outputs_.front().folder);
        return *number_;
    }

    // Known before any work. Its own protection stays, and to an archive's file come pages that an archive takes.
    Result<void> can_be_added_to() {
        if (!job_.add_to) return {};
        Output& output = outputs_.front();
        if (!is_pdf(output.make.format))
            return fail(ErrorKind::BadInput,
                        fmt::format("Only PDF pages can be added to {}; choose PDF.", job_.add_to->file.string()));
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

    // The `from`th whole file and those behind it, which have their names before it.
    Result<void> whole_files(size_t from) {
        if (from == wholes_.size()) return pages();
        Output& output = *wholes_[from];
        if (job_.add_to && &output == &outputs_.front()) return added_to_file(output, from);
        const auto write = [&](const fs::path& growing) -> Result<void> {
            output.growing = growing;
            if (auto others = whole_files(from + 1); !others) return others;
            return output.writer->finish();
        };
        const auto saved = save_file(output.folder, names_for(output), write);
        if (!saved) return std::unexpected(saved.error());
        note(output, *saved, taken_);
        return {};
    }

    Result<void> own_file(Output& output, EncodedPage page) {
        const auto saved = save_file(output.folder, names_for(output), [&](const fs::path& growing) -> Result<void> {
            const auto writer = new_document_writer(growing, output.make.format, about(output));
            if (auto added = writer->append(std::move(page)); !added) return added;
            return writer->finish();
        });
        if (!saved) return std::unexpected(saved.error());
        note(output, *saved, 1);
        return {};
    }

    void note(const Output& output, const SavedFile& saved, int pages) {
        made_.push_back({&output, {saved.path, output.make.format, pages, saved.bytes}});
        if (&output == &outputs_.front() && name_.empty()) name_ = saved.path.stem().string();
    }

    std::vector<NamePart> filled(const std::vector<NamePart>& parts) const { return with_values(parts, values()); }

    // Asked for once the pages are in, when their heading is known. Further files are called like the first.
    std::function<std::string(int)> names_for(const Output& output) {
        return [this, &output](int attempt) {
            const std::string fixed = &output == &outputs_.front() || name_.empty() ? job_.fixed_name : name_;
            const std::string name = fixed.empty()
                                         ? numbered_name(filled(job_.ticket.save.name), job_.date, number(), attempt)
                                         : numbered_name(fixed, attempt);
            return fmt::format("{}.{}", name, format_extension(output.make.format));
        };
    }

    DocumentInfo about(const Output& output) {
        const Properties& properties = output.make.properties;
        const auto said = [&](const std::vector<NamePart>& parts) {
            return joined_parts(filled(parts), job_.date, number());
        };
        const std::string name =
            job_.fixed_name.empty() ? made_name(filled(job_.ticket.save.name), job_.date, number()) : job_.fixed_name;
        return {properties.title ? said(*properties.title) : name,
                output.make,
                said(properties.author),
                said(properties.subject),
                said(properties.keywords),
                job_.add_to ? Passwords{} : job_.passwords};
    }

    // Sends all pages through the pool.
    Result<void> pages() {
        std::optional<Error> first_error;
        std::atomic<bool> ended = false;
        size_t next = 0;
        int number = job_.first_stamp;
        WorkingLine<Slot> line;
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
            slot.stamp = joined_parts(filled(job_.ticket.make.stamp.parts), job_.date, number++);
        };
        line.worked_on = [&](Slot& slot) {
            if (slot.page && *slot.page) slot.encoded = encoded(slot);
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
        carry_through(line, job_.workers);
        if (stop_.stop_requested()) return stopped();
        if (first_error) return std::unexpected(*first_error);
        if (taken_ == 0)
            return fail(ErrorKind::BadInput,
                        "No page was left to save: each was blank or could not be used. Nothing was written.");
        return {};
    }

    // In order, into every file.
    Result<void> take(Slot& slot) {
        if (!slot.page) return std::unexpected(slot.page.error());
        if (!*slot.page) return {};
        if (!slot.encoded) return std::unexpected(slot.encoded.error());
        for (size_t i = 0; i < outputs_.size(); ++i) {
            Output& output = outputs_[i];
            EncodedPage& page = (*slot.encoded)[i];
            if (!output.is_whole()) {
                if (auto made = own_file(output, std::move(page)); !made) return made;
                continue;
            }
            if (!output.writer) output.writer = new_document_writer(output.growing, output.make.format, about(output));
            if (auto added = output.writer->append(std::move(page)); !added) return added;
        }
        ++taken_;
        return {};
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
        slot.page = prepared(slot);
        return slot;
    }

    // Nothing: the page is left out. Its text stands in the slot.
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

    static EncodedPage drawn(const Raster& page, const std::optional<FinishedPage>& finished,
                             const Ticket::Make& make) {
        EncodedPage out;
        out.width_px = page.width_px();
        out.height_px = page.height_px();
        out.dpi = page.dpi;
        out.ink = page.ink;
        out.make = make;
        out.drawing = finished->drawing;
        return out;
    }

    Result<std::vector<EncodedPage>> encoded(const Slot& slot) const {
        std::vector<EncodedPage> all;
        for (const Output& output : outputs_) {
            if (stop_.stop_requested()) return stopped();
            const Raster& page = (*slot.page)->raster;
            const bool too_fine = output.most_dpi > 0 && page.dpi > output.most_dpi;
            Raster brought = too_fine ? at_resolution(page, output.most_dpi) : page;
            if (output.ink) brought = with_ink(brought, *output.ink);
            PageText text;
            if (takes_words(output.make)) text = too_fine ? scaled(slot.text, output.most_dpi / page.dpi) : slot.text;
            const bool in_dots = !is_pdf(output.make.format) && !is_made_of_words(output.make.format);
            if (output.make.format == Format::Pdf && !output.ink && !too_fine && !(*slot.page)->drawing.empty()) {
                all.push_back(drawn(page, *slot.page, output.make));
                all.back().stamp = slot.stamp;
                continue;
            }
            if (in_dots) draw_stamp(brought, slot.stamp, output.make.stamp);
            auto done = encode_page(brought, std::move(text), output.make);
            if (!done) return std::unexpected(done.error());
            if (is_pdf(output.make.format)) done->stamp = slot.stamp;
            all.push_back(std::move(*done));
        }
        return all;
    }
};

}

Result<std::vector<MadeFile>> save_document(const SaveJob& job, ReaderPool& readers, std::stop_token stop) {
    return Run(job, readers, std::move(stop)).all();
}

}
