#include "app/models/saving/saving.h"

#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/naming/document_names.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/copies_folder.h"
#include "app/models/saving/password_keeper.h"
#include "app/models/saving/save_places.h"
#include "app/models/text/reading.h"
#include "app/models/threads/apart.h"
#include "app/models/threads/pools.h"
#include "app/models/tickets/growing_files.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/experience.h"
#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"

namespace yelvin {

Saving::Saving(const Around& around, ReaderPool& readers, Pools& pools, bool crashed_before, QObject* parent)
    : QObject(parent), around_(around), pools_(pools) {
    if (!around_.tray.has_store()) return;
    pending_ = std::make_unique<PendingSaves>(around_.tray.store_folder(), pools.keeping());
    around_.tray.when_loaded([this, crashed_before] { go_on_with_what_was_left(crashed_before); });
    SaveQueue::Tell tell;
    tell.progress = [this](const DocumentPtr& document, double done) {
        emit progress(QString::fromStdString(document->id), done);
    };
    tell.read = [this](const PagePtr& page, const std::vector<std::string>& languages, const TextLayer& text) {
        around_.tray.keep_text(page, joined(languages), text);
    };
    tell.outcome = [this](const SaveOutcome& outcome) { take(outcome); };
    tell.together = [this](const std::vector<SaveOutcome>& outcomes) { report(outcomes); };
    connect(&look_again_, &QTimer::timeout, this, &Saving::look_for_folders);
    connect(&around_.looking, &Looking::changed, this, [this] {
        if (!looked_at_.empty()) save_what_was_looked_at();
    });
    connect(&around_.folders, &Folders::changed, this, [this] {
        if (!waits_.empty()) look_for_folders();
    });
    queue_ = std::make_unique<SaveQueue>(around_.tray.store_folder(), readers,
                                         SaveQueue::Executors{pools.saving(), on_thread_of(this)}, std::move(tell),
                                         pools.stop_token());
}

// The saves that were left unfinished are read before new ones are recorded, because the storage thread does both in
// order.
void Saving::go_on_with_what_was_left(bool crashed_before) {
    pools_.keeping()([this, crashed_before, here = on_thread_of(this), folder = around_.tray.store_folder()] {
        auto left = PendingSaves::left_in(folder);
        if (left.empty()) return;
        here([this, crashed_before, left = std::move(left)] {
            pending_->take_over(left);
            if (!crashed_before) return save_what_was_left(left);
            for (const auto& [id, ticket] : left) pending_->forget(id);
            const QString what = tr("Yelvin crashed while saving documents; those not saved are in the out tray.");
            around_.messages.complain(Error{ErrorKind::Internal, what.toStdString(), {}},
                                      {tr("save them"), [this, left] { save_what_was_left(left); }});
        });
    });
}

void Saving::save_what_was_left(const PendingSaves::ByDocument& left) {
    std::vector<std::pair<std::shared_ptr<const Ticket>, QStringList>> together; // in the tray's order
    int count = 0;
    for (const DocumentPtr& each : around_.tray.tray().documents) {
        const auto at = left.find(each->id);
        if (at == left.end() || !each->saved_as.empty()) continue;
        if (together.empty() || together.back().first != at->second) together.push_back({at->second, {}});
        together.back().second.append(QString::fromStdString(each->id));
        ++count;
    }
    for (const auto& [id, ticket] : left) pending_->forget(id); // Saving records it again.
    if (count > 0)
        around_.messages.tell(
            count == 1 ? tr("A document that was waiting when Yelvin closed is being saved.")
                       : tr("%1 documents that were waiting when Yelvin closed are being saved.").arg(count));
    for (const auto& [ticket, ids] : together) save(ids, *ticket);
}

DocumentPtr Saving::document(const std::string& id) const { return document_at(around_.tray.tray(), id); }

SaveOrder Saving::order_for(const DocumentPtr& document, const Ticket& ticket, const std::filesystem::path& folder,
                            std::vector<PagePtr> pages) {
    SaveOrder order{document, ticket, folder, std::move(pages), {}, {}};
    order.words = around_.papers.words();
    // Subfolders belong to the ticket's folder. They are not made in a folder that was chosen for this document, nor in
    // the temporary folder.
    if (!document->folder.empty() || ticket.save.where == Ticket::Save::Where::Temporary)
        order.ticket.save.within.clear();
    order.ticket.make = make_for(order.ticket.make, all_photographs(order.pages));
    for (const auto& page : order.pages) {
        order.texts.push_back(around_.tray.text_of(*page, joined(reading_languages(*page, ticket))));
        order.coming.push_back(around_.reading.hand_over(page->id));
    }
    return order;
}

namespace {
constexpr const char* stamps_kept_as = "stamp numbers";

bool counts_on(const Stamp& stamp) {
    const auto counts = [](const NamePart& part) { return part.kind == NamePart::Kind::Counter; };
    return stamp.across_documents && std::ranges::any_of(stamp.parts, counts);
}
}

int Saving::next_stamp(const Ticket& ticket) const {
    if (!counts_on(ticket.make.stamp)) return 1;
    return around_.last.get<std::map<std::string, int>>(stamps_kept_as, {})[ticket.name] + 1;
}

// Reserves stamp numbers when a document is handed to the save queue, so that no number is used twice.
int Saving::take_stamps(const std::string& document_id, const Ticket& ticket, size_t pages) {
    const int first = next_stamp(ticket);
    stamps_[document_id] = first;
    if (!counts_on(ticket.make.stamp)) return first;
    auto last = around_.last.get<std::map<std::string, int>>(stamps_kept_as, {});
    last[ticket.name] = first + static_cast<int>(pages) - 1;
    around_.last.set(stamps_kept_as, last);
    around_.last.keep_now();
    return first;
}

// The stamp number of a page that is exported apart from the document's file.
int Saving::stamp_of(const Document& document, const Ticket& ticket, const PagePtr& page) const {
    const auto given = stamps_.find(document.id);
    const auto kept = document.kept_pages();
    const auto place = static_cast<int>(std::ranges::find(kept, page) - kept.begin());
    return (given == stamps_.end() ? next_stamp(ticket) : given->second) + place;
}

void Saving::protect_and_begin(std::vector<SaveOrder> orders) {
    PasswordKeeper::Question question{PasswordKeeper::For::Protecting,
                                      QString::fromStdString(orders.front().ticket.name), false, false};
    for (const SaveOrder& order : orders) {
        if (order.ticket.make.format != Format::Pdf) continue; // Saving refuses such an order and says why.
        question.open = question.open || order.ticket.make.password;
        question.owner = question.owner || !order.ticket.make.permissions.all();
    }
    if (!question.open && !question.owner) return begin(std::move(orders));
    QStringList ids;
    for (const SaveOrder& order : orders) ids.append(QString::fromStdString(order.document->id));
    auto kept = std::make_shared<std::vector<SaveOrder>>(std::move(orders));
    note_asked(ids, true);
    around_.passwords.get(question, [this, kept, ids](const std::optional<Passwords>& passwords) {
        note_asked(ids, false);
        if (passwords) {
            for (SaveOrder& order : *kept) order.passwords = *passwords;
            return begin(std::move(*kept));
        }
        for (const SaveOrder& order : *kept)
            if (order.aside) order.aside(fail(ErrorKind::Stopped, tr("No password was entered.").toStdString()));
        forget_pending(ids);
        around_.messages.complain(
            tr("Nothing was saved, because no password was entered. The pages stay in the tray."));
    });
}

void Saving::begin(std::vector<SaveOrder> orders) {
    in_queue_ += static_cast<int>(std::ranges::count_if(orders, [](const SaveOrder& each) { return !each.aside; }));
    queue_->add(std::move(orders));
    emit changed();
}

void Saving::make_aside(const std::string& document_id, const Aside& aside,
                        std::function<void(const Result<std::vector<MadeFile>>&)> then) {
    const DocumentPtr there = queue_ ? document(document_id) : nullptr;
    std::vector<PagePtr> pages = there ? there->kept_pages() : std::vector<PagePtr>{};
    if (!aside.of.empty())
        std::erase_if(pages,
                      [&](const PagePtr& page) { return std::ranges::find(aside.of, page->id) == aside.of.end(); });
    if (pages.empty())
        return then(
            fail(ErrorKind::Missing, tr("The pages are no longer in the tray, so no file was created.").toStdString()));
    Ticket ticket = aside.ticket;
    ticket.make.also.clear();
    ticket.save.within.clear();
    std::vector<SaveOrder> orders;
    orders.push_back(order_for(there, ticket, {}, std::move(pages)));
    orders.front().first_stamp = stamp_of(*there, ticket, orders.front().pages.front());
    orders.front().name = aside.name;
    orders.front().most_dpi = aside.most_dpi;
    orders.front().aside = std::move(then);
    ++finding_;
    const auto kept = std::make_shared<std::vector<SaveOrder>>(std::move(orders));
    const auto begin_in = [this, kept](const Result<std::filesystem::path>& folder) {
        --finding_;
        if (folder) {
            kept->front().folder = *folder;
            protect_and_begin(std::move(*kept));
        } else {
            kept->front().aside(std::unexpected(folder.error()));
        }
        emit changed();
    };
    const auto make_folder = [among = aside.among] { return new_copies_folder(among); };
    apart(this, "creating a folder for copies", make_folder, begin_in, patience_with(aside.among));
}

void Saving::add(const std::string& document_id, const AddTo& to) {
    if (!queue_) return;
    pools_.errands()([this, here = on_thread_of(this), document_id, to] {
        const auto state = look_into_pdf(to.file, to.password);
        here([this, document_id, to, state] { add_knowing(document_id, to, state); });
    });
}

void Saving::add_knowing(const std::string& document_id, const AddTo& to, const Result<PdfState>& state) {
    const DocumentPtr there = document(document_id);
    if (!there) return;
    if (!state && state.error().kind == ErrorKind::Encrypted) {
        const QString wrong = to.password.empty() ? QString() : QString::fromStdString(state.error().sentence);
        return around_.passwords.get(
            {PasswordKeeper::For::Opening, QString::fromStdString(to.file.string()), true, false, wrong},
            [this, document_id, to](const std::optional<Passwords>& passwords) {
                if (!passwords)
                    return around_.messages.complain(
                        tr("Nothing was added, because no password was entered. The pages stay in the tray."));
                AddTo opened = to;
                opened.password = passwords->open;
                add(document_id, opened);
            });
    }
    if (!state) return around_.messages.complain(state.error());
    if (state->is_signed && !to.although_signed) {
        const Error signed_file{ErrorKind::BadInput,
                                tr("%1 is digitally signed; adding pages would break the signature. Nothing was added.")
                                    .arg(QString::fromStdString(to.file.filename().string()))
                                    .toStdString(),
                                {}};
        return around_.messages.complain(signed_file, {tr("add anyway"), [this, document_id, to] {
                                                           AddTo although = to;
                                                           although.although_signed = true;
                                                           add(document_id, although);
                                                       }});
    }
    const bool has_first = there->part_of == to.file.string();
    Ticket ticket = around_.tickets.of(*there);
    if (!is_pdf(ticket.make.format)) ticket.make.format = Format::Pdf;
    std::vector<SaveOrder> orders;
    orders.push_back(
        order_for(there, ticket, to.file.parent_path(), has_first ? there->pages_to_add() : there->kept_pages()));
    SaveOrder& order = orders.front();
    if (order.pages.empty()) return;
    order.add_to = to;
    order.closed = closed({QString::fromStdString(there->id)});
    // If each document begins at 1, numbering continues after the pages of this document that are in the file already.
    const auto before = static_cast<int>(there->kept_pages().size() - order.pages.size());
    order.first_stamp =
        ticket.make.stamp.across_documents ? take_stamps(there->id, ticket, order.pages.size()) : before + 1;
    begin(std::move(orders));
}

// A text file waits until the text of its pages is recognised. Tells the user so.
void Saving::say_what_is_read_first(const std::vector<SaveOrder>& orders) {
    QStringList unread;
    for (const SaveOrder& order : orders) {
        const bool has_all = std::ranges::all_of(order.texts, [](const auto& text) { return text.has_value(); });
        if (is_made_of_words(order.ticket.make.format) && !has_all)
            unread.append(around_.names.title_of(*order.document));
    }
    if (unread.isEmpty()) return;
    const QString kind = QString::fromUtf8(format_words(orders.front().ticket.make.format).data());
    const QString which = unread.size() > 3 ? tr("%1 documents").arg(unread.size()) : unread.join(", ");
    around_.messages.tell(tr("%1: the text is read first, then the %2 is created.").arg(which, kind));
}

void Saving::save_all() {
    QStringList ids;
    for (const auto& document : around_.tray.tray().documents) {
        const auto given = given_.find(document->id);
        const bool on_its_way =
            given != given_.end() && !waits_.contains(document->id) && same_pages(*given->second, *document);
        if (document->saved_as.empty() && !on_its_way) ids.append(QString::fromStdString(document->id));
    }
    save(ids);
}

void Saving::take(const SaveOutcome& outcome) {
    const SaveOrder& order = *outcome.order;
    const QString id = QString::fromStdString(order.document->id);
    --in_queue_;
    if (!outcome.files) {
        // A save that was stopped because the program ends is repeated at the next start.
        if (outcome.files.error().kind != ErrorKind::Stopped) forget_pending({id});
        return;
    }
    if (order.grows) note_added(order, outcome.files->front().path);
    const bool own_file = !outcome.added && !order.grows;
    const bool alone = own_file && order.ticket.make.also.empty(); // Whether the files consist of exactly these pages.
    if (alone) around_.experience.learn_saved(order.ticket, order.pages, *outcome.files);
    if (const DocumentPtr now = document(order.document->id); now && same_pages(*now, *order.document)) {
        const auto& file = outcome.files->front().path;
        if (own_file && order.ticket.save.where != Ticket::Save::Where::Temporary)
            around_.papers.learn(*now, QString::fromStdString(file.string()));
        around_.tray.change(with_document_saved(around_.tray.tray(), now->id, file.string()));
    }
    forget_pending({id}); // Called after the tray was passed on to be stored.
    const bool stays = order.ticket.save.where != Ticket::Save::Where::Temporary;
    if (stays && !outcome.added) around_.places.note_used(outcome.files->front().path.parent_path());
    around_.folders.forget(outcome.files->front().path.parent_path());
    if (stays) enter(outcome);
    QStringList files;
    for (const MadeFile& file : *outcome.files) files.append(QString::fromStdString(file.path.string()));
    emit document_saved(id, files, order.ticket);
}

void Saving::note_added(const SaveOrder& order, const std::filesystem::path& file) {
    around_.growing.note_saved(order.ticket, file);
    const bool all_of_it = order.pages.size() == order.document->kept_pages().size();
    const auto [at, is_new] = added_.try_emplace(order.document->id, file);
    if (!is_new && at->second == file && all_of_it) added_again_ = QString::fromStdString(file.filename().string());
    at->second = file;
}

// Enters the file in the ticket's main format into the cabinet. Files in further formats have the same pages.
void Saving::enter(const SaveOutcome& outcome) {
    const SaveOrder& order = *outcome.order;
    if (outcome.added) return around_.cabinet.look_at(outcome.files->front().path);
    PaperFile about;
    about.ticket = order.ticket.name;
    about.saved = std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now());
    about.document = order.document->id;
    if (order.ticket.make.password) about.text_state = TextState::Protected;
    const MadeFile& first = outcome.files->front();
    std::vector<std::filesystem::path> files;
    for (const MadeFile& each : *outcome.files)
        if (files.empty() ||
            (first.pages == 1 && each.format == first.format && each.path.parent_path() == first.path.parent_path()))
            files.push_back(each.path);
    around_.cabinet.enter(files, outcome.words, about);
}

