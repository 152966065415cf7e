#include "app/ticketbar/chip_choices.h"

#include "app/theme/parts.h"
#include "core/naming/file_name.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>

#include <memory>

namespace yelvin {

namespace {

using Kind = NamePart::Kind;
using Missing = NamePart::Missing;
using Part = std::shared_ptr<NamePart>;
using Apply = std::function<void(const NamePart&)>;

struct ChipText {
    Q_DECLARE_TR_FUNCTIONS(ChipText)
};

void with_label(QHBoxLayout* line, const QString& words, QWidget* edit) {
    line->addWidget(theme::label_for(edit, words, edit->parentWidget()));
    line->addWidget(edit);
}

void add_words(QHBoxLayout* line, const Part& part, const Apply& apply, QWidget* box) {
    auto* edit = new QLineEdit(QString::fromStdString(part->text), box);
    edit->setObjectName("chip-words");
    edit->setMinimumWidth(220);
    with_label(line, ChipText::tr("text"), edit);
    QObject::connect(edit, &QLineEdit::textChanged, box, [part, apply](const QString& text) {
        part->text = text.toStdString();
        apply(*part);
    });
    edit->selectAll();
}

void add_date(QHBoxLayout* line, const Part& part, const Apply& apply, QWidget* box) {
    auto* order = new QComboBox(box);
    order->setObjectName("chip-date");
    QStringList patterns{"yyyy-mm-dd", "dd.mm.yyyy", "dd-mm-yyyy", "mm-dd-yyyy",
                         "yyyymmdd",   "yyyy-mm",    "yyyy",       "yy-mm-dd"};
    const QString own = QString::fromStdString(part->text);
    if (!patterns.contains(own)) patterns.append(own);
    for (const QString& pattern : patterns)
        order->addItem(QString::fromStdString(joined_parts({{Kind::Date, pattern.toStdString()}}, today(), 1)),
                       pattern);
    order->setCurrentIndex(order->findData(own));
    with_label(line, ChipText::tr("written as"), order);
    QObject::connect(order, &QComboBox::activated, box, [part, apply, order] {
        part->text = order->currentData().toString().toStdString();
        apply(*part);
    });
}

void add_number(QHBoxLayout* line, const QString& words, int& value, int most, const std::function<void()>& told,
                QWidget* box) {
    auto* number = new QSpinBox(box);
    number->setObjectName("chip-number");
    number->setRange(1, most);
    number->setValue(value);
    with_label(line, words, number);
    QObject::connect(number, &QSpinBox::valueChanged, box, [&value, told](int now) {
        value = now;
        told();
    });
}

// What the part becomes if its fact was not found.
void add_missing(QHBoxLayout* line, const Part& part, const Apply& apply, QWidget* box) {
    auto* missing = new QComboBox(box);
    missing->setObjectName("chip-missing");
    missing->addItem(ChipText::tr("left out"), static_cast<int>(Missing::Goes));
    if (part->kind == Kind::PaperDate)
        missing->addItem(ChipText::tr("the date of scanning"), static_cast<int>(Missing::ScanDate));
    missing->addItem(ChipText::tr("this text"), static_cast<int>(Missing::Words));
    missing->setCurrentIndex(missing->findData(static_cast<int>(part->if_missing)));
    auto* words = new QLineEdit(QString::fromStdString(part->instead), box);
    words->setObjectName("chip-instead");
    words->setAccessibleName(ChipText::tr("text if not found"));
    words->setVisible(part->if_missing == Missing::Words);
    with_label(line, ChipText::tr("if not found"), missing);
    line->addWidget(words);
    QObject::connect(missing, &QComboBox::activated, box, [part, apply, missing, words] {
        part->if_missing = static_cast<Missing>(missing->currentData().toInt());
        words->setVisible(part->if_missing == Missing::Words);
        if (part->if_missing != Missing::Words) part->instead.clear();
        apply(*part);
    });
    QObject::connect(words, &QLineEdit::textChanged, box, [part, apply](const QString& text) {
        part->instead = text.toStdString();
        apply(*part);
    });
}

}

QWidget* new_chip_choices(const NamePart& given, const Apply& apply, QWidget* parent) {
    const auto part = std::make_shared<NamePart>(given);
    auto* box = new QWidget(parent);
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    if (part->kind == Kind::Words) add_words(line, part, apply, box);
    if (part->kind == Kind::Date || part->kind == Kind::PaperDate) add_date(line, part, apply, box);
    const auto told = [part, apply] { apply(*part); };
    if (part->kind == Kind::Counter) add_number(line, ChipText::tr("digits"), part->digits, 9, told, box);
    if (part->kind == Kind::Heading || part->kind == Kind::Sender)
        add_number(line, ChipText::tr("max. words"), part->most_words, 20, told, box);
    if (is_read_on_paper(part->kind) || part->kind == Kind::Barcode) add_missing(line, part, apply, box);
    line->addStretch();
    return box;
}

}
