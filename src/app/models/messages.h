// What is said to the person: one sentence at a time, that something went wrong or went well.
#pragma once

#include "core/error.h"

#include <QObject>

namespace yelvin {

class Messages : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    void complain(const QString& sentence) { emit trouble(sentence); }
    void complain(const Error& error) { emit trouble(QString::fromStdString(error.sentence)); }
    void tell(const QString& sentence) { emit told(sentence); }

  signals:
    void trouble(const QString& sentence); // what happened, where, what to do
    void told(const QString& sentence);    // something that went well and is worth a word
};

}
