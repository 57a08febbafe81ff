// The seven stops of the work, each with its live word or number.
#pragma once
#include <QWidget>

#include "app/desk.h"

namespace mossbed {

class Trail : public QWidget {
    Q_OBJECT
  public:
    explicit Trail(Desk* desk, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {900, 48}; }
    static QString title(Stop s);
    QString word(Stop s) const;  // what stands under the title

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* e) override;
    void mouseMoveEvent(QMouseEvent* e) override;

  private:
    QRect place(int i) const;
    Desk* desk_;
};

}  // namespace mossbed
