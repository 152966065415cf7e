// The cabinet's keeper: what was saved goes in, folders are taken in, files are followed where they go. All of it
// behind the window, one thing after another.
#pragma once

#include "core/cabinet/taking_in.h"
#include "jobs/executor.h"

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
    // What it knows of the rest.
    struct Around {
        Messages& messages;
        Papers& papers; // by which words papers are known
        ReaderPool& readers;
        Pools& pools;
    };
    CabinetKeeper(const Around& around, const QString& folder, QObject* parent = nullptr);
    const std::filesystem::path& folder() const { return folder_; }
    bool is_open() const { return open_; } // finding is possible
    bool at_work() const { return under_way_ > 0; }

    // What was just saved. `files`: of the ticket's own kind, all of the pages in one or a page in each.
    void enter(const std::vector<std::filesystem::path>& files, std::shared_ptr<const GatheredWords> words,
               const PaperFile& about);
    void note_moved(const std::filesystem::path& from, const std::filesystem::path& to); // by us
    void look_at(const std::filesystem::path& file);                                     // it was changed by us
    void look_after();                                                                   // where all its files are

    // A folder that is taken in stays so: what is new in it comes in by itself, also after a restart.
    struct Taking {
        QString folder;
        int done = 0, of = 0, left_out = 0;
        int not_searchable = 0; // PDFs that were to be, and stayed as they are
        QString why;            // the first of them did
        bool stopped = false;   // until go_on(), or the next start
        bool under_way() const { return done < of && !stopped; }
    };
    const Taking& taking() const { return taking_; }
    void take_folder(const QString& folder, Unread unread);
    void leave_folder(const QString& folder);
    void stop_taking();
    void go_on();
    void
    make_searchable(const std::vector<Path>& pdfs); // words are put into those that have none; as taking in goes on
    const std::vector<TakenFolder>& folders() const { return folders_; }

    // Each can be undone.
    void put_away(const std::vector<long long>& ids);
    // Papers that were saved before. Many of them cannot come back (most_undone); their files stay.
    void put_away_older(std::chrono::sys_seconds than);
    void count_older(const std::vector<std::chrono::sys_seconds>& than,
                     std::function<void(const std::vector<int>& papers)> then);
    static constexpr int most_undone = 300;         // papers that are put away together
    void rename(long long id, const QString& name); // its file as well, never over another
    void move(const std::vector<long long>& ids, const QString& folder);
    QString undo_words() const { return undo_.empty() ? QString() : undo_.back().words; }
    void undo();

  signals:
    void opened();
    void changed(); // what is in it
    void taking_changed();
    void undo_changed();

  private:
    struct Inside; // on the cabinet's thread only
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
    bool takes_ = false;                  // one of them is at it
    std::set<Path> searchable_;           // to be made so, of those to be taken
    std::map<Path, FileMark> unreadable_; // as they were when they could not be taken in
    QTimer try_again_;                    // others may still have been writing them
    std::vector<TakenFolder> folders_;
    std::vector<Step> undo_;
    QFileSystemWatcher watcher_;
    QSet<QString> stirred_; // folders in which something happened
    QTimer settle_, gone_;

    // On the cabinet's thread; `then` on ours, with what became of it.
    template <class Value>
    void ask(std::function<Result<Value>(Cabinet&)> work, std::function<void(const Value&)> then);
    void change(std::function<Result<void>(Cabinet&)> work, std::function<void()> then = {});
    void complain(const Error& error);
    void open();
    void know_folders();
    void walk(const TakenFolder& folder);
    void take_next();
    void watch();
    void look_for_gone();
    void look_at_stirred();
    std::shared_ptr<const PaperWords> known_by() const;
    Unread unread_in(const Path& file) const;
    PageReader reader(const Path& file) const;
    PdfImprover improver(const Path& file) const; // empty: it stays as it is
    void say_what_stayed();
    void put_away_those(std::function<Result<std::vector<long long>>(Cabinet&)> which);
};

}
