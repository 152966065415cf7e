#include "app/run/resolution_card.h"

#include "app/models/tray/incoming.h"
#include "app/ticketbar/ticket_bar.h"
#include "core/raster/units.h"

#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>

namespace yelvin {

ResolutionCard::ResolutionCard(Incoming& files, QWidget* parent) : QuestionCard("resolution", parent), files_(files) {
    dpi_ = new QSpinBox(this);
    dpi_->setObjectName("resolution-dpi");
    dpi_->setRange(50, 4800);
    dpi_->setValue(300);
    dpi_->setSuffix(" dpi");
    dpi_->setAccessibleName(tr("resolution of the pictures"));
    add(dpi_);
    auto* leave = add_link(tr("leave them out"), "resolution-leave");
    auto* take = add_button(tr("Add them"), "resolution-take");
    connect(take, &QPushButton::clicked, this, [this] { files_.add_unsized(dpi_->value()); });
    connect(leave, &QPushButton::clicked, this, &ResolutionCard::give_up);
    connect(dpi_, &QSpinBox::valueChanged, this, &ResolutionCard::refresh);
    connect(&files_, &Incoming::resolution_wanted, this, &ResolutionCard::refresh);
    refresh();
}

void ResolutionCard::give_up() { files_.leave_unsized(); }

void ResolutionCard::refresh() {
    const auto& files = files_.without_resolution();
    appear(!files.isEmpty());
    if (files.isEmpty()) return;
    const Incoming::Unsized& first = files.front();
    const QString size =
        tr("%1 × %2 px: %3 × %4 mm at %5 dpi")
            .arg(first.width_px)
            .arg(first.height_px)
            .arg(mm_words(px_to_mm(first.width_px, dpi_->value())), mm_words(px_to_mm(first.height_px, dpi_->value())))
            .arg(dpi_->value());
    const QString name = QFileInfo(first.file).fileName();
    words()->setText(
        files.size() == 1
            ? tr("%1 has no resolution. %2.").arg(name, size)
            : tr("%1 and %2 more have no resolution. The first: %3.").arg(name).arg(files.size() - 1).arg(size));
}

}
