#include "app/models/naming/papers.h"

#include "app/models/threads/pools.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/messages.h"
#include "jobs/page_looker.h"
#include "jobs/trouble.h"

namespace yelvin {

namespace {
constexpr int settle_ms = 120; // readings seldom come alone
}

Papers::Papers(Messages& messages, OutTray& tray, DocumentTickets& tickets, Pools& pools,
               const QString& settings_folder, QObject* parent)
    : QObject(parent), messages_(messages), tray_(tray), tickets_(tickets), pools_(pools),
      file_(std::filesystem::path(settings_folder.toStdString()) / "saved-before.sqlite"),
      words_(std::make_shared<const PaperWords>(common_paper_words())), before_(std::make_shared<const Before>()) {
    const auto own = paper_words_with(std::filesystem::path(settings_folder.toStdString()) / "paper-kinds.json");
    if (own)
        words_ = std::make_shared<const PaperWords>(*own);
    else
        // Reported by an event, because nothing is connected to messages_ yet.
        QTimer::singleShot(0, this, [this, error = own.error()] { messages_.complain(error); });
    settle_.setSingleShot(true);
    settle_.setInterval(settle_ms);
    connect(&settle_, &QTimer::timeout, this, &Papers::see);
    connect(&tray_, &OutTray::changed, &settle_, qOverload<>(&QTimer::start));
    connect(&tray_, &OutTray::text_kept, &settle_, qOverload<>(&QTimer::start));
    connect(&tickets_, &DocumentTickets::changed, &settle_, qOverload<>(&QTimer::start));
    change_before({});
}

// Changes the history of names on the storage thread. It is opened with the first call, whose change may do nothing;
// proposals are made from its content after the change.
void Papers::change_before(const std::function<Result<void>(NamingHistory&)>& how) {
    pools_.keeping()([this, here = on_thread_of(this), file = file_, how] {
        const auto done = caught("updating the naming history", [&]() -> Result<std::vector<SavedDocument>> {
            if (!store_) {
                auto opened = NamingHistory::open(file);
                if (!opened) return std::unexpected(opened.error());
                store_ = std::make_shared<NamingHistory>(std::move(*opened));
            }
            if (how) {
                if (auto changed = how(*store_); !changed) return std::unexpected(changed.error());
            }
            return store_->all();
        });
        here([this, done] {
            if (done) {
                before_ = std::make_shared<const Before>(*done);
                for (auto& [id, known] : known_)
                    known.proposals = name_proposals(known.says, similar_documents(known.traits, *before_), today());
                return tell();
            }
            if (!std::exchange(said_unkept_, true)) messages_.complain(done.error());
        });
    });
}

// Returns the input for the facts of the document, or nothing if they are known or no text of it is available yet.
std::optional<Papers::Known> Papers::to_reckon(const Document& document) const {
    const Ticket& ticket = tickets_.of(document);
    Known now;
    now.pages = document.kept_pages();
    if (now.pages.size() > pages_with_facts) now.pages.resize(pages_with_facts);
    for (const PagePtr& page : now.pages) now.languages.push_back(joined(reading_languages(*page, ticket)));
    const auto at = known_.find(document.id);
    const bool same = at != known_.end() && at->second.pages == now.pages && at->second.languages == now.languages;
    if (same && at->second.read == now.pages.size()) return std::nullopt;
    if (same) now.layers = at->second.layers;
    for (size_t i = now.layers.size(); i < now.pages.size(); ++i) {
        if (now.languages[i].empty()) break;
        auto text = tray_.text_of(*now.pages[i], now.languages[i]);
        if (!text) break; // The facts come from the pages before this one.
        now.layers.push_back(std::make_shared<const TextLayer>(std::move(*text)));
    }
    now.read = now.layers.size();
    if (now.read == 0 || (same && at->second.read == now.read)) return std::nullopt;
    return now;
}

// Handles one document per turn of the event loop, because the texts are read from the tray's database.
void Papers::see() {
    std::erase_if(known_, [&](const auto& each) { return !document_at(tray_.tray(), each.first); });
    for (const DocumentPtr& document : tray_.tray().documents) {
        auto known = to_reckon(*document);
        if (!known) continue;
        reckon(document, std::move(*known));
        return settle_.start(0);
    }
    settle_.setInterval(settle_ms);
}

void Papers::reckon(const DocumentPtr& document, Known known) {
    ++under_way_;
    // The old facts count until the new ones are known.
    if (const auto old = known_.find(document->id); old != known_.end()) {
        known.says = old->second.says;
        known.proposals = old->second.proposals;
    }
    known_[document->id] = known; // so that it is not begun again
    pools_.pages()([this, here = on_thread_of(this), id = document->id, known = std::move(known), words = words_,
                    before = before_]() mutable {
        const auto done = caught("proposing names", [&] {
            std::vector<PageText> texts;
            for (size_t i = 0; i < known.read; ++i) texts.push_back(text_of_page(*known.pages[i], *known.layers[i]));
            known.says = facts_of_document(texts, *words, today());
            known.traits = traits_of(texts.front(), known.says);
            known.proposals = name_proposals(known.says, similar_documents(known.traits, *before), today());
        });
        here([this, id, known = std::move(known), worked = done.has_value()]() mutable {
            --under_way_;
            const auto at = known_.find(id);
            const bool wanted = at != known_.end() && at->second.pages == known.pages && at->second.read == known.read;
            if (worked && wanted) at->second = std::move(known);
            tell();
        });
    });
}

const PaperFacts* Papers::says_of(const Document& document) const {
    const auto at = known_.find(document.id);
    return at == known_.end() ? nullptr : &at->second.says;
}

NameValues Papers::values_of(const Document& document, const Ticket& ticket) const {
    const PaperFacts* says = says_of(document);
    return name_values(says ? *says : PaperFacts{}, document.barcode, ticket.name);
}

std::vector<NameProposal> Papers::proposals_for(const Document& document) const {
    const auto at = known_.find(document.id);
    return at == known_.end() ? std::vector<NameProposal>{} : at->second.proposals;
}

void Papers::learn(const Document& document, const QString& file) {
    const auto at = known_.find(document.id);
    if (at == known_.end()) return; // No page was read, so the document could not be recognised later.
    change_before([paper = SavedDocument{0, file.toStdString(), at->second.traits}](NamingHistory& store) {
        return store.add(paper);
    });
}

void Papers::moved(const QString& from, const QString& to) {
    change_before(
        [from = from.toStdString(), to = to.toStdString()](NamingHistory& store) { return store.moved(from, to); });
}

void Papers::forget(const std::vector<long long>& ids) {
    change_before([ids](NamingHistory& store) { return store.forget(ids); });
}

void Papers::forget_file(const QString& file) {
    std::vector<long long> ids;
    for (const SavedDocument& paper : *before_)
        if (paper.file == file.toStdString()) ids.push_back(paper.id);
    if (!ids.empty()) forget(ids);
}

void Papers::forget_all() {
    change_before([](NamingHistory& store) { return store.forget_all(); });
}

namespace {

// Merges the frames of words in one line that belong to different facts, such as "Invoice" and "20417".
void join_neighbours(std::vector<cv::Rect>& boxes) {
    for (size_t i = 0; i < boxes.size(); ++i) {
        for (size_t k = i + 1; k < boxes.size();) {
            const cv::Rect &a = boxes[i], &b = boxes[k];
            const int over = std::min(a.br().y, b.br().y) - std::max(a.y, b.y);
            const int gap = std::max(a.x, b.x) - std::min(a.br().x, b.br().x);
            if (over * 2 < std::min(a.height, b.height) || gap > std::max(a.height, b.height)) {
                ++k;
                continue;
            }
            boxes[i] |= boxes[k];
            boxes.erase(boxes.begin() + static_cast<std::ptrdiff_t>(k));
            k = i + 1;
        }
    }
}

}

void Papers::point_at(const Document& document, const std::vector<PaperFact>& facts) {
    std::vector<Pointed> now;
    const auto at = known_.find(document.id);
    for (const PaperFact& fact : facts) {
        if (at == known_.end() || fact.page >= at->second.read) continue;
        const Known& known = at->second;
        // Word indices refer to the text with the user's corrections.
        const PageText text = text_of_page(*known.pages[fact.page], *known.layers[fact.page]);
        Pointed pointed{known.pages[fact.page]->id, {}, {text.layer.width_px, text.layer.height_px}};
        std::optional<size_t> line; // Successive words of one line get one common rectangle.
        for (const LineWord& word : fact.place) {
            if (word.line >= text.layer.lines.size() || word.word >= text.layer.lines[word.line].words.size()) continue;
            const cv::Rect box = text.layer.lines[word.line].words[word.word].box;
            if (line == word.line)
                pointed.boxes.back() |= box;
            else
                pointed.boxes.push_back(box);
            line = word.line;
        }
        const auto same = std::ranges::find(now, pointed.page, &Pointed::page);
        if (same != now.end())
            same->boxes.insert(same->boxes.end(), pointed.boxes.begin(), pointed.boxes.end());
        else if (!pointed.boxes.empty())
            now.push_back(std::move(pointed));
    }
    for (Pointed& each : now) join_neighbours(each.boxes);
    if (now.empty() && pointed_.empty()) return;
    pointed_ = std::move(now);
    emit pointing_changed();
}

}
