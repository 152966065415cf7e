#include "app/errands/print_look.h"

#include "app/models/errands/errands.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/pictures.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"
#include "app/theme/theme.h"
#include "core/developing/recipe.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QSpinBox>

namespace yelvin {

namespace {
constexpr int look_width = 300, look_height = 360;
}

SheetPicture::SheetPicture(QWidget* parent) : QWidget(parent) {
    setObjectName("sheet-picture");
    setFixedSize(look_width, look_height);
}

void SheetPicture::show_side(const PrintedSide& side, SizeMm sheet, double margin_mm, std::vector<QImage> pages,
                             bool grey) {
    side_ = side;
    sheet_ = sheet;
    margin_ = margin_mm;
    pages_ = std::move(pages);
    grey_ = grey;
    update();
}

void SheetPicture::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.fillRect(rect(), c.desk);
    const double scale = std::min((width() - 24) / sheet_.width, (height() - 24) / sheet_.height);
    const QRectF paper((width() - sheet_.width * scale) / 2, (height() - sheet_.height * scale) / 2,
                       sheet_.width * scale, sheet_.height * scale);
    painter.fillRect(paper, Qt::white);
    painter.setPen(QPen(c.hairline, 1));
    painter.drawRect(paper);
    painter.save();
    painter.setClipRect(paper);
    for (size_t i = 0; i < side_.size() && i < pages_.size(); ++i) {
        const PrintedPage& page = side_[i];
        const RectMm& at = page.place;
        QImage image = grey_ ? pages_[i].convertToFormat(QImage::Format_Grayscale8) : pages_[i];
        painter.save();
        painter.translate(paper.topLeft() + QPointF((at.x + at.width / 2) * scale, (at.y + at.height / 2) * scale));
        if (page.turned) painter.rotate(90);
        const QSizeF lies = (page.turned ? QSizeF(at.height, at.width) : QSizeF(at.width, at.height)) * scale;
        const QRectF place(QPointF(-lies.width() / 2, -lies.height() / 2), lies);
        if (image.isNull())
            painter.fillRect(place, c.desk);
        else
            painter.drawImage(place, image);
        painter.setPen(QPen(c.hairline, 1));
        painter.drawRect(place);
        painter.restore();
    }
    painter.restore();
    // The margin that the printer cannot reach.
    painter.setPen(QPen(c.quiet, 1, Qt::DotLine));
    const double m = margin_ * scale;
    painter.drawRect(paper.adjusted(m, m, -m, -m));
}

namespace {

class PrintLook : public QWidget {
  public:
    PrintLook(const PrintLookModels& models, const QString& document_id, PhraseSheet* sheet)
        : QWidget(sheet), models_(models), document_(document_id.toStdString()), sheet_(sheet) {
        if (const DocumentPtr document = document_at(models_.tray.tray(), document_)) pages_ = document->kept_pages();
        for (const PagePtr& page : pages_) {
            const auto& o = page->original;
            const auto size = developed_size(page->recipe, {o.width_px, o.height_px}, o.dpi);
            sizes_.push_back({px_to_mm(size.width, o.dpi), px_to_mm(size.height, o.dpi)});
        }
        how_ = models_.errands.print_how(document_);
        build();
        models_.errands.outside().list_printers(
            {this, [this](const std::vector<PrinterSaid>& printers) { take(printers); }});
        refresh();
    }

  private:
    PrintLookModels models_;
    std::string document_;
    PhraseSheet* sheet_;
    std::vector<PagePtr> pages_;
    std::vector<SizeMm> sizes_;
    PrintHow how_;
    std::vector<PrinterSaid> printers_;
    size_t side_ = 0;
    SheetPicture* picture_ = nullptr;
    QLabel *where_ = nullptr, *wrong_ = nullptr;
    QPushButton *before_ = nullptr, *next_ = nullptr, *print_ = nullptr;
    QComboBox* printer_ = nullptr;
    QLineEdit* numbers_ = nullptr;

    void build() {
        auto* grid = new QGridLayout(this);
        grid->setContentsMargins(0, 4, 0, 4);
        grid->setHorizontalSpacing(18);
        picture_ = new SheetPicture(this);
        grid->addWidget(picture_, 0, 0, 10, 2);
        before_ = theme::link(tr("previous sheet"), "sheet-before", this);
        next_ = theme::link(tr("next sheet"), "sheet-next", this);
        where_ = new QLabel(this);
        where_->setObjectName("sheet-number");
        where_->setProperty("kind", "quiet");
        grid->addWidget(before_, 10, 0, Qt::AlignLeft);
        grid->addWidget(next_, 10, 1, Qt::AlignRight);
        grid->addWidget(where_, 11, 0, 1, 2, Qt::AlignHCenter);
        connect(before_, &QPushButton::clicked, this, [this] { --side_, refresh(); });
        connect(next_, &QPushButton::clicked, this, [this] { ++side_, refresh(); });
        add_fields(grid);
        add_choices(grid);
    }

