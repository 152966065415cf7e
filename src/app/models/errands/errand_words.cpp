// The names of the actions on the screen.
#include "app/models/errands/errands.h"

#include <algorithm>

namespace yelvin {

namespace {

struct ErrandWords {
    Errand errand;
    const char *in_sentence, *on_tab;
};
constexpr ErrandWords errand_table[] = {
    {Errand::Open, QT_TRANSLATE_NOOP("yelvin::Errands", "open it"), QT_TRANSLATE_NOOP("yelvin::Errands", "open")},
    {Errand::OpenWith, QT_TRANSLATE_NOOP("yelvin::Errands", "open it with a program"),
     QT_TRANSLATE_NOOP("yelvin::Errands", "open with")},
    {Errand::Show, QT_TRANSLATE_NOOP("yelvin::Errands", "show it in its folder"),
     QT_TRANSLATE_NOOP("yelvin::Errands", "show")},
    {Errand::Print, QT_TRANSLATE_NOOP("yelvin::Errands", "print it"), QT_TRANSLATE_NOOP("yelvin::Errands", "print")},
    {Errand::Mail, QT_TRANSLATE_NOOP("yelvin::Errands", "attach it to an e-mail"),
     QT_TRANSLATE_NOOP("yelvin::Errands", "e-mail")},
    {Errand::Clipboard, QT_TRANSLATE_NOOP("yelvin::Errands", "put it on the clipboard"),
     QT_TRANSLATE_NOOP("yelvin::Errands", "copy")},
    {Errand::Send, QT_TRANSLATE_NOOP("yelvin::Errands", "send it to a server"),
     QT_TRANSLATE_NOOP("yelvin::Errands", "send")}};
static_assert(has_each(errand_table, &ErrandWords::errand), "every action needs its words");

const ErrandWords& words_for(Errand errand) { return *std::ranges::find(errand_table, errand, &ErrandWords::errand); }

}

std::span<const Errand> all_errands() {
    static constexpr auto all = all_members<Errand>();
    return all;
}

QString errand_words(Errand errand) { return Errands::tr(words_for(errand).in_sentence); }
QString errand_word(Errand errand) { return Errands::tr(words_for(errand).on_tab); }

}
