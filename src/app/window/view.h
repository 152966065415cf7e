// The view: Glass, Page, Text, Test strip or the pieces, as large as possible, with cards and news above it and the
// side column beside it.
#pragma once

#include "app/models/groups.h"
#include "app/window/look.h"

#include <QFrame>

class QAbstractButton;
class QStackedWidget;
class QVBoxLayout;

namespace yelvin {

class AdvicePanel;
class CabinetView;
class FramePanel;
class GlassView;
class NewsBar;
class NoticedPanel;
class PageView;
class StitchPanel;
class StitchView;
class StripView;
class TextLook;
class ViewHead;

class View : public QFrame {
    Q_OBJECT
  public:
    View(const WindowModels& models, QWidget* parent);
    Look look() const { return look_; }
    void look_at(Look look);
    // Shows the cabinet instead of the view, until another view is chosen or close_cabinet() is called.
    void open_cabinet();
    void close_cabinet();
    bool cabinet_is_open() const;
    CabinetView& cabinet() { return *cabinet_; }
    NewsBar& news();
    GlassView& glass() { return *glass_; }
    PageView& page() { return *page_; }
    TextLook& text() { return *text_; }
    StitchView& pieces() { return *pieces_; }
    NoticedPanel& noticed() { return *noticed_; }
    QWidget* shown() const; // the present view
    QWidget* side() const;  // the panel beside it
    void go_to_question();  // puts the focus into the card about saving, if there is one

  signals:
    void look_changed();
    void add_files_wanted();
    void pieces_wanted(); // pieces should be scanned

  private:
    WindowModels models_;
    Look look_ = Look::Glass;
    ViewHead* head_;
    QWidget *folder_card_, *password_card_;
    NewsBar *news_, *cabinet_news_;
    QWidget* left_;
    CabinetView* cabinet_;
    QStackedWidget *looks_, *side_;
    QAbstractButton* fold_;
    GlassView* glass_;
    PageView* page_;
    TextLook* text_;
    StripView* strip_;
    StitchView* pieces_;
    NoticedPanel* noticed_;
    FramePanel* frames_;
    AdvicePanel* advice_;
    StitchPanel* beside_pieces_;

    void make_looks(QVBoxLayout* column);
    void make_side();
    void make_cabinet();
    void join();
    void join_room();
    void refresh();
    void follow_work();
    PageView& zoomed(); // the PageView that zoom applies to
    void choose_zoom();
    void stand();
};

}
