// Pictures of any part of a page at any scale, developed in the background from a pyramid of the original. The last few
// originals stay in memory; of a large one only coarse copies do, and its single pixels are read from the disk where
// they are visible. Lives on the window's thread.
#pragma once

#include "core/developing/develop.h"
#include "core/error.h"
#include "core/tray/tray.h"
#include "jobs/executor.h"

#include <QImage>
#include <QObject>

#include <filesystem>
#include <list>
#include <map>
#include <mutex>
#include <optional>

namespace yelvin {

QImage to_image(const Raster& raster); // a deep copy

struct PageLook {
    std::string page; // id, passed through unchanged
    Original original;
    Recipe recipe;
    double scale = 1; // pixels of the picture for one pixel of the page, at most 1
    cv::Rect part;    // in pixels of the picture
    // For dragging a slider: a page that is made black and white is computed from a coarse copy, which is faster but
    // shows thin lines a little thicker or thinner than the file has them.
    bool is_quick = false;
    bool operator==(const PageLook&) const = default;
};

class PagePictures : public QObject {
    Q_OBJECT
  public:
    // `background` must run one task at a time and end before this object is destroyed.
    PagePictures(std::filesystem::path store_folder, Executor background, QObject* parent = nullptr);
    // Requests a picture; a request that was not begun yet is dropped for it. Emits ready() or unreadable().
    void look(const PageLook& look);
    size_t bytes_held() const;

    // Computes a picture. Blocks; may be called on any thread.
    Result<Raster> picture_of(const PageLook& look);

  signals:
    void ready(const PageLook& look, const QImage& image);
    void unreadable(const PageLook& look, const QString& sentence);

  private:
    struct Pyramid {
        Original original;
        cv::Point2d finest_scale{1, 1}; // pixels of the first level for one pixel of the original
        std::vector<Raster> levels;     // each half of the one before; of a large original only coarse ones
        Raster coarse;                  // at measuring_dpi
        bool closer = false;            // large originals: whether the finer copy is loaded
        // Blocks of rows of a large original that are held in memory, keyed by their number from the top. Panning reads
        // from disk only the blocks that come into view.
        std::map<int, cv::Mat> blocks;
        // The developed page that is black, exactly as the file will hold it, and its halves; of a large black original
        // the first of them is a quarter of its size. Grey copies of the original cannot give it: tones and specks
        // would show that the file does not have, and lines would be thicker or thinner than there.
        std::vector<Raster> page;
        Recipe page_by;   // the recipe that made it
        Raster page_seen; // all of it at the scale at which it was looked at last
        size_t bytes() const;
    };
    using PyramidPtr = std::shared_ptr<Pyramid>;
    std::filesystem::path folder_;
    Executor background_, here_;
    mutable std::mutex lock_;
    std::list<PyramidPtr> pyramids_; // the most recently used first
    std::optional<PageLook> wanted_;
    std::mutex work_; // held while a picture is computed
    struct Measured {
        std::string file;
        Recipe by; // measured_by()
        PageMeasure measure;
    };
    std::optional<Measured> measured_;

    Result<PyramidPtr> pyramid_of(const Original& original);
    Result<Raster> from_disk(Pyramid& pyramid, PartWanted wanted, const PageLook& look, const PageMeasure& measure);
    Result<cv::Mat> pixels_of(Pyramid& pyramid, const cv::Rect& needed);
    Raster of_black_page(Pyramid& pyramid, const PageLook& look);
    static Raster seen_of_page(Pyramid& pyramid, const PageLook& look);
    Result<Raster> of_large_black_page(Pyramid& pyramid, const PageLook& look, const PageMeasure& measure);
    Result<Raster> black_part(Pyramid& pyramid, const PageLook& look, const cv::Rect& part, const PageMeasure& measure);
    PageMeasure measure_of(const Pyramid& pyramid, const Recipe& recipe);
    void work();
};

}
