// The text of the tray's pages is read in the background, as the ticket says: the page that is looked at first, pages
// of earlier days too, and nothing twice.
#pragma once

#include "core/reading/carried_words.h"
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

    int left() const { return queue_ ? static_cast<int>(queue_->left()) : 0; } // pages
    bool is_stopped() const { return queue_ && queue_->is_stopped(); }
    bool at_work() const { return settle_.isActive() || (left() > 0 && !is_stopped()); }
    // Ends with changed(), as the next.
    void stop();
    void go_on();

    // Nothing: there is nothing to be read on the page, or it was read.
    std::optional<int> percent_of(const QString& page_id) const;
    // 0 to 1; nothing where no page of it is to be read.
    std::optional<double> share_of(const Document& document) const;
    QString why_not(const Page& page) const; // it could not be read, in one sentence; empty: nothing went wrong
    int doubtful_words(const QString& page_id) const; // as far as it was read; about as many, without its words
    std::string languages_of(const Page& page) const; // in which it is read, as one word
    // It waits or is being read, as `ticket` would have it read too.
    bool is_about_to_read(const Page& page, const Ticket& ticket) const;

    // Languages that can be read, by name, as they were found when they were last looked for; none until they are found
    // for the first time. Looking starts an engine, which takes a second at times, so it is done in the background.
    const std::vector<std::string>& installed_languages() const { return installed_; }
    void look_for_languages();

    // For a page that is about to be saved: it waits no longer to be read; its reading where that is under way.
    std::optional<ReadingQueue::Coming> hand_over(const std::string& page_id);
    void see_what_is_left(); // after something that was handed over may have been left unread

  signals:
    void changed();         // all of the above but for the languages
    void languages_found(); // others than before

  private:
    std::vector<std::string> installed_;
    Executor background_;
    OutTray& tray_;
    Choice& choice_;
    Looking& looking_;
    DocumentTickets& tickets_;
    std::unique_ptr<ReadingQueue> queue_; // none without a store
    bool knows_earlier_ = false;          // what was read on earlier days
    QTimer settle_;                       // an edit seldom comes alone
    using PageAndLanguages = std::pair<std::string, std::string>;
    std::map<PageAndLanguages, ReadAs> read_;
    std::map<PageAndLanguages, QString> failed_; // why; not tried again until the next start
    std::set<std::string> handed_over_;          // read by whoever saves them

    void note(const PagePtr& page, const std::string& languages, const TextLayer& text);
    void end(const PagePtr& page, const std::vector<std::string>& languages, const Result<TextLayer>& text);
    void see();
    bool is_to_be_read(const Page& page, const Ticket& ticket) const;
    using ByOriginal = std::unordered_multimap<std::string, PagePtr>; // the store's file
    bool takes_from_another(const PagePtr& page, const ByOriginal& read_ones);
};

}
