// Keeps the cabinet up to date: adds saved files and watched folders, and follows files that are moved. Everything is
// done in the background, one thing after another. Lives on the window's thread.
#pragma once

#include "core/cabinet/cabinet_updater.h"

#include <QFileSystemWatcher>
#include <QObject>
#include <QSet>
#include <QStringList>
#include <QTimer>

#include <deque>
#include <map>
#include <memory>
#include <set>

namespace yelvin {

class Messages;
class Papers;
class Pools;
class ReaderPool;

class CabinetKeeper : public QObject {
    Q_OBJECT
  public:
    using Path = std::filesystem::path;
    // The objects that it uses; they must outlive it.
    struct Around {
        Messages& messages;
        Papers& papers; // for the words by which facts are recognised
        ReaderPool& readers;
        Pools& pools;
    };
    CabinetKeeper(const Around& around, const QString& folder, QObject* parent = nullptr);
    const std::filesystem::path& folder() const { return folder_; }
    bool is_open() const { return open_; } // searching is possible
    bool at_work() const { return under_way_ > 0; }

    // Adds what was just saved. `files` are the ticket's own: one with all pages, or one for each page.
    void enter(const std::vector<std::filesystem::path>& files, std::shared_ptr<const GatheredWords> words,
               const PaperFile& about);
    void note_moved(const std::filesystem::path& from, const std::filesystem::path& to); // a file was moved by us
    void look_at(const std::filesystem::path& file);                                     // a file was changed by us
    void look_after();                                                                   // checks where all files are

    // A watched folder stays watched after a restart: new files in it are added automatically.
    struct Taking {
        QString folder;
        int done = 0, of = 0, left_out = 0;
        int not_searchable = 0; // PDFs that should become searchable and were not changed
        QString why;            // the reason of the first of them
        bool stopped = false;   // until go_on() or the next start
        bool under_way() const { return done < of && !stopped; }
    };
    const Taking& taking() const { return taking_; }
    void watch_folder(const QString& folder, WithoutText unread);
    void unwatch_folder(const QString& folder);
    void stop_taking();
    void go_on();
    void make_searchable(const std::vector<Path>& pdfs); // adds text to PDFs that have none
    const std::vector<WatchedFolder>& folders() const { return folders_; }

    // Each can be undone.
    void remove_entries(const std::vector<long long>& ids);
    // Removes entries that were saved before the given time; more than most_undone cannot be undone. The files stay.
    void put_away_older(std::chrono::sys_seconds than);
    void count_older(const std::vector<std::chrono::sys_seconds>& than,
                     std::function<void(const std::vector<int>& papers)> then);
    static constexpr int most_undone = 300;         // entries that are removed together
    void rename(long long id, const QString& name); // renames the file too, never over another
    void move(const std::vector<long long>& ids, const QString& folder);
    QString undo_words() const { return undo_.empty() ? QString() : undo_.back().words; }
    void undo();

  signals:
    void opened();
    void changed(); // its contents changed
    void taking_changed();
    void undo_changed();

  private:
    struct Inside; // used on the cabinet's thread only
    struct Step {
        QString words;
        std::function<Result<void>(Cabinet&)> back;
    };
    Around around_;
    Path folder_;
    std::shared_ptr<Inside> inside_;
    bool open_ = false, said_unwell_ = false;
    int under_way_ = 0;
    Taking taking_;
    std::deque<Path> to_take_;
    bool takes_ = false;                  // a file is being added
    std::set<Path> searchable_;           // of the files to be added, those that should become searchable
    std::map<Path, FileMark> unreadable_; // state of files that could not be added
    QTimer try_again_;                    // somebody may still have been writing them
    std::vector<WatchedFolder> folders_;
    std::vector<Step> undo_;
    QFileSystemWatcher watcher_;
    QSet<QString> stirred_; // folders that changed
    QTimer settle_, gone_;

    // Runs on the cabinet's thread, then calls `then` with the result on the window's.
    template <class Value>
    void ask(std::function<Result<Value>(Cabinet&)> work, std::function<void(const Value&)> then);
    void change(std::function<Result<void>(Cabinet&)> work, std::function<void()> then = {});
    void complain(const Error& error);
    void open();
    void know_folders();
    void walk(const WatchedFolder& folder);
    void take_next();
    void watch();
    void look_for_gone();
    void look_at_stirred();
    std::shared_ptr<const PaperWords> known_by() const;
    WithoutText unread_in(const Path& file) const;
    PageReader reader(const Path& file) const;
    PdfImprover improver(const Path& file) const; // empty: the PDF is not changed
    void say_what_stayed();
    void put_away_those(std::function<Result<std::vector<long long>>(Cabinet&)> which);
};

}
