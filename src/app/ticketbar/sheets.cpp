#include "app/ticketbar/sheets.h"

#include "app/theme/theme.h"
#include "app/ticketbar/phrase_sheet.h"
#include "app/ticketbar/placement.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/ticketbar/wording.h"
#include "core/raster/paper.h"
#include "core/saving/file_name.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QScrollArea>
#include <QSpinBox>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace yelvin::sheets {

namespace {

QString words(const char* text) { return QCoreApplication::translate("Sheets", text); }

// A ticket with one thing changed.
template <class Change>
void change(Desk& desk, Change apply) {
    Ticket ticket = desk.ticket();
    apply(ticket);
    desk.set_ticket(ticket);
}

// The bytes of all that one scan would make, with this resolution and ink.
double scan_bytes(const Desk& desk, int dpi, const std::optional<Ink>& ink) {
    double bytes = 0;
    for (const RectMm& area : desk.areas_to_scan()) {
        bytes += Desk::estimated_page_bytes({area.width, area.height}, dpi, ink.value_or(Ink::Grey),
                                            desk.ticket().make.format, desk.ticket().make.jpeg_quality);
    }
    return bytes;
}

void fill_source(PhraseSheet& sheet, Desk& desk) {
    const Capabilities& can = desk.capabilities();
    const Ticket& now = desk.ticket();
    const auto row = [&](const QString& value, const QString& advice, Source source, Flip flip) {
        const bool chosen = now.from.source == source && (source != Source::FeederBoth || now.from.flip == flip);
        sheet.add_row(value, advice, chosen, [&desk, source, flip] {
            change(desk, [&](Ticket& t) {
                t.from.source = source;
                t.from.flip = flip;
            });
        });
    };
    const bool feeder = can.has(Source::FeederFront) || can.has(Source::FeederBoth);
    const bool two_passes = feeder && !can.has(Source::FeederBoth);
    if (can.has(Source::Glass))
        row(words("the glass"), words("one sheet, a card, photographs, a book"), Source::Glass, Flip::Book);
    if (feeder) {
        row(words("the feeder, front only"), words("a stack printed on one side"), Source::FeederFront, Flip::Book);
        row(words("the feeder, both sides"),
            two_passes ? words("in two passes: fronts, then backs") : words("turned like a book, over the long edge"),
            Source::FeederBoth, Flip::Book);
        row(words("the feeder, both sides like a notepad"), words("turned over the short edge"), Source::FeederBoth,
            Flip::Notepad);
    }
    row(words("sheet by sheet, by hand"),
        now.from.next_sheet_seconds > 0 ? words("goes on by itself after %1 s").arg(now.from.next_sheet_seconds)
                                        : words("asks for each next one"),
        Source::HandFed, Flip::Book);
    if (now.from.source == Source::HandFed) {
        auto* box = new QWidget;
        auto* line = new QHBoxLayout(box);
        line->setContentsMargins(0, 0, 0, 0);
        line->addWidget(new QLabel(words("Go on by itself after"), box));
        auto* seconds = new QSpinBox(box);
        seconds->setObjectName("next-sheet-seconds");
        seconds->setRange(0, 600);
        seconds->setSuffix(words(" s"));
        seconds->setSpecialValueText(words("never: ask"));
        seconds->setValue(now.from.next_sheet_seconds);
        seconds->setAccessibleName(words("seconds until the next sheet"));
        line->addWidget(seconds);
        line->addStretch();
        QObject::connect(seconds, &QSpinBox::valueChanged, &sheet, [&desk](int value) {
            change(desk, [value](Ticket& t) { t.from.next_sheet_seconds = value; });
        });
        sheet.add_widget(box);
    }
    const bool by_hand = now.from.source == Source::HandFed && desk.source() != Source::Glass;
    const Source source = by_hand ? Source::HandFed : desk.source();
    auto* placed = new QWidget;
    auto* line = new QHBoxLayout(placed);
    line->setContentsMargins(0, 4, 0, 0);
    line->addWidget(new Placement(source, now.from.flip, desk.two_passes(), placed));
    auto* text = new QLabel(placement_words(source, now.from.flip, desk.two_passes()), placed);
    text->setWordWrap(true);
    text->setProperty("quiet", true);
    line->addWidget(text, 1);
    sheet.add_widget(placed);
}

// What a scanner offers beyond the ticket: a control for each, kept in the ticket for that scanner.
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
    auto* press = new QCheckBox(words("at the next scan"), parent);
    QObject::connect(press, &QCheckBox::toggled, parent, [set](bool on) { set(on); });
    return press;
}

