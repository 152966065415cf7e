// A request to the desktop's portal until its answer. Internal to portal_mail.cpp.
#pragma once

#include "app/errands/portal_mail.h"

#include <QDBusConnection>
#include <QObject>
#include <QVariantMap>

namespace yelvin {

class PortalMail : public QObject {
    Q_OBJECT
  public:
    PortalMail(const MailDraft& draft, QDBusConnection bus, QObject* parent, std::function<void(PortalSaid)> then,
               std::chrono::milliseconds patience);

  private slots: // called by D-Bus by its name
    void answered(uint response, const QVariantMap& results);

  private:
    std::function<void(PortalSaid)> then_;
    void end(PortalSaid said);
    void end_later(PortalSaid said);
};

}
