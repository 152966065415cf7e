#include "app/window/news_bar.h"

#include "app/models/errands/errands.h"
#include "app/models/saving/saving.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace yelvin {

NewsBar::NewsBar(Messages& messages, Saving& saving, Errands& errands, QWidget* parent)
    : QFrame(parent), errands_(errands) {
    setObjectName("news");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 7, 10, 7);
    words_ = new QLabel(this);
    words_->setWordWrap(true);
    words_->setObjectName("news-words");
    row->addWidget(words_, 1);
    open_ = theme::link(tr("open"), "news-open", this);
    folder_ = theme::link(tr("show in folder"), "news-folder", this);
    auto* close = theme::link(tr("close"), "news-close", this);
    offer_button_ = theme::link({}, "news-offer", this);
    for (QPushButton* each : {open_, folder_, offer_button_, close}) row->addWidget(each);
    connect(close, &QPushButton::clicked, this, &QWidget::hide);
    const auto complain = [this, &messages] {
        return Outside::Done(this, [&messages](const Result<QString>& how) {
            if (!how) messages.complain(how.error());
        });
    };
    connect(open_, &QPushButton::clicked, this,
            [this, complain] { errands_.outside().open({}, {files_.value(0)}, complain()); });
    connect(folder_, &QPushButton::clicked, this,
            [this, complain] { errands_.outside().show({files_.value(0)}, complain()); });
    connect(offer_button_, &QPushButton::clicked, this, [this] {
        const Offer offer = offer_;
        hide();
        if (offer.take) offer.take();
    });
    connect(&messages, &Messages::trouble, this,
            [this](const QString& sentence, const Offer& offer) { say(sentence, News::Bad, {}, offer); });
    connect(&messages, &Messages::told, this,
            [this](const QString& sentence, const Offer& offer) { say(sentence, News::Good, {}, offer); });
    connect(&saving, &Saving::saved, this, [this](const QStringList& files) {
        const QFileInfo first(files.front());
        say(files.size() == 1 ? tr("Saved %1 in %2").arg(first.fileName(), first.dir().dirName())
                              : tr("Saved %1 files in %2").arg(files.size()).arg(first.dir().dirName()),
            News::Good, files);
    });
    hide();
}

void NewsBar::say(const QString& words, News news, const QStringList& files, const Offer& offer) {
    const auto& c = theme::colours();
    const QColor mark = news == News::Bad ? c.brick : c.moss;
    setStyleSheet(QString("QFrame#news { background: %1; border-bottom: 1px solid %2; border-left: 3px solid %3; }")
                      .arg(c.paper.name(), c.hairline.name(), mark.name()));
    words_->setText(QString("<span style='color:%1'><b>%2</b></span>&nbsp; %3")
                        .arg(mark.name(), news == News::Bad ? "!" : "✓", words.toHtmlEscaped()));
    words_->setProperty("plain", words);
    files_ = files;
    offer_ = offer;
    offer_button_->setText(offer.word);
    offer_button_->setVisible(!offer.word.isEmpty());
    open_->setVisible(!files.isEmpty() && errands_.uses(Errand::Open));
    folder_->setVisible(!files.isEmpty() && errands_.uses(Errand::Show));
    show();
}

}
