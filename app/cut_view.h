// The cut on the screen.
#pragma once
#include <QWidget>

#include "app/desk.h"
#include "drawing/cut.h"

namespace mossbed {

class CutView : public QWidget {
    Q_OBJECT
  public:
    explicit CutView(Desk* desk, QWidget* parent = nullptr);
    QString head() const;  // where the cut runs, and what in it is not to scale
    struct Shown {
        bool pressure = true, settlement = true, moment = false, shear = false, force = false, ground = true;
    };
    static std::vector<std::pair<const char*, bool Shown::*>> switches();
    bool shows(bool Shown::*part) { return shown().*part; }
    void show_part(bool Shown::*part, bool on);
    bool offers(bool Shown::*part) const;  // V and N only where there are ribs or walls to have them

  Q_SIGNALS:
    void head_changed();

  protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent* e) override;
    void mousePressEvent(QMouseEvent* e) override;
    void mouseReleaseEvent(QMouseEvent* e) override;
    void leaveEvent(QEvent*) override;

  private:
    CutScene scene();
    Desk* desk_;
    Shown& shown() { return desk_->stop == Stop::ground ? at_ground_ : elsewhere_; }
    Shown elsewhere_, at_ground_{false, true, false, false, false, true};
    CutDrawing drawn_;           // as it stands on the screen
    AlongLine along_;            // what it shows of the answer
    EnvelopeAlong envelope_;     // likewise, of all of a purpose
    bool was_old_ = false;       // as painted
    std::optional<Thing> grip_;  // a layer's bottom in hand: its borehole, its part the layer
    std::optional<Thing> boundary_at(QPointF p) const;
    void move_boundary(double level);
    QString told_;  // the head as last told
};

}  // namespace mossbed
