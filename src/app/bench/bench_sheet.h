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
    QVBoxLayout *papers_, *laid_;
    void fill_papers();
    void refresh();
    void lay(const QString& file);
    void change(size_t index, const std::function<void(LaidPaper&)>& how);
};

// Where a paper goes when it is laid down: its upper left corner in the marked corner, a little beside what lies there.
LaidPaper laid_down(const QString& file, const std::vector<LaidPaper>& already);

}
