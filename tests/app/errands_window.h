// The window with programs outside that only record what they were asked to do.
#pragma once

#include "app/comes.h"
#include "app/window_fixture.h"

namespace yelvin::test {

// Records what it was asked to do; refuses what is in `fails`.
struct Asked {
    Answers answers; // wrongly: all that is asked for fails, and lists have entries without a name
    QStringList what;
    QStringList fails;
    std::vector<MailDraft> mails;
    QString copies; // the folder for them
};
class Recorder : public Outside {
  public:
    explicit Recorder(Asked& asked) : asked_(asked) {}
    void open(const std::string& program, const QStringList& files, Done done) override {
        note("open " + QString::fromStdString(program) + QString::number(files.size()), done);
    }
    void show(const QStringList&, Done done) override { note("show", done); }
    void mail(const MailDraft& draft, Done done) override {
        asked_.mails.push_back(draft);
        note("mail", done);
    }
    void list_printers(Printers then) override {
        asked_.answers.tell(&here_, then, {}, std::vector<PrinterSaid>(2, {{}, {}, {0, 0}, -4}));
    }
    void list_programs(const std::string&, Programs then) override {
        asked_.answers.tell(&here_, then, {}, std::vector<Program>(2));
    }
    QString copies_folder() const override { return asked_.copies; }
    void print(PrintJob job, Done done) override {
        note(QString("print %1x%2").arg(job.sizes.size()).arg(job.how.copies), done);
    }

  private:
    Asked& asked_;
    QObject here_; // what is told later is not told once this is gone
    void note(const QString& what, const Done& done) {
        asked_.what.append(what);
        const Result<QString> refused = fail(ErrorKind::Missing, (what + " did not work.").toStdString());
        asked_.answers.tell(&here_, done, asked_.fails.contains(what) ? refused : Result<QString>(QString()), refused);
    }
};

class ErrandsWindow : public Window {
  protected:
    Asked asked_;

    void start_recorded() {
        asked_.copies = QString::fromStdString((base_ / "Copies").string());
        outside_ = [this](Pools&) { return std::make_unique<Recorder>(asked_); };
        start();
    }
    void save_with(const std::vector<Errand>& errands) {
        scan_quickly();
        choose([&](Ticket& t) {
            t.make.format = Format::Jpeg;
            t.then.errands = errands;
        });
        key("Ctrl+S");
        ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest() && !desk_->errands.at_work(); }));
        ASSERT_TRUE(wait([&] { return is_over(); }));
    }
    std::string document() const { return desk_->tray.tray().documents.front()->id; }
    bool is_over() const {
        const auto states = desk_->errands.of(document());
        return std::ranges::all_of(states, [](const ErrandState& each) {
            return each.is == ErrandState::Is::Done || each.is == ErrandState::Is::Failed;
        });
    }
    ErrandState::Is state_of(Errand errand) const {
        const auto states = desk_->errands.of(document());
        const auto at = std::ranges::find(states, errand, &ErrandState::errand);
        return at == states.end() ? ErrandState::Is::Waits : at->is;
    }
    void press_on_tab(Errand errand) {
        auto& strip = window_->tray_strip();
        QApplication::processEvents();
        const QRect at = strip.errand_rect(QString::fromStdString(document()), errand);
        ASSERT_FALSE(at.isEmpty());
        QTest::mouseClick(&strip, Qt::LeftButton, {}, at.center());
    }
};

}
