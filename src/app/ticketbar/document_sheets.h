// The sheets that choose what becomes of documents in the tray, for these alone: as another ticket says, or choice by
// choice.
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

    bool are_there(); // whether at least one of the documents exists; forgets the others
    void open_overview();
    void open_phrase(const QString& key);
};

}
