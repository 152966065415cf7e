#include "app/bench/bench_sheet.h"

#include "app/bench/papers.h"
#include "app/models/scanning/scanners.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/raster/image_file.h"

#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QSpinBox>
#include <QVBoxLayout>

#include <algorithm>
#include <array>

namespace yelvin {

namespace {

QString paper_name(const QString& file) {
    QString name = QFileInfo(file).completeBaseName().replace('-', ' ');
    if (!name.isEmpty()) name[0] = name[0].toUpper();
    return name;
}

}

namespace {
// The words of the simulated faults, by their names.
struct FaultWords {
    std::string_view name;
    const char* words;
};
constexpr std::array fault_table{
    FaultWords{"jam", QT_TRANSLATE_NOOP("yelvin::BenchSheet", "paper jam")},
    FaultWords{"two-sheets", QT_TRANSLATE_NOOP("yelvin::BenchSheet", "two sheets at once, detected")},
    FaultWords{"two-sheets-undetected", QT_TRANSLATE_NOOP("yelvin::BenchSheet", "two sheets at once, not detected")},
    FaultWords{"feeder-empty", QT_TRANSLATE_NOOP("yelvin::BenchSheet", "feeder empty")},
    FaultWords{"lid-open", QT_TRANSLATE_NOOP("yelvin::BenchSheet", "lid opened")},
    FaultWords{"busy", QT_TRANSLATE_NOOP("yelvin::BenchSheet", "busy")},
    FaultWords{"silent", QT_TRANSLATE_NOOP("yelvin::BenchSheet", "sends nothing for a while")},
    FaultWords{"unplugged", QT_TRANSLATE_NOOP("yelvin::BenchSheet", "unplugged")},
    FaultWords{"memory", QT_TRANSLATE_NOOP("yelvin::BenchSheet", "out of memory")},
};
static_assert(std::ranges::equal(fault_table, simulated_faults, {}, &FaultWords::name, &SimulatedFault::name),
              "every simulated fault needs its words, in the same order");

QString fault_words(const BenchFault& fault) {
    for (size_t i = 0; i < simulated_faults.size(); ++i)
        if (simulated_faults[i].kind == fault.kind && simulated_faults[i].sensed == fault.sensed)
            return BenchSheet::tr(fault_table[i].words);
    return {};
}

}

BenchSheet::BenchSheet(Scanners& scanners, Source source, const QString& originals, QWidget* parent)
    : Popup(parent), scanners_(scanners), originals_(originals) {
    const bool has_glass = scanners.bench().capabilities().has(Source::Glass);
    into_feeder_ = !has_glass || source != Source::Glass;
    auto* columns = new QHBoxLayout(this);
    columns->setContentsMargins(16, 14, 16, 14);
    columns->setSpacing(28);
    columns->setSizeConstraint(QLayout::SetFixedSize); // grows with what it holds
    auto* left = new QVBoxLayout;
    auto* right = new QVBoxLayout;
    columns->addLayout(left);
    columns->addLayout(right, 1);
    make_papers(left, has_glass);
    constexpr int right_width = 500;
    right->addItem(new QSpacerItem(right_width, 0));
    if (has_glass) right->addWidget(heading(tr("On the glass")));
    laid_ = new QVBoxLayout;
    right->addLayout(laid_);
    right->addSpacing(10);
    make_stack(right);
    right->addSpacing(10);
    make_faults(right);
    right->addStretch();
    make_foot(right);
    fill_papers();
    refresh();
}

QLabel* BenchSheet::heading(const QString& words) {
    auto* label = new QLabel(words, this);
    label->setFont(theme::strong());
    return label;
}

void BenchSheet::make_papers(QVBoxLayout* left, bool has_glass) {
    left->addWidget(heading(tr("Papers")));
    auto* where = new QHBoxLayout;
    where->setContentsMargins(0, 0, 0, 6);
    auto* on_glass = new QRadioButton(tr("on the glass"), this);
    auto* in_feeder = new QRadioButton(tr("in the feeder"), this);
    on_glass->setObjectName("to-glass");
    in_feeder->setObjectName("to-feeder");
    on_glass->setVisible(has_glass);
    (into_feeder_ ? in_feeder : on_glass)->setChecked(true);
    where->addWidget(on_glass);
    where->addWidget(in_feeder);
    where->addStretch();
    left->addLayout(where);
    connect(in_feeder, &QRadioButton::toggled, this, [this](bool on) { into_feeder_ = on; });
    papers_ = new QVBoxLayout;
    papers_->setSpacing(0);
    left->addLayout(papers_);
    auto* own = theme::button(tr("your own pictures or PDFs…"), theme::Kind::Item, {}, this);
    left->addWidget(own, 0, Qt::AlignLeft);
    left->addStretch();
    connect(own, &QPushButton::clicked, this, [this] {
        const QStringList files = QFileDialog::getOpenFileNames(
            parentWidget(), tr("Papers for the simulated scanner"), QDir::homePath(),
            tr("Pictures, drawings and PDFs (*.png *.jpg *.jpeg *.tif *.tiff *.bmp *.webp *.svg *.pdf)"));
        for (const QString& file : files) into_feeder_ ? put_in(file) : lay(file);
    });
}

void BenchSheet::make_stack(QVBoxLayout* right) {
    right->addWidget(heading(tr("In the feeder, top sheet first")));
    stack_ = new QVBoxLayout;
    stack_->setSpacing(1);
    right->addLayout(stack_);
    auto* loads = new QHBoxLayout;
    auto* day = theme::link(tr("a day's stack"), "load-demo", this);
    day->setToolTip(tr("Two-sided, crooked and mixed, with blank backs"));
    auto* empty = theme::link(tr("remove all"), "empty-feeder", this);
    loads->addWidget(day);
    loads->addWidget(empty);
    loads->addStretch();
    right->addLayout(loads);
    connect(day, &QPushButton::clicked, this, [this] {
        change_bench([this](BenchSetup& bench) {
            for (const StackSheet& sheet : demo_stack(originals_)) bench.stack.push_back(sheet);
        });
    });
    connect(empty, &QPushButton::clicked, this,
            [this] { change_bench([](BenchSetup& bench) { bench.stack.clear(); }); });
}

void BenchSheet::make_faults(QVBoxLayout* right) {
    right->addWidget(heading(tr("Simulated faults")));
    faults_ = new QVBoxLayout;
    faults_->setSpacing(1);
    right->addLayout(faults_);
    auto* add = new QHBoxLayout;
    auto* kind = new QComboBox(this);
    kind->setObjectName("fault-kind");
    kind->setAccessibleName(tr("fault"));
    for (const FaultWords& each : fault_table) kind->addItem(tr(each.words));
    auto* at = new QSpinBox(this);
    at->setObjectName("fault-sheet");
    at->setRange(1, 200);
    at->setValue(3);
    at->setPrefix(tr("at sheet "));
    at->setAccessibleName(tr("at which sheet"));
    auto* put = theme::link(tr("add"), "fault-add", this);
    add->addWidget(kind, 1);
    add->addWidget(at);
    add->addWidget(put);
    right->addLayout(add);
    connect(put, &QPushButton::clicked, this, [this, kind, at] {
        const SimulatedFault& fault = simulated_faults[static_cast<size_t>(kind->currentIndex())];
        change_bench([&](BenchSetup& bench) { bench.faults.push_back({fault.kind, at->value(), fault.sensed}); });
    });
}

void BenchSheet::make_foot(QVBoxLayout* right) {
    auto* foot = new QHBoxLayout;
    auto* pace = new QCheckBox(tr("at a real scanner's pace"), this);
    pace->setChecked(scanners_.bench().bench().real_pace);
    connect(pace, &QCheckBox::toggled, this,
            [this](bool on) { change_bench([on](BenchSetup& bench) { bench.real_pace = on; }); });
    foot->addWidget(pace);
    foot->addStretch();
    foot->addWidget(theme::quiet(tr("press a scanner button:"), this));
    for (const std::string& name : scanners_.bench().capabilities().buttons) {
        auto* button = theme::link(QString::fromStdString(name), QString::fromStdString("press-button:" + name), this);
        connect(button, &QPushButton::clicked, this, [this, name] {
            scanners_.bench().press_button(name);
            close();
        });
        foot->addWidget(button);
    }
    right->addLayout(foot);
    right->addWidget(theme::quiet(tr("Only the simulated scanner has this panel."), this));
}

void BenchSheet::change_bench(const std::function<void(BenchSetup&)>& how) {
    BenchSetup setup = scanners_.bench().bench();
    how(setup);
    scanners_.set_bench(setup);
    refresh();
}

void BenchSheet::put_in(const QString& file) {
    change_bench([&](BenchSetup& bench) {
        const auto pages = file.endsWith(".svg") ? 1 : count_pages(file.toStdString()).value_or(1);
        for (int page = 0; page < pages; ++page) bench.stack.push_back({{file.toStdString(), page}, {}});
    });
}

// Lists the sheets; equal neighbours are listed once, with their number.
void BenchSheet::show_stack() {
    theme::clear(stack_);
    const auto stack = scanners_.bench().bench().stack;
    const auto side = [](const SheetSide& s) {
        return s.file.empty() ? tr("blank") : paper_name(QString::fromStdString(s.file.string())).toLower();
    };
    const size_t shown = std::min<size_t>(stack.size(), 8);
    for (size_t i = 0; i < shown; ++i) {
        QString words = tr("%1   %2").arg(i + 1).arg(side(stack[i].front));
        words += stack[i].back.file.empty() ? tr(", back blank") : tr(", %1 on its back").arg(side(stack[i].back));
        if (stack[i].skew_degrees != 0) words += tr(", %1°").arg(stack[i].skew_degrees, 0, 'f', 1);
        if (stack[i].upside_down) words += tr(", upside down");
        stack_->addWidget(new QLabel(words, this));
    }
    if (stack.size() > shown) {
        auto* more = new QLabel(tr("and %1 more").arg(stack.size() - shown), this);
        more->setProperty("quiet", true);
        stack_->addWidget(more);
    }
    if (stack.empty()) {
        auto* nothing = new QLabel(tr("Nothing."), this);
        nothing->setProperty("quiet", true);
        stack_->addWidget(nothing);
    }
}

void BenchSheet::show_faults() {
    theme::clear(faults_);
    const auto faults = scanners_.bench().bench().faults;
    for (size_t i = 0; i < faults.size(); ++i) {
        auto* row = new QHBoxLayout;
        row->addWidget(new QLabel(tr("%1 at sheet %2").arg(fault_words(faults[i])).arg(faults[i].sheet), this));
        row->addStretch();
        auto* away = theme::link(tr("remove"), {}, this);
        connect(away, &QPushButton::clicked, this, [this, i] {
            change_bench([i](BenchSetup& bench) {
                if (i < bench.faults.size()) bench.faults.erase(bench.faults.begin() + static_cast<ptrdiff_t>(i));
            });
        });
        row->addWidget(away);
        faults_->addLayout(row);
    }
}

void BenchSheet::open() { open_in_the_middle(110); }

void BenchSheet::fill_papers() {
    const QDir folder(originals_);
    for (const QString& file : folder.entryList({"*.svg"}, QDir::Files, QDir::Name)) {
        auto* button = theme::button(paper_name(file), theme::Kind::Item, "lay:" + file, this);
        connect(button, &QPushButton::clicked, this,
                [this, path = folder.filePath(file)] { into_feeder_ ? put_in(path) : lay(path); });
        auto* row = new QHBoxLayout;
        row->addWidget(button, 0, Qt::AlignLeft);
        const auto size = original_size(folder.filePath(file).toStdString());
        auto* measure = new QLabel(
            size ? tr("%1 × %2 mm").arg(size->width, 0, 'f', 0).arg(size->height, 0, 'f', 0) : QString(), this);
        measure->setProperty("quiet", true);
        row->addSpacing(24);
        row->addStretch();
        row->addWidget(measure);
        papers_->addLayout(row);
    }
}

void BenchSheet::lay(const QString& file) {
    BenchSetup setup = scanners_.bench().bench();
    const auto size = original_size(file.toStdString());
    // A sheet as large as the glass replaces what was on it.
    if (size && size->width > 180) setup.glass.clear();
    const auto parts = parts_of(file.toStdString(), scanners_.bench().capabilities().glass);
    setup.glass.push_back(parts.empty() ? laid_down(file, setup.glass, scanners_.capabilities().glass) : parts.front());
    scanners_.set_bench(setup);
    refresh();
}

void BenchSheet::change(size_t index, const std::function<void(LaidPaper&)>& how) {
    BenchSetup setup = scanners_.bench().bench();
    if (index < setup.glass.size()) how(setup.glass[index]);
    scanners_.set_bench(setup);
}

void BenchSheet::refresh() {
    theme::clear(laid_);
    show_stack();
    show_faults();
    if (!scanners_.bench().capabilities().has(Source::Glass)) return;
    const std::vector<LaidPaper> glass = scanners_.bench().bench().glass;
    if (glass.empty()) {
        auto* nothing = new QLabel(tr("Nothing. Choose a paper on the left."), this);
        nothing->setProperty("quiet", true);
        laid_->addWidget(nothing);
    }
    for (size_t i = 0; i < glass.size(); ++i) {
        auto* holder = new QWidget(this);
        auto* row = new QHBoxLayout(holder);
        row->setContentsMargins(0, 2, 0, 2);
        auto* name = new QLabel(paper_name(QString::fromStdString(glass[i].file.string())), holder);
        name->setMinimumWidth(170);
        row->addWidget(name);
        row->addStretch();
        auto* angle = new QDoubleSpinBox(holder);
        angle->setFixedWidth(72);
        angle->setRange(-180, 180);
        angle->setDecimals(1);
        angle->setSingleStep(0.5);
        angle->setSuffix("°");
        angle->setValue(glass[i].angle_degrees);
        angle->setAccessibleName(tr("turned clockwise by"));
        connect(angle, &QDoubleSpinBox::valueChanged, this, [this, i](double degrees) {
            change(i, [degrees](LaidPaper& paper) { paper.angle_degrees = degrees; });
        });
        row->addWidget(angle);
        if (const auto parts = parts_of(glass[i].file.string(), scanners_.bench().capabilities().glass);
            !parts.empty()) {
            const int part = part_laid(glass[i], parts);
            auto* on = theme::link(part < 0 ? tr("first piece")
                                            : tr("piece %1 of %2, move on").arg(part + 1).arg(parts.size()),
                                   "next-part", holder);
            on->setToolTip(tr("It is larger than the glass: puts its next piece on the glass"));
            connect(on, &QPushButton::clicked, this, [this] {
                lay_next_part(scanners_);
                refresh();
            });
            row->addWidget(on);
        }
        auto* over = theme::link(tr("turn over"), {}, holder);
        over->setToolTip(tr("Turns it upside down"));
        connect(over, &QPushButton::clicked, angle,
                [angle] { angle->setValue(angle->value() > 0 ? angle->value() - 180 : angle->value() + 180); });
        row->addWidget(over);
        auto* away = theme::link(tr("remove"), {}, holder);
        connect(away, &QPushButton::clicked, this, [this, i] {
            BenchSetup setup = scanners_.bench().bench();
            if (i < setup.glass.size()) setup.glass.erase(setup.glass.begin() + static_cast<ptrdiff_t>(i));
            scanners_.set_bench(setup);
            refresh();
        });
        row->addWidget(away);
        laid_->addWidget(holder);
    }
}

}
