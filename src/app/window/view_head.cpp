#include "app/window/view_head.h"

#include "app/keys.h"
#include "app/models/scanning/glass.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/scanning/scanning.h"
#include "app/models/scanning/stitching.h"
#include "app/models/scanning/strip_model.h"
#include "app/models/text/page_texts.h"
#include "app/models/text/reading.h"
#include "app/models/text/text_choice.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/room.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"
#include "core/raster/paper.h"
#include "core/text/languages.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace yelvin {

namespace {

constexpr int head_height = 29;

QString glass_facts(const ViewHead::Around& models) {
    if (!models.scan.scanners.chosen()) return {};
    const Capabilities& can = models.scan.scanners.capabilities();
    if (models.scan.next_scan.source() != Source::Glass)
        return ViewHead::tr("feeder, up to %1 mm wide").arg(can.feeder.width);
    return ViewHead::tr("glass %1 × %2 mm").arg(can.glass.width).arg(can.glass.height);
}

QString pieces_facts(const ViewHead::Around& models) {
    const Layout& layout = models.pages.stitching.layout();
    if (layout.placed() < 2) return {};
    const SizeMm mm{px_to_mm(layout.size.width, layout.dpi), px_to_mm(layout.size.height, layout.dpi)};
    return ViewHead::tr("%1 × %2 mm · %3 dpi · %4 × %5")
        .arg(mm_words(mm.width), mm_words(mm.height))
        .arg(layout.dpi)
        .arg(layout.size.width)
        .arg(layout.size.height);
}

QString page_facts(const ViewHead::Around& models) {
    const PagePtr page = models.pages.choice.current();
    if (!page || models.scan.run.passing()) return {};
    const Original& o = page->original;
    const auto place = find_page(models.pages.tray.tray(), page->id);
    const SizePx px = developed_size(page->recipe, {o.width_px, o.height_px}, o.dpi);
    const SizeMm mm{px_to_mm(px.width, o.dpi), px_to_mm(px.height, o.dpi)};
    const auto paper = nearest_paper(mm);
    const QString called = paper ? QString::fromUtf8(paper->name.data())
                                 : ViewHead::tr("%1 × %2 mm").arg(mm_words(mm.width), mm_words(mm.height));
    return ViewHead::tr("%1 of %2   %3 · %4 dpi · %5 × %6")
        .arg(place->page + 1)
        .arg(models.pages.tray.tray().documents[place->document]->pages.size())
        .arg(called)
        .arg(o.dpi)
        .arg(px.width)
        .arg(px.height);
}

// Returns rich text; the number of words that remain to be checked is coloured.
QString text_facts(const ViewHead::Around& models) {
    const PagePtr page = models.pages.choice.current();
    const auto place = page ? find_page(models.pages.tray.tray(), page->id) : std::nullopt;
    if (!place || models.scan.run.passing()) return {};
    const Document& document = *models.pages.tray.tray().documents[place->document];
    QStringList facts{ViewHead::tr("%1 of %2").arg(place->page + 1).arg(document.pages.size())};
    const ShownTextPtr text = models.text.words.shown();
    if (!text) return facts.front();
    const size_t here = text->doubtful.size();
    const auto all = static_cast<size_t>(models.text.texts.doubtful_left(document));
    facts.append(ViewHead::tr("%1 words").arg(text->words.size()));
    QString left = here == 0 ? ViewHead::tr("none doubtful here") : ViewHead::tr("%1 doubtful left").arg(here);
    if (all > here) left += ViewHead::tr(", %1 in the document").arg(all);
    facts.append(here == 0 && all == 0
                     ? ViewHead::tr("none doubtful")
                     : QString("<span style='color:%1'>%2</span>").arg(theme::colours().amber.name(), left));
    if (!text->text.layer.language.empty()) {
        const bool found = models.text.reading.languages_of(*page) != text->text.layer.language;
        const QString language = QString::fromStdString(language_words(text->text.layer.language));
        facts.append(found ? ViewHead::tr("%1 (detected)").arg(language) : language);
    }
    return facts.join(" · ");
}

QString facts(const ViewHead::Around& models, Look look) {
    switch (look) {
    case Look::Glass:
        return glass_facts(models);
    case Look::Pieces:
        return pieces_facts(models);
    case Look::Strip:
        return models.scan.strip.strip().best.empty() ? QString() : models.scan.strip.strip().words;
    case Look::Text:
        return text_facts(models);
    case Look::Page:
        break;
    }
    return page_facts(models);
}

}

