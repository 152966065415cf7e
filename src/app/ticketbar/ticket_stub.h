// The ticket's name at the left of its sentence, and whether it has unsaved changes. A click opens the tickets;
// dragging it out shares its file.
#pragma once

#include "app/models/groups.h"

#include <QAbstractButton>

namespace yelvin {

class TicketStub : public QAbstractButton {
    Q_OBJECT
  public:
    static constexpr const char* dragged = "application/x-yelvin-ticket"; // mime type beside the URL of its file
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
