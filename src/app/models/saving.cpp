#include "app/models/saving.h"

#include "app/models/document_names.h"
#include "app/models/experience.h"
#include "app/models/messages.h"
#include "app/models/out_tray.h"
#include "app/models/pools.h"
#include "app/models/reading.h"
#include "app/models/tickets.h"

namespace yelvin {

namespace {
// Still what was saved: the same pages in the same order with the same corrections.
bool same_pages(const Document& a, const Document& b) {
    return std::ranges::equal(a.pages, b.pages, [](const PagePtr& x, const PagePtr& y) {
        return x->id == y->id && x->recipe == y->recipe && x->dropped == y->dropped && same_words(x->text, y->text);
    });
}
}

Saving::Saving(Messages& messages, Tickets& tickets, Experience& experience, OutTray& tray, DocumentNames& names,
               Reading& reading, ReaderPool& readers, Pools& pools, QObject* parent)
    : QObject(parent), messages_(messages), tickets_(tickets), experience_(experience), tray_(tray), names_(names),
      reading_(reading) {
    if (!tray_.has_store()) return;
    SaveQueue::Tell tell;
    tell.progress = [this](const DocumentPtr& document, double done) {
        emit progress(QString::fromStdString(document->id), done);
    };
    tell.read = [this](const PagePtr& page, const std::vector<std::string>& languages, const TextLayer& text) {
        tray_.keep_text(page, joined(languages), text);
    };
    tell.outcome = [this](const SaveOutcome& outcome) { take(outcome); };
    tell.together = [this](const std::vector<SaveOutcome>& outcomes) { report(outcomes); };
    queue_ = std::make_unique<SaveQueue>(tray_.store_folder(), readers,
                                         SaveQueue::Executors{pools.saving(), on_thread_of(this)}, std::move(tell),
                                         pools.stop_token());
}

void Saving::save(const QStringList& document_ids) {
    if (!queue_) return;
    const auto folder = expanded_folder(tickets_.ticket().save.folder);
    if (auto checked = check_folder(folder); !checked) return messages_.complain(checked.error());
    std::vector<SaveOrder> orders;
    for (const QString& id : document_ids) {
        for (const auto& document : tray_.tray().documents) {
            if (QString::fromStdString(document->id) != id) continue;
            orders.push_back(order_for(document, tickets_.ticket(), folder, document->kept_pages()));
        }
    }
    if (orders.empty()) return;
    say_what_is_read_first(orders);
    queue_->add(std::move(orders));
    emit changed();
}

SaveOrder Saving::order_for(const DocumentPtr& document, const Ticket& ticket, const std::filesystem::path& folder,
                            std::vector<PagePtr> pages) const {
    SaveOrder order{document, ticket, folder, std::move(pages), {}, {}};
    order.ticket.make = make_for(order.ticket.make, all_photographs(order.pages));
    for (const auto& page : order.pages) {
        order.texts.push_back(tray_.text_of(*page, joined(reading_languages(*page, ticket))));
        order.coming.push_back(reading_.hand_over(page->id));
    }
    return order;
}

void Saving::make_aside(const std::string& document_id, const Aside& aside,
                        std::function<void(const Result<std::vector<MadeFile>>&)> then) {
    for (const auto& document : tray_.tray().documents) {
        if (document->id != document_id || !queue_) continue;
        std::vector<PagePtr> pages = document->kept_pages();
        if (!aside.of.empty())
            std::erase_if(pages, [&](const PagePtr& page) { return std::ranges::find(aside.of, page->id) == aside.of.end(); });
        if (pages.empty()) break;
        SaveOrder order = order_for(document, aside.ticket, aside.folder, std::move(pages));
        order.name = aside.name;
        order.most_dpi = aside.most_dpi;
        order.aside = std::move(then);
        std::vector<SaveOrder> orders;
        orders.push_back(std::move(order));
        queue_->add(std::move(orders));
        return emit changed();
    }
    then(fail(ErrorKind::Missing, tr("The pages are no longer in the tray, so no file was made of them.").toStdString()));
}

// A file that is made of words waits until its pages are read; the person is told why.
void Saving::say_what_is_read_first(const std::vector<SaveOrder>& orders) {
    QStringList unread;
    for (const SaveOrder& order : orders) {
        const bool has_all = std::ranges::all_of(order.texts, [](const auto& text) { return text.has_value(); });
        if (is_made_of_words(order.ticket.make.format) && !has_all) unread.append(names_.title_of(*order.document));
    }
    if (unread.isEmpty()) return;
    const QString kind = QString::fromUtf8(format_words(orders.front().ticket.make.format).data());
    const QString which = unread.size() > 3   ? tr("%1 documents have").arg(unread.size())
                          : unread.size() > 1 ? tr("%1 have").arg(unread.join(", "))
                                              : tr("%1 has").arg(unread.front());
    messages_.tell(tr("%1 not been read yet: that is done first, then the %2 is made.").arg(which, kind));
}

void Saving::save_all() {
    QStringList ids;
    for (const auto& document : tray_.tray().documents) {
        if (document->saved_as.empty()) ids.append(QString::fromStdString(document->id));
    }
    save(ids);
}

void Saving::take(const SaveOutcome& outcome) {
    if (!outcome.files) return;
    const SaveOrder& order = *outcome.order;
    experience_.learn_saved(order.ticket, order.pages, *outcome.files);
    for (const auto& now : tray_.tray().documents) {
        if (now->id != order.document->id || !same_pages(*now, *order.document)) continue;
        tray_.change(with_document_saved(tray_.tray(), now->id, outcome.files->front().path.string()));
        break;
    }
    QStringList files;
    for (const MadeFile& file : *outcome.files) files.append(QString::fromStdString(file.path.string()));
    emit document_saved(QString::fromStdString(order.document->id), files, order.ticket);
}

void Saving::report(const std::vector<SaveOutcome>& outcomes) {
    QStringList files;
    // Documents by what kept them from being saved, in the order in which it was met.
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
        at->second.append(names_.title_of(*outcome.order->document));
    }
    names_.forget();
    if (!at_work()) reading_.see_what_is_left();
    emit changed();
    if (!files.isEmpty()) emit saved(files);
    if (reasons.empty()) return;
    if (outcomes.size() == 1) return messages_.complain(reasons.front().first);
    QStringList said;
    for (const auto& [sentence, documents] : reasons) said.append(documents.join(", ") + ": " + sentence);
    messages_.complain(
        tr("%1 of %2 documents could not be saved. %3").arg(failed).arg(outcomes.size()).arg(said.join(" ")));
}

}
