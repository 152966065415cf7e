// The lines of Noticed: what was seen on a page, its measure, what was done or is proposed, and the one action.
#include "app/noticed/noticed_panel.h"

namespace yelvin {

namespace {

QString degrees_words(double degrees) { return QString("%1°").arg(std::abs(degrees), 0, 'f', 1); }

NoticeLine tilt_line(Desk& desk, const Page& page, const QString& id) {
    const double tilt = page.notices.tilt_degrees.value_or(0);
    const QString by = page.notices.tilt_by_text ? Desk::tr("by its lines of text") : Desk::tr("by its edge");
    if (std::abs(tilt) < least_tilt_degrees)
        return {NoticeLine::Mark::Nothing, Desk::tr("Straight"), Desk::tr("left as scanned, dot for dot"), {}, {}};
    const QString seen =
        Desk::tr("Tilted %1 %2").arg(degrees_words(tilt), tilt > 0 ? Desk::tr("clockwise") : Desk::tr("to the left"));
    Recipe changed = page.recipe;
    if (page.recipe.tilt_degrees != 0) {
        changed.tilt_degrees = 0;
        const bool as_noticed = std::abs(page.recipe.tilt_degrees - tilt) < 0.005;
        return {NoticeLine::Mark::Done, seen,
                as_noticed ? Desk::tr("straightened %1").arg(by)
                           : Desk::tr("straightened by hand, %1").arg(degrees_words(page.recipe.tilt_degrees)),
                Desk::tr("undo"), [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("straighten")); }};
    }
    changed.tilt_degrees = tilt;
    return {NoticeLine::Mark::Proposed, seen, Desk::tr("left as scanned"), Desk::tr("straighten"),
            [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("straighten")); }};
}

NoticeLine turn_line(Desk& desk, const Page& page, const QString& id) {
    const int turn = *page.notices.turn_degrees;
    const QString seen = turn == 180 ? Desk::tr("Upside down") : Desk::tr("Lying sideways");
    Recipe changed = page.recipe;
    if (page.recipe.turn_degrees == turn) {
        changed.turn_degrees = 0;
        return {NoticeLine::Mark::Done, seen, Desk::tr("turned upright by its text"), Desk::tr("undo"),
                [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("turn")); }};
    }
    changed.turn_degrees = turn;
    return {NoticeLine::Mark::Proposed, seen, Desk::tr("its text says so"), Desk::tr("turn"),
            [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("turn")); }};
}

NoticeLine ink_line(Desk& desk, const Page& page, const QString& id) {
    const Ink now = page.recipe.ink.value_or(page.original.ink), least = page.notices.ink.least;
    const auto change = [&desk, id, recipe = page.recipe](std::optional<Ink> ink) {
        return [&desk, id, recipe, ink]() mutable {
            recipe.ink = ink;
            desk.set_recipe(id, recipe, Desk::tr("colour mode"));
        };
    };
    if (page.original.ink == Ink::Colour && least == Ink::Colour) {
        if (now == Ink::Colour)
            return {NoticeLine::Mark::Nothing, Desk::tr("Colour on it"), Desk::tr("kept in colour"),
                    Desk::tr("make grey"), change(Ink::Grey)};
        return {NoticeLine::Mark::Done, Desk::tr("Colour on it"),
                Desk::tr("made %1").arg(now == Ink::Grey ? Desk::tr("grey") : Desk::tr("black and white")),
                Desk::tr("keep colour"), change(std::nullopt)};
    }
    if (now == Ink::Black && page.original.ink != Ink::Black) {
        return {NoticeLine::Mark::Done, Desk::tr("Black and white"),
                least == Ink::Black ? Desk::tr("loses nothing here") : Desk::tr("faint marks or tones are lost"),
                Desk::tr("keep grey"),
                change(page.original.ink == Ink::Colour ? std::optional(Ink::Grey) : std::nullopt)};
    }
    if (page.original.ink == Ink::Colour && now == Ink::Grey)
        return {NoticeLine::Mark::Done, Desk::tr("No colour on it"), Desk::tr("kept as grey, smaller"),
                Desk::tr("keep colour"), change(std::nullopt)};
    if (page.original.ink == Ink::Colour)
        return {NoticeLine::Mark::Proposed, Desk::tr("No colour on it"), Desk::tr("kept in colour all the same"),
                Desk::tr("make grey"), change(Ink::Grey)};
    return {
        NoticeLine::Mark::Nothing,
        Desk::tr("Scanned in %1").arg(page.original.ink == Ink::Grey ? Desk::tr("grey") : Desk::tr("black and white")),
        {},
        {},
        {}};
}

