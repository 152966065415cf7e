#include "app/run/blank_sheet.h"

#include "app/models/scanning/scanning.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/pictures.h"
#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QVBoxLayout>

namespace yelvin {

namespace {

// The slider shows the square root of the limit, because small values matter most.
constexpr double most_percent = 2.0;
constexpr int slider_steps = 200;
double percent_at(int step) {
    const double share = static_cast<double>(step) / slider_steps;
    return std::round(share * share * most_percent * 1000) / 1000;
}
int step_at(double percent) {
    return static_cast<int>(std::lround(std::sqrt(std::clamp(percent / most_percent, 0.0, 1.0)) * slider_steps));
}

QString percent_words(double percent) { return QString("%1%").arg(percent, 0, 'f', percent < 0.1 ? 3 : 2); }

}

// The sides as small pictures, the one with the least ink first; sides that would be left out are crossed out.
class BlankSides : public QWidget {
  public:
    BlankSides(Pictures& pictures, std::vector<PagePtr> pages, QWidget* parent)
        : QWidget(parent), pictures_(pictures), pages_(std::move(pages)) {
        setObjectName("blank-sides");
        connect(&pictures_, &Pictures::ready, this, [this] { update(); });
        const int rows = (static_cast<int>(pages_.size()) + columns - 1) / columns;
        setMinimumSize(columns * cell_width, std::max(1, rows) * cell_height);
    }
    void set_limit(double percent) {
        limit_ = percent;
        update();
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        const auto& c = theme::colours();
        QPainter painter(this);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        for (size_t i = 0; i < pages_.size(); ++i) {
            const Page& page = *pages_[i];
            const int x = static_cast<int>(i) % columns * cell_width, y = static_cast<int>(i) / columns * cell_height;
            const QRectF field(x + 8, y + 6, cell_width - 16, cell_height - 44);
            const QImage image = pictures_.thumbnail(QString::fromStdString(page.id));
            const QSizeF size = image.isNull() ? QSizeF(field.height() * 0.7, field.height())
                                               : QSizeF(image.size()).scaled(field.size(), Qt::KeepAspectRatio);
            const QRectF sheet(field.center().x() - size.width() / 2, field.top(), size.width(), size.height());
            const bool goes = page.notices.blank(limit_);
            if (!image.isNull()) painter.drawImage(sheet, image);
            if (goes) {
                QColor veil = c.desk;
                veil.setAlpha(170);
                painter.fillRect(sheet, veil);
                painter.setPen(QPen(c.brick, 2));
                painter.drawLine(sheet.topLeft(), sheet.bottomRight());
            }
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(goes ? c.brick : c.hairline, 1));
            painter.drawRect(sheet);
            painter.setFont(theme::measure());
            painter.setPen(goes ? c.brick : c.ink);
            const QRectF words(x, sheet.bottom() + 3, cell_width, 15);
            painter.drawText(words, Qt::AlignCenter,
                             page.notices.writing ? QObject::tr("%1 ✎").arg(percent_words(page.notices.ink_percent))
                                                  : percent_words(page.notices.ink_percent));
            painter.setPen(goes ? c.brick : c.quiet);
            const QString place =
                page.sheet > 0
                    ? QObject::tr("%1 %2").arg(page.sheet).arg(page.back ? QObject::tr("back") : QObject::tr("front"))
                    : QString();
            painter.drawText(words.translated(0, 14), Qt::AlignCenter,
                             goes ? QObject::tr("%1 · left out").arg(place) : place);
        }
    }

  private:
    static constexpr int columns = 7, cell_width = 88, cell_height = 136;
    Pictures& pictures_;
    std::vector<PagePtr> pages_;
    double limit_ = 0;
};

BlankSheet::BlankSheet(Scanning& run, Pictures& pictures, Tickets& tickets, QWidget* parent)
    : Popup(parent), run_(run), pictures_(pictures), tickets_(tickets), pages_(run.judged_pages()) {
    std::ranges::stable_sort(
        pages_, {}, [](const PagePtr& page) { return std::pair(page->notices.writing, page->notices.ink_percent); });
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 16, 14);
    auto* title = new QLabel(tr("Blank limit"), this);
    title->setFont(theme::strong());
    column->addWidget(title);
    auto* line = new QHBoxLayout;
    line->addWidget(new QLabel(tr("Leave out sides with less ink than"), this));
    slider_ = new QSlider(Qt::Horizontal, this);
    slider_->setObjectName("blank-limit");
    slider_->setRange(0, slider_steps);
    slider_->setValue(step_at(tickets.ticket().pages.blank_limit_percent));
    slider_->setAccessibleName(tr("blank limit, in percent of the side"));
    line->addWidget(slider_, 1);
    value_ = new QLabel(this);
    value_->setMinimumWidth(54);
    value_->setAlignment(Qt::AlignCenter);
    line->addWidget(value_);

    column->addLayout(line);
    auto* scroll = new QScrollArea(this);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->viewport()->setAutoFillBackground(false);
    sides_ = new BlankSides(pictures, pages_, scroll);
    sides_->setAutoFillBackground(false);
    scroll->setWidget(sides_);
    scroll->setMinimumHeight(std::min(292, sides_->minimumHeight() + 8));
    column->addWidget(scroll);
    auto* foot = new QHBoxLayout;
    count_ = new QLabel(this);
    count_->setObjectName("blank-count");
    foot->addWidget(count_, 1);
    auto* apply = new QPushButton(tr("Leave out"), this);
    apply->setObjectName("blank-apply");
    foot->addWidget(apply);
    column->addLayout(foot);
    auto* note =
        new QLabel(tr("✎ marks writing or a stamp, counted as 0.15% ink, so that a page number or a pencil note stays. "
                      "Left-out sides stay in the tray as slips; double-click one to bring it back."),
                   this);
    note->setProperty("quiet", true);
    note->setWordWrap(true);
    column->addWidget(note);
    connect(slider_, &QSlider::valueChanged, this, &BlankSheet::refresh);
    connect(apply, &QPushButton::clicked, this, [this] {
        run_.set_blank_limit(limit());
        close();
    });
    refresh();
}

double BlankSheet::limit() const { return percent_at(slider_->value()); }

int BlankSheet::going() const {
    return static_cast<int>(
        std::ranges::count_if(pages_, [this](const PagePtr& page) { return page->notices.blank(limit()); }));
}

void BlankSheet::refresh() {
    value_->setText(percent_words(limit()));
    sides_->set_limit(limit());
    count_->setText(pages_.empty() ? tr("No unsaved pages yet; the limit applies to later scans.")
                    : going() == 1 ? tr("1 of %1 sides is left out").arg(pages_.size())
                                   : tr("%1 of %2 sides are left out").arg(going()).arg(pages_.size()));
}

void BlankSheet::open() {
    setFixedWidth(680);
    open_in_the_middle(150);
}

}
