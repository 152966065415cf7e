// A search in the cabinet: the query, its results, and the current result. Lives on the window's thread.
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

    // Starts searching; until close() the results follow what is added. Each query emits answered(), unless a later one
    // replaced it.
    void open();
    void close();
    bool is_open() const { return open_; }
    const QString& typed() const { return typed_; }
    void type(const QString& typed);
    const SearchFilter& narrowing() const { return narrowing_; }
    void narrow(const SearchFilter& to);
    void show_more(); // increases the number of results
    const SearchResults& found() const { return found_; }
    // Saves all results as CSV, under a free name or over the file that the user chose. `then` gets the number of
    // documents.
    void save_list(const QString& file, std::function<void(const Result<int>&)> then);
    bool is_looking() const { return asked_ != answered_; }

    // The current result; null if there is none.
    const SearchResult* current() const;
    int current_row() const { return row_; }
    void look_at(int row); // emits looked_at()
    const std::vector<MarkedPage>& pages() const { return pages_; }
    int page() const { return page_; }
    void turn_to(int page);
    // The matches of all its pages, in order.
    int match() const { return match_; } // index of the current match; -1: none
    int matches() const;
    void next_match(int step);
    // A picture of the page from its file, or drawn from its words; null until it is available.
    const QImage& picture() const { return picture_; }
    bool is_drawn_from_words() const { return drawn_; }

    // A thumbnail of the page that was found; null until thumbnail_ready().
    QImage thumbnail(int row);
    static constexpr int thumbnail_px = 80; // largest width and height

  signals:
    void answered();
    void looked_at(); // the current document, page, match or picture changed
    void thumbnail_ready();

  private:
    struct Inside; // used on the searching thread only
    struct Pictured {
        QImage image;
        bool from_words = false;
    };
    CabinetKeeper& keeper_;
    Pools& pools_;
    std::shared_ptr<Inside> inside_;
    bool open_ = false;
    QString typed_;
    SearchFilter narrowing_;
    size_t most_;
    std::stop_source asking_;
    int asked_ = 0, answered_ = 0;
    SearchResults found_;
    long long kept_paper_ = 0; // id of the document whose marks are stored
    int row_ = -1, page_ = 0, match_ = -1;
    std::vector<MarkedPage> pages_;
    QImage picture_;
    bool drawn_ = false;
    int pictured_ = 0; // number of pictures requested
    std::map<QString, QImage> thumbnails_;
    std::vector<QString> thumbnails_order_; // the oldest first

    void ask();
    void take(int question, const Result<SearchResults>& found);
    void know_pages();
    void ask_for_picture();
    void picture_of(const CabinetPaper& paper, int page, int most_px, std::function<void(const Pictured&)> then);
};

}
