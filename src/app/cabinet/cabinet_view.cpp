#include "app/cabinet/cabinet_view.h"

#include "app/cabinet/cabinet_sheets.h"
#include "app/cabinet/narrow_column.h"
#include "app/cabinet/paper_preview.h"
#include "app/cabinet/result_list.h"
#include "app/keys.h"
#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/cabinet/cabinet_search.h"
#include "app/models/window/messages.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

#include <QAction>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <QStackedWidget>

namespace yelvin {

namespace {

constexpr int head_height = 46, narrow_width = 190;

QString number(int count) { return QLocale(QLocale::English).toString(count); }

}

CabinetView::CabinetView(const CabinetModels& models, QWidget* news, QWidget* parent)
    : QFrame(parent), models_(models) {
    setObjectName("cabinet");
    const auto& c = theme::colours();
    setStyleSheet(QString("QWidget#cabinet-head { background: %1; border-bottom: 1px solid %2; } QWidget#narrow { "
                          "background: %1; border-right: 1px solid %2; } QWidget#cabinet-side { background: %1; "
                          "border-left: 1px solid %2; } QWidget#cabinet-foot { background: %1; border-top: 1px solid "
                          "%2; } QLabel#cabinet-note { background: %3; color: %4; padding: 5px "
                          "14px; border-bottom: 1px solid %2; }")
                      .arg(c.desk.name(), c.hairline.name(), c.paper.name(), c.amber.name()));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(made_head());
    column->addWidget(news);
    auto* row = new QHBoxLayout;
    row->setSpacing(0);
    auto* narrow = new NarrowColumn(models_.search, this);
    narrow->setFixedWidth(narrow_width);
    narrow->setAttribute(Qt::WA_StyledBackground);
    row->addWidget(narrow);
    row->addWidget(made_middle(), 5);
    row->addWidget(made_side(), 4);
    column->addLayout(row, 1);
    join();
}

QWidget* CabinetView::made_head() {
    auto* head = new QWidget(this);
    head->setObjectName("cabinet-head");
    head->setAttribute(Qt::WA_StyledBackground);
    head->setFixedHeight(head_height);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(14, 0, 12, 0);
    row->setSpacing(12);
    auto* title = new QLabel(tr("Cabinet"), head);
    title->setFont(theme::title());
    row->addWidget(title);
    entry_ = new QLineEdit(head);
    entry_->setObjectName("cabinet-entry");
    entry_->setAccessibleName(tr("Search the cabinet"));
    entry_->setPlaceholderText(tr("words, \"exact phrase\", -excluded, from:sender, in:folder, last March"));
    auto* clear = entry_->addAction(theme::icon("close", theme::colours().quiet), QLineEdit::TrailingPosition);
    clear->setToolTip(tr("Clear search"));
    connect(clear, &QAction::triggered, entry_, &QLineEdit::clear);
    connect(entry_, &QLineEdit::textChanged, clear,
            [clear](const QString& words) { clear->setVisible(!words.isEmpty()); });
    clear->setVisible(false);
    entry_->installEventFilter(this);
    row->addWidget(entry_, 1);
    count_ = new QLabel(head);
    count_->setObjectName("cabinet-count");
    count_->setProperty("quiet", true);
    row->addWidget(count_);
    taking_ = new QLabel(head);
    taking_->setObjectName("cabinet-taking");
    taking_->setProperty("quiet", true);
    row->addWidget(taking_);
    const auto link = [&](const QString& words, const char* name, const QString& tip) {
        auto* made = theme::link(words, name, head);
        made->setToolTip(tip);
        row->addWidget(made);
        return made;
    };
    stop_ = link(tr("stop"), "cabinet-stop", tr("Stops adding documents; you can go on later"));
    undo_ = link(tr("undo"), "cabinet-undo", {});
    take_in_ = link(tr("add a folder…"), "cabinet-take-in", tr("Makes older documents in a folder searchable too"));
    auto* back = link(tr("close"), "cabinet-leave", with_key(tr("Back to the view; your search is kept"), Do::Stop));
    connect(back, &QPushButton::clicked, this, &CabinetView::left);
    return head;
}

QWidget* CabinetView::made_middle() {
    middle_ = new QStackedWidget(this);
    auto* list = new QWidget(middle_);
    auto* column = new QVBoxLayout(list);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    note_ = new QLabel(list);
    note_->setObjectName("cabinet-note");
    note_->setWordWrap(true);
    column->addWidget(note_);
    results_ = new ResultList(models_.search, list);
    column->addWidget(results_, 1);
    column->addWidget(made_foot(list));
    middle_->addWidget(list);
    auto* nothing = new QWidget(middle_);
    auto* words = new QVBoxLayout(nothing);
    words->setContentsMargins(40, 40, 40, 40);
    words->setSpacing(14);
    empty_ = new QLabel(nothing);
    empty_->setObjectName("cabinet-empty");
    empty_->setWordWrap(true);
    empty_->setAlignment(Qt::AlignHCenter);
    whole_ = theme::button(tr("Search all documents"), theme::Kind::Plain, "cabinet-whole", nothing);
    empty_take_in_ = theme::button(tr("Add a folder…"), theme::Kind::Plain, "cabinet-empty-take-in", nothing);
    words->addStretch(1);
    words->addWidget(empty_);
    for (QPushButton* each : {whole_, empty_take_in_}) words->addWidget(each, 0, Qt::AlignHCenter);
    words->addStretch(2);
    middle_->addWidget(nothing);
    return middle_;
}

// Makes the row of actions for the whole list.
QWidget* CabinetView::made_foot(QWidget* parent) {
    auto* foot = new QWidget(parent);
    foot->setObjectName("cabinet-foot");
    foot->setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(foot);
    row->setContentsMargins(16, 6, 16, 6);
    row->setSpacing(16);
    save_list_ = theme::link(tr("save this list…"), "cabinet-save-list", foot);
    save_list_->setToolTip(tr("Saves all results as CSV, one line per document"));
    older_ = theme::link(tr("remove older entries…"), "cabinet-older", foot);
    older_->setToolTip(tr("Removes entries from the cabinet; the files stay"));
    row->addWidget(save_list_);
    row->addStretch();
    row->addWidget(older_);
    return foot;
}

QWidget* CabinetView::made_side() {
    auto* side = new QWidget(this);
    side->setObjectName("cabinet-side");
    side->setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(16, 12, 16, 8);
    column->setSpacing(6);
    preview_ = new PaperPreview(models_.search, side);
    column->addWidget(preview_, 1);
    match_ = new QLabel(side);
    match_->setObjectName("cabinet-match");
    match_->setProperty("quiet", true);
    column->addWidget(match_);
    actions_ = new PaperActions(models_, *results_, side);
    column->addWidget(actions_);
    return side;
}

void CabinetView::join() {
    connect(entry_, &QLineEdit::textEdited, this, [this](const QString& words) { models_.search.type(words); });
    connect(entry_, &QLineEdit::textChanged, this, [this](const QString& words) { models_.search.type(words); });
    connect(take_in_, &QPushButton::clicked, this, &CabinetView::open_take_in);
    connect(empty_take_in_, &QPushButton::clicked, this, &CabinetView::open_take_in);
    connect(whole_, &QPushButton::clicked, this, [this] { models_.search.narrow({}); });
    connect(stop_, &QPushButton::clicked, this,
            [this] { models_.keeper.taking().stopped ? models_.keeper.go_on() : models_.keeper.stop_taking(); });
    connect(undo_, &QPushButton::clicked, this, &CabinetView::undo);
    connect(results_, &ResultList::open_wanted, actions_, &PaperActions::open_chosen);
    connect(results_, &ResultList::put_away_wanted, actions_, &PaperActions::put_away_chosen);
    connect(results_, &ResultList::typed, this, [this](const QString& letters) {
        entry_->setFocus();
        entry_->end(false);
        entry_->insert(letters);
    });
    connect(results_->selectionModel(), &QItemSelectionModel::selectionChanged, this, &CabinetView::refresh_side);
    connect(save_list_, &QPushButton::clicked, this, &CabinetView::save_list);
    connect(older_, &QPushButton::clicked, this, &CabinetView::open_older);
    connect(actions_, &PaperActions::taken_back, this, &CabinetView::taken_back);
    connect(&models_.search, &CabinetSearch::answered, this, &CabinetView::refresh);
    connect(&models_.search, &CabinetSearch::looked_at, this, &CabinetView::refresh_side);
    connect(&models_.keeper, &CabinetKeeper::taking_changed, this, &CabinetView::refresh_taking);
    connect(&models_.keeper, &CabinetKeeper::undo_changed, this, &CabinetView::refresh_taking);
    refresh();
    refresh_taking();
}

void CabinetView::open() {
    show();
    models_.search.open();
    entry_->setFocus(Qt::ShortcutFocusReason);
    entry_->selectAll();
}

void CabinetView::close() {
    models_.search.close();
    hide();
}

bool CabinetView::step_out() {
    if (models_.search.narrowing().empty()) return false;
    models_.search.narrow({});
    return true;
}

// ---- what is shown

void CabinetView::refresh() {
    const SearchResults& found = models_.search.found();
    count_->setText(found.papers == found.of && found.of == 1 ? tr("1 document")
                    : found.papers == found.of                ? tr("%1 documents").arg(number(found.of))
                                               : tr("%1 of %2 documents").arg(number(found.papers), number(found.of)));
    note_->setVisible(found.nearly || found.all_but_one);
    if (found.all_but_one)
        note_->setText(
            found.without.empty()
                ? tr("No document has all the words. These lack one of them.")
                : tr("No document has all the words. These lack “%1”.").arg(QString::fromStdString(found.without)));
    else if (found.nearly)
        note_->setText(tr("No exact match. These match but for one misread letter."));
    middle_->setCurrentIndex(found.best.empty() ? 1 : 0);
    refresh_empty();
    refresh_side();
}

void CabinetView::refresh_empty() {
    const SearchResults& found = models_.search.found();
    const bool narrowed = !models_.search.narrowing().empty();
    whole_->setVisible(narrowed && found.of > 0);
    empty_take_in_->setVisible(found.of == 0);
    if (!models_.keeper.is_open()) return empty_->setText(tr("Opening the cabinet…"));
    if (found.of == 0 && models_.keeper.taking().under_way()) return empty_->setText(tr("Adding the first documents…"));
    if (found.of == 0)
        return empty_->setText(tr("The cabinet is empty. Documents that you save from now on can be found here by any "
                                  "word in them, and so can those in folders that you add."));
    if (narrowed) return empty_->setText(tr("No match in this selection."));
    empty_->setText(
        found.of == 1
            ? tr("No match in 1 document. Try fewer words, or just the beginning of a word.")
            : tr("No match in %1 documents. Try fewer words, or just the beginning of a word.").arg(number(found.of)));
}

void CabinetView::refresh_taking() {
    const CabinetKeeper::Taking& taking = models_.keeper.taking();
    const bool unfinished = taking.done < taking.of;
    taking_->setVisible(unfinished || taking.left_out > 0);
    stop_->setVisible(unfinished);
    stop_->setText(taking.stopped ? tr("go on") : tr("stop"));
    if (unfinished)
        taking_->setText((taking.stopped ? tr("stopped at %1 of %2") : tr("adding %1 of %2"))
                             .arg(number(taking.done + (taking.stopped ? 0 : 1)), number(taking.of)));
    else if (taking.left_out > 0)
        taking_->setText(tr("%1 could not be read").arg(number(taking.left_out)));
    undo_->setVisible(!models_.keeper.undo_words().isEmpty());
    undo_->setToolTip(with_key(models_.keeper.undo_words(), Do::Undo));
    refresh_empty();
}

void CabinetView::refresh_side() {
    const SearchResult* found = models_.search.current();
    const size_t several = results_->chosen().size();
    actions_->refresh();
    match_->setVisible(found != nullptr);
    if (!found) return preview_->update();
    const bool here = found->paper.place == Place::Here;
    QStringList words;
    if (several > 1) words.append(tr("%1 documents selected").arg(several));
    if (models_.search.matches() > 0)
        words.append(tr("match %1 of %2").arg(models_.search.match() + 1).arg(models_.search.matches()));
    words.append(tr("page %1 of %2").arg(models_.search.page() + 1).arg(found->paper.pages));
    if (models_.search.is_drawn_from_words() && !models_.search.picture().isNull())
        words.append(here ? tr("redrawn from its text") : tr("file missing: redrawn from its text"));
    match_->setText(words.join(" · "));
}

// Up and Down select documents while the search entry keeps the focus.
bool CabinetView::eventFilter(QObject* watched, QEvent* event) {
    if (watched != entry_ || event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    switch (static_cast<QKeyEvent*>(event)->key()) {
    case Qt::Key_Down:
        results_->step(1);
        return true;
    case Qt::Key_Up:
        results_->step(-1);
        return true;
    case Qt::Key_PageDown:
        models_.search.next_match(1);
        return true;
    case Qt::Key_PageUp:
        models_.search.next_match(-1);
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        results_->setFocus(Qt::OtherFocusReason);
        return true;
    default:
        return QFrame::eventFilter(watched, event);
    }
}

// ---- actions

void CabinetView::rename_current() { actions_->rename_current(); }

void CabinetView::save_list() {
    const QString file = QFileDialog::getSaveFileName(window(), tr("Save the list of results"),
                                                      QDir::homePath() + "/" + tr("Results.csv"), tr("CSV (*.csv)"));
    if (file.isEmpty()) return;
    models_.search.save_list(file, [this, file](const Result<int>& saved) {
        if (!saved) return models_.messages.complain(saved.error());
        models_.messages.tell(*saved == 1 ? tr("The list of 1 document was saved in %1.").arg(file)
                                          : tr("The list of %1 documents was saved in %2.").arg(number(*saved), file));
    });
}

void CabinetView::open_older() {
    open_older_sheet(models_.keeper, {older_->mapToGlobal(QPoint(0, 0)), older_->size()}, this);
}

void CabinetView::choose_all() { results_->selectAll(); }

void CabinetView::undo() { models_.keeper.undo(); }

void CabinetView::open_take_in() {
    const QWidget* at = empty_take_in_->isVisible() ? empty_take_in_ : take_in_;
    open_take_in_sheet(models_.keeper, {at->mapToGlobal(QPoint(0, 0)), at->size()}, this);
}

}
