#include "app/ticketbar/sentence.h"

#include "app/desk.h"
#include "app/theme/theme.h"
#include "app/ticketbar/sheets.h"
#include "app/ticketbar/ticket_bar.h"

#include <gtest/gtest.h>

#include <QApplication>
#include <QTest>

namespace yelvin::test {
namespace {

QString joined(const QList<SentencePiece>& pieces) {
    QString out;
    for (const auto& piece : pieces)
        out += piece.phrase >= 0 ? QString("[%1:%2]").arg(piece.phrase).arg(piece.words) : piece.words;
    return out;
}

TEST(Sentence, IsSplitAtItsPlaceholdersInAnyOrder) {
    const QList<Phrase> phrases{{"a", "the glass", {}, false}, {"b", "grey", {}, false}};
    EXPECT_EQ(joined(pieces_of("Scan %1 in %2.", phrases)), "Scan [0:the glass] in [1:grey].");
    EXPECT_EQ(joined(pieces_of("%2 von %1", phrases)), "[1:grey] von [0:the glass]")
        << "a translation may turn them round";
    EXPECT_EQ(joined(pieces_of("100 % of %1, %7", phrases)), "100 % of [0:the glass], ")
        << "a place without a phrase is dropped";
    QList<Phrase> ten;
    for (int i = 0; i < 10; ++i) ten.append({QString::number(i), QString(QChar('a' + i)), {}, false});
    EXPECT_EQ(joined(pieces_of("%10%1", ten)), "[9:j][0:a]");
}

TEST(Sentence, OptionalPhrasesBringTheirTextAndAreSkippedIfUnset) {
    Phrase folder{"folder", "Leases"}, quality{"quality", ""}, and_more{"and", "and …"};
    quality.lead = ", at ";
    EXPECT_EQ(joined(pieces_of("in %1%2, %3", {folder, quality, and_more})), "in [0:Leases], [2:and …]");
    quality.words = "JPEG quality 60";
    EXPECT_EQ(joined(pieces_of("in %1%2, %3", {folder, quality, and_more})),
              "in [0:Leases], at [1:JPEG quality 60], [2:and …]");
    quality.words.clear();
    Sentence sentence(nullptr);
    sentence.resize(500, 60);
    sentence.set("in %1%2, %3", {folder, quality, and_more});
    QString pressed;
    QObject::connect(&sentence, &Sentence::pressed, [&](const QString& key) { pressed = key; });
    QTest::keyClick(&sentence, Qt::Key_Right);
    QTest::keyClick(&sentence, Qt::Key_Return);
    EXPECT_EQ(pressed, "and");
    QTest::keyClick(&sentence, Qt::Key_Right);
    QTest::keyClick(&sentence, Qt::Key_Left);
    QTest::keyClick(&sentence, Qt::Key_Return);
    EXPECT_EQ(pressed, "folder");
}

TEST(Sentence, WrapsToItsWidthAndKeepsEveryPhraseReachable) {
    Sentence sentence(nullptr);
    QList<Phrase> phrases;
    for (int i = 0; i < 8; ++i)
        phrases.append({QString("key%1").arg(i), QString("phrase number %1").arg(i), i == 2 ? "grey" : "", false});
    sentence.resize(600, 100);
    sentence.set("Scan %1 of %2, %3 in %4 at %5; %6, %7; make %8.", phrases);
    EXPECT_GT(sentence.heightForWidth(300), sentence.heightForWidth(900));
    for (const auto& phrase : phrases) {
        const QRect rect = sentence.phrase_rect(phrase.key);
        EXPECT_FALSE(rect.isEmpty()) << qPrintable(phrase.key);
        EXPECT_LE(rect.right(), 600) << qPrintable(phrase.key);
    }
    EXPECT_TRUE(sentence.text().contains("phrase number 2 (grey)"));

    QString pressed;
    QObject::connect(&sentence, &Sentence::pressed, [&](const QString& key) { pressed = key; });
    QTest::mouseClick(&sentence, Qt::LeftButton, {}, sentence.phrase_rect("key5").center());
    EXPECT_EQ(pressed, "key5");
    QTest::keyClick(&sentence, Qt::Key_Right);
    QTest::keyClick(&sentence, Qt::Key_Right);
    QTest::keyClick(&sentence, Qt::Key_Return);
    EXPECT_EQ(pressed, "key2");
}

TEST(NamePattern, ATypedPatternReadsBackTheSame) {
    using Kind = NamePart::Kind;
    const auto parts = sheets::parts_of("yyyy-mm-dd Mooring lease ###");
    EXPECT_EQ(parts, (std::vector<NamePart>{
                         {Kind::Date, "yyyy-mm-dd"}, {Kind::Words, "Mooring lease"}, {Kind::Counter, "", 3}}));
    EXPECT_EQ(sheets::name_pattern(parts), "yyyy-mm-dd Mooring lease ###");
    EXPECT_EQ(sheets::parts_of("## dd.mm.yy"),
              (std::vector<NamePart>{{Kind::Counter, "", 2}, {Kind::Date, "dd.mm.yy"}}));
    EXPECT_EQ(sheets::parts_of("daddy"), (std::vector<NamePart>{{Kind::Words, "daddy"}}))
        << "a word with d and y is no date";
    EXPECT_TRUE(sheets::parts_of("   ").empty());
}

TEST(Words, SizesAreFormattedForPeople) {
    EXPECT_EQ(bytes_words(512), "512 B");
    EXPECT_EQ(bytes_words(41000), "41 kB");
    EXPECT_EQ(bytes_words(243000), "240 kB");
    EXPECT_EQ(bytes_words(1234567), "1.2 MB");
    EXPECT_EQ(bytes_words(998000), "1.0 MB");
    EXPECT_EQ(mm_words(210), "210");
    EXPECT_EQ(mm_words(85.6), "85.6");
}

// WCAG 2.1, 1.4.3 and its definition of relative luminance: text has a contrast of at least 4.5 to 1.
double contrast(const QColor& a, const QColor& b) {
    const auto luminance = [](const QColor& colour) {
        const auto channel = [](double value) {
            return value <= 0.03928 ? value / 12.92 : std::pow((value + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * channel(colour.redF()) + 0.7152 * channel(colour.greenF()) + 0.0722 * channel(colour.blueF());
    };
    const double light = std::max(luminance(a), luminance(b)), dark = std::min(luminance(a), luminance(b));
    return (light + 0.05) / (dark + 0.05);
}

TEST(Theme, AllTextMeetsWcagAaInBothLooks) {
    EXPECT_NEAR(contrast(Qt::black, Qt::white), 21, 0.01);
    for (const bool dark : {false, true}) {
        const auto& c = theme::look(dark);
        const std::pair<const char*, QColor> grounds[] = {
            {"desk", c.desk}, {"table", c.table}, {"paper", c.paper}, {"wash", c.plum_wash}};
        for (const auto& [ground_name, ground] : grounds) {
            EXPECT_GE(contrast(c.ink, ground), 4.5) << ground_name << dark;
            EXPECT_GE(contrast(c.plum, ground), 4.5) << ground_name << dark;
        }
        for (const QColor& ground : {c.desk, c.table, c.paper, c.plum_wash})
            EXPECT_GE(contrast(c.quiet, ground), 4.5) << qPrintable(ground.name()) << dark;
        for (const QColor& state : {c.moss, c.amber, c.brick})
            EXPECT_GE(contrast(state, c.paper), 4.5) << qPrintable(state.name()) << dark;
        EXPECT_GE(contrast(c.on_plum, c.plum), 4.5) << dark;
    }
}

}
}
