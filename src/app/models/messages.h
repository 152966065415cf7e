// What is said to the person: one sentence at a time, that something went wrong or went well.
#pragma once

#include "core/error.h"

#include <QObject>
#include <QString>

#include <functional>

namespace yelvin {

// What a person can do about a trouble by one press beside its sentence.
struct Offer {
    QString word; // empty: there is none
    std::function<void()> take;
};

class Messages : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    void complain(const QString& sentence) { emit trouble(sentence, {}); }
    void complain(const Error& error, const Offer& offer = {}) {
        emit trouble(QString::fromStdString(error.sentence), offer);
    }
    void tell(const QString& sentence, const Offer& offer = {}) { emit told(sentence, offer); }

  signals:
    void trouble(const QString& sentence, const Offer& offer); // what happened, where, what to do
    void told(const QString& sentence, const Offer& offer);    // something that went well and is worth a word
};

}