void fill_more(PhraseSheet& sheet, Desk& desk) {
    const std::string key = desk.scanner_key().toStdString();
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
    for (const DeviceOption& option : desk.capabilities().more) {
        const auto& kept = desk.ticket().from.more;
        OptionValue value = option.value;
        if (kept.contains(key) && kept.at(key).contains(option.name)) value = kept.at(key).at(option.name);
        auto* label = new QLabel(QString::fromStdString(option.title), list);
        label->setToolTip(QString::fromStdString(option.explanation));
        auto* control = control_for(option, value, list, [&desk, key, name = option.name](const OptionValue& chosen) {
            change(desk, [&](Ticket& t) { t.from.more[key][name] = chosen; });
        });
        control->setObjectName("more:" + QString::fromStdString(option.name));
        control->setAccessibleName(QString::fromStdString(option.title));
        control->setToolTip(QString::fromStdString(option.explanation));
        grid->addWidget(label, row, 0);
        grid->addWidget(control, row++, 1);
    }
    scroll->setWidget(list);
    scroll->setMinimumSize(430, std::min(330, list->sizeHint().height() + 6));
    sheet.add_heading(words("More of %1").arg(desk.scanner_name()));
    sheet.add_widget(scroll);
    sheet.add_row(words("as the scanner has them"), words("give up what was set here"), false,
                  [&desk, key] { change(desk, [&](Ticket& t) { t.from.more.erase(key); }); });
    sheet.add_advice(
        words("These are the scanner's own words. What is set here stays in this ticket, for this scanner."));
}

void fill_scanner(PhraseSheet& sheet, Desk& desk, const Doors& doors) {
    for (const auto& scanner : desk.scanners()) {
        const QString name = QString::fromStdString(scanner->name()), title = QString::fromStdString(scanner->title());
        const bool chosen = desk.has_scanner() && desk.scanner_key() == name;
        const QString state = chosen ? desk.scanner_state() : QString::fromUtf8(state_words(scanner->state()).data());
        const QString kind = scanner->kind() == "simulated" ? words("simulated")
                             : scanner->kind() == "network" ? words("network")
                             : scanner->kind() == "local"   ? words("this computer")
                                                            : QString::fromStdString(scanner->kind());
        const QString same = title == name ? QString() : words(" · %1").arg(name);
        sheet.add_row(title, words("%1 · %2%3").arg(state, kind, same), chosen,
                      [&desk, name] { desk.use_scanner(name); });
    }
    if (desk.bench_chosen())
        sheet.add_row(words("its papers …"), words("what lies on the glass and in the feeder, and faults to try"),
                      false, doors.bench);
    if (desk.has_scanner() && !desk.capabilities().more.empty())
        sheet.add_row(words("more of this scanner …"),
                      words("%1 settings of its own").arg(desk.capabilities().more.size()), false, doors.more);
    sheet.add_advice(
        desk.looking_for_scanners()
            ? words("Looking for scanners on USB and in the network …")
            : words("The simulated scanners are not real ones: they scan drawings and pictures as a scanner "
                    "would, so that everything can be tried."));
}

// The named sizes, then one of the person's own.
void fill_sizes(PhraseSheet& sheet, Desk& desk, const QString& where);

void fill_area(PhraseSheet& sheet, Desk& desk) {
    const Ticket& now = desk.ticket();
    if (desk.source() != Source::Glass) {
        sheet.add_row(words("cut to each sheet"), words("as long and as wide as it is; sizes may be mixed"),
                      now.from.paper == "auto" && !now.from.own_paper, [&desk] {
                          change(desk, [](Ticket& t) {
                              t.from.paper = "auto";
                              t.from.own_paper.reset();
                          });
                      });
        fill_sizes(sheet, desk, words("%1 × %2 mm, all sheets alike"));
        sheet.add_advice(words("Cut to each sheet, crooked ones too: the edges are found in the picture. A sheet much "
                               "longer than those before it is asked about: two may have gone through at once."));
        return;
    }
    const bool automatic = now.from.paper == "auto" && !now.from.own_paper;
    const auto frames = static_cast<int>(desk.frames().size());
    const auto from = [&desk](const QString& paper, Frames kind) {
        change(desk, [&](Ticket& t) {
            t.from.paper = paper.toStdString();
            t.from.own_paper.reset();
            t.from.frames = kind;
        });
    };
    sheet.add_row(words("the frames drawn on the glass"),
                  frames == 0 ? words("none drawn yet: all of it") : words("%1, a page each").arg(frames),
                  automatic && now.from.frames == Frames::Drawn, [from] { from("auto", Frames::Drawn); });
    sheet.add_row(words("all of it"), words("the whole glass"), automatic && now.from.frames == Frames::Whole,
                  [from] { from("auto", Frames::Whole); });
    fill_sizes(sheet, desk, words("%1 × %2 mm from the marked corner"));
    sheet.add_advice(words("Draw frames on the glass with the mouse after a preview; each becomes a page of its own."));
}

