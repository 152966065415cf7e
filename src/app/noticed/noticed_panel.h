// The side column: what was noticed on the current page, one line each with its measure and one action, and Adjust
// below it.
#pragma once

#include "app/models/groups.h"
#include "core/tray/tray.h"

#include <QWidget>

#include <functional>

class QVBoxLayout;

namespace yelvin {

// A line: its mark, what was noticed, what was done or is proposed, and its action.
struct NoticeLine {
    enum class Mark { Done, Proposed, Nothing };
    Mark mark = Mark::Nothing;
    QString seen, done, action;
    std::function<void()> act;
};

// Returns the lines for the present state of a page. Pure but for the actions.
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
    QString shown_; // what it shows, to avoid rebuilding it

    void refresh();
    void add_title(const QString& strong, const QString& quiet);
    void add_line(const NoticeLine& line);
};

}