void Saving::report(const std::vector<SaveOutcome>& outcomes) {
    QStringList files;
    // The documents that were not saved, by reason, in the order in which the reasons occurred.
    std::vector<std::pair<QString, QStringList>> reasons;
    int failed = 0;
    for (const SaveOutcome& outcome : outcomes) {
        if (outcome.files) {
            for (const MadeFile& file : *outcome.files) files.append(QString::fromStdString(file.path.string()));
            continue;
        }
        if (outcome.files.error().kind == ErrorKind::Stopped) continue;
        ++failed;
        const QString sentence = QString::fromStdString(outcome.files.error().sentence);
        auto at = std::ranges::find(reasons, sentence, &std::pair<QString, QStringList>::first);
        if (at == reasons.end()) at = reasons.insert(reasons.end(), {sentence, {}});
        at->second.append(around_.names.title_of(*outcome.order->document));
    }
    around_.names.forget();
    if (!at_work()) around_.reading.see_what_is_left();
    emit changed();
    if (!files.isEmpty()) emit saved(files);
    if (const QString file = std::exchange(added_again_, {}); !file.isEmpty())
        around_.messages.tell(tr("Added to %1 as it is now; its earlier pages are still in that file.").arg(file));
    if (reasons.empty()) return;
    if (outcomes.size() == 1) return around_.messages.complain(reasons.front().first);
    QStringList said;
    for (const auto& [sentence, documents] : reasons) said.append(documents.join(", ") + ": " + sentence);
    around_.messages.complain(
        tr("%1 of %2 documents could not be saved. %3").arg(failed).arg(outcomes.size()).arg(said.join(" ")));
}

}
