// The panel of the simulated scanner: the papers on its glass and in its feeder, and its faults.
#pragma once

#include "app/theme/popup.h"
#include "devices/simulated/simulated_scanner.h"

#include <functional>

class QLabel;
class QVBoxLayout;

namespace yelvin {

class Scanners;

class BenchSheet : public theme::Popup {
    Q_OBJECT
  public:
    BenchSheet(Scanners& scanners, Source source, const QString& originals, QWidget* parent);
    void open();

  private:
    Scanners& scanners_;
    QString originals_; // folder of the demo's originals
    QVBoxLayout *papers_, *laid_, *stack_, *faults_;
    bool into_feeder_ = false; // whether a chosen paper goes into the feeder instead of on the glass
    QLabel* heading(const QString& words);
    void make_papers(QVBoxLayout* left, bool has_glass);
    void make_stack(QVBoxLayout* right);
    void make_faults(QVBoxLayout* right);
    void make_foot(QVBoxLayout* right);
    void fill_papers();
    void refresh();
    void lay(const QString& file);
    void put_in(const QString& file);
    void change_bench(const std::function<void(BenchSetup&)>& how);
    void show_stack();
    void show_faults();
    void change(size_t index, const std::function<void(LaidPaper&)>& how);
};

}
