#include "app/run/resolution_card.h"

#include "app/models/incoming.h"
#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"
#include "core/raster/units.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QSpinBox>

namespace yelvin {

ResolutionCard::ResolutionCard(Incoming& files, QWidget* parent) : QFrame(parent), files_(files) {
    setObjectName("resolution");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(18, 10, 12, 10);
    row->setSpacing(10);
    words_ = new QLabel(this);
    words_->setObjectName("resolution-words");
    words_->setWordWrap(true);
    row->addWidget(words_, 1);
    dpi_ = new QSpinBox(this);
    dpi_->setObjectName("resolution-dpi");
    dpi_->setRange(50, 4800);
    dpi_->setValue(300);
    dpi_->setSuffix(" dpi");
    dpi_->setAccessibleName(tr("the pictures' resolution"));
    row->addWidget(dpi_);
    auto* leave = new QPushButton(tr("leave them out"), this);
    leave->setObjectName("resolution-leave");
    leave->setProperty("kind", "link");
    auto* take = new QPushButton(tr("Take them in"), this);
    take->setObjectName("resolution-take");
    row->addWidget(leave);
    row->addWidget(take);
    connect(take, &QPushButton::clicked, this, [this] { files_.add_unsized(dpi_->value()); });
    connect(leave, &QPushButton::clicked, &files_, &Incoming::leave_unsized);
    connect(dpi_, &QSpinBox::valueChanged, this, &ResolutionCard::refresh);
    connect(&files_, &Incoming::resolution_wanted, this, &ResolutionCard::refresh);
    refresh();
}

void ResolutionCard::refresh() {
    const auto& files = files_.without_resolution();
    setVisible(!files.isEmpty());
    if (files.isEmpty()) return;
    const Incoming::Unsized& first = files.front();
    const QString size =
        tr("%1 × %2 dots: %3 × %4 mm at %5 dpi")
            .arg(first.width_px)
            .arg(first.height_px)
            .arg(mm_words(px_to_mm(first.width_px, dpi_->value())), mm_words(px_to_mm(first.height_px, dpi_->value())))
            .arg(dpi_->value());
    const QString name = QFileInfo(first.file).fileName();
    words_->setText(files.size() == 1 ? tr("%1 does not say how large it is. %2.").arg(name, size)
                                      : tr("%1 and %2 more do not say how large they are. The first has %3.")
                                            .arg(name)
                                            .arg(files.size() - 1)
                                            .arg(size));
}

void ResolutionCard::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.paper);
    painter.fillRect(QRect(0, 0, 5, height()), c.amber);
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(0, height() - 1, width(), height() - 1);
}

}
