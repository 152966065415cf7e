#include "app/noticed/adjust_panel.h"

#include "app/keys.h"
#include "app/models/scanning/scanning.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/models/tray/pictures.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"
#include "app/theme/theme.h"

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace yelvin {

AdjustPanel::AdjustPanel(const PageModels& models, QWidget* parent)
    : QWidget(parent), tray_(models.tray), choice_(models.choice), edits_(models.edits), pictures_(models.pictures),
      run_(models.run) {
    setObjectName("adjust");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    const auto add_fold = [&](const QString& title, const char* name, bool open) {
        column->addWidget(theme::hairline(this));
        auto* fold = new Fold(title, name, open, this);
        column->addWidget(fold);
        return fold;
    };
    tone_ = add_fold(tr("Tone"), "fold-tone", true);
    edges_ = add_fold(tr("Edges"), "fold-edges", false);
    cleaning_ = add_fold(tr("Cleaning"), "fold-cleaning", false);
    make_tone();
    make_edges();
    make_cleaning();
    column->addWidget(theme::hairline(this));
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(0, 8, 0, 0);
    back_ = theme::link(tr("reset page"), "as-scanned", this);
    back_->setToolTip(tr("Removes every correction of this page"));
    same_ = theme::link(tr("do the same to …"), "do-the-same", this);
    same_->setToolTip(tr("Copies tones, edges, cleaning and colour mode to other pages"));
    foot->addWidget(back_);
    foot->addStretch();
    foot->addWidget(same_);
    column->addLayout(foot);
    connect(back_, &QPushButton::clicked, this,
            [this] { edits_.set_recipe(choice_.current_id(), {}, tr("reset page")); });
    connect(same_, &QPushButton::clicked, this, &AdjustPanel::open_same_sheet);
    for (auto signal : {&Choice::changed, &Choice::trial_changed})
        connect(&choice_, signal, this, &AdjustPanel::refresh);
    connect(&run_, &Scanning::changed, this, &AdjustPanel::count_levels);
    connect(&pictures_, &Pictures::levels_counted, this, [this](const QString& id, const QList<int>& counts) {
        if (id == choice_.current_id()) levels_->set_counts(counts);
    });
    refresh();
}

// Adds the sliders and switches of a place to `into`, in the order of the table.
void AdjustPanel::add_corrections(QVBoxLayout* into, CorrectionPlace place) {
    for (const CorrectionWords& words : correction_words) {
        if (words.place != place) continue;
        field_of(words.value).is_switch() ? add_switch(into, words) : add_slider(into, words);
    }
}

void AdjustPanel::add_slider(QVBoxLayout* into, const CorrectionWords& words) {
    auto* row = new SliderRow(field_of(words.value), tr(words.label), tr(words.unit), this);
    into->addWidget(row);
    rows_.append(row);
    const auto changed = [this, &words](double to, Way way) {
        change([&](Recipe& recipe) { recipe.adjust.*words.value = to; }, tr(words.step), way);
    };
    connect(row, &SliderRow::tried, this, [changed](double to) { changed(to, Way::Try); });
    connect(row, &SliderRow::kept, this, [changed](double to) { changed(to, Way::Continue); });
    if (words.value != &Adjust::threshold) return;
    row->set_rest_words(tr("auto"));
    row->show_value(0);
}

void AdjustPanel::add_switch(QVBoxLayout* into, const CorrectionWords& words) {
    auto* box = new QCheckBox(tr(words.label), this);
    const AdjustField& field = field_of(words.value);
    box->setObjectName("adjust:" + QString::fromUtf8(field.key.data(), static_cast<qsizetype>(field.key.size())));
    auto* row = new QHBoxLayout;
    row->addWidget(box);
    row->addStretch();
    if (words.value == &Adjust::red_eyes) {
        point_ = theme::link(tr("mark them"), "point-eyes", this);
        row->addWidget(point_);
        connect(point_, &QPushButton::clicked, this, [this] { emit tool_wanted(PageTool::PointEyes); });
    }
    into->addLayout(row);
    switches_.append({box, field});
    connect(box, &QCheckBox::toggled, this, [this, &words](bool on) {
        if (showing_) return;
        change([&](Recipe& recipe) { recipe.adjust.*words.value = on ? 1 : 0; }, tr(words.step));
    });
}

void AdjustPanel::make_tone() {
    levels_ = new LevelsView(this);
    tone_->inside()->addWidget(levels_);
    const auto points = [this](double black, double white, Way way) {
        change(
            [=](Recipe& recipe) {
                recipe.adjust.black_point = black;
                recipe.adjust.white_point = white;
            },
            tr("change levels"), way);
    };
    connect(levels_, &LevelsView::tried, this,
            [points](double black, double white) { points(black, white, Way::Try); });
    connect(levels_, &LevelsView::kept, this,
            [points](double black, double white) { points(black, white, Way::Continue); });
    add_corrections(tone_->inside(), CorrectionPlace::Tone);
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    const QStringList names{tr("Colour"), tr("Grey"), tr("Black and white")};
    for (int i = 0; i < 3; ++i) {
        auto* button = new QPushButton(names[i], this);
        button->setProperty("kind", "choice");
        button->setCheckable(true);
        button->setObjectName(QString("ink:%1").arg(i));
        connect(button, &QPushButton::clicked, this, [this, i] {
            const PagePtr page = choice_.current();
            if (!page) return;
            const auto wanted =
                static_cast<Ink>(i) > page->original.ink ? std::optional(static_cast<Ink>(i)) : std::nullopt;
            change([&](Recipe& recipe) { recipe.ink = wanted; }, tr("change colour mode"));
        });
        row->addWidget(button, 1);
        inks_.append(button);
    }
    tone_->inside()->addSpacing(3);
    tone_->inside()->addLayout(row);
    black_box_ = new QWidget(this);
    auto* black = new QVBoxLayout(black_box_);
    black->setContentsMargins(0, 4, 0, 0);
    black->setSpacing(5);
    add_corrections(black, CorrectionPlace::Black);
    tone_->inside()->addWidget(black_box_);
}

void AdjustPanel::make_edges() {
    const auto& c = theme::colours();
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    const auto tool = [&](const QString& icon, const QString& words, std::function<void()> action) {
        auto* button = new QPushButton(this);
        button->setProperty("kind", "tool");
        button->setIcon(theme::icon(icon, c.ink));
        button->setToolTip(words);
        button->setAccessibleName(words);
        button->setFixedSize(34, 28);
        connect(button, &QPushButton::clicked, this, std::move(action));
        row->addWidget(button);
    };
    tool("turn-left", with_key(tr("Quarter turn left"), Do::TurnLeft), [this] { edits_.turn(-1); });
    tool("turn-right", with_key(tr("Quarter turn right"), Do::TurnRight), [this] { edits_.turn(1); });
    row->addStretch();
    tool("minus", with_key(tr("Tilt left by 0.1°"), Do::TiltLeft), [this] { edits_.tilt(-0.1); });
    tilt_ = new QPushButton(this);
    tilt_->setProperty("kind", "number");
    tilt_->setFixedWidth(56);
    tilt_->setToolTip(tr("Click to reset"));
    connect(tilt_, &QPushButton::clicked, this,
            [this] { change([](Recipe& recipe) { recipe.tilt_degrees = 0; }, tr("reset tilt")); });
    row->addWidget(tilt_);
    tool("plus", with_key(tr("Tilt right by 0.1°"), Do::TiltRight), [this] { edits_.tilt(0.1); });
    edges_->inside()->addLayout(row);
    make_tools();
    make_crop_box();
    edges_->inside()->addWidget(crop_box_);
    add_corrections(edges_->inside(), CorrectionPlace::Edges);
}

void AdjustPanel::make_tools() {
    auto* tools = new QHBoxLayout;
    tools->setSpacing(6);
    crop_button_ = new QPushButton(tr("Crop"), this);
    crop_button_->setToolTip(with_key(tr("Crop the page at its edges"), Do::Crop));
    corners_button_ = new QPushButton(tr("Flatten"), this);
    corners_button_->setToolTip(with_key(tr("Flatten a photographed page by its corners"), Do::Flatten));
    for (const auto& [button, tool_kind] :
         {std::pair{crop_button_, PageTool::Crop}, {corners_button_, PageTool::Corners}}) {
        button->setProperty("kind", "choice");
        button->setCheckable(true);
        button->setObjectName(tool_kind == PageTool::Crop ? "crop" : "flatten");
        tools->addWidget(button, 1);
        connect(button, &QPushButton::clicked, this,
                [this, tool_kind = tool_kind](bool on) { emit tool_wanted(on ? tool_kind : PageTool::None); });
    }
    edges_->inside()->addSpacing(3);
    edges_->inside()->addLayout(tools);
}

void AdjustPanel::make_crop_box() {
    crop_box_ = new QWidget(this);
    auto* grid = new QGridLayout(crop_box_);
    grid->setContentsMargins(0, 4, 0, 2);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);
    const QStringList names{tr("left"), tr("top"), tr("width"), tr("height")};
    for (int i = 0; i < 4; ++i) {
        auto* label = new QLabel(names[i], crop_box_);
        label->setProperty("quiet", true);
        crop_[i] = new QDoubleSpinBox(crop_box_);
        crop_[i]->setObjectName("crop:" + QString::number(i));
        crop_[i]->setAccessibleName(tr("crop, %1 in mm").arg(names[i]));
        crop_[i]->setDecimals(1);
        crop_[i]->setRange(i < 2 ? 0 : 2, 2000);
        crop_[i]->setFixedWidth(66);
        crop_[i]->setToolTip(tr("in mm"));
        crop_[i]->setKeyboardTracking(false);
        grid->addWidget(label, i / 2, (i % 2) * 2);
        grid->addWidget(crop_[i], i / 2, (i % 2) * 2 + 1);
        connect(crop_[i], &QDoubleSpinBox::valueChanged, this, [this] {
            const PagePtr page = choice_.current();
            if (showing_ || !page) return;
            const double x = crop_[0]->value(), y = crop_[1]->value(), w = crop_[2]->value(), h = crop_[3]->value();
            const Region frame{x + w / 2, y + h / 2, w, h, page->recipe.tilt_degrees};
            edits_.set_recipe(choice_.current_id(), with_frame(page->recipe, frame, page->original.size_mm()),
                              tr("crop page"), PageEdits::Gesture::Continuing);
        });
    }
}

