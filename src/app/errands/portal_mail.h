// A new e-mail by the desktop's portal (org.freedesktop.portal.Email, versions 1 to 4).
#pragma once

#include "core/errands/mail_draft.h"

#include <functional>

class QDBusConnection;
class QObject;

namespace yelvin {

enum class PortalSaid { Composed, GivenUp, NotThere };
// Ends with `then` once, later; not at all once `parent` is gone.
void compose_by_portal(const MailDraft& draft, const QDBusConnection& bus, QObject* parent,
                       std::function<void(PortalSaid)> then);

}
