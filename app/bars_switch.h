// A small square whose sides are the bars' faces and directions: the upper and lower side those along x at the top and
// at the bottom, the left and right one those along y at the bottom and at the top. A click, or an arrow key, takes
// one.
#pragma once
#include <QWidget>

#include "app/desk.h"

namespace mossbed {

class BarsSwitch : public QWidget {
    Q_OBJECT
  public:
    explicit BarsSwitch(Desk* desk, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {136, 48}; }
    QRectF side(Face face, Direction direction) const;  // where it is clicked

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* e) override;
    void keyPressEvent(QKeyEvent* e) override;

  private:
    QRectF square() const;
    Desk* desk_;
};

QString name_of_bars(Face face, Direction direction);  // "bottom x"

}  // namespace mossbed
