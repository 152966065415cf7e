// The words of every correction, and where the panel shows it. A correction without an entry does not compile.
#pragma once

#include "core/developing/adjust.h"

#include <QCoreApplication>

namespace yelvin {

// Levels: the picture of the levels. Black: with the colour mode, while that is black and white.
enum class CorrectionPlace { Levels, Tone, Black, Edges, Cleaning };

struct CorrectionWords {
    double Adjust::*value;
    CorrectionPlace place;
    const char* label; // of its slider or its switch; empty for Levels
    const char* unit;  // behind its number; may be empty
    const char* step;  // its undo step
    const char* state; // in the summary of its fold; corrections with the same one are told once
};

// In the order in which the panel shows them; the words are translated in the context yelvin::AdjustPanel.
inline constexpr std::array correction_words{
    CorrectionWords{&Adjust::black_point, CorrectionPlace::Levels, "", "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "change levels"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "levels")},
    CorrectionWords{&Adjust::white_point, CorrectionPlace::Levels, "", "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "change levels"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "levels")},
    CorrectionWords{&Adjust::brightness, CorrectionPlace::Tone, QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Brightness"),
                    "", QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "change brightness"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "brightness")},
    CorrectionWords{&Adjust::contrast, CorrectionPlace::Tone, QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Contrast"), "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "change contrast"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "contrast")},
    CorrectionWords{&Adjust::gamma, CorrectionPlace::Tone, QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Gamma"), "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "change gamma"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "gamma")},
    CorrectionWords{&Adjust::fading, CorrectionPlace::Tone, QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Faded print"),
                    "%", QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "restore faded print"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "faded print")},
    CorrectionWords{&Adjust::cast, CorrectionPlace::Tone, QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Colour cast"), "%",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "correct colour cast"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "colour cast")},
    CorrectionWords{&Adjust::threshold, CorrectionPlace::Black, QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Threshold"),
                    "", QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "change threshold"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "threshold")},
    CorrectionWords{&Adjust::local_threshold, CorrectionPlace::Black,
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Adaptive threshold"), "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "change threshold"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "threshold")},
    CorrectionWords{&Adjust::even_light, CorrectionPlace::Edges,
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Even out the light"), "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "even out light"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "even light")},
    CorrectionWords{&Adjust::edge_shadow, CorrectionPlace::Edges,
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Lift shadows along the edges"), "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "lift edge shadow"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "edge shadow")},
    CorrectionWords{&Adjust::sharpen, CorrectionPlace::Edges, QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Sharpen"), "%",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "sharpen page"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "sharpened")},
    CorrectionWords{&Adjust::screen_lpi, CorrectionPlace::Edges,
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Printed dots"), "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "smooth printed dots"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "printed dots")},
    CorrectionWords{&Adjust::drop_reach, CorrectionPlace::Cleaning,
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Tolerance"), "%",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "change colour tolerance"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "colour left out")},
    CorrectionWords{&Adjust::paper_white, CorrectionPlace::Cleaning,
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Whiten paper"), "%",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "whiten paper"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "white paper")},
    CorrectionWords{
        &Adjust::specks_mm, CorrectionPlace::Cleaning, QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Specks up to"),
        QT_TRANSLATE_NOOP("yelvin::AdjustPanel", " mm"), QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "remove specks"),
        QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "specks")},
    CorrectionWords{&Adjust::dust_mm, CorrectionPlace::Cleaning, QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Dust up to"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", " mm"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "remove dust"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "dust")},
    CorrectionWords{&Adjust::punch_holes, CorrectionPlace::Cleaning,
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Fill punch holes"), "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "fill punch holes"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "punch holes")},
    CorrectionWords{&Adjust::red_eyes, CorrectionPlace::Cleaning,
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "Darken red eyes"), "",
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "darken red eyes"),
                    QT_TRANSLATE_NOOP("yelvin::AdjustPanel", "red eyes")},
};

// Whether each correction of the table of the core has exactly one entry.
consteval bool every_correction_has_words() {
    return std::ranges::all_of(adjust_table, [](const AdjustField& field) {
        return std::ranges::count(correction_words, field.value, &CorrectionWords::value) == 1;
    });
}
static_assert(every_correction_has_words(), "every line of adjust_table needs its words");

}
