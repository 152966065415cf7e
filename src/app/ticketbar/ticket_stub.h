// The ticket's name and whether it is saved so, at the left of its sentence. Pressed it opens the tickets; dragged out
// it gives its file away.
#pragma once

#include "app/models/groups.h"

#include <QAbstractButton>

namespace yelvin {

class TicketStub : public QAbstractButton {
    Q_OBJECT
  public:
    static constexpr const char* dragged = "application/x-yelvin-ticket"; // beside the URL of its file
    TicketStub(const TicketModels& models, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

  private:
    TicketModels models_;
    QPoint pressed_at_;
};

}
