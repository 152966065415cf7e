// The bar at the top: the ticket's stub, its sentence, and the Scan button with the scanner's state.
#pragma once

#include "app/models/groups.h"
#include "app/ticketbar/sentence.h"

#include <QPointer>

class QPushButton;

namespace yelvin {

class PhraseSheet;
class ScanButton;
class TicketStub;

class TicketBar : public QWidget {
    Q_OBJECT
  public:
    TicketBar(const TicketModels& models, Scanning& run, QWidget* parent);
    void open_phrase(const QString& key); // opens a phrase's sheet

  signals:
    void bench_wanted();
    void blank_sheet_wanted();
    void separators_wanted();
    void strip_wanted();
    void scan_pressed();

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    TicketModels models_;
    Scanning& run_;
    TicketStub* stub_;
    Sentence* sentence_;
    ScanButton* scan_;
    QPushButton* lands_; // where the next page lands

    QPointer<PhraseSheet> open_;
    QString open_key_;
    QRect anchor_;
    bool refilling_ = false;

    void fit_height();
    void refresh();
    void refresh_state();
    void refresh_landing();
    void refill(const char* key); // refills its sheet if it is open
    void open_sheet(const QString& key, const QRect& anchor);
    QRect under_stub() const; // global coordinates
    void open_under_stub(const char* name, const std::function<void(PhraseSheet&)>& fill);
    void open_stub_sheet(const QString& focus);
};

// Returns a size for display: "240 kB", "1.2 MB".
QString bytes_words(double bytes);
QString mm_words(double mm);

}
