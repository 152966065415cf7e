// The sheets about the source, the scanner with its own options, and the paper size.
#include "app/models/scanning/glass.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/placement.h"
#include "app/ticketbar/sheet_parts.h"
#include "app/ticketbar/ticket_bar.h"
#include "core/raster/paper.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSpinBox>

namespace yelvin::sheets {

namespace {

// The seconds until the next hand-fed sheet is scanned.
void add_countdown(PhraseSheet& sheet, const TicketModels& models) {
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(new QLabel(SheetText::tr("Scan the next after"), box));
    auto* seconds = new QSpinBox(box);
    seconds->setObjectName("next-sheet-seconds");
    seconds->setRange(0, 600);
    seconds->setSuffix(SheetText::tr(" s"));
    seconds->setSpecialValueText(SheetText::tr("ask"));
    seconds->setValue(models.tickets.ticket().from.next_sheet_seconds);
    seconds->setAccessibleName(SheetText::tr("seconds until the next sheet"));
    line->addWidget(seconds);
    line->addStretch();
    QObject::connect(seconds, &QSpinBox::valueChanged, &sheet, [&models](int value) {
        change(models, [value](Ticket& t) { t.from.next_sheet_seconds = value; });
    });
    sheet.add_widget(box);
}

// Shows how the paper is to be placed, as a drawing and in words.
void add_placement(PhraseSheet& sheet, const TicketModels& models) {
    const Ticket::From& from = models.tickets.ticket().from;
    const bool by_hand = from.source == Source::HandFed && models.next_scan.source() != Source::Glass;
    const Source source = by_hand ? Source::HandFed : models.next_scan.source();
    auto* placed = new QWidget;
    auto* line = new QHBoxLayout(placed);
    line->setContentsMargins(0, 4, 0, 0);
    line->addWidget(new Placement(source, from.flip, models.next_scan.two_passes(), placed));
    auto* text = new QLabel(placement_words(source, from.flip, models.next_scan.two_passes()), placed);
    text->setWordWrap(true);
    text->setProperty("quiet", true);
    line->addWidget(text, 1);
    sheet.add_widget(placed);
}

}

void fill_source(PhraseSheet& sheet, const TicketModels& models) {
    const Capabilities& can = models.scanners.capabilities();
    const Ticket& now = models.tickets.ticket();
    const auto row = [&](const QString& value, const QString& advice, Source source, Flip flip) {
        const bool chosen = now.from.source == source && (source != Source::FeederBoth || now.from.flip == flip);
        sheet.add_row(value, advice, chosen, [&models, source, flip] {
            change(models, [&](Ticket& t) {
                t.from.source = source;
                t.from.flip = flip;
            });
        });
    };
    const bool feeder = can.has(Source::FeederFront) || can.has(Source::FeederBoth);
    const bool two_passes = feeder && !can.has(Source::FeederBoth);
    if (can.has(Source::Glass))
        row(SheetText::tr("the glass"), SheetText::tr("one sheet, a card, photographs, a book"), Source::Glass,
            Flip::Book);
    if (feeder) {
        row(SheetText::tr("the feeder, front only"), SheetText::tr("a stack printed on one side"), Source::FeederFront,
            Flip::Book);
        row(SheetText::tr("the feeder, both sides"),
            two_passes ? SheetText::tr("in two passes: fronts, then backs")
                       : SheetText::tr("turned like a book, over the long edge"),
            Source::FeederBoth, Flip::Book);
        row(SheetText::tr("the feeder, both sides like a notepad"), SheetText::tr("turned over the short edge"),
            Source::FeederBoth, Flip::Notepad);
    }
    row(SheetText::tr("sheet by sheet"),
        now.from.next_sheet_seconds > 0 ? SheetText::tr("scans the next after %1 s").arg(now.from.next_sheet_seconds)
                                        : SheetText::tr("asks for the next sheet"),
        Source::HandFed, Flip::Book);
    if (now.from.source == Source::HandFed) add_countdown(sheet, models);
    add_placement(sheet, models);
}

namespace {

// The options of the scanner's driver: a control for each, stored in the ticket for that scanner.
QWidget* control_for(const DeviceOption& option, const OptionValue& value, QWidget* parent,
                     const std::function<void(const OptionValue&)>& set) {
    using Kind = DeviceOption::Kind;
    switch (option.kind) {
    case Kind::Flag: {
        auto* box = new QCheckBox(parent);
        box->setChecked(std::holds_alternative<bool>(value) && std::get<bool>(value));
        QObject::connect(box, &QCheckBox::toggled, parent, [set](bool on) { set(on); });
        return box;
    }
    case Kind::Number: {
        const double number = std::holds_alternative<double>(value) ? std::get<double>(value) : option.least;
        const QString unit = option.unit.empty() ? QString() : " " + QString::fromStdString(option.unit);
        if (!option.numbers.empty()) {
            auto* box = new QComboBox(parent);
            for (const double each : option.numbers) box->addItem(QString::number(each) + unit, each);
            box->setCurrentIndex(box->findData(number));
            QObject::connect(box, &QComboBox::activated, parent, [set, box] { set(box->currentData().toDouble()); });
            return box;
        }
        auto* box = new QDoubleSpinBox(parent);
        const bool bounded = option.most > option.least;
        box->setRange(bounded ? option.least : -1e6, bounded ? option.most : 1e6);
        box->setDecimals(option.step > 0 && option.step == std::floor(option.step) ? 0 : 2);
        box->setSingleStep(option.step > 0 ? option.step : 1);
        box->setSuffix(unit);
        box->setValue(number);
        QObject::connect(box, &QDoubleSpinBox::valueChanged, parent, [set](double now) { set(now); });
        return box;
    }
    case Kind::Choice: {
        auto* box = new QComboBox(parent);
        for (const std::string& each : option.choices) box->addItem(QString::fromStdString(each));
        box->setCurrentText(
            std::holds_alternative<std::string>(value) ? QString::fromStdString(std::get<std::string>(value)) : "");
        QObject::connect(box, &QComboBox::textActivated, parent,
                         [set](const QString& text) { set(text.toStdString()); });
        return box;
    }
    case Kind::Text: {
        auto* edit = new QLineEdit(
            std::holds_alternative<std::string>(value) ? QString::fromStdString(std::get<std::string>(value)) : "",
            parent);
        QObject::connect(edit, &QLineEdit::editingFinished, parent, [set, edit] { set(edit->text().toStdString()); });
        return edit;
    }
    case Kind::Button:
        break;
    }
    auto* press = new QCheckBox(SheetText::tr("at the next scan"), parent);
    QObject::connect(press, &QCheckBox::toggled, parent, [set](bool on) { set(on); });
    return press;
}

}

void fill_more(PhraseSheet& sheet, const TicketModels& models) {
    const std::string key = models.scanners.key().toStdString();
    auto* scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->viewport()->setAutoFillBackground(false);
    auto* list = new QWidget(scroll);
    list->setAutoFillBackground(false);
    auto* grid = new QGridLayout(list);
    grid->setContentsMargins(0, 0, 8, 0);
    grid->setColumnStretch(0, 1);
    int row = 0;
    for (const DeviceOption& option : models.scanners.capabilities().more) {
        const auto& kept = models.tickets.ticket().from.more;
        OptionValue value = option.value;
        if (kept.contains(key) && kept.at(key).contains(option.name)) value = kept.at(key).at(option.name);
        auto* label = new QLabel(QString::fromStdString(option.title), list);
        label->setToolTip(QString::fromStdString(option.explanation));
        auto* control = control_for(option, value, list, [&models, key, name = option.name](const OptionValue& chosen) {
            change(models, [&](Ticket& t) { t.from.more[key][name] = chosen; });
        });
        control->setObjectName("more:" + QString::fromStdString(option.name));
        control->setAccessibleName(QString::fromStdString(option.title));
        control->setToolTip(QString::fromStdString(option.explanation));
        grid->addWidget(label, row, 0);
        grid->addWidget(control, row++, 1);
    }
    scroll->setWidget(list);
    scroll->setMinimumSize(430, std::min(330, list->sizeHint().height() + 6));
    sheet.add_heading(SheetText::tr("Settings of %1").arg(models.scanners.title()));
    sheet.add_widget(scroll);
    sheet.add_row(SheetText::tr("use scanner defaults"), SheetText::tr("discard what you set here"), false,
                  [&models, key] { change(models, [&](Ticket& t) { t.from.more.erase(key); }); });
    sheet.add_advice(
        SheetText::tr("Names come from the scanner's driver. Settings are saved in this ticket for this scanner."));
}

void fill_scanner(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    for (const auto& scanner : models.scanners.all()) {
        const QString name = QString::fromStdString(scanner->name()), title = QString::fromStdString(scanner->title());
        const bool chosen = models.scanners.chosen() && models.scanners.key() == name;
        const QString state = chosen ? models.scanners.state_words(models.next_scan.source())
                                     : QString::fromUtf8(state_words(scanner->state()).data());
        const QString kind = scanner->kind() == "simulated" ? SheetText::tr("simulated")
                             : scanner->kind() == "network" ? SheetText::tr("network")
                             : scanner->kind() == "local"   ? SheetText::tr("this computer")
                                                            : QString::fromStdString(scanner->kind());
        const QString same = title == name ? QString() : SheetText::tr(" · %1").arg(name);
        sheet.add_row(title, SheetText::tr("%1 · %2%3").arg(state, kind, same), chosen,
                      [&models, name] { models.scanners.use(name); });
    }
    if (models.scanners.bench_chosen())
        sheet.add_row(SheetText::tr("its papers…"),
                      SheetText::tr("what is on the glass and in the feeder, and faults to try"), false, doors.bench);
    if (models.scanners.chosen() && !models.scanners.capabilities().more.empty())
        sheet.add_row(SheetText::tr("scanner settings…"),
                      SheetText::tr("%1 settings").arg(models.scanners.capabilities().more.size()), false, doors.more);
    sheet.add_advice(models.scanners.looking()
                         ? SheetText::tr("Looking for scanners on USB and the network…")
                         : SheetText::tr("Simulated scanners scan drawings and pictures, so that you can "
                                         "try everything without a real scanner."));
}

namespace {

// The named sizes, then a size of the user's own.
void fill_sizes(PhraseSheet& sheet, const TicketModels& models, const QString& where) {
    const Ticket& now = models.tickets.ticket();
    const auto from = [&models](const QString& paper, Frames kind) {
        change(models, [&](Ticket& t) {
            t.from.paper = paper.toStdString();
            t.from.own_paper.reset();
            t.from.frames = kind;
        });
    };
    for (const char* name : {"A4", "A5", "A6", "Letter", "Card"}) {
        const SizeMm size = find_paper(name)->size;
        sheet.add_row(name, where.arg(mm_words(size.width), mm_words(size.height)), now.from.paper == name,
                      [from, name] { from(name, Frames::Drawn); });
    }
    auto* own = new QWidget;
    auto* row = new QHBoxLayout(own);
    row->setContentsMargins(0, 0, 0, 0);
    const SizeMm glass = models.scanners.capabilities().largest(models.next_scan.source()),
                 size = now.from.own_paper.value_or(SizeMm{100, 150});
    const auto spin = [&](double value, double most, const QString& name) {
        auto* box = new QDoubleSpinBox(own);
        box->setRange(5, most);
        box->setDecimals(1);
        box->setValue(value);
        box->setSuffix(" mm");
        box->setAccessibleName(name);
        row->addWidget(box);
        return box;
    };
    auto* width = spin(size.width, glass.width, SheetText::tr("own width"));
    row->addWidget(new QLabel("×", own));
    auto* height = spin(size.height, glass.height, SheetText::tr("own height"));
    auto* use = theme::link(SheetText::tr("use"), "own-size-use", own);
    row->addWidget(use);
    row->addStretch();
    QObject::connect(use, &QPushButton::clicked, &sheet, [&sheet, &models, width, height] {
        const SizeMm chosen{width->value(), height->value()};
        sheet.close();
        change(models, [&](Ticket& t) {
            t.from.own_paper = chosen;
            t.from.paper = "own";
        });
    });
    sheet.add_widget(own);
}

}

void fill_area(PhraseSheet& sheet, const TicketModels& models) {
    const Ticket& now = models.tickets.ticket();
    if (models.next_scan.source() != Source::Glass) {
        sheet.add_row(SheetText::tr("cropped to each sheet"), SheetText::tr("in its own size; sizes can be mixed"),
                      now.from.paper == "auto" && !now.from.own_paper, [&models] {
                          change(models, [](Ticket& t) {
                              t.from.paper = "auto";
                              t.from.own_paper.reset();
                          });
                      });
        fill_sizes(sheet, models, SheetText::tr("%1 × %2 mm, all sheets alike"));
        sheet.add_advice(
            SheetText::tr("Pages are cut to each sheet, crooked ones too: Yelvin finds the edges. If a sheet is "
                          "much longer than those before it, Yelvin asks, as two may have gone through at once."));
        return;
    }
    const bool automatic = now.from.paper == "auto" && !now.from.own_paper;
    const auto frames = static_cast<int>(models.glass.frames().size());
    const auto from = [&models](const QString& paper, Frames kind) {
        change(models, [&](Ticket& t) {
            t.from.paper = paper.toStdString();
            t.from.own_paper.reset();
            t.from.frames = kind;
        });
    };
    const auto found = static_cast<int>(models.glass.found().size());
    sheet.add_row(SheetText::tr("each item on it"),
                  models.glass.is_out_of_date() || models.glass.preview().isNull()
                      ? SheetText::tr("photographs, cards, receipts: a page each")
                      : SheetText::tr("%1 found, a page each").arg(found),
                  automatic && now.from.frames == Frames::EachItem, [from] { from("auto", Frames::EachItem); });
    sheet.add_row(SheetText::tr("everything on it as one page"), SheetText::tr("one area around everything"),
                  automatic && now.from.frames == Frames::OneItem, [from] { from("auto", Frames::OneItem); });
    sheet.add_row(SheetText::tr("the frames drawn on the glass"),
                  frames == 0 ? SheetText::tr("none drawn yet: the whole glass")
                              : SheetText::tr("%1, a page each").arg(frames),
                  automatic && now.from.frames == Frames::Drawn, [from] { from("auto", Frames::Drawn); });
    sheet.add_row(SheetText::tr("all of it"), SheetText::tr("the whole glass"),
                  automatic && now.from.frames == Frames::Whole, [from] { from("auto", Frames::Whole); });
    fill_sizes(sheet, models, SheetText::tr("%1 × %2 mm from the marked corner"));
    for (const char* name : {"A3", "Ledger"}) {
        const SizeMm size = find_paper(name)->size, glass = models.scanners.capabilities().glass;
        if (size.width <= glass.width && size.height <= glass.height) continue;
        sheet.add_row(
            name, SheetText::tr("%1 × %2 mm, stitched from pieces").arg(mm_words(size.width), mm_words(size.height)),
            now.from.paper == name, [from, name] { from(name, Frames::Whole); });
    }
    sheet.add_advice(SheetText::tr(
        "Yelvin finds items in the preview or the scan, cuts them out and straightens them; a size within 2 mm "
        "of a standard one becomes that size. You can correct the frames on the glass."));
}

}
