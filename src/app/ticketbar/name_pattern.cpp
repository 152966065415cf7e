// Name patterns as text, for entries without room for chips: "yyyy-mm-dd Mooring ###".
#include "app/ticketbar/sheets.h"

#include <QRegularExpression>
#include <QStringList>

namespace yelvin::sheets {

namespace {

using Kind = NamePart::Kind;
struct Token {
    Kind kind;
    const char* word;
};
constexpr Token tokens[] = {{Kind::Barcode, "code"},   {Kind::Heading, "heading"}, {Kind::Sender, "sender"},
                            {Kind::PaperKind, "kind"}, {Kind::Number, "number"},   {Kind::PaperDate, "paper-date"},
                            {Kind::Ticket, "ticket"}};

// "[heading]", "[heading:3]" with a number of words, "[paper-date:dd.mm.yyyy]".
QString written(const Token& token, const NamePart& part) {
    QString argument;
    if ((part.kind == Kind::Heading || part.kind == Kind::Sender) && part.most_words != NamePart{}.most_words)
        argument = QString::number(part.most_words);
    if (part.kind == Kind::PaperDate && part.text != "yyyy-mm-dd") argument = QString::fromStdString(part.text);
    return argument.isEmpty() ? QString("[%1]").arg(token.word) : QString("[%1:%2]").arg(token.word, argument);
}

std::optional<NamePart> token_of(const QString& run) {
    static const QRegularExpression form("^\\[([a-z-]+)(?::([^\\]]+))?\\]$");
    const auto match = form.match(run);
    if (!match.hasMatch()) return std::nullopt;
    for (const Token& token : tokens) {
        if (match.captured(1) != token.word) continue;
        NamePart part{token.kind, token.kind == Kind::PaperDate ? "yyyy-mm-dd" : ""};
        const QString argument = match.captured(2);
        if (token.kind == Kind::PaperDate && !argument.isEmpty()) part.text = argument.toStdString();
        if (const int words = argument.toInt(); words >= 1 && words <= 20) part.most_words = words;
        return part;
    }
    return std::nullopt;
}

}

QString name_pattern(const std::vector<NamePart>& parts) {
    QStringList out;
    for (const NamePart& part : parts) {
        const auto token = std::ranges::find(tokens, part.kind, &Token::kind);
        out.append(part.kind == Kind::Counter  ? QString(part.digits, '#')
                   : token != std::end(tokens) ? written(*token, part)
                                               : QString::fromStdString(part.text));
    }
    return out.join(' ');
}

std::vector<NamePart> parts_of(const QString& pattern) {
    // Each run between spaces is a date if it contains a date token, a counter if it consists of #, and otherwise text.
    static const QRegularExpression date("^(?=.*(yyyy|yy|mm|dd))[ymd._-]+$"), counter("^#{1,9}$");
    std::vector<NamePart> parts;
    for (const QString& run : pattern.split(' ', Qt::SkipEmptyParts)) {
        if (counter.match(run).hasMatch())
            parts.push_back({Kind::Counter, "", static_cast<int>(run.size())});
        else if (const auto token = token_of(run))
            parts.push_back(*token);
        else if (date.match(run).hasMatch())
            parts.push_back({Kind::Date, run.toStdString()});
        else if (!parts.empty() && parts.back().kind == Kind::Words)
            parts.back().text.append(" ").append(run.toStdString());
        else
            parts.push_back({Kind::Words, run.toStdString()});
    }
    return parts;
}

}
