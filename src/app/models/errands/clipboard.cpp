#include "app/models/errands/clipboard.h"

#include "app/models/tray/page_pictures.h"
#include "core/raster/image_file.h"

#include <QClipboard>
#include <QCoreApplication>
#include <QGuiApplication>
#include <QMimeData>
#include <QUrl>

#include <memory>

namespace yelvin {

namespace {

struct ClipboardText {
    Q_DECLARE_TR_FUNCTIONS(ClipboardText)
};

void put_picture(const QString& file, const Executor& background, const Executor& here, const Outside::Done& done) {
    background([path = file.toStdString(), here, done] {
        const auto page = read_page(path, 0);
        const QImage image = page ? to_image(page->raster) : QImage();
        here([why = page ? std::optional<Error>() : page.error(), image, done] {
            if (why) return done(std::unexpected(*why));
            QGuiApplication::clipboard()->setImage(image);
            done(QString());
        });
    });
}

}

void put_on_clipboard(const SavedFiles& saved, const QString& text, const Executor& background, const Executor& here,
                      const Outside::Done& done) {
    const ClipboardAs as = saved.ticket.then.clipboard;
    if (as == ClipboardAs::Picture) return put_picture(saved.files.front(), background, here, done);
    auto data = std::make_unique<QMimeData>();
    if (as == ClipboardAs::Text) {
        if (text.isEmpty())
            return done(
                fail(ErrorKind::Missing,
                     ClipboardText::tr(
                         "%1 has no text, so nothing was copied to the clipboard; choose a language to read in.")
                         .arg(saved.title)
                         .toStdString()));
        data->setText(text);
    } else {
        QList<QUrl> urls;
        for (const QString& file : saved.files) urls.append(QUrl::fromLocalFile(file));
        data->setUrls(urls);
    }
    QGuiApplication::clipboard()->setMimeData(data.release());
    done(QString());
}

}
