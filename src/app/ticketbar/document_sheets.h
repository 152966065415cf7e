// What becomes of documents in the tray, chosen for them alone: as another ticket says, or choice by choice.
#pragma once

#include "app/models/groups.h"

#include <QObject>
#include <QRect>

class QWidget;

namespace yelvin {

class DocumentSheets : public QObject {
    Q_OBJECT
  public:
    DocumentSheets(const TicketModels& models, QWidget* parent);
    void open(const QStringList& document_ids, const QRect& anchor); // global coordinates

  private:
    TicketModels models_;
    QWidget* parent_;
    QRect anchor_;

    bool are_there(); // one of the documents at least; those that are gone are let go
    void open_overview();
    void open_phrase(const QString& key);
};

}
