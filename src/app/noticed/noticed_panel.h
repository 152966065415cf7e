// The narrow column: what was noticed about the chosen page, one line each with its measure and one action, and under
// it Adjust.
#pragma once

#include "app/models/groups.h"
#include "core/tray/tray.h"

#include <QWidget>

#include <functional>

class QVBoxLayout;

namespace yelvin {

// One line: what its mark is, what was seen, what was done or is proposed, and the one action.
struct NoticeLine {
    enum class Mark { Done, Proposed, Nothing };
    Mark mark = Mark::Nothing;
    QString seen, done, action;
    std::function<void()> act;
};

// The lines for a page as it is now. Pure but for the actions.
QList<NoticeLine> notice_lines(const PageModels& models, const Page& page);

class AdjustPanel;

class NoticedPanel : public QWidget {
    Q_OBJECT
  public:
    NoticedPanel(const PageModels& models, QWidget* parent);
    AdjustPanel& adjust() { return *adjust_; }

  private:
    PageModels models_;
    QVBoxLayout* column_;
    AdjustPanel* adjust_;
    QString shown_; // what is on it, to leave it alone when nothing changed

    void refresh();
    void add_title(const QString& strong, const QString& quiet);
    void add_line(const NoticeLine& line);
};

}