void fill_sizes(PhraseSheet& sheet, Desk& desk, const QString& where) {
    const Ticket& now = desk.ticket();
    const auto from = [&desk](const QString& paper, Frames kind) {
        change(desk, [&](Ticket& t) {
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
    const SizeMm glass = desk.capabilities().largest(desk.source()),
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
    auto* width = spin(size.width, glass.width, words("own width"));
    row->addWidget(new QLabel("×", own));
    auto* height = spin(size.height, glass.height, words("own height"));
    auto* use = new QPushButton(words("use"), own);
    use->setProperty("kind", "link");
    row->addWidget(use);
    QObject::connect(use, &QPushButton::clicked, &sheet, [&sheet, &desk, width, height] {
        const SizeMm chosen{width->value(), height->value()};
        sheet.close();
        change(desk, [&](Ticket& t) {
            t.from.own_paper = chosen;
            t.from.paper = "own";
        });
    });
    sheet.add_widget(own);
}

void fill_ink(PhraseSheet& sheet, Desk& desk) {
    const auto row = [&](std::optional<Ink> ink, const QString& advice) {
        sheet.add_row(wording::ink(ink), advice, desk.ticket().how.ink == ink,
                      [&desk, ink] { change(desk, [&](Ticket& t) { t.how.ink = ink; }); });
    };
    const int dpi = desk.ticket().how.dpi;
    const auto size = [&](Ink ink) { return bytes_words(scan_bytes(desk, dpi, ink)); };
    row(std::nullopt, words("grey where nothing on the page has colour"));
    row(Ink::Colour, words("always in colour · about %1").arg(size(Ink::Colour)));
    row(Ink::Grey, words("for text, pencil and stamps · about %1").arg(size(Ink::Grey)));
    row(Ink::Black, words("smallest; faint marks can be lost · about %1").arg(size(Ink::Black)));
    sheet.add_advice(words("A coloured stamp or a blue signature keeps a page in colour; yellowed paper does not."));
}

void fill_dpi(PhraseSheet& sheet, Desk& desk) {
    // A customary pace; a real scanner's is not known before it has scanned.
    const double seconds_for_a4 = desk.bench_chosen() ? desk.bench().bench().seconds_for_a4 : 8;
    const auto seconds = [&](int dpi) {
        double area = 0;
        for (const RectMm& a : desk.areas_to_scan()) area += a.height / 297;
        return std::max(1.0, area * seconds_for_a4 * std::max(0.3, dpi / 300.0));
    };
    for (const int dpi : desk.capabilities().resolutions) {
        const QString advice = dpi == 150   ? words("quick copies")
                               : dpi == 200 ? words("office paper, small files")
                               : dpi == 300 ? words("everyday choice")
                               : dpi == 600 ? words("photographs that matter")
                               : dpi < 150  ? words("coarse, for a look")
                               : dpi > 600  ? words("tiny details, slow")
                                            : words("small print");
        const QString size = bytes_words(scan_bytes(desk, dpi, desk.ticket().how.ink));
        sheet.add_row(words("%1 dpi").arg(dpi), QString("%1 · %2").arg(advice, size), desk.ticket().how.dpi == dpi,
                      [&desk, dpi] { change(desk, [&](Ticket& t) { t.how.dpi = dpi; }); });
    }
    const int now = desk.ticket().how.dpi;
    sheet.add_advice(words("About %1 seconds at %2 dpi. Twice the resolution is four times the dots.")
                         .arg(seconds(now), 0, 'f', 0)
                         .arg(now));
}

QCheckBox* tick(const QString& text, bool on, QWidget* parent) {
    auto* box = new QCheckBox(text, parent);
    box->setChecked(on);
    return box;
}

void fill_pages(PhraseSheet& sheet, Desk& desk, const Doors& doors) {
    auto* both = new QWidget;
    auto* column = new QVBoxLayout(both);
    column->setContentsMargins(0, 0, 0, 0);
    auto* straighten = tick(words("straighten by the lines of text"), desk.ticket().pages.straighten, both);
    auto* upright = tick(words("turn upright by the text"), desk.ticket().pages.turn_upright, both);
    column->addWidget(straighten);
    column->addWidget(upright);
    QObject::connect(straighten, &QCheckBox::toggled, &sheet,
                     [&desk](bool on) { change(desk, [on](Ticket& t) { t.pages.straighten = on; }); });
    QObject::connect(upright, &QCheckBox::toggled, &sheet,
                     [&desk](bool on) { change(desk, [on](Ticket& t) { t.pages.turn_upright = on; }); });
    sheet.add_heading(words("To every page, unasked"));
    sheet.add_widget(both);
    auto* blank = tick(words("drop blank sides"), desk.ticket().pages.drop_blank, both);
    blank->setObjectName("drop-blank");
    column->addWidget(blank);
    QObject::connect(blank, &QCheckBox::toggled, &sheet,
                     [&desk](bool on) { change(desk, [on](Ticket& t) { t.pages.drop_blank = on; }); });
    sheet.add_row(words("what counts as blank …"),
                  words("now: less than %1 % ink").arg(desk.ticket().pages.blank_limit_percent), false, doors.blank);
    sheet.add_heading(words("Start a new document"));
    const auto split = [&](const QString& value, const QString& advice, SplitAt at) {
        sheet.add_row(value, advice, desk.ticket().pages.split == at,
                      [&desk, at] { change(desk, [at](Ticket& t) { t.pages.split = at; }); });
    };
    split(words("never by itself"), words("a divider is put by hand, Ctrl+D"), SplitAt::Never);
    split(words("at each blank sheet"), words("blank on all its sides; it is left out"), SplitAt::BlankSheet);
    split(words("at each separator sheet"), words("with a code that is printed here; it is left out"),
          SplitAt::Separator);
    split(words("every so many pages"), words("blank ones counted"), SplitAt::Every);
    if (desk.ticket().pages.split == SplitAt::Every) {
        auto* every = new QSpinBox;
        every->setObjectName("split-every");
        every->setRange(1, 1000);
        every->setSuffix(words(" pages"));
        every->setValue(desk.ticket().pages.split_every);
        every->setAccessibleName(words("pages a document"));
        QObject::connect(every, &QSpinBox::valueChanged, &sheet,
                         [&desk](int value) { change(desk, [value](Ticket& t) { t.pages.split_every = value; }); });
        sheet.add_widget(every);
    }
    sheet.add_row(words("print separator sheets …"), words("writes a PDF to print; a text on them can name documents"),
                  false, doors.separators);
    sheet.add_advice(words("A page that is straight already stays as it was scanned, dot for dot. Each correction can "
                           "be taken back on the page; the original is kept."));
}

void fill_read(PhraseSheet& sheet, Desk& desk) {
    const auto& chosen = desk.ticket().read.languages;
    auto* list = new QWidget;
    auto* column = new QVBoxLayout(list);
    column->setContentsMargins(0, 0, 0, 0);
    for (const std::string& name : installed_languages()) {
        auto* box = tick(wording::language(name), std::ranges::find(chosen, name) != chosen.end(), list);
        column->addWidget(box);
        QObject::connect(box, &QCheckBox::toggled, &sheet, [&desk, name](bool on) {
            change(desk, [&](Ticket& t) {
                std::erase(t.read.languages, name);
                if (on) t.read.languages.push_back(name);
            });
        });
    }
    sheet.add_heading(words("Read in"));
    sheet.add_widget(list);
    sheet.add_advice(words("A PDF whose text was read can be searched, and its words selected. With no language ticked "
                           "nothing is read. More languages come with the packages tesseract-ocr-…"));
}

void fill_make(PhraseSheet& sheet, Desk& desk) {
    const Ticket& now = desk.ticket();
    const auto row = [&](const QString& value, const QString& advice, Format format, Per per) {
        const bool chosen = now.make.format == format && (now.make.per == per || !holds_many_pages(format));
        sheet.add_row(value, advice, chosen, [&desk, format, per] {
            change(desk, [&](Ticket& t) {
                t.make.format = format;
                t.make.per = per;
            });
        });
    };
    row(words("one PDF per document"), words("documents; searchable when read"), Format::Pdf, Per::Document);
    row(words("one PDF per page"), words("each sheet on its own"), Format::Pdf, Per::Page);
    row(words("one JPEG per page"), words("photographs"), Format::Jpeg, Per::Page);
    row(words("one PNG per page"), words("every dot as scanned, large"), Format::Png, Per::Page);
    row(words("one TIFF per document"), words("every dot as scanned, many pages"), Format::Tiff, Per::Document);
    auto* quality = new QWidget;
    auto* line = new QHBoxLayout(quality);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(new QLabel(words("JPEG quality, in PDF too"), quality));
    auto* spin = new QSpinBox(quality);
    spin->setRange(1, 100);
    spin->setValue(now.make.jpeg_quality);
    spin->setAccessibleName(words("JPEG quality"));
    line->addWidget(spin);
    line->addStretch();
    QObject::connect(spin, &QSpinBox::valueChanged, &sheet,
                     [&desk](int value) { change(desk, [value](Ticket& t) { t.make.jpeg_quality = value; }); });
    sheet.add_widget(quality);
    sheet.add_advice(
        words("85 looks like the paper; under 60 letters get a halo. Black and white pages are stored without loss."));
}

void fill_name(PhraseSheet& sheet, Desk& desk) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    auto* edit = new QLineEdit(name_pattern(desk.ticket().save.name), box);
    edit->setObjectName("name-pattern");
    edit->setAccessibleName(words("name pattern"));
    edit->setMinimumWidth(320);
    auto* shown = new QLabel(box);
    shown->setFont(theme::strong());
    const auto show = [shown, &desk] {
        shown->setText(desk.next_name() + "." + QString::fromUtf8(format_extension(desk.ticket().make.format).data()));
    };
    show();
    column->addWidget(edit);
    column->addWidget(shown);
    auto* inserts = new QHBoxLayout;
    for (const auto& [label, token] : {std::pair{words("+ date"), "yyyy-mm-dd"},
                                       {words("+ counter"), "###"},
                                       {words("+ separator's text"), "[code]"}}) {
        auto* button = new QPushButton(label, box);
        button->setProperty("kind", "link");
        QObject::connect(button, &QPushButton::clicked, edit, [edit, token = QString(token)] {
            const QString before = edit->text().left(edit->cursorPosition());
            edit->insert((before.isEmpty() || before.endsWith(' ') ? "" : " ") + token);
            edit->setFocus();
        });
        inserts->addWidget(button);
    }
    inserts->addStretch();
    column->addLayout(inserts);
    QObject::connect(edit, &QLineEdit::textChanged, &sheet, [&desk, show](const QString& text) {
        const auto parts = parts_of(text);
        if (parts.empty()) return;
        change(desk, [&](Ticket& t) { t.save.name = parts; });
        show();
    });
    QObject::connect(edit, &QLineEdit::returnPressed, &sheet, &QWidget::close);
    sheet.add_widget(box);
    sheet.add_advice(words("yyyy, mm and dd become the date, each # a digit of the counter, [code] the separator's "
                           "text. A name that exists is "
                           "never overwritten: the next number is used."));
    edit->setFocus();
}

void set_folder(Desk& desk, const QString& folder) {
    const QString home = QDir::homePath();
    const QString kept = folder == home ? "~" : folder.startsWith(home + "/") ? "~" + folder.mid(home.size()) : folder;
    change(desk, [&](Ticket& t) { t.save.folder = kept.toStdString(); });
}

void fill_folder(PhraseSheet& sheet, Desk& desk) {
    const QString now = desk.folder();
    QStringList folders{now};
    for (const auto place :
         {QStandardPaths::DocumentsLocation, QStandardPaths::PicturesLocation, QStandardPaths::HomeLocation}) {
        const QString path = QStandardPaths::writableLocation(place);
        if (QDir(path).exists() && !folders.contains(path)) folders.append(path);
    }
    for (const QString& folder : folders) {
        const bool there = QDir(folder).exists();
        sheet.add_row(QDir(folder).dirName().isEmpty() ? folder : QDir(folder).dirName(),
                      there ? folder : words("%1 · not there").arg(folder), folder == now,
                      [&desk, folder] { set_folder(desk, folder); });
    }
    if (!QDir(now).exists())
        sheet.add_row(words("make this folder"), now, false, [&desk, now] {
            QDir().mkpath(now);
            set_folder(desk, now);
        });
    QWidget* window = sheet.parentWidget()->window();
    sheet.add_row(words("another folder …"), words("choose on this computer"), false, [&desk, window, now] {
        const QString chosen = QFileDialog::getExistingDirectory(window, words("Where finished files go"),
                                                                 QDir(now).exists() ? now : QDir::homePath());
        if (!chosen.isEmpty()) set_folder(desk, chosen);
    });
    auto* edit = new QLineEdit(now);
    edit->setAccessibleName(words("folder"));
    edit->setObjectName("folder-path");
    edit->setMinimumWidth(320);
    QObject::connect(edit, &QLineEdit::returnPressed, &sheet, [&sheet, &desk, edit] {
        const QString typed = edit->text().trimmed();
        sheet.close();
        if (!typed.isEmpty()) set_folder(desk, QString::fromStdString(expanded_folder(typed.toStdString()).string()));
    });
    sheet.add_widget(edit);
    sheet.add_advice(words("Files appear there whole or not at all."));
}

}

QString name_pattern(const std::vector<NamePart>& parts) {
    QStringList out;
    for (const NamePart& part : parts) {
        out.append(part.kind == NamePart::Kind::Counter   ? QString(part.digits, '#')
                   : part.kind == NamePart::Kind::Barcode ? QString("[code]")
                                                          : QString::fromStdString(part.text));
    }
    return out.join(' ');
}

std::vector<NamePart> parts_of(const QString& pattern) {
    // Each run between spaces is a date if it holds a date token, a counter if it is all #, words otherwise.
    static const QRegularExpression date("^(?=.*(yyyy|yy|mm|dd))[ymd._-]+$"), counter("^#{1,9}$");
    std::vector<NamePart> parts;
    for (const QString& run : pattern.split(' ', Qt::SkipEmptyParts)) {
        if (counter.match(run).hasMatch())
            parts.push_back({NamePart::Kind::Counter, "", static_cast<int>(run.size())});
        else if (run == "[code]")
            parts.push_back({NamePart::Kind::Barcode, ""});
        else if (date.match(run).hasMatch())
            parts.push_back({NamePart::Kind::Date, run.toStdString()});
        else if (!parts.empty() && parts.back().kind == NamePart::Kind::Words)
            parts.back().text += " " + run.toStdString();
        else
            parts.push_back({NamePart::Kind::Words, run.toStdString()});
    }
    return parts;
}

void fill(PhraseSheet& sheet, const QString& phrase, Desk& desk, const Doors& doors) {
    sheet.setAccessibleName(phrase);
    if (phrase == "source")
        fill_source(sheet, desk);
    else if (phrase == "scanner")
        fill_scanner(sheet, desk, doors);
    else if (phrase == "area")
        fill_area(sheet, desk);
    else if (phrase == "ink")
        fill_ink(sheet, desk);
    else if (phrase == "dpi")
        fill_dpi(sheet, desk);
    else if (phrase == "pages")
        fill_pages(sheet, desk, doors);
    else if (phrase == "read")
        fill_read(sheet, desk);
    else if (phrase == "make")
        fill_make(sheet, desk);
    else if (phrase == "name")
        fill_name(sheet, desk);
    else if (phrase == "more")
        fill_more(sheet, desk);
    else if (phrase == "folder")
        fill_folder(sheet, desk);
}

void fill_stub(PhraseSheet& sheet, Desk& desk) {
    auto* edit = new QLineEdit(QString::fromStdString(desk.ticket().name));
    edit->setAccessibleName(words("ticket name"));
    edit->setMinimumWidth(220);
    QObject::connect(edit, &QLineEdit::textChanged, &sheet, [&desk](const QString& text) {
        if (!text.trimmed().isEmpty()) change(desk, [&](Ticket& t) { t.name = text.trimmed().toStdString(); });
    });
    QObject::connect(edit, &QLineEdit::returnPressed, &sheet, &QWidget::close);
    sheet.add_heading(words("Name of this ticket"));
    sheet.add_widget(edit);
    for (const char* colour : {"plum", "moss", "amber", "brick", "ink"}) {
        sheet.add_row(words(colour), words("its colour at the edge"), desk.ticket().colour == colour,
                      [&desk, colour] { change(desk, [&](Ticket& t) { t.colour = colour; }); });
    }
    sheet.add_advice(words("All choices in the sentence belong to the ticket and are there again after a restart."));
}

}