QList<NoticeLine> reading_lines(Desk& desk, const QString& id) {
    const auto text = desk.text_of(id);
    if (!text) return {};
    int words = 0, doubtful = 0;
    double sure = 0;
    for (const TextLine& line : text->lines) {
        for (const Word& word : line.words) {
            ++words;
            if (word.confidence < doubtful_confidence)
                ++doubtful;
            else
                sure += word.confidence;
        }
    }
    if (words == 0)
        return {{NoticeLine::Mark::Nothing,
                 Desk::tr("No words read"),
                 Desk::tr("nothing to search for on this page"),
                 {},
                 {}}};
    const QString share =
        Desk::tr("%1 % sure of them").arg(words > doubtful ? std::lround(sure / (words - doubtful)) : 0);
    QList<NoticeLine> lines{{NoticeLine::Mark::Done, Desk::tr("%1 words read").arg(words - doubtful), share, {}, {}}};
    if (doubtful > 0)
        lines.append({NoticeLine::Mark::Proposed,
                      doubtful == 1 ? Desk::tr("1 doubtful word") : Desk::tr("%1 doubtful words").arg(doubtful),
                      Desk::tr("they can be searched, but may be wrong"),
                      {},
                      {}});
    return lines;
}

}

namespace {

// One number of the recipe that a line switches: to `on`, and back to rest.
struct Switched {
    double Adjust::*value;
    double on;
    QString step; // its name in the history
};
NoticeLine switched_line(Desk& desk, const Page& page, const Switched& what, const QString& seen,
                         const QString& measure, const QString& done, const QString& action) {
    const QString id = QString::fromStdString(page.id);
    Recipe changed = page.recipe;
    double rest = 0;
    for (const AdjustField& field : adjust_fields()) {
        if (field.value == what.value) rest = field.rest;
    }
    const bool is_on = page.recipe.adjust.*what.value != rest;
    changed.adjust.*what.value = is_on ? rest : what.on;
    return {is_on ? NoticeLine::Mark::Done : NoticeLine::Mark::Proposed, seen, is_on ? done : measure,
            is_on ? Desk::tr("undo") : action,
            [&desk, id, changed, step = what.step] { desk.set_recipe(id, changed, step); }};
}

QString sides_words(const std::array<bool, 4>& sides) {
    const std::array<QString, 4> names{Desk::tr("left"), Desk::tr("top"), Desk::tr("right"), Desk::tr("bottom")};
    QStringList words;
    for (size_t i = 0; i < 4; ++i) {
        if (sides[i]) words.append(names[i]);
    }
    const QString last = words.takeLast();
    return words.isEmpty() ? Desk::tr("the %1 edge").arg(last)
                           : Desk::tr("the %1 and %2 edges").arg(words.join(", "), last);
}

NoticeLine cut_off_line(Desk& desk, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    const QString seen = Desk::tr("Writing runs off %1").arg(sides_words(page.notices.blemishes.cut_off));
    if (page.recipe.crop) {
        Recipe whole = page.recipe;
        whole.crop.reset();
        whole.rim_mm = 0;
        return {NoticeLine::Mark::Proposed, seen, Desk::tr("there may be more on the original"), Desk::tr("show all"),
                [&desk, id, whole] { desk.set_recipe(id, whole, Desk::tr("crop")); }};
    }
    return {NoticeLine::Mark::Proposed, seen, Desk::tr("lay it further from the rim"), Desk::tr("scan again"),
            [&desk, id] {
                desk.set_current_page(id);
                desk.scan_at_current(Desk::Landing::How::Instead);
            }};
}

NoticeLine eyes_line(Desk& desk, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    const auto count = page.notices.red_eyes.size();
    const QString seen = count == 1 ? Desk::tr("1 red eye") : Desk::tr("%1 red eyes").arg(count);
    Recipe changed = page.recipe;
    if (page.recipe.adjust.red_eyes > 0) {
        changed.adjust.red_eyes = 0;
        changed.adjust.eyes.clear();
        return {NoticeLine::Mark::Done, seen, Desk::tr("made dark"), Desk::tr("undo"),
                [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("red eyes")); }};
    }
    changed.adjust.red_eyes = 1;
    changed.adjust.eyes = page.notices.red_eyes;
    changed.adjust = kept_in_range(changed.adjust);
    return {NoticeLine::Mark::Proposed, seen, Desk::tr("from the flash"), Desk::tr("make dark"),
            [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("red eyes")); }};
}

