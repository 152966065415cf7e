// News for the user, one sentence at a time: something failed or succeeded. Used on the window's thread.
#pragma once

#include "core/error.h"

#include <QObject>
#include <QString>

#include <functional>

namespace yelvin {

// A link beside a sentence, with what it does.
struct Offer {
    QString word; // empty: no link
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
    void trouble(const QString& sentence, const Offer& offer); // what happened, to what, what to do
    void told(const QString& sentence, const Offer& offer);    // something that succeeded
};

}