    void add_fields(QGridLayout* grid) {
        const auto field = [&](int row, const QString& words, QWidget* edit) {
            grid->addWidget(theme::label_for(edit, words, this), row, 2);
            grid->addWidget(edit, row, 3);
        };
        printer_ = new QComboBox(this);
        printer_->setObjectName("look-printer");
        printer_->setMinimumWidth(190);
        field(0, tr("on"), printer_);
        connect(printer_, &QComboBox::activated, this, [this](int at) {
            how_.printer = printer_->itemData(at).toString().toStdString();
            refresh();
        });
        auto* copies = new QSpinBox(this);
        copies->setObjectName("look-copies");
        copies->setRange(1, 99);
        copies->setValue(how_.copies);
        field(1, tr("copies"), copies);
        connect(copies, &QSpinBox::valueChanged, this, [this](int count) { how_.copies = count, refresh(); });
        numbers_ = new QLineEdit(this);
        numbers_->setObjectName("look-pages");
        numbers_->setPlaceholderText(tr("all, or 1-3, 7"));
        field(2, tr("pages"), numbers_);
        connect(numbers_, &QLineEdit::textChanged, this, [this] { side_ = 0, refresh(); });
    }

    void add_choices(QGridLayout* grid) {
        int row = 3;
        for (const auto& [words, name, what] :
             {std::tuple{tr("fit to the sheet (off: true size)"), "look-fitted", &PrintHow::fitted},
              {tr("two pages on a sheet"), "look-two", &PrintHow::two_on_a_sheet},
              {tr("on both sides"), "look-both-sides", &PrintHow::both_sides},
              {tr("in grey"), "look-grey", &PrintHow::grey}}) {
            auto* box = new QCheckBox(words, this);
            box->setObjectName(name);
            box->setChecked(how_.*what);
            connect(box, &QCheckBox::toggled, this, [this, what = what](bool is) {
                how_.*what = is;
                side_ = 0;
                refresh();
            });
            grid->addWidget(box, row++, 2, 1, 2);
        }
        wrong_ = new QLabel(this);
        wrong_->setWordWrap(true);
        wrong_->setObjectName("look-wrong");
        grid->addWidget(wrong_, row, 2, 1, 2);
        print_ = new QPushButton(tr("Print"), this);
        print_->setObjectName("look-print");
        print_->setProperty("kind", "main");
        print_->setMinimumHeight(34);
        grid->addWidget(print_, 10, 2, 1, 2);
        grid->setRowStretch(9, 1);
        connect(print_, &QPushButton::clicked, this, [this] {
            const auto which = pages_to_print(numbers_->text().toStdString(), pages_.size());
            if (!which) return;
            sheet_->close();
            models_.errands.print_chosen(document_, how_, *which);
        });
    }

    void take(const std::vector<PrinterSaid>& printers) {
        printers_ = printers;
        printer_->clear();
        for (const PrinterSaid& each : printers) printer_->addItem(each.words, each.name);
        if (printers.empty()) printer_->addItem(tr("no printer: save a PDF"), QString());
        if (const int at = printer_->findData(QString::fromStdString(how_.printer)); at >= 0)
            printer_->setCurrentIndex(at);
        refresh();
    }

    PrinterSaid printer() const {
        for (const PrinterSaid& each : printers_)
            if (each.name == printer_->currentData().toString()) return each;
        return {};
    }

    void refresh() {
        const auto which = pages_to_print(numbers_->text().toStdString(), pages_.size());
        print_->setEnabled(which.has_value() && !pages_.empty());
        wrong_->setVisible(!which);
        if (!which) return wrong_->setText(QString::fromStdString(which.error().sentence));
        std::vector<SizeMm> sizes;
        for (const size_t page : *which) sizes.push_back(sizes_[page]);
        const PrinterSaid on = printer();
        const PrintLayout layout = print_layout(sizes, on.sheet, on.margin_mm, how_);
        wrong_->setVisible(layout.reaches_over);
        wrong_->setText(
            tr("At true size the page is larger than the sheet, so its edges are lost. Fit it to print all of it."));
        if (layout.sides.empty()) return;
        side_ = std::min(side_, layout.sides.size() - 1);
        std::vector<QImage> images;
        for (const PrintedPage& page : layout.sides[side_])
            images.push_back(models_.pictures.thumbnail(QString::fromStdString(pages_[(*which)[page.page]]->id)));
        picture_->show_side(layout.sides[side_], on.sheet, on.margin_mm, std::move(images), how_.grey);
        before_->setEnabled(side_ > 0);
        next_->setEnabled(side_ + 1 < layout.sides.size());
        const int sheets = layout.sheets(how_.both_sides);
        const int sheet = static_cast<int>(how_.both_sides ? side_ / 2 : side_) + 1;
        where_->setText((!how_.both_sides ? tr("sheet %1 of %2")
                         : side_ % 2 == 0 ? tr("sheet %1 of %2, front")
                                          : tr("sheet %1 of %2, back"))
                            .arg(sheet)
                            .arg(sheets));
        const int all = sheets * how_.copies;
        print_->setText(all == 1 ? tr("Print 1 sheet") : tr("Print %1 sheets").arg(all));
    }
};

}

PhraseSheet* open_print_look(const PrintLookModels& models, const QString& document_id, QWidget* parent) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("print-look");
    sheet->add_heading(PrintLook::tr("Print preview"));
    sheet->add_widget(new PrintLook(models, document_id, sheet));
    sheet->add_advice(PrintLook::tr("Dotted line: the printable area. True size prints without scaling."));
    const QPoint middle = parent->mapToGlobal(parent->rect().center());
    sheet->adjustSize();
    sheet->open_under({middle - QPoint(sheet->sizeHint().width() / 2, sheet->sizeHint().height() / 2), QSize(1, 1)});
    return sheet;
}

}