void AdjustPanel::make_cleaning() {
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    swatch_ = new QLabel(this);
    swatch_->setFixedSize(16, 16);
    auto* words = new QLabel(tr("Leave out a colour"), this);
    pick_ = theme::link(tr("pick"), "pick-colour", this);
    pick_->setToolTip(tr("Click the colour on the page, such as a form's lines"));
    row->addWidget(words);
    row->addWidget(swatch_);
    row->addStretch();
    row->addWidget(pick_);
    cleaning_->inside()->addLayout(row);
    connect(pick_, &QPushButton::clicked, this, [this] { emit tool_wanted(PageTool::PickColour); });
    add_corrections(cleaning_->inside(), CorrectionPlace::Cleaning);
}

void AdjustPanel::set_tool(PageTool tool) {
    crop_button_->setChecked(tool == PageTool::Crop);
    corners_button_->setChecked(tool == PageTool::Corners);
    crop_box_->setVisible(tool == PageTool::Crop);
    if (tool == PageTool::Crop || tool == PageTool::Corners) {
        edges_->set_open(true);
        edges_->bring_into_view();
    }
}

void AdjustPanel::open_fold(int index, bool alone) {
    Fold* folds[] = {tone_, edges_, cleaning_};
    for (int i = 0; i < 3; ++i) {
        if (i == index || alone) folds[i]->set_open(i == index);
    }
    folds[index]->bring_into_view();
}