NoticeLine askew_line(Desk& desk, const Page& page) {
    const QString id = QString::fromStdString(page.id), seen = Desk::tr("Photographed askew");
    Recipe changed = page.recipe;
    if (page.recipe.flatten) {
        changed.flatten.reset();
        return {NoticeLine::Mark::Done, seen, Desk::tr("flattened by its corners"), Desk::tr("undo"),
                [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("flatten")); }};
    }
    const SizeMm size = page.original.size_mm();
    changed = {};
    changed.adjust = page.recipe.adjust;
    changed.ink = page.recipe.ink;
    changed.flatten = Flatten{*page.notices.askew, flat_page_size(*page.notices.askew, size)};
    changed = turned(changed, page.recipe.turn_degrees / 90, size);
    return {NoticeLine::Mark::Proposed, seen, Desk::tr("four corners found"), Desk::tr("flatten"),
            [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("flatten")); }};
}

QList<NoticeLine> blemish_lines(Desk& desk, const Page& page) {
    const Notices& n = page.notices;
    const Blemishes& b = n.blemishes;
    QList<NoticeLine> lines;
    const auto percent = [](double value) { return QString::number(value, 'f', value < 3 ? 1 : 0); };
    if (std::ranges::any_of(b.cut_off, [](bool off) { return off; })) lines.append(cut_off_line(desk, page));
    if (n.letters >= 20 && b.contrast_percent < faint_contrast_percent)
        lines.append(switched_line(desk, page, {&Adjust::fading, 100, Desk::tr("fading")}, Desk::tr("Faint print"),
                                   Desk::tr("contrast %1 %").arg(percent(b.contrast_percent)),
                                   Desk::tr("darkened to full range"), Desk::tr("darken")));
    if (b.show_through_percent > much_show_through_percent)
        lines.append(switched_line(desk, page, {&Adjust::paper_white, 60, Desk::tr("paper to white")},
                                   Desk::tr("Print shines through"),
                                   Desk::tr("on %1 % of the page").arg(percent(b.show_through_percent)),
                                   Desk::tr("paper made white"), Desk::tr("whiten")));
    std::array<bool, 4> shadowed{};
    for (size_t i = 0; i < 4; ++i) shadowed[i] = b.shadow_mm[i] > 0;
    if (const double deepest = *std::ranges::max_element(b.shadow_mm); deepest > 0)
        lines.append(switched_line(desk, page, {&Adjust::edge_shadow, 1, Desk::tr("edge shadow")},
                                   Desk::tr("Shadow along %1").arg(sides_words(shadowed)),
                                   Desk::tr("%1 mm deep").arg(deepest, 0, 'f', 1), Desk::tr("lifted"),
                                   Desk::tr("lift")));
    if (b.punch_holes > 0)
        lines.append(switched_line(desk, page, {&Adjust::punch_holes, 1, Desk::tr("punch holes")},
                                   Desk::tr("%1 punch holes").arg(b.punch_holes), Desk::tr("along an edge"),
                                   Desk::tr("filled with the paper"), Desk::tr("fill")));
    if (b.uneven_percent > uneven_from_percent && n.kind == PageKind::Text)
        lines.append(switched_line(desk, page, {&Adjust::even_light, 1, Desk::tr("even light")},
                                   Desk::tr("Uneven light"),
                                   Desk::tr("up to %1 % darker").arg(percent(b.uneven_percent)), Desk::tr("evened out"),
                                   Desk::tr("even out")));
    if (b.screen_lpi > 0)
        lines.append(
            switched_line(desk, page, {&Adjust::screen_lpi, std::min(250.0, b.screen_lpi), Desk::tr("print screen")},
                          Desk::tr("A print's screen"), Desk::tr("%1 lines per inch").arg(b.screen_lpi, 0, 'f', 0),
                          Desk::tr("smoothed"), Desk::tr("smooth")));
    if (!n.red_eyes.empty()) lines.append(eyes_line(desk, page));
    return lines;
}

}

