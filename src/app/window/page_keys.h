// Keys of the Page view that must not interfere with typing: B and L while held, C and F for tools, Delete for the
// selected pages.
#pragma once

#include <QObject>

class QKeyEvent;

namespace yelvin {

class Choice;
class PageEdits;
class View;

class PageKeys : public QObject {
  public:
    // Filters all key events of the program while `view` and its window exist.
    PageKeys(View& view, Choice& choice, PageEdits& edits);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    View& view_;
    Choice& choice_;
    PageEdits& edits_;
    bool take(const QKeyEvent& key, bool pressed, bool at_widget);
};

}
