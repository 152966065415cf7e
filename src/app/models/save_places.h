// In which folder files go: the ticket's, one that the person is asked for, or one for what is only looked at. And
// which folders were used, so that they are at hand.
#pragma once

#include "app/models/folders.h"
#include "core/ticket/ticket.h"

#include <QObject>
#include <QStringList>

#include <deque>
#include <optional>

namespace yelvin {

class LastChoices;

class SavePlaces : public QObject {
    Q_OBJECT
  public:
    SavePlaces(LastChoices& last, Folders& folders, QObject* parent = nullptr);

    // Looked at, and made where the ticket says so; `own`: chosen for the document, or empty. Told at once or later;
    // Stopped: the person gave up. The folders within it are made with the file.
    using Then = std::function<void(const Result<std::filesystem::path>&)>;
    void find(const Ticket& ticket, const std::string& own, Then then);

    // What the person is asked at present, if anything: answered by one of the two.
    bool asks() const { return !questions_.empty(); }
    void give(const QString& folder);
    void give_up();

    void note_used(const std::filesystem::path& folder);
    // Those used most and last first, at most so many.
    QStringList used(qsizetype most = 6) const;

  signals:
    void question_changed(); // asks(), or which one

  private:
    LastChoices& last_;
    Folders& folders_;
    std::deque<Then> questions_;

    void look_at(const std::filesystem::path& folder, bool make, const Then& then);
};

// Where files go that are only looked at: this user's, emptied of what is older than a week at each start.
std::filesystem::path folder_for_looks();

// As the person knows it: the home folder as ~.
QString shown_folder(const QString& folder);

}
