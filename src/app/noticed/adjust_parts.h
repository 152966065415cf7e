// The widgets of Adjust: a fold, a row with a slider, the histogram with its two points.
#pragma once

#include "core/developing/adjust.h"

#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QWidget>

class QVBoxLayout;

namespace yelvin {

// A heading that opens and closes what is under it, with its state at the right.
class Fold : public QWidget {
    Q_OBJECT
  public:
    // `name`: object name of the heading.
    Fold(const QString& title, const QString& name, bool open, QWidget* parent);
    QVBoxLayout* inside() { return inside_layout_; }
    void say(const QString& state) { state_->setText(state); }
    void set_open(bool open);
    void bring_into_view();

  private:
    QPushButton* heading_;
    QLabel* state_;
    QWidget* inside_;
    QVBoxLayout* inside_layout_;
    QString title_;
};

// A number of the recipe. While the slider is dragged, the value is only tried; it is set on release. Clicking the
// number resets it.
class SliderRow : public QWidget {
    Q_OBJECT
  public:
    SliderRow(const AdjustField& field, const QString& name, const QString& unit, QWidget* parent);
    const AdjustField& field() const { return field_; }
    void show_value(double value); // emits no signal
    void set_rest_words(const QString& words) { rest_words_ = words; }
    QSlider* slider() { return slider_; }

  signals:
    void tried(double value);
    void kept(double value);

  private:
    AdjustField field_;
    QString unit_, rest_words_;
    QSlider* slider_;
    QPushButton* number_;
    bool showing_ = false;
    double value_of(int position) const;
    int position_of(double value) const;
    void put_number(double value);
};

// The histogram of levels, with black point and white point to drag.
class LevelsView : public QWidget {
    Q_OBJECT
  public:
    explicit LevelsView(QWidget* parent);
    void set_counts(const QList<int>& counts);
    void set_points(double black, double white);

  signals:
    void tried(double black, double white);
    void kept(double black, double white);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    QList<int> counts_;
    double black_ = 0, white_ = 255;
    int dragged_ = 0; // the point that the mouse drags: 0 none, 1 black, 2 white
    int keyed_ = 1;   // the point that the arrow keys move: 1 black, 2 white
    double level_at(double x) const;
    double x_of(double level) const;
    void drag_to(double x);
};

}
