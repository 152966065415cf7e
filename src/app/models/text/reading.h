// Reads the text of the tray's pages in the background, as their tickets say: the current page first, pages of earlier
// days too, and nothing twice. Lives on the window's thread.
#pragma once

#include "core/text/carried_words.h"
#include "core/ticket/ticket.h"
#include "jobs/reading_queue.h"

#include <QObject>
#include <QTimer>

#include <map>
#include <memory>
#include <set>
#include <unordered_map>

namespace yelvin {

class Choice;
class DocumentTickets;
class Looking;
class OutTray;
class Pools;

class Reading : public QObject {
    Q_OBJECT
  public:
    Reading(OutTray& tray, Choice& choice, Looking& looking, DocumentTickets& tickets, Pools& pools,
            QObject* parent = nullptr);

    int left() const { return queue_ ? static_cast<int>(queue_->left()) : 0; } // number of pages left
    bool is_stopped() const { return queue_ && queue_->is_stopped(); }
    bool at_work() const { return settle_.isActive() || (left() > 0 && !is_stopped()); }
    // stop() and go_on() emit changed().
    void stop();
    void go_on();

    // Progress of a page; nullopt if it need not be read or was read.
    std::optional<int> percent_of(const QString& page_id) const;
    // Progress of a document, 0 to 1; nullopt if no page of it is to be read.
    std::optional<double> share_of(const Document& document) const;
    QString why_not(const Page& page) const;          // one sentence if the page could not be read; otherwise empty
    int doubtful_words(const QString& page_id) const; // number of doubtful words; an estimate without loading the text
    std::string languages_of(const Page& page) const; // languages in which it is read, as one word
    // Whether the page waits or is being read in the languages that `ticket` needs.
    bool is_about_to_read(const Page& page, const Ticket& ticket) const;

    // The installed languages, as found last; empty before the first time. look_for_languages() finds them in the
    // background, because that starts an engine, which can take a second.
    const std::vector<std::string>& installed_languages() const { return installed_; }
    void look_for_languages();

    // For a page that is going to be saved: removes it from the queue; if it is being read, returns the pending result.
    std::optional<ReadingQueue::Coming> hand_over(const std::string& page_id);
    void see_what_is_left(); // after pages that were handed over may have been left unread

  signals:
    void changed();         // anything above but the languages changed
    void languages_found(); // the languages changed

  private:
    std::vector<std::string> installed_;
    Executor background_;
    OutTray& tray_;
    Choice& choice_;
    Looking& looking_;
    DocumentTickets& tickets_;
    std::unique_ptr<ReadingQueue> queue_; // null without a store
    bool knows_earlier_ = false;          // whether the stored texts are known
    QTimer settle_;                       // collects several edits
    using PageAndLanguages = std::pair<std::string, std::string>;
    std::map<PageAndLanguages, ReadAs> read_;
    std::map<PageAndLanguages, QString> failed_; // the reason; not tried again before the next start
    std::set<std::string> handed_over_;          // pages that saving reads

    void note(const PagePtr& page, const std::string& languages, const TextLayer& text);
    void end(const PagePtr& page, const std::vector<std::string>& languages, const Result<TextLayer>& text);
    void see();
    bool is_to_be_read(const Page& page, const Ticket& ticket) const;
    using ByOriginal = std::unordered_multimap<std::string, PagePtr>; // by the original's file
    bool takes_from_another(const PagePtr& page, const ByOriginal& read_ones);
};

}
