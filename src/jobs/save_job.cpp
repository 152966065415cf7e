#include "jobs/save_job.h"

#include "core/saving/file_name.h"

#include <fmt/format.h>
#include <tbb/parallel_pipeline.h>
#include <tbb/task_arena.h>

#include <atomic>

namespace yelvin {

namespace {

struct Slot {
    size_t index = 0;
    Result<std::optional<EncodedPage>> page;
};

class Run {
  public:
    Run(const SaveJob& job, ReaderPool& readers, std::stop_token stop)
        : job_(job), readers_(readers), stop_(std::move(stop)) {}

    // Sends all pages through the pool; `take` gets the encoded ones in order.
    Result<void> pages(const std::function<Result<void>(EncodedPage)>& take) {
        std::optional<Error> first_error;
        std::atomic<bool> ended = false;
        size_t next = 0;
        const auto input = [&](tbb::flow_control& control) -> size_t {
            if (next >= job_.page_count || ended || stop_.stop_requested()) control.stop();
            return next++;
        };
        const auto work = [&](size_t index) { return std::make_shared<Slot>(Slot{index, encoded(index)}); };
        const auto output = [&](const std::shared_ptr<Slot>& slot) {
            if (ended) return;
            if (!slot->page) {
                if (slot->page.error().kind != ErrorKind::Stopped && job_.leave_out &&
                    job_.leave_out(slot->index, slot->page.error()))
                    return;
                first_error = slot->page.error();
            } else if (*slot->page) {
                if (auto taken = take(std::move(**slot->page)); !taken)
                    first_error = taken.error();
                else
                    ++taken_;
            }
            if (first_error)
                ended = true;
            else
                report(slot->index + 1, 0);
        };
        tbb::task_arena arena(job_.workers);
        arena.execute([&] {
            tbb::parallel_pipeline(
                static_cast<size_t>(job_.workers) + 1,
                tbb::make_filter<void, size_t>(tbb::filter_mode::serial_in_order, input) &
                    tbb::make_filter<size_t, std::shared_ptr<Slot>>(tbb::filter_mode::parallel, work) &
                    tbb::make_filter<std::shared_ptr<Slot>, void>(tbb::filter_mode::serial_in_order, output));
        });
        if (stop_.stop_requested()) return stopped();
        if (first_error) return std::unexpected(*first_error);
        if (taken_ == 0)
            return fail(ErrorKind::BadInput,
                        "No page was left to save: each was blank or could not be used. Nothing was written.");
        return {};
    }
    int taken() const { return taken_; }

  private:
    const SaveJob& job_;
    ReaderPool& readers_;
    std::stop_token stop_;
    int taken_ = 0;

    void report(size_t pages, double of_next) const {
        if (job_.progress) job_.progress((static_cast<double>(pages) + of_next) / static_cast<double>(job_.page_count));
    }

    Result<std::optional<EncodedPage>> encoded(size_t index) {
        if (stop_.stop_requested()) return stopped();
        auto finished = job_.page(index);
        if (!finished) return std::unexpected(finished.error());
        if (!*finished) return std::optional<EncodedPage>{};
        FinishedPage page = std::move(**finished);
        const Ticket& ticket = job_.ticket;
        const auto languages = languages_for(ticket, page.languages ? *page.languages : ticket.read.languages);
        const bool reads = takes_words(ticket.make) && !languages.empty();
        if (reads && !page.text) {
            auto read = readers_.borrow()->read(page.raster, languages, stop_);
            if (!read) return std::unexpected(read.error());
            if (job_.on_read) job_.on_read(index, *read);
            page.text = std::move(*read);
        }
        PageText text;
        if (reads) text = page.put_right ? page.put_right(*page.text) : as_it_was_read(*page.text);
        auto done = encode_page(page.raster, std::move(text), ticket.make);
        if (!done) return std::unexpected(done.error());
        return std::optional(std::move(*done));
    }
};

}

Result<std::vector<MadeFile>> save_document(const SaveJob& job, ReaderPool& readers, std::stop_token stop) {
    if (auto checked = check_folder(job.folder); !checked) return std::unexpected(checked.error());
    remove_left_behind(job.folder);
    const Format format = job.ticket.make.format;
    const auto candidate = [&](int attempt) {
        const std::string name = job.fixed_name.empty()
                                     ? numbered_name(job.ticket.save.name, job.date, job.first_number, attempt)
                                     : numbered_name(job.fixed_name, attempt);
        return fmt::format("{}.{}", name, format_extension(format));
    };
    const std::string title =
        job.fixed_name.empty() ? made_name(job.ticket.save.name, job.date, job.first_number) : job.fixed_name;
    Run run(job, readers, std::move(stop));
    std::vector<MadeFile> made;

    if (job.ticket.make.per == Per::Document && holds_many_pages(format)) {
        const auto write = [&](const std::filesystem::path& growing) -> Result<void> {
            const auto writer = new_document_writer(growing, format, {title, job.ticket.make});
            if (auto sent = run.pages([&](EncodedPage page) { return writer->append(std::move(page)); }); !sent)
                return sent;
            return writer->finish();
        };
        const auto saved = save_file(job.folder, candidate, write);
        if (!saved) return std::unexpected(saved.error());
        made.push_back({saved->path, format, run.taken(), saved->bytes});
        return made;
    }
    const auto one_file = [&](EncodedPage page) -> Result<void> {
        const auto saved = save_file(job.folder, candidate, [&](const std::filesystem::path& growing) -> Result<void> {
            const auto writer = new_document_writer(growing, format, {title, job.ticket.make});
            if (auto added = writer->append(std::move(page)); !added) return added;
            return writer->finish();
        });
        if (!saved) return std::unexpected(saved.error());
        made.push_back({saved->path, format, 1, saved->bytes});
        return {};
    };
    if (auto sent = run.pages(one_file); !sent) {
        // A stop or an error half way leaves none of this document's files behind: all of them, or nothing.
        std::error_code ignored;
        for (const MadeFile& file : made) std::filesystem::remove(file.path, ignored);
        return std::unexpected(sent.error());
    }
    return made;
}

}
