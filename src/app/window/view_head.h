// The head of the view: the views as tabs, facts about what is shown, and links.
#pragma once

#include "app/models/groups.h"
#include "app/window/look.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace yelvin {

class ViewHead : public QWidget {
    Q_OBJECT
  public:
    // The objects that the facts are about; they must outlive this object.
    struct Around {
        Room& room;
        ScanModels scan;
        PagesModels pages;
        WordsModels text;
    };
    ViewHead(const Around& around, QWidget* parent);
    void show_for(Look look, const QString& zoom);
    QRect zoom_rect() const; // global coordinates

  signals:
    void look_wanted(Look look);
    void zoom_wanted();

  protected:
    void mouseDoubleClickEvent(QMouseEvent*) override;

  private:
    Around models_;
    QPushButton *glass_, *page_, *text_, *strip_, *pieces_, *preview_, *zoom_, *all_;
    QLabel* facts_;
};

}