ViewHead::ViewHead(const Around& around, QWidget* parent) : QWidget(parent), models_(around) {
    setObjectName("head");
    setFixedHeight(head_height);
    setToolTip(with_key(tr("Double-click: only the view, or everything"), Do::OnlyView));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(6, 1, 10, 0);
    row->setSpacing(4);
    const auto tab = [&](const QString& words, const char* name, const QString& tip, Look look) {
        auto* made = theme::button(words, theme::Kind::Tab, name, this);
        made->setToolTip(tip);
        made->setCheckable(true);
        row->addWidget(made, 0, Qt::AlignBottom);
        connect(made, &QPushButton::clicked, this, [this, look] { emit look_wanted(look); });
        return made;
    };
    glass_ = tab(tr("Glass"), "tab-glass", with_key(tr("What is on the glass"), Do::LookAtGlass), Look::Glass);
    page_ = tab(tr("Page"), "tab-page", with_key(tr("The selected page"), Do::LookAtPage), Look::Page);
    text_ = tab(tr("Text"), "tab-text", with_key(tr("The text of the page"), Do::LookAtText), Look::Text);
    strip_ = tab(tr("Test strip"), "tab-strip", with_key(tr("One detail at several resolutions"), Do::LookAtStrip),
                 Look::Strip);
    pieces_ = tab(tr("Pieces"), "tab-pieces", tr("The pieces that are being stitched"), Look::Pieces);
    row->addStretch();
    facts_ = new QLabel(this);
    facts_->setObjectName("head-facts");
    facts_->setProperty("quiet", true);
    row->addWidget(facts_);
    row->addSpacing(12);
    preview_ = theme::link(tr("preview"), "preview-again", this);
    preview_->setToolTip(with_key(tr("A quick coarse scan of the glass"), Do::Preview));
    zoom_ = theme::link("fit", "zoom", this);
    zoom_->setToolTip(tr("Zoom (wheel, + and −, 0 to fit, 1 for actual pixels)"));
    row->addWidget(preview_);
    row->addWidget(zoom_);
    all_ = theme::link(tr("show everything"), "bring-back", this);
    all_->setToolTip(with_key(tr("Shows the ticket, the out tray and the side column again"), Do::OnlyView));
    row->addWidget(all_);
    connect(all_, &QPushButton::clicked, this, [this] { models_.room.leave_view_alone(false); });
    connect(preview_, &QPushButton::clicked, &models_.scan.run, &Scanning::preview);
    connect(zoom_, &QPushButton::clicked, this, &ViewHead::zoom_wanted);
}

void ViewHead::mouseDoubleClickEvent(QMouseEvent*) { models_.room.leave_view_alone(!models_.room.is_view_alone()); }

void ViewHead::show_for(Look look, const QString& zoom) {
    const bool chosen = models_.scan.scanners.chosen(), stack = models_.scan.next_scan.source() != Source::Glass;
    glass_->setChecked(look == Look::Glass);
    page_->setChecked(look == Look::Page);
    text_->setChecked(look == Look::Text);
    strip_->setChecked(look == Look::Strip);
    pieces_->setChecked(look == Look::Pieces);
    pieces_->setVisible(models_.pages.stitching.is_open());
    if (look == Look::Glass) glass_->setText(stack && chosen ? tr("Feeder") : tr("Glass"));
    preview_->setVisible(look == Look::Glass && chosen && !models_.scan.glass.preview().isNull() && !stack);
    preview_->setText(models_.scan.glass.is_out_of_date() ? tr("preview again") : tr("preview"));
    preview_->setEnabled(!models_.scan.scanners.in_use());
    zoom_->setVisible((look == Look::Page || look == Look::Text) && !models_.pages.choice.current_id().isEmpty());
    zoom_->setText(zoom);
    all_->setVisible(models_.room.is_view_alone());
    facts_->setText(facts(models_, look));
}

QRect ViewHead::zoom_rect() const { return {zoom_->mapToGlobal(QPoint(0, 0)), zoom_->size()}; }

}
