// A new e-mail by the desktop's portal (org.freedesktop.portal.Email, versions 1 to 4).
#pragma once

#include "core/errands/mail_draft.h"

#include <chrono>
#include <functional>

class QDBusConnection;
class QObject;

namespace yelvin {

// FileGone: one of the draft's files cannot be read, and the portal was asked for nothing.
enum class PortalSaid { Composed, GivenUp, NotThere, FileGone };
// How long the portal is waited for, which may be asking with which program: then the e-mail counts as composed.
inline constexpr std::chrono::milliseconds portal_patience{60'000};
// Ends with `then` once, later; not at all once `parent` is gone.
void compose_by_portal(const MailDraft& draft, const QDBusConnection& bus, QObject* parent,
                       std::function<void(PortalSaid)> then, std::chrono::milliseconds patience = portal_patience);

}