QList<NoticeLine> notice_lines(Desk& desk, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    QList<NoticeLine> lines;
    if (!page.noticed) return {{NoticeLine::Mark::Nothing, Desk::tr("Looking at the page …"), {}, {}, {}}};
    const Notices& n = page.notices;
    const QString ink = Desk::tr("ink found: %1 % of the side").arg(n.ink_percent, 0, 'f', n.ink_percent < 0.1 ? 3 : 2);
    if (page.dropped == Dropped::Separator)
        return {{NoticeLine::Mark::Done, Desk::tr("Separator"),
                 Desk::tr("left out; the next document starts behind it"), Desk::tr("bring back"),
                 [&desk, id] { desk.bring_back(id); }}};
    if (page.dropped == Dropped::Blank)
        return {{NoticeLine::Mark::Done, Desk::tr("Dropped as blank"), ink, Desk::tr("bring back"),
                 [&desk, id] { desk.bring_back(id); }}};
    if (n.blank(desk.ticket().pages.blank_limit_percent)) {
        return {
            {NoticeLine::Mark::Proposed, Desk::tr("Blank"), ink, Desk::tr("drop"), [&desk] { desk.drop_current(); }}};
    }
    if (!page.pieces.empty())
        lines.append({NoticeLine::Mark::Done, Desk::tr("Stitched from %1 pieces").arg(page.pieces.size()),
                      Desk::tr("they are kept with it"), Desk::tr("take them out"),
                      [&desk, id] { desk.take_pieces_out(id); }});
    if (n.sheet)
        lines.append({NoticeLine::Mark::Done,
                      n.framed          ? Desk::tr("Cut to its frame")
                      : n.paper.empty() ? Desk::tr("Cut to its edges")
                                        : Desk::tr("Cut to %1").arg(QString::fromStdString(n.paper)),
                      Desk::tr("%1 × %2 mm").arg(n.sheet->w_mm, 0, 'f', 0).arg(n.sheet->h_mm, 0, 'f', 0),
                      {},
                      {}});
    if (n.askew) lines.append(askew_line(desk, page));
    if (n.turn_degrees && *n.turn_degrees != 0) lines.append(turn_line(desk, page, id));
    if (!n.turn_degrees && n.kind == PageKind::Text && desk.ticket().pages.turn_upright)
        lines.append(
            {NoticeLine::Mark::Nothing, Desk::tr("No text to turn it by"), Desk::tr("left the way it lay"), {}, {}});
    if (n.tilt_degrees) lines.append(tilt_line(desk, page, id));
    lines.append(ink_line(desk, page, id));
    const Ink now = page.recipe.ink.value_or(page.original.ink);
    if (now != Ink::Black && n.ink.least == Ink::Black) {
        Recipe black = page.recipe;
        black.ink = Ink::Black;
        lines.append({NoticeLine::Mark::Proposed, Desk::tr("Black would do"),
                      Desk::tr("no tones, nothing faint: a tenth of the size"), Desk::tr("make black"),
                      [&desk, id, black] { desk.set_recipe(id, black, Desk::tr("colour mode")); }});
    } else if (n.ink.faint_mm2 > 1 && n.ink.tone_percent < 4 &&
               n.blemishes.contrast_percent >= faint_contrast_percent) {
        lines.append(switched_line(desk, page, {&Adjust::gamma, 0.6, Desk::tr("gamma")}, Desk::tr("Faint marks"),
                                   Desk::tr("black and white would lose them"), Desk::tr("darkened"),
                                   Desk::tr("darken")));
    }
    if (n.kind == PageKind::Photo)
        lines.append({NoticeLine::Mark::Nothing, Desk::tr("A photograph"), Desk::tr("kept in full tones"), {}, {}});
    lines.append(blemish_lines(desk, page));
    lines.append(reading_lines(desk, id));
    return lines;
}

}
