// Painting the marks of words, on the page and in the text beside it.
#pragma once

#include <QPainter>

namespace yelvin {

// Paints the wave under a doubtful word.
void paint_wave(QPainter& painter, const QRectF& word);

enum class WordMark { Chosen, Stretch, Found, Spoken };
void paint_mark(QPainter& painter, const QRectF& word, WordMark mark);

}
