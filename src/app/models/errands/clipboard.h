// Putting a saved document on the clipboard.
#pragma once

#include "app/models/errands/mailing.h"
#include "jobs/executor.h"

namespace yelvin {

// Puts the files, the picture of the first page or the text there, as the ticket says. `text` is the document's text,
// empty if it has none. Call it on the window's thread, on which `here` runs its tasks; the picture is decoded on
// `background`. Errors for `done`: Missing if there is no text; those of read_page().
void put_on_clipboard(const SavedFiles& saved, const QString& text, const Executor& background, const Executor& here,
                      const Outside::Done& done);

}
