#include "app/stitch/stitch_panel.h"

#include "app/theme/parts.h"
#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace yelvin {

StitchPanel::StitchPanel(Stitching& stitching, QWidget* parent) : QWidget(parent), stitching_(stitching) {
    setFixedWidth(theme::side_width);
    setObjectName("stitch-panel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 13, 14, 12);
    column->setSpacing(0);
    title_ = new QLabel(this);
    title_->setContentsMargins(0, 0, 0, 8);
    advice_ = new QLabel(this);
    advice_->setObjectName("stitch-advice");
    advice_->setWordWrap(true);
    advice_->setContentsMargins(0, 0, 0, 10);
    column->addWidget(title_);
    column->addWidget(advice_);
    column->addWidget(theme::hairline(this));
    auto* inside = new QWidget;
    list_ = new QVBoxLayout(inside);
    list_->setContentsMargins(0, 6, 0, 6);
    list_->setSpacing(0);
    column->addWidget(theme::scrolled(inside, this), 1);
    column->addWidget(theme::hairline(this));
    walk_ = theme::link(tr("check the seams"), "stitch-walk", this);
    walk_->setToolTip(tr("Shows every seam at 100% (Space)"));
    scale_ = theme::link({}, "stitch-scale", this);
    scale_->setToolTip(tr("Scans from one scanner have the same scale; photographs may not."));
    leave_ = theme::link(tr("close"), "stitch-leave", this);
    leave_->setToolTip(tr("Closes; the pieces stay in the tray (Esc)"));
    make_ = theme::button(tr("Make one page"), theme::Kind::Plain, "stitch-make", this);
    make_->setFixedHeight(36);
    make_->setToolTip(tr("Stitches the pieces into one page that keeps them (Enter)"));
    auto* links = new QHBoxLayout;
    links->setContentsMargins(0, 8, 0, 8);
    links->setSpacing(12);
    links->addWidget(walk_);
    links->addStretch();
    links->addWidget(leave_);
    column->addLayout(links);
    column->addWidget(scale_, 0, Qt::AlignLeft);
    column->addSpacing(8);
    column->addWidget(make_);
    connect(walk_, &QPushButton::clicked, this,
            [this] { stitching_.place() >= 0 ? stitching_.walk_to(stitching_.place() + 1) : stitching_.start_walk(); });
    connect(leave_, &QPushButton::clicked, &stitching_, &Stitching::leave);
    connect(make_, &QPushButton::clicked, &stitching_, &Stitching::accept);
    connect(scale_, &QPushButton::clicked, this,
            [this] { stitching_.set_scale(stitching_.scale() == Scale::Known ? Scale::Free : Scale::Known); });
    connect(&stitching_, &Stitching::changed, this, &StitchPanel::refresh);
    refresh();
}

void StitchPanel::showEvent(QShowEvent*) { refresh(); }

void StitchPanel::refresh() {
    const auto& c = theme::colours();
    const Layout& layout = stitching_.layout();
    const size_t pieces = stitching_.pieces().size(), placed = layout.placed();
    title_->setText(
        QString("<b>%1</b>&nbsp;&nbsp;<span style='color:%2'>%3</span>")
            .arg(tr("Pieces"), c.quiet.name(),
                 pieces < 2 || stitching_.working() ? QString() : tr("%1 of %2 placed").arg(placed).arg(pieces)));
    const bool good = stitching_.advice_is_good();
    advice_->setText(stitching_.composing() ? tr("Stitching the pieces…") : stitching_.advice());
    advice_->setStyleSheet(QString("color: %1").arg((good ? c.ink : c.amber).name()));
    make_->setEnabled(stitching_.can_accept());
    walk_->setEnabled(stitching_.can_accept());
    walk_->setText(stitching_.place() >= 0 ? tr("next place") : tr("check the seams"));
    scale_->setText(stitching_.scale() == Scale::Known ? tr("allow different scales") : tr("assume one scale"));
    scale_->setVisible(pieces > 1);
    refresh_list();
}

void StitchPanel::refresh_list() {
    if (!isVisible()) return;
    const theme::FocusKept focus(this);
    theme::clear(list_);
    const auto& c = theme::colours();
    const Layout& layout = stitching_.layout();
    const auto line = [&](const QString& mark, const QColor& colour, const QString& words, const QString& small,
                          const QString& action = {}, const std::function<void()>& act = {}) {
        auto* label = new QLabel(
            QString(
                "<table cellspacing='0'><tr><td width='18' style='color:%1'><b>%2</b></td><td>%3%4</td></tr></table>")
                .arg(colour.name(), mark, words.toHtmlEscaped(),
                     small.isEmpty()
                         ? QString()
                         : QString("<br><span style='color:%1'>%2</span>").arg(c.quiet.name(), small.toHtmlEscaped())),
            this);
        label->setObjectName("stitch-line");
        label->setProperty("plain", words + ": " + small);
        label->setWordWrap(true);
        label->setContentsMargins(0, 4, 0, action.isEmpty() ? 4 : 0);
        list_->addWidget(label);
        if (action.isEmpty()) return;
        auto* link = theme::link(action, "stitch-act", this);
        auto* row = new QHBoxLayout;
        row->setContentsMargins(18, 0, 0, 4);
        row->addWidget(link);
        row->addStretch();
        list_->addLayout(row);
        connect(link, &QPushButton::clicked, this, act);
    };
    for (size_t i = 0; i < stitching_.pieces().size(); ++i) {
        const auto& piece = stitching_.pieces()[i];
        if (!piece.failed.empty()) line("!", c.brick, tr("Piece %1").arg(i + 1), QString::fromStdString(piece.failed));
        if (stitching_.working() || i >= layout.pieces.size() || layout.pieces[i].placed || !piece.look) continue;
        line("!", c.amber, tr("Piece %1 is left out").arg(i + 1),
             QString::fromStdString(layout.pieces[i].reason) + " " + tr("Or drag it to its place."), tr("remove"),
             [this, i] { stitching_.take_out(static_cast<int>(i)); });
    }
    if (!stitching_.working()) {
        std::vector<Seam> seams = layout.seams;
        std::ranges::stable_sort(seams, {}, [](const Seam& s) { return std::pair(s.doubt.empty(), s.quality()); });
        for (const Seam& seam : seams) {
            if (seam.empty && seam.doubt.empty()) continue;
            const QString words = tr("%1 and %2").arg(seam.a + 1).arg(seam.b + 1);
            if (seam.doubt.empty())
                line("✓", c.moss, words,
                     tr("%1% match, %2 mm off").arg(std::lround(seam.agreement * 100)).arg(seam.off_mm, 0, 'f', 2));
            else
                line("?", c.amber, words, QString::fromStdString(seam.doubt));
        }
        for (const std::string& warning : layout.warnings)
            line("!", c.amber, tr("Scale"), QString::fromStdString(warning));
    }
    list_->addStretch();
}

}