void AdjustPanel::change(const std::function<void(Recipe&)>& how, const QString& name, Way way) {
    const PagePtr page = choice_.current();
    if (!page) return;
    Recipe recipe = page->recipe;
    how(recipe);
    // When the correction is switched on, it uses the eyes that were found. Eyes that were marked are in the recipe
    // already.
    if (recipe.adjust.red_eyes > 0 && recipe.adjust.eyes.empty()) recipe.adjust.eyes = page->notices.red_eyes;
    recipe.adjust = kept_in_range(recipe.adjust);
    if (way == Way::Try) return choice_.try_recipe(recipe);
    edits_.set_recipe(choice_.current_id(), recipe, name,
                      way == Way::Continue ? PageEdits::Gesture::Continuing : PageEdits::Gesture::Single);
}

void AdjustPanel::open_same_sheet() {
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("same-sheet");
    // The current page may change while the sheet is open, for example during a scan; the sheet refers to the page for
    // which it was opened.
    const QString from = choice_.current_id();
    const PageIds chosen = choice_.chosen(), document = choice_.pages_of_document();
    const auto all = page_ids(tray_.tray());
    const auto add = [&](const QString& words, const PageIds& pages) {
        sheet->add_row(words, pages.size() == 2 ? tr("1 page") : tr("%1 pages").arg(pages.size() - 1), false,
                       [this, from, pages] { edits_.do_the_same(from, pages); });
    };
    if (chosen.size() > 1) add(tr("selected pages"), chosen);
    if (document.size() > 1) add(tr("this document"), document);
    if (all.size() > document.size()) add(tr("all pages"), PageIds(all.begin(), all.end()));
    sheet->add_row(tr("all later pages"), tr("saved in the ticket"), false,
                   [this, from] { edits_.do_the_same_from_now_on(from); });
    sheet->add_advice(
        tr("Copies tones, edges, cleaning and colour mode. Turning and cropping stay as they are on each page."));
    sheet->open_under({same_->mapToGlobal(QPoint(0, 0)), same_->size()});
}

}
