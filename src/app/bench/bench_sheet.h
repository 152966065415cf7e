// What lies on the simulated scanner's glass, and how: demo originals or any picture file, laid at an angle, upside
// down, against the corner or in the middle. Only there for the simulated scanner.
#pragma once

#include "app/desk.h"

#include <QFrame>

class QVBoxLayout;

namespace yelvin {

class BenchSheet : public QFrame {
    Q_OBJECT
  public:
    BenchSheet(Desk& desk, QWidget* parent);
    void open();

  private:
    Desk& desk_;
    QVBoxLayout *papers_, *laid_, *stack_, *faults_;
    bool into_feeder_ = false; // where a paper goes when it is pressed
    void fill_papers();
    void refresh();
    void lay(const QString& file);
    void put_in(const QString& file);
    void change_bench(const std::function<void(BenchSetup&)>& how);
    void show_stack();
    void show_faults();
    void change(size_t index, const std::function<void(LaidPaper&)>& how);
};

// A stack as a day brings it: two-sided leases, some with blank backs, crooked ones, receipts among them.
std::vector<StackSheet> demo_stack(const QString& originals);

// Where a paper goes when it is laid down: its upper left corner in the marked corner, a little beside what lies there.
LaidPaper laid_down(const QString& file, const std::vector<LaidPaper>& already);

}
