// The desk's saving: one document after another on a thread of its own.
#include "app/desk.h"

#include "core/page/develop.h"
#include "core/saving/file_name.h"

namespace yelvin {

// ---- saving

namespace {
// Still what was saved: the same pages in the same order with the same corrections.
bool same_pages(const Document& a, const Document& b) {
    return std::ranges::equal(a.pages, b.pages, [](const PagePtr& x, const PagePtr& y) {
        return x->id == y->id && x->recipe == y->recipe && x->dropped == y->dropped;
    });
}
}

// Pages of one ink and resolution tell what such pages take.
void Desk::learn_from_saved(const std::string& ticket, const Ticket::Make& make, const std::vector<PagePtr>& pages,
                            const std::vector<MadeFile>& made) {
    double bytes = 0, pixels = 0;
    for (const MadeFile& file : made) bytes += static_cast<double>(file.bytes);
    const auto ink_of = [](const Page& page) { return page.recipe.ink.value_or(page.original.ink); };
    for (const PagePtr& page : pages) {
        const Original& o = page->original;
        if (ink_of(*page) != ink_of(*pages.front()) || o.dpi != pages.front()->original.dpi) return;
        const SizePx size = developed_size(page->recipe, {o.width_px, o.height_px}, o.dpi);
        pixels += static_cast<double>(size.width) * size.height;
    }
    if (!pages.empty())
        estimates_.learn_page(make, ticket, ink_of(*pages.front()), pages.front()->original.dpi, bytes, pixels);
    remember();
}

void Desk::save(const QStringList& document_ids) {
    waiting_saves_.push_back(document_ids);
    if (!saving_) run_next_save();
}

void Desk::run_next_save() {
    if (waiting_saves_.empty()) return;
    const QStringList ids = std::move(waiting_saves_.front());
    waiting_saves_.pop_front();
    const auto target = expanded_folder(ticket_.save.folder);
    if (auto checked = check_folder(target); !checked) {
        emit trouble(QString::fromStdString(checked.error().sentence));
        return;
    }
    saving_ = true;
    emit busy_changed();
    struct Task {
        DocumentPtr document;
        std::vector<PagePtr> pages; // those that go into the file
        std::vector<std::optional<TextLayer>> texts;
        Ticket::Make make;
    };
    std::vector<Task> tasks;
    for (const QString& id : ids) {
        for (const auto& document : tray_.documents) {
            if (QString::fromStdString(document->id) != id) continue;
            Task task{document, document->kept_pages(), {}, make_of(*document)};
            for (const auto& page : task.pages)
                task.texts.push_back(store_->text(page->id, page->recipe, languages_key()));
            tasks.push_back(std::move(task));
        }
    }
    save_thread_ = std::jthread([this, tasks = std::move(tasks), ticket = ticket_, target, key = languages_key(),
                                 folder = store_->folder(), stop = work_stop_.get_token()] {
        QStringList files;
        for (const Task& task : tasks) {
            const Document& document = *task.document;
            SaveJob job;
            job.page_count = task.pages.size();
            job.ticket = ticket;
            job.ticket.make = task.make;
            job.ticket.save.name = with_barcode(ticket.save.name, document.barcode);
            job.folder = target;
            job.fixed_name = document.name;
            job.date = today();
            job.first_number = next_number(job.ticket.save.name, job.date, target);
            job.page = [&](size_t index) -> Result<std::optional<FinishedPage>> {
                const Page& page = *task.pages[index];
                const auto original = read_original(folder, page.original);
                if (!original) return std::unexpected(original.error());
                return std::optional(FinishedPage{develop(*original, page.recipe), task.texts[index]});
            };
            job.on_read = [&](size_t index, const TextLayer& text) {
                on_desk([this, page = task.pages[index], key, text] {
                    store_->keep_text(page->id, page->recipe, key, text);
                });
            };
            job.progress = [&](double done) {
                on_desk([this, id = QString::fromStdString(document.id), done] { emit saving_progress(id, done); });
            };
            const auto made = save_document(job, readers_, stop);
            if (!made) {
                if (made.error().kind != ErrorKind::Stopped)
                    on_desk([this, e = made.error()] { emit trouble(QString::fromStdString(e.sentence)); });
                break;
            }
            on_desk([this, name = ticket.name, make = task.make, pages = task.pages, made = *made] {
                learn_from_saved(name, make, pages, made);
            });
            for (const MadeFile& file : *made) files.append(QString::fromStdString(file.path.string()));
            on_desk([this, saved_document = task.document, file = made->front().path.string()] {
                for (const auto& now : tray_.documents) {
                    if (now->id == saved_document->id && same_pages(*now, *saved_document)) {
                        change_tray(with_document_saved(tray_, now->id, file));
                        break;
                    }
                }
            });
        }
        on_desk([this, files] {
            saving_ = false;
            next_numbers_.clear();
            emit busy_changed();
            if (!files.isEmpty()) emit saved(files);
            emit ticket_changed(); // the next name has moved on
            run_next_save();
        });
    });
}

}
