// Sending finished files by e-mail: in one, in several within the limit, or made again at a lower resolution. Used on
// the window's thread.
#pragma once

#include "app/models/errands/outside.h"

#include <deque>
#include <filesystem>
#include <memory>
#include <optional>

namespace yelvin {

class Saving;

struct SavedFiles {
    QStringList files;
    Ticket ticket; // the ticket they were saved with
    QString title;
    std::vector<std::uintmax_t> bytes = {}; // sizes of the files when they were examined last; may be empty
};

class Mailing {
  public:
    // Answers are ignored once `owner` is gone.
    Mailing(Saving& saving, Outside& outside, QObject& owner) : saving_(saving), outside_(outside), owner_(owner) {}

    static bool fits(const SavedFiles& saved); // whether all fit into one e-mail within the ticket's limit
    // Divides the files into e-mails, each within the limit if possible.
    static std::vector<std::vector<size_t>> parted(const SavedFiles& saved);
    // The highest resolution at which files of pages with `dpi` would probably fit; nullopt if a lower one would not
    // help.
    static std::optional<int> lower_dpi(const SavedFiles& saved, double dpi);

    enum class Mails { AsManyAsItTakes, One };
    // Sends one e-mail after the other, until one fails.
    void send(const SavedFiles& saved, Mails mails, const Outside::Done& done);
    // Makes files of a lower resolution and sends them in one e-mail. The saved files are unchanged.
    void send_at_lower_dpi(const std::string& document_id, const SavedFiles& saved, int dpi, const Outside::Done& done);

  private:
    void send_next(const std::shared_ptr<std::deque<MailDraft>>& drafts, const Outside::Done& done);

    Saving& saving_;
    Outside& outside_;
    QObject& owner_;
};

}
