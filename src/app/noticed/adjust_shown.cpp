// The part of AdjustPanel that shows the state of the page: the values, the enabled controls, and a summary of the
// changes in each fold.
#include "app/models/scanning/scanning.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/pictures.h"
#include "app/noticed/adjust_panel.h"
#include "app/theme/theme.h"
#include "core/developing/recipe_json.h"

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>

namespace yelvin {

void AdjustPanel::refresh() {
    const PagePtr page = choice_.current();
    if (!page) return;
    showing_ = true;
    const Recipe recipe = choice_.shown_recipe();
    const Adjust& a = recipe.adjust;
    for (SliderRow* row : rows_) row->show_value(a.*row->field().value);
    for (const auto& [box, field] : switches_) box->setChecked(a.*field.value > 0);
    levels_->set_points(a.black_point, a.white_point);
    const Ink now = recipe.ink.value_or(page->original.ink);
    for (int i = 0; i < 3; ++i) {
        inks_[i]->setChecked(static_cast<int>(now) == i);
        inks_[i]->setEnabled(i >= static_cast<int>(page->original.ink));
    }
    black_box_->setVisible(now == Ink::Black && page->original.ink != Ink::Black);
    const double tilt = recipe.tilt_degrees;
    tilt_->setText(tilt == 0 ? tr("no tilt")
                             : QString("%1%2°").arg(tilt > 0 ? "−" : "+").arg(std::abs(tilt), 0, 'f', 1));
    tilt_->setEnabled(tilt != 0);
    const Region frame = frame_of(page->recipe, page->original.size_mm());
    const double numbers[] = {frame.x_mm - frame.w_mm / 2, frame.y_mm - frame.h_mm / 2, frame.w_mm, frame.h_mm};
    for (int i = 0; i < 4; ++i) {
        if (!crop_[i]->hasFocus() || std::abs(crop_[i]->value() - numbers[i]) > 0.051) crop_[i]->setValue(numbers[i]);
    }
    crop_box_->setVisible(crop_button_->isChecked());
    swatch_->setVisible(a.drop_colour.has_value());
    if (a.drop_colour)
        swatch_->setStyleSheet(QString("background: %1; border: 1px solid %2; border-radius: 3px;")
                                   .arg(QColor(a.drop_colour->red, a.drop_colour->green, a.drop_colour->blue).name(),
                                        theme::colours().hairline.name()));
    enable_what_changes(*page, a);
    back_->setEnabled(recipe != Recipe{});
    refresh_states(recipe, page->original.ink);
    showing_ = false;
    count_levels();
}

// A page that was scanned in black has no tones, so only removing specks is enabled.
void AdjustPanel::enable_what_changes(const Page& page, const Adjust& adjust) {
    const bool has_tones = page.original.ink != Ink::Black;
    for (SliderRow* row : rows_) {
        double Adjust::*const value = row->field().value;
        const bool changes = value == &Adjust::drop_reach ? adjust.drop_colour.has_value()
                             : value == &Adjust::cast     ? page.original.ink == Ink::Colour
                                                          : true;
        row->setEnabled(value == &Adjust::specks_mm || (has_tones && changes));
    }
    for (const auto& [box, field] : switches_) box->setEnabled(has_tones);
    for (QWidget* each : std::initializer_list<QWidget*>{levels_, pick_, point_}) each->setEnabled(has_tones);
}

// During a scan, pages follow each other quickly, so levels are counted only for the last page.
void AdjustPanel::count_levels() {
    const PagePtr page = choice_.current();
    if (!page || run_.passing()) return;
    const QString counted = QString::fromStdString(page->id + to_json(geometry_of(page->recipe)).dump());
    if (counted != counted_ && isVisible()) {
        counted_ = counted;
        pictures_.count_levels(choice_.current_id());
    }
}

// Updates the summary of the changes in each fold.
void AdjustPanel::refresh_states(const Recipe& recipe, Ink scanned) {
    const auto state = [](const QStringList& words, const QString& nothing) {
        return words.isEmpty() ? nothing : words.size() > 2 ? tr("%1 changes").arg(words.size()) : words.join(", ");
    };
    QStringList tone, edges, cleaning;
    const auto add = [&](QStringList& words, CorrectionPlace place) {
        for (const CorrectionWords& each : correction_words) {
            if (each.place != place || recipe.adjust.*each.value == field_of(each.value).rest) continue;
            if (each.value == &Adjust::drop_reach && !recipe.adjust.drop_colour) continue;
            if (!words.contains(tr(each.state))) words << tr(each.state);
        }
    };
    add(tone, CorrectionPlace::Levels);
    add(tone, CorrectionPlace::Tone);
    if (recipe.ink) tone << (*recipe.ink == Ink::Grey ? tr("grey") : tr("black and white"));
    if (recipe.ink == Ink::Black) add(tone, CorrectionPlace::Black);
    if (recipe.turn_degrees != 0) edges << tr("turned");
    if (recipe.flatten) edges << tr("flattened");
    if (recipe.crop) edges << tr("cropped");
    if (recipe.tilt_degrees != 0) edges << tr("straightened");
    add(edges, CorrectionPlace::Edges);
    add(cleaning, CorrectionPlace::Cleaning);
    tone_->say(scanned == Ink::Black ? tr("black and white") : state(tone, tr("as scanned")));
    edges_->say(state(edges, tr("as scanned")));
    cleaning_->say(state(cleaning, tr("as scanned")));
}

}
