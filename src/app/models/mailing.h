// Finished files in e-mails: in one, in several within the limit, or made once more with fewer dots.
#pragma once

#include "app/models/outside.h"

#include <deque>
#include <filesystem>
#include <memory>
#include <optional>

namespace yelvin {

class Saving;

struct SavedFiles {
    QStringList files;
    Ticket ticket; // they were saved with
    QString title;
    std::vector<std::uintmax_t> bytes = {}; // of each file, as they were last looked at; may be empty
};

class Mailing {
  public:
    // `owner`: answers that come when it is gone are not taken.
    Mailing(Saving& saving, Outside& outside, QObject& owner) : saving_(saving), outside_(outside), owner_(owner) {}

    static bool fits(const SavedFiles& saved); // all of them, in one mail within the ticket's limit
    // Which files go into which mail, each mail within the limit where it can be.
    static std::vector<std::vector<size_t>> parted(const SavedFiles& saved);
    // The most dots with which they would likely fit, of pages that have `dpi`; nothing: fewer would not help.
    static std::optional<int> fewer_dots(const SavedFiles& saved, double dpi);

    enum class Mails { AsManyAsItTakes, One };
    // One after the other; the first that fails ends it.
    void send(const SavedFiles& saved, Mails mails, const Outside::Done& done);
    // The document's pages as files of so many dots, in one mail. The saved ones stay as they are.
    void send_with_fewer_dots(const std::string& document_id, const SavedFiles& saved, int dpi,
                              const Outside::Done& done);

  private:
    void send_next(const std::shared_ptr<std::deque<MailDraft>>& drafts, const Outside::Done& done);

    Saving& saving_;
    Outside& outside_;
    QObject& owner_;
};

}
