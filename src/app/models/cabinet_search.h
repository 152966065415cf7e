// What is looked for in the cabinet, what was found, and which of it is looked at.
#pragma once

#include "core/cabinet/finding.h"

#include <QImage>
#include <QObject>

#include <functional>
#include <map>
#include <memory>
#include <optional>

namespace yelvin {

class CabinetKeeper;
class Pools;

class CabinetSearch : public QObject {
    Q_OBJECT
  public:
    CabinetSearch(CabinetKeeper& keeper, Pools& pools, QObject* parent = nullptr);

    // From now on it follows what is added, until close(). Each question ends with answered(), but for those that
    // another one overtook.
    void open();
    void close();
    bool is_open() const { return open_; }
    const QString& typed() const { return typed_; }
    void type(const QString& typed);
    const Narrowing& narrowing() const { return narrowing_; }
    void narrow(const Narrowing& to);
    void show_more(); // than are in found().best
    const Found& found() const { return found_; }
    // All that was found, into a file of its own or over what the person said: CSV. `then`: how many papers.
    void save_list(const QString& file, std::function<void(const Result<int>&)> then);
    bool is_looking() const { return asked_ != answered_; }

    // The paper that is looked at; null: none.
    const FoundPaper* current() const;
    int current_row() const { return row_; }
    void look_at(int row); // ends with looked_at()
    const std::vector<MarkedPage>& pages() const { return pages_; }
    int page() const { return page_; }
    void turn_to(int page);
    // The marks of all its pages, one after another.
    int match() const { return match_; } // from 0; -1: none
    int matches() const;
    void next_match(int step);
    // The page as it is in its file, else as its words stand; null until it is there.
    const QImage& picture() const { return picture_; }
    bool is_drawn_from_words() const { return drawn_; }

    // A small picture of the page that was found; null until thumbnail_ready().
    QImage thumbnail(int row);
    static constexpr int thumbnail_px = 80; // at most, wide and high

  signals:
    void answered();
    void looked_at(); // another paper, page, match or picture
    void thumbnail_ready();

  private:
    struct Inside; // on the finding thread only
    struct Pictured {
        QImage image;
        bool from_words = false;
    };
    CabinetKeeper& keeper_;
    Pools& pools_;
    std::shared_ptr<Inside> inside_;
    bool open_ = false;
    QString typed_;
    Narrowing narrowing_;
    size_t most_;
    std::stop_source asking_;
    int asked_ = 0, answered_ = 0;
    Found found_;
    long long kept_paper_ = 0; // that was looked at
    int row_ = -1, page_ = 0, match_ = -1;
    std::vector<MarkedPage> pages_;
    QImage picture_;
    bool drawn_ = false;
    int pictured_ = 0; // pictures that were asked for
    std::map<QString, QImage> thumbnails_;
    std::vector<QString> thumbnails_order_; // the oldest first

    void ask();
    void take(int question, const Result<Found>& found);
    void know_pages();
    void ask_for_picture();
    void picture_of(const CabinetPaper& paper, int page, int most_px, std::function<void(const Pictured&)> then);
};

}
