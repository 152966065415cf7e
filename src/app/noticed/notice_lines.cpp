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

struct NoticeText {
    Q_DECLARE_TR_FUNCTIONS(NoticeText)
};

QString degrees_words(double degrees) { return QString("%1°").arg(std::abs(degrees), 0, 'f', 1); }

NoticeLine tilt_line(const PageModels& models, const Page& page, const QString& id) {
    const double tilt = page.notices.tilt_degrees.value_or(0);

    if (std::abs(tilt) < least_tilt_degrees)
        return {
            NoticeLine::Mark::Nothing, NoticeText::tr("Straight"), NoticeText::tr("left exactly as scanned"), {}, {}};
    const QString seen = (tilt > 0 ? NoticeText::tr("Tilted %1 clockwise") : NoticeText::tr("Tilted %1 anticlockwise"))
                             .arg(degrees_words(tilt));
    const auto tilt_to = [models, id](double degrees) {
        return [models, id, degrees] {
            models.edits.change_recipe(
                id, [degrees](Recipe& recipe) { recipe.tilt_degrees = degrees; }, NoticeText::tr("straighten page"));
        };
    };
    if (page.recipe.tilt_degrees != 0) {
        const bool as_noticed = std::abs(page.recipe.tilt_degrees - tilt) < 0.005;
        return {NoticeLine::Mark::Done, seen,
                !as_noticed ? NoticeText::tr("straightened by hand, %1").arg(degrees_words(page.recipe.tilt_degrees))
                : page.notices.tilt_by_text ? NoticeText::tr("straightened by its lines of text")
                                            : NoticeText::tr("straightened by its edge"),
                NoticeText::tr("undo"), tilt_to(0)};
    }
    return {NoticeLine::Mark::Proposed, seen, NoticeText::tr("left as scanned"), NoticeText::tr("straighten"),
            tilt_to(tilt)};
}

NoticeLine turn_line(const PageModels& models, const Page& page, const QString& id) {
    const int turn = *page.notices.turn_degrees;
    const QString seen = turn == 180 ? NoticeText::tr("Upside down") : NoticeText::tr("Lying sideways");
    const auto turn_to = [models, id](int degrees) {
        return [models, id, degrees] {
            models.edits.change_recipe(
                id, [degrees](Recipe& recipe) { recipe.turn_degrees = degrees; }, NoticeText::tr("turn page"));
        };
    };
    if (page.recipe.turn_degrees == turn)
        return {NoticeLine::Mark::Done, seen, NoticeText::tr("turned upright by its text"), NoticeText::tr("undo"),
                turn_to(0)};
    return {NoticeLine::Mark::Proposed, seen, NoticeText::tr("its text says so"), NoticeText::tr("turn"),
            turn_to(turn)};
}

std::function<void()> ink_change(const PageModels& models, const QString& id, std::optional<Ink> ink) {
    return [models, id, ink] {
        models.edits.change_recipe(
            id, [ink](Recipe& recipe) { recipe.ink = ink; }, NoticeText::tr("change colour mode"));
    };
}

