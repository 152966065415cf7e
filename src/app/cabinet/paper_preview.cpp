#include "app/cabinet/paper_preview.h"

#include "app/cabinet/paper_words.h"
#include "app/models/cabinet/cabinet_search.h"
#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QPainter>

namespace yelvin {

PaperPreview::PaperPreview(CabinetSearch& search, QWidget* parent) : QWidget(parent), search_(search) {
    setObjectName("paper-preview");
    setAccessibleName(tr("Page with the match"));
    setMinimumSize(200, 200);
    connect(&search_, &CabinetSearch::looked_at, this, qOverload<>(&QWidget::update));
}

void PaperPreview::paintEvent(QPaintEvent*) {
    const QImage& picture = search_.picture();
    if (picture.isNull() || !search_.current()) return;
    QPainter painter(this);
    const auto& c = theme::colours();
    const QSize size = picture.size().scaled(this->size() - QSize(2, 2), Qt::KeepAspectRatio);
    const QRectF at((width() - size.width()) / 2.0, 1, size.width(), size.height());
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(at, picture);
    painter.setPen(c.hairline);
    painter.drawRect(at.adjusted(-1, -1, 0, 0));
    const auto page = static_cast<size_t>(search_.page());
    if (page >= search_.pages().size()) return;
    int match = 0;
    for (size_t i = 0; i < page; ++i) match += static_cast<int>(search_.pages()[i].marks.size());
    QColor wash = c.plum;
    wash.setAlphaF(0.28F);
    for (const cv::Rect2d& each : search_.pages()[page].marks) {
        const QRectF box = on_picture(each, search_.pages()[page], at).adjusted(-1.5, -1.5, 1.5, 1.5);
        painter.fillRect(box, wash);
        if (match++ != search_.match()) continue;
        painter.setPen(QPen(c.plum, 2));
        painter.drawRect(box);
    }
}

void PaperPreview::mousePressEvent(QMouseEvent*) { search_.next_match(1); }

void PaperPreview::wheelEvent(QWheelEvent* event) {
    if (event->angleDelta().y() != 0) search_.turn_to(search_.page() + (event->angleDelta().y() < 0 ? 1 : -1));
}

}
