// The view of the current page: zoom to single pixels, pan by dragging, the original while B is held, a loupe while L
// is held, rulers. Also the tools on the page: cropping by corners, the corners of a photographed page, picking a
// colour, pointing at red eyes. During a scan it shows the growing page.
#pragma once

#include "app/glass/frame_drag.h"
#include "app/models/tray/page_pictures.h"
#include "core/ticket/file_options.h"
#include "core/tray/tray.h"

#include <QWidget>

#include <functional>

namespace yelvin {

class Choice;
class OutTray;
class PageEdits;
class PageOver;
class Pictures;
class Room;
class Scanning;

enum class PageTool { None, Crop, Corners, PickColour, PointEyes };

class PageView : public QWidget {
    Q_OBJECT
  public:
    // The objects that it uses; they must outlive it.
    struct Around {
        Room& room;
        OutTray& tray;
        Choice& choice;
        PageEdits& edits;
        Pictures& pictures;
        Scanning& run;
    };
    PageView(const Around& around, QWidget* parent);
    void show_original(bool held);
    bool shows_original() const { return held_; }
    void show_loupe(bool held);
    void set_fit();
    void set_fit_width();
    void set_zoom(double page_pixels_to_screen); // 1: actual pixels
    bool fits_page() const { return fit_ == Fit::Page; }
    bool fits_width() const { return fit_ == Fit::Width; }
    int zoom_percent() const; // 100: actual pixels
    QString zoom_words() const;
    void use_tool(PageTool tool);
    PageTool tool() const { return tool_; }
    void show_rulers(bool shown);
    bool shows_rulers() const { return rulers_; }
    void show_grid(bool shown);
    struct ShownStamp {
        std::string words;
        Stamp how;
    };
    // Returns the stamp of a page as it will be saved; nullopt: none.
    void show_stamps(std::function<std::optional<ShownStamp>(const Page&)> of) { stamp_of_ = std::move(of); }
    // Returns places to mark on a page, px.
    void show_pointed(std::function<std::vector<cv::Rect>(const Page&)> of) { pointed_of_ = std::move(of); }
    void lay_over(PageOver* over) { over_ = over; } // must outlive this object, or be removed by null
    void show_part(const cv::Rect2d& part);         // moves the page so that this part is visible
    void scroll_to(double top);                     // place of the page's top above the view's, screen px

    // Where things are on the screen.
    QRectF sheet_rect() const;                // place of the whole page on this widget
    QRectF other_sheet_rect() const;          // place of the page beside it; empty if there is none
    QPointF to_screen(PointMm on_page) const; // of the page as it is shown
    QRectF to_screen(const cv::Rect2d& box) const;
    bool is_sharp() const;                        // whether the visible part is developed at its scale
    QColor colour_at(QPointF screen) const;       // of the picture
    QImage seen_at(const cv::Rect2d& part) const; // as shown, without layers over it

  signals:
    void unreadable(const QString& sentence); // the current page cannot be shown
    void zoom_changed();
    void moved(); // the user moved the page
    void tool_changed();

  protected:
    void paintEvent(QPaintEvent*) override;
    void showEvent(QShowEvent*) override { ask(); }
    void resizeEvent(QResizeEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    // Gap between two pages; width of a ruler; size and magnification of the loupe.
    static constexpr int between = 14, ruler = 21, loupe_size = 200;
    static constexpr int wide = 1100; // width from which two pages are shown side by side
    static constexpr double loupe_power = 3;
    Room& room_;
    OutTray& tray_;
    Choice& choice_;
    PageEdits& edits_;
    Pictures& pictures_;
    Scanning& run_;
    enum class Fit { Page, Width, Zoom } fit_ = Fit::Page;
    double zoom_ = 1;
    QPointF centre_{0.5, 0.5}; // centre of the view, relative to the page's size
    QPointF dragged_from_;
    bool held_ = false, rulers_ = false, grid_ = false, inches_ = false;
    QImage growing_;
    int rows_ = 0;
    struct Shown {
        PageLook look;
        QImage image;
    };
    std::optional<Shown> whole_, part_; // the whole page, and the part that was shown last
    std::optional<PageLook> asked_;
    // The page beside it.
    std::optional<Shown> other_;
    std::optional<PageLook> other_asked_;
    // The loupe.
    bool loupe_ = false;
    QPointF mouse_;
    std::optional<Shown> under_loupe_;
    std::optional<PageLook> loupe_asked_;
    // The tools.
    PageTool tool_ = PageTool::None;
    Grip grip_;
    int corner_ = -1;       // corner that is dragged; -1: none
    size_t key_corner_ = 0; // corner that the arrow keys move
    cv::Point2d start_mm_;
    Region start_frame_;
    std::optional<Region> changing_;
    std::optional<Corners> moving_;
    std::optional<Spot> pointing_;
    PageOver* over_ = nullptr;
    std::function<std::optional<ShownStamp>(const Page&)> stamp_of_; // may be empty
    std::function<std::vector<cv::Rect>(const Page&)> pointed_of_;   // likewise
    PageOver* over() const { return growing_.isNull() ? over_ : nullptr; }

    Recipe viewed_recipe() const;
    SizePx page_px() const;  // of what is shown
    double page_dpi() const; // likewise
    double scale() const;    // screen px for each pixel of the page
    int room_px() const;     // room around the page for corners and rulers
    void ask();
    bool ask_for_page();
    void take(const PageLook& look, const QImage& image);
    void zoom_at(QPointF screen, double factor);
    void pan(QPointF by);
    void paint_growing(QPainter& painter);
    void paint_picture(QPainter& painter, const QRectF& sheet) const;
    void paint_stamp(QPainter& painter, const QRectF& sheet) const;
    void paint_pointed(QPainter& painter) const;
    void paint_rulers(QPainter& painter, const QRectF& sheet) const;
    void paint_grid(QPainter& painter, const QRectF& sheet) const;
    void paint_loupe(QPainter& painter) const;
    void paint_tool(QPainter& painter, const QRectF& sheet) const;
    // page_pair.cpp
    struct Pair {
        PagePtr other;
        bool other_is_right = false;
        double scale = 1; // screen px for each pixel of the other page
        QSizeF size;      // on the screen
    };
    std::optional<Pair> pair() const;
    QRectF other_rect(const Pair& two) const;
    void ask_for_other();
    void paint_other(QPainter& painter, const Pair& two) const;
    // page_tools.cpp
    Region crop_frame() const;
    Corners corners() const;
    void take_corners(const Corners& corners, bool by_keys);
    bool move_corner(const QKeyEvent& key);  // returns false if the key does not move corners
    cv::Point2d to_mm(QPointF screen) const; // of the page as it is shown
    bool press_tool(QPointF at);
    void move_tool(QPointF at, Qt::KeyboardModifiers keys);
    void release_tool(QPointF at);
    void paint_crop(QPainter& painter, const QRectF& sheet) const;
    void paint_corners(QPainter& painter, const QRectF& sheet) const;
    void paint_eyes(QPainter& painter) const;
    PointMm on_original(QPointF screen) const;
};

// Conversion between a frame on the turned original and the crop and tilt of a recipe.
Region frame_of(const Recipe& recipe, SizeMm original);
Recipe with_frame(Recipe recipe, const Region& frame, SizeMm original);

}
