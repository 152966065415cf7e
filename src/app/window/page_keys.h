// Keys of the page look that must not be taken from somebody who is typing: B and L while held, C and F for the tools,
// Delete for the chosen pages.
#pragma once

#include <QObject>

class QKeyEvent;

namespace yelvin {

class Choice;
class PageEdits;
class View;

class PageKeys : public QObject {
  public:
    // Watches all keys of the program while `view` and its window exist.
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
