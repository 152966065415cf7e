// The Text view: the page on the left, its text on the right; walking through doubtful words with their slip,
// corrections of paragraphs, and copying, finding and reading aloud.
#pragma once

#include "app/models/groups.h"
#include "app/models/text/page_texts.h"
#include "app/page/page_view.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;

namespace yelvin {

class FindBar;
class PageWalk;
class TextColumn;
class TextOnPage;
class WordSlip;

class TextLook : public QWidget {
    Q_OBJECT
  public:
    TextLook(const TextModels& models, const PageView::Around& around, QWidget* parent);
    PageView& page() { return *page_; }
    const TextOnPage& on_page() const { return *on_page_; }
    const TextColumn& column() const { return *column_; }
    bool step_out(); // leaves the slip, the search or the selection; returns false if there is none
    void find();
    void read_aloud(); // starts or stops
    void copy();       // the selection

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void resizeEvent(QResizeEvent*) override;
    void showEvent(QShowEvent*) override;
    void hideEvent(QHideEvent*) override; // takes what was typed

  private:
    TextModels models_;
    PageView* page_;
    TextOnPage* on_page_;
    TextColumn* column_;
    WordSlip* slip_;
    FindBar* find_bar_;
    QWidget* links_;
    QPushButton *copy_all_, *find_, *aloud_, *again_;
    struct Slipped {
        QString page_id;
        size_t word = 0;
        std::string said;
        bool operator==(const Slipped&) const = default;
    };
    std::optional<Slipped> slipped_; // the word of the slip
    bool syncing_ = false;           // whether one side is following the other
    PageWalk* copying_ = nullptr;

    QWidget* make_right();
    QWidget* make_links(QWidget* parent);
    void join();
    void follow();
    void follow_page(); // the page was moved or scaled
    void follow_column();
    void follow_slip();
    void take_what_was_typed();
    void show_picture(const ShownTextPtr& text, size_t word);
    void say_why_not();
    void do_what_helps();
    void copy_all();
    bool take_key(const QKeyEvent& key, bool in_slip);
    bool take_paragraph_key(const QKeyEvent& key);
    void extend(int by);
    std::optional<size_t> chosen_paragraph();
    void open_paragraph_sheet(size_t paragraph, const QRect& anchor);
    void open_again_sheet();
    void read_again(const std::vector<std::string>& languages);
};

}
