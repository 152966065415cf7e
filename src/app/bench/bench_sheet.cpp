#include "app/bench/bench_sheet.h"

#include "app/theme/theme.h"

#include <QCheckBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace yelvin {

namespace {

QString paper_name(const QString& file) {
    QString name = QFileInfo(file).completeBaseName().replace('-', ' ');
    if (!name.isEmpty()) name[0] = name[0].toUpper();
    return name;
}

QPushButton* link(const QString& words, QWidget* parent, const char* kind = "link") {
    auto* button = new QPushButton(words, parent);
    button->setProperty("kind", kind);
    button->setCursor(Qt::PointingHandCursor);
    return button;
}

}

LaidPaper laid_down(const QString& file, const std::vector<LaidPaper>& already) {
    LaidPaper paper{file.toStdString()};
    if (const auto size = original_size(paper.file)) {
        const double shift = 6.0 * static_cast<double>(already.size());
        const bool sheet = size->width > 180;
        const double x = sheet ? 0 : 12 + shift, y = sheet ? 0 : 14 + shift * 12;
        paper.x_mm = x + size->width / 2;
        paper.y_mm = std::min(y, std::max(0.0, 297 - size->height)) + size->height / 2;
    }
    return paper;
}

BenchSheet::BenchSheet(Desk& desk, QWidget* parent) : QFrame(parent, Qt::Popup | Qt::FramelessWindowHint), desk_(desk) {
    setObjectName("sheet");
    setAttribute(Qt::WA_DeleteOnClose);
    auto* columns = new QHBoxLayout(this);
    columns->setContentsMargins(16, 14, 16, 14);
    columns->setSpacing(24);
    auto* left = new QVBoxLayout;
    auto* right = new QVBoxLayout;
    columns->addLayout(left);
    columns->addLayout(right);
    const auto heading = [this](const QString& words) {
        auto* label = new QLabel(words, this);
        label->setFont(theme::strong());
        return label;
    };
    left->addWidget(heading(tr("Papers to lay on the glass")));
    papers_ = new QVBoxLayout;
    papers_->setSpacing(0);
    left->addLayout(papers_);
    auto* own = link(tr("a picture file …"), this, "item");
    left->addWidget(own, 0, Qt::AlignLeft);
    left->addStretch();
    connect(own, &QPushButton::clicked, this, [this] {
        const QString file = QFileDialog::getOpenFileName(
            parentWidget(), tr("A picture to lay on the glass"), QDir::homePath(),
            tr("Pictures and drawings (*.png *.jpg *.jpeg *.tif *.tiff *.bmp *.webp *.svg *.pdf)"));
        if (!file.isEmpty()) lay(file);
    });
    right->addWidget(heading(tr("On the glass now")));
    laid_ = new QVBoxLayout;
    right->addLayout(laid_);
    right->addStretch();
    auto* pace = new QCheckBox(tr("at a real scanner's pace"), this);
    pace->setChecked(desk_.bench().bench().real_pace);
    connect(pace, &QCheckBox::toggled, this, [this](bool on) {
        BenchSetup setup = desk_.bench().bench();
        setup.real_pace = on;
        desk_.set_bench(setup);
    });
    right->addWidget(pace);
    auto* note = new QLabel(tr("This is the simulated scanner's own sheet; a real one has paper."), this);
    note->setProperty("quiet", true);
    note->setWordWrap(true);
    right->addWidget(note);
    fill_papers();
    refresh();
}

void BenchSheet::open() {
    setMinimumSize(720, 340);
    adjustSize();
    const QRect around = parentWidget()->window()->geometry();
    move(around.center().x() - width() / 2, around.top() + theme::bar_height + 30);
    show();
}

void BenchSheet::fill_papers() {
    const QDir folder(desk_.originals_folder());
    for (const QString& file : folder.entryList({"*.svg"}, QDir::Files, QDir::Name)) {
        auto* button = link(paper_name(file), this, "item");
        button->setObjectName("lay:" + file);
        connect(button, &QPushButton::clicked, this, [this, path = folder.filePath(file)] { lay(path); });
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
    BenchSetup setup = desk_.bench().bench();
    const auto size = original_size(file.toStdString());
    // A sheet as large as the glass takes the place of what lay there.
    if (size && size->width > 180) setup.glass.clear();
    setup.glass.push_back(laid_down(file, setup.glass));
    desk_.set_bench(setup);
    refresh();
}

void BenchSheet::change(size_t index, const std::function<void(LaidPaper&)>& how) {
    BenchSetup setup = desk_.bench().bench();
    if (index < setup.glass.size()) how(setup.glass[index]);
    desk_.set_bench(setup);
}

void BenchSheet::refresh() {
    while (QLayoutItem* item = laid_->takeAt(0)) {
        if (item->widget()) {
            item->widget()->hide();
            item->widget()->deleteLater();
        }
        delete item;
    }
    const auto& glass = desk_.bench().bench().glass;
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
        auto* over = link(tr("other way up"), holder);
        over->setToolTip(tr("Lay it the other way up"));
        connect(over, &QPushButton::clicked, angle,
                [angle] { angle->setValue(angle->value() > 0 ? angle->value() - 180 : angle->value() + 180); });
        row->addWidget(over);
        auto* away = link(tr("take away"), holder);
        connect(away, &QPushButton::clicked, this, [this, i] {
            BenchSetup setup = desk_.bench().bench();
            if (i < setup.glass.size()) setup.glass.erase(setup.glass.begin() + static_cast<ptrdiff_t>(i));
            desk_.set_bench(setup);
            refresh();
        });
        row->addWidget(away);
        laid_->addWidget(holder);
    }
}

}