NoticeLine ink_line(const PageModels& models, const Page& page, const QString& id) {
    const Ink now = page.recipe.ink.value_or(page.original.ink), least = page.notices.ink.least;
    const auto change = [models, id](std::optional<Ink> ink) { return ink_change(models, id, ink); };
    if (page.original.ink == Ink::Colour && least == Ink::Colour) {
        if (now == Ink::Colour)
            return {NoticeLine::Mark::Nothing, NoticeText::tr("Has colour"), NoticeText::tr("kept in colour"),
                    NoticeText::tr("make grey"), change(Ink::Grey)};
        return {NoticeLine::Mark::Done, NoticeText::tr("Has colour"),
                now == Ink::Grey ? NoticeText::tr("made grey") : NoticeText::tr("made black and white"),
                NoticeText::tr("keep colour"), change(std::nullopt)};
    }
    if (now == Ink::Black && page.original.ink != Ink::Black) {
        return {NoticeLine::Mark::Done, NoticeText::tr("Black and white"),
                least == Ink::Black ? NoticeText::tr("nothing is lost")
                                    : NoticeText::tr("faint marks or tones are lost"),
                NoticeText::tr("keep grey"),
                change(page.original.ink == Ink::Colour ? std::optional(Ink::Grey) : std::nullopt)};
    }
    if (page.original.ink == Ink::Colour && now == Ink::Grey)
        return {NoticeLine::Mark::Done, NoticeText::tr("No colour"), NoticeText::tr("saved in grey, smaller"),
                NoticeText::tr("keep colour"), change(std::nullopt)};
    if (page.original.ink == Ink::Colour)
        return {NoticeLine::Mark::Proposed, NoticeText::tr("No colour"), NoticeText::tr("still in colour"),
                NoticeText::tr("make grey"), change(Ink::Grey)};
    return {NoticeLine::Mark::Nothing,
            page.original.ink == Ink::Grey ? NoticeText::tr("Scanned in grey")
                                           : NoticeText::tr("Scanned in black and white"),
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
        return {{NoticeLine::Mark::Nothing,
                 NoticeText::tr("No text found"),
                 NoticeText::tr("this page cannot be searched"),
                 {},
                 {}}};
    if (asked == own_words && doubtful == 0)
        return {{NoticeLine::Mark::Done,
                 words == 1 ? NoticeText::tr("1 word in the file") : NoticeText::tr("%1 words in the file").arg(words),
                 NoticeText::tr("it already had text"),
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
        in.isEmpty()
            ? (read_well == 1 ? NoticeText::tr("1 word read") : NoticeText::tr("%1 words read").arg(read_well))
            : (read_well == 1
                   ? NoticeText::tr("1 word read in %1").arg(in.join(NoticeText::tr(" and ")))
                   : NoticeText::tr("%1 words read in %2").arg(read_well).arg(in.join(NoticeText::tr(" and "))));
    const QString share = NoticeText::tr("%1% confidence").arg(read_well > 0 ? std::lround(sure / read_well) : 0);
    QList<NoticeLine> lines{{NoticeLine::Mark::Done, in_words, share, {}, {}}};
    if (doubtful > 0)
        lines.append(
            {NoticeLine::Mark::Proposed,
             doubtful == 1 ? NoticeText::tr("1 doubtful word") : NoticeText::tr("%1 doubtful words").arg(doubtful),
             NoticeText::tr("searchable, but may be wrong"), NoticeText::tr("check them"), [&words = models.words] {
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
            is_on ? NoticeText::tr("undo") : action,
            [models, id, value = what.value, to = is_on ? rest : what.on, step = what.step] {
                models.edits.change_recipe(
                    id, [value, to](Recipe& recipe) { recipe.adjust.*value = to; }, step);
            }};
}

QString sides_words(const std::array<bool, 4>& sides) {
    const std::array<QString, 4> names{NoticeText::tr("left"), NoticeText::tr("top"), NoticeText::tr("right"),
                                       NoticeText::tr("bottom")};
    QStringList words;
    for (size_t i = 0; i < 4; ++i) {
        if (sides[i]) words.append(names[i]);
    }
    const QString last = words.takeLast();
    return words.isEmpty() ? NoticeText::tr("the %1 edge").arg(last)
                           : NoticeText::tr("the %1 and %2 edges").arg(words.join(", "), last);
}

NoticeLine cut_off_line(const PageModels& models, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    const QString seen = NoticeText::tr("Text cut off at %1").arg(sides_words(page.notices.blemishes.cut_off));
    if (page.recipe.crop) {
        const auto show_all = [](Recipe& recipe) {
            recipe.crop.reset();
            recipe.rim_mm = 0;
        };
        return {NoticeLine::Mark::Proposed, seen, NoticeText::tr("there may be more on the original"),
                NoticeText::tr("show all"),
                [models, id, show_all] { models.edits.change_recipe(id, show_all, NoticeText::tr("crop page")); }};
    }
    return {NoticeLine::Mark::Proposed, seen, NoticeText::tr("move it away from the edge"),
            NoticeText::tr("scan again"), [models, id] {
                models.choice.set_current(id);
                models.run.scan_at_current(Landing::How::Instead);
            }};
}

NoticeLine eyes_line(const PageModels& models, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    const auto count = page.notices.red_eyes.size();
    const QString seen = count == 1 ? NoticeText::tr("1 red eye") : NoticeText::tr("%1 red eyes").arg(count);
    if (page.recipe.adjust.red_eyes > 0) {
        const auto leave = [](Recipe& recipe) {
            recipe.adjust.red_eyes = 0;
            recipe.adjust.eyes.clear();
        };
        return {NoticeLine::Mark::Done, seen, NoticeText::tr("darkened"), NoticeText::tr("undo"),
                [models, id, leave] { models.edits.change_recipe(id, leave, NoticeText::tr("darken red eyes")); }};
    }
    const auto darken = [eyes = page.notices.red_eyes](Recipe& recipe) {
        recipe.adjust.red_eyes = 1;
        recipe.adjust.eyes = eyes;
        recipe.adjust = kept_in_range(recipe.adjust);
    };
    return {NoticeLine::Mark::Proposed, seen, NoticeText::tr("from the flash"), NoticeText::tr("darken"),
            [models, id, darken] { models.edits.change_recipe(id, darken, NoticeText::tr("darken red eyes")); }};
}

NoticeLine askew_line(const PageModels& models, const Page& page) {
    const QString id = QString::fromStdString(page.id), seen = NoticeText::tr("Photographed at an angle");
    if (page.recipe.flatten)
        return {NoticeLine::Mark::Done, seen, NoticeText::tr("flattened by its corners"), NoticeText::tr("undo"),
                [models, id] {
                    models.edits.change_recipe(
                        id, [](Recipe& recipe) { recipe.flatten.reset(); }, NoticeText::tr("flatten page"));
                }};
    const auto flatten = [corners = *page.notices.askew, size = page.original.size_mm()](Recipe& recipe) {
        Recipe flat;
        flat.adjust = recipe.adjust;
        flat.ink = recipe.ink;
        flat.flatten = Flatten{corners, flat_page_size(corners, size)};
        recipe = turned(flat, recipe.turn_degrees / 90, size);
    };
    return {NoticeLine::Mark::Proposed, seen, NoticeText::tr("four corners found"), NoticeText::tr("flatten"),
            [models, id, flatten] { models.edits.change_recipe(id, flatten, NoticeText::tr("flatten page")); }};
}

QList<NoticeLine> blemish_lines(const PageModels& models, const Page& page) {
    const Notices& n = page.notices;
    const Blemishes& b = n.blemishes;
    QList<NoticeLine> lines;
    const auto percent = [](double value) { return QString::number(value, 'f', value < 3 ? 1 : 0); };
    if (std::ranges::any_of(b.cut_off, [](bool off) { return off; })) lines.append(cut_off_line(models, page));
    if (n.letters >= 20 && b.contrast_percent < faint_contrast_percent)
        lines.append(switched_line(models, page, {&Adjust::fading, 100, NoticeText::tr("restore faded print")},
                                   NoticeText::tr("Faint print"),
                                   NoticeText::tr("contrast: %1%").arg(percent(b.contrast_percent)),
                                   NoticeText::tr("darkened to full contrast"), NoticeText::tr("darken")));
    if (b.show_through_percent > much_show_through_percent)
        lines.append(switched_line(models, page, {&Adjust::paper_white, 60, NoticeText::tr("whiten paper")},
                                   NoticeText::tr("Print shines through"),
                                   NoticeText::tr("on %1% of the page").arg(percent(b.show_through_percent)),
                                   NoticeText::tr("paper whitened"), NoticeText::tr("whiten")));
    std::array<bool, 4> shadowed{};
    for (size_t i = 0; i < 4; ++i) shadowed[i] = b.shadow_mm[i] > 0;
    if (const double deepest = *std::ranges::max_element(b.shadow_mm); deepest > 0)
        lines.append(switched_line(models, page, {&Adjust::edge_shadow, 1, NoticeText::tr("lift edge shadow")},
                                   NoticeText::tr("Shadow along %1").arg(sides_words(shadowed)),
                                   NoticeText::tr("depth: %1 mm").arg(deepest, 0, 'f', 1), NoticeText::tr("lifted"),
                                   NoticeText::tr("lift")));
    if (b.punch_holes > 0)
        lines.append(switched_line(
            models, page, {&Adjust::punch_holes, 1, NoticeText::tr("fill punch holes")},
            b.punch_holes == 1 ? NoticeText::tr("1 punch hole") : NoticeText::tr("%1 punch holes").arg(b.punch_holes),
            NoticeText::tr("along an edge"), NoticeText::tr("filled in paper colour"), NoticeText::tr("fill")));
    if (b.uneven_percent > uneven_from_percent && n.kind == PageKind::Text)
        lines.append(switched_line(models, page, {&Adjust::even_light, 1, NoticeText::tr("even out light")},
                                   NoticeText::tr("Uneven light"),
                                   NoticeText::tr("up to %1% darker").arg(percent(b.uneven_percent)),
                                   NoticeText::tr("evened out"), NoticeText::tr("even out")));
    if (b.screen_lpi > 0)
        lines.append(switched_line(
            models, page, {&Adjust::screen_lpi, std::min(250.0, b.screen_lpi), NoticeText::tr("smooth printed dots")},
            NoticeText::tr("Printed dots"), NoticeText::tr("%1 lines per inch").arg(b.screen_lpi, 0, 'f', 0),
            NoticeText::tr("smoothed"), NoticeText::tr("smooth")));
    if (!n.red_eyes.empty()) lines.append(eyes_line(models, page));
    return lines;
}

// The only line of a side that is left out or blank; empty for others.
std::optional<NoticeLine> left_out_line(const PageModels& models, const Page& page, double blank_limit_percent) {
    const QString id = QString::fromStdString(page.id);
    const Notices& n = page.notices;
    const QString ink = NoticeText::tr("ink: %1% of the side").arg(n.ink_percent, 0, 'f', n.ink_percent < 0.1 ? 3 : 2);
    if (page.dropped == Dropped::Separator)
        return NoticeLine{NoticeLine::Mark::Done, NoticeText::tr("Separator"),
                          NoticeText::tr("left out; the next document starts after it"), NoticeText::tr("bring back"),
                          [models, id] { models.edits.bring_back(id); }};
    if (page.dropped == Dropped::Blank)
        return NoticeLine{NoticeLine::Mark::Done, NoticeText::tr("Left out as blank"), ink,
                          NoticeText::tr("bring back"), [models, id] { models.edits.bring_back(id); }};
    if (n.blank(blank_limit_percent)) {
        return NoticeLine{NoticeLine::Mark::Proposed, NoticeText::tr("Blank"), ink, NoticeText::tr("leave out"),
                          [models] { models.edits.drop(); }};
    }
    return std::nullopt;
}

}

QList<NoticeLine> notice_lines(const PageModels& models, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    QList<NoticeLine> lines;
    if (!page.noticed) return {{NoticeLine::Mark::Nothing, NoticeText::tr("Checking the page…"), {}, {}, {}}};
    const Notices& n = page.notices;
    const Ticket::Pages& rules = models.document_tickets.of_page(page.id).pages;
    if (const auto line = left_out_line(models, page, rules.blank_limit_percent)) return {*line};
    if (page.incomplete)
        lines.append({NoticeLine::Mark::Proposed,
                      NoticeText::tr("Incomplete"),
                      NoticeText::tr("part of its picture is missing: scan or copy it again"),
                      {},
                      {}});
    if (!page.pieces.empty())
        lines.append({NoticeLine::Mark::Done, NoticeText::tr("Stitched from %1 pieces").arg(page.pieces.size()),
                      NoticeText::tr("the pieces are kept"), NoticeText::tr("unstitch"),
                      [models, id] { models.edits.take_pieces_out(id); }});
    if (n.sheet)
        lines.append({NoticeLine::Mark::Done,
                      n.framed          ? NoticeText::tr("Cropped to its frame")
                      : n.paper.empty() ? NoticeText::tr("Cropped to its edges")
                                        : NoticeText::tr("Cropped to %1").arg(QString::fromStdString(n.paper)),
                      NoticeText::tr("%1 × %2 mm").arg(n.sheet->w_mm, 0, 'f', 0).arg(n.sheet->h_mm, 0, 'f', 0),
                      {},
                      {}});
    if (n.askew) lines.append(askew_line(models, page));
    if (n.turn_degrees && *n.turn_degrees != 0) lines.append(turn_line(models, page, id));
    if (!n.turn_degrees && n.kind == PageKind::Text && rules.turn_upright)
        lines.append({NoticeLine::Mark::Nothing,
                      NoticeText::tr("Which way up is unclear"),
                      NoticeText::tr("not turned"),
                      {},
                      {}});
    if (n.tilt_degrees) lines.append(tilt_line(models, page, id));
    lines.append(ink_line(models, page, id));
    const Ink now = page.recipe.ink.value_or(page.original.ink);
    if (now != Ink::Black && n.ink.least == Ink::Black) {
        lines.append({NoticeLine::Mark::Proposed, NoticeText::tr("Black and white will do"),
                      NoticeText::tr("no tones, nothing faint: a tenth of the size"), NoticeText::tr("convert"),
                      ink_change(models, id, Ink::Black)});
    } else if (n.ink.faint_mm2 > 1 && n.ink.tone_percent < 4 &&
               n.blemishes.contrast_percent >= faint_contrast_percent) {
        lines.append(switched_line(models, page, {&Adjust::gamma, 0.6, NoticeText::tr("change gamma")},
                                   NoticeText::tr("Faint marks"), NoticeText::tr("black and white would lose them"),
                                   NoticeText::tr("darkened"), NoticeText::tr("darken")));
    }
    if (n.kind == PageKind::Photo)
        lines.append(
            {NoticeLine::Mark::Nothing, NoticeText::tr("A photograph"), NoticeText::tr("kept in full tones"), {}, {}});
    lines.append(blemish_lines(models, page));
    lines.append(reading_lines(models, id));
    return lines;
}

}
