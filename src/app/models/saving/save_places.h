// The folder in which files are saved: the ticket's, one that the user is asked for, or the temporary one. Also the
// folders that were used, so that they can be offered. Lives on the window's thread.
#pragma once

#include "app/models/naming/folders.h"
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

    // Finds the folder, examines it, and creates it if the ticket says so. `own` was chosen for the document; may be
    // empty. `then` is called at once or later. Errors: Stopped if the user cancelled; those of folder_error().
    // Subfolders that the ticket names are created with the file.
    using Then = std::function<void(const Result<std::filesystem::path>&)>;
    void find(const Ticket& ticket, const std::string& own, Then then);

    // The present question to the user, if any; answered by one of the next two.
    bool asks() const { return !questions_.empty(); }
    void give(const QString& folder);
    void give_up(); // ends its find() with Stopped

    // Counts a folder as used now, for used().
    void note_used(const std::filesystem::path& folder);
    // The folders used, the most frequent and recent first, at most `most`.
    QStringList used(qsizetype most = 6) const;

  signals:
    void question_changed(); // the question changed

  private:
    LastChoices& last_;
    Folders& folders_;
    std::deque<Then> questions_;

    void look_at(const std::filesystem::path& folder, bool make, const Then& then);
};

// Returns the user's temporary folder; files older than a week are deleted from it at each start.
std::filesystem::path folder_for_looks();

// Returns a folder for display, with ~ for the home folder.
QString shown_folder(const QString& folder);

}
