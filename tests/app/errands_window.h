// The window with programs outside that only write down what they were asked for.
#pragma once

#include "app/window_fixture.h"

namespace yelvin::test {

// How answers from outside come.
enum class Comes { OnTime, Late, Twice, Never };

// Writes down what it was asked for; refuses what is in `fails`.
struct Asked {
    Comes answer = Comes::OnTime;
    int to_tell = 0, told = 0; // answers that are on their way, and those that have come
    int unanswered = 0;        // that nobody will ever answer
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
    void list_printers(Printers then) override { tell(then, std::vector<PrinterSaid>{}); }
    void list_programs(const std::string&, Programs then) override { tell(then, std::vector<Program>{}); }
    QString copies_folder() const override { return asked_.copies; }
    void print(PrintJob job, Done done) override {
        note(QString("print %1x%2").arg(job.sizes.size()).arg(job.how.copies), done);
    }

  private:
    Asked& asked_;
    QObject here_; // what is told later is not told once this is gone
    void note(const QString& what, const Done& done) {
        asked_.what.append(what);
        if (asked_.fails.contains(what))
            tell(done, Result<QString>(fail(ErrorKind::Missing, (what + " did not work.").toStdString())));
        else
            tell(done, Result<QString>(QString()));
    }
    template <class T>
    void tell(const Answer<T>& answer, const T& value) {
        constexpr int late_ms = 300;
        if (asked_.answer == Comes::Never) return void(++asked_.unanswered);
        for (int i = 0; i < (asked_.answer == Comes::Twice ? 2 : 1); ++i)
            ++asked_.to_tell, QTimer::singleShot(asked_.answer == Comes::Late ? late_ms : i, &here_,
                                                 [&asked = asked_, answer, value] { ++asked.told, answer(value); });
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
