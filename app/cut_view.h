// The cut on the screen.
#pragma once
#include <QWidget>

#include "app/desk.h"
#include "draw/cut_painter.h"

namespace mossbed {

class CutView : public QWidget {
    Q_OBJECT
  public:
    explicit CutView(Desk* desk, QWidget* parent = nullptr);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent* e) override;
    void mousePressEvent(QMouseEvent* e) override;
    void leaveEvent(QEvent*) override;

  private:
    CutScene scene() const;
    QRectF body() const { return QRectF(rect()).adjusted(0, 24, 0, 0); }
    Desk* desk_;
    bool pressure_ = true, settlement_ = true, moment_ = false, ground_ = true;
    std::vector<std::pair<QRectF, bool*>> switches_;
};

}  // namespace mossbed
