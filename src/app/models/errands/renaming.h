// Renames documents and moves them to other folders, saved ones with their files: never over another file, and undone
// with their undo step. Lives on the window's thread.
#pragma once

#include "core/naming/paper_name.h"
#include "core/tray/tray.h"

#include <QObject>
#include <QStringList>

#include <map>

namespace yelvin {

class CabinetKeeper;
class DocumentNames;
class Errands;
class Folders;
class GrowingFiles;
class Messages;
class OutTray;
class PageEdits;
class Papers;
class Pools;
class Saving;

class Renaming : public QObject {
    Q_OBJECT
  public:
    // The objects that it uses; they must outlive it.
    struct Around {
        Messages& messages;
        OutTray& tray;
        PageEdits& edits;
        Folders& folders;
        Papers& papers;
        CabinetKeeper& cabinet;
        DocumentNames& names;
        Saving& saving;
        Errands& errands;
        GrowingFiles& growing;
        Pools& pools;
    };
    explicit Renaming(const Around& around, QObject* parent = nullptr);

    // Renames a document as an undo step; a saved one after its file was renamed, or the reason why not is reported. If
    // the name is taken, the next number is added.
    void rename(const std::string& document_id, const QString& name);
    // Moves the files of a saved document there, or saves an unsaved one there later, as an undo step. An error is
    // reported.
    void put_into(const std::string& document_id, const QString& folder);
    // Renames the document as proposed. An unsaved one will be saved in the proposal's folder, if that has one.
    void take(const std::string& document_id, const NameProposal& proposal);
    bool at_work() const { return under_way_ > 0; } // whether a file is being moved

  signals:
    void changed(); // at_work() changed

  private:
    // The files of a document, which move together, the document's own first.
    struct Move {
        std::string document;
        std::vector<std::filesystem::path> files;
        std::filesystem::path folder;
        std::string stem;       // name of the first without extension; the others follow it
        bool only_back = false; // does nothing if the file is gone or its place is taken
    };
    Around around_;
    std::map<std::string, std::string> at_; // path of each document's file
    int under_way_ = 0;

    DocumentPtr document(const std::string& id) const;
    std::vector<std::filesystem::path> files_of(const Document& document) const;
    using Moved = std::vector<std::pair<std::filesystem::path, std::filesystem::path>>;
    void begin(const Move& move, std::function<void(const Moved&)> then, std::function<void()> or_else = {});
    static Result<Moved> moved(const Move& move);
    static Tray with_file_moved(const Tray& tray, const std::string& document_id, const Moved& moved);
    void note(const Moved& moved, const std::string& document_id);
    void follow_step(const Tray& before);
    void learn_places();
};

}
