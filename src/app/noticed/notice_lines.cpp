// Makes the lines of the section Noticed: the finding, its measure, what was done or is proposed, and one action.
#include "app/models/scanning/scanning.h"
#include "app/models/text/reading.h"
#include "app/models/text/text_choice.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/noticed/noticed_panel.h"
#include "core/text/languages.h"

#include <QCoreApplication>

namespace yelvin {

namespace {

QString say(const char* text) { return QCoreApplication::translate("Notices", text); }

QString degrees_words(double degrees) { return QString("%1°").arg(std::abs(degrees), 0, 'f', 1); }

NoticeLine tilt_line(const PageModels& models, const Page& page, const QString& id) {
    const double tilt = page.notices.tilt_degrees.value_or(0);

    if (std::abs(tilt) < least_tilt_degrees)
        return {NoticeLine::Mark::Nothing, say("Straight"), say("left exactly as scanned"), {}, {}};
    const QString seen =
        (tilt > 0 ? say("Tilted %1 clockwise") : say("Tilted %1 anticlockwise")).arg(degrees_words(tilt));
    const auto tilt_to = [models, id](double degrees) {
        return [models, id, degrees] {
            models.edits.change_recipe(
                id, [degrees](Recipe& recipe) { recipe.tilt_degrees = degrees; }, say("straighten page"));
        };
    };
    if (page.recipe.tilt_degrees != 0) {
        const bool as_noticed = std::abs(page.recipe.tilt_degrees - tilt) < 0.005;
        return {NoticeLine::Mark::Done, seen,
                !as_noticed ? say("straightened by hand, %1").arg(degrees_words(page.recipe.tilt_degrees))
                : page.notices.tilt_by_text ? say("straightened by its lines of text")
                                            : say("straightened by its edge"),
                say("undo"), tilt_to(0)};
    }
    return {NoticeLine::Mark::Proposed, seen, say("left as scanned"), say("straighten"), tilt_to(tilt)};
}

NoticeLine turn_line(const PageModels& models, const Page& page, const QString& id) {
    const int turn = *page.notices.turn_degrees;
    const QString seen = turn == 180 ? say("Upside down") : say("Lying sideways");
    const auto turn_to = [models, id](int degrees) {
        return [models, id, degrees] {
            models.edits.change_recipe(
                id, [degrees](Recipe& recipe) { recipe.turn_degrees = degrees; }, say("turn page"));
        };
    };
    if (page.recipe.turn_degrees == turn)
        return {NoticeLine::Mark::Done, seen, say("turned upright by its text"), say("undo"), turn_to(0)};
    return {NoticeLine::Mark::Proposed, seen, say("its text says so"), say("turn"), turn_to(turn)};
}

std::function<void()> ink_change(const PageModels& models, const QString& id, std::optional<Ink> ink) {
    return [models, id, ink] {
        models.edits.change_recipe(
            id, [ink](Recipe& recipe) { recipe.ink = ink; }, say("change colour mode"));
    };
}

NoticeLine ink_line(const PageModels& models, const Page& page, const QString& id) {
    const Ink now = page.recipe.ink.value_or(page.original.ink), least = page.notices.ink.least;
    const auto change = [models, id](std::optional<Ink> ink) { return ink_change(models, id, ink); };
    if (page.original.ink == Ink::Colour && least == Ink::Colour) {
        if (now == Ink::Colour)
            return {NoticeLine::Mark::Nothing, say("Has colour"), say("kept in colour"), say("make grey"),
                    change(Ink::Grey)};
        return {NoticeLine::Mark::Done, say("Has colour"),
                now == Ink::Grey ? say("made grey") : say("made black and white"), say("keep colour"),
                change(std::nullopt)};
    }
    if (now == Ink::Black && page.original.ink != Ink::Black) {
        return {NoticeLine::Mark::Done, say("Black and white"),
                least == Ink::Black ? say("nothing is lost") : say("faint marks or tones are lost"), say("keep grey"),
                change(page.original.ink == Ink::Colour ? std::optional(Ink::Grey) : std::nullopt)};
    }
    if (page.original.ink == Ink::Colour && now == Ink::Grey)
        return {NoticeLine::Mark::Done, say("No colour"), say("saved in grey, smaller"), say("keep colour"),
                change(std::nullopt)};
    if (page.original.ink == Ink::Colour)
        return {NoticeLine::Mark::Proposed, say("No colour"), say("still in colour"), say("make grey"),
                change(Ink::Grey)};
    return {NoticeLine::Mark::Nothing,
            page.original.ink == Ink::Grey ? say("Scanned in grey") : say("Scanned in black and white"),
            {},
            {},
            {}};
}

QList<NoticeLine> reading_lines(const PageModels& models, const QString& id) {
    const PagePtr page = models.tray.page(id.toStdString());
    const std::string asked = page ? models.reading.languages_of(*page) : std::string();
    const auto read = page ? models.tray.text_of(*page, asked) : std::nullopt;
    if (!read) return {};
    const TextLayer text = text_for_file(*page, *read).layer;
    int words = 0, doubtful = 0;
    double sure = 0;
    for (const TextLine& line : text.lines) {
        for (const Word& word : line.words) {
            ++words;
            if (word.confidence < doubtful_confidence)
                ++doubtful;
            else
                sure += word.confidence;
        }
    }
    if (words == 0)
        return {{NoticeLine::Mark::Nothing, say("No text found"), say("this page cannot be searched"), {}, {}}};
    if (asked == own_words && doubtful == 0)
        return {{NoticeLine::Mark::Done,
                 words == 1 ? say("1 word in the file") : say("%1 words in the file").arg(words),
                 say("it already had text"),
                 {},
                 {}}};
    // The language is shown if it was detected rather than chosen.
    QStringList in;
    for (const TextLine& line : text.lines) {
        const QString name = QString::fromStdString(language_words(line.language));
        if (!line.language.empty() && line.language != asked && !in.contains(name)) in.append(name);
    }
    const int read_well = words - doubtful;
    const QString in_words =
        in.isEmpty() ? (read_well == 1 ? say("1 word read") : say("%1 words read").arg(read_well))
                     : (read_well == 1 ? say("1 word read in %1").arg(in.join(say(" and ")))
                                       : say("%1 words read in %2").arg(read_well).arg(in.join(say(" and "))));
    const QString share = say("%1% confidence").arg(read_well > 0 ? std::lround(sure / read_well) : 0);
    QList<NoticeLine> lines{{NoticeLine::Mark::Done, in_words, share, {}, {}}};
    if (doubtful > 0)
        lines.append({NoticeLine::Mark::Proposed,
                      doubtful == 1 ? say("1 doubtful word") : say("%1 doubtful words").arg(doubtful),
                      say("searchable, but may be wrong"), say("check them"), [&words = models.words] {
                          words.want_look();
                          words.next_doubtful(1);
                      }});
    return lines;
}

}

namespace {

// A number of the recipe that the action of a line switches between `on` and its neutral value.
struct Switched {
    double Adjust::*value;
    double on;
    QString step; // its name in the history
};
NoticeLine switched_line(const PageModels& models, const Page& page, const Switched& what, const QString& seen,
                         const QString& measure, const QString& done, const QString& action) {
    const QString id = QString::fromStdString(page.id);
    const double rest = field_of(what.value).rest;
    const bool is_on = page.recipe.adjust.*what.value != rest;
    return {is_on ? NoticeLine::Mark::Done : NoticeLine::Mark::Proposed, seen, is_on ? done : measure,
            is_on ? say("undo") : action,
            [models, id, value = what.value, to = is_on ? rest : what.on, step = what.step] {
                models.edits.change_recipe(
                    id, [value, to](Recipe& recipe) { recipe.adjust.*value = to; }, step);
            }};
}

QString sides_words(const std::array<bool, 4>& sides) {
    const std::array<QString, 4> names{say("left"), say("top"), say("right"), say("bottom")};
    QStringList words;
    for (size_t i = 0; i < 4; ++i) {
        if (sides[i]) words.append(names[i]);
    }
    const QString last = words.takeLast();
    return words.isEmpty() ? say("the %1 edge").arg(last) : say("the %1 and %2 edges").arg(words.join(", "), last);
}

NoticeLine cut_off_line(const PageModels& models, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    const QString seen = say("Text cut off at %1").arg(sides_words(page.notices.blemishes.cut_off));
    if (page.recipe.crop) {
        const auto show_all = [](Recipe& recipe) {
            recipe.crop.reset();
            recipe.rim_mm = 0;
        };
        return {NoticeLine::Mark::Proposed, seen, say("there may be more on the original"), say("show all"),
                [models, id, show_all] { models.edits.change_recipe(id, show_all, say("crop page")); }};
    }
    return {NoticeLine::Mark::Proposed, seen, say("move it away from the edge"), say("scan again"), [models, id] {
                models.choice.set_current(id);
                models.run.scan_at_current(Landing::How::Instead);
            }};
}

NoticeLine eyes_line(const PageModels& models, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    const auto count = page.notices.red_eyes.size();
    const QString seen = count == 1 ? say("1 red eye") : say("%1 red eyes").arg(count);
    if (page.recipe.adjust.red_eyes > 0) {
        const auto leave = [](Recipe& recipe) {
            recipe.adjust.red_eyes = 0;
            recipe.adjust.eyes.clear();
        };
        return {NoticeLine::Mark::Done, seen, say("darkened"), say("undo"),
                [models, id, leave] { models.edits.change_recipe(id, leave, say("darken red eyes")); }};
    }
    const auto darken = [eyes = page.notices.red_eyes](Recipe& recipe) {
        recipe.adjust.red_eyes = 1;
        recipe.adjust.eyes = eyes;
        recipe.adjust = kept_in_range(recipe.adjust);
    };
    return {NoticeLine::Mark::Proposed, seen, say("from the flash"), say("darken"),
            [models, id, darken] { models.edits.change_recipe(id, darken, say("darken red eyes")); }};
}

NoticeLine askew_line(const PageModels& models, const Page& page) {
    const QString id = QString::fromStdString(page.id), seen = say("Photographed at an angle");
    if (page.recipe.flatten)
        return {NoticeLine::Mark::Done, seen, say("flattened by its corners"), say("undo"), [models, id] {
                    models.edits.change_recipe(
                        id, [](Recipe& recipe) { recipe.flatten.reset(); }, say("flatten page"));
                }};
    const auto flatten = [corners = *page.notices.askew, size = page.original.size_mm()](Recipe& recipe) {
        Recipe flat;
        flat.adjust = recipe.adjust;
        flat.ink = recipe.ink;
        flat.flatten = Flatten{corners, flat_page_size(corners, size)};
        recipe = turned(flat, recipe.turn_degrees / 90, size);
    };
    return {NoticeLine::Mark::Proposed, seen, say("four corners found"), say("flatten"),
            [models, id, flatten] { models.edits.change_recipe(id, flatten, say("flatten page")); }};
}

QList<NoticeLine> blemish_lines(const PageModels& models, const Page& page) {
    const Notices& n = page.notices;
    const Blemishes& b = n.blemishes;
    QList<NoticeLine> lines;
    const auto percent = [](double value) { return QString::number(value, 'f', value < 3 ? 1 : 0); };
    if (std::ranges::any_of(b.cut_off, [](bool off) { return off; })) lines.append(cut_off_line(models, page));
    if (n.letters >= 20 && b.contrast_percent < faint_contrast_percent)
        lines.append(switched_line(models, page, {&Adjust::fading, 100, say("restore faded print")}, say("Faint print"),
                                   say("contrast: %1%").arg(percent(b.contrast_percent)),
                                   say("darkened to full contrast"), say("darken")));
    if (b.show_through_percent > much_show_through_percent)
        lines.append(switched_line(
            models, page, {&Adjust::paper_white, 60, say("whiten paper")}, say("Print shines through"),
            say("on %1% of the page").arg(percent(b.show_through_percent)), say("paper whitened"), say("whiten")));
    std::array<bool, 4> shadowed{};
    for (size_t i = 0; i < 4; ++i) shadowed[i] = b.shadow_mm[i] > 0;
    if (const double deepest = *std::ranges::max_element(b.shadow_mm); deepest > 0)
        lines.append(switched_line(models, page, {&Adjust::edge_shadow, 1, say("lift edge shadow")},
                                   say("Shadow along %1").arg(sides_words(shadowed)),
                                   say("depth: %1 mm").arg(deepest, 0, 'f', 1), say("lifted"), say("lift")));
    if (b.punch_holes > 0)
        lines.append(switched_line(models, page, {&Adjust::punch_holes, 1, say("fill punch holes")},
                                   b.punch_holes == 1 ? say("1 punch hole") : say("%1 punch holes").arg(b.punch_holes),
                                   say("along an edge"), say("filled in paper colour"), say("fill")));
    if (b.uneven_percent > uneven_from_percent && n.kind == PageKind::Text)
        lines.append(switched_line(models, page, {&Adjust::even_light, 1, say("even out light")}, say("Uneven light"),
                                   say("up to %1% darker").arg(percent(b.uneven_percent)), say("evened out"),
                                   say("even out")));
    if (b.screen_lpi > 0)
        lines.append(switched_line(models, page,
                                   {&Adjust::screen_lpi, std::min(250.0, b.screen_lpi), say("smooth printed dots")},
                                   say("Printed dots"), say("%1 lines per inch").arg(b.screen_lpi, 0, 'f', 0),
                                   say("smoothed"), say("smooth")));
    if (!n.red_eyes.empty()) lines.append(eyes_line(models, page));
    return lines;
}

}

QList<NoticeLine> notice_lines(const PageModels& models, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    QList<NoticeLine> lines;
    if (!page.noticed) return {{NoticeLine::Mark::Nothing, say("Checking the page…"), {}, {}, {}}};
    const Notices& n = page.notices;
    const QString ink = say("ink: %1% of the side").arg(n.ink_percent, 0, 'f', n.ink_percent < 0.1 ? 3 : 2);
    if (page.dropped == Dropped::Separator)
        return {{NoticeLine::Mark::Done, say("Separator"), say("left out; the next document starts after it"),
                 say("bring back"), [models, id] { models.edits.bring_back(id); }}};
    if (page.dropped == Dropped::Blank)
        return {{NoticeLine::Mark::Done, say("Left out as blank"), ink, say("bring back"),
                 [models, id] { models.edits.bring_back(id); }}};
    const Ticket::Pages& rules = models.document_tickets.of_page(page.id).pages;
    if (n.blank(rules.blank_limit_percent)) {
        return {{NoticeLine::Mark::Proposed, say("Blank"), ink, say("leave out"), [models] { models.edits.drop(); }}};
    }
    if (page.incomplete)
        lines.append({NoticeLine::Mark::Proposed,
                      say("Incomplete"),
                      say("part of its picture is missing: scan or copy it again"),
                      {},
                      {}});
    if (!page.pieces.empty())
        lines.append({NoticeLine::Mark::Done, say("Stitched from %1 pieces").arg(page.pieces.size()),
                      say("the pieces are kept"), say("unstitch"), [models, id] { models.edits.take_pieces_out(id); }});
    if (n.sheet)
        lines.append({NoticeLine::Mark::Done,
                      n.framed          ? say("Cropped to its frame")
                      : n.paper.empty() ? say("Cropped to its edges")
                                        : say("Cropped to %1").arg(QString::fromStdString(n.paper)),
                      say("%1 × %2 mm").arg(n.sheet->w_mm, 0, 'f', 0).arg(n.sheet->h_mm, 0, 'f', 0),
                      {},
                      {}});
    if (n.askew) lines.append(askew_line(models, page));
    if (n.turn_degrees && *n.turn_degrees != 0) lines.append(turn_line(models, page, id));
    if (!n.turn_degrees && n.kind == PageKind::Text && rules.turn_upright)
        lines.append({NoticeLine::Mark::Nothing, say("Which way up is unclear"), say("not turned"), {}, {}});
    if (n.tilt_degrees) lines.append(tilt_line(models, page, id));
    lines.append(ink_line(models, page, id));
    const Ink now = page.recipe.ink.value_or(page.original.ink);
    if (now != Ink::Black && n.ink.least == Ink::Black) {
        lines.append({NoticeLine::Mark::Proposed, say("Black and white will do"),
                      say("no tones, nothing faint: a tenth of the size"), say("convert"),
                      ink_change(models, id, Ink::Black)});
    } else if (n.ink.faint_mm2 > 1 && n.ink.tone_percent < 4 &&
               n.blemishes.contrast_percent >= faint_contrast_percent) {
        lines.append(switched_line(models, page, {&Adjust::gamma, 0.6, say("change gamma")}, say("Faint marks"),
                                   say("black and white would lose them"), say("darkened"), say("darken")));
    }
    if (n.kind == PageKind::Photo)
        lines.append({NoticeLine::Mark::Nothing, say("A photograph"), say("kept in full tones"), {}, {}});
    lines.append(blemish_lines(models, page));
    lines.append(reading_lines(models, id));
    return lines;
}

}
