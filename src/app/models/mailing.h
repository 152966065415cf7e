// Finished files in e-mails: in one, in several within the limit, or made once more with fewer dots.
#pragma once

#include "app/models/outside.h"

#include <filesystem>
#include <optional>

namespace yelvin {

class Saving;

struct SavedFiles {
    QStringList files;
    Ticket ticket; // they were saved with
    QString title;
};

class Mailing {
  public:
    Mailing(Saving& saving, Outside& outside) : saving_(saving), outside_(outside) {}

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
    Saving& saving_;
    Outside& outside_;
};

}
