// Composing an e-mail by the desktop's portal (org.freedesktop.portal.Email, versions 1 to 4). Used on the window's
// thread; does not wait for the portal.
#pragma once

#include "core/errands/mail_draft.h"

#include <chrono>
#include <functional>

class QDBusConnection;
class QObject;

namespace yelvin {

// The outcome. FileGone: a file of the draft cannot be read, and the portal was not called.
enum class PortalSaid { Composed, GivenUp, NotThere, FileGone };
// How long to wait for the portal, which may be asking the user for a program; after it the e-mail counts as composed.
inline constexpr std::chrono::milliseconds portal_patience{60'000};
// Calls `then` once, later, if `parent` still exists.
void compose_by_portal(const MailDraft& draft, const QDBusConnection& bus, QObject* parent,
                       std::function<void(PortalSaid)> then, std::chrono::milliseconds patience = portal_patience);

}
