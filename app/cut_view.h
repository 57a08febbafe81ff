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
    void mouseReleaseEvent(QMouseEvent* e) override;
    void leaveEvent(QEvent*) override;

  private:
    CutScene scene();
    QRectF body() const { return QRectF(rect()).adjusted(0, 24, 0, 0); }
    Desk* desk_;
    struct Shown {
        bool pressure = true, settlement = true, moment = false, ground = true;
    };
    Shown& shown() { return desk_->stop == Stop::ground ? at_ground_ : elsewhere_; }
    Shown elsewhere_, at_ground_{false, true, false, true};
    CutSamples drawn_;                    // as it stands on the screen
    std::optional<BoundaryHandle> grip_;  // a layer's bottom in hand
    void move_boundary(double level);
    std::vector<std::pair<QRectF, bool*>> switches_;
};

}  // namespace mossbed
